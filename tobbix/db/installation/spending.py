"""What was spent on product beside purchases, into the store and out of it."""

from datetime import UTC, date, datetime
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.db.installation.tables import SpendingRow


def list_spending(session: Session, first: date, after: date) -> list[tuple[int, date, Decimal, str]]:
    """What was spent in a span of days and stands, the newest first: number, day, amount (money), words."""
    query = (
        select(SpendingRow)
        .where(SpendingRow.taken_back_at.is_(None), SpendingRow.day >= first, SpendingRow.day < after)
        .order_by(SpendingRow.day.desc(), SpendingRow.id.desc())
    )
    return [(row.id, row.day, row.amount, row.what) for row in session.scalars(query)]


def is_anything_spent(session: Session) -> bool:
    """Whether anything was ever noted."""
    return session.scalar(select(SpendingRow.id).limit(1)) is not None


def keep_spending(session: Session, day: date, amount: Decimal, what: str, once: str) -> int:
    """Keep what was spent, once for the same text ``once``; its number."""
    session.execute(select(func.pg_advisory_xact_lock(func.hashtext(once))))
    known = session.scalar(select(SpendingRow.id).where(SpendingRow.once == once))
    if known is not None:
        return known
    row = SpendingRow(day=day, amount=amount, what=what, once=once)
    session.add(row)
    session.flush()
    return row.id


def mark_spending(session: Session, number: int, taken_back: bool) -> None:
    """What was spent is taken back, or there again. Raises NotFound."""
    row = session.get(SpendingRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such entry")
    row.taken_back_at = datetime.now(UTC) if taken_back else None
