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
from openpyxl import load_workbook
from PIL import Image
from sqlalchemy import event

from tests.conftest import TODAY
from tests.services.test_grading import begin as begin_grading
from tests.services.test_grading import books
from tests.services.test_selling import begin
from tobbix.core.base.errors import Conflict, InputError, NotFound, TobbixError
from tobbix.core.books.sales import SalesBy
from tobbix.core.holdings.documents import Side as PhotoSide
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import Action
from tobbix.core.planning.ways_out import PlanningTerms, Road
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.core.selling.listings import OPEN, ListingKind, ListingState
from tobbix.core.selling.orders import OrderStage
from tobbix.core.selling.sales_files import SaleColumn, UnsaidFees
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.db.holdings.loading import account_balances
from tobbix.db.selling.claims import parcels_by_class
from tobbix.gateways.ports import ListingSent, MarketNews, NewsKind
from tobbix.gateways.standins.selling import SimulatedMarketplace
from tobbix.services.books import books as books_service
from tobbix.services.books import friends, sales
from tobbix.services.books.taking_back import take_back
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading import scanning
from tobbix.services.pricing import seeing
from tobbix.services.pricing.ways import save_way
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import (
    claims,
    habits,
    listings,
    markets,
    offers,
    orders,
    packing,
    papers,
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
from tobbix.services.stock.taking_in import CardInput, settle_with, take_in

BELL = SellingWay("bellbuoy", "Bellbuoy", (Bracket(None, D("0.11")),), FeeBase.PRICE, fixed_fee=D("0.30"))
FAIR = SellingWay("fair", "Quay Fair")


def ways(catalogue: Catalogue) -> None:
    for it in (BELL, FAIR):
        save_way(catalogue.database, it, 0)


def state(catalogue: Catalogue, number: int) -> ListingState:
    return listings.read_listing(catalogue, number).stored.state


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
    assert [it.well for it in markets.send_out(catalogue, (), [one, two])] == [True, True]
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
    back, front = sorted(found[0].photos)
    assert found[0].photos == (front, back)
    (number,) = listings.draft(catalogue, "bellbuoy", [ListingSaid((cards[0],), D(5))])
    view = listings.read_listing(catalogue, number)
    assert view.chosen == view.photos == (front, back)
    with pytest.raises(InputError, match="each once"):
        listings.choose_photos(catalogue, number, view.stored.version, [back, back])
    listings.choose_photos(catalogue, number, view.stored.version, [back])
    listed = BytesIO(listings.write_photos(catalogue, "bellbuoy", []))
    with ZipFile(listed) as archive:
        assert archive.namelist() == [f"{number}-1.jpg"]
        with Image.open(archive.open(f"{number}-1.jpg")) as picture:  # a market takes no more
            assert picture.format == "JPEG" and picture.size == (1_600, 1_200)
    assert f"{number}-1.jpg" in listings.write_listings(catalogue, "bellbuoy", [number]).decode()
    sent: list[ListingSent] = []
    service = SimulatedMarketplace("Bellbuoy", chance=lambda: 1.0)
    service.put_up = lambda it, on: sent.append(it) or "B-1"  # type: ignore[method-assign,func-returns-value]
    markets.send_out(catalogue, (service,), [number])
    assert [len(it.photos) for it in sent] == [1]
    photos.take_photo_out(store, back)
    assert listings.read_listing(catalogue, number).chosen == ()


def test_what_a_market_says_is_taken_in_once_however_often_it_says_it(catalogue: Catalogue) -> None:
    cards = begin(catalogue, 6)
    ways(catalogue)
    answers = iter([0.0, 0.0, 0.0, *[1.0] * 10_000])  # it does not answer three times
    service = SimulatedMarketplace("Bellbuoy", chance=lambda: next(answers))
    drafts = [ListingSaid((card,), D(10)) for card in cards[:5]]
    numbers = listings.draft(catalogue, "bellbuoy", drafts)
    told = markets.send_out(catalogue, (service,), numbers)
    assert [it.well for it in told] == [False, True, True, True, True] and "stays a draft" in told[0].text
    assert markets.send_out(catalogue, (service,), numbers[:1])[0].well
    auction = ListingSaid((cards[5],), D(1), kind=ListingKind.AUCTION, ends_on=TODAY)
    (lot,) = listings.draft(catalogue, "bellbuoy", [auction])
    markets.send_out(catalogue, (service,), [lot])
    later = TODAY + timedelta(400)
    other_news = service.news
    service.news = lambda listed, on: [  # type: ignore[method-assign]
        *other_news([it for it in listed if not it[1].is_auction], on),
        *(MarketNews(NewsKind.ENDED, TODAY, at, words="nobody bid enough") for at, it in listed if it.is_auction),
    ]
    orders.sell(catalogue.database, SaleInput(TODAY, {cards[4]: D(9)}, way="fair"))  # sold elsewhere meanwhile
    found = markets.ask_markets(catalogue, (service,), later)
    assert sum(it.document is not None for it in found) >= 4 and all(it.well for it in found)
    assert any("nobody bid enough" in it.text for it in found) and state(catalogue, lot) is ListingState.ENDED
    assert markets.ask_markets(catalogue, (service,), later) == []
    rows = viewing.list_orders(catalogue, OrderStage.TO_PACK, "", 0, 20)
    assert len([it for it in rows.rows if it.buyer]) == 4 and rows.owed == ()  # the market paid all of it out
    assert {state(catalogue, it) for it in numbers[:4]} == {ListingState.SOLD}
    assert state(catalogue, numbers[4]) is ListingState.ENDED
    assert (
        "1 that ended here is out at a market still" in listings.list_listings(catalogue, OPEN, "", 0, 9).verdict.text()
    )  # it sold elsewhere
    assert [it.text for it in markets.withdraw_all(catalogue, (service,))] == ["card 4: taken off there"]
    assert markets.list_still_out(catalogue) == []
    books(catalogue)


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
                    version = listings.read_listing(catalogue, number).stored.version
                    if act == "up":
                        markets.send_out(catalogue, (service,), [number])
                    elif act == "end":
                        markets.take_off(catalogue, (service,), number, version)
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


def test_sales_come_together_by_anything_to_the_cent_and_leave_as_files(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    first = orders.sell(
        catalogue.database,
        SaleInput(
            TODAY, {cards[0]: D(12), cards[1]: D(4)}, "Tove Maribel", fees=D("1.61"), shipping=D(2), way="bellbuoy"
        ),
    )
    orders.sell(catalogue.database, SaleInput(TODAY, {cards[2]: D(3)}, way="fair", handed_over=True))
    orders.pay_back(catalogue.database, first, {cards[1]: D(4)}, ChargeInput("price", D(4), "EUR", TODAY, "bank"),
                    returned=True)  # fmt: skip
    sales.spend_minutes(catalogue, first, D(30), "")
    sales_files.take_sales(catalogue, SalesSaid(FILE.format(one=0), "bellbuoy"), [], [5], None)
    found = sales.read_sales(catalogue, SalesBy.WAY, None, None)
    with catalogue.database.transaction() as session:
        booked = {account: amount for (account, _), amount in account_balances(session).items()}
    assert found.total.brought == -booked[Account.INCOME] + D(40) and found.before == 1  # the old sale has no entries
    assert found.total.fees == booked[Account.FEES] + D(4) and found.total.count == 3
    by_way = {it.name: it for it in found.rows}
    assert by_way["Bellbuoy"].profit == D("13.99") - D("1.61") + D("0.01") - D(5) and by_way["Quay Fair"].profit == D(
        -2
    )
    assert by_way["Bellbuoy"].per_hour is not None and by_way["Bellbuoy"].minutes == D(30)
    assert by_way["Bellbuoy"].days == 30 and "nobody remembers" in found.verdict.text()
    (month,) = sales.read_sales(catalogue, SalesBy.MONTH, TODAY.replace(day=1), TODAY).rows
    assert month.count == 2 and month.name == f"{TODAY:%Y-%m}"
    one = sales.read_sales(catalogue, SalesBy.BUYER, None, None, only="Tove Maribel")
    assert [it.name for it in one.things] == ["card 0"]
    text = sales.write_sales(one, as_xlsx=False).decode().splitlines()
    assert text[1].startswith(f"{TODAY},card 0,Bellbuoy,Tove Maribel,") and text[-1].startswith(",all,")
    book = load_workbook(BytesIO(sales.write_sales(one, as_xlsx=True)))
    assert [row[1].value for row in book.active.rows] == ["thing", "card 0", "all"]
    assert b"order" in books_service.export_documents(catalogue.database, as_xlsx=False)
    with pytest.raises(InputError, match="before the first day"):
        sales.read_sales(catalogue, SalesBy.WAY, TODAY, TODAY - timedelta(1))


def test_what_a_friends_card_brings_is_the_friends_and_stands_in_their_account(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    store = catalogue.database
    (theirs, other) = take_in(store, [CardInput("a card of Bram’s"), CardInput("one more")], TODAY, owner="Bram")
    said = SaleInput(TODAY, {cards[0]: D(10), theirs: D(30)}, shipping=D(2), fees=D(4))
    document = orders.sell(store, said)
    view = sales.read_sales(catalogue, SalesBy.WAY, None, None)
    assert sorted((it.name, it.brought, it.profit) for it in view.things) == [
        ("a card of Bram’s", D(0), D(-3)), ("card 0", D(12), D(6)),
    ]  # fmt: skip
    assert view.total.profit == viewing.read_order(catalogue, document).result.profit == D(3)
    found = friends.read_statement(catalogue, "Bram", None, None)
    assert found.verdict.text().startswith("You owe Bram 30.00.") and "1 thing of theirs is" in found.verdict.text()
    assert [(it.item, it.state, it.brought) for it in found.things] == [(other, "held", None), (theirs, "sold", D(30))]
    cash = ChargeInput("other", D(25), "EUR", TODAY, "bank")
    settle_with(store, "Bram", cash, comes_in=False)
    found = friends.read_statement(catalogue, "Bram", TODAY, TODAY)
    assert [(it.change, it.open) for it in found.lines] == [(D(-30), D(-30)), (D(25), D(-5))]
    later = friends.read_statement(catalogue, "Bram", TODAY + timedelta(1), TODAY + timedelta(9))
    assert (later.before, later.lines, later.open) == (D(-5), (), D(-5))
    assert friends.write_table(found, as_xlsx=False).decode().splitlines()[1:] == [
        f"{TODAY},sale: a card of Bram’s,,30.00,-30.00", f"{TODAY},settled with Bram,25.00,,-5.00",
    ]  # fmt: skip
    assert friends.write_table(found, as_xlsx=True)[:2] == b"PK" and friends.write_statement(found)[:4] == b"%PDF"
    with pytest.raises(InputError, match="before the first day"):
        friends.read_statement(catalogue, "Bram", TODAY, TODAY - timedelta(1))
    with pytest.raises(NotFound):
        friends.read_statement(catalogue, "Nobody", None, None)


def test_a_purse_is_counted_and_a_claim_is_filed_paid_and_learnt_from(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    number = orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(45)}, "Tove Maribel", purse="cash",
                                                       address="Tove"))  # fmt: skip
    assert sales.count(catalogue, "cash", D("44.50")) == D("-0.50")
    assert sales.count(catalogue, "cash", D("44.50")) == 0 and books(catalogue)[Account.LOST] == D("0.50")
    with pytest.raises(InputError, match="no such purse"):
        sales.count(catalogue, "sock", D(1))
    with pytest.raises(Conflict, match="was not posted"):
        claims.read_claim(catalogue, number)
    packing.pack(catalogue, number, viewing.read_order(catalogue, number).version)
    packing.post(catalogue, number, viewing.read_order(catalogue, number).version, PostedInput(TODAY, "GP 77"))
    view = claims.read_claim(catalogue, number)
    with pytest.raises(Conflict, match="who sends it"):
        papers.write_customs_form(catalogue, number)
    habits.save_habits(catalogue.database, habits.PackingHabits(D(40), ("Ines Quillfeather", "Ottergate")))
    assert papers.write_customs_form(catalogue, number).startswith(b"%PDF")
    assert view.most == D(45) and any("slip" in it for it in view.papers)
    with pytest.raises(InputError, match="at most 45.00"):
        claims.file_claim(catalogue, number, 0, D(60), "lost")
    claims.file_claim(catalogue, number, 0, D(45), "it never came")
    with pytest.raises(Conflict, match="changed meanwhile"):
        claims.file_claim(catalogue, number, 0, D(45), "it never came")
    claims.settle_claim(catalogue, number, 1, D(45), "bank")
    with pytest.raises(Conflict, match="paid already"):
        claims.settle_claim(catalogue, number, 2, D(45), "bank")
    assert viewing.read_order(catalogue, number).result.brought == D(90)
    packing.arrive(catalogue, number, TODAY)
    (record,) = claims.class_records(catalogue)
    assert (record.parcels, record.claims, record.late) == (1, 1, 0) and record.low > 0
    with catalogue.database.transaction() as session:
        records = parcels_by_class(session)
    assert claims.learnt_loss(records, record.name, D("0.012")) == D("0.016915")  # (2.4 + 1) / 201
    assert claims.learnt_loss(records, "none of it", D("0.012")) == D("0.012")
    books(catalogue)


def test_a_price_list_is_made_for_the_table_and_one_for_its_owner(catalogue: Catalogue) -> None:
    _, cards = begin_grading(catalogue)
    table, own = (papers.write_price_list(catalogue, cards, for_owner) for for_owner in (False, True))
    assert table.startswith(b"%PDF") and own.startswith(b"%PDF") and len(own) > len(table)
    with pytest.raises(NotFound):
        papers.write_price_list(catalogue, [999_999], for_owner=False)
