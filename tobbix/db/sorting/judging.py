"""Flaws marked on things, and the owner's tables for judging them, in the store."""

from collections.abc import Sequence
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.sorting.tables import FlawRow, JudgingTableRow


def load_flaws(session: Session, item: int) -> list[Flaw]:
    """The flaws of a thing, in the order in which they were marked."""
    query = select(FlawRow).where(FlawRow.item_id == item).order_by(FlawRow.id)
    return [to_flaw(row) for row in session.scalars(query)]


def to_flaw(row: FlawRow) -> Flaw:
    """A flaw as it is stored."""
    return Flaw(FlawKind(row.kind), Side(row.side), Size(row.size), row.x, row.y)


def flaws_of(session: Session, items: Sequence[int]) -> dict[int, list[Flaw]]:
    """The flaws of each of some things that have any."""
    found: dict[int, list[Flaw]] = {}
    for row in session.scalars(select(FlawRow).where(FlawRow.item_id.in_(items)).order_by(FlawRow.id)):
        found.setdefault(row.item_id, []).append(to_flaw(row))
    return found


def put_flaws(session: Session, item: int, flaws: Sequence[Flaw]) -> None:
    """Mark these, in place of what was marked."""
    session.execute(delete(FlawRow).where(FlawRow.item_id == item))
    for it in flaws:
        session.add(FlawRow(item_id=item, kind=it.kind.value, side=it.side.value, size=it.size.value, x=it.x, y=it.y))
        session.flush()  # one by one, so that their order is kept


def count_flaws(session: Session, release: int) -> list[tuple[FlawKind, int]]:
    """On how many things of a release each kind of flaw was marked, the most first."""
    query = (
        select(FlawRow.kind, func.count(func.distinct(FlawRow.item_id)))
        .join(ItemRow, ItemRow.id == FlawRow.item_id)
        .where(ItemRow.release_id == release)
        .group_by(FlawRow.kind)
        .order_by(func.count(func.distinct(FlawRow.item_id)).desc(), FlawRow.kind)
    )
    return [(FlawKind(kind), int(count)) for kind, count in session.execute(query)]


def load_table(session: Session, name: str) -> tuple[Any, int]:
    """A table that the owner judges by, and its version; None and 0 where the one that ships holds."""
    row = session.get(JudgingTableRow, name)
    return (None, 0) if row is None else (row.content, row.version)


def save_table(session: Session, name: str, content: Any, version: int) -> int:
    """Judge by another table; None: by the one that ships. Raises Conflict."""
    row = session.get(JudgingTableRow, name, with_for_update=True) or JudgingTableRow(name=name, version=0)
    if row.version != version:
        raise Conflict("this table was changed meanwhile; look again, then retry")
    row.version, row.content = row.version + 1, content
    session.add(row)
    session.flush()
    return row.version
