"""Packing supplies: described by their sizes, counted in stock, used up cheapest first."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.results import Verdict
from tobbix.core.selling.supplies import USUAL, Supply, check_supply, state_supplies
from tobbix.db.base import Database
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.selling import supplies
from tobbix.db.selling.supplies import StoredSupply, SupplyStock
from tobbix.services.products.catalogue import Catalogue

FEW = 5


@dataclass(frozen=True, slots=True)
class SupplyRow:
    """A supply with how many are in stock (None: never counted), what the next one costs (money at home), and how many
    were used in the last ninety days."""

    stored: StoredSupply
    count: int | None
    each: Decimal
    used: int


@dataclass(frozen=True, eq=False)
class SupplyList:
    """All supplies in use, and what to buy."""

    rows: tuple[SupplyRow, ...]
    currency: str
    verdict: Verdict


def list_supplies(catalogue: Catalogue) -> SupplyList:
    """All supplies as they stand. Rule C-31."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = supplies.list_supplies(session)
        stock, used = supplies.stock_of_supplies(session, today)
        home = load_preferences(session).currency
    rows = [_row(it, stock, used) for it in stored]
    empty = [it.stored.supply.name for it in rows if it.count == 0]
    low = [it.stored.supply.name for it in rows if it.count and (it.count < FEW or it.count < it.used / 3)]
    return SupplyList(tuple(rows), home, state_supplies(empty, low, len(rows)))


def _row(it: StoredSupply, stock: Sequence[SupplyStock], used: dict[str, int]) -> SupplyRow:
    own = [stack for stack in stock if stack.name == it.supply.name]
    count = None if it.supply.name not in used else sum(stack.count for stack in own)
    each = next((stack.each for stack in own if stack.each is not None), it.supply.cost)
    return SupplyRow(it, count, each, used.get(it.supply.name, 0))


def put_supply(database: Database, number: int | None, version: int, supply: Supply) -> int:
    """Describe a supply; its number. Raises InputError with every fault, NotFound, Conflict."""
    check_supply(supply)
    with database.transaction() as session:
        return supplies.put_supply(session, number, version, supply)


def begin_with_usual(database: Database) -> int:
    """Describe the usual supplies that are not there yet; how many that were."""
    with database.transaction() as session:
        known = {it.supply.name for it in supplies.list_supplies(session)}
        fresh = [it for it in USUAL if it.name not in known]
        for it in fresh:
            supplies.put_supply(session, None, 0, it)
    return len(fresh)


def remove_supply(database: Database, number: int, again: bool = False) -> None:
    """Take a supply out of use, or with ``again`` use it once more. Raises NotFound."""
    with database.transaction() as session:
        supplies.remove_supply(session, number, again)


def take_from(stock: Sequence[SupplyStock], used: Sequence[tuple[str, int]]) -> list[tuple[int, int]]:
    """Which stacks so many of each supply come from, salvaged and cheap ones first: number and count. What is in no
    stack is not counted."""
    found = []
    for name, many in used:
        left = many
        for stack in stock:
            if stack.name == name and left > 0:
                taken = min(stack.count, left)
                found.append((stack.item, taken))
                left -= taken
    return found
