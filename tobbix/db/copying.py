"""Every table of the owner's schema out as plain data, and back into a fresh schema that takes the old one's place.

Which tables there are is read from the database. Data goes through PostgreSQL's own ``copy`` in its text form, a line
a row, and nothing that comes from a file is ever part of a statement: names are looked up among those of the fresh
schema.
"""

import hashlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import psycopg
from alembic.util.exc import CommandError
from psycopg import sql
from sqlalchemy import Connection, Engine, text
from sqlalchemy.exc import DBAPIError

from tobbix.db.base import Unsure, open_engine
from tobbix.db.migrating import MIGRATION_LOCK, is_known, upgrade_to

NOT_CARRIED = frozenset({"sign_in", "sign_in_wait"})  # sessions end with a restore
VERSION = "alembic_version"
_FRESH = "restoring"
_LOCK_SECONDS = 20
_EXACT = """
    set local datestyle = 'ISO'; set local timezone = 'UTC'; set local intervalstyle = 'iso_8601';
    set local extra_float_digits = 3; set local bytea_output = 'hex'; set local client_encoding = 'UTF8'
"""
_COLUMNS = """
    select c.relname, a.attname from pg_class c join pg_attribute a on a.attrelid = c.oid
    where c.relnamespace = current_schema()::regnamespace and c.relkind = 'r' and a.attnum > 0 and not a.attisdropped
    and a.attgenerated = '' order by c.relname, a.attnum
"""
_KEYS = """
    select c.relname, a.attname from pg_index i join pg_class c on c.oid = i.indrelid
    cross join lateral unnest(i.indkey) with ordinality k (number, place)
    join pg_attribute a on a.attrelid = c.oid and a.attnum = k.number
    where i.indisprimary and c.relnamespace = current_schema()::regnamespace order by c.relname, k.place
"""
_OWNED = """
    select s.relname, t.relname, a.attname
    from pg_class s join pg_depend d on d.objid = s.oid and d.deptype in ('a', 'i')
    join pg_class t on t.oid = d.refobjid join pg_attribute a on a.attrelid = t.oid and a.attnum = d.refobjsubid
    where s.relkind = 'S' and s.relnamespace = current_schema()::regnamespace order by s.relname
"""
_REFERENCES = """
    select t.relname, c.conname, pg_get_constraintdef(c.oid) from pg_constraint c join pg_class t on t.oid = c.conrelid
    where c.contype = 'f' and c.connamespace = current_schema()::regnamespace order by t.relname, c.conname
"""
_END_OTHERS = """
    select pg_terminate_backend(pid) from pg_stat_activity
    where datname = current_database() and usename = current_user and pid <> pg_backend_pid()
"""

Driver = psycopg.Connection[tuple[Any, ...]]


class DoesNotFit(Exception):
    """Data that the schema does not take, in words."""


@dataclass(frozen=True, slots=True)
class TableData:
    """What a table holds: its columns, rows, bytes and their SHA-256, in the order of its key."""

    name: str
    columns: tuple[str, ...]
    rows: int
    size: int
    digest: str


@dataclass(frozen=True, slots=True)
class Given:
    """A table of a file: ``chunks`` of lines in the text form of ``copy``; ``digest`` None if the file says none."""

    name: str
    columns: tuple[str, ...]
    digest: str | None
    chunks: Iterable[bytes]


def columns_of(connection: Driver) -> dict[str, tuple[str, ...]]:
    """The tables of the current schema with the columns that are stored, not generated."""
    found: dict[str, list[str]] = {}
    for table, column in connection.execute(_COLUMNS):
        found.setdefault(table, []).append(column)
    return {table: tuple(columns) for table, columns in found.items()}


