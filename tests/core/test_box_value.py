"""Rules C-03, C-04 and C-07: the value of a box against its example, other oracles, simulation and properties."""

from collections import Counter
from dataclasses import replace
from decimal import Decimal
from itertools import combinations, product
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.sheets import document, documents, example_1, line, sheet
from tobbix.core.base.errors import InputError
from tobbix.core.products.box_value import BoxValue, find_box_value
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, Standard, most_to_pay
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.simulation import simulate_boxes
from tobbix.core.products.valuation import Holding, Unit, expected_value, value_distribution, value_format
from tobbix.demo.releases import demo_sheets


def boxes(count: int) -> Holding:
    return Holding(Unit.BOXES, count)


def box_of(document: dict[str, Any], holding: Holding | None = None) -> BoxValue:
    return find_box_value(read_sheet(document).sheet, "box", holding or boxes(1))


def test_example_1_to_four_digits() -> None:
    value = box_of(example_1())
    outcomes = value.outcomes
    assert value.mean == pytest.approx(37.4536, abs=5e-5)
    assert outcomes.mean == pytest.approx(value.mean, abs=1e-9)
    assert outcomes.grid_mean == pytest.approx(value.mean, abs=1e-6)
    assert outcomes.deviation == pytest.approx(31.3424, abs=5e-5)
    assert value.quantiles == {0.05: 12.50, 0.25: 19.45, 0.5: 27.40, 0.75: 40.25, 0.95: 131.35}
    assert outcomes.chance_at_least(60) == pytest.approx(0.113724, abs=5e-7)
    assert outcomes.chance_at_least(35) == pytest.approx(0.330766, abs=5e-7)
    assert value.worst_tenth == pytest.approx(12.5754, abs=5e-5)
    assert outcomes.step == 0.05 and outcomes.wrap_around < 1e-9
    assert value.top_heavy.best_one == pytest.approx(0.229, abs=5e-4)
    assert value.top_heavy.best_five == pytest.approx(0.534, abs=5e-4)
    dearest = sorted(value.cards, key=lambda card: -card.price)[:5]
    assert sum(card.value for card in dearest) / value.mean == pytest.approx(0.330, abs=5e-4)


def test_example_1_a_case_of_ten_makes_the_loss_surer() -> None:
    value = box_of(example_1(), boxes(10))
    assert value.mean == pytest.approx(374.536, abs=5e-4)
    assert value.outcomes.quantile(0.5) == 363.10
    assert value.outcomes.chance_at_least(600) == pytest.approx(0.02607, abs=5e-6)


def test_own_sheet_one_line_of_equal_cards_is_a_binomial() -> None:
    """Oracle: scipy.stats.binom. Base cards are worth nothing, a hit 3."""
    value = box_of(document([line("a", ["3", "3"], "1:4 packs")], ["0"], packs_per_box=36))
    binomial = stats.binom(36, 0.25)
    for hits in range(20):
        assert value.outcomes.chance_at_least(3 * hits) == pytest.approx(binomial.sf(hits - 1), abs=1e-9)
    assert value.outcomes.deviation == pytest.approx(3 * binomial.std())


@pytest.mark.parametrize("count", [1, 5, 12, 17])
def test_own_sheet_hits_of_a_case_guarantee_are_hypergeometric(count: int) -> None:
    """Oracle: scipy.stats.hypergeom; 17 boxes are a whole case of 12 and five of another."""
    made = sheet([line("a", ["10"], "5 per case", "guaranteed")], ["0"], boxes_per_case=12)
    outcomes = find_box_value(made, "box", boxes(count)).outcomes
    cases, rest = divmod(count, 12)
    spare = stats.hypergeom(12, 5, rest)
    for hits in range(6):
        sure = 10 * 5 * cases
        assert outcomes.chance_at_least(sure + 10 * hits) == pytest.approx(spare.sf(hits - 1), abs=1e-9)


