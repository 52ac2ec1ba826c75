"""Sessions: begun with the passphrase, kept on the server, ended by the owner, by time or by a restore.

Failed sign-ins wait longer and longer. A browser in which the owner has signed in before is counted by itself, so that
strangers who guess make only strangers wait.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256
from secrets import token_urlsafe

from tobbix.core.base.errors import TobbixError
from tobbix.db.base import Database
from tobbix.db.installation.signing_in import end_sessions, end_stale_sessions, find_session, list_sessions, lock_wait
from tobbix.db.installation.tables import SignInRow
from tobbix.services.installation.owners import Owner, knows, owner_of

STRANGERS = "strangers"
FREE_FAILURES = 3  # before the first wait
LONGEST_WAIT = timedelta(seconds=60)
_SEEN_EVERY = timedelta(minutes=1)


@dataclass(frozen=True, slots=True)
class Limits:
    """How long a session lives without being used, and at most."""

    idle: timedelta = timedelta(hours=12)
    longest: timedelta = timedelta(days=14)


class MustWait(TobbixError):
    """Too many failed sign-ins: ``seconds`` to wait before the next one is looked at."""

    def __init__(self, seconds: int) -> None:
        self.seconds = seconds
        many = "a second" if seconds == 1 else f"{seconds} seconds"
        super().__init__(f"That was wrong several times. Wait {many}, then try again.")


def wait_after(failures: int) -> timedelta:
    """How long the next try has to wait after so many failures in a row."""
    if failures < FREE_FAILURES:
        return timedelta(0)
    return min(timedelta(seconds=2.0 ** min(failures - FREE_FAILURES, 20)), LONGEST_WAIT)


def sign_in(database: Database, passphrase: str, who: str, browser: str, now: datetime) -> str | None:
    """Begin a session; returns its token, or None if that is not the passphrase. ``who`` is counted by itself.

    Raises MustWait.
    """
    with database.transaction() as session:
        wait = lock_wait(session, who, now)
        if wait.until > now:
            raise MustWait(max(1, round((wait.until - now).total_seconds())))
        if not knows(database, passphrase):
            wait.failures += 1
            wait.until = now + wait_after(wait.failures)
            return None
        session.delete(wait)
        token = token_urlsafe(32)
        session.add(SignInRow(digest=_digest(token), began_at=now, seen_at=now, browser=browser[:200]))
        return token


def find_owner_of(database: Database, token: str, limits: Limits, now: datetime) -> Owner | None:
    """Whose session this is; None if it has ended."""
    with database.transaction() as session:
        row = find_session(session, _digest(token))
        if row is None:
            return None
        if now - row.seen_at > limits.idle or now - row.began_at > limits.longest:
            session.delete(row)
            return None
        if now - row.seen_at > _SEEN_EVERY:
            row.seen_at = now
        return owner_of(session)


def sign_out(database: Database, token: str) -> None:
    """End a session on the server."""
    with database.transaction() as session:
        row = find_session(session, _digest(token))
        if row is not None:
            session.delete(row)


@dataclass(frozen=True, slots=True)
class OpenSession:
    """A session that is open; ``is_this`` marks the one that asks."""

    began_at: datetime
    seen_at: datetime
    browser: str
    is_this: bool


def list_open(database: Database, token: str, limits: Limits, now: datetime) -> list[OpenSession]:
    """Every session that is open."""
    with database.transaction() as session:
        end_stale_sessions(session, now - limits.idle, now - limits.longest)
        mine = _digest(token)
        return [OpenSession(r.began_at, r.seen_at, r.browser, r.digest == mine) for r in list_sessions(session)]


def end_others(database: Database, token: str) -> None:
    """End every session but the one that asks."""
    with database.transaction() as session:
        end_sessions(session, but=_digest(token))


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()
