"""The store itself: open it, bring it to the current shape, see whether it answers."""

from dataclasses import dataclass
from datetime import date

from tobbix.db.base import Database, DBAPIError, PoolTimeout, connection_of
from tobbix.db.copying import replace_all
from tobbix.db.installation.worker_lock import Connection, hold_lock, is_lock_held
from tobbix.db.migrating import migrate, new_step, newest
from tobbix.services.products.catalogue import Catalogue

Store = Database  # as the outer layers name it
__all__ = ["Store", "connection_of"]


def open_store(url: str) -> Database:
    """The database of a URL like ``postgresql+psycopg://owner@127.0.0.1:5432/tobbix``."""
    return Database(url)


def open_catalogue(database: Database) -> Catalogue:
    """What the use cases of products work with, by the local calendar."""
    return Catalogue(database, date.today)


def migrate_store(database: Database) -> None:
    """Apply every migration that is missing."""
    migrate(database.engine)


def write_step(database: Database, message: str) -> None:
    """Write the migration from the stored shape to the tables of the code (for developers)."""
    new_step(database.engine, message)


def empty_store(database: Database) -> None:
    """Throw away everything that is stored and make the current shape anew."""
    migrate_store(database)
    url = database.engine.url.render_as_string(hide_password=False)
    replace_all(url, newest(), None, {})
    database.engine.dispose()


def hold_worker_lock(url: str) -> Connection:
    """Wait until no other worker is there, and be the one for as long as the connection lives."""
    return hold_lock(connection_of(url))


@dataclass(frozen=True, slots=True)
class Health:
    """Whether the store answers, and whether a worker is there (None if nobody can tell)."""

    store: bool
    worker: bool | None


def read_health(database: Database) -> Health:
    """How the store and the worker are."""
    try:
        with database.transaction() as session:
            return Health(True, is_lock_held(session))
    except (DBAPIError, PoolTimeout):
        return Health(False, None)
