"""Many cards beside one another: what makes half of a set, what each grade gains, and what stays unknown."""

from datetime import date
from decimal import Decimal as D

import pytest

from tobbix.core.pricing.side_by_side import Beside, Known, how_many_make, put_beside, state_side_by_side
from tobbix.core.pricing.trading import Traded, even_out
from tobbix.core.products.finding import FoundCard

DAY = date(2026, 11, 20)


def beside(at: int, value: str | None, cost: str | None = None, **graded: str) -> Beside:
    card = FoundCard("sky", "Skerrylight 2025", "fog", "Fog", f"FS{at}", "", f"Card {at}", at, None)
    known = {grade[1:].replace("_", "."): Known(D(worth), DAY) for grade, worth in graded.items()}
    raw = None if value is None else Known(D(value), DAY)
    return put_beside(card, 1, raw, known, None if cost is None else D(cost))


def said(rows: list[Beside], grader: str | None = None) -> str:
    found = state_side_by_side(rows, "Skerrylight 2025", "NM", "EUR", grader)
    return "".join(part.text for part in (*found.sentence, *found.rests_on))


@pytest.mark.parametrize(
    ("values", "count"), [(["1"] * 10, 5), (["100", *["1"] * 50], 1), (["0", "0"], 1), (["4", "3", "2", "1"], 2)]
)
def test_how_many_of_the_dearest_make_half(values: list[str], count: int) -> None:
    assert how_many_make([D(value) for value in values], D("0.5")) == count


def test_a_grade_gains_only_above_the_raw_card_and_what_grading_costs() -> None:
    row = beside(1, "30", "25", g8="20", g9="60", g9_5="54", g10="150")
    assert {grade: str(gain) for grade, gain in row.gains.items()} == {"8": "-35", "9": "5", "9.5": "-1", "10": "95"}
    assert row.least == "10"  # a 9.5 loses, so a 9 is not where it begins to gain
    assert beside(2, None, "25", g10="150").gains == {} and beside(2, "30", None, g10="150").least is None


def test_a_set_is_said_with_what_is_not_known_of_it() -> None:
    rows = [beside(1, "200"), *(beside(at, "2") for at in range(2, 22)), beside(30, None)]
    words = said(rows)
    assert "240.00 EUR for one of each that is known; the dearest card holds half of it; it is top-heavy" in words
    assert "Of 1 of 22 cards no value is known: they count for nothing here." in words
    assert said([beside(1, None)]).startswith("Of no card of Skerrylight 2025 a value in NM is known")
    graded = [beside(1, "30", "25", g10="150"), beside(2, "30", "25", g10="40"), beside(3, "30", "25")]
    assert "Graded by Plumbline, 1 of 2 gain at some grade" in said(graded, "Plumbline")


def test_a_trade_is_evened_and_what_is_not_known_is_never_nothing() -> None:
    """By hand: 2 x 10 + 5 less a fifth are 20; against 40 they take 20 more."""
    give, get = [Traded("A", 2, D(10)), Traded("B", 1, D(5))], [Traded("C", 1, D(40))]
    even = even_out(give, get, D("0.2"), "EUR")
    assert (even.given, even.got, even.cash) == (D("20.0"), D(40), D("20.00"))
    assert even.verdict.text().startswith("You pay 20.00 to even it: you give 20.00 and get 40.00 EUR.")
    back = even_out(get, give, D(0), "EUR")
    assert back.cash == D("-15.00") and back.verdict.text().startswith("You are paid 15.00")
    assert even_out(get, get, D(0), "EUR").verdict.text().startswith("It is even")
    open_ = even_out(give, [*get, Traded("D in NM", 1, None)], D(0), "EUR")
    assert open_.cash is None and "what D in NM is worth is not known" in open_.verdict.text()
