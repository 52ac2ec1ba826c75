"""Long work as a value: what was asked, how far it is, and what came out."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any


class TaskState(StrEnum):
    """Where a piece of long work is in its life."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    CANCELLED = "cancelled"
    FAILED = "failed"


ALIVE = (TaskState.WAITING, TaskState.RUNNING, TaskState.DONE)


@dataclass(frozen=True, slots=True)
class Task:
    """A piece of long work. ``fingerprint`` is of all that its result rests on; ``belongs_to`` says what it is about;
    ``done`` of ``total`` parts are through."""

    number: int
    kind: str
    belongs_to: str
    asked: Mapping[str, Any]
    fingerprint: str
    state: TaskState
    done: int
    total: int
    result: Mapping[str, Any] | None
    fault: str | None
    made_at: datetime
    finished_at: datetime | None
