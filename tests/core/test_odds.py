"""Rule C-01: what odds mean, and what is refused."""

from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest

from tests.sheets import document, line, sheet
from tobbix.core.base.errors import InputError
from tobbix.core.products.odds import card_rate, parse_cell, parse_statement, rate_per_pack
from tobbix.core.products.prices import value_line
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.slots import build_box_model


def test_a_named_card_of_twenty_at_1_in_36_comes_once_in_720_packs() -> None:
    rate = rate_per_pack(parse_statement("1:36 packs"), 24, None)
    assert card_rate(rate, Decimal(1), Decimal(20)) == Fraction(1, 720)


@pytest.mark.parametrize(
    ("text", "rate"),
    [
        ("1:36 packs", Fraction(1, 36)),
        ("2.5 per pack", Fraction(5, 2)),
        ("3 per box", Fraction(3, 24)),
        ("1:4 boxes", Fraction(1, 96)),
        ("2 per case", Fraction(2, 288)),
        ("1:2 cases", Fraction(1, 576)),
    ],
)
def test_every_statement_comes_down_to_a_rate_per_pack(text: str, rate: Fraction) -> None:
    assert rate_per_pack(parse_statement(text), 24, 12) == rate
    assert str(parse_statement(str(parse_statement(text)))) == text


@pytest.mark.parametrize(
    "text", ["1:0 packs", "0 per box", "2:36 packs", "1:36", "-1 per box", "1 in 36", "1:3e2 packs"]
)
def test_other_words_are_refused_by_the_name_of_their_field(text: str) -> None:
    with pytest.raises(InputError) as caught:
        parse_statement(text)
    assert caught.value.faults[0].field == "statement"


def test_a_guarantee_is_whole_and_a_cell_reads_what_people_type() -> None:
    assert parse_cell("Not in it") is None
    assert parse_cell("2 per box, guaranteed") == (parse_statement("2 per box"), "guaranteed")
    for text in ("1:4 packs guaranteed", "1.5 per box guaranteed", "2 per pack guaranteed"):
        with pytest.raises(InputError, match="whole number"):
            parse_cell(text)


def test_unknown_prices_count_at_the_mean_and_the_lowest_or_leave_the_line_unknown() -> None:
    half = sheet([line("a", ["1", "3", None, None], "1:3 packs")])
    valued = value_line(half, half.line_by_id["a"])
    assert valued.high is not None and valued.low is not None
    assert (valued.high.severity.mean, valued.low.severity.mean) == (2.0, 1.5)
    fewer = sheet([line("a", ["1", "3", None, None, None], "1:3 packs")])
    assert value_line(fewer, fewer.line_by_id["a"]).high is None


def test_a_print_run_makes_every_card_equally_frequent_also_the_parents_short_prints() -> None:
    odds = [{"format": "box", "statement": "1:9 packs", "basis": "average"}]
    parallel = {"kind": "parallel", "cards_of": "a", "price_multiple": "2", "price_floor": "3", "odds": odds}
    made = sheet(
        [
            line("a", ["1", "4"], "1:3 packs", weights=["1", "0.5"]),
            {"id": "run", "name": "Run", "print_run": 50, "price_overrides": {"A2": "9"}, **parallel},
            {"id": "loose", "name": "Loose", **parallel},
        ]
    )
    run, loose = (value_line(made, made.line_by_id[key]) for key in ("run", "loose"))
    assert run.shares.tolist() == [0.5, 0.5]
    assert loose.shares.tolist() == pytest.approx([2 / 3, 1 / 3])
    assert [v.price for v in run.versions] == [Decimal(3), Decimal(9)]  # the floor, the override


def test_slots_are_kept_for_guarantees_and_the_rarest_lines_share_the_last() -> None:
    lines = [line(key, ["1"], f"1:{n} packs") for key, n in (("a", 10), ("b", 4), ("c", 2), ("d", 3))]
    made = sheet([*lines, line("g", ["5"], "2 per box", "guaranteed")], packs_per_box=4, cards_per_pack=4)
    pack = build_box_model(made, made.formats[0]).packs[0]
    assert [[name for name, _ in slot.chances] for slot in pack.slots] == [["c"], ["d"], ["b", "a"]]
    assert pack.base_slots == 1


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"cards_per_pack": 1}, "more hits than the 1 cards"),
        ({"cards_per_pack": 3}, "come 1.5 times a pack together"),
    ],
)
def test_a_format_whose_hits_pass_its_slots_is_refused(change: dict[str, Any], words: str) -> None:
    lines = [line("a", ["1"], "1.5 per pack"), line("b", ["1"], "1 per pack"), line("c", ["1"], "1 per pack")]
    with pytest.raises(InputError) as caught:
        read_sheet(document(lines, **change))
    assert words in str(caught.value)
    assert all(fault.sheet in ("Formats", "Odds") for fault in caught.value.faults)
