"""Compound distributions by the discrete Fourier transform, on a ladder of grids.

The problem: a total is a sum of many draws, its generating function a polynomial in those of the draws. On one grid,
a single value a thousand times as dear as the rest either makes the grid huge or the step useless.

The method: aggregate loss distributions by the transform (Klugman, Panjer and Willmot, *Loss Models*, ch. 9), with
exponential tilting against wrap-around (Gruebel and Hermesmeier 1999, "Computation of compound distributions I:
aliasing errors and exponential tilting", ASTIN Bulletin 29). A tilted grid of length L is right below L whatever lies
beyond, but for a share exp(-TILT) of the chance of L and more. So the first grid is fine and covers the bulk, the next
covers 32 times as much with the same number of points, and so on until (almost) nothing lies beyond. Each rung
contributes the points that the rung before does not reach; its step is small against the amounts there.

Example: a pack pays 1 with chance 1/2: ten packs have P(total = 5) = 252 / 1024.
"""

from collections.abc import Callable, Sequence

import numpy as np

from tobbix.core.maths.distribution import Distribution, Rung
from tobbix.core.maths.severity import Array, Severity, find_lattice, on_grid
from tobbix.core.maths.transforms import Series, Spectrum

TILT = 14.0
_POINTS = 2**15  # of the first grid, if the values' own lattice does not fit into four times as many
_MOST_POINTS = 2**19  # where fewer would add too much variance by splitting
_ADDED_VARIANCE = 0.002  # what splitting may add, as a share of the variance of the bulk
_TAIL_POINTS = 2**14  # of every further grid
_LADDER = 32.0
_NEGLIGIBLE = 1e-9
_MOST_RUNGS = 7

Composition = Callable[[Callable[[Severity], Spectrum]], Spectrum]
MomentComposition = Callable[[Callable[[Severity], Series]], Series]


def series_of(severity: Severity) -> Series:
    """The severity's generating function up to its second moment."""
    return Series(1.0, severity.mean, severity.second_moment / 2)


def distribute(
    severities: Sequence[Severity],
    compose: Composition,
    compose_moments: MomentComposition,
    bulk: tuple[float, float],
    largest: float,
    step: float | None = None,
) -> Distribution:
    """The distribution of a compound total.

    Parameters: ``severities`` all that ``compose`` may ask for; ``compose(leaf)`` the total's generating function from
    those of its severities; ``compose_moments`` the same over series; ``bulk`` mean and deviation of the total without
    its rare dear values (money), which sets the first grid; ``largest`` the greatest possible total; ``step`` a grid
    step to use instead of the chosen one. Raises ValueError for one that is not positive, or far too fine. Rule C-04.
    """
    moments = compose_moments(series_of)
    mean, deviation = moments.mean, moments.variance**0.5
    if step is not None and not step * _MOST_POINTS > mean + deviation:
        raise ValueError("the grid step must be positive, and not too fine for the amounts")
    found = find_lattice(severities)
    if found is None:  # everything is worth nothing
        return Distribution(np.zeros(1), np.ones(1), mean, deviation, 0.0, 0.0, (Rung(0.0, 1.0, 1, False),))
    lattice = found.step
    reach = min(mean + 12 * deviation, largest) + 2 * lattice
    if reach / lattice > _POINTS:  # rare dear values spread it out: begin with what lies below them
        reach = min(bulk[0] + 12 * bulk[1], largest) + 2 * lattice
    points: list[Array] = []
    chances: list[Array] = []
    rungs: list[Rung] = []
    wrap_around, covered, beyond = 0.0, 0.0, 1.0
    for _ in range(_MOST_RUNGS):
        if rungs:
            rung_step, length = _grid(reach, lattice, _TAIL_POINTS, _TAIL_POINTS)
        elif step is not None:
            rung_step, length = step, _power_of_two(reach / step)
        else:
            allowed = moments.variance + _ADDED_VARIANCE * bulk[1] ** 2
            rung_step, length = _first_grid(reach, lattice, compose_moments, allowed)
        split = (
            not found.whole
            or rung_step > lattice * (1 + 1e-9)
            or abs(lattice / rung_step - round(lattice / rung_step)) > 1e-9
        )
        masses = _tilted(severities, compose, rung_step, length)
        first = int(np.ceil(covered / rung_step - 1e-9))
        masses_here = masses[first:]
        remaining = max(1.0 - float(masses.sum()), 0.0)
        if rungs:
            masses_here = _joined(masses_here, beyond - remaining)
        points.append(np.round(np.arange(first, length) * rung_step, 9))
        chances.append(masses_here)
        rungs.append(Rung(first * rung_step, rung_step, length - first, split))
        wrap_around = max(wrap_around, remaining * float(np.exp(-TILT)) / (1 - float(np.exp(-TILT))))
        covered, beyond = length * rung_step, remaining
        if beyond < _NEGLIGIBLE or covered > largest:
            break
        reach = min(covered * _LADDER, largest + 2 * lattice)
    else:
        wrap_around = max(wrap_around, beyond)
    if covered > largest:
        beyond = 0.0
    return Distribution(
        np.concatenate(points), np.concatenate(chances), mean, deviation, beyond, wrap_around, tuple(rungs)
    )


