"""Markets that can be asked: listings go out to them, and what they say comes back as orders, complaints and payouts,
each taken in once however often it is said.

They are asked as a task: what a market did cannot be rolled back, so that each listing and each piece of news is kept
by itself as soon as it is known. Stopped or ended in the middle, it is done again without doing anything twice.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from functools import partial
from typing import Any, TypeVar

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.tasks import Task
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import DocumentState
from tobbix.core.selling.listings import Errand, ListingKind, ListingState
from tobbix.db.base import Session
from tobbix.db.holdings.loading import load_document, load_photo
from tobbix.db.pricing.ways import list_way_rows
from tobbix.db.selling import listings
from tobbix.db.selling.listings import StoredListing
from tobbix.formats.pictures import shrink
from tobbix.gateways.ports import Busy, ListingSent, MarketNews, NewsKind, NoAnswer, SellingService
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.listings import end, photos_that_go, put_up, words_told
from tobbix.services.selling.offers import share_price
from tobbix.services.selling.orders import SaleInput, sell
from tobbix.services.selling.packing import arrive, complain
from tobbix.services.selling.payouts import list_open, take_payout
from tobbix.services.tasks.carrying import Run, Tell, ask_for, fingerprint_of, read_task

KIND = "markets"
_LOOKS_BACK = timedelta(120)
_T = TypeVar("_T")
_AGAIN = 3  # times that a market is asked that does not answer


def _nobody(done: int) -> None:
    """Whoever waits for the answer need not be told how far it is."""


@dataclass(frozen=True, slots=True)
class Told:
    """What came of one thing that was sent or said: of which listing, in words, whether it went well, and the order
    that came of it."""

    listing: int
    text: str
    well: bool
    document: int | None = None


def ask_errand(
    catalogue: Catalogue, services: Sequence[SellingService], errand: Errand, numbers: Sequence[int] = (),
    on: date | None = None,
) -> Task:  # fmt: skip
    """Begin to ask markets: to put up the listings ``numbers``, for news as of the day ``on``, or to take off what
    ended here (all of it, or ``numbers``). Raises InputError, NotFound."""
    if errand is Errand.PUT_UP and not numbers:
        raise InputError.at("numbers", "choose what is to be put up")
    if errand is Errand.NEWS and not services:
        raise InputError.at("on", "no market is connected here")
    with catalogue.database.transaction() as session:
        listings.find_listings(session, numbers)  # all or none
        out = len(numbers or listings.still_out(session)) if errand is Errand.TAKE_OFF else 0
    about, total = {
        Errand.PUT_UP: (f"{len(numbers):,} put up", len(numbers)),
        Errand.NEWS: ("what became of the listings", len(services)),
        Errand.TAKE_OFF: ("what ended here taken off there", max(out, 1)),
    }[errand]
    asked = {"errand": errand.value, "numbers": list(numbers), "on": None if on is None else on.isoformat()}
    mark = fingerprint_of(KIND, asked, datetime.now(UTC).isoformat())  # asked again, they may say something else
    return ask_for(catalogue.database, KIND, about, asked, mark, total)


def market_runs(catalogue: Catalogue, services: Sequence[SellingService]) -> dict[str, Run]:
    """How markets are asked."""

    def run(task: Task, tell_more: Tell) -> Mapping[str, Any]:
        errand, on = Errand(task.asked["errand"]), task.asked["on"]

        def tell(done: int) -> None:
            tell_more(min(done, task.total))  # more may have ended since it was asked

        if errand is Errand.PUT_UP:
            told = send_out(catalogue, services, task.asked["numbers"], tell)
        elif errand is Errand.NEWS:
            told = ask_markets(catalogue, services, None if on is None else date.fromisoformat(on), tell)
        else:
            told = withdraw_all(catalogue, services, task.asked["numbers"], tell)
        return {"told": [asdict(it) for it in told]}

    return {KIND: run}


def read_errand(catalogue: Catalogue, number: int) -> tuple[Task, list[Told]]:
    """How far markets were asked, and what came of it. Raises NotFound."""
    task = read_task(catalogue.database, number)
    if task.kind != KIND:
        raise NotFound("no market was asked under that number")
    return task, [Told(**it) for it in (task.result or {}).get("told", ())]


def services_by_way(catalogue: Catalogue, services: Sequence[SellingService]) -> dict[str, SellingService]:
    """The markets that can be asked, by the keys of the ways of selling that are called like them."""
    with catalogue.database.transaction() as session:
        named = {row.name: row.key for row in list_way_rows(session)}
    return {named[it.name]: it for it in services if it.name in named}


def _asked(ask: Callable[[], _T]) -> _T:
    """What a market answers, asked again where it does not. Raises NoAnswer, Busy."""
    for _ in range(_AGAIN - 1):
        try:
            return ask()
        except NoAnswer:
            continue
    return ask()


def _sent(it: StoredListing, day: date, photos: tuple[bytes, ...] = ()) -> ListingSent:
    expects = None if it.expected is None else Decimal(repr(it.expected["estimate"])).quantize(Decimal("0.01"))
    return ListingSent(
        it.number, it.title, it.words, it.price, it.currency, it.kind is ListingKind.AUCTION, day, it.ends_on, expects,
        photos,
    )  # fmt: skip


def _photos(session: Session, it: StoredListing) -> tuple[bytes, ...]:
    things = listings.things_offered(session, [item for item, _ in it.things], CLEANED)
    return tuple(shrink(load_photo(session, photo, small=False)[1]) for photo in photos_that_go(it, things))


def take_off(
    catalogue: Catalogue, services: Sequence[SellingService], number: int, version: int
) -> tuple[Told, Task | None]:
    """End a listing here, and begin to take it off at its market where that can be asked; else it is said to be done
    by hand. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        it = listings.find_listing(session, number)
    end(catalogue, number, version)
    if it.reference is None:
        return Told(number, f"{it.title}: ended", True), None
    if it.way not in services_by_way(catalogue, services):
        return Told(number, f"{it.title}: ended here; take {it.reference} off there by hand", False), None
    return Told(number, f"{it.title}: ended here", True), ask_errand(catalogue, services, Errand.TAKE_OFF, [number])


