"""Statistics of counts and means, on SciPy's special functions.

Only ``scipy.special`` is loaded here: what needs ``optimize`` or ``stats`` is for the server, the worker and the
commands that cannot do without.
"""

from collections.abc import Sequence
from math import sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import special

Array = NDArray[np.float64]
_EXACT = 60  # values of which all ways to share out the ranks are counted
_SLACK = 1 + 1e-7  # outcomes as likely as the observed count too, in spite of rounding (as SciPy's binomtest has it)


def binomial_masses(trials: int, chance: float) -> Array:
    """The chances of 0 .. trials hits (shape (trials + 1,))."""
    k = np.arange(trials + 1)
    ways = special.gammaln(trials + 1) - special.gammaln(k + 1) - special.gammaln(trials - k + 1)
    masses: Array = np.exp(ways + special.xlogy(k, chance) + special.xlog1py(trials - k, -chance))
    return masses


def poisson_masses(mean: float, most: int) -> Array:
    """The chances of 0 .. most hits with a mean (shape (most + 1,))."""
    k = np.arange(most + 1)
    masses: Array = np.exp(special.xlogy(k, mean) - mean - special.gammaln(k + 1))
    return masses


def two_sided(masses: Array, observed: int) -> float:
    """The chance of all outcomes that are no likelier than the observed one. Rule C-13."""
    return min(float(masses[masses <= masses[observed] * _SLACK].sum()), 1.0)


def binomial_at_least(hits: int, trials: int, chance: float) -> float:
    """The chance of so many hits or more."""
    return 1.0 if hits <= 0 else float(special.bdtrc(hits - 1, trials, chance))


def poisson_at_least(hits: int, mean: float) -> float:
    """The chance of so many hits or more."""
    return 1.0 if hits <= 0 else float(special.pdtrc(hits - 1, mean))


def wilson(hits: int, trials: int, confidence: float = 0.95) -> tuple[float, float]:
    """Wilson's interval of a rate (Wilson 1927). Raises ValueError for counts that cannot be. Rule C-13.

    >>> [round(end, 4) for end in wilson(11, 25)]
    [0.2667, 0.6293]
    """
    if not 0 <= hits <= trials or trials < 1:
        raise ValueError(f"{hits} of {trials} cannot be")
    z = float(special.ndtri((1 + confidence) / 2))
    share, z2 = hits / trials, z**2
    middle = (share + z2 / (2 * trials)) / (1 + z2 / trials)
    half = z / (1 + z2 / trials) * sqrt(share * (1 - share) / trials + z2 / (4 * trials**2))
    return max(middle - half, 0.0), min(middle + half, 1.0)


def normal_at_most(z: float) -> float:
    """The chance that a standard normal value is at most z."""
    return float(special.ndtr(z))


def normal_point(share: float) -> float:
    """The point that a share of the standard normal lies under."""
    return float(special.ndtri(share))


def rank_sum_p_value(first: Sequence[float], second: Sequence[float]) -> float:
    """The two-sided p of the Mann-Whitney test (Wilcoxon's rank sum): exact over all ways to share out the ranks, ties
    at their middle rank, for up to 60 values in all; beyond, the normal approximation with the correction for ties.
    Rule C-14."""
    n, values = len(first), np.array([*first, *second])
    _, place, counts = np.unique(values, return_inverse=True, return_counts=True)
    doubled = (2 * np.cumsum(counts) - counts + 1)[place]  # twice the middle rank: whole numbers
    total, seen = values.size, int(doubled[:n].sum())
    middle = n * (total + 1)
    if total > _EXACT:
        ties = float((counts**3 - counts).sum()) / (total * (total - 1))
        variance = n * (total - n) / 12 * ((total + 1) - ties)
        return 1.0 if variance <= 0 else float(2 * special.ndtr(-abs(seen - middle) / 2 / sqrt(variance)))
    ways = np.zeros((n + 1, int(doubled.sum()) + 1))
    ways[0, 0] = 1.0
    for rank in doubled:
        ways[1:, rank:] += ways[:-1, : ways.shape[1] - rank].copy()
    sums = np.arange(ways.shape[1])
    as_far = np.abs(sums - middle) >= abs(seen - middle)
    return min(float(ways[n, as_far].sum() / ways[n].sum()), 1.0)


def newcombe(area: float, first: int, second: int, confidence: float = 0.95) -> tuple[float, float]:
    """The score interval of an area under the curve from so many of each (Newcombe 2006, "Confidence intervals for an
    effect size measure based on the Mann-Whitney statistic", Statistics in Medicine 25, method 5; from memory).
    Rule C-14."""
    z2 = normal_point((1 + confidence) / 2) ** 2
    others = (first + second) / 2 - 1

    def is_within(theta: float) -> bool:
        spread = 1 + others * (1 - theta) / (2 - theta) + others * theta / (1 + theta)
        return (area - theta) ** 2 <= z2 * theta * (1 - theta) * spread / (first * second)

    def end(inside: float, outside: float) -> float:
        for _ in range(60):
            middle = (inside + outside) / 2
            inside, outside = (middle, outside) if is_within(middle) else (inside, middle)
        return inside

    return end(area, 0.0), end(area, 1.0)


def student_point(degrees: int, share: float) -> float:
    """The point that a share of Student's t lies under.

    >>> round(student_point(10, 0.95), 3)
    1.812
    """
    return float(special.stdtrit(degrees, share))
