"""Which way out of all there are is worth most for a thing that is held, in money of today (Rule C-38).

What comes in later is worth less by the owner's yearly rate; what is paid at once counts in full, as do the minutes at
the owner's hourly rate. The greatest is proposed. Where the next is within the value's own spread of it, they are too
close to call.

Example: 12 an hour, 10 % a year; the card of C-26 with cracking out: 132.169 x 1.1^(-120/365) - 27.40 - 2.00 = 98.69 to
grade (10 minutes, 120 days), 68.40 x 1.1^(-20/365) - 1.20 = 66.84 to sell raw in 20 days (6 minutes): grade it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount


class Road(StrEnum):
    """A kind of way out."""

    SELL = "sell"
    GRADE = "grade"
    IN_PERSON = "in_person"
    LOT = "lot"
    SET = "set"
    KEEP = "keep"
    GIVE = "give"


@dataclass(frozen=True, slots=True)
class PlanningTerms:
    """What time and waiting cost: an hour (money), a year (share), the minutes that each road takes, how long a sale
    takes where nobody knows, and until somebody is met (days)."""

    hourly: Decimal = Decimal(0)
    yearly: Decimal = Decimal("0.05")
    selling: Decimal = Decimal(6)
    grading: Decimal = Decimal(10)
    in_person: Decimal = Decimal(3)
    lot: Decimal = Decimal("0.5")
    other: Decimal = Decimal(1)
    days: int = 60
    meeting_days: int = 45

    def __post_init__(self) -> None:
        faults = [
            Fault(name, "must be from 0 to 10,000")
            for name in ("hourly", "selling", "grading", "in_person", "lot", "other")
            if not 0 <= getattr(self, name) <= 10_000
        ]
        if not 0 <= self.yearly <= 10:
            faults.append(Fault("yearly", "must be from 0 to 10 (0.1 is 10 % a year)"))
        for name in ("days", "meeting_days"):
            if not 0 <= getattr(self, name) <= 3_650:
                faults.append(Fault(name, "must be from 0 to 3,650"))
        if faults:
            raise InputError(faults)


@dataclass(frozen=True, slots=True)
class WayOut:
    """One way out: what ``comes`` in (money, None: not known, and ``why``), in how many ``days``, what is ``spent`` at
    once, how many minutes it takes; ``assumed`` where its days are a default; ``key`` of the way of selling or the
    grader's tier."""

    road: Road
    name: str
    comes: Decimal | None
    days: int = 0
    spent: Decimal = Decimal(0)
    minutes: Decimal = Decimal(0)
    key: str = ""
    why: str = ""
    assumed: bool = False

    def today(self, terms: PlanningTerms) -> Decimal | None:
        """What it is worth today (money, exact but for the power). Rule C-38.

        >>> terms = PlanningTerms(Decimal(12), Decimal("0.1"))
        >>> grade = WayOut(Road.GRADE, "grade", Decimal("132.169"), 120, Decimal("27.40"), Decimal(10))
        >>> raw = WayOut(Road.SELL, "raw", Decimal("68.40"), 20, minutes=Decimal(6))
        >>> round(grade.today(terms), 2), round(raw.today(terms), 2)
        (Decimal('98.69'), Decimal('66.84'))
        """
        if self.comes is None:
            return None
        later = (1 + terms.yearly) ** (Decimal(-self.days) / 365)
        return self.comes * later - self.spent - self.minutes / 60 * terms.hourly


@dataclass(frozen=True, slots=True)
class Weighed:
    """A way out with what it is worth today (money; None: not known)."""

    way: WayOut
    today: Decimal | None


@dataclass(frozen=True, slots=True)
class WhichWay:
    """All ways out, the best first and those that are not known last; by how much the best is ahead of the
    ``runner_up`` (money), and whether that is within the ``spread`` of the thing's value (half of its 80 %, money;
    None: not known)."""

    ways: tuple[Weighed, ...]
    spread: Decimal | None

    @property
    def best(self) -> Weighed | None:
        return self.ways[0] if self.ways and self.ways[0].today is not None else None

    @property
    def runner_up(self) -> Weighed | None:
        return self.ways[1] if len(self.ways) > 1 and self.ways[1].today is not None else None

    @property
    def margin(self) -> Decimal | None:
        best, second = self.best, self.runner_up
        if best is None or second is None or best.today is None or second.today is None:
            return None
        return best.today - second.today

    @property
    def is_close(self) -> bool:
        """Too close to call; nothing is called that nobody can tell the spread of but the first is hardly ahead."""
        return self.margin is not None and (self.margin <= self.spread if self.spread is not None else self.margin <= 0)


def weigh_ways(ways: Sequence[WayOut], terms: PlanningTerms, spread: Decimal | None) -> WhichWay:
    """All ways out by what they are worth today; of like ones the quicker first. Rule C-38."""
    weighed = [Weighed(way, way.today(terms)) for way in ways]
    weighed.sort(key=lambda it: (it.today is None, -(it.today or 0), it.way.days, it.way.minutes))
    return WhichWay(tuple(weighed), spread)


_DO = {
    Road.SELL: "Sell it by {}", Road.GRADE: "Grade it: {}", Road.IN_PERSON: "Sell it in person",
    Road.LOT: "Put it into a lot", Road.SET: "Put it into your set", Road.KEEP: "Keep it", Road.GIVE: "Give it away",
}  # fmt: skip


def say_road(way: WayOut) -> str:
    """What to do, in a few words."""
    return _DO[way.road].format(way.name)


def state_way(found: WhichWay, chosen: WayOut | None, home: str) -> Verdict:
    """What to do with a thing, by how much, and what comes next."""
    best, second = found.best, found.runner_up
    if best is None or best.today is None:
        return Verdict(
            (
                Run("What it is worth is not known", "way", True),
                Run(": price it first."),
            ),
            (),
        )
    worth = amount(best.today, home)
    ground: list[Run] = []
    if chosen is not None and (chosen.road, chosen.key) != (best.way.road, best.way.key):
        head: tuple[Run, ...] = (Run("You chose otherwise: "), Run(_lower(say_road(chosen)), "way", True), Run("."))
        ground.append(Run(f"{say_road(best.way)} would be worth {worth} today."))
        return Verdict(head, tuple(ground))
    head = (Run(say_road(best.way), "way", True), Run(f": worth {worth} today."))
    if second is not None and found.margin is not None:
        other = _lower(say_road(second.way))
        if found.is_close:
            either = f": {_lower(say_road(best.way))} or {other}, about {worth}."
            head = (Run("Too close to call", "way", True), Run(either))
        else:
            ground.append(Run(f"Next: {other}, {amount(found.margin, home)} less."))
    if found.spread is None:
        ground.append(Run("How sure its value is, is not known."))
    return Verdict(head, (Run(" ".join(run.text for run in ground)),) if ground else ())


def _lower(words: str) -> str:
    return words[0].lower() + words[1:]
