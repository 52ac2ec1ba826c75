"""Pages of results on the real store: read, judged, kept once, taken back; words of titles that were explained."""

import json
from datetime import date
from decimal import Decimal

import pytest
from sqlalchemy import event

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.tables import Column, ColumnSaid
from tobbix.core.pricing.titles import Means
from tobbix.formats.item_lists import write_xlsx
from tobbix.formats.tables import table_text
from tobbix.services.pricing import adding, looking_up, pasting, seeing, side_by_side, tabling, trading
from tobbix.services.pricing.pasting import ReadPage
from tobbix.services.products.catalogue import Catalogue

CARD = ("test", "c", "C8", "")
PAGE = """Subject C8 Test 2025 NM
150.00 EUR + 2.00
sold 3 Nov 2026
Subject C8 C line Plumbline 9
400.00 EUR + 2.00
sold 4 Nov 2026
Subject C7 gilded edge
35.00 EUR + 2.00
sold 5 Nov 2026
Somebody else
35.00 EUR
sold 5 Nov 2026
"""


def read(catalogue: Catalogue, text: str = PAGE, only: tuple[str, str, str, str] | None = None) -> ReadPage:
    return pasting.read_page(catalogue, text, "bellbuoy", None, CompKind.SOLD, False, only)


def rows(page: ReadPage) -> list[tuple[int, Comp]]:
    return [(it.version, it.comp) for it in page.proposed if it.ready and it.version and it.comp]


