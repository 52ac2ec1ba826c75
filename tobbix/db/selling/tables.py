"""Tables of selling: orders beside their documents, what was paid for each thing, supplies by their sizes, listings
and claims."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Index, Numeric, String, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)


class OrderRow(Table):
    """An order beside its document: the buyer's or market's own ``reference``, the way of selling (its key), where it
    goes, what the buyer paid for shipping (of ``currency``), how it is packed, which steps are ticked and which things
    were confirmed by a key, when it was packed, and what the buyer complains of."""

    __tablename__ = "sale_order"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    version: Mapped[int]
    reference: Mapped[str] = mapped_column(String(60), unique=True)
    way: Mapped[str | None] = mapped_column(String(64))
    address: Mapped[str] = mapped_column(String(1000))
    shipping: Mapped[Decimal] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    post: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    ticked: Mapped[list[str]] = mapped_column(JSONB)
    confirmed: Mapped[list[int]] = mapped_column(JSONB)
    packed_on: Mapped[date | None]
    complaint: Mapped[str | None] = mapped_column(String(500))


class OrderLineRow(Table):
    """What was paid for a thing of an order (money of its currency), and its part of what came in (money at home)."""

    __tablename__ = "sale_line"

    document_id: Mapped[int] = mapped_column(ForeignKey("sale_order.document_id"), primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True, index=True)
    position: Mapped[int]
    price: Mapped[Decimal] = mapped_column(_MONEY)
    home: Mapped[Decimal] = mapped_column(_MONEY)


class PayoutOrderRow(Table):
    """Which payout of a market (its document) an order was paid by; once that is taken back the order is open again."""

    __tablename__ = "payout_order"

    order_id: Mapped[int] = mapped_column(ForeignKey("sale_order.document_id"), primary_key=True)
    payout_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)


class PackingSupplyRow(Table):
    """A supply by what it takes: ``inside``, ``outside`` and ``adds`` are mm (width, height, thickness; the thickness
    of an outer null: content and ``wall``); what it costs where none was bought (money at home). Stock of the same name
    counts for it."""

    __tablename__ = "packing_supply"
    __table_args__ = (CheckConstraint("role in ('sleeve', 'holder', 'wrap', 'outer')", name="role"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    name: Mapped[str] = mapped_column(String(120), unique=True)
    role: Mapped[str] = mapped_column(String(10))
    position: Mapped[int]
    inside: Mapped[list[str] | None] = mapped_column(JSONB(none_as_null=True))
    outside: Mapped[list[str | None] | None] = mapped_column(JSONB(none_as_null=True))
    adds: Mapped[list[str] | None] = mapped_column(JSONB(none_as_null=True))
    wall: Mapped[Decimal] = mapped_column(Numeric(8, 3))
    weight: Mapped[Decimal] = mapped_column(Numeric(8, 3))
    cost: Mapped[Decimal] = mapped_column(_MONEY)
    rigid: Mapped[bool]
    version: Mapped[int]
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class WayOutRow(Table):
    """Which way out the owner chose for a thing: the road, and of selling by which way (its key)."""

    __tablename__ = "way_out"
    __table_args__ = (
        CheckConstraint("road in ('sell', 'grade', 'in_person', 'lot', 'set', 'keep', 'give')", name="road"),
    )

    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True)
    road: Mapped[str] = mapped_column(String(12))
    way: Mapped[str | None] = mapped_column(String(64))
    day: Mapped[date]


class ListingRow(Table):
    """What is offered by a way of selling: its ``price`` and the ``lowest`` that the owner would take (money of
    ``currency``), what was ``expected`` of it when it was priced, the market's own ``reference``, by which order it
    sold, what the market said of it so far (``heard``), and which ``photos`` go with it in their order (null: all of
    its things)."""

    __tablename__ = "listing"
    __table_args__ = (
        CheckConstraint("kind in ('fixed', 'auction')", name="kind"),
        CheckConstraint("state in ('drafted', 'listed', 'sold', 'ended')", name="state"),
        Index("ix_listing_state", "state", "id"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int]
    way: Mapped[str] = mapped_column(String(64))
    kind: Mapped[str] = mapped_column(String(8))
    state: Mapped[str] = mapped_column(String(8))
    title: Mapped[str] = mapped_column(String(200))
    words: Mapped[str] = mapped_column(String(4000))
    price: Mapped[Decimal] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    lowest: Mapped[Decimal | None] = mapped_column(_MONEY)
    expected: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    made_on: Mapped[date]
    listed_on: Mapped[date | None]
    ends_on: Mapped[date | None]
    priced_on: Mapped[date]
    ended_on: Mapped[date | None]
    reference: Mapped[str | None] = mapped_column(String(60))
    document_id: Mapped[int | None] = mapped_column(ForeignKey("document.id"))
    heard: Mapped[list[str]] = mapped_column(JSONB)
    photos: Mapped[list[int] | None] = mapped_column(JSONB(none_as_null=True))


class ListingThingRow(Table):
    """A thing of a listing; while that is drafted or listed it is in no other one of the same way."""

    __tablename__ = "listing_thing"
    __table_args__ = (Index("uq_listing_thing_open", "item_id", "way", unique=True, postgresql_where=text("is_open")),)

    listing_id: Mapped[int] = mapped_column(ForeignKey("listing.id"), primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True, index=True)
    way: Mapped[str] = mapped_column(String(64))
    position: Mapped[int]
    is_open: Mapped[bool]


class ListingOfferRow(Table):
    """An offer for a listing (money of its currency), and what was answered."""

    __tablename__ = "listing_offer"
    __table_args__ = (CheckConstraint("answer in ('open', 'taken', 'declined', 'countered')", name="answer"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    listing_id: Mapped[int] = mapped_column(ForeignKey("listing.id"), index=True)
    day: Mapped[date]
    buyer: Mapped[str | None] = mapped_column(String(120))
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    answer: Mapped[str] = mapped_column(String(10))
    countered: Mapped[Decimal | None] = mapped_column(_MONEY)


class ClaimRow(Table):
    """A claim for what was lost or broken in the post of a document (money at home)."""

    __tablename__ = "claim"
    __table_args__ = (CheckConstraint("state in ('filed', 'paid', 'refused')", name="state"),)

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    version: Mapped[int]
    filed_on: Mapped[date]
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    words: Mapped[str] = mapped_column(String(1000))
    state: Mapped[str] = mapped_column(String(8))


class PastSaleRow(Table):
    """A sale of before the books began (money at home): what it ``brought``, what fees, postage and packing came to,
    and what it had cost (null: nobody remembers). It is a result without entries."""

    __tablename__ = "past_sale"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    sold_on: Mapped[date]
    name: Mapped[str] = mapped_column(String(300))
    way: Mapped[str] = mapped_column(String(120))
    brought: Mapped[Decimal] = mapped_column(_MONEY)
    costs: Mapped[Decimal] = mapped_column(_MONEY)
    basis: Mapped[Decimal | None] = mapped_column(_MONEY)
    digest: Mapped[str] = mapped_column(String(64), unique=True)
