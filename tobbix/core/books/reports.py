"""What lots, sessions and months came to. Unrealised value stays apart from what happened (Rule C-16).

Of a lot nothing gets lost: what was paid is what came back, was booked for fun, was lost, is awaited after it was sent
back, or is still carried. So what is realised is what came back and is still carried, less what was paid.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.ledger import HELD, Account, held_balance


@dataclass(frozen=True, slots=True)
class Lot:
    """A purchase or a session (money at home).

    What was ``paid`` (None: nobody remembers), came ``back``, was booked for ``fun`` or another purpose, was ``lost``,
    is ``awaited`` after it was sent back; the ``basis`` still held, and what that is said to be worth (``value``,
    estimate), with how many things have no basis or no value.
    """

    number: int
    name: str
    day: date
    paid: Decimal | None
    back: Decimal
    fun: Decimal
    lost: Decimal
    awaited: Decimal
    basis: Decimal
    value: Decimal
    unknown_basis: int
    unknown_value: int

    @property
    def cost(self) -> Decimal | None:
        """What it cost in the end."""
        return None if self.paid is None else self.paid - self.back

    @property
    def realised(self) -> Decimal | None:
        """What happened so far; None where a part of it is not known."""
        if self.paid is None or self.unknown_basis:
            return None
        return self.back + self.basis + self.awaited - self.paid

    @property
    def unrealised(self) -> Decimal | None:
        """Value less basis of what is held; None where a part of it is not known."""
        return None if self.unknown_basis or self.unknown_value else self.value - self.basis

    @property
    def total(self) -> Decimal | None:
        """Both together: what came of it if what is held is worth what is said."""
        if self.realised is None or self.unrealised is None:
            return None
        return self.realised + self.unrealised


@dataclass(frozen=True, slots=True)
class LotSum:
    """Lots together (money): each figure is at least that where something of it is not known; what is ``realised``,
    ``unrealised`` and the ``total`` are of the ``known`` lots alone."""

    lots: int
    paid: Decimal
    paid_known: bool
    back: Decimal
    fun: Decimal
    lost: Decimal
    awaited: Decimal
    basis: Decimal
    basis_known: bool
    value: Decimal
    value_known: bool
    known: int
    realised: Decimal
    unrealised: Decimal
    total: Decimal


def _sum(amounts: Iterable[Decimal | None]) -> Decimal:
    return sum((amount for amount in amounts if amount is not None), Decimal(0))


def sum_lots(lots: Sequence[Lot]) -> LotSum:
    """All lots together; what nobody knows is said, and counts in nothing. Rule C-16."""
    known = [lot for lot in lots if lot.total is not None]
    return LotSum(
        len(lots),
        _sum(lot.paid for lot in lots),
        all(lot.paid is not None for lot in lots),
        _sum(lot.back for lot in lots),
        _sum(lot.fun for lot in lots),
        _sum(lot.lost for lot in lots),
        _sum(lot.awaited for lot in lots),
        _sum(lot.basis for lot in lots),
        not any(lot.unknown_basis for lot in lots),
        _sum(lot.value for lot in lots),
        not any(lot.unknown_value for lot in lots),
        len(known),
        _sum(lot.realised for lot in known),
        _sum(lot.unrealised for lot in known),
        _sum(lot.total for lot in known),
    )


@dataclass(frozen=True, slots=True)
class Month:
    """A month by its first day (money): what went out and came in of cash, was booked for ``fun`` or another purpose,
    was ``lost``; what it ``realised``, and what is ``held`` at its end at cost."""

    month: date
    paid: Decimal
    back: Decimal
    fun: Decimal
    lost: Decimal
    realised: Decimal
    held: Decimal


FUN = (Account.ENTERTAINMENT, Account.GIFTS, Account.GIVEAWAYS, Account.PUBLICITY, Account.DONATIONS)
_NO_RESULT = (
    Account.CASH, *HELD, Account.RECEIVABLE, Account.PAYABLE, Account.OPENING_EQUITY, Account.DRAWINGS,
    Account.SUSPENSE,
)  # fmt: skip


def sum_months(booked: Sequence[tuple[date, Account, bool, Decimal]]) -> tuple[Month, ...]:
    """Months, the newest first, of what stands on each account in each (first day, account, whether debit, money).
    Rule C-16."""
    found, held = [], Decimal(0)
    for month in sorted({day for day, *_ in booked}):
        lines = [(account, debit, amount) for day, account, debit, amount in booked if day == month]

        def on(
            *accounts: Account, debit: bool | None = None, lines: Sequence[tuple[Account, bool, Decimal]] = lines
        ) -> Decimal:
            return _sum(
                amount for account, is_debit, amount in lines if account in accounts and debit in (None, is_debit)
            )

        held += on(*HELD)
        result = -_sum(amount for account, _, amount in lines if account not in _NO_RESULT)
        found.append(
            Month(
                month, -on(Account.CASH, debit=False), on(Account.CASH, debit=True), on(*FUN), on(Account.LOST), result,
                held,
            )
        )  # fmt: skip
    return tuple(reversed(found))


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
