"""Grading: the rules' examples, and small batches by trying every choice (C-25, C-26, C-29)."""

from dataclasses import replace
from decimal import Decimal as D
from fractions import Fraction
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tobbix.core.base.errors import InputError
from tobbix.core.grading.batch import BatchCard, BatchQuestion, BatchTier, choose_batch
from tobbix.core.grading.gain import Cracking, GradingQuestion, TierLimit, work_out_gain
from tobbix.core.grading.submission_cost import GradingCharge, SentCard, share_submission
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay

# the rule's example: commission 13 % of the price and 1.20 a sale
WAY = SellingWay("w", "w", (Bracket(None, D("0.13")),), FeeBase.PRICE, fixed_fee=D("1.20"))
CHANCES = {"10": D("0.42"), "9": D("0.41"), "8": D("0.13"), "7": D("0.04")}
VALUES: dict[str, D | None] = {"10": D(240), "9": D(96), "8": D(70), "7": D(55)}
ASKED = GradingQuestion(CHANCES, VALUES, D(80), D("27.40"), WAY)


def test_the_example_with_and_without_cracking_out() -> None:
    found = work_out_gain(ASKED)
    assert round(float(found.gain), 2) == 34.77 and float(found.raw_net) == 68.40
    assert found.break_even.case == "value" and round(float(found.break_even.gem or 0), 3) == 0.158
    assert float(found.chance_of_loss) == pytest.approx(0.58) and found.per_month is None
    cracked = work_out_gain(replace(ASKED, crack=Cracking(D("0.02"), D("1.00")), months=D(4)))
    assert round(float(cracked.expected_net), 3) == 132.169 and round(float(cracked.gain), 2) == 36.37
    assert [it.action.value for it in cracked.by_grade] == ["sell", "sell", "crack", "crack"]
    assert cracked.per_month == cracked.gain / 4
    told = work_out_gain(replace(ASKED, crack=Cracking(D(0), D(0), D(1))))
    assert told.gain == found.gain  # who is told of the grade pays next to nothing
    over = work_out_gain(replace(ASKED, tier=TierLimit(D(96), D(20))))
    assert float(found.gain - over.gain) == pytest.approx(0.42 * 20)  # 96 itself does not pass the limit
    worthless = work_out_gain(replace(ASKED, values={**VALUES, "7": D(1)}, tier=TierLimit(D("0.5"), D(3))))
    assert worthless.by_grade[3].net == -3 and worthless.by_grade[3].action.value == "keep"


def test_when_it_always_or_never_pays() -> None:
    cheap, dear = work_out_gain(replace(ASKED, cost=D(0), raw=D(1))), work_out_gain(replace(ASKED, cost=D(400)))
    assert (cheap.break_even.case, dear.break_even.case) == ("always", "never")
    flat = replace(ASKED, values={**VALUES, "10": D(60)})
    assert work_out_gain(flat).break_even.case == "never"
    assert work_out_gain(replace(flat, cost=D(0), raw=D(20))).break_even.case == "always"
    sure = replace(ASKED, chances={"10": D(1)})
    assert work_out_gain(sure).break_even.case == "always" and work_out_gain(sure).break_even.gem is None


def test_what_cannot_be_asked_is_refused_at_its_field() -> None:
    def fields(**change: object) -> set[str]:
        with pytest.raises(InputError) as refused:
            work_out_gain(replace(ASKED, **change))  # type: ignore[arg-type]
        return {fault.field for fault in refused.value.faults}

    assert fields(chances={"10": D("0.5"), "9": D("0.4")}) == {"chances"}
    assert fields(chances={"9": D("0.5"), "10": D("0.5")}) == {"chances"}
    assert fields(values={"10": D(240), "9": D(96), "8": D(70)}) == {"values.7"}
    assert fields(months=D(0), raw=D(-1), crack=Cracking(D(2), D(-1))) == {
        "months", "raw", "crack.breakage", "crack.cost"
    }  # fmt: skip
    unseen = work_out_gain(replace(ASKED, chances={**CHANCES, "6": D(0)}))
    assert unseen.by_grade[-1].net is None and unseen.gain == work_out_gain(ASKED).gain


