"""A table of prices or populations as somebody keeps it: which column means what is guessed, shown and corrected; then
each row is read into prices or counts of a card (C-18, C-19).

Tables are long (a sale in each row) or wide (a card in each row, a column for each state or grade, or the low and the
high of a book in two currencies). What a row does not say, the whole table may: its day, its market, its grader.
"""

import csv
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.ladder import Population
from tobbix.core.pricing.results import Ended, Result, read_amount, read_day

MOST_COLUMNS = 60
_MOST_COUNTED = 100_000  # bids, and copies in a lot
_MOST_GRADER = 40  # letters
MOST_CELLS = 2_000  # prices and counts at once
_GRADE = re.compile(r"(?:10|[1-9](?:\.5)?)")
_COUNT = re.compile(r"[0-9]{1,3}(?:[ ,.'’][0-9]{3})*|[0-9]{1,9}")


class Column(StrEnum):
    """What a column of such a table may hold; nothing: it is left out."""

    NOTHING = ""
    TITLE = "title"
    RELEASE = "release"
    LINE = "line"
    NUMBER = "number"
    VARIANT = "variant"
    STATE = "state"
    GRADER = "grader"
    GRADE = "grade"
    KIND = "kind"
    DAY = "day"
    PRICE = "price"
    ASK = "ask"
    LOW = "low"
    HIGH = "high"
    SHIPPING = "shipping"
    TAX = "tax"
    CURRENCY = "currency"
    MARKET = "market"
    BIDS = "bids"
    LOT = "lot"
    COPIES = "copies"
    SUBGRADES = "subgrades"
    PHOTO = "photo"


_WORDS = {
    Column.TITLE: "title item name card subject description what who player character",
    Column.RELEASE: "release set product series edition",
    Column.LINE: "line insert subset checklist",
    Column.NUMBER: "number no nr # code num",
    Column.VARIANT: "variant parallel finish version colour color",
    Column.STATE: "state condition cond quality",
    Column.GRADER: "grader company grading",
    Column.GRADE: "grade",
    Column.KIND: "kind type",
    Column.DAY: "day date on when sold_on ended closed sale_date",
    Column.PRICE: "price sold sold_for amount last value paid hammer average avg mean market_price",
    Column.ASK: "ask asks asking asked list",
    Column.LOW: "low lowest from min minimum",
    Column.HIGH: "high highest to max maximum",
    Column.SHIPPING: "shipping postage post delivery",
    Column.TAX: "tax vat duty",
    Column.CURRENCY: "currency cur",
    Column.MARKET: "market where source place site",
    Column.BIDS: "bids",
    Column.LOT: "lot quantity qty pieces",
    Column.COPIES: "copies count population pop graded",
    Column.SUBGRADES: "subgrades subgrade subs",
    Column.PHOTO: "photo picture scan",
}
_BY_WORD = {word: column for column, words in _WORDS.items() for word in words.split()}
_KINDS = {
    **{kind.value: kind for kind in CompKind}, "sale": CompKind.SOLD, "fixed price": CompKind.SOLD,
    "auction sale": CompKind.AUCTION, "asking": CompKind.ASK, "for sale": CompKind.ASK, "listed": CompKind.ASK,
}  # fmt: skip
_PHOTOS = {"copy": "copy", "own": "copy", "yes": "copy", "stock": "stock", "no": "stock"}  # of the copy itself, or not
_AMOUNTS = {
    Column.PRICE: None,
    Column.ASK: CompKind.ASK,
    Column.LOW: CompKind.BOOK_LOW,
    Column.HIGH: CompKind.BOOK_HIGH,
}


@dataclass(frozen=True, slots=True)
class ColumnSaid:
    """What a column means: amounts and copies may be ``of`` one state or grade ("NM", "Plumbline:9", "9"), amounts in
    one ``currency``."""

    means: Column
    of: str | None = None
    currency: str | None = None


@dataclass(frozen=True, slots=True)
class TableSaid:
    """What is said of a whole table: the ``day`` and the ``grader`` of what says none."""

    today: date
    graders: tuple[str, ...] = ()
    currencies: frozenset[str] = frozenset()
    month_first: bool = False
    grader: str | None = None
    day: date | None = None


