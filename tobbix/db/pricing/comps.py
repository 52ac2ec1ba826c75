"""Comps and populations: what was seen of prices and of graded copies, appended and never overwritten."""

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Numeric,
    SmallInteger,
    String,
    UniqueConstraint,
    func,
    select,
    text,
    update,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.base.errors import NotFound
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.db.base import Table

_MONEY = Numeric(16, 3)


class CompRow(Table):
    """What was seen of a price of a version or a format (C-18); ``outside`` and its own id, so that fetching it twice
    doubles nothing; ``choice``: the owner keeps it, or leaves it out, whatever a flag says."""

    __tablename__ = "comp"
    __table_args__ = (
        UniqueConstraint("outside", "outside_id"),
        CheckConstraint("num_nonnulls(version_id, format_id) = 1", name="one_thing"),
        CheckConstraint("kind in ('sold', 'auction', 'own', 'ask', 'book_low', 'book_high')", name="kind"),
        CheckConstraint("price >= 0 and shipping >= 0 and tax >= 0 and lot > 0 and bids >= 0", name="amounts"),
        CheckConstraint("(grader is null) = (grade is null) and num_nonnulls(condition, grader) <= 1", name="state"),
        CheckConstraint("photo in ('copy', 'stock')", name="photo"),
        CheckConstraint("choice in ('keep', 'leave_out')", name="choice"),
        CheckConstraint("eye_appeal between -1 and 1", name="eye_appeal"),
        CheckConstraint("(outside is null) = (outside_id is null)", name="outside"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
        Index("ix_comp_version_id", "version_id", "day", postgresql_where=text("version_id is not null")),
        Index("ix_comp_format_id", "format_id", "day", postgresql_where=text("format_id is not null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int | None] = mapped_column(ForeignKey("version.id"))
    format_id: Mapped[int | None] = mapped_column(ForeignKey("format.id"))
    kind: Mapped[str] = mapped_column(String(10))
    day: Mapped[date]
    price: Mapped[Decimal] = mapped_column(_MONEY)
    shipping: Mapped[Decimal | None] = mapped_column(_MONEY)
    tax: Mapped[Decimal | None] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    condition: Mapped[str | None] = mapped_column(String(20))
    grader: Mapped[str | None] = mapped_column(String(40))
    grade: Mapped[str | None] = mapped_column(String(20))
    subgrades: Mapped[str | None] = mapped_column(String(60))
    market: Mapped[str | None] = mapped_column(String(60))
    bids: Mapped[int | None]
    photo: Mapped[str | None] = mapped_column(String(5))
    lot: Mapped[int]
    note: Mapped[str | None] = mapped_column(String(500))
    eye_appeal: Mapped[int | None] = mapped_column(SmallInteger)
    choice: Mapped[str | None] = mapped_column(String(10))
    outside: Mapped[str | None] = mapped_column(String(60))
    outside_id: Mapped[str | None] = mapped_column(String(100))
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PopulationRow(Table):
    """How many copies of a version a grader had given a grade to, on a day; growth shows in the rows."""

    __tablename__ = "population"
    __table_args__ = (
        UniqueConstraint("version_id", "grader", "grade", "day"),
        CheckConstraint("count >= 0", name="count"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int] = mapped_column(ForeignKey("version.id"))
    grader: Mapped[str] = mapped_column(String(40))
    grade: Mapped[str] = mapped_column(String(20))
    count: Mapped[int]
    day: Mapped[date]
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


_SAME = ("day", "price", "shipping", "tax", "currency", "condition", "grader", "grade", "subgrades", "market", "bids",
         "photo", "lot", "note", "eye_appeal", "outside", "outside_id")  # fmt: skip


def add_comps(session: Session, comps: Iterable[tuple[int, Comp]], column: str = "version_id") -> int:
    """Append what was seen of versions (or formats); what came from outside before is left as it is. Says how many
    are new."""
    rows = [{column: thing, "kind": comp.kind.value, **{n: getattr(comp, n) for n in _SAME}} for thing, comp in comps]
    if not rows:
        return 0
    statement = insert(CompRow).values(rows).on_conflict_do_nothing(index_elements=["outside", "outside_id"])
    return len(session.scalars(statement.returning(CompRow.id)).all())


def list_comps(session: Session, versions: Sequence[int]) -> list[tuple[int, int, Comp]]:
    """What was seen of versions, with its number and version, in the order of the days."""
    query = select(CompRow).where(CompRow.version_id.in_(versions)).order_by(CompRow.day, CompRow.id)
    return [
        (row.id, row.version_id or 0, Comp(CompKind(row.kind), **{n: getattr(row, n) for n in _SAME}))
        for row in session.scalars(query)
    ]


def comps_of(session: Session, version: int) -> list[tuple[int, Comp, str | None]]:
    """What was seen of a version, in the order of the days: number, comp, and whether the owner keeps it or leaves it
    out."""
    query = select(CompRow).where(CompRow.version_id == version).order_by(CompRow.day, CompRow.id)
    return [
        (row.id, Comp(CompKind(row.kind), **{n: getattr(row, n) for n in _SAME}), row.choice)
        for row in session.scalars(query)
    ]


def seen_lately(session: Session, most: int) -> list[tuple[int, int, date]]:
    """The versions of which prices were recorded last: version, how many there are of it, and the newest day."""
    query = (
        select(CompRow.version_id, func.count(), func.max(CompRow.day))
        .where(CompRow.version_id.is_not(None))
        .group_by(CompRow.version_id)
        .order_by(func.max(CompRow.id).desc())
        .limit(most)
    )
    return [(version or 0, int(count), day) for version, count, day in session.execute(query)]


def version_of_comp(session: Session, number: int) -> int:
    """The version that a comp is of. Raises NotFound."""
    version = session.scalar(select(CompRow.version_id).where(CompRow.id == number))
    if version is None:
        raise NotFound("there is no such price of a card")
    return version


def choose_comp(session: Session, number: int, choice: str | None) -> None:
    """The owner keeps what is flagged, or leaves a comp out; None: neither."""
    session.execute(update(CompRow).where(CompRow.id == number).values(choice=choice))
