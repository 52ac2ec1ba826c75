"""Rules C-05, C-10, C-11 and the plan around them: collation, production, formats, choices, trials, the limit."""

from dataclasses import replace
from datetime import date
from decimal import Decimal as D

import numpy as np
import pytest
from scipy import stats

from tests.sheets import document, example_1, line, sheet
from tobbix.core.base.errors import InputError, TobbixError
from tobbix.core.planning.habits import AS_USUAL, Preferences, SellingHabits, ViewChoice, choose_worth
from tobbix.core.planning.rip_hold_buy import (
    Choice,
    SealedPlan,
    Sums,
    WantedCard,
    open_with_wanted,
    state_choice,
    weigh_choices,
)
from tobbix.core.planning.spending import LimitState, judge_spending
from tobbix.core.products.answer import Worked, answer_at
from tobbix.core.products.box_value import BoxValue, find_box_value
from tobbix.core.products.collating import Collation, check_collation, plan_batches, read_figures, simulate_batch
from tobbix.core.products.comparing import compare_formats, state_comparison
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.planning_sentences import state_production
from tobbix.core.products.producing import estimate_production
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.trying import Edit, EditKind, add_edit, drop_stale, state_trial, try_edits
from tobbix.core.products.valuation import Valuation, value_format
from tobbix.core.products.verdict import Asked, ask
from tobbix.core.products.worth import GROSS, Horizon, ValueBasis, Worth
from tobbix.demo.releases import demo_sheets
from tobbix.demo.selling import demo_ways

TODAY = date(2026, 11, 25)


def simulate(valuation: Valuation, boxes: int, collation: Collation, seed: int = 4) -> list[np.ndarray]:
    check_collation(valuation, collation)
    return [
        simulate_batch(valuation, size, collation, np.random.default_rng(key))
        for size, key in plan_batches(boxes, seed)
    ]


def test_collated_boxes_keep_the_mean_of_c03_and_repeat_with_their_seed() -> None:
    made = demo_sheets()[0]
    net = Worth(ValueBasis.FLOOR, demo_ways()[0], 0.5, 0.02, sells_else=0.7)
    for collation in (Collation(True, False), Collation(True, True), Collation(False, True)):
        for valuation in (value_format(made, "harbour"), value_format(made, "harbour", worth=net)):
            totals = simulate(valuation, 80_000 if collation.no_repeats else 20_000, collation)
            figures = read_figures(totals, 96.0, (0.5,), 0.1)
            exact = find_box_value(made, "harbour", worth=valuation.worth).mean
            assert abs(figures.mean - exact) < 4.5 * figures.mean_error
    again = simulate(value_format(made, "harbour"), 9_000, Collation())
    same = simulate(value_format(made, "harbour"), 9_000, Collation())
    assert all((a == b).all() for a, b in zip(again, same, strict=True)) and [b.size for b in again] == [
        4000,
        4000,
        1000,
    ]


def test_a_whole_line_in_every_box_is_worth_the_same_each_time() -> None:
    made = sheet([line("g", ["1", "2", "4", "8"], "4 per box", "guaranteed")], ["0.05"] * 68)
    totals = np.concatenate(simulate(value_format(made, "box"), 500, Collation()))
    assert totals == pytest.approx(15 + 68 * 0.05)  # each card once
    two = sheet([line("g", ["1", "2", "4", "8"], "2 per box", "guaranteed")], ["0"] * 100)
    seen = set(np.concatenate(simulate(value_format(two, "box"), 30_000, Collation())).round(6))
    assert seen == {3, 5, 9, 6, 10, 12}  # every pair of different cards, and never one twice


def test_weights_are_inclusion_chances_and_even_hits_do_not_scatter() -> None:
    made = sheet([line("w", ["1", "0"], "1 per box", "guaranteed", weights=["3", "1"])], ["0"] * 100)
    totals = np.concatenate(simulate(value_format(made, "box"), 40_000, Collation()))
    assert abs(totals.mean() - 0.75) < 4 * (0.75 * 0.25 / 40_000) ** 0.5
    spread = sheet([line("a", ["1"], "1:5 packs")], ["0"] * 100)  # 12 packs: 2.4 a box
    even = np.concatenate(simulate(value_format(spread, "box"), 20_000, Collation(no_repeats=False, even=True)))
    scattered = np.concatenate(simulate(value_format(spread, "box"), 20_000, Collation(no_repeats=False)))
    assert set(even) == {2, 3} and scattered.var() == pytest.approx(stats.binom(12, 0.2).var(), rel=0.05)
    bricked = replace(spread, formats=(replace(spread.formats[0], usable=D("0.5")),))
    for collation in (Collation(False, True), Collation(False, False)):
        totals = np.concatenate(simulate(value_format(bricked, "box"), 40_000, collation))
        assert totals.mean() == pytest.approx(1.2, abs=0.03)


