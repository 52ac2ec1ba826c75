"""What long openings, large purchases and whole sets cost in time; and the exact answers against enumeration at fresh
seeds. Parts of ``make bench``."""

import time
from collections.abc import Callable
from datetime import date
from decimal import Decimal
from random import Random
from typing import Any

import numpy as np
from scipy import optimize
from sqlalchemy import text

from tests.conftest import make_database
from tests.core.test_enumerated import compare_sheets
from tests.core.test_half_open import compare_half_open
from tests.sheets import document, line
from tobbix.core.buying.basket import AskOf, Seller, fill_basket
from tobbix.core.maths.collecting import collect_by_packs
from tobbix.core.products.reading import locate_in_document, read_sheet
from tobbix.db.base import Database
from tobbix.services.buying import amending, purchasing
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import PurchaseInput, ThingInput
from tobbix.services.installation.owners import create_owner
from tobbix.services.opening import closing, opening, results
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet

DAY = date(2026, 11, 1)
PACKS, BOXES, SESSIONS, LINES = 20, 100, 25, 30


def seconds(act: Callable[[], object]) -> float:
    began = time.perf_counter()
    act()
    return time.perf_counter() - began


def bench_sets() -> None:
    """A set with many short prints, beside one of equal cards of the same size."""
    eight = np.eye(9)[8]
    alike = seconds(lambda: collect_by_packs([250], [1.0], eight, True))
    short = seconds(lambda: collect_by_packs([200, 50], [1.0, 0.25], eight, True))
    print(f"a set of 200 and 50 short prints: {short:.2f} s (aim: 2), {short / alike:.0f} x one of 250 equal cards")


def bench_random() -> None:
    """C-03, C-04 and C-12 against plain enumeration, at seeds that nobody saw before."""
    seed = time.time_ns() % 1_000_000_007
    took = seconds(lambda: compare_sheets(Random(seed), 200)), seconds(lambda: compare_half_open(Random(seed), 200))
    print(
        f"200 sheets and 200 half-open cases of seed {seed} agree with enumeration ({took[0]:.0f} s, {took[1]:.0f} s)"
    )


def bench_basket() -> None:
    """60 cards over 20 sellers, against the solver's own time on the same model."""
    random, alone = Random(60), 0.0
    sellers = [
        Seller(f"s{at}", Decimal(random.randint(100, 400)) / 100, Decimal(random.choice([0, 10, 25])) / 100,
               random.choice([None, Decimal(30)]))
        for at in range(20)
    ]  # fmt: skip
    level = [random.lognormvariate(0.7, 0.8) for _ in range(60)]
    asks = [
        AskOf(seller.name, f"c{card}", Decimal(f"{max(level[card] * random.lognormvariate(0, 0.25), 0.1):.2f}"), 2)
        for seller in sellers
        for card in random.sample(range(60), 35)
    ]
    solve = optimize.milp

    def timed(*arguments: Any, **named: Any) -> Any:
        nonlocal alone
        began = time.perf_counter()
        found = solve(*arguments, **named)
        alone += time.perf_counter() - began
        return found

    optimize.milp = timed
    try:
        took = seconds(lambda: fill_basket({f"c{card}": 1 for card in range(60)}, sellers, asks))
    finally:
        optimize.milp = solve
    print(
        f"a basket of 60 cards over 20 sellers: {took:.2f} s, {took / alone:.2f} x the solver alone (aim: at most 1.5)"
    )


def bench_opening(server_url: str) -> None:
    """25 sessions of 2,000 packs and 30 lines: finishing one, and the results of all."""
    database = Database(make_database(server_url, "opening"))
    catalogue = Catalogue(database, lambda: DAY)
    create_owner(database, "Bench", "four plain words here")
    lines = [line(f"l{at}", ["1", "2", "5"], f"1:{12 + at} packs") for at in range(LINES)]
    made = document(lines, ["0.05"] * 200, packs_per_box=PACKS, cards_per_pack=8)
    store_sheet(catalogue, read_sheet(made, locate_in_document).sheet, replace_existing=False)
    random, finished = Random(3), []
    for at in range(SESSIONS):
        things = (ThingInput("sealed", "Box", BOXES, "test", "box"),)
        charges = (ChargeInput("price", Decimal(6_000), "EUR", DAY),)
        said = PurchaseInput(f"lot {at}", DAY, charges, things, received_on=DAY)
        number = purchasing.record_purchase(database, said, f"lot {at}", DAY)
        item = purchasing.read_purchase(database, number).things[0].number
        session_number = opening.start_session(catalogue, opening.SessionInput(item, BOXES), f"session {at}")
        hits = [(f"l{random.randrange(LINES)}", random.randint(1, 40)) for _ in range(30)]
        opening.log_totals(catalogue, session_number, PACKS * BOXES, hits, f"totals {at}")
        finished.append(
            seconds(lambda n=session_number: closing.finish_session(catalogue, n, False, False))  # type: ignore[misc]
        )
    took = seconds(lambda: results.read_results(catalogue, "test", "box", 3))
    bare = seconds(lambda: _count_pulls(database))
    print(f"finishing 2,000 packs: {np.median(finished):.2f} s (aim: 1); results of {SESSIONS} sessions of 2,000 packs "
          f"and {LINES} lines: {took:.2f} s (aim: 0.5), {took / bare:.0f} x counting their pulls")  # fmt: skip
    database.engine.dispose()


def _count_pulls(database: Database) -> None:
    with database.transaction() as session:
        session.execute(text("select session_id, line_id, sum(count) from pull group by 1, 2")).all()


def bench_buying(server_url: str) -> None:
    """A purchase of 10,000 things, bought and taken back."""
    database = Database(make_database(server_url, "buying"))
    create_owner(database, "Bench", "four plain words here")
    things = tuple(ThingInput("card", f"Card {at}", value=Decimal(1 + at % 90)) for at in range(10_000))
    said = PurchaseInput("hoard", DAY, (ChargeInput("price", Decimal(9_000), "EUR", DAY),), things, received_on=DAY)
    number = 0

    def buy() -> None:
        nonlocal number
        number = purchasing.record_purchase(database, said, "hoard", DAY)

    bought = seconds(buy)
    undone = seconds(lambda: amending.undo_purchase(database, number, 1, DAY))
    print(f"10,000 things bought in {bought:.2f} s, taken back in {undone:.2f} s (aim: 1.5 each)")
    database.engine.dispose()
