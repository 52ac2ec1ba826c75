"""Severities: what one draw may be worth, as values with chances, and the grid that suits them."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_MOST_DECIMALS = 4
_ON = 5e-7  # a value so near to a point lies on it (money)


@dataclass(frozen=True, eq=False)
class Severity:
    """A discrete value: ``values`` >= 0 (money, shape (n,)) with ``chances`` (shape (n,), sum 1).

    Of one single value, the ``first`` draw of a total may count for another amount than the further ones.
    """

    values: Array
    chances: Array
    first: float | None = None

    def __post_init__(self) -> None:
        if self.values.shape != self.chances.shape or self.values.ndim != 1 or self.values.size == 0:
            raise ValueError("values and chances must be two equally long, non-empty vectors")
        if not (np.isfinite(self.values).all() and (self.values >= 0).all()):
            raise ValueError("values must be finite and not negative")
        if (self.chances < 0).any() or abs(self.chances.sum() - 1) > 1e-9:
            raise ValueError("chances must not be negative and must sum to 1")
        if self.first is not None and self.values.size != 1:
            raise ValueError("only of a single value may the first draw count for another amount")

    @cached_property
    def mean(self) -> float:
        return float(self.values @ self.chances)

    @cached_property
    def second_moment(self) -> float:
        return float((self.values**2) @ self.chances)


@dataclass(frozen=True, slots=True)
class Lattice:
    """A step, and whether every value is a whole multiple of it."""

    step: float
    whole: bool

    def holds(self, values: Array) -> NDArray[np.bool_]:
        """Which values are whole multiples of the step."""
        return np.abs(values - np.rint(values / self.step) * self.step) < _ON


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
    even = np.abs(finest - np.rint(finest)) < _ON * 10**_MOST_DECIMALS
    if not even.any():
        return Lattice(float(values.max()) / 2**14, False)
    common = int(np.gcd.reduce(np.rint(finest[even]).astype(np.int64)))
    return Lattice(common / 10**_MOST_DECIMALS, bool(even.all()))