def test_a_page_is_kept_once_taken_back_and_there_again(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    with pytest.raises(NotFound):
        read(catalogue, only=("test", "c", "C99", ""))
    assert [it.doubt for it in read(catalogue).proposed][1] == "“plumbline 9” may be a grade"
    pasting.teach(catalogue, "Plumbline 9", Means.STATE, "Plumbline:9", None)
    page = read(catalogue)
    assert page.verdict.text().startswith("4 results: 3 ready, 1 left out.")
    assert [it.refused for it in page.proposed][3] == "no card that is known here is named in it"
    added = pasting.keep_page(catalogue, "bellbuoy", rows(page))
    assert added.added == 3 and added.batch is not None
    view = seeing.read_price(catalogue, *CARD, "NM", 90)
    assert view.found.last == 152 and {it.state for it in view.states} == {"NM", "Plumbline:9"}
    assert {it.comp.note for it in view.seen} == {"Subject C8 Test 2025 NM", "Subject C8 C line Plumbline 9"}
    again = read(catalogue)
    assert [it.known for it in again.proposed] == [True, True, True, False] and rows(again) == []
    adding.take_back_batch(catalogue, added.batch)
    assert seeing.read_price(catalogue, *CARD, "NM", 90).seen == ()
    assert len(rows(read(catalogue))) == 3
    adding.take_back_batch(catalogue, added.batch, again=True)
    assert seeing.read_price(catalogue, *CARD, "NM", 90).found.used == 1
    with pytest.raises(NotFound):
        adding.take_back_batch(catalogue, added.batch + 1)
    late = Comp(CompKind.SOLD, TODAY.replace(year=2030), Decimal(12), "XXX")
    with pytest.raises(InputError) as caught:
        pasting.keep_page(catalogue, None, [(10**9, late)])
    assert {fault.field for fault in caught.value.faults} == {"rows.0.version", "rows.0.day", "rows.0.currency"}


def test_words_that_were_explained_tell_the_line_from_then_on(catalogue: Catalogue) -> None:
    made = example_1()
    made["lines"].append({**made["lines"][1], "id": "gilded", "name": "Gilded", "cards": [
        {"number": "C7", "subject": "Subject C7", "price": "50"}]})  # fmt: skip
    take(catalogue, made)

    def line(title: str) -> str | None:
        page = read(catalogue, f"{title}\n12.00 EUR\nsold 3 nov\n")
        version = page.proposed[0].version
        return None if version is None else page.cards[version].line

    assert line("Subject C7 gilded") == "gilded" and line("Subject C7 golden rim C7") != "gilded"
    pasting.teach(catalogue, "Golden Rim", Means.LINE, "Gilded", "test")
    assert line("Subject C7 golden rim C7") == "gilded"
    pasting.teach(catalogue, "mock up", Means.NO_CARD, "", None)
    assert line("Subject C7 mock-up") is None and line("Subject C7 mocked") is not None
    with pytest.raises(InputError):
        pasting.teach(catalogue, "fine", Means.STATE, "splendid", None)
    for number, _ in pasting.list_taught(catalogue):
        pasting.forget_taught(catalogue, number)
    assert line("Subject C7 golden rim C7") != "gilded"


def test_words_to_look_up_with_are_proposed_and_ones_own_stay(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    assert looking_up.read_words(catalogue, CARD, "NM").words == "Subject C8 Test 2025 C C8"
    looking_up.keep_words(catalogue, CARD, "c8 holo  test", "reprint, lot ,")
    own = looking_up.read_words(catalogue, CARD, "NM")
    assert (own.words, own.without, own.own) == ("c8 holo test", ("reprint", "lot"), True)
    looking_up.keep_words(catalogue, CARD, "", "")
    assert not looking_up.read_words(catalogue, CARD, "Plumbline:9").own


def test_a_long_page_takes_no_more_statements_than_a_short_one(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    counted = []
    event.listen(catalogue.database.engine, "before_cursor_execute", lambda *_: counted.append(1))
    read(catalogue)
    short = len(counted)
    found = read(catalogue, PAGE * 250)
    assert len(counted) - short <= short + 2 and len(found.proposed) == 1000


WIDE = "card\tnumber\traw\tpop 9\nSubject C8 Test 2025\tC8\t150\t40\nSubject C7 Test 2025\tC7\t35\t\nNobody\t1\t5\t2\n"


def test_a_wide_table_is_read_corrected_remembered_and_kept(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    wish = tabling.TableWish("quay", unsaid=CompKind.ASK, grader="Plumbline")
    found = tabling.read_listed(catalogue, WIDE, None, wish)
    assert found.guessed and [c.means.value for c in found.columns] == ["title", "number", "price", "copies"]
    cards = [found.cards[it.version].number if it.version else None for it in found.page.proposed]
    assert cards == ["C8", "C7", None]
    assert [it.refused is None for it in found.counts] == [True, False]
    mended = [*found.columns[:2], ColumnSaid(Column.LOW, None, "EUR"), found.columns[3]]
    kept = tabling.read_listed(catalogue, WIDE, mended, wish)
    counts = [(it.version, it.count.counted) for it in kept.counts if it.version and it.count.counted]
    added = pasting.keep_page(catalogue, "quay", rows(kept.page), counts)
    tabling.remember(catalogue, WIDE, mended)
    assert added.added == 2 and added.batch is not None
    seen = seeing.read_price(catalogue, *CARD, "NM", 365)
    assert [(it.comp.kind, it.comp.market) for it in seen.seen] == [(CompKind.BOOK_LOW, "quay")]
    again = tabling.read_listed(catalogue, WIDE, None, wish)
    assert not again.guessed and again.columns == tuple(mended)  # as it was said
    assert [it.known for it in again.page.proposed] == [True, True, False]
    adding.take_back_batch(catalogue, added.batch)
    assert not seeing.read_price(catalogue, *CARD, "NM", 365).seen
    with pytest.raises(InputError):
        tabling.read_listed(catalogue, "no table", None, wish)


def test_any_list_of_sales_is_read_by_its_keys(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    sale = {"id": "1", "kind": "sold", "on": "2026-11-03", "price": "150", "currency": "EUR", "release": "test",
            "line": "c", "number": "C8", "condition": "NM"}  # fmt: skip
    graded = {
        **sale,
        "id": "2",
        "condition": None,
        "grader": "Plumbline",
        "grade": "9",
        "shipping": "2.50",
        "tax": "0.75",
    }
    graded = {name: value for name, value in graded.items() if value is not None}
    document = {"tobbix": "sales", "schema_version": 1, "home": "EUR", "observations": [sale, graded]}
    text = table_text(json.dumps(document).encode())
    found = tabling.read_listed(catalogue, text, None, tabling.TableWish())
    assert all(it.ready for it in found.page.proposed)
    kept = [it.comp for it in found.page.proposed if it.comp]
    assert [(comp.state, comp.shipping, comp.tax) for comp in kept] == [
        ("NM", None, None), ("Plumbline:9", Decimal("2.50"), Decimal("0.75")),
    ]  # fmt: skip
    book = write_xlsx("Sales", ["card", "price", "day"], [["Subject C8 Test 2025", 150.5, date(2026, 11, 3)]])
    found = tabling.read_listed(catalogue, table_text(book), None, tabling.TableWish())
    assert [(it.ready, it.comp and it.comp.price) for it in found.page.proposed] == [(True, Decimal("150.5"))]


def test_cards_stand_side_by_side_raw_and_graded_in_few_statements(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    adding.add_sales(catalogue, *CARD, "150 + 2 3 nov\n148 + 4 4 nov\n150 + 2 5 nov\n400 + 2 Plumbline:9 4 nov", "NM")
    counted = []
    event.listen(catalogue.database.engine, "before_cursor_execute", lambda *_: counted.append(1))
    found = side_by_side.look_beside(catalogue, "test", None, "Plumbline", Decimal(100))
    assert len(counted) < 30 and found.all_of == 178 and found.grades == ("9",)
    first = found.rows[0]
    assert (first.card.number, first.value and first.value.amount) == ("C8", Decimal("152.00"))
    assert first.gains == {"9": Decimal("150.00")} and first.least == "9"  # 402 less 152 and 100
    assert all(row.graded == {} for row in found.rows[1:])  # of no other card a grade was seen
    assert side_by_side.look_beside(catalogue, None, None, None, None).rows == ()  # nothing is held
    with pytest.raises(NotFound):
        side_by_side.look_beside(catalogue, "nobody", None, None, None)


def test_a_trade_goes_by_what_is_known_or_agreed(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    best, other = (
        seeing.read_price(catalogue, "test", "c", number, "", None, 90).card.version for number in ("C8", "C7")
    )
    wanted = [trading.Wanted(best, "NM", 1)], [trading.Wanted(other, "NM", 2), trading.Wanted(best, "Plumbline:9", 1)]
    found = trading.read_trade(catalogue, *wanted, Decimal(0))
    assert (found.trade.given, found.trade.cash) == (120, None)  # of the grade nothing is known
    agreed = [*wanted[1][:1], trading.Wanted(best, "Plumbline:9", 1, Decimal(90))]
    assert trading.read_trade(catalogue, wanted[0], agreed, Decimal("0.25")).trade.cash == 80  # 2 x 40 + 90 less 90
    with pytest.raises(InputError) as caught:
        trading.read_trade(catalogue, [], [trading.Wanted(999_999, "NM", 1)], Decimal(0))
    assert caught.value.faults[0].field == "get.0.version"
