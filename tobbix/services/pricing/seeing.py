"""What was seen of a card's prices: typed or pasted, looked at, and turned into what the card is worth."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

import numpy as np

from tobbix.core.base.errors import Fault, InputError, NotFound
from tobbix.core.base.money import Money
from tobbix.core.base.results import Verdict
from tobbix.core.pricing.asking import Asking, state_price, what_to_ask
from tobbix.core.pricing.comps import Comp
from tobbix.core.pricing.estimating import Choice, Estimate, estimate_value, median_interval
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.pricing.reading import read_sale
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Says, Source, Value
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates, latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import add_comps, choose_comp, comps_of, seen_lately, version_of_comp
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.products.finding import read_card, read_cards
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import record_values
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_cards

MOST_LINES = 1_000
_SHARE = 0.8  # of the interval that is kept with a value
_LATELY = 40


@dataclass(frozen=True, slots=True)
class StateWorth:
    """What a state of a card is worth by its sales (estimate, money at home; None: none lately)."""

    state: str
    estimate: float | None
    used: int
    days_since_last: int | None


@dataclass(frozen=True, eq=False)
class Seen:
    """One price that was seen, brought home (``all_in``, money; None: it is of another state or a lot, so it is not),
    with why it does not count (None: it does), and whether it is ``flagged`` or the owner chose."""

    number: int
    comp: Comp
    all_in: float | None
    why: str | None
    flagged: bool
    choice: str | None


@dataclass(frozen=True, eq=False)
class PriceView:
    """A card's prices in a state."""

    card: FoundCard
    state: str
    window: int
    currency: str
    found: Estimate
    asking: tuple[Asking, ...]
    way: str | None
    states: tuple[StateWorth, ...]
    seen: tuple[Seen, ...]
    verdict: Verdict


def find_card(session: Session, release: str, line: str, number: str, variant: str = "") -> int:
    """The version that keys name. Raises NotFound."""
    find_release(session, release)
    version = identify_one(session, Naming(release, None, line, number, variant)).version_id
    if version is None:
        raise NotFound(f"there is no card {number[:60]} in that line")
    return version


def read_price(
    catalogue: Catalogue, release: str, line: str, number: str, variant: str, state: str | None, window: int
) -> PriceView:
    """What a card is worth in a state by what was seen of it in so many days. Rules C-18 and C-21.

    Raises NotFound, InputError.
    """
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        card, preferences = read_card(session, version), load_preferences(session)
        comps, rates = comps_of(session, version), Rates(preferences.currency, all_rates(session))
        ways = [to_way(row) for row in list_way_rows(session)]
    today, usual = catalogue.today(), preferences.sheet_condition
    states = list(dict.fromkeys(comp.state for _, comp, _ in comps if comp.state is not None))
    chosen = state or (usual if usual in states or not states else states[0])
    found = _estimate(comps, card, Choice(chosen, today, window=window), rates)
    worths = [
        (each, found if each == chosen else _estimate(comps, card, Choice(each, today, window=window), rates))
        for each in states
    ]
    amounts = {int(item.seen.id): item.amount for item in (*found.counted, *found.beside)}
    why, flagged = dict(found.left_out), set(found.flagged)
    way = ways[0] if ways else None
    asking = what_to_ask(found, preferences.currency, way)
    return PriceView(
        card, chosen, window, preferences.currency, found, asking, None if way is None else way.name,
        tuple(StateWorth(each, it.estimate, it.used, it.days_since_last) for each, it in worths),
        tuple(
            Seen(at, comp, amounts.get(at), why.get(str(at)), str(at) in flagged, choice) for at, comp, choice in comps
        ),
        state_price(card.subject, chosen, found, asking, preferences.currency),
    )  # fmt: skip


Kept = Sequence[tuple[int, Comp, str | None]]


def _estimate(comps: Kept, card: FoundCard, choice: Choice, rates: Rates) -> Estimate:
    """What was seen of a card, as the owner keeps it and leaves it out, in a choice. Rule C-18."""
    key = CardKey(card.release, card.line, card.number, card.variant)
    keep, drop = (frozenset(str(at) for at, _, said in comps if said == what) for what in ("keep", "leave_out"))
    seen = [Observation(str(at), key, comp) for at, comp, _ in comps]
    return estimate_value(seen, replace(choice, keep=keep, drop=drop), rates)


