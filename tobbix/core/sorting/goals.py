"""Goals: sets, rainbows and looser ones, what fills them, what is missing and double, and the ways to finish (C-36).

A goal is a list of slots, each with the cards that may fill it and a least state. A copy fills one slot; where copies
fit several, they are put so that as many slots as possible are filled (Hopcroft and Karp 1973, by SciPy), the best copy
in each. What is left over is double. What a whole set is worth is seen from three sides: what the set sells for as one,
what its cards bring singly, and its book, low to high, each with its day.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
from enum import StrEnum

import numpy as np
from scipy import sparse

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.buying.basket import Basket
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import CONDITIONS

MOST_SLOTS, MOST_OPTIONS = 5_000, 400


class GoalKind(StrEnum):
    """All cards of a line; a card in every line that prints it; or slots with alternatives of one's own."""

    SET = "set"
    RAINBOW = "rainbow"
    SLOTS = "slots"


@dataclass(frozen=True, slots=True)
class Slot:
    """A place to fill: by any of some versions (``options``), in a ``least`` state or better (None: any)."""

    name: str
    options: tuple[int, ...]
    least: str | None = None


@dataclass(frozen=True, slots=True)
class Copy:
    """A thing that is held: so many of a version, raw in a condition (None: not said) or as a grader's grade."""

    item: int
    version: int
    count: int
    condition: str | None = None
    grader: str | None = None
    grade: str | None = None


def is_good_enough(copy: Copy, least: str | None) -> bool:
    """Whether a copy is in a state or better: a condition, which any slab meets too, or a grader's grade, which only
    that grader's can. A copy whose condition is not said meets no condition.

    >>> is_good_enough(Copy(1, 1, 1, "LP"), "MP"), is_good_enough(Copy(1, 1, 1, None, "Plumbline", "8"), "Plumbline:9")
    (True, False)
    """
    if least is None:
        return True
    grader, _, grade = least.partition(":")
    if not grade:
        if copy.grader is not None:
            return True
        return copy.condition is not None and CONDITIONS.index(copy.condition) <= CONDITIONS.index(least)
    if copy.grader != grader or copy.grade is None:
        return False
    try:
        return Decimal(copy.grade) >= Decimal(grade)
    except InvalidOperation:
        return copy.grade == grade


def check_least(least: str | None, field: str = "least") -> None:
    """Raises InputError for what is neither a condition nor a grader with a grade."""
    if least is None or least in CONDITIONS:
        return
    grader, _, grade = least.partition(":")
    if not grader.strip() or not grade.strip():
        raise InputError.at(field, f"is a condition ({', '.join(CONDITIONS)}) or a grader and grade, like Plumbline:9")


@dataclass(frozen=True, slots=True)
class SlotState:
    """A slot, the item that fills it (None: missing), and how many copies more could."""

    slot: Slot
    item: int | None
    version: int | None
    spare: int


@dataclass(frozen=True, slots=True)
class GoalState:
    """The slots as they stand; ``doubles`` are copies that could fill one and are not needed, by item."""

    slots: tuple[SlotState, ...]
    doubles: Mapping[int, int]

    @property
    def filled(self) -> int:
        return sum(it.item is not None for it in self.slots)

    @property
    def missing(self) -> tuple[Slot, ...]:
        return tuple(it.slot for it in self.slots if it.item is None)


def _rank(copy: Copy) -> tuple[int, int, int]:
    """The best first: slabs, then by condition, those that nothing is said of last; then the oldest thing."""
    rank = len(CONDITIONS) if copy.condition is None else CONDITIONS.index(copy.condition)
    return (0 if copy.grader is not None else 1, rank, copy.item)


