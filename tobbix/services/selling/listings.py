"""Things that are offered: proposed, listed, repriced, offered for, sold or ended (C-17, C-21)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

import numpy as np

from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound
from tobbix.core.base.money import Money, in_digits, minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.states import State
from tobbix.core.pricing.asking import Asking
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.selling.listings import (
    COLUMNS,
    MOST_TITLE,
    OPEN,
    USUAL_TITLE,
    ListingKind,
    ListingLine,
    ListingState,
    Repriced,
    by_share,
    check_columns,
    check_pattern,
    disclosures,
    move,
    state_listings,
    state_offer,
    write_title,
    write_words,
)
from tobbix.db.base import Session
from tobbix.db.holdings.listing import worths
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import find_way, list_way_rows, to_way
from tobbix.db.products.values import price_versions
from tobbix.db.selling import listings
from tobbix.db.selling.listings import StoredListing as StoredListing
from tobbix.db.selling.listings import StoredOffer as StoredOffer
from tobbix.db.selling.listings import ThingOffered
from tobbix.db.sorting.judging import load_table, save_table
from tobbix.formats.item_lists import write_csv
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.pricing.seeing import ask_for
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

_TABLE = "listings"
MOST_AT_ONCE = 200


@dataclass(frozen=True, slots=True)
class ListingHabits:
    """How listings are written for a way of selling: the pattern of titles, how many letters they may have, and the
    columns of a file in the order that it wants."""

    pattern: str = USUAL_TITLE
    most: int = MOST_TITLE
    columns: tuple[str, ...] = COLUMNS


def _habits(session: Session) -> tuple[dict[str, ListingHabits], int]:
    content, version = load_table(session, _TABLE)
    said = {} if content is None else content
    return {
        way: ListingHabits(it["pattern"], it["most"], tuple(it["columns"])) for way, it in said.items()
    }, version  # fmt: skip


def read_habits(catalogue: Catalogue, way: str) -> tuple[ListingHabits, int]:
    """How listings are written for a way of selling, and the version of all such habits. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_way(session, way)
        found, version = _habits(session)
        return found.get(way, ListingHabits()), version


def save_habits(catalogue: Catalogue, way: str, said: ListingHabits, version: int) -> int:
    """Write listings otherwise for a way of selling. Raises NotFound, Conflict, InputError."""
    if not 20 <= said.most <= 200:
        raise InputError.at("most", "must be from 20 to 200 letters")
    kept = replace(said, pattern=check_pattern(said.pattern), columns=check_columns(said.columns))
    with catalogue.database.transaction() as session:
        find_way(session, way)
        found, _ = _habits(session)
        content = {
            name: {"pattern": it.pattern, "most": it.most, "columns": list(it.columns)}
            for name, it in (found | {way: kept}).items()
        }
        return save_table(session, _TABLE, content, version)


@dataclass(frozen=True, eq=False)
class Proposal:
    """How a thing would be offered by a way of selling: title, words with what must be disclosed, what to ask with what
    that nets (money at home), the lowest offer worth taking, and why it cannot be offered (None: it can). ``value``:
    what it is said to be worth where no sale speaks."""

    item: int
    name: str
    title: str
    words: str
    must: tuple[str, ...]
    asking: tuple[Asking, ...]
    value: Decimal | None
    lowest: Decimal | None
    photos: int
    place: str | None
    refused: str | None


def propose(catalogue: Catalogue, items: Sequence[int], way: str) -> list[Proposal]:
    """How some things would be offered. Rules C-17 and C-21. Raises NotFound, InputError."""
    if not 1 <= len(items) <= MOST_AT_ONCE:
        raise InputError.at("items", f"choose from 1 to {MOST_AT_ONCE} things")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        things = listings.things_offered(session, items, CLEANED)
        selling, habits = to_way(find_way(session, way)), _habits(session)[0].get(way, ListingHabits())
        taken = listings.offered_already(session, items, way)
        return [_propose(session, it, selling, habits, today, taken) for it in things]


