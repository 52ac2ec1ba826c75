"""Worlds of prices: how far the chance of a loss and the most to pay may be off because prices are uncertain (C-06)."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, most_to_pay
from tobbix.core.products.prices import Drawn
from tobbix.core.products.sureness import Uncertainty
from tobbix.core.products.valuation import Valuation, expected_value, value_distribution
from tobbix.core.products.worth import value_draw

_CELLS = 500  # of the mean value of a box, on the grid of a world


@dataclass(frozen=True, slots=True)
class Band:
    """One in twenty worlds is under ``low``, half under ``middle``, one in twenty over ``high``."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True, slots=True)
class Worlds:
    """What one box shows over worlds of prices; ``loss`` is None without a price."""

    worlds: int
    mean: Band
    most: Band
    loss: Band | None


def simulate_worlds(
    valuation: Valuation,
    uncertainty: Uncertainty,
    outlay: float | None,
    rule: PayingRule,
    costs: BuyingCosts,
    worlds: int,
    random: np.random.Generator,
    progress: Callable[[int], None],
) -> Worlds:
    """One box in many worlds of prices, each worked out exactly. Rule C-06.

    In a world each price has a lognormal error of its own with mean 1, and all share one with middle 1. ``outlay`` is
    all that the box costs (money); ``random`` makes it repeatable, ``progress`` is told the worlds done.
    """
    means, mosts, losses = [], [], []
    step = expected_value(valuation) / _CELLS or None  # worlds differ by far more than a cell
    for world in range(1, worlds + 1):
        market = float(np.exp(random.normal(0, uncertainty.market)))
        lines = {}
        for line, value in valuation.lines.items():
            drawn = valuation.drawn(line)
            if drawn is None or not value.versions:
                lines[line] = value
                continue
            own = np.exp(random.normal(-(uncertainty.own**2) / 2, uncertainty.own, value.prices.size))
            moved = Drawn(*value_draw(value.prices * own * market, value.shares, valuation.worth, line))
            lines[line] = replace(value, high=moved, low=moved)
        outcomes = value_distribution(replace(valuation, lines=lines), step=step)
        means.append(outcomes.mean)
        mosts.append(most_to_pay(outcomes, rule, costs).sticker)
        if outlay is not None:
            losses.append(max(1 - outcomes.chance_at_least(outlay), 0.0))
        if world % 5 == 0 or world == worlds:
            progress(world)
    return Worlds(worlds, _band(means), _band(mosts), _band(losses) if outlay is not None else None)


def _band(figures: list[float]) -> Band:
    low, middle, high = (float(q) for q in np.quantile(figures, (0.05, 0.5, 0.95)))
    return Band(low, middle, high)
