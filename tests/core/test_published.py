"""The rules of opening and of the books against published worked examples and against simulation.

Each check names its source; where figures were written down from memory, it says so.
"""

from dataclasses import replace
from decimal import Decimal as D
from fractions import Fraction
from itertools import permutations
from math import sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.sheets import example_1
from tobbix.core.base.errors import InputError
from tobbix.core.holdings.allocation import share_out
from tobbix.core.maths.statistics import binomial_masses, poisson_masses, two_sided, wilson
from tobbix.core.opening.ahead import look_ahead
from tobbix.core.opening.remaining import SeenInBox, chance_in_packs, chance_of_any, hot_box, hot_box_of
from tobbix.core.opening.results import (
    Observed,
    beta_posterior,
    compare_rates,
    holm,
    judge,
)
from tobbix.core.opening.session import (
    Progress,
    Pulled,
    begun_box,
    observe,
    promised_hits,
    promised_lines,
    seen_in_open_box,
    spread_totals,
)
from tobbix.core.opening.summary import state_opening, state_results
from tobbix.core.opening.weighing import judge_weights
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import value_format


def test_shares_follow_hamilton_s_apportionment_of_1791() -> None:
    """C-15: Balinski and Young, *Fair Representation* (1982): Hamilton's vetoed bill for 120 seats (from memory)."""
    people = {
        "Virginia": (630_560, 21), "Massachusetts": (475_327, 16), "Pennsylvania": (432_879, 14),
        "North Carolina": (353_523, 12), "New York": (331_589, 11), "Maryland": (278_514, 9),
        "Connecticut": (236_841, 8), "South Carolina": (206_236, 7), "New Jersey": (179_570, 6),
        "New Hampshire": (141_822, 5), "Vermont": (85_533, 3), "Georgia": (70_835, 2), "Kentucky": (68_705, 2),
        "Rhode Island": (68_446, 2), "Delaware": (55_540, 2),
    }  # fmt: skip
    seats = share_out(D(120), [Fraction(count) for count, _ in people.values()], 0)
    assert dict(zip(people, seats, strict=True)) == {state: seats for state, (_, seats) in people.items()}


@given(st.integers(0, 10**7), st.lists(st.integers(0, 10**6), min_size=1, max_size=12).filter(any))
def test_shares_keep_the_quota_and_the_order(cents: int, weights: list[int]) -> None:
    """C-15: largest remainders stay within one unit of the exact part, and more weight never gets less."""
    shares = share_out(D(cents).scaleb(-2), [Fraction(weight) for weight in weights], 2)
    exact = [Fraction(cents * weight, sum(weights)) for weight in weights]
    assert sum(shares) == D(cents).scaleb(-2)
    assert all(abs(Fraction(share) * 100 - part) < 1 for share, part in zip(shares, exact, strict=True))
    for (weight, share), (other, less) in permutations(zip(weights, shares, strict=True), 2):
        assert share >= less or weight <= other
    assert share_out(-D(cents).scaleb(-2), [Fraction(weight) for weight in weights], 2) == tuple(-s for s in shares)


def test_intervals_of_a_rate_are_wilson_s() -> None:
    """C-13: Newcombe, Statistics in Medicine 17 (1998) 857-872, table I, method 3 (from memory)."""
    for hits, packs, low, high in (
        (81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0.0, 0.1611), (1, 29, 0.0061, 0.1718),
    ):  # fmt: skip
        assert wilson(hits, packs) == pytest.approx((low, high), abs=6e-5)


def test_exact_tests_are_those_of_a_statistics_package_s_manual() -> None:
    """C-13: the examples of R's help pages binom.test (682 of 925 at 3/4: p 0.3825, after Conover 1971) and
    poisson.test
    (11 in 800 against 21 in 3,011: ratio 1.971488, p 0.07967), from memory."""
    assert two_sided(binomial_masses(925, 0.75), 682) == pytest.approx(0.3825, abs=5e-5)
    found = compare_rates((11, 6 + 8 + 7), (800, 1083 + 1050 + 878))
    assert (found.ratio, found.p_value) == pytest.approx((1.971488, 0.07967), abs=5e-6)


@given(st.integers(1, 300), st.floats(0.001, 0.999), st.data())
def test_the_binomial_test_is_scipy_s_for_any_counts(packs: int, rate: float, data: st.DataObject) -> None:
    """C-13. Oracle: SciPy's binomtest."""
    hits = data.draw(st.integers(0, packs))
    mine = two_sided(binomial_masses(packs, rate), hits)
    assert mine == pytest.approx(stats.binomtest(hits, packs, rate).pvalue, rel=1e-6, abs=1e-12)
    low, high = wilson(hits, packs)
    assert (low, high) == pytest.approx(stats.binomtest(hits, packs).proportion_ci(method="wilson"), abs=1e-9)
    a, b = beta_posterior(rate, 24, hits, packs)
    assert min(rate, hits / packs) - 1e-9 <= a / (a + b) <= max(rate, hits / packs) + 1e-9  # between both


