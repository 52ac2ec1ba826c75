"""What a sealed box promises before it is opened: what was paid, what it holds, what it sells for as it is."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.verdict import amount_words, in_words


@dataclass(frozen=True, slots=True)
class Prospect:
    """One box before it is opened, all money at home: ``paid`` and ``sealed`` (today's price) as amounts; ``mean`` and
    ``most`` to pay by the owner's rule as estimates; ``loss`` the chance that it holds less than was paid.

    None where it is not known. Rules C-04 and C-07.
    """

    paid: Decimal | None
    sealed: Decimal | None
    mean: float | None
    most: float | None
    loss: float | None


def foresee(paid: Decimal | None, found: FormatAnswer | None) -> Prospect:
    """What opening one box promises that ``paid`` was landed for. Rules C-04 and C-07."""
    if found is None or found.worked is None or found.answer is None:
        return Prospect(paid, None if found is None else found.format.price, None, None, None)
    outcomes = found.worked.value.outcomes
    loss = None if paid is None else max(1 - outcomes.chance_at_least(float(paid)), 0.0)
    return Prospect(paid, found.format.price, outcomes.mean, found.answer.most.sticker, loss)


def state_prospect(prospect: Prospect, currency: str) -> Verdict:
    """What was paid for a box against what it holds and what it sells for sealed; unknown is said, not taken for 0."""
    paid = prospect.paid
    begin = "Nobody remembers what it cost" if paid is None else f"You paid {amount_words(float(paid), currency)} a box"
    sentence = [Run(begin, "paid"), Run("; ")]
    if prospect.mean is None:
        sentence.append(Run("what it holds cannot be said", "mean", True))
    else:
        sentence += [Run("opened it holds about "), Run(amount_words(prospect.mean, currency), "mean", True)]
    if prospect.loss is not None:
        sentence += [Run(" and less than that in "), Run(in_words(prospect.loss, "box", "boxes"), "loss", True)]
    sealed = prospect.sealed
    rests = "What it sells for sealed is not known." if sealed is None else ""
    if sealed is not None:
        rests = f"Sealed it sells at {amount_words(float(sealed), currency)} today, before fees."
    return Verdict((*sentence, Run(".")), (Run(rests, "sealed"),))


def ground_of(prospect: Prospect, currency: str) -> tuple[Run, ...]:
    """What a box that was bought promises, as the ground of a sentence: the most to pay for one, what it holds opened,
    what it sells for sealed; what is not known is left out. Rules C-04 and C-07."""
    found: list[Run] = []
    if prospect.most is not None:
        found += [Run("The most to pay for one by your rule is "), Run(amount_words(prospect.most, currency), "most")]
        found.append(Run(". "))
    if prospect.mean is not None:
        found += [Run("Opened it holds about "), Run(amount_words(prospect.mean, currency), "mean")]
        if prospect.loss is not None:
            lost = Run(in_words(prospect.loss, "box", "boxes"), "loss", True)
            found += [Run(", and less than it cost in "), lost]
        found.append(Run(". "))
    if prospect.sealed is not None:
        found += [Run("Sealed it sells at "), Run(amount_words(float(prospect.sealed), currency), "sealed"), Run(".")]
    return tuple(found)
