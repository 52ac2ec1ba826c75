"""Rule C-12 against plain enumeration of where the hits may lie: by enumeration in this test, no outside source."""

from itertools import combinations, product
from random import Random

import pytest

from tests.sheets import document, line
from tobbix.core.base.errors import InputError
from tobbix.core.opening.ahead import look_ahead
from tobbix.core.opening.results import Observed, judge
from tobbix.core.opening.session import Progress, Pulled, observe
from tobbix.core.opening.summary import state_some_packs
from tobbix.core.opening.weighing import check_reading
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.valuation import Valuation, value_format


def box(per: str, count: int, packs: int, boxes: int, shares: dict[str, str | None] | None = None) -> Valuation:
    lines = [line("t", ["10"], None), line("u", ["20"], None)]
    guarantee = {"format": "box", "count": count, "per": per, "lines": shares or {"t": "1"}}
    made = {**document(lines, ["0"], packs_per_box=packs, boxes_per_case=boxes), "guarantees": [guarantee]}
    return value_format(read_sheet(made).sheet, "box")


def test_two_hundred_half_open_cases() -> None:
    compare_half_open(Random(7), 200)


def compare_half_open(random: Random, count: int) -> None:
    """So many random cases, half open, against every world that what was seen leaves possible."""
    for at in range(count):
        packs, boxes = random.randint(1, 3), random.randint(1, 4)
        count, ours = random.randint(1, boxes), random.randint(1, boxes)
        opened = frozenset(p for p in range(1, ours * packs + 1) if random.random() < 0.5)
        # a world: which boxes hold a hit, and in which of their packs
        worlds = [
            frozenset(b * packs + 1 + p for b, p in zip(chosen, places, strict=True))
            for chosen in combinations(range(boxes), count)
            for places in product(range(packs), repeat=count)
        ]
        seen = random.choice(worlds) & opened
        likely = [world for world in worlds if world & opened == seen]
        left = [sum(p <= ours * packs and p not in opened for p in world) for world in likely]
        pulled = [Pulled(pack, "t", "T1") for pack in seen]
        progress = Progress(ours * packs, len(opened), which=opened)
        ahead = look_ahead(box("case", count, packs, boxes), progress, pulled)
        assert ahead.hits["t"] == pytest.approx(sum(left) / len(left)), at
        assert ahead.value == pytest.approx(10 * sum(left) / len(left)), at


def test_a_case_is_remembered_over_the_evenings_that_it_takes() -> None:
    """Oracle: three boxes of a case with two hits; in one evening or in two, what is left is the same."""
    made = box("case", 2, 2, 3)
    first = Progress(2, 2, which=frozenset({1, 2})), [Pulled(1, "t", "T1")]
    together = look_ahead(made, Progress(6, 3, which=frozenset({1, 2, 3})), first[1])
    apart = look_ahead(made, Progress(4, 1, which=frozenset({1})), [], [first])
    assert apart.hits["t"] == pytest.approx(together.hits["t"]) and apart.hits["t"] == pytest.approx(1)
    assert look_ahead(made, Progress(4, 1, which=frozenset({1})), []).hits["t"] != pytest.approx(1)


def test_some_of_the_packs_left_hold_something_owed() -> None:
    """The rule's figures: of three hits in 24 packs, four taken: 0.43676; of two lines in six, two taken: 0.55556."""
    assert look_ahead(box("box", 3, 24, 1), Progress(24, 0), []).chances[3] == pytest.approx(0.43676, abs=5e-6)
    lines = [line("t", ["10"], None), line("u", ["20"], None)]
    promised = [{"format": "box", "count": 1, "per": "box", "lines": {of: "1"}} for of in ("t", "u")]
    made = {**document(lines, ["0"], packs_per_box=8), "guarantees": promised}
    two = look_ahead(value_format(read_sheet(made).sheet, "box"), Progress(8, 2, which=frozenset({1, 2})), [])
    assert two.here == 6 and two.chances[1] == pytest.approx(0.55556, abs=5e-6)
    said = "".join(part.text for part in state_some_packs(two)[1].sentence)
    assert said == "2 packs of the 6 left of this box (1 T, 1 U still owed): at least one is in there with 55.6 %."
    begun = look_ahead(box("box", 1, 24, 1), Progress(24, 0, gone=18, trust=0.7), [])
    assert begun.chances[0] == pytest.approx(0.7 / 6) and begun.chances[-1] == pytest.approx(0.7)
    assert look_ahead(box("box", 1, 4, 1), Progress(4, 1, which=frozenset({1})), [Pulled(1, "t", "T1")]).chances == ()


