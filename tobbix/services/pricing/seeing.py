"""What was seen of a card's prices: typed or pasted, looked at, and turned into what the card is worth."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime

from tobbix.core.base.errors import Fault, InputError, NotFound
from tobbix.core.base.results import Verdict
from tobbix.core.pricing.asking import Asking, Meeting, meet, state_price, what_to_ask
from tobbix.core.pricing.comps import Comp, split_state
from tobbix.core.pricing.estimating import Choice, Estimate, Highest, highest_paid
from tobbix.core.pricing.ladder import Ladder, Population, build_ladder, read_populations, state_gems
from tobbix.core.pricing.next_up import NextUp, state_next, why_look
from tobbix.core.pricing.observing import Rates
from tobbix.core.pricing.reading import read_sale
from tobbix.core.pricing.schools import School, by_school
from tobbix.core.pricing.subgrades import choose_subgrades, sum_up
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates, latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing import comps as comps_store
from tobbix.db.pricing.comps import (
    add_comps,
    begin_batch,
    choose_comp,
    comps_of,
    known_graders,
    populations_of,
    seen_lately,
    version_of_comp,
    withdraw_batch,
)
from tobbix.db.pricing.next_up import list_wanting
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.products.finding import read_card, read_cards
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import price_versions
from tobbix.services.pricing.keeping import estimate, keep_values, observations
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on

MOST_LINES = 1_000
_LATELY, _NEXT = 20, 20


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
    """A card's prices in a state, by the ``school`` that spoke beside the ``weighted`` median (money); ``others``: what
    the prices to ask net in the other ways of selling; ``subgrades`` that were seen in this state, the least first;
    ``elsewhere``: the same grade by other graders."""

    card: FoundCard
    state: str
    window: int
    currency: str
    found: Estimate
    asking: tuple[Asking, ...]
    way: str | None
    others: tuple[tuple[str, tuple[float, ...]], ...]
    meeting: Meeting
    weighted: float | None
    school: School
    highest: Highest | None
    states: tuple[StateWorth, ...]
    seen: tuple[Seen, ...]
    ladders: tuple[Ladder, ...]
    gems: str
    subgrades: tuple[str, ...]
    elsewhere: tuple[StateWorth, ...]
    verdict: Verdict


def _same_grade(state: str, worths: Sequence[tuple[str, Estimate]]) -> tuple[StateWorth, ...]:
    """What other graders' copies of the same grade go for."""
    _, grader, grade = split_state(state)
    return tuple(
        StateWorth(each, it.estimate, it.used, it.days_since_last)
        for each, it in worths
        if grader is not None and each != state and split_state(each)[2] == grade
    )


def find_card(session: Session, release: str, line: str, number: str, variant: str = "") -> int:
    """The version that keys name. Raises NotFound."""
    find_release(session, release, stub=True)
    version = identify_one(session, Naming(release, None, line, number, variant)).version_id
    if version is None:
        raise NotFound(f"there is no card {number[:60]} in that line")
    return version


def read_price(
    catalogue: Catalogue, release: str, line: str, number: str, variant: str, state: str | None, window: int,
    subgrades: str | None = None,
) -> PriceView:  # fmt: skip
    """What a card is worth in a state by what was seen of it in so many days, of graded copies if asked only with
    certain ``subgrades``, or with the "least" that make the grade. Rules C-18 and C-21.

    Raises NotFound, InputError.
    """
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        card, preferences = read_card(session, version), load_preferences(session)
        comps, rates = comps_of(session, version), Rates(preferences.currency, all_rates(session))
        counted = populations_of(session, version)
        ways = [to_way(row) for row in list_way_rows(session)]
    today, usual = catalogue.today(), preferences.sheet_condition
    states = list(dict.fromkeys(comp.state for _, comp, _ in comps if comp.state is not None))
    chosen = state or (usual if usual in states or not states else states[0])
    sets = sorted({comp.subgrades for _, comp, _ in comps if comp.state == chosen and comp.subgrades}, key=sum_up)
    choice = Choice(chosen, today, window=window, subgrades=choose_subgrades(sets, subgrades))
    usually = estimate(comps, card, choice, rates)
    found, school = by_school(usually, preferences.school)
    others = {
        each: estimate(comps, card, Choice(each, today, window=window), rates) for each in states if each != chosen
    }
    worths = [(each, found if each == chosen else by_school(others[each], preferences.school)[0]) for each in states]
    ladders = _build_ladders(dict(worths), counted, today)
    aside = {str(at) for at, _, choice in comps if choice == "leave_out"} | set(found.flagged)
    amounts = {int(item.seen.id): item.amount for item in (*found.counted, *found.beside)}
    why, flagged = dict(found.left_out), set(found.flagged)
    way = ways[0] if ways else None
    asking = what_to_ask(found, preferences.currency, way)
    return PriceView(
        card, chosen, window, preferences.currency, found, asking, None if way is None else way.name,
        tuple((other.name, tuple(float(other.net(it.price)) for it in asking)) for other in ways[1:]),
        meet(asking, found, preferences.currency, way), usually.estimate, school,
        highest_paid(observations(comps, card), chosen, aside, rates),
        tuple(StateWorth(each, it.estimate, it.used, it.days_since_last) for each, it in worths),
        tuple(
            Seen(at, comp, amounts.get(at), why.get(str(at)), str(at) in flagged, choice) for at, comp, choice in comps
        ),
        ladders, state_gems(ladders), tuple(sets), _same_grade(chosen, worths),
        state_price(card.subject, chosen, found, asking, preferences.currency, preferences.school, school),
    )  # fmt: skip


