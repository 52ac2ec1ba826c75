"""The most to pay for a box, a pack or a case (Rule C-07)."""

from dataclasses import dataclass
from enum import StrEnum

from tobbix.core.base.errors import InputError
from tobbix.core.maths.distribution import Distribution


class Standard(StrEnum):
    """What a price has to satisfy."""

    CHANCE = "chance"
    AVERAGE = "average"


@dataclass(frozen=True, slots=True)
class PayingRule:
    """The owner's standard: ``chance`` of break-even to keep, or the average to beat by ``margin`` (a share)."""

    standard: Standard = Standard.CHANCE
    chance: float = 0.5
    margin: float = 0.0

    def __post_init__(self) -> None:
        if not 0 < self.chance < 1:
            raise InputError.at("chance", "must be more than 0 and less than 1")
        if not 0 <= self.margin <= 10:
            raise InputError.at("margin", "must be from 0 to 10 (1 is 100 %)")


@dataclass(frozen=True, slots=True)
class BuyingCosts:
    """What comes on top of the sticker price: ``shipping`` per purchase (money), ``tax`` (a share) on price and,
    if so said, on shipping; and ``time``, what the owner's time for opening a box is worth (money per box)."""

    shipping: float = 0.0
    tax: float = 0.0
    tax_on_shipping: bool = True
    time: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.shipping <= 99_999_999:
            raise InputError.at("shipping", "must not be negative")
        if not 0 <= self.tax <= 1:
            raise InputError.at("tax", "must be from 0 to 1 (0.21 is 21 %)")
        if not 0 <= self.time <= 99_999_999:
            raise InputError.at("time", "must not be negative")

    def _shipping(self) -> float:
        return self.shipping * (1 + self.tax if self.tax_on_shipping else 1)

    def landed(self, sticker: float) -> float:
        """What a purchase at a sticker price really costs. Rule C-15."""
        return sticker * (1 + self.tax) + self._shipping()

    def sticker(self, landed: float) -> float:
        """The sticker price that leads to a landed cost; 0 if shipping and tax alone pass it. Rule C-07."""
        return max((landed - self._shipping()) / (1 + self.tax), 0.0)


NO_COSTS = BuyingCosts()


@dataclass(frozen=True, slots=True)
class MostToPay:
    """Highest landed prices by each standard, and the sticker price that the owner's rule leads to (money)."""

    by_chance: float
    by_average: float
    landed: float
    sticker: float


def most_to_pay(outcomes: Distribution, rule: PayingRule, costs: BuyingCosts, boxes: float = 1.0) -> MostToPay:
    """The highest price of what ``outcomes`` describes at which the rule holds. Rule C-07.

    By chance: the highest price with P(value >= price) >= chance; by average: mean / (1 + margin). The owner's time for
    opening ``boxes`` boxes (a pack is a part of one) is taken off first.
    """
    by_chance = max(outcomes.highest_with_chance(rule.chance) - costs.time * boxes, 0.0)
    by_average = max(outcomes.mean / (1 + rule.margin) - costs.time * boxes, 0.0)
    landed = by_chance if rule.standard is Standard.CHANCE else by_average
    return MostToPay(by_chance, by_average, landed, costs.sticker(landed))
