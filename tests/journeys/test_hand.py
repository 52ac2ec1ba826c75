"""Hand and eye: keys, a phone, a server that fails, what is found, done to many rows, and taken back."""

import re
import time

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.journeys.asking import begin, let_in
from tests.journeys.conftest import at_desk, heading, inaccessible, tab_to

pytestmark = pytest.mark.journey
COMES_BACK = "window.dispatchEvent(new Event('visibilitychange'))"


def press(page: Page, key: str, code: str, modifiers: str = "") -> None:
    """A key of another keyboard: what it makes, and where it lies."""
    page.evaluate(
        "([key, code, held]) => document.body.dispatchEvent(new KeyboardEvent('keydown', {key, code, bubbles: true, "
        "cancelable: true, shiftKey: held === 'shift', ctrlKey: held === 'ctrl'}))",
        [key, code, modifiers],
    )


def test_keys_go_by_their_character_and_rest_while_something_is_asked(page: Page) -> None:
    at_desk(page)
    heading(page).wait_for()
    press(page, "?", "Minus", "shift")  # as it lies on a German keyboard
    dialog = page.get_by_role("dialog", name="Keys")
    expect(dialog).to_contain_text("take back the last thing done here")
    page.keyboard.press("2")
    expect(dialog).to_be_visible()
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    page.keyboard.down("2")
    page.keyboard.down("3")  # the first is held down
    page.keyboard.up("3")
    page.keyboard.up("2")
    expect(heading(page)).to_contain_text("not finished")
    page.keyboard.press("/")
    page.get_by_role("combobox", name="Find").fill("valley box")
    expect(page.get_by_role("option").first).to_contain_text("Valley box")
    page.keyboard.press("Enter")
    expect(page).to_have_url(page.url.split("/products")[0] + "/products/highline-2024/valley")
    page.keyboard.press("/")
    page.get_by_role("combobox", name="Find").fill("nothing of the kind")
    expect(page.get_by_text("Nothing here is called so.")).to_be_visible()


def test_what_is_typed_before_the_finder_stands_is_in_it(page: Page) -> None:
    at_desk(page)

    def late(route: Route) -> None:
        time.sleep(1.5)
        route.continue_()

    page.route("**/assets/Finder-*.js", late)
    page.keyboard.press("/")
    words = "harb 35 " * 30  # the figures lead nowhere else; it comes while they are typed
    page.keyboard.type(words, delay=10)
    expect(page.get_by_role("dialog", name="Find anything").get_by_label("Find")).to_have_value(words)


def test_what_is_there_stays_when_asking_anew_fails_and_no_word_is_lost(page: Page) -> None:
    page.goto("/stock/1")
    page.get_by_label("Note", exact=True).fill("half a sentence")
    page.route("**/api/items/1", lambda route: route.abort())
    page.wait_for_timeout(5_200)  # until then what was just asked is taken for new
    page.evaluate(COMES_BACK)
    expect(page.get_by_text("This is as it stood at")).to_be_visible()
    expect(page.get_by_label("Note", exact=True)).to_have_value("half a sentence")
    expect(heading(page)).to_contain_text("it cost")
    page.unroute("**/api/items/1")
    page.get_by_role("button", name="Ask again").click()
    expect(page.get_by_text("This is as it stood at")).to_be_hidden()
    expect(page.get_by_label("Note", exact=True)).to_have_value("half a sentence")
    page.get_by_label("Note", exact=True).press("Enter")
    expect(page.get_by_label("History of the item")).to_contain_text("half a sentence")
    page.route("**/api/purchases", lambda route: route.abort())
    page.goto("/buying/-/new")
    expect(page.get_by_role("button", name="Try again")).to_be_visible(timeout=30_000)
    page.unroute("**/api/purchases")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_label("The purchase in one line")).to_be_visible()


def test_many_rows_are_put_somewhere_at_once_and_ctrl_z_says_what_it_takes_back(page: Page) -> None:
    page.goto("/stock?find=highline")
    table = page.get_by_role("table", name="Items")
    for _ in range(2):
        table.get_by_role("checkbox", name="Choose ", checked=False).nth(1).click()
    expect(page.get_by_text("2 rows chosen")).to_be_visible()
    page.get_by_label("Place of all").fill("the lid")
    page.get_by_role("button", name="Put there").click()
    expect(page.get_by_text("Kept of 2 rows.")).to_be_visible()
    expect(table.get_by_role("button", name=": the lid. Edit")).to_have_count(2)
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Taken back: Kept of 2 rows.")).to_be_visible()
    expect(table.get_by_role("button", name=": the lid. Edit")).to_have_count(0)
    page.get_by_label("Doubles").click()
    page.get_by_role("option", name="more than one held").click()
    expect(page).to_have_url(page.url.split("?")[0] + "?find=highline&doubles=true")


