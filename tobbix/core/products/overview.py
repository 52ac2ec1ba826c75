"""Sentences over many formats: the shelf of releases, one release, and what waits in the Products step."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.answer import Answer, Worked
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.verdict import basis_words, least_often, often

STALE_DAYS = 90
MONTHS = "January February March April May June July August September October November December".split()
_COUNTS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


@dataclass(frozen=True, eq=False)
class FormatAnswer:
    """A format with what is said of one box of it, or why nothing can be said."""

    format: Format
    worked: Worked | None
    answer: Answer | None
    refused: str | None

    @property
    def loss(self) -> float | None:
        return None if self.answer is None else self.answer.loss

    @property
    def meets_rule(self) -> bool:
        """Whether today's price is within the most to pay."""
        answer = self.answer
        return answer is not None and answer.asked.sticker is not None and answer.asked.sticker <= answer.most.sticker


class Chore(StrEnum):
    """What may wait to be done about a product."""

    BOX_PRICE = "box_price"
    UNKNOWN = "unknown"
    CARD_PRICES = "card_prices"
    STALE = "stale"
    RATE = "rate"


@dataclass(frozen=True, slots=True)
class Waiting:
    """Something that a release lacks, as ``text`` after "has", with the format if it is of one, and how many things
    there are to look up for it."""

    chore: Chore
    release: str
    title: str
    format: str | None
    text: str
    look_ups: int = 1


def day_words(day: date) -> str:
    """A day as people write it.

    >>> day_words(date(2026, 11, 1))
    '1 November 2026'
    """
    return f"{day.day} {MONTHS[day.month - 1]} {day.year}"


def number_words(count: int) -> str:
    """A small count in words, a large one in digits."""
    return _COUNTS[count] if count < len(_COUNTS) else str(count)


def _basis_of(answers: Sequence[tuple[ProductSheet, FormatAnswer]]) -> str:
    """What the values of the answers rest on; all rest on the same."""
    for sheet, answer in answers:
        if answer.worked is not None:
            return basis_words(answer.worked.value.valuation.worth, sheet.currency)
    return "Nothing could be valued"


def state_shelf(releases: Sequence[tuple[ProductSheet, Sequence[FormatAnswer]]]) -> Verdict:
    """How many formats are worth opening at today's prices, and which is safest."""
    answers = [(sheet, answer) for sheet, formats in releases for answer in formats]
    if not answers:
        return Verdict(
            (Run("There is no release here yet. "), Run("Import a product sheet", "import", True), Run(".")),
            (),
        )
    priced = [(sheet, answer) for sheet, answer in answers if answer.loss is not None]
    good = [(sheet, answer) for sheet, answer in priced if answer.meets_rule]
    ground = (
        Run(f"One box of each. {_basis_of(answers)}. {len(priced)} of {len(answers)} formats have a price today."),
    )
    if not priced:
        return Verdict(
            (Run("No format has a price today", "unpriced", True), Run(": give one to see what it risks.")),
            ground,
        )
    sheet, safest = min(priced, key=lambda pair: pair[1].loss or 0.0)
    name = Run(f"{sheet.release.title}, {safest.format.name}", "safest", True)
    if not good:
        start = "At today’s prices no format meets your rule. Least likely to lose: "
        return Verdict((Run(start), name, Run(".")), ground)
    verb = "meets" if len(good) == 1 else "meet"
    start = (
        f"At today’s prices {number_words(len(good))} of {len(priced)} formats {verb} your rule. Least likely to lose: "
    )
    return Verdict((Run(start), name, Run(".")), ground)


def state_release(sheet: ProductSheet, formats: Sequence[FormatAnswer]) -> Verdict:
    """Which format of a release loses least often, and how often."""
    priced = [answer for answer in formats if answer.loss is not None]
    basis = _basis_of([(sheet, answer) for answer in formats])
    ground = (Run(f"{basis}, with prices of {day_words(sheet.priced_on)}, one box at today’s price."),)
    if not priced:
        return Verdict((Run("No format has a price today", "unpriced", True), Run(": give one below.")), ground)
    best = min(priced, key=lambda answer: answer.loss or 0.0)
    loss, bounded = best.loss or 0.0, best.worked is not None and best.worked.value.lower_bound
    name = f"The {best.format.name}"
    if len(priced) == 1:
        return Verdict((Run(f"{name} "), *often("loses", loss, "time", "times", "loss", bounded), Run(".")), ground)
    return Verdict((*least_often(name, loss, bounded), Run(".")), ground)


def list_waiting(sheet: ProductSheet, formats: Sequence[FormatAnswer], today: date) -> tuple[Waiting, ...]:
    """What waits of a release in the Products step: prices and odds that are missing, and prices that are old."""
    title, found = sheet.release.title, []
    unpriced = [answer.format.name for answer in formats if answer.format.price is None]
    if unpriced:
        text = f"no price today for the {_joined(unpriced)}"
        found.append(Waiting(Chore.BOX_PRICE, sheet.id, title, None, text, len(unpriced)))
    for answer in formats:
        if answer.worked is not None and answer.worked.value.left_out:
            names = list(dict.fromkeys(left.name for left in answer.worked.value.left_out))
            text = f"something unknown in the {answer.format.name}: {_joined(names)}"
            found.append(Waiting(Chore.UNKNOWN, sheet.id, title, answer.format.id, text, len(names)))
    cards = sum(card.price is None for line in sheet.lines for card in line.cards)
    if cards:
        text = f"{cards} {'card' if cards == 1 else 'cards'} without a price"
        found.append(Waiting(Chore.CARD_PRICES, sheet.id, title, None, text, cards))
    if sheet.without_rate:
        text = f"prices in {_joined(sheet.without_rate)} and no rate for today: fetch or set one in Buying"
        found.append(Waiting(Chore.RATE, sheet.id, title, None, text))
    age = (today - sheet.priced_on).days
    if age > STALE_DAYS:
        many = sum(card.price is not None for line in sheet.lines for card in line.cards)
        found.append(Waiting(Chore.STALE, sheet.id, title, None, f"prices {age} days old", many))
    return tuple(found)


def _joined(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
