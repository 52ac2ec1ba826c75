"""The store itself: open it, bring it to the current shape, see whether it answers."""

from datetime import date

from sqlalchemy import text
from sqlalchemy.engine import make_url

from tobbix.db.base import Database
from tobbix.db.migrating import migrate
from tobbix.services.products.workshop import Workshop


def open_store(url: str) -> Database:
    """The database of a URL like ``postgresql+psycopg://owner@127.0.0.1:5432/tobbix``."""
    return Database(url)


def connection_of(url: str) -> dict[str, str | int]:
    """The parts of a store's URL, as PostgreSQL's own client names them."""
    address = make_url(url)
    parts = {
        "host": address.host,
        "port": address.port,
        "user": address.username,
        "password": address.password,
        "dbname": address.database,
    }
    return {name: value for name, value in parts.items() if value is not None}


def open_workshop(database: Database) -> Workshop:
    """What the use cases of products work with, by the local calendar."""
    return Workshop(database, date.today)


def migrate_store(database: Database) -> None:
    """Apply every migration that is missing."""
    migrate(database.engine)


def empty_store(database: Database) -> None:
    """Throw away everything that is stored and make the current shape anew."""
    with database.engine.begin() as connection:
        connection.execute(text("drop schema public cascade"))
        connection.execute(text("create schema public"))
    migrate_store(database)


def is_answering(database: Database) -> bool:
    """Whether the store answers a question."""
    with database.transaction() as session:
        return bool(session.scalar(text("select 1")) == 1)
