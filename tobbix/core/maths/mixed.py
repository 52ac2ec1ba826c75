"""A crossed mixed model of logs: several groups of normal effects, a common level with a slope, and noise.

The problem: an amount is the sum of a level, of effects of groups that cross each other, of an effect of its own unit
that all its observations share, and of noise. The groups are few (thousands at most), the units and observations many.
The method: variances by restricted maximum likelihood (Patterson and Thompson 1971), effects by best linear unbiased
prediction (Henderson 1975; Robinson 1991, "That BLUP is a good thing", Statistical Science 6). The unit's effect is
taken out in closed form, so that the equations have the size of the crossed groups alone, whatever the number of units.

In units of the noise's variance: with w the row of an observation (level, slope, groups), S the sum of the rows of a
unit with n observations and k = v / (1 + n v), the equations are sum(w w') - sum(k S S') plus the inverse variances.
What is predicted of a unit is w'b + k (its residuals' sum), with the error (w - k S)' C^-1 (w - k S) + v / (1 + n v).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy import linalg, optimize, sparse

from tobbix.core.maths.severity import Array

_LEAST, _MOST = -16.0, 12.0  # logs of variances in units of the noise's
Whole = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Crossed:
    """Observations ``values`` (shape (n,)) with a covariate ``slope_of`` (shape (n,)) whose slope is common, the number
    of the ``unit`` of each, and for each of several groups the ``levels`` (shape (groups, n)) and how ``many`` there
    are, seen or not."""

    values: Array
    slope_of: Array
    unit: Whole
    units: int
    levels: Sequence[Whole]
    many: Sequence[int]

    @cached_property
    def fixed(self) -> int:
        """How many fixed effects: the level, and the slope where the covariate differs."""
        return 2 if self.values.size and np.ptp(self.slope_of) > 0 else 1

    @cached_property
    def width(self) -> int:
        return self.fixed + sum(self.many)

    @cached_property
    def offsets(self) -> list[int]:
        """Where the effects of each group begin among all."""
        return [self.fixed + sum(self.many[:at]) for at in range(len(self.many))]

    @cached_property
    def rows(self) -> "sparse.csr_array":
        """The rows of all observations (shape (n, width))."""
        n = self.values.size
        columns = [np.zeros(n, np.int64)] + ([np.ones(n, np.int64)] if self.fixed == 2 else [])
        columns += [offset + level for offset, level in zip(self.offsets, self.levels, strict=True)]
        entries = [np.ones(n)] + ([self.slope_of] if self.fixed == 2 else []) + [np.ones(n)] * len(self.levels)
        at = np.tile(np.arange(n), len(columns))
        return sparse.csr_array(
            (np.concatenate(entries), (at, np.concatenate(columns))), shape=(n, self.width)
        )  # fmt: skip

    @cached_property
    def sums(self) -> "sparse.csr_array":
        """The sum of the rows of each unit (shape (units, width))."""
        n = self.values.size
        gather = sparse.csr_array((np.ones(n), (self.unit, np.arange(n))), shape=(self.units, n))
        return sparse.csr_array(gather @ self.rows)

    @cached_property
    def counts(self) -> Array:
        return np.bincount(self.unit, minlength=self.units).astype(float)

    @cached_property
    def totals(self) -> Array:
        return np.bincount(self.unit, self.values, minlength=self.units).astype(np.float64)

    @cached_property
    def squares(self) -> Array:
        return np.asarray((self.rows.T @ self.rows).toarray(), np.float64)

    @cached_property
    def products(self) -> Array:
        return np.asarray(self.rows.T @ self.values, np.float64)


@dataclass(frozen=True, eq=False)
class Fit:
    """The effects of a crossed model under variances (``groups``, ``unit``, ``noise``); ``inverse`` is the matrix of
    their errors in units of the noise's variance."""

    model: Crossed
    groups: tuple[float, ...]
    unit: float
    noise: float
    effects: Array
    inverse: Array

    @cached_property
    def _shrunk(self) -> Array:
        ratio = self.unit / self.noise
        return np.asarray(ratio / (1 + self.model.counts * ratio), np.float64)

    @cached_property
    def _residuals(self) -> Array:
        """The sum of what the groups leave of each unit's observations."""
        return np.asarray(self.model.totals - self.model.sums @ self.effects, np.float64)

    def predict(self, unit: int, levels: Sequence[int]) -> tuple[float, float]:
        """What is expected of a unit (-1: never seen) at levels of the groups, and the variance of that."""
        row, k = self._row(levels), 0.0
        if unit < 0:
            at = np.flatnonzero(row)
            return float(row @ self.effects), float(self.noise * self.inverse[np.ix_(at, at)].sum() + self.unit)
        k, n = float(self._shrunk[unit]), float(self.model.counts[unit])
        aside = row - k * self._sums[unit]
        at = np.flatnonzero(aside)  # few: its own groups and those of its observations
        ratio = self.unit / self.noise
        spread = aside[at] @ self.inverse[np.ix_(at, at)] @ aside[at] + ratio / (1 + n * ratio)
        return float(row @ self.effects + k * self._residuals[unit]), float(self.noise * spread)

    def predict_together(self, units: Sequence[int], levels: Sequence[Sequence[int]]) -> tuple[Array, Array]:
        """As ``predict`` of several at once (shape (n,)), with the covariances of their errors (shape (n, n))."""
        unit = np.array(units, np.int64)
        known = unit >= 0
        rows = np.array([self._row(each) for each in levels]).reshape(len(levels), self.model.width)
        k, ratio = np.zeros(unit.size), self.unit / self.noise
        k[known] = self._shrunk[unit[known]]
        aside, own = rows.copy(), np.full(unit.size, ratio)
        aside[known] -= k[known, None] * self._sums[unit[known]]
        own[known] = ratio / (1 + self.model.counts[unit[known]] * ratio)
        middle = rows @ self.effects
        middle[known] += k[known] * self._residuals[unit[known]]
        spread = aside @ self.inverse @ aside.T
        alike = known[:, None] & (unit[:, None] == unit[None, :])  # the same version in another state
        np.fill_diagonal(alike, True)
        return middle, np.asarray(self.noise * (spread + alike * own[:, None]), np.float64)

    def weight_of(self, unit: int, levels: Sequence[int], own: Whole) -> float:
        """How much certain observations of a unit (their places), all at the same ``levels``, weigh in what is
        predicted of it there."""
        if unit < 0 or own.size == 0:
            return 0.0
        k, n = float(self._shrunk[unit]), own.size
        row = self._row(levels)
        aside, rows = row - k * self._sums[unit], n * row - n * k * self._sums[unit]
        if self.model.fixed == 2:
            rows[1] += self.model.slope_of[own].sum()
        at, of = np.flatnonzero(aside), np.flatnonzero(rows)
        return float(n * k + aside[at] @ self.inverse[np.ix_(at, of)] @ rows[of])

    def left_out(self, places: Whole) -> tuple[Array, Array]:
        """The residual of each of some observations from what all others predict of it, and its variance (the same
        variances being kept): (P y) / P and noise / P, P the projection's diagonal."""
        k = self._shrunk[self.model.unit[places]]
        rows = self.model.rows[places].toarray() - k[:, None] * self._sums[self.model.unit[places]]
        diagonal = 1 - k - ((rows @ self.inverse) * rows).sum(axis=1)
        own = self.model.values[places] - self.model.rows[places] @ self.effects
        residual = own - k * self._residuals[self.model.unit[places]]
        return residual / diagonal, self.noise / diagonal

    def _row(self, levels: Sequence[int]) -> Array:
        row = np.zeros(self.model.width)
        row[0] = 1.0
        for offset, level in zip(self.model.offsets, levels, strict=True):
            row[offset + level] = 1.0
        return row

    @cached_property
    def _sums(self) -> Array:
        return np.asarray(self.model.sums.toarray(), np.float64)


