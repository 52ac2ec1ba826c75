"""A card's prices: what was seen of them, and what they make of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from tobbix.core.base.errors import NotFound
from tobbix.core.base.results import Verdict
from tobbix.core.pricing.asking import Asking, Meeting, meet, state_price, what_to_ask
from tobbix.core.pricing.comps import Comp, split_state
from tobbix.core.pricing.estimating import Choice, Estimate, Highest, estimate_value, highest_paid
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.pricing.ladder import Ladder, Population, build_ladder, state_gems
from tobbix.core.pricing.observing import Rates
from tobbix.core.pricing.schools import School, by_school
from tobbix.core.pricing.subgrades import choose_subgrades, sum_up
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import comps_of, comps_of_all, populations_of
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.products.finding import read_card, read_cards
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.db.products.loading import find_release
from tobbix.services.pricing.keeping import as_chosen, observations
from tobbix.services.products.catalogue import Catalogue

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


@dataclass(frozen=True, eq=False)
class Asked:
    """What a version in a state is worth by what was seen of it (money at home), what to ask for it with what that nets
    by a way of selling, and how far an offer may go down."""

    found: Estimate
    asking: tuple[Asking, ...]
    meeting: Meeting


def ask_for_all(
    session: Session, wanted: Sequence[tuple[int, str]], today: date, way: SellingWay | None
) -> list[Asked]:  # fmt: skip
    """What to ask for each version in a state, in a fixed number of queries. Rule C-21."""
    versions = list(dict.fromkeys(version for version, _ in wanted))
    if not versions:
        return []
    preferences, comps = load_preferences(session), comps_of_all(session, versions)
    home, cards = preferences.currency, read_cards(session, versions)
    rates, asked = Rates(home, all_rates(session)), []
    for version, state in wanted:
        seen = comps[version]
        usually = estimate_value(
            observations(seen, cards[version]), as_chosen(seen, Choice(state, today)), rates
        )  # fmt: skip
        found, _ = by_school(usually, preferences.school)
        asking = what_to_ask(found, home, way)
        asked.append(Asked(found, asking, meet(asking, found, home, way)))
    return asked


def ask_for(session: Session, version: int, state: str, today: date, way: SellingWay | None) -> Asked:
    """What to ask for a version in a state. Rule C-21."""
    return ask_for_all(session, [(version, state)], today, way)[0]


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
    seen = observations(comps, card)
    usual_choice = as_chosen(comps, Choice(chosen, today, window=window))
    choice = replace(usual_choice, subgrades=choose_subgrades(sets, subgrades))
    usually = estimate_value(seen, choice, rates)
    found, school = by_school(usually, preferences.school)
    others = {each: estimate_value(seen, replace(usual_choice, state=each), rates) for each in states if each != chosen}
    worths = [(each, found if each == chosen else by_school(others[each], preferences.school)[0]) for each in states]
    ladders = _build_ladders(dict(worths), counted, today)
    aside = choice.drop | set(found.flagged)
    amounts = {item.seen.id: item.amount for item in (*found.counted, *found.beside)}
    why, flagged = dict(found.left_out), set(found.flagged)
    way = ways[0] if ways else None
    asking = what_to_ask(found, preferences.currency, way)
    return PriceView(
        card, chosen, window, preferences.currency, found, asking, None if way is None else way.name,
        tuple((other.name, tuple(float(other.net(it.price)) for it in asking)) for other in ways[1:]),
        meet(asking, found, preferences.currency, way), usually.estimate, school,
        highest_paid(seen, chosen, aside, rates),
        tuple(StateWorth(each, it.estimate, it.used, it.days_since_last) for each, it in worths),
        tuple(
            Seen(at, comp, amounts.get(key), why.get(key), key in flagged, said)
            for (at, comp, said), key in ((it, str(it[0])) for it in comps)
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
