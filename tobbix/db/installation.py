"""The owner of the installation and what the owner prefers."""

from datetime import date, datetime
from decimal import Decimal
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Numeric, String, Text, func, select
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.planning.habits import Preferences, SealedHabits, SellingHabits
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, Standard
from tobbix.core.products.sureness import Uncertainty
from tobbix.core.products.worth import Horizon, ValueBasis
from tobbix.db.base import Table
from tobbix.db.pricing.ways import SellingWayRow, find_way


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


def find_owner(session: Session) -> OwnerRow | None:
    return session.get(OwnerRow, 1)


def save_owner(session: Session, name: str, passphrase_hash: str, is_demo: bool) -> None:
    row = find_owner(session)
    if row is None:
        row = OwnerRow(id=1, name=name, passphrase_hash=passphrase_hash, is_demo=is_demo)
        session.add(row)
    else:
        row.name, row.passphrase_hash, row.is_demo = name, passphrase_hash, is_demo


def find_preferences(session: Session, lock: bool = False) -> PreferenceRow | None:
    """The row of preferences; None as long as the defaults hold."""
    return session.scalar(select(PreferenceRow).with_for_update() if lock else select(PreferenceRow))


def load_preferences(session: Session, lock: bool = False) -> Preferences:
    """How the owner decides; the defaults with version 0 before anything was said."""
    row = find_preferences(session, lock)
    if row is None:
        return Preferences()
    way = (
        None if row.way_id is None else session.scalar(select(SellingWayRow.key).where(SellingWayRow.id == row.way_id))
    )
    return Preferences(
        PayingRule(Standard(row.standard), row.chance, row.margin),
        BuyingCosts(float(row.shipping), row.tax, row.tax_on_shipping),
        SellingHabits(
            ValueBasis(row.basis), way, float(row.floor), float(row.bulk), row.sells, float(row.hourly_rate),
            row.minutes_per_box, row.minutes_per_sale, Horizon(row.months, row.decay, row.depth),
        ),
        Uncertainty(row.own_spread, row.market_spread),
        SealedHabits(row.growth, row.years, float(row.keeping)),
        row.monthly_limit,
        row.currency,
        row.version,
    )  # fmt: skip


def save_preferences(session: Session, preferences: Preferences) -> None:
    """Write them. Raises NotFound for a way of selling that is not there."""
    row = find_preferences(session) or PreferenceRow(id=1)
    rule, costs, selling = preferences.rule, preferences.costs, preferences.selling
    row.version, row.currency, row.monthly_limit = preferences.version, preferences.currency, preferences.monthly_limit
    row.standard, row.chance, row.margin = rule.standard.value, rule.chance, rule.margin
    row.shipping, row.tax, row.tax_on_shipping = _exact(costs.shipping), costs.tax, costs.tax_on_shipping
    row.basis, row.way_id = selling.basis.value, None if selling.way is None else find_way(session, selling.way).id
    row.floor, row.bulk, row.sells = _exact(selling.floor), _exact(selling.bulk), selling.sells
    row.hourly_rate = _exact(selling.hourly_rate)
    row.minutes_per_box, row.minutes_per_sale = selling.minutes_per_box, selling.minutes_per_sale
    horizon = selling.horizon
    row.months, row.decay, row.depth = horizon.months, horizon.decay, horizon.depth
    row.own_spread, row.market_spread = preferences.uncertainty.own, preferences.uncertainty.market
    sealed = preferences.sealed
    row.growth, row.years, row.keeping = sealed.growth, sealed.years, _exact(sealed.keeping)
    session.add(row)


def _exact(value: float) -> Decimal:
    return Decimal(repr(value))
