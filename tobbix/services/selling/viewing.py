"""Orders as they stand: listed, one by itself with what it made, what a way of selling would keep, what markets owe."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.documents import Booked, ParcelSeen
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.selling.orders import OrderStage, SaleResult, result_of, stage_of, state_orders, state_result
from tobbix.db.holdings.loading import booked_of, load_document, parcels_of
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import find_way, to_way
from tobbix.db.selling import orders
from tobbix.db.selling.orders import OrderBrief as OrderBrief
from tobbix.db.selling.orders import OrderLine as OrderLine
from tobbix.db.selling.orders import StoredOrder
from tobbix.services.products.catalogue import Catalogue


@dataclass(frozen=True, eq=False)
class OrderList:
    """A page of orders, whether there are more, how many are how far, and what each market owes (money at home)."""

    rows: tuple[OrderBrief, ...]
    more: bool
    counts: dict[OrderStage, int]
    owed: tuple[tuple[str, Decimal], ...]
    currency: str
    today: date
    verdict: Verdict


def list_orders(catalogue: Catalogue, stage: OrderStage | None, find: str, start: int, count: int) -> OrderList:
    """A page of orders, the newest first, in a fixed number of queries."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = load_preferences(session).currency
        rows = orders.list_orders(session, stage, find.strip(), start, count + 1)
        counts = orders.count_stages(session)
        owed = tuple(orders.owed_by_markets(session))
        late = orders.late_orders(session, today)
    verdict = state_orders(
        counts[OrderStage.TO_PACK], counts[OrderStage.PACKED], counts[OrderStage.COMPLAINED], late,
        sum((amount for _, amount in owed), Decimal(0)), home,
    )  # fmt: skip
    return OrderList(tuple(rows[:count]), len(rows) > count, counts, owed, home, today, verdict)


@dataclass(frozen=True, eq=False)
class OrderView:
    """An order with its things, parcels and history, and what it made (money at home)."""

    stored: StoredOrder
    version: int
    stage: OrderStage
    day: date
    buyer: str | None
    result: SaleResult
    parcels: tuple[ParcelSeen, ...]
    booked: tuple[Booked, ...]
    currency: str
    verdict: Verdict


def read_order(catalogue: Catalogue, document: int) -> OrderView:
    """An order as it stands. Rule C-16. Raises NotFound."""
    with catalogue.database.transaction() as session:
        stored = orders.find_order(session, document)
        paper = load_document(session, document)
        home = load_preferences(session).currency
        known = all(line.basis is not None or not line.is_own for line in stored.lines)
        result = result_of(orders.booked_of_order(session, document), known)
        stage = stage_of(paper.state, stored.packed_on is not None)
        things = sum(line.count for line in stored.lines)
        return OrderView(
            stored, stored.version, stage, paper.day, paper.party, result, tuple(parcels_of(session, document)),
            tuple(booked_of(session, document)), home, state_result(stored.reference, stage, things, result, home),
        )  # fmt: skip


def quote_fees(catalogue: Catalogue, way: str, prices: Sequence[Decimal], shipping: Decimal) -> Decimal:
    """What a way of selling keeps of things sold in one parcel. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return fees_of(to_way(find_way(session, way)), prices, shipping, load_preferences(session).currency)


def fees_of(way: SellingWay, prices: Sequence[Decimal], shipping: Decimal, currency: str) -> Decimal:
    """What a way of selling keeps of things sold in one parcel, to the cent. Rule C-17."""
    fees = replace(way, shipping_charged=shipping).fees_of_parcel(prices)
    exact = Decimal(fees.numerator) / Decimal(fees.denominator)
    return exact.quantize(Decimal(1).scaleb(-minor_units(currency)), ROUND_HALF_UP)
