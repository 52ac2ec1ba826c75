"""Rule C-17: net and list price. The examples, and the inverse as a property over brackets, caps and minimums."""

from decimal import Decimal as D
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tobbix.core.base.errors import InputError
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay

CASE: dict[str, Any] = {"fixed_fee": D("0.35"), "payment_share": D("0.029"), "payment_fixed": D("0.30")}
BRACKETS = (Bracket(D(1000), D("0.12")), Bracket(None, D("0.03")))


def test_the_examples_of_the_rule() -> None:
    cheap = SellingWay(
        "a", "A", BRACKETS, shipping_charged=D("1.50"), postage=D("1.50"), packing=D("0.25"), **CASE
    )  # fmt: skip
    assert float(cheap.net(D(10))) == pytest.approx(7.3865, abs=1e-12)
    assert float(cheap.price_for(D(8))) == pytest.approx(10.7209, abs=5e-5)
    assert cheap.list_price(D(8)) == D("10.73")
    dear = SellingWay("b", "B", BRACKETS, postage=D("14.50"), packing=D("1.10"), **CASE)
    assert dear.net(D(2400)) == D("2152.15")


amounts = st.decimals(0, 20, places=2)


@st.composite
def ways(draw: st.DrawFn) -> SellingWay:
    ends = sorted(draw(st.sets(st.integers(1, 3000), max_size=3)))
    shares = [D(draw(st.integers(0, 40))) / 100 for _ in range(len(ends) + 1)]
    least = draw(amounts)
    return SellingWay(
        "w", "W",
        tuple(Bracket(D(end), share) for end, share in zip(ends, shares, strict=False)) + (Bracket(None, shares[-1]),),
        draw(st.sampled_from(FeeBase)),
        draw(amounts), D(draw(st.integers(0, 90))) / 1000, draw(amounts), least,
        draw(st.none() | st.decimals(0, 60, places=2).map(lambda more: least + more)),
        draw(amounts), draw(amounts), draw(amounts),
        D(draw(st.integers(0, 30))) / 1000, D(draw(st.integers(0, 25))) / 100,
    )  # fmt: skip


@given(ways(), st.decimals("0.01", 9000, places=2))
def test_the_list_price_nets_what_was_wanted_and_a_cent_less_does_not(way: SellingWay, wanted: D) -> None:
    listed = way.list_price(wanted)
    assert way.net(listed) >= wanted
    if listed > 0:
        assert way.net(listed - D("0.01")) < wanted
        exact = way.price_for(wanted)
        assert way.net(D(exact.numerator) / D(exact.denominator)) == pytest.approx(float(wanted), abs=1e-9)


@given(ways(), st.lists(st.decimals(0, 9000, places=2), min_size=1, max_size=6))
def test_estimates_follow_the_exact_net(way: SellingWay, prices: list[D]) -> None:
    exact = [float(way.net(price)) for price in prices]
    assert way.net_values(np.array([float(price) for price in prices])) == pytest.approx(exact, abs=1e-6)


def test_cards_in_one_parcel_share_its_postage_and_fixed_fees() -> None:
    way = SellingWay("a", "A", BRACKETS, shipping_charged=D("1.50"), postage=D("1.50"), packing=D("0.25"), **CASE)
    together = way.net_parcel([D(10), D(4)])
    # 15.50 taken in; 12 % and 2.9 % of it; 0.35 + 0.30 + 1.50 + 0.25 once
    assert together == D("15.50") - D("15.50") * D("0.149") - D("2.40")
    assert together > way.net(D(10)) + way.net(D(4))


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("commission", {"commission": (Bracket(D(5), D("0.1")),)}),
        ("commission", {"commission": (Bracket(D(9), D("0.1")), Bracket(D(9), D("0.1")), Bracket(None, D(0)))}),
        ("commission", {"commission": (Bracket(None, D("0.99")),), "payment_share": D("0.02")}),
        ("most", {"least": D(2), "most": D(1)}),
        ("postage", {"postage": D(-1)}),
        ("lost", {"lost": D(1)}),
    ],
)
def test_fees_that_cannot_be_are_refused_by_field(field: str, given: dict[str, object]) -> None:
    with pytest.raises(InputError) as caught:
        SellingWay("a", "A", **given)  # type: ignore[arg-type]
    assert caught.value.faults[0].field == field
