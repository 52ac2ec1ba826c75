"""The owner of the installation and what the owner prefers."""

from datetime import datetime
from decimal import Decimal

from sqlalchemy import CheckConstraint, DateTime, Numeric, String, func, select
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, Standard
from tobbix.db.base import Table


class OwnerRow(Table):
    """The one owner. ``is_demo`` marks the demo's well-known passphrase."""

    __tablename__ = "owner"
    __table_args__ = (CheckConstraint("id = 1", name="only_one"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    name: Mapped[str] = mapped_column(String(200))
    passphrase_hash: Mapped[str] = mapped_column(String(300))
    is_demo: Mapped[bool]
    session_number: Mapped[int]  # raised when the passphrase changes, which ends all sessions
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PreferenceRow(Table):
    """How the owner decides what to pay; ``version`` counts the changes."""

    __tablename__ = "preference"
    __table_args__ = (
        CheckConstraint("id = 1", name="only_one"),
        CheckConstraint("standard in ('chance', 'average')", name="standard"),
        CheckConstraint("chance > 0 and chance < 1", name="chance"),
        CheckConstraint("margin >= 0 and margin <= 10", name="margin"),
        CheckConstraint("shipping >= 0", name="shipping"),
        CheckConstraint("tax >= 0 and tax <= 1", name="tax"),
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    version: Mapped[int]
    standard: Mapped[str] = mapped_column(String(20))
    chance: Mapped[float]
    margin: Mapped[float]
    shipping: Mapped[Decimal] = mapped_column(Numeric(14, 4))
    tax: Mapped[float]
    tax_on_shipping: Mapped[bool]


def find_owner(session: Session) -> OwnerRow | None:
    return session.get(OwnerRow, 1)


def save_owner(session: Session, name: str, passphrase_hash: str, is_demo: bool) -> None:
    row = find_owner(session)
    if row is None:
        row = OwnerRow(id=1, name=name, passphrase_hash=passphrase_hash, is_demo=is_demo, session_number=1)
        session.add(row)
    else:
        row.name, row.passphrase_hash, row.is_demo = name, passphrase_hash, is_demo
        row.session_number += 1


def load_preferences(session: Session, lock: bool = False) -> tuple[PayingRule, BuyingCosts, int]:
    """The owner's rule, the costs of buying, and the version of both (0: the defaults)."""
    row = session.scalar(select(PreferenceRow).with_for_update() if lock else select(PreferenceRow))
    if row is None:
        return PayingRule(), BuyingCosts(), 0
    rule = PayingRule(Standard(row.standard), row.chance, row.margin)
    return rule, BuyingCosts(float(row.shipping), row.tax, row.tax_on_shipping), row.version


def save_preferences(session: Session, rule: PayingRule, costs: BuyingCosts, version: int) -> None:
    row = session.get(PreferenceRow, 1) or PreferenceRow(id=1)
    row.version = version
    row.standard, row.chance, row.margin = rule.standard.value, rule.chance, rule.margin
    row.shipping, row.tax, row.tax_on_shipping = Decimal(repr(costs.shipping)), costs.tax, costs.tax_on_shipping
    session.add(row)
