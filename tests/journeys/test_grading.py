"""Grading through the real interface: a card photographed and measured by keyboard and by thumb, a submission from the
table to what came back, a batch, the record, the eye."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import TODAY
from tests.journeys.asking import ask, let_in
from tests.journeys.conftest import check_by_day_and_by_night, heading
from tobbix.core.grading.simulated_scans import simulate_scan
from tobbix.formats.pictures import write_jpeg

pytestmark = pytest.mark.journey


def scan_file(folder: Path, seed: int = 11, card: bool = True) -> Path:
    scan = simulate_scan(seed, 900, off=1.0, card=card)
    file = folder / f"scan {seed}.jpg"
    file.write_bytes(write_jpeg(scan.pixels, scan.per_mm * 25.4))
    return file


def unlooked(page: Page) -> int:
    """A raw card of which there is no picture."""
    rows = ask(page, "GET", "grading/worth?tier=standard")["rows"]
    return int(next(it["item"] for it in rows if it["by"] in ("population", "nothing") and it["gain"] is not None))


def test_a_card_is_photographed_measured_and_weighed_by_keyboard(page: Page, tmp_path: Path) -> None:
    item = unlooked(page)
    page.goto(f"/grading/-/card/{item}?tier=standard")
    expect(page.get_by_text("Nothing yet: without a picture")).to_be_visible()
    page.get_by_label("A photo of the front", exact=True).set_input_files(scan_file(tmp_path, card=False))
    expect(page.get_by_text(re.compile("no card was found.*Place the lines by hand"))).to_be_visible(timeout=20_000)
    page.get_by_label("A photo of the front", exact=True).set_input_files(scan_file(tmp_path))
    measured = page.get_by_role("table", name="Measured")
    expect(measured.get_by_text("front")).to_be_visible(timeout=20_000)
    before = measured.get_by_role("row").nth(1).inner_text()
    line = page.get_by_role("button", name=re.compile("left line of the printed frame"))
    line.focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("z")
    expect(page.get_by_text("by hand")).to_be_visible()
    page.reload()  # what was moved is still there
    expect(page.get_by_role("button", name="Keep these lines")).to_be_visible()
    page.get_by_role("button", name="Keep these lines").click()
    expect(page.get_by_text("The lines are kept.")).to_be_visible()
    expect(measured.get_by_role("row").nth(1)).not_to_have_text(before)
    page.get_by_role("link", name="mark them").click()
    expect(page.get_by_role("group", name=re.compile("The front"))).to_be_visible()
    expect(page.locator("image").first).to_have_attribute("href", re.compile(r"/card$"))  # on the card by itself
    page.get_by_role("group", name=re.compile("The front")).focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name=re.compile("^Keep as")).first.click()
    expect(page.get_by_text(re.compile("^Kept: .* with 1 marks"))).to_be_visible()
    page.goto(f"/grading/-/card/{item}?tier=standard")
    expect(page.get_by_role("region", name="Flaws").get_by_text("small wear on the picture")).to_be_visible()
    page.get_by_label("10, %").fill("60")
    page.get_by_label("9, %").fill("30")
    page.get_by_role("button", name="Go by these").click()
    expect(page.get_by_role("alert")).to_contain_text("not to 100 %")
    page.get_by_label("9, %").fill("40")
    page.get_by_label("8, %").fill("0")
    page.get_by_label("7, %").fill("0")
    page.get_by_label("6, %").fill("0")
    page.get_by_role("button", name="Go by these").click()
    expect(page.get_by_text("you said so")).to_be_visible()
    expect(page.get_by_role("table", name="By grade", exact=True).get_by_text("60 %")).to_be_visible()


def test_lines_are_moved_by_thumb_on_a_phone(browser: Browser, address: str, tmp_path: Path) -> None:
    context = browser.new_context(base_url=address, viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    let_in(page)
    item = unlooked(page)
    page.goto(f"/grading/-/card/{item}?tier=standard")
    page.get_by_label("A photo of the front", exact=True).set_input_files(scan_file(tmp_path, 12))
    expect(page.get_by_role("table", name="Measured").get_by_text("front")).to_be_visible(timeout=20_000)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390  # nothing scrolls sideways
    edge = page.get_by_role("button", name=re.compile("right line of the edge"))
    edge.scroll_into_view_if_needed()
    box = edge.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 6, y, steps=4)
    page.mouse.up()
    expect(page.get_by_role("button", name="Keep these lines")).to_be_visible()
    page.get_by_role("button", name="As they were").click()
    expect(page.get_by_role("button", name="Keep these lines")).to_be_hidden()
    context.close()


def test_a_submission_from_the_table_to_what_came_back(page: Page) -> None:
    page.goto("/grading/-/worth?tier=standard")
    expect(heading(page)).to_contain_text("worth grading at Plumbline")
    table = page.get_by_role("table", name="Cards that may be graded")
    rows = ask(page, "GET", "grading/worth?tier=standard")["rows"]
    free = [
        it["item"] for it in rows
        if it["by"] == "pictures" and it["draft"] is None and it["gain"] is not None and float(it["raw"]) < 60
    ]  # fmt: skip
    for item in free[:2]:  # what lies in no draft, and is worth what the tier takes
        row = table.get_by_role("row").filter(has=page.locator(f'a[href="/grading/-/card/{item}"]'))
        row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Draft a submission of 2").click()
    expect(page.get_by_role("heading", name=re.compile("2 cards cost"))).to_be_visible()
    page.get_by_role("combobox", name="Carrier").click()
    page.get_by_role("option", name="Gannet Post").click()
    page.get_by_role("combobox", name="Class").click()
    page.get_by_role("option", name=re.compile("Insured")).click()
    page.get_by_label("The parcel back, USD").fill("22")
    page.get_by_label("The parcel back, USD").press("Enter")
    expect(page.get_by_text("the parcel out, Insured parcel")).to_be_visible()
    with page.expect_download() as form:
        page.get_by_role("link", name=re.compile("Form, steps")).click()
    assert Path(form.value.path()).read_bytes().startswith(b"%PDF")
    page.get_by_label("Posted on").fill("2030-01-01")
    page.get_by_role("button", name="It is posted").click()
    expect(page.get_by_text("is after today")).to_be_visible()
    posted = TODAY.replace(month=TODAY.month - 6).isoformat()
    page.get_by_label("Posted on").fill(posted)
    page.get_by_role("button", name="It is posted").click()
    expect(heading(page)).to_contain_text("2 cards at Plumbline for")
    page.get_by_role("button", name="Ask Plumbline").click()
    page.get_by_role("button", name="Write its 2 grades below").click()
    page.get_by_role("button", name="Book the bill").click()
    expect(page.get_by_text("The bill is booked.")).to_be_visible()
    first = page.get_by_label(re.compile("^Grade of")).first
    first.fill("12")
    page.get_by_role("button", name="Take in 2 cards").click()
    expect(page.get_by_text("Plumbline gives no 12")).to_be_visible()
    expect(first).to_have_value("12")
    first.fill("9")
    page.get_by_role("button", name="Take in 2 cards").click()
    expect(heading(page)).to_contain_text("came back as the top grade")
    page.get_by_role("link", name="what now?").first.click()
    expect(page.get_by_role("table", name="What can be done")).to_be_visible()
    page.get_by_role("button", name="I cracked it out").click()
    page.get_by_role("button", name="It is cracked out").click()
    expect(page.get_by_text("It is raw again")).to_be_visible()
    page.goto("/grading/-/record")
    expect(heading(page)).to_contain_text("You said a gem in")


def test_the_best_batch_the_eye_and_a_grader(page: Page) -> None:
    page.goto("/grading/-/batch?out=5&back=5")
    expect(heading(page)).to_contain_text("Send ", timeout=30_000)
    page.get_by_label("Budget", exact=True).fill("60")
    page.get_by_label("Budget", exact=True).press("Enter")
    expect(page).to_have_url(re.compile("budget=60"))
    page.goto("/grading/-/eye")
    page.get_by_role("button", name="That is where they are").click()
    expect(page.get_by_text("It is", exact=True)).to_be_visible()
    page.get_by_role("button", name="The next one").click()
    expect(page.get_by_role("button", name="That is where they are")).to_be_visible()
    page.goto("/grading/-/graders")
    page.get_by_role("link", name="Fourfold").click()
    fee = page.get_by_role("button", name=re.compile("fee of Standard"))
    fee.click()
    page.keyboard.press("Control+A")
    page.keyboard.type("-3")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is no amount; write it like 12.50")).to_have_count(1)
    page.keyboard.press("Control+A")
    page.keyboard.type("23.50")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Kept.")).to_be_visible()


def test_a_signer_takes_a_card_and_the_pages_of_grading_are_accessible(page: Page) -> None:
    page.goto("/grading/-/graders")
    page.get_by_label("Another grader, signer or repairer").fill("The painter")
    page.get_by_label("Bills in").fill("EUR")
    page.get_by_role("combobox", name="Scale").click()
    page.get_by_role("option", name="none: signs or repairs").click()
    page.get_by_label("Its fee").fill("12")
    page.get_by_role("button", name="Describe it").click()
    expect(page.get_by_role("heading", name="How it grades")).to_be_visible()
    expect(page.get_by_role("table", name="Centering limits")).to_be_hidden()
    signer = int(page.url.rsplit("/", 1)[1])
    item = unlooked(page)
    drafted = ask(page, "POST", "submissions", {"grader": signer, "cards": [{"item": item, "tier": "standard"}]})
    page.goto(f"/grading/{drafted['number']}")
    page.get_by_role("button", name="It is posted").click()
    page.get_by_label(re.compile("^Another version")).fill("Drizzle")
    page.get_by_role("option", name=re.compile("Drizzle")).first.click()
    page.get_by_label("Tracking number back").fill("RB 1")
    page.get_by_role("button", name="Take in 1 card").click()
    expect(heading(page)).to_contain_text("went to The painter")
    expect(page.get_by_role("table", name="Parcels").get_by_text("RB 1")).to_be_visible()
    expect(
        page.get_by_role("table", name="History of the submission").get_by_text(re.compile("back as .*Drizzle"))
    ).to_be_visible()
    rows = ask(page, "GET", "submissions")["submissions"]
    of_state = {it["state"]: it["number"] for it in rows if it["grader"] != "The painter"}
    graded = ask(page, "GET", f"submissions/{of_state['done']}")
    label = next(it["item"] for it in graded["cards"] if it["grade"] and not it["cracked"])
    check_by_day_and_by_night(page, [
        "/grading", f"/grading/{of_state['drafted']}", f"/grading/{of_state['sent']}", f"/grading/{of_state['done']}",
        "/grading/-/worth", "/grading/-/batch?out=5&back=5", "/grading/-/record", "/grading/-/eye",
        "/grading/-/graders", "/grading/-/graders/1", f"/grading/-/card/{unlooked(page)}",
        f"/grading/-/opinion/{label}",
    ])  # fmt: skip
