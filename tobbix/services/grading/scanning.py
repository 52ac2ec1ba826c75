"""Pictures from a scanner become photos of things, and what was done to a card is written down."""

from collections.abc import Sequence

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings.documents import Side
from tobbix.db.base import Database
from tobbix.db.holdings.loading import find_item
from tobbix.db.holdings.saving import change_words
from tobbix.gateways.ports import Scanner
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock.photos import keep_photo

CLEANED = "cleaned: "  # how it stands in a card's history, and by what a sale finds it


def take_scans(
    database: Database, scanner: Scanner | None, files: Sequence[str], items: Sequence[int], sides: Sequence[Side]
) -> list[int]:
    """A scanner's files become photos, each of the thing and side at its place; the numbers of the photos. A file is
    put away once it is kept. Raises NotFound, Conflict, InputError."""
    if scanner is None:
        raise Conflict("no scanner is connected")
    if not len(files) == len(items) == len(sides):
        raise InputError.at("files", "say of each file which card and which side it shows")
    taken = []
    for name, item, side in zip(files, items, sides, strict=True):
        taken.append(keep_photo(database, item, side, scanner.read_file(name)))
        scanner.put_away(name)
    return taken


def log_cleaning(catalogue: Catalogue, number: int, version: int, what: str) -> None:
    """Write down what was done to a card; a buyer is told. Raises NotFound, Conflict, InputError."""
    if not what.strip():
        raise InputError.at("what", "say what was done")
    with catalogue.database.transaction() as session:
        find_item(session, number, version)
        change_words(session, number, {}, catalogue.today(), [f"{CLEANED}{what.strip()}"])