@given(st.integers(0, 100), st.integers(0, 100))
def test_gain_rises_with_the_chance_of_a_gem_where_the_gem_nets_more(one: int, two: int) -> None:
    low, high = sorted((D(one) / 100, D(two) / 100))

    def gain(gem: D) -> Fraction:
        rest = {grade: chance / D("0.58") * (1 - gem) for grade, chance in CHANCES.items() if grade != "10"}
        rest["7"] += 1 - gem - sum(rest.values())
        return work_out_gain(replace(ASKED, chances={"10": gem, **rest})).gain

    assert gain(low) <= gain(high)
    even = work_out_gain(ASKED).break_even.gem
    assert even is not None and (gain(low) >= 0) == (low >= even)


def test_a_submission_is_shared_to_the_cent() -> None:
    cards = [SentCard(f"c{at}", "me" if at < 20 else "Bram") for at in range(30)]
    charges = [
        GradingCharge(name, D(amount), "EUR", None, None)
        for name, amount in (("service", "552.00"), ("return", "66.60"), ("parcel", "39.00"), ("duty", "71.10"))
    ]
    # the rule's: 18.40 + 52.00 / 40 + 66.60 / 30 + 71.10 / 30 a card; 39.00 is the parcel's part of these thirty
    found = share_submission("EUR", cards, charges)
    assert found.per_card["c0"] == D("24.29") and float(found.planned["c29"]) == pytest.approx(24.29)
    assert found.per_owner == {"me": D("485.80"), "Bram": D("242.90")} and found.total == D("728.70")
    odd = share_submission("EUR", cards[:3], [GradingCharge("fee", D("10.01"), "USD", D("0.915"), ("c2", "c0")),
                                              GradingCharge("back", D("-1.00"), "EUR", None, None)])  # fmt: skip
    # 9.15915 is 9.16 at home, 4.58 each; of the refund the first carries the odd cent
    assert odd.per_card == {"c0": D("4.24"), "c1": D("-0.33"), "c2": D("4.25")} and odd.total == D("8.16")
    yen = share_submission("JPY", cards[:2], [GradingCharge("fee", D("1.5"), "USD", D(101), None)])
    assert yen.per_card == {"c0": D(76), "c1": D(76)}
    with pytest.raises(InputError) as refused:
        share_submission("EUR", [SentCard("a", "me"), SentCard("a", " ")], [
            GradingCharge("x", D(1), "USD", None, ("b",)), GradingCharge("y", D(1), "EUR", D(2), ()),
        ])  # fmt: skip
    assert {fault.field for fault in refused.value.faults} == {
        "cards[1].id", "cards[1].owner", "charges[0].rate", "charges[0].over", "charges[1].rate", "charges[1].over",
    }  # fmt: skip


FREE = SellingWay("free", "free")


def sure_card(key: str, value: int, raw: int = 10) -> BatchCard:
    return BatchCard(key, {"10": D(1)}, {"10": D(value)}, D(raw))


def test_the_example_and_why_each_card_is_in_or_out() -> None:
    cards = (sure_card("a", 25), sure_card("b", 19), sure_card("c", 14))
    asked = BatchQuestion(FREE, cards, (BatchTier("bulk", D(5), 2),), parcel_out=D(6), parcel_back=D(3))
    found = choose_batch(asked)
    assert (found.total_gain, found.tiers, found.proven, found.bound) == (5, {"bulk": ("a", "b")}, True, 5.0)
    assert found.why["a"].startswith("sent in bulk: it gains 10.00")
    assert found.why["c"].startswith("it gains nothing in any tier: -1.00")
    nothing = choose_batch(replace(asked, parcel_out=D(60)))
    assert (nothing.total_gain, nothing.tiers, nothing.bound, nothing.proven) == (0, {}, 0.0, True)
    assert nothing.not_sent == ("a", "b", "c") and "do not pay" in nothing.why["a"]
    limited = choose_batch(replace(asked, tiers=(BatchTier("bulk", D(5), 1, D(9), D(1)),)))
    assert limited.total_gain == 0 and "takes a declared value of 10.00" in limited.why["a"]
    equal = choose_batch(replace(asked, tiers=(BatchTier("bulk", D(5), 1, D(10), D(1)),)))
    assert equal.tiers == {"bulk": ("a", "b")}  # equal may go, though the graded value then costs an up-charge
    with pytest.raises(InputError) as refused:
        choose_batch(replace(asked, cards=(cards[0], cards[0]), budget=D(-1)))
    assert {fault.field for fault in refused.value.faults} == {"cards[1].id", "budget"}