@dataclass(frozen=True, slots=True)
class Added:
    """How many prices were added, and how many were there already."""

    added: int
    known: int


def add_sales(
    catalogue: Catalogue, release: str, line: str, number: str, variant: str, text: str, state: str | None
) -> Added:
    """Add what was typed of a card, a line for each price; what is there already is not added twice.

    Raises NotFound, or InputError at ``text`` with the row of every line that cannot be read; then nothing is added.
    """
    rows = [(at, row.strip()) for at, row in enumerate(text.splitlines(), 1) if row.strip()]
    if not rows:
        raise InputError.at("text", "say what it went for, like 12.50 + 1.20 nm 3 nov")
    if len(rows) > MOST_LINES:
        raise InputError.at("text", f"add at most {MOST_LINES:,} lines at once")
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        preferences = load_preferences(session)
        currencies = {row.currency for row in latest_rates(session)}
        before = comps_of(session, version)
        graders = sorted({comp.grader for _, comp, _ in before if comp.grader})
        raw = state if state is not None and ":" not in state else preferences.sheet_condition
        comps, faults = [], []
        for at, row in rows:
            try:
                comps.append(read_sale(row, catalogue.today(), preferences.currency, currencies, graders, raw))
            except InputError as error:
                several = at if len(rows) > 1 else None
                said = f"“{row[:40]}”: " if several else ""
                faults += [Fault("text", said + fault.message, None, several) for fault in error.faults]
        faults += [
            Fault("text", f"{comp.day.isoformat()} is in the future", None, at if len(rows) > 1 else None)
            for (at, _), comp in zip(rows, comps, strict=False)
            if comp.day > catalogue.today()
        ]
        if faults:
            raise InputError(faults)
        there = {comp for _, comp, _ in before}
        fresh = [comp for comp in dict.fromkeys(comps) if comp not in there]
        add_comps(session, [(version, comp) for comp in fresh])
        _keep_values(catalogue, session, version)
        return Added(len(fresh), len(comps) - len(fresh))


def choose_sale(catalogue: Catalogue, number: int, choice: str | None) -> None:
    """Keep a price that is flagged, leave one out, or neither. Raises NotFound."""
    with catalogue.database.transaction() as session:
        version = version_of_comp(session, number)
        choose_comp(session, number, choice)
        _keep_values(catalogue, session, version)


def _keep_values(catalogue: Catalogue, session: Session, version: int) -> None:
    """Keep what the sales of a version make it worth in each state, as of today, for all that is held of it. C-18."""
    session.flush()
    comps, preferences, today = comps_of(session, version), load_preferences(session), catalogue.today()
    card, rates = read_card(session, version), Rates(preferences.currency, all_rates(session))
    release = find_release(session, card.release)
    for state in dict.fromkeys(comp.state for _, comp, _ in comps if comp.state is not None):
        found = _estimate(comps, card, Choice(state, today), rates)
        value = _value(found, preferences.currency, today)
        record_values(session, release, "version_id", state, [(version, value)])
    revalue_cards(session, home_on(session, today), [version])


def _value(found: Estimate, currency: str, today: date) -> Value:
    if found.estimate is None:
        return Value(Says.RELEASED, None, currency, today, Source.COMPS, comps=0)
    between = median_interval(np.array([it.amount for it in found.counted]), _SHARE)

    def money(amount: float) -> Decimal:
        return Money.from_estimate(amount, currency).amount

    newest = max(it.seen.comp.day for it in found.counted)
    return Value(
        Says.PRICE, money(found.estimate), currency, newest, Source.COMPS, money(between.low), money(between.high),
        found.used,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class SeenCard:
    """A card of which prices were recorded, how many there are, and the newest day."""

    card: FoundCard
    count: int
    day: date


def list_seen(catalogue: Catalogue) -> Sequence[SeenCard]:
    """The cards of which prices were recorded last."""
    with catalogue.database.transaction() as session:
        rows = seen_lately(session, _LATELY)
        cards = read_cards(session, [version for version, *_ in rows])
        return [SeenCard(cards[version], count, day) for version, count, day in rows]
