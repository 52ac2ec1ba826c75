"""Where pricing begins: what to look up next, and what was looked up last."""

from dataclasses import dataclass, replace
from datetime import date

from tobbix.core.base.results import Verdict
from tobbix.core.pricing.next_up import NextUp, state_next, why_look
from tobbix.core.products.finding import FoundCard
from tobbix.db.pricing.comps import seen_lately
from tobbix.db.pricing.next_up import list_wanting
from tobbix.db.products.finding import read_cards
from tobbix.db.products.values import price_versions
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on

_LATELY, _NEXT = 20, 20


@dataclass(frozen=True, slots=True)
class SeenCard:
    """A card of which prices were recorded, what it goes for in the usual state (in the card), how many prices there
    are, and the newest day."""

    card: FoundCard
    count: int
    day: date


@dataclass(frozen=True, eq=False)
class Looking:
    """What to look up next, the most money first, and the cards of which prices were recorded last."""

    next_up: tuple[NextUp, ...]
    waiting: int
    seen: tuple[SeenCard, ...]
    currency: str
    verdict: Verdict


def look_round(catalogue: Catalogue) -> Looking:
    """What to look up next, and what was looked up last."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = home_on(session, today)
        wanting, waiting = list_wanting(session, today, home.state, _NEXT)
        rows = seen_lately(session, _LATELY)
        cards = read_cards(session, [*(held.version for held in wanting), *(version for version, *_ in rows)])
        prices = price_versions(session, [version for version, *_ in rows], home.state, home.convert)
    found = tuple(
        NextUp(cards[held.version], held.count, held.worth, why)
        for held in wanting
        if (why := why_look(held, today)) is not None
    )
    seen = tuple(
        SeenCard(replace(cards[version], price=prices[version].amount), count, day) for version, count, day in rows
    )
    return Looking(found, waiting, seen, home.currency, state_next(found, waiting, home.currency))
