"""Generating functions in which rare dear draws are counted apart from the rest, and the extremes of a total.

A total of many cheap and a few dear draws has no grid that suits both: fine enough for the cheap ones it is endless,
long enough for the dear ones it is coarse. So a dear draw puts a mark on the generating function instead of moving the
grid: a ``Marked`` element holds, for each number of dear draws of each kind, the transform of the cheap ones beside
them. The ways in which dear draws come are few; what is rarer than is worth it (in chance and in its part of the mean)
is dropped, and counted by whoever sums up.
"""

from dataclasses import dataclass
from operator import add, mul

import numpy as np

from tobbix.core.maths.severity import Array
from tobbix.core.maths.transforms import Spectrum

Key = tuple[int, ...]


class TooMany(ArithmeticError):
    """The dear draws come in more ways than are worth keeping apart."""


@dataclass(slots=True)
class Effort:
    """How much work multiplying may take, in products of terms; ``weights`` are the dear means over the total's. Terms
    that are less than ``negligible`` are dropped."""

    weights: tuple[float, ...]
    left: int
    negligible: float

    def dear(self, key: Key) -> float:
        """What so many dear draws add up to on average, over the total's mean."""
        return float(sum(map(mul, key, self.weights)))

    def spend(self, products: int) -> None:
        self.left -= products
        if self.left < 0:
            raise TooMany


class Marked:
    """Terms by the number of dear draws of each kind: the chance of it, and the transform of the rest beside it (or a
    plain 1, where only the ways are counted).

    Knows ``*``, ``+`` and multiplication by a float (see ``transforms.Element``).
    """

    __slots__ = ("effort", "terms")

    def __init__(self, terms: dict[Key, tuple[float, Spectrum | float]], effort: Effort) -> None:
        self.terms = terms
        self.effort = effort

    def __mul__(self, other: "Marked | float") -> "Marked":
        if not isinstance(other, Marked):
            if other == 1.0:
                return self
            return Marked({key: (mass * other, rest * other) for key, (mass, rest) in self.terms.items()}, self.effort)
        effort, least = self.effort, self.effort.negligible
        effort.spend(len(self.terms) * len(other.terms))
        made: dict[Key, tuple[float, Spectrum | float]] = {}
        rights = [(key, effort.dear(key), *term) for key, term in other.terms.items()]
        for left, (left_mass, left_rest) in self.terms.items():
            left_dear = effort.dear(left)
            for right, right_dear, right_mass, right_rest in rights:
                mass = left_mass * right_mass
                if mass < least and mass * (left_dear + right_dear) < least:
                    continue
                key = tuple(map(add, left, right))
                rest = left_rest * right_rest
                known = made.get(key)
                if known is not None:
                    mass += known[0]
                    rest += known[1]  # it was made here: nobody else has it
                made[key] = (mass, rest)
        return Marked(made, effort)

    def __add__(self, other: "Marked") -> "Marked":
        made = dict(self.terms)
        for key, (mass, rest) in other.terms.items():
            known = made.get(key)
            made[key] = (mass, rest) if known is None else (known[0] + mass, known[1] + rest)
        return Marked(made, self.effort)


class Drawn:
    """How often each of several severities is drawn: ``counts`` on average (shape (severities,)), by their ``mass``."""

    __slots__ = ("counts", "mass")

    def __init__(self, mass: float, counts: Array) -> None:
        self.mass = mass
        self.counts = counts

    def __mul__(self, other: "Drawn | float") -> "Drawn":
        if isinstance(other, Drawn):
            return Drawn(self.mass * other.mass, self.mass * other.counts + self.counts * other.mass)
        return Drawn(self.mass * other, self.counts * other)

    def __add__(self, other: "Drawn") -> "Drawn":
        return Drawn(self.mass + other.mass, self.counts + other.counts)


class Extreme:
    """The least and the greatest that a total can be (money): ``*`` adds, ``+`` takes the outer of both.

    >>> x = Extreme(1.0, 5.0)
    >>> (x * x + Extreme(0.0, 3.0) * 0.5).least
    0.0
    """

    __slots__ = ("greatest", "least")

    def __init__(self, least: float, greatest: float) -> None:
        self.least = least
        self.greatest = greatest

    def __mul__(self, other: "Extreme | float") -> "Extreme":
        if isinstance(other, Extreme):
            return Extreme(self.least + other.least, self.greatest + other.greatest)
        return self if other > 0 else Extreme(np.inf, -np.inf)  # what has no chance counts for neither

    def __add__(self, other: "Extreme") -> "Extreme":
        return Extreme(min(self.least, other.least), max(self.greatest, other.greatest))
