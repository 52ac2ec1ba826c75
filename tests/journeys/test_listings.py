"""Listings through the real interface: from the stock to a market and its orders, offers and new prices, a file of
sales, and which way out a card goes."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.asking import ask, let_in, own_card
from tests.journeys.conftest import check_by_day_and_by_night, heading

pytestmark = pytest.mark.journey


def test_cards_are_listed_from_the_stock_and_what_the_market_says_comes_in(page: Page) -> None:
    page.goto("/stock?kind=card&condition=NM&find=selling")
    table = page.get_by_role("table", name="Items")
    names = []
    for at in (1, 2):
        names.append(table.get_by_role("row").nth(at).get_by_role("link").first.inner_text())
        table.get_by_role("row").nth(at).get_by_role("checkbox").check()
    page.get_by_role("link", name="List", exact=True).click()
    prices = page.get_by_role("textbox", name=re.compile("^Price of"))
    expect(prices).to_have_count(2)
    prices.first.fill("a lot")
    expect(page.get_by_text("write an amount like 12.50")).to_be_visible()
    expect(page.get_by_text("1 still without a price: left out.")).to_be_visible()
    page.reload()  # what was typed is still there
    expect(prices.first).to_have_value("a lot")
    prices.first.fill("9,50")
    prices.last.fill("7")
    page.get_by_role("button", name="List 2 there").click()
    expect(page).to_have_url(re.compile("/selling/-/listings"))
    listed = page.get_by_role("table", name="Listings")
    expect(listed.get_by_role("row").nth(1)).to_contain_text("Bellbuoy")
    page.get_by_label("Show").click()
    page.get_by_role("option", name=re.compile("^listed")).click()
    came = page.get_by_role("status", name="What came of it")
    expect(came).to_contain_text("listed as")
    for _ in range(4):  # a market may not answer at once, and says more once a parcel is away
        before = page.url
        page.get_by_label("As of").fill("1 Dec 2028")
        page.get_by_label("As of").press("Enter")
        page.get_by_role("button", name="Ask them").click()
        expect(page).not_to_have_url(before)
        expect(came).to_contain_text(re.compile("No news|sold for|ask again"))
        if page.get_by_role("link", name="to its order").first.is_visible():
            break
    page.reload()  # what came of it is found again
    page.get_by_role("link", name="to its order").first.click()
    expect(heading(page)).to_contain_text(re.compile("Send it as|made|brought"))


def test_an_offer_is_weighed_a_price_moved_and_a_file_taken_in(page: Page) -> None:
    page.goto("/stock?kind=card&identity=known&value=known&place=selling+box")
    numbers = [it["number"] for it in ask(page, "GET", "items?kind=card&find=selling+box")["items"][-2:]]
    made = ask(page, "POST", "listings", {"way": "bellbuoy", "listings": [
        {"items": [number], "price": "10", "title": f"a card to sell {at}"} for at, number in enumerate(numbers)
    ]})["numbers"]  # fmt: skip
    page.goto(f"/selling/-/listings/{made[0]}")
    expect(heading(page)).to_contain_text("10.00 EUR by Bellbuoy nets")
    page.get_by_label("Title").fill("")
    page.get_by_role("button", name="Say it so").click()
    expect(page.get_by_label("Title")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("Title").fill("a card in its sleeve")
    page.get_by_role("button", name="Say it so").click()
    expect(page.get_by_text("It says so now.")).to_be_visible()
    page.get_by_role("button", name="Put it up").click()
    page.get_by_label("Somebody offers").fill("3")
    page.get_by_label("Somebody offers").press("Enter")
    expect(page.get_by_text(re.compile("3.00 (nets|would net)"))).to_be_visible()
    page.get_by_label("Who").fill("Edda Sorrel")
    page.get_by_label("Who").press("Enter")
    page.get_by_role("button", name="Note it").click()
    offers = page.get_by_role("table", name="Offers")
    offers.get_by_role("button", name="Ask 6.50").click()
    expect(offers).to_contain_text("asked for 6.50")

    page.goto("/selling/-/listings")
    page.get_by_label("Find").fill("a card")
    page.get_by_label("Find").press("Enter")
    page.get_by_role("checkbox", name=re.compile("a card in its sleeve")).check()
    page.get_by_role("combobox", name="New prices").click()
    page.get_by_role("option", name="up or down by a share").click()
    page.get_by_label("By, in per cent").fill("-10")
    page.get_by_label("By, in per cent").press("Enter")
    expect(page.get_by_role("table", name="New prices")).to_contain_text("9.00")
    page.get_by_role("button", name="Take these prices").click()
    expect(page.get_by_role("table", name="Listings")).to_contain_text("9.00 EUR")

    page.goto("/selling/-/file")
    rows = "Order no.;Item;Sold on;Sold for;Fees;Buyer\n"
    rows += "J-1;a card in its sleeve;2026-11-20;8,50;1,00;Edda Sorrel\nJ-2;nothing;2026-11-20;2,00;;\n"
    page.get_by_label("Its rows, pasted").fill(rows)
    sales = page.get_by_role("table", name="Sales")
    expect(sales).to_contain_text("its listing")
    expect(sales).to_contain_text("nothing that is here or listed is called so")
    page.get_by_label("what is not here was sold before the books began").check()
    page.get_by_role("button", name="Take 2 in").click()
    expect(page.get_by_role("alert").get_by_text("1 sale does not say what was kept")).to_be_visible()
    page.get_by_label("Where no row says what was kept").click()
    page.get_by_role("option", name="nothing was kept").click()
    page.get_by_role("button", name="Take 2 in").click()
    expect(page.get_by_text("1 order and 1 result of before the books came in.")).to_be_visible()
    expect(page.get_by_role("table", name="Sold before the books began")).to_contain_text("nothing")
    page.goto("/selling?find=J-1")
    expect(page.get_by_role("link", name="J-1").first).to_be_visible()

    page.goto(f"/selling/-/listings/{made[1]}")
    page.get_by_role("button", name="Put it up").click()
    expect(page.get_by_role("status", name="What came of it")).to_contain_text("listed as")
    ask(page, "POST", f"listings/{made[1]}/offers", {"amount": "8.40", "buyer": "Joris Kettleby"})
    page.reload()
    page.get_by_role("link", name="Take it").click()
    expect(page.get_by_label("Sold for")).to_have_value("8.40")
    expect(page.get_by_label("Buyer")).to_have_value("Joris Kettleby")
    expect(page.get_by_text("It takes the offer for that listing.")).to_be_visible()
    page.get_by_role("button", name="It is sold").click()
    expect(page).to_have_url(re.compile(r"/selling/\d+$"))
    page.goto(f"/selling/-/listings/{made[1]}")
    expect(page.get_by_role("table", name="Offers")).to_contain_text("taken")

    (third,) = ask(
        page, "POST", "listings", {"way": "bellbuoy", "listings": [{"items": [own_card(page)], "price": "9"}]}
    )["numbers"]
    page.goto(f"/selling/-/listings/{third}")
    page.get_by_role("button", name="Put it up").click()
    expect(page.get_by_role("status", name="What came of it")).to_contain_text("listed as")
    page.get_by_role("button", name="End it").click()  # it ends here at once; its market is told as long work
    expect(page.get_by_role("button", name="List it again")).to_be_visible()
    expect(page.get_by_role("status", name="What came of it")).to_contain_text(
        re.compile("taken off there|ended here, but")
    )


def test_what_a_filter_finds_is_listed(page: Page) -> None:
    page.goto("/stock?kind=card&identity=known&value=known&worth=150")
    page.get_by_role("link", name="List these for sale").click()
    titles = page.get_by_role("textbox", name=re.compile("^Title of"))
    expect(titles.first).to_be_visible()
    many = titles.count()
    page.get_by_role("button", name=re.compile("^Leave out: ")).first.click()
    expect(page.get_by_role("button", name=re.compile("^Take in again: "))).to_have_count(1)
    page.get_by_role("button", name="Only draft them").click()
    expect(page).to_have_url(re.compile("/selling/-/listings"))
    expect(page.get_by_text(re.compile(f"^{many - 1} listings? (is|are) drafted"))).to_be_visible()


def test_a_trade_is_written_down(page: Page) -> None:
    page.goto("/selling/-/trade")
    page.get_by_label("What you give, by its name, number or place").fill("Rope & Rivet")
    page.get_by_role("option").first.click()
    page.get_by_label("What you get, by number, subject or any words").fill("a print from a fair")
    page.get_by_role("button", name="Take it by these words").click()
    page.get_by_label("Worth, about").fill("four")
    page.get_by_label("Cash that evens it").fill("1")
    page.get_by_role("button", name="It is traded").click()
    expect(page.get_by_label("Worth, about")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("Worth, about").fill("4")
    page.get_by_role("button", name="It is traded").click()
    expect(heading(page)).to_contain_text("a print from a fair")
    expect(page.get_by_role("table", name="History of the item")).to_contain_text("traded:")


def test_which_way_out_a_card_goes_is_weighed_and_chosen(page: Page) -> None:
    page.goto(f"/stock/{own_card(page)}")
    ways = page.get_by_role("table", name="Ways out")
    expect(ways).to_contain_text("Give it away")
    page.get_by_role("button", name="What time and waiting cost").click()
    page.get_by_label("An hour").fill("12")
    page.get_by_label("A year", exact=True).fill("ten")
    page.get_by_role("button", name="Weigh it so").click()
    expect(page.get_by_label("A year", exact=True)).to_have_attribute("aria-invalid", "true")
    page.get_by_label("A year", exact=True).fill("10")
    page.get_by_role("button", name="Weigh it so").click()
    expect(page.get_by_text("Weighed so now.")).to_be_visible()
    ways.get_by_role("button", name="Choose: Give it away").click()
    expect(page.get_by_text("You chose otherwise: give it away.")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Chosen: let it go").click()
    expect(page.get_by_text("You chose otherwise")).to_be_hidden()


def test_listings_on_a_phone_and_for_everybody(browser: Browser, address: str, page: Page) -> None:
    number = ask(page, "GET", "listings")["listings"][0]["number"]
    item = own_card(page)
    paths = ["/selling/-/listings", f"/selling/-/listings/{number}", f"/selling/-/list?items={item}", "/selling/-/file",
             "/selling/-/habits", "/selling/-/trade", f"/stock/{item}", "/books/-/results", "/books/-/friends",
             "/books/-/results?by=month&only=2026-11", "/books/-/purses", "/selling/-/parcels"]  # fmt: skip
    check_by_day_and_by_night(page, paths)
    context = browser.new_context(base_url=address, viewport={"width": 390, "height": 844}, has_touch=True)
    phone = context.new_page()
    let_in(phone)
    for path in paths:
        phone.goto(path)
        heading(phone).wait_for()
        phone.wait_for_timeout(400)
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390, path
    context.close()