def _propose(
    session: Session, thing: ThingOffered, way: SellingWay, habits: ListingHabits, today: date, taken: set[int]
) -> Proposal:  # fmt: skip
    shown = thing.shown
    asking, value, lowest = _prices(session, thing, way, today)
    return Proposal(
        thing.item, shown.name, write_title(shown, habits.pattern, habits.most), write_words([shown]),
        disclosures([shown]), asking, value, lowest, thing.photos, thing.place, _why_not(thing, taken),
    )  # fmt: skip


def _prices(
    session: Session, thing: ThingOffered, way: SellingWay, today: date
) -> tuple[tuple[Asking, ...], Decimal | None, Decimal | None]:
    """What to ask for a thing, what it is said to be worth, and the lowest offer worth taking (money at home)."""
    home = home_on(session, today)
    worth, state = worth_of(session, thing, home)
    if thing.version is None:
        return (), worth, None
    asked = ask_for(session, thing.version, state, today, way)
    return asked.asking, worth, asked.meeting.lowest


def worth_of(session: Session, thing: ThingOffered, home: Home) -> tuple[Decimal | None, str]:
    """What one of a thing is said to be worth (money at home; None: not known) and the state that this is of: its own,
    or for a raw card of which that is not known the usual one."""
    own = thing.values_as or home.state
    if thing.version is None:
        whole = worths(session, [thing.item]).get(thing.item)
        return None if whole is None else whole / thing.shown.count, own
    for state in (own,) if thing.shown.grade else dict.fromkeys((own, home.state)):
        price = price_versions(session, [thing.version], state, home.convert).get(thing.version)
        if price is not None and price.amount is not None:
            return price.amount, state
    return None, own


def _why_not(thing: ThingOffered, taken: set[int]) -> str | None:
    """Why a thing cannot be offered; ``taken`` is what is offered there already."""
    if thing.state is not State.HELD:
        return f"it is {thing.state.value.replace('_', ' ')}"
    if thing.owner is not None:
        return "it is somebody else’s"
    if thing.keeps:
        return "it is never for sale"
    if thing.item in taken:
        return "it is offered there already"
    return None


@dataclass(frozen=True, slots=True)
class ListingSaid:
    """A listing as it is typed (money at home); several things make one listing of all of them. None for title and
    words: as they are proposed."""

    items: tuple[int, ...]
    price: Decimal
    title: str | None = None
    words: str | None = None
    kind: ListingKind = ListingKind.FIXED
    lowest: Decimal | None = None
    ends_on: date | None = None


def draft(catalogue: Catalogue, way: str, said: Sequence[ListingSaid]) -> list[int]:
    """Listings by a way of selling, all or none of them. Raises NotFound, Conflict, InputError."""
    today = catalogue.today()
    if not 1 <= len(said) <= MOST_AT_ONCE:
        raise InputError.at("listings", f"make from 1 to {MOST_AT_ONCE} at once")
    with catalogue.database.transaction() as session:
        selling, habits = to_way(find_way(session, way)), _habits(session)[0].get(way, ListingHabits())
        currency = load_preferences(session).currency
        made = []
        for at, it in enumerate(said):
            things = listings.things_offered(session, it.items, CLEANED)
            _check(it, today, habits, f"listings[{at}].")
            taken = listings.offered_already(session, it.items, way)
            for thing in things:
                why = _why_not(thing, taken)
                if why is not None:
                    raise InputError.at(f"listings[{at}].items", f"{thing.shown.name}: {why}")
            shown = [thing.shown for thing in things]
            title = it.title or (
                write_title(shown[0], habits.pattern, habits.most)
                if len(shown) == 1
                else f"{len(shown)} cards: {', '.join(one.subject or one.name for one in shown)}"[: habits.most]
            )
            made.append(
                listings.add_listing(
                    session, it.items, way, kind=it.kind.value, title=title.strip(), currency=currency,
                    words=write_words(shown, it.words or ""), price=it.price, lowest=it.lowest, made_on=today,
                    priced_on=today, ends_on=it.ends_on, expected=_expected(session, things, selling, today),
                )
            )  # fmt: skip
        return made


