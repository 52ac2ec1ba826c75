"""Goals: what fills them, missing and double, and what finishing costs: singly, by basket, by packs (C-36)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from statistics import median

from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound
from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.buying.basket import AskOf, Basket, Seller, fill_basket
from tobbix.core.planning.habits import AS_USUAL
from tobbix.core.products.completing import SetAim
from tobbix.core.products.finding import FoundCard
from tobbix.core.sorting.goals import (
    MOST_OPTIONS,
    Copy,
    GoalKind,
    GoalState,
    Seen,
    Slot,
    SlotState,
    WaysToFinish,
    WholeSet,
    check_goal,
    check_least,
    cost_singly,
    fill_goal,
    is_good_enough,
    state_basket,
    state_goal,
    sum_seen,
)
from tobbix.db.base import Session
from tobbix.db.products.finding import read_cards
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.db.products.values import price_versions
from tobbix.db.sorting import goals
from tobbix.db.sorting.entering import release_known
from tobbix.db.sorting.goals import AskSeen, StoredGoal
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.planning import answer_set
from tobbix.services.products.valuing import Home, home_on

ASKED, SECONDS = 30, 5.0  # days back, of asks; how long a basket is looked for


@dataclass(frozen=True, slots=True)
class GoalSaid:
    """A goal as it is said: a set of a ``line``, a rainbow of a ``card`` number of it, or slots: each card of the line
    in any finish (``each``), ``numbered`` ones only if asked; ``subjects``, each by any card of the release or of all;
    or named ones with their versions. ``whole``: price, currency and day of all of it as one."""

    name: str
    kind: GoalKind
    release: str | None = None
    line: str | None = None
    card: str | None = None
    least: str | None = None
    each: bool = False
    numbered: bool = False
    subjects: tuple[str, ...] = ()
    slots: tuple[tuple[str, tuple[int, ...]], ...] = ()
    whole: tuple[Decimal, str, date] | None = None


@dataclass(frozen=True, slots=True)
class GoalBrief:
    """A goal in brief: how many slots there are and how many are filled, and copies that are double."""

    stored: StoredGoal
    total: int
    filled: int
    doubles: int


@dataclass(frozen=True, slots=True)
class GoalSlot:
    """A slot as it stands, with the card that fills it or the cheapest that could, and its value (money at home; None:
    not known)."""

    state: SlotState
    card: FoundCard | None
    value: Decimal | None


@dataclass(frozen=True, eq=False)
class GoalView:
    """A goal with its slots, the ways to finish it, and what all of it is worth."""

    stored: StoredGoal
    release: str | None
    line: str | None
    slots: tuple[GoalSlot, ...]
    state: GoalState
    ways: WaysToFinish
    whole: WholeSet
    currency: str
    verdict: Verdict


def list_goals(catalogue: Catalogue) -> list[GoalBrief]:
    """All goals, by name."""
    with catalogue.database.transaction() as session:
        found = []
        for stored in goals.list_goals(session):
            slots = goals.slots_of(session, stored)
            state = fill_goal(slots, goals.copies_of(session, _options(slots)))
            found.append(GoalBrief(stored, len(slots), state.filled, sum(state.doubles.values())))
        return found


def _options(slots: Sequence[Slot]) -> list[int]:
    return sorted({option for slot in slots for option in slot.options})


def read_goal(catalogue: Catalogue, number: int) -> GoalView:
    """A goal as it stands. Rule C-36. Raises NotFound."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored, home = goals.find_goal(session, number), home_on(session, today)
        slots = goals.slots_of(session, stored)
        options = _options(slots)
        state = fill_goal(slots, goals.copies_of(session, options))
        prices = price_versions(session, options, home.state, home.convert) if options else {}
        values = {version: it.amount for version, it in prices.items() if it.amount is not None}
        days = {version: it.day for version, it in prices.items() if it.day is not None}
        cards = read_cards(session, options)
        whole = _whole(session, stored, slots, values, days, home, today)
    shown = []
    for it in state.slots:
        version = it.version or min(
            it.slot.options, key=lambda each: (values.get(each) is None, values.get(each) or 0), default=None
        )
        shown.append(GoalSlot(it, cards.get(version or 0), values.get(version or 0)))
    ways = cost_singly(state.missing, values)
    of_line = next((cards[it] for it in options if it in cards), None)
    of = stored.kind is not GoalKind.SLOTS and of_line is not None
    return GoalView(
        stored, of_line.release if of and of_line else None, of_line.line if of and of_line else None, tuple(shown),
        state, ways, whole, home.currency, state_goal(stored.name, state, ways, home.currency),
    )  # fmt: skip


