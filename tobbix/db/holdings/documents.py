"""Tables of what is written down: parties, documents with their charges, minutes and parcels, and of what hangs on a
thing besides: labels of graders, photos, predictions."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    LargeBinary,
    Numeric,
    String,
    func,
    select,
)
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from tobbix.db.base import Table

_MONEY = Numeric(16, 3)
_ROLES = "array['friend', 'seller', 'buyer', 'grader', 'carrier', 'market']::varchar[]"


class PartyRow(Table):
    """Somebody that things come from, go to, or belong to; one may have several roles. Oneself is no party."""

    __tablename__ = "party"
    __table_args__ = (CheckConstraint(f"roles <@ {_ROLES}", name="roles"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    name: Mapped[str] = mapped_column(String(200), unique=True)
    roles: Mapped[list[str]] = mapped_column(ARRAY(String(10)))
    note: Mapped[str | None] = mapped_column(String(500))


def party_name(party_id: Any) -> Any:
    """The name of a party."""
    return select(PartyRow.name).where(PartyRow.id == party_id).correlate_except(PartyRow).scalar_subquery()


class DocumentRow(Table):
    """What entries and the history of things hang on. ``once`` is the sender's own text, so that what is sent twice is
    kept once; ``text`` says in words what it is of."""

    __tablename__ = "document"
    __table_args__ = (
        CheckConstraint(
            "kind in ('purchase', 'opening', 'import', 'correction', 'submission', 'order', 'trade', 'gift', "
            "'parcel_bill')",
            name="kind",
        ),
        CheckConstraint(
            "state in ('drafted', 'running', 'paused', 'ordered', 'paid', 'sent', 'received', 'disputed', 'returned', "
            "'done', 'undone')",
            name="state",
        ),
        Index("ix_document_kind_day", "kind", "day"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    kind: Mapped[str] = mapped_column(String(12))
    day: Mapped[date]
    party_id: Mapped[int | None] = mapped_column(ForeignKey("party.id"), index=True)
    state: Mapped[str] = mapped_column(String(10))
    version: Mapped[int] = mapped_column(default=1)
    text: Mapped[str] = mapped_column(String(500))
    note: Mapped[str | None] = mapped_column(String(500))
    once: Mapped[str | None] = mapped_column(String(64), unique=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    party: Mapped[str | None] = column_property(party_name(party_id))


class ChargeRow(Table):
    """A part of a document's bill, in its currency on its date; a refund is negative. It counts while the entry that
    booked it does."""

    __tablename__ = "charge"
    __table_args__ = (
        CheckConstraint(
            "kind in ('price', 'premium', 'shipping', 'tax', 'duty', 'service', 'other', 'refund')", name="kind"
        ),
        CheckConstraint("rate > 0", name="rate"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id"), index=True)
    kind: Mapped[str] = mapped_column(String(10))
    amount: Mapped[Decimal] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    day: Mapped[date]
    rate: Mapped[Decimal] = mapped_column(Numeric(18, 8))
    home: Mapped[Decimal] = mapped_column(_MONEY)
    purse: Mapped[str] = mapped_column(String(60))


class MinutesRow(Table):
    """Time that a document took."""

    __tablename__ = "minutes"
    __table_args__ = (CheckConstraint("minutes > 0", name="minutes"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    day: Mapped[date]
    minutes: Mapped[Decimal] = mapped_column(Numeric(8, 1))
    what: Mapped[str] = mapped_column(String(100))


class ParcelRow(Table):
    """A parcel, coming in or going out, with what the inspection found (seal, series, contents) and a dispute."""

    __tablename__ = "parcel"
    __table_args__ = (
        CheckConstraint("direction in ('in', 'out')", name="direction"),
        CheckConstraint("state in ('on_its_way', 'arrived', 'lost')", name="state"),
        CheckConstraint("(state = 'arrived') = (received_on is not null)", name="arrived"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    direction: Mapped[str] = mapped_column(String(3))
    state: Mapped[str] = mapped_column(String(10))
    carrier_id: Mapped[int | None] = mapped_column(ForeignKey("party.id"), index=True)
    tracking: Mapped[str | None] = mapped_column(String(100))
    sent_on: Mapped[date | None]
    due_on: Mapped[date | None]
    received_on: Mapped[date | None]
    inspection: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    dispute: Mapped[str | None] = mapped_column(String(500))
    carrier: Mapped[str | None] = column_property(party_name(carrier_id))


class ParcelItemRow(Table):
    """A thing in a parcel."""

    __tablename__ = "parcel_item"

    parcel_id: Mapped[int] = mapped_column(ForeignKey("parcel.id"), primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True, index=True)


class LabelRow(Table):
    """What a grader said of an item. A label that was cracked off stays; both count while their entries do."""

    __tablename__ = "label"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), index=True)
    grader_id: Mapped[int] = mapped_column(ForeignKey("party.id"), index=True)
    grade: Mapped[str] = mapped_column(String(20))
    subgrades: Mapped[dict[str, str] | None] = mapped_column(JSONB)
    certificate: Mapped[str | None] = mapped_column(String(60))
    day: Mapped[date]
    entry_id: Mapped[int] = mapped_column(ForeignKey("entry.id"), index=True)
    removed_by_id: Mapped[int | None] = mapped_column(ForeignKey("entry.id"), index=True)
    grader: Mapped[str] = column_property(party_name(grader_id))


class PhotoRow(Table):
    """A picture of an item as it was taken, without what it said of the camera and the place; sizes in pixels, ``dpi``
    dots an inch where the file said it. A photo that was taken out is gone."""

    __tablename__ = "photo"
    __table_args__ = (
        CheckConstraint("side in ('front', 'back', 'detail')", name="side"),
        CheckConstraint("width > 0 and height > 0 and dpi > 0", name="sizes"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), index=True)
    side: Mapped[str] = mapped_column(String(6))
    media: Mapped[str] = mapped_column(String(20))
    width: Mapped[int]
    height: Mapped[int]
    dpi: Mapped[Decimal | None] = mapped_column(Numeric(9, 3))
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    thumbnail: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PredictionRow(Table):
    """What was expected of an item when it was listed or sent away, to be judged later: a price (money at home), days,
    or the chances of grades. ``low`` to ``high`` is 80 %."""

    __tablename__ = "prediction"
    __table_args__ = (
        CheckConstraint("what in ('grade', 'price', 'days')", name="what"),
        CheckConstraint("(what = 'grade') = (chances is not null)", name="grade"),
        CheckConstraint("(what = 'grade') = (estimate is null)", name="estimate"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), index=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), index=True)
    what: Mapped[str] = mapped_column(String(5))
    estimate: Mapped[float | None]
    low: Mapped[float | None]
    high: Mapped[float | None]
    chances: Mapped[dict[str, float] | None] = mapped_column(JSONB)
    day: Mapped[date]
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
