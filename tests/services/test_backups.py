"""Backups: what comes back is what was there, table by table; what is not whole, not ours or newer changes nothing."""

import gzip
import re
import threading
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from tests.attack.backups import OLD, run_backups, table_digests
from tests.conftest import TODAY, make_database
from tobbix.core.base.errors import NeedsConfirmation
from tobbix.db import copying
from tobbix.db.base import Database
from tobbix.db.migrating import differences
from tobbix.demo.scenario import load_demo
from tobbix.formats.item_lists import parse_items
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.backups import back_up, restore
from tobbix.services.installation.owners import DEMO_PASSPHRASE
from tobbix.services.installation.signing_in import Limits, find_owner_of, sign_in
from tobbix.services.products.answering import answer_releases
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock.bringing import import_items


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
    catalogue = Catalogue(demo, lambda: TODAY)
    shelf = [answer.sheet.release.title for answer in answer_releases(catalogue)]
    token = sign_in(demo, DEMO_PASSPHRASE, "strangers", "a browser", datetime.now(UTC))
    assert token and find_owner_of(demo, token, Limits(), datetime.now(UTC))
    with demo.engine.begin() as connection:
        connection.execute(text("delete from posting; delete from item_event; update item set name = 'gone'"))
        connection.execute(text("update release set name = 'Other', revision = revision"))
    with pytest.raises(NeedsConfirmation) as asked:
        restore(demo, saved, confirmed=False)
    words = " ".join(question.message for question in asked.value.questions)
    assert "holds 35 releases" in words and "It replaces all that is stored now" in words and "signed out" in words
    restore(demo, saved, confirmed=True)
    assert table_digests(demo) == before and differences(demo.engine) == []
    assert find_owner_of(demo, token, Limits(), datetime.now(UTC)) is None
    assert [answer.sheet.release.title for answer in answer_releases(catalogue)] == shelf
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


def test_what_is_damaged_edited_foreign_or_newer_changes_nothing(demo: Database, saved: Path, tmp_path: Path) -> None:
    """Also rows that contradict each other under a manifest that is right."""
    count, wrong = run_backups(demo, saved, tmp_path)
    assert count >= 30 and wrong == []


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


def test_what_fails_after_the_swap_is_not_called_nothing(
    demo: Database, saved: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with demo.engine.begin() as connection:
        connection.execute(text("update release set name = 'Blotted'"))
    monkeypatch.setattr(copying, "_END_OTHERS", "select 1 / 0")
    with pytest.raises(DBAPIError) as failed:
        restore(demo, saved, confirmed=True)
    assert "nothing was changed" not in str(failed.value)
    with demo.engine.connect() as connection:
        assert connection.execute(text("select count(*) from release where name = 'Blotted'")).scalar() == 0
