"""What prices cost in time: a million sales valued at once, a card with thousands of prices, a thousand pasted lines,
and a hundred thousand things valued anew. Parts of ``make bench``."""

import time
from datetime import timedelta
from decimal import Decimal
from functools import partial

import numpy as np
from sqlalchemy import text

from tests.bench_work import DAY, seconds
from tests.conftest import make_database
from tests.sheets import document, line
from tobbix.core.pricing.borrowing import borrow
from tobbix.core.pricing.comps import Comp, CompKind, split_state
from tobbix.core.pricing.many import Sales, value_many
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.products.reading import locate_in_document, read_sheet
from tobbix.db.base import Database
from tobbix.services.installation.owners import create_owner
from tobbix.services.pricing import adding, pasting, revaluing, seeing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet
from tobbix.services.tasks.carrying import carry_out_task, read_task

_CARDS, _SALES, _LINES = 50_000, 1_000_000, 1_000


def bench_values() -> None:
    """All cards from a million sales, against sorting and scanning the same arrays."""
    random = np.random.default_rng(2026)
    card = np.sort(random.integers(0, _CARDS, _SALES))
    paid = random.lognormal(1.6, 1.1, _CARDS)[card] * random.lognormal(0, 0.2, _SALES)
    age = random.integers(0, 91, _SALES)
    age = age[np.lexsort((-age, card))]
    shipping = np.where(random.random(_SALES) < 0.8, 1.6, np.nan)
    sales = Sales(card, paid, shipping, random.integers(0, 3, _SALES), age, np.zeros(_SALES, np.bool_))

    def bare() -> None:
        order = np.lexsort((paid, card))
        np.cumsum((2.0 ** (-age / 60))[order])
        np.add.reduceat(paid[order], np.flatnonzero(np.r_[True, np.diff(card) != 0]))

    took, alone = (min(seconds(act) for _ in range(3)) for act in (partial(value_many, sales), bare))
    print(f"values of {_CARDS:,} cards from {_SALES:,} sales: {took:.2f} s, {took / alone:.1f} x sorting and scanning "
          "them (aim: at most 4)")  # fmt: skip


def bench_borrowing() -> None:
    """A release of 3,000 versions and 20,000 sales."""
    random = np.random.default_rng(37)
    subjects, lines = random.normal(0, 0.5, 250), random.normal(0, 1, 12)
    rows = []
    for at in range(20_000):
        subject, line_at = int(random.integers(250)), int(random.integers(12))
        price = float(np.exp(1.5 + subjects[subject] + lines[line_at] + random.normal(0, 0.25)))
        state = str(random.choice(["NM", "LP", "Plumbline:9", "Plumbline:10"]))
        comp = Comp(
            CompKind.SOLD, DAY - timedelta(int(random.integers(360))), Decimal(f"{price:.2f}"), "EUR", Decimal(0),
            Decimal(0), *split_state(state),
        )  # fmt: skip
        rows.append(Observation(str(at), CardKey("r", f"l{line_at}", str(subject)), comp, f"subject {subject}"))
    took = seconds(lambda: borrow(rows, DAY, Rates("EUR")))
    print(f"borrowing among 3,000 versions from 20,000 sales: {took:.1f} s (aim: under 5)")


_COMPS = """
    insert into comp (version_id, kind, day, price, shipping, currency, condition, market, lot)
    select v.id, 'sold', date '{day}' - ((n * 37 + v.id) % 90)::int, 5 + (n * 7919 + v.id) % 40, 1.6, 'EUR', 'NM',
        'Bellbuoy', 1
    from version v cross join generate_series(1, {each}) n
"""
_ITEMS = """
    insert into item (kind, name, count, state, gift, weight, never_for_sale, version, release_id, line_id, version_id,
        condition)
    select 'card', c.number, 1, 'held', false, 1, false, 1, l.release_id, l.id, v.id, 'NM'
    from version v join card c on c.id = v.card_id join line l on l.id = v.line_id cross join generate_series(1, 5)
"""


def bench_prices(server_url: str) -> None:
    """A card's page with 5,000 prices of which 500 are in the choice, 1,000 pasted lines, 100,000 things anew."""
    database = Database(make_database(server_url, "prices"))
    create_owner(database, "Bench", "four plain words here")
    catalogue = Catalogue(database, lambda: DAY)
    made = document([line(f"l{at}", ["1"] * 2_000, "1:12 packs") for at in range(10)], ["0.05"] * 8)
    store_sheet(catalogue, read_sheet(made, locate_in_document).sheet, replace_existing=False)
    with database.transaction() as session:
        session.execute(text(_COMPS.format(day=DAY, each=5)))
        session.execute(text(_ITEMS))
    task = revaluing.ask_revaluing(catalogue)
    took = seconds(lambda: carry_out_task(database, task.number, revaluing.revalue_runs(catalogue)))
    done = read_task(database, task.number)
    assert done.state == "done", done.fault
    print(f"{done.total:,} things of 20,000 cards with 100,000 sales valued anew in {took:.0f} s (aim: under 120), "
          f"{(done.result or {})['changed']:,} values changed")  # fmt: skip
    keys = ("test", "l0", "L01", "")
    days = [DAY - timedelta(1 + at % 90 if at < 500 else 91 + at % 600) for at in range(5_000)]
    lines = [f"{5 + at % 37}.{at % 100:02d} + 1.60 {day:%d %b %Y}" for at, day in enumerate(days)]
    for start in range(0, len(lines), 1_000):
        adding.add_sales(catalogue, *keys, "\n".join(lines[start : start + 1_000]), None)
    page = partial(seeing.read_price, catalogue, *keys, "NM", 90)
    page()
    warm = min(seconds(page) for _ in range(5))
    print(f"a card with 5,000 prices, 500 in the choice: {warm * 1e3:.0f} ms (aim: under 100)")
    said = "\n".join(f"Subject L0{at % 90} L0 Test 2025 NM\t{5 + at % 30}.50 EUR\t+ 1.60\t{at % 28 + 1} Oct 2026"
                     for at in range(_LINES))  # fmt: skip
    reading = partial(pasting.read_page, catalogue, said, "Bellbuoy", None, CompKind.SOLD, False)
    reading()
    began = time.perf_counter()
    found = reading()
    print(f"{len(found.proposed):,} pasted lines read in {time.perf_counter() - began:.2f} s (aim: 1)")
    database.engine.dispose()
