"""Backups that are made by themselves: one a day, fewer of the older ones; one before each change of the stored shape;
and the drill, which restores one where nothing can be hurt and compares."""

import re
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from tobbix.core.base.errors import InputError
from tobbix.core.planning.keeping import kept
from tobbix.db.base import Database
from tobbix.db.migrating import newest, stored
from tobbix.formats.backup_files import check_backup
from tobbix.services.installation.backups import back_up, restore
from tobbix.services.installation.owners import current_owner

_OWN_TO_EACH = frozenset({"installation"})  # a mark that every restore makes anew
_DAILY = re.compile(r"tobbix-([0-9]{4}-[0-9]{2}-[0-9]{2})\.zip")


@dataclass(frozen=True, slots=True)
class Kept:
    """A daily backup that is there, with its size in bytes."""

    day: date
    file: Path
    size: int


def list_daily(folder: Path) -> list[Kept]:
    """The daily backups of a folder, the newest first."""
    found = []
    for file in folder.glob("tobbix-*.zip"):
        match = _DAILY.fullmatch(file.name)
        if match is not None:
            found.append(Kept(date.fromisoformat(match[1]), file, file.stat().st_size))
    return sorted(found, key=lambda one: one.day, reverse=True)


def back_up_daily(database: Database, folder: Path, today: date) -> Path | None:
    """Make today's backup if it is not there and there is an owner; take out those that are no longer kept. What was
    made. Raises InputError where it cannot be written."""
    if not _has_owner(database):
        return None
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    target = folder / f"tobbix-{today.isoformat()}.zip"
    made = None
    if not target.exists():
        back_up(database, target)
        made = target
    present = list_daily(folder)
    wanted = kept(one.day for one in present)
    for one in present:
        if one.day not in wanted:
            one.file.unlink()
    return made


def back_up_before_migrating(database: Database, folder: Path | None, today: date) -> Path | None:
    """Keep what is stored before its shape changes; None if it does not change, or nothing is stored."""
    revision = stored(database.engine)
    if folder is None or revision is None or revision == newest() or not _has_owner(database):
        return None
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    target = folder / f"before-{newest()}-{today.isoformat()}.zip"
    if not target.exists():  # a second try must not replace what the first one saved
        back_up(database, target)
    return target


def _has_owner(database: Database) -> bool:
    return stored(database.engine) is not None and current_owner(database) is not None


@dataclass(frozen=True, slots=True)
class Drilled:
    """What a drill found: what was restored; how many tables and rows were compared, None where the backup is of an
    older shape; and which tables did not come out as they had gone in."""

    words: str
    tables: int | None
    rows: int | None
    differing: tuple[str, ...]


def drill(source: Path, scratch: Database) -> Drilled:
    """Restore a backup into a database that holds nothing, write one of that, and compare both, table by table. One of
    an older shape is brought to the present one, and not compared.

    Raises InputError if the file is damaged or the scratch database has an owner.
    """
    if _has_owner(scratch):
        raise InputError.at("scratch", "holds an installation; a drill needs a database that holds nothing")
    before = check_backup(source)
    done = restore(scratch, source, confirmed=True)
    if before.revision != newest():
        return Drilled(done.words, None, None, ())
    with TemporaryDirectory() as folder:
        again = Path(folder, "again.zip")
        back_up(scratch, again)
        after = check_backup(again)
    compared = [name for name in before.tables if name not in _OWN_TO_EACH]
    differing = [name for name in compared if before.digests[name] != after.digests.get(name)]
    return Drilled(done.words, len(compared), sum(before.rows[name] for name in compared), tuple(differing))