def _build_ladders(by_state: Mapping[str, Estimate], counted: Sequence[Population], on: date) -> tuple[Ladder, ...]:
    """The ladder of each grader of which prices or populations were seen."""
    estimates: dict[str, dict[str, Estimate]] = {}
    for state, found in by_state.items():
        _, grader, grade = split_state(state)
        if grader is not None and grade is not None:
            estimates.setdefault(grader, {})[grade] = found
    graders = sorted({*estimates, *(item.grader for item in counted)})
    return tuple(
        build_ladder(grader, estimates.get(grader, {}), [it for it in counted if it.grader == grader], on)
        for grader in graders
    )


def add_populations(catalogue: Catalogue, release: str, line: str, number: str, variant: str, text: str) -> int:
    """Add populations of a card as they were typed; says how many. Raises NotFound, InputError at ``text``."""
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        counted = read_populations(text, catalogue.today(), known_graders(session))
        return comps_store.add_populations(session, [(version, item) for item in counted])


@dataclass(frozen=True, slots=True)
class Added:
    """How many prices were added, and how many were there already; ``batch``: by which they can be taken back."""

    added: int
    known: int
    batch: int | None


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
        batch = begin_batch(session, f"typed of {release} {line} {number}"[:200], catalogue.today()) if fresh else None
        add_comps(session, [(version, comp) for comp in fresh], batch=batch)
        keep_values(session, [version], catalogue.today())
        return Added(len(fresh), len(comps) - len(fresh), batch)


def bring_in(
    catalogue: Catalogue, what: str, comps: Sequence[tuple[int, Comp]], counted: Sequence[tuple[int, Population]]
) -> Added:
    """Bring in prices and populations of many versions at once, each by its number in the store."""
    with catalogue.database.transaction() as session:
        batch = begin_batch(session, what[:200], catalogue.today())
        added = add_comps(session, comps, batch=batch)
        comps_store.add_populations(session, counted)
        keep_values(session, sorted({version for version, _ in comps}), catalogue.today())
    return Added(added, len(comps) - added, batch)


def take_back_batch(catalogue: Catalogue, batch: int, again: bool = False) -> None:
    """Take back what came in together, or have it there ``again``. Raises NotFound."""
    with catalogue.database.transaction() as session:
        of = withdraw_batch(session, batch, None if again else datetime.now(UTC))
        keep_values(session, sorted({version for version, _ in of}), catalogue.today(), of)


def choose_sale(catalogue: Catalogue, number: int, choice: str | None) -> None:
    """Keep a price that is flagged, leave one out, or neither. Raises NotFound."""
    with catalogue.database.transaction() as session:
        version = version_of_comp(session, number)
        choose_comp(session, number, choice)
        keep_values(session, [version], catalogue.today())


@dataclass(frozen=True, slots=True)
class SeenCard:
    """A card of which prices were recorded, what it goes for in the usual state (in the card), how many prices there
    are, and the newest day."""

    card: FoundCard
    count: int
    day: date


@dataclass(frozen=True, eq=False)
class Looking:
    """What to look up next, the most money first, and the cards of which prices were recorded last."""

    next_up: tuple[NextUp, ...]
    waiting: int
    seen: tuple[SeenCard, ...]
    currency: str
    verdict: Verdict


def look_round(catalogue: Catalogue) -> Looking:
    """What to look up next, and what was looked up last."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = home_on(session, today)
        wanting, waiting = list_wanting(session, today, home.state, _NEXT)
        rows = seen_lately(session, _LATELY)
        cards = read_cards(session, [*(held.version for held in wanting), *(version for version, *_ in rows)])
        prices = price_versions(session, [version for version, *_ in rows], home.state, home.convert)
    found = tuple(
        NextUp(cards[held.version], held.count, held.worth, why)
        for held in wanting
        if (why := why_look(held, today)) is not None
    )
    seen = tuple(
        SeenCard(replace(cards[version], price=prices[version].amount), count, day) for version, count, day in rows
    )
    return Looking(found, waiting, seen, home.currency, state_next(found, waiting, home.currency))
