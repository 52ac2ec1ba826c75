"""The distribution of a total, as masses on points, and what is read off it."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tobbix.core.maths.severity import Array

_TOLERANCE = 1e-9
_SLACK = 1e-6  # amounts this near are one (money)
_BETWEEN = 26  # amounts looked at in one round of a search
_AT_ONCE = 2_000_000  # amounts looked up together


@dataclass(frozen=True, eq=False)
class Part:
    """A total that is the sum of two independent ones: ``points`` (ascending, money) with ``chances``, which sum to the
    chance of the part, plus one of ``offsets`` (money) with ``weights``, which sum to 1."""

    points: Array
    chances: Array
    offsets: Array
    weights: Array

    @cached_property
    def _from(self) -> Array:
        return np.append(np.cumsum(self.chances[::-1])[::-1], 0.0)

    @cached_property
    def _mean_from(self) -> Array:
        return np.append(np.cumsum((self.chances * self.points)[::-1])[::-1], 0.0)

    @property
    def mean(self) -> float:
        """The part's share of the mean of all (money)."""
        return float(self.chances @ self.points + self.chances.sum() * (self.weights @ self.offsets))

    @property
    def second_moment(self) -> float:
        """The part's share of the mean square of all (money squared)."""
        own, mean, chance = self.chances @ self.points**2, self.chances @ self.points, self.chances.sum()
        offset = self.weights @ self.offsets
        return float(own + 2 * mean * offset + chance * (self.weights @ self.offsets**2))

    def at_least(self, amounts: Array, slack: float) -> tuple[Array, Array]:
        """P(total >= amount - slack) of this part, and its share of the mean from there on (shape of ``amounts``)."""
        chance, mean = np.empty(amounts.shape), np.empty(amounts.shape)
        every = max(_AT_ONCE // self.offsets.size, 1)
        for start in range(0, amounts.size, every):
            some = slice(start, start + every)
            at = np.searchsorted(self.points, amounts[some, None] - self.offsets - slack)
            above = self._from[at]
            chance[some] = above @ self.weights
            mean[some] = self._mean_from[at] @ self.weights + above @ (self.weights * self.offsets)
        return chance, mean

    def nearest(self, amount: float) -> float:
        """The atom nearest to an amount."""
        at = np.clip(np.searchsorted(self.points, amount - self.offsets), 1, max(self.points.size - 1, 1))
        atoms = np.concatenate(
            [self.offsets + self.points[at - 1], self.offsets + self.points[np.minimum(at, self.points.size - 1)]]
        )
        return float(atoms[np.argmin(np.abs(atoms - amount))])


@dataclass(frozen=True, eq=False)
class Distribution:
    """A total of ``parts``: what comes without a dear draw, and with each number of them.

    ``mean`` and ``deviation`` come from the generating function itself, not from the parts; ``least`` and ``greatest``
    are what the total can be at all (money). ``step`` is that of the grid of the parts, ``whole`` whether every amount
    lies on it; where it does not, the points are the means of the grid's cells. ``error`` tells how much chance may
    stand at a wrong amount: half of what the fullest cell of such a grid holds, if others lie beside it, what the
    transform may have put at a wrong place (``wrap_around``), and what was too rare to be kept apart, which is put at
    one amount so that the mean stays. Of a simulation, it is two standard errors of a chance of a half, and ``samples``
    how many were drawn.
    """

    parts: tuple[Part, ...]
    mean: float
    deviation: float
    least: float
    greatest: float
    step: float
    whole: bool
    wrap_around: float
    error: float
    samples: int = 0

    @property
    def size(self) -> int:
        """How many points there are (each part's, without its offsets)."""
        return sum(part.points.size for part in self.parts)

    @property
    def grid_mean(self) -> float:
        """The mean of the masses as they lie: equals ``mean`` but for rounding."""
        return sum(part.mean for part in self.parts)

    def at_least(self, amounts: Array) -> Array:
        """P(total >= each of ``amounts``); it never rises with the amount."""
        return self._above(amounts, _SLACK)[0]

    def chance_at_least(self, amount: float) -> float:
        """P(total >= amount)."""
        return float(self.at_least(np.array([amount]))[0])

    def _above(self, amounts: Array, slack: float) -> tuple[Array, Array]:
        chance, mean = np.zeros(amounts.shape), np.zeros(amounts.shape)
        for part in self.parts:
            some, of_mean = part.at_least(amounts, slack)
            chance += some
            mean += of_mean
        chance = np.where(amounts - slack <= self.least, 1.0, np.clip(chance, 0.0, 1.0))
        return np.where(amounts - slack > self.greatest, 0.0, chance), mean

    def quantile(self, share: float) -> float:
        """The least x with F(x) >= share."""
        if not 0 < share < 1:
            raise ValueError("a quantile is asked for a share between 0 and 1")
        return self._first(lambda above: above <= 1 - share + _TOLERANCE)

    def highest_with_chance(self, share: float) -> float:
        """The highest amount x with P(total >= x) >= share."""
        if not 0 < share < 1:
            raise ValueError("the chance must be between 0 and 1")
        return self._first(lambda above: above < share - _TOLERANCE)

    def _first(self, holds: Callable[[Array], NDArray[np.bool_]]) -> float:
        """The atom x where P(total > x) first ``holds``."""
        low, high = self.least - 1.0, self.greatest
        while high - low > max(_SLACK, 1e-12 * abs(high)):
            between = np.linspace(low, high, _BETWEEN)
            found = np.nonzero(holds(self._above(between[1:-1], -_SLACK)[0]))[0]
            at = int(found[0]) + 1 if found.size else _BETWEEN - 1
            low, high = float(between[at - 1]), float(between[at])
        return min((part.nearest(high) for part in self.parts), key=lambda atom: abs(atom - high))

    def worst_mean(self, share: float) -> float:
        """The mean of the worst ``share`` of outcomes; a mass on the border is split."""
        border = self.quantile(share)
        chance, mean = self._above(np.array([border]), _SLACK)
        below, of_mean = 1 - float(chance[0]), self.grid_mean - float(mean[0])
        return (of_mean + (share - below) * border) / share

    def binned(self, edges: Array) -> NDArray[np.float64]:
        """Chances of [edges[i], edges[i+1]), and at the end of all from the last edge on (shape (len(edges),))."""
        at_least = self.at_least(edges)
        return np.append(at_least[:-1] - at_least[1:], at_least[-1])


def sampled(drawn: Array, mean: float) -> Distribution:
    """The distribution of what was drawn at random (money), moved so that its mean is the one that is known exactly."""
    points = np.sort(drawn) + (mean - float(drawn.mean()))
    points = np.maximum(points, 0.0)
    part = Part(points, np.full(points.size, 1 / points.size), np.zeros(1), np.ones(1))
    return Distribution(
        (part,), mean, float(points.std()), float(points[0]), float(points[-1]), 0.01, False, 0.0,
        1 / points.size**0.5, points.size,
    )  # fmt: skip