def test_stock_books_desk_and_settings_by_keyboard_alone(page: Page) -> None:
    at_desk(page)
    page.keyboard.press("4")
    expect(page.get_by_role("table", name="Items")).to_be_visible()
    tab_to(page, page.get_by_label("Find, by several words"))
    page.keyboard.type("drizzle")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("find=drizzle"))
    expect(page.get_by_role("heading", name="4 rows")).to_be_visible()
    table = page.get_by_role("table", name="Items")
    tab_to(page, table.get_by_role("checkbox", name="Choose all on this page"))
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Space")
    expect(page.get_by_text("1 row chosen")).to_be_visible()
    tab_to(page, page.get_by_label("Place of all"))
    page.keyboard.type("tin")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Kept of 1 row.")).to_be_visible()
    page.keyboard.press("8")
    expect(page).to_have_url(re.compile("/books"))
    tab_to(page, page.get_by_role("table", name="Lots").get_by_role("link").first)
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/buying/"))
    page.go_back(wait_until="commit")
    tab_to(page, page.get_by_role("link", name="All lines as CSV"))
    page.keyboard.press("Home")
    page.keyboard.press("0")
    expect(page).to_have_url(re.compile("/$"))
    tab_to(page, page.get_by_role("link", name="Settings"))
    page.keyboard.press("Enter")
    tab_to(page, page.get_by_role("link", name="Your time").or_(page.get_by_label("Your rate an hour")).first)


def test_the_month_is_told_before_and_after_a_booking(page: Page) -> None:
    at_desk(page)
    month = page.get_by_role("banner").get_by_role("link", name="spent in November")
    before = month.inner_text()
    page.goto("/buying/-/new")
    expect(page.get_by_label("The purchase in one line")).to_be_focused()
    page.keyboard.type("harbour 140 here")
    expect(heading(page)).to_contain_text("140.00 landed")
    expect(page.get_by_text("over the limit that you set. It can wait.")).to_be_visible()
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("is here")
    expect(month).not_to_have_text(before)
    expect(month).to_contain_text("over your limit")


@pytest.mark.parametrize("size", [(390, 844), (640, 400)])
def test_every_step_is_reached_and_used_on_a_small_screen(
    browser: Browser, address: str, size: tuple[int, int]
) -> None:
    """A phone, and a window at 200 %: nothing scrolls sideways, and axe finds nothing, in opened states too."""
    width, height = size
    context = browser.new_context(viewport={"width": width, "height": height}, base_url=address, has_touch=True)
    page = context.new_page()
    let_in(page)
    at_desk(page)
    for station in ("Desk", "Products", "Buying", "Opening", "Stock", "Books"):
        page.get_by_role("navigation", name="The line of work").get_by_role("link", name=station).tap()
        heading(page).wait_for()
        page.wait_for_timeout(300)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, station
    page.goto(f"/opening/{begin(page, 1)}")
    page.get_by_label("number or subject").fill("44")
    page.get_by_role("option", name="Drizzle").tap()
    expect(page.get_by_label("Pulls")).to_contain_text("Drizzle")
    page.get_by_role("button", name="The rest of the pack is base").tap()
    expect(page.get_by_text("0 of 8 logged")).to_be_visible()
    for path in (
        "/products/skerrylight-2025/harbour", "/products/skerrylight-2025/-/formats", "/products/-/begin",
        "/products/-/fair", "/buying/-/new", "/stock/1", "/settings", "/settings/money", "/opening/-/results",
    ):  # fmt: skip
        page.goto(path)
        heading(page).wait_for()
        page.wait_for_timeout(600)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, path
    page.goto("/stock")
    heading(page).wait_for()
    for open_it in ("Done here", "Find"):
        page.get_by_role("button", name=open_it).first.tap()
        page.get_by_role("dialog").wait_for()
        page.wait_for_timeout(300)
        assert inaccessible(page) == [], open_it
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
    context.close()
