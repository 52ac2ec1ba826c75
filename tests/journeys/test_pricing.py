"""Journeys of the Pricing step, through the interface that people use."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import TODAY
from tests.journeys.conftest import at_desk, heading

pytestmark = pytest.mark.journey

SALES = ["31 + 2 bellbuoy 3 nov", "34 + 2 5 nov", "29 7 bids 12 nov", "36 + 2 8 nov", "33 + 2 9 nov", "118 + 2 1 nov"]


def test_a_card_is_priced_from_typed_lines_by_keyboard_and_by_thumb(page: Page) -> None:
    at_desk(page)
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


PASTED = """Sold items

{title} NM
14.50 EUR
+ 1.60 EUR shipping
sold 20 Nov 2026

{title} Plumbline 9
31.00 EUR
free shipping
7 bids, sold 21 Nov 2026

{title} paper print
2.00 EUR
sold 22 Nov 2026

{title} reprint
2.00 EUR
sold 22 Nov 2026
"""


def test_a_page_of_results_is_pasted_judged_taught_kept_and_taken_back(page: Page) -> None:
    """From the list of what to look up next; the words that are proposed to look it up with tell the card again."""
    at_desk(page)
    page.keyboard.press("5")
    expect(heading(page)).to_contain_text("Look up ")
    page.get_by_role("table", name="Look up next").get_by_role("link").first.click()
    words = page.get_by_role("region", name="Look it up with")
    expect(words).to_contain_text("reprint, proxy, replica")
    title = words.get_by_text(re.compile(r".+ \d{4} .+")).first.inner_text()
    before = page.get_by_role("table", name="All that was seen").get_by_role("row").count()
    page.keyboard.press("v")
    field = page.get_by_label("The page, as it was copied")
    expect(field).to_be_focused()
    page.get_by_label("Where it is from").fill("quay")
    field.fill(PASTED.format(title=title))
    expect(heading(page)).to_contain_text("4 results: 3 ready, 1 left out.")
    table = page.get_by_role("table", name="What it holds")
    expect(table.get_by_role("row").nth(2)).to_contain_text("Plumbline:9")
    expect(table.get_by_role("row").nth(4)).to_contain_text("Not taken: a reprint.")
    page.reload()  # what was pasted is still there
    table.get_by_role("row").nth(3).get_by_role("button", name="Say more").click()
    page.get_by_label("These words of a title").fill("paper print")
    page.get_by_role("combobox", name="mean", exact=True).click()
    page.get_by_role("option", name="that it is no card").click()
    page.get_by_role("button", name="Remember it").click()
    expect(heading(page)).to_contain_text("4 results: 2 ready, 2 left out.")
    field.press("Control+Enter")
    expect(page.get_by_text("2 prices kept.")).to_be_visible()
    expect(field).to_have_value("")
    field.fill(PASTED.format(title=title))
    expect(heading(page)).to_contain_text("2 there already")
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(heading(page)).to_contain_text("2 ready")  # and the same page can come in again
    field.press("Control+Enter")
    expect(page.get_by_text("2 prices kept.").last).to_be_visible()
    page.go_back(wait_until="commit")
    expect(page.get_by_role("table", name="All that was seen").get_by_role("row")).to_have_count(min(before + 2, 13))
    page.get_by_label("How many there are, a line for each grader").fill("Plumbline 10:12 9")
    page.get_by_role("button", name="Count", exact=True).click()
    expect(page.get_by_text("12 of them gems").or_(page.get_by_text("counted.")).first).to_be_visible()
    page.get_by_label("How many there are, a line for each grader").fill("Plumbline 10:twelve")
    page.get_by_role("button", name="Count", exact=True).click()
    expect(page.get_by_text("like Plumbline 10:12 9:40").last).to_be_visible()


def test_a_target_list_is_kept_bought_from_taken_back_and_printed(page: Page) -> None:
    page.goto("/buying/-/targets")
    expect(heading(page)).to_contain_text("22 of 60 cards bought")
    page.get_by_label("A card, or any words").fill("a lamp of my own")
    page.get_by_label("May cost").fill("12,5O")
    page.get_by_role("button", name="Aim at it").click()
    expect(page.get_by_text("write an amount like 12.50")).to_be_visible()
    page.get_by_label("May cost").fill("12,50")
    page.get_by_role("button", name="Aim at it").click()
    expect(page.get_by_text("say in which state or grade")).to_be_visible()
    page.get_by_label("State, or Grader:grade").fill("NM")
    page.keyboard.press("Enter")
    expect(heading(page)).to_contain_text("22 of 61 cards bought")
    table = page.get_by_role("table", name="Target list")
    row = table.get_by_role("row").filter(has_text="a lamp of my own")
    expect(row).to_contain_text("12.50")
    row.get_by_role("button", name="Bought: a lamp of my own", exact=True).click()
    page.get_by_label("All-in").fill("9")
    page.get_by_label("middle").fill("10")
    page.get_by_role("button", name="It is bought").click()
    expect(heading(page)).to_contain_text("23 of 61 cards bought")
    expect(row).to_contain_text("+2.50")  # by a lower price of such copies
    expect(row).to_contain_text("+1.00")  # by buying well
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(heading(page)).to_contain_text("22 of 61 cards bought")
    row.get_by_role("button", name="Take off: a lamp of my own").click()
    expect(heading(page)).to_contain_text("22 of 60 cards bought")
    page.get_by_role("textbox", name="Price bands").fill("all of them")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("table", name="By price band")).to_contain_text("all of them")
    page.emulate_media(media="print")
    expect(page.get_by_label("A card, or any words")).to_be_hidden()
    expect(table).to_be_visible()
    page.emulate_media(media="screen")
    page.get_by_role("link", name="Make or buy a grade").click()
    for label, value in (("A raw copy", "20"), ("Grading one", "25"), ("Chance", "30"), ("A miss leaves", "30"),
                         ("The slab", "95")):  # fmt: skip
        page.get_by_label(label).fill(value)
        page.keyboard.press("Tab")
    expect(heading(page)).to_contain_text("about 80.00 a copy, 15.00 less than the slab")
    page.get_by_label("Chance").fill("0")
    page.keyboard.press("Tab")
    expect(page.get_by_text("must be more than 0")).to_be_visible()


def test_a_table_is_chosen_mended_and_kept_by_keyboard(page: Page, tmp_path: Path) -> None:
    wide = tmp_path / "book.csv"
    wide.write_text("card;set;9;pop 9\nFenwick Fennick KH5;Skerrylight 2025;48,00;40\nNobody;Skerrylight 2025;much;1\n")
    page.goto("/pricing")
    heading(page).wait_for()
    page.keyboard.press("t")
    page.get_by_label("A table of prices").set_input_files(wide)
    columns = page.get_by_role("table", name="What its columns mean")
    expect(columns).to_contain_text("Fenwick Fennick KH5")
    expect(heading(page)).to_contain_text("2 left out")  # whose grades, and of which day, is not said and not guessed
    page.get_by_label("Whose grades, if not said").fill("Plumbline")
    page.get_by_label("Day, if not said").fill(str(TODAY))
    expect(heading(page)).to_contain_text("1 ready")
    expect(page.get_by_role("table", name="What it holds")).to_contain_text("row 3: “much” is no amount")
    columns.get_by_label("9 means").first.click()
    page.get_by_role("option", name="high of a book").click()
    expect(page.get_by_role("table", name="What it holds")).to_contain_text("Plumbline:9")
    page.reload()
    expect(page.get_by_text("as you said it")).to_be_visible()  # what was typed and mended is still there
    page.get_by_label("The table, its cells").press("Control+Enter")
    expect(page.get_by_text("1 price kept. 1 count kept.")).to_be_visible()
    expect(page.get_by_label("The table, its cells")).to_have_value("")
    page.get_by_label("A table of prices").set_input_files(wide)
    expect(page.get_by_text("as you said it")).to_be_visible()  # remembered for the next one with these heads


def test_cards_side_by_side_raw_against_graded(page: Page) -> None:
    page.goto("/pricing/-/beside")
    expect(heading(page)).to_contain_text("What you hold in NM")
    page.get_by_label("Beside them, graded by").click()
    page.get_by_role("option", name="Plumbline", exact=True).click()
    page.get_by_label("Grading costs in all").fill("dear")
    expect(page.get_by_text("write an amount, like 24.50")).to_be_visible()
    page.get_by_label("Grading costs in all").fill("24,50")
    expect(page.get_by_role("columnheader", name="Gains from")).to_be_visible()
    expect(page.get_by_text("gain at some grade, if they make it")).to_be_visible()
    page.get_by_role("table", name="The cards").get_by_role("button", name="10", exact=True).click()
    expect(page).to_have_url(re.compile("by=grade"))
    page.reload()
    expect(page.get_by_label("Grading costs in all")).to_have_value("24,50")
    page.get_by_role("combobox", name=re.compile("^Cards")).click()
    page.get_by_role("option", name="Ottergate Regatta 2026").click()
    expect(heading(page)).to_contain_text("Ottergate Regatta 2026 in NM")
    page.get_by_role("table", name="The cards").get_by_role("link").first.click()
    expect(page.get_by_role("region", name="All that was seen")).to_be_visible()


def test_a_trade_is_evened_and_stays_on_the_table(page: Page) -> None:
    page.goto("/pricing/-/trade")
    expect(heading(page)).to_contain_text("Nothing is on the table yet")
    for side, words in (("You give", "fennick KH5"), ("You get", "dunstan tarrow 4")):
        page.get_by_label(f"{side}: a card").fill(words)
        page.get_by_role("option").first.wait_for()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
    got = page.get_by_role("table", name="You get")
    expect(got.get_by_role("row").nth(1)).to_contain_text(re.compile(r"\d\.\d\d"))
    expect(heading(page)).to_contain_text("to even it")
    got.get_by_label(re.compile("^Copies of")).fill("x")
    expect(page.get_by_text("write a whole number from 1 on")).to_be_visible()
    got.get_by_label(re.compile("^Copies of")).fill("2")
    got.get_by_label(re.compile("agreed to be worth")).fill("50")
    expect(page.get_by_role("region", name="You get")).to_contain_text("100.00 EUR")
    page.get_by_label("Your cards count less by, %").fill("10")
    expect(page.get_by_text("Your cards count 10 % less")).to_be_visible()
    page.reload()
    expect(page.get_by_role("region", name="You get")).to_contain_text("100.00 EUR")  # nothing typed is lost
    page.get_by_role("button", name="Clear the table").click()
    expect(heading(page)).to_contain_text("Nothing is on the table yet")


def test_what_changed_is_watched_and_seen(page: Page) -> None:
    page.goto("/pricing")
    changed = page.get_by_role("region", name="Changed since you looked")
    expect(changed).to_contain_text("You have not looked yet")
    changed.get_by_role("button", name="Begin to watch").click()
    expect(changed).to_contain_text("Nothing that you hold changed its price")
    page.goto("/pricing/-/card?release=ottergate-regatta-2026&line=base&number=4")  # three of it are held
    typed = "\n".join(f"{price} + 0 {state}" for price in range(60, 90) for state in ("NM", "LP", "MP"))
    expect(heading(page)).to_contain_text(re.compile("[0-9]"))
    before = heading(page).inner_text()
    page.get_by_label("What it went for, a line for each").fill(typed)
    page.get_by_role("button", name="Add", exact=True).click()
    expect(heading(page)).not_to_have_text(before)
    page.goto("/pricing")
    expect(changed).to_contain_text("changed since")
    expect(changed.get_by_role("table")).to_contain_text("Dunstan Tarrow, Base 4")
    changed.get_by_role("button", name="I have seen them").click()
    expect(changed).to_contain_text("Nothing that you hold changed its price")
    page.get_by_role("button", name="Take back", exact=True).first.click()
    expect(changed).to_contain_text("what you hold is worth")


def test_prices_are_fetched_looked_at_and_taken_back(page: Page) -> None:
    page.goto("/pricing")
    heading(page).wait_for()
    page.keyboard.press("f")
    page.get_by_role("combobox", name="Of which cards").click()
    page.get_by_role("option", name="the target list").click()
    page.get_by_role("button", name="Fetch prices").click()
    expect(page.get_by_role("status").filter(has_text="of 60")).to_be_visible(timeout=20_000)
    page.reload()  # long work is found again where it is
    expect(heading(page)).to_contain_text("new prices of", timeout=60_000)
    doubtful = page.get_by_role("table", name="What it holds")
    lots = doubtful.get_by_role("row").filter(has_text="A lot of 2.")
    expect(lots.first).to_be_visible()
    before = lots.count()
    doubtful.get_by_role("checkbox").nth(1).check()
    page.get_by_role("button", name="Keep 1 price").click()
    expect(lots.filter(has_text="There already.")).to_have_count(1)
    assert lots.count() == before
    expect(page.get_by_role("table", name="Lots that close")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Take .* back$")).first.click()
    expect(page.get_by_text("What came in was taken back.")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 800})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_card_is_identified_by_what_it_shows_with_keys(page: Page) -> None:
    page.goto("/stock")
    heading(page).wait_for()
    page.keyboard.press("i")
    page.get_by_label("What stands on it").fill("12 skerrylight 2025")
    expect(heading(page)).to_have_text("Is it numbered, and of how many?")
    page.keyboard.press("Enter")
    page.keyboard.press("s")
    expect(heading(page)).to_contain_text("Drizzle 12, Skerrylight 2025")
    page.keyboard.press("Backspace")
    expect(heading(page)).to_have_text("Is it numbered, and of how many?")
    page.get_by_role("button", name="I cannot tell").click()
    expect(heading(page)).to_contain_text("Which of these does it look like?")
    page.goto("/stock/-/subjects")
    page.get_by_label("Name, or a part of it").fill("petrel point")
    page.get_by_role("checkbox", name="Watch Petrel Point").click()
    expect(page.get_by_text("Petrel Point is watched.")).to_be_visible()
    page.goto("/stock/-/identify")
    page.get_by_label("What stands on it").fill("12 petrel point")
    expect(page.get_by_text("watched").first).to_be_visible()


def test_two_lists_meet_and_are_evened_out(page: Page) -> None:
    page.goto("/pricing/-/lists")
    with page.expect_download() as download:
        page.get_by_role("link", name="What I want, as CSV").click()
    wants = Path(download.value.path()).read_text().splitlines()
    theirs = "\n".join([wants[0], *(line.replace("want,", "have,", 1) for line in wants[1:3])]).replace(",", "\t")
    page.get_by_label("Somebody’s list, a card").fill(f"{theirs}\nhave\t\t\t\t\tNobody")
    expect(heading(page)).to_contain_text("They have 2 that you want")
    expect(page.get_by_text("line 4: no card that is known here")).to_be_visible()
    page.get_by_role("table", name="They have what you want").get_by_role("checkbox").nth(1).check()
    page.get_by_role("button", name="Even 1 out in a trade").click()
    expect(heading(page)).to_contain_text("to even it")


def test_the_school_is_chosen_and_everything_is_valued_anew(page: Page) -> None:
    page.goto("/settings/money")
    page.get_by_role("combobox", name="A price by its sales is").click()
    page.get_by_role("option", name="the last sale").click()
    expect(page.get_by_text("What you hold is being valued anew")).to_be_visible()
    page.goto("/pricing/-/card?release=ottergate-regatta-2026&line=base&number=15")
    expect(heading(page)).to_contain_text("by the last sale")
    expect(page.get_by_text("Last, which counts")).to_be_visible()
