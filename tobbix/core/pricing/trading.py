"""A trade of several for several, and the cash that evens it (C-21)."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.money import Money
from tobbix.core.base.results import Run, Verdict


@dataclass(frozen=True, slots=True)
class Traded:
    """So many copies of a card that change hands, and what one is worth (money at home; None: not known)."""

    name: str
    count: int
    value: Decimal | None

    @property
    def worth(self) -> Decimal | None:
        return None if self.value is None else self.value * self.count


@dataclass(frozen=True, slots=True)
class Trade:
    """What is given and got is worth by the same standard, what is given less the trade ``discount`` (share of 1);
    ``cash`` evens it: more than 0 is paid, less is received (money; None: of something nothing is known)."""

    given: Decimal
    got: Decimal
    cash: Decimal | None
    unknown: tuple[str, ...]
    verdict: Verdict


def even_out(give: Sequence[Traded], get: Sequence[Traded], discount: Decimal, currency: str) -> Trade:
    """The cash that evens a trade. Rule C-21.

    >>> give, get = [Traded("A", 2, Decimal(10)), Traded("B", 1, Decimal(5))], [Traded("C", 1, Decimal(40))]
    >>> str(even_out(give, get, Decimal("0.2"), "EUR").cash)
    '20.00'
    """

    def total(cards: Sequence[Traded]) -> Decimal:
        return sum((card.worth for card in cards if card.worth is not None), Decimal(0))

    given, got = total(give) * (1 - discount), total(get)
    unknown = tuple(card.name for card in (*give, *get) if card.value is None)
    cash = None if unknown else Money.from_estimate(float(got - given), currency).amount
    return Trade(given, got, cash, unknown, _state(give, get, given, got, cash, unknown, discount, currency))


def _state(
    give: Sequence[Traded], get: Sequence[Traded], given: Decimal, got: Decimal, cash: Decimal | None,
    unknown: Sequence[str], discount: Decimal, currency: str,
) -> Verdict:  # fmt: skip
    if not give and not get:
        return Verdict((Run("Nothing is on the table yet", "none", True), Run(".")), ())
    amounts = [Money.from_estimate(float(amount), currency).amount for amount in (given, got)]
    sides = f"you give {amounts[0]:,} and get {amounts[1]:,} {currency}"
    if cash is None:
        named = ", ".join(unknown[:3]) + (f" and {len(unknown) - 3} more" if len(unknown) > 3 else "")
        sentence = [Run("It cannot be evened", "cash", True), Run(f": what {named} is worth is not known.")]
        return Verdict(tuple(sentence), (Run(f"Of the rest {sides}."),))
    if cash == 0:
        sentence = [Run("It is even", "cash", True), Run(f": {sides}.")]
    else:
        who = "You pay" if cash > 0 else "You are paid"
        sentence = [Run(f"{who} "), Run(f"{abs(cash):,}", "cash", True), Run(f" to even it: {sides}.")]
    ground = "Both sides by the same values, before fees: nothing is taken in a trade."
    if discount:
        ground += f" Your cards count {float(discount) * 100:g} % less, as said."
    return Verdict(tuple(sentence), (Run(ground),))