def _whole(
    session: Session, stored: StoredGoal, slots: Sequence[Slot], values: Mapping[int, Decimal],
    days: Mapping[int, date], home: Home, today: date,
) -> WholeSet:  # fmt: skip
    as_one = None
    if stored.whole is not None:
        price, currency, day = stored.whole
        at_home = home.convert(price, currency)
        as_one = None if at_home is None else Seen(at_home, day, (price, currency))
    singly: list[Seen | None] = []
    lows, highs = list[Seen | None](), list[Seen | None]()
    book = {"book_low": dict[int, Seen](), "book_high": dict[int, Seen]()}
    for it in goals.asks_for(session, _options(slots), date.min, today, tuple(book)):
        amount = home.convert(it.price, it.currency)
        if amount is not None and it.state in (None, home.state):
            book[it.kind][it.version] = Seen(amount, it.day, (it.price, it.currency))
    for slot in slots:
        cheapest = min((it for it in slot.options if it in values), key=lambda it: values[it], default=None)
        singly.append(None if cheapest is None else Seen(values[cheapest], days.get(cheapest, today)))
        for found, said in ((lows, book["book_low"]), (highs, book["book_high"])):
            found.append(min((said[it] for it in slot.options if it in said), key=lambda it: it.amount, default=None))
    summed, unknown = sum_seen(singly)
    low, high = sum_seen(lows), sum_seen(highs)
    complete = 0 if slots else -1
    return WholeSet(
        as_one, summed, unknown, low[0] if low[1] == complete else None, high[0] if high[1] == complete else None
    )


def put_goal(catalogue: Catalogue, number: int, version: int, said: GoalSaid) -> int:
    """Keep a goal (``number`` 0: a new one); its number. Raises InputError, NotFound, Conflict."""
    check_least(said.least)
    with catalogue.database.transaction() as session:
        release = None if said.release is None else release_known(session, said.release)
        line = None
        if said.line is not None and release is not None:
            line = identify_one(session, Naming(release.key, None, said.line)).line_id
            if line is None:
                raise InputError.at("line", f"this release has no line “{said.line[:60]}”")
        if said.kind is not GoalKind.SLOTS and line is None:
            raise InputError([Fault("release" if release is None else "line", "say of which")])
        if said.kind is GoalKind.RAINBOW and not (said.card or "").strip():
            raise InputError.at("card", "say the number of the card")
        slots = _slots(session, said, None if release is None else release.number, line)
        if said.whole is not None and not 0 <= said.whole[0] <= 99_999_999:
            raise InputError.at("whole", "must not be negative")
        own = said.kind is GoalKind.SLOTS
        stored = StoredGoal(
            number, version, said.name.strip(), said.kind, None if own or release is None else release.number,
            None if own else line, said.card if said.kind is GoalKind.RAINBOW else None, said.least,
            tuple((name, options, None) for name, options in slots), said.whole,
        )  # fmt: skip
        made = [Slot(name, options, said.least) for name, options in slots] if own else goals.slots_of(session, stored)
        check_goal(said.name, said.kind, made)
        if not made:
            raise InputError.at("card" if said.kind is GoalKind.RAINBOW else "line", "no card of it is known yet")
        return goals.put_goal(session, stored)


def _slots(
    session: Session, said: GoalSaid, release: int | None, line: int | None
) -> list[tuple[str, tuple[int, ...]]]:
    """The slots that are said, each by its versions."""
    if said.kind is not GoalKind.SLOTS:
        return []
    found = list(said.slots)
    if said.each:
        if line is None:
            raise InputError.at("line", "say of which line")
        found += goals.finishes_of(session, line, said.numbered)
    for at, subject in enumerate(said.subjects):
        versions = goals.versions_showing(session, subject.strip(), release, MOST_OPTIONS)
        if not versions:
            raise InputError.at(f"subjects[{at}]", f"no card shows “{subject.strip()[:60]}”")
        found.append((subject.strip(), versions))
    named = {option for _, options in said.slots for option in options}
    if len(read_cards(session, sorted(named))) < len(named):
        raise NotFound("there is no such card")
    return found


def say_whole(catalogue: Catalogue, number: int, version: int, whole: tuple[Decimal, str, date] | None) -> None:
    """What all of a goal sells for as one, in which currency, on which day; None: not known. Raises InputError,
    NotFound, Conflict."""
    if whole is not None:
        price, currency, day = whole
        if not 0 <= price <= 99_999_999:
            raise InputError.at("price", "must not be negative")
        if day > catalogue.today():
            raise InputError.at("day", "is in the future")
        try:
            minor_units(currency)
        except ValueError:
            raise InputError.at("currency", "is not a code of three capital letters") from None
    with catalogue.database.transaction() as session:
        goals.put_goal(session, replace(goals.find_goal(session, number), version=version, whole=whole))


def remove_goal(catalogue: Catalogue, number: int, again: bool = False) -> None:
    """Give a goal up, or take it up ``again``. Raises NotFound."""
    with catalogue.database.transaction() as session:
        goals.mark_goal(session, number, None if again else datetime.now(UTC))


@dataclass(frozen=True, slots=True)
class SellerTerms:
    """What a market's orders cost to send (money at home), as they are taken here; ``known``: of how many asks the
    shipping was said."""

    seller: str
    shipping: Decimal
    each_further: Decimal
    free_from: Decimal | None
    known: int


@dataclass(frozen=True, eq=False)
class GoalBasket:
    """The cheapest basket of what is missing, among how many asks, by which terms; slots and cards by its keys."""

    basket: Basket
    asks: int
    terms: tuple[SellerTerms, ...]
    names: Mapping[str, str]
    cards: Mapping[str, FoundCard]
    currency: str
    verdict: Verdict


