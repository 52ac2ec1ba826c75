"""The books: balances, entries, what each lot and session cost and is worth, and the files that leave the house."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import in_figures
from tobbix.core.base.results import Verdict
from tobbix.core.books.reports import Lot, Month, state_books, sum_months
from tobbix.core.holdings.ledger import Account, Entry
from tobbix.db.base import Database
from tobbix.db.books.sales import list_documents
from tobbix.db.books.summing import (
    Gone,
    booked_by_month,
    count_entries,
    gone_by,
    spent_on_purchases,
    things_of_entries,
)
from tobbix.db.holdings.listing import Holding, held_by
from tobbix.db.holdings.loading import account_balances, load_entries, off_balance, taken_back_among
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import finished_costs
from tobbix.formats.item_lists import write_csv, write_xlsx
from tobbix.formats.plain_ledger import write_ledger


@dataclass(frozen=True, eq=False)
class Shown:
    """An entry by its number, whether it was taken back, and the things that it is about (number and name)."""

    number: int
    entry: Entry
    taken_back: bool
    things: tuple[tuple[int, str], ...]


@dataclass(frozen=True, eq=False)
class BooksView:
    """Where the books stand, with the newest of the entries ``in_all``; ``off`` is how far they and the stock are from
    balancing: both 0 at any time."""

    currency: str
    balances: tuple[tuple[Account, str | None, Decimal], ...]
    off: tuple[Decimal, Decimal]
    lots: tuple[Lot, ...]
    sessions: tuple[Lot, ...]
    months: tuple[Month, ...]
    entries: tuple[Shown, ...]
    in_all: int
    verdict: Verdict


def read_books(database: Database, newest: int = 60) -> BooksView:
    """Balances, lots, sessions and the newest entries."""
    with database.transaction() as session:
        currency = load_preferences(session).currency
        entries, found = load_entries(session, newest=newest), account_balances(session)
        off = off_balance(session)
        gone = taken_back_among(session, [number for number, _ in entries])
        by_purchase, by_session = held_by(session, "purchase"), held_by(session, "session")
        gone_of, gone_out = gone_by(session, "purchase"), gone_by(session, "session")
        lots = [
            _lot(lot.number, lot.name, lot.day, lot.paid, lot.back, by_purchase, gone_of)
            for lot in spent_on_purchases(session)
        ]
        sessions = [
            _lot(number, name, day, cost, Decimal(0), by_session, gone_out)
            for number, name, day, cost in finished_costs(session)
        ]
        months, things = sum_months(booked_by_month(session)), things_of_entries(session, [n for n, _ in entries])
        in_all = count_entries(session)
    ordered = tuple((account, purse, amount) for (account, purse), amount in sorted(
        found.items(), key=lambda pair: (list(Account).index(pair[0][0]), pair[0][1] or "")))  # fmt: skip
    verdict = state_books(lots, found, currency)
    newest_first = tuple(
        Shown(number, entry, number in gone, tuple(things.get(number, ()))) for number, entry in entries[::-1]
    )
    return BooksView(currency, ordered, off, tuple(lots), tuple(sessions), months, newest_first, in_all, verdict)


def _lot(
    number: int,
    name: str,
    day: date,
    paid: Decimal | None,
    back: Decimal,
    held: Mapping[int, Holding],
    gone: Mapping[int, Gone],
) -> Lot:
    left, away = held.get(number, Holding()), gone.get(number, Gone())
    return Lot(
        number, name, day, paid, back, away.fun, away.lost, away.awaited, left.basis, left.value, left.unknown_basis,
        left.unknown_value,
    )  # fmt: skip


def export_ledger(database: Database) -> str:
    """All entries as a plain-text ledger."""
    with database.transaction() as session:
        currency = load_preferences(session).currency
        return write_ledger((entry for _, entry in load_entries(session)), currency, "Tobbix")


def export_csv(database: Database) -> bytes:
    """All lines of all entries as CSV, amounts in their currency's digits."""
    return write_csv(*_lines(database))


def _lines(database: Database) -> tuple[Sequence[str], list[Sequence[object]]]:
    head = ("entry", "day", "event", "text", "account", "purse", "amount", "original", "currency", "rate")
    with database.transaction() as session:
        home = load_preferences(session).currency
        rows: list[Sequence[object]] = [
            (number, entry.day.isoformat(), entry.event.value, entry.text, line.account.value, line.purse,
             in_figures(line.amount, home), in_figures(line.original, line.currency or home), line.currency, line.rate)
            for number, entry in load_entries(session)
            for line in entry.lines
        ]  # fmt: skip
    return head, rows


def export_xlsx(database: Database) -> bytes:
    """The same lines as a workbook."""
    return write_xlsx("journal", *_lines(database))


def export_documents(database: Database, as_xlsx: bool) -> bytes:
    """Every document (purchases, sessions, orders, submissions, corrections) as CSV or a workbook."""
    head = ("document", "kind", "day", "party", "state", "text")
    with database.transaction() as session:
        rows = [(number, kind, day.isoformat(), *rest) for number, kind, day, *rest in list_documents(session)]
    return write_xlsx("documents", head, rows) if as_xlsx else write_csv(head, rows)