def _withdraw(catalogue: Catalogue, services: Sequence[SellingService], it: StoredListing) -> Told:
    service, reference = services_by_way(catalogue, services).get(it.way), it.reference or ""
    try:
        if service is not None:
            _asked(lambda: service.withdraw(reference))
    except (NoAnswer, Busy) as error:
        return Told(it.number, f"{it.title}: ended here, but {error}; ask again, or take {reference} off there", False)
    with catalogue.database.transaction() as session:
        listings.change_listing(session, it.number, heard=[*it.heard, "withdrawn"])
    return Told(it.number, f"{it.title}: taken off there", True)


def withdraw_all(
    catalogue: Catalogue, services: Sequence[SellingService], numbers: Sequence[int] = (), tell: Tell = _nobody
) -> list[Told]:  # fmt: skip
    """Take off at their markets what ended here, all of it or the listings ``numbers``; where a market cannot be asked,
    the owner says that it was done by hand."""
    told: list[Told] = []
    for it in list_still_out(catalogue):
        if not numbers or it.number in numbers:
            told.append(_withdraw(catalogue, services, it))
            tell(len(told))
    return told


def list_still_out(catalogue: Catalogue) -> list[StoredListing]:
    """What ended here and is out at a market still."""
    with catalogue.database.transaction() as session:
        return listings.still_out(session)


def send_out(
    catalogue: Catalogue, services: Sequence[SellingService], numbers: Sequence[int], tell: Tell = _nobody
) -> list[Told]:  # fmt: skip
    """Put drafted listings up where a market can be asked; those of other ways count as put up by hand. What a market
    did not answer stays drafted. Raises NotFound."""
    by_way = services_by_way(catalogue, services)
    told: list[Told] = []
    for number in numbers:
        told.append(_send(catalogue, by_way, number))
        tell(len(told))
    return told


def _send(catalogue: Catalogue, by_way: Mapping[str, SellingService], number: int) -> Told:
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        it = listings.find_listing(session, number)
        service, reference = by_way.get(it.way), None
        photos = () if service is None or it.state is not ListingState.DRAFTED else _photos(session, it)
        words = words_told(session, it)
    if it.state is not ListingState.DRAFTED:
        return Told(number, f"{it.title}: it is {it.state.value} already", it.state is ListingState.LISTED)
    try:
        if service is not None:
            sent = _sent(replace(it, words=words), today, photos)
            reference = _asked(lambda: service.put_up(sent, today))
        put_up(catalogue, number, it.version, reference)
    except (NoAnswer, Busy) as error:
        return Told(number, f"{it.title}: {error}; it stays a draft", False)
    except Conflict as error:
        there = f"; take {reference} off there, or put it up again" if reference else ""
        return Told(number, f"{it.title}: {error}{there}", False)
    where = f"listed as {reference}" if reference else "listed; put it up there by hand"
    return Told(number, f"{it.title}: {where}", True)


