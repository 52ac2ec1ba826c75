"""Tables of opening: sessions with their pulls, weights, and redemptions."""

from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Numeric,
    String,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.ext.associationproxy import AssociationProxy, association_proxy
from sqlalchemy.orm import Mapped, column_property, mapped_column, relationship

from tobbix.db.base import Table
from tobbix.db.holdings.documents import DocumentRow
from tobbix.db.holdings.tables import card_number, format_key, line_key, release_of_format


class SessionRow(Table):
    """The opening of a box, some packs or several boxes: ``packs`` in all, ``gone`` opened by somebody else before.
    The share ``entertainment`` of what it costs is booked for a ``purpose``. Sessions of a format with the same
    ``case_name`` open boxes of one case."""

    __tablename__ = "opening_session"
    __table_args__ = (
        CheckConstraint("purpose in ('entertainment', 'gift', 'giveaway', 'publicity', 'donation')", name="purpose"),
        CheckConstraint("packs > 0 and boxes > 0 and current_pack between 1 and packs", name="packs"),
        CheckConstraint("entertainment >= 0 and entertainment <= 1 and trust >= 0 and trust <= 1", name="shares"),
        CheckConstraint("gone >= 0 and gone < packs", name="gone"),
        Index("ix_opening_session_case", "format_id", "case_name", postgresql_where=text("case_name is not null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), unique=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id", use_alter=True), index=True)
    format_id: Mapped[int] = mapped_column(ForeignKey("format.id"), index=True)
    boxes: Mapped[int]
    packs: Mapped[int]
    gone: Mapped[int] = mapped_column(default=0)
    gone_hits: Mapped[dict[str, int]] = mapped_column(JSONB, default=dict, server_default="{}")
    trust: Mapped[float] = mapped_column(default=1.0)
    stopped_hot: Mapped[bool] = mapped_column(default=False)
    current_pack: Mapped[int] = mapped_column(default=1)
    entertainment: Mapped[Decimal] = mapped_column(Numeric(5, 4), default=0)
    purpose: Mapped[str] = mapped_column(String(15), default="entertainment", server_default="entertainment")
    done_on: Mapped[date | None]
    case_name: Mapped[str | None] = mapped_column(String(60))
    document: Mapped[DocumentRow] = relationship(lazy="joined", innerjoin=True)
    version: AssociationProxy[int] = association_proxy("document", "version")
    state: AssociationProxy[str] = association_proxy("document", "state")
    started_on: AssociationProxy[date] = association_proxy("document", "day")
    note: AssociationProxy[str | None] = association_proxy("document", "note")
    release: Mapped[str] = column_property(release_of_format(format_id))
    format: Mapped[str] = column_property(format_key(format_id))


class PullRow(Table):
    """A card that came out of a pack; ``count`` of like cards, no version for the rest of a pack that is base."""

    __tablename__ = "pull"
    __table_args__ = (
        CheckConstraint("count > 0", name="count"),
        ForeignKeyConstraint(["version_id", "line_id"], ["version.id", "version.line_id"]),
        Index("uq_pull_once", "session_id", "once", unique=True),
        Index("ix_pull_alive", "session_id", "pack", postgresql_where=text("taken_back_at is null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    session_id: Mapped[int] = mapped_column(ForeignKey("opening_session.id", ondelete="CASCADE"))
    once: Mapped[str] = mapped_column(String(64))
    pack: Mapped[int]
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id"), index=True)
    version_id: Mapped[int | None] = mapped_column(BigInteger, index=True)
    count: Mapped[int] = mapped_column(default=1)
    serial: Mapped[str | None] = mapped_column(String(40))
    flaw: Mapped[str | None] = mapped_column(String(200))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    line: Mapped[str] = column_property(line_key(line_id))
    number: Mapped[str | None] = column_property(card_number(version_id))


class WeightRow(Table):
    """A box or pack that was weighed, and whether it held a hit, once it is known."""

    __tablename__ = "weight"
    __table_args__ = (
        CheckConstraint("unit in ('box', 'pack')", name="unit"),
        CheckConstraint("grams > 0", name="grams"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    format_id: Mapped[int] = mapped_column(ForeignKey("format.id"), index=True)
    unit: Mapped[str] = mapped_column(String(10))
    grams: Mapped[Decimal] = mapped_column(Numeric(10, 3))
    held_hit: Mapped[bool | None]
    day: Mapped[date]
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class RedemptionRow(Table):
    """A card that comes by post: its code, what there was to choose and what was, and when it was posted, is due and
    arrived; ``item_id`` the card in stock that it was exchanged for, whose cost it carries on."""

    __tablename__ = "redemption"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    name: Mapped[str] = mapped_column(String(200))
    code: Mapped[str] = mapped_column(String(100))
    choices: Mapped[str | None] = mapped_column(String(300))
    chosen: Mapped[str | None] = mapped_column(String(300))
    item_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"), index=True)
    posted_on: Mapped[date | None]
    due_on: Mapped[date | None]
    arrived_on: Mapped[date | None]
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
