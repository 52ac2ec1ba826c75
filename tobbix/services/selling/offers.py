"""Prices of listings that change, and offers for them: weighed and answered (C-17, C-21)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.allocation import share_out
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.selling.listings import OPEN, ListingKind, ListingState, Repriced, by_share, state_offer
from tobbix.db.base import Session
from tobbix.db.pricing.ways import find_way, to_way
from tobbix.db.selling import listings
from tobbix.db.selling.listings import StoredListing
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.listings import net_of, read_listing
from tobbix.services.selling.proposing import MOST_AT_ONCE, price_all


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
        open_ = [it for it in listings.find_listings(session, numbers[:MOST_AT_ONCE]) if it.state in OPEN]
        ways = {key: to_way(find_way(session, key)) for key in dict.fromkeys(it.way for it in open_)}
        levels = {} if level is None else _levels(session, open_, ways, level, today)
        for it in open_:
            number, way = it.number, ways[it.way]
            after, why = _new_price(it, levels.get(it.number), share)
            net = None if after is None else net_of(way, after, it.currency)
            found.append(Repriced(number, it.title, it.price, after, net, why))
            if apply and after is not None and after != it.price:
                lowest = None if it.lowest is None else min(it.lowest, after)
                listings.change_listing(session, number, price=after, priced_on=today, lowest=lowest)
        return found


def _levels(
    session: Session, of: Sequence[StoredListing], ways: Mapping[str, SellingWay], level: str, today: date
) -> dict[int, Decimal]:
    """What C-21 asks at a level for listings of one thing whose sales are known, in a few queries for each way."""
    found: dict[int, Decimal] = {}
    for key, way in ways.items():
        single = {it.things[0][0]: it.number for it in of if it.way == key and len(it.things) == 1}
        things = listings.things_offered(session, list(single), CLEANED)
        for thing, priced in zip(things, price_all(session, things, way, today), strict=True):
            found.update((single[thing.item], ask.price) for ask in priced.asking if ask.name == level)
    return found


def _new_price(it: StoredListing, at_level: Decimal | None, share: Decimal | None) -> tuple[Decimal | None, str]:
    step = Decimal(1).scaleb(-minor_units(it.currency))
    if share is not None:
        return by_share(it.price, share, step), ""
    if it.kind is ListingKind.AUCTION:
        return None, "an auction begins where you say"
    if len(it.things) != 1:
        return None, "it holds several things"
    return at_level, "" if at_level is not None else "no sale of it is known"


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
    least = None if view.lowest is None else net_of(way, view.lowest, currency)
    return state_offer(amount, net_of(way, amount, currency), view.lowest, least, cost, currency)


@dataclass(frozen=True, slots=True)
class SaleOf:
    """What a listing is sold as: by which way, to whom (None: not said), and each thing with its part of the price."""

    way: str
    buyer: str | None
    prices: Mapping[int, Decimal]


def sale_of(catalogue: Catalogue, number: int, offer: int | None) -> SaleOf:
    """A listing as it is sold at its price, or for an ``offer``. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        stored = listings.find_listing(session, number)
    if stored.state not in OPEN:
        raise Conflict(f"this listing is {stored.state.value}")
    made = next((it for it in stored.offers if it.number == offer), None)
    if offer is not None and made is None:
        raise NotFound("there is no such offer for it")
    price, buyer = (stored.price, None) if made is None else (made.amount, made.buyer)
    return SaleOf(stored.way, buyer, share_price(price, [item for item, _ in stored.things], stored.currency))


def share_price(price: Decimal, items: Sequence[int], currency: str) -> dict[int, Decimal]:
    """A price of several things together, to each an equal part of whole minor units.

    >>> [str(it) for it in share_price(Decimal("10.00"), [1, 2, 3], "EUR").values()]
    ['3.34', '3.33', '3.33']
    """
    return dict(zip(items, share_out(price, [Fraction(1)] * len(items), minor_units(currency)), strict=True))


def take_offer(session: Session, number: int, items: Sequence[int]) -> None:
    """An offer is taken by the sale of its listing's things. Raises NotFound, Conflict."""
    stored = listings.find_offer(session, number)
    if stored.state is not ListingState.LISTED:
        raise Conflict(f"the listing of this offer is {stored.state.value}")
    if {item for item, _ in stored.things} != set(items):
        raise Conflict("the offer is for other things: sell what it is for")
    listings.answer_offer(session, number, "taken", None)


def answer_offer(catalogue: Catalogue, number: int, answer: str, countered: Decimal | None) -> int:
    """Decline an offer, or ask for something between; its listing. One is taken by its sale. Raises NotFound, Conflict,
    InputError."""
    if answer not in ("declined", "countered"):
        raise InputError.at("answer", "must be declined or countered")
    if (answer == "countered") != (countered is not None and countered > 0):
        raise InputError.at("countered", "say what you would take instead")
    with catalogue.database.transaction() as session:
        return listings.answer_offer(session, number, answer, countered)
