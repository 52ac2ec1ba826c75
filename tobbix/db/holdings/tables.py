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
    Index,
    Numeric,
    String,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)
_STATES = "'in_transit', 'held', 'at_grading', 'opened', 'sold', 'given_away', 'lost', 'returned', 'undone'"


# What an item is found by, in one column with an index of its trigrams.
_WORDS = "name || ' ' || coalesce(number, '') || ' ' || coalesce(serial, '') || ' ' || coalesce(place, '')"


class ItemRow(Table):
    """A thing owned, or a counted stack of like things. What it is goes by the keys of its release, format, line and
    number, which outlive a replacement of the sheet; ``name`` says it in words. ``basis`` null: nobody remembers.

    ``weight`` is for a division by count. A box that was begun has ``packs_gone`` with the promised hits
    ``hits_gone`` by line in them, which are believed with ``trust``.
    """

    __tablename__ = "item"
    __table_args__ = (
        CheckConstraint("count > 0", name="count"),
        CheckConstraint("weight > 0", name="weight"),
        CheckConstraint("packs_gone >= 0 and trust >= 0 and trust <= 1", name="begun"),
        CheckConstraint("kind in ('sealed', 'card', 'stack', 'other')", name="kind"),
        CheckConstraint(f"state in ({_STATES})", name="state"),
        Index("ix_item_what", "release", "line", "number"),
        Index("ix_item_state_name", "state", "name"),
        Index("ix_item_words", "words", postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    kind: Mapped[str] = mapped_column(String(10))
    name: Mapped[str] = mapped_column(String(300))
    release: Mapped[str | None] = mapped_column(String(64))
    format: Mapped[str | None] = mapped_column(String(64))
    line: Mapped[str | None] = mapped_column(String(64))
    number: Mapped[str | None] = mapped_column(String(200))
    count: Mapped[int]
    state: Mapped[str] = mapped_column(String(20))
    basis: Mapped[Decimal | None] = mapped_column(_MONEY)
    value: Mapped[Decimal | None] = mapped_column(_MONEY)
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
    words: Mapped[str] = mapped_column(Text, Computed(_WORDS, persisted=True), deferred=True)
    purchase_id: Mapped[int | None] = mapped_column(ForeignKey("purchase.id"), index=True)
    session_id: Mapped[int | None] = mapped_column(ForeignKey("opening_session.id"), index=True)
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"), index=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ItemEventRow(Table):
    """What happened to an item, with its basis and state after."""

    __tablename__ = "item_event"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    day: Mapped[date]
    event: Mapped[str] = mapped_column(String(20))
    text: Mapped[str] = mapped_column(String(500))
    state: Mapped[str] = mapped_column(String(20))
    basis: Mapped[Decimal | None] = mapped_column(_MONEY)
    entry_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"), index=True)


class EntryRow(Table):
    """A balanced set of lines; a reversed one stays, and the reversal is another."""

    __tablename__ = "entry"
    __table_args__ = (UniqueConstraint("reverses_id"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    day: Mapped[date] = mapped_column(index=True)
    event: Mapped[str] = mapped_column(String(20))
    text: Mapped[str] = mapped_column(String(500))
    purchase_id: Mapped[int | None] = mapped_column(ForeignKey("purchase.id"), index=True)
    session_id: Mapped[int | None] = mapped_column(ForeignKey("opening_session.id"), index=True)
    reverses_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PostingRow(Table):
    """A line of an entry: debit positive, in the home currency, with the original amount where it was in another."""

    __tablename__ = "posting"
    __table_args__ = (
        CheckConstraint("(account = 'cash') = (purse is not null)", name="purse"),
        CheckConstraint("rate > 0", name="rate"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id", ondelete="CASCADE"), index=True)
    account: Mapped[str] = mapped_column(String(20), index=True)
    purse: Mapped[str | None] = mapped_column(String(60))
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    original: Mapped[Decimal | None] = mapped_column(_MONEY)
    currency: Mapped[str | None] = mapped_column(String(3))
    rate: Mapped[Decimal | None] = mapped_column(Numeric(18, 8))


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