@dataclass(frozen=True, slots=True)
class Named:
    """How a row names its card by keys: release, line and number, and its variant."""

    release: str
    line: str
    number: str
    variant: str


@dataclass(frozen=True, slots=True)
class TablePrice:
    """A price of a row; ``named``: its card by keys (None: by the words of its title)."""

    named: Named | None
    result: Result

    @property
    def title(self) -> str:
        return self.result.title


@dataclass(frozen=True, slots=True)
class TableCount:
    """How many copies a row counts of a grade; ``refused``: why it is no count."""

    row: int
    title: str
    named: Named | None
    counted: Population | None
    refused: str | None


@dataclass(frozen=True, slots=True)
class Table:
    """The rows of a text, the first of them as the ``head`` if it names columns."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    has_head: bool

    @property
    def first(self) -> int:
        """The number of the first row below the head, as a spreadsheet counts."""
        return 2 if self.has_head else 1


def split_table(text: str) -> Table | None:
    """The cells of a text, parted by tabs, semicolons or commas, whichever parts its lines alike; None if none does.

    >>> split_table("number;price\\nKH5;12,50").rows
    (('KH5', '12,50'),)
    """
    lines = [line for line in text.splitlines(keepends=True) if line.strip()]
    found = []
    for by in "\t;,":
        try:
            rows = [tuple(cell.strip() for cell in row) for row in csv.reader(lines, delimiter=by)]
        except csv.Error:  # a cell without an end: by this it is no table
            continue
        widths = [len(row) for row in rows]
        usual = max(set(widths), key=widths.count, default=0)
        if usual > 1:
            found.append((widths.count(usual) / len(widths), by == "\t", usual, rows))
    if not found:
        return None
    rows = max(found, key=lambda item: item[:3])[3]
    width = min(max(map(len, rows)), MOST_COLUMNS)
    rows = [(*row, *[""] * width)[:width] for row in rows]
    has_head = any(_by_head(cell, (), frozenset()) is not None for cell in rows[0]) and not any(
        re.fullmatch(r"[0-9]+[.,][0-9]{2}", cell) for cell in rows[0]
    )
    head = rows[0] if has_head else tuple(f"column {at}" for at in range(1, width + 1))
    return Table(head, tuple(rows[1:] if has_head else rows), has_head)


def guess_columns(table: Table, graders: Sequence[str], currencies: Iterable[str]) -> tuple[ColumnSaid, ...]:
    """What each column seems to mean, by its head, else by what stands in it; no meaning but amounts comes twice."""
    known = frozenset(currencies)
    said: list[ColumnSaid] = []
    for at, head in enumerate(table.head):
        column = (_by_head(head, graders, known) if table.has_head else None) or _by_cells(
            [row[at] for row in table.rows[:50]], known
        )
        if any(other.means is column.means and column.of is None and column.currency == other.currency
               for other in said):  # fmt: skip
            column = ColumnSaid(Column.NOTHING)
        said.append(column)
    is_named = any(column.means in (Column.TITLE, Column.NUMBER) for column in said)
    if not is_named:  # the longest words name the card
        texts = [at for at, column in enumerate(said) if column.means is Column.NOTHING]
        longest = max(texts, key=lambda at: sum(len(row[at]) for row in table.rows[:50]), default=None)
        if longest is not None:
            said[longest] = ColumnSaid(Column.TITLE)
    return tuple(said)


def head_means(head: str) -> Column | None:
    """What a head by itself says that its column holds; None if nothing."""
    found = _by_head(head, (), frozenset())
    return None if found is None else found.means


def _folded(head: str) -> list[str]:
    return re.findall(r"[^\W_]+(?:\.[0-9])?|#", head.casefold())


def _by_head(head: str, graders: Sequence[str], known: frozenset[str]) -> ColumnSaid | None:
    """What a column's head says: its word, a state or a grade, and a currency."""
    words = _folded(head)
    currency = next((word.upper() for word in words if word.upper() in known), None)
    rest = [word for word in words if word.upper() != currency]
    means = _BY_WORD.get("_".join(rest)) or next((_BY_WORD[word] for word in rest if word in _BY_WORD), None)
    state = _state(" ".join(word for word in rest if word not in _BY_WORD), graders)
    if means in (None, Column.PRICE, Column.COPIES, Column.GRADE) and state is not None:
        of = Column.COPIES if means is Column.COPIES else Column.PRICE
        return ColumnSaid(of, state, currency if of is Column.PRICE else None)
    if means is not None:
        return ColumnSaid(means, None, currency if means in _AMOUNTS else None)
    return ColumnSaid(Column.PRICE, None, currency) if currency and not rest else None


