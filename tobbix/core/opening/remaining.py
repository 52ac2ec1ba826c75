"""What is still in a box that is partly opened (Rule C-12).

Guaranteed hits that were not seen lie in distinct remaining packs at random; average lines do not remember.

Example: 24 packs with 3 guaranteed autographs, 18 opened with 2 seen: one is left in 6 packs, 1/6 a pack. If a seller
says so and is trusted with 0.7: 0.7 x 1/6 = 0.1167 a pack.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import comb, exp, log

from tobbix.core.base.errors import InputError


@dataclass(frozen=True, slots=True)
class GuaranteedLeft:
    """Guaranteed hits of a group of lines in the box that is open: how many were ``promised`` and ``seen``, the
    ``packs`` left of it, and the ``trust`` in what was said of packs that were gone."""

    name: str
    promised: int
    seen: int
    packs: int
    trust: float = 1.0

    @property
    def left(self) -> int:
        return max(self.promised - self.seen, 0)

    @property
    def chance(self) -> float:
        """The chance that one of the packs left of this box holds one."""
        return chance_per_pack(self.left, self.packs, self.trust)

    @property
    def expected(self) -> float:
        """How many are still to come out of this box."""
        return self.left * self.trust if self.packs else 0.0


def chance_per_pack(left: int, packs: int, trust: float = 1.0) -> float:
    """The chance that one remaining pack holds a guaranteed hit. Rule C-12.

    ``left`` hits in distinct packs of ``packs`` remaining; with chance 1 - ``trust`` nothing is left.

    >>> round(chance_per_pack(1, 6, 0.7), 4)
    0.1167
    """
    _check(left, packs, trust)
    return trust * min(left / packs, 1.0) if packs else 0.0


def chance_in_packs(left: int, packs: int, bought: int, trust: float = 1.0) -> float:
    """The chance of at least one guaranteed hit in ``bought`` of the remaining packs (hypergeometric). Rule C-12.

    >>> round(chance_in_packs(3, 24, 4), 5)
    0.43676
    """
    _check(left, packs, trust)
    if not 0 <= bought <= packs:
        raise InputError.at("packs", f"must be from 0 to the {packs} that are left")
    if left >= packs:
        return trust if bought and left else 0.0
    return trust * (1 - comb(packs - left, bought) / comb(packs, bought))


def chance_of_any(groups: Sequence[int], packs: int, bought: int) -> float:
    """The chance that some of ``bought`` packs holds a hit of any group; groups are independent. Rule C-12.

    >>> round(chance_of_any([1, 1], 6, 2), 5)
    0.55556
    """
    none = 1.0
    for left in groups:
        none *= 1 - chance_in_packs(left, packs, bought)
    return 1 - none


def chance_of_live(groups: Sequence[GuaranteedLeft], packs: int, bought: int) -> float:
    """The chance that some of ``bought`` of the ``packs`` left of a box, taken at random, holds a hit that is owed;
    a seller's word about the packs that are gone is true of all groups together or of none. Rule C-12."""
    trust = min((group.trust for group in groups), default=1.0)
    return trust * chance_of_any([min(group.left, group.packs) for group in groups], packs, bought)


def _check(left: int, packs: int, trust: float) -> None:
    if left < 0 or packs < 0:
        raise InputError.at("packs", "counts must not be negative")
    if not 0 <= trust <= 1:
        raise InputError.at("trust", "must be from 0 to 1")


def hot_box(prior: float, rate: float, hot_rate: float, packs: int, hits: int) -> float:
    """The chance that a box is hot after ``packs`` opened packs with ``hits`` (Bayes). Rule C-12.

    ``prior`` share of hot boxes, ``rate`` and ``hot_rate`` hits a pack in others and in hot ones. Under one a pack it
    is one chance a pack; from there on hits come as they like (Poisson).
    """
    if not 0 < prior < 1:
        raise InputError.at("prior", "must be more than 0 and less than 1")
    if not (rate > 0 and hot_rate > 0):
        raise InputError.at("rate", "rates a pack must be more than 0")
    if hits < 0 or packs < 0:
        raise InputError.at("hits", "must not be negative")
    single = max(rate, hot_rate) < 1 and hits <= packs

    def likelihood(share: float) -> float:
        return hits * log(share) + (packs - hits) * log(1 - share) if single else hits * log(share) - packs * share

    odds = log(prior / (1 - prior)) + likelihood(hot_rate) - likelihood(rate)
    return 1 / (1 + exp(-max(min(odds, 700.0), -700.0)))


@dataclass(frozen=True, slots=True)
class SeenInBox:
    """What came out of the box that is open so far: ``packs`` opened, those ``with_hit`` of a line, its ``cards``."""

    packs: int
    with_hit: int
    cards: int

    def hits(self, rate: float) -> int:
        """What counts where so many are likely a pack: packs that hold one, from one a pack on each card."""
        return self.with_hit if rate < 1 else self.cards


def hot_box_of(one_in: float, times: float, rate: float, seen: SeenInBox) -> float:
    """As ``hot_box``, said as people say it: one box in ``one_in`` is hot and holds ``times`` as many. Rule C-12."""
    if one_in <= 1:
        raise InputError.at("one_in", "must be more than 1")
    if times <= 1:
        raise InputError.at("times", "must be more than 1")
    return hot_box(1 / one_in, rate, rate * times, seen.packs, seen.hits(rate * times))


@dataclass(frozen=True, slots=True)
class Remaining:
    """What is still expected in the packs that are left: hits by line, and what a pack and all of them are worth
    (estimates, money), at least if it is a ``lower_bound``, since of something nothing is known. ``here`` packs are
    left of the box that is open; the cards that are not logged of packs that are begun hold the ``rest``."""

    packs: int
    hits: Mapping[str, float]
    value: float
    per_pack: float
    live: tuple[GuaranteedLeft, ...]
    lower_bound: bool = False
    here: int = 0
    rest: float = 0.0

    @property
    def chances(self) -> tuple[float, ...]:
        """The chances that 1, 2, ... of the packs left of the box that is open, taken at random, hold at least one of
        the hits that it still owes."""
        if not any(group.left and group.packs for group in self.live):
            return ()
        return tuple(chance_of_live(self.live, self.here, bought) for bought in range(1, self.here + 1))
