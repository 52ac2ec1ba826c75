"""Rules C-03 and C-04 against plain enumeration: by enumeration in this test, no outside source."""

from math import ceil, floor
from random import Random

import numpy as np
import pytest

from tests.enumerating import at_least, box_law, random_sheet
from tests.sheets import document, line
from tobbix.core.products.box_value import BoxValue, find_box_value
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import Holding, Unit
from tobbix.core.products.worth import ValueBasis, Worth
from tobbix.demo.releases import demo_sheets
from tobbix.demo.selling import demo_ways

RIGHT = 0.0005  # of a chance, rule C-04


def box_of(made: dict[str, object], boxes: int = 1) -> BoxValue:
    return find_box_value(read_sheet(made).sheet, "box", Holding(Unit.BOXES, boxes))


def test_two_hundred_sheets_with_dear_sparse_cards() -> None:
    compare_sheets(Random(20261126), 200)


def compare_sheets(random: Random, count: int) -> None:
    """So many random sheets against every way that a box of them can fall out."""
    for at in range(count):
        made = random_sheet(random)
        law, value = box_law(made), box_of(made)
        outcomes = value.outcomes
        mean = sum(amount * chance for amount, chance in law.items()) / 100
        assert value.mean == pytest.approx(mean, rel=1e-9), at
        assert outcomes.grid_mean == pytest.approx(mean, rel=1e-7), at
        amounts = sorted(law)
        asked = [amounts[round(share * (len(amounts) - 1))] for share in np.linspace(0, 1, 25)]
        asked += [amount + shift for amount in asked for shift in (-1, 1)]
        found = outcomes.at_least(np.array(asked) / 100)
        assert found == pytest.approx(at_least(law, asked), abs=RIGHT), at
        for share, amount in value.quantiles.items():
            reached, passed = at_least(law, (ceil(amount * 100 - 1e-4), floor(amount * 100 + 1e-4) + 1))
            assert passed <= 1 - share + RIGHT and reached >= 1 - share - RIGHT, at
        curve = outcomes.at_least(np.linspace(0, amounts[-1] / 100 * 1.01, 61))
        assert (np.diff(curve) <= 1e-12).all(), at  # it never rises
        assert outcomes.error < RIGHT, at


def test_one_card_worth_a_cent_or_a_fortune() -> None:
    made = document([line("g", ["0.01", "25000"], "1 per box", "guaranteed")], ["0"], packs_per_box=1, cards_per_pack=1)
    outcomes = box_of(made).outcomes
    assert outcomes.chance_at_least(25_000) == pytest.approx(0.5, abs=1e-12)
    assert outcomes.chance_at_least(25_000.01) == 0
    assert outcomes.chance_at_least(0.01) == 1


def test_what_a_box_never_holds_less_than_is_certain() -> None:
    lines = [
        line("g", ["100.12", "340.55"], "1 per box", "guaranteed"),
        line("d", ["12345.67", "8000"], "1:90 packs"),
    ]
    outcomes = box_of(document(lines, ["0"])).outcomes
    assert outcomes.chance_at_least(100.12) == 1
    assert outcomes.chance_at_least(100.13) == pytest.approx(1 - 0.5 * (1 - 1 / 90) ** 12, abs=1e-9)
    assert outcomes.quantile(0.01) == pytest.approx(100.12, abs=1e-9)


@pytest.mark.parametrize(("price", "odds"), [("1000000", 1_000_000), ("99999999", 999_999_999)])
def test_the_mean_holds_at_any_price(price: str, odds: int) -> None:
    value = box_of(document([line("d", [price], f"1:{odds} packs")], ["0.05"]))
    assert value.mean == pytest.approx(12 * (float(price) - 0.05) / odds + 72 * 0.05, rel=1e-12)
    assert value.outcomes.grid_mean == pytest.approx(value.mean, rel=1e-8)
    assert value.outcomes.chance_at_least(float(price)) == pytest.approx(1 - (1 - 1 / odds) ** 12, rel=1e-6)


def test_values_off_every_grid_stand_where_they_are() -> None:
    """Net values have many decimals; the law is that of the prices, moved: value = 0.87 price - 1.2."""
    law = {0: 1.0}
    prices = [3, 7, 11, 240, 5800]
    lines = [line("a", [f"{0.87 * p - 1.2 + 1e-5:.6f}" for p in prices], "1:2 packs")]
    made = document(lines, ["0"], packs_per_box=6, cards_per_pack=2)
    for _ in range(6):
        fresh: dict[int, float] = {}
        for amount, chance in law.items():
            for step, share in [(0, 0.5), *((round((0.87 * p - 1.2 + 1e-5) * 1e6), 0.1) for p in prices)]:
                fresh[amount + step] = fresh.get(amount + step, 0.0) + chance * share
        law = fresh
    outcomes = box_of(made).outcomes
    asked = sorted(law)[::7]
    expected = [sum(p for amount, p in law.items() if amount >= at) for at in asked]
    assert outcomes.at_least(np.array(asked) / 1e6) == pytest.approx(expected, abs=RIGHT)


@pytest.mark.parametrize("fmt", ["tin", "market"])
def test_a_small_box_net_of_fees_against_a_grid_five_times_as_fine(fmt: str) -> None:
    """What is left after fees lies on no lattice: few heavy amounts, some a hair beside a whole cent."""
    worth = Worth(ValueBasis.FLOOR, demo_ways()[0], 0.5, 0.02)
    value = find_box_value(demo_sheets()[0], fmt, worth=worth).outcomes
    fine = find_box_value(demo_sheets()[0], fmt, worth=worth, step=value.step / 5).outcomes
    asked = np.round(np.linspace(0, value.mean * 3, 1500), 2)
    assert not value.whole and fine.step < value.step
    assert value.at_least(asked) == pytest.approx(fine.at_least(asked), abs=RIGHT)


def test_many_dear_boxes_are_said_within_their_error() -> None:
    """Forty boxes of dear cards: another grid, a third finer than the chosen one, says the same."""
    prices = [f"{37 * k % 977 + 0.13 * k:.2f}" for k in range(1, 41)]
    made = document([line("a", prices, "1:2 packs"), line("d", ["31234.56"], "1:300 packs")], ["0.07"])
    sheet = read_sheet(made).sheet
    holding = Holding(Unit.BOXES, 40)
    chosen = find_box_value(sheet, "box", holding).outcomes
    other = find_box_value(sheet, "box", holding, step=chosen.step / 3).outcomes
    asked = np.quantile([chosen.least, chosen.greatest], np.linspace(0.01, 0.4, 40))
    assert chosen.at_least(asked) == pytest.approx(other.at_least(asked), abs=chosen.error + other.error)
    assert 0 < chosen.error < RIGHT
    assert chosen.grid_mean == pytest.approx(chosen.mean, rel=1e-7)
