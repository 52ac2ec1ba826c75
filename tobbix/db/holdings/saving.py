"""Things, documents and entries into the store."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from psycopg.types.json import Jsonb
from sqlalchemy import ColumnDefault, delete, func, select, text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.documents import Charge
from tobbix.core.holdings.ledger import Entry, Event
from tobbix.core.holdings.register import Change
from tobbix.core.holdings.states import DocumentKind, DocumentState, State, follow
from tobbix.db.base import bring_rows
from tobbix.db.holdings.documents import (
    ChargeRow,
    DocumentRow,
    LabelRow,
    MinutesRow,
    ParcelItemRow,
    ParcelRow,
    PartyRow,
    PhotoRow,
    PredictionRow,
)
from tobbix.db.holdings.tables import EntryRow, HeldValueRow, ItemEventRow, ItemRow, PostingRow


def fresh_numbers(session: Session, count: int) -> list[int]:
    """Numbers for so many new items, for inserting them in bulk."""
    sequence = func.pg_get_serial_sequence(ItemRow.__tablename__, "id")
    return list(session.scalars(select(func.nextval(sequence)).select_from(func.generate_series(1, count))))


def count_anew(session: Session) -> None:
    """Let the database count the items: after many came in, searches would be planned as if they were few."""
    session.execute(text(f"analyze {ItemRow.__tablename__}, {HeldValueRow.__tablename__}"))


def change_words(session: Session, number: int, changes: Mapping[str, Any], day: date, more: Sequence[str] = ()) -> int:
    """Change what is said of an item that is locked, with a trace in its history; ``more`` was changed besides. Its
    version then."""
    row = session.get_one(ItemRow, number)
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
                basis=row.basis, count=row.count,
            )
        )  # fmt: skip
        session.flush()
    return row.version


def _which(row: ItemRow) -> str:
    """What an item is, by the keys that it goes by."""
    number = None if row.number is None else " ".join(filter(None, ("no.", row.number, row.variant)))
    return " of ".join(text for text in (number, row.line or row.format, row.release) if text) or "not said"


def _said(value: object) -> str:
    if value is None:
        return "not said"
    return str(value) if not isinstance(value, bool) else "yes" if value else "no"


def party_named(session: Session, name: str | None, role: str) -> int | None:
    """The party of this name, which has the role from now on; made if there is none. None without a name."""
    name = (name or "").strip()
    if not name:
        return None
    row = session.scalar(select(PartyRow).where(PartyRow.name == name).with_for_update())
    if row is None:
        row = PartyRow(name=name, roles=[])
        session.add(row)
    if role not in row.roles:
        row.roles = sorted({*row.roles, role})
    session.flush()
    return row.id


def document_once(session: Session, once: str) -> int | None:
    """The document that was made by this text before; until the transaction ends nobody else makes one by it."""
    session.execute(select(func.pg_advisory_xact_lock(func.hashtext(once))))
    return session.scalar(select(DocumentRow.id).where(DocumentRow.once == once))


def add_document(
    session: Session,
    kind: DocumentKind,
    day: date,
    said: str,
    party: int | None = None,
    state: DocumentState = DocumentState.DONE,
    note: str | None = None,
    once: str | None = None,
) -> int:
    """A new document; its number."""
    row = DocumentRow(
        kind=kind.value, day=day, party_id=party, state=state.value, text=said[:500], note=note, once=once
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row.id


def touch_document(session: Session, number: int, state: DocumentState | None = None, **words: Any) -> None:
    """A document is another version: of another state, or with other ``words`` (text, note, party_id, day). Raises
    Conflict for a state that may not follow."""
    row = session.get_one(DocumentRow, number)
    if state is not None and state.value != row.state:
        row.state = follow(DocumentKind(row.kind), DocumentState(row.state), state).value
    row.version += 1
    for name, value in words.items():
        setattr(row, name, value)
    session.flush()


def add_items(session: Session, rows: Sequence[Mapping[str, Any]]) -> list[int]:
    """New things; their numbers. They come to the register by the entry that brings them."""
    if not rows:
        return []
    ids = fresh_numbers(session, len(rows))
    _bring_items(session, [{**row, "id": number} for number, row in zip(ids, rows, strict=True)])
    return ids


def _bring_items(session: Session, rows: Sequence[Mapping[str, Any]]) -> None:
    session.flush()
    unsaid: dict[str, Any] = {name: None for row in rows for name in row}
    unsaid.update(_UNSAID, version=0, state=State.UNDONE.value)
    bring_rows(
        session, ItemRow,
        [{n: Jsonb(it) if isinstance(it, dict) else it for n, it in {**unsaid, **row}.items()} for row in rows],
    )  # fmt: skip


_UNSAID: dict[str, Any] = {
    column.name: column.default.arg
    for column in ItemRow.__table__.columns
    if isinstance(column.default, ColumnDefault) and column.default.is_scalar
}  # what stands in a column of which nothing is said


def change_items(session: Session, said: Mapping[int, Mapping[str, Any]]) -> None:
    """Change what is said of things, by number, beside what is booked of them."""
    for number, values in said.items():
        row = session.get_one(ItemRow, number)
        for name, value in values.items():
            setattr(row, name, value)
    session.flush()


def split_off(session: Session, number: int, count: int) -> int:
    """A new thing like another, out of it, of so many; its number. Its state and basis come by the entry."""
    row = session.get_one(ItemRow, number)
    return add_items(session, [{**{name: getattr(row, name) for name in _LIKE}, "count": count, "parent_id": row.id}])[
        0
    ]


_LIKE = (
    "kind", "name", "release_id", "format_id", "line_id", "version_id", "release_text", "format_text", "line_text",
    "number_text", "variant_text", "gift", "weight", "condition", "serial", "place", "never_for_sale", "acquired_on",
    "note", "purchase_id", "session_id", "owner_id", "eye_appeal",
)  # fmt: skip


def bring_items(session: Session, rows: Sequence[Mapping[str, object]]) -> None:
    """Many new things at once, with the numbers that were drawn for them."""
    bring_rows(session, ItemRow, rows)


def bring_events(session: Session, rows: Sequence[Mapping[str, object]]) -> None:
    """Many events of things at once."""
    bring_rows(session, ItemEventRow, rows)


def add_entry(
    session: Session, entry: Entry, document: int, reverses: int | None = None, method: Method | None = None
) -> int:
    """Append a balanced entry; its number."""
    row = EntryRow(
        day=entry.day, event=entry.event.value, text=entry.text[:500], document_id=document, reverses_id=reverses,
        method=None if method is None else method.value,
    )  # fmt: skip
    session.add(row)
    session.flush()
    if entry.lines:
        bring_rows(
            session, PostingRow,
            [
                {
                    "entry_id": row.id, "account": line.account.value, "purse": line.purse, "amount": line.amount,
                    "original": line.original, "currency": line.currency, "rate": line.rate, "party_id": line.party,
                }
                for line in entry.lines
            ],
        )  # fmt: skip
    return row.id


def bring_things(
    session: Session, rows: Mapping[int, Mapping[str, Any]], change: Change, document: int, method: Method | None = None
) -> int:
    """New things by the numbers that were drawn for them, as an event brings them, with its entry, in one step; the
    entry's number. (Thousands that are first brought and then changed would be written twice.)"""
    new = [
        {
            **rows[t.key], "id": t.key, "state": t.state.value, "count": t.count, "basis": t.basis, "version": 1,
        }
        for t in change.things
    ]  # fmt: skip
    _bring_items(session, new)
    entry = add_entry(session, change.entry, document, None, method)
    _bring_marks(session, change, entry)
    return entry


