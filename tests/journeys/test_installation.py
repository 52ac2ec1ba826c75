"""The owner's sessions, uploads and backups in the real interface: nothing that was typed is lost."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from sqlalchemy import text

from tests.journeys.conftest import sign_in
from tobbix.db.base import Database
from tobbix.services.installation.owners import DEMO_PASSPHRASE

pytestmark = pytest.mark.journey
DRAFTS = "Object.keys(sessionStorage).filter((key) => key.startsWith('tobbix-draft-')).length"


@pytest.fixture
def stored(server_url: str, worker_id: str, page: Page) -> Iterator[Database]:
    database = Database(f"{server_url.rpartition('/')[0]}/journeys_{worker_id}")
    yield database
    database.engine.dispose()


def end_all_sessions(stored: Database) -> None:
    with stored.engine.begin() as connection:
        connection.execute(text("delete from sign_in"))


def test_a_session_that_ends_asks_in_place_and_the_owner_s_own_end_clears(page: Page, stored: Database) -> None:
    page.goto("/buying/-/new")
    name = page.get_by_label("The purchase in one line")
    expect(name).to_be_focused()
    end_all_sessions(stored)
    name.fill("a shoebox from the quay")  # what it means is asked, and finds it out
    dialog = page.get_by_role("dialog", name="Your session has ended.")
    expect(dialog).to_be_visible()
    dialog.get_by_label("Passphrase").fill("not this one")
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog.get_by_text("That is not the passphrase.")).to_be_visible()
    dialog.get_by_label("Passphrase").fill(DEMO_PASSPHRASE)
    dialog.get_by_label("Passphrase").press("Enter")
    expect(dialog).to_be_hidden()
    expect(name).to_have_value("a shoebox from the quay")
    page.get_by_label("Amount").fill("5")
    page.get_by_label("Currency").fill("QQQ")
    page.get_by_role("button", name="Book it").click()
    expect(page.get_by_label("Currency")).to_be_focused()  # refused at its field
    expect(page.get_by_text("Sign in first")).to_have_count(0)
    end_all_sessions(stored)
    page.goto("/settings")
    expect(page.get_by_label("Passphrase")).to_be_visible()  # a fresh page has nothing to keep
    sign_in(page)
    page.goto("/buying/-/new")
    expect(name).to_have_value("a shoebox from the quay")  # the draft outlived it all
    assert page.evaluate(DRAFTS) > 0
    other = page.context.new_page()
    other.goto("/buying/-/new")
    other.get_by_label("The purchase in one line").fill("in a second tab")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Passphrase")).to_be_visible()
    expect(other.get_by_label("Passphrase")).to_be_visible()
    assert page.evaluate(DRAFTS) == 0 and other.evaluate(DRAFTS) == 0
    other.close()


def test_a_long_list_comes_in_with_its_progress(page: Page, tmp_path: Path) -> None:
    """20,000 rows as text: how far it is, is told in rows."""
    rows = "".join(f"Gull Rock {n},1.25,from the attic near the door\n" for n in range(20_000))
    path = tmp_path / "attic.csv"
    path.write_text(f"name,basis,note\n{rows}")
    page.goto("/stock")
    page.evaluate(
        """() => { window.told = new Set(); new MutationObserver(() => {
            for (const one of document.querySelectorAll('[role=status]')) window.told.add(one.textContent);
        }).observe(document.body, { subtree: true, childList: true, characterData: true }); }"""
    )
    page.get_by_label("List of items").set_input_files(path)
    expect(page.get_by_text("20,000 rows brought in.")).to_be_visible(timeout=60_000)
    told = page.evaluate("[...window.told]")
    assert any(words.startswith("Storing: ") and " of 20,000 rows" in words for words in told), told
    expect(page.get_by_label("How far it is")).to_have_count(0)


@pytest.mark.filterwarnings(  # a restore cuts off whoever asks meanwhile: that connection ends with its thread
    "ignore:Exception ignored in. <function BaseConnection.__del__:pytest.PytestUnraisableExceptionWarning"
)
def test_a_backup_is_saved_and_restored_by_hand(page: Page, stored: Database, tmp_path: Path) -> None:
    """What it replaces is said; a damaged one is refused; afterwards everybody signs in again."""
    page.goto("/settings/installation")
    sessions = page.get_by_role("table", name="Open sessions")
    expect(sessions.get_by_text("(here)")).to_have_count(1)
    with page.expect_download() as saving:
        page.get_by_role("link", name="Save a backup").click()
    saved = tmp_path / saving.value.suggested_filename
    saving.value.save_as(saved)
    assert saved.suffix == ".zip"
    with stored.engine.begin() as connection:
        connection.execute(text("update release set name = 'Blotted' where key = 'nocturnes-1998-one'"))
    damaged = tmp_path / "damaged.zip"
    damaged.write_bytes(saved.read_bytes()[:-2_000])
    picker = page.get_by_label("Backup to restore")
    picker.set_input_files(damaged)
    expect(page.get_by_text("nothing was changed")).to_be_visible()
    picker.set_input_files(saved)
    expect(page.get_by_text("The backup of")).to_be_visible()
    expect(page.get_by_text("It replaces all that is stored now")).to_be_visible()
    page.get_by_role("button", name="Leave it as it is").click()
    expect(page.get_by_text("It replaces all that is stored now")).to_have_count(0)
    picker.set_input_files(saved)
    page.get_by_role("button", name="Replace everything").click()
    expect(page.get_by_label("Passphrase")).to_be_visible()
    sign_in(page)
    page.goto("/products")
    expect(page.get_by_text("Lepidora Nocturnes").first).to_be_visible()
    expect(page.get_by_text("Blotted")).to_have_count(0)
