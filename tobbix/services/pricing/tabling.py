"""A table of prices or populations that came in: its columns guessed or remembered, its rows read and judged."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.pages import PageSaid, state_table
from tobbix.core.pricing.tables import (
    ColumnSaid,
    Named,
    Table,
    TableCount,
    TablePrice,
    TableSaid,
    guess_columns,
    how_many_rows,
    read_table,
    split_table,
)
from tobbix.core.pricing.titles import Reading, TitleReader
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.holdings.rates import latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import known_graders
from tobbix.db.pricing.layouts import find_layout, keep_layout
from tobbix.db.products.finding import read_cards
from tobbix.db.products.identifying import Naming, identify
from tobbix.services.pricing.pasting import ReadPage, judge, reader_of
from tobbix.services.products.catalogue import Catalogue


@dataclass(frozen=True, slots=True)
class TableWish:
    """What is said of a whole table: where it is from, the state of raw cards that say none, what is not said to be
    sold or asked, whose grades they are, and the day of what says none."""

    market: str | None = None
    raw_state: str | None = None
    unsaid: CompKind = CompKind.SOLD
    month_first: bool = False
    grader: str | None = None
    day: date | None = None


@dataclass(frozen=True, slots=True)
class CountedRow:
    """A count of a table with the version that it is of (None: not known which), and the reason if it is none."""

    count: TableCount
    version: int | None
    choices: tuple[int, ...]
    doubt: str | None
    refused: str | None


@dataclass(frozen=True, eq=False)
class ReadTable:
    """A table as it was read: its columns, ``guessed`` or remembered or said; prices and counts; ``left`` rows that are
    too many at once."""

    table: Table
    columns: tuple[ColumnSaid, ...]
    guessed: bool
    page: ReadPage
    counts: tuple[CountedRow, ...]
    cards: dict[int, FoundCard]
    left: int

    @property
    def verdict(self) -> Verdict:
        counts = [row.version is not None and not (row.refused or row.doubt) for row in self.counts]
        return state_table(self.page.proposed, sum(counts), len(counts), self.left)


def read_listed(catalogue: Catalogue, text: str, columns: Sequence[ColumnSaid] | None, wish: TableWish) -> ReadTable:
    """What a table holds; nothing is kept. ``columns``: what they mean (None: as remembered, else guessed).

    Raises InputError at ``text`` if it is no table, at ``columns`` if there are not as many.
    """
    if wish.raw_state is not None and wish.raw_state not in CONDITIONS:
        raise InputError.at("raw_state", f"is one of {', '.join(CONDITIONS)}")
    whole = split_table(text)
    if whole is None or not whole.rows:
        raise InputError.at("text", "is no table: its cells are parted by tabs, semicolons or commas")
    if columns is not None and len(columns) != len(whole.head):
        raise InputError.at("columns", f"there are {len(whole.head)} columns")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        preferences = load_preferences(session)
        currencies = [row.currency for row in latest_rates(session)]
        graders = known_graders(session)
        known = frozenset({preferences.currency, *currencies})
        kept = find_layout(session, whole.head) if columns is None and whole.has_head else None
        said = tuple(columns or kept or guess_columns(whole, graders, known))
        table = Table(whole.head, whole.rows[: how_many_rows(said)], whole.has_head)
        asked = TableSaid(today, tuple(graders), known, wish.month_first, wish.grader, wish.day)
        prices, counts = read_table(table, said, asked)
        reader, named = _identified(session, [*prices, *counts])
        readings = [_reading(reader, named, price.named, price.title) for price in prices]
        page_said = PageSaid(
            wish.market, preferences.currency, wish.raw_state or preferences.sheet_condition, wish.unsaid
        )
        page = judge(session, [price.result for price in prices], readings, page_said, today, currencies)
        counted = []
        for count in counts:
            reading = _reading(reader, named, count.named, count.title)
            counted.append(
                CountedRow(count, reading.version, reading.choices, reading.doubt, count.refused or reading.refused)
            )
        wanted = {v for row in counted for v in (row.version, *row.choices) if v}
        cards = {**page.cards, **read_cards(session, sorted(wanted))}
    left = len(whole.rows) - len(table.rows)
    return ReadTable(table, said, columns is None and kept is None, page, tuple(counted), cards, left)


def _identified(
    session: Session, rows: Sequence[TablePrice | TableCount]
) -> tuple[TitleReader, dict[Named, int | None]]:
    """Who reads the titles of rows, and the versions that rows name by their keys."""
    named = {row.named for row in rows if row.named is not None}
    found = identify(session, {_naming(one) for one in named})
    return reader_of(session, [row.title for row in rows]), {one: found[_naming(one)].version_id for one in named}


def _naming(named: Named) -> Naming:
    return Naming(named.release, None, named.line, named.number, named.variant)


def _reading(reader: TitleReader, named: dict[Named, int | None], one: Named | None, title: str) -> Reading:
    """What a row is of: by its keys if a card has them, else by the words of its title."""
    version = None if one is None else named[one]
    return reader.read(title) if version is None else Reading(version)


def remember(catalogue: Catalogue, text: str, columns: Sequence[ColumnSaid]) -> None:
    """Remember what the columns of such a table mean. Raises InputError."""
    table = split_table(text)
    if table is None or len(table.head) != len(columns):
        raise InputError.at("columns", "these are not the columns of this table")
    if table.has_head:
        with catalogue.database.transaction() as session:
            keep_layout(session, table.head, columns)
