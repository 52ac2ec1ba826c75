"""What is thought of a card before it goes: its chances by all that is known of it, and what it is worth in each grade
(Rules C-26 to C-28)."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.grading.calibrating import Calibration
from tobbix.core.grading.graders import GraderProfile
from tobbix.core.grading.pregrading import Looked, blend, dirichlet, pre_grade, with_gem
from tobbix.core.pricing.grade_curve import GradeValue, fit_curve


class Ground(StrEnum):
    """What the chances of a card rest on most."""

    SAID = "said"
    PICTURES = "pictures"
    POPULATION = "population"
    NOTHING = "nothing"


@dataclass(frozen=True, slots=True)
class KnownOfCard:
    """What is known of a card: what was seen on it (with what its mates usually have, where nobody looked) and whether
    anybody looked, chances that its owner says (None: none
    are), how many of its kind got which grade."""

    looked: Looked
    is_looked_at: bool
    said: Mapping[str, float] | None
    population: Mapping[str, int]

    @property
    def ground(self) -> Ground:
        if self.said is not None:
            return Ground.SAID
        if self.is_looked_at:
            return Ground.PICTURES
        return Ground.POPULATION if self.population else Ground.NOTHING


def falling(chances: Mapping[str, float]) -> dict[str, float]:
    """Chances from the gem down, however they were kept."""
    return dict(sorted(chances.items(), key=lambda it: -float(it[0])))


def expect(
    known: KnownOfCard, profile: GraderProfile, strength: float, record: Calibration | None, strict: bool = True
) -> dict[str, float]:
    """The chances of each grade from the gem down: what the owner says; else the population, as a prior of a
    ``strength``, moved by what was seen of the card, and the gem's chance by the own ``record``. Nothing of one who
    gives no grades. A population of cards that nobody looked at stands as it is: their release's faults are in it."""
    if not profile.grades_cards:
        return {}
    if known.said is not None:
        return falling(known.said)
    prior = dirichlet(known.population, profile.grades, strength) if known.population else None
    if prior is not None and not known.is_looked_at:
        found = prior
    else:
        seen = pre_grade(known.looked, profile, strict).chances
        found = dict(seen) if prior is None else blend(prior, seen)
    return found if record is None else with_gem(found, record.correct(next(iter(found.values()))))


def fill_values(
    known: Mapping[str, Decimal | None], raw: Decimal | None
) -> tuple[dict[str, Decimal | None], frozenset[str]]:
    """Values by grade from the gem down (money): those between known ones by the grade curve (C-19), those below the
    lowest as the raw card at most; above the highest nothing is known. And which of them are such guesses.

    >>> known = {"10": None, "9": Decimal(100), "8": None, "7": Decimal(25), "6": None}
    >>> found, guessed = fill_values(known, Decimal(30))
    >>> [None if value is None else int(value) for value in found.values()], sorted(guessed)
    ([None, 100, 50, 25, 25], ['6', '8'])
    """
    if not any(known.values()):
        return dict(known), frozenset()
    upwards = list(known)[::-1]
    curve = fit_curve([GradeValue(grade, float(value) if (value := known[grade]) else None) for grade in upwards])
    lowest = next((it.fitted for it in curve.fit if it.fitted is not None), None)
    found: dict[str, Decimal | None] = {}
    is_below = True
    for it in curve.fit:
        fitted = it.fitted
        if fitted is not None:
            is_below = False
        elif is_below and lowest is not None and raw is not None:
            fitted = min(lowest, float(raw))
        found[it.grade] = known[it.grade] or (None if fitted is None else round(Decimal(repr(fitted)), 2))
    guessed = frozenset(grade for grade, value in found.items() if value is not None and known[grade] is None)
    return {grade: found[grade] for grade in known}, guessed


def exact_chances(chances: Mapping[str, float]) -> dict[str, Decimal]:
    """Chances as decimals to six places that add up to 1; the greatest takes what rounding leaves.

    >>> sum(exact_chances({"10": 1 / 3, "9": 1 / 3, "8": 1 / 3}).values())
    Decimal('1.000000')
    """
    found = {grade: round(Decimal(repr(float(chance))), 6) for grade, chance in chances.items()}
    largest = max(found, key=lambda grade: found[grade])
    found[largest] += 1 - sum(found.values(), Decimal(0))
    return found
