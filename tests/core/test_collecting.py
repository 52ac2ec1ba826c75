"""Rule C-09: how long a set takes. Outside: Stadje's formula, the classic collector's values, inclusion-exclusion."""

from fractions import Fraction
from itertools import combinations
from math import comb

import numpy as np
import pytest
from scipy import stats

from tests.sheets import document, line
from tobbix.core.base.errors import InputError
from tobbix.core.maths.collecting import (
    collect_by_draws,
    collect_by_packs,
    collect_by_subsets,
    draws_to_complete,
    simulate_draws,
    simulate_packs,
)
from tobbix.core.products.completing import SetAim, SetAnswer, Way, complete_set, simulate_set
from tobbix.core.products.most_to_pay import BuyingCosts
from tobbix.core.products.planning_sentences import state_set
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import value_format


def stadje(cards: int, group: int) -> float:
    """Stadje 1990, theorem 1 for the whole set: the sum of (-1)^(j+1) C(n,j) / (1 - C(n-j,m) / C(n,m)), exactly."""
    terms = (
        Fraction((-1) ** (j + 1) * comb(cards, j)) / (1 - Fraction(comb(cards - j, group), comb(cards, group)))
        for j in range(1, cards + 1)
    )
    return float(sum(terms))


ONE = np.array([0.0, 1.0])


def test_the_examples_and_stadje_s_formula() -> None:
    assert collect_by_packs([10], [1.0], ONE, True).mean == pytest.approx(29.2897, abs=5e-5)
    assert collect_by_packs([120], [1.0], np.eye(8)[7], True).mean == pytest.approx(90.139, abs=5e-4)
    for cards, group in ((120, 7), (24, 5), (6, 6), (15, 2)):
        found = collect_by_packs([cards], [1.0], np.eye(group + 1)[group], True)
        assert found.mean == pytest.approx(stadje(cards, group), abs=1e-6)


def test_the_classic_value_for_all_birthdays() -> None:
    """365 equal coupons: 2364.65 draws on average (Feller, *An Introduction to Probability Theory*, vol. I, IX.3)."""
    chances = draws_to_complete([365], [1.0])
    assert chances @ np.arange(chances.size) == pytest.approx(2364.65, abs=5e-3)


def test_unequal_weights_by_inclusion_and_exclusion() -> None:
    """Oracle: the mean is the sum over subsets of (-1)^(s+1) / p(subset), in exact fractions."""
    weights = [Fraction(2, 7)] * 3 + [Fraction(1, 14)] * 2
    exact = float(
        sum((-1) ** (size + 1) / sum(subset) for size in range(1, 6) for subset in combinations(weights, size))
    )
    chances = draws_to_complete([3, 2], [4.0, 1.0])
    assert chances @ np.arange(chances.size) == pytest.approx(exact, abs=1e-5)
    shares = np.array([2 / 7, 1 / 14])
    assert collect_by_draws(chances, shares, ONE).mean == pytest.approx(exact, abs=1e-5)
    assert collect_by_draws(chances, shares, np.array([0.75, 0.25])).mean == pytest.approx(4 * exact, abs=1e-4)
    misses = [float(weight) for weight in weights]
    assert collect_by_subsets(5, lambda s: 1 - sum(misses[i] for i in s)).mean == pytest.approx(exact)
    runs = simulate_draws(np.array(misses), 40_000, np.random.default_rng(5))
    assert abs(runs.mean() - exact) < 4 * runs.std() / 200


def test_short_prints_are_in_a_pack_in_proportion_to_their_weight() -> None:
    """The rule's figure, where one after another would take 8.65 packs; and inclusion itself, by simulation."""
    six, weights = np.eye(7)[6], np.r_[np.ones(10), np.full(2, 0.25)]
    found = collect_by_packs([10, 2], [1.0, 0.25], six, True)
    assert found.mean == pytest.approx(10.68, abs=5e-3)
    assert found.found[:, 1] == pytest.approx([6 / 10.5, 1.5 / 10.5], abs=1e-9)
    simulated = simulate_packs(weights, six, 20_000, np.random.default_rng(4))
    assert abs(simulated.mean - found.mean) < 4 * (simulated.error or 0)
    assert simulated.found[:, 1] == pytest.approx(np.r_[np.full(10, 6 / 10.5), np.full(2, 1.5 / 10.5)], abs=0.015)
    with pytest.raises(ValueError, match="so unequal"):
        collect_by_packs([10, 2], [0.05, 1.0], six, True)