def fit_under(model: Crossed, groups: Sequence[float], unit: float, noise: float) -> Fit:
    """The effects under variances that are known. Raises ValueError for a noise that is not more than 0."""
    if not noise > 0:
        raise ValueError("the noise must have a variance")
    factor, _, right = _equations(model, np.array(groups) / noise, unit / noise)
    inverse = linalg.cho_solve(factor, np.eye(model.width))
    return Fit(model, tuple(groups), unit, noise, linalg.cho_solve(factor, right), inverse)


def fit_variances(model: Crossed) -> tuple[tuple[float, ...], float, float]:
    """The variances of the groups, of the unit and of the noise, by restricted maximum likelihood. A group with fewer
    than two levels that were seen has none: it cannot be told from the level."""
    seen = [np.unique(level).size > 1 for level in model.levels]
    free = [at for at, is_seen in enumerate(seen) if is_seen]
    has_unit = bool((model.counts > 0).sum() > 1)

    def taken_apart(logs: Array) -> tuple[Array, float]:
        ratios = np.full(len(model.levels), 0.0)
        ratios[free] = np.exp(logs[: len(free)])
        return ratios, float(np.exp(logs[-1])) if has_unit else 0.0

    def criterion(logs: Array) -> float:
        return _restricted(model, *taken_apart(logs))[0]

    start = np.zeros(len(free) + has_unit)
    best = optimize.minimize(
        criterion, start, method="L-BFGS-B", bounds=[(_LEAST, _MOST)] * start.size, options={"maxiter": 200}
    )
    ratios, unit = taken_apart(best.x)
    noise = _restricted(model, ratios, unit)[1]
    return tuple(float(ratio * noise) for ratio in ratios), unit * noise, noise


