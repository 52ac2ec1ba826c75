"""A raw card's condition from the flaws marked on it, by an editable table, strictly and leniently (Rule C-23).

Each row of the table is about some kinds of flaws at some places of one side or both, of some sizes. It says how many
of them a condition allows: "NM 2, LP 4, MP" is up to two at NM, up to four at LP, more at MP. A flaw counts in the
first row that it fits; the card is as good as its worst row. A flaw that fits no row is said, and judged by nobody.

The table that ships is common practice, no source. By it one small corner mark on the front and one on the back are LP
in both readings; two small corner marks on the back are NM leniently and LP strictly; a crease at the edge is MP
leniently and HP strictly, one through the picture damaged in both.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import CONDITIONS

BEST = "NM"  # of what shows no flaw: hardly anybody writes mint
MOST_FLAWS = 60
_EDGE, _MOST_ALLOWED = 0.09, 99


class FlawKind(StrEnum):
    """What is wrong at a place."""

    WEAR = "wear"
    CREASE = "crease"
    SCRATCH = "scratch"
    DENT = "dent"
    STAIN = "stain"
    TEAR = "tear"
    WRITING = "writing"
    PRINT = "print"
    WARP = "warp"


class Side(StrEnum):
    FRONT = "front"
    BACK = "back"


class Place(StrEnum):
    """Where on a side: within a corner, along an edge, or on the picture."""

    CORNER = "corner"
    EDGE = "edge"
    PICTURE = "picture"


class Size(StrEnum):
    SMALL = "small"
    MEDIUM = "medium"
    LARGE = "large"


@dataclass(frozen=True, slots=True)
class Flaw:
    """A flaw at ``x`` from the left and ``y`` from the top of its side (shares of width and height)."""

    kind: FlawKind
    side: Side
    size: Size
    x: float
    y: float

    @property
    def place(self) -> Place:
        """Where that is on a card of the usual shape.

        >>> Flaw(FlawKind.WEAR, Side.BACK, Size.SMALL, 0.02, 0.98).place.value
        'corner'
        """
        near_side = min(self.x, 1 - self.x) <= _EDGE
        near_end = min(self.y, 1 - self.y) <= _EDGE * 63 / 88
        return Place.CORNER if near_side and near_end else Place.EDGE if near_side or near_end else Place.PICTURE

    @property
    def words(self) -> str:
        where = {"corner": "at a corner", "edge": "at the edge", "picture": "on the picture"}[self.place]
        return f"{self.size.value} {_CALLED.get(self.kind, self.kind.value)} {where}, {self.side.value}"


_CALLED = {FlawKind.PRINT: "print fault", FlawKind.WARP: "bend"}


@dataclass(frozen=True, slots=True)
class Allowance:
    """How many flaws up to which condition: rising counts, the last without end."""

    steps: tuple[tuple[int | None, str], ...]

    def judge(self, count: int) -> str:
        """The condition of what shows so many."""
        return next(condition for most, condition in self.steps if most is None or count <= most)

    @property
    def text(self) -> str:
        return ", ".join(condition if most is None else f"{condition} {most}" for most, condition in self.steps)


def read_allowance(text: str) -> Allowance:
    """An allowance as it is typed. Raises InputError at ``text``.

    >>> read_allowance("NM 2, lp 4, MP").judge(3)
    'LP'
    """
    steps: list[tuple[int | None, str]] = []
    known = {condition.lower(): condition for condition in CONDITIONS}
    for part in filter(None, (it.strip() for it in text.split(","))):
        found = re.fullmatch(r"([A-Za-z]+)(?:\s+([0-9]{1,2}))?", part)
        condition = None if found is None else known.get(found[1].lower())
        if found is None or condition is None:
            raise InputError.at("text", f"“{part[:30]}” is not a condition with how many it allows, like NM 2")
        steps.append((None if found[2] is None else int(found[2]), condition))
    if not steps:
        raise InputError.at("text", "say which condition it is, like NM 2, LP 4, MP")
    *rising, last = steps
    if last[0] is not None or any(most is None for most, _ in rising):
        raise InputError.at("text", "the last condition, and only that, stands without a number: for any more")
    counts = [most or 0 for most, _ in rising]
    ranks = [CONDITIONS.index(condition) for _, condition in steps]
    if counts != sorted(set(counts)) or ranks != sorted(set(ranks)):
        raise InputError.at("text", "numbers must rise, and conditions get worse")
    return Allowance(tuple(steps))


@dataclass(frozen=True, slots=True)
class FlawRule:
    """A row of the table; empty ``kinds``, ``places``, ``sizes``, or no ``side``: any."""

    kinds: tuple[FlawKind, ...]
    places: tuple[Place, ...]
    side: Side | None
    sizes: tuple[Size, ...]
    lenient: Allowance
    strict: Allowance

    def fits(self, flaw: Flaw) -> bool:
        return (
            (not self.kinds or flaw.kind in self.kinds)
            and (not self.places or flaw.place in self.places)
            and (self.side is None or flaw.side is self.side)
            and (not self.sizes or flaw.size in self.sizes)
        )

    @property
    def words(self) -> str:
        """What it is about.

        >>> USUAL_TABLE[0].words
        'small wear at corner or edge, back'
        """
        sizes = " or ".join(self.sizes) or "any"
        kinds = " or ".join(_CALLED.get(kind, kind.value) for kind in self.kinds) or "flaw"
        places = f" at {' or '.join(self.places)}" if self.places else ""
        return f"{sizes} {kinds}{places}{'' if self.side is None else f', {self.side.value}'}"


def _row(
    kinds: Sequence[FlawKind], places: Sequence[Place], side: Side | None, sizes: Sequence[Size], lenient: str,
    strict: str,
) -> FlawRule:  # fmt: skip
    return FlawRule(
        tuple(kinds), tuple(places), side, tuple(sizes), read_allowance(lenient), read_allowance(strict)
    )  # fmt: skip


_RIM = (Place.CORNER, Place.EDGE)
_LINES = (FlawKind.CREASE, FlawKind.TEAR)
USUAL_TABLE: tuple[FlawRule, ...] = (
    _row([FlawKind.WEAR], _RIM, Side.BACK, [Size.SMALL], "NM 2, LP 6, MP 12, HP", "NM 1, LP 4, MP 8, HP"),
    _row([FlawKind.WEAR], _RIM, Side.FRONT, [Size.SMALL], "LP 4, MP 8, HP", "LP 2, MP 6, HP"),
    _row([FlawKind.WEAR], _RIM, None, [Size.MEDIUM], "LP 2, MP 6, HP", "LP 1, MP 4, HP"),
    _row([FlawKind.WEAR], _RIM, None, [Size.LARGE], "MP 2, HP 6, damaged", "MP 1, HP 4, damaged"),
    _row([FlawKind.CREASE], _RIM, None, [], "MP 1, HP 3, damaged", "HP 1, damaged"),
    _row([FlawKind.CREASE], [Place.PICTURE], None, [], "damaged", "damaged"),
    _row([FlawKind.TEAR, FlawKind.WRITING], [], None, [], "damaged", "damaged"),
    _row([FlawKind.SCRATCH, FlawKind.WEAR], [], None, [Size.SMALL], "NM 1, LP 4, MP 8, HP", "LP 2, MP 5, HP"),
    _row([FlawKind.SCRATCH, FlawKind.WEAR], [], None, [], "LP 1, MP 3, HP", "MP 2, HP"),
    _row([FlawKind.DENT, FlawKind.STAIN], [], None, [Size.SMALL], "LP 2, MP 5, HP", "LP 1, MP 3, HP"),
    _row([FlawKind.DENT, FlawKind.STAIN], [], None, [], "MP 2, HP", "HP 2, damaged"),
    _row([FlawKind.PRINT], [], None, [], "NM 3, LP", "NM 1, LP"),
    _row([FlawKind.WARP], [], None, [Size.SMALL], "NM 1, LP", "LP 1, MP"),
    _row([FlawKind.WARP], [], None, [], "LP 1, MP", "MP 1, HP"),
)


@dataclass(frozen=True, slots=True)
class Reading:
    """A condition, and the ``ground`` that it rests on: which row made it so (empty: no flaw)."""

    condition: str
    ground: str


@dataclass(frozen=True, slots=True)
class Readings:
    """The lenient and the strict reading, and the flaws that no row of the table is about."""

    lenient: Reading
    strict: Reading
    unjudged: tuple[Flaw, ...]


def read_condition(flaws: Sequence[Flaw], table: Sequence[FlawRule] = USUAL_TABLE) -> Readings:
    """What a card's condition is by the flaws marked on it. Rule C-23. Raises InputError for marks off the card."""
    faults = [
        Fault(f"flaws[{at}]", "lies off the card")
        for at, flaw in enumerate(flaws)
        if not (0 <= flaw.x <= 1 and 0 <= flaw.y <= 1)
    ]
    if len(flaws) > MOST_FLAWS:
        faults.append(Fault("flaws", f"are more than {MOST_FLAWS}"))
    if faults:
        raise InputError(faults)
    counts, unjudged = dict[int, int](), list[Flaw]()
    for flaw in flaws:
        at = next((at for at, rule in enumerate(table) if rule.fits(flaw)), None)
        if at is None:
            unjudged.append(flaw)
        else:
            counts[at] = counts.get(at, 0) + 1

    def worst(which: str) -> Reading:
        found = Reading(BEST, "")
        for at, count in counts.items():
            condition = getattr(table[at], which).judge(count)
            if CONDITIONS.index(condition) > CONDITIONS.index(found.condition):
                found = Reading(condition, f"{count} {table[at].words}")
        return found

    return Readings(worst("lenient"), worst("strict"), tuple(unjudged))


