"""Name releases and cards that no product sheet tells of, so that any card can be found, kept, priced and sold."""

from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import Conflict
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.naming import Seen, SeenRelease, check_card, check_release
from tobbix.db.base import Session
from tobbix.db.products import naming
from tobbix.db.products.finding import read_cards
from tobbix.db.products.identifying import match_items
from tobbix.db.products.loading import find_release
from tobbix.db.products.naming import StoredStub
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_release


@dataclass(frozen=True, slots=True)
class StubView:
    """A release as far as seen, with its cards; ``has_sheet``: these stand beside a product sheet."""

    key: str
    about: SeenRelease
    has_sheet: bool
    cards: tuple[Seen, ...]


def list_stubs(catalogue: Catalogue) -> list[StoredStub]:
    """All releases that are known as far as seen."""
    with catalogue.database.transaction() as session:
        return naming.list_stubs(session)


def read_stub(catalogue: Catalogue, key: str) -> StubView:
    """What was seen of a release beside a sheet, of one with a sheet too. Raises NotFound."""
    with catalogue.database.transaction() as session:
        row = find_release(session, key, stub=True)
        cards = tuple(card for _, card in naming.list_seen(session, row))
        return StubView(row.key, naming.to_seen(row), not row.is_stub, cards)


def name_card(catalogue: Catalogue, release: str | SeenRelease, card: Seen) -> FoundCard:
    """A card that was seen, of a release by its key, or of one that is named with it.

    What is there already is found rather than made again. Raises NotFound, InputError.
    """
    return name_cards(catalogue, release, [card])[0]


def name_cards(catalogue: Catalogue, release: str | SeenRelease, cards: Sequence[Seen]) -> list[FoundCard]:
    """Cards of one release that were seen. Raises NotFound, InputError."""
    seen = [check_card(card, None if isinstance(release, str) else release) for card in cards]
    with catalogue.database.transaction() as session:
        if isinstance(release, str):
            row = find_release(session, release, lock=True, stub=True)
        else:
            said = check_release(release)
            known = naming.find_named(session, said)
            row = known[0] if known else naming.add_stub(session, said)
        versions = naming.add_seen(session, row, seen)
        _match(catalogue, session, row.id)
        found = read_cards(session, versions)
        return [found[version] for version in versions]


def correct_release(catalogue: Catalogue, key: str, about: SeenRelease) -> None:
    """Correct what is said of a release that has no sheet; with a sheet, the sheet says it.

    Raises NotFound, InputError, Conflict.
    """
    said = check_release(about)
    with catalogue.database.transaction() as session:
        row = find_release(session, key, lock=True, stub=True)
        if not row.is_stub:
            raise Conflict("this release has a product sheet, which says what it is called; correct it there")
        naming.rename(session, row, said)
        _match(catalogue, session, row.id)


def _match(catalogue: Catalogue, session: Session, release: int) -> None:
    """Things that were brought in by words may now know what they are, and so what they are worth."""
    if match_items(session, release, catalogue.today()):
        revalue_release(session, home_on(session, catalogue.today()), release)
