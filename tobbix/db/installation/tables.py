"""Tables of the installation: owner, preferences, spending, sessions, acts that were sent."""

from datetime import date, datetime
from decimal import Decimal
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Numeric, String, Text, func
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table


class OwnerRow(Table):
    """The one owner. ``is_demo`` marks the demo's well-known passphrase."""

    __tablename__ = "owner"
    __table_args__ = (CheckConstraint("id = 1", name="only_one"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    name: Mapped[str] = mapped_column(String(200))
    passphrase_hash: Mapped[str] = mapped_column(String(300))
    is_demo: Mapped[bool]
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class StoreRow(Table):
    """The store itself, in one row: its epoch is another one after a restore."""

    __tablename__ = "installation"
    __table_args__ = (CheckConstraint("id = 1", name="only_one"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    epoch: Mapped[UUID] = mapped_column(server_default=func.gen_random_uuid())


class SentRow(Table):
    """A key that a sender gave to an act, what the act was (its digest), and how it was answered."""

    __tablename__ = "sent"

    once: Mapped[str] = mapped_column(String(64), primary_key=True)
    act: Mapped[str] = mapped_column(String(64), server_default="")
    status: Mapped[int] = mapped_column(server_default="0")
    answer: Mapped[str] = mapped_column(Text, server_default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now(), index=True)


class SignInRow(Table):
    """A session of the owner: it ends with its row. Only a digest of what the browser holds is kept."""

    __tablename__ = "sign_in"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    digest: Mapped[str] = mapped_column(String(64), unique=True)
    began_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    seen_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    browser: Mapped[str] = mapped_column(String(200))


class SignInWaitRow(Table):
    """Failed sign-ins in a row of a known browser, or of all strangers together, and until when they wait."""

    __tablename__ = "sign_in_wait"

    who: Mapped[str] = mapped_column(String(64), primary_key=True)
    failures: Mapped[int]
    until: Mapped[datetime] = mapped_column(DateTime(timezone=True))


class PreferenceRow(Table):
    """How the owner decides, in one row; ``version`` counts the changes."""

    __tablename__ = "preference"
    __table_args__ = (
        CheckConstraint("id = 1", name="only_one"),
        CheckConstraint("standard in ('chance', 'average')", name="standard"),
        CheckConstraint("chance > 0 and chance < 1", name="chance"),
        CheckConstraint("margin >= 0 and margin <= 10", name="margin"),
        CheckConstraint("shipping >= 0", name="shipping"),
        CheckConstraint("tax >= 0 and tax <= 1", name="tax"),
        CheckConstraint("basis in ('gross', 'net', 'floor')", name="basis"),
        CheckConstraint("floor >= 0 and bulk >= 0 and hourly_rate >= 0", name="amounts"),
        CheckConstraint("sells >= 0 and sells <= 1", name="sells"),
        CheckConstraint("monthly_limit >= 0", name="monthly_limit"),
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    version: Mapped[int]
    standard: Mapped[str] = mapped_column(String(20))
    chance: Mapped[float]
    margin: Mapped[float]
    shipping: Mapped[Decimal] = mapped_column(Numeric(14, 4))
    tax: Mapped[float]
    tax_on_shipping: Mapped[bool]
    basis: Mapped[str] = mapped_column(String(10), server_default="floor")
    way_id: Mapped[int | None] = mapped_column(ForeignKey("selling_way.id", ondelete="SET NULL"))
    floor: Mapped[Decimal] = mapped_column(Numeric(14, 4), server_default="1")
    bulk: Mapped[Decimal] = mapped_column(Numeric(14, 4), server_default="0.01")
    sells: Mapped[float] = mapped_column(server_default="1")
    hourly_rate: Mapped[Decimal] = mapped_column(Numeric(14, 4), server_default="0")
    minutes_per_box: Mapped[float] = mapped_column(server_default="30")
    minutes_per_sale: Mapped[float] = mapped_column(server_default="6")
    months: Mapped[float] = mapped_column(server_default="0")
    decay: Mapped[float] = mapped_column(server_default="0")
    depth: Mapped[float] = mapped_column(server_default="0")
    own_spread: Mapped[float] = mapped_column(server_default="0.25")
    market_spread: Mapped[float] = mapped_column(server_default="0.2")
    growth: Mapped[float] = mapped_column(server_default="0.08")
    years: Mapped[float] = mapped_column(server_default="2")
    keeping: Mapped[Decimal] = mapped_column(Numeric(14, 4), server_default="0")
    monthly_limit: Mapped[Decimal | None] = mapped_column(Numeric(14, 2))
    currency: Mapped[str] = mapped_column(String(3), server_default="EUR")
    sheet_condition: Mapped[str] = mapped_column(String(20), default="NM")
    school: Mapped[str] = mapped_column(String(12), default="weighted")


class SpendingRow(Table):
    """What was spent on product on a day; a row that was taken back stays, marked."""

    __tablename__ = "spending"
    __table_args__ = (CheckConstraint("amount > 0", name="amount"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    day: Mapped[date] = mapped_column(index=True)
    amount: Mapped[Decimal] = mapped_column(Numeric(14, 2))
    what: Mapped[str] = mapped_column(String(200))
    once: Mapped[str] = mapped_column(String(64), unique=True)  # what is sent twice is kept once
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    taken_back_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class KeptStepRow(Table):
    """A step of a list that is ticked; ``of`` names the list ("opening 12")."""

    __tablename__ = "kept_step"

    of: Mapped[str] = mapped_column(String(60), primary_key=True)
    step: Mapped[str] = mapped_column(String(40), primary_key=True)
    done_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
