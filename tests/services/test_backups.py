"""Backups: what comes back is what was there, table by table; what is not whole, not ours or newer changes nothing."""

import gzip
import json
import re
import threading
import zipfile
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from hashlib import sha256
from pathlib import Path

import pytest
from sqlalchemy import text

from tests.conftest import ROOT, TODAY, make_database
from tobbix.core.base.errors import InputError, NeedsConfirmation
from tobbix.db.base import Database
from tobbix.db.copying import columns_of, copy_out, driver
from tobbix.db.migrating import differences
from tobbix.demo.scenario import load_demo
from tobbix.formats.item_lists import parse_items
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.backups import back_up, restore
from tobbix.services.installation.owners import DEMO_PASSPHRASE
from tobbix.services.installation.signing_in import Limits, find_owner_of, sign_in
from tobbix.services.products.answering import answer_releases
from tobbix.services.products.workshop import Workshop
from tobbix.services.stock.items import import_items

OLD = ROOT / "tests/data/backup-s004.sql.gz"  # made by 0cf03a4 of its demo, the last version with such backups
NOT_COMPARED = {"sign_in", "sign_in_wait", "installation"}  # sessions end, and the epoch is another one


def table_digests(database: Database) -> dict[str, tuple[int, str]]:
    """Rows and digest of every table that is found in the schema."""
    with database.engine.connect() as opened:
        connection = driver(opened)
        found = {name: copy_out(connection, name, columns) for name, columns in columns_of(connection).items()}
    return {name: (table.rows, table.digest) for name, table in found.items() if name not in NOT_COMPARED}


@pytest.fixture(scope="module")
def demo(server_url: str, worker_id: str) -> Iterator[Database]:
    database = Database(make_database(server_url, f"backups_{worker_id}"))
    load_demo(database, SimulatedRates(), SimulatedScale())
    yield database
    database.engine.dispose()


@pytest.fixture(scope="module")
def saved(demo: Database, tmp_path_factory: pytest.TempPathFactory) -> Path:
    target = tmp_path_factory.mktemp("saved") / "saved.zip"
    back_up(demo, target)
    return target


def test_what_comes_back_is_what_was_there_table_by_table(demo: Database, saved: Path) -> None:
    """Also for who looks on: what was remembered of the other store is forgotten, sessions end."""
    before = table_digests(demo)
    assert len(before) > 35 and before["item"][0] > 300 and (saved.stat().st_mode & 0o777) == 0o600
    workshop = Workshop(demo, lambda: TODAY)
    shelf = [answer.sheet.release.title for answer in answer_releases(workshop)]
    token = sign_in(demo, DEMO_PASSPHRASE, "strangers", "a browser", datetime.now(UTC))
    assert token and find_owner_of(demo, token, Limits(), datetime.now(UTC))
    with demo.engine.begin() as connection:
        connection.execute(text("delete from posting; delete from item_event; update item set name = 'gone'"))
        connection.execute(text("update release set name = 'Other', revision = revision"))
    with pytest.raises(NeedsConfirmation) as asked:
        restore(demo, saved, confirmed=False)
    words = " ".join(question.message for question in asked.value.questions)
    assert "holds 5 releases" in words and "is replaced by it" in words and "signed out" in words
    restore(demo, saved, confirmed=True)
    assert table_digests(demo) == before and differences(demo.engine) == []
    assert find_owner_of(demo, token, Limits(), datetime.now(UTC)) is None
    assert [answer.sheet.release.title for answer in answer_releases(workshop)] == shelf
    with demo.engine.connect() as connection:  # the next number is a new one
        assert connection.execute(text("select nextval('item_id_seq') > (select max(id) from item)")).scalar()


