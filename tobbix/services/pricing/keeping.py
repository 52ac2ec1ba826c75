"""Turn what was seen of cards into what they are worth, for all that is held of them (C-18)."""

from collections.abc import Collection, Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal

import numpy as np

from tobbix.core.base.money import Money
from tobbix.core.pricing.estimating import Choice, Estimate, Interval, estimate_value, median_interval
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.pricing.schools import by_school
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Says, Source, Value
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import KeptComp, comps_of_all
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import record_values
from tobbix.services.products.valuing import home_on, revalue_cards

SHARE = 0.8  # of the interval that is kept with a value


def observations(comps: Sequence[KeptComp], card: FoundCard) -> list[Observation]:
    """What was seen of a card, by the numbers of the store."""
    key = CardKey(card.release, card.line, card.number, card.variant)
    return [Observation(str(at), key, comp) for at, comp, _ in comps]


def as_chosen(comps: Sequence[KeptComp], choice: Choice) -> Choice:
    """A choice with what the owner keeps and leaves out."""
    keep, drop = (frozenset(str(at) for at, _, said in comps if said == what) for what in ("keep", "leave_out"))
    return replace(choice, keep=keep, drop=drop)


def keep_values(session: Session, versions: Sequence[int], today: date, gone: Collection[tuple[int, str]] = ()) -> None:
    """Keep what the sales of versions make them worth in each state, as of today, for all that is held of them; also in
    states of which prices are ``gone``. C-18."""
    session.flush()
    preferences, comps = load_preferences(session), comps_of_all(session, versions)
    cards, rates = read_cards(session, versions), Rates(preferences.currency, all_rates(session))
    values: dict[tuple[str, str], list[tuple[int, Value]]] = {}
    for version, card in cards.items():
        seen, wanted = observations(comps[version], card), as_chosen(comps[version], Choice("", today))
        seen_in = [comp.state for _, comp, _ in comps[version] if comp.state is not None]
        for state in dict.fromkeys([*seen_in, *(state for other, state in gone if other == version)]):
            found, _ = by_school(estimate_value(seen, replace(wanted, state=state), rates), preferences.school)
            said = (version, _value(found, preferences.currency, today))
            values.setdefault((card.release, state), []).append(said)
    releases = {key: find_release(session, key, stub=True) for key in sorted({release for release, _ in values})}
    for (release, state), said_of in values.items():
        record_values(session, releases[release], "version_id", state, said_of)
    revalue_cards(session, home_on(session, today), versions)


def value_interval(found: Estimate) -> Interval:
    """The 80 % interval of what an estimate says, of one that rests on sales."""
    return median_interval(np.array([it.amount for it in found.counted]), SHARE)


def _value(found: Estimate, currency: str, today: date) -> Value:
    if found.estimate is None:
        return Value(Says.RELEASED, None, currency, today, Source.COMPS, comps=0)
    between = value_interval(found)

    def money(amount: float) -> Decimal:
        return Money.from_estimate(amount, currency).amount

    newest = max(it.seen.comp.day for it in found.counted)
    return Value(
        Says.PRICE, money(found.estimate), currency, newest, Source.COMPS, money(min(between.low, found.estimate)),
        money(max(between.high, found.estimate)), found.used,
    )  # fmt: skip
