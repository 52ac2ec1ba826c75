"""Many cards beside one another: what a set is worth and how top-heavy it is; raw against graded against what grading
costs (C-18, C-19)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.pricing.ladder import grade_order
from tobbix.core.products.finding import FoundCard

HALF = Decimal("0.5")
TOP_HEAVY = 0.1  # of the cards: fewer that hold half of the value make a set top-heavy


@dataclass(frozen=True, slots=True)
class Known:
    """A value (money at home) and the day that it is of."""

    amount: Decimal
    day: date | None


@dataclass(frozen=True, slots=True)
class Beside:
    """A card in the chosen state and in a grader's grades (those that are known); ``gains`` is what each grade is worth
    above raw once grading is paid (None: what grading costs, or the raw card, is not known), and ``least`` the lowest
    grade from which on every known grade gains."""

    card: FoundCard
    held: int
    value: Known | None
    graded: Mapping[str, Known]
    gains: Mapping[str, Decimal]
    least: str | None


def put_beside(
    card: FoundCard, held: int, value: Known | None, graded: Mapping[str, Known], cost: Decimal | None
) -> Beside:
    """A card raw and graded, less what grading costs in all.

    >>> card = FoundCard("sky", "Skerrylight", "fog", "Fog", "FS3", "", "Quern Bank", 1, None)
    >>> nine, ten = Known(Decimal(40), None), Known(Decimal(150), None)
    >>> found = put_beside(card, 1, Known(Decimal(30), None), {"9": nine, "10": ten}, Decimal(25))
    >>> str(found.gains["9"]), str(found.gains["10"]), found.least
    ('-15', '95', '10')
    """
    gains: dict[str, Decimal] = {}
    if value is not None and cost is not None:
        gains = {grade: worth.amount - value.amount - cost for grade, worth in graded.items()}
    least = None
    for grade in sorted(gains, key=grade_order, reverse=True):
        if gains[grade] <= 0:
            break
        least = grade
    return Beside(card, held, value, dict(graded), gains, least)


def how_many_make(values: Sequence[Decimal], share: Decimal) -> int:
    """How many of the dearest values make so much of all."""
    total, so_far = sum(values, Decimal(0)), Decimal(0)
    for count, amount in enumerate(sorted(values, reverse=True), 1):
        so_far += amount
        if so_far >= share * total:
            return count
    return len(values)


def state_side_by_side(rows: Sequence[Beside], what: str, state: str, currency: str, grader: str | None) -> Verdict:
    """What the cards are worth in a state together, how much of that the dearest hold, and how many gain by grading."""
    known = [row.value.amount for row in rows if row.value is not None]
    if not known:
        return Verdict(
            (Run(f"Of no card of {what} a value in {state} is known", "none", True), Run(".")),
            (Run("Bring in a table, or paste what you find: each value stands here then."),),
        )
    total = sum(known, Decimal(0))
    half = how_many_make(known, HALF)
    dear = "the dearest card holds" if half == 1 else f"the dearest {half} of {len(known)} hold"
    heavy = "; it is top-heavy" if len(known) >= 10 and half <= TOP_HEAVY * len(known) else ""
    sentence = (
        Run(f"{what} in {state}: "), Run(f"{total:,.2f} {currency}", "total", True),
        Run(f" for one of each that is known; {dear} half of it{heavy}."),
    )  # fmt: skip
    unknown = len(rows) - len(known)
    ground = []
    if unknown:
        ground.append(Run(f"Of {unknown} of {len(rows)} cards no value is known: they count for nothing here. "))
    if grader is not None:
        compared = [row for row in rows if row.gains]
        gain = sum(row.least is not None for row in compared)
        ground.append(
            Run(f"Graded by {grader}, {gain} of {len(compared)} gain at some grade, if they make it.")
            if compared else Run(f"Say what grading by {grader} costs in all to compare; a grade is never certain.")
        )  # fmt: skip
    return Verdict(sentence, tuple(ground))