# What a condition is worth of NM, where no sales say so: common practice, no source; editable.
USUAL_FACTORS: dict[str, Decimal] = {
    "mint": Decimal("1.1"), "NM": Decimal(1), "LP": Decimal("0.8"), "MP": Decimal("0.6"), "HP": Decimal("0.35"),
    "damaged": Decimal("0.15"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class ConditionWorth:
    """What a card is worth in a condition (money; None: not known), and by what: its own ``sales`` or a factor."""

    condition: str
    amount: Decimal | None
    by_factor: bool


def worth_by_condition(
    known: dict[str, Decimal], factors: dict[str, Decimal] = USUAL_FACTORS, conditions: Sequence[str] = CONDITIONS
) -> tuple[ConditionWorth, ...]:
    """What a card is worth in each condition: as sold in it, else by a factor of the nearest one that is known, NM
    first (money). Rule C-23.

    >>> [str(it.amount) for it in worth_by_condition({"NM": Decimal(10), "MP": Decimal(7)})][1:4]
    ['10', '8.0', '7']
    """
    found = []
    base = "NM" if "NM" in known else next((it for it in CONDITIONS if it in known), None)
    for condition in conditions:
        if condition in known:
            found.append(ConditionWorth(condition, known[condition], False))
        elif base is None or condition not in factors or not factors.get(base):
            found.append(ConditionWorth(condition, None, True))
        else:
            found.append(ConditionWorth(condition, known[base] * factors[condition] / factors[base], True))
    return tuple(found)


def state_readings(found: Readings, worths: Sequence[ConditionWorth], currency: str, marked: int) -> Verdict:
    """What the flaws make of a card, and what each reading is worth."""
    by_condition = {it.condition: it.amount for it in worths}

    def worth(condition: str) -> str:
        money = by_condition.get(condition)
        return "" if money is None else f", about {amount(money, currency)}"

    lenient, strict = found.lenient.condition, found.strict.condition
    if not marked:
        sentence = [Run("No flaw is marked", "strict", True), Run(f": {BEST}{worth(BEST)}")]
    elif lenient == strict:
        sentence = [Run("It is "), Run(strict, "strict", True), Run(f" in both readings{worth(strict)}")]
    else:
        sentence = [
            Run("It is "), Run(strict, "strict", True), Run(f" strictly{worth(strict)}; "),
            Run(lenient, "lenient"), Run(f" leniently{worth(lenient)}"),
        ]  # fmt: skip
    grounds = []
    if found.strict.ground:
        grounds.append(f"Strictly by {found.strict.ground}")
    if found.lenient.ground and found.lenient != found.strict:
        grounds.append(f"leniently by {found.lenient.ground}")
    ground = "; ".join(grounds) + "." if grounds else "Mint is never said by marks alone."
    if found.unjudged:
        ground += f" No row of the table is about: {'; '.join(flaw.words for flaw in found.unjudged)}."
    return Verdict((*sentence, Run(".")), (Run(ground),))