def ask_markets(
    catalogue: Catalogue, services: Sequence[SellingService], on: date | None = None, tell: Tell = _nobody
) -> list[Told]:  # fmt: skip
    """Ask every market what became of its listings. ``on``: a day further on, which a simulated market can be asked
    about; what it says is booked on its days, at most today."""
    told: list[Told] = []
    for asked, (way, service) in enumerate(services_by_way(catalogue, services).items(), 1):
        told += _hear(catalogue, way, service, on, partial(tell, asked - 1))
        tell(asked)
    return told


def _hear(
    catalogue: Catalogue, way: str, service: SellingService, on: date | None, go_on: Callable[[], None]
) -> list[Told]:  # fmt: skip
    """What one market says; ``go_on`` is asked before each piece of news."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        out = listings.listed_at(session, way, today - _LOOKS_BACK)
    by_reference = {it.reference or "": it for it in out}
    sent = [(it.reference or "", _sent(it, it.listed_on or it.made_on)) for it in out]
    if not sent:
        return []
    try:
        news = _asked(lambda: service.news(sent, on or today))
    except (NoAnswer, Busy) as error:
        return [Told(0, f"{service.name}: {error}; ask again", False)]
    told: list[Told] = []
    for it in news:
        listing = by_reference.get(it.reference)
        if listing is not None:
            go_on()
            told += _take(catalogue, service.name, listing.number, it, today)
    return told


def _take(catalogue: Catalogue, market: str, number: int, news: MarketNews, today: date) -> list[Told]:
    """Take in what a market says, unless it was heard before: what is booked and that it was heard are one act."""
    with catalogue.database.transaction() as session:
        listing = listings.find_listing(session, number)
    if news.kind.value in listing.heard:
        return []
    try:
        with catalogue.database.unit():
            told = _do(catalogue, market, listing, news, min(news.day, today))
            if told is None:
                return []  # it is too early for it: it is heard once more when it fits
            with catalogue.database.transaction() as session:
                heard = listings.find_listing(session, number).heard
                listings.change_listing(session, number, heard=[*heard, news.kind.value])
    except (Conflict, InputError, NotFound) as error:
        return [Told(number, f"{listing.title}: {market} says {news.kind.value}, but {error}", False)]
    return [told]


def _do(catalogue: Catalogue, market: str, listing: StoredListing, news: MarketNews, day: date) -> Told | None:
    number, title, order = listing.number, listing.title, listing.document
    if news.kind is NewsKind.SOLD:
        if listing.state is not ListingState.LISTED:
            raise Conflict(f"the listing is {listing.state.value}; answer the buyer there")
        return _sold(catalogue, market, listing, news, day)
    if news.kind is NewsKind.ENDED:
        with catalogue.database.transaction() as session:
            listings.change_listing(session, number, state=ListingState.ENDED.value, ended_on=day)
        return Told(number, f"{title}: {news.words or 'it ended'}", True)
    if order is None:
        return None
    if news.kind is NewsKind.PAID and order not in {it.document for it in list_open(catalogue, market)[0]}:
        return Told(number, f"{title}: {market} paid it out, as the books have it already", True, order)
    if news.kind is NewsKind.PAID:
        cash = ChargeInput("other", news.price, listing.currency, day, "bank")
        take_payout(catalogue, market, cash, [order], as_fee=True)
        return Told(number, f"{title}: {market} paid {amount(news.price, listing.currency)} out", True, order)
    with catalogue.database.transaction() as session:
        state = load_document(session, order).state
    if state is not DocumentState.SENT:
        return None
    if news.kind is NewsKind.COMPLAINT:
        complain(catalogue, order, news.words)
        return Told(number, f"{title}: the buyer complains, {news.words}", False, order)
    arrive(catalogue, order, day)
    return Told(number, f"{title}: it arrived", True, order)


def _sold(catalogue: Catalogue, market: str, listing: StoredListing, news: MarketNews, day: date) -> Told:
    prices = share_price(news.price, [item for item, _ in listing.things], listing.currency)
    said = SaleInput(
        day, prices, news.buyer or None, listing.currency, news.shipping, news.fees, reference=news.order,
        way=listing.way, market=market, address=news.address,
    )  # fmt: skip
    document = sell(catalogue.database, said)
    return Told(listing.number, f"{listing.title}: sold for {amount(news.price, listing.currency)}", True, document)
