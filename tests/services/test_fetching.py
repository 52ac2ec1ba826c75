"""Prices fetched from sources on the real store: at their pace, through their faults, nothing twice, taken back."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.tasks import Task
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.fetching import Scope
from tobbix.core.pricing.results import Ended, Result
from tobbix.formats.item_lists import parse_items
from tobbix.gateways.ports import Busy, NoAnswer, PriceList, PricePage, PriceSource
from tobbix.gateways.standins.markets import SimulatedAuctions, SimulatedMarket
from tobbix.services.pricing import adding, fetching, pasting, seeing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing
from tobbix.services.stock.items import ItemFilter
from tobbix.services.tasks.carrying import carry_out_task, stop_task

CARD = ("test", "c", "C8", "")


class Clock:
    """Seconds that pass only when somebody waits."""

    def __init__(self) -> None:
        self.now, self.waits = 0.0, 0

    def __call__(self) -> float:
        return self.now

    def wait(self, seconds: float) -> None:
        self.now += seconds
        self.waits += 1


class Scripted:
    """Answers what it is told to, one after another, and remembers what it was asked."""

    name = "Bellbuoy"
    lists: tuple[PriceList, ...] = (PriceList.SOLD,)

    def __init__(self, *answers: PricePage | Exception) -> None:
        self.answers, self.asked = list(answers), list[tuple[str, int]]()

    def ask(self, which: PriceList, words: str, without: Sequence[str], page: int, today: date) -> PricePage:
        self.asked.append((words, page))
        answer = self.answers.pop(0) if len(self.answers) > 1 else self.answers[0]
        if isinstance(answer, Exception):
            raise answer
        return answer


def sold(title: str, own_id: str, price: int, ago: int, ended: Ended = Ended.SOLD) -> Result:
    kind = CompKind.SOLD if ended is Ended.SOLD else None
    return Result(
        1, title, Decimal(price), "EUR", Decimal(2), TODAY - timedelta(ago), None, ended, kind=kind, market="Bellbuoy",
        own_id=own_id,
    )  # fmt: skip


def fetch(catalogue: Catalogue, *sources: PriceSource, clock: Clock | None = None) -> fetching.FetchView:
    task = fetching.ask_fetch(catalogue, sources, Scope.CARD, CARD)
    # each test is one transaction, so that whoever asks again in its minute would get the same task
    return carried_out(catalogue, task, sources, clock or Clock())


def carried_out(catalogue: Catalogue, task: Task, sources: Sequence[PriceSource], clock: Clock) -> fetching.FetchView:
    carry_out_task(catalogue.database, task.number, fetching.fetch_runs(catalogue, sources, clock.wait))
    return fetching.read_fetch(catalogue, task.number)


def test_what_is_clear_is_kept_once_the_rest_is_asked_about_and_faults_are_tried_again(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    first = PricePage((sold("Subject C8 C line C8 Test 2025", "a", 150, 3), sold("Nobody known", "b", 9, 3)), True)
    again = PricePage(
        (
            sold("Subject C8 C line C8 Test 2025", "c", 150, 3),  # the same day and price, and yet another sale
            sold("Subject C8 C line C8 Test 2025 lot of 2", "d", 280, 5),
            sold("Subject C7 C line C7 Test 2025", "e", 40, 5),
            sold("Subject C8 C line C8 Test 2025", "f", 90, -2, Ended.RUNNING),
        ),
        False,
    )
    source, clock = Scripted(NoAnswer("late"), Busy(3.0), first, Busy(90.0), again), Clock()
    with pytest.raises(InputError, match="no market is connected"):
        fetching.ask_fetch(catalogue, (), Scope.HELD, None)
    with pytest.raises(InputError, match="no card in it"):
        fetching.ask_fetch(catalogue, (source,), Scope.HELD, None)
    with pytest.raises(NotFound):
        fetching.ask_fetch(catalogue, (source,), Scope.CARD, ("test", "c", "C99", ""))
    held = parse_items(b"name,release,line,number,place\nBest,test,c,C8,box 1\nOther,test,c,C7,box 2\n")
    bringing.import_items(catalogue.database, held, TODAY)
    of_filter = fetching.ask_fetch(catalogue, (source,), Scope.FILTER, None, ItemFilter(place="box 1"))
    of_all = fetching.ask_fetch(catalogue, (source,), Scope.HELD, None, ItemFilter(place="box 1"))
    assert (of_filter.total, of_all.total) == (1, 2)
    seen = fetch(catalogue, source, clock=clock)
    assert seen.verdict.text() == ("3 new prices of 1 of 1 card, 1 to be looked at. 1 is no price, 1 lot closes soon.")
    assert source.asked == [("Subject C8 Test 2025 C C8", page) for page in (1, 1, 1, 2, 2)]
    assert clock.now == 0.5 + 3.0 + 60.0  # a source that asks for more than a minute is asked after a minute
    assert [lot.title for _, lot in seen.lots] == ["Subject C8 C line C8 Test 2025"]
    assert seeing.read_price(catalogue, *CARD, "NM", 90).found.used == 2  # both sales of one day, neither the lot
    assert seeing.read_price(catalogue, "test", "c", "C7", "", "NM", 90).found.last == 42  # clearly of another card
    assert seen.doubtful is not None
    (lot,) = seen.doubtful.proposed
    assert lot.doubt == "a lot of 2" and lot.comp is not None and lot.version is not None
    assert (lot.comp.outside, lot.comp.outside_id) == ("Bellbuoy", "d")
    pasting.keep_page(catalogue, None, [(lot.version, lot.comp)])
    kept = fetching.read_fetch(catalogue, seen.task.number)
    assert kept.doubtful is not None and kept.doubtful.proposed[0].known
    # asked once more, by another worker: nothing is doubled; taken back, it is gone, and fetched it is there again
    assert carry_again(catalogue, seen.task, Scripted(again)).kept == 3
    adding.take_back_batch(catalogue, seen.batch)
    gone = fetching.read_fetch(catalogue, seen.task.number)
    assert gone.kept == 0 and "taken back" in gone.verdict.text()
    assert seeing.read_price(catalogue, *CARD, "NM", 90).seen[0].comp.lot == 2


def carry_again(catalogue: Catalogue, task: Task, source: PriceSource) -> fetching.FetchView:
    runs = fetching.fetch_runs(catalogue, (source,), Clock().wait)
    runs[task.kind](replace(task), lambda done: None)
    return fetching.read_fetch(catalogue, task.number)


def test_a_source_that_never_answers_is_named_and_what_came_in_before_a_stop_stays(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    busy, silent = Scripted(Busy(1.0)), Scripted(NoAnswer("it did not answer in time"))
    silent.name = "Gavelrock"
    seen = fetch(catalogue, busy, silent)
    assert [(it.source, it.why) for it in seen.missed] == [
        ("Bellbuoy", "it asks to wait again and again"), ("Gavelrock", "it did not answer in time"),
    ]  # fmt: skip
    assert len(silent.asked) == 4
    assert "2 questions got no answer" in seen.verdict.text()
    source = Scripted(PricePage((sold("Subject C8 C line C8 Test 2025", "a", 150, 3),), False))
    task = fetching.ask_fetch(catalogue, (source,), Scope.RELEASE, ("test", "", "", ""))

    def stopping(seconds: float) -> None:
        stop_task(catalogue.database, task.number)

    source.answers.insert(0, Busy(1.0))
    carry_out_task(catalogue.database, task.number, fetching.fetch_runs(catalogue, (source,), stopping))
    stopped = fetching.read_fetch(catalogue, task.number)
    assert (stopped.task.state, stopped.kept) == ("cancelled", 1)
    assert stopped.verdict.text().startswith("1 new price of Test until it ended.")


def test_the_simulated_sources_say_the_same_of_the_same_day_and_let_themselves_be_asked_only_so_often() -> None:
    goods = [(("Subject C8", "Test", "2025", "C line", "C8"), 100.0), (("Other", "Test", "2025", "C9"), None)]
    clock = Clock()
    market, house = SimulatedMarket("M", lambda: goods, clock), SimulatedAuctions("H", lambda: goods, clock)

    def every(source: PriceSource, which: PriceList, words: str, on: date = TODAY) -> list[Result]:
        found: list[Result] = []
        page = 1
        while True:
            try:
                answer = source.ask(which, words, ("proxy",), page, on)
            except Busy as busy:
                clock.wait(busy.seconds)
            except NoAnswer:
                faults.append(source.name)
            else:
                found += answer.results
                page += 1
                if not answer.more:
                    return found

    faults: list[str] = []
    first = every(market, PriceList.SOLD, "C8 test")
    assert first and first == every(market, PriceList.SOLD, "test C8")
    assert all("C8" in it.title and it.day is not None and it.day < TODAY for it in first)
    assert len({it.own_id for it in first}) == len(first)
    # a day later the same sales are there, with what was sold on that day
    assert [it for it in every(market, PriceList.SOLD, "C8 test", TODAY + timedelta(1)) if it in first] == [
        it for it in first if it.day and it.day >= TODAY - timedelta(119)
    ]
    assert every(market, PriceList.SOLD, "nobody") == [] == every(market, PriceList.ASKS, "C8 proxy")
    assert {it.currency for it in every(house, PriceList.RESULTS, "test")} == {"GBP"}
    assert all(it.day and it.day > TODAY for it in every(house, PriceList.CLOSING, "test"))
    for _ in range(100):
        every(market, PriceList.ASKS, "test")
    assert clock.waits > 20 and len(faults) > 2
