"""Long work into the store and out of it, with its job in the queue."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

import procrastinate
from procrastinate.sync_psycopg_connector import SyncPsycopgConnector
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.core.base.tasks import ALIVE, Task, TaskState
from tobbix.db.tasks.tables import TaskRow

JOB = "carry_out"

# Only to put jobs into the queue, on the connection of the transaction that makes them; it opens none of its own.
_queue = procrastinate.App(connector=SyncPsycopgConnector())
_SAME = ("kind", "belongs_to", "asked", "fingerprint", "done", "total", "result", "fault", "made_at", "finished_at")


def _task(row: TaskRow) -> Task:
    return Task(number=row.id, state=TaskState(row.state), **{name: getattr(row, name) for name in _SAME})


def find_alive(session: Session, fingerprint: str) -> Task | None:
    """What answers a question, or is about to."""
    query = select(TaskRow).where(TaskRow.fingerprint == fingerprint, TaskRow.state.in_(ALIVE))
    row = session.scalar(query)
    return None if row is None else _task(row)


def add_task(
    session: Session, kind: str, belongs_to: str, asked: Mapping[str, Any], fingerprint: str, total: int
) -> Task:
    """A new piece of work with its job in the queue, both in this transaction."""
    row = TaskRow(
        kind=kind, belongs_to=belongs_to, asked=dict(asked), fingerprint=fingerprint, state=TaskState.WAITING.value,
        stop_asked=False, done=0, total=total,
    )  # fmt: skip
    session.add(row)
    session.flush()
    session.refresh(row)
    driver = session.connection().connection.driver_connection
    _queue.configure_task(JOB, connection=driver).defer(task=row.id)
    return _task(row)


def _find(session: Session, number: int, lock: bool = False) -> TaskRow:
    row = session.get(TaskRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such task")
    return row


def load_task(session: Session, number: int) -> Task:
    """A piece of work by its number. Raises NotFound."""
    return _task(_find(session, number))


def list_tasks(session: Session, belongs_to: str | None, most: int, kind: str | None = None) -> list[Task]:
    """The newest pieces of work, of one thing or of one kind if asked."""
    query = select(TaskRow).order_by(TaskRow.id.desc()).limit(most)
    if belongs_to is not None:
        query = query.where(TaskRow.belongs_to == belongs_to)
    if kind is not None:
        query = query.where(TaskRow.kind == kind)
    return [_task(row) for row in session.scalars(query)]


def start_task(session: Session, number: int) -> Task | None:
    """Take a piece of work on; None if it is finished, or was stopped before it began. Raises NotFound."""
    row = _find(session, number, lock=True)
    if row.state not in (TaskState.WAITING.value, TaskState.RUNNING.value):
        return None
    row.state, row.done = TaskState.RUNNING.value, 0
    session.flush()
    return _task(row)


def ask_to_stop(session: Session, number: int, now: datetime) -> Task:
    """Have a piece of work end: at once if it waits, after its present part if it runs. Raises NotFound."""
    row = _find(session, number, lock=True)
    row.stop_asked = True
    if row.state == TaskState.WAITING.value:
        row.state, row.finished_at = TaskState.CANCELLED.value, now
    session.flush()
    return _task(row)


def note_progress(session: Session, number: int, done: int) -> bool:
    """Keep how far a piece of work is; says whether to go on."""
    query = (
        update(TaskRow)
        .where(TaskRow.id == number, TaskRow.state == TaskState.RUNNING.value)
        .values(done=done)
        .returning(TaskRow.stop_asked)
    )
    return session.scalar(query) is False


def finish_task(
    session: Session, number: int, state: TaskState, now: datetime, result: Mapping[str, Any] | None, fault: str | None
) -> None:
    """Close a piece of work. Raises NotFound."""
    row = _find(session, number, lock=True)
    row.state, row.finished_at, row.fault = state.value, now, fault
    if result is not None:
        row.result, row.done = dict(result), row.total
