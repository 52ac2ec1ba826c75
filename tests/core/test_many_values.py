"""Many versions valued at once, against the same sales one by one (C-18)."""

from datetime import date, timedelta
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.estimating import Choice, estimate_value, median_interval
from tobbix.core.pricing.many import Sales, value_many
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.pricing.schools import School, by_school

ON = date(2026, 11, 1)
# few prices and ages, so that ties, equal prices and far ones come often
SALE = st.tuples(
    st.sampled_from([3, 4, 4, 5, 6, 90, 1]), st.sampled_from([None, 0, 1, 2]), st.integers(-1, 2),
    st.sampled_from([0, 0, 30, 60, 90]), st.booleans(),
)  # fmt: skip


def _comp(paid: int, shipping: int | None, market: int, age: int) -> Comp:
    return Comp(
        CompKind.SOLD, ON - timedelta(age), Decimal(paid), "EUR", None if shipping is None else Decimal(shipping),
        condition="NM", market=None if market < 0 else str(market),
    )  # fmt: skip


@settings(deadline=None)
@given(st.lists(st.lists(SALE, min_size=1, max_size=14), min_size=1, max_size=5), st.sampled_from(list(School)[:4]))
def test_all_at_once_is_the_same_as_one_by_one(cards: list[list[tuple[int, int | None, int, int, bool]]],
                                               school: School) -> None:  # fmt: skip
    rows = [(at, *sale) for at, sales in enumerate(cards) for sale in sorted(sales, key=lambda it: -it[3])]
    columns = list(zip(*rows, strict=True))
    sales = Sales(
        np.array(columns[0]), np.array(columns[1], float),
        np.array([np.nan if it is None else it for it in columns[2]], float), np.array(columns[3]),
        np.array(columns[4]), np.array(columns[5]),
    )  # fmt: skip
    found = value_many(sales, school)
    for at, card in enumerate(sorted(set(columns[0]))):
        seen = [
            Observation(str(row), CardKey("r", "l", "1"), _comp(*it[1:5]))
            for row, it in enumerate(rows)
            if it[0] == card
        ]
        keep = frozenset(str(row) for row, it in enumerate(rows) if it[0] == card and it[5])
        one, _ = by_school(estimate_value(seen, Choice("NM", ON, keep=keep), Rates("EUR")), school)
        between = median_interval(np.array([it.amount for it in one.counted]), 0.8)
        assert found.card[at] == card and found.used[at] == one.used
        assert [found.estimate[at], found.low[at], found.high[at]] == pytest.approx(
            [one.estimate, between.low, between.high]
        )
        assert found.newest[at] == min((ON - it.seen.comp.day).days for it in one.counted)


def test_runs_divide_no_card_and_what_cannot_be_is_refused() -> None:
    random = np.random.default_rng(5)
    card = np.sort(np.r_[random.integers(0, 9_000, 130_000), np.full(70_000, 4_000)])
    many = card.size
    paid, age = random.lognormal(2, 0.3, many), np.zeros(many, np.int64)
    sales = Sales(card, paid, np.zeros(many), np.zeros(many, np.int64), age, np.ones(many, bool))
    found = value_many(sales, School.MEDIAN)
    assert (np.diff(found.card) > 0).all() and found.used.sum() == many
    one = found.card.tolist().index(4_000)
    assert found.estimate[one] == np.median(paid[card == 4_000])
    with pytest.raises(ValueError, match="ordered"):
        value_many(Sales(card[::-1], *(getattr(sales, name) for name in list(Sales.__dataclass_fields__)[1:])))
    with pytest.raises(ValueError, match="school"):
        value_many(sales, School.BOOK)
    none = Sales(*(np.zeros(0, int) if name in ("age", "market", "card") else np.zeros(0)
                   for name in Sales.__dataclass_fields__))  # type: ignore[arg-type] # fmt: skip
    assert value_many(none).card.size == 0