def _joined(masses: Array, total: float) -> Array:
    """Masses of a rung mended at its lower end so that they sum to what the finer rung left over.

    Splitting blurs the coarse rung where the finer one ends; further up it is right, and stays as it is.
    """
    short = total - float(masses.sum())
    if short >= 0:
        mended = masses.copy()
        mended[0] += short
        return mended
    return np.diff(np.maximum(np.cumsum(masses) + short, 0.0), prepend=0.0)


def _first_grid(reach: float, lattice: float, compose_moments: MomentComposition, allowed: float) -> tuple[float, int]:
    """A grid over the bulk on which splitting leaves the variance under ``allowed``, if one can."""
    points = _POINTS
    step, length = _grid(reach, lattice, points, 4 * points)
    while step > lattice and points < _MOST_POINTS:
        widened = compose_moments(_widened(step))
        if widened.variance <= allowed:
            break
        points *= 2
        step, length = _grid(reach, lattice, points, points)
    return step, length


def _widened(step: float) -> Callable[[Severity], Series]:
    """Severities as a grid holds them, up to the second moment."""
    return lambda s: Series(1.0, s.mean, (s.second_moment + s.split_variance(step)) / 2)


def _grid(reach: float, lattice: float, points: int, most_on_lattice: int) -> tuple[float, int]:
    """Step and number of points: the values' own lattice where it fits, else a round step."""
    step = lattice if reach / lattice <= most_on_lattice else _round_up(reach / (points - 2))
    return step, _power_of_two(reach / step)


def _power_of_two(steps: float) -> int:
    return int(2 ** int(np.ceil(np.log2(max(steps + 1, 64)))))


def _round_up(step: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    unit = 10.0 ** np.floor(np.log10(step))
    return float(next(unit * k for k in (1, 2, 5, 10) if unit * k >= step * (1 - 1e-12)))


def _tilted(severities: Sequence[Severity], compose: Composition, step: float, length: int) -> Array:
    """Masses at 0, step, ...: transform the tilted severities, compose, transform back, take the tilt off."""
    tilt = np.exp(-TILT / length * np.arange(length))
    spectra: dict[int, Spectrum] = {
        id(severity): np.fft.rfft(on_grid(severity, step, length) * tilt) for severity in severities
    }
    tilted: Array = np.fft.irfft(compose(lambda severity: spectra[id(severity)]), length)
    # Below the transform's own rounding a mass is noise; taking the tilt off would blow it up at the far end.
    noise = 8 * np.finfo(float).eps * float(np.abs(tilted).max())
    tilted[tilted < noise] = 0.0
    return np.asarray(tilted / tilt)
