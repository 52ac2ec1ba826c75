"""Use cases of products: imports that are whole or nothing, corrections that can be undone, answers that follow."""

import itertools
import json
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event

import pytest
from sqlalchemy import func, select

from tests.conftest import TODAY, make_database
from tests.sheets import document, example_1, line
from tobbix.core.base.errors import Conflict, InputError, NeedsConfirmation, NotFound, TobbixError
from tobbix.core.planning.habits import AS_USUAL
from tobbix.core.products.valuation import ONE_BOX
from tobbix.db.base import Database
from tobbix.db.products.loading import find_release, load_structure
from tobbix.db.products.tables import ReleaseRow
from tobbix.demo.releases import demo_sheets
from tobbix.formats.product_sheets import SheetFile
from tobbix.services.installation.owners import DEMO_PASSPHRASE, check_listening, create_owner, current_owner, knows
from tobbix.services.products import editing, importing
from tobbix.services.products.answering import answer_holding, answer_release, list_cards
from tobbix.services.products.catalogue import Catalogue, Remembered


def take(catalogue: Catalogue, made: object, **said: bool) -> importing.Imported:
    content = json.dumps(made).encode()
    return importing.import_sheet(
        catalogue, content, said.get("confirm_silent", False), said.get("replace_existing", False)
    )


def prices(catalogue: Catalogue, key: str = "test") -> int:
    """The revision of a release's prices."""
    book = catalogue.read_sheet(key).book
    assert book is not None
    return book.revision


def test_import_edit_export_import_gives_the_same_release(catalogue: Catalogue) -> None:
    assert take(catalogue, example_1()).outcome == "added"
    assert take(catalogue, example_1()).outcome == "unchanged"
    editing.change_odds(catalogue, "test", 1, "a", "box", None, "1:6 packs")
    editing.change_format_price(catalogue, "test", prices(catalogue), "box", "55")
    exported = importing.export_sheet(catalogue, "test", SheetFile.XLSX)
    assert importing.import_sheet(catalogue, exported, False, False).outcome == "unchanged"
    assert importing.export_sheet(catalogue, "test", SheetFile.XLSX)
    with pytest.raises(NeedsConfirmation) as caught:
        take(catalogue, example_1())
    assert caught.value.flag == "replace" and "older than your own changes" in str(caught.value)
    assert take(catalogue, example_1(), replace_existing=True).sheet.revision == 3
    undone = editing.undo_change(catalogue, "test")
    sheet = undone.sheet
    assert undone.what == "replaced by a product sheet" and sheet.line_by_id["a"].odds[0].statement is not None
    assert str(sheet.line_by_id["a"].odds[0].statement) == "1:6 packs"


def test_a_sheet_with_faults_or_questions_changes_nothing(catalogue: Catalogue) -> None:
    silent = document([line("a", ["1"], None)])
    with pytest.raises(NeedsConfirmation, match="says nothing about Box"):
        take(catalogue, silent)
    with pytest.raises(InputError):
        take(catalogue, {**example_1(), "currency": "x"})
    with catalogue.database.transaction() as session:
        assert session.scalar(select(func.count(ReleaseRow.id))) == 0
    assert take(catalogue, silent, confirm_silent=True).sheet.line_by_id["a"].not_in == ("box",)


