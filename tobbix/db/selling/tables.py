"""Tables of selling: orders beside their documents, what was paid for each thing, and supplies by their sizes."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Numeric, String
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
