"""Sorting: the rules' examples, the trade's figures, and small cases by brute force (C-23, C-33 to C-37)."""

from datetime import date
from decimal import Decimal
from itertools import permutations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tobbix.core.base.errors import InputError
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.pricing.summing import Apart, Shared, add_up, narrow_most
from tobbix.core.sorting.entering import Typed, read_typed
from tobbix.core.sorting.flaws import (
    USUAL_TABLE,
    Flaw,
    FlawKind,
    FlawRule,
    Side,
    Size,
    read_allowance,
    read_condition,
    state_readings,
    worth_by_condition,
)
from tobbix.core.sorting.goals import Copy, Seen, Slot, cost_singly, fill_goal, is_good_enough, state_goal, sum_seen
from tobbix.core.sorting.lots import LotTerms, PostageStep, make_lot, plan_lots, state_lots
from tobbix.core.sorting.passes import (
    USUAL_PASSES,
    Hoard,
    Pass,
    PassKind,
    PassRun,
    count_rounds,
    plan_sorting,
    state_plan,
)
from tobbix.core.sorting.pulling import Candidate, Work, judge_look_up, list_pulls, state_pulls

HOARD = Hoard(6_000, Decimal(12))


def school(*finds: str | None) -> list[Pass]:
    kinds = (PassKind.DECADE, PassKind.YEAR, PassKind.SET, PassKind.NUMBER)
    found = [None if it is None else Decimal(it) for it in finds]
    return [Pass(kind, kind.value, finds=it) for kind, it in zip(kinds, found, strict=True)]


def test_the_passes_of_the_example_and_where_they_stop() -> None:
    plan = plan_sorting(HOARD, school("0", "0", "260", "150"))
    assert [round(it.hours, 1) for it in plan.passes] == [4, 5, 6.7, 15] and plan.passes[3].cost == 180
    assert plan.stop == 3 and [it.past for it in plan.passes] == [False, False, False, True]
    assert round(plan.hours, 1) == 15.7  # the sets make up for decades and years, which find nothing by themselves
    assert state_plan(plan, "EUR").text() == (
        "It takes 15.7 hours; stop before “number”, which costs 180.00 and finds 150.00. 6,000 cards, an hour at 12.00."
    )
    assert plan_sorting(HOARD, school("0", "0", "100", "150")).stop == 0
    assert plan_sorting(HOARD, school("0", "0", "100", None)).stop is None  # unknown is never zero
    assert plan_sorting(HOARD, school("0", "0", None, "150")).stop == 3
    assert plan_sorting(HOARD, school("0", "0", "260", "181")).stop is None
    gone = plan_sorting(HOARD, school("0", "0", "260", "150"), done=[6_000, 3_000])
    assert round(gone.hours_left, 1) == round(2.5 + 6.667, 1)
    runs = [PassRun(PassKind.NUMBER, 700, 60), PassRun(PassKind.YEAR, 5_000, 60)]
    learnt = plan_sorting(HOARD, school(None, None, None, None), runs)
    assert [it.rate for it in learnt.passes] == [1_500, (1_200 + 5_000) / 2, 900, (400 + 700) / 2]
    assert [it.said.kind.value for it in plan_sorting(HOARD, USUAL_PASSES).passes][:2] == ["rescue", "decade"]
    with pytest.raises(InputError) as wrong:
        plan_sorting(Hoard(0, Decimal(-1), 1, 0), [Pass(PassKind.SET, " ", Decimal(2), Decimal(0), 0, Decimal(-1))])
    assert {fault.field for fault in wrong.value.faults} == {
        "cards", "hourly", "table", "box_holds",
        *(f"passes[0].{it}" for it in ("name", "share", "rate", "heaps", "finds")),
    }  # fmt: skip


@given(st.lists(st.tuples(st.integers(0, 50), st.integers(0, 60)), min_size=1, max_size=7))
def test_stopping_there_wins_most(money: list[tuple[int, int]]) -> None:
    hoard = Hoard(100, Decimal(1))
    passes = [Pass(PassKind.OTHER, "p", rate=Decimal(100) / (cost + 1), heaps=2, finds=Decimal(found)) for cost, found
              in money]  # fmt: skip
    plan = plan_sorting(hoard, passes)
    won = [sum(found - cost - 1 for cost, found in money[:upto]) for upto in range(len(money) + 1)]
    assert won[len(money) if plan.stop is None else plan.stop] == max(won)
    assert all(count_rounds(heaps, 3) == len(np.base_repr(heaps - 1, 3)) for heaps in range(2, 90))