def fill_goal(slots: Sequence[Slot], copies: Iterable[Copy]) -> GoalState:
    """Which copies fill which slots, so that most are filled. Rule C-36."""
    by_version: dict[int, list[Copy]] = {}
    for copy in sorted(copies, key=_rank):
        by_version.setdefault(copy.version, []).append(copy)
    fits = [
        [copy for option in slot.options for copy in by_version.get(option, ()) if is_good_enough(copy, slot.least)]
        for slot in slots
    ]
    used: dict[int, int] = {}
    taken: list[Copy | None] = []
    if len({option for slot in slots for option in slot.options}) == sum(len(set(it.options)) for it in slots):
        for found in fits:  # no card is of two slots: each takes its best
            best = min(found, key=_rank, default=None)
            taken.append(best)
    else:
        taken = _match(fits)
    for item in (copy.item for copy in taken if copy is not None):
        used[item] = used.get(item, 0) + 1
    of_goal = {copy.item: copy for found in fits for copy in found}
    doubles = {item: copy.count - used.get(item, 0) for item, copy in of_goal.items() if copy.count > used.get(item, 0)}
    states = tuple(
        SlotState(
            slot, None if copy is None else copy.item, None if copy is None else copy.version,
            sum(doubles.get(it.item, 0) for it in found),
        )
        for slot, found, copy in zip(slots, fits, taken, strict=True)
    )  # fmt: skip
    return GoalState(states, doubles)


def _match(fits: Sequence[Sequence[Copy]]) -> list[Copy | None]:
    """A copy for as many slots as possible; a stack counts as that many copies, though no more than there are slots."""
    places: list[Copy] = []
    at: dict[int, list[int]] = {}
    for copy in sorted({it.item: it for found in fits for it in found}.values(), key=_rank):
        at[copy.item] = list(range(len(places), len(places) + min(copy.count, len(fits))))
        places += [copy] * len(at[copy.item])
    if not places:
        return [None] * len(fits)
    pairs = [(row, place) for row, found in enumerate(fits) for copy in found for place in at[copy.item]]
    rows, columns = zip(*pairs, strict=True) if pairs else ((), ())
    graph = sparse.csr_array((np.ones(len(rows), np.int8), (rows, columns)), shape=(len(fits), len(places)))
    found = sparse.csgraph.maximum_bipartite_matching(sparse.csr_matrix(graph), perm_type="column")
    return [None if place < 0 else places[place] for place in found.tolist()]


@dataclass(frozen=True, slots=True)
class WaysToFinish:
    """What finishing costs (money; None: not known): the missing cards ``singly`` at their values, of how many no value
    is known (``unknown``)."""

    singly: Decimal | None
    unknown: int


def cost_singly(missing: Sequence[Slot], values: Mapping[int, Decimal]) -> WaysToFinish:
    """What the missing cards cost at their values, the cheapest that fills each slot (money); unknown is never 0."""
    cheapest = [min((values[it] for it in slot.options if it in values), default=None) for slot in missing]
    known = [it for it in cheapest if it is not None]
    singly = sum(known, Decimal(0)) if known or not missing else None
    return WaysToFinish(singly, len(cheapest) - len(known))


@dataclass(frozen=True, slots=True)
class Seen:
    """Money at home that something was worth on a ``day``, and in the ``other`` currency that it was said in."""

    amount: Decimal
    day: date
    other: tuple[Decimal, str] | None = None


@dataclass(frozen=True, slots=True)
class WholeSet:
    """A whole set from three sides, each with its day (None: not known): sold as one, its cards singly (of how many no
    value is ``unknown``), and its book low and high."""

    as_one: Seen | None
    singly: Seen | None
    unknown: int
    book_low: Seen | None
    book_high: Seen | None


def sum_seen(parts: Sequence[Seen | None]) -> tuple[Seen | None, int]:
    """Amounts together, of the oldest day among them, and how many are not known; in the other currency too where all
    were said in one."""
    known = [it for it in parts if it is not None]
    if not known:
        return None, len(parts)
    others = {it.other[1] if it.other is not None else None for it in known}
    other = None
    if len(others) == 1 and None not in others:
        other = (sum((it.other[0] for it in known if it.other is not None), Decimal(0)), str(others.pop()))
    whole = sum((it.amount for it in known), Decimal(0))
    return Seen(whole, min(it.day for it in known), other), len(parts) - len(known)


