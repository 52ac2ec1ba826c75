"""What many versions are worth by their sales, all at once (Rule C-18): the figures that ``estimate_value`` gives one
by one, from arrays.

The problem: a million sales of fifty thousand cards, valued one by one, take minutes in Python; yet all that is asked
of each card is a sort and a scan. The method: sales come ordered by card, so they are worked through in runs that fit
the processor's cache; within one, a single sort by card and price gives the medians and ranks, a second one the median
of the distances by which the far ones are flagged, and sums along the order the weighted median.

Example: of 10, 12 and 40, sold today, 60 and 120 days ago, the weights are 1, 1/2 and 1/4: the estimate is 10.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tobbix.core.maths.severity import Array
from tobbix.core.pricing.estimating import FAR, HALF_LIFE, LEAST_FLAGGED, rank_of_median
from tobbix.core.pricing.schools import School

_RUN = 60_000  # sales that are worked through together
_TIE = 1e-9  # of half the weight: sums along a whole run are a little less exact than those of one card
Whole = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Sales:
    """Sales of lots of one inside the window (each of shape (n,)): of which ``card`` in which state, as a number that
    never falls, the oldest of each first; ``paid`` with tax at home (money), ``shipping`` (money; NaN: not known), of
    which ``market`` (-1: not said), the ``age`` (days), and whether the owner keeps it (``kept``) whatever a flag
    says."""

    card: Whole
    paid: Array
    shipping: Array
    market: Whole
    age: Whole
    kept: NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Valued:
    """Of each ``card`` (shape (m,), rising): by how many sales that are not flagged (``used``), the estimate with its
    interval of so much confidence (money; NaN where all are flagged), and the age of the newest used one (days)."""

    card: Whole
    used: Whole
    estimate: Array
    low: Array
    high: Array
    newest: Whole


def value_many(
    sales: Sales, school: School = School.WEIGHTED, confidence: float = 0.8, half_life: float = HALF_LIFE
) -> Valued:
    """What all cards are worth by a school that goes by sales. Rule C-18.

    Raises ValueError for a school that goes by something else, and for cards that are out of order.
    """
    if school in (School.LOWEST_ASK, School.BOOK):
        raise ValueError("this school does not go by sales")
    if np.any(np.diff(sales.card) < 0):
        raise ValueError("the sales must be ordered by card")
    parts = [_value_run(sales, run, school, confidence, half_life) for run in _runs(sales.card)]
    if not parts:
        none, whole = np.zeros(0), np.zeros(0, np.int64)
        return Valued(whole, whole, none, none, none, whole)
    return Valued(*(np.concatenate([getattr(part, name) for part in parts]) for name in Valued.__dataclass_fields__))


def _runs(card: Whole) -> Iterator[slice]:
    """Slices of about so many sales that divide no card."""
    start = 0
    while start < card.size:
        end = min(start + _RUN, card.size)
        if end < card.size:
            end = int(np.searchsorted(card, card[end], side="left"))
            if end <= start:  # one card fills it all
                end = int(np.searchsorted(card, card[start], side="right"))
        yield slice(start, end)
        start = end


@dataclass(frozen=True, eq=False)
class _Groups:
    """Where each card's sales begin among others, and how many there are (each of shape (m,))."""

    starts: Whole
    counts: Whole

    @classmethod
    def of(cls, numbers: Whole) -> "_Groups":
        starts = np.flatnonzero(np.r_[True, np.diff(numbers) != 0])
        return cls(starts, np.diff(np.r_[starts, numbers.size]))

    def medians(self, ordered: Array) -> Array:
        """The median of each group of values that rise within it."""
        low, high = self.starts + (self.counts - 1) // 2, self.starts + self.counts // 2
        return np.asarray((ordered[low] + ordered[high]) / 2, np.float64)