def test_looking_up_and_what_to_pull() -> None:
    work = Work(12, 1.5, 5)
    poor, rich = judge_look_up(work, 1 / 60, 9), judge_look_up(work, 1 / 20, 9)
    assert (work.look_up_cost, poor.finds, poor.pays, rich.finds, rich.pays) == (
        pytest.approx(0.30), pytest.approx(0.15), False, pytest.approx(0.45), True,
    )  # fmt: skip
    cards = [Candidate(n, str(n), "x", 1, 0.1, 0.05) for n in range(1, 60)]
    found = list_pulls(work, [*cards, Candidate(60, "60", "Reed Horn", 1, 12, 10)])
    assert [(it.card.version, round(it.gain or 0, 2)) for it in found.pulled] == [(60, 9)]
    assert found.look_up is not None and round(found.look_up.finds, 2) == 0.15 and not found.look_up.pays
    assert state_pulls("Base", found, work, "EUR").text() == (
        "Pull 1 card of Base; looking the others up does not pay. A look costs 0.30 and finds 0.15 on average."
    )
    marked = list_pulls(
        work, [Candidate(1, "1", "x", 1, None, None, True), Candidate(2, "2", "y", 1, 0, 0, debut=True)]
    )
    assert [(it.card.number, it.why, it.gain) for it in marked.pulled] == [("2", "debut", -1), ("1", "watched", None)]
    assert list_pulls(work, [Candidate(1, "1", "x", 1, None, None)]).look_up is None
    with pytest.raises(InputError):
        Work(-1)


def wear(side: Side, x: float, y: float, kind: FlawKind = FlawKind.WEAR, size: Size = Size.SMALL) -> Flaw:
    return Flaw(kind, side, size, x, y)


def test_both_readings_of_the_examples() -> None:
    front, back, other = wear(Side.FRONT, 0.01, 0.02), wear(Side.BACK, 0.99, 0.98), wear(Side.BACK, 0.02, 0.5)

    def both(*flaws: Flaw) -> tuple[str, str]:
        found = read_condition(flaws)
        return found.lenient.condition, found.strict.condition

    assert both(front, back) == ("LP", "LP") and both(back, other) == ("NM", "LP") and both(back) == ("NM", "NM")
    edge, middle = (wear(Side.FRONT, x, 0.5, FlawKind.CREASE, Size.LARGE) for x in (0.02, 0.5))
    assert both(edge) == ("MP", "HP") and both(middle) == ("damaged", "damaged") and both() == ("NM", "NM")
    worths = worth_by_condition({"NM": Decimal(20)})
    assert state_readings(read_condition([back, other]), worths, "EUR", 2).text() == (
        "It is LP strictly, about 16.00; NM leniently, about 20.00. Strictly by 2 small wear at corner or edge, back."
    )
    bare = read_condition([front], [FlawRule((FlawKind.DENT,), (), None, (), *(read_allowance("LP"),) * 2)])
    assert bare.unjudged == (front,) and bare.strict.condition == "NM"
    assert "No row of the table is about: small wear at a corner, front" in state_readings(bare, (), "EUR", 1).text()
    assert worth_by_condition({})[0].amount is None
    assert [it.amount for it in worth_by_condition({"MP": Decimal(6)})][1] == Decimal(10)
    for text, why in (("", "say which"), ("NM 2", "the last"), ("LP, MP", "the last"), ("LP 3, NM", "get worse"),
                      ("NM 4, LP 2, MP", "must rise"), ("good 2, MP", "not a condition")):  # fmt: skip
        with pytest.raises(InputError, match=why):
            read_allowance(text)
    with pytest.raises(InputError, match="off the card"):
        read_condition([wear(Side.FRONT, 1.2, 0)])