def state_goal(name: str, state: GoalState, ways: WaysToFinish, currency: str) -> Verdict:
    """How far a goal is, and what it costs to finish."""
    total, missing = len(state.slots), len(state.missing)
    if total == 0:
        return Verdict((Run("Nothing can fill it yet", "missing", True), Run(".")), (Run("Say what it is of."),))
    if not missing:
        sentence = [Run("It is complete", "missing", True), Run(f": {total:,} of {total:,} of {name}")]
    else:
        sentence = [Run(f"{missing:,} missing", "missing", True), Run(f" of {total:,} of {name}")]
        if ways.singly is not None and ways.unknown < missing:
            sentence += [Run("; singly they cost about "), Run(amount(ways.singly, currency), "singly")]
            if ways.unknown:
                sentence.append(Run(f" without {ways.unknown:,} whose price is not known"))
        else:
            sentence.append(Run("; what they cost is not known"))
    spare = sum(state.doubles.values())
    ground = "No copy is double." if not spare else f"{spare:,} {'copy is' if spare == 1 else 'copies are'} double."
    return Verdict((*sentence, Run(".")), (Run(ground),))


def check_goal(name: str, kind: GoalKind, slots: Sequence[Slot]) -> None:
    """Raises InputError with all that cannot be of a goal."""
    faults = [] if name.strip() else [Fault("name", "give it a name")]
    if kind is GoalKind.SLOTS and not slots:
        faults.append(Fault("slots", "say what is to be filled"))
    if len(slots) > MOST_SLOTS:
        faults.append(Fault("slots", f"are more than {MOST_SLOTS:,}"))
    for at, slot in enumerate(slots):
        if not slot.options:
            faults.append(Fault(f"slots[{at}]", f"no card fills “{slot.name[:60]}”"))
    if faults:
        raise InputError(faults)


def state_basket(found: Basket, missing: int, currency: str, unsaid: Sequence[str] = ()) -> Verdict:
    """What the cheapest basket of what is missing costs, and whether nothing cheaper is possible; of ``unsaid`` sellers
    nobody said what sending costs."""
    had = missing - sum(count for _, count in found.missing)
    if had == 0:
        ground = "Fetch prices first, or bring in a list of asks."
        return Verdict((Run("Nothing of it is asked for", "basket", True), Run(" lately.")), (Run(ground),))
    orders = "one order" if len(found.orders) == 1 else f"{len(found.orders)} orders"
    sentence = [
        Run(f"{had:,} of {missing:,} for "), Run(amount(found.total, currency), "basket", True),
        Run(f" in {orders}; each as an order of its own they cost {amount(found.alone, currency)}."),
    ]  # fmt: skip
    if found.proven:
        ground = "Nothing cheaper is possible with these asks."
    else:
        at_most = "" if found.gap is None else f", at most by {found.gap:.1%}"
        ground = f"Something cheaper may be possible{at_most}."
    ground += " Asks of one market are taken as one seller\u2019s."
    if unsaid:
        ground += f" What {', '.join(unsaid)} take for sending is not known and taken as the usual: say it below."
    return Verdict(tuple(sentence), (Run(ground),))


def state_goals(filled: Sequence[tuple[int, int]]) -> Verdict:
    """How many goals are complete, by how many slots of each are filled and how many it has.

    >>> state_goals([(3, 3), (2, 5)]).text()
    '1 of 2 goals is complete, 3 cards are missing in the others. What is held fills them by itself.'
    """
    if not filled:
        sentence = [Run("Set a goal", "goals", True), Run(": a set, every finish of a card, or slots of your own.")]
        return Verdict(tuple(sentence), (Run("What you hold fills it by itself."),))
    done, missing = sum(many == of for many, of in filled), sum(of - many for many, of in filled)
    goals = "goal" if len(filled) == 1 else "goals"
    verb = "is" if done == 1 or len(filled) == 1 else "are"
    sentence = [Run(f"{done:,} of {len(filled):,} {goals} {verb} complete", "goals", True)]
    if missing:
        sentence.append(Run(f", {missing:,} {'card is' if missing == 1 else 'cards are'} missing in the others"))
    return Verdict((*sentence, Run(".")), (Run("What is held fills them by itself."),))
