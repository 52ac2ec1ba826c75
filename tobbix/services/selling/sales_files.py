"""Sales that come in as a market writes them down: read, matched with listings and things, taken in as orders; those of
before the books as results without entries (C-16)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from hashlib import sha256

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.pricing.tables import Table, split_table
from tobbix.core.selling.listings import ListingState
from tobbix.core.selling.sales_files import (
    SaleColumn,
    SaleRow,
    UnsaidFees,
    by_order,
    guess_sale_columns,
    read_sales,
)
from tobbix.db.base import Session
from tobbix.db.holdings.rates import latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import find_way, to_way
from tobbix.db.selling import listings, past_sales
from tobbix.db.selling.past_sales import PastSale as PastSale
from tobbix.db.sorting.judging import load_table, save_table
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.offers import share_price
from tobbix.services.selling.orders import SaleInput, sell
from tobbix.services.selling.viewing import fees_of

_TABLE = "sale columns"


@dataclass(frozen=True, slots=True)
class ReadSale:
    """A row with what it is a sale of: a listing (its number and things), or things of the stock; ``problem`` why it
    cannot be taken in as an order (None: it can), ``is_there`` if its order is there already."""

    row: SaleRow
    listing: int | None
    items: tuple[int, ...]
    problem: str | None
    is_there: bool


@dataclass(frozen=True, eq=False)
class SalesRead:
    """A file of sales: its head, what each column is taken to mean, whether that was said before, and its rows."""

    table: Table
    columns: tuple[SaleColumn, ...]
    remembered: bool
    rows: tuple[ReadSale, ...]


@dataclass(frozen=True, slots=True)
class SalesSaid:
    """A text of sales as it came, by which way of selling; ``columns`` as the owner says them (None: guessed, or as
    last time), how its days are written, and what was kept where no row says it (None: the owner did not say)."""

    text: str
    way: str
    columns: tuple[SaleColumn, ...] | None = None
    month_first: bool = False
    unsaid_fees: UnsaidFees | None = None


def read_sales_file(catalogue: Catalogue, said: SalesSaid) -> SalesRead:
    """A file of sales as it would be taken in. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        return _read(session, catalogue.today(), said)


def _print(table: Table) -> str:
    return sha256("\t".join(table.head if table.has_head else (str(len(table.head)),)).encode()).hexdigest()[:32]


def _read(session: Session, today: date, said: SalesSaid) -> SalesRead:
    find_way(session, said.way)
    table = split_table(said.text)
    if table is None:
        raise InputError.at("text", "this is no table: its lines are not parted alike by tabs, semicolons or commas")
    kept, _ = load_table(session, _TABLE)
    known = (kept or {}).get(_print(table))
    if said.columns is not None:
        columns = said.columns
    else:
        columns = guess_sale_columns(table) if known is None else tuple(map(SaleColumn, known))
    if len(columns) != len(table.head):
        raise InputError.at("columns", "say of each column what it means")
    currencies = {load_preferences(session).currency, *(rate.currency for rate in latest_rates(session))}
    rows = read_sales(table, columns, today, currencies, said.month_first)
    taken = past_sales.references_taken(session, [row.order for row in rows if row.order])
    found = listings.list_listings(session, (ListingState.LISTED, ListingState.DRAFTED), "", 0, 10_000)
    by_title: dict[str, list[listings.StoredListing]] = {}
    for it in found:
        if it.way == said.way:
            by_title.setdefault(it.title.casefold(), []).append(it)
    by_number = {str(it.number): it for it in found} | {it.reference: it for it in found if it.reference}
    held = past_sales.held_named(session, [row.title for row in rows if row.title])
    return SalesRead(
        table, columns, known is not None and said.columns is None,
        tuple(_match(row, by_number, by_title, held, taken) for row in rows),
    )  # fmt: skip


def _match(
    row: SaleRow, by_number: Mapping[str, listings.StoredListing],
    by_title: Mapping[str, Sequence[listings.StoredListing]], held: Mapping[str, Sequence[int]], taken: set[str],
) -> ReadSale:  # fmt: skip
    if row.refused is not None:
        return ReadSale(row, None, (), row.refused, False)
    if row.order in taken:
        return ReadSale(row, None, (), "this order is there already", True)
    named = by_title.get(row.title.casefold(), ())
    listing = by_number.get(row.listing) or (named[0] if len(named) == 1 else None)
    if listing is not None:
        return ReadSale(row, listing.number, tuple(item for item, _ in listing.things), None, False)
    if len(named) > 1:
        return ReadSale(row, None, (), f"{len(named)} listings are called so: its listing’s number would tell", False)
    things = held.get(row.title.casefold(), ())
    if len(things) == 1:
        return ReadSale(row, None, (things[0],), None, False)
    why = "nothing that is here or listed is called so" if not things else f"{len(things)} things are called so"
    return ReadSale(row, None, (), why, False)


