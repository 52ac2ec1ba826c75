"""A grader's grades of one card, one above another: what each is worth, how many there are, how many more there were.

The worth never falls as the grade rises (C-19); a population that was not found is unknown, never zero.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.buying.reading import take_day
from tobbix.core.maths.statistics import wilson
from tobbix.core.pricing.estimating import HALF_LIFE, Estimate
from tobbix.core.pricing.grade_curve import GradeValue, fit_curve

_HOW = "write a grader and how many of each grade, like Plumbline 10:12 9:40"
SCARCE_GEMS = 100  # common practice, no source: fewer over all graders together is scarce


@dataclass(frozen=True, slots=True)
class Population:
    """How many copies a grader had given a grade to, on a day."""

    grader: str
    grade: str
    count: int
    day: date


@dataclass(frozen=True, slots=True)
class Rung:
    """A grade: what its sales say (``estimate``) and what fits those beside it (``fitted``; money, None: not known;
    ``estimated`` from its neighbours alone), how many sales and how old the last (days), how many copies there are, how
    many more than on the day before that one was counted, and which share of them is sold a year (None: unknown)."""

    grade: str
    estimate: float | None
    fitted: float | None
    estimated: bool
    used: int
    days_since_last: int | None
    population: int | None
    grown: int | None
    sold_per_year: float | None


@dataclass(frozen=True, slots=True)
class Ladder:
    """A grader's grades upwards; ``reversals`` are neighbours of which the lower went for more. ``gems`` of ``graded``
    are the top grade in everyday sale, with the gem rate's Wilson interval (None: no population is known)."""

    grader: str
    rungs: tuple[Rung, ...]
    reversals: tuple[tuple[str, str], ...]
    graded: int | None
    gems: int | None
    gem_rate: float | None
    gem_low: float | None
    gem_high: float | None
    counted_on: date | None


def grade_order(grade: str) -> tuple[float, str]:
    """Where a grade stands among others: by its number, what has none below them."""
    found = re.match(r"[0-9]+(?:\.[0-9]+)?", grade)
    return (float(found[0]) if found else -1.0, grade)


def build_ladder(grader: str, estimates: Mapping[str, Estimate], counted: Sequence[Population], on: date) -> Ladder:
    """A grader's ladder from the estimates by grade and all populations that were ever counted. Rule C-19.

    A grade weighs by its sales: the sum of 2^(-age / half-life). Gem is 10, or from 9.5 on where the grader has halves.
    """
    newest: dict[str, Population] = {}
    before: dict[str, Population] = {}
    for item in sorted(counted, key=lambda it: it.day):
        if item.grade in newest and newest[item.grade].day < item.day:
            before[item.grade] = newest[item.grade]
        newest[item.grade] = item
    grades = sorted({*estimates, *newest}, key=grade_order)
    curve = fit_curve([_value(grade, estimates.get(grade), on) for grade in grades]) if grades else None
    rungs = []
    for at, grade in enumerate(grades):
        found, now, fitted = estimates.get(grade), newest.get(grade), curve.fit[at] if curve else None
        last = before.get(grade)
        rungs.append(
            Rung(
                grade, None if found is None else found.estimate, None if fitted is None else fitted.fitted,
                fitted is not None and fitted.estimated, 0 if found is None else found.used,
                None if found is None else found.days_since_last, None if now is None else now.count,
                None if now is None or last is None else now.count - last.count,
                None if found is None or now is None or now.count == 0
                else found.sales_per_30_days * 365 / 30 / now.count,
            )
        )  # fmt: skip
    has_halves = any(grade_order(grade)[0] % 1 for grade in newest)
    graded = sum(item.count for item in newest.values()) if newest else None
    gems = None
    if newest:
        gems = sum(item.count for grade, item in newest.items() if grade_order(grade)[0] >= (9.5 if has_halves else 10))
    rate = wilson(gems, graded) if graded and gems is not None else None
    return Ladder(
        grader, tuple(rungs), () if curve is None else curve.reversals, graded, gems,
        gems / graded if graded and gems is not None else None, None if rate is None else rate[0],
        None if rate is None else rate[1], max((item.day for item in newest.values()), default=None),
    )  # fmt: skip


def _value(grade: str, found: Estimate | None, on: date) -> GradeValue:
    if found is None or found.estimate is None:
        return GradeValue(grade, None)
    ages = np.array([(on - item.seen.comp.day).days for item in found.counted])
    return GradeValue(grade, found.estimate, float(np.sum(2.0 ** (-ages / HALF_LIFE))))


def state_gems(ladders: Iterable[Ladder]) -> str:
    """How many gems there are over all graders, and whether that is scarce; empty where nobody counted."""
    known = [ladder for ladder in ladders if ladder.gems is not None]
    if not known:
        return ""
    gems = sum(ladder.gems or 0 for ladder in known)
    scarce = ": scarce, which is not the same as wanted" if gems < SCARCE_GEMS else ""
    return f"{gems:,} {'gem' if gems == 1 else 'gems'} over all graders that were counted{scarce}."


def read_populations(text: str, today: date, graders: Sequence[str]) -> list[Population]:
    """Populations as they were typed: "Plumbline 10:12 9:40 8:22", with a day if it is not today; a line per grader.

    Raises InputError at ``text`` with the row.

    >>> [(it.grade, it.count) for it in read_populations("Plumbline 10:12 9:40", date(2026, 11, 27), [])]
    [('10', 12), ('9', 40)]
    """
    found: list[Population] = []
    known = {name.casefold(): name for name in graders}
    for at, line in enumerate(text.splitlines(), 1):
        words, day = take_day(line.split(), today)
        counts = [re.fullmatch(r"(?P<grade>[0-9A-Za-z.+]{1,20})[:=](?P<count>[0-9]{1,7})", word) for word in words]
        names = [word for word, count in zip(words, counts, strict=True) if count is None]
        if not words:
            continue
        where = at if "\n" in text.strip() else None
        said = [count for count in counts if count is not None]
        if not said or not names:
            raise _refused(_HOW, where)
        if day is not None and day > today:
            raise _refused(f"{day.isoformat()} is still to come", where)
        if len({count["grade"] for count in said}) < len(said):
            raise _refused("a grade is there twice", where)
        name = " ".join(names)[:40]
        grader = known.get(name.casefold(), name)
        found += [Population(grader, count["grade"], int(count["count"]), day or today) for count in said]
    if not found:
        raise _refused(_HOW, None)
    return found


def _refused(message: str, row: int | None) -> InputError:
    return InputError([Fault("text", message, None, row)])
