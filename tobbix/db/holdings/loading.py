"""Things, documents and entries out of the store."""

from collections.abc import Iterable, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from sqlalchemy import ARRAY, BigInteger, ColumnElement, and_, any_, column, exists, func, literal, select, table
from sqlalchemy.orm import Session, aliased

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.documents import Booked, Charge, Document, ItemEvent, Label, Parcel, ParcelSeen, Photo, Side
from tobbix.core.holdings.history import History, Mark
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.ledger import HELD, OWED, Account, Entry, Event, Posting
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import HELD_STATES, ChargeKind, DocumentKind, DocumentState, Kind, ParcelState, State
from tobbix.db.holdings.documents import (
    ChargeRow,
    DocumentRow,
    LabelRow,
    ParcelItemRow,
    ParcelRow,
    PartyRow,
    PhotoRow,
)
from tobbix.db.holdings.tables import EntryRow, ItemEventRow, ItemRow, PostingRow


def to_item(row: ItemRow) -> Item:
    """The core's value of an item."""
    same = {name: getattr(row, name) for name in _SAME}
    return Item(
        number=row.id, kind=Kind(row.kind), state=State(row.state), card=row.number, owner=row.owner_id,
        purchase=row.purchase_id, session=row.session_id, parent=row.parent_id, **same,
    )  # fmt: skip


_SAME = (
    "version", "name", "count", "basis", "value", "release", "format", "line", "variant", "release_id", "format_id",
    "line_id", "version_id", "gift", "condition", "serial", "place", "never_for_sale", "acquired_on", "note",
    "packs_gone", "hits_gone", "trust",
)  # fmt: skip


def to_thing(row: ItemRow) -> Thing:
    """An item as the register has it."""
    return Thing(
        row.id, row.name, row.count, State(row.state), row.basis, row.value, Kind(row.kind), row.owner_id, row.gift
    )


def find_item(session: Session, number: int, version: int | None = None, lock: bool = True) -> Item:
    """An item, locked unless it is only read. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.get(ItemRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such item")
    if version is not None and row.version != version:
        raise Conflict("this was changed meanwhile; look again, then retry")
    return to_item(row)


def among(numbered: Any, numbers: Iterable[int]) -> ColumnElement[bool]:
    """Whether a column is one of some numbers, in one parameter however many they are."""
    found: ColumnElement[bool] = numbered == any_(literal(list(numbers), ARRAY(BigInteger)))
    return found


def load_things(session: Session, numbers: Sequence[int]) -> list[Thing]:
    """Things by their numbers, in that order, locked, that something is to be done with. Raises NotFound, or Conflict
    if one of them is being opened."""
    query = select(ItemRow).where(among(ItemRow.id, numbers)).order_by(ItemRow.id).with_for_update(of=ItemRow)
    found = {row.id: to_thing(row) for row in session.scalars(query)}
    if found.keys() != set(numbers):
        raise NotFound("there is no such item")
    refuse_opened(session, numbers)
    return [found[number] for number in numbers]


# Sessions are of a later room; here only what they hold is read.
_session = table("opening_session", column("id"), column("item_id"), column("document_id"))


def refuse_opened(session: Session, numbers: Iterable[int]) -> None:
    """Raises Conflict if one of these things is held by a session that is running or put aside."""
    query = (
        select(_session.c.id, ItemRow.name)
        .select_from(_session)
        .join(ItemRow, ItemRow.id == _session.c.item_id)
        .join(DocumentRow, DocumentRow.id == _session.c.document_id)
        .where(among(_session.c.item_id, numbers), DocumentRow.state.in_(("running", "paused")))
        .limit(1)
    )
    found = session.execute(query).first()
    if found is not None:
        raise Conflict(f"{found.name} is being opened; finish session {found.id} or take it back first")


def things_of_purchase(
    session: Session, purchase: int, states: Iterable[State], with_pulls: bool = False
) -> list[Thing]:
    """What a purchase brought that is in one of some states, by number, locked; ``with_pulls`` also what came out."""
    query = select(ItemRow).where(ItemRow.purchase_id == purchase, ItemRow.state.in_([s.value for s in states]))
    if not with_pulls:
        query = query.where(ItemRow.session_id.is_(None))
    return [to_thing(row) for row in session.scalars(query.order_by(ItemRow.id).with_for_update(of=ItemRow))]


def opened_of(session: Session, things: Sequence[int]) -> dict[int, int]:
    """What each of some cards came out of: the sealed thing that its session opened, by the card's number."""
    query = select(ItemRow.id, _session.c.item_id).join(_session, _session.c.id == ItemRow.session_id)
    return dict(session.execute(query.where(among(ItemRow.id, things))).all())


