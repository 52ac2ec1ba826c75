"""What grading a card is expected to bring, beside selling it as it is (Rule C-26).

For each grade the best of three: sell the slab, crack it out and sell the card raw, or keep it; less the up-charge
where the graded value passes the tier's limit, which is owed whatever follows. The mean over the chances, less the
cost and what the card nets raw now, is the gain. The break-even is the chance of a gem at which the gain is
nothing, the other grades keeping their proportions.

Example: chances of 10, 9, 8, 7 of .42, .41, .13, .04, values 240, 96, 70, 55, raw 80, cost 27.40, commission 13 % and
1.20 a sale: gain 34.77, break-even 0.158, chance of a loss against selling raw 0.58. With cracking out (2 % breakage,
1.00): 36.37.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.pricing.fees import SellingWay

_SUMS = Decimal("0.000001")


class GradeAction(StrEnum):
    """What is best done with a card that came back with a grade."""

    SELL = "sell"
    CRACK = "crack"
    KEEP = "keep"


@dataclass(frozen=True, slots=True)
class Cracking:
    """Cracking a slab out: the chance that the card breaks (share), what it costs, and what a buyer told of the grade
    would pay (money; None: the raw price)."""

    breakage: Decimal
    cost: Decimal
    price: Decimal | None = None


@dataclass(frozen=True, slots=True)
class TierLimit:
    """Over which graded value (money; None: no limit) a tier charges how much more."""

    value_limit: Decimal | None
    up_charge: Decimal


@dataclass(frozen=True)
class GradingQuestion:
    """A card before it is sent: ``chances`` by grade from the gem down (shares), ``values`` by grade (money; None: not
    known), what it goes for ``raw``, all that grading it costs, how it is sold, and how many months it takes (None: not
    said)."""

    chances: Mapping[str, Decimal]
    values: Mapping[str, Decimal | None]
    raw: Decimal
    cost: Decimal
    way: SellingWay
    crack: Cracking | None = None
    tier: TierLimit | None = None
    months: Decimal | None = None


@dataclass(frozen=True, slots=True)
class GradeOutcome:
    """What a grade leaves (money, exact; None: it cannot come, and its value is not known), and by doing what."""

    grade: str
    chance: Decimal
    net: Fraction | None
    action: GradeAction


@dataclass(frozen=True, slots=True)
class BreakEven:
    """The chance of a gem from which on grading pays: a value, or "always" or "never"."""

    case: str
    gem: Fraction | None


@dataclass(frozen=True, slots=True)
class GradingGain:
    """What grading brings beyond selling the card as it is (money, exact)."""

    gain: Fraction
    expected_net: Fraction
    raw_net: Fraction
    chance_of_loss: Fraction
    per_month: Fraction | None
    break_even: BreakEven
    by_grade: tuple[GradeOutcome, ...]


def check_question(asked: GradingQuestion, at: str = "") -> list[Fault]:
    """All that is wrong with a question; ``at`` comes before the fields."""
    faults = []
    if not asked.chances:
        faults.append(Fault(f"{at}chances", "say the chance of at least one grade"))
    total = sum(asked.chances.values(), Decimal(0))
    if asked.chances and abs(total - 1) > _SUMS:
        faults.append(Fault(f"{at}chances", f"sum to {total.normalize():f}, not to 1"))
    faults += [
        Fault(f"{at}chances.{grade}", "must be from 0 to 1")
        for grade, chance in asked.chances.items()
        if not 0 <= chance <= 1
    ]
    labels = list(asked.chances)
    for upper, lower in zip(labels, labels[1:], strict=False):
        high, low = _as_number(upper), _as_number(lower)
        if high is not None and low is not None and not high > low:
            faults.append(Fault(f"{at}chances", f"must fall from the gem down; {lower} follows {upper}"))
    gem = labels[0] if labels else None
    for grade, chance in asked.chances.items():
        if asked.values.get(grade) is None and (chance > 0 or grade == gem):
            faults.append(Fault(f"{at}values.{grade}", "is not known, though this grade may come"))
    amounts = [("raw", asked.raw), ("cost", asked.cost), *((f"values.{g}", v) for g, v in asked.values.items())]
    if asked.crack is not None:
        amounts += [("crack.cost", asked.crack.cost), ("crack.price", asked.crack.price)]
        if not 0 <= asked.crack.breakage <= 1:
            faults.append(Fault(f"{at}crack.breakage", "must be from 0 to 1"))
    if asked.tier is not None:
        amounts += [("tier.value_limit", asked.tier.value_limit), ("tier.up_charge", asked.tier.up_charge)]
    faults += [
        Fault(at + name, "must not be negative") for name, amount in amounts if amount is not None and amount < 0
    ]
    if asked.months is not None and asked.months <= 0:
        faults.append(Fault(f"{at}months", "must be more than 0"))
    return faults


def _as_number(label: str) -> Decimal | None:
    try:
        return Decimal(label)
    except InvalidOperation:
        return None


def work_out_gain(asked: GradingQuestion) -> GradingGain:
    """What grading a card is expected to bring. Rule C-26. Raises InputError with every fault, at its field."""
    if faults := check_question(asked):
        raise InputError(faults)
    raw_net = max(asked.way.net(asked.raw), Fraction(0))
    need = raw_net + Fraction(asked.cost)
    outcomes = tuple(_outcome(asked, grade, chance) for grade, chance in asked.chances.items())
    expected = sum((Fraction(it.chance) * it.net for it in outcomes if it.net is not None), Fraction(0))
    loss = sum((Fraction(it.chance) for it in outcomes if it.net is not None and it.net < need), Fraction(0))
    gain = expected - need
    months = None if asked.months is None else gain / Fraction(asked.months)
    return GradingGain(gain, expected, raw_net, loss, months, _break_even(outcomes, need), outcomes)


def _outcome(asked: GradingQuestion, grade: str, chance: Decimal) -> GradeOutcome:
    value = asked.values.get(grade)
    if value is None:
        return GradeOutcome(grade, chance, None, GradeAction.KEEP)
    best, action = asked.way.net(value), GradeAction.SELL
    if asked.crack is not None:
        price = asked.raw if asked.crack.price is None else asked.crack.price
        cracked = (1 - Fraction(asked.crack.breakage)) * asked.way.net(price) - Fraction(asked.crack.cost)
        if cracked > best:
            best, action = cracked, GradeAction.CRACK
    if best < 0:
        best, action = Fraction(0), GradeAction.KEEP
    tier = asked.tier
    if tier is not None and tier.value_limit is not None and value > tier.value_limit:
        best -= Fraction(tier.up_charge)
    return GradeOutcome(grade, chance, best, action)


def _break_even(outcomes: tuple[GradeOutcome, ...], need: Fraction) -> BreakEven:
    """The chance of the first grade from which on grading pays, the others in proportion."""
    gem, *others = outcomes
    top, rest = gem.net or Fraction(0), 1 - Fraction(gem.chance)
    if rest <= 0:  # nothing but a gem can come: the others have no proportion
        return BreakEven("always" if top >= need else "never", None)
    below = sum((Fraction(it.chance) / rest * it.net for it in others if it.net is not None), Fraction(0))
    if top <= below:
        return BreakEven("always" if below >= need else "never", None)
    x = (need - below) / (top - below)
    if x <= 0:
        return BreakEven("always", None)
    return BreakEven("never", None) if x > 1 else BreakEven("value", x)
