"""Everything owned: the list with its filters, what was there before, and small corrections."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.register import HELD_STATES, Action, State, Thing
from tobbix.core.products.finding import FoundCard, find_cards
from tobbix.db.base import Database, bring_rows
from tobbix.db.holdings.keeping import (
    add_entry,
    change_words,
    count_anew,
    find_item,
    fresh_numbers,
    keep_change,
    to_thing,
)
from tobbix.db.holdings.tables import ItemEventRow, ItemRow, SavedFilterRow
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.loading import list_releases
from tobbix.formats.item_lists import ItemLine
from tobbix.formats.limits import MOST_ITEM_ROWS
from tobbix.services.products.workshop import Workshop

SORTS = ("name", "count", "basis", "value", "acquired_on", "place", "id")
_BATCH = 5_000
MOST_FOUND = 12
_MANY = 1_000


@dataclass(frozen=True, slots=True)
class ItemFilter:
    """What is listed: ``find`` in name, number, serial or place; held things unless a ``state`` says otherwise."""

    find: str = ""
    kind: str | None = None
    state: str = "held"
    release: str | None = None
    purchase: int | None = None
    session: int | None = None
    basis: str | None = None
    never_for_sale: bool | None = None


@dataclass(frozen=True, eq=False)
class ItemPage:
    """A page of items, with how many there are in all and what they cost and are said to be worth."""

    items: tuple[ItemRow, ...]
    total: int
    count: int
    basis: Decimal
    unknown_basis: int
    value: Decimal


def _conditions(wanted: ItemFilter) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = []
    if wanted.state == "held":
        found.append(ItemRow.state.in_([state.value for state in HELD_STATES]))
    elif wanted.state != "all":
        found.append(ItemRow.state == wanted.state)
    if wanted.find.strip():
        like = "%" + wanted.find.strip().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
        found.append(ItemRow.words.ilike(like))
    for name in ("kind", "release"):
        if getattr(wanted, name) is not None:
            found.append(getattr(ItemRow, name) == getattr(wanted, name))
    if wanted.purchase is not None:
        found.append(ItemRow.purchase_id == wanted.purchase)
    if wanted.session is not None:
        found.append(ItemRow.session_id == wanted.session)
    if wanted.basis == "unknown":
        found.append(ItemRow.basis.is_(None))
    elif wanted.basis == "known":
        found.append(ItemRow.basis.is_not(None))
    if wanted.never_for_sale is not None:
        found.append(ItemRow.never_for_sale == wanted.never_for_sale)
    return found


def list_items(database: Database, wanted: ItemFilter, sort: str, descending: bool, start: int, count: int) -> ItemPage:
    """A page of items, filtered, sorted and paged in the database. Raises InputError for an unknown sort."""
    if sort not in SORTS:
        raise InputError.at("sort", f"must be one of {', '.join(SORTS)}")
    column = getattr(ItemRow, sort)
    order = column.desc().nulls_last() if descending else column.asc().nulls_last()
    conditions = _conditions(wanted)
    with database.transaction() as session:
        sums = session.execute(
            select(
                func.count(), func.coalesce(func.sum(ItemRow.count), 0), func.coalesce(func.sum(ItemRow.basis), 0),
                func.count().filter(ItemRow.basis.is_(None)), func.coalesce(func.sum(ItemRow.value), 0),
            ).where(*conditions)
        ).one()  # fmt: skip
        rows = session.scalars(
            select(ItemRow).where(*conditions).order_by(order, ItemRow.id).offset(start).limit(count)
        )
        basis, value = Decimal(sums[2] or 0), Decimal(sums[4] or 0)
        return ItemPage(tuple(rows), sums[0], int(sums[1]), basis, sums[3], value)


def read_item(database: Database, number: int) -> tuple[ItemRow, list[ItemEventRow]]:
    """An item with its history. Raises NotFound."""
    with database.transaction() as session:
        row = find_item(session, number)
        query = select(ItemEventRow).where(ItemEventRow.item_id == number).order_by(ItemEventRow.id)
        return row, list(session.scalars(query))


def correct_item(database: Database, number: int, version: int, changes: Mapping[str, Any], day: date) -> int:
    """Correct what is said of an item: its name and version, place, condition, serial, value, note, whether it is ever
    for sale. Returns its new version.

    Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        row = find_item(session, number, version)
        change_words(session, row, changes, day)
        return row.version