def _restricted(model: Crossed, groups: Array, unit: float) -> tuple[float, float]:
    """-2 log of the restricted likelihood, the noise's variance taken out, up to a constant; and that variance."""
    (factor, lower), squares, right = _equations(model, groups, unit)
    effects = linalg.cho_solve((factor, lower), right)
    left = model.values.size - model.fixed
    noise = max((squares - right @ effects) / left, 1e-300)
    with_levels = [(ratio, many) for ratio, many in zip(groups, model.many, strict=True) if ratio > 0]
    spread = sum(many * np.log(ratio) for ratio, many in with_levels)
    own = np.log1p(model.counts * unit).sum()
    held = [slice(0, model.fixed)] + [
        slice(offset, offset + many)
        for offset, many, ratio in zip(model.offsets, model.many, groups, strict=True) if ratio > 0
    ]  # fmt: skip
    diagonal = np.log(np.diag(factor))
    return float(left * np.log(noise) + 2 * sum(diagonal[part].sum() for part in held) + spread + own), float(noise)


def _equations(model: Crossed, groups: NDArray[np.float64], unit: float) -> tuple[tuple[Array, bool], float, Array]:
    """The Cholesky factor of the mixed model's equations, y'y by the same weights, and the right side; all in units of
    the noise's variance. A group without variance has no effects."""
    k = unit / (1 + model.counts * unit)
    weighted = sparse.csr_array(model.sums.multiply(k[:, None]))
    left = model.squares - (weighted.T @ model.sums).toarray()
    right = model.products - weighted.T @ model.totals
    for offset, many, ratio in zip(model.offsets, model.many, groups, strict=True):
        part = slice(offset, offset + many)
        if ratio > 0:
            left[part, part] += np.eye(many) / ratio
        else:
            left[part, :], left[:, part], right[part] = 0.0, 0.0, 0.0
            left[part, part] = np.eye(many) * 1e12  # no error either: it is 0
    squares = float(model.values @ model.values - k @ model.totals**2)
    return linalg.cho_factor(left, lower=True), squares, right