def keep_change(
    session: Session, change: Change, document: int, reverses: int | None = None, method: Method | None = None
) -> int:
    """Write what an event did to the things that it names, with its entry, which may say by which ``method`` it
    divided a cost; the entry's number."""
    entry = add_entry(session, change.entry, document, reverses, method)
    session.flush()
    if not change.things:
        return entry
    numbers = [t.key for t in change.things]
    session.execute(
        text(
            "update item set state = said.state, count = said.count, basis = said.basis, version = version + 1 from "
            "unnest(cast(:numbers as bigint[]), cast(:states as text[]), cast(:counts as int[]), "
            "cast(:bases as numeric[])) as said (id, state, count, basis) where item.id = said.id"
        ).bindparams(
            numbers=numbers, states=[t.state.value for t in change.things], counts=[t.count for t in change.things],
            bases=[t.basis for t in change.things],
        )
    )  # fmt: skip
    for number in numbers:  # what was read before is read anew
        row = session.identity_map.get(session.identity_key(ItemRow, number))
        if row is not None:
            session.expire(row)
    _bring_marks(session, change, entry)
    gone = [t.key for t in change.things if t.state is not State.HELD]
    if gone:
        session.execute(text(_OFFERED_NO_MORE), {"items": gone, "day": change.entry.day})
    return entry


# Whatever takes a thing away (sold elsewhere, opened, sent to a grader, lost) ends what offers it.
_OFFERED_NO_MORE = """
    with over as (
        update listing set state = 'ended', ended_on = greatest(:day, made_on), version = version + 1 where id in
            (select listing_id from listing_thing where is_open and item_id = any(:items)) returning id
    )
    update listing_thing set is_open = false where listing_id in (select id from over)
"""


def _bring_marks(session: Session, change: Change, entry: int) -> None:
    said = change.entry
    bring_rows(
        session, ItemEventRow,
        [
            {
                "item_id": t.key, "day": said.day, "event": said.event.value, "text": said.text[:500],
                "state": t.state.value, "count": t.count, "basis": t.basis, "entry_id": entry,
            }
            for t in change.things
        ],
    )  # fmt: skip


def add_charges(session: Session, document: int, entry: int, charges: Iterable[Charge]) -> None:
    """Parts of a document's bill that an entry booked."""
    session.add_all(
        ChargeRow(
            document_id=document, entry_id=entry, kind=c.kind.value, amount=c.amount, currency=c.currency, day=c.day,
            rate=c.rate, home=c.home, purse=c.purse,
        )
        for c in charges
    )  # fmt: skip
    session.flush()


