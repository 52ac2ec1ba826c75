"""Cards that last: named before a sheet comes, taken over by it, found among all, and known to the things owned."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import date
from decimal import Decimal as D

import pytest
from sqlalchemy import event, select

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import document, example_1, line
from tobbix.core.base.errors import Conflict, InputError, NeedsConfirmation, NotFound
from tobbix.core.holdings.states import Action
from tobbix.core.products.describing import NoteKind, size_of, write_sizes
from tobbix.core.products.identifying import Shows
from tobbix.core.products.naming import Seen, SeenRelease
from tobbix.db.base import Database
from tobbix.db.holdings.tables import ItemRow
from tobbix.demo.releases import demo_sheets
from tobbix.formats.item_lists import parse_items, write_csv
from tobbix.services.buying import purchasing
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import PurchaseInput, ThingInput
from tobbix.services.opening import opening
from tobbix.services.products import describing, editing, identifying, importing, naming
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet
from tobbix.services.stock import bringing, items

LANTERNS = SeenRelease("Lanterns", 1987)


@contextmanager
def counted(database: Database) -> Iterator[list[str]]:
    """The statements that are sent meanwhile."""
    sent: list[str] = []

    def note(connection: object, cursor: object, statement: str, *rest: object) -> None:
        if not statement.startswith(("SAVEPOINT", "RELEASE", "ROLLBACK")):
            sent.append(statement)

    event.listen(database.engine, "before_cursor_execute", note)
    try:
        yield sent
    finally:
        event.remove(database.engine, "before_cursor_execute", note)


def lanterns() -> dict[str, object]:
    """A sheet of the release that was only seen: its Gold has the cards of the base."""
    made = document(
        [line("tall", ["1", "2"], "1:4 packs"), {"id": "gilt", "name": "Gold", "kind": "parallel", "print_run": 50,
         "cards_of": "base", "price_multiple": "4", "odds": [{"format": "box", "statement": "1:9 packs",
                                                              "basis": "average"}]}],
        ["1", "3"],
    )  # fmt: skip
    made |= {"id": "lanterns-1987", "release": {"name": "lanterns", "series": None, "year": 1987, "publisher": "Quay"}}
    return made


def find(catalogue: Catalogue, words: str) -> list[tuple[str, str, str]]:
    return [(c.release, c.line_name, f"{c.number} {c.variant}".strip()) for c in items.search_cards(catalogue, words)]


def test_any_card_out_of_a_shoebox_has_an_identity_that_a_later_sheet_takes_over(catalogue: Catalogue) -> None:
    store = catalogue.database
    rows = parse_items(
        b"name,release,line,number,variant\nBeam,Lanterns 1987,gold,2,\nBeam,lanterns 1987,Base,1,error\n"
    )
    bringing.import_items(store, rows, TODAY)
    assert items.sum_items(store, items.ItemFilter(identity="unknown")).total == 2
    gold = naming.name_card(catalogue, LANTERNS, Seen("Gold", "2", "The  Lamp"))
    naming.name_card(catalogue, replace(LANTERNS, name="lanterns"), Seen("base", "1", "A Beam / Gull", "error"))
    naming.name_card(catalogue, gold.release, Seen("Odd ends", "X9", ""))
    assert naming.name_card(catalogue, LANTERNS, Seen("gold", "2", "said otherwise")) == gold
    assert find(catalogue, "lanterns lamp") == [("lanterns-1987", "Gold", "2")] and gold.subject == "The Lamp"
    known = items.list_items(store, items.ItemFilter(release="lanterns-1987"), "id", False, 0, 9).items
    assert [row.version_id is not None for row in known] == [True, True] and known[0].version_id == gold.version
    assert (
        known[1].variant == "error"
        and items.read_item(store, known[0].number).history[-1].text == "known now: of Lanterns 1987"
    )
    stub = naming.list_stubs(catalogue)[0]
    assert (stub.key, stub.lines, stub.cards) == ("lanterns-1987", 3, 3)
    with pytest.raises(NotFound, match="no product sheet yet"):
        catalogue.read_sheet("lanterns-1987")

    with pytest.raises(NeedsConfirmation) as asked:
        take(catalogue, lanterns(), confirm_silent=True)
    words = asked.value.questions[0].message
    assert asked.value.flag == "same_release" and "2 of 3 cards match" in words and "Odd ends X9" in words
    content = json.dumps(lanterns()).encode()
    taken = importing.import_sheet(catalogue, content, True, False, take_over=True)
    assert taken.outcome == "added" and taken.sheet.revision == 2 and naming.list_stubs(catalogue) == []
    assert find(catalogue, "lanterns x9") == [("lanterns-1987", "Odd ends", "X9")]
    found = {(c.line, c.number, c.variant): c for c in items.search_cards(catalogue, "lanterns")}
    assert found["gilt", "2", ""].version == gold.version and found["gilt", "2", ""].price == 12
    assert found["base", "1", "error"].subject == "Subject 1"
    assert items.read_item(store, known[0].number).item.line == "gilt"
    assert [card.line for card in naming.read_stub(catalogue, "lanterns-1987").cards] == ["Base", "Odd ends"]

    assert editing.undo_change(catalogue, "lanterns-1987").gone
    assert naming.read_stub(catalogue, "lanterns-1987").cards == (
        Seen("Gold", "2", "The Lamp"), Seen("Odd ends", "X9", "X9"),
        Seen("base", "1", "A Beam / Gull", "error"),
    )  # fmt: skip
    assert items.read_item(store, known[0].number).item.version_id == gold.version
    again = importing.import_sheet(catalogue, content, True, False, take_over=True)
    assert again.sheet.revision > taken.sheet.revision and find(catalogue, "gold 2")[0][2] == "2"


def test_a_sheet_of_another_release_leaves_what_was_seen_alone(catalogue: Catalogue) -> None:
    naming.name_card(catalogue, LANTERNS, Seen("Base", "1", "Lamp"))
    other = importing.import_sheet(catalogue, json.dumps(lanterns()).encode(), True, False, take_over=False)
    assert other.sheet.id == "lanterns-1987" and naming.list_stubs(catalogue)[0].key == "lanterns-1987-2"
    for wrong, field in ((SeenRelease(" ", 1987), "name"), (SeenRelease("x", 87), "year")):
        with pytest.raises(InputError) as caught:
            naming.name_card(catalogue, wrong, Seen("Base", "1", ""))
        assert caught.value.faults[0].field == field
    with pytest.raises(InputError) as caught:
        naming.name_card(catalogue, SeenRelease(" ", 87), Seen("", " ", "Lamp"))
    assert [fault.field for fault in caught.value.faults] == ["name", "year", "line", "number"]  # all at once
    with pytest.raises(Conflict, match="product sheet"):
        naming.correct_release(catalogue, "lanterns-1987", LANTERNS)
    naming.correct_release(catalogue, "lanterns-1987-2", SeenRelease("Lamplight", 1988, code="LL"))
    assert find(catalogue, "ll lamp") == [("lanterns-1987-2", "Base", "1")]


def test_a_card_is_found_by_a_few_keys_in_one_statement(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    take(catalogue, {**example_1(), "id": "other"})
    with counted(catalogue.database) as sent:
        assert [c.number for c in items.search_cards(catalogue, "A1")][:3] == ["A1", "A1", "A10"]  # the number first
    assert len(sent) == 4 and sum("search_text" in statement for statement in sent) == 1  # the others: what they go for
    assert {c.release for c in items.search_cards(catalogue, "c8")} == {"test", "other"}
    assert items.search_cards(catalogue, "C8 subject")[0].number == "C8"
    assert items.search_cards(catalogue, "  ") == [] and items.search_cards(catalogue, "50% of_it\\") == []
    importing.remove_release(catalogue, "other")
    assert {c.release for c in items.search_cards(catalogue, "c8")} == {"test"}


def test_a_sealed_item_of_the_wrong_series_is_corrected_but_not_while_it_is_opened(catalogue: Catalogue) -> None:
    store, day = catalogue.database, date(2026, 11, 3)
    take(catalogue, example_1())
    take(catalogue, {**example_1(), "id": "other"})
    said = PurchaseInput(
        "a box", day, (ChargeInput("price", D(60), "EUR", day),), (ThingInput("sealed", "Box", 1, "test", "box"),),
        received_on=day,
    )  # fmt: skip
    number = purchasing.record_purchase(store, said, "k", TODAY)
    item = purchasing.read_purchase(store, number).things[0]
    assert items.correct_item(store, item.number, item.version, {"release": "other", "format": "box"}, TODAY) == 2
    view = items.read_item(store, item.number)
    row, history = view.item, view.history
    assert row.release == "other" and history[-1].text == "which it is: box of test to box of other"
    opening.start_session(catalogue, opening.SessionInput(item.number), "s")
    with pytest.raises(Conflict, match="being opened"):
        items.correct_item(store, item.number, 2, {"release": "test", "format": "box"}, TODAY)
    with pytest.raises(Conflict, match="being opened"):
        items.take_out(store, item.number, 2, Action.LOSE, TODAY, "")


def test_lists_go_round_with_what_is_known_and_what_is_not(catalogue: Catalogue) -> None:
    store = catalogue.database
    take(catalogue, example_1())
    rows = [("Known", "test", "a", "A1", ""), ("Half", "test", "a", "A99", "blue"), ("None", "who knows", "a", "1", "")]
    content = write_csv(("name", "release", "line", "number", "variant"), rows)
    with counted(store) as sent:
        bringing.import_items(store, parse_items(content) * 40, TODAY)
    assert len(sent) < 16  # however many rows
    found = items.all_items(store, items.ItemFilter())[:3]
    assert [
        tuple(getattr(row, name) or "" for name in ("name", "release", "line", "card", "variant")) for row in found
    ] == rows
    assert [(row.version_id is None, row.line_id is None, row.release_id is None) for row in found] == [
        (False, False, False), (True, False, False), (True, True, True),
    ]  # fmt: skip
    with store.transaction() as session:
        assert session.scalars(select(ItemRow.release_text).distinct()).all() in (
            [None, "who knows"],
            ["who knows", None],
        )


def test_what_is_known_beside_a_sheet_is_kept_by_line_card_and_format(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    describing.add_note(catalogue, "test", NoteKind.FAULT, "edges chip", None, None)
    describing.add_note(catalogue, "test", NoteKind.TELLING, "the reprint is matt", "a", "A1")
    words = "63 x 88 x 0.31 mm, 1.8 g; A9 to A10: 70 x 120 mm"
    describing.put_sizes(catalogue, "test", "a", words)
    describing.put_extras(catalogue, "test", "box", [" a  poster ", ""])
    describing.put_debut(catalogue, "test", "a", "A2", True)
    found = describing.read_description(catalogue, "test")
    assert [(n.kind, n.line, n.card) for n in found.notes] == [("fault", None, None), ("telling", "a", "A1")]
    kept = dict(found.sizes)["a"]
    assert write_sizes(kept) == words and size_of("A1", []) is None
    assert [size_of(n, kept) for n in ("A1", "A9", "A10", "A11")] == [kept[0], kept[1], kept[1], kept[0]]
    assert found.extras == (("box", ("a poster",)),) and found.debuts == (("a", "A2"),)
    for wrong in (
        "63",
        "0 x 88",
        "63 x 88 x 41",
        "A2 to A1: 6 x 8",
        "A1 to A5: 6 x 8; A5 to A7: 6 x 8",
        "6 x 8; 6 x 9",
    ):
        with pytest.raises(InputError) as caught:
            describing.put_sizes(catalogue, "test", "a", wrong)
        assert caught.value.faults[0].field == "text"
    describing.remove_note(catalogue, "test", found.notes[0].number)
    subject = describing.list_subjects(catalogue, "subject a1", False)[0][0]
    describing.watch_subject(catalogue, subject.number, True)
    assert [s.name for s, _ in describing.list_subjects(catalogue, "", True)] == [subject.name] and subject.cards == 1


def test_a_card_is_identified_by_what_it_shows_and_subjects_say_their_first_card(catalogue: Catalogue) -> None:
    for sheet in demo_sheets():
        store_sheet(catalogue, sheet, replace_existing=False)
    number = next(card.number for card in demo_sheets()[0].line_by_id["base"].cards)
    describing.add_note(catalogue, "skerrylight-2025", NoteKind.TELLING, "Slanting strokes.", "drizzle", None)
    subject = next(card.subject for card in demo_sheets()[0].line_by_id["base"].cards)
    found = identifying.identify_card(catalogue, f"{number} {subject} skerrylight 2025", {})
    assert found.question is not None and found.question.about is Shows.RUN and not found.sure
    drizzle = next(it for it in found.question.choices if it.value == "160")
    assert drizzle.telling == ("Slanting strokes.",)
    told = identifying.identify_card(catalogue, f"{number} {subject} skerrylight 2025", {Shows.RUN: "160"})
    assert told.sure and [it.line for it in told.left] == ["drizzle"]
    with pytest.raises(InputError):
        identifying.identify_card(catalogue, " ", {})
    said, first = describing.list_subjects(catalogue, subject, False)[0]
    assert first is not None and said.first == first.version and not said.is_debut
    describing.put_debut(catalogue, first.release, first.line, first.number, True)
    describing.watch_subject(catalogue, said.number, True)
    assert describing.list_subjects(catalogue, subject, False)[0][0].is_debut
    shown = identifying.identify_card(catalogue, f"{first.number} {subject}", {}).left
    assert {(it.debut, it.watched) for it in shown if it.version == first.version} == {(True, True)}