def _state(text: str, graders: Sequence[str]) -> str | None:
    """ "raw" and "NM" as conditions, "Plumbline 9" as a grader's grade, "9" as a grade of a grader that is said."""
    plain = text.strip()
    if plain == "raw":
        return "raw"
    if plain.upper() in CONDITIONS:
        return plain.upper()
    if _GRADE.fullmatch(plain):
        return plain
    for grader in graders:
        rest = plain.removeprefix(grader.casefold()).strip()
        if rest != plain and _GRADE.fullmatch(rest):
            return f"{grader}:{rest}"
    return None


def _by_cells(cells: Sequence[str], known: frozenset[str]) -> ColumnSaid:
    """What a column without a telling head seems to hold."""
    told = [cell for cell in cells if cell]
    if not told:
        return ColumnSaid(Column.NOTHING)
    day = date(2099, 12, 31)

    def share(holds: Iterable[bool]) -> float:
        return sum(holds) / len(told)

    if share(read_day(cell, day) is not None for cell in told) > 0.8:
        return ColumnSaid(Column.DAY)
    if share(cell.upper() in known for cell in told) > 0.8:
        return ColumnSaid(Column.CURRENCY)
    if share(cell.casefold() in _KINDS for cell in told) > 0.8:
        return ColumnSaid(Column.KIND)
    if share(cell.upper() in CONDITIONS for cell in told) > 0.8:
        return ColumnSaid(Column.STATE)
    if share(bool(re.search(r"[.,][0-9]{2}\b", cell)) and read_amount(cell, known) is not None for cell in told) > 0.8:
        return ColumnSaid(Column.PRICE)
    return ColumnSaid(Column.NOTHING)


def how_many_rows(columns: Sequence[ColumnSaid]) -> int:
    """How many rows of such a table are read at once."""
    each = sum(column.means in _AMOUNTS or column.means is Column.COPIES for column in columns)
    return MOST_CELLS // max(each, 1)


def read_table(
    table: Table, columns: Sequence[ColumnSaid], said: TableSaid
) -> tuple[list[TablePrice], list[TableCount]]:
    """The prices and the counts of all rows, in their order; what a cell does not say right is refused with the reason.

    A price's ``row`` counts the prices from 1 on.
    """
    prices: list[TablePrice] = []
    counts: list[TableCount] = []
    places: Mapping[Column, int] = {column.means: at for at, column in reversed(list(enumerate(columns)))}
    amounts = [(at, column) for at, column in enumerate(columns) if column.means in _AMOUNTS]
    copies = [(at, column) for at, column in enumerate(columns) if column.means is Column.COPIES]

    for number, row in enumerate(table.rows, table.first):
        if not any(row):
            continue
        told = {column: row[at] for column, at in places.items() if row[at]}
        keys = [told.get(column, "") for column in (Column.RELEASE, Column.LINE, Column.NUMBER, Column.VARIANT)]
        named = Named(*keys) if all(keys[:3]) else None
        title = " ".join(filter(None, (keys[0], keys[1], told.get(Column.TITLE), keys[2], keys[3])))[:300]
        day, fault = said.day, None
        if text := told.get(Column.DAY):
            day = read_day(text, said.today, said.month_first)
            fault = None if day else f"row {number}: “{text[:30]}” is no day"
        for at, column in amounts:
            if row[at]:
                priced = _price(row[at], column, told, number, said)
                priced = replace(priced, row=len(prices) + 1, title=title, day=day, fault=priced.fault or fault)
                prices.append(TablePrice(named, priced))
        for at, column in copies:
            if row[at]:
                counted, refused = _count(row[at], column, told, number, said, day or said.today)
                counts.append(TableCount(number, title, named, None if fault else counted, fault or refused))
    return prices, counts


