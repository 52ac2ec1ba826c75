"""Openings into the store."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import update
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.core.holdings.states import DocumentState
from tobbix.core.opening.session import Pulled
from tobbix.db.holdings.saving import touch_document
from tobbix.db.opening.tables import PullRow, RedemptionRow, SessionRow, WeightRow


def add_session(session: Session, document: int, **said: Any) -> int:
    """A session that a document is of; its number."""
    row = SessionRow(document_id=document, **said)
    session.add(row)
    session.flush()
    return row.id


def change_session(session: Session, number: int, state: DocumentState | None = None, **said: Any) -> None:
    """A session is another version: in another state, or with other columns. Raises Conflict for a state that may not
    follow."""
    row = session.get_one(SessionRow, number)
    touch_document(session, row.document_id, state)
    for name, value in said.items():
        setattr(row, name, value)
    session.flush()


def add_pulls(session: Session, number: int, pulls: Iterable[tuple[str, int, int | None, Pulled]]) -> None:
    """Log cards in a session: by what text, which line and version, and what came."""
    session.add_all(
        PullRow(
            session_id=number, once=once, pack=pull.pack, line_id=line, version_id=version, count=pull.count,
            serial=pull.serial, flaw=pull.flaw,
        )
        for once, line, version, pull in pulls
    )  # fmt: skip
    session.flush()


def take_pulls_back(session: Session, numbers: Sequence[int]) -> None:
    """What was logged no longer counts; it stays on record."""
    session.execute(update(PullRow).where(PullRow.id.in_(numbers)).values(taken_back_at=datetime.now(UTC)))


def add_weight(session: Session, format_id: int, unit: str, grams: Decimal, held_hit: bool | None, day: date) -> None:
    """Keep a weight."""
    session.add(WeightRow(format_id=format_id, unit=unit, grams=grams, held_hit=held_hit, day=day))
    session.flush()


def correct_weight(session: Session, number: int, held: bool | None) -> None:
    """Say anew whether what was weighed held a hit. Raises NotFound."""
    row = session.get(WeightRow, number)
    if row is None:
        raise NotFound("there is no such weight")
    row.held_hit = held


def take_weight_back(session: Session, number: int, back: bool) -> None:
    """Take a weight back, or bring it in again. Raises NotFound."""
    row = session.get(WeightRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such weight")
    row.taken_back_at = datetime.now(UTC) if back else None


def put_redemption(session: Session, number: int | None, said: Mapping[str, Any]) -> int:
    """Note a redemption, or change one that is locked; its number."""
    row = RedemptionRow(version=0) if number is None else session.get_one(RedemptionRow, number)
    for name, value in said.items():
        setattr(row, name, value)
    row.version += 1
    session.add(row)
    session.flush()
    return row.id


def take_redemption_back(session: Session, number: int, back: bool) -> None:
    """Take a redemption that is locked back, or bring it in again."""
    put_redemption(session, number, {"taken_back_at": datetime.now(UTC) if back else None})