def test_a_backup_of_before_comes_in_by_its_data_alone_and_in_every_shape(demo: Database, tmp_path: Path) -> None:
    """s004 was edited while it was current: columns and tables came and went. Commands in the file are passed over."""
    script = gzip.decompress(OLD.read_bytes()).decode()
    mark = tmp_path / "carried-out"
    hostile = (
        script.replace(
            "COPY public.owner", f"\\! touch {mark}\ncopy item to program 'touch {mark}';\nCOPY public.owner"
        )
        + f"\\! touch {mark}\ndrop table public.item;\n"
    )
    younger = re.sub(r"COPY public\.sent .*?\n\\\.\n", "", hostile, flags=re.S)  # before there were keys
    head = re.search(r"COPY public\.redemption \((.*), chosen\) FROM stdin;\n(.*?)\\\.\n", younger, re.S)
    assert head is not None
    rows = "".join(line.rpartition("\t")[0] + "\n" for line in head[2].splitlines())
    younger = younger.replace(head[0], f"COPY public.redemption ({head[1]}) FROM stdin;\n{rows}\\.\n")
    older = re.sub(
        r"COPY public\.weight \((.*?)\) FROM stdin;\n(.*?)\\\.\n",
        lambda m: f"COPY public.weight ({m[1]}, gone_seen) FROM stdin;\n" + m[2].replace("\n", "\t1\n") + "\\.\n",
        younger, flags=re.S,
    )  # fmt: skip
    for shape, unknown in ((hostile, ()), (younger, ()), (older, ("weight.gone_seen",))):
        path = tmp_path / "old.sql.gz"
        path.write_bytes(gzip.compress(shape.encode()))
        done = restore(demo, path, confirmed=True)
        assert done.unknown == unknown and "5 releases" in done.words and not mark.exists()
        assert differences(demo.engine) == []
        with demo.engine.connect() as connection:
            sums = connection.execute(text("select (select count(*) from item), (select sum(amount) from posting)"))
            assert tuple(sums.one()) == (384, 0)
            redeemed = connection.execute(text("select count(*) from redemption")).scalar()
            assert redeemed == len(head[2].splitlines())


def _zip(path: Path, change: Callable[[dict[str, bytes]], object]) -> bytes:
    """The backup with its parts changed."""
    with zipfile.ZipFile(path) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    change(parts)
    target = path.with_suffix(".changed")
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return target.read_bytes()


def _manifest(path: Path, change: Callable[[dict[str, object]], object], honest: str | None = None) -> bytes:
    """The backup with its manifest changed; ``honest``: a table whose digest is made right again."""

    def edit(parts: dict[str, bytes]) -> None:
        said = json.loads(parts["manifest.json"])
        change(said)
        for table in said["tables"] if honest else ():
            content = parts[f"tables/{table['name']}.copy"]
            table |= {"rows": content.count(b"\n"), "size": len(content), "sha256": sha256(content).hexdigest()}
        parts["manifest.json"] = json.dumps(said).encode()

    return _zip(path, edit)


