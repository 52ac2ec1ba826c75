"""The one tree of errors. Outer layers turn it into messages and status codes once.

``TobbixError``
    ``InputError``   what was given is wrong; carries every fault found, each with its place
    ``NotFound``     what was asked for does not exist
    ``Conflict``     it was changed meanwhile, or exists already
    ``NeedsConfirmation``  it can be done, but the owner has to say so first
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong and where: ``field`` always, sheet and row where there are such."""

    field: str
    message: str
    sheet: str | None = None
    row: int | None = None

    def __str__(self) -> str:
        place = [self.sheet] if self.sheet else []
        if self.row is not None:
            place.append(f"row {self.row}")
        place.append(self.field)
        return f"{', '.join(place)}: {self.message}"


class TobbixError(Exception):
    """Anything that Tobbix refuses, in plain words."""


class InputError(TobbixError):
    """What was given is wrong. ``faults`` holds all of them, never only the first."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults: tuple[Fault, ...] = tuple(faults)
        super().__init__("; ".join(str(fault) for fault in self.faults))

    @classmethod
    def at(cls, field: str, message: str) -> "InputError":
        """A single fault at a field."""
        return cls([Fault(field, message)])


class NotFound(TobbixError):
    """What was asked for does not exist."""


class Conflict(TobbixError):
    """The stored state does not allow it: changed meanwhile, or there already."""


class NeedsConfirmation(TobbixError):
    """Possible, but only once the owner has confirmed ``questions``; ``flag`` names the confirmation."""

    def __init__(self, flag: str, questions: Sequence[Fault]) -> None:
        self.flag = flag
        self.questions: tuple[Fault, ...] = tuple(questions)
        super().__init__("; ".join(str(question) for question in self.questions))
