"""The product sheet as a document: all faults together, each at its place."""

from typing import Any

import pytest

from tests.sheets import document, example_1, line
from tobbix.core.base.errors import InputError
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.revising import (
    parse_price,
    with_card_price,
    with_guarantee,
    with_odds,
    write_guarantee,
    write_odds,
)
from tobbix.core.products.writing import write_document
from tobbix.demo.releases import demo_sheets


def faults(made: object) -> list[tuple[str | None, int | None, str, str]]:
    with pytest.raises(InputError) as caught:
        read_sheet(made)
    return [(f.sheet, f.row, f.field, f.message) for f in caught.value.faults]


def test_three_faults_on_three_sheets_are_reported_together() -> None:
    made = example_1()
    made["formats"][0]["usable"] = "2"
    made["lines"][1]["odds"][0]["statement"] = "1:0 packs"
    made["lines"][2]["cards"][3]["price"] = "1,500"
    found = faults(made)
    assert [(sheet, row, field) for sheet, row, field, _ in found] == [
        ("Formats", 1, "formats[0].usable"),
        ("Odds", 1, "lines[1].odds[0].statement"),
        ("Cards", 4, "lines[2].cards[3].price"),
    ]


WRONG: list[tuple[dict[str, Any], str]] = [
    ({"currency": "euro"}, "three capital letters"),
    ({"priced_on": "1.11.2026"}, "a date like"),
    ({"extra": 1}, "is not a field here"),
    ({"formats": []}, "at least one"),
    ({"lines": "none"}, "must be a list"),
    ({"id": "two words"}, "without spaces"),
    ({"guarantees": [{"format": "tin", "count": 1, "per": "box", "lines": {"zz": "1"}}]}, "no format “tin”"),
    ({"guarantees": [{"format": "box", "count": 1, "per": "box", "lines": {"a": "0.5", "b": "0.4"}}]}, "not to 1"),
    ({"guarantees": [{"format": "box", "count": 1, "per": "box", "lines": {"base": "1"}}]}, "base line"),
]


@pytest.mark.parametrize(("change", "words"), WRONG)
def test_what_is_wrong_is_said_in_plain_words(change: dict[str, Any], words: str) -> None:
    assert words in str(faults({**example_1(), **change}))


@pytest.mark.parametrize("junk", [None, 3, [], {}, {"tobbix": "product-sheet", "schema_version": 2}, {"lines": {}}])
def test_what_is_no_sheet_at_all_is_refused(junk: object) -> None:
    assert faults(junk)


def test_references_repeats_and_checklists_are_checked_between_the_parts() -> None:
    made = document(
        [
            line("a", ["1"], "1:3 packs"),
            line("a", ["1"], "1:3 packs"),
            {**line("p", [], "1:9 packs"), "cards_of": "nobody"},
            {**line("q", ["1"], "1:9 packs"), "formats": ["box"], "not_in": ["box"]},
        ]
    )
    made["lines"][0]["cards"] *= 2
    said = str(faults(made))
    for words in ("“a” is there twice", "“1” is there twice", "lists its own cards", "only a base line", "not in it"):
        assert words in said


def test_a_line_silent_about_a_format_is_a_question_that_can_be_confirmed() -> None:
    read = read_sheet(document([line("a", ["1"], None)]))
    assert [(q.sheet, q.row) for q in read.questions] == [("Lines", 2)]
    confirmed = read.sheet.confirmed_silence()
    assert confirmed.line_by_id["a"].not_in == ("box",)
    assert read_sheet(write_document(confirmed)).questions == ()


@pytest.mark.parametrize("made", demo_sheets(), ids=lambda made: made.id)
def test_the_canonical_document_reads_back_to_the_same_sheet(made: Any) -> None:
    written = write_document(made)
    assert read_sheet(written).sheet == made
    assert write_document(read_sheet(written).sheet) == written


def test_corrections_are_checked_like_a_sheet_and_count_a_revision() -> None:
    made = demo_sheets()[0]
    priced = with_card_price(made, "slate", "7", parse_price("12.5"))
    assert (priced.revision, priced.priced_on) == (1, made.priced_on)  # prices have a revision and days of their own
    assert with_card_price(priced, "slate", "7", parse_price("follows")).lines == made.lines
    changed = with_odds(made, "fog", "tin", None, "2 per box, guaranteed")
    assert write_odds(changed.line_by_id["fog"], "tin", None) == "2 per box, guaranteed"
    split = with_guarantee(made, 0, "2 per box: Rope & Rivet 25 %, hand 0.75")
    assert write_guarantee(split, split.guarantees[0]) == "2 per box: Rope & Rivet 0.25, Keeper’s Hand 0.75"
    for wrong in ("1 per box", "1 per box: hand 0.6", "1 per box: base 1", "1 per box: hand x", "200 per box: hand 1"):
        with pytest.raises(InputError) as caught:
            with_guarantee(made, 0, wrong)
        assert {fault.field for fault in caught.value.faults} == {"guarantee"}
    gone = with_odds(changed, "fog", "tin", None, "not in it")
    assert gone.line_by_id["fog"].not_in == ("tin",)
    with pytest.raises(InputError, match="odds"):
        with_odds(made, "fog", "tin", None, "9 per pack")
