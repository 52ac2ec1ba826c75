"""Which orders a market has paid out, and what the others have open."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from sqlalchemy import delete, select, text

from tobbix.core.base.errors import NotFound
from tobbix.db.base import Session
from tobbix.db.holdings.documents import PartyRow
from tobbix.db.selling.tables import OrderRow, PayoutOrderRow

_OPEN = """
    select o.document_id, o.reference, d.day, d.text, sum(g.amount)
    from posting g join entry e on e.id = g.entry_id join sale_order o on o.document_id = e.document_id
        join document d on d.id = o.document_id
    where g.party_id = :party and g.account = 'receivable' and not exists (
        select from payout_order p join entry s on s.document_id = p.payout_id and s.event = 'settlement'
        where p.order_id = o.document_id and not exists (select from entry x where x.reverses_id = s.id))
    group by o.document_id, o.reference, d.day, d.text having sum(g.amount) <> 0
    order by d.day, o.document_id
"""


@dataclass(frozen=True, slots=True)
class OpenOrder:
    """An order that a market has not paid out: its number, and what it has open (money at home)."""

    document: int
    reference: str
    day: date
    text: str
    amount: Decimal


def find_market(session: Session, name: str) -> int:
    """A market that owed something once; nothing is made by asking. Raises NotFound."""
    found = session.scalar(select(PartyRow.id).where(PartyRow.name == name, PartyRow.roles.contains(["market"])))
    if found is None:
        raise NotFound(f"no sale was ever owed by {name[:60]}")
    return found


def open_orders(session: Session, party: int) -> list[OpenOrder]:
    """The orders that a market has not paid out, or whose payout was taken back, the oldest first."""
    return [OpenOrder(*row) for row in session.execute(text(_OPEN), {"party": party})]


def lock_orders(session: Session, orders: Sequence[int]) -> None:
    """Nobody else pays these out until this is done."""
    of = select(OrderRow.document_id).where(OrderRow.document_id.in_(orders)).order_by(OrderRow.document_id)
    session.execute(of.with_for_update()).all()


def mark_paid(session: Session, payout: int, orders: Sequence[int]) -> None:
    """Orders that were open are paid by a payout (its document); one that was taken back does not count any more."""
    session.execute(delete(PayoutOrderRow).where(PayoutOrderRow.order_id.in_(orders)))
    session.add_all(PayoutOrderRow(order_id=order, payout_id=payout) for order in orders)
    session.flush()
