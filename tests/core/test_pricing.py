"""Rules C-18 and C-19: what a card is worth by what was seen of it, and by its grade.

Outside: SciPy (theilslopes, isotonic_regression, binom), Iglewicz and Hoaglin 1993 for the modified z-score, Conover's
*Practical Nonparametric Statistics* for the ranks of the median's interval.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal as D
from random import Random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import optimize, stats

from tobbix.core.base.errors import InputError
from tobbix.core.pricing.asking import meet, what_to_ask
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.estimating import (
    Choice,
    Estimate,
    estimate_value,
    flag_outliers,
    median_interval,
    weighted_median,
)
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.pricing.grade_curve import GradeValue, fit_curve, rise
from tobbix.core.pricing.observing import CardKey, Observation, Rates

ON = date(2026, 11, 1)
CARD = CardKey("harbour-2025", "base", "7")
HOME = Rates("EUR", [("GBP", date(2026, 10, 1), D("1.20")), ("GBP", date(2026, 10, 20), D("1.10"))])


def sale(number: int, price: str, age: int = 5, card: CardKey = CARD, **more: object) -> Observation:
    """A sale in NM without shipping or tax, so many days old."""
    comp = Comp(CompKind.SOLD, ON - timedelta(age), D(price), "EUR", D(0), D(0), "NM")
    return Observation(str(number), card, replace(comp, **more))  # type: ignore[arg-type]


def worth(seen: Sequence[Observation], **more: object) -> Estimate:
    return estimate_value(seen, replace(Choice("NM", ON, CARD), **more), HOME)  # type: ignore[arg-type]


def test_the_rule_s_example_flags_one_and_gives_the_exact_interval() -> None:
    prices = (31, 34, 29, 36, 33, 35, 30, 38, 32, 118)
    found = worth([sale(at, str(price)) for at, price in enumerate(prices)])
    assert found.flagged == ("9",) and found.used == 9
    logs = np.log(np.array(prices, float))
    z = 0.6745 * (logs - np.median(logs)) / np.median(np.abs(logs - np.median(logs)))
    assert z[9] == pytest.approx(11.36, abs=5e-3) and (np.abs(z) > 3.5).tolist() == [False] * 9 + [True]
    assert (found.median, found.estimate) == (33, 33) and found.mean == pytest.approx(33.11, abs=5e-3)
    assert worth([sale(at, str(p)) for at, p in enumerate(prices)], keep=frozenset({"9"})).mean == pytest.approx(41.60)
    assert found.interval is not None and (found.interval.low, found.interval.high) == (30, 36)
    assert found.interval.confidence == pytest.approx(1 - 2 * stats.binom.cdf(1, 9, 0.5))
    assert found.interval.confidence == pytest.approx(0.961, abs=5e-4)


def test_the_rule_s_trend_is_sen_s() -> None:
    days, prices = (0, 30, 61, 92, 122), (120, 112, 115, 98, 90)
    found = worth([sale(at, str(p), 122 - d) for at, (d, p) in enumerate(zip(days, prices, strict=True))], window=365)
    trend = found.trend
    assert trend is not None and trend.per_30_days == pytest.approx(-0.0675, abs=5e-5)
    slopes = stats.theilslopes(np.log(prices), days)
    assert (trend.low, trend.high) == pytest.approx(tuple(np.expm1(30 * np.array(slopes[2:]))))
    assert trend.low < 0 < trend.high and trend.starts_at_extreme
    assert (trend.start[1], trend.end) == (120, (ON, 90))
    assert worth([sale(at, "10", at % 2) for at in range(9)]).trend is None  # on two days


def test_what_is_not_known_is_assumed_and_said() -> None:
    seen = [
        sale(1, "10", shipping=D(2), market="Bellbuoy"), sale(2, "10", shipping=D(4), market="Bellbuoy"),
        sale(3, "10", shipping=None, market="Bellbuoy"), sale(4, "10", shipping=None, market="Gavelrock"),
        sale(5, "10", shipping=D(9), market="Quay"), sale(6, "10", tax=None),
        sale(7, "10", 20, currency="GBP"), sale(8, "10", 60, currency="GBP"),
    ]  # fmt: skip
    found = worth(seen)
    # unknown shipping: 3.00 as Bellbuoy's others; else the median of all that is known: 0, 0, 0, 2, 4, 9
    assert found.flagged == ("5",) and found.mean == pytest.approx((12 + 14 + 13 + 11 + 10 + 12 + 12) / 7)
    assert sum("shipping not known" in words for words in found.assumed) == 2
    assert any("tax not known" in words for words in found.assumed)
    assert any("first rate after it" in words for words in found.assumed)  # 60 days ago there was none yet
    with pytest.raises(InputError, match="no rate of USD"):
        worth([sale(1, "1", currency="USD")])


def test_the_choice_leaves_out_with_a_reason_and_the_rest_is_beside_it() -> None:
    seen = [
        sale(1, "10", 90), sale(2, "11", 91), sale(3, "12", -1), sale(4, "13", lot=2), sale(5, "14", condition="LP"),
        sale(6, "15", card=replace(CARD, variant="error")), sale(7, "9", kind=CompKind.ASK),
        sale(8, "8", condition="LP", kind=CompKind.ASK, market="Quay"), sale(9, "16", 200),
        sale(10, "6", 300, kind=CompKind.BOOK_LOW), sale(11, "18", kind=CompKind.BOOK_HIGH),
    ]  # fmt: skip
    found = worth(seen)
    assert (found.used, found.estimate, found.last) == (1, 10, 10)
    assert dict(found.left_out).keys() == {str(n) for n in range(2, 12)} and found.thin and not found.stale
    assert "91 days old" in dict(found.left_out)["2"] and "a lot of 2" in dict(found.left_out)["4"]
    assert (found.lowest_ask, found.lowest_ask_state, len(found.asks)) == (8, "LP", 2)
    assert found.book == (6, 18) and found.days_since_last == 90 and found.sales_per_30_days == pytest.approx(30 / 90)
    nothing = worth(seen, window=30)
    assert (nothing.estimate, nothing.interval, nothing.thin, nothing.stale) == (None, None, True, True)
    assert worth(seen, drop=frozenset({"1"})).used == 0
    with pytest.raises(InputError, match="several versions"):
        estimate_value(seen, Choice("NM", ON), HOME)


def test_what_to_ask_lies_between_the_quartiles_and_under_the_lowest_ask() -> None:
    """The rule by hand: NumPy's quartiles of 10, 12, 14, 20; the newer half weighs more, so the market is at 12;
    days 30 / (pace x share at the price x own part)."""
    seen = [sale(at, price, at) for at, price in enumerate(("10", "12", "14", "20"))]
    way = SellingWay("fair", "Fair", packing=D(1))

    def asked(*more: Observation) -> list[tuple[str, D, float | None]]:
        found = what_to_ask(worth([*seen, *more]), "EUR", way)
        assert [it.net for it in found] == [float(it.price) - 1 for it in found]
        return [(it.name, it.price, it.days) for it in found]

    pace = 30 * 4 / 90
    alone = asked()
    assert [price for _, price, _ in alone] == [D("11.50"), D("12.00"), D("15.50")]
    assert [days for *_, days in alone] == pytest.approx([30 / (pace * share) for share in (3 / 4, 3 / 4, 1 / 4)])
    dear, cheap = sale(8, "30", kind=CompKind.ASK), sale(9, "11", kind=CompKind.ASK)
    assert asked(dear)[0][1] == D("11.50") and asked(dear)[1][2] == pytest.approx(2 * (alone[1][2] or 0))
    assert asked(dear, cheap)[0][1] == D("10.99")
    assert what_to_ask(worth([]), "EUR", way) == ()


def test_an_offer_goes_down_to_the_quick_price_and_in_person_both_gain() -> None:
    """By hand: the market is 12, of which 11 are left; the buyer pays 12 elsewhere: they meet at 11.50."""
    found = worth([sale(at, price, at) for at, price in enumerate(("10", "12", "14", "20"))])
    way = SellingWay("fair", "Fair", packing=D(1))
    met = meet(what_to_ask(found, "EUR", way), found, "EUR", way)
    assert (met.lowest, met.seller, met.buyer, met.middle) == (D("11.50"), D("11.00"), D("12.00"), D("11.50"))
    assert met.seller is not None and met.seller < 12 and meet((), worth([]), "EUR", way).lowest is None
    alone = meet(what_to_ask(found, "EUR", None), found, "EUR", None)
    assert (alone.seller, alone.middle) == (None, None)  # what is not known is not proposed


def test_outliers_where_most_prices_are_the_same() -> None:
    """Iglewicz and Hoaglin: with a MAD of 0 the mean absolute deviation stands in; where that is 0 too, none."""
    assert flag_outliers(np.array([5.0] * 9 + [50.0])).tolist() == [False] * 9 + [True]
    assert not flag_outliers(np.array([5.0] * 9)).any()
    assert not flag_outliers(np.array([5.0, 5.0, 5.0, 500.0])).any()  # four are too few


@given(st.lists(st.integers(1, 10_000), min_size=1, max_size=40), st.integers(2, 50))
@settings(max_examples=60, deadline=None)
def test_estimates_scale_with_the_currency_and_flags_never_move_them(prices: list[int], factor: int) -> None:
    random = Random(len(prices))
    seen = [sale(at, str(price), random.randrange(90)) for at, price in enumerate(prices)]
    found, more = worth(seen), worth([replace(it, comp=replace(it.comp, price=it.comp.price * factor)) for it in seen])
    assert more.flagged == found.flagged
    for name in ("estimate", "mean", "median", "low", "high", "last"):
        assert getattr(more, name) == pytest.approx(getattr(found, name) * factor), name
    without = worth([item for item in seen if item.id not in found.flagged], keep=frozenset(map(str, range(99))))
    assert without.estimate == found.estimate
    later = [*seen, sale(99, "77777", -3)]
    assert worth(later).estimate == found.estimate  # a later sale never changes an earlier day's value


def test_the_weighted_median_and_the_ranks_of_the_plain_one() -> None:
    values = np.array([3.0, 1.0, 2.0, 9.0])
    assert weighted_median(values, np.ones(4)) == 2.5 and weighted_median(values, np.array([1, 1, 1, 9.0])) == 9
    for count in (1, 2, 5, 6, 9, 20, 57):
        found = median_interval(np.arange(1.0, count + 1))
        k = max((k for k in range(1, count // 2 + 1) if 1 - 2 * stats.binom.cdf(k - 1, count, 0.5) >= 0.95), default=1)
        assert (found.low, found.high) == (k, count + 1 - k)
        assert found.confidence == pytest.approx(1 - 2 * stats.binom.cdf(k - 1, count, 0.5))


def test_the_rule_s_curve_is_scipy_s_isotonic_regression() -> None:
    values, weights = (180, 32, 175, 240, 233, 720), (4, 1, 3, 3, 2, 1)
    grades = [GradeValue(str(3 + at), v, w) for at, (v, w) in enumerate(zip(values, weights, strict=True))]
    found = fit_curve(grades)
    assert [item.fitted for item in found.fit] == pytest.approx([127.42, 127.42, 175, 237.18, 237.18, 720], abs=5e-3)
    assert found.reversals == (("3", "4"), ("6", "7"))
    random = np.random.default_rng(2)
    for _ in range(50):
        some, heavy = random.normal(size=12), random.random(12) + 0.1
        assert rise(some, heavy) == pytest.approx(optimize.isotonic_regression(some, weights=heavy).x)


def test_a_grade_without_sales_lies_between_its_neighbours() -> None:
    some = [GradeValue("7", None), GradeValue("8", 100), GradeValue("9", None), GradeValue("10", 400)]
    plain = fit_curve(some).fit
    assert [item.fitted for item in plain] == [None, pytest.approx(100), pytest.approx(200), pytest.approx(400)]
    assert [item.estimated for item in plain] == [False, False, True, False]
    by_set = fit_curve(some, {"8": 1.0, "9": 1.2, "10": 4.0}).fit[2].fitted
    assert by_set == pytest.approx(100 * 4 ** (np.log(1.2) / np.log(4)))
    for wrong in ([GradeValue("9", 0)], [GradeValue("9", 1), GradeValue("9", 2)], [GradeValue("9", 1, 0)]):
        with pytest.raises(InputError):
            fit_curve(wrong)