def _value_run(sales: Sales, run: slice, school: School, confidence: float, half_life: float) -> Valued:
    card = sales.card[run]
    all_in = sales.paid[run] + _filled(card, sales.market[run], sales.shipping[run])
    groups = _Groups.of(card)
    numbers = card[groups.starts]
    of = np.repeat(np.arange(numbers.size), groups.counts)
    order = np.lexsort((all_in, of))
    clear = ~_flag(np.log(all_in), of, order, groups) | sales.kept[run]
    used = np.bincount(of[clear], minlength=numbers.size)
    age = sales.age[run]
    some = used > 0
    estimate, low, high = (np.full(numbers.size, np.nan) for _ in range(3))
    newest = np.full(numbers.size, -1, np.int64)
    if some.any():
        ends = np.cumsum(used)[some] - 1
        newest[some] = age[clear][ends]  # the oldest of each come first
        order = order[clear[order]]
        ordered = all_in[order]
        within = _Groups(ends - used[some] + 1, used[some])
        counts, which = np.unique(used[some], return_inverse=True)
        ranks = np.array([rank_of_median(int(count), confidence) for count in counts])[which]
        low[some] = ordered[within.starts + ranks - 1]
        high[some] = ordered[within.starts + within.counts - ranks]
        if school is School.WEIGHTED:
            estimate[some] = _weighted(ordered, 2.0 ** (-age[order] / half_life), within)
        elif school is School.MEDIAN:
            estimate[some] = within.medians(ordered)
        elif school is School.AVERAGE:
            estimate[some] = np.add.reduceat(ordered, within.starts) / within.counts
        else:
            estimate[some] = all_in[clear][ends]
    return Valued(numbers, used, estimate, low, high, newest)


def _filled(card: Whole, market: Whole, shipping: Array) -> Array:
    """Shipping, where unknown the median known one of the same card and market, else of the card, else 0."""
    gaps = np.isnan(shipping)
    if not gaps.any():
        return shipping
    filled = shipping.copy()
    asked = np.isin(card, card[gaps])
    for by in (market, np.zeros_like(market)):
        open_ones = np.flatnonzero(gaps & np.isnan(filled))
        known = np.flatnonzero(asked & ~gaps & (by >= 0))
        if open_ones.size == 0 or known.size == 0:
            continue
        wide = int(by.max()) + 2
        place = card * wide + by
        order = known[np.lexsort((shipping[known], place[known]))]
        groups = _Groups.of(place[order])
        names = place[order][groups.starts]
        at = np.minimum(np.searchsorted(names, place[open_ones]), names.size - 1)
        found = (names[at] == place[open_ones]) & (by[open_ones] >= 0)
        filled[open_ones[found]] = groups.medians(shipping[order])[at[found]]
    return np.where(np.isnan(filled), 0.0, filled)


def _flag(logs: Array, of: Whole, order: Whole, groups: _Groups) -> NDArray[np.bool_]:
    """Which sales are far off among those of their card (Iglewicz and Hoaglin 1993)."""
    far = np.zeros(logs.size, bool)
    enough = groups.counts >= LEAST_FLAGGED
    if not enough.any():
        return far
    off = np.abs(logs - groups.medians(logs[order])[of])
    spread = groups.medians(off[np.lexsort((off, of))]) / 0.6745
    flat = spread == 0
    if flat.any():
        spread = np.where(flat, 1.2533 * np.add.reduceat(off, groups.starts) / groups.counts, spread)
    limit = np.where(enough & (spread > 0), FAR * spread, np.inf)
    return np.asarray(off > limit[of])


def _weighted(ordered: Array, weights: Array, groups: _Groups) -> Array:
    """The least value with half of the weight at or under it; on a tie the middle of it and the next."""
    reached = np.cumsum(weights)
    ends = groups.starts + groups.counts - 1
    before = reached[groups.starts] - weights[groups.starts]
    half = (reached[ends] - before) / 2
    at = np.clip(np.searchsorted(reached, before + half * (1 - _TIE)), groups.starts, ends)
    following = np.minimum(at + 1, ends)
    tied = np.abs(reached[at] - before - half) <= half * _TIE
    return np.asarray(np.where(tied, (ordered[at] + ordered[following]) / 2, ordered[at]), np.float64)