tiers = st.builds(
    BatchTier, st.just("t"), st.integers(0, 8).map(D), st.integers(1, 3), st.none() | st.integers(5, 25).map(D),
    st.integers(0, 4).map(D), st.booleans(),
)  # fmt: skip
questions = st.builds(
    lambda values, raws, kinds, per, out, back, member, owned, budget, most: BatchQuestion(
        FREE, tuple(sure_card(f"c{at}", value, raw) for at, (value, raw) in enumerate(zip(values, raws, strict=False))),
        tuple(replace(tier, id=f"t{at}") for at, tier in enumerate(kinds)), D(per), D(out), D(back),
        None if member is None else D(member), owned and member is not None, budget, most,
    ),
    st.lists(st.integers(0, 40), min_size=1, max_size=4), st.lists(st.integers(1, 20), min_size=4, max_size=4),
    st.lists(tiers, min_size=1, max_size=2), st.integers(0, 2), st.integers(0, 6), st.integers(0, 4),
    st.none() | st.integers(0, 9), st.booleans(), st.none() | st.integers(0, 60).map(D), st.none() | st.integers(0, 4),
)  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(questions)
def test_no_choice_is_better(asked: BatchQuestion) -> None:
    def worth(choice: tuple[int, ...]) -> Fraction | None:
        sent = [(card, asked.tiers[to - 1]) for card, to in zip(asked.cards, choice, strict=True) if to]
        used = {tier.id for _, tier in sent}
        if not sent:
            return Fraction(0)
        joins = not asked.owned and any(tier.members_only for _, tier in sent)
        if joins and asked.membership is None:
            return None
        shared = asked.parcel_out + len(used) * asked.parcel_back + ((asked.membership or 0) if joins else 0)
        spent = shared + sum((tier.fee + asked.per_card for _, tier in sent), D(0))
        if asked.budget is not None and spent > asked.budget:
            return None
        if asked.most_cards is not None and len(sent) > asked.most_cards:
            return None
        for tier in asked.tiers:
            of = [card for card, it in sent if it.id == tier.id]
            if of and len(of) < tier.min_cards:
                return None
            if tier.value_limit is not None and any(card.stated > tier.value_limit for card in of):
                return None
        gained = D(0)
        for card, tier in sent:
            value = card.values["10"] or D(0)
            up = tier.up_charge if tier.value_limit is not None and value > tier.value_limit else D(0)
            gained += value - up - tier.fee - asked.per_card - card.raw
        return Fraction(gained - shared)

    found = choose_batch(asked)
    every = product(range(len(asked.tiers) + 1), repeat=len(asked.cards))
    best = max(gain for gain in map(worth, every) if gain is not None)
    assert found.total_gain == best and found.proven and found.bound == pytest.approx(float(best), abs=1e-6)
    chosen = {card: to + 1 for to, tier in enumerate(asked.tiers) for card in found.tiers.get(tier.id, ())}
    assert worth(tuple(chosen.get(card.id, 0) for card in asked.cards)) == best
    looser = choose_batch(replace(asked, budget=None, most_cards=None))
    assert looser.total_gain >= found.total_gain  # a looser limit never makes it worse
