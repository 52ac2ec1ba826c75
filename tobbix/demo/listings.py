"""What the demo's collector offers: at a fixed price and by auction, with an offer, an old price and drafts."""

from datetime import timedelta
from decimal import Decimal

from tobbix.core.selling.listings import OPEN, ListingKind
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import listings, offers, proposing
from tobbix.services.selling.listings import ListingSaid
from tobbix.services.stock import items
from tobbix.services.stock.items import ItemFilter


def load_listings(catalogue: Catalogue) -> None:
    """Load them where nothing was ever offered."""
    if any(listings.list_listings(catalogue, OPEN, "", 0, 1).counts.values()):
        return
    found = items.list_items(
        catalogue.database, ItemFilter(kind="card", identity="known", value="known"), "value", True, 0, 120
    ).items  # fmt: skip
    offered = [it for it in found if it.value is not None and it.value >= 6 and it.count == 1]
    proposed, _ = proposing.propose(catalogue, [it.number for it in offered], "bellbuoy")
    free = [it.item for it in proposed if it.refused is None]
    worth = {it.number: it.value or Decimal(0) for it in offered}

    def price(item: int, share: str = "1.06") -> Decimal:
        return (worth[item] * Decimal(share)).quantize(Decimal("0.10"))

    fixed = free[8:18]
    up = listings.draft(catalogue, "bellbuoy", [ListingSaid((item,), price(item)) for item in fixed])
    lots = free[2:4]
    closes = catalogue.today() + timedelta(5)
    auctions = [ListingSaid((item,), price(item, "0.5"), kind=ListingKind.AUCTION, ends_on=closes) for item in lots]
    up += listings.draft(catalogue, "gavelrock", auctions)
    for number in up:
        listings.put_up(catalogue, number, 1, f"{'BL' if number in up[:-2] else 'GL'}48{number:05d}")
    listings.draft(catalogue, "bellbuoy", [ListingSaid((item,), price(item)) for item in free[20:23]])
    first = listings.read_listing(catalogue, up[0]).stored
    offers.make_offer(catalogue, up[0], "Joris Kettleby", (first.price * Decimal("0.85")).quantize(Decimal("0.10")))
