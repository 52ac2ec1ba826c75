"""Selling through the real interface: a sale from the stock, packed by keyboard, posted, complained of and paid back; a
phone; a market that pays out."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.asking import ask, let_in, own_card
from tests.journeys.conftest import check_by_day_and_by_night, heading

pytestmark = pytest.mark.journey


def test_a_card_is_sold_packed_by_keyboard_posted_and_paid_back(page: Page) -> None:
    page.goto("/stock?kind=card&condition=NM&find=Ropeway")
    row = page.get_by_role("table", name="Items").get_by_role("row").nth(1)
    name = row.get_by_role("link").first.inner_text()
    row.get_by_role("checkbox").check()
    page.get_by_role("link", name="Sell", exact=True).click()
    expect(page.get_by_text(name)).to_be_visible()
    page.get_by_label("Sold for").fill("a lot")
    page.get_by_label("Buyer").fill("Tove Maribel")
    page.get_by_label("Order number").fill("B-3000")
    page.get_by_role("combobox", name="Way of selling").click()
    page.get_by_role("option", name="Bellbuoy").click()
    page.get_by_label("Address, a line each").fill("Tove Maribel\nSlip Lane 4\nSaltby")
    page.get_by_role("button", name="It is sold").click()
    expect(page.get_by_text("write an amount like 12.50")).to_be_visible()
    page.reload()  # what was typed is still there
    expect(page.get_by_label("Sold for")).to_have_value("a lot")
    page.get_by_label("Sold for").fill("12,50")
    page.get_by_label("Shipping paid").fill("1.20")
    page.get_by_role("button", name="Take that").click()
    expect(page.get_by_label("Fees kept back")).not_to_have_value("")
    page.get_by_label("it pays out later").check()
    page.get_by_role("button", name="It is sold").click()
    expect(heading(page)).to_contain_text("Send it as Letter")
    number = page.get_by_label("What goes in, by its number")
    number.fill("999999")
    number.press("Enter")
    expect(page.get_by_text("That is not in this order")).to_be_visible()
    order = ask(page, "GET", f"orders/{page.url.rsplit('/', 1)[1]}")
    number.fill(str(order["lines"][0]["item"]))
    number.press("Enter")
    expect(page.get_by_text("is what was sold")).to_be_visible()
    for _ in range(8):  # faster than the server answers
        page.keyboard.press("t")
    expect(page.get_by_text(re.compile("[78] of [78] done"))).to_be_visible()
    page.reload()
    expect(page.get_by_text(re.compile("[78] of [78] done"))).to_be_visible()
    page.keyboard.press("w")
    expect(page.get_by_text("it should weigh about")).to_contain_text("Large letter")
    page.get_by_role("button", name="Letter", exact=True).click()
    expect(page.get_by_text("it should weigh about")).to_contain_text("Send it as Letter")
    page.keyboard.press("p")
    expect(page.get_by_role("heading", name="Post it")).to_be_visible()
    page.get_by_label("Tracking number").fill("RR473124828OG")
    page.get_by_role("button", name="It is posted").click()
    expect(page.get_by_text("its check digit should be 9")).to_be_visible()
    page.get_by_label("Tracking number").fill("RR473124829OG")
    page.get_by_role("button", name="It is posted").click()
    expect(page.get_by_role("region", name="Where it is").get_by_text("RR473124829OG")).to_be_visible()
    expect(heading(page)).to_contain_text("B-3000 made")
    page.get_by_label("The buyer complains of").fill("a corner is bent")
    page.get_by_role("button", name="Note it").click()
    expect(page.get_by_text("complains: a corner is bent")).to_be_visible()
    page.get_by_label(re.compile("^Back for")).fill("12.50")
    page.get_by_label("it comes back to me").check()
    page.get_by_role("button", name=re.compile("^Pay back")).click()
    expect(page.get_by_role("region", name="From stock").get_by_text("held")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Take back: returned")).click()
    expect(page.get_by_role("region", name="Money back")).to_be_visible()


def test_orders_are_listed_papers_made_and_a_market_pays_out(page: Page) -> None:
    page.goto("/selling")
    expect(heading(page)).to_contain_text("complains")
    table = page.get_by_role("table", name="Orders")
    table.get_by_role("checkbox", name=re.compile("B-2043")).check()
    for link in ("What to fetch", "Labels of 1"):
        with page.expect_download() as paper:
            page.get_by_role("link", name=re.compile(link)).click()
        assert paper.value.path().read_bytes().startswith(b"%PDF")
    page.get_by_label("Find").fill("joris")
    page.get_by_label("Find").press("Enter")
    expect(table.get_by_role("link", name="B-2039")).to_be_visible()
    expect(table.get_by_role("link", name="B-2043")).to_be_hidden()
    page.goto("/selling")
    field = page.get_by_label("Bellbuoy paid out")
    expect(field).not_to_have_value("")
    owed = field.input_value()
    field.fill("100000")
    field.press("Enter")
    page.get_by_role("button", name="It is in the bank").click()
    expect(page.get_by_text("more than those orders have open")).to_be_visible()
    field.fill(owed)
    field.press("Enter")
    page.get_by_role("button", name="It is in the bank").click()
    expect(page.get_by_role("region", name="What markets owe")).to_be_hidden()
    page.goto("/selling/-/supplies")
    page.get_by_label("Another supply").fill("tube")
    page.get_by_label("Takes, mm").fill("70 x 95")
    page.get_by_label("Outside, mm").fill("ninety")
    page.get_by_role("button", name="Describe it").click()
    expect(page.get_by_text("write it like 70 x 95 x 1")).to_be_visible()
    page.get_by_label("Takes, mm").fill("70 x 95 x 30")
    page.get_by_label("Outside, mm").fill("80 x 110 x 40")
    page.get_by_role("button", name="Describe it").click()
    expect(page.get_by_role("table", name="Packing supplies").get_by_text("tube")).to_be_visible()


def test_an_order_is_cancelled_and_a_post_class_described(page: Page) -> None:
    item = own_card(page)
    line = {"item": item, "price": "5"}
    number = ask(page, "POST", "orders", {"day": "2026-11-20", "lines": [line], "reference": "B-3100"})["number"]
    page.goto(f"/selling/{number}")
    page.get_by_role("button", name="Cancel the order").click()
    page.get_by_role("button", name="Leave it as it is").click()
    expect(page.get_by_role("heading", name="Cancel order B-3100?")).to_be_hidden()
    page.get_by_role("button", name="Cancel the order").click()
    page.get_by_role("dialog").get_by_role("button", name="Cancel the order").click()
    expect(heading(page)).to_contain_text("B-3100 was cancelled")
    assert ask(page, "GET", f"items/{item}")["state"] == "held"

    page.goto("/grading/-/graders")
    page.get_by_role("button", name="Change Insured parcel").click()
    page.get_by_label("At most, mm").fill("50 x 40 x 30")
    page.get_by_label("At least, mm").fill("140 x 90 x 10")
    page.get_by_role("button", name="Say it so").click()
    expect(page.get_by_text("the largest size must not be under the smallest")).to_be_visible()
    page.get_by_label("At most, mm").fill("600 x 400 x 310")
    page.get_by_role("button", name="Say it so").click()
    expect(page.get_by_role("table", name="Classes of Gannet Post")).to_contain_text("600 x 400 x 310")


def test_a_sale_at_the_table_on_a_phone(browser: Browser, address: str) -> None:
    context = browser.new_context(base_url=address, viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    let_in(page)
    page.goto("/selling/-/new")
    page.get_by_label("What, by its name, number or place").fill("Rope & Rivet")
    page.get_by_role("option").first.tap()
    page.get_by_label("Sold for").fill("5")
    page.get_by_label("handed over, no parcel").tap()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name="It is sold").tap()
    expect(heading(page)).to_contain_text(re.compile("S-[0-9]+ (made|lost|brought)"))
    for path in ("/selling", "/selling/-/parcels", "/selling/-/supplies"):
        page.goto(path)
        heading(page).wait_for()
        page.wait_for_timeout(300)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, path
    context.close()


def test_the_pages_of_selling_are_accessible(page: Page) -> None:
    page.goto("/selling")
    rows = ask(page, "GET", "orders")["orders"]
    of_stage = {it["stage"]: it["document"] for it in rows}
    check_by_day_and_by_night(page, [
        "/selling", "/selling/-/new", "/selling/-/parcels", "/selling/-/supplies",
        *(f"/selling/{of_stage[stage]}" for stage in ("to_pack", "packed", "sent", "complained") if stage in of_stage),
    ])  # fmt: skip
