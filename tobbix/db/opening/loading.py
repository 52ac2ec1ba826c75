"""What is asked of openings by those who come after."""

from collections.abc import Iterable

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import DocumentState
from tobbix.db.holdings.documents import DocumentRow
from tobbix.db.opening.tables import SessionRow

ALIVE = (DocumentState.RUNNING, DocumentState.PAUSED)


def running_session(session: Session, items: Iterable[int]) -> int | None:
    """The session that one of some items is being opened in, running or put aside."""
    query = select(SessionRow.id).join(SessionRow.document).where(SessionRow.item_id.in_(list(items)))
    return session.scalar(query.where(DocumentRow.state.in_(ALIVE)).limit(1))


def session_once(session: Session, once: str) -> int | None:
    """The session that was begun by this text before."""
    return session.scalar(select(SessionRow.id).join(SessionRow.document).where(DocumentRow.once == once))


def session_of(session: Session, document: int) -> int | None:
    """The session that a document is of."""
    return session.scalar(select(SessionRow.id).where(SessionRow.document_id == document))


def waiting_sessions(session: Session) -> int:
    """How many sessions are not finished."""
    query = select(func.count()).select_from(SessionRow).join(SessionRow.document)
    return session.scalar(query.where(DocumentRow.state.in_(ALIVE))) or 0


def finished_sessions(session: Session, format_id: int) -> list[SessionRow]:
    """The finished sessions of a format."""
    query = select(SessionRow).join(SessionRow.document).where(SessionRow.format_id == format_id)
    return list(session.scalars(query.where(DocumentRow.state == DocumentState.DONE.value).order_by(SessionRow.id)))
