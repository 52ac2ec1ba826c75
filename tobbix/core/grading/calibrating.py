"""How good the eye is: predicted grades against received ones (Rule C-28).

The Brier score of the chance of a gem splits into what is miscalibrated, what is told apart and what nobody could know
(Murphy 1973), over the groups that isotonic regression makes of the predictions rather than over bins of one's own
(Dimitriadis, Gneiting and Jordan 2021): score = miscalibration - discrimination + uncertainty, exactly. The correction
for the next prediction is a shift of the log odds, shrunk towards none by how little is known.

Example: 19 gems of 30 are 0.633, by Wilson 0.455 to 0.781.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

import numpy as np

from tobbix.core.base.results import Run, Verdict
from tobbix.core.maths.severity import Array
from tobbix.core.maths.statistics import wilson
from tobbix.core.pricing.grade_curve import rise

SHRINK = 20.0  # predictions that "no correction" counts for
_SMALL = 1e-6


@dataclass(frozen=True, slots=True)
class Outcome:
    """A card whose grade came back: by which ``grader``, of which ``release``, on which day, what was said of it (the
    chance of each grade), and the grade that it got."""

    item: int
    grader: str
    release: str
    day: date
    chances: Mapping[str, float]
    grade: str

    @property
    def gem(self) -> float:
        """The chance of a gem that was said."""
        return next(iter(self.chances.values()))

    @property
    def is_gem(self) -> bool:
        return self.grade == next(iter(self.chances))


@dataclass(frozen=True, slots=True)
class GemRate:
    """How many of some cards were gems, with the 95 % (Wilson 1927), and what was said of them on average."""

    name: str
    gems: int
    of: int
    low: float
    high: float
    said: float

    @property
    def share(self) -> float:
        return self.gems / self.of


@dataclass(frozen=True, slots=True)
class Reliable:
    """A group of predictions: what was said on average, what came true, of how many."""

    said: float
    came: float
    of: int


@dataclass(frozen=True, slots=True)
class Calibration:
    """How the predictions did: score (0 is best; saying the base rate scores the uncertainty), its three parts, the
    groups that isotonic regression makes, how far the log odds should be shifted, and that shift shrunk."""

    of: int
    brier: float
    miscalibration: float
    discrimination: float
    uncertainty: float
    groups: tuple[Reliable, ...]
    shift: float
    shrunk: float

    def correct(self, chance: float) -> float:
        """A chance of a gem, corrected by what the record suggests."""
        return _from_odds(_odds(chance) + self.shrunk)


def gem_rate(name: str, outcomes: Sequence[Outcome]) -> GemRate:
    """How many of some cards were gems. Rule C-28. Raises ValueError for none.

    >>> many = [Outcome(0, "", "", date(2026, 1, 1), {"10": 0.5}, "10" if at < 19 else "9") for at in range(30)]
    >>> found = gem_rate("all", many)
    >>> (round(found.share, 3), round(found.low, 3), round(found.high, 3))
    (0.633, 0.455, 0.781)
    """
    gems = sum(it.is_gem for it in outcomes)
    low, high = wilson(gems, len(outcomes))
    said = float(np.mean([it.gem for it in outcomes]))
    return GemRate(name, gems, len(outcomes), low, high, said)


def gem_rates(outcomes: Sequence[Outcome], by: str) -> list[GemRate]:
    """The gem rates by ``grader``, ``release``, ``quarter`` or ``bucket`` (of what was said), in order."""

    def key(it: Outcome) -> str:
        if by == "quarter":
            return f"{it.day.year} Q{(it.day.month + 2) // 3}"
        if by == "bucket":
            low = min(int(it.gem * 5), 4) * 20
            return f"{low} to {low + 20} %"
        return it.grader if by == "grader" else it.release

    ordered = sorted(outcomes, key=lambda it: (len(key(it)) if by == "bucket" else 0, key(it)))
    return [gem_rate(name, list(of_it)) for name, of_it in groupby(ordered, key)]


def calibrate(said: Sequence[float], came: Sequence[bool], shrink: float = SHRINK) -> Calibration | None:
    """How chances that were said did against what came true (shape (n,) both); None for none. Rule C-28."""
    if not said:
        return None
    x, y = np.array(said, float), np.array(came, float)
    order = np.lexsort((-y, x))
    x, y = x[order], y[order]
    starts = np.flatnonzero(np.r_[True, np.diff(x) > 0])  # equal predictions are one
    counts = np.diff(np.r_[starts, len(x)]).astype(float)
    fitted = np.repeat(rise(np.add.reduceat(y, starts) / counts, counts), counts.astype(int))
    base = float(y.mean())
    brier, best = float(((x - y) ** 2).mean()), float(((fitted - y) ** 2).mean())
    unknown = base * (1 - base)
    groups = tuple(
        Reliable(float(x[at].mean()), float(level), len(at))
        for level in np.unique(fitted)
        for at in [np.flatnonzero(fitted == level)]
    )
    shift = _shift(x, base)
    return Calibration(
        len(x), brier, brier - best, unknown - best, unknown, groups, shift, shift * len(x) / (len(x) + shrink)
    )


def _odds(chance: float) -> float:
    kept = min(max(chance, _SMALL), 1 - _SMALL)
    return float(np.log(kept / (1 - kept)))


def _from_odds(odds: float) -> float:
    return float(1 / (1 + np.exp(-odds)))


def _shift(said: Array, base: float) -> float:
    """The shift of the log odds after which the predictions are right on average; half a case on either side keeps it
    finite."""
    want = (base * len(said) + 0.5) / (len(said) + 1)
    odds = np.array([_odds(chance) for chance in said.tolist()])
    low, high = -12.0, 12.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if float((1 / (1 + np.exp(-odds - middle))).mean()) < want else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class GraderSpread:
    """By how many grades (standard deviation) a grader differs from itself, over so many cards seen twice or more."""

    deviation: float
    cards: int


def grader_spread(twice: Sequence[Sequence[float]]) -> GraderSpread | None:
    """How much a grader varies, from the grades of cards that it saw more than once (pooled within cards; None: none
    was). Rule C-28.

    >>> grader_spread([[10, 9], [9, 9], [8]]).deviation
    0.5
    """
    seen = [np.array(grades, float) for grades in twice if len(grades) > 1]
    if not seen:
        return None
    within = sum(float(((grades - grades.mean()) ** 2).sum()) for grades in seen)
    return GraderSpread((within / sum(len(grades) - 1 for grades in seen)) ** 0.5, len(seen))


def state_calibration(found: Calibration | None, gems: int) -> Verdict:
    """How good the eye is, in a sentence."""
    if found is None:
        return Verdict((Run("No grade has come back", "gems", True), Run(" that was predicted before it went.")), ())
    said = sum(group.said * group.of for group in found.groups) / found.of
    of = f"{gems} of {found.of}"
    surer = "surer than you should be" if said > gems / found.of else "less sure than you could be"
    right = abs(said - gems / found.of) < 0.03
    sentence = (
        Run("You said a gem in "), Run(f"{said * 100:.0f} %"), Run(", it was one in "),
        Run(f"{gems / found.of * 100:.0f} %", "gems", True),
        Run(f" ({of}): about right." if right else f" ({of}): you are {surer}."),
    )  # fmt: skip
    better = "better" if found.brier < found.uncertainty else "no better"
    ground = (
        f"Brier score {found.brier:.3f}, {better} than always saying the share that came ({found.uncertainty:.3f}); "
        "a record of what was chosen to be sent, not of all cards."
    )
    return Verdict(sentence, (Run(ground),))
