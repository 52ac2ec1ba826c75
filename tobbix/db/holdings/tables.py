"""Tables of things owned and of the books under them. History is appended, never rewritten."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    Computed,
    DateTime,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Numeric,
    ScalarSelect,
    Select,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
    column,
    func,
    select,
    table,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)
_STATES = (
    "'in_transit', 'held', 'away', 'opened', 'sold', 'traded', 'given_away', 'lost', 'returned', 'joined', 'used_up', "
    "'undone'"
)


# Releases and their parts are of a later room; here only their keys are read.
_release, _format, _line, _version, _card = (
    table(
        name, column("id"), column("key"), column("number"), column("release_id"), column("card_id"), column("variant")
    )
    for name in ("release", "format", "line", "version", "card")
)


def release_key(release_id: Any) -> ScalarSelect[Any]:
    """The key of a release."""
    return select(_release.c.key).where(_release.c.id == release_id).correlate_except(_release).scalar_subquery()


def id_of_release(key: str) -> ScalarSelect[Any]:
    """The release of a key."""
    return select(_release.c.id).where(_release.c.key == key).scalar_subquery()


def format_key(format_id: Any) -> ScalarSelect[Any]:
    """The key of a format."""
    return select(_format.c.key).where(_format.c.id == format_id).correlate_except(_format).scalar_subquery()


def release_of_format(format_id: Any) -> ScalarSelect[Any]:
    """The key of a format's release."""
    both = _release.join(_format, _format.c.release_id == _release.c.id)
    found = select(_release.c.key).select_from(both).where(_format.c.id == format_id)
    return found.correlate_except(_release, _format).scalar_subquery()


def line_key(line_id: Any) -> ScalarSelect[Any]:
    """The key of a line."""
    return select(_line.c.key).where(_line.c.id == line_id).correlate_except(_line).scalar_subquery()


def ids_of_line(key: str) -> Select[Any]:
    """The ids of the lines that have a key."""
    return select(_line.c.id).where(_line.c.key == key)


def card_number(version_id: Any) -> ScalarSelect[Any]:
    """The number of a version's card."""
    both = _card.join(_version, _version.c.card_id == _card.c.id)
    found = select(_card.c.number).select_from(both).where(_version.c.id == version_id)
    return found.correlate_except(_card, _version).scalar_subquery()


def version_variant(version_id: Any) -> ScalarSelect[Any]:
    """The variant of a version; empty for the plain one."""
    return select(_version.c.variant).where(_version.c.id == version_id).correlate_except(_version).scalar_subquery()


_held = table("held_value", column("item_id"), column("amount"))


def held_amount(item_id: Any) -> ScalarSelect[Any]:
    """What an item is worth now."""
    return select(_held.c.amount).where(_held.c.item_id == item_id).correlate_except(_held).scalar_subquery()


# What an item is found by, in one column with an index of its trigrams.
_SEARCHED = (
    "lower(name || ' ' || coalesce(number_text, '') || ' ' || coalesce(serial, '') || ' ' || coalesce(place, ''))"
)


