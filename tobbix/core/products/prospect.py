"""What a sealed box promises before it is opened: what was paid, what it holds, what it sells for as it is."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.verdict import amount_words, nouns_of, often


@dataclass(frozen=True, slots=True)
class Prospect:
    """One box before it is opened, all money at home: ``paid`` and ``sealed`` (today's price) as amounts; ``mean`` and
    ``most`` to pay by the owner's rule as estimates; ``loss`` the chance that it holds less than was paid.

    None where it is not known. ``lower_bound``: something in it is unknown, so that it holds that much at least and
    loses that often at most. ``one`` and ``many``: what it is called, a box or a tin. Rules C-01, C-04 and C-07.
    """

    paid: Decimal | None
    sealed: Decimal | None
    mean: float | None = None
    most: float | None = None
    loss: float | None = None
    lower_bound: bool = False
    one: str = "box"
    many: str = "boxes"


def foresee(paid: Decimal | None, found: FormatAnswer | None) -> Prospect:
    """What opening one box promises that ``paid`` was landed for. Rules C-04 and C-07."""
    sealed = None if found is None else found.format.price
    if found is None or found.worked is None or found.answer is None:
        return Prospect(paid, sealed)
    value = found.worked.value
    one, many, _ = nouns_of(value)
    if value.mean <= 0:  # nothing of it has a price: that is no value of nothing
        return Prospect(paid, sealed, one=one, many=many)
    outcomes = value.outcomes
    loss = None if paid is None else max(1 - outcomes.chance_at_least(float(paid)), 0.0)
    most = found.answer.most.sticker
    return Prospect(paid, sealed, outcomes.mean, most, loss, value.lower_bound, one, many)


def promise(prospect: Prospect, currency: str) -> list[Run]:
    """What it holds opened and how often that is less than it cost, after "opened it"; what is not known is said."""
    if prospect.mean is None:
        return [Run("holds what nobody can say", "mean", True)]
    found = [Run(f"holds {'at least' if prospect.lower_bound else 'about'} ")]
    found.append(Run(amount_words(prospect.mean, currency), "mean", True))
    if prospect.loss is not None:
        loses = often("loses", prospect.loss, prospect.one, prospect.many, "loss", prospect.lower_bound)
        found += [Run(" and "), *loses]
    return found


def sealed_words(prospect: Prospect, currency: str) -> list[Run]:
    """What it sells for as it is."""
    if prospect.sealed is None:
        return [Run("What it sells for sealed is not known.", "sealed")]
    sealed = Run(amount_words(float(prospect.sealed), currency), "sealed")
    return [Run("Sealed it sells at "), sealed, Run(" today, before fees.")]


def state_prospect(prospect: Prospect, currency: str) -> Verdict:
    """What was paid for a box against what it holds and what it sells for sealed; unknown is said, not taken for 0."""
    paid = prospect.paid
    begin = "Nobody remembers what it cost"
    if paid is not None:
        begin = f"You paid {amount_words(float(paid), currency)} a {prospect.one}"
    sentence = (Run(begin, "paid"), Run("; opened it "), *promise(prospect, currency), Run("."))
    return Verdict(sentence, tuple(sealed_words(prospect, currency)))


def ground_of(prospect: Prospect, currency: str) -> tuple[Run, ...]:
    """What a box that is bought promises, as the ground of a sentence: what it holds opened, what it sells for sealed,
    and the most to pay for one by the owner's rule. Rules C-04 and C-07."""
    found = [Run("Opened it "), *promise(prospect, currency), Run(". "), *sealed_words(prospect, currency)]
    if prospect.most is not None:
        most = Run(amount_words(max(prospect.most, 0.0), currency), "most")
        found += [Run(" The most to pay for one by your rule is "), most, Run(".")]
    return tuple(found)
