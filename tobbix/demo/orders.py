"""What the demo's collector sells: a fair day, a week of orders in every state, a complaint, a market that owes."""

from datetime import timedelta
from decimal import Decimal

from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import Kind
from tobbix.db.products.identifying import Naming
from tobbix.db.selling.orders import StoredOrder
from tobbix.demo.releases import demo_sheets
from tobbix.gateways.shipped import GANNET
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading.profiles import list_carriers, put_carrier
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import claims, habits, orders, packing, payouts, supplies, viewing
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.packing import PostedInput
from tobbix.services.stock import items
from tobbix.services.stock.items import ItemFilter
from tobbix.services.stock.taking_in import CardInput, take_in

_BUYERS = (
    ("Tove Maribel", "Tove Maribel\nSlip Lane 4\nSaltby"), ("Oskar Linnet", "Oskar Linnet\nKiln Row 19\nUpper Cragg"),
    ("Maren Thole", "Maren Thole\nThe Old Signal House\nWestering"),
    ("Joris Ebb", "Joris Ebb\nHarbour Stairs 2\nOttergate"),
    ("Signe Aller", "Signe Aller\nLarch Way 31\nHighline Halt"),
)  # fmt: skip
_COUNTED = (("thin sleeve", 180, "1.80"), ("thick sleeve", 40, "1.20"), ("slim holder", 24, "2.90"),
            ("deep holder", 6, "2.10"), ("team bag", 30, "1.20"), ("envelope 114 x 162", 18, "1.40"),
            ("padded envelope 180 x 265", 7, "2.45"))  # fmt: skip


def _for_sale(catalogue: Catalogue) -> list[Item]:
    """Cards that she pulled twice and keeps in a box of their own, at what they had cost."""
    sheet = next(it for it in demo_sheets() if it.id == "skerrylight-2025")
    said = [
        CardInput(f"{card.subject}, {line.name}, {sheet.release.title}",
                  Naming(sheet.id, line=line.id, number=card.number),
                  condition="NM")
        for line in sheet.lines
        if line.id in ("night", "rivet")
        for card in line.cards
    ]  # fmt: skip
    day = catalogue.today() - timedelta(60)
    numbers = set(take_in(catalogue.database, said, day, basis=Decimal("1.80")))
    found = [it for it in items.all_items(catalogue.database, ItemFilter(kind="card")) if it.number in numbers]
    items.correct_items(catalogue.database, [(it.number, it.version) for it in found], {"place": "selling box"}, day)
    return found


def load_orders(catalogue: Catalogue) -> None:
    """Load them where nothing was sold yet."""
    database, today = catalogue.database, catalogue.today()
    if viewing.list_orders(catalogue, None, "", 0, 1).rows:
        return
    supplies.begin_with_usual(database)
    if not list_carriers(database):
        put_carrier(database, 0, GANNET)
    sender = ("Ines Quillfeather", "Lantern Steps 7", "Ottergate")
    habits.save_habits(database, habits.PackingHabits(Decimal(40), sender, habits.read_habits(database).version))
    for name, count, cost in _COUNTED:
        take_in(database, [CardInput(name, count=count, kind=Kind.SUPPLY)], today - timedelta(30), basis=Decimal(cost))
    take_in(database, [CardInput("slim holder", count=11, kind=Kind.SUPPLY)], today - timedelta(30), basis=Decimal(0))
    cards = _for_sale(catalogue)
    taken = iter(cards)

    def sell(back: int, count: int, buyer: int, reference: str, share: str = "1.05", **said: object) -> int:
        chosen = [next(taken) for _ in range(count)]
        prices = {it.number: (Decimal(it.value or 4) * Decimal(share)).quantize(Decimal("0.10")) for it in chosen}
        name, address = _BUYERS[buyer]
        is_fair = bool(said.get("handed_over"))
        shipping = Decimal(0) if is_fair else Decimal("1.60")
        way = "fair" if is_fair else "bellbuoy"
        fees = viewing.quote_fees(catalogue, way, list(prices.values()), shipping)
        return orders.sell(database, SaleInput(
            today - timedelta(back), prices, name, shipping=shipping, fees=fees, reference=reference, way=way,
            purse="cash" if is_fair else "bank", address="" if is_fair else address, **said,  # type: ignore[arg-type]
        ))  # fmt: skip

    def order(number: int) -> StoredOrder:
        return viewing.read_order(catalogue, number).stored

    def pack(number: int) -> None:
        packing.pack(catalogue, number, order(number).version)

    def post(number: int, back: int, tracking: str | None = None) -> None:
        packing.post(catalogue, number, order(number).version, PostedInput(today - timedelta(back), tracking))

    for at in range(3):
        sell(20, 2, (at + 3) % 5, f"Quay Fair {at + 1}", "0.9", handed_over=True)
    there, late, away, bent, packed = (
        sell(back, count, buyer, reference, market="Bellbuoy")
        for back, count, buyer, reference in (
            (16, 1, 0, "B-2029"), (13, 2, 1, "B-2033"), (4, 1, 2, "B-2036"), (9, 1, 4, "B-2035"), (2, 1, 3, "B-2039"),
        )
    )  # fmt: skip
    for number in (there, late, away, bent, packed):
        pack(number)
    for number, back in ((there, 15), (late, 12), (away, 3), (bent, 8)):
        post(number, back)
    packing.arrive(catalogue, there, today - timedelta(12))
    claims.file_claim(catalogue, late, 0, Decimal(5), "it never arrived, says the buyer")
    packing.complain(catalogue, bent, "a corner is bent that was not in the picture")
    paid = [it for it in payouts.list_open(catalogue, "Bellbuoy")[0] if it.document in (there, late)]
    came = sum((it.amount for it in paid), Decimal(0)) - Decimal("0.35")  # a fee that was not on the orders
    cash = ChargeInput("other", came, "EUR", today - timedelta(5), "bank")
    payouts.take_payout(catalogue, "Bellbuoy", cash, [it.document for it in paid], as_fee=True)
    sell(1, 1, 0, "B-2041", market="Bellbuoy")
    sell(1, 9, 2, "B-2043", market="Bellbuoy")
    sell(0, 1, 1, "S-12", "1.4")