class ItemRow(Table):
    """A thing owned, or a counted stack of like things. ``name`` and ``number_text`` say what it is in words; beside
    them stand its version, or its format, or as much as is known. What the owner typed of release, format and line and
    nothing matches stays as text. ``basis`` null: nobody remembers.

    ``owner_id`` whose it is where it is somebody else's. ``eye_appeal`` is the owner's mark: -1 weak, 0 usual, 1
    strong for its condition. ``weight`` is for a division by count. A box that was begun has ``packs_gone`` with the
    promised hits ``hits_gone`` by line in them, which are believed with ``trust``.
    """

    __tablename__ = "item"
    __table_args__ = (
        CheckConstraint("count > 0", name="count"),
        CheckConstraint("weight > 0", name="weight"),
        CheckConstraint("packs_gone >= 0 and trust >= 0 and trust <= 1", name="begun"),
        CheckConstraint("kind in ('sealed', 'card', 'stack', 'supply', 'other')", name="kind"),
        CheckConstraint(f"state in ({_STATES})", name="state"),
        CheckConstraint("owner_id is null or basis is null", name="owner"),
        CheckConstraint("eye_appeal between -1 and 1", name="eye_appeal"),
        CheckConstraint(
            "(version_id is null or line_id is not null) "
            "and ((line_id is null and format_id is null) or release_id is not null)",
            name="identity",
        ),
        ForeignKeyConstraint(["format_id", "release_id"], ["format.id", "format.release_id"]),
        ForeignKeyConstraint(["line_id", "release_id"], ["line.id", "line.release_id"]),
        ForeignKeyConstraint(["version_id", "line_id"], ["version.id", "version.line_id"]),
        Index("ix_item_state_name", "state", "name"),
        Index("ix_item_name_id", "name", "id"),
        Index(
            "ix_item_search_text",
            "search_text",
            postgresql_using="gin",
            postgresql_ops={"search_text": "gin_trgm_ops"},
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    kind: Mapped[str] = mapped_column(String(10))
    name: Mapped[str] = mapped_column(String(300))
    release_id: Mapped[int | None] = mapped_column(ForeignKey("release.id"), index=True)
    format_id: Mapped[int | None] = mapped_column(BigInteger, index=True)
    line_id: Mapped[int | None] = mapped_column(BigInteger, index=True)
    version_id: Mapped[int | None] = mapped_column(BigInteger, index=True)
    release_text: Mapped[str | None] = mapped_column(String(64))
    format_text: Mapped[str | None] = mapped_column(String(64))
    line_text: Mapped[str | None] = mapped_column(String(64))
    number_text: Mapped[str | None] = mapped_column(String(200))
    variant_text: Mapped[str | None] = mapped_column(String(60))
    count: Mapped[int]
    state: Mapped[str] = mapped_column(String(20))
    basis: Mapped[Decimal | None] = mapped_column(_MONEY)
    owner_id: Mapped[int | None] = mapped_column(ForeignKey("party.id"), index=True)
    eye_appeal: Mapped[int | None] = mapped_column(SmallInteger)
    fixed: Mapped[Decimal | None] = mapped_column(_MONEY)
    gift: Mapped[bool] = mapped_column(default=False)
    weight: Mapped[Decimal] = mapped_column(Numeric(10, 3), default=1, server_default="1")
    packs_gone: Mapped[int] = mapped_column(default=0, server_default="0")
    hits_gone: Mapped[dict[str, int]] = mapped_column(JSONB, default=dict, server_default="{}")
    trust: Mapped[float] = mapped_column(default=1.0, server_default="1")
    condition: Mapped[str | None] = mapped_column(String(20))
    serial: Mapped[str | None] = mapped_column(String(40))
    place: Mapped[str | None] = mapped_column(String(100))
    never_for_sale: Mapped[bool] = mapped_column(default=False)
    acquired_on: Mapped[date | None]
    note: Mapped[str | None] = mapped_column(String(500))
    search_text: Mapped[str] = mapped_column(Text, Computed(_SEARCHED, persisted=True), deferred=True)
    purchase_id: Mapped[int | None] = mapped_column(ForeignKey("purchase.id"), index=True)
    session_id: Mapped[int | None] = mapped_column(ForeignKey("opening_session.id"), index=True)
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"), index=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    # Read only: by which keys it goes, or what the owner typed of them.
    release: Mapped[str | None] = column_property(func.coalesce(release_key(release_id), release_text))
    format: Mapped[str | None] = column_property(func.coalesce(format_key(format_id), format_text))
    line: Mapped[str | None] = column_property(func.coalesce(line_key(line_id), line_text))
    number: Mapped[str | None] = column_property(func.coalesce(card_number(version_id), number_text))
    variant: Mapped[str | None] = column_property(func.coalesce(version_variant(version_id), variant_text))
    value: Mapped[Decimal | None] = column_property(held_amount(id))


class HeldValueRow(Table):
    """What a thing owned is worth now, all of it together, in the home currency; all null: not known. Every item has
    such a row, kept up by ``db.products.values``."""

    __tablename__ = "held_value"
    __table_args__ = (
        CheckConstraint("num_nulls(amount, day, source) in (0, 3)", name="known"),
        Index("ix_held_value_falling", text("amount desc nulls last"), text("item_id desc")),
        Index("ix_held_value_rising", text("amount asc nulls last"), text("item_id asc")),
    )

    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True)
    amount: Mapped[Decimal | None] = mapped_column(Numeric(16, 6))
    day: Mapped[date | None]
    source: Mapped[str | None] = mapped_column(String(10))


class ItemEventRow(Table):
    """What happened to an item: its basis, state and count after it, and the entry that booked it; none where words
    were corrected."""

    __tablename__ = "item_event"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    day: Mapped[date]
    event: Mapped[str] = mapped_column(String(20))
    text: Mapped[str] = mapped_column(String(500))
    state: Mapped[str] = mapped_column(String(20))
    count: Mapped[int]
    basis: Mapped[Decimal | None] = mapped_column(_MONEY)
    entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"), index=True)


class EntryRow(Table):
    """What was booked: a balanced set of lines, none where no money moved; a reversed one stays, and the reversal is
    another. ``method`` how it divided a cost."""

    __tablename__ = "entry"
    __table_args__ = (
        UniqueConstraint("reverses_id"),
        CheckConstraint("method in ('value', 'equal', 'count', 'hand', 'residual')", name="method"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    day: Mapped[date] = mapped_column(index=True)
    event: Mapped[str] = mapped_column(String(20))
    text: Mapped[str] = mapped_column(String(500))
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    method: Mapped[str | None] = mapped_column(String(10))
    reverses_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PostingRow(Table):
    """A line of an entry: debit positive, in the home currency, with the original amount where it was in another."""

    __tablename__ = "posting"
    __table_args__ = (
        CheckConstraint("(account = 'cash') = (purse is not null)", name="purse"),
        CheckConstraint("(account in ('receivable', 'payable')) = (party_id is not null)", name="party"),
        CheckConstraint("rate > 0", name="rate"),
        Index("ix_posting_entry", "entry_id", "id"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"))
    account: Mapped[str] = mapped_column(String(20), index=True)
    purse: Mapped[str | None] = mapped_column(String(60))
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    original: Mapped[Decimal | None] = mapped_column(_MONEY)
    currency: Mapped[str | None] = mapped_column(String(3))
    rate: Mapped[Decimal | None] = mapped_column(Numeric(18, 8))
    party_id: Mapped[int | None] = mapped_column(ForeignKey("party.id"), index=True)


class ExchangeRateRow(Table):
    """Home units for one of a currency on a day; one set by hand wins."""

    __tablename__ = "exchange_rate"
    __table_args__ = (UniqueConstraint("currency", "day", "by_hand"), CheckConstraint("rate > 0", name="rate"))

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    currency: Mapped[str] = mapped_column(String(3))
    day: Mapped[date]
    rate: Mapped[Decimal] = mapped_column(Numeric(18, 8))
    source: Mapped[str] = mapped_column(String(100))
    by_hand: Mapped[bool]


class SavedFilterRow(Table):
    """A filter of the items that the owner keeps by name."""

    __tablename__ = "saved_filter"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    name: Mapped[str] = mapped_column(String(60), unique=True)
    query: Mapped[dict[str, Any]] = mapped_column(JSONB)
