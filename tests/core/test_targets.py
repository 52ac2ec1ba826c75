"""The target list and making a grade (C-24): the rule's examples, Student's prediction interval, and a simulation."""

from datetime import date, timedelta
from decimal import Decimal as D
from math import sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tobbix.core.base.errors import InputError
from tobbix.core.buying.making import make_or_buy, state_made
from tobbix.core.buying.targets import (
    Band,
    Bought,
    Target,
    ceiling_at_a_show,
    check_target,
    project,
    read_bands,
    split_savings,
    state_targets,
    write_bands,
)

TODAY = date(2026, 11, 27)


def target(planned: str, paid: str | None = None, middle: str | None = None, back: int = 30) -> Target:
    if paid is None:
        return Target("a card", "9", D(planned))
    comp = None if middle is None else D(middle)
    return Target("a card", "9", D(planned), Bought("7", TODAY - timedelta(back), D(paid), None, comp))


@pytest.mark.parametrize(
    ("planned", "paid", "middle", "split"), [("120", "54", "40", (80, -14)), ("80", "30", "26", (54, -4))]
)
def test_savings_are_split_into_a_lower_grade_and_good_buying(
    planned: str, paid: str, middle: str, split: tuple[int, int]
) -> None:
    """Rule C-24's examples."""
    found = split_savings(target(planned, paid, middle))
    assert found is not None and (found.lower_grade, found.good_buying) == split and found.total == sum(split)
    unknown = split_savings(target(planned, paid))
    assert unknown is not None and unknown.lower_grade is None and unknown.total == D(planned) - D(paid)


AMOUNTS = st.decimals("0.01", "99999", places=2)


@given(AMOUNTS, AMOUNTS, AMOUNTS)
def test_the_two_parts_add_up_to_the_cent(planned: D, paid: D, middle: D) -> None:
    found = split_savings(target(str(planned), str(paid), str(middle)))
    assert found is not None and found.lower_grade is not None and found.good_buying is not None
    assert found.lower_grade + found.good_buying == found.total == planned - paid


def test_a_list_is_projected_by_the_plain_ratio_and_says_why_the_dear_ones_may_not_keep_to_it() -> None:
    """Rule C-24's example: 630 spent of 900 planned for ten cards, a list of 12,000."""
    bought = [target("90", "63", "50", back=100) for _ in range(10)]
    rest = [target("5100"), target("6000")]
    found = project([*bought, *rest], TODAY)
    assert found.plain == pytest.approx(8_400) and found.planned == 12_000 and found.spent == 630
    assert found.left_per_card == pytest.approx((12_000 - 630) / 2)
    said = state_targets(found, "EUR").text()
    assert "8,400.00" in said and "No mid one is bought yet" in said and "do not carry over to dear ones" in said
    assert found.pace == pytest.approx(3) and found.done_on == TODAY + timedelta(20)
    assert (found.lower_grade, found.good_buying) == (400, -130)
    by_band = project([*bought, target("6000", "7200"), target("6000")], TODAY)
    assert by_band.banded == pytest.approx(630 + 14_400)  # the dear ones by their own: 20 % over
    assert by_band.plain == pytest.approx((630 + 7200) / 6900 * 12_900)
    assert (
        project([target("5")], TODAY).plain is None
        and "none bought" in state_targets(project(rest, TODAY), "EUR").text()
    )


def test_the_range_of_equal_plans_is_students_prediction_interval_of_a_sum() -> None:
    """Of m more draws with n seen: t x s x sqrt(m + m^2 / n) on either side (Student; any handbook of statistics)."""
    paid = [62.0, 70.0, 58.5, 75.0, 64.0]
    found = project([*(target("90", str(it)) for it in paid), *(target("90") for _ in range(7))], TODAY)
    half = stats.t.ppf(0.9, 4) * np.std(paid, ddof=1) * sqrt(7 + 49 / 5)
    middle = sum(paid) + 7 * np.mean(paid)
    assert (found.low, found.high) == pytest.approx((middle - half, middle + half))
    assert project([target("90", "60"), target("90", "70"), target("90")], TODAY).low is None


def test_bands_are_typed_and_what_cannot_be_is_refused() -> None:
    bands = read_bands("cheap under 100, fair 500.50, dear")
    assert bands == (Band("cheap", D(100)), Band("fair", D("500.50")), Band("dear", None))
    assert read_bands(write_bands(bands)) == bands
    for text in ("", "low, high 3, top", "low 5, mid 3, top", "low x, top", "a 1, a 2, b"):
        with pytest.raises(InputError):
            read_bands(text)
    with pytest.raises(InputError) as caught:
        check_target(Target(" ", "", D(0), Bought("7", TODAY + timedelta(1), D(-1), D(5), D(4))), TODAY)
    assert [fault.field for fault in caught.value.faults] == ["name", "state", "planned", "all_in", "on", "middle"]
    assert (ceiling_at_a_show(D(90), D(70)), ceiling_at_a_show(D(90), D(95)), ceiling_at_a_show(D(90), None)) == (
        70,
        90,
        90,
    )


def test_making_a_grade_costs_what_trying_until_it_comes_costs_on_average() -> None:
    """By simulation, without the formula: raw copies are bought and graded until one makes it; misses are sold."""
    chance, raw, grading, miss = 0.3, 20.0, 25.0, 30.0
    tries = np.random.default_rng(24).geometric(chance, 400_000)
    costs = tries * (raw + grading) - (tries - 1) * miss
    found = make_or_buy(raw, grading, chance, miss, slab=95.0, lower=40.0)
    assert found.cost == pytest.approx(float(costs.mean()), rel=0.005) and found.tries == pytest.approx(
        float(tries.mean()), rel=0.005
    )
    assert "Grade raw ones: about 80.00 a copy, 15.00 less" in state_made(found, "EUR").text()
    assert "Buy the slab at 60.00" in state_made(make_or_buy(raw, grading, chance, miss, 60.0), "EUR").text()
    assert "the misses pay for it" in state_made(make_or_buy(1.0, 1.0, 0.5, 30.0), "EUR").text()
    with pytest.raises(InputError) as caught:
        make_or_buy(-1.0, 1.0, 0.0, 1.0)
    assert [fault.field for fault in caught.value.faults] == ["raw", "chance"]
