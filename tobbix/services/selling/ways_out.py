"""What to do with a thing that is held: every way out of it by what it is worth today (C-38)."""

from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.states import Kind, State
from tobbix.core.planning.ways_out import PlanningTerms, Road, WayOut, WhichWay, state_way, weigh_ways
from tobbix.core.pricing.estimating import Estimate
from tobbix.core.sorting.goals import Copy
from tobbix.core.sorting.lots import USUAL_PER_THOUSAND
from tobbix.db.base import Session
from tobbix.db.buying.targets import still_wanted
from tobbix.db.grading.profiles import list_graders
from tobbix.db.holdings.loading import find_item
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.selling.listings import ThingOffered, things_offered
from tobbix.db.selling.ways_out import find_choice, put_choice
from tobbix.db.sorting.judging import load_table, save_table
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.grading.weighing import CardData, Weighing, gains_of, load_cards, weighing
from tobbix.services.pricing.keeping import value_interval
from tobbix.services.pricing.seeing import ask_for
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on
from tobbix.services.selling.proposing import price_all
from tobbix.services.sorting.filling import missing_in

_TABLE = "ways out"


@dataclass(frozen=True, slots=True)
class TermsKept:
    """What the owner's time and waiting cost, with the version of that; of an owner who said nothing the hour of their
    selling habits."""

    terms: PlanningTerms
    version: int


def _terms(session: Session) -> TermsKept:
    content, version = load_table(session, _TABLE)
    habits = load_preferences(session).selling
    if content is None:
        hourly, minutes = Decimal(str(habits.hourly_rate)), Decimal(str(habits.minutes_per_sale))
        return TermsKept(PlanningTerms(hourly, selling=minutes), version)
    said: dict[str, Any] = {name: it if isinstance(it, int) else Decimal(it) for name, it in content.items()}
    return TermsKept(PlanningTerms(**said), version)


def save_terms(catalogue: Catalogue, terms: PlanningTerms, version: int) -> int:
    """Weigh time and waiting otherwise. Raises Conflict."""
    content = {name: it if isinstance(it, int) else f"{it:f}" for name, it in asdict(terms).items()}
    with catalogue.database.transaction() as session:
        return save_table(session, _TABLE, content, version)


@dataclass(frozen=True, eq=False)
class WaysView:
    """A thing with all ways out of it, which one its owner chose (None: none), and by what time and waiting are
    weighed. Money at home."""

    item: int
    name: str
    found: WhichWay
    chosen: tuple[Road, str] | None
    kept: TermsKept
    currency: str
    verdict: Verdict


def read_ways(catalogue: Catalogue, number: int) -> WaysView:
    """Every way out of a card that is here, by what it is worth today. Rule C-38. Raises NotFound, Conflict for what is
    not here or not one's own."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        item = find_item(session, number, lock=False)
        (thing,) = things_offered(session, [number], CLEANED)
        if thing.state is not State.HELD or thing.owner is not None:
            raise Conflict("only what is here and your own can go somewhere")
        kept, home = _terms(session), home_on(session, today)
        (priced,) = price_all(session, [thing], None, today)
        value, state = priced.worth, priced.state
        spread = None if value is None else _spread(session, thing, state, home, today)
        is_card = item.kind in (Kind.CARD, Kind.STACK)
        ways = list(_sell(session, thing, kept.terms, home, today, value, state))
        if is_card and not thing.shown.grade and thing.shown.count == 1:
            ways += _grade(session, number, kept.terms, home, today)
        if is_card and thing.version is not None:
            ways += _stay(session, thing, kept.terms, value)
        if is_card:
            ways.append(_lot(session, thing, kept.terms))
        ways.append(WayOut(Road.GIVE, "give it away", Decimal(0), minutes=kept.terms.other))
        found, chosen = weigh_ways(ways, kept.terms, spread), find_choice(session, number)
        picked = next((it for it in ways if (it.road, it.key) == chosen), None)
        return WaysView(
            number, item.name, found, chosen, kept, home.currency, state_way(found, picked, home.currency)
        )  # fmt: skip


def choose(catalogue: Catalogue, number: int, choice: tuple[Road, str] | None) -> None:
    """The owner goes another way, or with None by what is worth most. Raises NotFound, Conflict, InputError."""
    view = read_ways(catalogue, number)
    if choice is not None and all((it.way.road, it.way.key) != choice for it in view.found.ways):
        raise InputError.at("road", "there is no such way out of it")
    with catalogue.database.transaction() as session:
        put_choice(session, number, choice, catalogue.today())


def _spread(session: Session, thing: ThingOffered, state: str, home: Home, today: date) -> Decimal | None:
    """Half of the 80 % interval of what a thing is worth (money at home; None: not known)."""
    if thing.version is None:
        return None
    found = ask_for(session, thing.version, state, today, None).found
    if found.estimate is None:
        return None
    reach = value_interval(found)
    return Money.from_estimate((reach.high - reach.low) / 2, home.currency).amount * thing.shown.count


def _sell(
    session: Session, thing: ThingOffered, terms: PlanningTerms, home: Home, today: date, value: Decimal | None,
    state: str,
) -> Iterator[WayOut]:  # fmt: skip
    """By each way of selling at the market's price, and in person."""
    count = thing.shown.count
    best: Decimal | None = None
    for row in list_way_rows(session):
        way = to_way(row)
        asked = None if thing.version is None else ask_for(session, thing.version, state, today, way)
        market = None if asked is None else next((it for it in asked.asking if it.name == "market"), None)
        price = market.price if market is not None else value
        days = None if asked is None or market is None else _days(asked.found)
        net = None if price is None else Money.from_estimate(float(way.net(price)) * count, home.currency).amount
        best = net if best is None or (net is not None and net > best) else best
        yield WayOut(
            Road.SELL, way.name, net, terms.days if days is None else days, minutes=terms.selling, key=way.id,
            why="" if net is not None else "its price is not known", assumed=days is None,
        )  # fmt: skip
    if value is not None:
        middle = value if best is None else (value * count + best) / 2
        yield WayOut(
            Road.IN_PERSON, "in person", middle, terms.meeting_days, minutes=terms.in_person, assumed=True
        )  # fmt: skip


