"""Rule C-08 (chase): the examples, and binomial and hypergeometric oracles."""

import pytest
from scipy import stats

from tests.sheets import document, example_1, line, sheet
from tobbix.core.base.errors import InputError
from tobbix.core.products.chase import Chase, Target, find_chase
from tobbix.core.products.completing import SetAim, complete_set
from tobbix.core.products.planning_sentences import state_set
from tobbix.core.products.producing import estimate_production, made_of
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import value_format
from tobbix.core.products.verdict import state_chase


def chase(made: object, target: Target, price: float | None = None) -> Chase:
    return find_chase(value_format(read_sheet(made).sheet, "box"), [target], price)


def test_one_in_720_packs_takes_1657_packs_for_nine_in_ten() -> None:
    made = document([line("a", ["1"] * 20, "1:36 packs")])
    found = chase(made, Target("a", frozenset({"A3"})))
    assert {n.chance: n.packs for n in found.needed}[0.9] == 1657
    assert pytest.approx(0.6324, abs=5e-5) == 1 - (1 - 1 / 720) ** 720
    assert [n.packs for n in found.needed] == [int(stats.nbinom(1, 1 / 720).ppf(c)) + 1 for c in (0.5, 0.75, 0.9, 0.95)]


def test_one_in_three_boxes_is_not_sure_after_three() -> None:
    found = chase(document([line("a", ["1", "1", "1"], "1 per box", "guaranteed")]), Target("a", frozenset({"A1"})))
    curve = dict(found.curve)
    assert [round(curve[n] * 100, 1) for n in (1, 3, 6)] == [33.3, 70.4, 91.2]
    assert found.needed[2].boxes == 6 and found.boxes_until_first == pytest.approx(3)


def test_the_best_card_of_example_1_costs_far_more_to_pull_than_to_buy() -> None:
    found = chase(example_1(), Target("c", frozenset({"C8"})), 60)
    assert found.per_box == pytest.approx(1 / 14) and found.single == 120
    assert found.long_run == pytest.approx(435.65, abs=5e-3)
    assert found.until_first == pytest.approx(found.long_run)


def test_boxes_of_one_case_are_not_independent() -> None:
    """Oracle: scipy.stats.hypergeom for a line that comes three times in a case of twelve."""
    made = sheet([line("a", ["9"], "3 per case", "guaranteed")], boxes_per_case=12)
    found = find_chase(value_format(made, "box"), [Target("a")], 5)
    for count, chance in found.curve:
        if count <= 12:
            assert chance == pytest.approx(stats.hypergeom(12, 3, count).sf(0))
    assert found.needed[-1].boxes == next(n for n in range(13) if stats.hypergeom(12, 3, n).sf(0) >= 0.95)
    assert found.boxes_until_first == pytest.approx(13 / 4)  # the least of 3 among 12, on average


def test_the_sentence_sets_the_spend_beside_the_price_and_says_when_it_is_a_bound() -> None:
    best = Target("c", frozenset({"C8"}))
    found, known = chase(example_1(), best, 60), value_format(read_sheet(example_1()).sheet, "box")
    said = state_chase(found, "Subject C8, C", known).text()
    assert "nine chances in ten you open 32 boxes" in said
    assert "you spend 435.65 on average; to buy one costs 120.00." in said
    made = example_1()
    made["lines"].append(line("post", ["9"], None, "unstated"))
    bounded = value_format(read_sheet(made).sheet, "box")
    assert "you spend up to 435.65" in state_chase(found, "x", bounded).text()
    assert "you gain" in state_chase(chase(example_1(), best, 1), "x", known).text()


def test_a_case_s_boxes_without_it_so_far_hold_the_other_thing_the_likelier() -> None:
    """By enumeration in this test: two boxes a case, one case hit, at even odds the target or a card worth 100."""
    lines = [line("t", ["1"], None), line("o", ["100"], None)]
    guarantee = {"format": "box", "count": 1, "per": "case", "lines": {"t": "0.5", "o": "0.5"}}
    made = {**document(lines, ["0"], boxes_per_case=2), "guarantees": [guarantee]}
    found = chase(made, Target("t"), 40)
    assert found.boxes_until_first == pytest.approx(3.5)  # 1 + 3/4, and half of all cases hold none
    met = 100 * sum(cases * 0.5 ** (cases + 1) for cases in range(60))  # one in each case before that with the first
    assert found.until_first == pytest.approx(40 * 3.5 - met) == pytest.approx(40.0)
    assert found.long_run == pytest.approx((40 - 25) * 4)


def test_packs_of_one_box_beside_loose_ones() -> None:
    """The rule's examples: three in 24 packs; an autograph and a relic in six, two bought."""
    made = document([line("a", ["9"], "3 per box", "guaranteed")], packs_per_box=24)
    found = chase(made, Target("a"))
    assert dict(found.of_one_box)[4] == pytest.approx(0.43676, abs=5e-6)
    assert dict(found.of_one_box)[22] == 1 and found.needed[2].packs == 18  # loose ones: (7/8)^18 < 0.1
    two = document(
        [line("a", ["9"], "1 per box", "guaranteed"), line("r", ["9"], "1 per box", "guaranteed")], packs_per_box=6
    )
    found = find_chase(value_format(read_sheet(two).sheet, "box"), [Target("a"), Target("r")], None)
    assert dict(found.of_one_box)[2] == pytest.approx(0.55556, abs=5e-6)


def test_what_only_a_second_kind_of_pack_holds_is_asked_in_packs_of_that_kind() -> None:
    made = document([line("a", ["9"], None)])
    fmt = made["formats"][0]
    for name in ("packs_per_box", "cards_per_pack"):
        del fmt[name]
    fmt["packs"] = [
        {"id": "plain", "count": 4, "cards": 5},
        {"id": "bonus", "count": 2, "cards": 1},
    ]
    made["lines"][1]["odds"] = [{"format": "box", "pack": "bonus", "statement": "1:4 packs", "basis": "average"}]
    found = chase(made, Target("a"))
    assert (
        found.pack == 1 and found.needed[0].packs == 3 and dict(found.of_one_box) == pytest.approx({1: 0.25, 2: 0.4375})
    )


def test_what_is_not_there_cannot_be_chased() -> None:
    for target, field in ((Target("zz"), "line"), (Target("a", frozenset({"A99"})), "number")):
        with pytest.raises(InputError) as caught:
            chase(example_1(), target)
        assert caught.value.faults[0].field == field


def test_more_boxes_than_were_made_are_never_asked_for() -> None:
    """Twenty cards numbered to 10 at 1:12: 2,400 packs, 200 boxes; one card of another line at 1:5,000 packs."""
    numbered = {**line("n", ["5"] * 20, "1:12 packs"), "print_run": 10}
    made = read_sheet(document([numbered, line("r", ["900"], "1:5000 packs")])).sheet
    valuation, boxes = value_format(made, "box"), made_of(estimate_production(made), "box")
    assert boxes is not None and boxes.boxes == pytest.approx(200)
    found = find_chase(valuation, [Target("r")], 60)
    said = state_chase(found, "Subject R1, R", valuation, boxes.boxes).text()
    assert said.startswith(
        "Subject R1, R is not to be had that way: nine chances in ten take 960 boxes, and only about 200"
    )
    assert "not to be had" not in state_chase(find_chase(valuation, [Target("n")], 60), "any N", valuation, 200).text()
    rare = complete_set(valuation, SetAim("r"), 60)
    assert "It would take 5,000 packs, and only about 2,400 were made" in state_set(rare, "EUR", boxes.packs).text()