def test_what_cannot_be_packed_so_is_refused() -> None:
    crowded = sheet([line("g", ["1", "2"], "3 per box", "guaranteed")], ["0"] * 100)
    with pytest.raises(InputError, match="without repeats") as caught:
        check_collation(value_format(crowded, "box"), Collation())
    assert caught.value.faults[0].field == "no_repeats"
    check_collation(value_format(crowded, "box"), Collation(no_repeats=False))


def numbered(print_run: int, odds: str, **more: object) -> dict[str, object]:
    return {**line(f"n{print_run}", ["1"] * 60, odds), "print_run": print_run, **more}


def test_numbered_lines_tell_the_production_of_the_example() -> None:
    made = sheet(
        [numbered(150, "1:12 packs"), numbered(75, "1:25 packs"), numbered(30, "1:61 packs"),
         numbered(10, "1:190 packs"),
         numbered(5, "1:400 packs", redemption=True), line("i", ["1"] * 10, "1:6 packs")],
        packs_per_box=20, boxes_per_case=10,
    )  # fmt: skip
    production = estimate_production(made)
    assert [e.packs for e in production.estimates] == pytest.approx([108_000, 112_500, 109_800, 114_000, None])
    box = production.formats[0]
    assert (box.packs, box.low, box.high, box.estimates) == pytest.approx((111_150, 108_000, 114_000, 4))
    assert (box.boxes, box.cases) == pytest.approx((5557.5, 555.75))
    inserts = {item.line: item for item in production.copies}["i"]
    assert inserts.common == pytest.approx(111_150 / 60) and inserts.not_counted == ()
    assert "5,560 of the Box" in state_production(made, production).text()


def test_a_line_of_several_formats_needs_their_shares() -> None:
    made = document([numbered(100, "1:10 packs")], ["0.05"])
    made["formats"].append({**made["formats"][0], "id": "tin", "name": "Tin"})
    made["lines"][1]["odds"].append({"format": "tin", "statement": "1:20 packs", "basis": "average"})
    two = read_sheet(made).sheet
    alone = estimate_production(two)
    assert alone.estimates[0].packs is None and "several formats" in (alone.estimates[0].why or "")
    assert alone.copies[0].common is None and "not identified" in state_production(two, alone).text()
    shared = estimate_production(two, {"box": 0.75, "tin": 0.25})
    total = 6_000 / (0.75 / 10 + 0.25 / 20)  # sum over formats of packs / N = print run x cards
    assert shared.estimates[0].packs == pytest.approx(total)
    assert [f.packs for f in shared.formats] == pytest.approx([0.75 * total, 0.25 * total])
    # what is in one format only tells the total as well, and the shares stay as they were given
    made["lines"].append({**numbered(50, "1:30 packs"), "not_in": ["tin"]})
    three = estimate_production(read_sheet(made).sheet, {"box": 0.75, "tin": 0.25})
    totals = [total, 50 * 60 * 30 / 0.75]
    assert [f.packs for f in three.formats] == pytest.approx([0.75 * sum(totals) / 2, 0.25 * sum(totals) / 2])
    assert (three.formats[1].low, three.formats[1].high) == pytest.approx((0.25 * totals[0], 0.25 * totals[1]))
    for wrong in ({"box": 0.5}, {"pot": 1.0}, {"box": 1.5, "tin": -0.5}):
        with pytest.raises(InputError) as caught:
            estimate_production(two, wrong)
        assert caught.value.faults[0].field == "shares"


