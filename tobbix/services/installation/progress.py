"""How far an upload is, for as long as it is worked on: kept in memory, by the key that its sender gave it."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from enum import StrEnum
from threading import Lock


class Phase(StrEnum):
    """What is being done: nothing yet, the file is read, what it holds is stored."""

    WAITING = "waiting"
    READING = "reading"
    STORING = "storing"


@dataclass(frozen=True, slots=True)
class Stage:
    """A phase with the rows that are done, of so many if that is known."""

    phase: Phase
    done: int = 0
    total: int | None = None


Tell = Callable[[Stage], None]


class ProgressBoard:
    """Where the uploads of now stand."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._stages: dict[str, Stage] = {}

    @contextmanager
    def follow(self, key: str | None) -> Iterator[Tell]:
        """Tell the stages of one upload; it is forgotten at the end. Without a key nobody can ask."""

        def tell(stage: Stage) -> None:
            if key is not None:
                with self._lock:
                    self._stages[key] = stage

        try:
            yield tell
        finally:
            with self._lock:
                self._stages.pop(key or "", None)

    def read(self, key: str) -> Stage:
        with self._lock:
            return self._stages.get(key, Stage(Phase.WAITING))
