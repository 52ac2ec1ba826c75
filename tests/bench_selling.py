"""What selling costs in time: a packing plan, the page of 20,000 orders, 500 orders packed by script. A
part of ``make bench``."""

from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal
from functools import partial

from sqlalchemy import text

from tests.bench_work import DAY, seconds
from tests.conftest import make_database
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.selling.listings import OPEN
from tobbix.core.selling.orders import OrderStage
from tobbix.core.selling.packing import plan_packing
from tobbix.db.base import Database
from tobbix.gateways.shipped import GANNET
from tobbix.services.grading import profiles
from tobbix.services.installation.owners import create_owner
from tobbix.services.pricing.ways import save_way
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import listings, orders, packing, proposing, supplies, viewing
from tobbix.services.selling.listings import ListingSaid
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.proposing import MOST_AT_ONCE
from tobbix.services.stock.taking_in import CardInput, take_in

_ORDERS, _PACKED = 20_000, 500
_MORE = """
insert into document (kind, day, state, version, text)
    select 'order', '2025-01-01'::date + n % 600, 'done', 1, 'sold: card ' || n from generate_series(1, :many) n;
insert into sale_order (document_id, version, reference, address, shipping, currency, ticked, confirmed, packed_on)
    select id, 1, 'M-' || id, '', 1.2, 'EUR', '[]', '[]', day from document d
    where kind = 'order' and not exists (select from sale_order o where o.document_id = d.id);
insert into sale_line (document_id, item_id, position, price, home)
    select document_id, :item, 0, 5, 5 from sale_order o
    where not exists (select from sale_line l where l.document_id = o.document_id);
with made as (insert into entry (document_id, day, event, text)
    select document_id, '2025-01-01', 'sale', reference from sale_order o
    where not exists (select from entry e where e.document_id = o.document_id) returning id)
insert into posting (entry_id, account, amount, purse)
    select id, 'cash', 5, 'bank' from made union all select id, 'income', -5, null from made;
analyze
"""


_LISTED = """
insert into listing (version, way, kind, state, title, words, price, currency, made_on, listed_on, priced_on, heard)
    select 1, 'bellbuoy', 'fixed', 'listed', 'card ' || n, 'A card.', 5, 'EUR', '2025-01-01', '2025-01-01',
        '2025-01-01', '[]' from generate_series(1, :many) n
"""


def bench_selling(server_url: str) -> None:
    """A plan, the page of orders, orders packed."""
    database = Database(make_database(server_url, "selling"))
    create_owner(database, "Bench", "four plain words here")
    catalogue = Catalogue(database, lambda: DAY)
    supplies.begin_with_usual(database)
    profiles.put_carrier(database, 0, GANNET)
    cards = take_in(
        database, [CardInput(f"card {at}") for at in range(_PACKED + 101)], DAY - timedelta(60), basis=Decimal(1)
    )
    many = orders.sell(database, SaleInput(DAY, dict.fromkeys(cards[:100], Decimal("0.50"))))
    one = orders.sell(database, SaleInput(DAY, {cards[100]: Decimal(12)}))
    for number, what in ((one, "1 card"), (many, "100 cards")):
        parcel = packing.read_packing(catalogue, number).parcel
        plan = partial(plan_packing, parcel)
        plan()
        print(f"a packing plan of {what}: {min(seconds(plan) for _ in range(5)) * 1e3:.1f} ms of core time "
              "(aim: under 20)")  # fmt: skip
    numbers = [orders.sell(database, SaleInput(DAY, {card: Decimal(4)})) for card in cards[101:]]
    took = seconds(lambda: _pack(catalogue, numbers))
    waiting = viewing.list_orders(catalogue, OrderStage.TO_PACK, "", 0, 50)
    print(f"{_PACKED} orders packed by script: {took:.1f} s, {took / _PACKED * 1e3:.0f} ms each, "
          f"{waiting.counts[OrderStage.PACKED]} of them packed")  # fmt: skip
    with database.transaction() as session:
        for statement in _MORE.split(";"):
            session.execute(text(statement), {"many": _ORDERS, "item": cards[100]} if ":" in statement else {})
    for stage in (None, OrderStage.PACKED):
        page = partial(viewing.list_orders, catalogue, stage, "", 0, 50)
        page()
        print(f"a page of {_ORDERS:,} orders ({stage or 'all'}): {min(seconds(page) for _ in range(5)) * 1e3:.0f} ms "
              "(aim: under 100)")  # fmt: skip
    _listings(catalogue, cards[101:])


def _listings(catalogue: Catalogue, cards: Sequence[int]) -> None:
    """Many things proposed against one, drafted, and a page of them."""
    save_way(catalogue.database, SellingWay("bellbuoy", "Bellbuoy", (Bracket(None, Decimal("0.11")),)), 0)
    fresh = take_in(catalogue.database, [CardInput(f"card to list {at}") for at in range(MOST_AT_ONCE)], DAY)
    one, many = (partial(proposing.propose, catalogue, of, "bellbuoy") for of in (fresh[:1], fresh))
    one(), many()
    single, whole = (min(seconds(it) for _ in range(5)) for it in (one, many))
    print(f"{MOST_AT_ONCE} things proposed: {whole * 1e3:.0f} ms, {whole / single:.1f} times one alone")
    drafts = [ListingSaid((item,), Decimal(5)) for item in fresh]
    took = seconds(lambda: listings.draft(catalogue, "bellbuoy", drafts))
    print(f"{len(drafts)} listings drafted: {took * 1e3:.0f} ms, {took / len(drafts) * 1e3:.1f} ms each")
    with catalogue.database.transaction() as session:
        session.execute(text(_LISTED), {"many": _ORDERS})
    page = partial(listings.list_listings, catalogue, OPEN, "", 0, 50)
    page()
    print(f"a page of {_ORDERS:,} listings: {min(seconds(page) for _ in range(5)) * 1e3:.0f} ms (aim: under 100)")


def _pack(catalogue: Catalogue, numbers: Sequence[int]) -> None:
    for number in numbers:
        packing.pack(catalogue, number, viewing.read_order(catalogue, number).version)
