"""What the demo costs in time, as ratios within one run: ``make bench``.

Prints each figure with its aim. Milliseconds are of this machine in this run; only the ratios travel.
"""

import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date
from decimal import Decimal
from functools import partial

import numpy as np
from playwright.sync_api import sync_playwright
from sqlalchemy import event, text

from tests.bench_grading import bench_grading
from tests.bench_prices import bench_borrowing, bench_prices, bench_values
from tests.bench_selling import bench_selling
from tests.bench_sorting import bench_sorting
from tests.bench_work import bench_basket, bench_buying, bench_opening, bench_random, bench_sets
from tests.conftest import ROOT, make_database, sign_in
from tests.journeys.conftest import ARGUMENTS, CHROMIUM, serving
from tests.sheets import document, line
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.core.products.box_value import find_box_value
from tobbix.core.products.collating import Collation, plan_batches, simulate_batch
from tobbix.core.products.completing import SetAim, complete_set
from tobbix.core.products.reading import locate_in_document, read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.simulation import simulate_boxes
from tobbix.core.products.valuation import value_distribution, value_format
from tobbix.core.products.worth import ValueBasis, Worth
from tobbix.db.base import Database
from tobbix.db.copying import columns_of, driver
from tobbix.demo.releases import demo_sheets
from tobbix.demo.scenario import load_demo
from tobbix.demo.selling import demo_ways
from tobbix.formats.item_lists import ItemLine, parse_items, write_csv, write_xlsx
from tobbix.formats.limits import MOST_ITEM_ROWS
from tobbix.formats.product_sheets import SheetFile, dump_sheet
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.owners import DEMO_PASSPHRASE, create_owner
from tobbix.services.pricing.ways import save_way
from tobbix.services.products import importing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet
from tobbix.services.stock import bringing, items

SIMULATED = 1_000_000
RELEASE, FORMAT = "skerrylight-2025", "harbour"


def milliseconds(act: Callable[[], object], runs: int = 9) -> float:
    """The median of several runs, after one that warms up."""
    act()
    taken = []
    for _ in range(runs):
        start = time.perf_counter()
        act()
        taken.append((time.perf_counter() - start) * 1e3)
    return statistics.median(taken)


def with_dear_card(sheet: ProductSheet) -> ProductSheet:
    """The same, one signed card a thousand times as dear as the dearest of the rest."""
    hand = sheet.line_by_id["hand"]
    dearest = max(card.price or Decimal(0) for card in hand.cards)
    cards = (replace(hand.cards[0], price=dearest * 1000), *hand.cards[1:])
    return replace(sheet, lines=tuple(replace(hand, cards=cards) if item is hand else item for item in sheet.lines))


def bench_core() -> None:
    sheet = demo_sheets()[0]
    valuation, dear = value_format(sheet, FORMAT), value_format(with_dear_card(sheet), FORMAT)
    exact, with_dear = (
        milliseconds(lambda: value_distribution(valuation)),
        milliseconds(lambda: value_distribution(dear)),
    )
    print(f"exact distribution of a {FORMAT} box        {exact:8.1f} ms   (aim: under 50)")
    print(
        f"  one card a thousand times as dear      {with_dear:8.1f} ms  ratio {with_dear / exact:.2f} (aim: under 50)"
    )
    start = time.perf_counter()
    simulated = np.sort(simulate_boxes(valuation, SIMULATED, np.random.default_rng(2025)))
    seconds = time.perf_counter() - start
    outcomes = value_distribution(valuation)
    print(f"{SIMULATED:,} simulated boxes                 {seconds * 1e3:8.0f} ms   ratio {seconds * 1e3 / exact:.0f}")
    error = simulated.std() / SIMULATED**0.5
    off = simulated.mean() - outcomes.mean
    print(
        f"  mean: exact {outcomes.mean:.4f}, simulated {simulated.mean():.4f}, off {off / error:+.2f} standard errors"
    )
    print(f"  mean of the masses as they lie on the grid: off by {outcomes.grid_mean - outcomes.mean:+.1e}")
    for share in (0.05, 0.25, 0.5, 0.75, 0.95):
        ours, theirs = outcomes.quantile(share), float(np.quantile(simulated, share))
        reached = float((simulated <= ours + 1e-6).mean())
        z = (reached - share) / (share * (1 - share) / SIMULATED) ** 0.5
        off_by = abs(ours - theirs) / theirs
        print(f"  {share:4.0%} quantile: {ours:.2f}, simulated {theirs:.2f}, off {off_by:.3%}; F off {z:+.1f} errors")


