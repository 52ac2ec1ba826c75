"""What all tables share, and the connection to the database."""

from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

import psycopg
from psycopg import sql
from sqlalchemy import Connection, Engine, MetaData, create_engine, event
from sqlalchemy.engine import make_url
from sqlalchemy.exc import DBAPIError as DBAPIError
from sqlalchemy.exc import IntegrityError as IntegrityError
from sqlalchemy.exc import ProgrammingError as ProgrammingError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import DeclarativeBase, sessionmaker
from sqlalchemy.orm import Session as Session

# The first schema is the owner's; what the database itself needs stands apart, so that a restore can swap the first.
SEARCH_PATH = "public,extensions"
_CLASHES = ("40001", "40P01", "23505")  # serialisation failure, deadlock, made by two at once


__all__ = ["DBAPIError", "IntegrityError", "PoolTimeout", "ProgrammingError", "Session"]


class Table(DeclarativeBase):
    """Base of all tables; every constraint gets a name that says what it is."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


class Unsure(Exception):
    """The connection went while the end of a transaction was being stored: it may be stored or not."""


class Unit:
    """One act of the owner, in one transaction; whatever it remembers is remembered only once it is stored."""

    def __init__(self, connection: Connection) -> None:
        self.connection = connection
        self.notes: dict[Hashable, Any] = {}
        self._after: list[Callable[[], None]] = []

    def note(self, key: Hashable, value: Any, keep: Callable[[], None]) -> None:
        """Have ``value`` at hand within this act; ``keep`` is called once all is stored."""
        self.notes[key] = value
        self._after.append(keep)

    def stored(self) -> None:
        for keep in self._after:
            keep()


class Database:
    """Sessions on one database. ``transaction`` commits at the end or leaves nothing behind."""

    def __init__(self, url: str | Engine) -> None:
        self.engine = open_engine(url) if isinstance(url, str) else url
        # A session that is over refuses to be used: it would take a connection that nobody gives back.
        self._sessions = sessionmaker(self.engine, expire_on_commit=False, close_resets_only=False)
        self._unit: ContextVar[Unit | None] = ContextVar("unit", default=None)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A transaction; within a unit a part of it, which can fail by itself."""
        unit = self._unit.get()
        if unit is None:
            with self._sessions() as session, session.begin():
                yield session
            return
        with (
            Session(
                unit.connection,
                join_transaction_mode="create_savepoint",
                expire_on_commit=False,
                close_resets_only=False,
            ) as session,
            session.begin(),
        ):
            yield session

    @contextmanager
    def unit(self) -> Iterator[Unit]:
        """One act in one transaction: every ``transaction`` within joins it. Raises Unsure if the end is not known."""
        with self._begun() as connection:
            unit = Unit(connection)
            mark = self._unit.set(unit)
            try:
                yield unit
            finally:
                self._unit.reset(mark)
        unit.stored()

    @contextmanager
    def _begun(self) -> Iterator[Connection]:
        with self.engine.connect() as connection:
            transaction = connection.begin()
            try:
                yield connection
            except BaseException:
                transaction.rollback()
                raise
            try:
                transaction.commit()
            except DBAPIError as error:
                if error.connection_invalidated:
                    raise Unsure from error
                raise

    def current_unit(self) -> Unit | None:
        """The act that is under way in this thread."""
        return self._unit.get()


def open_engine(url: str, search_path: str = SEARCH_PATH) -> Engine:
    """Connections that see the owner's schema. Each knows the epoch of what is stored, which a restore changes;
    parameters stay out of messages, since they are the owner's words.
    """
    # Nothing is prepared ahead: a plan that was made while the tables were small would outlive a large import.
    options = {"options": f"-c search_path={search_path}", "connect_timeout": 5, "prepare_threshold": None}
    engine = create_engine(
        url,
        pool_pre_ping=True,
        hide_parameters=True,
        connect_args=options,
        pool_size=8,
        max_overflow=8,
        pool_timeout=15,
    )

    @event.listens_for(engine, "connect")
    def know_epoch(connection: Any, record: Any) -> None:
        try:
            record.info["epoch"] = _read_epoch(connection)
        except BaseException:  # it went while it was asked; nobody else knows of it yet
            connection.close()
            raise

    return engine


def connection_of(url: str) -> dict[str, str | int]:
    """The parts of a database's URL, as PostgreSQL's own client names them."""
    address = make_url(url)
    parts = {
        "host": address.host,
        "port": address.port,
        "user": address.username,
        "password": address.password,
        "dbname": address.database,
        "options": f"-c search_path={SEARCH_PATH}",
        "connect_timeout": 5,
    }
    return {name: value for name, value in parts.items() if value is not None}


def _read_epoch(connection: Any) -> str | None:
    """The epoch of what is stored; None before there is one."""
    with connection.cursor() as cursor:
        cursor.execute("select to_regclass('installation') is not null")
        known = cursor.fetchone()[0]
        if known:
            cursor.execute("select epoch::text from installation")
            row = cursor.fetchone()
        else:
            row = None
    connection.rollback()
    return None if row is None else str(row[0])


def epoch_of(session: Session) -> str | None:
    """The epoch of what the session's connection sees; what was remembered under another one is of another store."""
    epoch: str | None = session.connection().info.get("epoch")
    return epoch


def bring_rows(session: Session, table: type[Table], rows: Sequence[Mapping[str, object]]) -> None:
    """Many rows at once, through PostgreSQL's ``copy``, below the object layer; each has the same columns."""
    if not rows:
        return
    columns = sql.SQL(", ").join(map(sql.Identifier, rows[0]))
    statement = sql.SQL("copy {} ({}) from stdin").format(sql.Identifier(table.__tablename__), columns)
    driver = session.connection().connection.driver_connection
    assert isinstance(driver, psycopg.Connection)
    try:
        with driver.cursor() as cursor, cursor.copy(statement) as stream:
            for row in rows:
                stream.write_row(tuple(row.values()))
    except psycopg.Error as error:
        raise DBAPIError.instance("copy", None, error, psycopg.Error) from error


def is_clash(error: DBAPIError) -> bool:
    """Whether two transactions got into each other's way, so that one of them may be tried again: it then finds what
    the other one stored.
    """
    return getattr(error.orig, "sqlstate", None) in _CLASHES
