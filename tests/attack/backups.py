"""What a backup becomes by bad luck, bad disks and bad will; and everything that is stored, told table by table."""

import gzip
import json
import zipfile
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

from tests.conftest import ROOT
from tobbix.core.base.errors import InputError
from tobbix.db.base import Database
from tobbix.db.copying import columns_of, copy_out, driver
from tobbix.services.installation.backups import restore

OLD = ROOT / "tests/data/backup-s004.sql.gz"  # made by 0cf03a4 of its demo, the last version with such backups
NOT_COMPARED = {"sign_in", "sign_in_wait", "installation"}  # sessions end, and the epoch is another one
Change = Callable[[dict[str, bytes]], object]


def table_digests(database: Database) -> dict[str, tuple[int, str]]:
    """Rows and digest of every table that is found in the schema."""
    with database.engine.connect() as opened:
        connection = driver(opened)
        found = {name: copy_out(connection, name, columns) for name, columns in columns_of(connection).items()}
    return {name: (table.rows, table.digest) for name, table in found.items() if name not in NOT_COMPARED}


def changed(path: Path, change: Change) -> bytes:
    """The backup with its parts changed."""
    with zipfile.ZipFile(path) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    change(parts)
    target = path.with_suffix(".changed")
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return target.read_bytes()


def honest(change: Change) -> Change:
    """A change after which the manifest is made right again."""

    def edit(parts: dict[str, bytes]) -> None:
        change(parts)
        said = json.loads(parts["manifest.json"])
        for table in said["tables"]:
            content = parts[f"tables/{table['name']}.copy"]
            table |= {"rows": content.count(b"\n"), "size": len(content), "sha256": sha256(content).hexdigest()}
        parts["manifest.json"] = json.dumps(said).encode()

    return edit


def damaged_backups(saved: Path) -> dict[str, bytes]:
    """Each by its name; none of it may come in."""
    good, old = saved.read_bytes(), OLD.read_bytes()
    plain = gzip.decompress(old)

    def part(name: str, change: Callable[[bytes], bytes]) -> bytes:
        return changed(saved, lambda parts: parts.update({name: change(parts[name])}))

    def said(change: Callable[[dict[str, Any]], object]) -> bytes:
        def edit(parts: dict[str, bytes]) -> None:
            manifest = json.loads(parts["manifest.json"])
            change(manifest)
            parts["manifest.json"] = json.dumps(manifest).encode()

        return changed(saved, edit)

    def flipped(content: bytes, at: float) -> bytes:
        place = int(len(content) * at)
        return content[:place] + bytes([content[place] ^ 0x10]) + content[place + 1 :]

    def old_with(before: bytes, after: bytes) -> bytes:
        assert before in plain
        return gzip.compress(plain.replace(before, after))

    wanted = b"COPY public.wanted (version_id, added_at) FROM stdin;\n"
    found = {
        "nothing": b"",
        "words": b"not a backup",
        "the head of a zip": b"PK\x03\x04",
        "gzip of nothing": gzip.compress(b""),
        "a foreign dump": gzip.compress(b"-- PostgreSQL database dump\nCOPY public.item (id) FROM stdin;\n1\n\\.\n"),
        "a foreign zip": changed(saved, lambda parts: parts.pop("manifest.json")),
        "old, cut": old[: len(old) // 2],
        "old, without its end": gzip.compress(plain[: int(len(plain) * 0.8)]),
        "old, damaged": flipped(old, 0.5),
        "old, without a version": old_with(b"COPY public.alembic_version", b"COPY public.x"),
        "old, of a newer version": old_with(b"5d1f0b7c2a94", b"ffffffffffff"),
        "old, with letters for a number": old_with(wanted, wanted + b"x\ty\n"),
        "old, with a table of the database's": old_with(b"COPY public.wanted", b"COPY public.pg_authid"),
        "a newer format": said(lambda manifest: manifest.update(schema_version=2)),
        "a newer schema": said(lambda manifest: manifest.update(revision="ffffffffffff")),
        "no manifest": part("manifest.json", lambda _: b"{}"),
        "a deep manifest": part("manifest.json", lambda _: b"[" * 100_000),
        "an edited table": part("tables/item.copy", lambda data: data.replace(b"Gull", b"Bull")),
        "an emptied table": part("tables/item.copy", lambda _: b""),
        "a row more": part("tables/wanted.copy", lambda data: data + b"1\t2026-01-01 00:00:00+00\n"),
        "a table less": changed(saved, lambda parts: parts.pop("tables/item.copy")),
        "a table more": changed(saved, lambda parts: parts.update({"tables/more.copy": b""})),
        "a table that is not named": said(lambda manifest: manifest["tables"].pop()),
        "a table of the database's": said(lambda manifest: manifest["tables"][0].update(name="pg_authid")),
        "a column that is a statement": said(
            lambda manifest: manifest["tables"][0].update(columns=["id) from stdin; drop table item; --"])
        ),
        "letters for a number": changed(
            saved, honest(lambda parts: parts.update({"tables/wanted.copy": b"x\t2026-01-01 00:00:00+00\n"}))
        ),
        "postings without their entries": changed(
            saved, honest(lambda parts: parts.update({"tables/entry.copy": b""}))
        ),
    }
    found |= {f"cut at {share:.1%}": good[: int(len(good) * share)] for share in (0.1, 0.5, 0.9, 0.999)}
    found |= {f"a bit at {share:.0%}": flipped(good, share) for share in (0.2, 0.5, 0.7)}
    return found


def run_backups(database: Database, saved: Path, folder: Path) -> tuple[int, list[str]]:
    """Try to restore every damaged backup; how many, and those that were taken or changed anything."""
    before, wrong = table_digests(database), []
    files = damaged_backups(saved)
    for name, content in files.items():
        path = folder / "damaged"
        path.write_bytes(content)
        try:
            restore(database, path, confirmed=True)
            wrong.append(f"{name}: was restored")
        except InputError as error:
            if "nothing was changed" not in str(error) or error.faults[0].field != "file":
                wrong.append(f"{name}: {error}")
        if table_digests(database) != before:
            wrong.append(f"{name}: something is changed")
    return len(files), wrong
