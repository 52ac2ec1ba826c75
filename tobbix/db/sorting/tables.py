"""Tables of sorting: plans with their clocks, goals, flaws marked on things, and the owner's tables for judging."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Index, Numeric, String, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)


class SortingPlanRow(Table):
    """A hoard with the passes to go over it. ``item_id`` the collection that it is of; what is entered under it hangs
    on its document. ``expected`` what it was thought to be worth; ``shared_entry_id`` the entry that shared its cost
    out over what came of it."""

    __tablename__ = "sorting_plan"
    __table_args__ = (CheckConstraint('cards > 0 and "table" > 1 and box_holds > 0 and hourly >= 0', name="counts"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int]
    name: Mapped[str] = mapped_column(String(120))
    cards: Mapped[int]
    hourly: Mapped[Decimal] = mapped_column(Numeric(14, 4))
    table: Mapped[int]
    box_holds: Mapped[int]
    passes: Mapped[list[Any]] = mapped_column(JSONB)
    expected: Mapped[Decimal | None] = mapped_column(_MONEY)
    item_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"), index=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    shared_entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"))
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class SortingRunRow(Table):
    """The clock over one pass of a plan, at its ``place``; running until its cards and minutes are said."""

    __tablename__ = "sorting_run"
    __table_args__ = (
        CheckConstraint("num_nulls(cards, minutes) in (0, 2) and cards >= 0 and minutes >= 0", name="ended"),
        Index("uq_sorting_run_running", "plan_id", unique=True, postgresql_where=text("minutes is null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("sorting_plan.id"), index=True)
    place: Mapped[int]
    kind: Mapped[str] = mapped_column(String(10))
    cards: Mapped[int | None]
    minutes: Mapped[Decimal | None] = mapped_column(Numeric(10, 2))
    started_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))


class GoalRow(Table):
    """A set, a rainbow (the card of a number in every line that prints the line's cards), or ``slots`` of one's own;
    and what the whole sells for as one."""

    __tablename__ = "goal"
    __table_args__ = (
        CheckConstraint("kind in ('set', 'rainbow', 'slots')", name="kind"),
        CheckConstraint(
            "(kind = 'slots') = (line_id is null) and (kind = 'rainbow') = (number is not null) "
            "and (line_id is null) = (release_id is null)",
            name="of",
        ),
        CheckConstraint(
            "num_nulls(whole_price, whole_currency, whole_day) in (0, 3) and whole_price >= 0", name="whole"
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int]
    name: Mapped[str] = mapped_column(String(120))
    kind: Mapped[str] = mapped_column(String(10))
    release_id: Mapped[int | None] = mapped_column(ForeignKey("release.id"), index=True)
    line_id: Mapped[int | None] = mapped_column(ForeignKey("line.id"), index=True)
    number: Mapped[str | None] = mapped_column(String(200))
    least: Mapped[str | None] = mapped_column(String(60))
    slots: Mapped[list[Any]] = mapped_column(JSONB)
    whole_price: Mapped[Decimal | None] = mapped_column(_MONEY)
    whole_currency: Mapped[str | None] = mapped_column(String(3))
    whole_day: Mapped[date | None]
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class FlawRow(Table):
    """A flaw marked on a thing: where on which side (shares of width and height)."""

    __tablename__ = "flaw"
    __table_args__ = (
        CheckConstraint("x >= 0 and x <= 1 and y >= 0 and y <= 1", name="place"),
        CheckConstraint("side in ('front', 'back')", name="side"),
        CheckConstraint("size in ('small', 'medium', 'large')", name="size"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    side: Mapped[str] = mapped_column(String(5))
    size: Mapped[str] = mapped_column(String(6))
    x: Mapped[float]
    y: Mapped[float]


class JudgingTableRow(Table):
    """A table that the owner judges by, in place of the one that ships."""

    __tablename__ = "judging_table"

    name: Mapped[str] = mapped_column(String(20), primary_key=True)
    content: Mapped[Any] = mapped_column(JSONB)
    version: Mapped[int]
