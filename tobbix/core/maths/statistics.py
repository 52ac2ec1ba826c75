"""Statistics of counts and means, on SciPy's special functions.

Only ``scipy.special`` is loaded here: what needs ``optimize`` or ``stats`` is for the server, the worker and the
commands that cannot do without.
"""

from math import sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import special

Array = NDArray[np.float64]
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


def student_point(degrees: int, share: float) -> float:
    """The point that a share of Student's t lies under.

    >>> round(student_point(10, 0.95), 3)
    1.812
    """
    return float(special.stdtrit(degrees, share))
