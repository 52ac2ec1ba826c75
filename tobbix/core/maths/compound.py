"""Compound distributions by the discrete Fourier transform, with rare dear draws kept apart.

The problem: a total is a sum of many draws, its generating function a polynomial in those of the draws. On one grid,
a single value a thousand times as dear as the rest either makes the grid huge or the step useless; and where values do
not lie on the grid, splitting them between its points blurs what is certain.

The method: aggregate loss distributions by the transform (Klugman, Panjer and Willmot, *Loss Models*, ch. 9), with
exponential tilting against wrap-around (Gruebel and Hermesmeier 1999, "Computation of compound distributions I:
aliasing errors and exponential tilting", ASTIN Bulletin 29): a tilted grid of length L is right below L whatever lies
beyond, but for a share exp(-TILT) of the chance of L and more. Two things make it exact where it matters:

- Dear values put a mark on the generating function instead of moving the grid (``marked``); for each number of dear
  draws of each kind their sum is added up value by value, beside the transform of the cheap rest.
- Where even the cheap values' own lattice is too fine, each value goes to the nearest point of a coarser grid, and what
  is left over turns the phase of its chance by a small angle. The phase of a cell's total is then the mean of what was
  left over in it, so that every cell stands at its own mean: a single outcome stays where it is, and so does the mean.

Example: a pack pays 1 with chance 1/2: ten packs have P(total = 5) = 252 / 1024.
"""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import comb, exp, prod
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from tobbix.core.maths.distribution import Distribution, Part
from tobbix.core.maths.marked import Drawn, Effort, Extreme, Key, Marked, TooMany
from tobbix.core.maths.severity import Array, Lattice, Severity, find_lattice
from tobbix.core.maths.transforms import E_, Series, Span, Spectrum

TILT = 14.0
_ALIASED = exp(-TILT) / (1 - exp(-TILT))
_SPREAD = 12.0  # deviations that a grid reaches beyond the mean of what lies on it
_FINE = tuple(2**k for k in (13, 14, 15, 16, 17, 18))  # lengths of grids on the values' own lattice, the least first
_COARSE = (2**15, 2**16, 2**17, 2**18)  # of one that is coarser
_FULL = 4e-4  # of all chance in half of a cell that is not one amount is too much: then the grid is a longer one
_NARROW = 3e-4  # of the deviation: cells narrower than that are fine enough, whatever they hold
_LONGER = 2**17
_LOST = 0.001  # the part of the spread that may lie within the cells of a coarse grid
_MANY = 12.0  # expected draws that are too many to keep apart
_MOST_POINTS = 2**20
_EFFORT = 60_000_000  # multiplications of points that keeping draws apart may take
_LIGHT = 12_000_000  # what it should take
_WINDOW = 8  # times as coarse as it could be is a grid at most, so that it takes less
_SUM = 1_000  # of them that a sum of draws kept apart stands for, since it is looked up with every amount
_ANGLE = 2e-3  # how far left-over amounts may turn a phase, as a deviation of the whole total's
_MOST_SUMS = 20_000  # sums of dear draws that are kept one by one
_HEAVY = 1e-5  # the chance from which on a sum is kept, however many there are
_RARE = 1e-7  # ways of dear draws that are rarer, in chance and in their part of the mean, are put at one amount; on a
# coarse grid, which has an error of its own, only those that are ten times as rare
_NOISE = 1e-13  # what is missing of the chance by rounding alone


class Composition(Protocol):
    """The total's generating function from those of its draws."""

    def __call__(self, leaf: Callable[[Severity], E_], /) -> E_: ...


def series_of(severity: Severity) -> Series:
    """The severity's generating function up to its second moment."""
    return Series(1.0, severity.mean, severity.second_moment / 2)


