"""Rules C-15, C-16 and C-20: dividing a cost, the books as properties, the most to bid, offers from a sample."""

from dataclasses import replace
from datetime import date
from decimal import Decimal as D
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.books.reports import Lot, sum_lots, sum_months
from tobbix.core.buying.bidding import (
    AuctionTerms,
    Work,
    landed_ceiling,
    most_to_bid,
    offer_for_collection,
    resale_ceiling,
    state_bid,
)
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, divide
from tobbix.core.holdings.ledger import Account, Entry, Event, Posting
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import State
from tobbix.core.maths.statistics import student_point

DAY = date(2026, 11, 25)


def parts(*values: str | None) -> list[Part]:
    return [Part(f"p{i}", None if value is None else D(value)) for i, value in enumerate(values)]


def test_the_example_and_the_other_ways_to_divide() -> None:
    five = parts("12", "7", "7", "3", "1")
    assert [str(s) for s in divide(D("100.00"), five, Method.VALUE)] == ["40.00", "23.34", "23.33", "10.00", "3.33"]
    gift = [*parts("5", "5"), Part("tin", gift=True)]
    assert divide(D("9.99"), gift, Method.EQUAL) == (D("5.00"), D("4.99"), 0)
    assert divide(D("10.00"), [Part("a", count=D(3)), Part("b", count=D(1))], Method.COUNT) == (D("7.50"), D("2.50"))
    by_hand = [Part("a", fixed=D("6.00")), Part("b", fixed=D("4.00"))]
    assert divide(D("10.00"), by_hand, Method.HAND) == (6, 4)
    full = [replace(by_hand[0], fixed=D("10.00")), Part("left", None)]
    assert divide(D("10.00"), full, Method.RESIDUAL) == (D("10.00"), 0)  # nothing is left to ask a value for
    assert divide(D("10.00"), [by_hand[0], *parts("1", "3")], Method.RESIDUAL) == (6, D("1.00"), D("3.00"))
    for wrong, method, field in (
        (parts("1", None), Method.VALUE, "things[1].value"),
        (parts("0", "0"), Method.VALUE, "things"),
        ([by_hand[0], *parts("1")], Method.HAND, "things[1].fixed"),
        ([by_hand[0], replace(by_hand[1], fixed=D("4.01"))], Method.HAND, "things"),
        ([replace(by_hand[0], fixed=D("11"))], Method.RESIDUAL, "things"),
        ([Part("g", gift=True)], Method.EQUAL, "things"),
        ([], Method.EQUAL, "things"),
    ):
        with pytest.raises(InputError) as caught:
            divide(D("10.00"), wrong, method)
        assert caught.value.faults[0].field == field


cents = st.decimals(0, 99_999, places=2)


@given(cents, st.lists(cents, min_size=1, max_size=30).filter(any))
def test_shares_are_whole_cents_that_add_up_and_are_fair_to_a_cent(total: D, values: list[D]) -> None:
    shares = divide(total, [Part("p", value) for value in values], Method.VALUE)
    assert sum(shares) == total
    for share, value in zip(shares, values, strict=True):
        assert share == round(share, 2) and abs(
            Fraction(share) - Fraction(total) * Fraction(value) / sum(map(Fraction, values))
        ) < Fraction(1, 100)


def test_a_refund_above_the_basis_is_income_and_an_unknown_basis_stays_unknown() -> None:
    thing = Thing(1, "box", 1, State.HELD, D("10.00"))
    change = register.take_refund([thing], Posting(Account.CASH, D("12.50"), "bank"), DAY, "refund")
    assert change.things[0].basis == 0
    assert {(item.account, item.amount) for item in change.entry.lines} == {
        (Account.CASH, D("12.50")), (Account.STOCK, D("-10.00")), (Account.INCOME, D("-2.50")),
    }  # fmt: skip
    unknown = Thing(2, "old box", 2, State.HELD, None)
    opened = register.open_sealed(unknown, 1, [Thing(3, "card", 1, State.HELD, None, D(5))], D(0), DAY, "open")
    assert not opened.entry.moves and all(t.basis is None for t in opened.things)
    half = register.open_sealed(thing, 1, [Thing(3, "card", 1, State.HELD, None, D(5))], D("0.5"), DAY, "open")
    assert half.things[-1].basis == D("5.00") and (Account.ENTERTAINMENT, D("5.00")) in {
        (item.account, item.amount) for item in half.entry.lines
    }


def test_what_cannot_be_is_refused_and_never_made() -> None:
    thing = Thing(1, "box", 2, State.HELD, D("10.00"))
    with pytest.raises(ValueError, match="off by"):
        Entry(DAY, Event.PURCHASE, "x", (Posting(Account.STOCK, D(1)),))
    with pytest.raises(Conflict):
        register.receive([thing], DAY, "again")
    with pytest.raises(Conflict):
        register.divide_again([replace(thing, state=State.OPENED)], parts("1"), Method.VALUE, DAY, "x")
    with pytest.raises(InputError, match="off the landed cost"):
        register.buy([thing], [Posting(Account.CASH, D("-9.99"), "bank")], DAY, "x")
    for opened, fun in ((3, "0"), (1, "1.5")):
        with pytest.raises(InputError):
            register.open_sealed(thing, opened, [], D(fun), DAY, "x")


