"""Own sales as prices: what a copy really went for is the best that is known of it (C-18)."""

from datetime import UTC, date, datetime

from tobbix.core.holdings.states import DocumentKind, Kind
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.selling.listings import ListingKind
from tobbix.db.base import Session
from tobbix.db.holdings.loading import load_document
from tobbix.db.pricing.comps import add_comps, batch_of, begin_batch, withdraw_batch
from tobbix.db.selling.listings import things_offered
from tobbix.db.selling.orders import find_order
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.pricing.keeping import keep_values

_OUTSIDE = "own sales"


def keep_prices(session: Session, document: int, day: date, market: str | None, kind: ListingKind | None) -> None:
    """What the identified cards of an order went for becomes prices of them, each by itself; several in one parcel
    share its shipping."""
    order = find_order(session, document)
    sold = {it.item: it for it in order.lines if it.kind in (Kind.CARD.value, Kind.STACK.value) and it.price > 0}
    things = [it for it in things_offered(session, list(sold), CLEANED) if it.version is not None]
    if not things:
        return
    shipping = order.shipping / len(order.lines)
    comps = []
    sale = CompKind.AUCTION if kind is ListingKind.AUCTION else CompKind.OWN
    for it in things:
        line, (grader, _, grade) = sold[it.item], it.shown.grade.rpartition(" ")
        if not grade and not it.shown.condition:
            continue  # a price of no state speaks for none
        comps.append((it.version or 0, Comp(
            sale, day, line.price, order.currency, shipping,
            condition=None if grade else it.shown.condition, grader=grader or None, grade=grade or None, market=market,
            lot=it.shown.count, outside=_OUTSIDE, outside_id=f"{document} {it.item}",
        )))  # fmt: skip
    if comps:
        add_comps(session, comps, batch=begin_batch(session, f"sold: {order.reference}", day))
        keep_values(session, sorted({version for version, _ in comps}), day)


def withdraw_prices(session: Session, document: int, today: date) -> None:
    """An order's sale was taken back: nothing went for its prices."""
    if load_document(session, document).kind is not DocumentKind.ORDER:
        return
    batch = batch_of(session, _OUTSIDE, f"{document} ")
    if batch is not None:
        of = withdraw_batch(session, batch, datetime.now(UTC))
        keep_values(session, sorted({version for version, _ in of}), today, of)
