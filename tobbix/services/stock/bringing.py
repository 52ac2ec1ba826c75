"""Bringing in what was there before the books began, from a list or typed."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import DocumentKind, Kind, State
from tobbix.core.products.naming import serial_fault
from tobbix.db.base import Database, Session
from tobbix.db.holdings.loading import imported_before
from tobbix.db.holdings.saving import add_document, add_entry, bring_events, bring_items, count_anew, fresh_numbers
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Identity, Naming, identify, print_runs
from tobbix.formats.item_lists import ItemLine
from tobbix.formats.limits import MOST_ITEM_ROWS
from tobbix.services.products.valuing import home_on, revalue_items, say_worth

_BATCH = 5_000
_MANY = 1_000


@dataclass(frozen=True, slots=True)
class Imported:
    """How many rows came in, and the entry by which that can be taken back."""

    rows: int
    entry: int


@dataclass(frozen=True, slots=True)
class ListSaid:
    """What is said of a list beside its rows: the ``faults`` that reading it found, whether names that nobody knows
    stay as ``words``, its ``mark``, by which it is known if it comes ``again``."""

    faults: Sequence[Fault] = ()
    words: bool = True
    mark: str | None = None
    again: bool = False


NOTHING_SAID = ListSaid()


def import_items(
    database: Database,
    lines: Sequence[ItemLine],
    today: date,
    progress: Callable[[int], None] = lambda rows: None,
    said: ListSaid = NOTHING_SAID,
) -> Imported:
    """What was there before the books began: known bases against opening equity, unknown ones stay unknown. C-16.

    All rows or none; ``progress`` is told the rows so far. Raises InputError with every fault, by row, and Conflict for
    a list that was brought in before and was not taken back.
    """
    if not lines and not said.faults:
        raise InputError.at("file", "has no rows")
    if len(lines) > MOST_ITEM_ROWS:
        raise InputError.at("file", f"has more than {MOST_ITEM_ROWS:,} rows")
    with database.transaction() as session:
        if said.mark is not None and not said.again:
            before = imported_before(session, said.mark)
            if before is not None:
                raise Conflict(f"this file was brought in on {before[0].isoformat()} already ({before[1]})")
        units = minor_units(load_preferences(session).currency)
        known = identify(session, {_naming(line) for line in lines})
        faults = [*said.faults, *_faults(session, lines, known, units, today, said.words)]
        if faults:
            raise InputError(sorted(faults, key=lambda fault: fault.row or 0)[:200])
        ids = fresh_numbers(session, len(lines))
        things = [
            Thing(i, line.name, line.count, State(line.state or State.HELD), line.basis, kind=_kind(line))
            for i, line in zip(ids, lines, strict=True)
        ]
        words = f"there before: {len(lines)} rows"
        document = add_document(session, DocumentKind.IMPORT, today, words, note=said.mark)
        entry = add_entry(session, register.bring_in(things, today, words).entry, document)
        for start in range(0, len(lines), _BATCH):
            part = slice(start, start + _BATCH)
            rows = [
                _item(thing, line, known[_naming(line)]) for thing, line in zip(things[part], lines[part], strict=True)
            ]
            bring_items(session, rows)
            bring_events(
                session,
                [
                    {
                        "item_id": thing.key, "day": today, "event": Event.OPENING_BALANCE.value, "text": words,
                        "state": thing.state.value, "count": thing.count, "basis": thing.basis, "entry_id": entry,
                    }
                    for thing in things[part]
                ],
            )  # fmt: skip
            progress(min(start + _BATCH, len(lines)))
        home = home_on(session, today)
        worths = [(i, line.value) for i, line in zip(ids, lines, strict=True) if line.value is not None]
        say_worth(session, home, worths, today)
        revalue_items(session, home, ids)
        if len(lines) >= _MANY:
            count_anew(session)
        return Imported(len(lines), entry)


def _faults(
    session: Session,
    lines: Sequence[ItemLine],
    known: Mapping[Naming, Identity],
    units: int,
    today: date,
    words: bool,
) -> Iterator[Fault]:
    """What is wrong with rows by what is known here: each by its row and column."""
    runs = print_runs(session, {i.line_id for i in known.values() if i.line_id is not None})
    for line in lines:
        identity = known[_naming(line)]
        if line.basis is not None and (line.basis < 0 or line.basis != round(line.basis, units)):
            yield Fault("basis", f"must not be negative, with at most {units} decimals", None, line.row)
        if line.acquired_on is not None and line.acquired_on > today:
            yield Fault("acquired_on", "is in the future", None, line.row)
        if line.serial is not None and identity.line_id is not None:
            fault = serial_fault(*runs[identity.line_id], line.serial)
            if fault is not None:
                yield Fault("serial", fault, None, line.row)
        if not words:
            yield from _unknown(line, identity)


def _unknown(line: ItemLine, identity: Identity) -> Iterator[Fault]:
    """The first of the names that nobody here knows."""
    for field, text, found in (
        ("release", line.release, identity.release_id),
        ("format", line.format, identity.format_id),
        ("line", line.line, identity.line_id),
        ("number", line.number if line.line else None, identity.version_id),
    ):
        if text is not None and found is None:
            yield Fault(field, f"“{text[:60]}” is not known here; correct it, or bring it in as words", None, line.row)
            return


def _naming(line: ItemLine) -> Naming:
    return Naming(line.release, line.format, line.line, line.number, line.variant or "")


def _kind(line: ItemLine) -> Kind:
    if line.kind is not None:
        return Kind(line.kind)
    return Kind.SEALED if line.format else Kind.CARD if line.count == 1 else Kind.STACK


def _item(thing: Thing, line: ItemLine, identity: Identity) -> dict[str, object]:
    """The plain row of a thing that was there before."""
    return {
        "id": thing.key, "kind": thing.kind.value, "name": line.name,
        **identity.columns(), "count": line.count, "state": thing.state.value, "basis": line.basis,
        "condition": line.condition, "serial": line.serial, "place": line.place,
        "acquired_on": line.acquired_on, "note": line.note, "gift": False, "never_for_sale": line.never_for_sale,
        "version": 1,
    }  # fmt: skip