def bench_net() -> None:
    """The same box net of a way of selling, and the sums of the planning pages that take longest."""
    sheet = demo_sheets()[0]
    worth = Worth(ValueBasis.FLOOR, demo_ways()[0], 0.5, 0.02)
    gross = milliseconds(lambda: find_box_value(sheet, FORMAT))
    net = milliseconds(lambda: find_box_value(sheet, FORMAT, worth=worth))
    print(f"a box net of fees, cheap cards as bulk     {net:8.1f} ms   ratio to gross {net / gross:.2f}")
    base = milliseconds(lambda: complete_set(value_format(sheet, FORMAT, worth=worth), SetAim("base"), 96.0), 3)
    print(f"the base set with short prints, exactly    {base:8.1f} ms   ratio to gross {base / gross:.1f}")


def bench_collation() -> None:
    """A million collated boxes on two cores against the bare generator's draws in the same run."""
    valuation = value_format(demo_sheets()[0], FORMAT)
    batches = plan_batches(SIMULATED, 2025)
    with ThreadPoolExecutor(2) as pool:
        start = time.perf_counter()
        list(pool.map(lambda b: simulate_batch(valuation, b[0], Collation(), np.random.default_rng(b[1])), batches))
        seconds = time.perf_counter() - start
        start = time.perf_counter()
        cards = valuation.format.cards_per_box
        list(pool.map(lambda b: np.random.default_rng(b[1]).random(b[0] * cards).sum(), batches))
        bare = time.perf_counter() - start
    print(
        f"{SIMULATED:,} boxes, no card twice          {seconds * 1e3:8.0f} ms   ratio to drawing a bare number for "
        f"each of their {cards} cards {seconds / bare:.2f} (aim: under 10 s)"
    )


def bench_api(server_url: str) -> None:
    database = Database(make_database(server_url, "bench"))
    create_owner(database, "Bench", "four plain words here")
    sheet = demo_sheets()[0]
    catalogue = Catalogue(database, lambda: sheet.priced_on)
    for way in demo_ways():
        save_way(database, way, 0)
    store_sheet(catalogue, sheet, replace_existing=False)
    client = create_app(Config(_env_file=None, frontend=ROOT / "frontend/dist"), catalogue).test_client()
    headers = sign_in(client)
    address = f"/api/releases/{RELEASE}/formats/{FORMAT}/answer"
    core = milliseconds(lambda: find_box_value(sheet, FORMAT), 5)

    def cold() -> None:
        catalogue.__init__(database, catalogue.today)  # type: ignore[misc]  # forget everything
        assert client.get(address).status_code == 200

    prices = iter(range(1, 1_000))

    def edit() -> None:
        book = catalogue.read_sheet(RELEASE).book
        body = {"number": "FS1", "price": str(next(prices)), "price_revision": book.revision if book else 1}
        assert client.put(f"/api/releases/{RELEASE}/lines/fog/price", json=body, headers=headers).status_code == 200
        assert client.get(address).status_code == 200

    times = {"cold": milliseconds(cold, 5), "warm": milliseconds(lambda: client.get(address)),
             "another price": milliseconds(lambda: client.get(address + "?price=80")),
             "a price corrected, then the answer": milliseconds(edit, 5)}  # fmt: skip
    print(f"a box's value in the core alone            {core:8.1f} ms")
    for name, taken in times.items():
        aim = "   (aim: under 300, with the drawing)" if "corrected" in name else ""
        print(f"  its page's answer, {name:<35}{taken:8.1f} ms   ratio {taken / core:.2f}{aim}")
    database.engine.dispose()


