"""Money, sentences and overviews: exact, honest, and in plain words."""

from dataclasses import replace
from datetime import date
from decimal import Decimal
from decimal import Decimal as D

import pytest

from tests.sheets import example_1, line, sheet
from tobbix.core.base.money import Money
from tobbix.core.buying.purchase import Purchase
from tobbix.core.buying.summary import Planned, state_planned, state_purchase
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.sentences import ItemSums, state_item, state_stock
from tobbix.core.holdings.states import DocumentState, Kind, State
from tobbix.core.opening.session import state_finished
from tobbix.core.planning.rip_hold_buy import Choice, Threshold
from tobbix.core.products.answer import answer_at, draw_histogram, work_out
from tobbix.core.products.box_value import find_box_value
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.overview import FormatAnswer, list_waiting, state_release, state_shelf
from tobbix.core.products.prospect import foresee, state_prospect
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
    assert "may lose in every box" in _answer(unknown, 60) and "lower bound" in _answer(unknown, 60)
    assert "It rests on a guess: Post left out." in _answer(unknown, 60)
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
    waiting = [item for made, answers in releases for item in list_waiting(made, answers, date(2026, 11, 24))]
    assert {item.chore.value for item in waiting} == {"box_price", "unknown", "card_prices", "stale"}
    assert "no release here yet" in state_shelf([]).text()


def _harbour() -> FormatAnswer:
    """One Harbour box of the demo at today's price, gross."""
    made = demo_sheets()[0]
    fmt = made.formats[0]
    worked = work_out(lambda holding, low: find_box_value(made, fmt.id, holding, low), ONE_BOX)
    assert fmt.price is not None
    return FormatAnswer(fmt, worked, answer_at(worked, float(fmt.price), PayingRule(), BuyingCosts()), None)


def test_stock_purchases_and_sessions_say_where_they_stand() -> None:
    card = Item(1, 1, Kind.CARD, "Nils Cragg, Keeper’s Hand", 1, State.HELD, D("70.20"))
    assert state_item(card, "EUR").text().strip() == "Nils Cragg, Keeper’s Hand: it cost 70.20, worth not known."
    assert "it cost 70.20, worth about 58.00." in state_item(replace(card, value=D(58)), "EUR").text()
    gone = replace(card, basis=None, state=State.GIVEN_AWAY)
    assert "nobody remembers what it cost; it is given away." in state_item(gone, "EUR").text()
    assert "belongs to somebody else" in state_item(replace(card, basis=None, owner=7), "EUR").text()
    sums = ItemSums(3, 1204, D("1430.5"), 12, D("2100"), 4)
    assert state_stock(sums, "EUR").text() == (
        "1,204 cards and things; they cost 1,430.50, and of 12 nobody knows. "
        "Worth about 2,100.00 at market prices, before fees; of 4 not known."
    )
    unsaid = ItemSums(1, 2, D(0), 1, D(0), 1)
    assert state_stock(unsaid, "EUR").text() == (
        "2 cards and things; nobody remembers what they cost. What they are worth is not known."
    )
    assert state_stock(ItemSums(1, 1, D(5), 0, D(0), 0), "JPY").text().startswith("1 thing; it cost 5.")
    bought = Purchase(1, 1, 1, "two boxes", None, date(2026, 11, 3), DocumentState.ORDERED, Method.VALUE, D(0), None,
                      (), (), None, ())  # fmt: skip
    assert state_purchase(bought, "EUR").text().strip() == "Two boxes is on its way; it cost 0.00 landed."
    paid = foresee(D("96.00"), _harbour())
    assert paid.loss is not None and paid.loss > 0.8 and paid.sealed == 96
    assert (
        state_purchase(bought, "EUR", paid)
        .text()
        .startswith(
            "Two boxes is on its way; it cost 0.00 landed, 96.00 a box. Opened it holds at least 78.49 and may "
        )
    )
    assert (
        "up to 8 boxes out of 10. Sealed it sells at 96.00 today, before fees. The most to pay"
        in state_purchase(bought, "EUR", paid).text()
    )
    unknown = foresee(None, replace(_harbour(), worked=None, answer=None))
    assert (unknown.mean, unknown.loss, unknown.most) == (None, None, None)
    assert state_prospect(unknown, "EUR").text().startswith("Nobody remembers what it cost; opened it holds what ")
    plan = Planned("Harbour box", 2, 1, D("182.90"), foresee(D("91.45"), _harbour()), "November", D("482.60"), None)
    assert state_planned(plan, "EUR").text().startswith("2 × Harbour box, 182.90 landed: 91.45 each. Opened it ")
    assert "of your" not in state_planned(plan, "EUR").text()  # no limit, no word of it
    assert state_purchase(replace(bought, state=DocumentState.UNDONE), "EUR").text().endswith("was taken back. ")
    assert state_finished(D("96.00"), 74.5, "EUR").text().strip() == "It cost 96.00 and held 74.50: −21.50."
    assert state_finished(None, 74.5, "EUR").text().startswith("It held 74.50; what it cost, nobody remembers.")


def test_what_would_have_to_be_true_is_said_in_the_core() -> None:
    def words(choice: Choice, what: str, value: float | None) -> str:
        return Threshold(choice, what, value).words("EUR")

    assert words(Choice.HOLD, "growth", 0.123) == "if it grows by 12 % a year"
    assert words(Choice.OPEN, "market_factor", 1.3) == "if cards are at 130 % of today’s"
    assert words(Choice.OPEN, "landed_price", 41.2) == "if it costs under 41.20"
    assert words(Choice.SINGLES, "landed_price", 41.2) == "if it costs over 41.20"
    assert words(Choice.SELL_SEALED, "sealed_value", 1200) == "if it sells sealed at 1,200.00"
    assert words(Choice.HOLD, "growth", None) == "never, by that alone"
