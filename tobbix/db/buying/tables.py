"""Tables of buying: purchases with their charges, and the parcels that bring them."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Numeric, String, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)


class PurchaseRow(Table):
    """One purchase; ``once`` is the sender's own text, so that what is sent twice is kept once."""

    __tablename__ = "purchase"
    __table_args__ = (
        CheckConstraint("state in ('ordered', 'received', 'disputed', 'undone')", name="state"),
        CheckConstraint("method in ('value', 'equal', 'count', 'hand', 'residual')", name="method"),
        CheckConstraint("entertainment >= 0 and entertainment <= 1", name="entertainment"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    once: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(200))
    seller: Mapped[str | None] = mapped_column(String(200))
    bought_on: Mapped[date]
    state: Mapped[str] = mapped_column(String(10))
    method: Mapped[str] = mapped_column(String(10))
    entertainment: Mapped[Decimal] = mapped_column(Numeric(5, 4), default=0)
    landed: Mapped[Decimal] = mapped_column(_MONEY)
    note: Mapped[str | None] = mapped_column(String(500))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ChargeRow(Table):
    """A part of what a purchase cost, in its currency on its date; a refund is negative."""

    __tablename__ = "charge"
    __table_args__ = (
        CheckConstraint("kind in ('price', 'premium', 'shipping', 'tax', 'duty', 'other', 'refund')", name="kind"),
        CheckConstraint("rate > 0", name="rate"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    purchase_id: Mapped[int] = mapped_column(ForeignKey("purchase.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    day: Mapped[date]
    rate: Mapped[Decimal] = mapped_column(Numeric(18, 8))
    home: Mapped[Decimal] = mapped_column(_MONEY)
    purse: Mapped[str] = mapped_column(String(60))


class ParcelRow(Table):
    """A parcel on its way or received, with what the inspection found (seal, series, contents) and a dispute."""

    __tablename__ = "parcel"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    purchase_id: Mapped[int] = mapped_column(ForeignKey("purchase.id", ondelete="CASCADE"), index=True)
    carrier: Mapped[str | None] = mapped_column(String(100))
    tracking: Mapped[str | None] = mapped_column(String(100))
    due_on: Mapped[date | None]
    received_on: Mapped[date | None]
    inspection: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    dispute: Mapped[str | None] = mapped_column(String(500))