def test_own_sheet_against_every_way_that_a_small_box_can_fall_out() -> None:
    """Oracle: all outcomes listed one by one: two kinds of packs, a shared slot, two guarantees, bricked packs."""
    usable = 0.7
    made = sheet(
        [
            line("a", ["2"], "1:2 packs"),
            line("b", ["3"], "1:5 packs"),
            line("c", ["5"], "1:4 packs"),
            line("g", ["11"], "2 per box", "guaranteed"),
            {"id": "h", "name": "H", "kind": "relic", "cards": [{"number": "1", "subject": "x", "price": "17"}]},
        ],
        ["1"],
        packs_per_box=None,
        cards_per_pack=None,
        packs=[{"id": "big", "count": 2, "cards": 4}, {"id": "small", "count": 1, "cards": 3}],
        usable=str(usable),
        guarantees=[{"format": "box", "count": 1, "per": "box", "pack": "big", "lines": {"h": "0.25", "g": "0.75"}}],
    )

    # Slots left for average lines: big packs 4 - 1 - 1 = 2: "a" alone, "c" and "b" share; the small one 3 - 1 = 2 too.
    def slots(pack: dict[float, float]) -> Counter[float]:
        total: Counter[float] = Counter()
        for (va, pa), (vs, ps) in product({2: 0.5, 1: 0.5}.items(), {3: 0.2, 5: 0.25, 1: 0.55}.items()):
            for other, p in pack.items():
                total[va + vs + other] += pa * ps * p  # type: ignore[assignment]  # a Counter of chances
        return total

    exact: Counter[float] = Counter()
    for pair in combinations(range(3), 2):
        for big in range(2):
            for good in product([0, 1], repeat=3):
                chance = (1 / 3) * (1 / 2) * float(np.prod([usable if g else 1 - usable for g in good]))
                box: Counter[float] = Counter({0.0: chance})
                for number in (number for number in range(3) if good[number]):
                    others = 1.0 * ((4 if number < 2 else 3) - 2 - (number in pair) - (number == big))
                    others += 11 * (number in pair)
                    kinds = {17.0: 0.25, 11.0: 0.75} if number == big else {0.0: 1.0}
                    pack = slots({others + extra: p for extra, p in kinds.items()})
                    box = Counter({}) if not box else _convolve(box, pack)
                exact.update(box)
    outcomes = find_box_value(made, "box").outcomes
    for amount in sorted(exact):
        below = sum(p for value, p in exact.items() if value < amount)
        assert outcomes.chance_at_least(amount) == pytest.approx(1 - below, abs=1e-9)
    assert sum(v * p for v, p in exact.items()) == pytest.approx(find_box_value(made, "box").mean, abs=1e-9)


def test_a_case_couples_its_boxes_also_where_packs_are_bricked() -> None:
    """Oracle: every way listed: two boxes of two packs of two, two guarantees per case, half of the packs usable."""
    made = sheet(
        [line("a", ["10"], "1 per case", "guaranteed"), line("b", ["100"], "1 per case", "guaranteed")],
        ["1"],
        packs_per_box=2,
        cards_per_pack=2,
        boxes_per_case=2,
        usable="0.5",
    )
    exact: Counter[float] = Counter()
    for a, b, good in product(range(4), range(4), product([0, 1], repeat=4)):  # packs 0, 1 are the first box's
        worth = sum(g * (2 + 9 * (pack == a) + 99 * (pack == b)) for pack, g in enumerate(good))
        exact[worth] += 1 / 4 / 4 / 16  # type: ignore[assignment]
    outcomes = find_box_value(made, "box", boxes(2)).outcomes
    for amount in exact:
        below = sum(p for value, p in exact.items() if value < amount)
        assert outcomes.chance_at_least(amount) == pytest.approx(1 - below, abs=1e-9)
    third = find_box_value(made, "box", boxes(3)).outcomes  # a whole case and one box of another
    assert third.mean == pytest.approx(1.5 * outcomes.mean)


def _convolve(one: Counter[float], other: Counter[float]) -> Counter[float]:
    total: Counter[float] = Counter()
    for (a, p), (b, q) in product(one.items(), other.items()):
        total[a + b] += p * q
    return total


@pytest.mark.parametrize("number", [0, 3])
def test_the_demo_s_boxes_agree_with_a_seeded_simulation(number: int) -> None:
    """Two hundred thousand boxes, within 4.5 standard errors."""
    made = demo_sheets()[number]
    value = find_box_value(made, made.formats[0].id)
    simulated = simulate_boxes(value.valuation, 200_000, np.random.default_rng(7))
    error = simulated.std() / simulated.size**0.5
    assert abs(simulated.mean() - value.mean) < 4.5 * error
    for share in (0.05, 0.25, 0.5, 0.75, 0.95):
        amount = value.outcomes.quantile(share)
        chance = value.outcomes.chance_at_least(amount)
        seen = float((simulated >= amount - 1e-6).mean())
        assert abs(seen - chance) < 4.5 * (chance * (1 - chance) / simulated.size) ** 0.5 + 2e-4


def test_a_packs_value_adds_up_to_its_box_and_a_fixed_step_changes_little() -> None:
    made = read_sheet(example_1("0.8")).sheet
    pack = find_box_value(made, "box", Holding(Unit.PACK))
    box = find_box_value(made, "box")
    assert 12 * pack.mean == pytest.approx(box.mean, abs=1e-9)
    coarse = find_box_value(made, "box", step=0.5).outcomes
    assert coarse.grid_mean == pytest.approx(box.mean, abs=1e-6)
    assert coarse.chance_at_least(30) == pytest.approx(box.outcomes.chance_at_least(30), abs=5e-3)


