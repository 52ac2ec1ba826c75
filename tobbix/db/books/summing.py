"""What came of purchases and sessions and of each month, out of all that stands booked."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from sqlalchemy import and_, func, select
from sqlalchemy.orm import Session

from tobbix.core.books.reports import FUN
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import DocumentState, State
from tobbix.db.buying.tables import PurchaseRow
from tobbix.db.holdings.documents import ChargeRow, DocumentRow
from tobbix.db.holdings.loading import IS_TAKEN_BACK, among
from tobbix.db.holdings.tables import EntryRow, ItemEventRow, ItemRow, PostingRow
from tobbix.db.opening.tables import SessionRow

_STANDS = and_(~IS_TAKEN_BACK, EntryRow.reverses_id.is_(None))


@dataclass(frozen=True, slots=True)
class Spent:
    """What was paid for a lot and came back of it (money at home)."""

    number: int
    name: str
    day: date
    paid: Decimal
    back: Decimal


def spent_on_purchases(session: Session) -> list[Spent]:
    """Every purchase that stands, the newest first."""
    counts = EntryRow.id.is_not(None) & ~IS_TAKEN_BACK
    paid = func.sum(ChargeRow.home).filter(counts & (ChargeRow.kind != "refund"))
    back = func.sum(-ChargeRow.home).filter(counts & (ChargeRow.kind == "refund"))
    query = (
        select(PurchaseRow.id, DocumentRow.text, DocumentRow.day, func.coalesce(paid, 0), func.coalesce(back, 0))
        .join(PurchaseRow.document)
        .join(ChargeRow, ChargeRow.document_id == DocumentRow.id, isouter=True)
        .join(EntryRow, EntryRow.id == ChargeRow.entry_id, isouter=True)
        .where(DocumentRow.state != DocumentState.UNDONE.value)
        .group_by(PurchaseRow.id, DocumentRow.text, DocumentRow.day)
        .order_by(DocumentRow.day.desc(), PurchaseRow.id.desc())
    )
    return [
        Spent(number, name, day, Decimal(out), Decimal(came)) for number, name, day, out, came in session.execute(query)
    ]


@dataclass(frozen=True, slots=True)
class Gone:
    """What left a lot: booked for ``fun`` or another purpose, ``lost``, sent back with the money still ``awaited``."""

    fun: Decimal = Decimal(0)
    lost: Decimal = Decimal(0)
    awaited: Decimal = Decimal(0)


def gone_by(session: Session, origin: str) -> Mapping[int, Gone]:
    """What left each ``origin``, purchase or session, by its number (money)."""
    column = {"purchase": ItemRow.purchase_id, "session": ItemRow.session_id}[origin]
    of_state = {state: func.sum(ItemRow.basis).filter(ItemRow.state == state.value) for state in _LEFT}
    states = select(column, *of_state.values()).where(column.is_not(None), ItemRow.owner_id.is_(None)).group_by(column)
    found: dict[int, list[Decimal]] = {
        key or 0: [Decimal(amount or 0) for amount in amounts] for key, *amounts in session.execute(states)
    }
    whose = {"purchase": ItemRow.purchase_id, "session": SessionRow.id}[origin]
    fun = (
        select(whose, func.sum(PostingRow.amount))
        .join(EntryRow, EntryRow.id == PostingRow.entry_id)
        .join(SessionRow, SessionRow.document_id == EntryRow.document_id)
        .join(ItemRow, ItemRow.id == SessionRow.item_id)
        .where(PostingRow.account.in_([account.value for account in FUN]), _STANDS, whose.is_not(None))
        .group_by(whose)
    )
    for key, amount in session.execute(fun):
        found.setdefault(key or 0, [Decimal(0)] * 3)[0] += Decimal(amount)
    return {key: Gone(*amounts) for key, amounts in found.items()}


_LEFT = (State.GIVEN_AWAY, State.LOST, State.RETURNED)


def booked_by_month(session: Session) -> list[tuple[date, Account, bool, Decimal]]:
    """What stands booked on each account in each month: its first day, the account, whether it came in (debit), and how
    much (money)."""
    month = func.date_trunc("month", EntryRow.day)
    is_debit = PostingRow.amount > 0
    query = (
        select(month, PostingRow.account, is_debit, func.sum(PostingRow.amount))
        .join(EntryRow, EntryRow.id == PostingRow.entry_id)
        .where(_STANDS)
        .group_by(month, PostingRow.account, is_debit)
        .order_by(month)
    )
    return [
        (day.date(), Account(account), debit, Decimal(amount)) for day, account, debit, amount in session.execute(query)
    ]


def count_entries(session: Session) -> int:
    """How many entries there are, those taken back among them."""
    return session.scalar(select(func.count()).select_from(EntryRow)) or 0


def things_of_entries(session: Session, entries: Sequence[int]) -> Mapping[int, list[tuple[int, str]]]:
    """The things that entries are about: number and name, by the entry."""
    query = (
        select(ItemEventRow.entry_id, ItemRow.id, ItemRow.name)
        .join(ItemRow, ItemRow.id == ItemEventRow.item_id)
        .where(among(ItemEventRow.entry_id, entries))
        .order_by(ItemEventRow.id)
    )
    found: dict[int, list[tuple[int, str]]] = {}
    for entry, number, name in session.execute(query):
        found.setdefault(entry or 0, []).append((number, name))
    return found
