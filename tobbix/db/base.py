"""What all tables share, and the connection to the database."""

from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import Engine, MetaData, create_engine
from sqlalchemy.orm import DeclarativeBase, Session, sessionmaker


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


class Database:
    """Sessions on one database. ``transaction`` commits at the end or leaves nothing behind."""

    def __init__(self, url: str | Engine) -> None:
        self.engine = create_engine(url, pool_pre_ping=True) if isinstance(url, str) else url
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        with self._sessions() as session, session.begin():
            yield session