def test_packs_of_several_draws_agree_by_every_way() -> None:
    draws = np.array([0.0, 0.2, 0.3, 0.5])
    loose = collect_by_packs([6, 3], [1.0, 0.5], draws, distinct=False)
    by_draws = collect_by_draws(draws_to_complete([6, 3], [1.0, 0.5]), np.array([1, 0.5]) / 7.5, draws)
    assert loose.mean == pytest.approx(by_draws.mean, abs=1e-4)
    at = int(by_draws.packs[40])
    assert by_draws.complete[40] == pytest.approx(loose.complete[at], abs=1e-6)
    assert by_draws.found[:, 40] == pytest.approx(loose.found[:, at], abs=1e-6)
    distinct = collect_by_packs([6, 3], [1.0, 0.5], draws, distinct=True)
    simulated = simulate_packs(np.array([1.0] * 6 + [0.5] * 3), draws, 20_000, np.random.default_rng(9))
    assert distinct.mean < loose.mean
    assert abs(simulated.mean - distinct.mean) < 4 * (simulated.error or 0)
    assert simulated.found[7, 5] == pytest.approx(distinct.found[1, 5], abs=0.02)


def answer(made: object, aim: SetAim, price: float | None = 60, repeats: bool = False) -> SetAnswer:
    return complete_set(value_format(read_sheet(made).sheet, "box"), aim, price, repeats)


def test_a_set_begins_with_what_is_held() -> None:
    """The partial sums of the collector's problem (n times the harmonic number of what is lacking: textbook)."""
    one = np.eye(2)[1]
    wanted = 10 * sum(1 / left for left in range(1, 6))
    assert collect_by_packs([10], [1.0], one, True, [5]).mean == pytest.approx(wanted, abs=1e-9)
    mask = np.arange(10) < 5
    runs = simulate_draws(np.ones(10), 40_000, np.random.default_rng(1), held=mask)
    assert abs(runs.mean() - wanted) < 4 * runs.std() / 200
    three, weights = np.eye(4)[3], np.r_[np.ones(8), np.full(4, 0.25)]
    exact = collect_by_packs([8, 4], [1.0, 0.25], three, True, [3, 1])
    mask = np.r_[np.arange(8) < 3, np.arange(4) < 1]
    simulated = simulate_packs(weights, three, 6_000, np.random.default_rng(3), held=mask)
    assert abs(simulated.mean - exact.mean) < 4 * (simulated.error or 0)
    assert exact.complete[30] == pytest.approx(simulated.complete[30], abs=0.03)
    assert exact.found[:, 3] == pytest.approx([simulated.found[5, 3], simulated.found[10, 3]], abs=0.025)

    made = document([line("a", ["30"] * 5 + ["40"], "1:2 packs", weights=["1"] * 5 + ["0.5"])], ["0.10"] * 100)
    found = answer(made, SetAim("a", held=frozenset({"A1", "A2", "A6"})))
    assert found.pieces.name == "all 6 of A, of which you hold 3," and found.buy_all == 90  # the dear one is there
    assert found.curve[0].found == 3 and found.curve[0].complete == 0 and found.mean < answer(made, SetAim("a")).mean
    assert found.curve[5].spares > answer(made, SetAim("a")).curve[5].spares
    with pytest.raises(InputError, match="nothing of A is lacking"):
        answer(made, SetAim("a", held=frozenset(f"A{at}" for at in range(1, 7))))


