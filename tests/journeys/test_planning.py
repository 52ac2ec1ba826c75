"""Journeys before buying: every planning page by mouse, and all of them once by keyboard alone."""

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.conftest import at_desk, heading, tab_to

pytestmark = pytest.mark.journey

LOCKER = "/products/first-watch-2011/locker"
VALLEY = "/products/highline-2024/valley"


def go_on(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Questions").get_by_role("link", name=name).click()


def test_how_sure_a_loss_is_and_what_a_moved_market_makes_of_it(page: Page) -> None:
    page.goto(LOCKER)
    page.get_by_label("What a pull is worth").click()
    page.get_by_role("option", name="net of Swapslip", exact=True).click()
    expect(page.get_by_text("Net of Swapslip’s fees")).to_be_visible()
    go_on(page, "How sure")
    expect(heading(page)).to_contain_text("if the market halves before you sell")
    expect(page.get_by_text("Net of Swapslip’s fees")).to_be_visible()  # the choice goes along
    expect(page.get_by_label("Chance of a loss by holding")).to_contain_text("Case of 8")
    slider = page.get_by_role("slider", name="When you sell, prices stand at")
    slider.focus()
    slider.press("End")
    expect(page.get_by_text("160 %", exact=True)).to_be_visible()
    page.get_by_label("no card twice in a box").uncheck()
    page.get_by_label("hits spread evenly").check()
    page.get_by_role("button", name="200 worlds of prices").click()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("Stopped. Nothing was kept of it.")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Open 1,000,000 boxes").click()
    expect(page.get_by_role("alert")).to_contain_text("more than its 100 cards allow without repeats")
    page.get_by_label("no card twice in a box").uncheck()
    page.get_by_role("button", name="Open 1,000,000 boxes").click()
    expect(page.get_by_label("Simulated boxes beside the exact answer")).to_contain_text("±", timeout=60_000)


def test_which_format_how_many_exist_and_what_a_set_takes(page: Page) -> None:
    page.goto("/products/skerrylight-2025")
    go_on(page, "Formats side by side")
    expect(heading(page)).to_contain_text("gives back most")
    expect(page.get_by_label("Formats side by side")).to_contain_text("Only here")
    page.get_by_label("Rare: less than one in so many packs").fill("10")
    page.keyboard.press("Enter")
    expect(page).to_have_url(page.url.split("?")[0] + "?rare=10")
    go_on(page, "How many exist")
    expect(heading(page)).to_contain_text("21,400 of the Harbour box")
    for name, share in (("Harbour box", "0.85"), ("Market box", "0.1"), ("Tin", "0.05")):
        page.get_by_label(name, exact=True).fill(share)
        page.keyboard.press("Tab")
    expect(page.get_by_label("Estimates by line")).not_to_contain_text("382,000")
    expect(page.get_by_role("table", name="Made of each format")).to_contain_text("Market box")
    page.get_by_label("Single pack", exact=True).fill("0.5")
    page.keyboard.press("Tab")
    expect(page.get_by_text("must be from 0 to 1 and sum to 1")).to_be_visible()
    page.goto("/products/skerrylight-2025/tin/set?line=fog")
    expect(heading(page)).to_contain_text("To complete all 15 of Fog Signals takes")
    page.get_by_role("combobox", name="Line").click()
    page.get_by_role("option", name="Base").click()
    expect(heading(page)).to_contain_text("all 150 of Base", timeout=30_000)
    page.get_by_label("Rainbow of card number").fill("7")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("the rainbow of")
    expect(page.get_by_text("Not from this format: Gale.")).to_be_visible()
    page.get_by_label("Rainbow of card number").fill("999")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Base has no card 999")).to_be_visible()


def test_rip_hold_or_buy_with_assumptions_in_place(page: Page) -> None:
    page.goto("/products/skerrylight-2025/harbour/choice")
    expect(heading(page)).to_contain_text("Better: buy the cards you want singly")
    page.get_by_label("Grows a year by, %").fill("40")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("Better: keep it sealed")
    page.reload()  # the assumption stands in the address
    expect(heading(page)).to_contain_text("Better: keep it sealed")
    page.get_by_label("Grows a year by, %").fill("a lot")
    page.keyboard.press("Enter")
    expect(page.get_by_text("a number from -99 to 1000")).to_be_visible()
    page.get_by_role("combobox", name="Line").click()
    page.get_by_role("option", name="Storm Log").click()
    page.get_by_label("Card number").fill("SL99")
    page.get_by_role("button", name="Want it").click()
    expect(page.get_by_text("there is no card SL99").first).to_be_visible()
    page.get_by_label("Card number").fill("SL2")
    page.get_by_role("button", name="Want it").click()
    expect(page.get_by_role("table", name="Wanted cards")).to_contain_text("SL2")
    page.get_by_role("button", name="Take back", exact=True).click()
    expect(page.get_by_role("table", name="Wanted cards")).not_to_contain_text("SL2")


def test_a_trial_is_made_compared_and_kept_while_a_second_window_is_told(page: Page) -> None:
    page.goto(VALLEY + "/trial")
    expect(heading(page)).to_contain_text("Nothing is tried yet")
    other = page.context.new_page()
    other.goto(VALLEY + "/trial")
    expect(heading(other)).to_contain_text("Nothing is tried yet")
    page.get_by_role("button", name="Odds of Night Car, tried").click()
    page.keyboard.type("1:2 packs")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("With this you lose in")
    page.get_by_role("button", name="Prices of Brass times").click()
    page.keyboard.type("lots")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("give a factor")
    page.keyboard.press("Escape")
    other.get_by_role("button", name="Prices of Iron times").click()
    other.keyboard.type("2")
    other.keyboard.press("Enter")
    expect(other.get_by_role("alert").first).to_contain_text("changed meanwhile")
    other.keyboard.press("Escape")  # else it is sent once more as the window goes
    other.close()
    page.get_by_role("button", name="Keep: make it the sheet").click()
    expect(heading(page)).to_contain_text("Nothing is tried yet")
    go_on(page, "Value")
    expect(page.get_by_role("button", name="Odds of Night Car in the Valley box: 1:2 packs")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Odds of Night Car in the Valley box: 1:8 packs")).to_be_visible()


def test_an_unknown_is_assumed_where_it_stands(page: Page) -> None:
    page.goto("/products/skerrylight-2025/harbour")
    page.get_by_role("button", name="Assume of Build a Light").click()
    page.keyboard.type("often")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a statement of odds")
    page.get_by_label("Assume of Build a Light", exact=True).fill("1:20 packs")
    page.keyboard.press("Enter")
    expect(page.get_by_text("You assume of Build a Light")).to_be_visible()
    expect(heading(page)).to_contain_text("you lose in")  # nothing is left out any more
    page.get_by_role("button", name="Take back", exact=True).click()
    expect(heading(page)).to_contain_text("you may lose in up to")
    before = page.get_by_label("Figures").inner_text()
    page.get_by_role("button", name="How much of Keeper’s Hand sells").click()
    page.keyboard.type("50 %")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="How much of Keeper’s Hand sells: 50 %. Edit")).to_be_focused()
    expect(page.get_by_label("Figures")).not_to_have_text(before)


