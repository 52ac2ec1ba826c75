"""Slopes that a few wild points do not turn: Theil and Sen's, on SciPy's ``stats``, which is slow to load."""

from scipy import stats

from tobbix.core.maths.severity import Array


def theil_sen(at: Array, values: Array) -> tuple[float, float, float]:
    """The median slope over all pairs of points, with its 95 % from Kendall's tau (Theil 1950; Sen 1968)."""
    found = stats.theilslopes(values, at)
    return float(found[0]), float(found[2]), float(found[3])