def test_a_set_on_a_sheet_tells_where_to_stop() -> None:
    made = document([line("a", ["30"] * 5 + ["40"], "1:2 packs", weights=["1"] * 5 + ["0.5"])], ["0.10"] * 100)
    # a spare brings 30 or 40, one that lacks costs 4 more: packs that cost more than they hold are worth it for a while
    found = complete_set(value_format(read_sheet(made).sheet, "box"), SetAim("a"), 200, singly=BuyingCosts(shipping=4))
    draws = draws_to_complete([5, 1], [1.0, 0.5])
    assert found.mean == pytest.approx(2 * (draws @ np.arange(draws.size)), abs=1e-4)
    assert (found.unit, found.way, found.short, found.buy_all) == ("pack", Way.EXACT, 1, 190 + 6 * 4)
    assert found.stop is not None and found.stop.packs > 0
    costs = [point.cost for point in found.curve if point.cost is not None]
    assert found.stop.cost <= min(costs) + 1e-9 and costs[0] == pytest.approx(214)
    assert "Stop after" in state_set(found, "EUR").text()
    dear = answer(made, SetAim("a"), 5_000)
    assert (
        dear.stop is not None
        and dear.stop.packs == 0
        and "card by card instead: 190.00" in state_set(dear, "EUR").text()
    )
    assert answer(made, SetAim("a"), None).stop is None
    # to the pack: no other count is cheaper, by the closed form of what is found; and what buying one costs is in it
    missed = (1 - 0.5 * np.r_[np.full(5, 2 / 11), 1 / 11]) ** np.arange(200)[:, None]
    buy, each = np.r_[np.full(5, 30.0), 40.0], 0.5 * np.r_[np.full(5, 2 / 11), 1 / 11]
    one = 200 / 12 - 5.5 * 0.10  # a pack of six, half of them with a hit
    cost = np.arange(200) * one + missed @ (buy + 4) - (each * np.arange(200)[:, None] - (1 - missed)) @ buy
    assert (found.stop.packs, found.stop.cost) == (int(cost.argmin()), pytest.approx(cost.min()))
    chance = np.cumsum(draws)
    for less, reached in ((0, True), (1, False)):
        hits = stats.binom(int(found.nine_tenths or 0) - less, 0.5).pmf(np.arange(chance.size))
        assert bool(hits @ chance >= 0.9) is reached
    rich = answer(made, SetAim("a"), 30)
    assert rich.stop is None and rich.pays and "Each one pays for itself" in state_set(rich, "EUR").text()


def test_guaranteed_lines_are_counted_in_boxes_and_a_base_without_repeats_by_stadje() -> None:
    made = document([line("g", ["1"] * 10, "1 per box", "guaranteed")], ["0.05"] * 30, cards_per_pack=5)
    boxes = answer(made, SetAim("g"))
    assert boxes.unit == "box" and boxes.mean == pytest.approx(29.2897, abs=5e-5)
    plain = document([], ["0.05"] * 30, cards_per_pack=5)
    assert answer(plain, SetAim("base")).mean == pytest.approx(stadje(30, 5), abs=1e-5)
    assert answer(plain, SetAim("base"), repeats=True).mean > stadje(30, 5)
    told: list[int] = []
    simulated = simulate_set(
        value_format(read_sheet(plain).sheet, "box"), SetAim("base"), 3_000, np.random.default_rng(2), told.append
    )
    assert abs(simulated.mean - stadje(30, 5)) < 4 * (simulated.error or 0) and told[-1] == 3_000


def test_the_rainbow_of_a_card_is_exact_and_says_what_is_not_there() -> None:
    made = document(
        [
            {"id": "red", "name": "Red", "kind": "parallel", "cards_of": "base", "price_multiple": "3",
             "odds": [{"format": "box", "statement": "1:2 packs", "basis": "average"}]},
            {"id": "gold", "name": "Gold", "kind": "parallel", "cards_of": "base", "price_multiple": "9",
             "not_in": ["box"]},
        ],
        ["1"] * 4, cards_per_pack=1, packs_per_box=10,
    )  # fmt: skip
    found = answer(made, SetAim("base", "2"), 5)
    p, q = 1 / 8, 1 / 8  # a pack is the red or the base card 2, one or the other
    assert found.mean == pytest.approx(1 / p + 1 / q - 1 / (p + q))
    assert found.pieces.missing_lines == ("Gold",) and len(found.pieces) == 2
    begun = answer(made, SetAim("base", "2", frozenset({"red"})), 5)
    assert begun.mean == pytest.approx(1 / p) and begun.curve[0].found == 1 and begun.buy_all == 1
    assert "of which you hold 1" in begun.pieces.name
    with pytest.raises(InputError, match="nothing of the rainbow"):
        answer(made, SetAim("base", "2", frozenset({"red", "base"})))
    for aim, field in ((SetAim("gold"), "line"), (SetAim("base", "99"), "number"), (SetAim("red", "2"), "line")):
        with pytest.raises(InputError) as caught:
            answer(made, aim)
        assert caught.value.faults[0].field == field