def damaged_backups(saved: Path) -> dict[str, bytes]:
    """What a backup becomes by bad luck, bad disks and bad will; none of it may come in."""
    good, old = saved.read_bytes(), OLD.read_bytes()
    plain = gzip.decompress(old)

    def part(name: str, change: Callable[[bytes], bytes]) -> bytes:
        return _zip(saved, lambda parts: parts.update({name: change(parts[name])}))

    def flipped(content: bytes, at: float) -> bytes:
        place = int(len(content) * at)
        return content[:place] + bytes([content[place] ^ 0x10]) + content[place + 1 :]

    def bad_rows(parts: dict[str, bytes]) -> None:
        parts["tables/posting.copy"] = parts["tables/posting.copy"].replace(b"\t", b"\tx", 1)

    def orphan(said: dict[str, object]) -> None:
        said["tables"] = [t for t in said["tables"] if t["name"] != "posting"]  # type: ignore[attr-defined]

    found = {
        "nothing": b"", "words": b"not a backup", "zip header": b"PK\x03\x04", "gzip of nothing": gzip.compress(b""),
        "foreign dump": gzip.compress(b"-- PostgreSQL database dump\nCOPY public.item (id) FROM stdin;\n1\n\\.\n"),
        "foreign zip": _zip(saved, lambda parts: parts.pop("manifest.json")),
        "old, cut": old[: len(old) // 2], "old, cut by its end": gzip.compress(plain[: int(len(plain) * 0.8)]),
        "old, damaged": flipped(old, 0.5),
        "old, without a version": gzip.compress(plain.replace(b"COPY public.alembic_version", b"COPY public.x")),
        "old, newer": gzip.compress(plain.replace(b"5d1f0b7c2a94", b"ffffffffffff")),
        "old, with a letter for a number": gzip.compress(plain.replace(b"COPY public.wanted (version_id, added_at) "
                                                                       b"FROM stdin;\n", b"COPY public.wanted "
                                                                       b"(version_id, added_at) FROM stdin;\nx\ty\n")),
        "old, with an unknown table": gzip.compress(plain.replace(b"COPY public.wanted", b"COPY public.pg_authid")),
        "newer format": _manifest(saved, lambda said: said.update(schema_version=2)),
        "newer schema": _manifest(saved, lambda said: said.update(revision="ffffffffffff")),
        "no manifest": part("manifest.json", lambda _: b"{}"),
        "deep manifest": part("manifest.json", lambda _: b"[" * 100_000),
        "edited table": part("tables/item.copy", lambda data: data.replace(b"Gull", b"Bull")),
        "emptied table": part("tables/item.copy", lambda _: b""),
        "a row more": part("tables/wanted.copy", lambda data: data + b"1\t2026-01-01 00:00:00+00\n"),
        "a table less": _zip(saved, lambda parts: parts.pop("tables/item.copy")),
        "a table more": _zip(saved, lambda parts: parts.update({"tables/more.copy": b""})),
        "a table unnamed": _manifest(saved, orphan),
        "a table of the database's": _manifest(
            saved, lambda said: said["tables"][0].update(name="pg_authid")  # type: ignore[index]
        ),
        "a column that is a statement": _manifest(
            saved, lambda said: said["tables"][0].update(columns=["id) from stdin; drop table item; --"])  # type: ignore[index]
        ),
        "impossible rows, right digest": _zip(saved, bad_rows),
    }  # fmt: skip
    found |= {f"cut at {share:.0%}": good[: int(len(good) * share)] for share in (0.1, 0.5, 0.9, 0.999)}
    found |= {f"a bit at {share:.0%}": flipped(good, share) for share in (0.2, 0.5, 0.7)}
    return found


def test_what_is_damaged_edited_foreign_or_newer_changes_nothing(demo: Database, saved: Path, tmp_path: Path) -> None:
    before = table_digests(demo)
    files = damaged_backups(saved)
    assert len(files) >= 30
    for name, content in files.items():
        path = tmp_path / "damaged"
        path.write_bytes(content)
        with pytest.raises(InputError, match="nothing was changed") as refused:
            restore(demo, path, confirmed=True)
        assert refused.value.faults[0].field == "file", name
        assert table_digests(demo) == before, name


def test_rows_that_contradict_each_other_are_refused_with_all_the_rest(
    demo: Database, saved: Path, tmp_path: Path
) -> None:
    """A file whose digests are right can still not break what the tables promise: postings without their entry."""
    before = table_digests(demo)

    def no_entries(parts: dict[str, bytes]) -> None:
        parts["tables/entry.copy"] = b""
        said = json.loads(parts["manifest.json"])
        for table in said["tables"]:
            content = parts[f"tables/{table['name']}.copy"]
            table |= {"rows": content.count(b"\n"), "size": len(content), "sha256": sha256(content).hexdigest()}
        parts["manifest.json"] = json.dumps(said).encode()

    path = tmp_path / "orphans.zip"
    path.write_bytes(_zip(saved, no_entries))
    with pytest.raises(InputError, match="violates foreign key"):
        restore(demo, path, confirmed=True)
    assert table_digests(demo) == before


def test_a_backup_is_of_one_moment_whoever_writes_meanwhile(demo: Database, tmp_path: Path) -> None:
    stop = threading.Event()
    rows = parse_items(b"name,basis\n" + b"".join(b"Card %d,1.00\n" % number for number in range(200)))

    def write() -> None:
        while not stop.is_set():
            import_items(demo, rows, TODAY)

    writer = threading.Thread(target=write)
    writer.start()
    try:
        target = tmp_path / "busy.zip"
        back_up(demo, target)
        back_up(demo, target)
    finally:
        stop.set()
        writer.join()
    restore(demo, target, confirmed=True)  # every posting has its entry, every event its item
    with demo.engine.connect() as connection:
        split = "select count(*) from item i where not exists (select from item_event e where e.item_id = i.id)"
        assert connection.execute(text(split)).scalar() == 0
        assert connection.execute(text("select sum(amount) from posting")).scalar() == 0