@given(st.floats(0.05, 60), st.integers(0, 150))
def test_counts_above_one_a_pack_are_poisson_s(mean: float, observed: int) -> None:
    """C-13. Oracle: the outcomes no likelier than the observed one, summed over scipy.stats.poisson."""
    chances = stats.poisson(mean).pmf(np.arange(400))
    as_rare = chances[chances <= stats.poisson(mean).pmf(observed) * (1 + 1e-7)].sum()
    assert two_sided(poisson_masses(mean, 399), observed) == pytest.approx(as_rare, rel=1e-6, abs=1e-9)


def test_holm_s_correction_rejects_what_step_down_rejects() -> None:
    """C-13: Holm, Scandinavian Journal of Statistics 6 (1979) 65-70: reject p(k) while p(k) <= a / (n - k + 1)."""
    random = np.random.default_rng(1979)
    for _ in range(200):
        p_values = list(random.uniform(0, 0.2, random.integers(1, 9)))
        order, rejected = np.argsort(p_values), set()
        for rank, index in enumerate(order):
            if p_values[index] > 0.05 / (len(p_values) - rank):
                break
            rejected.add(int(index))
        corrected = holm(p_values)
        assert {i for i, p in enumerate(corrected) if p is not None and p <= 0.05} == rejected


def test_the_area_s_interval_is_about_as_wide_as_hanley_and_mcneil_s_error() -> None:
    """C-14: Hanley and McNeil, Radiology 143 (1982) 29-36: area 0.893 with 51 and 58 readings has standard error 0.032
    (from memory). The weights here are made so that their area is just that."""
    wins = round(0.893 * 51 * 58)
    without = [float(i) for i in range(58)]
    each, rest = divmod(wins, 51)
    with_hit = [each - 0.5 + (1 if i < rest else 0) for i in range(51)]
    said = judge_weights(with_hit, without)
    assert said.area == pytest.approx(0.893, abs=2e-4)
    assert (said.high - said.low) / 2 / 1.96 == pytest.approx(
        0.032, abs=1e-3
    )  # a score interval is not quite symmetric


def test_what_is_left_in_a_box_is_what_shuffling_gives() -> None:
    """C-12. Oracle: 200,000 boxes put together at random, of which those are kept that look like what was opened."""
    random, boxes, packs = np.random.default_rng(12), 200_000, 24
    places = np.argsort(random.random((boxes, packs)), axis=1)[:, :3]  # three autographs in distinct packs
    seen = (places < 18).sum(axis=1)
    kept = places[seen == 2]
    assert len(kept) > 20_000
    last = (kept == 18).any(axis=1).mean()
    assert last == pytest.approx(1 / 6, abs=4 * sqrt(1 / 6 * 5 / 6 / len(kept)))
    in_two = (kept[:, :, None] == np.array([18, 19])).any(axis=(1, 2)).mean()
    assert in_two == pytest.approx(chance_in_packs(1, 6, 2), abs=0.01)
    relic = random.integers(18, 24, len(kept))  # a relic of its own in one of the six packs left
    either = ((relic < 20) | (kept[:, :, None] == np.array([18, 19])).any(axis=(1, 2))).mean()
    assert either == pytest.approx(chance_of_any([1, 1], 6, 2), abs=0.01)


def test_a_hot_box_is_believed_in_as_often_as_it_is_one() -> None:
    """C-12. Oracle: a tenth of 300,000 boxes is hot; among those that look alike after ten packs, so many are."""
    random = np.random.default_rng(7)
    hot = random.random(300_000) < 0.1
    hits = random.binomial(10, np.where(hot, 0.4, 0.1))
    for seen in (0, 1, 3, 5):
        alike = hot[hits == seen]
        share = hot_box(0.1, 0.1, 0.4, 10, seen)
        assert alike.mean() == pytest.approx(share, abs=4 * sqrt(max(share * (1 - share), 1e-4) / len(alike)))


