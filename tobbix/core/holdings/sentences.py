"""The sentences of Stock: an item, and what a filter lists."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import HELD_STATES, describe


@dataclass(frozen=True, slots=True)
class ItemSums:
    """How many rows a filter lists and how many things that is; what those that are one's own cost and are worth (money
    at home), and of how many that is not known."""

    total: int
    count: int
    basis: Decimal
    unknown_basis: int
    value: Decimal
    unknown_value: int


def amount(money: Decimal | float, currency: str) -> str:
    """An amount as a sentence has it."""
    return f"{money:,.{minor_units(currency)}f}"


def state_item(item: Item, currency: str, ground: tuple[Run, ...] = ()) -> Verdict:
    """What a thing is, where it is if not here, what it cost and what it is worth; under it a ``ground`` of its own."""
    if item.owner is not None:
        cost = Run("it belongs to somebody else", "cost", True)
    elif item.basis is None:
        cost = Run("nobody remembers what it cost", "cost", True)
    else:
        cost = Run(f"it cost {amount(item.basis, currency)}", "cost", True)
    is_here = item.state in HELD_STATES and describe(item.state) == "here"
    where = () if is_here else (Run(f"; it is {describe(item.state)}", "state"),)
    worth: tuple[Run, ...] = ()
    if is_here and item.owner is None:
        said = "not known" if item.value is None else f"about {amount(item.value, currency)}"
        worth = (Run(", worth "), Run(said, "value"))
    return Verdict((Run(f"{item.name}: "), cost, *worth, *where, Run(".")), ground)


def state_stock(sums: ItemSums, currency: str) -> Verdict:
    """How much a filter lists, and what it cost; under it what it is worth."""
    things = "1 thing" if sums.count == 1 else f"{sums.count:,} cards and things"
    cost = [Run(things, "count", True), Run(f"; they cost {amount(sums.basis, currency)}")]
    if sums.count == 1:
        cost[1] = Run(f"; it cost {amount(sums.basis, currency)}")
    if sums.total and sums.unknown_basis == sums.total:
        cost[1] = Run(f"; nobody remembers what {'it' if sums.count == 1 else 'they'} cost")
    elif sums.unknown_basis:
        cost.append(Run(f", and of {sums.unknown_basis:,} nobody knows"))
    if sums.total and sums.unknown_value == sums.total:
        it = "it is" if sums.count == 1 else "they are"
        return Verdict((*cost, Run(".")), (Run(f"What {it} worth is not known.", "value"),))
    worth = [
        Run("Worth about "),
        Run(amount(sums.value, currency), "value"),
        Run(" at market prices, before fees"),
    ]
    if sums.unknown_value:
        worth.append(Run(f"; of {sums.unknown_value:,} not known"))
    return Verdict((*cost, Run(".")), (*worth, Run(".")))
