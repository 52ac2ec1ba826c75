"""The lock that tells that a worker is there: held by one connection for as long as the worker lives."""

import time

import psycopg
from sqlalchemy import text
from sqlalchemy.orm import Session

_LOCK = (7190, 418)  # any two numbers of its own
_TAKE = "select pg_try_advisory_lock(%s, %s)"
_IS_HELD = """
    select exists (select from pg_locks where locktype = 'advisory' and granted and objsubid = 2 and classid = :a
    and objid = :b and database = (select oid from pg_database where datname = current_database()))
"""
Connection = psycopg.Connection[tuple[object, ...]]


def hold_lock(address: dict[str, str | int]) -> Connection:
    """Wait until no other worker is there; the lock lasts as long as the connection."""
    connection: Connection = psycopg.connect(**address, autocommit=True)  # type: ignore[arg-type]
    try:
        while connection.execute(_TAKE, _LOCK).fetchone() != (True,):
            time.sleep(0.2)
    except BaseException:
        connection.close()
        raise
    return connection


def is_lock_held(session: Session) -> bool:
    """Whether a worker holds the lock."""
    return bool(session.scalar(text(_IS_HELD), {"a": _LOCK[0], "b": _LOCK[1]}))