def copy_out(
    connection: Driver, table: str, columns: Iterable[str], write: Callable[[bytes], Any] = lambda data: None
) -> TableData:
    """Give a table's data to ``write``, in the order of its key, so that the same rows are the same bytes."""
    columns = tuple(columns)
    keys = [column for name, column in connection.execute(_KEYS) if name == table] or list(columns)
    query = sql.SQL("copy (select {} from {} order by {}) to stdout").format(
        _names(columns), sql.Identifier(table), _names(keys)
    )
    digest, rows, size = hashlib.sha256(), 0, 0
    with connection.cursor() as cursor, cursor.copy(query) as stream:
        for block in stream:
            data = bytes(block)
            digest.update(data)
            rows += data.count(b"\n")  # a line break within a text is written as \n
            size += len(data)
            write(data)
    return TableData(table, columns, rows, size, digest.hexdigest())


def _names(columns: Iterable[str]) -> sql.Composed:
    return sql.SQL(", ").join(map(sql.Identifier, columns))


def copy_all_out(engine: Engine, open_table: Callable[[str], Any]) -> tuple[str, list[TableData], dict[str, int]]:
    """Every table as of one moment, whoever writes meanwhile. Returns the schema's revision, the tables and where the
    numbering of rows stands.
    """
    with engine.connect().execution_options(isolation_level="REPEATABLE READ") as opened, opened.begin():
        connection = driver(opened)
        connection.execute("set transaction read only")
        connection.execute(_EXACT)
        version = connection.execute("select version_num from alembic_version").fetchone()
        assert version is not None
        tables = []
        for name, columns in columns_of(connection).items():
            if name not in NOT_CARRIED and name != VERSION:
                with open_table(name) as target:
                    tables.append(copy_out(connection, name, columns, target.write))
        numbering = {}
        for sequence, _, _ in connection.execute(_OWNED).fetchall():
            row = connection.execute(
                sql.SQL("select case when is_called then last_value else 0 end from {}").format(
                    sql.Identifier(sequence)
                )
            ).fetchone()
            assert row is not None
            numbering[sequence] = int(row[0])
        return str(version[0]), tables, numbering


def count_rows(engine: Engine, tables: Iterable[str]) -> dict[str, int]:
    """How many rows some tables hold; those that are not there are left out."""
    with engine.connect() as opened:
        connection = driver(opened)
        known = columns_of(connection)
        counts = {}
        for table in tables:
            if table in known:
                row = connection.execute(sql.SQL("select count(*) from {}").format(sql.Identifier(table))).fetchone()
                assert row is not None
                counts[table] = int(row[0])
        return counts


def driver(connection: Connection) -> Driver:
    """PostgreSQL's own connection below SQLAlchemy's."""
    found = connection.connection.driver_connection
    assert isinstance(found, psycopg.Connection)
    return found


def replace_all(url: str, revision: str, tables: Iterator[Given] | None, numbering: Mapping[str, int]) -> list[str]:
    """Put a fresh schema in the place of the owner's: made at ``revision``, filled, compared, brought to the present
    shape, swapped, all in one transaction. Without ``tables`` it stays empty. Other connections and all sessions end.

    Returns which columns of the data the schema does not know any more. Raises DoesNotFit; then nothing is changed.
    Raises Unsure where the connection went.
    """
    if not is_known(revision):
        raise DoesNotFit("it was made by a newer version of Tobbix, or by another program")
    engine = open_engine(url, f"{_FRESH},extensions")
    try:
        with engine.connect() as opened, opened.begin():
            connection = driver(opened)
            connection.execute(f"select pg_advisory_xact_lock({MIGRATION_LOCK})")
            connection.execute(f"set local lock_timeout = '{_LOCK_SECONDS}s'")
            connection.execute(_EXACT)
            connection.execute(f"drop schema if exists {_FRESH} cascade")
            connection.execute(f"create schema {_FRESH}")
            upgrade_to(opened, revision)
            unknown = [] if tables is None else _fill(connection, tables, numbering)
            upgrade_to(opened, "head")
            for table in NOT_CARRIED:
                connection.execute(sql.SQL("truncate {}").format(sql.Identifier(table)))
            connection.execute("update installation set epoch = gen_random_uuid()")
            connection.execute("drop schema if exists public cascade")
            connection.execute(f"alter schema {_FRESH} rename to public")
    except (psycopg.Error, DBAPIError, CommandError) as error:
        if isinstance(error, DBAPIError) and error.connection_invalidated:
            raise Unsure from error  # it went, perhaps in the moment of storing
        reason = str(getattr(error, "orig", None) or error).strip().split("\n")[0]
        raise DoesNotFit(f"the database does not take it: {reason[:300]}") from error
    else:  # stored: whatever fails from here on, it is not said that nothing was changed
        with engine.connect() as opened:
            opened.execute(text(_END_OTHERS))
            opened.commit()
        return unknown
    finally:
        engine.dispose()


