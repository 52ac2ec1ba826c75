"""Generating functions as things that are multiplied, added and raised to powers.

A compound model is written once, over any element that knows ``*``, ``+`` and multiplication by a float: a vector of
Fourier coefficients gives its distribution, a ``Series`` its mean and variance, exactly and without a grid.
"""

from typing import Protocol, Self, TypeVar

import numpy as np
from numpy.typing import NDArray


class Element(Protocol):
    """What a generating function must be able to do."""

    def __mul__(self, other: Self | float, /) -> Self: ...

    def __add__(self, other: Self, /) -> Self: ...


class Series:
    """E[exp(sX)] up to the second power of s: (1, mean, second moment / 2), each scaled by a mass."""

    __slots__ = ("terms",)

    def __init__(self, mass: float, first: float = 0.0, half_second: float = 0.0) -> None:
        self.terms = (mass, first, half_second)

    def __mul__(self, other: "Series | float") -> "Series":
        a0, a1, a2 = self.terms
        if isinstance(other, Series):
            b0, b1, b2 = other.terms
            return Series(a0 * b0, a0 * b1 + a1 * b0, a0 * b2 + a1 * b1 + a2 * b0)
        return Series(a0 * other, a1 * other, a2 * other)

    def __add__(self, other: "Series") -> "Series":
        return Series(*(a + b for a, b in zip(self.terms, other.terms, strict=True)))

    @property
    def mean(self) -> float:
        return self.terms[1]

    @property
    def variance(self) -> float:
        return max(2 * self.terms[2] - self.terms[1] ** 2, 0.0)


class Span(Series):
    """A series that also knows the greatest that the total can be (money)."""

    __slots__ = ("greatest",)

    def __init__(self, mass: float, first: float = 0.0, half_second: float = 0.0, greatest: float = 0.0) -> None:
        super().__init__(mass, first, half_second)
        self.greatest = greatest

    def __mul__(self, other: "Series | float") -> "Span":
        more = other.greatest if isinstance(other, Span) else 0.0
        return Span(*super().__mul__(other).terms, self.greatest + more)

    def __add__(self, other: "Series") -> "Span":
        more = other.greatest if isinstance(other, Span) else 0.0
        return Span(*super().__add__(other).terms, max(self.greatest, more))


Spectrum = NDArray[np.complex128]
E_ = TypeVar("E_", bound=Element)


def power(element: E_, exponent: int, one: E_) -> E_:
    """``element`` to a whole power >= 0 by repeated squaring; ``one`` is the element of the constant 0."""
    if exponent < 0:
        raise ValueError("the exponent must not be negative")
    result: E_ | None = None
    square = element
    while exponent:
        if exponent & 1:
            result = square if result is None else result * square
        exponent >>= 1
        if exponent:
            square = square * square
    return one if result is None else result
