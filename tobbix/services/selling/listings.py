"""Things that are offered: listed, changed, sold or ended, and as a file for a market (C-17, C-21)."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

import numpy as np

from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound
from tobbix.core.base.money import Money, in_digits
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.states import State
from tobbix.core.pricing.asking import Asking
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.selling.listings import (
    MOST_PHOTOS,
    OPEN,
    ListingKind,
    ListingLine,
    ListingState,
    disclosures,
    move,
    state_listings,
    write_title,
    write_words,
)
from tobbix.db.base import Session
from tobbix.db.holdings.loading import load_photo
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import find_way, to_way
from tobbix.db.selling import listings
from tobbix.db.selling.listings import StoredListing as StoredListing
from tobbix.db.selling.listings import StoredOffer as StoredOffer
from tobbix.db.selling.listings import ThingOffered
from tobbix.formats.item_lists import write_csv
from tobbix.formats.pictures import shrink, stream_zip
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.proposing import MOST_AT_ONCE, ListingHabits, Priced, habits_of, price_all, why_not


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
        selling, habits = to_way(find_way(session, way)), habits_of(session)[0].get(way, ListingHabits())
        currency = load_preferences(session).currency
        made = []
        every = listings.things_offered(session, list(dict.fromkeys(i for it in said for i in it.items)), CLEANED)
        by_item = {it.item: it for it in every}
        taken = listings.offered_already(session, list(by_item), way)
        expected = {
            thing.item: _expected(priced, today)
            for thing, priced in zip(every, price_all(session, every, selling, today), strict=True)
        }
        for at, it in enumerate(said):
            _check(it, today, habits, f"listings[{at}].")
            things = [by_item[item] for item in it.items]
            for thing in things:
                why = why_not(thing, taken)
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
                    priced_on=today, ends_on=it.ends_on, expected=expected[it.items[0]] if len(things) == 1 else None,
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


def _expected(priced: Priced, today: date) -> Mapping[str, object] | None:
    """What is expected of one thing on the day that it is priced, to be judged by later (C-39)."""
    asked = priced.asked
    if asked is None or asked.found.estimate is None or priced.count > 1:
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
    """A listing with what must be disclosed and what of that its words do not say yet, the photos that there are of its
    things and those that go with it, what it nets at its price and at what else could be asked (money at home)."""

    stored: StoredListing
    way: str
    must: tuple[str, ...]
    untold: tuple[str, ...]
    photos: tuple[int, ...]
    chosen: tuple[int, ...]
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
        priced = price_all(session, things, way, today)[0] if len(things) == 1 else None
        asking, lowest = ((), None) if priced is None else (priced.asking, priced.lowest)
        net = net_of(way, stored.price, stored.currency)
        must = disclosures([it.shown for it in things])
        photos = tuple(photo for it in things for photo in it.photos)
        chosen = photos_that_go(stored, things)
        untold = tuple(it for it in must if it not in stored.words)
        return ListingView(stored, way.name, must, untold, photos, chosen, net, asking, stored.lowest or lowest, today)


def choose_photos(catalogue: Catalogue, number: int, version: int, photos: Sequence[int]) -> None:
    """Which photos of its things go with a listing, in which order. Raises NotFound, Conflict, InputError."""
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, version)
        if stored.state not in OPEN:
            raise Conflict(f"this listing is {stored.state.value}")
        things = listings.things_offered(session, [item for item, _ in stored.things], CLEANED)
        known = {photo for it in things for photo in it.photos}
        if len(set(photos)) < len(photos) or not known.issuperset(photos):
            raise InputError.at("photos", "name photos of its things, each once")
        listings.change_listing(session, number, photos=list(photos))


def photos_that_go(stored: StoredListing, things: Sequence[ThingOffered]) -> tuple[int, ...]:
    """The photos that go with a listing, at most as many as markets take; one that was taken out since is left out."""
    there = [photo for it in things for photo in it.photos]
    chosen = there if stored.photos is None else [photo for photo in stored.photos if photo in there]
    return tuple(chosen[:MOST_PHOTOS])


def net_of(way: SellingWay, price: Decimal, currency: str) -> Decimal:
    """What a price nets (money of its currency). Rule C-17."""
    return Money.from_estimate(float(way.net(price)), currency).amount


def change_listing(catalogue: Catalogue, number: int, version: int, said: ListingSaid) -> None:
    """Say a listing anew; its things stay. What must be disclosed is put back where it was left out. Raises NotFound,
    Conflict, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number, version)
        if stored.state not in OPEN:
            raise Conflict(f"this listing is {stored.state.value}")
        habits = habits_of(session)[0].get(stored.way, ListingHabits())
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
            session, number, state=state.value, listed_on=day, words=words_told(session, stored),
            reference=(reference or "").strip() or stored.reference,
        )  # fmt: skip


