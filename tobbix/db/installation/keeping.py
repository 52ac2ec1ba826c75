"""The owner and what the owner prefers, into the store and out of it."""

from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.orm import Session

from tobbix.core.planning.habits import Preferences, SealedHabits, SellingHabits
from tobbix.core.pricing.schools import School
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, Standard
from tobbix.core.products.sureness import Uncertainty
from tobbix.core.products.worth import Horizon, ValueBasis
from tobbix.db.installation.tables import OwnerRow, PreferenceRow
from tobbix.db.pricing.ways import SellingWayRow, find_way


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
        row.sheet_condition,
        School(row.school),
    )  # fmt: skip


def save_preferences(session: Session, preferences: Preferences) -> None:
    """Write them. Raises NotFound for a way of selling that is not there."""
    row = find_preferences(session) or PreferenceRow(id=1)
    rule, costs, selling = preferences.rule, preferences.costs, preferences.selling
    row.version, row.currency, row.monthly_limit = preferences.version, preferences.currency, preferences.monthly_limit
    row.sheet_condition, row.school = preferences.sheet_condition, preferences.school.value
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