def distribute(severities: Sequence[Severity], compose: Composition, step: float | None = None) -> Distribution:
    """The distribution of a compound total.

    Parameters: ``severities`` all that ``compose`` may ask for; ``compose(leaf)`` the total's generating function from
    those of its severities; ``step`` a grid step (money) to use instead of the chosen one. Raises ValueError for one
    that is not positive, or far too fine. Rule C-04.
    """
    moments = compose(series_of)
    firsts = [severity for severity in severities if severity.first is not None]
    mean = moments.mean + sum(_more_for_first(severity, compose) for severity in firsts)
    deviation = moments.variance**0.5
    if step is not None and not step * _MOST_POINTS > mean + deviation:
        raise ValueError("the grid step must be positive, and not too fine for the amounts")
    extreme = compose(_extreme)
    lattice = find_lattice(severities)
    if lattice is None:  # everything is worth nothing
        nothing = Part(np.zeros(1), np.ones(1), np.zeros(1), np.ones(1))
        return Distribution((nothing,), 0.0, 0.0, 0.0, 0.0, 0.01, True, 0.0, 0.0)
    plan = _plan(severities, compose, lattice, moments, step)
    parts, wrap_around, cell = _parts(plan, compose)
    if step is None and cell / 2 > _FULL and plan.step > _NARROW * deviation and plan.length < _LONGER:
        plan = _plan(severities, compose, lattice, moments, step, _LONGER)
        parts, wrap_around, cell = _parts(plan, compose)
    rest = 1.0 - sum(float(part.chances.sum()) for part in parts)
    if rest > _NOISE:
        left = mean - sum(part.mean for part in parts)
        at = min(max(left / rest, extreme.least), extreme.greatest)
        parts.append(Part(np.array([at]), np.array([rest]), np.zeros(1), np.ones(1)))
    if firsts:
        deviation = max(sum(part.second_moment for part in parts) - mean**2, 0.0) ** 0.5
    return Distribution(
        tuple(parts), mean, deviation, extreme.least, extreme.greatest, plan.step, plan.whole, wrap_around,
        cell / 2 + wrap_around + max(rest, 0.0),
    )  # fmt: skip


def _expected_draws(severities: Sequence[Severity], compose: Composition) -> Array:
    """How often each severity is drawn, on average (shape (severities,))."""
    each = {id(severity): row for severity, row in zip(severities, np.eye(len(severities)), strict=True)}
    return compose(lambda severity: Drawn(1.0, each[id(severity)])).counts


def _extreme(severity: Severity) -> Extreme:
    values = severity.values[severity.chances > 0]
    values = values if severity.first is None else np.append(values, severity.first)
    return Extreme(float(values.min()), float(values.max()))


def _more_for_first(severity: Severity, compose: Composition) -> float:
    """What a first draw that counts for another amount adds to the mean (money): the chance of any, exactly."""
    none = compose(lambda other: 0.0 if other is severity else 1.0)
    return (1 - none) * ((severity.first or 0.0) - severity.mean)


@dataclass(frozen=True)
class _Plan:
    """Which values lie on which grid: those up to ``cap`` that are on ``lattice``, or all up to it without one. The
    draws of ``marked`` severities that lie on none are kept apart. ``left_over`` is the expected square of what is left
    over by the nearest points (money squared)."""

    severities: Sequence[Severity]
    cap: float
    lattice: Lattice | None
    step: float
    length: int
    marked: tuple[Severity, ...]
    weights: tuple[float, ...]
    angle: float
    left_over: float

    @property
    def whole(self) -> bool:
        return self.lattice is not None

    def counted(self, compose: Composition, effort: int) -> Marked:
        """The total with nothing on the grid: how dear draws come. Raises TooMany."""
        return compose(self.leaf(lambda severity: 1.0, effort))

    def leaf(self, rest_of: Callable[[Severity], Spectrum | float], effort: int) -> Callable[[Severity], Marked]:
        """Draws as marked elements; ``rest_of`` gives the transform of a draw's cheap values, with their chance."""
        shared = Effort(self.weights, effort, _RARE if self.whole else _RARE / 10)
        none = (0,) * len(self.marked)

        def leaf(severity: Severity) -> Marked:
            chance = _apart(severity, self.cap, self.lattice)[1]
            terms: dict[Key, tuple[float, Spectrum | float]] = {}
            rest = rest_of(severity)
            if chance < 1:
                terms[none] = (1 - chance, rest)
            if chance > 0:
                kind = next(at for at, known in enumerate(self.marked) if known is severity)
                key = tuple(int(at == kind) for at in range(len(self.marked)))
                terms[key] = (chance, rest * 0.0 + chance)
            return Marked(terms, shared)

        return leaf