def add_parcel(
    session: Session, document: int, direction: str, items: Sequence[int], received_on: date | None = None, **said: Any
) -> int:
    """A parcel of a document with things in it; its number. ``said``: carrier, tracking, sent_on, due_on."""
    carrier = party_named(session, said.pop("carrier", None), "carrier")
    state = "on_its_way" if received_on is None else "arrived"
    row = ParcelRow(
        document_id=document, direction=direction, state=state, carrier_id=carrier, received_on=received_on, **said
    )
    session.add(row)
    session.flush()
    bring_rows(session, ParcelItemRow, [{"parcel_id": row.id, "item_id": item} for item in items])
    return row.id


def forget_sending(session: Session, document: int) -> None:
    """Nothing went out of a document yet: its parcels out and what was expected then are gone."""
    out = select(ParcelRow.id).where(ParcelRow.document_id == document, ParcelRow.direction == "out")
    session.execute(delete(ParcelItemRow).where(ParcelItemRow.parcel_id.in_(out)))
    session.execute(delete(ParcelRow).where(ParcelRow.document_id == document, ParcelRow.direction == "out"))
    session.execute(delete(PredictionRow).where(PredictionRow.document_id == document))
    session.flush()


def forget_arrival(session: Session, document: int, entry: int) -> None:
    """What an entry says came back did not: its things lie in no parcel that arrived."""
    arrived = select(ParcelRow.id).where(ParcelRow.document_id == document, ParcelRow.direction == "in")
    touched = select(ItemEventRow.item_id).where(ItemEventRow.entry_id == entry)
    session.execute(
        delete(ParcelItemRow).where(ParcelItemRow.parcel_id.in_(arrived), ParcelItemRow.item_id.in_(touched))
    )
    filled = select(ParcelItemRow.parcel_id)
    session.execute(delete(ParcelRow).where(ParcelRow.id.in_(arrived), ParcelRow.id.not_in(filled)))
    session.flush()


def change_parcel(session: Session, document: int, direction: str, **said: Any) -> None:
    """Change what is said of a document's parcel in a direction: ``received_on``, ``carrier`` and the like."""
    query = select(ParcelRow).where(ParcelRow.document_id == document, ParcelRow.direction == direction)
    row = session.scalars(query.order_by(ParcelRow.id)).first()
    if row is None:
        return
    if "carrier" in said:
        row.carrier_id = party_named(session, said.pop("carrier"), "carrier")
    for name, value in said.items():
        setattr(row, name, value)
    if "received_on" in said:
        row.state = "on_its_way" if row.received_on is None else "arrived"
    session.flush()


def add_label(
    session: Session, item: int, grader: int, grade: str, day: date, entry: int, certificate: str | None = None,
    subgrades: Mapping[str, str] | None = None,
) -> None:  # fmt: skip
    """What a grader said of an item, booked by an entry."""
    session.add(
        LabelRow(
            item_id=item, grader_id=grader, grade=grade, certificate=certificate, day=day, entry_id=entry,
            subgrades=None if subgrades is None else dict(subgrades),
        )
    )  # fmt: skip
    session.flush()


def remove_label(session: Session, item: int, entry: int) -> None:
    """The label that an item carries was cracked off by an entry."""
    standing = select(EntryRow.reverses_id).where(EntryRow.reverses_id.is_not(None))
    query = select(LabelRow).where(
        LabelRow.item_id == item, LabelRow.entry_id.not_in(standing),
        LabelRow.removed_by_id.is_(None) | LabelRow.removed_by_id.in_(standing),
    )  # fmt: skip
    row = session.scalars(query.order_by(LabelRow.id.desc())).first()
    if row is not None:
        row.removed_by_id = entry
        session.flush()


def add_photo(
    session: Session, item: int, side: str, media: str, size: tuple[int, int], dpi: Decimal | None, content: bytes,
    thumbnail: bytes,
) -> int:  # fmt: skip
    """Keep a picture of an item; its number."""
    row = PhotoRow(
        item_id=item, side=side, media=media, width=size[0], height=size[1], dpi=dpi, content=content,
        thumbnail=thumbnail,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row.id


def remove_photo(session: Session, number: int) -> None:
    """Take a photo out. Raises NotFound."""
    row = session.get(PhotoRow, number)
    if row is None:
        raise NotFound("there is no such photo")
    session.delete(row)
    session.flush()


def log_minutes(session: Session, document: int, day: date, minutes: Decimal, what: str) -> None:
    """Time that a document took. Raises InputError."""
    if not 0 < minutes <= 100_000:
        raise InputError.at("minutes", "must be over 0")
    session.add(MinutesRow(document_id=document, day=day, minutes=minutes, what=what))
    session.flush()


def keep_prediction(session: Session, item: int, document: int, what: str, day: date, **said: Any) -> None:
    """What is expected of an item: ``estimate``, ``low`` and ``high``, or of a grade the ``chances``."""
    session.add(PredictionRow(item_id=item, document_id=document, what=what, day=day, **said))
    session.flush()
