"""A second opinion on a graded card: sell it as it is, crack it out and send it again, cross over to another grader
with a least grade, or ask the same one to look again (Rule C-30).

Example: a 9 worth 96 (net 82.32 at 13 % and 1.20), cracked for 1.00 with 2 % breakage, sent again for 27.40 with
chances of .3, .6, .1 of 10, 9, 8 worth 240, 96, 70: 0.98 x 117.00 - 1.00 - 27.40 leaves 86.26, 3.94 more than selling.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from math import exp

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.grading.calibrating import GraderSpread
from tobbix.core.holdings.sentences import amount
from tobbix.core.pricing.fees import SellingWay

_SUMS = Decimal("0.000001")


USUAL_SPREAD, _FEW = 0.6, 5  # grades (standard deviation), common practice, no source; cards that say otherwise


def seen_again(grades: Sequence[str], grade: str, varies: float = USUAL_SPREAD) -> dict[str, float]:
    """What a card that got a grade may get when it is seen again: near it, as graders differ from themselves by
    ``varies`` (grades, standard deviation); a hundredth of the likeliest and less is left out.

    >>> [round(chance, 2) for chance in seen_again(["10", "9", "8", "7"], "9").values()]
    [0.17, 0.67, 0.17]
    """
    weights = {it: exp(-((float(it) - float(grade)) ** 2) / (2 * varies**2)) for it in grades}
    kept = {it: weight for it, weight in weights.items() if weight >= 0.01 * max(weights.values())}
    return {it: weight / sum(kept.values()) for it, weight in kept.items()}


def spread_by(own: GraderSpread | None) -> float:
    """By how many grades a grader differs from itself: as usual, until its own record of five cards says so."""
    return USUAL_SPREAD if own is None or own.cards < _FEW else max(own.deviation, 0.2)


class Opinion(StrEnum):
    """What can be done with a slab that may be graded too low."""

    SELL = "sell"
    KEEP = "keep"
    RESUBMIT = "resubmit"
    CROSS = "cross"
    REVIEW = "review"


@dataclass(frozen=True, slots=True)
class Again:
    """One way to ask again: the chances of grades (shares), what each is worth (money), what it costs, how many months
    it takes (None: not said). ``least``: the grade from which on a crossing grader takes it out of its holder (None:
    any)."""

    kind: Opinion
    chances: Mapping[str, Decimal]
    values: Mapping[str, Decimal]
    cost: Decimal
    months: Decimal | None = None
    breakage: Decimal = Decimal(0)
    least: str | None = None


@dataclass(frozen=True, slots=True)
class Weighed:
    """A way with what it leaves on average (money, exact), its gain over selling now, the chance that it leaves less
    than that, and the months."""

    kind: Opinion
    net: Fraction
    gain: Fraction
    worse: Fraction
    months: Decimal | None


def weigh_again(value: Decimal, way: SellingWay, again: Sequence[Again]) -> tuple[Weighed, ...]:
    """Selling a slab of a ``value`` (money) as it is against asking again, the best first. Rule C-30.

    Cracked out and broken it leaves nothing; a crossing or a review that finds no better grade sends the slab back as
    it was. Raises InputError with every fault, at its field.
    """
    _check(value, again)
    now = max(way.net(value), Fraction(0))
    found = [Weighed(Opinion.SELL, now, Fraction(0), Fraction(0), Decimal(0))]
    for asked in again:
        net, worse = Fraction(0), Fraction(0)
        cost = Fraction(asked.cost)
        for grade, chance in asked.chances.items():
            nets = max(way.net(asked.values[grade]), Fraction(0))
            if asked.kind is Opinion.CROSS and asked.least is not None and Decimal(grade) < Decimal(asked.least):
                nets = now
            if asked.kind is Opinion.REVIEW:
                nets = max(nets, now)
            net += Fraction(chance) * nets
            worse += Fraction(chance) if nets - cost < now else 0
        whole = 1 - Fraction(asked.breakage)
        net = whole * net - cost
        worse = whole * worse + Fraction(asked.breakage)
        found.append(Weighed(asked.kind, net, net - now, worse, asked.months))
    return tuple(sorted(found, key=lambda it: -it.net))


def _check(value: Decimal, again: Sequence[Again]) -> None:
    faults = [Fault("value", "must not be negative")] if value < 0 else []
    for at, asked in enumerate(again):
        total = sum(asked.chances.values(), Decimal(0))
        if abs(total - 1) > _SUMS:
            faults.append(Fault(f"again[{at}].chances", f"sum to {total.normalize():f}, not to 1"))
        faults += [
            Fault(f"again[{at}].values.{grade}", "is not known, though this grade may come")
            for grade in asked.chances
            if grade not in asked.values
        ]
        if asked.cost < 0 or not 0 <= asked.breakage <= 1:
            faults.append(Fault(f"again[{at}].cost", "must not be negative, and breakage is from 0 to 1"))
    if faults:
        raise InputError(faults)


_DO = {
    Opinion.SELL: "Sell it as it is", Opinion.KEEP: "Keep it", Opinion.RESUBMIT: "Crack it out and send it again",
    Opinion.CROSS: "Cross it over", Opinion.REVIEW: "Ask for a review",
}  # fmt: skip


def state_weighed(found: Sequence[Weighed], currency: str) -> Verdict:
    """What to do with the slab, by how much, and how often that goes wrong."""
    best = found[0]
    if best.kind is Opinion.SELL:
        others = [it for it in found if it.kind is not Opinion.SELL]
        rest = f": asking again would leave {amount(float(-others[0].gain), currency)} less." if others else "."
        return Verdict((Run(_DO[best.kind], "choice", True), Run(rest)), ())
    sentence = (
        Run(_DO[best.kind], "choice", True),
        Run(f": about {amount(float(best.gain), currency)} more than selling it; "),
        Run(f"in {float(best.worse) * 100:.0f} of 100 cases it leaves less."),
    )  # fmt: skip
    return Verdict(sentence, (Run("Former grades of a card are said to whoever buys it."),))