def _plan(
    severities: Sequence[Severity],
    compose: Composition,
    lattice: Lattice,
    moments: Series,
    step: float | None,
    shortest: int = 0,
) -> _Plan:
    """The cap and the grid that cost least: on the values' own lattice where that can be, else on a coarser one, of
    which the ``shortest`` has so many points."""
    mean, variance = moments.mean, moments.variance
    values = np.unique(np.concatenate([s.values for s in severities]))
    by_id = {id(severity): severity for severity in severities}
    reaches: dict[tuple[int, float, bool], float] = {}

    def reach(at: int, grid: float, grid_lattice: Lattice | None) -> float:
        """How far a grid must go that holds the values up to that one, each on its nearest point."""
        known = (at, grid, grid_lattice is None)
        if known not in reaches:
            spans: dict[int, Span] = {}

            def span(severity: Severity) -> Span:
                if id(severity) not in spans:
                    apart = _apart(severity, float(values[at]), grid_lattice)[0]
                    near = np.where(apart, 0.0, np.rint(severity.values / grid) * grid)
                    first, second = float(near @ severity.chances), float(near**2 @ severity.chances)
                    spans[id(severity)] = Span(1.0, first, second / 2, float(near.max()))
                return spans[id(severity)]

            cheap = compose(span)
            reaches[known] = min(cheap.mean + _SPREAD * cheap.variance**0.5, cheap.greatest)
        return reaches[known]

    def highest(grid: float, length: int, on: Lattice | None, low: int = 0) -> int | None:
        """The highest value from ``low`` on up to which that grid holds all; None if it does not even hold that."""
        room = grid * (length - 2)
        high = values.size - 1
        if reach(high, grid, on) <= room:
            return high
        if reach(low, grid, on) > room:
            return None
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if reach(middle, grid, on) <= room else (low, middle)
        return low

    def made(at: int, grid: float, length: int, on: Lattice | None) -> _Plan:
        cap = float(values[at])
        apart = {id(s): (s, *_apart(s, cap, on)) for s in severities}
        marked = {key: found for key, found in apart.items() if found[2] > 0}
        weights = tuple(
            float(s.values[which] @ s.chances[which]) / chance / mean for s, which, chance in marked.values()
        )
        angle, left_over = 0.0, 0.0
        if on is None:
            left = compose(
                lambda s: series_of(
                    Severity(np.where(apart[id(s)][1], 0.0, _left_over(s.values, grid) ** 2), s.chances)
                )
            )
            left_over = left.mean
            angle = _ANGLE / max(left_over, grid**2 * 1e-4) ** 0.5
        kinds = tuple(found[0] for found in marked.values())
        return _Plan(severities, cap, on, grid, length, kinds, weights, angle, left_over)

    def effort_of(plan: _Plan) -> int | None:
        """What the plan takes, in multiplications of points; None if that is too much."""
        allowed = _EFFORT // plan.length
        try:
            counted = plan.counted(compose, allowed)
        except TooMany:
            return None
        kinds = [
            np.unique(severity.values[_apart(severity, plan.cap, plan.lattice)[0]]).size for severity in plan.marked
        ]
        sums = sum(
            min(prod(comb(kind + count - 1, count) for kind, count in zip(kinds, key, strict=True)), _MOST_SUMS)
            for key in counted.terms
        )
        effort = (allowed - counted.effort.left) * plan.length + sums * _SUM
        return effort if effort <= _EFFORT else None

    drawn = dict(zip(map(id, severities), _expected_draws(severities, compose).tolist(), strict=True))

    def expected(at: int, on: Lattice | None) -> float:
        """How many draws are expected that a grid which holds the values up to that one keeps apart."""
        return float(sum(drawn[key] * _apart(s, float(values[at]), on)[1] for key, s in by_id.items()))

    def coarse(length: int) -> _Plan:
        """A grid of that length, the finest that takes little, and not much coarser than the finest there could be."""
        least = bisect_left(range(values.size), True, key=lambda at: expected(at, None) <= _MANY)
        grid = _round_up(max(reach(least, lattice.step, None) / (length - 2), 1e-4))
        known: list[tuple[int, _Plan]] = []
        low = 0
        while not known or grid <= _WINDOW * known[0][1].step:
            at = highest(grid, length, None, low)
            low = at or low  # a coarser grid holds no fewer
            if at is not None and at >= least:
                plan = made(at, grid, length, None)
                effort = effort_of(plan)
                if at == values.size - 1 or (effort is not None and effort <= _LIGHT):
                    return plan
                if effort is not None:
                    known.append((effort, plan))
            grid = _round_up(grid * 1.01)
        return min(known, key=lambda item: item[0])[1]

    def cheapest(grid: float, lengths: Sequence[int], on: Lattice | None, most: int) -> _Plan | None:
        """Of the plans on one grid that which takes least; None if each takes more than ``most``."""
        found: list[tuple[int, _Plan]] = []
        for length in lengths:
            at = highest(grid, length, on)
            if at is None or expected(at, on) > _MANY:
                continue
            plan = made(at, grid, length, on)
            effort = effort_of(plan)
            if effort is not None and effort <= most:
                found.append((effort, plan))
            if at == values.size - 1:
                break  # a longer grid would hold no more
        return min(found, key=lambda item: item[0])[1] if found else None

    if step is not None:
        asked = cheapest(step, (*_FINE, _MOST_POINTS), None, _EFFORT)
        if asked is None:
            raise ValueError("the grid step is too fine for the amounts")
        return asked
    exact = cheapest(lattice.step, _FINE, lattice, _EFFORT // 2)
    if exact is not None:
        return exact
    for length in (known for known in _COARSE if known >= shortest):
        plan = coarse(length)
        if plan.left_over <= _LOST * variance:  # what lies within cells is at most that part of the spread
            break
    return plan


def _parts(plan: _Plan, compose: Composition) -> tuple[list[Part], float, float]:
    """The parts of the total by the number of dear draws; the wrap-around of the worst of them; and the most that a
    cell holds which is coarser than the lattice and lies among others, so that it may hold several amounts."""
    tilt = np.exp(-TILT / plan.length * np.arange(plan.length))
    spectra = {id(severity): _spectrum(plan, severity, tilt) for severity in plan.severities}
    total = compose(plan.leaf(lambda severity: spectra[id(severity)], _EFFORT))
    sums = _Sums(plan)
    parts, wrap_around, cell = [], 0.0, 0.0
    for key, (mass, spectrum) in total.terms.items():
        tilted = np.fft.irfft(np.asarray(spectrum), plan.length) if plan.whole else np.fft.ifft(np.asarray(spectrum))
        size = tilted if plan.whole else np.abs(tilted)
        # Below the transform's own rounding a mass is noise; taking the tilt off would blow it up at the far end.
        at = np.nonzero(size > 8 * np.finfo(float).eps * float(np.abs(size).max()))[0]
        if at.size == 0:
            continue
        chances = size[at] / tilt[at]
        points = np.round(at * plan.step, 9)
        if not plan.whole:
            beside = np.zeros(chances.size)
            beside[1:] = np.where(np.diff(at) == 1, chances[:-1], 0.0)
            beside[:-1] = np.maximum(beside[:-1], np.where(np.diff(at) == 1, chances[1:], 0.0))
            cell = max(cell, float(np.minimum(beside, chances).max()))
            points = np.maximum(at * plan.step + np.angle(tilted[at]) / plan.angle, 0.0)
            order = np.argsort(points)
            points, chances = points[order], chances[order]
        wrap_around = max(wrap_around, max(mass - float(chances.sum()), 0.0) * _ALIASED)
        parts.append(Part(points, chances, *sums.of(key)))
    return parts, wrap_around, cell


def _apart(severity: Severity, cap: float, lattice: Lattice | None) -> tuple[NDArray[np.bool_], float]:
    """Which values do not lie on the grid, and the chance of them."""
    apart = severity.values > cap
    if severity.first is not None:
        apart = np.ones(severity.values.shape, np.bool_)
    elif lattice is not None and not lattice.whole:
        apart |= ~lattice.holds(severity.values)
    return apart, float(severity.chances[apart].sum())


def _left_over(values: Array, step: float) -> Array:
    return values - np.rint(values / step) * step


def _spectrum(plan: _Plan, severity: Severity, tilt: Array) -> Spectrum:
    """The transform of a draw's cheap values on the tilted grid; values past its end reach no total inside it."""
    cheap = ~_apart(severity, plan.cap, plan.lattice)[0]
    values, chances = severity.values[cheap], severity.chances[cheap]
    index = np.minimum(np.rint(values / plan.step), plan.length).astype(np.int64)
    if plan.whole:
        grid = np.bincount(index, weights=chances, minlength=plan.length + 1)[: plan.length]
        return np.asarray(np.fft.rfft(grid * tilt), np.complex128)
    turned = plan.angle * _left_over(values, plan.step)
    real = np.bincount(index, weights=chances * np.cos(turned), minlength=plan.length + 1)[: plan.length]
    imaginary = np.bincount(index, weights=chances * np.sin(turned), minlength=plan.length + 1)[: plan.length]
    return np.asarray(np.fft.fft((real + 1j * imaginary) * tilt), np.complex128)


class _Sums:
    """What dear draws add up to, by how many there are of each kind."""

    def __init__(self, plan: _Plan) -> None:
        self._kinds = plan.marked
        self._single = [_single(severity, _apart(severity, plan.cap, plan.lattice)[0]) for severity in plan.marked]
        self._known: dict[tuple[int, int], tuple[Array, Array]] = {}

    def of(self, key: Key) -> tuple[Array, Array]:
        """The sums (money) and their chances, which sum to 1."""
        total = (np.zeros(1), np.ones(1))
        for kind, count in enumerate(key):
            if count:
                total = _added(total, self._times(kind, count))
        first = sum(
            s.first - s.mean for s, count in zip(self._kinds, key, strict=True) if count and s.first is not None
        )
        return total[0] + first, total[1]

    def _times(self, kind: int, count: int) -> tuple[Array, Array]:
        if count == 1:
            return self._single[kind]
        if (kind, count) not in self._known:
            self._known[kind, count] = _added(self._times(kind, count - 1), self._single[kind])
        return self._known[kind, count]


def _single(severity: Severity, apart: NDArray[np.bool_]) -> tuple[Array, Array]:
    apart = apart & (severity.chances > 0)
    values, chances = _merged(severity.values[apart], severity.chances[apart])
    return values, chances / chances.sum()


def _merged(amounts: Array, chances: Array) -> tuple[Array, Array]:
    """Amounts that differ by less than a millionth as one, at their mean."""
    place = np.unique(np.round(amounts, 6), return_inverse=True)[1]
    mass = np.bincount(place, weights=chances).astype(np.float64)
    return np.bincount(place, weights=chances * amounts) / mass, mass


def _added(left: tuple[Array, Array], right: tuple[Array, Array]) -> tuple[Array, Array]:
    """The sums of two independent amounts; of more than are kept, the light ones are put together, at their mean."""
    sums = (left[0][:, None] + right[0]).ravel()
    weights = (left[1][:, None] * right[1]).ravel()
    values, chances = _merged(sums, weights)
    if values.size <= _MOST_SUMS:
        return values, chances
    heavy = chances > _HEAVY
    cells = np.linspace(values[0], values[-1], _MOST_SUMS // 2 + 1)
    cell = np.searchsorted(cells, values[~heavy])
    mass = np.bincount(cell, weights=chances[~heavy])
    means = np.bincount(cell, weights=chances[~heavy] * values[~heavy])
    kept = mass > 0
    values = np.concatenate([values[heavy], means[kept] / mass[kept]])
    chances = np.concatenate([chances[heavy], mass[kept]])
    order = np.argsort(values)
    return values[order], chances[order]


def _round_up(step: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    unit = 10.0 ** np.floor(np.log10(step))
    return float(next(unit * k for k in (1, 2, 5, 10) if unit * k >= step * (1 - 1e-12)))
