"""A plan for sorting: passes in the owner's order, what each takes, and where to stop (Rule C-34).

Every pass goes over a share of the cards at a rate, into so many heaps; where the table holds fewer heaps at once, it
takes several rounds. A pass costs time at the owner's rate and may find something; one that only makes the next one
possible finds nothing by itself. So it is stopped before a pass from which on, however far one went, the passes cost
more than they find. What a pass finds may be unknown: then nothing says to stop before it.

Example: 6,000 cards; decades at 1,500 an hour, years at 1,200, sets at 900, numbers at 400 take 4, 5, 6.7 and 15 hours.
At 12.00 an hour the numbers cost 180.00 and are left where the sets that they make bring less.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from math import ceil

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount

MOST_PASSES, MOST_CARDS = 20, 10_000_000
_LEARNT_FROM = 1.0  # hours at the usual rate that the first own hour weighs against


class PassKind(StrEnum):
    """What a pass sorts by."""

    RESCUE = "rescue"
    KIND = "kind"
    VINTAGE = "vintage"
    DECADE = "decade"
    YEAR = "year"
    SET = "set"
    NUMBER = "number"
    COLOUR = "colour"
    WORTH = "worth"
    OTHER = "other"


# Cards an hour, and heaps, where nothing of one's own is known: common practice, no source.
USUAL: Mapping[PassKind, tuple[int, int]] = {
    PassKind.RESCUE: (1_800, 2), PassKind.KIND: (1_500, 6), PassKind.VINTAGE: (2_000, 2), PassKind.DECADE: (1_500, 5),
    PassKind.YEAR: (1_200, 10), PassKind.SET: (900, 12), PassKind.NUMBER: (400, 10), PassKind.COLOUR: (1_200, 6),
    PassKind.WORTH: (300, 3), PassKind.OTHER: (600, 6),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Pass:
    """One pass: over a ``share`` of the cards, at a ``rate`` of its own (cards an hour; None: the usual or learnt one),
    into so many ``heaps`` (None: the usual), and what it may find (money; None: not known)."""

    kind: PassKind
    name: str
    share: Decimal = Decimal(1)
    rate: Decimal | None = None
    heaps: int | None = None
    finds: Decimal | None = None


# The obvious value first, then where a card comes from, since that tells an early card from a later one; only then the
# numbers: common practice, no source.
USUAL_PASSES = (
    Pass(PassKind.RESCUE, "Rescue what is obviously worth it"),
    Pass(PassKind.DECADE, "By decade"),
    Pass(PassKind.YEAR, "By year"),
    Pass(PassKind.SET, "By set"),
    Pass(PassKind.NUMBER, "By number"),
)


@dataclass(frozen=True, slots=True)
class Hoard:
    """What is to be sorted: how many ``cards``, what an hour costs (``hourly``, money), how many heaps the ``table``
    holds at once, and how many cards a box."""

    cards: int
    hourly: Decimal
    table: int = 12
    box_holds: int = 800


@dataclass(frozen=True, slots=True)
class PassRun:
    """So many cards of a kind of pass in so many minutes, by the clock."""

    kind: PassKind
    cards: int
    minutes: float


@dataclass(frozen=True, slots=True)
class PlannedPass:
    """A pass with what it takes: ``cards``, the ``rate`` (cards an hour) and by how many hours of one's own it is
    learnt, ``rounds`` over the table, ``hours``, what these ``cost`` (money), ``boxes``, how many cards of it are
    ``done``, and whether it is ``past`` the point to stop."""

    said: Pass
    cards: int
    rate: float
    own_hours: float
    heaps: int
    rounds: int
    hours: float
    cost: float
    boxes: int
    done: int
    past: bool

    @property
    def left(self) -> float:
        """Hours that are left of it."""
        return 0.0 if self.cards == 0 else self.hours * max(self.cards - self.done, 0) / self.cards


@dataclass(frozen=True, slots=True)
class SortingPlan:
    """The passes; ``stop`` the place of the first that is not worth it (None: nothing says to stop)."""

    hoard: Hoard
    passes: tuple[PlannedPass, ...]
    stop: int | None

    @property
    def worth_doing(self) -> tuple[PlannedPass, ...]:
        return self.passes if self.stop is None else self.passes[: self.stop]

    @property
    def hours(self) -> float:
        return sum(it.hours for it in self.worth_doing)

    @property
    def hours_left(self) -> float:
        return sum(it.left for it in self.worth_doing)


def check_plan(hoard: Hoard, passes: Sequence[Pass]) -> None:
    """Raises InputError with all that cannot be of a plan."""
    faults = []
    if not 1 <= hoard.cards <= MOST_CARDS:
        faults.append(Fault("cards", f"must be from 1 to {MOST_CARDS:,}"))
    if not 0 <= hoard.hourly <= 100_000:
        faults.append(Fault("hourly", "must not be negative"))
    if not 2 <= hoard.table <= 1_000:
        faults.append(Fault("table", "must be at least 2, else nothing can be told apart"))
    if not 1 <= hoard.box_holds <= 100_000:
        faults.append(Fault("box_holds", "must be at least 1"))
    if not 1 <= len(passes) <= MOST_PASSES:
        faults.append(Fault("passes", f"must be from 1 to {MOST_PASSES}"))
    for at, it in enumerate(passes):
        if not it.name.strip():
            faults.append(Fault(f"passes[{at}].name", "give it a name"))
        if not 0 < it.share <= 1:
            faults.append(Fault(f"passes[{at}].share", "must be over 0 and at most all of them"))
        if it.rate is not None and not 0 < it.rate <= 1_000_000:
            faults.append(Fault(f"passes[{at}].rate", "must be over 0"))
        if it.heaps is not None and not 1 <= it.heaps <= 100_000:
            faults.append(Fault(f"passes[{at}].heaps", "must be at least 1"))
        if it.finds is not None and not 0 <= it.finds <= 99_999_999:
            faults.append(Fault(f"passes[{at}].finds", "must not be negative; leave it empty if nobody knows"))
    if faults:
        raise InputError(faults)


def learn_rate(said: Pass, runs: Sequence[PassRun]) -> tuple[float, float]:
    """The rate of a pass (cards an hour), moved from what was said of it, or is usual, by one's own runs of its kind;
    and their hours.

    >>> learn_rate(Pass(PassKind.DECADE, ""), [PassRun(PassKind.DECADE, 2_000, 60)])
    (1750.0, 1.0)
    """
    own = [run for run in runs if run.kind is said.kind and run.minutes > 0]
    hours = sum(run.minutes for run in own) / 60
    start = float(said.rate) if said.rate is not None else float(USUAL[said.kind][0])
    return (_LEARNT_FROM * start + sum(run.cards for run in own)) / (_LEARNT_FROM + hours), hours


def count_rounds(heaps: int, table: int) -> int:
    """How often all cards go over the table, if it holds fewer heaps than are made.

    >>> count_rounds(12, 12), count_rounds(13, 12), count_rounds(145, 12)
    (1, 2, 3)
    """
    rounds, reach = 1, table
    while reach < heaps:
        rounds, reach = rounds + 1, reach * table
    return rounds


def plan_sorting(
    hoard: Hoard, passes: Sequence[Pass], runs: Sequence[PassRun] = (), done: Sequence[int] = ()
) -> SortingPlan:
    """What each pass takes, and where to stop; ``done`` how many cards of each pass went through. Rule C-34.

    Raises InputError.
    """
    check_plan(hoard, passes)
    made = []
    for at, it in enumerate(passes):
        rate, own = learn_rate(it, runs)
        heaps = it.heaps or USUAL[it.kind][1]
        rounds = count_rounds(heaps, hoard.table)
        cards = ceil(hoard.cards * it.share)
        hours = rounds * cards / rate
        boxes = ceil(cards / hoard.box_holds)
        gone = min(done[at], cards) if at < len(done) else 0
        made.append((it, cards, rate, own, heaps, rounds, hours, hours * float(hoard.hourly), boxes, gone))
    stop = _find_stop([(row[7], None if row[0].finds is None else float(row[0].finds)) for row in made])
    return SortingPlan(
        hoard, tuple(PlannedPass(*row, past=stop is not None and at >= stop) for at, row in enumerate(made)), stop
    )


def _find_stop(costs_and_finds: Sequence[tuple[float, float | None]]) -> int | None:
    """The first pass from which on nothing makes up for what it costs, however far one goes."""
    stop, best = None, float("-inf")  # the most that is won by going on from here
    for at in reversed(range(len(costs_and_finds))):
        cost, finds = costs_and_finds[at]
        if finds is None:
            break
        best = finds - cost + max(best, 0.0)
        if best < 0:
            stop = at
    return stop


def state_plan(plan: SortingPlan, currency: str) -> Verdict:
    """How long it takes, and where to stop."""
    left, all_done = plan.hours_left, bool(plan.worth_doing) and plan.hours_left == 0
    if all_done:
        sentence = [Run("All that is worth sorting is sorted", "left", True)]
    elif not plan.worth_doing:
        sentence = [Run("Leave it unsorted", "stop", True), Run(": no pass finds what it costs")]
    else:
        begun = any(it.done for it in plan.passes)
        sentence = [Run("It takes "), Run(say_hours(left), "left", True), Run(" more" if begun else "")]
    if plan.stop is not None and plan.worth_doing:
        at = plan.passes[plan.stop]
        past = plan.passes[plan.stop :]
        cost, found = sum(it.cost for it in past), sum(float(it.said.finds or 0) for it in past)
        verb = "costs {} and finds {}" if len(past) == 1 else "with the rest costs {} and finds {}"
        sentence += [
            Run("; stop before "), Run(f"“{at.said.name}”", "stop", True),
            Run(", which " + verb.format(amount(cost, currency), amount(found, currency))),
        ]  # fmt: skip
    unsaid = [f"“{it.said.name}”" for it in plan.passes if it.said.finds is None]
    ground = f"{plan.hoard.cards:,} cards, an hour at {amount(plan.hoard.hourly, currency)}."
    if unsaid:
        ground += f" What may be found is not said of: {', '.join(unsaid)}."
    return Verdict((*sentence, Run(".")), (Run(ground),))


def state_plans(left: Sequence[float]) -> Verdict:
    """How much sorting is planned, by the hours that are left of each plan.

    >>> state_plans([15.67, 0]).text()
    '2 hoards are planned, 15.7 hours of sorting are left. Rates learn from the clock.'
    """
    if not left:
        sentence = [Run("Say how many cards it is", "plans", True), Run(": passes, time and where to stop follow.")]
        return Verdict(tuple(sentence), (Run("Begin with what is obviously worth it."),))
    hoards = "1 hoard is" if len(left) == 1 else f"{len(left):,} hoards are"
    time = say_hours(sum(left))
    verb = "is" if time.startswith("1 ") else "are"
    rest = Run(f", {time} of sorting {verb} left", "left") if sum(left) else Run(", all of it is sorted", "left")
    return Verdict((Run(f"{hoards} planned", "plans", True), rest, Run(".")), (Run("Rates learn from the clock."),))


def say_hours(hours: float) -> str:
    """A time in words.

    >>> say_hours(0.4), say_hours(1), say_hours(6.667)
    ('24 minutes', '1 hour', '6.7 hours')
    """
    if hours < 0.995:
        minutes = round(hours * 60)
        return "1 minute" if minutes == 1 else f"{minutes} minutes"
    text = f"{hours:,.1f}".removesuffix(".0")
    return "1 hour" if text == "1" else f"{text} hours"
