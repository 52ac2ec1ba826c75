"""A backup as a file: a zip of data only, with a manifest that says what each part must be.

``manifest.json`` has the schema's revision, and of each table its columns, rows, bytes and SHA-256;
``tables/NAME.copy`` its rows in the text form of PostgreSQL's ``copy``. Nothing of it is ever carried out. The whole
file is checked against its manifest before anything of it is used.

Backups of before (``.sql.gz``, a script for psql) are read too, but only their COPY blocks: whatever else such a file
says is passed over.
"""

import gzip
import hashlib
import json
import re
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import AbstractContextManager
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from tobbix.core.base.errors import InputError

KIND = "backup"
SCHEMA_VERSION = 1
MOST_UNPACKED = 8 << 30
_MOST_MANIFEST = 4 << 20
_MANIFEST = "manifest.json"
_CHUNK = 1 << 20
_DAY_OF_ZIP = (1980, 1, 1, 0, 0, 0)
_MARK_OF_OLD = b"-- Tobbix backup 1\n"
_END_OF_OLD = b"-- PostgreSQL database dump complete"
_COPY = re.compile(rb"COPY public\.(\"?)([a-z_0-9]{1,63})\1 \(([a-z_0-9, \"]+)\) FROM stdin;\n")
_LONGEST_LINE = 64 << 20
_NAME = r"^[a-z_][a-z0-9_]{0,62}$"
_DAMAGED = (zipfile.BadZipFile, zlib.error, OSError, EOFError, RuntimeError, NotImplementedError, ValueError)


class TablePart(BaseModel):
    """What the manifest says of a table."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: str = Field(pattern=_NAME)
    columns: tuple[str, ...] = Field(max_length=500)
    rows: int = Field(ge=0)
    size: int = Field(ge=0)
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")


class Manifest(BaseModel):
    """What a backup says of itself. ``numbering``: the last number that each sequence gave."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    tobbix: str = Field(pattern=f"^{KIND}$")
    schema_version: int
    made_at: str = Field(max_length=40)
    revision: str = Field(pattern=r"^[0-9a-f]{12}$")
    owner: str | None = Field(max_length=200)
    tables: tuple[TablePart, ...] = Field(max_length=1_000)
    numbering: dict[str, int]


@dataclass(frozen=True, slots=True)
class BackupFile:
    """A backup that was checked whole. ``digests`` are None for one of before, which has none."""

    path: Path
    made_at: str | None
    owner: str | None
    revision: str
    tables: tuple[str, ...]
    rows: dict[str, int]
    columns: dict[str, tuple[str, ...]]
    digests: dict[str, str | None]
    numbering: dict[str, int]
    is_old: bool

    def open_table(self, name: str) -> Iterator[bytes]:
        """The data of a table, in chunks."""
        if self.is_old:
            yield from _old_rows(self.path, name)
            return
        with zipfile.ZipFile(self.path) as archive, archive.open(_member(name)) as source:
            yield from iter(lambda: source.read(_CHUNK), b"")


class BackupWriter:
    """Writes a backup: the tables one after another, then the manifest."""

    def __init__(self, target: Path) -> None:
        self._archive = zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=3)

    def open_table(self, name: str) -> AbstractContextManager[IO[bytes]]:
        return self._archive.open(_info(_member(name)), "w", force_zip64=True)

    def close(self, manifest: Manifest) -> None:
        self._archive.writestr(_info(_MANIFEST), manifest.model_dump_json(indent=1))
        self._archive.close()


def _info(name: str) -> zipfile.ZipInfo:
    info = zipfile.ZipInfo(name, _DAY_OF_ZIP)
    info.compress_type = zipfile.ZIP_DEFLATED
    info.external_attr = 0o600 << 16
    return info


def _member(table: str) -> str:
    return f"tables/{table}.copy"


def check_backup(path: Path) -> BackupFile:
    """Read a backup from its first byte to its last and hold it against its manifest. Raises InputError at ``file``."""
    try:
        with path.open("rb") as file:
            head = file.read(4)
        if head[:2] == b"\x1f\x8b":
            return _check_old(path)
        if head != b"PK\x03\x04":
            raise _refuse("is not a backup of Tobbix")
        return _check_zip(path)
    except InputError:
        raise
    except _DAMAGED as error:
        raise _refuse(f"is damaged and cannot be read whole ({type(error).__name__})") from None


def _refuse(why: str) -> InputError:
    return InputError.at("file", f"{why}; nothing was changed")


