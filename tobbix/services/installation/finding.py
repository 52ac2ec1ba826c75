"""Anything that is here, by a few words: boxes, cards, what is owned, purchases, places."""

from dataclasses import dataclass
from urllib.parse import quote

from tobbix.core.base.matching import match_words
from tobbix.db.buying.loading import name_purchases
from tobbix.db.holdings.listing import ItemFilter, list_items, places
from tobbix.db.products.loading import list_releases
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced

_EACH = 5


@dataclass(frozen=True, slots=True)
class Place:
    """Somewhere that words lead to: its ``kind`` in words, what it is, and the address of its page."""

    kind: str
    name: str
    path: str


def find_anything(catalogue: Catalogue, find: str) -> list[Place]:
    """Where some words may lead: at most five of each kind, what is owned first."""
    if not find.strip():
        return []
    found = []
    with catalogue.database.transaction() as session:
        owned = list_items(session, ItemFilter(find=find), "id", True, 0, _EACH).items
        found += [Place("in stock", item.name, f"/stock/{item.number}") for item in owned]
        sheets = [it.sheet for it in catalogue.look_at(session, list_releases(session))]
        boxes = [
            Place("box", f"{sheet.release.title}, {fmt.name}", f"/products/{sheet.id}/{fmt.id}")
            for sheet in sheets
            for fmt in sheet.formats
        ]
        boxes += [Place("release", sheet.release.title, f"/products/{sheet.id}") for sheet in sheets]
        bought = [
            Place("purchase", f"{name}, {day:%-d %b %Y}", f"/buying/{number}")
            for number, name, day in name_purchases(session)
        ]
        kept = [Place("place", place, f"/stock?place={quote(place)}") for place in places(session)]
        for kind in (boxes, bought, kept):
            found += [kind[at] for at in match_words(find, [it.name for it in kind])[:_EACH]]
        cards = find_priced(session, catalogue.today(), find, _EACH)
    with_sheet = {sheet.id for sheet in sheets}
    for card in cards:
        page = f"/products/{card.release}" + ("" if card.release in with_sheet else "/-/seen")
        found.append(Place("card", f"{card.number} {card.subject}, {card.line_name}, {card.release_title}", page))
    return found
