"""Photos of things: kept in the store, so that a backup has them."""

from tobbix.core.holdings.documents import Photo, Side
from tobbix.db.base import Database
from tobbix.db.holdings.loading import find_item, list_photos, load_photo
from tobbix.db.holdings.saving import add_photo, remove_photo
from tobbix.formats.pictures import read_picture


def keep_photo(database: Database, item: int, side: Side, content: bytes) -> int:
    """Keep a picture of an item (front, back or a detail); its number. Raises NotFound, InputError."""
    picture = read_picture(content)
    with database.transaction() as session:
        find_item(session, item)
        return add_photo(
            session, item, side.value, picture.media, (picture.width, picture.height), picture.dpi, picture.content,
            picture.thumbnail,
        )  # fmt: skip


def photos_of(database: Database, item: int) -> list[Photo]:
    """What photos there are of an item."""
    with database.transaction() as session:
        return list_photos(session, item)


def read_photo(database: Database, number: int, small: bool = False) -> tuple[str, bytes]:
    """The media type and the file of a photo, or its small picture. Raises NotFound."""
    with database.transaction() as session:
        return load_photo(session, number, small)


def take_photo_out(database: Database, number: int) -> None:
    """Take a photo out for good. Raises NotFound."""
    with database.transaction() as session:
        remove_photo(session, number)
