"""Journeys of buying, opening, stock and books, through the interface that people use."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import ROOT, TODAY
from tests.journeys.test_products import heading

pytestmark = pytest.mark.journey


def test_a_purchase_is_drafted_divided_booked_received_and_disputed(page: Page) -> None:
    page.keyboard.press("2")
    expect(heading(page)).to_contain_text("on the way")
    page.keyboard.press("n")
    page.get_by_label("What", exact=True).fill("an auction lot")
    page.get_by_label("Amount").fill("1.005")
    page.get_by_label("Currency").fill("GBP")
    page.reload()  # a draft outlives a reload
    expect(page.get_by_label("What", exact=True)).to_have_value("an auction lot")
    page.get_by_role("combobox", name="What it is").click()
    page.get_by_role("option", name="Skerrylight 2025, Harbour box").click()
    page.get_by_label("Value of all").fill("96")
    page.get_by_role("button", name="Another thing").click()
    page.get_by_label("In words").nth(1).fill("Quern Bank, Undertow")
    page.get_by_role("button", name="Book it").click()
    expect(page.get_by_text("must be an amount over 0, with at most 2 decimals")).to_be_visible()
    page.get_by_label("Amount").fill("100.00")
    page.get_by_role("button", name="Show the division").click()
    expect(page.get_by_text("its value is not known; give one, or divide by count")).to_be_visible()
    page.get_by_label("Value of all").nth(1).fill("24")
    page.get_by_role("button", name="Show the division").click()
    expect(page.get_by_text("(simulated feed)")).to_be_visible()
    page.get_by_role("button", name="Book it").click()
    expect(heading(page)).to_contain_text("An auction lot is on its way")
    other = page.context.new_page()
    other.goto(page.url)
    expect(heading(other)).to_contain_text("on its way")
    page.get_by_label("It is the right series").click()
    page.get_by_role("option", name="no").click()
    page.get_by_role("button", name="It is here").click()
    expect(heading(page)).to_contain_text("is in dispute")
    other.get_by_role("button", name="It is here").click()
    expect(other.get_by_text("changed meanwhile")).to_be_visible()
    other.close()
    page.get_by_label("Refund").fill("10.00")
    page.get_by_role("button", name="Book it").click()
    expect(page.get_by_label("History of the purchase")).to_contain_text("refund: an auction lot")
    page.get_by_label("Value of Skerrylight 2025, Harbour box").fill("48")
    page.get_by_role("button", name="Show it").click()
    expect(page.get_by_text("would carry")).to_be_visible()
    page.get_by_role("button", name="Book the new division").click()
    expect(page.get_by_label("History of the purchase")).to_contain_text("divided again by value")
    page.get_by_role("button", name="Take the purchase back").click()
    expect(heading(page)).to_contain_text("was taken back")


def test_the_most_to_bid_and_an_offer_for_a_collection(page: Page) -> None:
    page.goto("/buying/-/bid")
    for label, value in (("Buyer’s premium, %", "20"), ("Tax, %", "21"), ("Shipping", "6")):
        page.get_by_label(label, exact=True).fill(value)
        page.keyboard.press("Tab")
    expect(heading(page)).to_contain_text("Bid up to 41.28")
    page.get_by_label("Or: sells at, before fees").fill("100")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("through which way")
    page.get_by_role("combobox", name="Through").click()
    page.get_by_role("option", name="Bellbuoy").first.click()
    expect(page.get_by_role("alert")).to_be_hidden()
    expect(heading(page)).to_contain_text("Bid up to")
    page.get_by_label("Values of the cards drawn").fill("0.10 0.20 4.00 0.05 1.10 0.30")
    expect(page.get_by_text("A fair offer")).to_be_visible()


def test_a_box_is_opened_by_typing_with_undo_pause_and_reload(page: Page) -> None:
    page.keyboard.press("3")
    page.get_by_role("table", name="Sessions").get_by_role("link", name="Skerrylight 2025, Harbour box").first.click()
    expect(heading(page)).to_contain_text("packs left")
    field = page.get_by_label("number or subject")
    field.fill("KH5")
    expect(page.get_by_text("Fenwick Fennick, Keeper’s Hand").first).to_be_visible()
    field.press("Enter")
    expect(page.get_by_label("Pulls")).to_contain_text("Fenwick Fennick")
    expect(heading(page)).to_contain_text("seen, no more is promised")
    field.fill("no such card")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("no card of this box is called so")
    field.fill("")
    page.get_by_role("button", name="Take the last back").click()
    expect(page.get_by_label("Pulls")).not_to_contain_text("Fenwick Fennick")
    field.fill("drizzle")
    field.fill("44")
    expect(page.get_by_role("option").first).to_contain_text("44")
    field.press("ArrowDown")
    page.get_by_label("serial").fill("999/160")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is numbered 1 to 160")
    page.get_by_label("serial").fill("88/160")
    field.press("Enter")
    expect(page.get_by_label("Pulls")).to_contain_text("88/160")
    page.reload()
    expect(page.get_by_label("Pulls")).to_contain_text("88/160")  # nothing is lost
    page.get_by_role("combobox", name="Line").click()
    page.get_by_role("option", name="Fog Signals").click()
    expect(page.get_by_text("that it is one")).to_be_visible()
    page.get_by_role("button", name="Packs opened off the record").click()
    page.get_by_label("Packs", exact=True).fill("99")
    page.get_by_role("button", name="Log these packs").click()
    expect(page.get_by_text("that are left")).to_be_visible()
    page.get_by_label("Packs", exact=True).fill("2")
    page.get_by_label("Storm Log").fill("1")
    page.get_by_role("button", name="Log these packs").click()
    expect(page.get_by_text("pack 12 of 16")).to_be_visible()
    page.get_by_role("button", name="Take the last back").click()
    expect(page.get_by_text("pack 10 of 16")).to_be_visible()
    page.get_by_role("button", name="Put it aside").click()
    field.press("]")
    expect(page.get_by_text("0 of 8 logged")).to_be_visible()
    page.get_by_role("button", name="Finish").click()
    page.get_by_role("button", name="Move the cost to the cards").click()  # what nobody opened stays sealed
    expect(heading(page)).to_contain_text("It cost 60.00 and held")
    page.get_by_role("button", name="Take the end of it back").click()
    expect(page.get_by_text("8 of 8 logged")).to_be_visible()
    page.get_by_role("button", name="Finish").click()
    page.get_by_label("packs with nothing logged").click()
    page.get_by_role("option", name="were opened, base cards only").click()
    page.get_by_role("button", name="Move the cost to the cards").click()
    expect(heading(page)).to_contain_text("It cost 96.00 and held")
    expect(page.get_by_text("Such boxes that hold less")).to_be_visible()
    page.get_by_role("link", name="What each card carries").click()
    expect(page.get_by_role("table", name="Items")).to_contain_text("88/160")
    page.goto("/opening/-/results")
    expect(page.get_by_label("Odds against results")).to_contain_text("Fog Signals")
    page.get_by_role("button", name="Read the scale").click()
    expect(page.get_by_text("g logged.")).to_be_visible()


def test_a_purchase_is_recorded_and_opened_by_the_keyboard_alone(page: Page) -> None:
    def tab_to(label: str) -> None:
        wanted = page.get_by_label(label, exact=True).or_(page.get_by_role("button", name=label, exact=True)).first
        for _ in range(80):
            if wanted.evaluate("element => element === document.activeElement"):
                return
            page.keyboard.press("Tab")
        raise AssertionError(f"{label} is not reached by Tab")

    page.keyboard.press("2")
    expect(heading(page)).to_contain_text("on the way")
    page.keyboard.press("n")
    expect(page.get_by_label("What", exact=True)).to_be_focused()
    page.keyboard.type("a box by keys")
    tab_to("Received on, if it is here")
    page.keyboard.type(f"{TODAY:%m%d%Y}")
    tab_to("For fun when it is opened, %")
    page.keyboard.type("20")
    tab_to("Amount")
    page.keyboard.type("90")
    tab_to("What it is")
    page.keyboard.press("Enter")
    box = page.get_by_role("option", name="Skerrylight 2025, Harbour box")
    box.wait_for()
    for _ in range(40):
        if box.evaluate("element => element === document.activeElement"):
            break
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("combobox", name="What it is")).to_contain_text("Harbour box")
    tab_to("Value of all")
    page.keyboard.type("96")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("A box by keys")
    page.keyboard.press("3")
    opening = page.get_by_role("button", name="Begin a session").first
    expect(opening).to_be_visible()
    page.get_by_label("Packs gone").first.fill("x")
    expect(opening).to_be_disabled()  # a count that is no number is not taken for 0
    page.get_by_label("Packs gone").first.fill("0")
    opening.focus()
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("16 packs left")
    expect(page.get_by_text("For fun")).to_be_visible()
    page.keyboard.type("FS1")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Pulls")).to_contain_text("Fog Signals")
    page.keyboard.press("Control+z")


def test_a_collection_comes_in_is_found_corrected_and_kept_by_filter(page: Page, tmp_path: Path) -> None:
    (tmp_path / "bad.csv").write_text("name,count,basis\n,0,x\nOld card,1,\n")
    (tmp_path / "good.csv").write_text("name,count,basis,place\nLantern oddity,3,1.50,tin 9\nOther,1,,tin 9\n")
    page.keyboard.press("4")
    expect(heading(page)).to_contain_text("nobody knows")
    page.get_by_label("List of items").set_input_files(tmp_path / "bad.csv")
    expect(page.get_by_role("alert")).to_contain_text("row 2, name: is missing")
    page.get_by_label("List of items").set_input_files(tmp_path / "good.csv")
    expect(page.get_by_text("2 rows brought in.")).to_be_visible()
    page.get_by_label("Find").fill("oddity")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="1 rows")).to_contain_text("Lantern oddity")
    page.get_by_role("button", name="Condition of Lantern oddity").click()
    page.keyboard.type("fine")
    page.keyboard.press("Enter")
    expect(page.get_by_text("one of mint, NM, LP, MP, HP, damaged")).to_be_visible()
    page.get_by_label("Condition of Lantern oddity", exact=True).fill("lp")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Condition of Lantern oddity: LP. Edit")).to_be_visible()
    page.get_by_label("Or by hand: what").fill("Tin sign")
    page.get_by_label("Cost of all").fill("1.005")
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_role("alert")).to_contain_text("must not be negative, with at most 2 decimals")
    page.get_by_label("Cost of all").fill("1.00")
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_text("Brought in.")).to_be_visible()
    page.get_by_label("Keep this filter as").fill("oddities")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Filter kept.")).to_be_visible()
    page.get_by_role("link", name="Lantern oddity").click()
    expect(heading(page)).to_contain_text("Lantern oddity: it cost 1.50")
    history = page.get_by_label("History of the item")
    expect(history).to_contain_text("condition: not said to LP")
    page.get_by_label("Note").fill("found in a drawer")
    page.keyboard.press("Enter")
    expect(history).to_contain_text("found in a drawer")
    page.get_by_label("Why").fill("to a neighbour")
    page.get_by_role("button", name="Given away").click()
    expect(history).to_contain_text("give away: Lantern oddity (to a neighbour)")
    expect(page.get_by_role("button", name="Given away")).to_be_hidden()
    page.go_back()
    expect(page.get_by_role("region", name="0 rows")).to_be_visible()
    page.get_by_role("combobox", name="State").click()
    page.get_by_role("option", name="given away").click()
    expect(page.get_by_role("region", name="1 rows")).to_contain_text("Lantern oddity")
    with page.expect_download() as download:
        page.get_by_role("link", name="Export as CSV").click()
    download.value.save_as(tmp_path / "out.csv")
    assert "Lantern oddity" in (tmp_path / "out.csv").read_text()
    page.keyboard.press("8")
    expect(heading(page)).to_contain_text("What you hold cost")
    expect(page.get_by_text("The books balance, and stock is the sum of what is held.")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="Plain-text ledger").click()
    assert download.value.suggested_filename == "tobbix.beancount"


def test_the_new_pages_pass_the_accessibility_checks_by_day_and_by_night(page: Page) -> None:
    """axe-core, WCAG 2.2 A and AA."""
    source = (ROOT / "frontend/node_modules/axe-core/axe.min.js").read_text()
    paths = ("/buying", "/buying/1", "/buying/-/new", "/buying/-/bid", "/opening", "/opening/1", "/opening/-/results",
             "/stock", "/stock/1", "/books")  # fmt: skip
    for theme in ("Night", "Day"):
        for path in paths:
            page.goto(path)
            heading(page).wait_for()
            page.wait_for_timeout(400)
            page.evaluate(source + ";undefined")
            found = page.evaluate(
                "axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})"
                ".then(r => r.violations.map(v => [v.id, v.nodes[0].html.slice(0, 200), v.nodes[0].failureSummary]))"
            )
            assert found == [], f"{path} before {theme}"
        page.get_by_role("button", name=theme).click()
