"""What many cards are worth together, with the spread that what they share makes, and which look-ups would narrow it
most (C-37).

Values that are borrowed err together: if a line was judged too dear, all its cards were. So their logs have
covariances; the sum has the mean and variance of a sum of lognormal amounts, and is itself taken as lognormal (Fenton
1960, "The sum of log-normal probability distributions", IRE Transactions on Communications Systems 8). Values that
sales of their own say err each by itself. One more sale of a card takes off the variance of the sum what its logs are
then known to share with it: sum over i, j of m_i m_j (exp(c_i c_j / (c + noise)) - 1), c_i the covariances with that
card's log and c its own variance; the next is chosen knowing that.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount
from tobbix.core.maths.severity import Array

SHARE = 0.8
_LOOKED_AT = 12
_QUANTILE = float(special.ndtri((1 + SHARE) / 2))


@dataclass(frozen=True, eq=False)
class Shared:
    """Amounts that err together: how many of each (``counts``), the ``middle`` of their logs, the ``covariance`` of the
    errors of these (shapes (n,), (n,), (n, n)), and the ``noise``, the variance of the log of a single sale."""

    counts: Array
    middle: Array
    covariance: Array
    noise: float

    @property
    def means(self) -> Array:
        """What each is worth on average, all of its copies."""
        return np.asarray(self.counts * np.exp(self.middle + np.diag(self.covariance) / 2), np.float64)

    @property
    def variance(self) -> float:
        """Of the sum of all."""
        means = self.means
        return float(means @ np.expm1(self.covariance) @ means)


@dataclass(frozen=True, slots=True)
class Apart:
    """An amount that errs by itself: its middle with its 80 % (money); without one its spread is not known."""

    middle: float
    low: float | None = None
    high: float | None = None

    @property
    def deviation(self) -> float | None:
        """Of the log; None: not known."""
        if self.low is None or self.high is None or not 0 < self.low <= self.high:
            return None
        return float(np.log(self.high / self.low)) / (2 * _QUANTILE)


@dataclass(frozen=True, slots=True)
class Summed:
    """What all are worth together (money): the middle with its 80 %, and how much of it has no spread that is known."""

    middle: float
    low: float
    high: float
    without_spread: float

    @property
    def half_width(self) -> float:
        """Half of the 80 %, as a share of the middle."""
        return 0.0 if self.middle <= 0 else (self.high - self.low) / 2 / self.middle


def add_up(shared: Sequence[Shared], apart: Sequence[Apart]) -> Summed:
    """The sum of amounts, those of different ``shared`` being independent. C-37.

    >>> two = Shared(np.array([1.0, 1.0]), np.log([10.0, 10.0]), np.full((2, 2), 0.09), 0.04)
    >>> one = add_up([two], [])
    >>> round(one.middle, 6), round(one.high / one.middle, 4) == round(float(np.exp(0.3 * _QUANTILE)), 4)
    (20.0, True)
    """
    mean = variance = firm = 0.0
    for part in shared:
        mean += float(part.means.sum())
        variance += part.variance
    for it in apart:
        deviation = it.deviation
        if deviation is None:
            firm += it.middle
        else:
            of_it = it.middle * float(np.exp(deviation**2 / 2))
            mean, variance = mean + of_it, variance + of_it**2 * float(np.expm1(deviation**2))
    if mean <= 0:
        return Summed(firm, firm, firm, firm)
    deviation = float(np.log1p(variance / mean**2) ** 0.5)
    middle = mean / float(np.exp(deviation**2 / 2))
    reach = float(np.exp(_QUANTILE * deviation))
    return Summed(firm + middle, firm + middle / reach, firm + middle * reach, firm)


@dataclass(frozen=True, slots=True)
class LookUpNext:
    """Looking this one up (``part`` of the shared, ``place`` in it) takes ``narrows`` (money squared) off the variance
    of the sum, given those before it."""

    part: int
    place: int
    narrows: float


def narrow_most(shared: Sequence[Shared], most: int = 20) -> tuple[list[LookUpNext], list[Shared]]:
    """Which look-ups, one sale each, would narrow the sum most, one after another, and the amounts as they would stand
    after them if nothing surprises. C-37. Those that do so by the first order of that sum are looked at closely."""
    states = [(part.means, part.covariance.copy(), part.noise) for part in shared]
    done: list[set[int]] = [set() for _ in shared]
    best = [_best(*state, seen) for state, seen in zip(states, done, strict=True)]
    found: list[LookUpNext] = []
    for _ in range(most):
        narrows, at = max(((gain, at) for at, (gain, _) in enumerate(best)), default=(0.0, -1))
        if narrows <= 0:
            break
        place = best[at][1]
        found.append(LookUpNext(at, place, narrows))
        done[at].add(place)
        _, covariance, noise = states[at]
        covariance -= _learnt(covariance, place, noise)
        best[at] = _best(*states[at], done[at])
    after = [
        Shared(part.counts, part.middle, covariance, noise)
        for part, (_, covariance, noise) in zip(shared, states, strict=True)
    ]
    return found, after


def _learnt(covariance: Array, place: int, noise: float) -> Array:
    """By how much a sale of one lowers all covariances."""
    column = covariance[:, place]
    return np.asarray(np.outer(column, column) / (column[place] + noise), np.float64)


def _best(means: Array, covariance: Array, noise: float, done: set[int]) -> tuple[float, int]:
    """The look-up that takes most off the variance, and how much (money squared)."""
    first = (covariance @ means) ** 2 / (np.diag(covariance) + noise)
    first[list(done)] = -1.0
    near = [place for place in np.argsort(first)[::-1][:_LOOKED_AT].tolist() if first[place] > 0]
    gains = [(float(means @ np.expm1(_learnt(covariance, place, noise)) @ means), place) for place in near]
    return max(gains, default=(0.0, -1))


def state_sum(found: Summed | None, unknown: int, borrowed: int, currency: str) -> Verdict:
    """What all are worth together, and how sure that is; None: nothing was borrowed yet."""
    if found is None:
        start = Run("What hardly sells can borrow its value", "middle", True)
        return Verdict((start, Run(" from its line, its subject and its state.")), (Run("Nothing was borrowed yet."),))
    sentence = [
        Run("All together about "), Run(amount(found.middle, currency), "middle", True),
        Run(f": in 8 cases of 10 between {amount(found.low, currency)} and "),
        Run(amount(found.high, currency), "high"), Run("."),
    ]  # fmt: skip
    ground = f"{borrowed:,} {'value is' if borrowed == 1 else 'values are'} borrowed from line, subject and state."
    if found.without_spread > 0:
        ground += f" {amount(found.without_spread, currency)} of it has no spread that is known, and is taken as it is."
    if unknown:
        ground += f" {unknown:,} more are not in it: nothing tells what they are worth."
    return Verdict(tuple(sentence), (Run(ground),))
