"""A trade of several cards for several, each at what it is worth in its state."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.pricing.trading import Trade, Traded, even_out
from tobbix.core.products.finding import FoundCard
from tobbix.db.products.finding import read_cards
from tobbix.db.products.values import price_versions
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on


@dataclass(frozen=True, slots=True)
class Wanted:
    """So many copies of a version in a state; ``value``: what one is agreed to be worth (None: what is known)."""

    version: int
    state: str
    count: int
    value: Decimal | None = None


@dataclass(frozen=True, eq=False)
class SeenTrade:
    """A trade with its cards, both sides in their order."""

    trade: Trade
    give: tuple[tuple[FoundCard, Traded], ...]
    get: tuple[tuple[FoundCard, Traded], ...]
    currency: str


def read_trade(catalogue: Catalogue, give: Sequence[Wanted], get: Sequence[Wanted], discount: Decimal) -> SeenTrade:
    """What a trade is worth on both sides, and the cash that evens it. Raises InputError at a card that is gone."""
    both = [*give, *get]
    with catalogue.database.transaction() as session:
        home = home_on(session, catalogue.today())
        cards = read_cards(session, sorted({it.version for it in both}))
        known = {
            state: price_versions(session, [it.version for it in both if it.state == state], state, home.convert)
            for state in {it.state for it in both}
        }
    for name, side in (("give", give), ("get", get)):
        for at, it in enumerate(side):
            if it.version not in cards:
                raise InputError.at(f"{name}.{at}.version", "there is no such card")

    def traded(it: Wanted) -> tuple[FoundCard, Traded]:
        card = cards[it.version]
        price = known[it.state][it.version]
        own = price.own or ":" not in it.state
        value = it.value if it.value is not None else (price.amount if own else None)
        return card, Traded(f"{card.subject} {card.number} in {it.state}", it.count, value)

    sides = [tuple(map(traded, side)) for side in (give, get)]
    trade = even_out([it for _, it in sides[0]], [it for _, it in sides[1]], discount, home.currency)
    return SeenTrade(trade, sides[0], sides[1], home.currency)
