"""The target list: what is planned, what was bought of it, and the owner's price bands."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Numeric,
    String,
    delete,
    func,
    select,
    text,
)
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.buying.targets import BANDS, Band, Bought, Target
from tobbix.core.holdings.states import HELD_STATES
from tobbix.db.base import Table
from tobbix.db.holdings.tables import ItemRow

_MONEY = Numeric(16, 3)


class TargetRow(Table):
    """A card that is aimed at, in a state, for at most so much; and the copy that was bought."""

    __tablename__ = "target"
    __table_args__ = (
        CheckConstraint("planned > 0", name="planned"),
        CheckConstraint("num_nulls(bought_state, bought_on, all_in) in (0, 3) and all_in >= 0", name="bought"),
        CheckConstraint("all_in is not null or num_nonnulls(comp_low, comp_middle, comp_high) = 0", name="comps"),
        Index("ix_target_version_id", "version_id", postgresql_where=text("version_id is not null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int | None] = mapped_column(ForeignKey("version.id"))
    name: Mapped[str] = mapped_column(String(300))
    state: Mapped[str] = mapped_column(String(60))
    planned: Mapped[Decimal] = mapped_column(_MONEY)
    note: Mapped[str | None] = mapped_column(String(500))
    version: Mapped[int] = mapped_column(default=1)
    bought_state: Mapped[str | None] = mapped_column(String(60))
    bought_on: Mapped[date | None]
    all_in: Mapped[Decimal | None] = mapped_column(_MONEY)
    comp_low: Mapped[Decimal | None] = mapped_column(_MONEY)
    comp_middle: Mapped[Decimal | None] = mapped_column(_MONEY)
    comp_high: Mapped[Decimal | None] = mapped_column(_MONEY)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class TargetBandRow(Table):
    """A price band of the list: cards planned at less than ``under``, the last without end."""

    __tablename__ = "target_band"

    position: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    name: Mapped[str] = mapped_column(String(40))
    under: Mapped[Decimal | None] = mapped_column(_MONEY)


@dataclass(frozen=True, slots=True)
class StoredTarget:
    """A card of the list with its number, the version of what is said, the card that it is (None: in words only) and a
    note."""

    number: int
    version: int
    card: int | None
    target: Target
    note: str | None


def list_targets(session: Session) -> list[StoredTarget]:
    """The whole list, in its order."""
    query = select(TargetRow).where(TargetRow.removed_at.is_(None)).order_by(TargetRow.id)
    return [_stored(row) for row in session.scalars(query)]


def still_wanted(session: Session, versions: Sequence[int]) -> dict[int, tuple[Decimal, ...]]:
    """Up to how much each of some versions is wanted on the list, by its places there that are not bought (money)."""
    query = select(TargetRow.version_id, TargetRow.planned).where(
        TargetRow.version_id.in_(versions), TargetRow.removed_at.is_(None), TargetRow.bought_on.is_(None)
    )
    found: dict[int, tuple[Decimal, ...]] = {}
    for version, planned in session.execute(query.order_by(TargetRow.id)):
        assert version is not None  # it is one of those that were asked
        found[version] = (*found.get(version, ()), planned)
    return found


def _stored(row: TargetRow) -> StoredTarget:
    bought = None
    if row.bought_state is not None and row.bought_on is not None and row.all_in is not None:
        bought = Bought(row.bought_state, row.bought_on, row.all_in, row.comp_low, row.comp_middle, row.comp_high)
    return StoredTarget(row.id, row.version, row.version_id, Target(row.name, row.state, row.planned, bought), row.note)


def put_target(
    session: Session, number: int | None, version: int, card: int | None, said: Target, note: str | None
) -> int:
    """Add a card to the list (``number`` None), or change the one that was seen at ``version``. Raises NotFound,
    Conflict."""
    row = TargetRow(version=0) if number is None else _find(session, number)
    if number is not None and row.version != version:
        raise Conflict("this card of the list was changed meanwhile; look again, then retry")
    bought = said.bought
    row.version_id, row.name, row.state, row.planned, row.note = card, said.name, said.state, said.planned, note
    row.bought_state = None if bought is None else bought.state
    row.bought_on = None if bought is None else bought.on
    row.all_in = None if bought is None else bought.all_in
    row.comp_low = None if bought is None else bought.low
    row.comp_middle = None if bought is None else bought.middle
    row.comp_high = None if bought is None else bought.high
    row.version += 1
    session.add(row)
    session.flush()
    return row.id


def mark_target(session: Session, number: int, removed_at: datetime | None) -> None:
    """Take a card off the list, or with None put it back. Raises NotFound."""
    _find(session, number).removed_at = removed_at


def _find(session: Session, number: int) -> TargetRow:
    row = session.get(TargetRow, number, with_for_update=True)
    if row is None:
        raise NotFound("this card is not on the list")
    return row


def held_of(session: Session, versions: Sequence[int]) -> dict[int, int]:
    """How many of each of some versions are held."""
    query = (
        select(ItemRow.version_id, func.sum(ItemRow.count))
        .where(ItemRow.version_id.in_(versions), ItemRow.state.in_([state.value for state in HELD_STATES]))
        .group_by(ItemRow.version_id)
    )
    return {version: int(count) for version, count in session.execute(query) if version is not None}


def load_bands(session: Session) -> tuple[Band, ...]:
    """The owner's price bands, or the usual ones."""
    rows = session.scalars(select(TargetBandRow).order_by(TargetBandRow.position)).all()
    return tuple(Band(row.name, row.under) for row in rows) or BANDS


def save_bands(session: Session, bands: Sequence[Band]) -> None:
    """Keep price bands."""
    session.execute(delete(TargetBandRow))
    session.add_all(TargetBandRow(position=at, name=band.name, under=band.under) for at, band in enumerate(bands))
