"""Tables of products.

A *card* is an entry of a line's checklist; a *version* is that card as one line prints it (a parallel takes the cards
of another line), in its plain form or in a variant that the line does not say (an edition, a language, an error).
Formats, lines, cards and versions are never deleted. What has a ``position`` stands in the product sheet; what has none
is as far as seen, or, with ``gone_at``, was in the sheet before.

A price is not a column: it is a value of a version, or of a sealed format, with its day and source (see ``values``).
"""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Numeric,
    String,
    Text,
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
    """A release with its product sheet, or a stub: name and year, its checklist as far as seen."""

    __tablename__ = "release"
    __table_args__ = (
        CheckConstraint("revision > 0", name="revision"),
        CheckConstraint("price_revision > 0", name="price_revision"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
        CheckConstraint(
            "is_stub or (publisher is not null and currency is not null and priced_on is not null)", name="sheet"
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    key: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(200))
    series: Mapped[str | None] = mapped_column(String(200))
    year: Mapped[int]
    publisher: Mapped[str | None] = mapped_column(String(200))
    code: Mapped[str | None] = mapped_column(String(64))
    is_stub: Mapped[bool] = mapped_column(default=False)
    currency: Mapped[str | None] = mapped_column(String(3))
    priced_on: Mapped[date | None]
    revision: Mapped[int]
    price_revision: Mapped[int] = mapped_column(default=1)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class FormatRow(Table):
    """A sealed configuration; ``extras`` are fixed things in it that are no cards."""

    __tablename__ = "format"
    __table_args__ = (
        UniqueConstraint("release_id", "key"),
        UniqueConstraint("id", "release_id"),
        CheckConstraint("(position is null) = (gone_at is not null)", name="gone"),
        CheckConstraint("boxes_per_case > 0", name="boxes_per_case"),
        CheckConstraint("usable >= 0 and usable <= 1", name="usable"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = mapped_column(ForeignKey("release.id"), index=True)
    key: Mapped[str] = mapped_column(String(64))
    position: Mapped[int | None]
    gone_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    name: Mapped[str] = mapped_column(String(200))
    channel: Mapped[str | None] = mapped_column(String(200))
    boxes_per_case: Mapped[int | None]
    usable: Mapped[Decimal] = mapped_column(Numeric(7, 6))
    extras: Mapped[list[str]] = mapped_column(JSONB, default=list, server_default="[]")


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
        UniqueConstraint("id", "release_id"),
        CheckConstraint("position is null or (gone_at is null and kind is not null)", name="gone"),
        CheckConstraint("kind in ('base', 'insert', 'parallel', 'autograph', 'relic')", name="kind"),
        CheckConstraint("print_run > 0", name="print_run"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = mapped_column(ForeignKey("release.id"), index=True)
    key: Mapped[str] = mapped_column(String(64))
    position: Mapped[int | None]
    gone_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    name: Mapped[str] = mapped_column(String(200))
    kind: Mapped[str | None] = mapped_column(String(20))
    print_run: Mapped[int | None]
    redemption: Mapped[bool]
    cards_of_id: Mapped[int | None] = mapped_column(ForeignKey("line.id"), index=True)
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
    """An entry of a checklist. ``debut``: the first card of its subject, as far as that is known."""

    __tablename__ = "card"
    __table_args__ = (
        UniqueConstraint("line_id", "number"),
        CheckConstraint("weight > 0", name="weight"),
        CheckConstraint("position is null or gone_at is null", name="gone"),
        Index("ix_card_number", text("lower(number)")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id"))
    position: Mapped[int | None]
    gone_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    number: Mapped[str] = mapped_column(String(200))
    subject: Mapped[str] = mapped_column(String(200))
    weight: Mapped[Decimal] = mapped_column(Numeric(16, 6))
    debut: Mapped[bool | None]


class VersionRow(Table):
    """A card as a line prints it. ``search_text`` is what it is found by: number, subject, line, release."""

    __tablename__ = "version"
    __table_args__ = (
        UniqueConstraint("line_id", "card_id", "variant"),
        UniqueConstraint("id", "line_id"),
        CheckConstraint("position is null or (gone_at is null and variant = '')", name="gone"),
        Index(
            "ix_version_search_text", "search_text", postgresql_using="gin",
            postgresql_ops={"search_text": "gin_trgm_ops"},
        ),
    )  # fmt: skip

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id"))
    card_id: Mapped[int] = mapped_column(ForeignKey("card.id"), index=True)
    variant: Mapped[str] = mapped_column(String(60), default="")
    position: Mapped[int | None]
    gone_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    search_text: Mapped[str] = mapped_column(Text, default="", deferred=True)


class SubjectRow(Table):
    """Who or what cards show, over all releases; ``watched`` by the owner."""

    __tablename__ = "subject"
    __table_args__ = (Index("uq_subject_name", text("lower(name)"), unique=True),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    name: Mapped[str] = mapped_column(String(200))
    watched: Mapped[bool] = mapped_column(default=False)


class CardSubjectRow(Table):
    """A card shows a subject."""

    __tablename__ = "card_subject"

    card_id: Mapped[int] = mapped_column(ForeignKey("card.id"), primary_key=True)
    subject_id: Mapped[int] = mapped_column(ForeignKey("subject.id"), primary_key=True, index=True)
    position: Mapped[int]


class LineSizeRow(Table):
    """Size (mm), thickness (mm) and weight (g) of a line's cards, from a ``first`` number to a ``last`` if not all."""

    __tablename__ = "line_size"
    __table_args__ = (
        CheckConstraint("width > 0 and height > 0 and thickness > 0 and weight > 0", name="measures"),
        CheckConstraint("(first is null) = (last is null)", name="range"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    line_id: Mapped[int] = mapped_column(ForeignKey("line.id"), index=True)
    first: Mapped[str | None] = mapped_column(String(200))
    last: Mapped[str | None] = mapped_column(String(200))
    width: Mapped[Decimal] = mapped_column(Numeric(6, 2))
    height: Mapped[Decimal] = mapped_column(Numeric(6, 2))
    thickness: Mapped[Decimal | None] = mapped_column(Numeric(5, 3))
    weight: Mapped[Decimal | None] = mapped_column(Numeric(7, 3))


class ReleaseNoteRow(Table):
    """What is known of a release, one of its lines or one version: a fault, how to tell it, or anything else."""

    __tablename__ = "release_note"
    __table_args__ = (
        ForeignKeyConstraint(["line_id", "release_id"], ["line.id", "line.release_id"]),
        ForeignKeyConstraint(["version_id", "line_id"], ["version.id", "version.line_id"]),
        CheckConstraint("kind in ('fault', 'telling', 'other')", name="kind"),
        CheckConstraint("version_id is null or line_id is not null", name="place"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int] = mapped_column(ForeignKey("release.id"), index=True)
    line_id: Mapped[int | None] = mapped_column(BigInteger)
    version_id: Mapped[int | None] = mapped_column(BigInteger)
    kind: Mapped[str] = mapped_column(String(10))
    text: Mapped[str] = mapped_column(String(1000))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ValueRow(Table):
    """What the owner goes by for a version, a format or a thing owned, in a state, on a day.

    Said by the owner, who pins it, from comps, by a sheet, borrowed or by a book; it ``says`` a price, that it is
    unknown, that it follows the parent line's, or that what was pinned is released. Appended; what was undone is taken
    back; what an entry shared out (``entry_id``) is taken back with it. ``low`` and ``high`` are 80 %.
    """

    __tablename__ = "value"
    __table_args__ = (
        CheckConstraint("num_nonnulls(version_id, format_id, item_id) = 1", name="one_thing"),
        CheckConstraint("source in ('owner', 'comps', 'sheet', 'borrowed', 'book')", name="source"),
        CheckConstraint("says in ('price', 'unknown', 'follows', 'released')", name="says"),
        CheckConstraint("(says = 'price') = (amount is not null) and amount >= 0", name="amount"),
        CheckConstraint("low <= high and low >= 0 and comps >= 0", name="spread"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
        Index("ix_value_version_latest", "version_id", "state", "source", text("id desc"),
              postgresql_where=text("version_id is not null")),
        Index("ix_value_format_latest", "format_id", "state", "source", text("id desc"),
              postgresql_where=text("format_id is not null")),
        Index("ix_value_item_latest", "item_id", "source", text("id desc"),
              postgresql_where=text("item_id is not null")),
    )  # fmt: skip

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int | None] = mapped_column(ForeignKey("version.id"))
    format_id: Mapped[int | None] = mapped_column(ForeignKey("format.id"))
    item_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"))
    state: Mapped[str] = mapped_column(String(60))
    source: Mapped[str] = mapped_column(String(10))
    says: Mapped[str] = mapped_column(String(10))
    amount: Mapped[Decimal | None] = mapped_column(_PRICE)
    currency: Mapped[str] = mapped_column(String(3))
    low: Mapped[Decimal | None] = mapped_column(_PRICE)
    high: Mapped[Decimal | None] = mapped_column(_PRICE)
    comps: Mapped[int | None]
    day: Mapped[date]
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"), index=True)


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

    version_id: Mapped[int] = mapped_column(ForeignKey("version.id"), primary_key=True)
    added_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ScratchRow(Table):
    """A release's scratch copy: what would be changed, in order, as the corrections that would do it."""

    __tablename__ = "scratch"

    release_id: Mapped[int] = mapped_column(ForeignKey("release.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int]
    edits: Mapped[list[Any]] = mapped_column(JSONB)