def _fill(connection: Driver, tables: Iterator[Given], numbering: Mapping[str, int]) -> list[str]:
    shape = {name: columns for name, columns in columns_of(connection).items() if name != VERSION}
    references = connection.execute(_REFERENCES).fetchall()
    for table, name, _ in references:
        connection.execute(
            sql.SQL("alter table {} drop constraint {}").format(sql.Identifier(table), sql.Identifier(name))
        )
    for name in shape:
        connection.execute(sql.SQL("alter table {} disable trigger user").format(sql.Identifier(name)))
    connection.execute(sql.SQL("truncate {}").format(_names(shape)))
    unknown: list[str] = []
    for given in tables:
        unknown += _copy_in(connection, given, shape)
    for name in shape:
        connection.execute(sql.SQL("alter table {} enable trigger user").format(sql.Identifier(name)))
    for table, name, definition in references:
        connection.execute(
            sql.SQL("alter table {} add constraint {} {}").format(
                sql.Identifier(table), sql.Identifier(name), sql.SQL(definition)
            )
        )
    for sequence, table, column in connection.execute(_OWNED).fetchall():
        highest = sql.SQL(
            "select setval({}, greatest(coalesce(max({}), 0), {}, 1), greatest(coalesce(max({}), 0), {}) > 0) from {}"
        )
        at = numbering.get(sequence, 0)
        connection.execute(
            highest.format(
                sql.Literal(sequence), sql.Identifier(column), sql.Literal(at), sql.Identifier(column), sql.Literal(at),
                sql.Identifier(table),
            )
        )  # fmt: skip
    return unknown


def _copy_in(connection: Driver, given: Given, shape: Mapping[str, tuple[str, ...]]) -> list[str]:
    if given.name not in shape:
        raise DoesNotFit(f"it has a table “{given.name[:60]}” that this version does not know")
    if len(set(given.columns)) != len(given.columns):
        raise DoesNotFit(f"its table {given.name} names a column twice")
    known = tuple(column for column in given.columns if column in shape[given.name])
    places = [place for place, column in enumerate(given.columns) if column in known]
    chunks = given.chunks if len(known) == len(given.columns) else _only(given.chunks, places)
    query = sql.SQL("copy {} ({}) from stdin").format(sql.Identifier(given.name), _names(known))
    with connection.cursor() as cursor, cursor.copy(query) as stream:
        for chunk in chunks:
            stream.write(chunk)
    if given.digest is not None and copy_out(connection, given.name, known).digest != given.digest:
        raise DoesNotFit(f"its table {given.name} does not come out as it went in")
    return [f"{given.name}.{column}" for column in given.columns if column not in known]


def _only(chunks: Iterable[bytes], places: list[int]) -> Iterator[bytes]:
    """Some columns of lines in the text form of ``copy``."""
    rest = b""
    for chunk in chunks:
        *lines, rest = (rest + chunk).split(b"\n")
        for line in lines:
            cells = line.split(b"\t")
            if max(places) >= len(cells):
                raise DoesNotFit("it has a row with too few fields")
            yield b"\t".join(cells[place] for place in places) + b"\n"