@dataclass(frozen=True, slots=True)
class SalesTaken:
    """What came of a file: orders made, results of before the books, and rows that were not taken with the reasons."""

    orders: tuple[int, ...]
    past: int
    left: tuple[tuple[int, str], ...]


def take_sales(
    catalogue: Catalogue, said: SalesSaid, chosen: Sequence[int], before: Sequence[int], market: str | None
) -> SalesTaken:
    """Take in rows of a file as orders, each whole or not at all, and rows of sales ``before`` the books as results;
    the meaning of its columns is remembered. ``market``: it owes the money until it pays out (None: it is in the bank).
    Raises NotFound, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        read = _read(session, today, said)
        content, version = load_table(session, _TABLE)
        kept = (content or {}) | {_print(read.table): [it.value for it in read.columns]}
        save_table(session, _TABLE, kept, version)
        by_at = {it.row.at: it for it in read.rows}
        strange = next((at for at in (*chosen, *before) if at not in by_at), None)
        if strange is not None:
            raise InputError.at("rows", f"there is no row {strange}")
        fit = by_order(by_at[at].row for at in chosen if by_at[at].problem is None)
        silent = sum(all(row.fees is None for row in sale) for sale in (*fit, *([by_at[at].row] for at in before)))
        if silent and said.unsaid_fees is None:
            which = "1 sale does not" if silent == 1 else f"{silent} sales do not"
            raise InputError.at("unsaid_fees", f"{which} say what was kept: say whether nothing was, or the usual")
        way, currency = to_way(find_way(session, said.way)), load_preferences(session).currency
        past = [
            PastSale(
                0,
                row.day,
                row.title or row.listing,
                way.name,
                row.price + row.shipping,
                _kept(way, said.unsaid_fees, [row], currency),
                row.cost,
            )
            for at in before
            if (row := by_at[at].row).refused is None and row.day is not None
        ]
        put = past_sales.add_past_sales(session, past)
    made, left = [], []
    taken_in = set(chosen)
    for together in by_order(it.row for it in read.rows if it.row.at in taken_in):
        found = [by_at[row.at] for row in together]
        problem = next((it.problem for it in found if it.problem is not None), None)
        try:
            if problem is not None:
                raise Conflict(problem)
            fees = _kept(way, said.unsaid_fees, together, currency)
            made.append(_sell(catalogue, said.way, market, found, fees, currency))
        except (Conflict, InputError, NotFound) as error:
            left += [(row.at, str(error)) for row in together]
    left += [(at, by_at[at].problem or "") for at in chosen if by_at[at].row.refused is not None]
    return SalesTaken(tuple(made), put, tuple(sorted(set(left))))


def _kept(way: SellingWay, unsaid: UnsaidFees | None, rows: Sequence[SaleRow], currency: str) -> Decimal:
    """What was kept of an order: what its rows say (all of it may stand in one of them), else what the owner does."""
    said = [row.fees for row in rows if row.fees is not None]
    if said or unsaid is not UnsaidFees.USUAL:
        return sum(said, Decimal(0))
    return fees_of(way, [row.price for row in rows], sum((row.shipping for row in rows), Decimal(0)), currency)


def _sell(
    catalogue: Catalogue, way: str, market: str | None, rows: Sequence[ReadSale], fees: Decimal, currency: str
) -> int:  # fmt: skip
    prices: dict[int, Decimal] = {}
    for it in rows:
        if set(it.items) & set(prices):
            raise Conflict("it names a thing twice")
        prices |= share_price(it.row.price, it.items, currency)
    first = rows[0].row
    assert first.day is not None  # it was not refused
    said = SaleInput(
        first.day, prices, first.buyer or None, None, sum((it.row.shipping for it in rows), Decimal(0)), fees,
        reference=first.order or None, way=way, market=market,
        address=first.address,
    )  # fmt: skip
    return sell(catalogue.database, said)


def list_past_sales(catalogue: Catalogue) -> list[PastSale]:
    """The sales of before the books, the newest first."""
    with catalogue.database.transaction() as session:
        return past_sales.list_past_sales(session)


def remove_past_sale(catalogue: Catalogue, number: int) -> None:
    """Such a result was none. Raises NotFound."""
    with catalogue.database.transaction() as session:
        past_sales.remove_past_sale(session, number)