def bench_releases(server_url: str) -> None:
    """The desk and an answer with ever more releases, each with its own prices, once they were asked for before."""
    database = Database(make_database(server_url, "releases"))
    create_owner(database, "Bench", "four plain words here")
    sheet = demo_sheets()[0]
    catalogue = Catalogue(database, lambda: sheet.priced_on)
    for way in demo_ways():
        save_way(database, way, 0)
    client = create_app(Config(_env_file=None, frontend=ROOT / "frontend/dist"), catalogue).test_client()
    sign_in(client)
    sent: list[str] = []
    event.listen(database.engine, "before_cursor_execute", lambda *call: sent.append(call[2]))
    views = {"desk": "/api/desk", "answer": f"/api/releases/r0/formats/{FORMAT}/answer"}
    found: dict[tuple[str, int], tuple[float, int]] = {}
    there = 0
    for many in (5, 15, 100):
        while there < many:
            about = replace(sheet.release, name=f"Light {there}")
            store_sheet(catalogue, replace(sheet, id=f"r{there}", release=about), replace_existing=False)
            there += 1
        for name, address in views.items():
            taken = milliseconds(partial(client.get, address), 5)
            sent.clear()
            client.get(address)
            found[name, many] = (taken, len(sent))
    print("with ever more releases   (aim: at most twice the time, the same number of statements)")
    for (name, many), (taken, statements) in found.items():
        ratio = taken / found[name, 5][0]
        print(f"  {name} with {many}: {taken:.0f} ms, {statements} statements, ratio {ratio:.2f}")
    database.engine.dispose()


_BARE = {
    "first page": "select * from item where state in ('in_transit', 'held', 'away') order by id desc limit 51",
    "by value": "select i.*, h.amount from item i join held_value h on h.item_id = i.id where state in "
    "('in_transit', 'held', 'away') order by h.amount desc nulls last, h.item_id desc limit 51",
    "found by words": "select * from item where state in ('in_transit', 'held', 'away') "
    "and search_text like '%card 0007%' order by name desc nulls last, id desc limit 51",
}


