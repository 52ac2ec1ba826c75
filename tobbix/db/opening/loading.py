"""Openings out of the store."""

from collections.abc import Collection, Iterable, Sequence
from datetime import date
from decimal import Decimal

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import DocumentState, Purpose, State
from tobbix.core.opening.records import ALIVE, Opening, Pull, Redemption, Weight
from tobbix.core.opening.session import Pulled
from tobbix.db.holdings.documents import DocumentRow
from tobbix.db.holdings.loading import to_item
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.opening.tables import PullRow, RedemptionRow, SessionRow, WeightRow
from tobbix.db.products.tables import CardRow, LineRow, VersionRow


def to_opening(row: SessionRow) -> Opening:
    """The core's value of a session."""
    return Opening(
        row.id, row.document_id, row.version, row.item_id, row.release, row.format, row.format_id, row.boxes, row.packs,
        row.gone, dict(row.gone_hits), row.trust, row.stopped_hot, row.current_pack, DocumentState(row.state),
        row.entertainment, Purpose(row.purpose), row.started_on, row.done_on, row.note, row.case_name,
    )  # fmt: skip


def find_session(session: Session, number: int, lock: bool = True) -> Opening:
    """A session. Raises NotFound."""
    row = session.get(SessionRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such session")
    return to_opening(row)


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


def list_sessions(session: Session) -> list[tuple[Opening, str]]:
    """All sessions with the name of what is opened, those that are running first."""
    order = (DocumentRow.state.in_(("done", "undone")), DocumentRow.day.desc(), SessionRow.id.desc())
    query = select(SessionRow, ItemRow.name).join(ItemRow, ItemRow.id == SessionRow.item_id)
    found = session.execute(query.join(SessionRow.document).order_by(*order))
    return [(to_opening(row), name) for row, name in found]


def finished_sessions(session: Session, format_id: int) -> list[Opening]:
    """The finished sessions of a format."""
    query = select(SessionRow).join(SessionRow.document).where(SessionRow.format_id == format_id)
    query = query.where(DocumentRow.state == DocumentState.DONE.value)
    return [to_opening(row) for row in session.scalars(query.order_by(SessionRow.id))]


def sessions_of_case(session: Session, one: Opening) -> list[Opening]:
    """The other sessions that open boxes of the same case."""
    if one.case_name is None:
        return []
    query = select(SessionRow).join(SessionRow.document).where(
        SessionRow.format_id == one.format_id, SessionRow.case_name == one.case_name, SessionRow.id != one.number,
        DocumentRow.state != DocumentState.UNDONE.value,
    )  # fmt: skip
    return [to_opening(row) for row in session.scalars(query.order_by(SessionRow.id))]


def finished_costs(session: Session, format_id: int | None = None) -> list[tuple[int, str, date, Decimal | None]]:
    """Every finished session, or those of a format: number, name, day and what was opened cost, the newest first."""
    query = (
        select(SessionRow.id, ItemRow.name, func.coalesce(SessionRow.done_on, DocumentRow.day), ItemRow.basis)
        .join(ItemRow, ItemRow.id == SessionRow.item_id)
        .join(SessionRow.document)
        .where(DocumentRow.state == DocumentState.DONE.value)
        .order_by(SessionRow.done_on.desc())
    )
    if format_id is not None:
        query = query.where(SessionRow.format_id == format_id)
    return [(number, name, day, basis) for number, name, day, basis in session.execute(query)]


def load_pulls(session: Session, *numbers: int) -> list[tuple[int, Pull]]:
    """What stands logged in sessions, in its order, each with its session."""
    query = (
        select(PullRow.session_id, PullRow.id, PullRow.once, PullRow.pack, LineRow.key, CardRow.number, PullRow.line_id,
               PullRow.version_id, PullRow.count, PullRow.serial, PullRow.flaw)
        .join(LineRow, LineRow.id == PullRow.line_id)
        .outerjoin(VersionRow, VersionRow.id == PullRow.version_id)
        .outerjoin(CardRow, CardRow.id == VersionRow.card_id)
        .where(PullRow.session_id.in_(numbers), PullRow.taken_back_at.is_(None))
        .order_by(PullRow.id)
    )  # fmt: skip
    return [(number, Pull(*pull)) for number, *pull in session.execute(query)]


def count_pulls(
    session: Session, numbers: Sequence[int], per_box: int, lines: Collection[str]
) -> list[tuple[int, Pulled]]:
    """What came out of sessions, added up by line, of some ``lines`` by the box too (as if all were in its first pack),
    each with its session."""
    box = case((LineRow.key.in_(lines), (PullRow.pack - 1) / per_box), else_=0)
    query = (
        select(PullRow.session_id, box, LineRow.key, func.sum(PullRow.count))
        .join(LineRow, LineRow.id == PullRow.line_id)
        .where(PullRow.session_id.in_(numbers), PullRow.taken_back_at.is_(None))
        .group_by(PullRow.session_id, box, LineRow.key)
    )
    return [
        (number, Pulled(at * per_box + 1, line, None, int(count))) for number, at, line, count in session.execute(query)
    ]


def is_logged(session: Session, number: int, once: str, is_mark: bool = False) -> bool:
    """Whether something was logged in a session by this text before, or by one that begins with it."""
    same = PullRow.once.startswith(once, autoescape=True) if is_mark else PullRow.once == once
    query = select(PullRow.id).where(PullRow.session_id == number, same)
    return session.scalar(query.limit(1)) is not None


def load_weights(session: Session, format_id: int, unit: str) -> list[Weight]:
    """What was weighed of a format, the newest first."""
    query = select(WeightRow).where(WeightRow.format_id == format_id, WeightRow.unit == unit)
    query = query.where(WeightRow.taken_back_at.is_(None)).order_by(WeightRow.id.desc())
    return [Weight(row.id, row.unit, row.grams, row.held_hit, row.day) for row in session.scalars(query)]


def to_redemption(row: RedemptionRow) -> Redemption:
    """The core's value of a redemption."""
    return Redemption(
        row.id, row.version, row.name, row.code, row.choices, row.chosen, row.item_id, row.posted_on, row.due_on,
        row.arrived_on,
    )  # fmt: skip


def list_redemptions(session: Session) -> list[Redemption]:
    """Cards that come by post: those that are still awaited first."""
    order = (RedemptionRow.arrived_on.is_not(None), RedemptionRow.due_on, RedemptionRow.id)
    query = select(RedemptionRow).where(RedemptionRow.taken_back_at.is_(None))
    return [to_redemption(row) for row in session.scalars(query.order_by(*order))]


def find_redemption(session: Session, number: int, version: int | None = None) -> Redemption:
    """A redemption, locked. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.get(RedemptionRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such redemption")
    if version is not None and row.version != version:
        raise Conflict("this was changed meanwhile; look again, then retry")
    return to_redemption(row)


def redeemable_items(session: Session) -> Sequence[Item]:
    """Cards in stock of a redemption line that no redemption is noted for."""
    lines = select(LineRow.id).where(LineRow.redemption)
    taken = select(RedemptionRow.item_id).where(
        RedemptionRow.item_id.is_not(None), RedemptionRow.taken_back_at.is_(None)
    )
    query = select(ItemRow).where(
        ItemRow.line_id.in_(lines), ItemRow.state == State.HELD.value, ItemRow.id.not_in(taken)
    )
    return [to_item(row) for row in session.scalars(query.order_by(ItemRow.id))]
