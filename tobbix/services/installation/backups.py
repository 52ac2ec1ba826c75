"""Back everything that is stored up into one file, and bring it back whole or not at all."""

import os
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from tempfile import NamedTemporaryFile

from tobbix.core.base.errors import Fault, InputError, NeedsConfirmation
from tobbix.db.base import Database
from tobbix.db.copying import NOT_CARRIED, DoesNotFit, Given, copy_all_out, count_rows, replace_all
from tobbix.db.migrating import migrate
from tobbix.formats.backup_files import (
    KIND,
    SCHEMA_VERSION,
    BackupFile,
    BackupWriter,
    Manifest,
    TablePart,
    check_backup,
)
from tobbix.services.installation.owners import current_owner

_TOLD = {
    "release": ("release", "releases"),
    "purchase": ("purchase", "purchases"),
    "opening_session": ("opening", "openings"),
    "item": ("thing in stock", "things in stock"),
    "entry": ("entry in the books", "entries in the books"),
}


def back_up(database: Database, target: Path) -> int:
    """Write a backup and return its size in bytes; a file that is there is replaced only by a whole one.

    It holds everything as of one moment, but for the open sessions. Raises InputError where it cannot be written.
    """
    try:
        with NamedTemporaryFile(dir=target.absolute().parent, prefix=".tobbix-", delete=False) as file:
            fresh = Path(file.name)
    except OSError as error:
        raise InputError.at("file", f"{target} cannot be written: {error.strerror}") from None
    try:
        owner = current_owner(database)
        writer = BackupWriter(fresh)
        revision, tables, numbering = copy_all_out(database.engine, writer.open_table)
        parts = tuple(
            TablePart(name=t.name, columns=t.columns, rows=t.rows, size=t.size, sha256=t.digest) for t in tables
        )
        made_at = datetime.now(UTC).isoformat(timespec="seconds")
        writer.close(
            Manifest(
                tobbix=KIND, schema_version=SCHEMA_VERSION, made_at=made_at, revision=revision,
                owner=None if owner is None else owner.name, tables=parts, numbering=numbering,
            )
        )  # fmt: skip
        fresh.chmod(0o600)
        with fresh.open("rb") as file:
            os.fsync(file.fileno())
        fresh.replace(target)
    finally:
        fresh.unlink(missing_ok=True)
    return target.stat().st_size


@dataclass(frozen=True, slots=True)
class Restored:
    """What was restored; ``unknown`` are columns of an old file that are not kept any more."""

    words: str
    unknown: tuple[str, ...]


def restore(database: Database, source: Path, confirmed: bool) -> Restored:
    """Replace all that is stored by a backup, in one transaction; every session ends.

    The file is checked whole before anything changes. Raises InputError for what is no backup, damaged, edited or made
    by a newer version, NeedsConfirmation (``confirmed``) with what it holds and what it replaces.
    """
    found = check_backup(source)
    migrate(database.engine)  # an installation that is begun with a restore has no tables yet
    if not confirmed:
        raise NeedsConfirmation("confirmed", _questions(database, found))
    database.engine.dispose()
    carried = [name for name in found.tables if name not in NOT_CARRIED]

    def tables() -> Iterator[Given]:
        for name in carried:
            yield Given(name, found.columns[name], found.digests[name], found.open_table(name))

    url = database.engine.url.render_as_string(hide_password=False)
    try:
        unknown = replace_all(url, found.revision, tables(), found.numbering)
    except DoesNotFit as error:
        raise InputError.at("file", f"cannot be restored: {error}; nothing was changed") from error
    finally:
        database.engine.dispose()
    return Restored(_tell(found.rows), tuple(unknown))


def _questions(database: Database, found: BackupFile) -> list[Fault]:
    owner = current_owner(database)
    made = "" if found.made_at is None else f" of {found.made_at[:16].replace('T', ', ')} UTC"
    whose = f" of {found.owner}" if found.owner else ""
    mine = f" of {owner.name}" if owner else ""
    return [
        Fault("file", f"The backup{made}{whose} holds {_tell(found.rows)}."),
        Fault("stored", f"It replaces all that is stored now{mine}: {_tell(count_rows(database.engine, _TOLD))}."),
        Fault("sessions", "Everybody is signed out; the passphrase is the one that held when the backup was made."),
    ]


def _tell(rows: dict[str, int]) -> str:
    told = [
        f"{rows[name]:,} {one if rows[name] == 1 else many}" for name, (one, many) in _TOLD.items() if rows.get(name)
    ]
    if not told:
        return "nothing yet"
    return told[0] if len(told) == 1 else f"{', '.join(told[:-1])} and {told[-1]}"
