"""Which exact version a card is, by what it shows."""

from collections.abc import Mapping

from tobbix.core.base.errors import InputError
from tobbix.core.products.identifying import Identified, Shows, identify
from tobbix.db.products.finding import find_cards
from tobbix.db.products.telling import load_candidates
from tobbix.services.products.catalogue import Catalogue

MOST_CANDIDATES = 200


def identify_card(catalogue: Catalogue, typed: str, answers: Mapping[Shows, str]) -> Identified:
    """What a card may be by what was typed of it, and what to look at next. Raises InputError."""
    if not typed.strip():
        raise InputError.at("find", "type the number, or a part of what it shows")
    with catalogue.database.transaction() as session:
        found = find_cards(session, typed, MOST_CANDIDATES)
        candidates = load_candidates(session, [card.version for card in found])
    return identify(candidates, typed, answers, len(found) < MOST_CANDIDATES)
