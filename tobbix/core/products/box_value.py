"""What a holding is worth, as one named result (Rules C-03 and C-04): the figures behind every answer."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tobbix.core.base.results import Assumed, LeftOut
from tobbix.core.maths.distribution import Distribution, sampled
from tobbix.core.products.collating import simulate_depth
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import (
    ONE_BOX,
    Bound,
    CardShare,
    Holding,
    LineShare,
    Unit,
    Valuation,
    deepen,
    expected_value,
    share_by_card,
    share_by_line,
    value_distribution,
    value_format,
)
from tobbix.core.products.worth import GROSS, ValueBasis, Worth

SHARES = (0.05, 0.25, 0.5, 0.75, 0.95)
WORST = 0.1
_MOST_DRAWN, _LEAST_DRAWN, _SEED = 20_000, 1_000, 2


@dataclass(frozen=True, slots=True)
class TopHeavy:
    """How much few cards carry: shares of the expected value, None if that is 0."""

    best_one: float | None
    best_five: float | None
    best_ten: float | None
    without_best: float


@dataclass(frozen=True, eq=False)
class BoxValue:
    """The value of a holding: ``mean`` from C-03, the rest from the distribution.

    Lines and cards are worked out when they are asked for, per holding (of a pack: per box, as the odds have it).
    """

    valuation: Valuation
    holding: Holding
    outcomes: Distribution

    @property
    def basis(self) -> ValueBasis:
        return self.valuation.worth.basis

    @property
    def boxes(self) -> float:
        """How many boxes it is; a pack is a part of one."""
        is_pack = self.holding.unit is Unit.PACK
        return 1 / self.valuation.format.packs_per_box if is_pack else float(self.holding.boxes)

    @property
    def _boxes(self) -> int:
        return self.holding.boxes if self.holding.unit is Unit.BOXES else 1

    @cached_property
    def mean(self) -> float:
        if self.holding.unit is Unit.PACK:  # C-03 is per box; a single pack has the moments of its own slots
            return self.outcomes.mean
        return expected_value(self.valuation, self.holding.boxes)

    @cached_property
    def by_line(self) -> tuple[LineShare, ...]:
        return share_by_line(self.valuation, self._boxes)

    @cached_property
    def cards(self) -> tuple[CardShare, ...]:
        return share_by_card(self.valuation, self._boxes)

    @cached_property
    def top_heavy(self) -> TopHeavy:
        return _top_heavy(self.cards, expected_value(self.valuation, self._boxes))

    @property
    def assumed(self) -> tuple[Assumed, ...]:
        return self.valuation.assumed

    @cached_property
    def left_out(self) -> tuple[LeftOut, ...]:
        return self.valuation.left_out(self._boxes)

    @property
    def lower_bound(self) -> bool:
        return bool(self.left_out)

    @property
    def quantiles(self) -> dict[float, float]:
        return {share: self.outcomes.quantile(share) for share in SHARES}

    @property
    def worst_tenth(self) -> float:
        return self.outcomes.worst_mean(WORST)


def find_box_value(
    sheet: ProductSheet,
    format_id: str,
    holding: Holding = ONE_BOX,
    bound: Bound = Bound.MAIN,
    step: float | None = None,
    worth: Worth = GROSS,
) -> BoxValue:
    """Value a pack or a number of boxes of a format. Rules C-01 to C-04. Raises InputError for what it refuses."""
    return value_holding(value_format(sheet, format_id, bound, worth), holding, step)


def value_holding(valuation: Valuation, holding: Holding, step: float | None = None) -> BoxValue:
    """Value a pack or a number of boxes of a format whose lines are valued. Rules C-03 and C-04.

    Where each further copy sells for less (C-02), the mean is exact and the spread comes from a simulation.
    """
    boxes = holding.boxes if holding.unit is Unit.BOXES else 1
    deep = deepen(valuation, boxes)
    if deep is valuation or holding.unit is Unit.PACK:
        return BoxValue(deep, holding, value_distribution(deep, holding, step))
    mean = expected_value(deep, boxes)
    drawn = simulate_depth(valuation, boxes, max(_MOST_DRAWN // boxes, _LEAST_DRAWN), np.random.default_rng(_SEED))
    return BoxValue(deep, holding, sampled(drawn, mean))


def _top_heavy(cards: tuple[CardShare, ...], mean: float) -> TopHeavy:
    def best(count: int) -> float | None:
        return sum(card.value for card in cards[:count]) / mean if mean > 0 else None

    return TopHeavy(best(1), best(5), best(10), mean - (cards[0].value if cards else 0.0))
