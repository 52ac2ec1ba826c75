"""Sessions of the owner, and how long failed sign-ins have to wait."""

from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from tobbix.db.installation.tables import SignInRow, SignInWaitRow


def find_session(session: Session, digest: str) -> SignInRow | None:
    return session.scalar(select(SignInRow).where(SignInRow.digest == digest))


def list_sessions(session: Session) -> list[SignInRow]:
    """Those that are open, the last seen first."""
    return list(session.scalars(select(SignInRow).order_by(SignInRow.seen_at.desc(), SignInRow.id.desc())))


def end_sessions(session: Session, but: str | None = None) -> None:
    """End every session, or every one but that of a digest."""
    session.execute(delete(SignInRow).where(SignInRow.digest != but) if but else delete(SignInRow))


def end_stale_sessions(session: Session, seen_before: datetime, began_before: datetime) -> None:
    """End those that nobody used for long, and those that began too long ago."""
    session.execute(delete(SignInRow).where((SignInRow.seen_at < seen_before) | (SignInRow.began_at < began_before)))


def lock_wait(session: Session, who: str, now: datetime) -> SignInWaitRow:
    """The failures of one who signs in, held until the end of the transaction: others wait for their turn."""
    fresh = insert(SignInWaitRow).values(who=who, failures=0, until=now)
    session.execute(fresh.on_conflict_do_nothing())
    return session.scalars(select(SignInWaitRow).where(SignInWaitRow.who == who).with_for_update()).one()
