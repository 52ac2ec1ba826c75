"""What sorting costs in time: a set of a thousand cards as a grid, what to pull of many sets, and 500 cards typed by a
script at 50 ms a key. Parts of ``make bench``."""

import time
from functools import partial

from playwright.sync_api import sync_playwright

from tests.bench_work import DAY, seconds
from tests.conftest import make_database
from tests.journeys.conftest import ARGUMENTS, CHROMIUM, serving
from tests.sheets import document, line
from tobbix.core.products.reading import locate_in_document, read_sheet
from tobbix.core.sorting.goals import GoalKind
from tobbix.db.base import Database
from tobbix.services.installation.owners import create_owner
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet
from tobbix.services.sorting import entering, goals, pulling
from tobbix.services.sorting.entering import Pile
from tobbix.services.sorting.goals import GoalSaid
from tobbix.services.stock.items import ItemFilter, sum_items

_PHRASE, _TYPED = "four plain words here", 500


def bench_sorting(server_url: str) -> None:
    """The set's grid, the pull list, and entry in the browser."""
    database = Database(make_database(server_url, "sorting"))
    create_owner(database, "Bench", _PHRASE)
    catalogue = Catalogue(database, lambda: DAY)
    made = document([line(f"l{at}", ["1"] * 1_000, "1:12 packs") for at in range(5)], ["0.05"] * 600)
    store_sheet(catalogue, read_sheet(made, locate_in_document).sheet, replace_existing=False)
    for at in range(1, 301):
        entering.enter_card(catalogue, Pile("test", None, "l0", "box", "NM"), f"L0{at} x{1 + at % 3}")
    number = goals.put_goal(catalogue, 0, 0, GoalSaid("Line", GoalKind.SET, "test", "l0", least="LP"))
    grid = partial(goals.read_goal, catalogue, number)
    grid()
    print(f"a set of 1,000 cards as a grid: {min(seconds(grid) for _ in range(5)) * 1e3:.0f} ms (aim: under 100)")
    pull = partial(pulling.read_pulls, catalogue, "test", 12.0, 1.5)
    pull()
    print(f"what to pull of 5,600 cards: {min(seconds(pull) for _ in range(3)) * 1e3:.0f} ms")
    with serving(database) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(base_url=address)
        page.goto("/")
        page.get_by_label("Passphrase").fill(_PHRASE)
        page.keyboard.press("Enter")
        page.get_by_role("link", name="Desk").wait_for()
        page.goto("/stock/-/enter")
        page.get_by_label("Set", exact=True).fill("Test 2025")
        page.get_by_label("Pile", exact=True).fill("typed")
        page.locator("#card-number").focus()
        began = time.perf_counter()
        for at in range(_TYPED):
            page.keyboard.type(str(at + 1), delay=50)
            page.keyboard.press("Enter", delay=50)
        typed = time.perf_counter() - began
        page.get_by_text(f"{_TYPED} cards entered").wait_for(timeout=300_000)
        took = time.perf_counter() - began
        browser.close()
    found = sum_items(database, ItemFilter(place="typed"))
    print(f"{_TYPED} cards at 50 ms a key: typed in {typed:.0f} s, all {found.count} there after {took:.0f} s "
          f"({_TYPED - found.count} lost, aim: none)")  # fmt: skip
    database.engine.dispose()
