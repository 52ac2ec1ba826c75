"""What is asked of openings by those who come after."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from tobbix.db.opening.tables import SessionRow

ALIVE = ("running", "paused")


def running_session(session: Session, item: int) -> int | None:
    """The session that an item is being opened in, running or put aside."""
    query = select(SessionRow.id).where(SessionRow.item_id == item, SessionRow.state.in_(ALIVE))
    return session.scalar(query.limit(1))
