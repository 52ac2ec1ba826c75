"""What to look up next: the held cards whose value is missing, old or thin, by the money that rests on it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.pricing.estimating import THIN, WINDOW
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.verdict import amount_words


@dataclass(frozen=True, slots=True)
class HeldWorth:
    """How many of a ``version`` are held and what they are worth together (money at home; None: not known), of which
    day, and by how many sales if by sales."""

    version: int
    count: int
    worth: Decimal | None
    day: date | None
    sales: int | None


@dataclass(frozen=True, slots=True)
class NextUp:
    """A card to look up, how many are held, what they are worth (money at home; None: not known), and why."""

    card: FoundCard
    count: int
    worth: Decimal | None
    why: str


def why_look(held: HeldWorth, today: date) -> str | None:
    """Why a value wants a look, None if it does not: it is missing, over 90 days old, or by fewer than three sales."""
    if held.worth is None or held.day is None:
        return "its worth is not known"
    age = (today - held.day).days
    if age > WINDOW:
        return f"its value is {age} days old"
    if held.sales is not None and held.sales < THIN:
        return f"it rests on {held.sales} {'sale' if held.sales == 1 else 'sales'}"
    return None


def state_next(found: Sequence[NextUp], waiting: int, currency: str) -> Verdict:
    """Which card to look up first, and how many want a look."""
    if not found:
        return Verdict(
            (Run("Every card that you hold has a fresh value", "none", True), Run(".")),
            (Run("A value wants a look once it is missing, over 90 days old, or by fewer than three sales."),),
        )
    first = found[0]
    name = f"{first.card.subject}, {first.card.line_name} {first.card.number}"
    at_stake = "" if first.worth is None else f"{amount_words(float(first.worth), currency)} of what you hold, and "
    return Verdict(
        (Run("Look up "), Run(name, "first", True), Run(f" first: {at_stake}{first.why}.")),
        (
            Run(f"{waiting:,}", "waiting"),
            Run(f" held {'card wants' if waiting == 1 else 'cards want'} a look: no value, one over 90 days old, or "),
            Run("one by fewer than three sales. The most money first."),
        ),
    )  # fmt: skip