def test_formats_stand_side_by_side_per_pack_card_and_money() -> None:
    made = demo_sheets()[0]
    values = [find_box_value(made, fmt.id) for fmt in made.formats]
    facts = compare_formats(values, [96.0, 27.5, 14.9, None], BuyingCosts())
    harbour, _, _, pack = facts
    assert harbour.only_here == ("Gale",) and harbour.per_pack == 6.0
    assert harbour.returned == pytest.approx(harbour.mean / 96) and pack.returned is None
    assert harbour.rare == pytest.approx(1 / 12 + 16 / 62 + 16 / 190 + 16 / 2300)
    said = state_comparison(facts, values).text()
    assert "gives back most" in said and "Before selling costs" in said
    with pytest.raises(InputError):
        compare_formats(values, [None] * 4, BuyingCosts(), 0)


def weigh(value: BoxValue, asked: Asked, sealed: SealedPlan, wanted: list[WantedCard]) -> Sums:
    """The cards are called by their number, in the line of that letter."""

    def valuation_at(factor: float) -> Valuation:
        return value_format(value.valuation.sheet, "box", worth=replace(GROSS, factor=factor))

    opened = open_with_wanted(valuation_at, [(card.name[0].lower(), card.name, card.price) for card in wanted])
    return weigh_choices(opened, asked, sealed, lambda price: max(price * 0.9 - 1, 0.0), wanted)


def test_the_first_copy_of_a_wanted_card_counts_at_what_buying_it_costs() -> None:
    """The rule's example: a box with one hit, 60 or 20 at even odds, the 60 wanted at 120."""
    made = sheet([line("c", ["60", "20"], "1 per box", "guaranteed")], ["0"], packs_per_box=1, cards_per_pack=1)
    value = find_box_value(made, "box")
    wanted = [WantedCard("C1", 120.0, 0.5, 0.5)]
    sums = weigh(value, ask(95.0, value, BuyingCosts()), SealedPlan(None), wanted)
    assert sums.open_loss == pytest.approx(0.5) and sums.open == pytest.approx(70 - 95)
    # three hits in one box: by enumeration, the second and third copy at 60
    three = sheet([line("c", ["60", "20"], "3 per box", "guaranteed")], ["0"], packs_per_box=3, cards_per_pack=1)
    value = find_box_value(three, "box")
    sums = weigh(value, ask(195.0, value, BuyingCosts()), SealedPlan(None), [WantedCard("C1", 120.0, 1.5, 0.875)])
    assert sums.open == pytest.approx(3 * 40 + 60 * 0.875 - 195)
    assert sums.open_loss == pytest.approx(0.5)  # none: 60, one: 160, two: 200, three: 240
    # all prices at the factor found, opening earns as much as the best other choice
    factor = {(t.choice, t.what): t.value for t in sums.thresholds}[Choice.OPEN, "market_factor"] or 0
    assert factor * (3 * 40 + 60 * 0.875) == pytest.approx(195)
    with pytest.raises(InputError, match="more than 99,999,999"):
        SealedPlan(100.0, 10.0, 50.0)
    # with further copies for less too, the spread and the solved mean speak of the same box
    for worth in (GROSS, replace(GROSS, horizon=Horizon(depth=0.2))):

        def moved(factor: float, worth: Worth = worth) -> Valuation:
            return value_format(three, "box", worth=replace(worth, factor=factor))

        deep = open_with_wanted(moved, [("c", "C1", 120)])
        assert deep.outcomes.mean == pytest.approx(deep.mean_at(1.0))
        assert deep.outcomes.grid_mean == pytest.approx(deep.mean_at(1.0))


def test_rip_hold_or_buy_and_what_would_have_to_be_true() -> None:
    made = read_sheet(example_1()).sheet
    value = find_box_value(made, "box")
    asked = ask(60.0, value, BuyingCosts(time=5))
    wanted = [WantedCard("C8", 140.0, 1 / 14, 1 / 14)]
    sums = weigh(value, asked, SealedPlan(60.0, 0.05, 2, 0.5), wanted)
    assert sums.open == pytest.approx(value.mean + 20 / 14 - 65)
    assert sums.sell_sealed == pytest.approx(60 * 0.9 - 1 - 60)
    assert sums.hold == pytest.approx(60 * 1.05**2 * 0.9 - 1 - 1 - 60)
    assert (sums.best, sums.singles_cost) == (Choice.SINGLES, 140)
    by = {(t.choice, t.what): t.value for t in sums.thresholds}
    # at each threshold the named choice is as good as the best one
    price = by[Choice.OPEN, "landed_price"] or 0
    assert weigh(value, ask(price, value, BuyingCosts(time=5)), SealedPlan(None), wanted).open == pytest.approx(0)
    growth = by[Choice.HOLD, "growth"] or 0
    assert weigh(value, asked, SealedPlan(60.0, growth, 2, 0.5), wanted).hold == pytest.approx(0, abs=1e-6)
    sealed = by[Choice.SELL_SEALED, "sealed_value"] or 0
    assert weigh(value, asked, SealedPlan(sealed), wanted).sell_sealed == pytest.approx(0, abs=1e-6)
    said = state_choice(sums, value, asked, SealedPlan(60.0)).text()
    assert said.startswith("Opening it loses in 9 times out of 10") and "buy the cards you want singly" in said
    cheap = weigh(value, ask(10.0, value, BuyingCosts()), SealedPlan(10.0), [])
    assert cheap.best is Choice.OPEN and ("singles", "landed_price") in {(t.choice, t.what) for t in cheap.thresholds}
    unknown = weigh(value, ask(None, value, BuyingCosts()), SealedPlan(None), [])
    assert (
        unknown.open is None
        and "Give today’s price" in state_choice(unknown, value, Asked(None, None, None), SealedPlan(None)).text()
    )


