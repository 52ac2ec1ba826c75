"""Purchases out of the store."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.buying.purchase import Bought, Purchase
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.documents import Booked, Document
from tobbix.core.holdings.states import DocumentState, State
from tobbix.db.buying.tables import PurchaseRow
from tobbix.db.holdings.documents import ChargeRow, DocumentRow
from tobbix.db.holdings.loading import (
    IS_TAKEN_BACK,
    among,
    load_charges,
    load_document,
    load_parcels,
    to_booked,
)
from tobbix.db.holdings.tables import EntryRow, ItemEventRow, ItemRow


def find_purchase(session: Session, number: int, version: int | None = None) -> Document:
    """The document of a purchase, locked. Raises NotFound, or Conflict if it was changed since ``version``, or taken
    back."""
    row = session.get(PurchaseRow, number)
    if row is None:
        raise NotFound("there is no such purchase")
    found = load_document(session, row.document_id, version)
    if version is not None and found.state is DocumentState.UNDONE:
        raise Conflict("this purchase was taken back")
    return found


def purchase_of(session: Session, document: int) -> int | None:
    """The purchase that a document is of."""
    return session.scalar(select(PurchaseRow.id).where(PurchaseRow.document_id == document))


def purchase_once(session: Session, once: str) -> int | None:
    """The purchase that was made by this text before."""
    query = select(PurchaseRow.id).join(PurchaseRow.document).where(DocumentRow.once == once)
    return session.scalar(query)


def meant_for_fun(session: Session, number: int | None) -> Decimal:
    """The share of a purchase that was meant as entertainment; 0 without one."""
    found = None if number is None else session.scalar(
        select(PurchaseRow.entertainment).where(PurchaseRow.id == number)
    )  # fmt: skip
    return Decimal(0) if found is None else found


def load_purchase(session: Session, number: int) -> Purchase:
    """One purchase, with all that was booked of what it brought. Raises NotFound."""
    row = session.get(PurchaseRow, number)
    if row is None:
        raise NotFound("there is no such purchase")
    return _load(session, [row], of_things=True)[0]


def name_purchases(session: Session) -> list[tuple[int, str, date]]:
    """Every purchase that stands: number, words and day, the newest first."""
    query = select(PurchaseRow.id, DocumentRow.text, DocumentRow.day).join(PurchaseRow.document)
    query = query.where(DocumentRow.state != DocumentState.UNDONE.value).order_by(DocumentRow.day.desc())
    return [(number, said, day) for number, said, day in session.execute(query)]


def list_purchases(session: Session) -> list[Purchase]:
    """All purchases, the newest first, in a few queries however many they are."""
    query = select(PurchaseRow).join(PurchaseRow.document).order_by(DocumentRow.day.desc(), PurchaseRow.id.desc())
    return _load(session, list(session.scalars(query)))


def _load(session: Session, rows: Sequence[PurchaseRow], of_things: bool = False) -> list[Purchase]:
    documents = [row.document_id for row in rows]
    charges, parcels = load_charges(session, documents), load_parcels(session, documents)
    numbers = [row.id for row in rows]
    things: dict[int, list[Bought]] = {}
    bought = select(ItemRow).where(among(ItemRow.purchase_id, numbers), ItemRow.session_id.is_(None))
    for i in session.scalars(bought.order_by(ItemRow.id)):
        things.setdefault(i.purchase_id or 0, []).append(
            Bought(
                i.id, i.version, i.kind, i.name, i.count, State(i.state), i.basis, i.value, i.fixed, i.gift, i.weight,
                i.release, i.format,
            )
        )  # fmt: skip
    methods = {
        document: Method(method or Method.VALUE)
        for document, method in session.execute(
            select(EntryRow.document_id, EntryRow.method)
            .ext(distinct_on(EntryRow.document_id))
            .where(among(EntryRow.document_id, documents), EntryRow.method.is_not(None))
            .order_by(EntryRow.document_id, IS_TAKEN_BACK, EntryRow.id.desc())
        )
    }
    history = _history(session, documents, numbers[0] if of_things else None)
    return [
        Purchase(
            row.id, row.document_id, d.version, d.text, d.party, d.day, DocumentState(d.state), methods[d.id],
            row.entertainment, d.note, tuple(charges.get(d.id, ())), tuple(things.get(row.id, ())), parcels.get(d.id),
            tuple(history.get(d.id, ())),
        )
        for row in rows
        for d in [row.document]
    ]  # fmt: skip


def _history(session: Session, documents: Sequence[int], purchase: int | None) -> dict[int, list[Booked]]:
    """What was booked of documents; of one ``purchase`` also what was booked of its things elsewhere."""
    which: Any = among(EntryRow.document_id, documents)
    if purchase is not None:
        touched = select(ItemEventRow.entry_id).join(ItemRow, ItemRow.id == ItemEventRow.item_id)
        which |= EntryRow.id.in_(touched.where(ItemRow.purchase_id == purchase))
    found: dict[int, list[Booked]] = {}
    for row, taken_back in session.execute(select(EntryRow, IS_TAKEN_BACK).where(which).order_by(EntryRow.id)):
        key = row.document_id if purchase is None else documents[0]
        found.setdefault(key, []).append(to_booked(row, taken_back))
    return found


def spent_on_purchases(session: Session, first: date, after: date) -> list[tuple[int, str, date, Decimal]]:
    """What was paid for purchases in a span of days: number, words, first day, sum (money at home)."""
    query = (
        select(PurchaseRow.id, DocumentRow.text, func.min(ChargeRow.day), func.sum(ChargeRow.home))
        .join(PurchaseRow.document)
        .join(ChargeRow, ChargeRow.document_id == DocumentRow.id)
        .join(EntryRow, EntryRow.id == ChargeRow.entry_id)
        .where(DocumentRow.state != DocumentState.UNDONE.value, ~IS_TAKEN_BACK)
        .where(ChargeRow.day >= first, ChargeRow.day < after)
        .group_by(PurchaseRow.id, DocumentRow.text)
    )
    return [(number, said, day, home) for number, said, day, home in session.execute(query)]
