"""Listings on the real store: written with what must be disclosed, sold once, repriced, offered for; markets that
answer twice or not at all; sales by file; which way out (C-16, C-17, C-21, C-38)."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal as D
from io import BytesIO
from zipfile import ZipFile

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from sqlalchemy import event

from tests.conftest import TODAY
from tests.services.test_grading import begin as begin_grading
from tests.services.test_grading import books
from tests.services.test_selling import begin
from tobbix.core.base.errors import Conflict, InputError, TobbixError
from tobbix.core.holdings.documents import Side as PhotoSide
from tobbix.core.holdings.states import Action
from tobbix.core.planning.ways_out import PlanningTerms, Road
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.core.selling.listings import OPEN, ListingState
from tobbix.core.selling.sales_files import SaleColumn, UnsaidFees
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.gateways.ports import ListingSent
from tobbix.gateways.standins.selling import SimulatedMarketplace
from tobbix.services.books.taking_back import take_back
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading import scanning
from tobbix.services.pricing import seeing
from tobbix.services.pricing.ways import save_way
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import (
    claims,
    listings,
    markets,
    offers,
    orders,
    packing,
    proposing,
    sales_files,
    supplies,
    trading,
    viewing,
    ways_out,
)
from tobbix.services.selling.listings import ListingSaid
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.packing import PostedInput
from tobbix.services.selling.proposing import ListingHabits
from tobbix.services.selling.sales_files import SalesSaid
from tobbix.services.sorting import judging
from tobbix.services.stock import items, photos
from tobbix.services.stock.items import ItemFilter
from tobbix.services.stock.taking_in import CardInput, take_in

BELL = SellingWay("bellbuoy", "Bellbuoy", (Bracket(None, D("0.11")),), FeeBase.PRICE, fixed_fee=D("0.30"))
FAIR = SellingWay("fair", "Quay Fair")


def ways(catalogue: Catalogue) -> None:
    for it in (BELL, FAIR):
        save_way(catalogue.database, it, 0)


def state(catalogue: Catalogue, number: int) -> ListingState:
    return listings.read_listing(catalogue, number).stored.state


def version_of(catalogue: Catalogue, number: int) -> int:
    return listings.read_listing(catalogue, number).stored.version


def test_a_listing_says_what_must_be_said_and_sells_once(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    scanning.log_cleaning(catalogue, cards[0], items.read_item(catalogue.database, cards[0]).item.version, "dusted")
    crease = Flaw(FlawKind.CREASE, Side.BACK, Size.SMALL, 0.5, 0.5)
    judging.mark_flaws(catalogue, cards[0], items.read_item(catalogue.database, cards[0]).item.version, [crease], "LP")
    (found,), _ = proposing.propose(catalogue, [cards[0]], "bellbuoy")
    assert found.title == "card 0" and found.refused is None and found.must == (
        "It was cleaned (dusted).", "Seen on it: small crease on the back.",
    )  # fmt: skip
    with pytest.raises(InputError, match="must be over 0"):
        listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[1],), D(3)), ListingSaid((cards[0],), D(0))])
    assert listings.list_listings(catalogue, OPEN, "", 0, 9).rows == ()  # none of the two
    one, two = listings.draft(
        catalogue, "bellbuoy",
        [ListingSaid((cards[0],), D(12), words="A fine card."), ListingSaid((cards[1], cards[2]), D(20))],
    )  # fmt: skip
    (elsewhere,) = listings.draft(catalogue, "fair", [ListingSaid((cards[0],), D(14))])
    assert listings.read_listing(catalogue, one).stored.words.splitlines() == ["A fine card.", *found.must]
    with pytest.raises(InputError, match="offered there already"):
        listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[2], cards[3]), D(5))])
    view = listings.read_listing(catalogue, one)
    listings.change_listing(catalogue, one, view.stored.version, ListingSaid((), D(11), "A card", "Short."))
    assert listings.read_listing(catalogue, one).stored.words.splitlines() == ["Short.", *found.must]  # it stays in
    with pytest.raises(Conflict, match="changed meanwhile"):
        listings.end(catalogue, one, view.stored.version)
    item = items.read_item(catalogue.database, cards[0]).item
    scanning.log_cleaning(catalogue, cards[0], item.version, "wiped")  # after it was written
    assert listings.read_listing(catalogue, one).untold == ("It was cleaned (wiped).",)
    assert [it.well for it in markets.send_out(catalogue, (), [one, two])] == [True, True]
    assert listings.read_listing(catalogue, one).untold == ()
    document = orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(11)}, way="bellbuoy"))
    assert (state(catalogue, one), state(catalogue, elsewhere)) == (ListingState.SOLD, ListingState.ENDED)
    with pytest.raises(Conflict):
        orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(14)}, way="fair"))
    with pytest.raises(Conflict, match="is sold"):
        listings.relist(catalogue, elsewhere)
    for it in reversed(viewing.read_order(catalogue, document).booked):
        take_back(catalogue, it.number)
    listings.relist(catalogue, one)  # the order was taken back: it is here again
    assert state(catalogue, one) is ListingState.DRAFTED
    proposing.save_habits(catalogue, "bellbuoy", ListingHabits("{name}", 80, ("title", "price", "words")), 0)
    text = listings.write_listings(catalogue, "bellbuoy", []).decode("utf-8-sig").splitlines()
    assert text[0] == "title,price,words" and any(line.startswith("A card,11.00,") for line in text)
    version = items.read_item(catalogue.database, cards[2]).item.version
    items.take_out(catalogue.database, cards[2], version, Action.LOSE, TODAY, "")
    assert state(catalogue, two) is ListingState.ENDED  # what is gone is offered nowhere
    with pytest.raises(InputError, match="no {colour}"):
        proposing.save_habits(catalogue, "bellbuoy", ListingHabits("{colour}", 80), 1)


def test_prices_move_in_bulk_and_offers_are_weighed(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    (number,) = listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[0],), D(10), lowest=D(8))])
    with pytest.raises(Conflict, match="is drafted"):
        offers.make_offer(catalogue, number, "Tove Maribel", D(7))
    markets.send_out(catalogue, (), [number])
    (shown,) = offers.reprice(catalogue, [number], None, D("-0.1"), apply=False)
    assert (shown.before, shown.after, shown.net) == (D(10), D("9.00"), D("7.71"))  # 9 - 0.99 - 0.30
    assert listings.read_listing(catalogue, number).stored.price == D(10)
    offers.reprice(catalogue, [number], None, D("-0.1"), apply=True)
    assert listings.read_listing(catalogue, number).stored.price == D(9)
    (unknown,) = offers.reprice(catalogue, [number], "market", None, apply=True)
    assert unknown.after is None and unknown.why == "no sale of it is known"
    low = offers.weigh_offer(catalogue, number, D(7)).text()
    assert low.startswith("Do not take it: 7.00 nets 5.93, 0.89 less than") and "makes 0.93" in low
    assert offers.weigh_offer(catalogue, number, D("8.50")).text().startswith("Take it: 8.50 nets 7.27, 0.45 more")
    offers.make_offer(catalogue, number, "Tove Maribel", D(7))
    assert "1 offer waits" in listings.list_listings(catalogue, OPEN, "", 0, 9).verdict.text()
    (offer,) = listings.read_listing(catalogue, number).stored.offers
    with pytest.raises(InputError, match="instead"):
        offers.answer_offer(catalogue, offer.number, "countered", None)
    assert offers.answer_offer(catalogue, offer.number, "countered", D(8)) == number
    with pytest.raises(Conflict, match="answered already"):
        offers.answer_offer(catalogue, offer.number, "declined", None)
    offers.make_offer(catalogue, number, "Joris Kettleby", D(8))
    offer = listings.read_listing(catalogue, number).stored.offers[0]
    taken = offers.sale_of(catalogue, number, offer.number)
    assert (taken.way, taken.buyer, taken.prices) == ("bellbuoy", "Joris Kettleby", {cards[0]: D(8)})
    with pytest.raises(Conflict, match="for other things"):
        orders.sell(catalogue.database, SaleInput(TODAY, {cards[1]: D(8)}, way="bellbuoy", offer=offer.number))
    assert listings.read_listing(catalogue, number).stored.offers[0].answer == "open"  # nothing is half done
    orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(8)}, way="bellbuoy", offer=offer.number))
    assert listings.read_listing(catalogue, number).stored.offers[0].answer == "taken"
    with pytest.raises(Conflict, match="is sold"):
        offers.sale_of(catalogue, number, None)


def test_what_a_filter_finds_is_offered_with_its_photos(catalogue: Catalogue) -> None:
    cards = begin(catalogue, 5)
    ways(catalogue)
    store = catalogue.database
    for side, colour in ((Side.BACK, "navy"), (Side.FRONT, "teal")):
        out = BytesIO()
        Image.new("RGB", (2_400, 1_800), colour).save(out, "PNG")
        photos.keep_photo(store, cards[0], PhotoSide(side.value), out.getvalue())
    listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[1],), D(3))])
    version = items.read_item(store, cards[2]).item.version
    items.correct_item(store, cards[2], version, {"never_for_sale": True}, TODAY)
    found, total = proposing.propose(catalogue, [], "bellbuoy", ItemFilter(find="card"))
    assert total == 3 and [it.item for it in found] == [cards[0], cards[3], cards[4]]  # supplies are not offered
    counted: list[int] = []
    event.listen(store.engine, "before_cursor_execute", lambda *_: counted.append(1))
    proposing.propose(catalogue, [cards[0]], "bellbuoy")
    few = len(counted)
    proposing.propose(catalogue, cards, "bellbuoy")
    assert len(counted) == 2 * few <= 20  # however many they are
    (stack,) = take_in(store, [CardInput("a stack", count=4)], TODAY, basis=D(2))
    items.correct_item(store, stack, items.read_item(store, stack).item.version, {"value": D(8)}, TODAY)
    (proposed,), _ = proposing.propose(catalogue, [stack], "bellbuoy")
    assert proposed.value == D(8) and proposed.count == 4  # all of it goes to one buyer
    back, front = sorted(found[0].photos)
    assert found[0].photos == (front, back)
    (number,) = listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[0],), D(5))])
    view = listings.read_listing(catalogue, number)
    assert view.chosen == view.photos == (front, back)
    with pytest.raises(InputError, match="each once"):
        listings.choose_photos(catalogue, number, view.stored.version, [back, back])
    listings.choose_photos(catalogue, number, view.stored.version, [back])
    parts = listings.stream_photos(catalogue, "bellbuoy", [])
    with ZipFile(BytesIO(b"".join(parts))) as archive:
        assert archive.namelist() == [f"{number}-1.jpg"]
        with Image.open(archive.open(f"{number}-1.jpg")) as picture:  # a market takes no more
            assert picture.format == "JPEG" and picture.size == (1_600, 1_200)
    assert f"{number}-1.jpg" in listings.write_listings(catalogue, "bellbuoy", [number]).decode()
    sent: list[ListingSent] = []
    service = SimulatedMarketplace("Bellbuoy", chance=lambda: 1.0)
    service.put_up = lambda it, on: sent.append(it) or "B-1"  # type: ignore[method-assign,func-returns-value]
    markets.send_out(catalogue, (service,), [number])
    assert [len(it.photos) for it in sent] == [1]
    begun = listings.stream_photos(catalogue, "bellbuoy", [])
    photos.take_photo_out(store, back)
    with ZipFile(BytesIO(b"".join(begun))) as archive:
        assert archive.namelist() == []  # what was taken out since is left out, and the rest comes whole
    assert listings.read_listing(catalogue, number).chosen == ()


FILE = """Order no.;Custom label;Item;Sold on;Sold for;Shipping paid;Fees;Buyer;Address;Address
A-1;{one};card 0;2026-11-20;12,50;1,60;2,00;Tove Maribel;Slip Lane 4;Saltby
A-1;;card 1;2026-11-20;3,00;;0,40;Tove Maribel;;
A-2;;card 9;2026-11-21;4,00;;;;;
A-3;;card 2;soon;4,00;;;;;
;;an old sale;2019-03-02;40,00;;4,00;;;
"""


def test_sales_come_in_by_file_once_and_those_of_before_as_results(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    (one,) = listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[0],), D(12))])
    markets.send_out(catalogue, (), [one])
    said = SalesSaid(FILE.format(one=one), "bellbuoy")
    read = sales_files.read_sales_file(catalogue, said)
    assert [it.value for it in read.columns] == ["order", "listing", "title", "day", "price", "shipping", "fees",
                                                 "buyer", "address", "address"]  # fmt: skip
    assert [it.problem for it in read.rows] == [
        None, None, "nothing that is here or listed is called so", "“soon” is no day",
        "nothing that is here or listed is called so",
    ]  # fmt: skip
    taken = sales_files.take_sales(catalogue, said, [1, 2, 3], [5], "Bellbuoy")
    assert len(taken.orders) == 1 and taken.past == 1 and [at for at, _ in taken.left] == [3]
    order = viewing.read_order(catalogue, taken.orders[0])
    assert order.stored.reference == "A-1" and order.stored.address == "Slip Lane 4\nSaltby"
    assert [line.price for line in order.stored.lines] == [D("12.50"), D(3)] and order.result.fees == D("2.40")
    assert state(catalogue, one) is ListingState.SOLD
    again = sales_files.read_sales_file(catalogue, said)
    assert again.remembered and again.rows[0].is_there
    twice = sales_files.take_sales(catalogue, said, [1, 2], [5], "Bellbuoy")
    assert twice.orders == () and twice.past == 0 and len(sales_files.list_past_sales(catalogue)) == 1
    silent = SalesSaid(f"item;price;day\ncard {3};10,00;2026-01-02\n", "bellbuoy")
    with pytest.raises(InputError, match="1 sale does not say what was kept"):
        sales_files.take_sales(catalogue, silent, [1], [], None)
    usual = replace(silent, unsaid_fees=UnsaidFees.USUAL)
    (order_number,) = sales_files.take_sales(catalogue, usual, [1], [], None).orders
    assert viewing.read_order(catalogue, order_number).result.fees == D("1.40")  # 11 % and 0.30
    with pytest.raises(InputError, match="each column"):
        sales_files.read_sales_file(catalogue, SalesSaid(said.text, "bellbuoy", (SaleColumn.TITLE,)))
    with pytest.raises(InputError, match="no table"):
        sales_files.read_sales_file(catalogue, SalesSaid("nothing", "bellbuoy"))
    books(catalogue)


def test_the_way_out_that_is_worth_most_is_proposed_and_ones_own_choice_stays(catalogue: Catalogue) -> None:
    grader, cards = begin_grading(catalogue)
    ways(catalogue)
    terms = PlanningTerms(D(12), D("0.1"), days=20)
    ways_out.save_terms(catalogue, terms, 0)
    found = ways_out.read_ways(catalogue, cards[0])
    by_road = {it.way.road: it for it in found.found.ways if it.today is not None}
    sell = next(it for it in found.found.ways if it.way.key == "bellbuoy")
    assert sell.way.comes is not None and sell.today is not None and sell.way.assumed
    assert sell.today == sell.way.comes * D("1.1") ** (D(-20) / 365) - D("1.2")
    assert by_road[Road.GIVE].today == D("-0.2") and found.found.best is not None
    assert [it.today for it in found.found.ways if it.today is not None] == sorted(
        (it.today for it in found.found.ways if it.today is not None), reverse=True
    )
    ways_out.choose(catalogue, cards[0], (Road.SELL, "fair"))
    assert ways_out.read_ways(catalogue, cards[0]).chosen == (Road.SELL, "fair")
    with pytest.raises(InputError, match="no such way"):
        ways_out.choose(catalogue, cards[0], (Road.SELL, "nowhere"))
    ways_out.choose(catalogue, cards[0], None)
    assert ways_out.read_ways(catalogue, cards[0]).chosen is None
    price = seeing.read_price(catalogue, "test", "c", "C1", "", "NM", 365)
    document = orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(5)}, way="fair"))
    own = seeing.read_price(catalogue, "test", "c", "C1", "", "NM", 365)  # what it went for is a price of it
    assert own.found.used == price.found.used + 1
    assert {(it.comp.kind.value, it.comp.market, it.comp.price) for it in own.seen} >= {("own", "Quay Fair", D(5))}
    with pytest.raises(Conflict, match="here and your own"):
        ways_out.read_ways(catalogue, cards[0])
    take_back(catalogue, viewing.read_order(catalogue, document).booked[-1].number)
    assert seeing.read_price(catalogue, "test", "c", "C1", "", "NM", 365).found.used == price.found.used
    assert grader


ACTS = st.lists(
    st.tuples(
        st.sampled_from(["draft", "up", "end", "relist", "sell", "ask", "refund", "return", "undo", "trade", "post",
                         "claim", "lose"]),
        st.integers(0, 3), st.booleans(),
    ), max_size=16,
)  # fmt: skip


@settings(max_examples=16, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(ACTS)
def test_whatever_is_done_with_listings_nothing_sells_twice_and_the_books_balance(catalogue, acts) -> None:  # type: ignore[no-untyped-def]
    cards = begin(catalogue)
    ways(catalogue)
    service = SimulatedMarketplace("Bellbuoy", chance=lambda: 1.0)
    made: dict[int, int] = {}
    sold: list[int] = []
    for act, at, twice in acts:
        for _ in range(1 + twice):  # each may be sent twice
            try:
                if act == "draft":
                    (made[at],) = listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[at],), D(10))])
                elif act == "sell":
                    sold.append(orders.sell(catalogue.database, SaleInput(TODAY, {cards[at]: D(9)}, way="fair")))
                elif act == "ask":
                    markets.ask_markets(catalogue, (service,), TODAY + timedelta(300))
                elif act in ("refund", "return") and sold:
                    paid = ChargeInput("price", D(2), "EUR", TODAY, "bank")
                    orders.pay_back(catalogue.database, sold[-1], {cards[at]: D(2)}, paid, returned=act == "return")
                elif act == "trade":
                    trading.trade(catalogue.database, [cards[at]], [CardInput(f"got {at}", value=D(7))], TODAY)
                elif act == "post" and sold:
                    packing.pack(catalogue, sold[-1], viewing.read_order(catalogue, sold[-1]).version)
                    posted = PostedInput(TODAY, cost=D("1.20"))
                    packing.post(catalogue, sold[-1], viewing.read_order(catalogue, sold[-1]).version, posted)
                elif act == "claim" and sold:
                    claims.file_claim(catalogue, sold[-1], 0, D(9), "it never came")
                    claims.settle_claim(catalogue, sold[-1], 1, D(9), "bank")
                elif act == "lose":
                    version = items.read_item(catalogue.database, cards[at]).item.version
                    items.take_out(catalogue.database, cards[at], version, Action.LOSE, TODAY, "")
                elif act == "undo" and sold:
                    take_back(catalogue, viewing.read_order(catalogue, sold[-1]).booked[-1].number)
                elif at in made:
                    number = made[at]
                    version = version_of(catalogue, number)
                    if act == "up":
                        markets.send_out(catalogue, (service,), [number])
                    elif act == "end":
                        markets.take_off(catalogue, (service,), number, version)
                        markets.withdraw_all(catalogue, (service,), [number])
                    elif act == "relist":
                        listings.relist(catalogue, number)
            except TobbixError:
                pass
        held = [it.count for it in supplies.list_supplies(catalogue).rows if it.count is not None]
        assert all(count >= 0 for count in held)
    books(catalogue)
    for card in cards:
        item = items.read_item(catalogue.database, card).item
        named = [it for number in made.values()
                 if card in dict((it := listings.read_listing(catalogue, number).stored).things)]  # fmt: skip
        assert item.state.value in ("held", "sold", "traded", "lost")
        if item.state.value != "held":
            assert all(it.state not in OPEN for it in named)  # what is gone is offered nowhere
