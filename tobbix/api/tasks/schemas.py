"""What is sent and answered about long work."""

from datetime import datetime
from typing import Any

from pydantic import BaseModel, Field

from tobbix.api.base.fields import RowNumber
from tobbix.core.base.tasks import Task, TaskState


class TaskOut(BaseModel):
    """A piece of long work as it stands: ``done`` of ``total`` parts; ``belongs_to`` says what it is about."""

    number: int
    kind: str
    belongs_to: str
    state: TaskState
    done: int
    total: int
    fault: str | None
    asked: dict[str, Any]
    made_at: datetime
    finished_at: datetime | None


def show_task(task: Task) -> TaskOut:
    """A piece of long work as it is answered."""
    return TaskOut.model_validate(task, from_attributes=True)


class TasksOut(BaseModel):
    tasks: list[TaskOut]


class TasksQuery(BaseModel):
    belongs_to: str | None = Field(None, max_length=200)


class TaskPath(BaseModel):
    number: RowNumber