def test_trials_are_applied_in_order_and_fall_away_when_the_sheet_no_longer_has_them() -> None:
    made = read_sheet({**example_1(), "id": "t"}).sheet
    edits = add_edit((), Edit(EditKind.ODDS, "1:6 packs", line="a", format="box"))
    edits = add_edit(edits, Edit(EditKind.LINE_PRICES, "0.5", line="b"))
    edits = add_edit(edits, Edit(EditKind.ODDS, "1:2 packs", line="a", format="box"))  # in place of the first
    edits = add_edit(edits, Edit(EditKind.BOX_PRICE, "44", format="box"))
    tried = try_edits(made, edits)
    assert len(edits) == 3 and tried.format_by_id["box"].price == 44
    before, after = find_box_value(made, "box"), find_box_value(tried, "box")
    assert after.by_line[1].hits == 6 and after.by_line[2].value == pytest.approx((before.by_line[2].value or 0) / 2)
    rule, costs = PayingRule(), BuyingCosts()
    old = answer_at(Worked(before, None, None, None), 60, rule, costs)
    new = answer_at(Worked(after, None, None, None), 44, rule, costs)
    assert "With this you lose in" in state_trial((before, old), (after, new), 3).text()
    smaller: ProductSheet = replace(made, lines=tuple(item for item in made.lines if item.id != "b"))
    kept, stale = drop_stale(smaller, edits)
    assert len(kept) == 2 and "no line “b”" in stale[0].message
    for wrong in (Edit(EditKind.LINE_PRICES, "-1", line="a"), Edit(EditKind.USABLE, "3", format="box"),
                  Edit(EditKind.ODDS, "1:2 packs", line="base", format="box")):  # fmt: skip
        with pytest.raises(TobbixError):
            try_edits(made, [wrong])


def test_values_are_net_as_usual_and_gross_without_a_way() -> None:
    ways, habits = demo_ways(), Preferences(selling=SellingHabits(way="swapslip", hourly_rate=12, minutes_per_sale=5))
    usual = choose_worth(habits, ways, AS_USUAL, [("fog", 0.5)])
    assert usual.way is not None and usual.way.name == "Swapslip" and usual.handling == pytest.approx(1.0)
    assert usual.sold("fog") == 0.5 and usual.sold("hand") == 1.0
    assert choose_worth(Preferences(), ()).basis is ValueBasis.GROSS
    assert choose_worth(habits, ways, ViewChoice(ValueBasis.GROSS)).way is None
    assert habits.costs_with_time.time == pytest.approx(6.0)
    with pytest.raises(InputError):
        choose_worth(habits, ways, ViewChoice(ValueBasis.NET, "nowhere"))


def test_the_limit_points_to_help_in_general_words_and_never_to_more() -> None:
    states = {total: judge_spending(D(total), D(400), "EUR", TODAY).state for total in (0, 319, 320, 400)}
    assert list(states.values()) == [LimitState.WITHIN, LimitState.WITHIN, LimitState.NEAR, LimitState.OVER]
    over = judge_spending(D(412), D(400), "EUR", TODAY).verdict.text()
    assert "412.00 of 400.00 EUR" in over and "help lines" in over
    assert "no limit" in judge_spending(D(5), None, "EUR", TODAY).verdict.text()
