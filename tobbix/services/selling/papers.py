"""Papers of orders: the slip, address labels, the picking list by place."""

from collections.abc import Sequence
from decimal import Decimal

from tobbix.core.base.errors import Conflict
from tobbix.core.holdings.sentences import amount
from tobbix.core.selling.orders import OrderStage
from tobbix.db.selling import orders
from tobbix.db.selling.listings import things_offered
from tobbix.formats.papers import Column, PaperPart, today_in_words, write_label, write_label_sheet, write_paper
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on
from tobbix.services.selling.habits import load_habits
from tobbix.services.selling.proposing import price_all
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


def write_customs_form(catalogue: Catalogue, document: int) -> bytes:
    """What a parcel holds, for the customs, as PDF: from whom, to whom, each content with its count and what was paid
    for it, the weight as packed. It has the fields that the forms CN 22 and CN 23 of the Universal Postal Union ask for
    (from memory), to be copied onto the carrier's own. Raises NotFound, Conflict without an address or a sender."""
    lines, sender, reference = _address(catalogue, document)
    if not sender:
        raise Conflict("say first who sends it: your address, under Packing supplies")
    order = read_order(catalogue, document).stored
    weight = (order.post or {}).get("weight")
    rows = tuple(
        (line.name, str(line.count), amount(line.price, order.currency), "printed trading card" if line.count == 1
         else "printed trading cards")
        for line in order.lines
    )  # fmt: skip
    total = sum((line.price for line in order.lines), Decimal(0))
    things = sum(line.count for line in order.lines)
    parts = [
        PaperPart("From", (", ".join(sender),)),
        PaperPart("To", (", ".join(lines),)),
        PaperPart(
            "What is in it, sold goods", (),
            (Column("content", 50), Column("count", 8, True), Column(f"value, {order.currency}", 14, True),
             Column("kind", 24)),
            rows, total=("in all", str(things), amount(total, order.currency), ""),
        ),
        PaperPart("", (
            f"Weight as packed: {weight} g." if weight else "Weight: to be weighed once it is packed.",
            "Country of origin and tariff number: as your carrier or customs say; no advice is given here.",
            "The value is what was paid. The particulars given here are correct, and nothing dangerous is in it.",
            "Date and signature: ________________________________",
        )),
    ]  # fmt: skip
    return write_paper(f"Customs declaration, {reference}", parts, today_in_words())


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


def write_price_list(catalogue: Catalogue, items: Sequence[int], for_owner: bool) -> bytes:
    """What some things cost at a table, by place and name, as PDF. The owner's own copy says how far down each may go
    (the quick price, which is the least worth taking), how high it may begin (the patient one), and what it cost; what
    nobody knows a price of is left open. Rule C-21. Raises NotFound."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = home_on(session, today)
        rows = []
        things = things_offered(session, items[:MOST_AT_ONCE], CLEANED)
        for thing, priced in zip(things, price_all(session, things, None, today), strict=True):
            by_name = {it.name: it.price for it in (() if priced.asked is None else priced.asked.asking)}
            told = thing.shown.grade or thing.shown.condition
            price = by_name.get("market", priced.worth)
            row = [thing.place or "", thing.shown.name, told, _said(price, home.currency)]
            if for_owner:
                bounds = (by_name.get("quick"), by_name.get("patient"), thing.basis)
                row += [_said(it, home.currency) for it in bounds]
            rows.append(tuple(row))
    columns = [
        Column("where", 16),
        Column("what", 44),
        Column("state", 14),
        Column(f"price, {home.currency}", 12, True),
    ]
    words = f"{len(rows)} things, as of {today:%-d %B %Y}."
    if for_owner:
        columns += [Column(name, 10, True) for name in ("floor", "ceiling", "cost")]
        words += " For you alone: do not lay it on the table."
    part = PaperPart("", (words,), tuple(columns), tuple(sorted(rows)))
    return write_paper("Prices", [part], today_in_words())


def _said(price: Decimal | None, currency: str) -> str:
    return "" if price is None else amount(price, currency)
