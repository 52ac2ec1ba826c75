"""Take product sheets in, put them out, remove and bring back releases."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from enum import StrEnum

from tobbix.core.base.errors import Conflict, Fault, NeedsConfirmation
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.db.products.loading import find_release, load_sheet, release_exists
from tobbix.db.products.saving import note_change, save_sheet
from tobbix.formats.product_sheets import SheetFile, dump_sheet, parse_sheet
from tobbix.services.products.workshop import Workshop


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
    workshop: Workshop,
    content: bytes,
    confirm_silent: bool,
    replace_existing: bool,
    progress: Callable[[int], None] | None = None,
) -> Imported:
    """Store the product sheet of a file, whole or not at all; ``progress`` is told the rows that are read. Rule C-01.

    Raises InputError with every fault, or NeedsConfirmation: ``confirm_silent`` if lines are silent about formats,
    ``replace`` if the release is there and differs. A sheet that says what is stored already changes nothing.
    """
    read = parse_sheet(content, progress)
    if read.questions and not confirm_silent:
        raise NeedsConfirmation("confirm_silent", read.questions)
    return store_sheet(workshop, read.sheet.confirmed_silence(), replace_existing)


def store_sheet(workshop: Workshop, sheet: ProductSheet, replace_existing: bool) -> Imported:
    """Store a sheet as its release. Raises NeedsConfirmation (``replace``) if another stands there."""
    with workshop.database.transaction() as session:
        source = f"product sheet of {sheet.priced_on.isoformat()}"
        if not release_exists(session, sheet.id):
            save_sheet(session, sheet, source)
            workshop.remember(session, sheet)
            return Imported(sheet, Outcome.ADDED)
        release = find_release(session, sheet.id, lock=True, removed=True)
        current = load_sheet(session, release)
        if release.removed_at is None:
            if write_document(replace(sheet, revision=1)) == write_document(replace(current, revision=1)):
                return Imported(current, Outcome.UNCHANGED)
            if not replace_existing:
                raise NeedsConfirmation("replace", [_clash(sheet, current)])
        sheet = replace(sheet, revision=max(current.revision + 1, sheet.revision))
        release = save_sheet(session, sheet, source)
        note_change(session, release, "replaced by a product sheet", {"sheet": write_document(current)})
        workshop.remember(session, sheet)
    return Imported(sheet, Outcome.REPLACED)


def _clash(sheet: ProductSheet, current: ProductSheet) -> Fault:
    older = " It is older than your own changes." if sheet.revision < current.revision else ""
    message = (
        f"{current.release.title} is here already, at revision {current.revision}; the file holds revision "
        f"{sheet.revision} and differs.{older} Replace it? You can undo that."
    )
    return Fault("id", message, "Release")


def export_sheet(workshop: Workshop, key: str, form: SheetFile) -> bytes:
    """The file of a release as it is now. Raises NotFound."""
    return dump_sheet(workshop.read_sheet(key), form)


def remove_release(workshop: Workshop, key: str) -> None:
    """Put a release out of sight; nothing is deleted. Raises NotFound."""
    with workshop.database.transaction() as session:
        find_release(session, key, lock=True).removed_at = datetime.now(UTC)


def restore_release(workshop: Workshop, key: str) -> None:
    """Bring a removed release back. Raises NotFound, or Conflict if it was not removed."""
    with workshop.database.transaction() as session:
        release = find_release(session, key, lock=True, removed=True)
        if release.removed_at is None:
            raise Conflict("it was not removed")
        release.removed_at = None
