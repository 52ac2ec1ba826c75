"""What sales made, by whatever they are put together; the statements of a month, a year, a way or a buyer; a purse that
is counted; time that is logged (C-16)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import in_figures, minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.books.sales import SalesBy, SalesSum, ThingSold, group_sales, state_sales, sum_sales, things_sold
from tobbix.core.holdings.dealing import count_purse
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import DocumentKind
from tobbix.db.base import Session
from tobbix.db.books.sales import booked_on_sales, lines_sold, minutes_by_document
from tobbix.db.holdings.loading import account_balances, load_document
from tobbix.db.holdings.saving import add_document, keep_change, log_minutes
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.selling.past_sales import list_past_sales
from tobbix.formats.item_lists import write_csv, write_xlsx
from tobbix.services.products.catalogue import Catalogue

_EVER = date(1900, 1, 1)


@dataclass(frozen=True, eq=False)
class SalesView:
    """Sales of some days by something, all of them together, and the things; results of before the books are in the
    sums, as the owner said them."""

    rows: tuple[SalesSum, ...]
    total: SalesSum
    things: tuple[ThingSold, ...]
    before: int
    currency: str
    verdict: Verdict


def read_sales(
    catalogue: Catalogue, by: SalesBy, first: date | None, last: date | None, only: str | None = None
) -> SalesView:
    """What sales made by something; ``only`` those of one name of it: a statement. Rule C-16. Raises InputError."""
    today = catalogue.today()
    begin, end = first or _EVER, last or today
    if end < begin:
        raise InputError.at("last", "must not be before the first day")
    with catalogue.database.transaction() as session:
        home = load_preferences(session).currency
        things = _things(session, begin, end, home)
        past = [it for it in _past(session, begin, end) if only is None or it.names.get(by, "") == only]
    things = [it for it in things if only is None or it.names.get(by, "") == only]
    every = sorted([*things, *past], key=lambda it: it.day)
    total = sum_sales("", every)
    span = "" if first is None and last is None else f" from {begin:%-d %B %Y} to {end:%-d %B %Y}"
    return SalesView(
        group_sales(every, by), total, tuple(every), len(past), home, state_sales(total, home, span)
    )  # fmt: skip


def _things(session: Session, first: date, last: date, home: str) -> list[ThingSold]:
    lines = lines_sold(session, first, last)
    minutes = minutes_by_document(session, [it.document for it in lines])
    return things_sold(lines, booked_on_sales(session, first, last), minutes, minor_units(home))


def _past(session: Session, first: date, last: date) -> list[ThingSold]:
    """Sales of before the books, as the owner said them: results without entries."""
    none = Decimal(0)
    return [
        ThingSold(
            0, 0, it.name, it.sold_on, it.brought, it.costs, none, none, it.basis, None, None,
            {SalesBy.WAY: it.way, SalesBy.MONTH: f"{it.sold_on:%Y-%m}", SalesBy.YEAR: f"{it.sold_on:%Y}",
             SalesBy.LOT: "before the books"},
        )
        for it in list_past_sales(session)
        if first <= it.sold_on <= last
    ]  # fmt: skip


_HEAD = ("day", "thing", "way", "buyer", "set", "subject", "lot", "brought", "fees", "postage", "packing", "cost",
         "profit", "days held", "minutes")  # fmt: skip


def write_sales(view: SalesView, as_xlsx: bool) -> bytes:
    """A statement as CSV or a workbook, a line for each thing and one for all."""
    rows: list[Sequence[object]] = [
        (it.day.isoformat(), it.name, it.names.get(SalesBy.WAY, ""), it.names.get(SalesBy.BUYER, ""),
         it.names.get(SalesBy.SET, ""), it.names.get(SalesBy.SUBJECT, ""), it.names.get(SalesBy.LOT, ""),
         *(in_figures(each, view.currency)
           for each in (it.brought, it.fees, it.postage, it.supplies, it.basis, it.profit)),
         it.days, it.minutes)
        for it in view.things
    ]  # fmt: skip
    total = view.total
    sums = (total.brought, total.fees, total.postage, total.supplies, total.basis, total.profit)
    rows.append(("", "all", *[""] * 5, *(in_figures(it, view.currency) for it in sums), "", ""))
    return write_xlsx("sales", _HEAD, rows) if as_xlsx else write_csv(_HEAD, rows)


@dataclass(frozen=True, slots=True)
class Purse:
    """A purse and what should be in it by the books (money at home)."""

    name: str
    amount: Decimal


def list_purses(catalogue: Catalogue) -> tuple[list[Purse], str]:
    """Every purse with what should be in it, and the home currency."""
    with catalogue.database.transaction() as session:
        found = account_balances(session)
        purses = [Purse(name or "", it) for (account, name), it in found.items() if account is Account.CASH]
        return sorted(purses, key=lambda it: it.name), load_preferences(session).currency


def count(catalogue: Catalogue, purse: str, counted: Decimal) -> Decimal:
    """A purse was counted: what it differs from the books is booked as such; the difference. Raises InputError."""
    with catalogue.database.transaction() as session:
        found = account_balances(session)
        if (Account.CASH, purse) not in found:
            raise InputError.at("purse", "there is no such purse")
        before, today = found[Account.CASH, purse], catalogue.today()
        if counted < 0:
            raise InputError.at("counted", "must not be negative")
        if counted == before:
            return Decimal(0)
        text = f"{purse} counted"
        document = add_document(session, DocumentKind.CORRECTION, today, text, None)
        keep_change(session, count_purse(purse, before, counted, today, text), document)
        return counted - before


def spend_minutes(catalogue: Catalogue, document: int, minutes: Decimal, what: str) -> Decimal:
    """Time that a document took; all of it so far. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        load_document(session, document)
        log_minutes(session, document, catalogue.today(), minutes, what.strip()[:200] or "work")
        return minutes_by_document(session, [document])[document]


def minutes_of(catalogue: Catalogue, document: int) -> Decimal:
    """The minutes logged on a document so far. Raises NotFound."""
    with catalogue.database.transaction() as session:
        load_document(session, document)
        return minutes_by_document(session, [document]).get(document, Decimal(0))
