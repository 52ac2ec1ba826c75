"""When the owner looked last at how prices changed, and what held cards were worth then."""

from datetime import datetime

from sqlalchemy import CheckConstraint, DateTime, delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.holdings.states import HELD_STATES
from tobbix.db.base import Table
from tobbix.db.holdings.tables import ItemRow


class PriceLookRow(Table):
    """The owner's last look at how prices changed, in one row."""

    __tablename__ = "price_look"
    __table_args__ = (CheckConstraint("id = 1", name="only_one"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    seen_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))


def prices_seen_at(session: Session) -> datetime | None:
    """When the owner looked last; None before the first time."""
    return session.scalar(select(PriceLookRow.seen_at))


def mark_prices_seen(session: Session, at: datetime | None) -> None:
    """The owner looked at that time; None: never, as before the first."""
    if at is None:
        session.execute(delete(PriceLookRow))
        return
    new = insert(PriceLookRow).values(id=1, seen_at=at)
    session.execute(new.on_conflict_do_update(index_elements=["id"], set_={"seen_at": new.excluded.seen_at}))


def held_states(session: Session, usual: str) -> list[tuple[int, str, int]]:
    """The versions that are held, in which state (``usual``: of what says none), and how many."""
    state = func.coalesce(ItemRow.condition, usual)
    held = [it.value for it in HELD_STATES]
    query = (
        select(ItemRow.version_id, state, func.sum(ItemRow.count))
        .where(ItemRow.version_id.is_not(None), ItemRow.state.in_(held))
        .group_by(ItemRow.version_id, state)
    )
    return [(version, said, int(count)) for version, said, count in session.execute(query) if version is not None]
