"""Things and entries into the store and out of it."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from sqlalchemy import func, select, text, tuple_
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.ledger import HELD, Account, Entry, Event, Line
from tobbix.core.holdings.register import HELD_STATES, Change, State, Thing
from tobbix.db.holdings.tables import EntryRow, ExchangeRateRow, HeldValueRow, ItemEventRow, ItemRow, PostingRow

RATE_HOLDS = 7  # days that a rate speaks for, where there is no newer one


def to_thing(row: ItemRow) -> Thing:
    """The core's value of an item."""
    return Thing(row.id, row.name, row.count, State(row.state), row.basis, row.value)


def fresh_numbers(session: Session, count: int) -> list[int]:
    """Numbers for so many new items, for inserting them in bulk."""
    sequence = func.pg_get_serial_sequence(ItemRow.__tablename__, "id")
    return list(session.scalars(select(func.nextval(sequence)).select_from(func.generate_series(1, count))))


def count_anew(session: Session) -> None:
    """Let the database count the items: after many came in, searches would be planned as if they were few."""
    session.execute(text(f"analyze {ItemRow.__tablename__}, {HeldValueRow.__tablename__}"))


def find_item(session: Session, number: int, version: int | None = None) -> ItemRow:
    """An item, locked. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.get(ItemRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such item")
    if version is not None and row.version != version:
        raise Conflict("this was changed meanwhile; look again, then retry")
    return row


def change_words(
    session: Session, row: ItemRow, changes: Mapping[str, Any], day: date, more: Sequence[str] = ()
) -> None:
    """Change what is said of an item that is locked, with a trace in its history; ``more`` was changed besides."""
    said, which = list(more), _which(row)
    for name, value in changes.items():
        if getattr(row, name) != value:
            if not name.endswith(("_id", "_text")):
                said.append(f"{name.replace('_', ' ')}: {_said(getattr(row, name))} to {_said(value)}")
            setattr(row, name, value)
    session.flush()
    session.refresh(row, ("release", "format", "line", "number", "variant"))
    if _which(row) != which:
        said.append(f"which it is: {which} to {_which(row)}")
    if said:
        row.version += 1
        session.add(
            ItemEventRow(
                item_id=row.id, day=day, event=Event.CORRECTION.value, text="; ".join(said)[:500], state=row.state,
                basis=row.basis,
            )
        )  # fmt: skip


def _which(row: ItemRow) -> str:
    """What an item is, by the keys that it goes by."""
    number = None if row.number is None else " ".join(filter(None, ("no.", row.number, row.variant)))
    return " of ".join(text for text in (number, row.line or row.format, row.release) if text) or "not said"


def _said(value: object) -> str:
    if value is None:
        return "not said"
    return str(value) if not isinstance(value, bool) else "yes" if value else "no"


def items_of_purchase(session: Session, purchase: int, lock: bool = True, with_pulls: bool = False) -> list[ItemRow]:
    """What a purchase brought, in its order; ``with_pulls`` also what came out of it."""
    query = select(ItemRow).where(ItemRow.purchase_id == purchase).order_by(ItemRow.id)
    if not with_pulls:
        query = query.where(ItemRow.session_id.is_(None))
    return list(session.scalars(query.with_for_update() if lock else query))


def add_entry(
    session: Session, entry: Entry, purchase: int | None = None, opening: int | None = None, reverses: int | None = None
) -> EntryRow:
    """Append a balanced entry."""
    row = EntryRow(
        day=entry.day, event=entry.event.value, text=entry.text, purchase_id=purchase, session_id=opening,
        reverses_id=reverses,
    )  # fmt: skip
    session.add(row)
    session.flush()
    session.add_all(
        PostingRow(
            entry_id=row.id, account=line.account.value, purse=line.purse, amount=line.amount, original=line.original,
            currency=line.currency, rate=line.rate,
        )
        for line in entry.lines
    )  # fmt: skip
    session.flush()
    return row


def keep_change(
    session: Session,
    change: Change,
    rows: Sequence[ItemRow],
    day: date,
    event: Event,
    text: str,
    purchase: int | None = None,
    opening: int | None = None,
) -> EntryRow | None:
    """Write what an event did: ``rows`` are the items of ``change.things`` in the same order."""
    entry = None if change.entry is None else add_entry(session, change.entry, purchase, opening)
    for row, thing in zip(rows, change.things, strict=True):
        row.state, row.count, row.basis = thing.state.value, thing.count, thing.basis
        row.version = (row.version or 0) + 1
        session.add(row)
    session.flush()
    session.add_all(
        ItemEventRow(
            item_id=row.id, day=day, event=event.value, text=text, state=row.state, basis=row.basis,
            entry_id=None if entry is None else entry.id,
        )
        for row in rows
    )  # fmt: skip
    session.flush()
    return entry


def load_entries(
    session: Session, purchase: int | None = None, opening: int | None = None, newest: int | None = None
) -> list[tuple[int, Entry]]:
    """Entries in the order they were made: all, those of one purchase or session, or the ``newest`` so many."""
    query = select(EntryRow).order_by(EntryRow.id)
    if newest is not None:
        query = query.where(EntryRow.id.in_(select(EntryRow.id).order_by(EntryRow.id.desc()).limit(newest)))
    if purchase is not None:
        query = query.where(EntryRow.purchase_id == purchase)
    if opening is not None:
        query = query.where(EntryRow.session_id == opening)
    rows = list(session.scalars(query))
    postings = select(PostingRow).order_by(PostingRow.id)
    if purchase is not None or opening is not None or newest is not None:
        postings = postings.where(PostingRow.entry_id.in_([row.id for row in rows]))
    lines: dict[int, list[Line]] = {}
    for p in session.scalars(postings):
        lines.setdefault(p.entry_id, []).append(
            Line(Account(p.account), p.amount, p.purse, p.original, p.currency, p.rate)
        )
    return [(row.id, Entry(row.day, Event(row.event), row.text, tuple(lines.get(row.id, ())))) for row in rows]


def reversed_entries(session: Session) -> set[int]:
    """Numbers of the entries that were taken back."""
    return {number for number in session.scalars(select(EntryRow.reverses_id)) if number is not None}


def account_balances(session: Session) -> dict[tuple[Account, str | None], Decimal]:
    """The balance of every account and purse (money, debit positive)."""
    sums = select(PostingRow.account, PostingRow.purse, func.sum(PostingRow.amount))
    rows = session.execute(sums.group_by(PostingRow.account, PostingRow.purse))
    return {(Account(account), purse): Decimal(amount) for account, purse, amount in rows}


def off_balance(session: Session) -> tuple[Decimal, Decimal]:
    """How far the books are off, and how far stock is from the sum of the known bases: both are 0 at any time."""
    books = session.scalar(select(func.coalesce(func.sum(PostingRow.amount), 0)))
    held = session.scalar(
        select(func.coalesce(func.sum(PostingRow.amount), 0)).where(PostingRow.account.in_([a.value for a in HELD]))
    )
    bases = session.scalar(
        select(func.coalesce(func.sum(ItemRow.basis), 0)).where(ItemRow.state.in_([s.value for s in HELD_STATES]))
    )
    return Decimal(books or 0), Decimal(held or 0) - Decimal(bases or 0)


def find_rate(session: Session, currency: str, day: date) -> tuple[Decimal, str, date] | None:
    """The rate of a currency on a day: set by hand first, else the last of the week before. None if there is none."""
    query = (
        select(ExchangeRateRow)
        .where(ExchangeRateRow.currency == currency, ExchangeRateRow.day <= day)
        .order_by(ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
        .limit(1)
    )
    row = session.scalar(query)
    if row is None or (day - row.day).days > RATE_HOLDS:
        return None
    return row.rate, row.source, row.day


def rates_on(session: Session, day: date) -> dict[str, Decimal]:
    """The rates of all currencies on a day, each as ``find_rate`` finds it."""
    query = (
        select(ExchangeRateRow.currency, ExchangeRateRow.rate)
        .ext(distinct_on(ExchangeRateRow.currency))
        .where(ExchangeRateRow.day <= day, ExchangeRateRow.day >= day - timedelta(days=RATE_HOLDS))
        .order_by(ExchangeRateRow.currency, ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
    )
    return {row.currency: row.rate for row in session.execute(query)}


def latest_rates(session: Session) -> list[ExchangeRateRow]:
    """Of each currency the newest rate of the feed, and every one that was set by hand, by currency and day."""
    newest = select(ExchangeRateRow.currency, func.max(ExchangeRateRow.day)).group_by(ExchangeRateRow.currency)
    newest = newest.where(ExchangeRateRow.by_hand.is_(False))
    query = select(ExchangeRateRow).where(
        ExchangeRateRow.by_hand | tuple_(ExchangeRateRow.currency, ExchangeRateRow.day).in_(newest)
    )
    return list(
        session.scalars(
            query.order_by(ExchangeRateRow.currency, ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
        )
    )


def remove_rate(session: Session, currency: str, day: date) -> bool:
    """Forget a rate that was set by hand; says whether there was one."""
    query = select(ExchangeRateRow).where(
        ExchangeRateRow.currency == currency, ExchangeRateRow.day == day, ExchangeRateRow.by_hand
    )
    row = session.scalar(query)
    if row is not None:
        session.delete(row)
    return row is not None


def put_rates(session: Session, rates: Iterable[tuple[str, date, Decimal]], source: str, by_hand: bool) -> int:
    """Keep rates, in place of those of the same day from the same hand; says how many."""
    known = {
        (row.currency, row.day): row
        for row in session.scalars(select(ExchangeRateRow).where(ExchangeRateRow.by_hand == by_hand))
    }
    count = 0
    for currency, day, rate in rates:
        row = known.get((currency, day)) or ExchangeRateRow(currency=currency, day=day, by_hand=by_hand)
        row.rate, row.source = rate, source
        session.add(row)
        count += 1
    session.flush()
    return count
