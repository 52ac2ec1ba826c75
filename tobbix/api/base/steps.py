"""Lists of steps, as the interface is told them."""

from collections.abc import Iterable

from pydantic import BaseModel

from tobbix.core.base.steps import Step


class StepOut(BaseModel):
    id: str
    text: str
    why: str
    done: bool


class StepListOut(BaseModel):
    steps: list[StepOut]


def show_steps(steps: Iterable[tuple[Step, bool]]) -> StepListOut:
    return StepListOut(steps=[StepOut(id=step.id, text=step.text, why=step.why, done=done) for step, done in steps])