def test_a_loose_pack_that_may_have_been_searched_is_worth_its_base_cards_that_often() -> None:
    """Oracle: of one pack of six, the mixture by hand of its whole distribution and of six base cards at 0.05."""
    valuation = value_format(read_sheet(example_1()).sheet, "box")
    whole = value_distribution(valuation, Holding(Unit.PACK))
    sifted = value_distribution(valuation, Holding(Unit.PACK, searched=0.3))
    assert sifted.mean == pytest.approx(0.7 * whole.mean + 0.3 * 0.30)
    for amount in (0.30, 0.31, 5.0, 20.0):
        hit = whole.chance_at_least(amount)
        assert sifted.chance_at_least(amount) == pytest.approx(0.7 * hit + 0.3 * (amount <= 0.30), abs=1e-6)
    dear = most_to_pay(whole, PayingRule(Standard.AVERAGE), BuyingCosts())
    assert most_to_pay(sifted, PayingRule(Standard.AVERAGE), BuyingCosts()).sticker < dear.sticker
    with pytest.raises(InputError, match="share"):
        value_distribution(valuation, Holding(Unit.PACK, searched=1.2))


def test_a_thousand_boxes_keep_their_spread_on_a_grid_that_must_be_coarse() -> None:
    """Oracle: the central limit theorem; half of so many boxes lie within 0.6745 deviations of the mean."""
    made = demo_sheets()[0]
    outcomes = find_box_value(made, "harbour", boxes(1000)).outcomes
    second = sum(
        chance * weight * float((point + offset) ** 2)
        for part in outcomes.parts
        for offset, weight in zip(part.offsets, part.weights, strict=True)
        for point, chance in zip(part.points.tolist(), part.chances.tolist(), strict=True)
    )
    assert (second - outcomes.grid_mean**2) ** 0.5 == pytest.approx(outcomes.deviation, rel=2e-3)
    middle = outcomes.quantile(0.75) - outcomes.quantile(0.25)
    assert middle == pytest.approx(2 * 0.6745 * outcomes.deviation, rel=0.02)


@pytest.mark.parametrize("count", [1, 12, 100])
def test_one_card_a_thousand_times_as_dear_leaves_the_cases_without_it_as_they_were(count: int) -> None:
    """Oracle: the chance of no such hit in closed form; for one box, the format without that card."""
    made = demo_sheets()[0]
    given_prices = tuple(replace(card, price=card.price or Decimal(10)) for card in made.line_by_id["hand"].cards)
    hand = replace(made.line_by_id["hand"], cards=given_prices)

    def with_price(price: str) -> BoxValue:
        cards = (replace(hand.cards[0], price=Decimal(price)), *hand.cards[1:])
        lines = tuple(replace(hand, cards=cards) if item.id == "hand" else item for item in made.lines)
        return find_box_value(replace(made, lines=lines), "harbour", boxes(count))

    dear = with_price("74000")
    none = (1 - 0.6 / 24) ** count
    assert dear.outcomes.chance_at_least(70_000) == pytest.approx(1 - none, abs=2e-6)
    share = next(item.hits for item in dear.by_line if item.line == "hand") / 24 / count
    assert share == pytest.approx(0.6 / 24)
    assert dear.outcomes.error < 0.0005 and dear.outcomes.grid_mean == pytest.approx(dear.mean, rel=1e-7)
    if count == 1:  # given no such hit, a box is what it is without the card among the signed ones
        others = replace(hand, cards=hand.cards[1:])
        lines = tuple(others if item.id == "hand" else item for item in made.lines)
        shares = (("hand", Decimal("0.575") / Decimal("0.975")), ("rivet", None))
        guarantee = replace(made.guarantees[0], lines=shares)
        given = find_box_value(replace(made, lines=lines, guarantees=(guarantee,)), "harbour").outcomes
        for amount in (50.0, 70.0, 100.0, 200.0):
            both = none * given.chance_at_least(amount) + (1 - none)
            assert dear.outcomes.chance_at_least(amount) == pytest.approx(both, abs=1e-4)


def test_unknown_odds_prices_and_splits_make_a_lower_bound_that_lists_them() -> None:
    made = sheet(
        [
            line("a", ["1", None], "1:3 packs"),
            line("dark", [None, None], "1:6 packs"),
            line("post", ["9"], None, "unstated"),
            {"id": "x", "name": "X", "kind": "relic", "cards": [{"number": "1", "subject": "x", "price": "4"}]},
            {"id": "y", "name": "Y", "kind": "relic", "cards": [{"number": "1", "subject": "y", "price": "40"}]},
        ],
        ["0"],
        guarantees=[{"format": "box", "count": 3, "per": "box", "lines": {"x": None, "y": None}}],
    )
    value = find_box_value(made, "box")
    left = {item.line: item for item in value.left_out}
    assert value.lower_bound and set(left) == {"dark", "post", "x"}
    assert left["post"].hits is None and left["dark"].hits == pytest.approx(2) and left["x"].hits == pytest.approx(3)
    assert value.mean == pytest.approx(4 * 1 + 3 * 4)  # the split counts as the cheapest
    assert [(a.line, a.cards, a.high, a.low) for a in value.assumed] == [("a", ("A2",), 1.0, 1.0)]
    assert {share.line: share.value for share in value.by_line}["dark"] is None


