"""Rules C-02 and C-06: what a pull is worth net, with a floor, unsold, later, in depth, and how sure a loss is."""

from dataclasses import replace
from decimal import Decimal as D

import numpy as np
import pytest
from scipy import stats

from tests.sheets import example_1, line, sheet
from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Matter
from tobbix.core.maths.distribution import Distribution
from tobbix.core.maths.severity import Array
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.core.products.answer import Worked, answer_at
from tobbix.core.products.assuming import Assumptions, check_assumption
from tobbix.core.products.box_value import find_box_value
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, most_to_pay
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.simulation import simulate_boxes
from tobbix.core.products.sureness import Uncertainty, draw_market_curves, mix_market, spread_mean
from tobbix.core.products.valuation import Bound, Holding, Unit, expected_value, value_format
from tobbix.core.products.verdict import ask
from tobbix.core.products.worlds import simulate_worlds
from tobbix.core.products.worth import GROSS, Horizon, ValueBasis, Worth
from tobbix.demo.releases import demo_sheets
from tobbix.demo.selling import demo_ways

TEN_PERCENT = SellingWay("t", "Ten", (Bracket(None, D("0.1")),), FeeBase.PRICE, packing=D("0.50"))


def prices(*values: float) -> Array:
    return np.array(values)


def test_a_card_nets_its_price_less_the_fees_and_cheap_ones_are_bulk() -> None:
    net = Worth(ValueBasis.NET, TEN_PERCENT)
    assert net.of(prices(10, 0.2)) == pytest.approx([8.5, 0])  # never negative: it is kept
    floor = Worth(ValueBasis.FLOOR, TEN_PERCENT, floor=1.0, bulk=0.02, handling=0.3)
    assert floor.of(prices(10, 2.1, 1.9)) == pytest.approx([8.2, 1.09, 0.02])
    later = Worth(ValueBasis.NET, TEN_PERCENT, horizon=Horizon(2, 0.1), factor=0.5)
    assert later.of(prices(10)) == pytest.approx([10 * 0.81 * 0.5 * 0.9 - 0.5])


def test_the_distribution_keeps_the_mean_and_fits_the_simulation_by_every_basis() -> None:
    made = demo_sheets()[0]
    habits = Worth(
        ValueBasis.FLOOR, demo_ways()[0], 0.5, 0.02, 0.3, (("fog", 0.4),), 0.8, Horizon(3, 0.04)
    )  # fmt: skip
    for worth in (habits, Worth(ValueBasis.NET, demo_ways()[1])):
        valuation = value_format(made, "harbour", worth=worth)
        value = find_box_value(made, "harbour", worth=worth)
        assert value.outcomes.grid_mean == pytest.approx(value.mean, rel=1e-4)
        simulated = simulate_boxes(valuation, 40_000, np.random.default_rng(7))
        assert abs(simulated.mean() - value.mean) < 4 * simulated.std() / 200
        for share in (0.25, 0.5, 0.9):
            reached = float((simulated <= value.outcomes.quantile(share)).mean())
            assert abs(reached - share) < 4.5 * (share * (1 - share) / 40_000) ** 0.5 + 0.002


def test_further_copies_of_a_card_sell_for_less_exactly_on_average() -> None:
    """Oracle: copies of a card in 40 boxes of one guaranteed draw are binomial (scipy.stats.binom)."""
    made = sheet([line("a", ["10", "4"], "1 per box", "guaranteed", weights=["1", "3"])], packs_per_box=2)
    worth = replace(GROSS, horizon=Horizon(depth=0.1))
    expected = 0.0
    for price, share in ((10, 0.25), (4, 0.75)):
        at_least = stats.binom(40, share).sf(np.arange(40))
        expected += float((price * 0.9 ** np.arange(40)) @ at_least)
    base = 40 * 11 * 0.05  # all base copies are of one card: their price falls too
    falling = 0.05 * (1 - 0.9 ** (40 * 11)) / 0.1
    value = find_box_value(made, "box", Holding(Unit.BOXES, 40), worth=worth)
    assert value.mean == pytest.approx(expected + falling) and falling < base
    # one box too: 11 base copies of one card, and by enumeration what the one hit makes of it
    one = find_box_value(made, "box", worth=worth)
    assert one.mean == pytest.approx(0.25 * 10 + 0.75 * 4 + 0.05 * (1 - 0.9**11) / 0.1)
    assert one.outcomes.chance_at_least(10) == pytest.approx(0.25, abs=one.outcomes.error)
    assert one.outcomes.grid_mean == pytest.approx(one.mean) and one.outcomes.samples > 0
    said = answer_at(Worked(value, None, None, None), 100, PayingRule(), BuyingCosts()).verdict.text()
    assert "the spread comes from a simulation" in said


def test_example_1_at_60_when_the_market_halves_or_grows_by_half() -> None:
    made = read_sheet(example_1()).sheet
    curves = draw_market_curves(lambda w: find_box_value(made, "box", worth=w).outcomes, GROSS, 60.0, 150.0)
    at = dict(zip(curves.factors, curves.at_price, strict=True))  # type: ignore[arg-type]
    assert at[0.5] == pytest.approx(0.07154, abs=5e-6) and at[1.5] == pytest.approx(0.25441, abs=5e-6)
    assert at[1.0] == pytest.approx(0.113724, abs=5e-7)
    # net of nothing is gross: the other way to the same numbers, each factor valued anew
    free = Worth(ValueBasis.NET, SellingWay("f", "Free"))
    anew = draw_market_curves(lambda w: find_box_value(made, "box", worth=w).outcomes, free, 60.0, 150.0)
    assert anew.at_price == pytest.approx(curves.at_price, abs=2e-4)
    assert (np.diff(curves.chances, axis=1) <= 1e-12).all() and (np.diff(curves.chances, axis=0) >= -1e-12).all()