def _check(it: ListingSaid, today: date, habits: ListingHabits, at: str) -> None:
    faults = []
    if not it.items or len(set(it.items)) < len(it.items):
        faults.append(Fault(f"{at}items", "name each thing once"))
    if it.price <= 0:
        faults.append(Fault(f"{at}price", "must be over 0"))
    if it.lowest is not None and not 0 < it.lowest <= it.price:
        faults.append(Fault(f"{at}lowest", "must be over 0 and at most the price"))
    if it.title is not None and not 0 < len(it.title.strip()) <= habits.most:
        faults.append(Fault(f"{at}title", f"must have from 1 to {habits.most} letters"))
    if it.kind is ListingKind.AUCTION and it.ends_on is None:
        faults.append(Fault(f"{at}ends_on", "say when the auction closes"))
    if it.ends_on is not None and it.ends_on < today:
        faults.append(Fault(f"{at}ends_on", "must not be before today"))
    if faults:
        raise InputError(faults)


def _expected(
    session: Session, things: Sequence[ThingOffered], way: SellingWay, today: date
) -> Mapping[str, object] | None:
    """What is expected of one thing on the day that it is priced, to be judged by later (C-39)."""
    if len(things) != 1 or things[0].version is None:
        return None
    home = home_on(session, today)
    asked = ask_for(session, things[0].version, worth_of(session, things[0], home)[1], today, way)
    if asked.found.estimate is None:
        return None
    low, high = np.quantile(np.array([it.amount for it in asked.found.counted]), [0.1, 0.9])  # of the next sale
    market = next((it for it in asked.asking if it.name == "market"), None)
    return {
        "day": today.isoformat(), "estimate": asked.found.estimate, "used": asked.found.used,
        "low": float(low), "high": float(high), "days": None if market is None else market.days,
    }  # fmt: skip


@dataclass(frozen=True, eq=False)
class ListingList:
    """A page of listings, whether there are more, how many are how far."""

    rows: tuple[StoredListing, ...]
    more: bool
    counts: Mapping[ListingState, int]
    today: date
    currency: str
    verdict: Verdict


def list_listings(
    catalogue: Catalogue, states: Sequence[ListingState], find: str, start: int, count: int
) -> ListingList:  # fmt: skip
    """A page of listings in some states, the newest first."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = load_preferences(session).currency
        rows = listings.list_listings(session, states, find.strip(), start, count + 1)
        counts, out = listings.count_listings(session), listings.sum_listed(session, today)
    verdict = state_listings(out, counts[ListingState.DRAFTED], home)
    return ListingList(tuple(rows[:count]), len(rows) > count, counts, today, home, verdict)


@dataclass(frozen=True, eq=False)
class ListingView:
    """A listing with what must be disclosed, what it nets at its price and at what else could be asked (money at
    home)."""

    stored: StoredListing
    way: str
    must: tuple[str, ...]
    net: Decimal
    asking: tuple[Asking, ...]
    lowest: Decimal | None
    today: date


def read_listing(catalogue: Catalogue, number: int) -> ListingView:
    """A listing as it stands. Raises NotFound."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number)
        way = to_way(find_way(session, stored.way))
        things = listings.things_offered(session, [item for item, _ in stored.things], CLEANED)
        asking, _, lowest = _prices(session, things[0], way, today) if len(things) == 1 else ((), None, None)
        net = _net(way, stored.price, stored.currency)
        must = disclosures([it.shown for it in things])
        return ListingView(stored, way.name, must, net, asking, stored.lowest or lowest, today)


def _net(way: SellingWay, price: Decimal, currency: str) -> Decimal:
    return Money.from_estimate(float(way.net(price)), currency).amount


