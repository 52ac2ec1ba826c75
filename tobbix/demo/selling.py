"""How the demo's collector sells and decides: ways of selling, habits, a limit, and what she wants."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

from tobbix.core.planning.habits import Preferences, SealedHabits, SellingHabits
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.core.products.worth import Horizon, ValueBasis
from tobbix.services.installation.preferences import change_preferences, note_spending, read_preferences
from tobbix.services.pricing.ways import list_ways, save_way
from tobbix.services.products.assuming import change_wanted
from tobbix.services.products.catalogue import Catalogue


def _exact(**amounts: str) -> dict[str, Decimal]:
    return {name: Decimal(text) for name, text in amounts.items()}


def _brackets(*pairs: tuple[str | None, str]) -> tuple[Bracket, ...]:
    return tuple(Bracket(None if end is None else Decimal(end), Decimal(share)) for end, share in pairs)


def demo_ways() -> tuple[SellingWay, ...]:
    """Invented ways of selling, in the order that she uses them."""
    return (
        SellingWay(
            "bellbuoy", "Bellbuoy", _brackets(("1000", "0.11"), (None, "0.03")), FeeBase.PRICE_AND_SHIPPING,
            **_exact(fixed_fee="0.20", payment_share="0.025", payment_fixed="0.15", shipping_charged="1.60",
                     postage="1.30", packing="0.15", lost="0.004"),
        ),
        SellingWay(
            "gavelrock", "Gavelrock", _brackets(("50", "0.15"), ("500", "0.12"), (None, "0.08")), FeeBase.PRICE,
            **_exact(least="1.00", postage="4.20", packing="0.60", shipping_charged="4.90", payment_share="0.02"),
        ),
        SellingWay(
            "swapslip", "Swapslip", _brackets((None, "0.01")), FeeBase.PRICE,
            **_exact(postage="1.30", packing="0.15", lost="0.004"),
        ),
        SellingWay("fair", "Quay Fair", _brackets((None, "0")), FeeBase.PRICE, **_exact(packing="0.05")),
        SellingWay("dealer", "Bulk dealer", _brackets((None, "0.4")), FeeBase.PRICE),
    )  # fmt: skip


def load_selling(catalogue: Catalogue) -> None:
    """Store them where nothing of the kind is there yet."""
    database, today = catalogue.database, catalogue.today()
    known = {stored.way.id for stored in list_ways(database)}
    if known:
        return
    for way in demo_ways():
        save_way(database, way, 0)
    wanted = Preferences(
        selling=SellingHabits(ValueBasis.FLOOR, "bellbuoy", 0.5, 0.02, 1.0, 0.0, 30.0, 4.0, Horizon()),
        sealed=SealedHabits(0.08, 2.0, 0.5),
        monthly_limit=Decimal(400),
    )
    change_preferences(database, replace(wanted, version=read_preferences(database).version))
    day = max(today - timedelta(days=17), today.replace(day=1))
    note_spending(database, day, Decimal("37.50"), "loose packs at the Quay Fair, opened there", "demo-17", today)
    for line, number in (("hand", "KH3"), ("undertow", "UT8"), ("night", "NP4")):
        change_wanted(catalogue, "skerrylight-2025", line, number, True)
