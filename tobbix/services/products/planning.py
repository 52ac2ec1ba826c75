"""Questions before buying: how sure a loss is, which format, the whole set, how many exist, rip or hold or buy."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Verdict
from tobbix.core.maths.distribution import Distribution
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.planning.rip_hold_buy import (
    SealedPlan,
    Sums,
    WantedCard,
    open_with_wanted,
    state_choice,
    weigh_choices,
)
from tobbix.core.products.answer import chance_of_loss
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.comparing import FormatFacts, compare_formats, state_comparison
from tobbix.core.products.completing import SetAim, SetAnswer
from tobbix.core.products.planning_sentences import state_production, state_set, state_sureness
from tobbix.core.products.prices import line_versions
from tobbix.core.products.producing import Production, estimate_production, made_of
from tobbix.core.products.revising import find_format
from tobbix.core.products.sheet import Format
from tobbix.core.products.sureness import (
    HoldingLoss,
    MarketCurves,
    MeanSpread,
    Uncertainty,
    draw_market_curves,
    mix_market,
    spread_mean,
)
from tobbix.core.products.valuation import ONE_BOX, Valuation, chance_of_copy, value_format
from tobbix.core.products.verdict import Asked, ask
from tobbix.core.products.worth import Worth
from tobbix.db.holdings.listing import held_numbers, lines_held
from tobbix.db.products.loading import find_release
from tobbix.db.products.planning import list_wanted
from tobbix.services.products.answering import list_units
from tobbix.services.products.catalogue import Catalogue, Looked, Standpoint

SEED = 606
LOT = 3


@dataclass(frozen=True, eq=False)
class SurenessAnswer:
    """How sure a loss is, by holding and as the market moves; ``mixed`` the chance of a loss over uncertain markets."""

    looked: Looked
    format: Format
    price: float | None
    holdings: tuple[HoldingLoss, ...]
    curves: MarketCurves
    mixed_loss: float | None
    spread: MeanSpread
    uncertainty: Uncertainty
    verdict: Verdict


def answer_sureness(
    catalogue: Catalogue, key: str, format_id: str, price: float | None, choice: ViewChoice
) -> SurenessAnswer:
    """How sure a loss is at a sticker ``price`` per box (money; None: today's). Rule C-06.

    Raises NotFound, InputError.
    """
    looked = catalogue.read(key, choice)
    sheet, preferences = looked.sheet, looked.preferences
    fmt = find_format(sheet, format_id)
    sticker = price if price is not None or fmt.price is None else float(fmt.price)
    holdings = []
    for name, holding, share in list_units(fmt, LOT):
        value = catalogue.value(sheet, format_id, holding, looked.standpoint)
        asked = ask(None if sticker is None else sticker / share, value, preferences.costs_with_time)
        loss = chance_of_loss(value.outcomes, asked)
        holdings.append(HoldingLoss(name, value.boxes, asked.outlay, value.mean, loss))
    box = catalogue.value(sheet, format_id, ONE_BOX, looked.standpoint)
    asked = ask(sticker, box, preferences.costs_with_time)

    def outcomes(worth: Worth) -> Distribution:
        return catalogue.value(sheet, format_id, ONE_BOX, replace(looked.standpoint, worth=worth)).outcomes

    reach = max(box.outcomes.quantile(0.99), (asked.outlay or 0.0) * 1.5, box.mean * 1.5, 1.0)
    curves = draw_market_curves(outcomes, looked.standpoint.worth, asked.outlay, reach)
    uncertainty = preferences.uncertainty
    break_even = mix_market(outcomes, looked.standpoint.worth, asked.outlay, uncertainty)
    spread = spread_mean(box.valuation, 1.0, uncertainty, np.random.default_rng(SEED))
    mixed = None if break_even is None else 1 - break_even
    verdict = state_sureness(holdings, curves, mixed, spread, box)
    return SurenessAnswer(looked, fmt, sticker, tuple(holdings), curves, mixed, spread, uncertainty, verdict)


@dataclass(frozen=True, eq=False)
class ComparisonAnswer:
    """Formats of a release side by side."""

    looked: Looked
    facts: tuple[FormatFacts, ...]
    refused: tuple[tuple[str, str], ...]
    verdict: Verdict


def answer_comparison(catalogue: Catalogue, key: str, rare_packs: float, choice: ViewChoice) -> ComparisonAnswer:
    """The formats of a release side by side at today's prices. Raises NotFound, InputError."""
    looked = catalogue.read(key, choice)
    values, prices, refused = [], [], []
    for fmt in looked.sheet.formats:
        try:
            values.append(catalogue.value(looked.sheet, fmt.id, ONE_BOX, looked.standpoint))
            prices.append(None if fmt.price is None else float(fmt.price))
        except InputError as error:  # one format that cannot be valued must not hide the others
            refused.append((fmt.name, str(error)))
    facts = compare_formats(values, prices, looked.preferences.costs_with_time, rare_packs)
    return ComparisonAnswer(looked, facts, tuple(refused), state_comparison(facts, values))


@dataclass(frozen=True, eq=False)
class CompletionAnswer:
    """What a set takes, with its verdict."""

    looked: Looked
    format: Format
    answer: SetAnswer
    verdict: Verdict


def answer_set(
    catalogue: Catalogue,
    key: str,
    format_id: str,
    aim: SetAim,
    repeats: bool,
    price: float | None,
    choice: ViewChoice,
    from_held: bool = False,
) -> CompletionAnswer:
    """What it takes to complete a set at a sticker ``price`` per box (money; None: today's), from nothing or
    ``from_held``: what the owner has of it already. Rule C-09.

    Raises NotFound, InputError.
    """
    looked = catalogue.read(key, choice)
    if from_held:
        aim = begin_with_held(catalogue, key, aim)
    fmt = find_format(looked.sheet, format_id)
    box = catalogue.value(looked.sheet, format_id, ONE_BOX, looked.standpoint)
    sticker = price if price is not None or fmt.price is None else float(fmt.price)
    asked = ask(sticker, box, looked.preferences.costs_with_time)
    answer = catalogue.set_answer(looked, format_id, aim, asked.outlay, repeats)
    made = made_of(estimate_production(looked.sheet), format_id)
    exist = None if made is None else made.boxes if answer.unit == "box" else made.packs
    return CompletionAnswer(looked, fmt, answer, state_set(answer, looked.sheet.currency, exist, box.valuation))


def begin_with_held(catalogue: Catalogue, key: str, aim: SetAim) -> SetAim:
    """A set or a rainbow that begins with what the owner holds of it."""
    with catalogue.database.transaction() as session:
        if aim.number is None:
            return replace(aim, held=frozenset(held_numbers(session, key, aim.line)))
        return replace(aim, held=frozenset(lines_held(session, key, aim.number)))


@dataclass(frozen=True, eq=False)
class ProductionAnswer:
    """How many exist, with its verdict."""

    looked: Looked
    production: Production
    verdict: Verdict


def answer_production(catalogue: Catalogue, key: str, shares: Mapping[str, float] | None) -> ProductionAnswer:
    """How many packs, boxes and cards of a release exist. Rule C-10. Raises NotFound, InputError."""
    looked = catalogue.read(key)
    production = estimate_production(looked.sheet, shares)
    return ProductionAnswer(looked, production, state_production(looked.sheet, production))


@dataclass(frozen=True, eq=False)
class ChoiceAnswer:
    """Rip, hold or buy the singles, with all that it rests on."""

    looked: Looked
    format: Format
    value: BoxValue
    asked: Asked
    sealed: SealedPlan
    wanted: tuple[tuple[str, str, WantedCard], ...]
    unpriced: tuple[str, ...]
    sums: Sums
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class SealedAsked:
    """What the page assumes of the sealed box; None is the habit, and today's price for the value."""

    value: float | None = None
    growth: float | None = None
    years: float | None = None
    keeping: float | None = None


def answer_choice(
    catalogue: Catalogue, key: str, format_id: str, price: float | None, sealed: SealedAsked, choice: ViewChoice
) -> ChoiceAnswer:
    """Open, hold, or buy the wanted cards. Rule C-11. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        looked = catalogue.look(session, key, choice)
        marked = list_wanted(session, find_release(session, key))
    fmt = find_format(looked.sheet, format_id)
    box = catalogue.value(looked.sheet, format_id, ONE_BOX, looked.standpoint)
    sticker = price if price is not None or fmt.price is None else float(fmt.price)
    asked = ask(sticker, box, looked.preferences.costs_with_time)
    habits = looked.preferences.sealed
    today = None if fmt.price is None else float(fmt.price)
    plan = SealedPlan(
        today if sealed.value is None else sealed.value,
        habits.growth if sealed.growth is None else sealed.growth,
        habits.years if sealed.years is None else sealed.years,
        habits.keeping if sealed.keeping is None else sealed.keeping,
    )
    wanted, unpriced = _wanted_cards(looked, box, marked)
    held = [(line, number, card.price) for line, number, card in wanted if card.copies > 0]

    def valuation_at(factor: float) -> Valuation:
        worth = replace(looked.standpoint.worth, factor=looked.standpoint.worth.factor * factor)
        return value_format(looked.sheet, format_id, worth=worth, assumptions=looked.standpoint.assumptions)

    opened = open_with_wanted(valuation_at, held)
    sums = weigh_choices(opened, asked, plan, _net_of_sealed(looked.standpoint), [card for _, _, card in wanted])
    verdict = state_choice(sums, box, asked, plan)
    return ChoiceAnswer(looked, fmt, box, asked, plan, tuple(wanted), tuple(unpriced), sums, verdict)


def _net_of_sealed(standpoint: Standpoint) -> Callable[[float], float]:
    """What a sealed box nets at a market price, by the way of selling that is looked through."""
    way = standpoint.worth.way

    def net(price: float) -> float:
        return price if way is None else max(float(way.net_values(np.array([price]))[0]), 0.0)

    return net


def _wanted_cards(
    looked: Looked, box: BoxValue, marked: Sequence[tuple[str, str]]
) -> tuple[list[tuple[str, str, WantedCard]], list[str]]:
    """Wanted cards with their price, and the names of those whose price is not known."""
    in_box = {(card.line, card.number): card for card in box.cards}
    found, unpriced = [], []
    for line_id, number in marked:
        line = looked.sheet.line_by_id[line_id]
        version = next(v for v in line_versions(looked.sheet, line) if v.number == number)
        name = f"{version.subject}, {line.name}"
        card = in_box.get((line_id, number))
        if version.price is None:
            unpriced.append(name)
            continue
        copies = 0.0 if card is None else card.copies
        chance = chance_of_copy(box.valuation, line_id, number)
        found.append((line_id, number, WantedCard(name, float(version.price), copies, chance)))
    return found, unpriced
