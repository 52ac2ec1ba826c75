"""Long work: asked for, followed, stopped, and remembered with its inputs. Whoever asks the same again gets the same.

What is done is handed in by its kind: this room knows nothing of the steps.
"""

import json
from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

from tobbix.core.base.errors import Conflict, TobbixError
from tobbix.core.base.tasks import Task, TaskState
from tobbix.db.base import Database, IntegrityError
from tobbix.db.tasks import keeping

MOST_LISTED = 50
Tell = Callable[[int], None]
Run = Callable[[Task, Tell], Mapping[str, Any]]


class Stopped(Exception):
    """The owner asked to stop."""


def fingerprint_of(*inputs: object) -> str:
    """A fingerprint of all that a result rests on."""
    return sha256(json.dumps(inputs, sort_keys=True, default=repr).encode()).hexdigest()


def ask_for(
    database: Database, kind: str, belongs_to: str, asked: Mapping[str, Any], fingerprint: str, total: int
) -> Task:
    """Begin a piece of work, or find the one that answers the same. Raises Conflict if it was stopped just now."""
    try:
        with database.transaction() as session:
            found = keeping.find_alive(session, fingerprint)
            return found or keeping.add_task(session, kind, belongs_to, asked, fingerprint, total)
    except IntegrityError:  # another request asked the same in this moment
        with database.transaction() as session:
            found = keeping.find_alive(session, fingerprint)
            if found is None:
                raise Conflict("it was just stopped; ask again") from None
            return found


def read_task(database: Database, number: int) -> Task:
    """How far a piece of work is, and its result. Raises NotFound."""
    with database.transaction() as session:
        return keeping.load_task(session, number)


def list_tasks(database: Database, belongs_to: str | None = None, kind: str | None = None) -> list[Task]:
    """The newest pieces of work, of one thing or of one kind if asked: a reload finds a finished one again."""
    with database.transaction() as session:
        return keeping.list_tasks(session, belongs_to, MOST_LISTED, kind)


def stop_task(database: Database, number: int) -> Task:
    """Stop a piece of work: at once if it waits, after its present part if it runs. Raises NotFound."""
    with database.transaction() as session:
        return keeping.ask_to_stop(session, number, datetime.now(UTC))


def carry_out_task(database: Database, number: int, runs: Mapping[str, Run]) -> None:
    """Carry a piece of work out: the job of the worker. A second run of the same gives the same result.

    Does nothing for one that is finished or was stopped before it began.
    """
    with database.transaction() as session:
        task = keeping.start_task(session, number)
    if task is None:
        return

    def tell(done: int) -> None:
        with database.transaction() as session:
            goes_on = keeping.note_progress(session, number, done)
        if not goes_on:
            raise Stopped

    try:
        _close(database, number, TaskState.DONE, runs[task.kind](task, tell), None)
    except Stopped:
        _close(database, number, TaskState.CANCELLED, None, None)
    except TobbixError as error:
        _close(database, number, TaskState.FAILED, None, str(error)[:500])
    except Exception:
        _close(database, number, TaskState.FAILED, None, "something went wrong; the server's log says more")
        raise


def give_up(database: Database, number: int) -> None:
    """Close what ended its worker again and again. Raises NotFound."""
    _close(database, number, TaskState.FAILED, None, "it ended the worker several times; ask for less")


def _close(
    database: Database, number: int, state: TaskState, result: Mapping[str, Any] | None, fault: str | None
) -> None:
    with database.transaction() as session:
        keeping.finish_task(session, number, state, datetime.now(UTC), result, fault)
