"""Tables of grading: profiles of graders and carriers, lines placed on photos, what the owner expects of a card,
submissions with their cards, and trials of the eye."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Numeric, String, UniqueConstraint, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from tobbix.db.base import Table
from tobbix.db.holdings.documents import party_name

_MONEY = Numeric(16, 3)


class GraderRow(Table):
    """A grader as the owner describes it."""

    __tablename__ = "grader"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    party_id: Mapped[int] = mapped_column(ForeignKey("party.id"), unique=True)
    version: Mapped[int]
    profile: Mapped[dict[str, Any]] = mapped_column(JSONB)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    name: Mapped[str] = column_property(party_name(party_id))


class CarrierRow(Table):
    """A carrier with its classes, as the owner describes it."""

    __tablename__ = "carrier"

    party_id: Mapped[int] = mapped_column(ForeignKey("party.id"), primary_key=True)
    version: Mapped[int]
    profile: Mapped[dict[str, Any]] = mapped_column(JSONB)
    name: Mapped[str] = column_property(party_name(party_id))


class MeasurementRow(Table):
    """What was measured on a photo: the lines along the card's edge and its printed frame (two points each in pixels,
    from the top clockwise), placed by hand or found, and what follows; or why nothing was found."""

    __tablename__ = "measurement"
    __table_args__ = (CheckConstraint("(lines is null) = (refused is not null)", name="lines"),)

    photo_id: Mapped[int] = mapped_column(ForeignKey("photo.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int]
    lines: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    by_hand: Mapped[bool]
    found: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    refused: Mapped[str | None] = mapped_column(String(300))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PreGradeRow(Table):
    """The chances of grades that the owner says of a card at a grader, in place of what follows from the pictures."""

    __tablename__ = "pre_grade"
    __table_args__ = (UniqueConstraint("item_id", "grader_id"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id", ondelete="CASCADE"))
    grader_id: Mapped[int] = mapped_column(ForeignKey("grader.id"), index=True)
    version: Mapped[int]
    chances: Mapped[dict[str, float]] = mapped_column(JSONB)
    day: Mapped[date]


class SubmissionRow(Table):
    """A submission beside its document: the post class out, what the parcel back costs (of the grader's currency),
    whether a membership is bought for it, the plan as it was posted, what the grader asks or says, and how far it is
    there. ``reference`` is the grader's own number."""

    __tablename__ = "submission"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    grader_id: Mapped[int] = mapped_column(ForeignKey("grader.id"), index=True)
    version: Mapped[int]
    carrier: Mapped[str | None] = mapped_column(String(200))
    post_class: Mapped[str | None] = mapped_column(String(80))
    tracking: Mapped[str | None] = mapped_column(String(100))
    back: Mapped[Decimal] = mapped_column(_MONEY)
    membership: Mapped[bool]
    plan: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    reference: Mapped[str | None] = mapped_column(String(60))
    sent_on: Mapped[date | None]
    question: Mapped[str | None] = mapped_column(String(500))
    stages: Mapped[list[Any]] = mapped_column(JSONB)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class SubmissionCardRow(Table):
    """A card of a submission, at its place of the form: its tier and declared value (money at home)."""

    __tablename__ = "submission_card"

    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("item.id"), primary_key=True, index=True)
    position: Mapped[int]
    tier: Mapped[str] = mapped_column(String(80))
    declared: Mapped[Decimal | None] = mapped_column(_MONEY)


class EyeTrialRow(Table):
    """A trial of the eye: a simulated scan by its seed, or an own card whose grade came back; what was said of it and
    what is known."""

    __tablename__ = "eye_trial"
    __table_args__ = (CheckConstraint("num_nonnulls(seed, item_id) = 1", name="of"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    seed: Mapped[int | None] = mapped_column(BigInteger)
    item_id: Mapped[int | None] = mapped_column(ForeignKey("item.id"), index=True)
    said: Mapped[dict[str, Any]] = mapped_column(JSONB)
    known: Mapped[dict[str, Any]] = mapped_column(JSONB)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
