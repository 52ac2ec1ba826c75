"""A hoard through the real interface: 200 cards by the keyboard, 50 by thumb, a plan with its clock, goals, flaws."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.asking import ask, let_in
from tests.journeys.conftest import heading

pytestmark = pytest.mark.journey

# Entries take their time, and every seventh answer is lost: now before it was carried out, now after.
SLOW = """
const real = window.fetch;
let calls = 0;
window.fetch = async (request, init) => {
  if (!/sorting\\/cards/.test(request.url ?? String(request))) return real(request, init);
  await new Promise((resolve) => setTimeout(resolve, 20));
  calls += 1;
  if (calls % 7 === 0) {
    if (calls % 2) await real(request, init);
    throw new TypeError("the answer was lost");
  }
  return real(request, init);
};
"""


def held(page: Page, place: str) -> tuple[int, int]:
    """How many rows and cards lie in a pile."""
    sums = ask(page, "GET", f"items/sums?place={place.replace(' ', '%20')}")
    return int(sums["total"]), int(sums["count"])


def choose(page: Page, set_named: str, pile: str) -> None:
    page.get_by_label("Set", exact=True).fill(set_named)
    page.get_by_label("Pile", exact=True).fill(pile)


def test_200_cards_are_sorted_entered_and_valued_by_the_keyboard(page: Page) -> None:
    page.add_init_script(SLOW)
    page.goto("/stock/-/enter")
    choose(page, "Marram Beacons 1986", "box M")  # a set that nobody has named yet
    page.get_by_label("Line", exact=True).fill("Base")
    page.get_by_role("combobox", name="Condition of all").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("N")
    page.keyboard.press("Enter")
    page.locator("#card-number").focus()
    for number in range(1, 201):
        page.keyboard.type(f"{number} x2 l" if number % 20 == 0 else str(number))
        page.keyboard.press("Enter")
    expect(page.locator("#card-number")).to_be_focused()
    expect(heading(page)).to_contain_text("210 cards entered", timeout=400_000)
    said = re.search(r"([\d,]+) an hour", heading(page).inner_text())
    assert said is not None
    print(f"\nby the keyboard: {said[1]} cards an hour, as fast as a script types and this machine answers")
    assert held(page, "box M") == (200, 210)
    expect(page.get_by_label("Entered").locator("li").first).to_contain_text("2 x 200, Base, LP")
    # one more of the last, then both are taken back by one key each
    page.keyboard.press("+")
    expect(heading(page)).to_contain_text("211 cards")
    page.keyboard.press("Control+z")
    expect(heading(page)).to_contain_text("210 cards")
    page.keyboard.press("Control+z")
    expect(heading(page)).to_contain_text("208 cards")
    # a refusal keeps its words and holds nothing up; a paste is many entries
    page.get_by_label("Set", exact=True).fill("Skerrylight 2025")
    page.locator("#card-number").focus()
    page.keyboard.type("999")
    page.keyboard.press("Enter")
    page.keyboard.type("131")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Base has no card 999")
    expect(page.get_by_label("Entered").locator("li").first).to_contain_text("131")
    page.get_by_role("button", name="leave it out").click()
    page.locator("#card-number").evaluate(
        """field => field.dispatchEvent(new ClipboardEvent('paste', {bubbles: true, cancelable: true,
            clipboardData: (() => {
                const it = new DataTransfer();
                it.setData('text', '1\\n2 x3\\n3 slate');
                return it;
            })()}))"""
    )
    expect(page.get_by_label("Entered").locator("li").first).to_contain_text("Slate")
    # what they are worth now stands in the stock
    worth = ask(page, "GET", "items/sums?place=box%20M&release=skerrylight-2025")
    assert (worth["count"], worth["unknown_value"]) == (6, 0) and float(worth["value"]) > 1
    page.goto("/stock/-/enter")  # what was chosen stands after a reload
    expect(page.get_by_label("Pile", exact=True)).to_have_value("box M")


def test_50_cards_are_entered_by_thumb_on_a_phone(browser: Browser, address: str) -> None:
    context = browser.new_context(viewport={"width": 390, "height": 844}, base_url=address, has_touch=True)
    context.set_default_timeout(60_000)
    page = context.new_page()
    let_in(page)
    page.goto("/stock/-/enter")
    choose(page, "Dunnock Harbour 1991", "box D")
    enter = page.get_by_role("button", name="Enter it")
    for number in range(1, 51):
        page.locator("#card-number").fill(str(number))
        if number % 25 == 0:
            page.get_by_role("group", name="How many").get_by_role("button", name="3").tap()
            page.get_by_role("group", name="Condition of this one").get_by_role("button", name="LP").tap()
        enter.tap()
    expect(heading(page)).to_contain_text("54 cards entered", timeout=400_000)
    said = re.search(r"([\d,]+) an hour", heading(page).inner_text())
    assert said is not None
    print(f"\nby thumb: {said[1]} cards an hour, as fast as a script taps and this machine answers")
    assert held(page, "box D") == (50, 54)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name="Change").tap()
    expect(page.get_by_label("Pile", exact=True)).to_be_visible()
    for path in ("/stock/-/plan", "/stock/-/plan/1", "/stock/-/pull", "/stock/-/pull/first-watch-2011",
                 "/stock/-/goals", "/stock/-/goals/1", "/stock/-/doubles", "/pricing/-/borrowed"):  # fmt: skip
        page.goto(path)
        heading(page).wait_for()
        page.wait_for_timeout(500)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, path
    context.close()


def test_a_collection_is_planned_timed_and_its_cost_shared_out(page: Page) -> None:
    page.goto("/stock")
    ask(page, "POST", "items/one", {"name": "a crate from an attic", "count": 2, "basis": "60"})
    page.goto("/stock?find=a+crate")
    page.get_by_role("link", name="a crate from an attic").click()
    page.get_by_role("link", name="Plan its sorting").click()
    page.get_by_role("textbox", name="What it is", exact=True).fill("The crate")
    page.get_by_label("Cards, about").fill("lots")
    page.get_by_role("button", name="Plan it").click()
    expect(page.get_by_text("write a whole number")).to_be_visible()
    page.get_by_label("Cards, about").fill("6000")
    page.get_by_label("An hour is worth").fill("12")
    page.get_by_role("button", name="Plan it").click()
    expect(heading(page)).to_contain_text("It takes")
    page.get_by_role("button", name=re.compile("What By number may find")).click()
    page.keyboard.type("a bit")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("write an amount")
    page.get_by_label(re.compile("What By number may find")).fill("150")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("stop before “By number”, which costs 180.00 and finds 150.00")
    page.get_by_label("Cards in a box").fill("lots")
    page.keyboard.press("Enter")
    expect(page.get_by_text("write a whole number")).to_be_visible()
    page.get_by_label("Cards in a box").fill("750")
    page.keyboard.press("Enter")
    expect(page.get_by_text("8 boxes")).to_be_visible()
    heading(page).click()
    page.keyboard.press("c")  # the clock of the next pass
    expect(page.get_by_role("timer")).to_be_visible()
    page.get_by_label("Cards through").fill("6000")
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.get_by_role("table", name="Passes")).to_contain_text("6,000 of 6,000")
    expect(page.get_by_role("table", name="Passes")).to_contain_text("own")
    page.get_by_role("link", name="Enter its cards").click()
    choose(page, "Skerrylight 2025", "the crate")
    page.get_by_role("combobox", name="Plan").click()
    page.get_by_role("option", name="The crate").click()
    for card in ("131", "132 x2", "149"):
        page.locator("#card-number").fill(card)
        page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("4 cards entered")
    page.get_by_role("link", name="Plan", exact=True).click()
    page.get_by_role("link", name="The crate").click()
    expect(page.get_by_text("4 cards entered, worth about")).to_be_visible()
    page.get_by_role("button", name="Share its cost out by value").click()
    expect(page.get_by_text("Its cost went to its cards")).to_be_visible()
    sums = ask(page, "GET", "items/sums?place=the%20crate")
    assert (sums["basis"], sums["unknown_basis"]) == ("60", 0)


def test_goals_fill_flaws_make_a_condition_and_lists_say_what_to_pull(page: Page) -> None:
    page.goto("/stock/-/goals")
    page.get_by_label("Set", exact=True).fill("Nowhere at all")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_role("alert").or_(page.locator(".Mui-error")).first).to_be_visible()
    page.get_by_label("Set", exact=True).fill("Skerrylight 2025")
    page.get_by_label("Line", exact=True).fill("Night Passage")
    page.get_by_role("button", name="Set it").click()
    expect(heading(page)).to_contain_text("of Night Passage, Skerrylight 2025")
    said = re.search(r"(\d+) missing", heading(page).inner_text())
    assert said is not None
    missing = int(said[1])
    slot = page.get_by_label("Slots").get_by_role("link", name=re.compile(": missing")).first
    number = slot.inner_text().strip()
    ask(page, "POST", "sorting/cards", {"text": number, "release": "skerrylight-2025", "line": "Night Passage"})
    page.reload()
    expect(heading(page)).to_contain_text(f"{missing - 1} missing" if missing > 1 else "complete")
    expect(page.get_by_role("table", name="By packs")).to_contain_text("Harbour box")
    page.get_by_label("Slots").get_by_role("link", name=re.compile(f"^{number}.*: here")).click()
    page.get_by_role("link", name="Mark its flaws").click()
    expect(heading(page)).to_contain_text("No flaw is marked")
    front = page.get_by_role("group", name=re.compile("The front"))
    front.focus()
    for _ in range(25):
        page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")  # small wear at the edge of the front
    expect(heading(page)).to_contain_text("It is LP in both readings")
    page.reload()  # marks that are not kept yet outlive it
    expect(page.get_by_role("button", name=re.compile("small wear, 0 % from the left"))).to_be_visible()
    page.get_by_role("button", name="Keep as LP").click()
    expect(page.get_by_text(re.compile("^Kept: LP with 1 marks"))).to_be_visible()
    page.get_by_role("button", name="Back to the card").click()
    expect(page.get_by_text("1 flaw marked")).to_be_visible()
    page.goto("/stock/-/pull")
    page.get_by_label("An hour is worth").fill("a lot")
    page.keyboard.press("Enter")
    expect(page.get_by_text("write an amount like")).to_be_visible()
    page.get_by_label("An hour is worth").fill("12")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("a look costs 0.30")
    page.get_by_role("link", name="Skerrylight First Watch 2011").click()
    expect(page.get_by_label("An hour is worth")).to_have_value("12")
    page.goto("/stock/-/doubles")
    page.get_by_label("Postage: grams price, …").fill("a stamp")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is not a weight in grams and a price").first).to_be_visible()
    page.get_by_label("Postage: grams price, …").fill("1000 4.50, 5000 6.20, 10000 8.90")
    page.keyboard.press("Enter")
    expect(page.get_by_role("table", name="Lots")).to_contain_text("8.90")


def test_what_hardly_sells_is_lent_a_value_as_long_work(page: Page) -> None:
    page.goto("/pricing/-/borrowed")
    page.get_by_role("button", name="Borrow values").click()
    expect(heading(page)).to_contain_text("All together about", timeout=400_000)
    page.reload()
    expect(page.get_by_role("table", name="Look these up").locator("tbody tr")).to_have_count(20)
    expect(page.get_by_role("table", name="Releases")).to_contain_text("that is right")
    page.get_by_role("table", name="Look these up").get_by_role("link").first.click()
    expect(page.get_by_text("Borrowed from its mates")).to_be_visible()
    expect(page.get_by_text("last sales held out")).to_be_visible()
