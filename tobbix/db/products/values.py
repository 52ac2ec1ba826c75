"""Values in the store: appended, with the one that is current found by its source; and what held things are worth.

The order of the sources is that of ``core.products.price_book``. Whoever records or takes back a value raises the price
revision of its release and brings what held things are worth up to it, both here.
"""

from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, case, func, select, text, update
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import InstrumentedAttribute, Session

from tobbix.core.products.price_book import (
    CASE,
    ENOUGH_COMPS,
    SEALED,
    Convert,
    Price,
    PriceBook,
    Says,
    Source,
    Value,
    settle,
)
from tobbix.db.base import bring_rows
from tobbix.db.holdings.loading import among
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.products.tables import CardRow, FormatRow, LineRow, ReleaseRow, ValueRow, VersionRow

_RANK = case(
    (ValueRow.source == Source.OWNER.value, 0),
    ((ValueRow.source == Source.COMPS.value) & (ValueRow.comps >= ENOUGH_COMPS), 1),
    ((ValueRow.source == Source.SHEET.value) & (ValueRow.says == Says.PRICE.value), 2),
    (ValueRow.source == Source.BORROWED.value, 3),
    (ValueRow.source == Source.COMPS.value, 4),
    (ValueRow.source == Source.BOOK.value, 5),
    else_=6,
)


def current_values(
    session: Session,
    column: InstrumentedAttribute[int | None],
    things: Any,
    state: str,
    as_of: datetime | None = None,
) -> dict[int, Value]:
    """The current value of each version, format or item in a state, as it was recorded at ``as_of`` (None: now)."""
    return {thing: value for (thing, _), value in values_by_state(session, column, things, [state], as_of).items()}


def values_by_state(
    session: Session,
    column: InstrumentedAttribute[int | None],
    things: Any,
    states: Sequence[str],
    as_of: datetime | None = None,
) -> dict[tuple[int, str], Value]:
    """The same for several states at once, by thing and state."""
    latest = (
        select(ValueRow.id)
        .ext(distinct_on(column, ValueRow.state, ValueRow.source))
        .where(column.in_(things), ValueRow.state.in_(states))
        .order_by(column, ValueRow.state, ValueRow.source, ValueRow.id.desc())
    )
    if as_of is None:
        latest = latest.where(ValueRow.taken_back_at.is_(None))
    else:
        is_there = ValueRow.taken_back_at.is_(None) | (ValueRow.taken_back_at > as_of)
        latest = latest.where(ValueRow.recorded_at <= as_of, is_there)
    speaks = (ValueRow.says != Says.RELEASED.value) & ~(
        (ValueRow.source == Source.SHEET.value) & (ValueRow.says == Says.FOLLOWS.value)
    )
    query = (
        select(column, ValueRow.state, ValueRow.says, ValueRow.amount, ValueRow.currency, ValueRow.day,
               ValueRow.source, ValueRow.low, ValueRow.high, ValueRow.comps)
        .ext(distinct_on(column, ValueRow.state))
        .where(ValueRow.id.in_(latest), speaks)
        .order_by(column, ValueRow.state, _RANK, ValueRow.id.desc())
    )  # fmt: skip
    return {(row[0] or 0, row[1]): _value(row[2:]) for row in session.execute(query)}


def values_in(session: Session, versions: Sequence[int], state: str, as_of: datetime | None = None) -> dict[int, Value]:
    """The value of each of some versions in a state, as far as one is said, as it was known then (None: now)."""
    return current_values(session, ValueRow.version_id, list(versions), state, as_of)


def versions_in_states(
    session: Session, versions: Sequence[int], states: Sequence[str]
) -> dict[tuple[int, str], Value]:
    """The value of each of some versions in each of some states, as far as one is said."""
    return values_by_state(session, ValueRow.version_id, list(versions), states)


def _by_thing(rows: Iterable[Any]) -> dict[int, Value]:
    return {row[0]: _value(row[1:]) for row in rows}