def take_out(database: Database, number: int, version: int, action: Action, day: date, why: str) -> None:
    """An item is lost, given away or sent back; its basis goes to the account that says so.

    Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        row = find_item(session, number, version)
        gone = register.next_state(State(row.state), action)
        words = "sent back" if gone is State.RETURNED else gone.value.replace("_", " ")
        text = f"{words}: {row.name}" + (f" ({why.strip()})" if why.strip() else "")
        change = register.take_out([to_thing(row)], action, day, text[:500])
        keep_change(session, change, [row], day, Event.WRITE_OFF, text[:500], row.purchase_id)


def bring_back(database: Database, number: int, version: int, day: date) -> None:
    """An item that was lost, given away or sent back is here again, with its cost. Raises NotFound, Conflict."""
    with database.transaction() as session:
        row = find_item(session, number, version)
        text = f"here again: {row.name}"[:500]
        change = register.bring_back(to_thing(row), day, text)
        keep_change(session, change, [row], day, Event.CORRECTION, text, row.purchase_id)


def remember_basis(database: Database, number: int, version: int, basis: Decimal, day: date) -> None:
    """What an item cost is found: against opening equity. Rule C-16. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        units = minor_units(load_preferences(session).currency)
        if not 0 <= basis <= 99_999_999 or basis != round(basis, units):
            raise InputError.at("basis", f"must not be negative, with at most {units} decimals")
        row = find_item(session, number, version)
        text = f"its cost is found: {row.name}"[:500]
        keep_change(
            session, register.remember_basis(to_thing(row), basis, day, text), [row], day, Event.CORRECTION, text
        )


def search_cards(workshop: Workshop, find: str) -> list[FoundCard]:
    """Cards of all releases, by number, a part of the subject, the line or the release."""
    with workshop.database.transaction() as session:
        sheets = [workshop.sheet(session, release.key) for release in list_releases(session)]
    return find_cards(sheets, find, MOST_FOUND)


def import_items(
    database: Database, lines: Sequence[ItemLine], today: date, progress: Callable[[int], None] = lambda rows: None
) -> int:
    """What was there before the books began: known bases against opening equity, unknown ones stay unknown. C-16.

    All rows or none; ``progress`` is told the rows so far. Raises InputError with every fault, by row.
    """
    if not lines:
        raise InputError.at("file", "has no rows")
    if len(lines) > MOST_ITEM_ROWS:
        raise InputError.at("file", f"has more than {MOST_ITEM_ROWS:,} rows")
    with database.transaction() as session:
        units = minor_units(load_preferences(session).currency)
        faults = [
            Fault("basis", f"must not be negative, with at most {units} decimals", None, line.row)
            for line in lines
            if line.basis is not None and (line.basis < 0 or line.basis != round(line.basis, units))
        ]
        if faults:
            raise InputError(faults[:200])
        ids = fresh_numbers(session, len(lines))
        things = [Thing(i, line.name, line.count, State.HELD, line.basis) for i, line in zip(ids, lines, strict=True)]
        said = f"there before: {len(lines)} rows"
        change = register.bring_in(things, today, said)
        entry = None if change.entry is None else add_entry(session, change.entry).id
        session.flush()
        for start in range(0, len(lines), _BATCH):
            part = slice(start, start + _BATCH)
            bring_rows(session, ItemRow, [_item(i, line) for i, line in zip(ids[part], lines[part], strict=True)])
            bring_rows(
                session,
                ItemEventRow,
                [
                    {
                        "item_id": thing.key, "day": today, "event": Event.OPENING_BALANCE.value, "text": said,
                        "state": thing.state.value, "basis": thing.basis, "entry_id": entry,
                    }
                    for thing in things[part]
                ],
            )  # fmt: skip
            progress(min(start + _BATCH, len(lines)))
        if len(lines) >= _MANY:
            count_anew(session)
        return len(lines)


def _item(number: int, line: ItemLine) -> dict[str, object]:
    """The plain row of a thing that was there before."""
    return {
        "id": number, "kind": "card" if line.count == 1 else "stack", "name": line.name, "release": line.release,
        "line": line.line, "number": line.number, "count": line.count, "state": State.HELD.value, "basis": line.basis,
        "value": line.value, "condition": line.condition, "serial": line.serial, "place": line.place,
        "acquired_on": line.acquired_on, "note": line.note, "gift": False, "never_for_sale": line.never_for_sale,
        "version": 1,
    }  # fmt: skip


def all_items(database: Database, wanted: ItemFilter) -> list[ItemRow]:
    """Every item that a filter lists, for a file."""
    with database.transaction() as session:
        return list(session.scalars(select(ItemRow).where(*_conditions(wanted)).order_by(ItemRow.id)))


def list_filters(database: Database) -> list[SavedFilterRow]:
    """Filters that the owner keeps by name."""
    with database.transaction() as session:
        return list(session.scalars(select(SavedFilterRow).order_by(SavedFilterRow.name)))


def save_filter(database: Database, name: str, query: Mapping[str, Any]) -> None:
    """Keep a filter under a name, in place of one of the same name. Raises InputError."""
    if not name.strip():
        raise InputError.at("name", "give it a name")
    with database.transaction() as session:
        row = _filter(session, name.strip()) or SavedFilterRow(name=name.strip())
        row.query = dict(query)
        session.add(row)


def remove_filter(database: Database, name: str) -> None:
    """Forget a filter. Raises Conflict if there is none of that name."""
    with database.transaction() as session:
        row = _filter(session, name)
        if row is None:
            raise Conflict("there is no such filter")
        session.delete(row)


def _filter(session: Session, name: str) -> SavedFilterRow | None:
    return session.scalar(select(SavedFilterRow).where(SavedFilterRow.name == name))
