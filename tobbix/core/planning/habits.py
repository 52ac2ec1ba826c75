"""How the owner decides and sells: the settings that every answer rests on, with defaults that the trade would use."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.pricing.schools import School
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.sureness import Uncertainty
from tobbix.core.products.worth import Horizon, ValueBasis, Worth

_MOST = 99_999_999


@dataclass(frozen=True, slots=True)
class SellingHabits:
    """The usual way of selling and what is not worth it (Rule C-02).

    ``floor`` the least net worth handling and ``bulk`` what a card brings otherwise (money); ``sells`` the share of
    hits that sell; ``hourly_rate`` of the owner's time (money, may be 0), with minutes for a box and a sale.
    """

    basis: ValueBasis = ValueBasis.FLOOR
    way: str | None = None
    floor: float = 1.0
    bulk: float = 0.01
    sells: float = 1.0
    hourly_rate: float = 0.0
    minutes_per_box: float = 30.0
    minutes_per_sale: float = 6.0
    horizon: Horizon = Horizon()

    def __post_init__(self) -> None:
        faults = [
            Fault(name, "must be from 0 to 99,999,999")
            for name in ("floor", "bulk", "hourly_rate")
            if not 0 <= getattr(self, name) <= _MOST
        ]
        faults += [
            Fault(name, "must be from 0 to 10,000 minutes")
            for name in ("minutes_per_box", "minutes_per_sale")
            if not 0 <= getattr(self, name) <= 10_000
        ]
        if not 0 <= self.sells <= 1:
            faults.append(Fault("sells", "must be from 0 to 1 (0.8 is 80 %)"))
        if faults:
            raise InputError(faults)


@dataclass(frozen=True, slots=True)
class SealedHabits:
    """What is assumed of boxes that stay sealed: growth a year (share), years, and what keeping one costs a year."""

    growth: float = 0.08
    years: float = 2.0
    keeping: float = 0.0


@dataclass(frozen=True, slots=True)
class Preferences:
    """All of it, with the ``version`` of the whole. ``monthly_limit`` of spending is in the home ``currency``;
    ``sheet_condition`` the condition of a raw card that prices of sheets speak for; by
    which ``school`` prices are read off sales."""

    rule: PayingRule = PayingRule()
    costs: BuyingCosts = BuyingCosts()
    selling: SellingHabits = SellingHabits()
    uncertainty: Uncertainty = Uncertainty()
    sealed: SealedHabits = SealedHabits()
    monthly_limit: Decimal | None = None
    currency: str = "EUR"
    version: int = 0
    sheet_condition: str = "NM"
    school: School = School.WEIGHTED

    def __post_init__(self) -> None:
        if self.monthly_limit is not None:
            units = minor_units(self.currency)
            if not 0 <= self.monthly_limit <= _MOST or self.monthly_limit != round(self.monthly_limit, units):
                raise InputError.at("monthly_limit", "must be an amount from 0 to 99,999,999")

    @property
    def costs_with_time(self) -> BuyingCosts:
        """What comes on top of the sticker price, the owner's time for opening a box included."""
        return replace(self.costs, time=self.selling.hourly_rate * self.selling.minutes_per_box / 60)


@dataclass(frozen=True, slots=True)
class ViewChoice:
    """How a page wants values: the habit where it says nothing. ``factor`` is what the market does to all prices."""

    basis: ValueBasis | None = None
    way: str | None = None
    factor: float = 1.0


AS_USUAL = ViewChoice()


def choose_worth(
    preferences: Preferences,
    ways: Sequence[SellingWay],
    choice: ViewChoice = AS_USUAL,
    line_sells: Iterable[tuple[str, float]] = (),
) -> Worth:
    """How a market price becomes a value here. Rule C-02.

    Without any way of selling values are gross, unless one is asked for. Raises InputError for a way that is not there.
    """
    habits = preferences.selling
    basis = choice.basis or habits.basis
    wanted = choice.way or habits.way or (ways[0].id if ways else None)
    if basis is ValueBasis.GROSS or (wanted is None and choice.basis is None):
        return Worth(factor=choice.factor, horizon=habits.horizon)
    way = next((way for way in ways if way.id == wanted), None)
    if way is None:
        raise InputError.at("way", f"there is no way of selling “{wanted or ''}”; add one first")
    return Worth(
        basis,
        way,
        habits.floor,
        habits.bulk,
        habits.hourly_rate * habits.minutes_per_sale / 60,
        tuple(sorted(line_sells)),
        habits.sells,
        habits.horizon,
        choice.factor,
    )
