"""Money, sentences and overviews: exact, honest, and in plain words."""

from datetime import date
from decimal import Decimal

import pytest

from tests.sheets import example_1, line, sheet
from tobbix.core.base.money import Money
from tobbix.core.products.answer import answer_at, draw_histogram, work_out
from tobbix.core.products.box_value import find_box_value
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.overview import FormatAnswer, list_waiting, state_desk, state_release, state_shelf
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import ONE_BOX, Holding, Unit
from tobbix.core.products.verdict import in_words
from tobbix.demo.releases import demo_sheets


def test_money_is_exact_and_an_estimate_is_rounded_once_half_up() -> None:
    assert Money.of("1.10", "EUR") + Money.of("2.2", "EUR") == Money.of("3.30", "EUR")
    assert str(Money.from_estimate(7.385, "EUR")) == "7.39 EUR"
    assert str(Money.from_estimate(1234.5, "JPY")) == "1235 JPY"
    assert (Money.of("1", "EUR") - Money.of("1.01", "EUR")).amount == Decimal("-0.01")
    for wrong in (lambda: Money.of("1.001", "EUR"), lambda: Money.of("1", "euro")):
        with pytest.raises(ValueError, match="EUR|euro"):
            wrong()
    with pytest.raises(ValueError, match="rate"):
        Money.of("1", "EUR") + Money.of("1", "GBP")


@pytest.mark.parametrize(
    ("chance", "words"),
    [
        (0.0, "no box"),
        (0.0002, "fewer than 1 box out of 1,000"),
        (0.1, "1 box out of 10"),
        (0.76, "76 boxes out of 100"),
        (0.999, "999 boxes out of 1,000"),
        (0.99999, "more than 999 boxes out of 1,000"),
        (1.0, "every box"),
    ],
)
def test_a_chance_in_words_is_never_surer_than_it_is(chance: float, words: str) -> None:
    assert in_words(chance, "box", "boxes") == words


def _answer(made: ProductSheet, price: float | None, rule: PayingRule | None = None) -> str:
    worked = work_out(lambda holding, low: find_box_value(made, made.formats[0].id, holding, low), ONE_BOX)
    return answer_at(worked, price, rule or PayingRule(), BuyingCosts()).verdict.text()


def test_the_sentence_says_loss_and_limit_and_what_they_rest_on() -> None:
    made = read_sheet(example_1()).sheet
    dear = _answer(made, 60)
    assert dear.startswith("At 60.00 you lose in 9 boxes out of 10. Open only under 27.40.")
    assert "Before selling costs" in dear and "A case loses in 97 cases out of 100" in dear
    assert "It stays worth opening up to 27.40, where half of them pay." in _answer(made, 20)
    assert _answer(made, None).startswith("A box holds 27.40 in the middle and 37.45 on average.")
    unknown = sheet([line("post", ["9"], None, "unstated")])
    assert "may lose in up to" in _answer(unknown, 60) and "lower bound" in _answer(unknown, 60)
    assert _answer(sheet([], [None]), 60).startswith("Nothing is known of what a box is worth")


def test_the_histogram_holds_all_chance_and_shows_the_price() -> None:
    outcomes = find_box_value(read_sheet(example_1()).sheet, "box").outcomes
    drawn = draw_histogram(outcomes, 400.0)
    assert drawn.chances.sum() == pytest.approx(1) and drawn.edges[-1] > 400
    assert len(drawn.edges) == len(drawn.chances) and drawn.edges[0] == 0
    lot = find_box_value(read_sheet(example_1()).sheet, "box", Holding(Unit.BOXES, 50)).outcomes
    narrow = draw_histogram(lot, None)
    assert narrow.edges[0] > 1000 and narrow.chances.sum() == pytest.approx(1)
    assert draw_histogram(lot, 10.0).edges[0] == 0  # a price far below is shown too


def test_the_overviews_count_what_is_good_and_list_what_waits() -> None:
    releases = []
    for made in demo_sheets():
        answers = []
        for fmt in made.formats:
            worked = work_out(
                lambda holding, low, made=made, fmt=fmt: find_box_value(  # type: ignore[misc]
                    made, fmt.id, holding, low
                ),
                ONE_BOX,
            )
            price = None if fmt.price is None else float(fmt.price)
            answers.append(FormatAnswer(fmt, worked, answer_at(worked, price, PayingRule(), BuyingCosts()), None))
        releases.append((made, answers))
    assert "no format meets your rule" in state_shelf(releases).text()
    assert "loses least often" in state_release(*releases[0]).text()
    waiting = list_waiting(releases, date(2026, 11, 24))
    assert {item.chore.value for item in waiting} == {"box_price", "unknown", "card_prices", "stale"}
    assert f"{len(waiting)} things to look up" in state_desk(waiting).text()
    assert "no release here yet" in state_shelf([]).text() and "Nothing waits" in state_desk([]).text()
