"""Product sheets as files: exact round trips, faults by row, and files that mean harm."""

import io
import json
import zipfile
from dataclasses import replace
from typing import Any

import jsonschema
import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import ROOT
from tests.sheets import cards, documents, example_1
from tobbix.core.base.errors import InputError
from tobbix.demo.releases import demo_sheets
from tobbix.formats.product_sheets import SheetFile, dump_sheet, parse_sheet

SCHEMA = json.loads((ROOT / "docs/product-sheet.schema.json").read_text())


@pytest.mark.parametrize("made", demo_sheets(), ids=lambda made: made.id)
def test_both_files_give_the_sheet_back_and_json_fits_its_published_schema(made: Any) -> None:
    for form in SheetFile:
        assert parse_sheet(dump_sheet(made, form)).sheet == made
    jsonschema.validate(json.loads(dump_sheet(made, SheetFile.JSON)), SCHEMA)


TEXTS = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp", "Cf"]), max_size=30)


@given(st.lists(TEXTS, min_size=25, max_size=25))
@settings(max_examples=6, deadline=None)
def test_any_text_stays_text_also_what_looks_like_a_formula(words: list[str]) -> None:
    made = example_1()
    subjects = [(start + text).strip() for text in words for start in ("=1+1", "+", "-", "@x")]
    for card, subject in zip(made["lines"][0]["cards"], subjects, strict=True):
        card["subject"] = subject
    sheet = parse_sheet(json.dumps(made).encode()).sheet
    again = parse_sheet(dump_sheet(sheet, SheetFile.XLSX)).sheet
    assert [card.subject for card in again.lines[0].cards] == subjects
    assert again == sheet


@given(documents())
@settings(max_examples=15, deadline=None)
def test_any_sheet_goes_round_through_both_files(made: dict[str, Any]) -> None:
    sheet = parse_sheet(json.dumps(made).encode()).sheet
    for form in SheetFile:
        assert parse_sheet(dump_sheet(sheet, form)).sheet == sheet


def test_a_workbook_typed_by_hand_reads_numbers_dates_and_kinds_of_packs() -> None:
    book = openpyxl.load_workbook(io.BytesIO(dump_sheet(demo_sheets()[0], SheetFile.XLSX)))
    book["Formats"]["F2"] = "std 15 x 8; bonus 1 x 3"
    book["Formats"]["D2"] = book["Formats"]["E2"] = None
    book["Formats"]["H2"] = 96.5
    book["Cards"]["E2"] = 0.15
    book["Release"]["J2"] = __import__("datetime").datetime(2026, 11, 2)
    sheet = parse_sheet(_saved(book)).sheet
    assert [(p.id, p.count, p.cards) for p in sheet.formats[0].packs] == [("std", 15, 8), ("bonus", 1, 3)]
    assert (str(sheet.formats[0].price), str(sheet.lines[0].cards[0].price)) == ("96.5", "0.15")
    assert sheet.priced_on.isoformat() == "2026-11-02"


def test_faults_of_a_workbook_name_sheet_row_and_column() -> None:
    book = openpyxl.load_workbook(io.BytesIO(dump_sheet(demo_sheets()[0], SheetFile.XLSX)))
    book["Formats"]["I3"] = 3
    book["Odds"]["D5"] = "1:0 packs"
    book["Cards"]["E20"] = "cheap"
    with pytest.raises(InputError) as caught:
        parse_sheet(_saved(book))
    assert {(f.sheet, f.row, f.field) for f in caught.value.faults} == {
        ("Formats", 3, "usable"),
        ("Odds", 5, "statement"),
        ("Cards", 20, "price"),
    }
    book["Cards"]["E20"] = "=1+1"
    book["Cards"]["A21"] = "nobody"
    with pytest.raises(InputError, match="Cards, row 20, price: holds a formula"):
        parse_sheet(_saved(book))