def _value(row: Sequence[Any]) -> Value:
    says, amount, currency, day, source, *more = row
    return Value(Says(says), amount, currency, day, Source(source), *more)


def load_book(session: Session, release: ReleaseRow, state: str, as_of: datetime | None = None) -> PriceBook:
    """The current values of what stands in a release's sheet, for cards in a state."""
    in_sheet = (
        select(VersionRow.id, LineRow.key, CardRow.number)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(LineRow.release_id == release.id, VersionRow.position.is_not(None))
    )
    place = {version: (line, number) for version, line, number in session.execute(in_sheet)}
    formats = dict(session.execute(select(FormatRow.id, FormatRow.key).where(FormatRow.release_id == release.id)).all())
    of_release = select(VersionRow.id).join(LineRow, LineRow.id == VersionRow.line_id)
    of_release = of_release.where(LineRow.release_id == release.id)
    cards = current_values(session, ValueRow.version_id, of_release, state, as_of)
    sealed, cases = (current_values(session, ValueRow.format_id, list(formats), kind, as_of) for kind in (SEALED, CASE))
    return PriceBook(
        release.price_revision,
        {place[version]: value for version, value in cards.items() if version in place},
        {formats[key]: value for key, value in sealed.items()},
        {formats[key]: value for key, value in cases.items()},
    )


def latest_of_sheets(session: Session, release: ReleaseRow, state: str) -> tuple[dict[int, Value], dict[int, Value]]:
    """What sheets said last of each version and format of a release."""
    found = []
    for column, things, in_state in (
        (ValueRow.version_id, select(VersionRow.id).join(LineRow, LineRow.id == VersionRow.line_id)
         .where(LineRow.release_id == release.id), state),
        (ValueRow.format_id, select(FormatRow.id).where(FormatRow.release_id == release.id), SEALED),
    ):  # fmt: skip
        query = (
            select(column, ValueRow.says, ValueRow.amount, ValueRow.currency, ValueRow.day, ValueRow.source)
            .ext(distinct_on(column))
            .where(column.in_(things), ValueRow.source == Source.SHEET.value, ValueRow.state == in_state,
                   ValueRow.taken_back_at.is_(None))
            .order_by(column, ValueRow.id.desc())
        )  # fmt: skip
        found.append(_by_thing(session.execute(query)))
    return found[0], found[1]


def record_values(
    session: Session,
    release: ReleaseRow | None,
    column: str,
    state: str,
    values: Iterable[tuple[int, Value]],
    entry: int | None = None,
) -> list[int]:
    """Append values of versions, formats or items (``column`` names which), as an ``entry`` shared them out if it did;
    returns their numbers.

    With a ``release`` its price revision is raised; what is held is brought up by whoever knows the rates.
    """
    said = list(values)
    if not said:
        return []
    session.flush()
    numbers = func.nextval(func.pg_get_serial_sequence(ValueRow.__tablename__, "id"))
    ids = list(session.scalars(select(numbers).select_from(func.generate_series(1, len(said)))))
    bring_rows(
        session,
        ValueRow,
        [
            {
                "id": number, column: thing, "state": state, "source": value.source.value, "says": value.says.value,
                "amount": value.amount, "currency": value.currency, "low": value.low, "high": value.high,
                "comps": value.comps, "day": value.day, "entry_id": entry,
            }
            for number, (thing, value) in zip(ids, said, strict=True)
        ],
    )  # fmt: skip
    if release is not None:
        release.price_revision += 1
        session.flush()
    return ids


def take_back_values(session: Session, release: ReleaseRow, ids: Sequence[int]) -> None:
    """Take values back: those before them, with their days, are current again."""
    if ids:
        session.execute(update(ValueRow).where(ValueRow.id.in_(ids)).values(taken_back_at=datetime.now(UTC)))
    release.price_revision += 1
    session.flush()


