"""Does weight tell which box or pack holds a hit? (Rule C-14)

Example: a hit weighs 0.4 g more; against a spread of 1.1 g the heavier of two holds it with 0.6015, against 0.1 g with
0.9977 (normal model).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, sqrt
from statistics import mean, stdev

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.maths.statistics import normal_at_most

_ENOUGH = 0.1


def chance_heavier_holds(difference: float, spread: float) -> float:
    """The chance that the heavier of two holds the hit, by the normal model. Rule C-14.

    ``difference`` of the means and ``spread`` (standard deviation) of each, in grams.

    >>> round(chance_heavier_holds(0.4, 1.1), 4), round(chance_heavier_holds(0.4, 0.1), 4)
    (0.6015, 0.9977)
    """
    if spread <= 0:
        raise InputError.at("spread", "must be more than 0 g")
    return normal_at_most(difference / (spread * sqrt(2)))


@dataclass(frozen=True, slots=True)
class WeightVerdict:
    """What the owner's own weights say: the area under the curve (Mann-Whitney) with a 95 % interval.

    ``needed`` is how many more of them would make the interval narrow enough to know; None if it is already.
    """

    with_hit: int
    without: int
    difference: float
    spread: float
    area: float
    low: float
    high: float
    needed: int | None
    verdict: Verdict


def judge_weights(with_hit: Sequence[float], without: Sequence[float]) -> WeightVerdict:
    """Whether weight told, from weights in grams of those that held a hit and of those that did not. Rule C-14.

    The interval of the area is Hanley and McNeil's (1982). Raises InputError for fewer than two of either.
    """
    if len(with_hit) < 2 or len(without) < 2:
        raise InputError.at("weights", "at least two with a hit and two without have to be weighed and opened")
    wins = sum((a > b) + 0.5 * (a == b) for a in with_hit for b in without)
    n, m = len(with_hit), len(without)
    area = wins / (n * m)
    q1, q2 = area / (2 - area), 2 * area**2 / (1 + area)
    variance = (area * (1 - area) + (n - 1) * (q1 - area**2) + (m - 1) * (q2 - area**2)) / (n * m)
    half = 1.96 * sqrt(max(variance, 1 / (12 * min(n, m) ** 2)))
    low, high = max(area - half, 0.0), min(area + half, 1.0)
    pooled = sqrt(((n - 1) * stdev(with_hit) ** 2 + (m - 1) * stdev(without) ** 2) / (n + m - 2))
    needed = None if half <= _ENOUGH else ceil((n + m) * (half / _ENOUGH) ** 2) - n - m
    said = "The heavier of two holds the hit in "
    if low > 0.5:
        sentence = (Run("Weight told here: ", "tells", True), Run(f"{said.lower()}{area * 100:.0f} of 100."))
    elif high < 0.5 + _ENOUGH and low > 0.5 - _ENOUGH:
        sentence = (Run("Weight does not tell", "tells", True), Run(f": {said.lower()}{area * 100:.0f} of 100."))
    else:
        sentence = (Run("Too few to say", "tells", True), Run(f": {said.lower()}{area * 100:.0f} of 100 so far."))
    ground = [Run(f"Between {low * 100:.0f} and {high * 100:.0f} of 100 with this sample. ")]
    if needed is not None:
        ground.append(Run(f"About {needed} more would be needed to know. "))
    ground.append(
        Run("Loose packs can be weighed or searched before they are sold; do not sell sifted packs as untouched.")
    )
    return WeightVerdict(
        n, m, mean(with_hit) - mean(without), pooled, area, low, high, needed, Verdict(sentence, tuple(ground))
    )
