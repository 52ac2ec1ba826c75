"""Journeys of the Pricing step, through the interface that people use."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.conftest import heading

pytestmark = pytest.mark.journey

SALES = ["31 + 2 bellbuoy 3 nov", "34 + 2 5 nov", "29 7 bids 12 nov", "36 + 2 8 nov", "33 + 2 9 nov", "118 + 2 1 nov"]


def test_a_card_is_priced_from_typed_lines_by_keyboard_and_by_thumb(page: Page) -> None:
    page.keyboard.press("5")
    page.get_by_label("A card, by number or subject").fill("quern bank")
    expect(page.get_by_role("option").first).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("Nobody was seen to sell it")
    typed = page.get_by_label("What it went for, a line for each")
    typed.fill("\n".join([*SALES, "a bargain"]))
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("“a bargain”: say what it went for")).to_be_visible()
    expect(typed).to_have_value(re.compile("a bargain"))  # nothing of it is lost, and nothing was added
    typed.fill("\n".join(SALES))
    page.get_by_role("button", name="Add", exact=True).click()
    expect(heading(page)).to_contain_text("Worth about 35.00 in NM")
    expect(page.get_by_text("6 added.")).to_be_visible()
    table = page.get_by_role("table", name="All that was seen")
    table.get_by_role("row").filter(has_text="118.00").get_by_role("button", name="Keep it").click()
    expect(table.get_by_role("row").filter(has_text="118.00")).to_contain_text("kept")
    page.keyboard.press("Control+z")
    expect(table.get_by_role("row").filter(has_text="118.00")).to_contain_text("far off")
    page.set_viewport_size({"width": 390, "height": 800})
    page.reload()
    expect(page.get_by_role("img", name="6 prices over time")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