def take_back_shared(session: Session, entry: int) -> None:
    """What an entry shared out of what was said of things is taken back with it: what was said before counts again."""
    session.execute(update(ValueRow).where(ValueRow.entry_id == entry).values(taken_back_at=datetime.now(UTC)))


def price_versions(session: Session, versions: Any, state: str, convert: Convert) -> dict[int, Price]:
    """The current price of versions in a state, those of parallels from their parents where nothing is said of them."""
    parent = VersionRow.__table__.alias("parent")
    query = (
        select(VersionRow.id, parent.c.id, LineRow.cards_of_id, LineRow.price_multiple, LineRow.price_floor,
               ReleaseRow.currency)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(ReleaseRow, ReleaseRow.id == LineRow.release_id)
        .outerjoin(parent, (parent.c.card_id == VersionRow.card_id) & (parent.c.line_id == LineRow.cards_of_id)
                   & (parent.c.variant == ""))
        .where(VersionRow.id.in_(versions))
    )  # fmt: skip
    rows = session.execute(query).all()
    things = list({key for row in rows for key in row[:2] if key is not None})
    known = current_values(session, ValueRow.version_id, things, state)
    return {
        version: settle(
            known.get(version), known.get(above) if above else None, multiple,
            None if floor is None or currency is None else (floor, currency), cards_of is not None, convert,
        )
        for version, above, cards_of, multiple, floor, currency in rows
    }  # fmt: skip


def in_other_currencies(currency: str) -> ColumnElement[bool]:
    """Items that are worth money of another currency: what is said of them, or anything of their release."""
    foreign = ValueRow.currency != currency
    of_cards = (
        select(LineRow.release_id)
        .join(VersionRow, VersionRow.line_id == LineRow.id)
        .join(ValueRow, ValueRow.version_id == VersionRow.id)
        .where(foreign)
    )
    of_boxes = select(FormatRow.release_id).join(ValueRow, ValueRow.format_id == FormatRow.id).where(foreign)
    of_floors = select(ReleaseRow.id).where(ReleaseRow.currency != currency)
    said = select(ValueRow.item_id).where(foreign, ValueRow.item_id.is_not(None))
    of_release = ItemRow.release_id.in_(of_cards.union(of_boxes, of_floors))
    return of_release | ItemRow.id.in_(said)


_BROUGHT = """
    insert into held_value (item_id, amount, day, source)
    select * from unnest(cast(:items as bigint[]), cast(:amounts as numeric[]), cast(:days as date[]),
                         cast(:sources as text[]))
    on conflict (item_id) do update set amount = excluded.amount, day = excluded.day, source = excluded.source
"""
_SHARE = 5_000


def revalue_items(session: Session, items: Iterable[int], state: str, convert: Convert) -> None:
    """Bring up what certain things are worth; as ``revalue_all``."""
    session.flush()
    _revalue_where(session, among(ItemRow.id, items), state, convert)


def revalue_cards(session: Session, versions: Iterable[int], state: str, convert: Convert) -> None:
    """Bring up what is held of certain versions, and of the parallels whose prices may follow them."""
    cards = select(VersionRow.card_id).where(VersionRow.id.in_(list(versions)))
    like = select(VersionRow.id).where(VersionRow.card_id.in_(cards))
    _revalue_where(session, ItemRow.version_id.in_(like), state, convert)


def revalue_release(session: Session, release: int, state: str, convert: Convert) -> None:
    """Bring up all that is held of a release."""
    _revalue_where(session, ItemRow.release_id == release, state, convert)


def revalue_foreign(session: Session, currency: str, state: str, convert: Convert) -> None:
    """Bring up what is worth money of another ``currency`` than that at home."""
    _revalue_where(session, in_other_currencies(currency), state, convert)


def revalue_all(session: Session, state: str, convert: Convert) -> None:
    """Bring what every thing is worth up to what is said now.

    What the owner said of a thing itself counts first; else the price of its version in its own grade or condition, or
    in the ``state`` that sheets speak for, times how many there are; else that of its format, if the box is whole.
    """
    _revalue_where(session, ItemRow.id.is_not(None), state, convert)


