"""The pictures of docs/screenshots, from the demo's data: ``make screenshots``."""

import logging
import subprocess
import tempfile
import threading
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from werkzeug.serving import make_server

from tests.conftest import ROOT, TODAY, make_database
from tests.journeys.conftest import ARGUMENTS, CHROMIUM, sign_in
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.db.base import Database
from tobbix.demo.scenario import load_demo
from tobbix.gateways.shipped import GRADERS
from tobbix.gateways.standins.graders import SimulatedGrader
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.products.catalogue import Catalogue

TARGET = ROOT / "docs/screenshots"
HARBOUR = "/products/skerrylight-2025/harbour"


def take(page: Page, name: str) -> None:
    page.get_by_role("heading", level=1).wait_for()
    page.evaluate("scrollTo(0, 0)")
    page.wait_for_timeout(900)
    page.screenshot(path=TARGET / f"{name}.png")


def take_all(page: Page) -> None:
    sign_in(page)
    take(page, "desk")
    page.goto("/products")
    take(page, "products")
    page.goto(HARBOUR)
    take(page, "box")
    page.goto("/buying")
    page.get_by_role("link", name="Gavelrock lot").first.click()
    page.get_by_text("Landed").first.wait_for()
    take(page, "purchase")
    page.goto("/opening")
    page.locator("main a[href^='/opening/']:not([href*='-'])").first.click()
    page.get_by_text("Against the odds").wait_for()
    page.get_by_label("number or subject").fill("44")
    page.get_by_role("option").first.wait_for()
    take(page, "session")
    page.set_viewport_size({"width": 390, "height": 844})
    take(page, "session-phone")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto("/stock")
    take(page, "stock")
    page.goto("/stock/-/enter")
    page.get_by_label("Set", exact=True).fill("Keepers of the Coast 1983")
    page.get_by_label("Pile", exact=True).fill("box K 1983")
    for card in ("3 x2", "5", "9 lp", "14", "44 The Ferry Bell"):
        page.locator("#card-number").fill(card)
        page.keyboard.press("Enter")
    page.get_by_label("Entered").get_by_text("The Ferry Bell").wait_for()
    page.locator("#card-number").fill("16 x3 l")
    take(page, "enter")
    page.goto("/stock/-/plan")
    page.get_by_role("link", name="The shoeboxes in the attic").click()
    page.get_by_role("table", name="Passes").wait_for()
    take(page, "sorting-plan")
    page.goto("/stock/-/goals")
    page.get_by_role("link", name="Fog Signals").click()
    page.get_by_role("table", name="By packs").wait_for()
    take(page, "goal")
    page.goto("/pricing/-/card?release=ottergate-regatta-2026&line=base&number=15")
    page.get_by_role("table", name="All that was seen").wait_for()
    take(page, "price")
    page.goto("/grading/-/worth?tier=standard")
    page.get_by_role("table", name="Cards that may be graded").wait_for()
    take(page, "worth-grading")
    page.get_by_role("table", name="Cards that may be graded").get_by_role("row").filter(
        has_text="pictures"
    ).first.get_by_role("link").click()
    page.get_by_role("table", name="Measured").wait_for()
    take(page, "grading-card")
    page.goto("/grading")
    page.get_by_role("table", name="Submissions").get_by_role("link").last.click()
    page.get_by_role("table", name="Cards of the submission").wait_for()
    take(page, "submission")
    page.goto("/selling")
    page.get_by_role("table", name="Orders").wait_for()
    take(page, "orders")
    page.get_by_role("link", name="B-2041").first.click()
    page.get_by_role("table", name="Ways that fit").wait_for()
    take(page, "packing")
    page.goto("/selling/-/listings")
    page.get_by_role("table", name="Listings").get_by_role("row").filter(has=page.locator("td b")).first.get_by_role(
        "link"
    ).click()
    page.get_by_role("region", name="Photos").wait_for()
    take(page, "listing")
    page.goto("/books")
    take(page, "books")
    page.goto("/opening/-/results")
    page.get_by_role("button", name="Night").click()
    page.get_by_label("Odds against results").wait_for()
    take(page, "results")
    page.get_by_role("button", name="Day", exact=True).click()


def main() -> None:
    logging.getLogger("werkzeug").setLevel(logging.WARNING)
    TARGET.mkdir(parents=True, exist_ok=True)
    script = str(ROOT / "scripts/cluster.sh")
    with tempfile.TemporaryDirectory(dir="/dev/shm") as folder:
        Path(folder).chmod(0o755)
        started = [script, "start", f"{folder}/cluster", "throwaway"]
        url = subprocess.run(started, capture_output=True, text=True, check=True).stdout.strip()
        try:
            database = Database(make_database(url, "screenshots"))
            catalogue = Catalogue(database, lambda: TODAY)
            load_demo(database, SimulatedRates(), SimulatedScale(), catalogue, tuple(map(SimulatedGrader, GRADERS)))
            app = create_app(Config(_env_file=None, frontend=ROOT / "frontend/dist"), catalogue)
            server = make_server("127.0.0.1", 0, app, threaded=True)
            threading.Thread(target=server.serve_forever, daemon=True).start()
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
                context = browser.new_context(
                    viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{server.server_port}"
                )
                take_all(context.new_page())
                browser.close()
            server.shutdown()
            database.engine.dispose()
        finally:
            subprocess.run([script, "stop", f"{folder}/cluster"], check=True)


if __name__ == "__main__":
    main()
