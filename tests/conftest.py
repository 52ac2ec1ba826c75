"""A real PostgreSQL for every test that stores something; see scripts/cluster.sh."""

import gc
import os
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from sqlalchemy import Connection, create_engine, inspect, text
from sqlalchemy.exc import ProgrammingError
from sqlalchemy.orm import Session

from tobbix.app import create_app
from tobbix.config import Config
from tobbix.db.base import Database
from tobbix.db.migrating import migrate
from tobbix.services.installation.owners import create_owner
from tobbix.services.products.catalogue import Catalogue

ROOT = Path(__file__).parent.parent
PASSPHRASE = "four plain words here"
TODAY = date(2026, 11, 24)

gc.freeze()  # what was imported stays: nobody need look at it again for what is garbage


@pytest.fixture(scope="session")
def server_url() -> Iterator[str]:
    """A throwaway cluster: the one that scripts/check.sh started, or one of this session's own."""
    if url := os.environ.get("TOBBIX_TEST_DATABASE_URL"):
        yield url
        return
    shared = Path("/dev/shm")
    folder = (shared if shared.is_dir() else Path("/tmp")) / f"tobbix-test-{os.getpid()}"
    script = str(ROOT / "scripts/cluster.sh")
    started = subprocess.run([script, "start", str(folder), "throwaway"], capture_output=True, text=True, check=True)
    yield started.stdout.strip()
    subprocess.run([script, "stop", str(folder)], check=True)
    subprocess.run(["rm", "-rf", str(folder)], check=True)


def cluster_script(action: str, folder: Path, kind: str = "throwaway") -> str:
    """Run scripts/cluster.sh on a cluster; what it prints."""
    command = [str(ROOT / "scripts/cluster.sh"), action, str(folder), kind]
    done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=120)
    return done.stdout.strip()


def copy_database(server_url: str, name: str, template: str = "template1") -> str:
    """A fresh database on the cluster, empty or a copy of one that nobody uses; returns its URL."""
    engine = create_engine(server_url, isolation_level="AUTOCOMMIT")
    try:
        for left in range(20, -1, -1):
            try:
                with engine.connect() as connection:
                    connection.execute(text(f'drop database if exists "{name}" with (force)'))
                    connection.execute(text(f'create database "{name}" template "{template}"'))
                break
            except ProgrammingError:  # the cluster itself is vacuuming it, which nobody but a superuser may end
                if not left:
                    raise
                time.sleep(0.5)
    finally:
        engine.dispose()
    return server_url.rpartition("/")[0] + f"/{name}"


def make_database(server_url: str, name: str) -> str:
    """A fresh, migrated database on the cluster; returns its URL."""
    url = copy_database(server_url, name)
    database = Database(url)
    migrate(database.engine)
    database.engine.dispose()
    return url


@pytest.fixture(scope="session")
def database_url(server_url: str, worker_id: str) -> str:
    url = make_database(server_url, f"test_{worker_id}")
    # Nothing is ever committed here: an automatic analyze in the middle of a test would count no rows where there are
    # thousands, and the plans made from that take minutes.
    engine = create_engine(url, isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        for table in inspect(connection).get_table_names():
            connection.execute(text(f'alter table "{table}" set (autovacuum_enabled = false)'))
    engine.dispose()
    return url


class RolledBack(Database):
    """A database whose transactions are savepoints of one that is rolled back after the test."""

    def __init__(self, connection: Connection) -> None:
        super().__init__(connection.engine)
        self._connection = connection

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        with (
            Session(
                self._connection,
                join_transaction_mode="create_savepoint",
                expire_on_commit=False,
                close_resets_only=False,
            ) as session,
            session.begin(),
        ):
            yield session

    @contextmanager
    def _begun(self) -> Iterator[Connection]:
        with self._connection.begin_nested():
            yield self._connection


_LARGE = (
    "release",
    "line",
    "card",
    "version",
    "value",
    "subject",
    "card_subject",
    "item",
    "item_event",
    "held_value",
    "pull",
)


@pytest.fixture
def database(database_url: str) -> Iterator[Database]:
    engine = create_engine(database_url, connect_args={"prepare_threshold": None})
    with engine.connect() as connection:
        outer = connection.begin()
        yield RolledBack(connection)
        outer.rollback()
        # What was rolled back is still in the files: the next test would read past it, row by row.
        connection.execution_options(isolation_level="AUTOCOMMIT").execute(text(f"vacuum {', '.join(_LARGE)}"))
    engine.dispose()


@pytest.fixture
def catalogue(database: Database) -> Catalogue:
    return Catalogue(database, lambda: TODAY)


@pytest.fixture
def client(catalogue: Catalogue) -> FlaskClient:
    """A client of the whole application, not signed in; the owner's passphrase is PASSPHRASE."""
    create_owner(catalogue.database, "Ines Quillfeather", PASSPHRASE)
    app = create_app(Config(_env_file=None), catalogue)
    return app.test_client()


def sign_in(client: FlaskClient) -> dict[str, str]:
    """Sign in and return the headers that changing requests need."""
    token = client.get("/api/session").json["token"]
    answer = client.post("/api/session", json={"passphrase": PASSPHRASE}, headers={"X-CSRFToken": token})
    assert answer.status_code == 200
    return {"X-CSRFToken": answer.json["token"]}
