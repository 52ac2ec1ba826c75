"""The compound distribution against published worked examples, recursion and closed forms."""

from collections.abc import Callable
from functools import reduce
from typing import TypeVar

import numpy as np
import pytest

from tobbix.core.maths.compound import distribute
from tobbix.core.maths.distribution import Distribution
from tobbix.core.maths.severity import Severity
from tobbix.core.maths.transforms import Element, power

T = TypeVar("T", bound=Element)


def compound(severity: Severity, counts: list[float]) -> Distribution:
    """The total of N draws, P(N = n) = counts[n]."""
    nothing = Severity(np.zeros(1), np.ones(1))

    def compose(leaf: Callable[[Severity], T]) -> T:
        terms = [power(leaf(severity), n, leaf(nothing)) * p for n, p in enumerate(counts) if p > 0]
        return reduce(lambda left, right: left + right, terms)

    return distribute([severity, nothing], compose)


def masses(found: Distribution, count: int) -> list[float]:
    """P(total = 0), P(total = 1), ..."""
    at_least = found.at_least(np.arange(count + 1.0))
    return [float(chance) for chance in at_least[:-1] - at_least[1:]]


def test_the_worked_example_of_bowers_and_others() -> None:
    """Bowers, Gerber, Hickman, Jones and Nesbitt, *Actuarial Mathematics*, ex. 12.2.1; values from memory."""
    severity = Severity(np.array([1.0, 2.0, 3.0]), np.array([0.5, 0.4, 0.1]))
    found = compound(severity, [0.1, 0.3, 0.4, 0.2])
    published = [0.1, 0.15, 0.22, 0.215, 0.164, 0.095, 0.0408, 0.0126, 0.0024, 0.0002]
    assert masses(found, 10) == pytest.approx(published, abs=1e-9)
    assert found.mean == pytest.approx(1.7 * 1.6)
    assert found.grid_mean == pytest.approx(found.mean, abs=1e-9)


def test_panjers_recursion_for_a_compound_binomial() -> None:
    """Panjer 1981, "Recursive evaluation of a family of compound distributions": a = -p/(1-p), b = (n+1)p/(1-p)."""
    n, p = 16, 0.3
    severity = Severity(np.array([1.0, 4.0, 9.0]), np.array([0.6, 0.3, 0.1]))
    a, b = -p / (1 - p), (n + 1) * p / (1 - p)
    f = {1: 0.6, 4: 0.3, 9: 0.1}
    recursive = [(1 - p) ** n]
    for x in range(1, 60):
        recursive.append(sum((a + b * y / x) * fy * recursive[x - y] for y, fy in f.items() if y <= x))
    counts = [float(np.prod([(n - i) / (i + 1) for i in range(k)])) * p**k * (1 - p) ** (n - k) for k in range(n + 1)]
    assert masses(compound(severity, counts), 60) == pytest.approx(recursive, abs=1e-12)


def test_one_value_a_million_times_the_rest_spoils_neither_end() -> None:
    severity = Severity(np.array([0.05, 1.0, 1_000_000.0]), np.array([0.9, 0.0999, 0.0001]))
    found = compound(severity, [0.0] * 100 + [1.0])
    none = 0.9999**100  # no dear value: the rest is a sum of 0.05 and 1
    assert found.chance_at_least(500_000) == pytest.approx(1 - none, rel=1e-6)
    from_binomial = sum(_binomial(100, k, 0.0999, 0.9) for k in range(11))
    assert 1 - found.chance_at_least(10 + 90 * 0.05 + 0.001) == pytest.approx(from_binomial, abs=1e-7)
    assert found.grid_mean == pytest.approx(found.mean, rel=1e-6)
    assert len(found.parts) > 1 and found.whole and found.error < 1e-6


def _binomial(n: int, k: int, p: float, q: float) -> float:
    return float(np.prod([(n - i) / (i + 1) for i in range(k)])) * p**k * q ** (n - k)


def test_values_between_grid_points_keep_their_mean() -> None:
    severity = Severity(np.array([np.pi, np.e, 1 / 3]), np.array([0.2, 0.3, 0.5]))
    found = compound(severity, [0.0] * 12 + [1.0])
    assert found.chance_at_least(12 * np.pi - 1e-4) == pytest.approx(0.2**12, rel=1e-6)
    assert found.grid_mean == pytest.approx(found.mean, rel=1e-9)
    assert found.chance_at_least(found.mean) == pytest.approx(0.47, abs=0.05)


def test_a_quantile_is_the_least_x_and_the_border_of_the_worst_tenth_is_split() -> None:
    found = compound(Severity(np.array([1.0, 2.0]), np.array([0.25, 0.75])), [0.0, 1.0])
    assert [found.quantile(share) for share in (0.2, 0.25, 0.26)] == [1.0, 1.0, 2.0]
    assert found.worst_mean(0.5) == pytest.approx((0.25 * 1 + 0.25 * 2) / 0.5)
    assert (found.chance_at_least(2), found.chance_at_least(2.01)) == (pytest.approx(0.75), pytest.approx(0.0))
    assert found.highest_with_chance(0.75) == 2.0 and found.highest_with_chance(0.76) == 1.0
