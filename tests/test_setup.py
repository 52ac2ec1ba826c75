"""The private cluster: made once, whole or not at all, and without a hold on its maker's locks."""

import gzip
import re
import shutil
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from tests.attack.backups import OLD
from tests.conftest import ROOT
from tobbix.db.base import Database
from tobbix.db.migrating import differences, migrate

SCRIPT = str(ROOT / "scripts/cluster.sh")


def cluster(action: str, folder: Path, *more: str) -> str:
    done = subprocess.run([SCRIPT, action, str(folder), *more], capture_output=True, text=True, check=True, timeout=120)
    return done.stdout.strip()


@pytest.fixture
def folder(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    made = (
        Path("/dev/shm" if Path("/dev/shm").is_dir() else "/tmp")
        / f"tobbix-setup-{tmp_path_factory.getbasetemp().name}"
    )
    yield made
    cluster("stop", made)
    shutil.rmtree(made, ignore_errors=True)


def ask(url: str, question: str) -> list[object]:
    engine = create_engine(url, isolation_level="AUTOCOMMIT")
    try:
        with engine.connect() as connection:
            result = connection.execute(text(question))
            return list(result.scalars()) if result.returns_rows else []
    finally:
        engine.dispose()


def test_it_can_be_started_again_from_any_state_and_keeps_what_is_stored(folder: Path) -> None:
    folder.mkdir(parents=True)
    (folder / "data.new").mkdir()  # left by a making that was stopped half way
    first = cluster("start", folder)
    ask(first, "create table kept as select 7 as seven")
    assert cluster("start", folder) == first  # it runs already
    cluster("stop", folder)
    again = cluster("start", folder)
    assert ask(again, "select seven from kept") == [7]
    assert (folder / "secret").stat().st_mode & 0o077 == 0
    with pytest.raises(Exception, match="password"):
        ask(again.replace(first.split(":")[2].split("@")[0], "wrong"), "select 1")


def test_a_lock_of_its_maker_does_not_live_on_in_the_server(folder: Path, tmp_path: Path) -> None:
    lock = tmp_path / "lock"
    held = f'exec 8>"{lock}"; flock 8; "{SCRIPT}" start "{folder}" throwaway'
    subprocess.run(["bash", "-c", held], check=True, timeout=120, capture_output=True)
    assert subprocess.run(["flock", "-n", str(lock), "true"], timeout=10).returncode == 0


def test_a_cluster_of_before_gets_a_role_that_is_no_superuser_and_keeps_what_is_stored(folder: Path) -> None:
    """Everything belonged to the role that made it, and the search's tools stood among the owner's tables."""
    url = cluster("start", folder)
    admin = re.sub("tobbix_app:[^@]*@", f"tobbix:{(folder / 'secret').read_text().strip()}@", url)
    ask(admin, "drop extension pg_trgm; drop schema extensions; drop schema public cascade; create schema public")
    ask(admin, "alter database tobbix owner to tobbix")
    dump = folder / "old.sql"
    dump.write_bytes(gzip.decompress(OLD.read_bytes()))
    loaded = ["/usr/lib/postgresql/15/bin/psql", "-qX", "-v", "ON_ERROR_STOP=1", "-f", str(dump)]
    subprocess.run([*loaded, admin.replace("+psycopg", "")], check=True, capture_output=True, timeout=120)
    (folder / "roles").unlink()
    assert cluster("start", folder) == url  # it runs: only the roles are seen to
    assert ask(url, "select rolsuper or rolcreaterole or rolcreatedb from pg_roles where rolname = current_user") == [
        False
    ]
    assert ask(url, "select distinct tableowner from pg_tables where schemaname = 'public'") == ["tobbix_app"]
    database = Database(url)
    migrate(database.engine)
    assert differences(database.engine) == []
    database.engine.dispose()
    assert ask(url, "select count(*) from item") == [384]
    indexed = "select indexdef from pg_indexes where indexname = 'ix_item_search_text'"
    assert "gin_trgm_ops" in str(ask(url, indexed)[0])
    with pytest.raises(Exception, match="permission denied|must be"):
        ask(url, "copy (select 1) to program 'true'")