def things_of_session(session: Session, number: int) -> list[Thing]:
    """What came out of a session and is held with a known cost, by number, locked."""
    query = select(ItemRow).where(ItemRow.session_id == number, ItemRow.basis.is_not(None))
    query = query.where(ItemRow.state.in_([s.value for s in HELD_STATES]))
    return [to_thing(row) for row in session.scalars(query.order_by(ItemRow.id).with_for_update(of=ItemRow))]


def differing_words(session: Session, numbers: Sequence[int]) -> list[str]:
    """In what things differ, so that they are not like things; empty if they are."""
    columns = [getattr(ItemRow, name) for name in _ALIKE]
    rows = session.execute(select(*columns).where(among(ItemRow.id, numbers))).all()
    return [name for place, name in enumerate(_ALIKE.values()) if len({row[place] for row in rows}) > 1]


_ALIKE = {
    "kind": "kind", "release_id": "release", "format_id": "format", "line_id": "line", "version_id": "card",
    "release_text": "release", "format_text": "format", "line_text": "line", "number_text": "number",
    "variant_text": "variant", "name": "name", "condition": "condition", "serial": "serial number",
    "owner_id": "owner", "eye_appeal": "eye appeal", "packs_gone": "packs that are gone",
}  # fmt: skip


def things_of_parcel(session: Session, document: int) -> list[int]:
    """The numbers of what went out in a document's parcels, by number."""
    query = (
        select(ParcelItemRow.item_id)
        .join(ParcelRow, ParcelRow.id == ParcelItemRow.parcel_id)
        .where(ParcelRow.document_id == document, ParcelRow.direction == "out")
    )
    return list(session.scalars(query.order_by(ParcelItemRow.item_id)))


def touched_by(session: Session, document: int) -> list[int]:
    """The numbers of the things that entries of a document touched."""
    query = select(ItemEventRow.item_id).join(EntryRow, EntryRow.id == ItemEventRow.entry_id)
    return list(session.scalars(query.where(EntryRow.document_id == document).distinct()))


def cards_of(session: Session, numbers: Sequence[int]) -> dict[int, tuple[str | None, str | None]]:
    """The line and the number of the card that things are, by their numbers."""
    query = select(ItemRow.id, ItemRow.line, ItemRow.number).where(among(ItemRow.id, numbers))
    return {item: (line, number) for item, line, number in session.execute(query)}


_reversal = aliased(EntryRow)
IS_TAKEN_BACK = exists().where(_reversal.reverses_id == EntryRow.id)


