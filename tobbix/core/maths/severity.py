"""Severities: what one draw may be worth, as values with chances, and the grid that suits them."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_MOST_DECIMALS = 4


@dataclass(frozen=True, eq=False)
class Severity:
    """A discrete value: ``values`` >= 0 (money, shape (n,)) with ``chances`` (shape (n,), sum 1)."""

    values: Array
    chances: Array

    def __post_init__(self) -> None:
        if self.values.shape != self.chances.shape or self.values.ndim != 1 or self.values.size == 0:
            raise ValueError("values and chances must be two equally long, non-empty vectors")
        if not (np.isfinite(self.values).all() and (self.values >= 0).all()):
            raise ValueError("values must be finite and not negative")
        if (self.chances < 0).any() or abs(self.chances.sum() - 1) > 1e-9:
            raise ValueError("chances must not be negative and must sum to 1")

    @cached_property
    def mean(self) -> float:
        return float(self.values @ self.chances)

    def split_variance(self, step: float) -> float:
        """What splitting between the points of a grid adds to the variance of one draw."""
        share = self.values / step % 1.0
        return float((share * (1 - share)) @ self.chances) * step**2

    @cached_property
    def second_moment(self) -> float:
        return float((self.values**2) @ self.chances)


@dataclass(frozen=True, slots=True)
class Lattice:
    """A step, and whether every value is a whole multiple of it."""

    step: float
    whole: bool


def find_lattice(severities: Iterable[Severity]) -> Lattice | None:
    """The largest step of up to four decimals that the values are multiples of; None if all of them are 0.

    Values that have more decimals (an assumed mean, say) do not count, but then the lattice is not whole.

    >>> find_lattice([Severity(np.array([0.05, 1.0]), np.array([0.5, 0.5]))])
    Lattice(step=0.05, whole=True)
    """
    values = np.unique(np.concatenate([s.values for s in severities]))
    values = values[values > 0]
    if values.size == 0:
        return None
    finest = values * 10**_MOST_DECIMALS
    even = np.abs(finest - np.rint(finest)) < 1e-6 * np.maximum(finest, 1.0)
    if not even.any():
        return Lattice(float(values.max()) / 2**14, False)
    common = int(np.gcd.reduce(np.rint(finest[even]).astype(np.int64)))
    return Lattice(common / 10**_MOST_DECIMALS, bool(even.all()))


def on_grid(severity: Severity, step: float, length: int) -> Array:
    """Chances on the grid 0, step, ..., (length-1) step; a value between two points is split so that the mean stays.

    Values at or past the end are left off, since they cannot reach any total inside the grid.
    """
    position = severity.values / step
    below = np.floor(position + 1e-9)
    share = np.clip(position - below, 0.0, 1.0)
    share[share < 1e-7] = 0.0
    index = np.minimum(below, length).astype(np.int64)
    grid = np.bincount(index, weights=severity.chances * (1 - share), minlength=length + 2)
    grid += np.bincount(index + 1, weights=severity.chances * share, minlength=length + 2)
    return np.asarray(grid[:length], np.float64)