def test_the_limit_is_noted_broken_and_points_to_help(page: Page) -> None:
    page.goto("/settings/money")
    page.get_by_label("What for").fill("an auction lot")
    page.get_by_label("Amount").fill("120.50")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Spending this month")).to_contain_text("an auction lot")
    expect(page.get_by_text("over your limit")).to_be_visible()
    page.goto("/")
    expect(page.get_by_text("help lines for gambling")).to_be_visible()
    page.goto("/settings/money")
    page.get_by_role("button", name="Take back: an auction lot").click()
    expect(page.get_by_text("over your limit")).to_be_hidden()
    page.get_by_role("link", name="How you decide").click()
    form = page.get_by_role("form", name="What is not worth selling")
    form.get_by_label("Of the hits sell").fill("half")
    page.get_by_role("form", name="Your time").get_by_label("Minutes to open a box").fill("41")  # and not kept
    form.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("write a share from 0 to 100 per cent")).to_be_visible()
    form.get_by_label("Of the hits sell").fill("50")
    form.get_by_role("button", name="Keep it").click()
    expect(form.get_by_role("button", name="Keep it")).to_be_disabled()
    expect(page.get_by_label("Minutes to open a box")).to_have_value("41")  # another save takes no word away
    page.reload()
    expect(page.get_by_label("Of the hits sell")).to_have_value("50")
    expect(page.get_by_label("Minutes to open a box")).to_have_value("41")
    page.goto("/settings/selling")
    page.get_by_role("button", name="Commission of Bellbuoy").click()
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("write it like 12 %")
    page.keyboard.press("Escape")
    page.get_by_label("Leaves you").fill("10")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Listed at")).not_to_have_value("25.00")


def test_every_planning_page_by_keyboard_alone(page: Page) -> None:
    at_desk(page)
    page.keyboard.press("1")
    tab_to(page, page.get_by_role("link", name="Summit box"))
    page.keyboard.press("Enter")
    tabs = page.get_by_role("navigation", name="Questions")
    seen = []
    for name in ("How sure", "Chase", "A set", "Rip, hold or buy", "What if", "Formats side by side", "How many exist"):
        tab_to(page, tabs.get_by_role("link", name=name))
        page.keyboard.press("Enter")
        expect(tabs.get_by_role("link", name=name)).to_have_attribute("aria-current", "page")
        seen.append(heading(page).inner_text())
        if name == "A set":
            tab_to(page, page.get_by_role("combobox", name="Line"))
            page.keyboard.press("Enter")
            page.keyboard.press("ArrowDown")
            page.keyboard.press("Enter")
            expect(heading(page)).to_contain_text("To complete")
        if name == "What if":
            tab_to(page, page.get_by_role("button", name="Price of a box, tried"))
            page.keyboard.press("Enter")
            page.keyboard.type("60")
            page.keyboard.press("Enter")
            expect(heading(page)).to_contain_text("With this you may lose in up to")  # a split is unknown
            tab_to(page, page.get_by_role("button", name="Drop it"))
            page.keyboard.press("Enter")
            expect(heading(page)).to_contain_text("Nothing is tried yet")
        if name == "Formats side by side":
            page.go_back(wait_until="commit")
            expect(heading(page)).to_contain_text("Nothing is tried yet")
    assert len(set(seen)) == len(seen)
