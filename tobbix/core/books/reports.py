"""What lots and sessions cost and are worth. Unrealised value stays apart from what happened (Rule C-16)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.ledger import Account, held_balance


@dataclass(frozen=True, slots=True)
class Lot:
    """A purchase or a session: what it ``cost`` (money, None: nobody remembers), the ``basis`` still held of it, and
    what that is said to be worth (``value``, estimate) with how many things have no basis or no value."""

    number: int
    name: str
    day: date
    cost: Decimal | None
    basis: Decimal
    value: Decimal
    unknown_basis: int
    unknown_value: int

    @property
    def unrealised(self) -> Decimal | None:
        """Value less basis of what is held; None where a part of it is not known."""
        return None if self.unknown_basis or self.unknown_value else self.value - self.basis


@dataclass(frozen=True, slots=True)
class LotSum:
    """Lots together (money): each figure is at least that where something of it is not known; ``unrealised`` is of the
    ``known`` lots alone."""

    lots: int
    cost: Decimal
    cost_known: bool
    basis: Decimal
    basis_known: bool
    value: Decimal
    value_known: bool
    known: int
    unrealised: Decimal


def sum_lots(lots: Sequence[Lot]) -> LotSum:
    """All lots together; what nobody knows is said, and counts in nothing. Rule C-16."""
    known = [lot.unrealised for lot in lots if lot.unrealised is not None]
    return LotSum(
        len(lots),
        sum((lot.cost for lot in lots if lot.cost is not None), Decimal(0)),
        all(lot.cost is not None for lot in lots),
        sum((lot.basis for lot in lots), Decimal(0)),
        not any(lot.unknown_basis for lot in lots),
        sum((lot.value for lot in lots), Decimal(0)),
        not any(lot.unknown_value for lot in lots),
        len(known),
        sum(known, Decimal(0)),
    )


def state_books(lots: Sequence[Lot], found: Mapping[tuple[Account, str | None], Decimal], currency: str) -> Verdict:
    """What stands in the books, and what it is said to be worth."""
    if not found:
        return Verdict(
            (
                Run("Nothing is booked yet", "books", True),
                Run(": record what you buy."),
            ),
            (),
        )
    held = held_balance(found)
    fun = found.get((Account.ENTERTAINMENT, None), Decimal(0))
    known = [lot for lot in lots if lot.unrealised is not None and lot.basis > 0]
    under = [lot for lot in known if (lot.unrealised or 0) < 0]
    sentence = [Run("What you hold cost "), Run(f"{held:,.2f}", "held", True), Run(f" {currency}")]
    if known:
        sentence.append(Run(f"; {len(under)} of {len(known)} lots are worth less than that today"))
    sentence.append(Run("."))
    ground = [Run("What things are worth are market prices before fees: estimates, never booked.")]
    if fun:
        ground.append(Run(f" Opened for fun so far: {fun:,.2f}."))
    return Verdict(tuple(sentence), tuple(ground))
