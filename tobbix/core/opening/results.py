"""What came out against the odds (Rule C-13).

Example: 11 hits in 25 packs at 1:4: two-sided p 0.03669, one-sided 0.02967, Wilson 0.2667 to 0.6293.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import sqrt

from scipy import special

from tobbix.core.base.errors import InputError
from tobbix.core.maths.statistics import (
    binomial_at_least,
    binomial_masses,
    poisson_at_least,
    poisson_masses,
    two_sided,
    wilson,
)

STRENGTH = 3.0  # expected hits: what stated odds count for against what was seen


@dataclass(frozen=True, slots=True)
class LineResult:
    """A line's hits against its odds: ``p_value`` two-sided, ``p_more`` of so many or more, ``corrected`` by Holm.

    ``low`` and ``high`` bound the rate a pack (None above one a pack); ``posterior`` is the mean rate with the stated
    odds as prior, ``posterior_low`` to ``posterior_high`` its 95 %. ``right`` is for what is ``promised``, by one
    line or by several together: whether each complete box or case held it (None: none is complete).
    """

    line: str
    name: str
    packs: int
    rate: float
    expected: float
    observed: int
    low: float | None
    high: float | None
    p_value: float | None
    p_more: float | None
    corrected: float | None
    posterior: float | None
    posterior_low: float | None
    posterior_high: float | None
    promised: int | None
    right: bool | None


@dataclass(frozen=True, slots=True)
class Observed:
    """Hits of a line in so many packs at a stated ``rate`` a pack; where it is ``promised`` a number in each box or
    case, by itself or with others, ``boxes`` are the hits of each complete one."""

    line: str
    name: str
    packs: int
    rate: float
    hits: int
    promised: int | None = None
    boxes: tuple[int, ...] = ()


def beta_posterior(rate: float, strength: float, hits: int, packs: int) -> tuple[float, float]:
    """The parameters of the rate's Beta posterior; the prior counts as the packs in which ``strength`` hits are
    expected at the stated rate, so that a line that has not been seen yet stays where it is said to be. Rule C-13.

    >>> a, b = beta_posterior(0.25, 6, 11, 25)
    >>> round(a / (a + b), 5)
    0.34694
    """
    if strength <= 0:
        raise InputError.at("strength", "must be more than 0 expected hits")
    return strength + hits, strength * (1 - rate) / rate + packs - hits


def judge(observed: Sequence[Observed], strength: float = STRENGTH) -> tuple[LineResult, ...]:
    """Every line against its odds, with a correction for having looked at many (Holm 1979). Rule C-13."""
    rows = [_judge_one(item, strength) for item in observed]
    corrected = holm([row.p_value for row in rows])
    return tuple(replace(row, corrected=p_value) for row, p_value in zip(rows, corrected, strict=True))


def _judge_one(item: Observed, strength: float) -> LineResult:
    expected = item.rate * item.packs
    p_value = p_more = low = high = posterior = lowest = highest = None
    right = None
    if item.promised is not None:
        right = all(hits == item.promised for hits in item.boxes) if item.boxes else None
    elif item.packs > 0 and item.rate <= 1 and item.hits <= item.packs:
        p_value = two_sided(binomial_masses(item.packs, item.rate), item.hits)
        p_more = binomial_at_least(item.hits, item.packs, item.rate)
        low, high = wilson(item.hits, item.packs)
        if 0 < item.rate < 1:
            a, b = beta_posterior(item.rate, strength, item.hits, item.packs)
            posterior = a / (a + b)
            lowest, highest = (float(special.betaincinv(a, b, share)) for share in (0.025, 0.975))
    elif item.packs > 0:
        most = int(max(expected, item.hits) + 12 * sqrt(max(expected, item.hits, 1.0)) + 20)
        p_value = two_sided(poisson_masses(expected, most), item.hits)
        p_more = poisson_at_least(item.hits, expected)
    return LineResult(
        item.line, item.name, item.packs, item.rate, expected, item.hits, low, high, p_value, p_more, None,
        posterior, lowest, highest, item.promised, right,
    )  # fmt: skip


def own_odds_words(item: LineResult, strength: float) -> str:
    """Own odds with the sample and the strength that they rest on. Rule C-13."""
    seen = f"{item.observed:,} in {item.packs:,} {'pack' if item.packs == 1 else 'packs'} of yours"
    return f"1:{1 / (item.posterior or item.rate):.3g}, from {seen} and the stated odds as {strength:g} hits"


def holm(p_values: Sequence[float | None]) -> tuple[float | None, ...]:
    """Holm's step-down correction (Holm 1979); None stays None. Rule C-13."""
    known = sorted((p, i) for i, p in enumerate(p_values) if p is not None)
    corrected: list[float | None] = [None] * len(p_values)
    running = 0.0
    for rank, (p, index) in enumerate(known):
        running = max(running, min(p * (len(known) - rank), 1.0))
        corrected[index] = running
    return tuple(corrected)


@dataclass(frozen=True, slots=True)
class Compared:
    """Two formats against each other: the ratio of their rates, and the chance of such a difference by luck."""

    ratio: float | None
    p_value: float


def compare_rates(hits: tuple[int, int], units: tuple[float, float]) -> Compared:
    """Hits in two formats per pack, or per unit of money: the conditional binomial test. Rule C-13.

    >>> found = compare_rates((24, 30), (560, 1440))
    >>> round(found.ratio, 3), round(found.p_value, 5)
    (2.057, 0.00963)
    """
    if min(units) <= 0 or min(hits) < 0:
        raise InputError.at("packs", "both formats need packs")
    total = sum(hits)
    ratio = None if hits[1] == 0 else (hits[0] / units[0]) / (hits[1] / units[1])
    if total == 0:
        return Compared(None, 1.0)
    return Compared(ratio, two_sided(binomial_masses(total, units[0] / sum(units)), hits[0]))
