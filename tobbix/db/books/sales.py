"""What was sold, with all by which sales are put together; documents as a list."""

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal

from sqlalchemy import text
from sqlalchemy.orm import Session

from tobbix.core.books.sales import LineSold, SalesBy
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import State

_SOLD = """
    select s.document_id, i.id, i.name, d.day, l.home, i.basis,
        i.state = :sold and s.document_id = (select max(x.document_id) from sale_line x where x.item_id = i.id),
        i.acquired_on,
        coalesce(w.name, s.way, 'by hand'), coalesce(p.name, ''), coalesce(pd.text, ''), coalesce(sd.text, ''),
        coalesce(concat_ws(' ', r.name, r.series, r.year), ''), coalesce(c.subject, ''),
        coalesce((select gd.text from submission_card k join document gd on gd.id = k.document_id
            where k.item_id = i.id order by k.document_id desc limit 1), ''),
        i.owner_id is null
    from sale_line l join sale_order s on s.document_id = l.document_id join document d on d.id = s.document_id
        join item i on i.id = l.item_id left join party p on p.id = d.party_id
        left join selling_way w on w.key = s.way left join purchase b on b.id = i.purchase_id
        left join document pd on pd.id = b.document_id left join opening_session o on o.id = i.session_id
        left join document sd on sd.id = o.document_id left join release r on r.id = i.release_id
        left join version v on v.id = i.version_id left join card c on c.id = v.card_id
    where d.state <> 'undone' and d.day between :first and :last order by d.day, s.document_id, l.position
"""
_BOOKED = """
    select e.document_id, g.account, sum(g.amount) from posting g join entry e on e.id = g.entry_id
    where e.document_id in (select s.document_id from sale_order s join document d on d.id = s.document_id
        where d.state <> 'undone' and d.day between :first and :last)
    group by e.document_id, g.account
"""


def lines_sold(session: Session, first: date, last: date) -> list[LineSold]:
    """Every thing of an order that stands, of some days."""
    found = []
    asked = {"first": first, "last": last, "sold": State.SOLD.value}
    for row in session.execute(text(_SOLD), asked):
        day: date = row[3]
        names = {
            SalesBy.WAY: row[8], SalesBy.BUYER: row[9], SalesBy.LOT: row[10], SalesBy.SESSION: row[11],
            SalesBy.SET: row[12], SalesBy.SUBJECT: row[13], SalesBy.SUBMISSION: row[14],
            SalesBy.MONTH: f"{day:%Y-%m}", SalesBy.YEAR: f"{day:%Y}",
        }  # fmt: skip
        found.append(LineSold(row[0], row[1], row[2], day, row[4], row[5], row[6], row[7], names, row[15]))
    return found


def booked_on_sales(session: Session, first: date, last: date) -> Mapping[int, Mapping[Account, Decimal]]:
    """What the documents of sales of some days booked on each account (money, debit positive)."""
    found: dict[int, dict[Account, Decimal]] = {}
    for document, account, amount in session.execute(text(_BOOKED), {"first": first, "last": last}):
        found.setdefault(document, {})[Account(account)] = amount
    return found


def minutes_by_document(session: Session, documents: Sequence[int]) -> dict[int, Decimal]:
    """The minutes that were logged on each of some documents."""
    query = text("select document_id, sum(minutes) from minutes where document_id = any(:of) group by document_id")
    return {row[0]: row[1] for row in session.execute(query, {"of": list(documents)})}


def list_documents(session: Session) -> list[tuple[int, str, date, str, str, str]]:
    """Every document: number, kind, day, party, state and words, by the day."""
    query = text(
        "select d.id, d.kind, d.day, coalesce(p.name, ''), d.state, d.text from document d "
        "left join party p on p.id = d.party_id order by d.day, d.id"
    )
    return [(*row,) for row in session.execute(query)]