def _price(text: str, column: ColumnSaid, told: Mapping[Column, str], number: int, said: TableSaid) -> Result:
    """An amount of a row with its state, kind and currency, or what is wrong with it."""
    fault = None
    amount = read_amount(text, said.currencies)
    if amount is None:
        fault = f"row {number}: “{text[:30]}” is no amount"
    kind = _AMOUNTS[column.means]
    if kind is None and (word := told.get(Column.KIND)):
        kind = _KINDS.get(word.casefold())
        fault = fault or (None if kind else f"row {number}: “{word[:30]}” is no kind of price")
    beside: dict[Column, Decimal] = {}
    for of in (Column.SHIPPING, Column.TAX):
        if word := told.get(of):
            found = read_amount(word, said.currencies)
            if found is None:
                fault = fault or f"row {number}: “{word[:30]}” is no amount of {of.value}"
            else:
                beside[of] = found[0]
    state, wrong = _state_of(column, told, said)
    fault = fault or (wrong and f"row {number}: {wrong}")
    counted = {}
    for of in (Column.BIDS, Column.LOT):
        word = told.get(of, "")
        if word and not _COUNT.fullmatch(word):
            fault = fault or f"row {number}: “{word[:30]}” is no whole number"
        elif word:
            counted[of] = int(re.sub(r"\D", "", word))
            if not (of is Column.LOT) <= counted[of] <= _MOST_COUNTED:
                fault = fault or f"row {number}: {word[:30]} is no number of {of.value}"
    currency = (amount and amount[1]) or column.currency or told.get(Column.CURRENCY, "").upper() or None
    return Result(
        number, "", amount and amount[0], currency, beside.get(Column.SHIPPING), None, counted.get(Column.BIDS),
        Ended.UNSAID, state, kind, counted.get(Column.LOT), beside.get(Column.TAX),
        told.get(Column.MARKET, "")[:60] or None, fault, None, told.get(Column.SUBGRADES, "")[:60] or None,
        _PHOTOS.get(told.get(Column.PHOTO, "").casefold()),
    )  # fmt: skip


def _state_of(column: ColumnSaid, told: Mapping[Column, str], said: TableSaid) -> tuple[str | None, str | None]:
    """The state of an amount (None: not said), or what is wrong with it."""
    text = column.of or told.get(Column.STATE, "")
    grade = told.get(Column.GRADE, "")
    if not column.of and grade:
        text = f"{told.get(Column.GRADER) or said.grader or ''}:{grade}"
    state = text if ":" in text else _state(text.casefold(), said.graders) if text else "raw"
    if state is None:
        return None, f"“{text[:30]}” is no state"
    if _GRADE.fullmatch(state):
        state = f"{told.get(Column.GRADER) or said.grader or ''}:{state}"
    if state.startswith(":"):
        return None, "say whose grades these are"
    grader, _, said_grade = state.rpartition(":")
    if ":" in state and not _GRADE.fullmatch(said_grade):
        return None, f"“{said_grade[:30]}” is no grade"
    if len(grader) > _MOST_GRADER:
        return None, f"“{grader[:30]}…” is no grader"
    return (None if state == "raw" else state), None


def _count(
    text: str, column: ColumnSaid, told: Mapping[Column, str], number: int, said: TableSaid, day: date
) -> tuple[Population | None, str | None]:
    """How many copies a cell counts of a grade, or what is wrong with it."""
    grader, _, grade = (column.of or told.get(Column.GRADE, "")).rpartition(":")
    grader = grader or told.get(Column.GRADER) or said.grader or ""
    if not _COUNT.fullmatch(text):
        return None, f"row {number}: “{text[:30]}” is no count"
    if not grader:
        return None, "say whose grades these are"
    if len(grader) > _MOST_GRADER:
        return None, f"row {number}: “{grader[:30]}…” is no grader"
    if not _GRADE.fullmatch(grade):
        return None, f"row {number}: “{grade[:30]}” is no grade" if grade else "say of which grade"
    if day > said.today:
        return None, f"{day.isoformat()} is still to come"
    return Population(grader, grade, int(re.sub(r"\D", "", text)), day), None