def load_document(session: Session, number: int, version: int | None = None) -> Document:
    """A document, locked. Raises NotFound, or Conflict if it was changed since ``version``, or taken back then."""
    row = session.get(DocumentRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such document")
    if version is not None and row.version != version:
        raise Conflict("this was changed meanwhile; look again, then retry")
    return to_document(row)


def to_document(row: DocumentRow) -> Document:
    return Document(
        row.id, DocumentKind(row.kind), row.day, DocumentState(row.state), row.version, row.text, row.party, row.note
    )


def load_entries(session: Session, document: int | None = None, newest: int | None = None) -> list[tuple[int, Entry]]:
    """Entries in the order they were made: all, those of one document, or the ``newest`` so many."""
    query = select(EntryRow).order_by(EntryRow.id)
    if newest is not None:
        query = query.where(EntryRow.id.in_(select(EntryRow.id).order_by(EntryRow.id.desc()).limit(newest)))
    if document is not None:
        query = query.where(EntryRow.document_id == document)
    return _with_lines(session, list(session.scalars(query)), document is None and newest is None)


def _with_lines(session: Session, rows: Sequence[EntryRow], every: bool = False) -> list[tuple[int, Entry]]:
    p = PostingRow  # by columns: an object for each row takes three times as long
    postings = select(p.entry_id, p.account, p.amount, p.purse, p.original, p.currency, p.rate, p.party_id)
    postings = postings.order_by(p.id)
    if not every:
        postings = postings.where(among(p.entry_id, [row.id for row in rows]))
    accounts = {account.value: account for account in Account}
    lines: dict[int, list[Posting]] = {}
    for entry, account, amount, purse, original, currency, rate, party in session.execute(postings):
        line = Posting(accounts[account], amount, purse, original, currency, rate, party)
        lines.setdefault(entry, []).append(line)
    return [(row.id, Entry(row.day, Event(row.event), row.text, tuple(lines.get(row.id, ())))) for row in rows]


def load_entry(session: Session, number: int) -> tuple[int, Entry, bool]:
    """An entry with its document's number, and whether it was taken back; its document is locked. Raises NotFound."""
    row = session.get(EntryRow, number)
    if row is None:
        raise NotFound("there is no such entry")
    session.get(DocumentRow, row.document_id, with_for_update=True)
    gone = session.scalar(select(_reversal.id).where(_reversal.reverses_id == number)) is not None
    return row.document_id, _with_lines(session, [row])[0][1], gone


def is_anything_booked(session: Session) -> bool:
    """Whether there is any entry."""
    return session.scalar(select(EntryRow.id).limit(1)) is not None


def imported_before(session: Session, mark: str) -> tuple[date, str] | None:
    """The day and the words of an import that stands and carries a mark."""
    query = select(DocumentRow.day, DocumentRow.text).where(
        DocumentRow.kind == DocumentKind.IMPORT.value, DocumentRow.note == mark,
        DocumentRow.state != DocumentState.UNDONE.value,
    )  # fmt: skip
    row = session.execute(query.order_by(DocumentRow.id.desc()).limit(1)).first()
    return None if row is None else (row[0], row[1])


def standing_entries(session: Session, document: int) -> list[tuple[int, str]]:
    """What was booked of a document and was not taken back, the newest first: number and words."""
    query = select(EntryRow.id, EntryRow.text).where(EntryRow.document_id == document, EntryRow.reverses_id.is_(None))
    query = query.where(~IS_TAKEN_BACK, EntryRow.event != Event.UNDO.value)
    return [(number, said) for number, said in session.execute(query.order_by(EntryRow.id.desc()))]


def load_histories(session: Session, entry: int) -> list[History]:
    """What an entry touched, locked, with all marks on it that still stand."""
    items = select(ItemEventRow.item_id).where(ItemEventRow.entry_id == entry)
    columns = (ItemRow.id, ItemRow.name, ItemRow.count, ItemRow.state, ItemRow.basis, ItemRow.kind, ItemRow.owner_id,
               ItemRow.gift)  # fmt: skip
    wanted = select(*columns).where(ItemRow.id.in_(items)).order_by(ItemRow.id).with_for_update(of=ItemRow)
    rows = session.execute(wanted).all()
    marks: dict[int, list[Mark]] = {row[0]: [] for row in rows}
    query = (
        select(ItemEventRow.item_id, EntryRow.id, EntryRow.text, ItemEventRow.state, ItemEventRow.count,
               ItemEventRow.basis)
        .join(EntryRow, EntryRow.id == ItemEventRow.entry_id)
        .where(ItemEventRow.item_id.in_(items), EntryRow.reverses_id.is_(None), ~IS_TAKEN_BACK)
        .order_by(EntryRow.id, ItemEventRow.id)
    )  # fmt: skip
    for item, number, text, state, count, basis in session.execute(query):
        marks[item].append(Mark(number, text, State(state), count, basis))
    return [
        History(Thing(number, name, count, State(state), basis, None, Kind(kind), owner, gift), tuple(marks[number]))
        for number, name, count, state, basis, kind, owner, gift in rows
    ]


def item_history(session: Session, item: int) -> list[ItemEvent]:
    """All that happened to an item, in its order."""
    query = (
        select(ItemEventRow, and_(EntryRow.id.is_not(None), IS_TAKEN_BACK))
        .outerjoin(EntryRow, EntryRow.id == ItemEventRow.entry_id)
        .where(ItemEventRow.item_id == item)
        .order_by(ItemEventRow.id)
    )
    return [
        ItemEvent(e.day, e.event, e.text, e.state, e.count, e.basis, e.entry_id, bool(taken_back))
        for e, taken_back in session.execute(query)
    ]


def taken_back_among(session: Session, entries: Sequence[int]) -> set[int]:
    """Which of some entries were taken back."""
    query = select(EntryRow.reverses_id).where(among(EntryRow.reverses_id, entries))
    return {number for number in session.scalars(query) if number is not None}


def last_mark(session: Session, item: int) -> int | None:
    """The newest entry on an item that still stands."""
    query = (
        select(EntryRow.id)
        .join(ItemEventRow, ItemEventRow.entry_id == EntryRow.id)
        .where(ItemEventRow.item_id == item, EntryRow.reverses_id.is_(None), ~IS_TAKEN_BACK)
    )
    return session.scalar(query.order_by(EntryRow.id.desc()).limit(1))


def load_charges(session: Session, documents: Sequence[int]) -> dict[int, list[Charge]]:
    """The charges of documents whose entries stand."""
    query = (
        select(ChargeRow)
        .join(EntryRow, EntryRow.id == ChargeRow.entry_id)
        .where(among(ChargeRow.document_id, documents), ~IS_TAKEN_BACK)
        .order_by(ChargeRow.id)
    )
    found: dict[int, list[Charge]] = {}
    for c in session.scalars(query):
        charge = Charge(ChargeKind(c.kind), c.amount, c.currency, c.day, c.rate, c.home, c.purse)
        found.setdefault(c.document_id, []).append(charge)
    return found


def load_parcels(session: Session, documents: Sequence[int]) -> dict[int, Parcel]:
    """The first parcel of each document that has one."""
    query = select(ParcelRow).where(among(ParcelRow.document_id, documents)).order_by(ParcelRow.id.desc())
    return {
        p.document_id: Parcel(
            ParcelState(p.state), p.carrier, p.tracking, p.due_on, p.received_on, p.inspection, p.dispute
        )
        for p in session.scalars(query)
    }


def parcels_of(session: Session, document: int) -> list[ParcelSeen]:
    """The parcels of a document, those out first."""
    query = (
        select(ParcelRow, func.count(ParcelItemRow.item_id))
        .join(ParcelItemRow, ParcelItemRow.parcel_id == ParcelRow.id)
        .where(ParcelRow.document_id == document)
        .group_by(ParcelRow.id)
        .order_by(ParcelRow.direction.desc(), ParcelRow.id)
    )
    return [
        ParcelSeen(row.direction, things, row.tracking, row.sent_on, row.due_on, row.received_on)
        for row, things in session.execute(query)
    ]


def load_labels(session: Session, item: int) -> list[Label]:
    """The chain of labels of an item, those cracked off among them; what was taken back does not count."""
    removal = aliased(EntryRow)
    gone = exists().where(removal.id == LabelRow.removed_by_id, ~exists().where(_reversal.reverses_id == removal.id))
    query = (
        select(LabelRow, gone)
        .join(EntryRow, EntryRow.id == LabelRow.entry_id)
        .where(LabelRow.item_id == item, ~IS_TAKEN_BACK)
        .order_by(LabelRow.id)
    )
    return [
        Label(row.grader, row.grade, row.certificate, row.day, bool(removed), row.subgrades)
        for row, removed in session.execute(query)
    ]


def list_photos(session: Session, item: int) -> list[Photo]:
    """The photos of an item, without their files."""
    query = select(PhotoRow).where(PhotoRow.item_id == item).order_by(PhotoRow.id)
    return [Photo(row.id, Side(row.side), row.width, row.height, row.dpi) for row in session.scalars(query)]


def find_photo(session: Session, number: int) -> tuple[int, Photo]:
    """The item of a photo, and the photo without its file. Raises NotFound."""
    row = session.get(PhotoRow, number)
    if row is None:
        raise NotFound("there is no such photo")
    return row.item_id, Photo(row.id, Side(row.side), row.width, row.height, row.dpi)


def load_photo(session: Session, number: int, small: bool) -> tuple[str, bytes]:
    """The media type and the file of a photo, or its small picture. Raises NotFound."""
    column = PhotoRow.thumbnail if small else PhotoRow.content
    found = session.execute(select(PhotoRow.media, column).where(PhotoRow.id == number)).one_or_none()
    if found is None:
        raise NotFound("there is no such photo")
    return "image/jpeg" if small else found[0], found[1]


def to_booked(row: EntryRow, taken_back: bool) -> Booked:
    """An entry in words."""
    return Booked(row.id, row.day, row.event, row.text, taken_back, row.reverses_id)


def booked_of(session: Session, document: int) -> list[Booked]:
    """What was booked of a document, in the order it was made."""
    query = select(EntryRow, IS_TAKEN_BACK).where(EntryRow.document_id == document).order_by(EntryRow.id)
    return [to_booked(row, taken_back) for row, taken_back in session.execute(query)]


def party_names(session: Session) -> list[str]:
    """The names of all that things came from or went to."""
    return list(session.scalars(select(PartyRow.name).order_by(PartyRow.name)))


def account_balances(session: Session, party: int | None = None) -> dict[tuple[Account, str | None], Decimal]:
    """The balance of every account and purse (money, debit positive), or what stands open with one ``party``."""
    sums = select(PostingRow.account, PostingRow.purse, func.sum(PostingRow.amount))
    if party is not None:
        sums = sums.where(PostingRow.party_id == party, PostingRow.account.in_([a.value for a in OWED]))
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
