"""Cards measured on their photos: lines found by the program or placed by hand (C-27)."""

from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import InputError
from tobbix.core.grading.centering import (
    CARD,
    Centering,
    NotMeasured,
    Segment,
    center_by_lines,
    flatten,
    measure_centering,
)
from tobbix.core.holdings.documents import Photo
from tobbix.core.products.describing import size_of
from tobbix.db.base import Database, Session
from tobbix.db.grading.looking import StoredMeasurement, find_measurement, put_measurement
from tobbix.db.holdings.loading import find_item, find_photo, load_photo
from tobbix.db.products.describing import load_description
from tobbix.db.products.loading import find_release
from tobbix.formats.pictures import Scan, read_scan, write_jpeg

_WIDTH = 630  # pixels of a card by itself


@dataclass(frozen=True, eq=False)
class MeasuredPhoto:
    """A photo with what was measured on it (None: nothing yet), and how large its card should be (mm)."""

    item: int
    photo: Photo
    measured: StoredMeasurement | None
    size: tuple[float, float]


def read_measurement(database: Database, photo: int) -> MeasuredPhoto:
    """A photo with what was measured on it. Raises NotFound."""
    with database.transaction() as session:
        return _read(session, photo)


def _read(session: Session, photo: int) -> MeasuredPhoto:
    item, found = find_photo(session, photo)
    return MeasuredPhoto(item, found, find_measurement(session, photo), size_of_item(session, item))


def size_of_item(session: Session, number: int) -> tuple[float, float]:
    """How large a thing's card should be, by its line (mm), or the usual size."""
    item = find_item(session, number, lock=False)
    if item.release is None or item.release_id is None:
        return CARD
    about = load_description(session, find_release(session, item.release, stub=True))
    size = size_of(item.card or "", dict(about.sizes).get(item.line or "", ()))
    return (
        CARD if size is None or size.width is None or size.height is None else (float(size.width), float(size.height))
    )


def find_lines(database: Database, photo: int, version: int) -> MeasuredPhoto:
    """Let the program find the card and its frame on a photo; that it finds none is kept, too, as what it is.

    Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        before = _read(session, photo)
        _, content = load_photo(session, photo, small=False)
    scan = read_scan(content)  # outside of the transaction: it takes its time
    found: Centering | None = None
    refused: str | None = None
    try:
        found = measure_centering(scan.pixels, _dpi(before), before.size)
    except NotMeasured as error:
        refused = error.faults[0].message
    edges, frame = ((), ()) if found is None else (sides_of(found.corners), sides_of(found.frame))
    with database.transaction() as session:
        put_measurement(session, photo, version, edges, frame, False, found, refused)
        return _read(session, photo)


def _dpi(before: MeasuredPhoto) -> float | None:
    """The resolution of a photo; its file as it is kept says it no longer."""
    return None if before.photo.dpi is None else float(before.photo.dpi)


def sides_of(corners: Sequence[tuple[float, float]]) -> tuple[Segment, ...]:
    """The four sides of a shape, from the top on, clockwise."""
    return tuple((corners[at], corners[(at + 1) % 4]) for at in range(4))


def place_lines(
    database: Database, photo: int, version: int, edges: Sequence[Segment], frame: Sequence[Segment]
) -> MeasuredPhoto:
    """Keep lines that a hand placed, with what follows. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        before = _read(session, photo)
        found = center_by_lines(edges, frame, _dpi(before), before.size)
        put_measurement(session, photo, version, edges, frame, True, found, None)
        return _read(session, photo)


def try_lines(database: Database, photo: int, edges: Sequence[Segment], frame: Sequence[Segment]) -> Centering:
    """What lines would say, kept nowhere. Raises NotFound, InputError."""
    with database.transaction() as session:
        before = _read(session, photo)
    return center_by_lines(edges, frame, _dpi(before), before.size)


def card_alone(database: Database, photo: int) -> bytes:
    """The card by itself on a photo, seen straight from above (JPEG), by its lines or by what is found. Raises
    NotFound, InputError where no card is found."""
    with database.transaction() as session:
        before = _read(session, photo)
        _, content = load_photo(session, photo, small=False)
    scan = read_scan(content)
    return write_jpeg(flatten(scan.pixels, _corners(before, scan), _WIDTH, before.size))


def _corners(before: MeasuredPhoto, scan: Scan) -> Sequence[tuple[float, float]]:
    if before.measured is not None and before.measured.found is not None:
        return before.measured.found.corners
    try:
        return measure_centering(scan.pixels, scan.dpi, before.size).corners
    except NotMeasured as error:
        raise InputError.at("photo", error.faults[0].message) from error