@given(st.lists(st.builds(Flaw, st.sampled_from(FlawKind), st.sampled_from(Side), st.sampled_from(Size),
                          st.floats(0, 1), st.floats(0, 1)), max_size=12))  # fmt: skip
def test_strict_is_never_kinder_and_a_further_flaw_never_helps(flaws: list[Flaw]) -> None:
    assert all(read_allowance(rule.lenient.text) == rule.lenient for rule in USUAL_TABLE)
    ranks = [CONDITIONS.index(read_condition(flaws[:n]).strict.condition) for n in range(len(flaws) + 1)]
    found = read_condition(flaws)
    assert ranks == sorted(ranks) and not found.unjudged
    assert CONDITIONS.index(found.lenient.condition) <= CONDITIONS.index(found.strict.condition)


def test_a_goal_is_filled_by_the_best_copies_and_says_what_is_double() -> None:
    slots = [Slot("1", (1,), "NM"), Slot("2", (2,)), Slot("3", (3,), "Plumbline:9")]
    held = [Copy(10, 1, 3, "LP"), Copy(11, 1, 2, "mint"), Copy(12, 2, 1), Copy(13, 3, 1, None, "Plumbline", "8"),
            Copy(14, 3, 1, None, "Fourfold", "10"), Copy(15, 9, 4)]  # fmt: skip
    state = fill_goal(slots, held)
    assert [it.item for it in state.slots] == [11, 12, None] and state.doubles == {11: 1} and state.filled == 2
    assert is_good_enough(Copy(1, 1, 1, None, "Plumbline", "1"), "NM") and not is_good_enough(Copy(1, 1, 1), "damaged")
    ways = cost_singly(state.missing, {3: Decimal(40)})
    assert state_goal("the set", state, ways, "EUR").text() == (
        "1 missing of 3 of the set; singly they cost about 40.00. 1 copy is double."
    )
    assert cost_singly(state.missing, {}).singly is None and cost_singly((), {}).singly == 0
    days = [
        Seen(Decimal(3), date(2026, 1, 2), (Decimal(4), "USD")),
        Seen(Decimal(1), date(2025, 1, 2), (Decimal(2), "USD")),
    ]
    assert sum_seen([*days, None]) == (Seen(Decimal(4), date(2025, 1, 2), (Decimal(6), "USD")), 1)


@settings(max_examples=60)
@given(st.lists(st.sets(st.integers(1, 5), min_size=1, max_size=3), min_size=1, max_size=5),
       st.lists(st.tuples(st.integers(1, 5), st.integers(1, 2)), max_size=4))  # fmt: skip
def test_as_many_slots_are_filled_as_can_be(options: list[set[int]], held: list[tuple[int, int]]) -> None:
    slots = [Slot(str(at), tuple(sorted(it))) for at, it in enumerate(options)]
    copies = [Copy(at, version, count) for at, (version, count) in enumerate(held)]
    state = fill_goal(slots, copies)
    singles = [version for version, count in held for _ in range(count)]
    singles += [0] * len(slots)
    most = max(
        sum(one in it for one, it in zip(row, options, strict=True)) for row in permutations(singles[:7], len(slots))
    ) if len(singles) <= 7 else state.filled  # fmt: skip
    assert state.filled == most
    used = [it.item for it in state.slots if it.item is not None]
    assert all(used.count(at) <= count for at, (_, count) in enumerate(held))


