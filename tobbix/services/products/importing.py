"""Take product sheets in, put them out, remove and bring back releases."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from enum import StrEnum

from tobbix.core.base.errors import Conflict, Fault, NeedsConfirmation
from tobbix.core.products.beginning import FirstLine, FirstSheet, begin_sheet
from tobbix.core.products.naming import SeenRelease, TakingOver, match_stub
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.db.base import Session
from tobbix.db.products import naming
from tobbix.db.products.identifying import match_items
from tobbix.db.products.loading import find_release, release_exists, removed_releases
from tobbix.db.products.saving import note_change, save_sheet
from tobbix.db.products.tables import ReleaseRow
from tobbix.formats.product_sheets import SheetFile, dump_sheet, parse_sheet
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on, revalue_release


class Outcome(StrEnum):
    """What an import did."""

    ADDED = "added"
    REPLACED = "replaced"
    UNCHANGED = "unchanged"


@dataclass(frozen=True, slots=True)
class Imported:
    """The release as stored, and what happened to it."""

    sheet: ProductSheet
    outcome: Outcome


def import_sheet(
    catalogue: Catalogue,
    content: bytes,
    confirm_silent: bool,
    replace_existing: bool,
    take_over: bool | None = None,
    progress: Callable[[int], None] | None = None,
) -> Imported:
    """Store the product sheet of a file, whole or not at all; ``progress`` is told the rows that are read. Rule C-01.

    Raises InputError with every fault, or NeedsConfirmation: ``confirm_silent`` if lines are silent about formats,
    ``replace`` if the release is there and differs, ``same_release`` if it is known as far as seen and it is not said
    whether the sheet is of that one. A sheet that says what is stored already changes nothing.
    """
    read = parse_sheet(content, progress)
    if read.questions and not confirm_silent:
        raise NeedsConfirmation("confirm_silent", read.questions)
    return store_sheet(catalogue, read.sheet.confirmed_silence(), replace_existing, take_over)


def begin_release(catalogue: Catalogue, said: FirstSheet) -> Imported:
    """Store a release as it is first known, typed by hand; it is corrected in place or replaced by a sheet later.

    Raises InputError with every fault, NeedsConfirmation as above.
    """
    with catalogue.database.transaction() as session:
        taken = naming.all_keys(session)
    document = begin_sheet(said, catalogue.today(), taken)
    return store_sheet(
        catalogue, read_sheet(document).sheet.confirmed_silence(), replace_existing=False, take_over=None
    )


def empty_sheet(currency: str, today: date, form: SheetFile) -> bytes:
    """A product sheet to be filled in, with a line of each kind to write over."""
    hit = FirstLine("An insert", 2, "1:12")
    said = FirstSheet(
        "Name of the release", today.year, "Its publisher", None, currency, "Box", 24, 10, 12, "", 3, [hit]
    )
    return dump_sheet(read_sheet(begin_sheet(said, today)).sheet, form)


def store_sheet(
    catalogue: Catalogue, sheet: ProductSheet, replace_existing: bool, take_over: bool | None = False
) -> Imported:
    """Store a sheet as its release. Raises NeedsConfirmation (``replace``) if another stands there, or ``same_release``
    if it is known as far as seen and that is left open.
    """
    with catalogue.database.transaction() as session:
        home = home_on(session, catalogue.today())
        stub = _stub_of(session, sheet, take_over)
        if stub is not None:
            return _take_over(catalogue, session, stub, sheet, home)
        naming.make_way(session, sheet.id)
        if not release_exists(session, sheet.id):
            release, _ = save_sheet(session, sheet, home.state)
            match_items(session, release.id, catalogue.today())
            revalue_release(session, home, release.id)
            return Imported(sheet, Outcome.ADDED)
        release = find_release(session, sheet.id, lock=True, removed=True)
        current = catalogue.as_written(session, sheet.id)
        if release.removed_at is None:
            if write_document(replace(sheet, revision=1)) == write_document(replace(current, revision=1)):
                return Imported(current, Outcome.UNCHANGED)
            if not replace_existing:
                raise NeedsConfirmation("replace", [_clash(sheet, current)])
        sheet = replace(sheet, revision=max(current.revision + 1, sheet.revision))
        release, ids = save_sheet(session, sheet, home.state)
        note_change(session, release, "replaced by a product sheet", {"sheet": write_document(current), "values": ids})
        match_items(session, release.id, catalogue.today())
        revalue_release(session, home, release.id)
    return Imported(sheet, Outcome.REPLACED)


def _stub_of(session: Session, sheet: ProductSheet, take_over: bool | None) -> ReleaseRow | None:
    """The release as far as seen that a sheet is of. Raises NeedsConfirmation if that is left open."""
    about = sheet.release
    named = naming.find_named(session, SeenRelease(about.name, about.year, about.series))
    stubs = [row for row in named if row.is_stub]
    if not stubs or take_over is False or naming.has_sheet(session, sheet.id):
        return None
    matches = [_match(session, sheet, row) for row in stubs]
    best = max(range(len(stubs)), key=lambda at: len(matches[at].matched))
    if take_over is None:
        words = (
            f"{naming.to_seen(stubs[best]).title} is known here as far as seen. {matches[best].words} Is it the same?"
        )
        raise NeedsConfirmation("same_release", [Fault("id", words, "Release")])
    return stubs[best]


def _match(session: Session, sheet: ProductSheet, stub: ReleaseRow) -> TakingOver:
    return match_stub(sheet, naming.line_names(session, stub), naming.list_seen(session, stub))


def _take_over(catalogue: Catalogue, session: Session, stub: ReleaseRow, sheet: ProductSheet, home: Home) -> Imported:
    """Store a sheet onto a release as far as seen: the same versions go on."""
    matched, revision = _match(session, sheet, stub), stub.revision + 1
    if stub.key != sheet.id and release_exists(session, sheet.id):
        raise Conflict(f"“{sheet.id}” is the id of another release; give the sheet an id of its own")
    back = naming.take_over(session, stub, sheet.id, dict(matched.lines))
    sheet = replace(sheet, revision=max(revision, sheet.revision))
    release, ids = save_sheet(session, sheet, home.state)
    what = "a product sheet for what was known as far as seen"
    note_change(session, release, what, {"stub": back, "values": ids})
    match_items(session, release.id, catalogue.today())
    revalue_release(session, home, release.id)
    return Imported(sheet, Outcome.ADDED)


def _clash(sheet: ProductSheet, current: ProductSheet) -> Fault:
    older = " It is older than your own changes." if sheet.revision < current.revision else ""
    message = (
        f"{current.release.title} is here already, at revision {current.revision}; the file holds revision "
        f"{sheet.revision} and differs.{older} Replace it? You can undo that."
    )
    return Fault("id", message, "Release")


def export_sheet(catalogue: Catalogue, key: str, form: SheetFile) -> bytes:
    """The file of a release as it is now. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_release(session, key)
        sheet = catalogue.as_written(session, key)
    return dump_sheet(sheet, form)


def remove_release(catalogue: Catalogue, key: str) -> None:
    """Put a release out of sight; nothing is deleted. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_release(session, key, lock=True, stub=True).removed_at = datetime.now(UTC)


def list_removed(catalogue: Catalogue) -> list[tuple[str, str]]:
    """The releases that were removed and can be brought back: key and title."""
    with catalogue.database.transaction() as session:
        return removed_releases(session)


def restore_release(catalogue: Catalogue, key: str) -> None:
    """Bring a removed release back. Raises NotFound, or Conflict if it was not removed."""
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True, removed=True, stub=True)
        if release.removed_at is None:
            raise Conflict("it was not removed")
        release.removed_at = None
