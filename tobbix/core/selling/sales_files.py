"""Sales as a market writes them down: which column means what is guessed, shown and corrected; the rows of one order go
together (Rule C-16)."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.pricing.results import read_amount, read_day
from tobbix.core.pricing.tables import Table

MOST_ROWS = 2_000


class UnsaidFees(StrEnum):
    """What was kept of sales whose rows do not say it."""

    NONE = "none"
    USUAL = "usual"


class SaleColumn(StrEnum):
    """What a column of sales may hold; nothing: it is left out."""

    NOTHING = ""
    LISTING = "listing"
    ORDER = "order"
    TITLE = "title"
    DAY = "day"
    PRICE = "price"
    SHIPPING = "shipping"
    FEES = "fees"
    BUYER = "buyer"
    ADDRESS = "address"
    COST = "cost"


_HEADS: Mapping[SaleColumn, str] = {
    SaleColumn.LISTING: "listing sku reference item_number number own_number custom_label",
    SaleColumn.ORDER: "order order_number order_no sale sale_number transaction",
    SaleColumn.TITLE: "title item name what card description",
    SaleColumn.DAY: "day date sold_on sold_at sale_date paid_on",
    SaleColumn.PRICE: "price sold sold_for amount item_price total_price brought",
    SaleColumn.SHIPPING: "shipping postage delivery shipping_paid",
    SaleColumn.FEES: "fees fee commission kept costs",
    SaleColumn.BUYER: "buyer buyer_name customer",
    SaleColumn.ADDRESS: "address ship_to delivery_address",
    SaleColumn.COST: "cost basis paid purchase_price bought_for",
}
_BY_HEAD = {word: column for column, words in _HEADS.items() for word in words.split()}


def guess_sale_columns(table: Table) -> tuple[SaleColumn, ...]:
    """What each column seems to mean by its head; none but an address comes twice.

    >>> from tobbix.core.pricing.tables import split_table
    >>> [it.value for it in guess_sale_columns(split_table("Order no.;Item;Sold for;Colour\\nA1;a card;3,50;red"))]
    ['order', 'title', 'price', '']
    """
    found: list[SaleColumn] = []
    for head in table.head:
        words = re.findall(r"[^\W_]+", head.casefold())
        means = _BY_HEAD.get("_".join(words)) or next((_BY_HEAD[it] for it in words if it in _BY_HEAD), None)
        again = means in found and means is not SaleColumn.ADDRESS
        found.append(SaleColumn.NOTHING if means is None or again else means)
    return tuple(found)


@dataclass(frozen=True, slots=True)
class SaleRow:
    """A row of sales as far as it can be read (money of the file's currency): ``fees`` None where it does not say what
    was kept, no ``shipping`` where the price is all that the buyer paid; ``refused`` why it is no sale."""

    at: int
    listing: str
    order: str
    title: str
    day: date | None
    price: Decimal
    shipping: Decimal
    fees: Decimal | None
    buyer: str
    address: str
    cost: Decimal | None
    refused: str | None


def read_sales(
    table: Table, columns: Sequence[SaleColumn], today: date, currencies: Iterable[str], month_first: bool = False
) -> list[SaleRow]:
    """The rows of a table as sales."""
    known = frozenset(currencies)
    return [_read(at, row, columns, today, known, month_first) for at, row in enumerate(table.rows[:MOST_ROWS], 1)]


def _read(
    at: int, row: Sequence[str], columns: Sequence[SaleColumn], today: date, known: frozenset[str], month_first: bool
) -> SaleRow:
    cells: dict[SaleColumn, str] = {}
    for means, cell in zip(columns, row, strict=False):
        if means is SaleColumn.NOTHING or not cell.strip():
            continue
        cells[means] = f"{cells[means]}\n{cell.strip()}" if means in cells else cell.strip()
    why: list[str] = []

    def money(column: SaleColumn) -> Decimal | None:
        text = cells.get(column, "")
        read = read_amount(text, known) if text else None
        if text and read is None:
            why.append(f"“{text[:30]}” is no amount")
        return None if read is None else read[0]

    said = cells.get(SaleColumn.DAY, "")
    day = read_day(said, today, month_first) if said else None
    price = money(SaleColumn.PRICE)
    shipping, fees, cost = (money(it) for it in (SaleColumn.SHIPPING, SaleColumn.FEES, SaleColumn.COST))
    if price is None and not why:
        why.append("it says no price")
    if said and day is None:
        why.append(f"“{said[:30]}” is no day")
    elif day is None:
        why.append("it says no day")
    elif day > today:
        why.append("its day is still to come")
    if not cells.get(SaleColumn.TITLE) and not cells.get(SaleColumn.LISTING):
        why.append("it does not say what was sold")
    return SaleRow(
        at, cells.get(SaleColumn.LISTING, ""), cells.get(SaleColumn.ORDER, ""), cells.get(SaleColumn.TITLE, ""), day,
        price or Decimal(0), shipping or Decimal(0), fees, cells.get(SaleColumn.BUYER, ""),
        cells.get(SaleColumn.ADDRESS, ""), cost, why[0] if why else None,
    )  # fmt: skip


def by_order(rows: Iterable[SaleRow]) -> list[list[SaleRow]]:
    """The rows that are taken in, those of one order together; a row without an order's number is one by itself."""
    found: dict[str, list[SaleRow]] = {}
    for row in rows:
        if row.refused is None:
            found.setdefault(row.order or f"row {row.at}", []).append(row)
    return list(found.values())
