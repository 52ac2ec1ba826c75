"""How long it takes to collect a set: the collector's problem, with groups, unequal weights and random draws.

Three exact ways, for what each can do, and one by simulation:

- ``collect_by_packs``: up to two classes of equally likely cards, several draws from each pack, with or without repeats
  inside a pack, by inclusion and exclusion over the classes (for one class without repeats: group drawings, Stadje
  1990, "The collector's problem with group drawings", Adv. Appl. Prob. 22).
- ``collect_by_draws``: the same classes where draws are independent: a chain over single draws, then packs by renewal.
- ``collect_by_subsets``: few cards of any chances, by inclusion and exclusion.
- ``simulate_draws``: any weights, independent draws, by embedding in Poisson processes.

Example: 120 equal cards in packs of 7 different ones take 90.139 packs on average.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import special

from tobbix.core.maths.severity import Array

_DONE = 1e-9
_MOSTLY = 0.995
_NOTHING = 1e-15
_LACKING = 16.0
_POINTS = 160
_MOST_WORK = 2e8  # about two seconds
_MOST_PACKS = 20_000
_MOST_STATES = 250_000
_STRETCHES = 101
_UNEQUAL = "a pack holds more different cards than so unequal weights allow"
_MOST_DRAWS = 400_000
MOST_SUBSET_CARDS = 12


@dataclass(frozen=True, eq=False)
class Collected:
    """A collection as it grows with the packs.

    ``packs`` ascending counts (shape (n,)), ``complete`` the chance to have all by then (shape (n,)), ``found`` the
    chance that a given card of each class is found (shape (classes, n)), ``draws`` expected draws (shape (n,)).
    ``mean`` packs to complete; ``error`` its standard error where it was simulated, None where it is exact. Where not
    every count is listed, ``complete_by`` and ``found_by`` give the same at any.
    """

    packs: Array
    complete: Array
    found: Array
    draws: Array
    mean: float
    error: float | None
    complete_by: Callable[[int], float] | None = None
    found_by: Callable[[Array], Array] | None = None

    def packs_for(self, chance: float) -> float | None:
        """The fewest packs with which the set is complete with ``chance``; None if it takes more than are listed."""
        if self.complete_by is not None:
            low, high = -1, int(self.packs[-1])
            if self.complete_by(high) < chance - 1e-12:
                return None
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (middle, high) if self.complete_by(middle) < chance - 1e-12 else (low, middle)
            return float(high)
        reached = np.nonzero(self.complete >= chance - 1e-12)[0]
        return float(self.packs[reached[0]]) if reached.size else None


class TooLong(ValueError):
    """It would take more than a moment to follow exactly."""


def collect_by_packs(
    sizes: Sequence[int],
    weights: Sequence[float],
    draws: Array,
    distinct: bool,
    held: Sequence[int] = (0, 0),
    points: int = _POINTS,
) -> Collected:
    """Complete a set from packs, exactly. Rule C-09.

    ``sizes`` and relative ``weights`` of one or two classes of cards; ``draws[k]`` the chance that a pack holds k cards
    of the set (shape (most + 1,)); ``distinct`` if a pack never holds a card twice, each in it in proportion to its
    weight. ``held`` cards of each class are there from the start;
    ``found`` then speaks for those that are not.
    Raises ValueError for more classes, for packs with more different cards than there are, TooLong if it takes long.

    The chance that so many packs hold all is, by inclusion and exclusion over how many a and b of each class are still
    lacking, the sum of (-1)^(a+b) C(A, a) C(B, b) m(a, b)^packs, m the chance that one pack holds none of a and b given
    cards. The terms are as large as e to the power of the number that is lacking on average: it begins where that is
    sixteen, before which no set is complete (its chance is under e^-16), and so loses less than 1e-8 to rounding.

    >>> round(collect_by_packs([120], [1.0], np.eye(8)[7], distinct=True).mean, 3)
    90.139
    """
    if not 1 <= len(sizes) <= 2 or min(sizes) < 1 or min(weights) <= 0:
        raise ValueError("give one or two classes of cards, each with cards and a weight")
    both = (sizes[0], (*sizes, 0)[1])
    lacking = [size - have for size, have in zip(both, (*held, 0), strict=False)]
    if distinct and draws.size - 1 > sum(both):
        raise ValueError("a pack cannot hold more different cards than there are")
    if sum(lacking) == 0:
        raise ValueError("nothing of it is lacking")
    if distinct and both[1]:
        work = sum(both) * (both[1] + 1) * float((np.nonzero(draws)[0] + 1).sum()) * _STRETCHES
        if work > _MOST_WORK:
            raise TooLong("there are too many cards of two weights to follow each pack")
    weight = (float(weights[0]), float(weights[1]) if both[1] else 0.0)
    misses = np.zeros((lacking[0] + 1, lacking[1] + 1))
    none = [_none_drawn(size, left, draws.size - 1, distinct) for size, left in zip(both, lacking, strict=True)]
    for count in np.nonzero(draws)[0]:
        split = _split(int(count), both, weight, distinct)
        for second in np.nonzero(split)[0]:
            misses += draws[count] * split[second] * np.outer(none[0][count - second], none[1][second])
    alone = np.array([misses[1, 0] if lacking[0] else 0.0, misses[0, 1] if lacking[1] else 0.0])  # one given card
    if alone.max() >= 1:
        raise ValueError("one of the cards never comes")

    def still_lacking(packs: int) -> float:
        return float(np.array(lacking) @ alone**packs)

    begin = _first(lambda packs: still_lacking(packs) <= _LACKING)
    a, b = np.arange(lacking[0] + 1.0)[:, None], np.arange(lacking[1] + 1.0)
    ways = _log_choose(lacking[0], a) + _log_choose(lacking[1], b)
    with np.errstate(divide="ignore"):
        logs = np.maximum(np.log(misses), -1e6)  # the chance of a miss may be 0
    counted = ways + begin * logs > np.log(_NOTHING)
    counted[0, 0] = False
    signs = (1 - 2 * ((a + b) % 2))[counted]
    ways, logs, fade = ways[counted], logs[counted], 1 - misses[counted]

    def complete_by(packs: int) -> float:
        return 0.0 if packs < begin else float(np.clip(1 + signs @ np.exp(ways + packs * logs), 0.0, 1.0))

    def found_by(packs: Array) -> Array:
        return np.asarray(1 - alone[: len(sizes), None] ** packs)

    mean = begin - float(signs @ (np.exp(ways + begin * logs) / fade))
    last = _first(lambda packs: complete_by(packs) >= _MOSTLY)
    listed = np.unique(np.round(np.linspace(0, last + 1, points))).astype(int)
    complete = np.array([complete_by(int(packs)) for packs in listed])
    mean_draws = float(draws @ np.arange(draws.size))
    return Collected(
        listed.astype(float), complete, found_by(listed), listed * mean_draws, mean, None, complete_by, found_by
    )


def _none_drawn(size: int, lacking: int, most: int, distinct: bool) -> list[Array]:
    """Chances that 0, 1, ... ``most`` cards drawn of a class are none of 0, 1, ... ``lacking`` given ones of it."""
    given, found = np.arange(lacking + 1.0), [np.ones(lacking + 1)]
    for drawn in range(most):
        left = size - (drawn if distinct else 0)
        found.append(found[-1] * (np.maximum(left - given, 0.0) / left if left > 0 else 0.0))
    return found


def _log_choose(whole: int, part: Array) -> Array:
    return np.asarray(special.gammaln(whole + 1.0) - special.gammaln(part + 1) - special.gammaln(whole - part + 1))


def _first(holds: Callable[[int], bool]) -> int:
    """The least count of packs from which on something holds."""
    if holds(0):
        return 0
    low, high = 0, 1
    while not holds(high):
        low, high = high, 2 * high
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if holds(middle) else (middle, high)
    return high


def _split(count: int, sizes: tuple[int, int], weight: tuple[float, float], distinct: bool) -> Array:
    """Chances that 0, 1, ... of the ``count`` cards of a pack are of the second class (shape (count + 1,)).

    With repeats they are binomial. Without, each card is in the pack in proportion to its weight: systematic sampling
    (Madow 1949) with the cards in a new random order for every pack, as boxes are put together (Rule C-05). The cards
    lie along a line, as long as their weights, and every card that holds one of ``count`` points evenly apart is
    taken. Where a card begins depends only on how many of each class lie before it, so all orders are followed at once;
    between the beginnings, taken modulo the points' distance, nothing depends on where the first point lies.
    """
    first, second = sizes
    whole, whole_cards = first * weight[0] + second * weight[1], first + second
    k = np.arange(count + 1)
    share = second * weight[1] / whole
    if not distinct:
        return np.asarray(special.comb(count, k) * share**k * (1 - share) ** (count - k))
    if count == 0 or not second:
        return np.asarray((k == 0).astype(float))
    if count * max(weight) / whole > 1 + 1e-12:
        raise ValueError(_UNEQUAL)
    length = np.array(weight) * count / whole  # of a card of each class, in distances between the points
    begins = np.arange(first + 1)[:, None] * length[0] + np.arange(second + 1) * length[1]
    edges = np.append(np.unique(np.round(begins % 1.0, 9) % 1.0), 1.0)
    if edges.size > _STRETCHES:  # of a long list: as good as exact, and soon done
        edges = np.linspace(0.0, 1.0, _STRETCHES)
    start = (edges[:-1] + edges[1:]) / 2  # of the first point, one for each stretch
    of_second = np.arange(second + 1)
    laid = np.zeros((second + 1, count + 1, start.size))  # by how many of it lie, and hold a point
    laid[0, 0] = 1.0
    for cards in range(whole_cards):
        of_first = cards - of_second
        next_one = np.clip((second - of_second) / (whole_cards - cards), 0.0, 1.0)  # that it is of that class
        at = np.asarray(begins[np.clip(of_first, 0, first), of_second])[:, None]
        takes = np.ceil(at + length[1] - start) > np.ceil(at - start)  # a card of the second class that begins there
        moved = laid * next_one[:, None, None]
        laid -= moved
        taken = moved * takes[:, None, :]
        laid[1:] += (moved - taken)[:-1]
        laid[1:, 1:] += taken[:-1, :-1]
    found = np.asarray(laid[second] @ np.diff(edges))
    low, high = -1.0, 1.0
    for _ in range(60):  # so that each card's part is exact in spite of fewer stretches
        middle = (low + high) / 2
        tilted = found * np.exp(middle * k)
        low, high = (middle, high) if float(tilted @ k) < count * share * float(tilted.sum()) else (low, middle)
    found = found * np.exp((low + high) / 2 * k)
    return np.asarray(found / found.sum())


def draws_to_complete(sizes: Sequence[int], weights: Sequence[float], held: Sequence[int] = ()) -> Array:
    """Chances that a set is complete after exactly 0, 1, 2, ... independent draws. Rule C-09.

    ``sizes`` and relative ``weights`` of classes of equally likely cards, of which so many of each are ``held`` from
    the start. Raises ValueError if there are too many.

    >>> chances = draws_to_complete([10], [1.0], [5])  # 10 x (1 + 1/2 + 1/3 + 1/4 + 1/5)
    >>> round(float(chances @ np.arange(chances.size)), 4)
    22.8333
    """
    shape = tuple(size + 1 for size in sizes)
    if np.prod(shape, dtype=float) > _MOST_STATES:
        raise ValueError("there are too many classes of cards to follow exactly")
    whole = float(np.dot(sizes, weights))
    state = np.zeros(shape)
    state[tuple(held) or (0,) * len(sizes)] = 1.0
    counts = np.indices(shape)
    stay = sum(counts[c] * (weights[c] / whole) for c in range(len(sizes)))
    moves = [(sizes[c] - counts[c]) * (weights[c] / whole) for c in range(len(sizes))]
    complete = [float(state.flat[-1])]
    while complete[-1] < 1 - _DONE:
        if len(complete) > _MOST_DRAWS:
            raise ValueError("it takes too many draws to follow each")
        fresh = state * stay
        for axis, move in enumerate(moves):
            moved = state * move
            into = [slice(None)] * len(sizes)
            from_ = [slice(None)] * len(sizes)
            into[axis], from_[axis] = slice(1, None), slice(None, -1)
            fresh[tuple(into)] += moved[tuple(from_)]
        state = fresh
        complete.append(float(state.flat[-1]))
    return np.diff(np.array(complete), prepend=0.0)


def simulate_draws(
    weights: Array,
    runs: int,
    random: np.random.Generator,
    progress: Callable[[int], None] | None = None,
    held: NDArray[np.bool_] | None = None,
) -> NDArray[np.int64]:
    """Draws to complete a set of any ``weights`` (shape (cards,)), simulated (shape (runs,)); what is ``held`` is there
    from the start. Rule C-09.

    Each card comes as a Poisson process: the set is complete at the last first arrival, and by then every other card
    has come again a Poisson number of times.
    """
    rates = weights / weights.sum()
    counts = np.empty(runs, np.int64)
    chunk = max(int(2e6 / weights.size), 1)
    lacking = np.ones(weights.size, bool) if held is None else ~held
    for start in range(0, runs, chunk):
        size = min(chunk, runs - start)
        first = random.exponential(1.0, (size, weights.size)) / rates
        last = first[:, lacking].max(axis=1, keepdims=True)
        again = random.poisson((np.where(lacking, last - first, last) * rates).sum(axis=1))
        counts[start : start + size] = lacking.sum() + again
        if progress is not None:
            progress(start + size)
    return counts


def collect_by_draws(
    chances: Array, shares: Array, draws: Array, error_draws: float | None = None, points: int = _POINTS
) -> Collected:
    """Complete a set from packs whose draws are independent. Rule C-09.

    ``chances[d]`` that exactly d draws complete it; ``shares`` the chance of a given card of each class at one draw
    (shape (classes,)); ``draws[k]`` the chance of k draws in a pack; ``error_draws`` the standard error of the mean
    number of draws if ``chances`` were simulated. Raises ValueError if packs hold no draws.
    """
    mean_draws = float(draws @ np.arange(draws.size))
    if mean_draws <= 0:
        raise ValueError("the packs hold no card of the set")
    waiting = _packs_for_draws(draws, chances.size)
    mean = float(chances @ waiting)
    by_draws = np.cumsum(chances)
    length = int(2 ** np.ceil(np.log2(2 * chances.size + 8 * draws.size)))
    turn = np.exp(-2j * np.pi * np.arange(length) / length)
    function = np.polynomial.polynomial.polyval(turn, draws)
    padded = np.concatenate([by_draws, np.full(length - by_draws.size, by_draws[-1])])

    def complete_by(packs: int) -> float:
        return float(np.fft.ifft(function**packs).real @ padded)

    last = int(np.ceil(waiting[min(int(np.searchsorted(by_draws, 0.995)), by_draws.size - 1)] * 1.02)) + 1
    packs = np.unique(np.round(np.linspace(0, last, points)).astype(int))
    missed = np.polynomial.polynomial.polyval(1 - shares, draws)  # of a given card, in one pack

    def found_by(packs: Array) -> Array:
        return np.asarray(1 - missed[:, None] ** packs)

    return Collected(
        packs.astype(float),
        np.clip(np.array([complete_by(int(count)) for count in packs]), 0.0, 1.0),
        found_by(packs),
        packs * mean_draws,
        mean,
        None if error_draws is None else error_draws / mean_draws,
        complete_by,
        found_by,
    )


def _packs_for_draws(draws: Array, most: int) -> Array:
    """Expected packs until at least d draws have come, for d = 0 .. most - 1 (renewal equation)."""
    some = 1 - draws[0]
    waiting = np.zeros(most)
    reversed_draws = draws[1:][::-1]
    kinds = reversed_draws.size
    for count in range(1, most):
        before = waiting[max(count - kinds, 0) : count]
        waiting[count] = (1 + float(reversed_draws[kinds - before.size :] @ before)) / some
    return waiting


def collect_by_subsets(cards: int, none_of: Callable[[tuple[int, ...]], float], points: int = _POINTS) -> Collected:
    """Complete a few cards of any chances, exactly, by inclusion and exclusion. Rule C-09.

    ``none_of(cards)`` is the chance that a pack holds none of some. ``found`` has one row a card; ``draws`` counts only
    what ``none_of`` cannot tell, and is 0. Raises ValueError for more than twelve cards, or one that never comes.
    """
    if not 1 <= cards <= MOST_SUBSET_CARDS:
        raise ValueError(f"that is for 1 to {MOST_SUBSET_CARDS} cards")
    subsets = [subset for size in range(1, cards + 1) for subset in combinations(range(cards), size)]
    signs = np.array([1.0 if len(subset) % 2 else -1.0 for subset in subsets])
    misses = np.array([none_of(subset) for subset in subsets])
    if (misses[:cards] >= 1).any():
        raise ValueError("one of the cards never comes")

    def complete_by(packs: float) -> float:
        return float(1 - signs @ misses**packs)

    mean = float(signs @ (1 / (1 - misses)))
    last = 1.0
    while complete_by(last) < _MOSTLY:
        last *= 2
    low = last / 2
    while last - low > max(1.0, last * 1e-3):
        middle = (low + last) / 2
        low, last = (low, middle) if complete_by(middle) >= _MOSTLY else (middle, last)
    packs = np.unique(np.round(np.linspace(0, last, points)))
    complete = np.array([complete_by(count) for count in packs])

    def found_by(packs: Array) -> Array:
        return np.asarray(1 - misses[:cards, None] ** packs)

    nothing = np.zeros(packs.size)
    return Collected(packs, np.clip(complete, 0, 1), found_by(packs), nothing, mean, None, complete_by, found_by)


def simulate_packs(
    weights: Array,
    draws: Array,
    runs: int,
    random: np.random.Generator,
    progress: Callable[[int], None] | None = None,
    held: NDArray[np.bool_] | None = None,
) -> Collected:
    """Complete a set of any weights from packs without repeats, simulated pack by pack; what is ``held`` is there from
    the start. Rule C-09.

    ``weights`` relative, shape (cards,); ``draws[k]`` the chance of k cards in a pack, which are taken by systematic
    sampling in an order that is new for every pack, each in proportion to its weight.
    """
    cards, most = weights.size, draws.size - 1
    if most * weights.max() > weights.sum() * (1 + 1e-12):
        raise ValueError(_UNEQUAL)
    edges = np.cumsum(draws)
    needed = np.zeros(runs, np.int64)
    found_sum: list[Array] = []
    chunk = max(int(1e6 / cards), 1)
    for start in range(0, runs, chunk):
        size = min(chunk, runs - start)
        have = np.zeros((size, cards), bool)
        if held is not None:
            have[:, held] = True
        for pack in range(1, _MOST_PACKS):
            if len(found_sum) < pack:
                found_sum.append(np.zeros(cards))
            running = np.nonzero(~have.all(axis=1))[0]
            if running.size == 0:
                break
            found_sum[pack - 1] += have[running].sum(axis=0) + (size - running.size)
            count = np.searchsorted(edges, random.random(running.size), side="right")
            order = np.argsort(random.random((running.size, cards), np.float32), axis=1)
            ends = np.cumsum(weights[order], axis=1)
            reached = np.ceil(count[:, None] * (ends / ends[:, -1:]) - random.random((running.size, 1)))
            taken = np.diff(reached, axis=1, prepend=0.0) > 0
            have[running[np.nonzero(taken)[0]], order[taken]] = True
            needed[start : start + size] += np.isin(np.arange(size), running)
        for later in range(pack, len(found_sum) + 1):
            found_sum[later - 1] += size
        if progress is not None:
            progress(start + size)
    last = int(needed.max())
    packs = np.arange(last + 1, dtype=float)
    found = np.array(found_sum[: last + 1] + [np.full(cards, float(runs))] * max(last + 1 - len(found_sum), 0)) / runs
    complete = np.searchsorted(np.sort(needed), packs, side="right") / runs
    mean_draws = float(draws @ np.arange(draws.size))
    error = float(needed.std(ddof=1)) / sqrt(runs)
    return Collected(packs, complete, found.T, packs * mean_draws, float(needed.mean()), error)