def test_lots_fill_a_step_of_the_postage_or_are_given_away() -> None:
    way = SellingWay("b", "Bellbuoy", (Bracket(None, Decimal("0.1")),), postage=Decimal(9), packing=Decimal(9))
    steps = (PostageStep(1_000, Decimal(4)), PostageStep(5_000, Decimal(6)), PostageStep(10_000, Decimal("8.5")))
    terms = LotTerms(Decimal(8), way, steps, box_cost=Decimal("0.5"))
    one = make_lot(terms, 2_500)
    # the trade's figures: 2,500 commons bring 10 to 20, 0.4 to 0.8 cents a card (common practice, no source)
    assert one.price == 20 and one.price / one.cards == Decimal("0.008")
    assert one.net == Decimal("18") - 6 - Decimal("0.5") and one.per_kilogram == one.net / Decimal(4650) * 1000
    assert terms.most_in(steps[1]) == 2_694 and terms.step_for(2_695) == steps[2]
    plan = plan_lots(terms, 12_000)
    by_hand = max(
        sum(make_lot(terms, size).net for _ in range(12_000 // size))
        + (make_lot(terms, 12_000 % size).net if 12_000 % size else 0)
        for size in {terms.most_in(step) for step in steps}
    )
    assert plan.net == by_hand and sum(many * lot.cards for many, lot in plan.lots) == 12_000
    assert "for a thousand cards" in state_lots(plan, "EUR").text()
    poor = plan_lots(LotTerms(Decimal(4), way, steps, hourly=Decimal(12), minutes=Decimal(40)), 500)
    assert poor.give_away and state_lots(poor, "EUR").text().startswith("Give them away: 500 doubles in lots leave")
    with pytest.raises(InputError, match="heavier"):
        make_lot(terms, 9_000)
    with pytest.raises(InputError, match="by weight"):
        LotTerms(Decimal(8), way, ())


def test_what_is_typed_of_a_card() -> None:
    lines = ["Base", "Drizzle", "Drizzle Foil", "Night Passage"]
    assert read_typed("NP3 X12 damaged", lines) == Typed("NP3", 12, "damaged")
    assert read_typed("44*3 night", lines) == Typed("44", 3, None, "Night Passage")
    assert read_typed("44 drizzle h", lines) == Typed("44", 1, "HP", "Drizzle")
    assert read_typed("7 The Widow's Lamp x2 lp", lines) == Typed("7", 2, "LP", None, "The Widow's Lamp")
    for wrong in ("  ", "4 x0", "4 x10000"):
        with pytest.raises(InputError):
            read_typed(wrong, lines)


def test_a_sum_is_as_wide_as_what_its_parts_share_and_narrows_by_the_right_look_up() -> None:
    random = np.random.default_rng(5)
    shape = random.normal(size=(30, 4)) * 0.25
    covariance = shape @ shape.T + np.diag(random.uniform(0.01, 0.2, 30))
    part = Shared(random.integers(1, 5, 30).astype(float), random.normal(1, 0.8, 30), covariance, 0.05)
    apart = [Apart(50, 30, 90), Apart(5)]
    found = add_up([part], apart)
    drawn = np.exp(random.multivariate_normal(part.middle, covariance, 200_000)) @ part.counts
    drawn += 50 * np.exp(random.normal(size=200_000) * (apart[0].deviation or 0)) + 5
    assert [found.low, found.middle, found.high] == pytest.approx(np.quantile(drawn, [0.1, 0.5, 0.9]), rel=0.04)
    alone = add_up([Shared(part.counts, part.middle, np.diag(np.diag(covariance)), 0.05)], apart)
    assert alone.half_width < found.half_width and found.without_spread == 5

    def takes_off(at: int, known: tuple[int, ...] = ()) -> float:  # by the plain formula of a normal posterior
        now = covariance
        if known:
            seen = covariance[np.ix_(known, known)] + 0.05 * np.eye(len(known))
            now = covariance - covariance[:, known] @ np.linalg.solve(seen, covariance[known, :])
        learnt = np.outer(now[:, at], now[:, at]) / (now[at, at] + 0.05)
        return float(part.means @ np.expm1(learnt) @ part.means)

    order, after = narrow_most([part], 3)
    best = max(range(30), key=takes_off)
    assert order[0].place == best and len({it.place for it in order}) == 3
    assert order[0].narrows == pytest.approx(takes_off(best))
    others = [at for at in range(30) if at != best]
    assert order[1].place == max(others, key=lambda at: takes_off(at, (best,)))
    chosen = tuple(it.place for it in order)
    seen = covariance[np.ix_(chosen, chosen)] + 0.05 * np.eye(3)
    plain = covariance - covariance[:, chosen] @ np.linalg.solve(seen, covariance[chosen, :])
    assert after[0].covariance == pytest.approx(plain)
    assert add_up(after, []).half_width < add_up([part], []).half_width
    assert after[0].middle is part.middle
    assert narrow_most([], 3) == ([], []) and add_up([], [Apart(3)]).high == 3