def test_a_session_s_expectation_is_a_martingale() -> None:
    """C-12: what is expected in all, seen so far and still to come, is on average what it was before: over every
    place the
    one guaranteed hit may lie in, after any number of packs."""
    made = read_sheet(example_1()).sheet
    valuation = value_format(made, "box")
    before = look_ahead(valuation, Progress(12, 0), []).hits["c"]
    for opened in range(13):
        ends = []
        for place in range(1, 13):
            seen = [Pulled(place, "c", "C1")] if place <= opened else []
            ends.append(len(seen) + look_ahead(valuation, Progress(12, opened), seen).hits["c"])
        assert sum(ends) / 12 == pytest.approx(before)
    assert promised_lines(made, "box") == {"c": 1}
    assert promised_hits(made, "box", [Pulled(1, "a", "A1"), Pulled(2, "c", "C1")]) == {"c": 1}
    told = replace(Progress(12, 0, gone=6, trust=0.5), gone_hits={"c": 1, "a": 2})
    assert look_ahead(valuation, told, []).hits["c"] == 0  # the one that was promised is said to be gone
    some = {item.line: item for item in observe(valuation, Progress(9, 9), [Pulled(3, "c", "C1")], complete=True)}
    assert some["c"].boxes == () and some["a"].packs == 9  # a part of a box says nothing of a promise
    two = [Pulled(3, "c", "C1"), Pulled(20, "c", "C2"), Pulled(21, "c", "C3"), Pulled(30, "c", "C1")]
    for progress, complete, boxes in (
        (Progress(36, 36), True, (1, 2, 1)), (Progress(36, 30), True, (1, 2)), (Progress(36, 24), False, (1,)),
        (Progress(36, 31, gone=5), True, (2, 1)), (Progress(36, 0), False, ()),
    ):  # fmt: skip
        assert {o.line: o for o in observe(valuation, progress, two, complete)}["c"].boxes == boxes


@given(st.lists(st.tuples(st.sampled_from(["a", "b", "c"]), st.integers(0, 6)), max_size=4), st.integers(1, 12))
def test_totals_fill_the_packs_and_lose_no_hit(totals: list[tuple[str, int]], last: int) -> None:
    made = read_sheet(example_1()).sheet
    fmt, packs = made.formats[0], range(1, last + 1)
    wanted = sum(count for _, count in totals)
    if wanted > 6 * last:
        with pytest.raises(InputError, match="do not fit"):
            spread_totals(made, fmt, [], packs, totals)
        return
    spread = spread_totals(made, fmt, [], packs, totals)
    for pack in packs:
        assert sum(pulled.count for pulled in spread if pulled.pack == pack) == 6
    for line in ("a", "b", "c"):
        assert sum(p.count for p in spread if p.line == line) == sum(n for name, n in totals if name == line)
    most = max((sum(p.count for p in spread if p.pack == pack and p.line != "base") for pack in packs), default=0)
    assert most <= -(-wanted // last)  # one to a pack in turn


@given(st.integers(1, 30), st.integers(0, 90), st.integers(0, 29))
def test_a_box_that_was_begun_shares_its_cost_by_the_packs_that_were_bought(per_box: int, more: int, gone: int) -> None:
    gone %= per_box
    reached = gone + more + 1
    begun = begun_box(per_box, reached, gone)
    if reached % per_box == 0:
        assert begun is None
        return
    assert begun is not None and begun.left + begun.gone == per_box
    bought = per_box - gone if reached < per_box else per_box  # the first box came without the packs that were gone
    assert begun.share == Fraction(begun.left, bought) and 0 < begun.share < 1


def test_the_sentences_of_opening_say_what_the_numbers_bear() -> None:
    def said(hits: int, packs: int = 560, hot: bool = False) -> str:
        return state_results(packs, judge([Observed("a", "Fog Signals", packs, 1 / 20, hits)]), hot).text()

    assert "more often than its odds say: 60 of 28.0 expected" in said(60)
    assert "less often than its odds say: 5 of 28.0 expected; by luck in fewer than 0.1 of 100" in said(5)
    assert "What came out fits the odds: 560 packs" in said(30) and "biases the rates" in said(30, hot=True)
    assert "No finished session" in said(0, packs=0)
    assert "One session is not finished" in state_opening(1, 4).text()
    assert "Nothing is being opened; nothing sealed" in state_opening(0, 0).text()
    assert hot_box_of(10, 4, 0.1, SeenInBox(10, 5, 6)) == pytest.approx(hot_box(0.1, 0.1, 0.4, 10, 5))
    # from one a pack on each card counts: Poisson, as SciPy has it
    odds = 0.1 * stats.poisson(24).pmf(30) / (0.9 * stats.poisson(12).pmf(30))
    assert hot_box_of(10, 2, 1, SeenInBox(12, 11, 30)) == pytest.approx(odds / (1 + odds))
    pulled = [Pulled(3, "a", "A1"), Pulled(14, "a", "A1"), Pulled(14, "a", "A2"), Pulled(15, "base", None, 6)]
    assert seen_in_open_box(pulled, "a", 12) == SeenInBox(2, 1, 2)  # of the second box alone
    for one_in, times, field in ((1, 2, "one_in"), (5, 1, "times")):
        with pytest.raises(InputError) as caught:
            hot_box_of(one_in, times, 0.1, SeenInBox(1, 0, 0))
        assert caught.value.faults[0].field == field
