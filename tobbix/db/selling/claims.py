"""Claims in the store."""

from datetime import date
from decimal import Decimal

from sqlalchemy import text

from tobbix.core.base.errors import Conflict
from tobbix.core.selling.claims import Claim, ClaimState
from tobbix.db.base import Session
from tobbix.db.selling.tables import ClaimRow


def find_claim(session: Session, document: int) -> Claim | None:
    """The claim of a document's parcel, if one was filed."""
    row = session.get(ClaimRow, document)
    return None if row is None else Claim(
        row.document_id, row.version, row.filed_on, row.amount, row.words, ClaimState(row.state)
    )  # fmt: skip


def put_claim(
    session: Session, document: int, version: int, state: ClaimState, day: date, amount: Decimal, words: str
) -> None:  # fmt: skip
    """Keep a claim as it stands now. Raises Conflict if it was changed since ``version`` (0: there was none)."""
    row = session.get(ClaimRow, document, with_for_update=True)
    if (0 if row is None else row.version) != version:
        raise Conflict("this claim was changed meanwhile; look again, then retry")
    row = row or ClaimRow(document_id=document, version=0, filed_on=day)
    row.version, row.state, row.amount, row.words = row.version + 1, state.value, amount, words
    session.add(row)
    session.flush()


def drop_claim(session: Session, document: int) -> None:
    """There is no claim after all."""
    row = session.get(ClaimRow, document)
    if row is not None:
        session.delete(row)
        session.flush()


_RECORD = """
    select o.post ->> 'class', count(*), count(*) filter (where c.state is not null)
    from sale_order o join document d on d.id = o.document_id left join claim c on c.document_id = o.document_id
    where d.state in ('done', 'disputed', 'returned') and o.post ->> 'class' is not null
    group by 1
"""
_DAYS = """
    select o.post ->> 'class', (o.post ->> 'days')::int, p.received_on - p.sent_on
    from sale_order o join parcel p on p.document_id = o.document_id
    where p.direction = 'out' and p.sent_on is not null and p.received_on is not null and o.post ->> 'class' is not null
"""


def parcels_by_class(session: Session) -> dict[str, tuple[int, int]]:
    """How many parcels of each class came to an end, and of how many there was a claim."""
    return {name: (count, lost) for name, count, lost in session.execute(text(_RECORD))}


def days_by_class(session: Session) -> list[tuple[str, int | None, int]]:
    """Of each parcel that arrived: its class, the days promised (None: none were), the days it took."""
    return [(name, promised, took) for name, promised, took in session.execute(text(_DAYS))]