def test_the_most_to_bid_of_the_example_and_its_inverse() -> None:
    terms = AuctionTerms(D("0.2"), D("0.21"), D(6))
    ceiling = resale_ceiling(D(84), D(10), D("0.25"))
    assert ceiling == Fraction(336, 5)
    assert most_to_bid(ceiling, terms) == D("41.28")
    assert terms.landed(D("41.28")) <= ceiling < terms.landed(D("41.29"))
    five = replace(terms, increment=D(5))
    assert landed_ceiling(None, D(10), D(0), D("50")) == 50  # for keeping: what was typed
    assert landed_ceiling(D(84), D(10), D("0.25"), D("50")) == 50 and landed_ceiling(D(84), D(10), D(0), D(99)) == 74
    with pytest.raises(InputError, match="what it sells for"):
        landed_ceiling(None, D(0), D(0), None)  # nothing known is not a bid of 0
    assert most_to_bid(ceiling, five) == D("40.00") and most_to_bid(Fraction(3), terms) == 0
    assert "Bid up to 41.28" in state_bid(D("41.28"), ceiling, terms, "EUR").text()
    assert "tax alone pass" in state_bid(D(0), Fraction(3), terms, "EUR").text()
    assert "the least bid, 5, would pass" in state_bid(D(0), Fraction(9), five, "EUR").text()
    assert most_to_bid(Fraction("10.0037"), AuctionTerms(increment=D("0.001"))) == D("10.003")
    with pytest.raises(InputError) as caught:
        AuctionTerms(D(2), increment=D(0))
    assert [f.field for f in caught.value.faults] == ["premium", "increment"]


def test_an_offer_comes_from_a_sample_with_student_s_interval() -> None:
    """C-20. Outside: the usual handbook table of Student's t, 95 % one-sided (from memory); SciPy for the sample."""
    for degrees, point in ((1, 6.314), (5, 2.015), (10, 1.812), (17, 1.740), (30, 1.697)):
        assert student_point(degrees, 0.95) == pytest.approx(point, abs=5e-4)
    sample = [0.1, 0.2, 0.0, 4.0, 0.3, 0.2, 1.1, 0.1]
    found = offer_for_collection(sample, 2_000, Work(0.8, 0.5, 10, 0.2))
    mean, error = stats.tmean(sample), stats.sem(sample) * (1 - 8 / 2000) ** 0.5
    assert (found.mean, found.mean_high) == pytest.approx((mean, mean + 1.895 * error), abs=1e-3)
    assert found.fair == pytest.approx((mean * 2000 * 0.8 - 2000 * 0.5 / 60 * 10) * 0.8)
    careful = mean - stats.t(7).ppf(0.9) * error
    assert found.top == pytest.approx(max(careful * 2000 * 0.8 - 2000 * 0.5 / 60 * 10, 0), abs=1e-6)
    for wrong in ((sample, 5), ([1.0], 10), ([1.0, -1.0], 10)):
        with pytest.raises(InputError):
            offer_for_collection(*wrong, Work(0.8))


def test_lots_are_summed_exactly_and_what_nobody_knows_is_said() -> None:
    zero = D(0)
    known = Lot(1, "a", date(2026, 11, 1), D("20.10"), D(4), D(5), D(1), zero, D("10.10"), D("12.00"), 0, 0)
    assert (known.cost, known.realised, known.unrealised, known.total) == (D("16.10"), D(-6), D("1.90"), D("-4.10"))
    found = sum_lots(
        [known, replace(known, paid=None, basis=D("0.20"), unknown_basis=2), replace(known, unknown_value=1)]
    )
    assert (found.paid, found.basis, found.value, found.fun) == (D("40.20"), D("20.40"), D("36.00"), 15)
    assert (found.paid_known, found.basis_known, found.value_known) == (False, False, False)
    assert (found.known, found.unrealised, found.realised) == (1, D("1.90"), -6)  # of what is known alone
    assert sum_lots([known]).paid_known and sum_lots([]).paid == 0


def test_months_add_up_to_what_is_booked() -> None:
    """By hand: a box at 100 in October; in November a fifth of it for fun, 5 lost, a card of 20 sold at 50 less 6."""
    october, november = date(2026, 10, 1), date(2026, 11, 1)
    booked = [
        (october, Account.STOCK, True, D(100)), (october, Account.CASH, False, D(-100)),
        (november, Account.STOCK, False, D(-45)), (november, Account.ENTERTAINMENT, True, D(20)),
        (november, Account.LOST, True, D(5)), (november, Account.COST_OF_SALES, True, D(20)),
        (november, Account.CASH, True, D(44)), (november, Account.FEES, True, D(6)),
        (november, Account.INCOME, False, D(-50)),
    ]  # fmt: skip
    later, first = sum_months(booked)
    assert (first.month, first.paid, first.back, first.realised, first.held) == (october, 100, 0, 0, 100)
    assert (later.back, later.fun, later.lost, later.realised, later.held) == (44, 20, 5, -1, 55)
    assert later.held + first.back + later.back - first.paid == later.realised  # nothing gets lost
