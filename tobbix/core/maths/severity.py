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

    @cached_property
    def second_moment(self) -> float:
        return float((self.values**2) @ self.chances)


def lattice_step(severities: Iterable[Severity]) -> float | None:
    """The largest step of which every value is a whole multiple, or None if there is none of four decimals.

    >>> lattice_step([Severity(np.array([0.05, 1.0]), np.array([0.5, 0.5]))])
    0.05
    """
    values = np.unique(np.concatenate([s.values for s in severities]))
    values = values[values > 0]
    if values.size == 0:
        return None
    for decimals in range(_MOST_DECIMALS + 1):
        scaled = values * 10**decimals
        whole = np.rint(scaled)
        if np.abs(scaled - whole).max() < 1e-6:
            return float(np.gcd.reduce(whole.astype(np.int64))) / 10**decimals
    return None


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
    return grid[:length]
