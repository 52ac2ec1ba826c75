"""Acts that were sent with a key, and how they were answered: what is sent twice is done once."""

from datetime import timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from tobbix.db.installation.tables import SentRow

_KEPT = timedelta(days=3)  # nobody sends a lost answer's act again later than that


def find_first(session: Session, once: str, act: str) -> SentRow | None:
    """The row of an act that was carried out with this key; None if this is the first.

    A second transaction with the same key waits for the first.
    """
    session.execute(delete(SentRow).where(SentRow.made_at < func.now() - _KEPT))
    fresh = insert(SentRow).values(once=once, act=act).on_conflict_do_nothing().returning(SentRow.once)
    if session.scalar(fresh) is not None:
        return None
    return session.scalar(select(SentRow).where(SentRow.once == once))


def keep_answer(session: Session, once: str, status: int, answer: str) -> None:
    """How the act of this key was answered."""
    session.execute(update(SentRow).where(SentRow.once == once).values(status=status, answer=answer))