def bench_items(server_url: str) -> None:
    """The list of items with 100,000 of them, in relation to one with 1,000."""
    took = {}
    for many in (1_000, 100_000):
        database = Database(make_database(server_url, f"items_{many}"))
        create_owner(database, "Bench", "four plain words here")
        rows = [
            ItemLine(
                i, f"Card {i:06d} of {('lamps', 'boats', 'birds')[i % 3]}", None, None, str(i), None, 1, "NM", None,
                f"binder {i % 40}", Decimal(i % 900) / 100 if i % 2 else None, Decimal(i % 700) / 100, None, False,
                None,
            )
            for i in range(many)
        ]  # fmt: skip
        began = time.perf_counter()
        bringing.import_items(database, rows, date(2026, 11, 1))
        brought = time.perf_counter() - began
        for name, wanted, sort, start in (
            ("first page", items.ItemFilter(), "id", 0),
            ("by value", items.ItemFilter(), "value", 0),
            ("found by words", items.ItemFilter(find="card 0007"), "name", 0),
            ("found by words of a third", items.ItemFilter(find="of birds"), "name", 0),
            ("found by a number", items.ItemFilter(find="000777"), "name", 0),
            ("a page deep inside", items.ItemFilter(basis="unknown"), "name", many // 4),
        ):
            listing = partial(items.list_items, database, wanted, sort, True, start, 50)
            took[many, name] = milliseconds(listing, runs=5)
        took[many, "the sums over all"] = milliseconds(partial(items.sum_items, database, items.ItemFilter()), runs=5)
        if many > 1_000:
            bare = {name: _bare(database, statement) for name, statement in _BARE.items()}
            copied = _copied(database)
        database.engine.dispose()
    print(f"items: 100,000 brought in in {brought:.0f} s, their rows by COPY into the same tables in {copied:.1f} s, "
          f"ratio {brought / copied:.1f} (aim: at most 3)")  # fmt: skip
    for name, alone in bare.items():
        ratio = took[100_000, name] / alone
        print(
            f"  {name}: {took[100_000, name]:.1f} ms, the bare query {alone:.1f} ms, ratio {ratio:.1f} (aim: at most 3)"
        )
    for name in dict.fromkeys(name for _, name in took):
        few, all_of_them = took[1_000, name], took[100_000, name]
        print(f"  {name}: {all_of_them:.0f} ms of 100,000, {few:.0f} ms of 1,000 (ratio {all_of_them / few:.1f})")


def _bare(database: Database, statement: str) -> float:
    def ask() -> None:
        with database.transaction() as session:
            session.execute(text(statement)).all()

    return milliseconds(ask, runs=5)


def _copied(database: Database) -> float:
    """Seconds that PostgreSQL's own COPY takes for the same rows into the same tables, after they were emptied."""
    with database.transaction() as session:
        connection = driver(session.connection())
        tables = ("entry", "posting", "item", "item_event", "value", "held_value")
        columns = {name: found for name, found in columns_of(connection).items() if name in tables}
        kept = {}
        for name in tables:
            names = ", ".join(columns[name])
            with connection.cursor().copy(f"copy {name} ({names}) to stdout") as copy:
                kept[name] = b"".join(copy)
        session.execute(text("truncate held_value, value, item_event, item, posting, entry cascade"))
        began = time.perf_counter()
        for name in tables:
            with connection.cursor().copy(f"copy {name} ({', '.join(columns[name])}) from stdin") as copy:
                copy.write(kept[name])
        return time.perf_counter() - began


_MANY_CARDS = """
    insert into release (key, name, year, publisher, currency, priced_on, revision, price_revision, is_stub)
    select 'r' || r, (array['Lamps', 'Boats', 'Birds', 'Moths'])[1 + r % 4] || ' ' || r, 1980 + r, 'Quay', 'EUR',
        '2026-11-01', 1, 1, false from generate_series(1, 40) r;
    insert into line (release_id, key, position, name, kind, redemption, whole_checklist, every_format)
    select id, 'l' || n, n, (array['Base', 'Fog', 'Slate', 'Gale', 'Hand'])[n], 'insert', false, true, true
    from release, generate_series(1, 5) n;
    insert into card (line_id, number, subject, weight, position)
    select l.id, (array['', 'FS', 'SL', 'G', 'KH'])[l.position] || n,
        (array['Gull', 'Tern', 'Otter', 'Petrel'])[1 + n % 4] || ' ' || (array['Rock', 'Ness', 'Stack'])[1 + n % 3]
        || ' ' || n, 1, n from line l, generate_series(1, 1000) n;
    insert into version (line_id, card_id, variant, position, search_text)
    select line_id, id, '', position, '' from card;
    update version v set search_text = lower(concat_ws(' ', '', c.number, c.subject, l.name, r.name, r.year))
    from card c join line l on l.id = c.line_id join release r on r.id = l.release_id where c.id = v.card_id;
    analyze;
"""


def bench_cards(server_url: str) -> None:
    """Finding one card among 200,000 versions by what is typed."""
    database = Database(make_database(server_url, "cards"))
    with database.transaction() as session:
        session.execute(text(_MANY_CARDS))
    catalogue = Catalogue(database, lambda: date(2026, 11, 1))
    print("a card among 200,000 versions   (aim: under 20 ms each)")
    for typed in (
        "KH777",
        "777",
        "7",
        "pet",
        "gull rock",
        "otter 5",
        "birds slate ness",
        "moths 12 hand 44",
        "a",
        "zz",
    ):
        found = items.search_cards(catalogue, typed)
        print(f"  {typed!r}: {milliseconds(partial(items.search_cards, catalogue, typed)):.1f} ms, {len(found)} shown")
    database.engine.dispose()


def bench_files(server_url: str) -> None:
    """What is documented to come in, from its bytes to the database; the aim is 20 s for each."""
    head = ("name", "number", "count", "condition", "place", "basis", "value", "acquired_on", "note")
    many = ((f"Gull Rock {n}", str(n), 1, "NM", "box 12", "1.25", "2.50", "2024-05-01", "from the attic")
            for n in range(MOST_ITEM_ROWS))  # fmt: skip
    rows = list(many)
    cards = [{"number": str(n), "subject": f"Lamp {n}", "weight": "1", "price": "0.20"} for n in range(50_000)]
    sheet = read_sheet({**document([{**line("a", ["1"], "1:3 packs"), "cards": cards}])}, locate_in_document).sheet
    database = Database(make_database(server_url, "files"))
    create_owner(database, "Bench", "four plain words here")
    catalogue = Catalogue(database, lambda: date(2026, 11, 1))
    for name, content in (("CSV", write_csv(head, rows)), ("XLSX", write_xlsx("Items", head, rows))):
        began = time.perf_counter()
        lines = parse_items(content)
        middle = time.perf_counter()
        bringing.import_items(database, lines, date(2026, 11, 1))
        end = time.perf_counter()
        size, reading, storing = len(content) / 1e6, middle - began, end - middle
        print(f"a list of {len(lines):,} as {name} ({size:.1f} MB): read in {reading:.1f} s, stored in {storing:.1f} s")
    for form in SheetFile:
        content = dump_sheet(sheet, form)
        began = time.perf_counter()
        importing.import_sheet(catalogue, content, confirm_silent=True, replace_existing=True)
        took = time.perf_counter() - began
        print(f"a sheet of 50,000 cards as {form.value} ({len(content) / 1e6:.1f} MB): {took:.1f} s   (aim: under 20)")
    database.engine.dispose()


FIRST, PAGES = "/", (
    "/products", f"/products/{RELEASE}", f"/products/{RELEASE}/{FORMAT}", "/buying", "/buying/-/new", "/opening",
    "/stock", "/books", "/settings",
)  # fmt: skip
_KEY_TO_ANSWER = """
async (key) => {
  const heading = document.querySelector("h1");
  const slider = document.querySelector('[role="slider"]');
  slider.focus();
  const before = heading.textContent;
  const start = performance.now();
  const drawn = new Promise((done) => {
    const seen = new MutationObserver(() => {
      if (document.querySelector("h1").textContent !== before)
        requestAnimationFrame(() => { seen.disconnect(); done(performance.now() - start); });
    });
    seen.observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  slider.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  return Promise.race([drawn, new Promise((done) => setTimeout(() => done(null), 5000))]);
}
"""


_GO = "(path) => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }"


def bench_wire(server_url: str) -> None:
    """What goes over the wire, compressed, until the first page stands and for each further one; and the time from a
    key on the price to the drawn answer, warm, beside the answer itself."""
    database = Database(make_database(server_url, "bench_wire"))
    load_demo(database, SimulatedRates(), SimulatedScale())
    dist = ROOT / "frontend/dist/assets"
    largest = max(dist.glob("*.js.gz"), key=lambda file: file.stat().st_size)
    print(f"largest chunk, gz   {largest.name:32s} {largest.stat().st_size / 1e3:8.0f} kB   (aim: under 120)")
    with serving(database) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(base_url=address)
        wire = page.context.new_cdp_session(page)
        wire.send("Network.enable")
        loaded: list[tuple[float, bool]] = []
        fonts: set[str] = set()
        wire.on(
            "Network.responseReceived", lambda seen: fonts.update({seen["requestId"]} if seen["type"] == "Font" else ())
        )
        wire.on(
            "Network.loadingFinished",
            lambda seen: loaded.append((seen["encodedDataLength"] / 1e3, seen["requestId"] in fonts)),
        )

        def tell(what: str) -> None:
            page.wait_for_load_state("networkidle")
            parts = [sum(size for size, font in loaded if font is which) for which in (False, True)]
            print(f"{what:43s}{parts[0]:8.0f} kB" + (f"   and {parts[1]:.0f} kB of fonts" if parts[1] else ""))
            loaded.clear()

        page.goto(FIRST)
        page.get_by_label("Passphrase").wait_for()
        tell("first load: sign-in                (under 200)")
        page.get_by_label("Passphrase").fill(DEMO_PASSPHRASE)
        page.keyboard.press("Enter")
        desk = page.get_by_role("navigation", name="The line of work")
        desk.wait_for()
        page.wait_for_load_state("networkidle")
        wire.send("Network.clearBrowserCache")
        loaded.clear()
        page.goto(FIRST)
        desk.wait_for()
        tell("first load: the desk, signed in    (under 200)")
        page.wait_for_timeout(5_000)
        tell("  fetched in the quiet after it")
        for path in PAGES:
            page.evaluate(
                "(path) => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')); }", path
            )
            page.wait_for_timeout(150)
            page.get_by_role("heading", level=1).wait_for()
            tell(f"  further: {path:29s}(under 60)")
        page.goto(f"/products/{RELEASE}/{FORMAT}")
        page.get_by_role("slider").wait_for()
        page.wait_for_load_state("networkidle")
        taken = [page.evaluate(_KEY_TO_ANSWER, key) for key in ("ArrowRight", "ArrowLeft") * 8]
        known = sorted(time for time in taken[2:] if time is not None)
        asked = milliseconds(lambda: page.request.get(f"/api/releases/{RELEASE}/formats/{FORMAT}/answer?price=91"))
        middle = statistics.median(known)
        print(
            f"key to drawn answer of a moved price       {middle:8.0f} ms   (aim: under 100), worst {known[-1]:.0f} ms;"
        )
        print(
            f"  the answer by itself {asked:.0f} ms, ratio {middle / asked:.1f}; not drawn in 5 s: {taken.count(None)}"
        )
        browser.close()
    database.engine.dispose()


def main() -> None:
    """Every part, or those that are named: core, net, collation, sets, random, values, basket, borrowing, api,
    releases, items, cards, files, wire, opening, buying, prices, sorting,
    grading, selling."""
    pure = {
        "core": bench_core, "net": bench_net, "collation": bench_collation, "sets": bench_sets, "random": bench_random,
        "values": bench_values,
        "basket": bench_basket,
        "borrowing": bench_borrowing,
    }  # fmt: skip
    stored = {
        "opening": bench_opening,
        "buying": bench_buying,
        "prices": bench_prices,
        "sorting": bench_sorting,
        "grading": bench_grading,
        "selling": bench_selling,
        "api": bench_api,
        "releases": bench_releases,
        "items": bench_items,
        "cards": bench_cards,
        "files": bench_files,
        "wire": bench_wire,
    }
    wanted = sys.argv[1:] or [*pure, *stored]
    for name in wanted:
        if name in pure:
            pure[name]()
    if not set(wanted) & set(stored):
        return
    folder = "/dev/shm/tobbix-bench"
    script = str(ROOT / "scripts/cluster.sh")
    url = subprocess.run([script, "start", folder, "throwaway"], capture_output=True, text=True, check=True).stdout
    try:
        for name in wanted:
            if name in stored:
                stored[name](url.strip())
    finally:
        subprocess.run([script, "stop", folder], check=True)
        subprocess.run(["rm", "-rf", folder], check=True)


if __name__ == "__main__":
    main()