def test_corrections_change_the_answer_and_undo_in_turn(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    means = [answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean]
    editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C8", "240")
    means.append(answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean)
    editing.change_odds(catalogue, "test", 1, "b", "box", None, "not in it")
    means.append(answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean)
    assert means[1] - means[0] == pytest.approx(120 / 14)
    assert means[2] < means[1]
    assert answer_release(catalogue, "test").last_change.what == "odds of B in the Box to not in it"
    editing.undo_change(catalogue, "test")
    assert answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean == pytest.approx(
        means[1]
    )
    sheet = editing.undo_change(catalogue, "test").sheet
    assert answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean == pytest.approx(
        means[0]
    )
    assert sheet.revision == 3 and prices(catalogue) > 2
    with pytest.raises(Conflict, match="nothing to undo"):
        editing.undo_change(catalogue, "test")


def test_an_unknown_split_is_assumed_in_place_and_taken_back(catalogue: Catalogue) -> None:
    importing.store_sheet(catalogue, demo_sheets()[2], replace_existing=False)
    ask = ("highline-2024", "summit", ONE_BOX, None)
    bound = answer_holding(catalogue, *ask, AS_USUAL).worked.value
    changed = editing.change_guarantee(catalogue, "highline-2024", 1, 0, "2 per box: engineer 0.5, rack 0.5")
    assumed = answer_holding(catalogue, *ask, AS_USUAL).worked.value
    assert bound.lower_bound and not assumed.lower_bound and assumed.mean > bound.mean
    assert changed == catalogue.read_sheet("highline-2024")
    editing.undo_change(catalogue, "highline-2024")
    with catalogue.database.transaction() as session:
        stored = load_structure(session, find_release(session, "highline-2024"))
    assert stored.guarantees == demo_sheets()[2].guarantees


def test_a_change_on_an_old_revision_or_of_nothing_is_refused(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    was = prices(catalogue)
    editing.change_format_price(catalogue, "test", was, "box", "60")
    with pytest.raises(Conflict, match="changed meanwhile"):
        editing.change_format_price(catalogue, "test", was, "box", "61")
    editing.change_odds(catalogue, "test", 1, "a", "box", None, "1:6 packs")
    with pytest.raises(Conflict, match="changed meanwhile"):
        editing.change_odds(catalogue, "test", 1, "a", "box", None, "1:7 packs")
    for wrong in (
        lambda: editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C99", "1"),
        lambda: editing.change_card_price(catalogue, "none", 2, "c", "C1", "1"),
        lambda: list_cards(catalogue, "test", "zz", "", "checklist", False, 0, 10),
    ):
        with pytest.raises(NotFound):
            wrong()
    with pytest.raises(InputError, match="is not a price"):
        editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C1", "1,500")
    answered = answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL)
    assert answered.answer.asked.sticker == 60 and answered.looked.sheet.revision == 2


def test_of_two_changes_at_the_same_time_one_is_refused(server_url: str, worker_id: str) -> None:
    """Two threads on a database of their own, both on revision 1."""
    database = Database(make_database(server_url, f"race_{worker_id}"))
    catalogue = Catalogue(database, lambda: TODAY)
    take(catalogue, example_1())
    start, was = Barrier(2), prices(catalogue)

    def change(price: str) -> str:
        start.wait()
        try:
            editing.change_format_price(catalogue, "test", was, "box", price)
            return "kept"
        except Conflict:
            return "refused"

    with ThreadPoolExecutor(2) as threads:
        assert sorted(threads.map(change, ["50", "70"])) == ["kept", "refused"]
    assert prices(catalogue) == was + 1
    database.engine.dispose()


def test_a_removed_release_is_out_of_sight_and_comes_back(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    importing.remove_release(catalogue, "test")
    with pytest.raises(NotFound):
        answer_release(catalogue, "test")
    importing.restore_release(catalogue, "test")
    assert answer_release(catalogue, "test").sheet.id == "test"


def test_cards_are_found_sorted_and_paged(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    _, dear = list_cards(catalogue, "test", "b", "", "price", True, 0, 2)
    assert (dear.total, [card.price for card in dear.cards]) == (60, [45, 45])
    _, found = list_cards(catalogue, "test", "b", "subject b59", "checklist", False, 0, 10)
    assert [card.number for card in found.cards] == ["B59"]


def test_the_owner_is_one_and_the_demo_s_passphrase_stays_at_home(catalogue: Catalogue) -> None:
    database = catalogue.database
    with pytest.raises(InputError, match="12 to 200"):
        create_owner(database, "Ines", "short")
    with pytest.raises(InputError, match="everybody can read"):
        create_owner(database, "Ines", DEMO_PASSPHRASE)
    create_owner(database, "Ines", DEMO_PASSPHRASE, is_demo=True)
    check_listening(database, "127.0.0.1")
    with pytest.raises(InputError, match="passphrase of your own"):
        check_listening(database, "0.0.0.0")
    with pytest.raises(Conflict):
        create_owner(database, "Wren", "another passphrase")
    create_owner(database, "Wren", "another passphrase", replace=True)
    check_listening(database, "0.0.0.0")
    assert not knows(database, DEMO_PASSPHRASE) and knows(database, "another passphrase")
    owner = current_owner(database)
    assert owner is not None and owner.name == "Wren" and not owner.is_demo


def test_what_several_ask_for_at_once_is_worked_out_once_and_a_failure_is_nobody_else_s() -> None:
    remembered: Remembered[str] = Remembered(2)
    begun, go, tries = Event(), Event(), itertools.count()

    def slow() -> str:
        at = next(tries)
        begun.set()
        assert go.wait(30)
        if at == 0:
            raise TobbixError("the first one fails")
        return f"made {at}"

    with ThreadPoolExecutor(4) as pool:
        first = pool.submit(remembered.get, "a", slow)
        assert begun.wait(30)
        others = [pool.submit(remembered.get, "a", slow) for _ in range(3)]
        go.set()
        with pytest.raises(TobbixError):
            first.result(30)
        assert {it.result(30) for it in others} == {"made 1"}
    assert remembered.get("a", slow) == remembered.keep("a", "later") == "made 1" and next(tries) == 2
    remembered.put("b", "b")
    assert remembered.find("a") == "made 1"  # looked at last, so it stays
    remembered.put("c", "c")
    assert remembered.find("b") is None
