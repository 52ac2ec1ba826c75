"""What a holding is worth, as one named result (Rules C-03 and C-04): the figures behind every answer."""

from dataclasses import dataclass

from tobbix.core.base.results import Assumed, LeftOut
from tobbix.core.maths.distribution import Distribution
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import (
    ONE_BOX,
    CardShare,
    Holding,
    LineShare,
    Unit,
    Valuation,
    ValueBasis,
    expected_value,
    share_by_card,
    share_by_line,
    value_distribution,
    value_format,
)

SHARES = (0.05, 0.25, 0.5, 0.75, 0.95)
WORST = 0.1


@dataclass(frozen=True, slots=True)
class TopHeavy:
    """How much few cards carry: shares of the expected value, None if that is 0."""

    best_one: float | None
    best_five: float | None
    best_ten: float | None
    without_best: float


@dataclass(frozen=True, eq=False)
class BoxValue:
    """The value of a holding: ``mean`` from C-03, the rest from the distribution. Lines and cards are per holding."""

    valuation: Valuation
    holding: Holding
    basis: ValueBasis
    mean: float
    outcomes: Distribution
    by_line: tuple[LineShare, ...]
    cards: tuple[CardShare, ...]
    top_heavy: TopHeavy
    assumed: tuple[Assumed, ...]
    left_out: tuple[LeftOut, ...]

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
    sheet: ProductSheet, format_id: str, holding: Holding = ONE_BOX, low: bool = False, step: float | None = None
) -> BoxValue:
    """Value a pack or a number of boxes of a format, gross. Rules C-01 to C-04.

    ``low`` counts unknown prices at the lowest known of their line. Raises InputError for what cannot be valued.
    """
    valuation = value_format(sheet, format_id, low)
    outcomes = value_distribution(valuation, holding, step)
    if holding.unit is Unit.PACK:  # C-03 is per box; a single pack has the moments of its own slots
        boxes, mean = 1, outcomes.mean
    else:
        boxes, mean = holding.boxes, expected_value(valuation, holding.boxes)
    cards = share_by_card(valuation, boxes)
    return BoxValue(
        valuation,
        holding,
        ValueBasis.GROSS,
        mean,
        outcomes,
        share_by_line(valuation, boxes),
        cards,
        _top_heavy(cards, expected_value(valuation, boxes)),
        valuation.assumed,
        valuation.left_out(boxes),
    )


def _top_heavy(cards: tuple[CardShare, ...], mean: float) -> TopHeavy:
    def best(count: int) -> float | None:
        return sum(card.value for card in cards[:count]) / mean if mean > 0 else None

    return TopHeavy(best(1), best(5), best(10), mean - (cards[0].value if cards else 0.0))