def _days(found: Estimate) -> int | None:
    """How long a sale takes: 30 / (sales per 30 days x own share of the offers). Rule C-38."""
    pace = found.sales_per_30_days / (found.offers + 1)
    return None if pace <= 0 else min(round(30 / pace), 3_650)


def _grade(session: Session, number: int, terms: PlanningTerms, home: Home, today: date) -> Iterator[WayOut]:
    """In each tier of each grader whose batch can come together."""
    for grader in list_graders(session):
        if not grader.profile.grades_cards:
            continue
        cards = load_cards(session, grader, home)
        mine = next((it for it in cards if it.card.item == number), None)
        if mine is None:
            continue
        for tier in grader.profile.tiers:
            by = weighing(session, grader.number, tier.id, today)
            _, gains = gains_of([mine], by)
            gain, raw = float(gains.gain[0]), mine.raw
            name, key = f"{grader.profile.name} {tier.name}", f"{grader.number} {tier.id}"
            if gain != gain or raw is None:
                yield WayOut(Road.GRADE, name, None, key=key, why="not every value is known")
                continue
            if tier.min_cards > 1 and _others(cards, number, by) + 1 < tier.min_cards:
                yield WayOut(
                    Road.GRADE, name, None, key=key,
                    why=f"the {tier.min_cards} cards that it asks for do not come together",
                )  # fmt: skip
                continue
            comes = Money.from_estimate(gain + float(by.way.net(raw)) + float(by.cost), home.currency).amount
            months = by.months
            yield WayOut(
                Road.GRADE, name, comes, terms.days if months is None else round(months * 30), by.cost, terms.grading,
                key, assumed=months is None,
            )  # fmt: skip


def _others(cards: Sequence[CardData], number: int, by: Weighing) -> int:
    """How many other cards that are here gain in a tier."""
    rest = [it for it in cards if it.card.item != number and not it.card.keeps]
    if not rest:
        return 0
    _, gains = gains_of(rest, by)
    return int((gains.gain > 0).sum())


def _stay(session: Session, thing: ThingOffered, terms: PlanningTerms, value: Decimal | None) -> Iterator[WayOut]:
    """Into a set that would lack it, or kept because it is wanted."""
    assert thing.version is not None
    shown = thing.shown
    grader, _, grade = shown.grade.rpartition(" ")
    copy = Copy(thing.item, thing.version, 1, shown.condition or None, grader or None, grade or None)
    (goals,) = missing_in(session, [copy], without=thing.item)
    value = None if value is None else value * shown.count
    why = "" if value is not None else "what buying it would cost is not known"
    if goals:
        yield WayOut(Road.SET, goals[0], value, minutes=terms.other, why=why)
    if thing.keeps or still_wanted(session, [thing.version]):
        yield WayOut(Road.KEEP, "keep it", value, minutes=Decimal(0), why=why)


def _lot(session: Session, thing: ThingOffered, terms: PlanningTerms) -> WayOut:
    """In a lot at what commons bring by the thousand, through the usual way of selling; postage goes with the lot."""
    rows = list_way_rows(session)
    usual = load_preferences(session).selling.way
    way = next((to_way(row) for row in rows if row.key == usual), to_way(rows[0]) if rows else None)
    price = sum(USUAL_PER_THOUSAND, Decimal(0)) / 2
    whole = price if way is None else Decimal(str(float(way.net(price))))
    comes = (whole / 1000 * thing.shown.count).quantize(Decimal("0.0001"))
    minutes = terms.lot * thing.shown.count
    return WayOut(Road.LOT, "a lot", comes, terms.days, minutes=minutes, assumed=True)