def words_told(session: Session, stored: StoredListing) -> str:
    """The words of a listing with all that must be told by now: a box may have been opened since they were written."""
    things = listings.things_offered(session, [item for item, _ in stored.things], CLEANED)
    return write_words([it.shown for it in things], stored.words)


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
        if any(it.number == number for it in listings.still_out(session)):
            raise Conflict("it is out at its market still, where it could sell: take it off there first")
        _refuse_gone(session, stored)
        listings.reopen(session, number)


def _refuse_gone(session: Session, stored: StoredListing) -> None:
    things = listings.things_offered(session, [item for item, _ in stored.things], CLEANED)
    gone = next((it for it in things if it.state is not State.HELD), None)
    if gone is not None:
        raise Conflict(f"{gone.shown.name} is {gone.state.value.replace('_', ' ')}")


def end_sold(
    session: Session, items: Sequence[int], document: int, day: date, way: str | None
) -> ListingKind | None:  # fmt: skip
    """Things are sold: the listing of them by that way is sold (what else offers one of them ends as it leaves). How
    it was offered there (None: it was not)."""
    kind: ListingKind | None = None
    for it in listings.listings_of(session, items):
        if it.way == way and {item for item, _ in it.things} <= set(items):
            kind = it.kind
            listings.change_listing(
                session, it.number, state=ListingState.SOLD.value, ended_on=day, document_id=document
            )  # fmt: skip
    return kind


def _of_way(
    session: Session, way: str, numbers: Sequence[int]
) -> list[tuple[StoredListing, list[ThingOffered]]]:  # fmt: skip
    """Open listings of a way of selling with their things. Raises NotFound."""
    find_way(session, way)
    found = listings.open_of_way(session, way, numbers)
    items = list(dict.fromkeys(item for it in found for item, _ in it.things))
    known = {thing.item: thing for thing in listings.things_offered(session, items, CLEANED)}
    return [(it, [known[item] for item, _ in it.things]) for it in found]


def _photo_name(listing: int, at: int) -> str:
    return f"{listing}-{at}.jpg"


def stream_photos(catalogue: Catalogue, way: str, numbers: Sequence[int]) -> Iterator[bytes]:
    """The photos of open listings of a way of selling as a ZIP of JPEG files, called as the CSV of them says; part by
    part, however many they are. Raises NotFound."""
    with catalogue.database.transaction() as session:
        wanted = [
            (_photo_name(it.number, at), photo)
            for it, things in _of_way(session, way, numbers)
            for at, photo in enumerate(photos_that_go(it, things), 1)
        ]

    def read() -> Iterator[tuple[str, bytes]]:
        for name, photo in wanted:
            try:
                with catalogue.database.transaction() as session:
                    content = load_photo(session, photo, small=False)[1]
            except NotFound:  # it was taken out since
                continue
            yield name, shrink(content)

    return stream_zip(read())


def write_listings(catalogue: Catalogue, way: str, numbers: Sequence[int]) -> bytes:
    """Open listings of a way of selling as CSV, in the columns that it wants. Raises NotFound."""
    with catalogue.database.transaction() as session:
        found, rows = _of_way(session, way, numbers), []
        columns = habits_of(session)[0].get(way, ListingHabits()).columns
        for it, things in found:
            photos = photos_that_go(it, things)
            shown = [one.shown for one in things]
            line = ListingLine(
                it.number, it.title, it.words, it.price, it.currency, it.kind.value, sum(one.count for one in shown),
                ", ".join(dict.fromkeys(one.grade or one.condition for one in shown if one.grade or one.condition)),
                ", ".join(dict.fromkeys(one.place for one in things if one.place)),
                " ".join(_photo_name(it.number, at) for at in range(1, len(photos) + 1)), it.ends_on,
            )  # fmt: skip
            cells = {name: getattr(line, name) for name in columns} | {"price": in_digits(it.price, it.currency)}
            rows.append(["" if cells[name] is None else cells[name] for name in columns])
        return write_csv(columns, rows)
