"""The answer about a format: a pack, a box, several boxes or a case beside each other, and the most to pay for each."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Verdict
from tobbix.core.maths.distribution import Distribution
from tobbix.core.maths.severity import Array
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.most_to_pay import BuyingCosts, MostToPay, PayingRule, most_to_pay
from tobbix.core.products.valuation import ONE_BOX, Bound, Holding, Unit
from tobbix.core.products.verdict import Asked, ask, state_verdict

_SHOWN_CHANCE = 0.985
_SHOWN_BELOW = 0.0005
_BARS = 36


@dataclass(frozen=True, eq=False)
class Worked:
    """A format's figures that do not depend on a price: the chosen holding's, its case's, and at both bounds."""

    value: BoxValue
    low: BoxValue | None
    high: BoxValue | None
    case: BoxValue | None


@dataclass(frozen=True, slots=True)
class BoundAnswer:
    """The same at a bound of what is unknown (Rule C-01)."""

    value: BoxValue
    loss: float | None
    most: MostToPay


@dataclass(frozen=True, slots=True)
class Answer:
    """What is said about a holding at a price."""

    asked: Asked
    loss: float | None
    most: MostToPay
    low: BoundAnswer | None
    high: BoundAnswer | None
    verdict: Verdict


@dataclass(frozen=True, eq=False)
class Histogram:
    """Chances of bins between ``edges`` (money); the last chance is of the last edge and more."""

    edges: Array
    chances: Array


Find = Callable[[Holding, Bound], BoxValue]


def work_out(find: Find, holding: Holding) -> Worked:
    """Everything about a holding that takes time; ``find`` values a holding at a bound. C-01 to C-04."""
    value = find(holding, Bound.MAIN)
    low = find(holding, Bound.LOW) if any(not assumed.by_owner for assumed in value.assumed) else None
    high = find(holding, Bound.HIGH) if value.valuation.undecided else None
    boxes = value.valuation.format.boxes_per_case
    case = None
    if boxes is not None and boxes > 1 and holding == ONE_BOX:
        case = find(Holding(Unit.BOXES, boxes), Bound.MAIN)
    return Worked(value, low, high, case)


def answer_at(worked: Worked, price: float | None, rule: PayingRule, costs: BuyingCosts) -> Answer:
    """The answer at a sticker ``price`` per box or pack (money, None if unknown). Rules C-04 and C-07."""
    if price is not None and not 0 <= price <= 99_999_999:
        raise InputError.at("price", "must be from 0 to 99,999,999")
    value = worked.value
    asked = ask(price, value, costs)
    case_loss = None
    if worked.case is not None and price is not None:
        case_loss = chance_of_loss(worked.case.outcomes, ask(price, worked.case, costs))
    most = most_to_pay(value.outcomes, rule, costs, value.boxes)

    def at_bound(other: BoxValue | None) -> BoundAnswer | None:
        if other is None:
            return None
        most = most_to_pay(other.outcomes, rule, costs, other.boxes)
        return BoundAnswer(other, chance_of_loss(other.outcomes, asked), most)

    return Answer(
        asked,
        chance_of_loss(value.outcomes, asked),
        most,
        at_bound(worked.low),
        at_bound(worked.high),
        state_verdict(value, asked, most, rule, case_loss),
    )


def chance_of_loss(outcomes: Distribution, asked: Asked) -> float | None:
    """The chance that the value stays under all that it costs, None without a price. Rule C-04."""
    return None if asked.outlay is None else max(1 - outcomes.chance_at_least(asked.outlay), 0.0)


def draw_curve(outcomes: Distribution, reach: float | None = None, points: int = 60) -> tuple[tuple[float, float], ...]:
    """The chance that an outcome is at least an amount, from nothing to ``reach`` (None: what 1 in 50 exceeds), as
    (money, chance)."""
    reach = reach or outcomes.quantile(0.98)
    prices = np.arange(points + 1) * reach / points
    return tuple(zip(prices.tolist(), outcomes.at_least(prices).tolist(), strict=True))


def draw_histogram(outcomes: Distribution, must_show: float | None) -> Histogram:
    """Bins of a round width over the bulk of the outcomes, wide enough to show an amount (money). Rule C-04.

    They begin at 0 unless that would leave the left third empty; the first bin holds all that is under it too.
    """
    reach = max(outcomes.quantile(_SHOWN_CHANCE), (must_show or 0.0) * 1.15, outcomes.mean * 1.15, outcomes.step)
    low = min(outcomes.quantile(_SHOWN_BELOW), reach if must_show is None else must_show)
    start = low if low > reach / 3 else 0.0
    width = (reach - start) / _BARS
    unit = 10.0 ** np.floor(np.log10(width))
    width = next(unit * k for k in (5, 2.5, 2, 1) if unit * k <= width * (1 + 1e-9))
    edges = np.arange(int(np.floor(start / width)), int(np.ceil(reach / width)) + 1) * width
    chances = outcomes.binned(edges)
    chances[0] += 1 - outcomes.chance_at_least(float(edges[0]))
    return Histogram(edges, chances)
