"""Formats of a release side by side: per pack, per card and per unit of money, and what is only in one of them.

A higher hit rate can go with poorer hits, so formats are compared by value, and hits stand beside it (common practice,
no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.answer import chance_of_loss, draw_curve
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.most_to_pay import BuyingCosts
from tobbix.core.products.sheet import Format
from tobbix.core.products.verdict import ask, basis_words, guesses_of, least_often

RARE_PACKS = 50


@dataclass(frozen=True, slots=True)
class FormatFacts:
    """A format against the others (money, landed with the owner's time where a price is known).

    ``hits`` and ``rare`` are expected in a box: rare are lines that come less often than once in so many packs.
    ``returned`` is the expected value per unit of money spent. None where the price is not known. ``curve``: the chance
    of at least so much, up to twice what it costs.
    """

    format: Format
    price: float | None
    outlay: float | None
    per_pack: float | None
    per_card: float | None
    mean: float
    mean_per_pack: float
    mean_per_card: float
    middle: float
    loss: float | None
    returned: float | None
    hits: float
    rare: float
    cost_per_hit: float | None
    only_here: tuple[str, ...]
    lower_bound: bool
    guesses: tuple[str, ...]
    curve: tuple[tuple[float, float], ...]


def compare_formats(
    values: Sequence[BoxValue], prices: Sequence[float | None], costs: BuyingCosts, rare_packs: float = RARE_PACKS
) -> tuple[FormatFacts, ...]:
    """Formats of one release side by side, each for one box at its sticker ``price`` (money, None if unknown). C-03.

    Raises InputError for a threshold of rarity that is not positive.
    """
    if not 0 < rare_packs <= 1e9:
        raise InputError.at("rare_packs", "must be more than 0")
    holding: dict[str, list[str]] = {}
    for value in values:
        for line in present_lines(value):
            holding.setdefault(line, []).append(value.valuation.format.id)
    facts = []
    for value, price in zip(values, prices, strict=True):
        fmt, model = value.valuation.format, value.valuation.model
        asked = ask(price, value, costs)
        hits = {line: count for line, count in model.hits_per_box().items() if line != model.base and count > 0}
        rare = sum(count for count in hits.values() if count / fmt.packs_per_box < 1 / rare_packs)
        total = sum(hits.values())
        names = value.valuation.lines
        facts.append(
            FormatFacts(
                fmt,
                price,
                asked.outlay,
                None if asked.outlay is None else asked.outlay / fmt.packs_per_box,
                None if asked.outlay is None else asked.outlay / fmt.cards_per_box,
                value.mean,
                value.mean / fmt.packs_per_box,
                value.mean / fmt.cards_per_box,
                value.outcomes.quantile(0.5),
                chance_of_loss(value.outcomes, asked),
                value.mean / asked.outlay if asked.outlay else None,
                total,
                rare,
                asked.outlay / total if asked.outlay is not None and total > 0 else None,
                tuple(names[line].name for line in present_lines(value) if holding[line] == [fmt.id]),
                value.lower_bound,
                guesses_of(value.valuation),
                draw_curve(value.outcomes, None if asked.outlay is None else 2 * asked.outlay),
            )
        )
    return tuple(facts)


def present_lines(value: BoxValue) -> tuple[str, ...]:
    """Lines that a format is known to hold, the base included."""
    return tuple(line for line, count in value.valuation.model.hits_per_box().items() if count > 0)


def state_comparison(facts: Sequence[FormatFacts], values: Sequence[BoxValue]) -> Verdict:
    """Which format gives back most of what it costs, and which loses least often."""
    priced = [item for item in facts if item.returned is not None and item.loss is not None]
    if not priced:
        return Verdict((Run("No format has a price today", "unpriced", True), Run(": give one to compare them.")), ())
    best = max(priced, key=lambda item: item.returned or 0.0)
    safest = min(priced, key=lambda item: item.loss or 0.0)
    currency = values[0].valuation.sheet.currency
    sentence = [
        Run(f"The {best.format.name} gives back most: "),
        Run(f"{(best.returned or 0) * 100:.0f} % of what it costs", "returned", True),
        Run(", on average"),
    ]
    name = ", and it" if safest is best else f"; the {safest.format.name}"
    sentence += [*least_often(name, safest.loss or 0.0, safest.lower_bound), Run(".")]
    words = basis_words(values[0].valuation.worth, currency)
    bound = "; more than that where something is unknown" if any(item.lower_bound for item in priced) else ""
    return Verdict(tuple(sentence), (Run(f"{words}, one of each at today’s price{bound}."),))
