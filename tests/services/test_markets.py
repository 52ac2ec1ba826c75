"""Markets that are asked: what they say is taken in once, as work that may be stopped and done again."""

import re
from datetime import date, timedelta
from decimal import Decimal as D

import pytest

from tests.conftest import TODAY
from tests.services.test_grading import books
from tests.services.test_listings import state, version_of, ways
from tests.services.test_selling import begin
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.tasks import TaskState
from tobbix.core.selling.listings import OPEN, Errand, ListingKind, ListingState
from tobbix.core.selling.orders import OrderStage
from tobbix.gateways.ports import ListingSent, MarketNews, NewsKind
from tobbix.gateways.standins.selling import SimulatedMarketplace
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import listings, markets, orders, viewing
from tobbix.services.selling.listings import ListingSaid
from tobbix.services.selling.orders import SaleInput
from tobbix.services.tasks.carrying import carry_out_task, stop_task


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


def test_markets_are_asked_as_work_that_is_stopped_and_done_again_without_doing_it_twice(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    service, asked = SimulatedMarketplace("Bellbuoy", chance=lambda: 1.0), list[int]()
    numbers = listings.draft(catalogue, "bellbuoy", [ListingSaid((card,), D(10)) for card in cards])
    task = markets.ask_errand(catalogue, (service,), Errand.PUT_UP, numbers)
    put_up = service.put_up

    def counted(it: ListingSent, on: date) -> str:
        asked.append(it.number)
        if len(asked) == 2:
            stop_task(catalogue.database, task.number)
        return put_up(it, on)

    service.put_up = counted  # type: ignore[method-assign]
    carry_out_task(catalogue.database, task.number, markets.market_runs(catalogue, (service,)))
    stopped, told = markets.read_errand(catalogue, task.number)
    assert (stopped.state, stopped.done, told) == (TaskState.CANCELLED, 2, [])
    assert [state(catalogue, it) for it in numbers] == [ListingState.LISTED] * 2 + [ListingState.DRAFTED] * 2
    task = markets.ask_errand(catalogue, (service,), Errand.PUT_UP, numbers)
    carry_out_task(catalogue.database, task.number, markets.market_runs(catalogue, (service,)))
    done, told = markets.read_errand(catalogue, task.number)
    assert (done.state, done.done) == (TaskState.DONE, 4) and all(it.well for it in told)
    assert [it.text.partition(": ")[2][:6] for it in told] == ["it is ", "it is ", "listed", "listed"]
    assert asked == numbers  # each once
    for errand, on in ((Errand.NEWS, TODAY + timedelta(400)), (Errand.NEWS, None), (Errand.TAKE_OFF, None)):
        task = markets.ask_errand(catalogue, (service,), errand, on=on)
        carry_out_task(catalogue.database, task.number, markets.market_runs(catalogue, (service,)))
        done, told = markets.read_errand(catalogue, task.number)
        assert done.state is TaskState.DONE and len([it for it in told if it.document]) == (8 if on else 0)
    assert {state(catalogue, it) for it in numbers} == {ListingState.SOLD}
    lots = listings.draft(catalogue, "bellbuoy", [ListingSaid((card,), D(10)) for card in begin(catalogue, 3)])
    markets.send_out(catalogue, (service,), lots)
    said, task_or_none = markets.take_off(catalogue, (service,), lots[0], version_of(catalogue, lots[0]))
    assert said.text == "card 0: ended here" and task_or_none is not None
    assert state(catalogue, lots[0]) is ListingState.ENDED  # whatever its market says to it
    carry_out_task(catalogue.database, task_or_none.number, markets.market_runs(catalogue, (service,)))
    done, told = markets.read_errand(catalogue, task_or_none.number)
    assert (done.total, [it.text for it in told]) == (1, ["card 0: taken off there"])
    said, none = markets.take_off(catalogue, (), lots[1], version_of(catalogue, lots[1]))  # nobody there to be asked
    assert none is None and re.fullmatch("card 1: ended here; take .+ off there by hand", said.text)
    assert [it.number for it in markets.list_still_out(catalogue)] == [lots[1]]
    with pytest.raises(Conflict, match="out at its market still"):
        listings.relist(catalogue, lots[1])  # it would be forgotten there, and sell twice
    listings.relist(catalogue, lots[0])
    said, none = markets.take_off(catalogue, (service,), lots[0], version_of(catalogue, lots[0]))
    assert none is None and said.text == "card 0: ended"  # it was a draft
    with pytest.raises(NotFound):
        markets.ask_errand(catalogue, (service,), Errand.PUT_UP, [numbers[0], 10**9])
    for errand, services in ((Errand.PUT_UP, (service,)), (Errand.NEWS, ())):
        with pytest.raises(InputError):
            markets.ask_errand(catalogue, services, errand)
    books(catalogue)