def test_a_lognormal_market_is_integrated_over_all_of_it() -> None:
    """EX1 at 60 as the rule gives it; net of nothing is gross, by the other way of working it out."""
    made = read_sheet(example_1()).sheet

    def find(worth: Worth) -> Distribution:
        return find_box_value(made, "box", worth=worth).outcomes

    free = Worth(ValueBasis.NET, SellingWay("f", "Free"))
    for spread, chance, digits in (
        (0, 0.113724, 5e-7),
        (0.2, 0.1266, 1e-4),
        (0.5, 0.178, 5e-4),
        (1, 0.271, 5e-4),
        (2, 0.369, 5e-4),
    ):
        assert mix_market(find, GROSS, 60.0, Uncertainty(0, spread)) == pytest.approx(chance, abs=digits)
        if spread == 0.2:
            assert mix_market(find, free, 60.0, Uncertainty(0, spread)) == pytest.approx(chance, abs=1e-3)
    assert mix_market(find, GROSS, None, Uncertainty()) is None


def test_uncertain_prices_widen_the_average_as_the_lognormal_says() -> None:
    made = sheet([line("a", ["10"], "1 per pack")], packs_per_box=10, cards_per_pack=1)
    spread = spread_mean(value_format(made, "box"), 1.0, Uncertainty(0.0, 0.3), np.random.default_rng(1))
    z = 1.6449
    assert spread.middle == pytest.approx(100, rel=0.03)
    assert (spread.low, spread.high) == pytest.approx((100 * np.exp(-0.3 * z), 100 * np.exp(0.3 * z)), rel=0.04)
    own = find_box_value(made, "box", worth=replace(GROSS, spread=0.5))
    assert own.mean == pytest.approx(100)
    assert own.outcomes.deviation == pytest.approx((10 * 100 * (np.exp(0.25) - 1)) ** 0.5, rel=1e-3)
    told: list[int] = []
    worlds = simulate_worlds(
        value_format(made, "box"), Uncertainty(0.0, 0.3), 100.0, PayingRule(), BuyingCosts(), 60,
        np.random.default_rng(3), told.append,
    )  # fmt: skip
    assert told[-1] == 60 and worlds.mean.low < 75 < worlds.mean.middle < 125 < worlds.mean.high
    assert worlds.loss is not None and (worlds.loss.low, worlds.loss.high) == (0.0, 1.0)  # one price: all or nothing


def test_the_owner_s_time_counts_as_cost() -> None:
    value = find_box_value(read_sheet(example_1()).sheet, "box")
    costs = BuyingCosts(shipping=5, tax=0.1, time=6.0)
    asked = ask(20.0, value, costs)
    assert (asked.landed, asked.outlay) == pytest.approx((27.5, 33.5))
    limit = most_to_pay(value.outcomes, PayingRule(), costs, value.boxes)
    assert limit.landed == pytest.approx(27.40 - 6) and limit.sticker == pytest.approx((21.40 - 5.5) / 1.1)


def test_what_is_unknown_has_bounds_and_may_be_assumed() -> None:
    made = sheet(
        [line("a", ["10"], None), line("b", ["2"], None), line("c", ["4", None], "1 per box", "guaranteed"),
         line("d", [None], "1 per box", "guaranteed"), line("e", ["3"], None, "unstated")],
        guarantees=[{"format": "box", "count": 1, "per": "box", "lines": {"a": None, "b": None}}],
    )  # fmt: skip

    def mean(bound: Bound, assumed: Assumptions = Assumptions()) -> float:  # noqa: B008
        return expected_value(value_format(made, "box", bound, assumptions=assumed))

    main, low, high = mean(Bound.MAIN), mean(Bound.LOW), mean(Bound.HIGH)
    assert high - main == pytest.approx(8) and main == low  # the unknown card is as its only mate, the split is open
    assumed = Assumptions((("box", "e", "1:12 packs"),), (("d", D(7)),), (("box", "a", D("0.25")),))
    valuation = value_format(made, "box", assumptions=assumed)
    assert mean(Bound.MAIN, assumed) - main == pytest.approx(7 + 3 - 0.05 + 0.25 * 8)
    assert valuation.left_out() == () and not valuation.undecided
    assert {note.matter for note in valuation.assumed if note.by_owner} == {Matter.PRICE, Matter.ODDS, Matter.SPLIT}
    for kind, target, text in ((Matter.SPLIT, "c", "0.5"), (Matter.SPLIT, "a", "1.5"), (Matter.ODDS, "e", "often")):
        with pytest.raises(InputError):
            check_assumption(made, kind, target, "box", text)


def test_a_worth_that_cannot_be_is_refused_by_field() -> None:
    for field, make in (
        ("way", lambda: Worth(ValueBasis.NET)),
        ("floor", lambda: Worth(ValueBasis.FLOOR, TEN_PERCENT, floor=-1)),
        ("sells_else", lambda: Worth(ValueBasis.NET, TEN_PERCENT, sells_else=1.2)),
        ("decay", lambda: Horizon(1, 1.0)),
        ("market", lambda: Uncertainty(0.1, 3)),
    ):
        with pytest.raises(InputError) as caught:
            make()
        assert caught.value.faults[0].field == field
