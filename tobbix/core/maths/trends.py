"""Slopes that a few wild points do not turn: Theil and Sen's, on SciPy's ``stats``, which is slow to load."""

from functools import lru_cache

import numpy as np
from scipy import stats

from tobbix.core.maths.severity import Array

_MANY = 2_000  # points: all pairs of more take a second, so that what was found is kept


def theil_sen(at: Array, values: Array) -> tuple[float, float, float]:
    """The median slope over all pairs of points, with its 95 % from Kendall's tau (Theil 1950; Sen 1968); NaN for both
    ends where too many are alike to tell them.

    >>> theil_sen(np.array([0.0, 1.0, 2.0]), np.array([1.0, 3.0, 5.0]))[0]
    2.0
    """
    if at.size > _MANY:
        return _kept(np.asarray(at, np.float64).tobytes(), np.asarray(values, np.float64).tobytes())
    return _slopes(at, values)


@lru_cache(maxsize=64)
def _kept(at: bytes, values: bytes) -> tuple[float, float, float]:
    return _slopes(np.frombuffer(at), np.frombuffer(values))


def _slopes(at: Array, values: Array) -> tuple[float, float, float]:
    with np.errstate(invalid="ignore"):  # of many equal amounts the spread of tau cannot be told
        found = stats.theilslopes(values, at)
    return float(found[0]), float(found[2]), float(found[3])
