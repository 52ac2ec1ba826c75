"""Tables of products.

A *card* is an entry of a line's checklist; a *version* is that card as one line prints it (a parallel takes the cards
of another line). A price is not a column of either: it is an observation of a version, or of a sealed format, with
its date and source. The last recorded observation is the owner's current word; the earlier ones stay.
"""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Numeric,
    String,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table

_PRICE = Numeric(16, 6)


def _child(parent: str) -> Any:
    """A required foreign key that goes with its parent."""
    return mapped_column(ForeignKey(f"{parent}.id", ondelete="CASCADE"), index=True)


class ReleaseRow(Table):
    __tablename__ = "release"
    __table_args__ = (
        CheckConstraint("revision > 0", name="revision"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    key: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(200))
    series: Mapped[str | None] = mapped_column(String(200))
    year: Mapped[int]
    publisher: Mapped[str] = mapped_column(String(200))
    currency: Mapped[str] = mapped_column(String(3))
    priced_on: Mapped[date]
    revision: Mapped[int]
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class FormatRow(Table):
    __tablename__ = "format"
    __table_args__ = (
        UniqueConstraint("release_id", "key"),
        CheckConstraint("boxes_per_case > 0", name="boxes_per_case"),
        CheckConstraint("usable >= 0 and usable <= 1", name="usable"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = _child("release")
    key: Mapped[str] = mapped_column(String(64))
    position: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    channel: Mapped[str | None] = mapped_column(String(200))
    boxes_per_case: Mapped[int | None]
    usable: Mapped[Decimal] = mapped_column(Numeric(7, 6))


class PackKindRow(Table):
    __tablename__ = "pack_kind"
    __table_args__ = (
        UniqueConstraint("format_id", "key"),
        CheckConstraint("count > 0 and cards > 0", name="not_empty"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    format_id: Mapped[int] = _child("format")
    key: Mapped[str] = mapped_column(String(64))
    position: Mapped[int]
    count: Mapped[int]
    cards: Mapped[int]


class LineRow(Table):
    __tablename__ = "line"
    __table_args__ = (
        UniqueConstraint("release_id", "key"),
        CheckConstraint("kind in ('base', 'insert', 'parallel', 'autograph', 'relic')", name="kind"),
        CheckConstraint("print_run > 0", name="print_run"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = _child("release")
    key: Mapped[str] = mapped_column(String(64))
    position: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    kind: Mapped[str] = mapped_column(String(20))
    print_run: Mapped[int | None]
    redemption: Mapped[bool]
    cards_of_id: Mapped[int | None] = mapped_column(ForeignKey("line.id", ondelete="CASCADE"), index=True)
    whole_checklist: Mapped[bool]
    price_multiple: Mapped[Decimal | None] = mapped_column(_PRICE)
    price_floor: Mapped[Decimal | None] = mapped_column(_PRICE)
    every_format: Mapped[bool]


class LineFormatRow(Table):
    """A base line fills the slots of a format (``present``), or another line is said not to be in it."""

    __tablename__ = "line_format"

    line_id: Mapped[int] = mapped_column(ForeignKey("line.id", ondelete="CASCADE"), primary_key=True)
    format_id: Mapped[int] = mapped_column(ForeignKey("format.id", ondelete="CASCADE"), primary_key=True, index=True)
    position: Mapped[int]
    present: Mapped[bool]


class OddsRow(Table):
    __tablename__ = "odds"
    __table_args__ = (
        UniqueConstraint("line_id", "format_id", "pack_kind_id", postgresql_nulls_not_distinct=True),
        CheckConstraint("basis in ('average', 'guaranteed', 'unstated')", name="basis"),
        CheckConstraint("per in ('pack', 'box', 'case')", name="per"),
        CheckConstraint("number > 0", name="number"),
        CheckConstraint(
            "(basis = 'unstated') = (number is null) and (number is null) = (per is null) "
            "and (number is null) = (one_in is null)",
            name="statement",
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = _child("line")
    format_id: Mapped[int] = _child("format")
    pack_kind_id: Mapped[int | None] = mapped_column(ForeignKey("pack_kind.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    one_in: Mapped[bool | None]
    number: Mapped[Decimal | None] = mapped_column(Numeric(16, 6))
    per: Mapped[str | None] = mapped_column(String(10))
    basis: Mapped[str] = mapped_column(String(20))


class GuaranteeRow(Table):
    __tablename__ = "guarantee"
    __table_args__ = (
        CheckConstraint("count > 0", name="count"),
        CheckConstraint("per in ('box', 'case')", name="per"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    format_id: Mapped[int] = _child("format")
    pack_kind_id: Mapped[int | None] = mapped_column(ForeignKey("pack_kind.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    count: Mapped[int]
    per: Mapped[str] = mapped_column(String(10))


class GuaranteeShareRow(Table):
    """A line's share of a guarantee's hits; null where the split is unknown."""

    __tablename__ = "guarantee_share"
    __table_args__ = (CheckConstraint("share >= 0 and share <= 1", name="share"),)

    guarantee_id: Mapped[int] = mapped_column(ForeignKey("guarantee.id", ondelete="CASCADE"), primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id", ondelete="CASCADE"), primary_key=True, index=True)
    position: Mapped[int]
    share: Mapped[Decimal | None] = mapped_column(Numeric(7, 6))


class CardRow(Table):
    __tablename__ = "card"
    __table_args__ = (UniqueConstraint("line_id", "number"), CheckConstraint("weight > 0", name="weight"))

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id", ondelete="CASCADE"))
    position: Mapped[int]
    number: Mapped[str] = mapped_column(String(200))
    subject: Mapped[str] = mapped_column(String(200))
    weight: Mapped[Decimal] = mapped_column(Numeric(16, 6))


class VersionRow(Table):
    __tablename__ = "version"
    __table_args__ = (UniqueConstraint("line_id", "card_id"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id", ondelete="CASCADE"))
    card_id: Mapped[int] = mapped_column(ForeignKey("card.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]


class ValueObservationRow(Table):
    """What was seen or said of a value on a day: a price, that it is unknown, or that it follows the parent's."""

    __tablename__ = "value_observation"
    __table_args__ = (
        CheckConstraint("num_nonnulls(version_id, format_id) = 1", name="one_thing"),
        CheckConstraint("says in ('price', 'unknown', 'follows')", name="says"),
        CheckConstraint("(says = 'price') = (amount is not null) and amount >= 0", name="amount"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
        Index("ix_value_observation_version_latest", "version_id", "id"),
        Index("ix_value_observation_format_latest", "format_id", "id"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int | None] = mapped_column(ForeignKey("version.id", ondelete="CASCADE"))
    format_id: Mapped[int | None] = mapped_column(ForeignKey("format.id", ondelete="CASCADE"))
    says: Mapped[str] = mapped_column(String(10))
    amount: Mapped[Decimal | None] = mapped_column(_PRICE)
    currency: Mapped[str] = mapped_column(String(3))
    observed_on: Mapped[date]
    source: Mapped[str] = mapped_column(String(200))
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ReleaseChangeRow(Table):
    """One change of a release: what it did, and what puts it back. An undone step stays, and the undoing is another."""

    __tablename__ = "release_change"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = _child("release")
    revision: Mapped[int]
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    what: Mapped[str] = mapped_column(String(500))
    back: Mapped[dict[str, Any]] = mapped_column(JSONB)
    undone: Mapped[bool] = mapped_column(default=False)


class AssumptionRow(Table):
    """What the owner assumes of a line where the sheet says nothing (a statement, a price, a share), or how much of it
    sells. It is not part of the sheet."""

    __tablename__ = "assumption"
    __table_args__ = (
        UniqueConstraint("line_id", "kind", "format_id", postgresql_nulls_not_distinct=True),
        CheckConstraint("kind in ('odds', 'price', 'split', 'sells')", name="kind"),
        CheckConstraint("(kind in ('odds', 'split')) = (format_id is not null)", name="format"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = _child("release")
    line_id: Mapped[int] = _child("line")
    format_id: Mapped[int | None] = mapped_column(ForeignKey("format.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    text: Mapped[str] = mapped_column(String(60))


class WantedRow(Table):
    """A version that the owner wants to have."""

    __tablename__ = "wanted"

    version_id: Mapped[int] = mapped_column(ForeignKey("version.id", ondelete="CASCADE"), primary_key=True)
    added_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ScratchRow(Table):
    """A release's scratch copy: what would be changed, in order, as the corrections that would do it."""

    __tablename__ = "scratch"

    release_id: Mapped[int] = mapped_column(ForeignKey("release.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int]
    edits: Mapped[list[Any]] = mapped_column(JSONB)


class SimulationRow(Table):
    """A long computation: what was asked, how far it is, and what came out. Equal questions share one row."""

    __tablename__ = "simulation"
    __table_args__ = (
        CheckConstraint("state in ('waiting', 'running', 'done', 'cancelled', 'failed')", name="state"),
        CheckConstraint("done >= 0 and done <= total and total > 0", name="progress"),
        Index(
            "uq_simulation_alive",
            "fingerprint",
            unique=True,
            postgresql_where=text("state in ('waiting', 'running', 'done')"),
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = _child("release")
    revision: Mapped[int]
    kind: Mapped[str] = mapped_column(String(20))
    asked: Mapped[dict[str, Any]] = mapped_column(JSONB)
    fingerprint: Mapped[str] = mapped_column(String(64))
    seed: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(String(10))
    stop_asked: Mapped[bool]
    done: Mapped[int] = mapped_column(BigInteger)
    total: Mapped[int] = mapped_column(BigInteger)
    result: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    fault: Mapped[str | None] = mapped_column(String(500))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    finished_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
