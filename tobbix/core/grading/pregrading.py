"""What a card may grade: a distribution over a grader's grades from its centering, its flaws and what is known of its
mates (Rule C-27); the population behind it as a Dirichlet prior (Rule C-26).

Each part (centering, corners, edges, surface) gets chances of the grades by itself: centering by the grader's limits
and how surely the borders are measured; the others by what the flaws marked on them take off, told apart by how much
graders vary. The parts make the whole by the grader's profile: the weakest of them, or their mean, at most so many
steps above the lowest. Strictly every flaw counts in full, leniently by half; what nobody saw takes a little off either
way, and a side that nobody looked at may have what is usual on its mates: the chances with each of those and without
it, by how often they were marked. The back counts as much as the profile says. What a mark takes off is common
practice, no source; the owner's record corrects it (C-28).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.grading.graders import GraderProfile, Whole
from tobbix.core.grading.known_faults import MOST_OF_PART, KnownFault
from tobbix.core.maths.severity import Array
from tobbix.core.maths.statistics import normal_at_most, normal_point
from tobbix.core.sorting.flaws import Flaw, FlawKind, Place, Side, Size

VARIES = 0.55  # grades (standard deviation) that graders differ by on one part, until their record says so
UNMEASURED = 2.2  # points (standard deviation) of a border share that nobody measured, about even borders
_UNSEEN = (0.2, 0.05)  # grades that what nobody saw takes off a part, strictly and leniently
_TAKES = {Size.SMALL: 0.9, Size.MEDIUM: 2.0, Size.LARGE: 4.0}
_WORSE = {FlawKind.CREASE: 2.0, FlawKind.TEAR: 2.0, FlawKind.WRITING: 2.0, FlawKind.WARP: 1.2, FlawKind.PRINT: 0.6}
_95 = float(normal_point(0.975))


class GradePart(StrEnum):
    """The parts of a card that a grader looks at."""

    CENTERING = "centering"
    CORNERS = "corners"
    EDGES = "edges"
    SURFACE = "surface"


@dataclass(frozen=True, slots=True)
class SideMeasured:
    """The larger shares of the two pairs of borders of a side (percent), each with its 95 % (points)."""

    left_right: float
    top_bottom: float
    uncertainty: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Looked:
    """What is known of a card before it goes: its sides as measured (None: not), the flaws marked on it, and what it
    may have unseen."""

    front: SideMeasured | None
    back: SideMeasured | None
    flaws: tuple[Flaw, ...] = ()
    unseen: tuple[KnownFault, ...] = ()


@dataclass(frozen=True, slots=True)
class PreGrade:
    """The chances of each grade from the gem down (shares), and of each part by itself."""

    chances: Mapping[str, float]
    parts: Mapping[GradePart, Mapping[str, float]]

    @property
    def expected(self) -> float:
        """The mean grade."""
        return sum(float(grade) * chance for grade, chance in self.chances.items())

    @property
    def gem(self) -> float:
        return next(iter(self.chances.values()))


@lru_cache(maxsize=4096)
def pre_grade(looked: Looked, profile: GraderProfile, strict: bool = True, varies: float = VARIES) -> PreGrade:
    """The chances of the grades of a card by a grader. Rule C-27. ``varies``: grades that the grader differs by."""
    grades = np.array(profile.numbers)
    parts = {
        GradePart.CENTERING: _centering(looked, profile),
        **{
            part: _part(part, looked, profile, grades, strict, varies)
            for part in (GradePart.CORNERS, GradePart.EDGES, GradePart.SURFACE)
        },
    }
    masses = list(parts.values())
    whole = _weakest(masses) if profile.whole is Whole.WEAKEST else _mean(masses, grades, float(profile.cap))
    named = {part: dict(zip(profile.grades, map(float, mass), strict=True)) for part, mass in parts.items()}
    return PreGrade(dict(zip(profile.grades, map(float, whole), strict=True)), named)


def part_of(flaw: Flaw) -> GradePart:
    """The part that a flaw is of: by its place, but a crease, a stain or a bend is of the surface wherever it lies."""
    if flaw.kind not in (FlawKind.WEAR, FlawKind.DENT, FlawKind.TEAR):
        return GradePart.SURFACE
    return {Place.CORNER: GradePart.CORNERS, Place.EDGE: GradePart.EDGES, Place.PICTURE: GradePart.SURFACE}[flaw.place]


def _centering(looked: Looked, profile: GraderProfile) -> Array:
    """By the limits: of each grade the chance that all borders are within what it allows, less that of the grade above.
    Without limits the gem is all that centering says."""
    at_least = np.ones(len(profile.grades))
    limits = {it.grade: (float(it.front), float(it.back)) for it in profile.limits}
    allowed: list[tuple[float, float]] = []
    known: tuple[float, float] | None = None
    for grade in reversed(profile.grades):  # a grade between two of the list allows what the one below it does
        known = limits.get(grade, known)
        allowed.append(known or (100.0, 100.0))
    for at, (front, back) in enumerate(reversed(allowed)):
        at_least[at] = _within(looked.front, front) * _within(looked.back, back)
    at_least[-1] = 1.0
    at_least = np.maximum.accumulate(at_least)
    return np.diff(at_least, prepend=0.0)


def _within(side: SideMeasured | None, limit: float) -> float:
    """The chance that both pairs of borders of a side lie within a limit."""
    if side is None:
        one = 2 * normal_at_most((limit - 50) / UNMEASURED) - 1
        return float(one * one)
    chance = 1.0
    for share, reach in zip((side.left_right, side.top_bottom), side.uncertainty, strict=True):
        deviation = max(reach / _95, 1e-6)
        chance *= normal_at_most((limit - share) / deviation) - normal_at_most((100 - limit - share) / deviation)
    return chance


def _part(
    part: GradePart, looked: Looked, profile: GraderProfile, grades: Array, strict: bool, varies: float
) -> Array:  # fmt: skip
    """A part by its flaws, over all ways in which it may have what is usual on its mates."""
    ways: list[tuple[float, list[Flaw]]] = [(1.0, [it for it in looked.flaws if part_of(it) is part])]
    for it in [it for it in looked.unseen if part_of(it.flaw) is part][:MOST_OF_PART]:
        ways = [
            way
            for chance, flaws in ways
            for way in ((chance * it.share, [*flaws, it.flaw]), (chance * (1 - it.share), flaws))
        ]
    return np.asarray(sum(chance * _by_flaws(flaws, profile, grades, strict, varies) for chance, flaws in ways))


def _by_flaws(
    flaws: Sequence[Flaw], profile: GraderProfile, grades: Array, strict: bool, varies: float
) -> Array:  # fmt: skip
    """A part by what its flaws take off: the worst in full, each further one by half of what the one before counted."""
    taken = sorted(
        (_TAKES[it.size] * _WORSE.get(it.kind, 1.0) * (float(profile.back_weight) if it.side is Side.BACK else 1.0)
         for it in flaws), reverse=True,
    )  # fmt: skip
    off = sum(part / 2**at for at, part in enumerate(taken)) * (1.0 if strict else 0.5) + _UNSEEN[0 if strict else 1]
    steps = -np.diff(grades)
    bounds = np.r_[np.inf, grades[:-1] - steps / 2, -np.inf]  # from the gem down: between two grades their middle
    at_most = np.array([normal_at_most((bound - (grades[0] - off)) / varies) if np.isfinite(bound) else float(bound > 0)
                        for bound in bounds])  # fmt: skip
    return np.asarray(-np.diff(at_most))


def _weakest(masses: Sequence[Array]) -> Array:
    """The chances of the lowest of the parts: all of them are at least so good."""
    at_least = np.prod([np.cumsum(mass) for mass in masses], axis=0)
    return np.diff(at_least, prepend=0.0)


def _mean(masses: Sequence[Array], grades: Array, cap: float) -> Array:
    """The chances of the parts' mean, rounded to the nearest grade (down where it is between two), at most ``cap``
    steps of the scale above the lowest.

    Example: 9.5, 9.5, 9 and 8 are 9 on average; with a cap of two half grades they make a 9.
    """
    near = [np.flatnonzero(mass > 1e-4) for mass in masses]
    places = np.stack([axis.ravel() for axis in np.meshgrid(*near, indexing="ij")])
    chances = np.prod([mass[at] for mass, at in zip(masses, places, strict=True)], axis=0)
    whole = np.bincount(grades_of_parts(grades, places, cap), weights=chances, minlength=len(grades))
    return np.asarray(whole / whole.sum(), np.float64)


def grades_of_parts(grades: Array, places: NDArray[np.int64], cap: float) -> NDArray[np.int64]:
    """Which grades (by their places from the gem down, shape (n,)) subgrades at some places (shape (parts, n)) make."""
    middle = grades[places].mean(axis=0)
    off = np.abs(grades[:, None] - middle) + 1e-9 * (grades[:, None] > middle)
    return np.asarray(np.maximum(off.argmin(axis=0), places.max(axis=0) - int(cap)), np.int64)


def dirichlet(counts: Mapping[str, int], grades: Sequence[str], strength: float = 1.0) -> dict[str, float]:
    """The population as a prior: shares of the grades, each with 1/2 and ``strength`` times its share of 1 (or times
    how many it counts for, where ``strength`` is larger than 1). Rule C-26.

    >>> [round(share, 3) for share in dirichlet({"10": 30, "9": 60}, ["10", "9", "8"], 10).values()]
    [0.333, 0.623, 0.043]
    """
    if strength < 0 or any(count < 0 for count in counts.values()):
        raise InputError.at("strength", "must not be negative")
    known = sum(counts.get(grade, 0) for grade in grades)
    weights = [0.5 + (strength * counts.get(grade, 0) / known if known else 0.0) for grade in grades]
    return {grade: weight / sum(weights) for grade, weight in zip(grades, weights, strict=True)}


def blend(prior: Mapping[str, float], seen: Mapping[str, float]) -> dict[str, float]:
    """A prior moved by what was seen of the card itself: multiplied grade by grade (Bayes), what was seen taken as how
    well each grade fits it; a grade that was held impossible keeps a thousandth."""
    weights = {grade: prior.get(grade, 0.0) * max(chance, 1e-3) for grade, chance in seen.items()}
    total = sum(weights.values())
    return dict(seen) if total <= 0 else {grade: weight / total for grade, weight in weights.items()}


def with_gem(chances: Mapping[str, float], gem: float) -> dict[str, float]:
    """The same chances with another one of a gem, the other grades in proportion."""
    top, *others = chances
    rest = sum(chances[grade] for grade in others)
    if rest <= 0:
        gem = 1.0
    return {top: gem} | {grade: chances[grade] / rest * (1 - gem) if rest > 0 else 0.0 for grade in others}


def allows(side: SideMeasured | None, profile: GraderProfile, back: bool = False) -> str | None:
    """The best grade whose limit a side keeps; None where it was not measured or the grader names no limits."""
    if side is None or not profile.limits:
        return None
    worst = max(side.left_right, 100 - side.left_right, side.top_bottom, 100 - side.top_bottom)
    best = [it.grade for it in profile.limits if worst <= float(it.back if back else it.front)]
    lowest = min(float(it.grade) for it in profile.limits)
    under = [grade for grade in profile.grades if float(grade) < lowest]
    return max(best, key=float) if best else (under or profile.grades[-1:])[0]


def state_pre_grade(strict: PreGrade, lenient: PreGrade, grader: str) -> Verdict:
    """What the eye says, strictly and leniently."""
    (low, high) = sorted((strict.gem, lenient.gem))
    gem = next(iter(strict.chances))
    sentence = (
        Run(f"{grader} may make it a {gem} in "),
        Run(f"{low * 100:.0f} to {high * 100:.0f} %" if round(low * 100) < round(high * 100) else f"{low * 100:.0f} %",
            "gem", True),
        Run(f"; about {strict.expected:.1f} strictly, {lenient.expected:.1f} leniently."),
    )  # fmt: skip
    return Verdict(sentence, (Run("An estimate by its limits and what was marked; grading is an opinion."),))