def said_of_item(session: Session, item: int) -> tuple[Decimal, date] | None:
    """What is said of a thing itself (money), and on which day; None if nothing, or no longer."""
    query = select(ValueRow.amount, ValueRow.day).where(ValueRow.item_id == item, ValueRow.taken_back_at.is_(None))
    found = session.execute(query.order_by(ValueRow.id.desc()).limit(1)).one_or_none()
    return None if found is None or found.amount is None else (found.amount, found.day)


def _revalue_where(session: Session, which: ColumnElement[bool], state: str, convert: Convert) -> None:
    session.flush()
    names = (ItemRow.id, ItemRow.count, ItemRow.version_id, ItemRow.format_id, ItemRow.condition, ItemRow.packs_gone)
    rows = session.execute(select(*names).where(which)).all()
    for start in range(0, len(rows), _SHARE):
        _revalue(session, rows[start : start + _SHARE], state, convert)
    session.expire_all()


_LABELLED = """
    select distinct on (b.item_id) b.item_id, p.name || ':' || b.grade from label b join party p on p.id = b.grader_id
    where b.item_id = any(:items) and not exists (select from entry e where e.reverses_id = b.entry_id)
        and (b.removed_by_id is null or exists (select from entry e where e.reverses_id = b.removed_by_id))
    order by b.item_id, b.id desc
"""


def _labelled(session: Session, items: Sequence[int]) -> dict[int, str]:
    """The state of what carries a label: its grader and grade."""
    return dict(session.execute(text(_LABELLED), {"items": list(items)}).all())


def _revalue(session: Session, rows: Sequence[Any], state: str, convert: Convert) -> None:
    query = (
        select(ValueRow.item_id, ValueRow.says, ValueRow.amount, ValueRow.currency, ValueRow.day, ValueRow.source)
        .ext(distinct_on(ValueRow.item_id))
        .where(among(ValueRow.item_id, [row.id for row in rows]), ValueRow.taken_back_at.is_(None))
        .order_by(ValueRow.item_id, ValueRow.id.desc())
    )
    said = _by_thing(session.execute(query))
    graded = _labelled(session, [row.id for row in rows])
    wanted: dict[str, set[int]] = {state: {row.version_id for row in rows if row.version_id}}
    for row in rows:
        own_state = graded.get(row.id, row.condition)
        if row.version_id and own_state:
            wanted.setdefault(own_state, set()).add(row.version_id)
    by_state = {each: price_versions(session, list(found), each, convert) for each, found in wanted.items() if found}
    formats = {row.format_id for row in rows if row.format_id and not row.packs_gone}
    sealed = current_values(session, ValueRow.format_id, list(formats), SEALED) if formats else {}
    found: list[tuple[int, Decimal | None, date | None, str | None]] = []
    for row in rows:
        own = said.get(row.id)
        price, count = Price(None, None, None), row.count
        if own is not None and own.says is not Says.RELEASED:
            amount = None if own.amount is None else convert(own.amount, own.currency)
            price, count = Price(amount, own.day, own.source), 1
        elif row.version_id:
            price = by_state.get(graded.get(row.id, row.condition) or state, {}).get(row.version_id, price)
            if price.source is None:  # nothing is said of it in its own condition; unknown is something that is said
                price = by_state[state][row.version_id]
        elif row.format_id in sealed and not row.packs_gone:
            value = sealed[row.format_id]
            amount = None if value.amount is None else convert(value.amount, value.currency)
            price = Price(amount, value.day, value.source)
        if price.amount is None or price.day is None or price.source is None:
            found.append((row.id, None, None, None))
        else:
            found.append((row.id, price.amount * count, price.day, price.source.value))
    items, amounts, days, sources = (list(part) for part in zip(*found, strict=True))
    session.execute(text(_BROUGHT), {"items": items, "amounts": amounts, "days": days, "sources": sources})
