"""How sure a loss is: by holding, as the market moves, and because prices themselves are uncertain (Rule C-06).

Example EX1 (C-04) at 60: if the market halves until the sale, break-even has a chance of 0.07154; grown by half,
0.25441.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from scipy import special

from tobbix.core.base.errors import InputError
from tobbix.core.maths.distribution import Distribution
from tobbix.core.maths.severity import Array
from tobbix.core.products.valuation import Valuation
from tobbix.core.products.worth import ValueBasis, Worth

FACTORS = tuple(round(0.4 + 0.1 * i, 1) for i in range(13))
_PRICES = 60
_WORLDS = 2_000
_STEPS = 4_000
_WIDEST = 3.6  # deviations of the factor; beyond them it changes nothing that is shown


@dataclass(frozen=True, slots=True)
class Uncertainty:
    """How far prices may be wrong: the standard deviation of the log of each by itself, and of all together."""

    own: float = 0.25
    market: float = 0.2

    def __post_init__(self) -> None:
        for name in ("own", "market"):
            if not 0 <= getattr(self, name) <= 2:
                raise InputError.at(name, "must be from 0 to 2 (0.25 is about 25 % either way)")


@dataclass(frozen=True, eq=False)
class MarketCurves:
    """The chance of break-even against the price (money, shape (prices,)), for each market factor.

    ``chances`` has shape (factors, prices); ``at_price`` the chances at the price asked, None without one.
    """

    factors: tuple[float, ...]
    prices: Array
    chances: Array
    at_price: Array | None


def draw_market_curves(
    find: Callable[[Worth], Distribution], worth: Worth, outlay: float | None, reach: float
) -> MarketCurves:
    """Chances of break-even as the market moves all prices until the sale. Rule C-06.

    ``find`` gives a holding's distribution by worth; gross values scale with the market, so one does for all.
    ``outlay`` is all that it costs (money, None without a price), ``reach`` how far the curve goes.
    """
    prices = np.linspace(0, reach, _PRICES + 1)
    rows, at_price = [], []
    base = find(worth) if worth.basis is ValueBasis.GROSS else None
    for factor in FACTORS:
        if base is not None:
            outcomes, scale = base, factor
        else:
            outcomes, scale = find(replace(worth, factor=worth.factor * factor)), 1.0
        rows.append(outcomes.at_least(prices / scale))
        if outlay is not None:
            at_price.append(outcomes.chance_at_least(outlay / scale))
    return MarketCurves(FACTORS, prices, np.array(rows), np.array(at_price) if outlay is not None else None)


def mix_market(
    find: Callable[[Worth], Distribution], worth: Worth, outlay: float | None, uncertainty: Uncertainty
) -> float | None:
    """The chance of break-even if the market factor itself is lognormal with median 1, over all of it; None without a
    price. Rule C-06.

    Gross values scale with the factor, so the integral is over one distribution; others are worked out at
    factors evenly apart in the log. EX1 at 60, spread 0.2: 0.1266; 0.5: 0.178; 1: 0.271; 2: 0.369.
    """
    if outlay is None:
        return None
    spread = uncertainty.market
    if spread == 0:
        return find(worth).chance_at_least(outlay)
    deviations = special.ndtri((np.arange(_STEPS) + 0.5) / _STEPS)
    if worth.basis is ValueBasis.GROSS:
        return float(find(worth).at_least(outlay / np.exp(deviations * spread)).mean())
    nodes = np.linspace(-_WIDEST, _WIDEST, 15 + 2 * ceil(20 * max(spread - 0.3, 0.0)))
    moved = (find(replace(worth, factor=worth.factor * float(np.exp(node * spread)))) for node in nodes)
    weights = np.exp(-(nodes**2) / 2)  # the trapezoidal rule: for a normal density it is as good as any (Goodwin 1949)
    return float(weights / weights.sum() @ [outcomes.chance_at_least(outlay) for outcomes in moved])


@dataclass(frozen=True, slots=True)
class MeanSpread:
    """How far the average itself may be off because prices are uncertain: one in twenty is under ``low``, one in twenty
    over ``high`` (money)."""

    low: float
    middle: float
    high: float


def spread_mean(
    valuation: Valuation, boxes: float, uncertainty: Uncertainty, random: np.random.Generator
) -> MeanSpread:
    """The average of a holding over worlds of prices. Rule C-06.

    Each price has a lognormal error of its own, with mean 1, and one that all share, with middle 1; ``random`` makes it
    repeatable.
    """
    market = np.exp(random.normal(0, uncertainty.market, _WORLDS))
    totals = np.zeros(_WORLDS)
    hits, usable = valuation.model.hits_per_box(), float(valuation.format.usable)
    for line, drawn_hits in hits.items():
        value, drawn = valuation.lines[line], valuation.drawn(line)
        if drawn is None or not value.versions:
            continue
        sold = valuation.worth.sold(line)
        copies = value.shares * drawn_hits * boxes * usable
        for start in range(0, _WORLDS, 200):  # so that a long checklist fits into memory
            moved = np.exp(random.normal(-(uncertainty.own**2) / 2, uncertainty.own, (200, copies.size)))
            worth = valuation.worth.of(value.prices * moved * market[start : start + 200, None])
            totals[start : start + 200] += (worth * sold + (1 - sold) * valuation.worth.bulk) @ copies
    low, middle, high = (float(q) for q in np.quantile(totals, (0.05, 0.5, 0.95)))
    return MeanSpread(low, middle, high)


@dataclass(frozen=True, slots=True)
class HoldingLoss:
    """The chance of a loss of a holding at today's market; None without a price."""

    name: str
    boxes: float
    outlay: float | None
    mean: float
    loss: float | None


def surest(losses: Sequence[HoldingLoss]) -> HoldingLoss | None:
    """The holding most likely to lose, None if none has a price."""
    known = [item for item in losses if item.loss is not None]
    return max(known, key=lambda item: item.loss or 0.0) if known else None
