"""Files that the commands read: a JSON object that says its kind and version, or many rows as CSV or XLSX.

Every fault is named by its field and, where there are rows, by its row.
"""

from collections.abc import Callable
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import TypeVar

from tobbix.core.base.errors import InputError
from tobbix.core.products.fields import FaultList, Node, Path, Place, TooManyFaults
from tobbix.formats.json_files import read_json

R = TypeVar("R")

VERSION = 1
_MARKS = frozenset(("tobbix", "schema_version"))


def locate_by_path(path: Path) -> Place:
    """The place of a part of a JSON file is its path; a row is counted from 1."""
    row, text = None, ""
    for step in path:
        if isinstance(step, int):
            row, text = step + 1, f"{text}[{step}]"
        else:
            text = f"{text}.{step}" if text else step
    return Place(None, row, f"{text}." if text else "")


def read_question(content: bytes, kind: str, known: frozenset[str], read: Callable[["Question"], R]) -> R:
    """What ``read`` makes of a file of a kind with ``known`` fields. Raises InputError with every fault."""
    document = read_json(content)
    faults = FaultList(locate_by_path)
    if not isinstance(document, dict):
        raise InputError.at("file", "must be an object with named fields")
    if document.get("tobbix") != kind or document.get("schema_version") != VERSION:
        raise InputError.at("tobbix", f"must say {kind}, schema_version {VERSION}")
    return gather(faults, lambda: read(Question(document, (), faults, known | _MARKS)))


def gather(faults: FaultList, read: Callable[[], R]) -> R:
    """What ``read`` makes. Raises InputError with every fault that was added meanwhile, or that it raised."""
    try:
        made = read()
    except TooManyFaults:
        raise InputError(faults.faults) from None
    except InputError as error:
        raise InputError([*faults.faults, *error.faults]) from None
    if faults.faults:
        raise InputError(faults.faults)
    return made


class Question(Node):
    """A part of a file: fields that are read with their fault, none of which stops the reading."""

    def figure(
        self, name: str, default: Decimal | None = None, low: str | None = "0", above: bool = False,
        required: bool = False,
    ) -> Decimal | None:  # fmt: skip
        """A number, as text or as such; ``default`` where it is null or left out."""
        value = self.raw(name)
        if value is None or value == "":
            if required:
                self.fault(name, "is missing")
            return default
        number = decimal_of(value)
        if number is None:
            self.fault(name, f"“{str(value)[:40]}” is not a number like 12.50")
        elif low is not None and (number < Decimal(low) or (above and number == Decimal(low))):
            self.fault(name, f"must be {'more than' if above else 'at least'} {low}")
        else:
            return number
        return None

    def must(self, name: str, low: str | None = "0", above: bool = False) -> Decimal:
        """The same where it has to be there; 0 after a fault was added."""
        return self.figure(name, None, low, above, required=True) or Decimal(0)

    def yes(self, name: str) -> bool:
        """Whether it is said to be so; false where it is null or left out."""
        value = self.raw(name)
        if value is not None and not isinstance(value, bool):
            self.fault(name, "must be true or false")
        return value is True

    def count(self, name: str, default: int = 1, low: int = 1) -> int:
        """A whole number."""
        number = self.figure(name, Decimal(default), str(low))
        if number is not None and number != number.to_integral_value():
            self.fault(name, "must be a whole number")
            return default
        return default if number is None else int(number)

    def day(self, name: str) -> date:
        """A day, as 2026-11-01."""
        text = self.text(name)
        try:
            return date.fromisoformat(text) if text is not None else date.min
        except ValueError:
            self.fault(name, "must be a day like 2026-11-01")
            return date.min

    def parts(self, name: str, known: frozenset[str], required: bool = True) -> list["Question"]:
        """The objects of a list field."""
        value = self.raw(name)
        if value is None:
            if required:
                self.fault(name, "is missing")
            return []
        if not isinstance(value, list):
            self.fault(name, "must be a list")
            return []
        return [Question(item, (*self.path, name, at), self._faults, known) for at, item in enumerate(value)]

    def part(self, name: str, known: frozenset[str]) -> "Question | None":
        """An object field; None where it is null or left out."""
        value = self.raw(name)
        return None if value is None else Question(value, (*self.path, name), self._faults, known)

    def figures(self, name: str, low: str = "0", above: bool = False) -> dict[str, Decimal | None]:
        """An object from labels to numbers, in its order; null is unknown."""
        table = self.table(name)
        inner = Question(dict(table), (*self.path, name), self._faults, frozenset(map(str, table)))
        return {str(label): inner.figure(str(label), None, low, above) for label in table}


def decimal_of(value: object) -> Decimal | None:
    """A finite number from its text or from a number of JSON, with a point or a comma; None for anything else."""
    if isinstance(value, bool) or not isinstance(value, str | int | float | Decimal):
        return None
    text = str(value).strip()
    if not text.isascii() or "_" in text:
        return None
    try:
        number = Decimal(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except InvalidOperation:
        return None
    return number if number.is_finite() else None
