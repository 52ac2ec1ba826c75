"""Papers of orders: the slip, address labels, the picking list by place."""

from collections.abc import Sequence
from decimal import Decimal

from tobbix.core.base.errors import Conflict
from tobbix.core.holdings.sentences import amount
from tobbix.core.selling.orders import OrderStage
from tobbix.db.selling import orders
from tobbix.formats.papers import Column, PaperPart, today_in_words, write_label, write_label_sheet, write_paper
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.habits import load_habits
from tobbix.services.selling.viewing import read_order

MOST_AT_ONCE = 200


def write_slip(catalogue: Catalogue, document: int) -> bytes:
    """The slip that lies in an order's parcel, as PDF. Raises NotFound."""
    view = read_order(catalogue, document)
    order = view.stored
    rows = tuple(
        (str(at), line.name if line.count == 1 else f"{line.count} x {line.name}",
         line.label or line.condition or "", amount(line.price, order.currency))
        for at, line in enumerate(order.lines, 1)
    )  # fmt: skip
    total = sum((line.price for line in order.lines), order.shipping)
    part = PaperPart(
        "", (f"For {view.buyer}." if view.buyer else "",),
        (Column("no.", 6, True), Column("what", 56), Column("as", 20), Column(order.currency, 14, True)),
        (*rows, ("", "shipping", "", amount(order.shipping, order.currency))),
        total=("", "in all", "", amount(total, order.currency)),
    )  # fmt: skip
    words = PaperPart("", (
        "Please look at it before you confirm. If something is not as it was described, write first: it will be put "
        "right.",
    ))  # fmt: skip
    return write_paper(f"Order {order.reference}", [part, words], today_in_words())


def write_order_label(catalogue: Catalogue, document: int) -> bytes:
    """The address label of an order, A6, as PDF. Raises NotFound, Conflict where no address is known."""
    lines, sender, reference = _address(catalogue, document)
    return write_label(lines, sender, reference)


def _address(catalogue: Catalogue, document: int) -> tuple[list[str], tuple[str, ...], str]:
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document)
        sender = load_habits(session).sender
    lines = [line.strip() for line in order.address.splitlines() if line.strip()]
    if not lines:
        raise Conflict(f"{order.reference} has no address yet")
    return lines, sender, order.reference


def write_labels(catalogue: Catalogue, documents: Sequence[int]) -> bytes:
    """Address labels of many orders on sheets of A4, eight on one, as PDF. Raises NotFound, Conflict."""
    found = [_address(catalogue, document) for document in documents[:MOST_AT_ONCE]]
    return write_label_sheet([(lines, sender, reference) for lines, sender, reference in found])


def write_picking_list(catalogue: Catalogue) -> bytes:
    """What is to be fetched for all orders that are to be packed, by place, as PDF."""
    with catalogue.database.transaction() as session:
        briefs = orders.list_orders(session, OrderStage.TO_PACK, "", 0, MOST_AT_ONCE)
        found = [orders.find_order(session, it.document) for it in briefs]
    rows = sorted(
        (line.place or "no place said", line.name, line.number or "", str(line.count), order.reference)
        for order in found
        for line in order.lines
    )
    things = sum((Decimal(row[3]) for row in rows), Decimal(0))
    part = PaperPart(
        "", (f"{len(found)} orders, {things:f} things, in the order of the places.",),
        (Column("where", 24), Column("what", 44), Column("number", 12), Column("count", 7, True),
         Column("order", 14), Column("", 5)),
        tuple((*row, "\u25a1") for row in rows),
    )  # fmt: skip
    return write_paper("To fetch", [part], today_in_words())
