"""Does weight tell which box or pack holds a hit? (Rule C-14)

Example: a hit weighs 0.4 g more; against a spread of 1.1 g the heavier of two holds it with 0.6015, against 0.1 g with
0.9977 (normal model).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, sqrt
from statistics import mean, median, stdev

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.maths.statistics import newcombe, normal_at_most, normal_point, rank_sum_p_value

_LEVEL = 0.05
_ENOUGH = 5  # of each


def chance_heavier_holds(difference: float, spread: float) -> float:
    """The chance that the heavier of two holds the hit, by the normal model. Rule C-14.

    ``difference`` of the means and ``spread`` (standard deviation) of each, in grams.

    >>> round(chance_heavier_holds(0.4, 1.1), 4), round(chance_heavier_holds(0.4, 0.1), 4)
    (0.6015, 0.9977)
    """
    if spread <= 0:
        raise InputError.at("spread", "must be more than 0 g")
    return normal_at_most(difference / (spread * sqrt(2)))


def check_reading(grams: float, others: Sequence[float]) -> None:
    """Ask about a reading that does not fit the others of its product: a slip, another product, or a tray left on.

    Fitting is within eight spreads of their middle (by the middle deviation, which strays do not move), and two
    hundredths of it besides. Raises InputError at ``grams``; fewer than five others say nothing. Rule C-14.
    """
    if len(others) < _ENOUGH:
        return
    middle = median(others)
    spread = 1.4826 * median(abs(other - middle) for other in others)
    if abs(grams - middle) > 8 * spread + 0.02 * middle:
        raise InputError.at(
            "grams", f"the other {len(others)} are about {middle:.1f} g: tick “it is right” if this one is as well"
        )


@dataclass(frozen=True, slots=True)
class WeightVerdict:
    """What the owner's own weights say: the area under the curve (Mann-Whitney) with its 95 % interval, and the chance
    ``p_value`` of as much by luck, two-sided.

    ``needed`` is how many more of them would show a difference like the one seen, with power 0.8; None where it is
    shown already, or there is none.
    """

    with_hit: int
    without: int
    difference: float
    spread: float
    area: float
    low: float
    high: float
    p_value: float
    needed: int | None
    verdict: Verdict


def judge_weights(with_hit: Sequence[float], without: Sequence[float]) -> WeightVerdict:
    """Whether weight told, from weights in grams of those that held a hit and of those that did not. Rule C-14.

    It told only if p < 0.05 with five or more of each, in either direction. Raises InputError for fewer than two of
    either.
    """
    n, m = len(with_hit), len(without)
    if min(n, m) < 2:
        raise InputError.at("weights", "at least two with a hit and two without have to be weighed and opened")
    area = sum((a > b) + 0.5 * (a == b) for a in with_hit for b in without) / (n * m)
    low, high = newcombe(area, n, m)
    p_value = rank_sum_p_value(with_hit, without)
    pooled = sqrt(((n - 1) * stdev(with_hit) ** 2 + (m - 1) * stdev(without) ** 2) / (n + m - 2))
    told = p_value < _LEVEL and min(n, m) >= _ENOUGH
    needed = None
    if not told and area != 0.5:
        needed = max(_noether(area, n / (n + m)) - n - m, 1)
    which, chance = ("heavier", area) if area >= 0.5 else ("lighter", 1 - area)
    said = f"the {which} of two holds the hit in {chance * 100:.0f} of 100"
    if told:
        sentence = (Run("Weight told here: ", "tells", True), Run(f"{said}."))
    elif min(n, m) < _ENOUGH:
        sentence = (Run("Too few to say", "tells", True), Run(f": {said} so far, of {n} with a hit and {m} without."))
    else:
        sentence = (Run("No sign yet that weight tells", "tells", True), Run(f": {said} so far."))
    ground = [Run(f"Luck alone does as much in {p_value * 100:.{0 if p_value > 0.1 else 1}f} of 100. ")]
    if needed is not None:
        ground.append(Run(f"About {needed:,} more would show a difference like that. "))
    ground.append(
        Run("Loose packs can be weighed or searched before they are sold; do not sell sifted packs as untouched.")
    )
    return WeightVerdict(
        n, m, mean(with_hit) - mean(without), pooled, area, low, high, p_value, needed,
        Verdict(sentence, tuple(ground)),
    )  # fmt: skip


def _noether(area: float, share: float) -> int:
    """How many in all show such an area with power 0.8, a ``share`` of them with a hit (Noether 1987)."""
    z = normal_point(1 - _LEVEL / 2) + normal_point(0.8)
    return ceil(z**2 / (12 * share * (1 - share) * (area - 0.5) ** 2))
