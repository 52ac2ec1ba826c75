"""Rules C-12 to C-14: what is left, results against the odds, weights. Oracle: SciPy."""

from math import ceil

import numpy as np
import pytest
from scipy import stats

from tests.sheets import document, example_1, line
from tobbix.core.base.errors import InputError
from tobbix.core.maths.statistics import wilson
from tobbix.core.opening.ahead import look_ahead
from tobbix.core.opening.remaining import chance_in_packs, chance_of_any, chance_per_pack, hot_box
from tobbix.core.opening.results import Observed, compare_rates, holm, judge
from tobbix.core.opening.session import (
    Progress,
    Pulled,
    cards_of_pack,
    check_pull,
    observe,
    state_session,
)
from tobbix.core.opening.weighing import chance_heavier_holds, judge_weights
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import expected_value, value_format


def test_the_examples_of_what_is_still_in_the_box() -> None:
    assert chance_in_packs(3, 24, 4) == pytest.approx(0.43676, abs=5e-6)
    assert chance_in_packs(3, 24, 4) == pytest.approx(stats.hypergeom(24, 3, 4).sf(0))
    assert chance_per_pack(1, 6) == pytest.approx(1 / 6) and chance_per_pack(1, 6, 0.7) == pytest.approx(
        0.1167, abs=5e-5
    )
    assert chance_of_any([1, 1], 6, 2) == pytest.approx(0.55556, abs=5e-6)
    posterior = hot_box(0.1, 0.1, 0.4, 10, 5)
    odds = 0.1 * stats.binom(10, 0.4).pmf(5) / (0.9 * stats.binom(10, 0.1).pmf(5))
    assert posterior == pytest.approx(odds / (1 + odds))
    for wrong in (
        lambda: chance_in_packs(1, 6, 7),
        lambda: chance_per_pack(1, 6, 2),
        lambda: hot_box(0, 0.1, 0.2, 1, 0),
    ):
        with pytest.raises(InputError):
            wrong()


def test_the_examples_of_odds_against_results() -> None:
    row = judge([Observed("a", "A", 25, 0.25, 11)], strength=6)[0]
    assert row.p_value == pytest.approx(0.03669, abs=5e-6) and row.p_more == pytest.approx(0.02967, abs=5e-6)
    assert row.p_value == pytest.approx(stats.binomtest(11, 25, 0.25).pvalue)
    assert wilson(11, 25) == pytest.approx((0.2667, 0.6293), abs=5e-5)
    assert (row.low, row.high) == pytest.approx(stats.binomtest(11, 25).proportion_ci(method="wilson"))
    assert row.posterior == pytest.approx(0.34694, abs=5e-6)
    beta = stats.beta(0.25 * 24 + 11, 0.75 * 24 + 14)
    assert (row.posterior_low, row.posterior_high) == pytest.approx(tuple(beta.ppf([0.025, 0.975])))
    found = compare_rates((24, 30), (560, 1440))
    assert (found.ratio, found.p_value) == pytest.approx((2.057, 0.00963), abs=5e-4)
    assert found.p_value == pytest.approx(stats.binomtest(24, 54, 560 / 2000).pvalue)
    many = judge([Observed("m", "M", 10, 2.5, 41)])[0]
    assert many.p_more == pytest.approx(stats.poisson(25).sf(40)) and many.low is None
    assert holm([0.01, 0.04, 0.03, None]) == (0.03, 0.06, 0.06, None)
    right, wrong = judge([Observed("g", "G", 12, 1 / 12, 1, 1, (1,)), Observed("h", "H", 24, 1 / 12, 1, 1, (1, 0))])
    assert right.right is True and wrong.right is False and right.p_value is None


def test_weights_tell_or_do_not() -> None:
    assert chance_heavier_holds(0.4, 1.1) == pytest.approx(0.6015, abs=5e-5)
    assert chance_heavier_holds(0.4, 0.1) == pytest.approx(0.9977, abs=5e-5)
    with_hit, without = [10.4, 10.6, 10.9, 11.2, 11.4], [10.0, 10.1, 10.5, 9.8, 10.2]
    said = judge_weights(with_hit, without)
    outside = stats.mannwhitneyu(with_hit, without, method="exact")
    assert said.area == pytest.approx(outside.statistic / 25) and said.p_value == pytest.approx(outside.pvalue)
    assert said.low < said.area < said.high and said.needed is None
    assert "Weight told here" in said.verdict.text() and "heavier" in said.verdict.text()
    lighter = judge_weights(without, with_hit)
    assert lighter.p_value == pytest.approx(said.p_value) and "the lighter" in lighter.verdict.text()
    # with ties by permutation, as SciPy's resampling of all ways has it
    tied, others = [10.4, 10.4, 10.6, 10.2, 10.4], [10.0, 10.4, 10.2, 10.2, 10.1]
    ways = stats.permutation_test(
        (tied, others), lambda a, b: abs(stats.mannwhitneyu(a, b, method="asymptotic").statistic - 12.5),
        n_resamples=np.inf, alternative="greater", permutation_type="independent",
    )  # fmt: skip
    assert judge_weights(tied, others).p_value == pytest.approx(ways.pvalue, abs=1e-9)
    few = judge_weights([10.4, 10.9], [9.8, 10.0])
    assert "Too few to say" in few.verdict.text()
    # Noether 1987: (1.96 + 0.8416)^2 / (12 x 1/4 x (area - 1/2)^2)
    open_yet = judge_weights([10.0, 10.2, 10.4, 10.1, 10.3], [10.05, 10.15, 10.25, 9.9, 10.2])
    assert "No sign yet" in open_yet.verdict.text() and open_yet.p_value > 0.05
    assert open_yet.needed == ceil((1.95996 + 0.84162) ** 2 / (3 * (open_yet.area - 0.5) ** 2)) - 10
    large = judge_weights([10 + i % 7 + 0.2 for i in range(140)], [10 + i % 7 for i in range(140)])
    outside = stats.mannwhitneyu(
        [10 + i % 7 + 0.2 for i in range(140)], [10 + i % 7 for i in range(140)], use_continuity=False
    )
    assert large.p_value == pytest.approx(outside.pvalue, abs=1e-6)


