"""The words that a card is looked up with elsewhere: proposed by what it is, or the owner's own."""

from dataclasses import replace

from tobbix.core.base.errors import NotFound
from tobbix.core.pricing.looking_up import SearchWords, check_words, propose_words
from tobbix.db.base import Session
from tobbix.db.pricing import titles
from tobbix.services.pricing.seeing import find_card
from tobbix.services.products.catalogue import Catalogue

Keys = tuple[str, str, str, str]


def read_words(catalogue: Catalogue, card: Keys, state: str) -> SearchWords:
    """What to look a card in a state up with. Raises NotFound."""
    with catalogue.database.transaction() as session:
        found = words_of(session, find_card(session, *card), state)
    if found is None:
        raise NotFound("it shows nobody and nothing by which it could be looked up")
    return found


def words_of(session: Session, version: int, state: str = "") -> SearchWords | None:
    """What to look a version up with; None if it is not there any more, or shows no subject."""
    said, found = titles.load_search_words(session, version), titles.beside(session, version)
    own = next((it for it in found if it.version == version), None)
    if own is None:
        return None
    proposed = propose_words(own, state, [it for it in found if it.version != version])
    if said is None:
        return proposed
    words, without = check_words(*said)
    return replace(proposed, words=words, without=without, own=True)


def keep_words(catalogue: Catalogue, card: Keys, words: str, without: str) -> None:
    """Keep the owner's own words of a card, in any state; empty ones: go back to what is proposed. Raises NotFound,
    InputError."""
    said = check_words(words, without) if words.strip() else None
    with catalogue.database.transaction() as session:
        version = find_card(session, *card)
        titles.keep_search_words(session, version, None if said is None else (said[0], ", ".join(said[1])))
