"""An installation of one's own, from the first visit to the first box, by keyboard alone."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import PASSPHRASE, make_database
from tests.journeys.conftest import serving
from tobbix.db.base import Database


@pytest.fixture
def visit(browser: Browser, server_url: str, worker_id: str) -> Iterator[Page]:
    database = Database(make_database(server_url, f"visit_{worker_id}"))
    with serving(database, own=True) as here:
        context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=here)
        context.set_default_timeout(60_000)
        yield context.new_page()
        context.close()


def test_whoever_comes_first_begins_with_a_name_a_passphrase_a_currency_and_a_first_box(visit: Page) -> None:
    page = visit
    page.goto("/")
    expect(page.get_by_label("Your name")).to_be_focused()
    page.keyboard.type("Ada")
    page.keyboard.press("Tab")
    page.keyboard.type("password1234")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is soon guessed")).to_be_visible()
    expect(page.get_by_text("is not a currency code")).to_be_visible()
    expect(page.get_by_label("Your name")).to_have_value("Ada")  # what was typed stays
    page.get_by_label("Passphrase").fill(PASSPHRASE)
    page.get_by_label("Home currency").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("CHF")
    page.keyboard.press("Enter")
    page.get_by_label("On a marketplace, which takes a part").press("Space")
    page.get_by_label("What you call it").fill("Gavelrock")
    page.get_by_role("button", name="Begin").press("Enter")
    expect(page.get_by_label("It takes")).to_be_focused()  # how much it takes was left open
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Begin with one box or one thing that you have.")
    expect(page.get_by_text("Bring in the demo")).to_have_count(0)
    page.get_by_role("link", name="Record a purchase").press("Enter")
    page.get_by_label("The purchase in one line").fill("wooden box 12.50")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Book it").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("is on its way; it cost 12.50")
    page.keyboard.press("0")
    expect(page.get_by_role("table", name="To do")).to_contain_text("it holds 12.50 of yours")
    page.reload()
    expect(page.get_by_role("link", name="Buying")).to_contain_text("1")  # the rail and the desk agree
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Passphrase")).to_be_visible()  # the first visit is over for good
    expect(page.get_by_label("Your name")).to_have_count(0)