def test_trust_moves_with_every_pack_and_a_hit_makes_it_certain() -> None:
    """The rule's figures: trust 0.7, one promised, 18 of 24 gone; after 20, 21, 22, 23 packs without it."""
    made = box("box", 1, 24, 1)
    for reached, chance in ((18, 0.1167), (20, 0.152), (21, 0.180), (22, 0.219), (23, 0.280)):
        ahead = look_ahead(made, Progress(24, reached - 18, gone=18, trust=0.7), [])
        assert ahead.live[0].chance == pytest.approx(chance, abs=6e-4)
    two = box("box", 2, 24, 1)
    ahead = look_ahead(two, Progress(24, 2, gone=18, trust=0.7), [Pulled(19, "t", "T1")])
    assert ahead.live[0].trust == 1 and ahead.live[0].chance == pytest.approx(1 / 4)


def test_more_hits_than_packs_an_unknown_split_and_a_cursor_that_jumped() -> None:
    assert look_ahead(box("box", 5, 1, 1), Progress(1, 0), []).value == 50  # one pack with five hits shows all
    pool = box("box", 1, 6, 1, {"t": None, "u": None})
    seen = look_ahead(pool, Progress(6, 1, which=frozenset({4})), [Pulled(4, "u", "U1")])  # the dearer of the two
    assert seen.live[0].left == 0 and seen.packs == 5 and seen.hits["t"] == 0
    several = look_ahead(
        box("box", 1, 6, 1), Progress(18, 3, gone=7, which=frozenset({8, 13, 14})), [Pulled(13, "t", "T1")]
    )
    assert several.packs == 8 and several.hits["t"] == pytest.approx(1)  # of the box begun by another; not of the third


def test_what_is_promised_is_judged_as_one_and_never_by_chance() -> None:
    pool = box("box", 1, 2, 2, {"t": "0.5", "u": "0.5"})
    pulled = [Pulled(1, "t", "T1"), Pulled(4, "u", "U1")]
    (found,) = judge(observe(pool, Progress(4, 4), pulled, complete=True))
    assert (found.line, found.name, found.observed, found.right, found.p_value) == ("t+u", "T or U", 2, True, None)
    case = box("case", 1, 2, 2)
    (found,) = judge(observe(case, Progress(4, 4), [], complete=True))
    assert found.right is False and found.corrected is None
    (unfinished,) = judge(observe(case, Progress(4, 3), [], complete=False))
    assert unfinished.right is None and unfinished.p_value is None


def test_a_line_that_was_not_seen_yet_stays_where_it_is_said_to_be() -> None:
    """The rule's figure: 1:4,100 and none in 29 packs stays about 1:4,110."""
    (found,) = judge([Observed("x", "X", 29, 1 / 4100, 0)])
    assert 1 / (found.posterior or 1) == pytest.approx(4110, abs=2)
    (known,) = judge([Observed("x", "X", 25, 1 / 4, 11)], strength=6)
    assert known.posterior == pytest.approx(0.34694, abs=5e-6)
    assert (known.posterior_low, known.posterior_high) == pytest.approx((0.2216, 0.4841), abs=5e-5)


def test_a_reading_that_does_not_fit_the_others_is_asked_about() -> None:
    others = [512.1, 512.4, 511.9, 512.8, 512.2]
    check_reading(513.9, others)
    check_reading(97.0, others[:4])  # too few to say
    with pytest.raises(InputError, match="the other 5 are about 512.2 g"):
        check_reading(97.0, others)
