"""Rules C-15, C-16 and C-20 in buying: bids and their inverse, offers from a sample, what stands in a sentence."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal as D
from fractions import Fraction
from math import sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.buying.bidding import (
    AuctionTerms,
    Work,
    most_to_bid,
    offer_for_collection,
    read_sample,
    resale_ceiling,
    state_offer,
)
from tobbix.core.buying.summary import state_buying
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, divide
from tobbix.core.holdings.ledger import Account, Posting
from tobbix.core.holdings.register import PacksLeft, Thing
from tobbix.core.holdings.states import HELD_STATES, Action, State, next_state
from tobbix.core.maths.statistics import student_point

DAY = date(2026, 11, 25)
# Cochran, Sampling Techniques (3rd ed. 1977), section 2.8, table 2.2 (from memory): signatures on 50 of 676 sheets.
SIGNATURES = "23x42 4x41 36 32 29 2x27 23 19 2x16 2x15 14 11 10 9 7 3x6 2x5 4 3"


def test_the_total_of_a_collection_is_cochran_s_worked_example() -> None:
    """An estimate of 19,888 signatures with a standard error of 1,391."""
    sample = read_sample(SIGNATURES)
    assert (len(sample), sum(sample), sum(y * y for y in sample)) == (50, 1471, 54_497)
    found = offer_for_collection(sample, 676, Work())
    assert found.total == pytest.approx(19_888, abs=1)
    assert (found.total_high - found.total) / student_point(49, 0.95) == pytest.approx(1391, abs=2)
    assert found.fair == pytest.approx(found.total)
    assert found.top == pytest.approx(19_888 - student_point(49, 0.9) * 1391, abs=3)
    # what is valued one by one adds no doubt: a certainty stratum
    pulled = offer_for_collection(sample, 679, Work(), [5_000, 300, 20])
    assert pulled.total == pytest.approx(found.total + 5_320) and pulled.top == pytest.approx(found.top + 5_320)


def test_a_sample_s_interval_holds_nine_times_in_ten_and_closes_when_all_are_seen() -> None:
    """Oracle: 3,000 samples of 40 from a collection of 400 whose mean is known."""
    random = np.random.default_rng(20)
    cards = random.gamma(4.0, 0.5, 400)
    inside = 0
    for _ in range(3_000):
        found = offer_for_collection(list(random.choice(cards, 40, replace=False)), 400, Work())
        inside += found.mean_low <= cards.mean() <= found.mean_high
    assert inside / 3_000 == pytest.approx(0.9, abs=4 * sqrt(0.09 / 3_000) + 0.01)
    seen = offer_for_collection(list(cards), 400, Work(0.8, margin=0.25))
    assert seen.mean_low == seen.mean_high == pytest.approx(cards.mean())
    assert seen.top == pytest.approx(cards.sum() * 0.8) and seen.fair == pytest.approx(cards.sum() * 0.8 * 0.75)


def test_an_offer_says_walk_away_draw_more_or_how_much() -> None:
    def said(sample: str, cards: int, dear: str = "") -> str:
        offer = offer_for_collection(read_sample(sample), cards, Work(0.8, 0.5, 10, 0.2), read_sample(dear))
        return state_offer(offer, cards, "EUR").text()

    assert said("8x0.01 0.02", 500).startswith("Walk away")
    assert said("30x0.01 25", 1_000).startswith("Too few cards to say")
    assert said("40x0.5 40x0.6 20x0.4", 1_000).startswith("Offer 266.13, and at most 32")  # (520 x 0.8 - 83.33) x 0.8
    assert said("20x0.5 0.1 4", 300).startswith("Offer at most")
    assert "From 100 of 998 cards, taken at random, and 2 valued one by one at 300.00" in said(
        "40x0.5 40x0.6 20x0.4", 1_000, "100 200"
    )


values = st.lists(st.decimals(0, 9_999, places=2), min_size=1, max_size=60)


@given(values, st.sampled_from([" ", "  ", "\n", "; ", ";"]))
def test_what_is_typed_of_a_sample_is_what_is_read(amounts: list[D], between: str) -> None:
    assert read_sample(between.join(map(str, amounts))) == [float(amount) for amount in amounts]
    counted = between.join(f"3x{amount}" for amount in amounts)
    assert len(read_sample(counted)) == 3 * len(amounts)


@pytest.mark.parametrize("wrong", ["1,50", "ten", "2x", "x3", "0x1", "-1", "1e9999", "nan", "6000x0.1", "1.5x2"])
def test_what_is_no_value_is_named(wrong: str) -> None:
    with pytest.raises(InputError) as caught:
        read_sample(f"0.10 {wrong}")
    assert caught.value.faults[0].field == "sample" and wrong in caught.value.faults[0].message


shares = st.decimals(0, 1, places=3)


@given(st.decimals(0, 5_000, places=2), shares, shares, st.decimals(0, 50, places=2), st.booleans(),
       st.sampled_from(["0.01", "0.5", "1", "5", "25"]))  # fmt: skip
def test_a_bid_is_the_last_step_that_its_ceiling_bears(
    ceiling: D, premium: D, tax: D, shipping: D, taxed: bool, step: str
) -> None:
    terms = AuctionTerms(premium, tax, shipping, taxed, D(step))
    bid = most_to_bid(Fraction(ceiling), terms)
    assert bid >= 0 and (Fraction(bid) / Fraction(step)).denominator == 1
    assert terms.landed(bid + D(step)) > ceiling
    assert bid == 0 or terms.landed(bid) <= ceiling


@given(st.decimals(0, 5_000, places=2), st.decimals(0, 500, places=2), st.decimals(0, 3, places=2))
def test_what_a_resale_may_cost_leaves_the_margin_and_the_return(net: D, margin: D, wanted: D) -> None:
    ceiling = resale_ceiling(net, margin, wanted)
    gain = Fraction(net) - ceiling
    assert gain >= margin and ceiling * (1 + Fraction(wanted)) <= net
    assert gain == margin or ceiling * (1 + Fraction(wanted)) == net  # and not a cent less


def test_the_sentence_of_buying_counts_what_is_late_and_disputed() -> None:
    late, soon = DAY - timedelta(1), DAY + timedelta(3)

    def said(*rows: tuple[str, str, date | None]) -> str:
        return state_buying([(state, D(cost), due) for state, cost, due in rows], DAY, "EUR").text().strip()

    assert said() == "Nothing is recorded yet: record what you bought."
    assert said(("received", "9", None)).startswith("Nothing is on the way.")
    assert said(("ordered", "9.50", soon), ("ordered", "0.50", late)).startswith(
        "2 parcels are on the way, worth 10.00 EUR landed; 1 is late."
    )
    assert "; 2 are in dispute" in said(("disputed", "1", late), ("disputed", "2", None), ("ordered", "3", None))


@given(
    st.decimals("0.01", 9_999, places=2),
    st.lists(st.tuples(st.integers(1, 40), st.decimals("0.001", 50, places=3), st.booleans()), min_size=2, max_size=9),
)
def test_a_division_by_count_and_weight_goes_by_both_and_gifts_carry_nothing(
    total: D, things: list[tuple[int, D, bool]]
) -> None:
    parts = [Part(f"p{i}", count=count * weight, gift=gift) for i, (count, weight, gift) in enumerate(things)]
    if all(part.gift for part in parts):
        with pytest.raises(InputError):
            divide(total, parts, Method.COUNT)
        return
    found = divide(total, parts, Method.COUNT)
    whole = sum((part.count for part in parts if not part.gift), D(0))
    assert sum(found) == total
    for part, share in zip(parts, found, strict=True):
        exact = Fraction(0) if part.gift else Fraction(total) * Fraction(part.count) / Fraction(whole)
        assert abs(Fraction(share) - exact) < Fraction(1, 100)


def box(count: int = 1, basis: str | None = "96.00", key: int = 1) -> Thing:
    return Thing(key, "box", count, State.HELD, None if basis is None else D(basis), None)


def test_packs_that_nobody_opened_keep_their_part_to_the_cent() -> None:
    """96.00 for 16 packs of which 10 are opened, a quarter for fun: 36.00 stays, 15.00 was fun, 45.00 on the cards."""
    left = PacksLeft(Thing(2, "packs", 1, State.HELD, None), Fraction(6, 16))
    pulls = [Thing(3, "hit", 1, State.HELD, None, D(8)), Thing(4, "rest", 79, State.HELD, None, D(1))]
    change = register.open_sealed(box(), 1, pulls, D("0.25"), DAY, "open", packs_left=left)
    assert [t.basis for t in change.things] == [D("60.00"), D("36.00"), D("40.00"), D("5.00")]
    three = register.open_sealed(box(3, "100.00"), 2, pulls, D(0), DAY, "open", packs_left=left)
    assert [t.basis for t in three.things[:3]] == [D("54.17"), D("33.33"), D("12.50")]
    forgotten = register.open_sealed(box(basis=None), 1, pulls, D(0), DAY, "open", packs_left=left)
    assert not forgotten.entry.moves and all(t.basis is None for t in forgotten.things)
    with pytest.raises(ValueError, match="keeps a part"):
        PacksLeft(left.thing, Fraction(1))


def test_later_costs_find_their_way_and_what_left_may_return() -> None:
    cash = Posting(Account.CASH, D("-9.99"), "bank")
    sold = Thing(5, "sold", 1, State.SOLD, D("3.00"))
    raised = register.add_cost([box(), box(basis="0.00", key=2), sold], cash, DAY, "duty")
    assert [t.basis for t in raised.things] == [D("105.99"), D("0.00")]
    by_count = register.add_cost([box(2, "0.00"), box(1, "0.00", key=2)], cash, DAY, "duty")
    assert [t.basis for t in by_count.things] == [D("6.66"), D("3.33")]
    nothing_left = register.add_cost([sold, box(basis=None)], cash, DAY, "duty")
    assert {line.account for line in nothing_left.entry.lines} == {Account.COST_OF_SALES, Account.CASH}
    gift = replace(box(basis="0.00", key=3), gift=True)
    assert [t.key for t in register.add_cost([box(basis="0.00"), gift], cash, DAY, "duty").things] == [1]
    sent = register.take_out([box()], Action.SEND_BACK, DAY, "wrong series").things[0]
    money = Posting(Account.CASH, D("100.00"), "bank")
    cleared = register.take_refund([sent, box(basis="10.00", key=2)], money, DAY, "refund")
    assert {(line.account, line.amount) for line in cleared.entry.lines} == {
        (Account.CASH, D(100)), (Account.SUSPENSE, D("-96.00")), (Account.STOCK, D("-4.00")),
    }  # fmt: skip
    for purpose, account in register.PURPOSES.items():
        gone = register.take_out([box()], Action.GIVE_AWAY, DAY, "out", purpose)
        assert (account, D("96.00")) in {(line.account, line.amount) for line in gone.entry.lines}
    with pytest.raises(Conflict):
        register.remember_basis(box(), D(1), DAY, "known already")
    assert not register.remember_basis(
        box(basis=None), D(0), DAY, "a gift"
    ).entry.moves  # nothing moves, but it is known


@pytest.mark.parametrize("state", list(State))
@pytest.mark.parametrize("action", list(Action))
def test_what_is_gone_for_good_stays_gone(state: State, action: Action) -> None:
    """What is out of the house takes no further step but a buyer's return and a claim, and none leads back to being on
    its way; what cannot be done is said in words."""
    try:
        after = next_state(state, action)
    except Conflict as error:
        assert "_" not in str(error)
        return
    assert after is not State.IN_TRANSIT
    assert state in HELD_STATES or (state, action) in {
        (State.SOLD, Action.TAKE_RETURN), (State.LOST, Action.CLAIM),
    }  # fmt: skip