def test_all_faults_of_a_workbook_are_said_in_one_round() -> None:
    """Of columns, cells, rows, fields and what the parts say of each other; and nothing that only follows from one."""
    made = parse_sheet(json.dumps(example_1()).encode()).sheet
    book = openpyxl.load_workbook(io.BytesIO(dump_sheet(made, SheetFile.XLSX)))
    formats, lines, odds, dear = (book[name] for name in ("Formats", "Lines", "Odds", "Cards"))
    heads = {sheet.title: [cell.value for cell in sheet[1]] for sheet in (formats, lines, odds, dear)}

    def put(sheet: Any, row: int, column: str, value: object) -> None:
        sheet.cell(row, heads[sheet.title].index(column) + 1, value)

    formats.cell(1, 12, "colour")  # a column that there is not
    put(dear, 4, "price", "=1+1")  # a formula
    put(dear, 6, "line", "zz")  # a card of no line
    put(formats, 2, "price", "dear")  # a field
    put(lines, 3, "print_run", "0")
    put(odds, 2, "statement", "1:0 packs")
    put(odds, 3, "format", "tin")  # a reference
    put(dear, 110, "number", dear.cell(109, heads["Cards"].index("number") + 1).value)  # there twice
    with pytest.raises(InputError) as caught:
        parse_sheet(_saved(book))
    assert {(fault.sheet, fault.row, fault.field) for fault in caught.value.faults} == {
        ("Formats", 1, "colour"), ("Cards", 4, "price"), ("Cards", 6, "line"), ("Formats", 2, "price"),
        ("Lines", 3, "print_run"), ("Odds", 2, "statement"), ("Odds", 3, "format"), ("Cards", 110, "number"),
    }  # fmt: skip


def _saved(book: openpyxl.Workbook) -> bytes:
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def _bomb() -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("[Content_Types].xml", b" " * 500_000_000)
    return stream.getvalue()


def _entities() -> bytes:
    """A workbook whose parts define entities that expand without end."""
    whole = io.BytesIO(dump_sheet(demo_sheets()[4], SheetFile.XLSX))
    stream = io.BytesIO()
    with zipfile.ZipFile(whole) as source, zipfile.ZipFile(stream, "w") as sink:
        for name in source.namelist():
            content = source.read(name)
            if name == "xl/workbook.xml":
                head = b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]>'
                content = content.replace(b"<workbook", head + b"<workbook", 1)
            sink.writestr(name, content)
    return stream.getvalue()


HOSTILE = {
    "empty": b"  ",
    "not text": b"\xff\xfe\x00",
    "cut off": b'{"tobbix": ',
    "deep": b"[" * 200_000,
    "long number": b'{"id": ' + b"9" * 6_000 + b"}",
    "not a number": b'{"id": NaN}',
    "twice": b'{"id": "a", "id": "b"}',
    "no workbook": b"PK\x03\x04 nothing",
    "bomb": _bomb(),
    "entities": _entities(),
    "too large": b"1" * (25 * 1024 * 1024),
}


@pytest.mark.parametrize("content", HOSTILE.values(), ids=HOSTILE.keys())
def test_a_broken_or_hostile_file_is_refused_in_plain_words(content: bytes) -> None:
    with pytest.raises(InputError):
        parse_sheet(content)


def test_a_sheet_wrong_all_over_is_given_up_after_two_hundred_faults() -> None:
    made = example_1()
    made["lines"][0]["cards"] = cards("", ["x"] * 5_000)
    with pytest.raises(InputError) as caught:
        parse_sheet(json.dumps(made).encode())
    assert len(caught.value.faults) == 201


def zipped(**files: str) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        for name, text in files.items():
            archive.writestr(f"sheets/{name}.csv", text)
    return stream.getvalue()


def test_csv_keeps_texts_that_look_like_formulas_and_names_every_fault_by_table_and_row() -> None:
    made = demo_sheets()[0]
    cards = (replace(made.lines[0].cards[0], subject="=1+1"), replace(made.lines[0].cards[1], subject="'@x"))
    odd = replace(made, lines=(replace(made.lines[0], cards=cards + made.lines[0].cards[2:]), *made.lines[1:]))
    content = dump_sheet(odd, SheetFile.CSV)
    assert parse_sheet(content).sheet == odd and dump_sheet(odd, SheetFile.CSV) == content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        files = {name.removesuffix(".csv"): archive.read(name).decode() for name in archive.namelist()}
    assert "'=1+1" in files["Cards"] and "''@x" in files["Cards"]
    files["Formats"] = files["Formats"].replace("harbour,Harbour box,hobby,16,", "harbour,Harbour box,hobby,none,")
    files["Odds"] = files["Odds"].replace("1:4 packs", "now and then")
    with pytest.raises(InputError) as caught:
        parse_sheet(zipped(**files))
    assert {(f.sheet, f.row, f.field) for f in caught.value.faults} == {
        ("Formats", 2, "packs_per_box"),
        ("Odds", 2, "statement"),
    }
    for broken in (zipped(Release="id\n"), zipped(Release='id\n"x'), content[:200] + b"x" * 50):
        with pytest.raises(InputError):
            parse_sheet(broken)