def change_listing(catalogue: Catalogue, number: int, version: int, said: ListingSaid) -> None:
    """Say a listing anew; its things stay. What must be disclosed is put back where it was left out. Raises NotFound,
    Conflict, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, version)
        if stored.state not in OPEN:
            raise Conflict(f"this listing is {stored.state.value}")
        habits = _habits(session)[0].get(stored.way, ListingHabits())
        items = tuple(item for item, _ in stored.things)
        _check(replace(said, items=items), today, habits, "")
        things = listings.things_offered(session, items, CLEANED)
        words = write_words([it.shown for it in things], said.words or stored.words)
        changed = {} if said.price == stored.price else {"priced_on": today}
        listings.change_listing(
            session, number, title=(said.title or stored.title).strip(), words=words, price=said.price,
            kind=said.kind.value, lowest=said.lowest, ends_on=said.ends_on, **changed,
        )  # fmt: skip


def put_up(catalogue: Catalogue, number: int, version: int, reference: str | None = None) -> None:
    """A drafted listing is out; ``reference`` is the market's own number. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, version)
        state, day = move(stored.state, ListingState.LISTED), catalogue.today()
        _refuse_gone(session, stored)
        listings.change_listing(
            session, number, state=state.value, listed_on=day, reference=(reference or "").strip() or stored.reference
        )  # fmt: skip


def end(catalogue: Catalogue, number: int, version: int) -> None:
    """A listing is no longer out. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, version)
        if stored.state not in OPEN:
            raise Conflict(f"this listing is {stored.state.value} already")
        listings.change_listing(session, number, state=ListingState.ENDED.value, ended_on=catalogue.today())


def relist(catalogue: Catalogue, number: int) -> None:
    """An ended listing is a draft again, of what is still here. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, None)
        if stored.state not in (ListingState.ENDED, ListingState.SOLD):  # sold: its order may have been taken back
            raise Conflict(f"this listing is {stored.state.value}")
        _refuse_gone(session, stored)
        listings.reopen(session, number)


def _refuse_gone(session: Session, stored: StoredListing) -> None:
    things = listings.things_offered(session, [item for item, _ in stored.things], CLEANED)
    gone = next((it for it in things if it.state is not State.HELD), None)
    if gone is not None:
        raise Conflict(f"{gone.shown.name} is {gone.state.value.replace('_', ' ')}")


def reprice(
    catalogue: Catalogue, numbers: Sequence[int], level: str | None, share: Decimal | None, apply: bool
) -> list[Repriced]:
    """New prices of listings, by a level of C-21 (quick, market, patient) as of today or by a share up or down; shown,
    or with ``apply`` taken. Raises NotFound, InputError."""
    if (level is None) == (share is None):
        raise InputError.at("level", "say either which price, or by which share")
    if level not in (None, "quick", "market", "patient"):
        raise InputError.at("level", "must be quick, market or patient")
    if share is not None and not Decimal("-0.9") <= share <= 9:
        raise InputError.at("share", "must be from -90 to 900 %")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        found = []
        for number in numbers[:MOST_AT_ONCE]:
            it = listings.find_listing(session, number)
            if it.state not in OPEN:
                continue
            way = to_way(find_way(session, it.way))
            after, why = _new_price(session, it, way, level, share, today)
            net = None if after is None else _net(way, after, it.currency)
            found.append(Repriced(number, it.title, it.price, after, net, why))
            if apply and after is not None and after != it.price:
                lowest = None if it.lowest is None else min(it.lowest, after)
                listings.change_listing(session, number, price=after, priced_on=today, lowest=lowest)
        return found


def _new_price(
    session: Session, it: StoredListing, way: SellingWay, level: str | None, share: Decimal | None, today: date
) -> tuple[Decimal | None, str]:
    step = Decimal(1).scaleb(-minor_units(it.currency))
    if share is not None:
        return by_share(it.price, share, step), ""
    if it.kind is ListingKind.AUCTION:
        return None, "an auction begins where you say"
    if len(it.things) != 1:
        return None, "it holds several things"
    (thing,) = listings.things_offered(session, [it.things[0][0]], CLEANED)
    asking, _, _ = _prices(session, thing, way, today)
    price = next((ask.price for ask in asking if ask.name == level), None)
    return price, "" if price is not None else "no sale of it is known"