def _check_zip(path: Path) -> BackupFile:
    with zipfile.ZipFile(path) as archive:
        members = archive.infolist()
        names = [member.filename for member in members]
        if _MANIFEST not in names:
            raise _refuse("is not a backup of Tobbix, or its end is missing")
        if archive.getinfo(_MANIFEST).file_size > _MOST_MANIFEST:
            raise _refuse("is not a backup of Tobbix")
        manifest = _read_manifest(archive.read(_MANIFEST))
        expected = [_member(part.name) for part in manifest.tables]
        if len(set(names)) != len(names) or sorted(names) != sorted([_MANIFEST, *expected]):
            raise _refuse("is damaged: it does not hold the parts that its manifest names")
        if sum(part.size for part in manifest.tables) > MOST_UNPACKED:
            raise _refuse("unpacks to more than can be taken")
        for part in manifest.tables:
            _check_part(archive, part)
    parts = manifest.tables
    return BackupFile(
        path, manifest.made_at, manifest.owner, manifest.revision, tuple(part.name for part in parts),
        {part.name: part.rows for part in parts}, {part.name: part.columns for part in parts},
        {part.name: part.sha256 for part in parts}, manifest.numbering, False,
    )  # fmt: skip


def _read_manifest(content: bytes) -> Manifest:
    try:
        said = json.loads(content)
        version = said.get("schema_version") if isinstance(said, dict) and said.get("tobbix") == KIND else None
        if isinstance(version, int) and version > SCHEMA_VERSION:
            raise _refuse("was made by a newer version of Tobbix")
        manifest = Manifest.model_validate(said)
    except (ValidationError, RecursionError, UnicodeDecodeError, json.JSONDecodeError):
        raise _refuse("is not a backup of Tobbix: its manifest is not one") from None
    if any(not re.match(_NAME, column) for part in manifest.tables for column in part.columns):
        raise _refuse("is not a backup of Tobbix: its manifest is not one")
    return manifest


def _check_part(archive: zipfile.ZipFile, part: TablePart) -> None:
    digest, size, rows = hashlib.sha256(), 0, 0
    with archive.open(_member(part.name)) as source:
        while chunk := source.read(_CHUNK):
            size += len(chunk)
            if size > part.size:
                break
            digest.update(chunk)
            rows += chunk.count(b"\n")
    if (size, rows, digest.hexdigest()) != (part.size, part.rows, part.sha256):
        raise _refuse(f"is damaged or was edited: its table {part.name} is not what its manifest says")


def _old_lines(path: Path) -> Iterator[tuple[str | None, tuple[str, ...], bytes]]:
    """Each line of an old backup with the table and columns that it belongs to; other lines belong to none."""
    total = 0
    table: str | None = None
    columns: tuple[str, ...] = ()
    with gzip.open(path, "rb") as source:
        while line := source.readline(_LONGEST_LINE):
            total += len(line)
            if total > MOST_UNPACKED or (len(line) == _LONGEST_LINE and not line.endswith(b"\n")):
                raise _refuse("unpacks to more than can be taken")
            if table is not None:
                if line == b"\\.\n":
                    table, columns = None, ()
                    continue
                yield table, columns, line
            elif found := _COPY.fullmatch(line):
                table = found[2].decode()
                columns = tuple(name.strip().strip('"') for name in found[3].decode().split(","))
                yield table, columns, b""
            else:
                yield None, (), line
    if table is not None:
        raise _refuse("is damaged: its end is missing")


def _check_old(path: Path) -> BackupFile:
    rows: dict[str, int] = {}
    shapes: dict[str, tuple[str, ...]] = {}
    revision, is_whole, owner = "", False, None
    with gzip.open(path, "rb") as source:
        if source.read(len(_MARK_OF_OLD)) != _MARK_OF_OLD:
            raise _refuse("is not a backup of Tobbix")
    for table, columns, line in _old_lines(path):
        if table is None:
            is_whole = is_whole or line.startswith(_END_OF_OLD)
        elif not line:
            if table in shapes:
                raise _refuse(f"is damaged or was edited: it holds the table {table} twice")
            rows[table], shapes[table] = 0, columns
        else:
            rows[table] += 1
            if table == "alembic_version":
                revision = line.decode("utf-8", "replace").strip()
            elif table == "owner" and "name" in columns:
                owner = line.decode("utf-8", "replace").rstrip("\n").split("\t")[columns.index("name")][:200]
    if not is_whole:
        raise _refuse("is damaged: its end is missing")
    if rows.pop("alembic_version", 0) != 1:
        raise _refuse("is not a backup of Tobbix: it does not say which version made it")
    del shapes["alembic_version"]
    return BackupFile(
        path, None, owner, revision, tuple(shapes), rows, shapes, dict.fromkeys(shapes), {}, True,
    )  # fmt: skip


def _old_rows(path: Path, name: str) -> Iterator[bytes]:
    held: list[bytes] = []
    size = 0
    for table, _, line in _old_lines(path):
        if table == name and line:
            held.append(line)
            size += len(line)
            if size > _CHUNK:
                yield b"".join(held)
                held, size = [], 0
    if held:
        yield b"".join(held)
