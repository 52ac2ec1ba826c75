"""Journeys of the Products step, through the interface that people use."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.journeys.conftest import at_desk, check_by_day_and_by_night, heading, sign_in
from tests.sheets import document, example_1, line

pytestmark = pytest.mark.journey

HARBOUR = "/products/skerrylight-2025/harbour"


def test_sign_in_read_the_answer_and_drag_the_price(page: Page) -> None:
    at_desk(page)
    page.keyboard.press("1")
    expect(heading(page)).to_contain_text("At today’s prices")
    page.get_by_role("link", name="Harbour box").click()
    expect(heading(page)).to_contain_text("At 96.00 you may lose in up to 94 boxes out of 100. Open only under")
    figures = page.get_by_label("Figures")
    expect(figures).to_contain_text("Average")
    expect(page.get_by_text("Net of Bellbuoy’s fees, cards under 0.50 as bulk")).to_be_visible()
    expect(figures).to_contain_text("half, by the sale")
    expect(figures).to_contain_text("Build a Light")
    expect(page.get_by_label("Value by line")).to_contain_text("Keeper’s Hand")

    handle = page.get_by_role("slider")
    box = handle.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 4, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] - 130, box["y"] + 12, steps=8)
    page.mouse.up()
    expect(page.get_by_text("trying")).to_be_visible()
    expect(heading(page)).not_to_contain_text("At 96.00")
    low = int(handle.get_attribute("aria-valuenow").split(".")[0])
    assert 40 < low < 95
    page.reload()  # what was tried is part of the address
    expect(page.get_by_text("trying")).to_be_visible()
    page.get_by_role("button", name="Back to 96.00").click()
    expect(heading(page)).to_contain_text("At 96.00")


def test_the_keyboard_alone_moves_the_price_keeps_it_and_takes_it_back(page: Page) -> None:
    at_desk(page)
    page.goto("/products/skerrylight-2025/market")
    expect(heading(page)).to_contain_text("At 27.50")
    page.keyboard.press("p")
    expect(page.get_by_role("slider")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("trying")).to_be_visible()
    page.keyboard.press("PageDown")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Price of the Market box to")).to_be_visible()
    expect(heading(page)).not_to_contain_text("At 27.50")
    expect(page.get_by_text("trying")).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(heading(page)).to_contain_text("At 27.50")
    page.get_by_role("button", name="a case of 20").click()
    expect(heading(page)).to_contain_text("At 550.00")
    page.go_back(wait_until="commit")
    page.keyboard.press("0")
    expect(page.get_by_role("table", name="To do")).to_contain_text("Look up")


def test_three_faults_are_seen_mended_and_the_release_goes_round(page: Page, tmp_path: Path) -> None:
    made = {**document([*example_1()["lines"][1:]], ["0.05"] * 30, price="60", boxes_per_case=10), "id": "own"}
    bad = json.loads(json.dumps(made))
    bad["formats"][0]["usable"] = "3"
    bad["lines"][1]["odds"][0]["statement"] = "1:0 packs"
    bad["lines"][0]["cards"][4]["price"] = "1,500"
    (tmp_path / "bad.json").write_text(json.dumps(bad))
    (tmp_path / "good.json").write_text(json.dumps(made))

    page.goto("/products")
    heading(page).wait_for()
    page.keyboard.press("i")
    page.get_by_label("Product sheet").set_input_files(tmp_path / "bad.json")
    expect(heading(page)).to_have_text("3 faults; nothing was imported.")
    for words in ("formats[0].usable", "lines[1].odds[0].statement", "lines[0].cards[4].price"):
        expect(page.get_by_label("What was found")).to_contain_text(words)
    page.get_by_label("Product sheet").set_input_files(tmp_path / "good.json")
    expect(page).to_have_url(page.url.split("/products")[0] + "/products/own")

    page.get_by_role("link", name="Box", exact=True).click()
    page.get_by_label("What a pull is worth").click()
    page.get_by_role("option", name="gross").click()
    expect(heading(page)).to_contain_text("At 60.00 you lose in 9 boxes out of 10. Open only under")
    before = page.get_by_label("Figures").inner_text()
    page.get_by_role("button", name="Odds of A in the Box:").click()
    page.keyboard.type("a few")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a statement of odds")
    page.get_by_label("Odds of A in the Box", exact=True).fill("1:2 packs")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Odds of A in the Box: 1:2 packs")).to_be_focused()
    expect(page.get_by_label("Figures")).not_to_have_text(before)
    page.get_by_role("button", name="Price of Subject C8").click()
    page.keyboard.type("150")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Price of Subject C8, C: 150.00")).to_be_visible()

    page.get_by_role("link", name="Test 2025").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export as JSON").click()
    saved = tmp_path / "exported.json"
    download.value.save_as(saved)
    exported = json.loads(saved.read_text())
    assert exported["lines"][1]["odds"][0]["statement"] == "1:2 packs"
    assert exported["lines"][3]["cards"][7]["price"] == "150.00" and exported["revision"] == 2
    with page.expect_download() as download:
        page.get_by_role("link", name="Export as XLSX").click()
    download.value.save_as(tmp_path / "exported.xlsx")
    page.goto("/products/-/import")
    page.get_by_label("Product sheet").set_input_files(tmp_path / "exported.xlsx")
    expect(page.get_by_text("is unchanged")).to_be_visible()
    page.goto("/products/-/import")
    page.get_by_label("Product sheet").set_input_files(tmp_path / "good.json")
    expect(heading(page)).to_have_text("This release is here already.")
    page.get_by_role("button", name="Replace it").click()
    page.get_by_role("button", name="Take back: replaced by a product sheet").click()
    expect(page.get_by_role("button", name="Odds of A in the Box: 1:2 packs")).to_be_visible()


def test_a_card_is_chased_from_the_box_s_page(page: Page) -> None:
    page.goto(HARBOUR)
    page.get_by_role("link", name="Quern Bank").click()
    expect(heading(page)).to_contain_text("To pull Quern Bank, Undertow with nine chances in ten you open")
    expect(page.get_by_label("Figures")).to_contain_text("277.00")
    page.get_by_label("Card number").fill("UT8,UT9")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("Quern Bank or Heron Sound, Undertow")
    page.get_by_label("Card number").fill("UT99")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Undertow has no card UT99")).to_be_visible()
    page.reload()
    expect(heading(page)).to_have_text("That cannot be chased.")
    page.get_by_role("link", name="Harbour box").click()
    expect(heading(page)).to_contain_text("At 96.00")


def test_a_question_is_asked_before_a_silent_line_is_left_out(page: Page, tmp_path: Path) -> None:
    silent = {**document([line("a", ["1", "2"], "1:3 packs"), line("b", ["1"], None)], price="5"), "id": "silent"}
    silent["release"] = {**silent["release"], "name": "Silent"}
    (tmp_path / "silent.json").write_text(json.dumps(silent))
    page.goto("/products/-/import")
    page.get_by_label("Product sheet").set_input_files(tmp_path / "silent.json")
    expect(heading(page)).to_have_text("One question before it is imported.")
    page.get_by_role("button", name="They are not in it: import").click()
    expect(page.get_by_role("button", name="Odds of B in the Box: not in it")).to_be_visible()
    page.get_by_role("button", name="Remove", exact=True).click()
    page.get_by_role("button", name="Leave it as it is").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_text("was removed from Products.")).to_be_visible()
    expect(page.get_by_label("Formats of Skerrylight 2025")).to_be_visible()  # the shelf is there, without it
    expect(page.get_by_label("Formats of Silent 2025")).to_be_hidden()
    page.get_by_role("button", name="Take back").click()
    expect(page.get_by_label("Formats of Silent 2025").last).to_be_visible()
    page.get_by_role("button", name="Done here").click()
    expect(page.get_by_role("dialog", name="Done here")).to_contain_text("taken back")


def test_checklist_prices_are_found_and_corrected_with_the_keyboard(page: Page) -> None:
    page.goto("/products/skerrylight-2025")
    page.get_by_role("tab", name="Fog Signals").click()
    table = page.get_by_role("table", name="Cards of Fog Signals")
    table.get_by_role("button", name="of Fog Signals: unknown. Edit").focus()
    page.keyboard.type("1.75")  # a single key is not a shortcut here: it begins to edit
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^Price of Fog Signals"))).to_be_visible()
    expect(table.get_by_role("button", name="of Fog Signals: 1.75. Edit").first).to_be_focused()
    expect(table.get_by_role("button", name=": unknown. Edit")).to_be_hidden()
    table.get_by_role("button", name="Subject").click()
    expect(table.get_by_role("columnheader", name="Subject")).to_have_attribute("aria-sort", "ascending")
    page.get_by_label("Find a number or subject").fill("FS3")
    expect(table.get_by_role("row")).to_have_count(2)


def test_a_second_tab_sees_the_first_one_s_change_and_may_not_overwrite_it(page: Page) -> None:
    page.goto("/products/first-watch-2011")
    other = page.context.new_page()
    other.goto("/products/first-watch-2011")
    other.get_by_role("button", name="Price of the Loose pack").click()
    other.keyboard.type("18")
    other.keyboard.press("Enter")
    expect(other.get_by_role("button", name="Price of the Loose pack: 18.00")).to_be_visible()
    other.close()
    page.get_by_role("button", name="Price of the Locker box").click()
    page.get_by_label("Price of the Locker box").fill("444")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("changed meanwhile")
    page.get_by_label("Price of the Locker box").press("Enter")
    expect(page.get_by_role("button", name="Price of the Locker box: 444.00")).to_be_visible()


def test_formats_are_found_ordered_and_taken_along_to_a_fair(page: Page) -> None:
    page.goto("/products")
    page.get_by_label("Find, by several words").fill("skerry box")
    page.keyboard.press("Enter")
    expect(page.get_by_role("table", name="Formats of Skerrylight 2025")).to_contain_text("Harbour box")
    expect(page.get_by_role("table", name="Formats of Highline Funiculars 2024")).to_have_count(0)
    page.get_by_label("In order of").click()
    page.get_by_role("option", name="chance of a loss").click()
    rows = page.get_by_role("table", name="Formats in order").locator("tbody tr")
    expect(rows.first).to_contain_text("Skerrylight 2025, Market box")  # 88 of 100, the least
    page.reload()
    expect(rows.first).to_contain_text("Market box")  # what is asked is part of the address
    page.get_by_role("link", name="The most to pay, on one page").click()
    fair = page.get_by_role("table", name="The most to pay")
    expect(fair).to_contain_text("Skerrylight First Watch 2011, Locker box")
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Print it")).to_be_hidden()
    expect(page.get_by_role("link", name="Buying")).to_be_hidden()
    expect(fair).to_be_visible()
    page.emulate_media(media="screen")


def test_a_release_is_begun_priced_from_a_column_and_tried_in_one_picture(page: Page) -> None:
    page.goto("/products/-/begin")
    for label, text in (("What it is called", "Tidewrack"), ("Year", "2026"), ("Publisher", "Ottergate Press"),
                        ("Packs in it", "12"), ("Cards in a pack", "6"), ("Cards of the base", "60"),
                        ("Boxes in a case", "8"), ("Price today", "90,50"), ("Line", "Fog Bells"),
                        ("Cards", "10"), ("Each is worth", "3"), ("Odds", "often")):  # fmt: skip
        page.get_by_label(label, exact=True).fill(text)
    page.reload()
    expect(page.get_by_label("What it is called")).to_have_value("Tidewrack")  # no key is lost
    page.get_by_label("Odds", exact=True).press("Enter")
    expect(page.get_by_text("is not a statement of odds")).to_be_visible()
    expect(page.get_by_label("Odds", exact=True)).to_be_focused()
    page.get_by_label("Odds", exact=True).fill("1:4")
    page.get_by_role("button", name="Begin it").click()
    expect(page.get_by_role("table", name="Formats of Tidewrack 2026")).to_contain_text("90.50")
    page.get_by_role("button", name="Price of a case of the Box").click()
    page.get_by_label("Price of a case of the Box").fill("680")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Price of a case of the Box: 680.00")).to_be_visible()
    page.get_by_role("tab", name="Fog Bells").click()
    page.get_by_role("button", name="Paste prices").click()
    column = page.get_by_label("Numbers and prices of Fog Bells")
    column.fill("FB1\t3,50\nFB2\tsome\nFB99\t2")
    expect(page.get_by_text("row 2: write an amount like 12.50")).to_be_visible()
    column.fill("FB1\t3,50\nFB2\t7\nFB99\t2")
    page.get_by_role("button", name="Keep 3 prices").click()
    expect(page.get_by_text("row 3, FB99:")).to_be_visible()
    column.fill("FB1\t3,50\nFB2\t7")
    page.get_by_role("button", name="Keep 2 prices").click()
    expect(page.get_by_role("button", name="Price of FB2 of Fog Bells: 7.00")).to_be_visible()
    page.get_by_role("link", name="Box", exact=True).click()
    page.get_by_role("link", name="What if").click()
    page.get_by_role("button", name="Odds of Fog Bells, tried").click()
    page.keyboard.type("1:2")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Odds of Fog Bells, tried: 1:2 packs")).to_be_focused()
    picture = page.get_by_role("img", name="Chance of at least so much")
    picture.press("ArrowRight")  # read off by keyboard
    expect(page.get_by_role("status").filter(has_text="tried")).to_contain_text("the sheet")
    page.get_by_role("link", name="Formats side by side").click()
    expect(page.get_by_role("link", name="What if")).to_be_visible()  # the questions about the box stay


def test_a_note_stands_where_a_release_is_bought_and_opened_and_a_simulation_stays(page: Page) -> None:
    page.goto("/products/skerrylight-2025/-/seen")
    page.get_by_label("What there is to know").fill("Undertow cards stick to each other")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Undertow cards stick").first).to_be_visible()
    page.goto("/buying/-/new")
    page.get_by_label("The purchase in one line").fill("harbour box 90")
    expect(page.get_by_role("note", name="Notes on this release")).to_contain_text("stick to each other")
    page.goto(HARBOUR + "/sure")
    page.get_by_role("button", name="200 worlds of prices").click()
    expect(page.get_by_label("How far the answers may be off")).to_be_visible(timeout=60_000)
    page.reload()
    expect(page.get_by_label("How far the answers may be off")).to_be_visible()


def test_pages_pass_the_accessibility_checks_by_day_and_by_night(page: Page) -> None:
    """axe-core, WCAG 2.2 A and AA."""
    paths = (
        "/",
        "/products",
        "/products/skerrylight-2025",
        HARBOUR,
        HARBOUR + "/chase?targets=hand",
        HARBOUR + "/sure",
        HARBOUR + "/set?line=base&number=3",
        HARBOUR + "/choice",
        HARBOUR + "/trial",
        "/products/skerrylight-2025/-/formats",
        "/products/skerrylight-2025/-/made",
        "/settings",
        "/products/-/begin",
        "/products/-/fair",
        "/settings/selling",
        "/settings/money",
        "/settings/installation",
        "/products/-/import",
        "/nowhere",
    )
    check_by_day_and_by_night(page, paths)


def test_sign_out_closes_every_page_and_a_wrong_passphrase_is_said(page: Page) -> None:
    page.goto(HARBOUR)
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Passphrase").fill("not this one")
    page.keyboard.press("Enter")
    expect(page.get_by_text("That is not the passphrase.")).to_be_visible()
    sign_in(page)
    page.goto("/products/no-such-release")
    expect(heading(page)).to_have_text("That is not here.")


def test_loose_packs_that_may_have_been_searched_are_worth_less(page: Page) -> None:
    page.goto("/products/skerrylight-2025/harbour?unit=pack")
    field = page.get_by_label("Believed searched, %")
    expect(field).to_have_value(re.compile("^0?$"))
    worth = heading(page).inner_text()
    field.fill("lots")
    page.keyboard.press("Tab")
    expect(page).not_to_have_url(re.compile("searched"))
    field.fill("80")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("searched=0.8"))
    expect(heading(page)).not_to_have_text(worth)
    expect(page.get_by_text("searched").first).to_be_visible()