def make_offer(catalogue: Catalogue, number: int, buyer: str | None, amount: Decimal) -> int:
    """Somebody offers for a listing. Raises NotFound, Conflict, InputError."""
    if amount <= 0:
        raise InputError.at("amount", "must be over 0")
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number)
        if stored.state is not ListingState.LISTED:
            raise Conflict(f"this listing is {stored.state.value}")
        return listings.add_offer(session, number, catalogue.today(), (buyer or "").strip() or None, amount)


def weigh_offer(catalogue: Catalogue, number: int, amount: Decimal) -> Verdict:
    """Whether an offer for a listing is worth taking. Rule C-21. Raises NotFound."""
    view = read_listing(catalogue, number)
    with catalogue.database.transaction() as session:
        way = to_way(find_way(session, view.stored.way))
        things = listings.things_offered(session, [item for item, _ in view.stored.things], CLEANED)
    known = [it.basis for it in things if it.basis is not None]
    cost = sum(known, Decimal(0)) if len(known) == len(things) else None
    currency = view.stored.currency
    least = None if view.lowest is None else _net(way, view.lowest, currency)
    return state_offer(amount, _net(way, amount, currency), view.lowest, least, cost, currency)


def answer_offer(catalogue: Catalogue, number: int, answer: str, countered: Decimal | None) -> int:
    """Take an offer, decline it, or ask for something between; its listing. Raises NotFound, Conflict, InputError."""
    if answer not in ("taken", "declined", "countered"):
        raise InputError.at("answer", "must be taken, declined or countered")
    if (answer == "countered") != (countered is not None and countered > 0):
        raise InputError.at("countered", "say what you would take instead")
    with catalogue.database.transaction() as session:
        return listings.answer_offer(session, number, answer, countered)


def end_sold(
    session: Session, items: Sequence[int], document: int, day: date, way: str | None
) -> ListingKind | None:  # fmt: skip
    """Things were sold: the listing by that way is sold, every other one that holds one of them has ended. How it was
    offered there (None: it was not)."""
    kind: ListingKind | None = None
    for it in listings.listings_of(session, items):
        is_it = it.way == way and {item for item, _ in it.things} <= set(items)
        kind = it.kind if is_it else kind
        listings.change_listing(
            session, it.number, state=(ListingState.SOLD if is_it else ListingState.ENDED).value, ended_on=day,
            document_id=document if is_it else None,
        )  # fmt: skip
    return kind


def write_listings(catalogue: Catalogue, way: str, numbers: Sequence[int]) -> bytes:
    """Open listings of a way of selling as CSV, in the columns that it wants. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_way(session, way)
        columns = _habits(session)[0].get(way, ListingHabits()).columns
        rows = []
        every = listings.list_listings(session, OPEN, "", 0, 10_000)
        of_way = [it for it in every if it.way == way and (not numbers or it.number in numbers)]
        items = list(dict.fromkeys(item for it in of_way for item, _ in it.things))
        known = {thing.item: thing for thing in listings.things_offered(session, items, CLEANED)}
        for it in of_way:
            things = [known[item] for item, _ in it.things]
            shown = [one.shown for one in things]
            line = ListingLine(
                it.number, it.title, it.words, it.price, it.currency, it.kind.value, sum(one.count for one in shown),
                ", ".join(dict.fromkeys(one.grade or one.condition for one in shown if one.grade or one.condition)),
                ", ".join(dict.fromkeys(one.place for one in things if one.place)),
                sum(one.photos for one in things), it.ends_on,
            )  # fmt: skip
            cells = {name: getattr(line, name) for name in columns} | {"price": in_digits(it.price, it.currency)}
            rows.append(["" if cells[name] is None else cells[name] for name in columns])
        return write_csv(columns, rows)


def ways_to_list(catalogue: Catalogue) -> list[tuple[str, str]]:
    """The ways of selling, by key and name. Raises NotFound where none is described."""
    with catalogue.database.transaction() as session:
        found = [(row.key, row.name) for row in list_way_rows(session)]
    if not found:
        raise NotFound("no way of selling is described yet")
    return found