def test_the_most_to_pay_holds_at_its_price_and_not_a_cent_above() -> None:
    outcomes = box_of(example_1()).outcomes
    costs = BuyingCosts(shipping=6, tax=0.21)
    most = most_to_pay(outcomes, PayingRule(chance=0.4), costs)
    assert outcomes.chance_at_least(most.landed) >= 0.4 > outcomes.chance_at_least(most.landed + 0.01)
    assert costs.landed(most.sticker) == pytest.approx(most.landed)
    by_average = most_to_pay(outcomes, PayingRule(Standard.AVERAGE, margin=0.25), BuyingCosts())
    assert by_average.sticker * 1.25 == pytest.approx(outcomes.mean)
    assert most_to_pay(outcomes, PayingRule(chance=0.9999), BuyingCosts(shipping=500)).sticker == 0


def test_what_cannot_be_valued_is_refused_by_name() -> None:
    made = read_sheet(example_1()).sheet
    for ask, field in (
        (lambda: find_box_value(made, "tin"), "format"),
        (lambda: find_box_value(made, "box", boxes(0)), "boxes"),
        (lambda: PayingRule(chance=1.0), "chance"),
    ):
        with pytest.raises(InputError) as caught:
            ask()
        assert caught.value.faults[0].field == field


@given(documents(), st.integers(1, 5))
@settings(max_examples=40, deadline=None)
def test_the_mean_of_the_distribution_is_the_expected_value(made: dict[str, Any], count: int) -> None:
    valuation = value_format(read_sheet(made).sheet, "box")
    outcomes = value_distribution(valuation, boxes(count))
    mean = expected_value(valuation, count)
    assert outcomes.mean == pytest.approx(mean, rel=1e-9, abs=1e-9)
    assert outcomes.grid_mean == pytest.approx(mean, rel=1e-7, abs=1e-9)
    assert sum(part.chances.sum() for part in outcomes.parts) == pytest.approx(1, abs=1e-8)


@given(documents(), st.sampled_from([2, 5, 10]))
@settings(max_examples=20, deadline=None)
def test_scaling_all_prices_and_the_grid_scales_everything(made: dict[str, Any], factor: int) -> None:
    scaled = {**made, "lines": [_scaled(item, factor) for item in made["lines"]]}
    one = find_box_value(read_sheet(made).sheet, "box", step=0.05)
    other = find_box_value(read_sheet(scaled).sheet, "box", step=0.05 * factor)
    assert other.mean == pytest.approx(factor * one.mean)
    assert other.outcomes.deviation == pytest.approx(factor * one.outcomes.deviation, abs=1e-6)
    # Read off the ladder of grids, which may go from fine to coarse a cell earlier or later.
    assert other.outcomes.worst_mean(0.1) == pytest.approx(factor * one.outcomes.worst_mean(0.1), rel=1e-3, abs=1e-6)


def _scaled(item: dict[str, Any], factor: int) -> dict[str, Any]:
    return {**item, "cards": [{**c, "price": f"{float(c['price']) * factor:.2f}"} for c in item["cards"]]}


@given(st.integers(1, 30), st.integers(1, 12))
@settings(max_examples=20, deadline=None)
def test_a_guaranteed_line_of_equal_cards_has_no_variance(count: int, packs: int) -> None:
    value = box_of(
        document([line("g", ["7"], f"{count} per box", "guaranteed")], ["1"], packs_per_box=packs, cards_per_pack=31)
    )
    assert value.outcomes.deviation == pytest.approx(0, abs=1e-5)
    assert value.outcomes.quantile(0.5) == 7 * count + packs * 31 - count


@given(documents(), st.integers(2, 40))
@settings(max_examples=20, deadline=None)
def test_a_line_that_beats_the_base_never_lowers_the_mean_also_when_slots_run_out(
    made: dict[str, Any], rarity: int
) -> None:
    extra = line("extra", ["41"], f"1:{rarity + 10} packs")
    more = {**made, "lines": [*made["lines"], extra]}
    packs, usable = made["formats"][0]["packs_per_box"], float(made["formats"][0]["usable"])
    before, after = box_of(made).mean, box_of(more).mean
    base = value_format(read_sheet(made).sheet, "box").mean_of("base")
    assert base is not None
    assert after - before == pytest.approx(usable * packs / (rarity + 10) * (41 - base))
