"""Long computations: their questions, how far they are, and their results."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

import procrastinate
from procrastinate.sync_psycopg_connector import SyncPsycopgConnector
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.db.products.tables import ReleaseRow, SimulationRow

TASK = "simulate"
_ALIVE = ("waiting", "running", "done")

# Only to put jobs into the queue, on the connection of the transaction that makes them; it opens none of its own.
_queue = procrastinate.App(connector=SyncPsycopgConnector())


def find_alive(session: Session, fingerprint: str) -> SimulationRow | None:
    """The simulation that answers a question or is about to."""
    query = select(SimulationRow).where(SimulationRow.fingerprint == fingerprint, SimulationRow.state.in_(_ALIVE))
    return session.scalar(query)


def add_simulation(
    session: Session,
    release: ReleaseRow,
    kind: str,
    asked: Mapping[str, Any],
    fingerprint: str,
    seed: int,
    total: int,
) -> SimulationRow:
    """A new simulation with its job in the queue, both in this transaction."""
    row = SimulationRow(
        release_id=release.id, revision=release.revision, kind=kind, asked=dict(asked), fingerprint=fingerprint,
        seed=seed, state="waiting", stop_asked=False, done=0, total=total,
    )  # fmt: skip
    session.add(row)
    session.flush()
    driver = session.connection().connection.driver_connection
    _queue.configure_task(TASK, connection=driver).defer(simulation=row.id)
    return row


def get_simulation(session: Session, number: int, lock: bool = False) -> SimulationRow:
    """The simulation of a number. Raises NotFound."""
    row = session.get(SimulationRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such simulation")
    return row


def note_progress(session: Session, number: int, done: int) -> bool:
    """Keep how far a simulation is; says whether to go on."""
    query = (
        update(SimulationRow)
        .where(SimulationRow.id == number, SimulationRow.state == "running")
        .values(done=done)
        .returning(SimulationRow.stop_asked)
    )
    stop = session.scalar(query)
    return stop is False


def finish(
    session: Session, number: int, state: str, now: datetime, result: Mapping[str, Any] | None, fault: str | None
) -> None:
    """Close a simulation."""
    row = get_simulation(session, number, lock=True)
    row.state, row.finished_at, row.fault = state, now, fault
    if result is not None:
        row.result, row.done = dict(result), row.total


def release_key(session: Session, row: SimulationRow) -> str:
    """The key of the release that a simulation is about."""
    return session.scalars(select(ReleaseRow.key).where(ReleaseRow.id == row.release_id)).one()