def test_of_no_effect_at_all_weight_is_said_to_tell_no_more_often_than_in_one_of_twenty() -> None:
    random = np.random.default_rng(3)
    told = {2: 0, 5: 0, 8: 0}
    for size in told:
        for _ in range(300):
            said = judge_weights(list(random.normal(10, 1, size)), list(random.normal(10, 1, size)))
            told[size] += "Weight told here" in said.verdict.text()
    assert told[2] == 0 and max(told.values()) <= 28  # 15 of 300 expected, three deviations above


def test_too_few_weights_are_refused() -> None:
    with pytest.raises(InputError):
        judge_weights([1.0], [2.0, 3.0])


def test_a_session_looks_ahead_and_refuses_what_the_box_cannot_hold() -> None:
    made = read_sheet(example_1()).sheet
    valuation, fmt = value_format(made, "box"), made.formats[0]
    begun = look_ahead(valuation, Progress(12, 0), [])
    assert begun.value == pytest.approx(expected_value(valuation)) and begun.hits["c"] == 1
    seen = [Pulled(1, "c", "C8"), Pulled(2, "a", "A1")]
    later = look_ahead(valuation, Progress(12, 6), seen)
    assert later.packs == 6 and later.hits["c"] == 0 and later.hits["a"] == pytest.approx(2)
    assert sum(later.hits.values()) == pytest.approx(36)
    assert "seen, no more is promised" in state_session(valuation, later).text()
    trusted = look_ahead(valuation, Progress(12, 0, gone=6, trust=0.7), [])
    assert trusted.hits["c"] == pytest.approx(0.7)
    assert "may still be in there: 1 in 8.6 a pack" in state_session(valuation, trusted).text()
    unbelieved = look_ahead(valuation, Progress(12, 0, gone=6, trust=0.0), [])
    assert unbelieved.hits["c"] == 0 and "nobody is trusted" in state_session(valuation, unbelieved).text()
    second = look_ahead(valuation, Progress(36, 15), [Pulled(3, "c", "C8")])  # three boxes, in the second by now
    assert second.hits["c"] == 2 and second.live[0].chance == pytest.approx(1 / 9)
    results = {item.line: item for item in observe(valuation, Progress(12, 12), seen, complete=True)}
    assert results["c"].boxes == (1,) and results["a"].hits == 1 and results["a"].rate == pytest.approx(1 / 3)
    full = [Pulled(1, "base", None, 6)]
    numbered = read_sheet(document([{**line("n", ["1"] * 3, "1:2 packs"), "print_run": 80}])).sheet
    for sheet, pulled, fresh, field in (
        (made, [], Pulled(1, "zz", "1"), "line"), (made, [], Pulled(1, "a", None), "number"),
        (made, [], Pulled(1, "a", "A99"), "number"), (made, full, Pulled(1, "a", "A1"), "count"),
        (numbered, [], Pulled(1, "n", "N1", serial="88/80"), "serial"),
        (numbered, [Pulled(2, "n", "N1", serial="7/80")], Pulled(1, "n", "N1", serial="007/80"), "serial"),
        (made, [], Pulled(1, "a", "A1", serial="7/80"), "serial"),
    ):  # fmt: skip
        with pytest.raises(InputError) as caught:
            check_pull(sheet, sheet.formats[0], pulled, fresh)
        assert caught.value.faults[0].field == field
    check_pull(made, fmt, full, Pulled(2, "a", "A1"))
    two_kinds = document([], packs=[{"id": "std", "count": 2, "cards": 8}, {"id": "bonus", "count": 1, "cards": 3}])
    for name in ("packs_per_box", "cards_per_pack"):
        del two_kinds["formats"][0][name]
    bonus = read_sheet(two_kinds).sheet.formats[0]
    assert [cards_of_pack(bonus, pack) for pack in (1, 2, 3, 4, 6)] == [8, 8, 3, 8, 3]