def fill_by_basket(catalogue: Catalogue, number: int, said: Sequence[SellerTerms]) -> GoalBasket:
    """The cheapest basket of what is missing over the asks of the last 30 days; asks of one market are taken as one
    seller's, by the terms that are ``said``, else with its usual shipping once. Rules C-22 and C-36.

    Raises NotFound, InputError.
    """
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored, home = goals.find_goal(session, number), home_on(session, today)
        slots = goals.slots_of(session, stored)
        state = fill_goal(slots, goals.copies_of(session, _options(slots)))
        missing = {str(at): slot for at, slot in enumerate(state.missing)}
        seen = goals.asks_for(session, _options(list(missing.values())), today - timedelta(ASKED), today)
        cards = read_cards(session, sorted({it.version for it in seen}))
    asks = [(it, _goods(it, home)) for it in seen if it.market]
    of_slot: dict[int, str] = {}
    for key, slot in missing.items():
        for option in slot.options:
            of_slot.setdefault(option, key)
    offers = [
        (AskOf(it.market, of_slot[it.version], goods), it)
        for it, goods in asks
        if goods is not None
        and is_good_enough(_as_copy(it), missing[of_slot[it.version]].least)
    ]  # fmt: skip
    by_name = {it.seller: it for it in said}
    usual = _usual_shipping([it for _, it in offers], home)
    terms = tuple(
        by_name.get(market) or _usual_terms(market, [it for _, it in offers if it.market == market], home, usual)
        for market in dict.fromkeys(ask.seller for ask, _ in offers)
    )
    sellers = [Seller(it.seller, it.shipping, it.each_further, it.free_from) for it in terms]
    wanted = dict.fromkeys(missing, 1)
    if not wanted:
        raise Conflict("nothing is missing")
    basket = fill_basket(wanted, sellers, [ask for ask, _ in offers], SECONDS)
    bought = {item.card: item.price for order in basket.orders for item in order.cards}
    chosen = {
        key: cards[it.version]
        for ask, it in offers
        for key in [ask.card]
        if bought.get(key) == ask.price and it.version in cards
    }
    unsaid = [it.seller for it in terms if not it.known and it.seller not in by_name]
    return GoalBasket(
        basket, len(offers), terms, {key: slot.name for key, slot in missing.items()}, chosen, home.currency,
        state_basket(basket, len(missing), home.currency, unsaid),
    )  # fmt: skip


def _goods(it: AskSeen, home: Home) -> Decimal | None:
    return home.convert(it.price + (it.tax or 0), it.currency)


def _as_copy(it: AskSeen) -> Copy:
    grader, _, grade = (it.state or "").partition(":")
    return Copy(0, it.version, 1, None if grade else it.state, grader if grade else None, grade or None)


def _said_shipping(seen: Sequence[AskSeen], home: Home) -> list[Decimal]:
    said = [home.convert(it.shipping, it.currency) for it in seen if it.shipping is not None]
    return [it for it in said if it is not None]


def _usual_shipping(seen: Sequence[AskSeen], home: Home) -> Decimal:
    """What sending usually costs among asks; as C-18 takes it, 0 where nobody says it of any."""
    said = _said_shipping(seen, home)
    return median(said) if said else Decimal(0)


def _usual_terms(market: str, seen: Sequence[AskSeen], home: Home, usual: Decimal) -> SellerTerms:
    said = _said_shipping(seen, home)
    return SellerTerms(market, median(said) if said else usual, Decimal(0), None, len(said))


@dataclass(frozen=True, slots=True)
class ByPacks:
    """Finishing by opening a format: how many packs or boxes to open before the rest is bought, and what that costs in
    all (money; None: its price or values are not known); ``mean`` to find all in them."""

    format: str
    name: str
    unit: str
    mean: float
    open: float | None
    cost: float | None
    buy_all: float | None
    why_not: str | None = None


def finish_by_packs(catalogue: Catalogue, number: int) -> tuple[ByPacks, ...]:
    """What finishing a set or rainbow by opening takes in each format that holds it. Rule C-09. Empty where there is no
    product sheet. Raises NotFound."""
    view = read_goal(catalogue, number)
    if view.release is None or view.line is None or view.stored.least is not None:
        return ()
    try:
        sheet = catalogue.read_sheet(view.release)
    except NotFound:
        return ()
    found = []
    for fmt in sheet.formats:
        aim = SetAim(view.line, view.stored.card)
        try:
            answer = answer_set(catalogue, view.release, fmt.id, aim, False, None, AS_USUAL, from_held=True).answer
        except InputError as error:
            found.append(ByPacks(fmt.id, fmt.name, "pack", 0.0, None, None, None, error.faults[0].message))
            continue
        stop = answer.stop
        found.append(
            ByPacks(
                fmt.id, fmt.name, answer.unit, answer.mean, None if stop is None else stop.packs,
                None if stop is None else stop.cost, answer.buy_all,
            )
        )  # fmt: skip
    return tuple(found)
