"""A served application with the demo, and a headless browser, for journeys through the real interface."""

import fcntl
import gc
import hashlib
import logging
import os
import re
import subprocess
import sys
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright
from werkzeug.serving import ThreadedWSGIServer, make_server

from tests.conftest import ROOT, TODAY, copy_database, make_database
from tests.journeys.asking import let_in
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.db.base import Database
from tobbix.demo.scenario import load_demo
from tobbix.gateways.shipped import GRADERS
from tobbix.gateways.standins.graders import SimulatedGrader
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.owners import DEMO_PASSPHRASE
from tobbix.services.products.catalogue import Catalogue

expect.set_options(timeout=60_000)  # a cold server on a busy machine may take its time
CHROMIUM = "/usr/bin/chromium-headless-shell"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip


@contextmanager
def serving(database: Database, **settings: Any) -> Iterator[str]:
    """The application on a free port, without a worker."""
    logging.getLogger("werkzeug").setLevel(logging.WARNING)
    config = Config(_env_file=None, frontend=ROOT / "frontend/dist", **settings)
    server = make_server(
        "127.0.0.1",
        0,
        create_app(config, Catalogue(database, lambda: TODAY)),
        threaded=True,
    )
    assert isinstance(server, ThreadedWSGIServer)
    server.daemon_threads = False  # at its end what is still being answered is waited for, with its connection
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_port}"
    finally:
        server.shutdown()
        thread.join()
        server.server_close()
        database.engine.dispose()
        # What the browser left half read goes here: its warning, formatted while the next server's routes are being
        # compiled, would break their syntax trees (Python before 3.11.9 counts their depth once for all).
        gc.collect()


@pytest.fixture(scope="session")
def demo(server_url: str, tmp_path_factory: pytest.TempPathFactory) -> str:
    """A database with the demo that nobody uses, to be copied; whoever needs it first makes it for all of a run."""
    name = "demo_" + hashlib.sha256(str(tmp_path_factory.getbasetemp().parent).encode()).hexdigest()[:12]
    made = tmp_path_factory.getbasetemp().parent / f"{name}.made"
    with (tmp_path_factory.getbasetemp().parent / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not made.exists() or "PYTEST_XDIST_WORKER" not in os.environ:
            database = Database(make_database(server_url, name))
            load_demo(
                database,
                SimulatedRates(),
                SimulatedScale(),
                Catalogue(database, lambda: TODAY),
                tuple(map(SimulatedGrader, GRADERS)),
            )
            database.engine.dispose()
            made.touch()
    return name


@pytest.fixture(scope="module")
def address(server_url: str, worker_id: str, demo: str) -> Iterator[str]:
    """The demo, served on a free port."""
    url = copy_database(server_url, f"journeys_{worker_id}", demo)
    database = Database(url)
    work = [sys.executable, "-m", "tobbix.cli", "work", "--parent", str(os.getpid())]
    worker = subprocess.Popen(work, env={**os.environ, "TOBBIX_DATABASE_URL": url}, cwd=ROOT)
    try:
        with serving(database) as here:
            yield here
    finally:
        worker.kill()
        worker.wait()


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        started = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        yield started
        started.close()


class Outside(AssertionError):
    """The page asked for something outside this machine, or reported an error."""


@pytest.fixture
def page(browser: Browser, address: str, tmp_path: Path) -> Iterator[Page]:
    """Signed in, with nothing loaded yet; at the end, it must not have asked any outside address or broken the
    policy."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address, accept_downloads=True)
    context.set_default_timeout(60_000)
    opened = context.new_page()
    asked: list[str] = []
    errors: list[str] = []
    context.on("request", lambda request: asked.append(request.url))
    opened.on("pageerror", lambda error: errors.append(str(error)))
    opened.on("console", lambda said: errors.append(said.text) if "Content Security Policy" in said.text else None)
    let_in(opened)
    yield opened
    context.close()
    outside = [url for url in asked if not url.startswith((address, "data:", "blob:"))]
    if outside or errors:
        raise Outside(f"{outside} {errors}")


def heading(page: Page) -> Locator:
    """The sentence with which the page opens."""
    return page.get_by_role("heading", level=1)


_EVERY = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
_OF_COLOURS = ["color-contrast", "link-in-text-block"]  # the only rules that a theme can break


def inaccessible(page: Page, rules: Sequence[str] = _EVERY) -> list[list[str]]:
    """What axe-core finds on a page as it stands: WCAG 2.2 A and AA, or some of its rules."""
    if page.evaluate("typeof window.axe") == "undefined":
        page.evaluate((ROOT / "frontend/node_modules/axe-core/axe.min.js").read_text() + ";undefined")
    found: list[list[str]] = page.evaluate(
        "rules => axe.run({runOnly: rules, resultTypes: ['violations'], preload: false})"
        ".then(r => r.violations.map(v => [v.id, v.nodes[0].html.slice(0, 200), v.nodes[0].failureSummary]))",
        list(rules),
    )
    return found


def check_by_day_and_by_night(page: Page, paths: Sequence[str]) -> None:
    """Nothing is inaccessible on any of the pages, in either theme."""
    other = page.get_by_role("button", name=re.compile("^(Night|Day)$"))
    page.emulate_media(reduced_motion="reduce")  # colours change at once then
    for path in paths:
        page.goto(path)
        heading(page).wait_for()
        page.wait_for_timeout(400)
        for rules in (_EVERY, _OF_COLOURS):
            assert inaccessible(page, rules) == [], f"{path} before {other.inner_text()}"
            other.click()


def sign_in(page: Page) -> None:
    page.goto("/")
    page.get_by_label("Passphrase").fill(DEMO_PASSPHRASE)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name="Desk").wait_for()


def at_desk(page: Page) -> None:
    """Come in by the front door, as an owner does who is signed in."""
    page.goto("/")
    page.get_by_role("link", name="Desk").wait_for()


def tab_to(page: Page, target: Locator) -> None:
    """Press Tab until the target has the focus."""
    target.wait_for()
    for _ in range(120):
        if target.evaluate("element => element === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError("Tab does not lead there")
