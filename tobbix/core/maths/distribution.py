"""The distribution of a total, as masses on points, and what is read off it."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tobbix.core.maths.severity import Array

_TOLERANCE = 1e-11


@dataclass(frozen=True)
class Rung:
    """One grid of the ladder: points from ``start`` in steps of ``step``; ``split`` if values were split to fit it."""

    start: float
    step: float
    points: int
    split: bool


@dataclass(frozen=True, eq=False)
class Distribution:
    """Masses ``chances`` at ascending ``points`` (money), with ``tail_chance`` past the last of them.

    ``mean`` and ``deviation`` come from the generating function itself, not from the grid. ``wrap_around`` bounds the
    chance that the transform may have put at a wrong place. ``rungs`` tells the grids that the points come from.
    """

    points: Array
    chances: Array
    mean: float
    deviation: float
    tail_chance: float
    wrap_around: float
    rungs: tuple[Rung, ...]

    @cached_property
    def _cumulative(self) -> Array:
        return np.cumsum(self.chances)

    @cached_property
    def _survival(self) -> Array:
        """P(total >= points[i])."""
        return np.cumsum(self.chances[::-1])[::-1] + self.tail_chance

    @property
    def step(self) -> float:
        """The finest step (money)."""
        return self.rungs[0].step

    @property
    def grid_mean(self) -> float:
        """The mean of the masses as they lie: equals ``mean`` but for the tail and rounding."""
        return float(self.points @ self.chances)

    def quantile(self, share: float) -> float:
        """The least x with F(x) >= share."""
        if not 0 < share < 1:
            raise ValueError("a quantile is asked for a share between 0 and 1")
        index = int(np.searchsorted(self._cumulative, share - _TOLERANCE))
        return float(self.points[min(index, self.points.size - 1)])

    def chance_at_least(self, amount: float) -> float:
        """P(total >= amount). On a grid that values were split to fit, interpolated within the cell."""
        if amount <= 0:
            return 1.0
        rung = next((r for r in self.rungs if amount < r.start + r.step * (r.points - 0.5)), None)
        if rung is None:
            return self.tail_chance
        if not rung.split:
            return self._from(amount - rung.step * 1e-6)
        low = rung.start + np.floor((amount - rung.start) / rung.step - 0.5) * rung.step
        within = (amount - low) / rung.step - 0.5  # a mass stands for half a cell on either side of its point
        at_low, at_high = self._from(low + rung.step / 2), self._from(low + 1.5 * rung.step)
        return float((1 - within) * at_low + within * at_high)

    def _from(self, amount: float) -> float:
        index = int(np.searchsorted(self.points, amount))
        return float(self._survival[index]) if index < self.points.size else self.tail_chance

    def highest_with_chance(self, share: float) -> float:
        """The highest amount x with P(total >= x) >= share."""
        if not 0 < share < 1:
            raise ValueError("the chance must be between 0 and 1")
        reached = np.nonzero(self._survival >= share - _TOLERANCE)[0]
        return float(self.points[reached[-1]]) if reached.size else 0.0

    def worst_mean(self, share: float) -> float:
        """The mean of the worst ``share`` of outcomes; a mass on the border is split."""
        taken = np.minimum(self._cumulative, share)
        weights = np.diff(taken, prepend=0.0)
        return float(self.points @ weights) / share

    def binned(self, edges: Array) -> NDArray[np.float64]:
        """Chances of [edges[i], edges[i+1]), and at the end of all from the last edge on (shape (len(edges),))."""
        at_least = np.array([self.chance_at_least(float(edge)) for edge in edges])
        return np.append(at_least[:-1] - at_least[1:], at_least[-1])
