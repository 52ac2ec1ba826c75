"""Reading fields of an untrusted document: each fault is kept with its place, none stops the reading."""

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum
from typing import TypeVar

from tobbix.core.base.errors import Fault, InputError

Path = tuple[str | int, ...]
S = TypeVar("S", bound=StrEnum)
R = TypeVar("R")

MOST_TEXT = 200
_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]{0,63}")
# with point or comma; three figures after a comma may mean thousands, so that is not guessed
DECIMAL = r"[0-9]{1,9}(?:\.[0-9]{1,6}|,[0-9]{1,2}|,[0-9]{4,6})?"
_DECIMAL = re.compile(DECIMAL)
_UNPRINTABLE = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029\ufeff\ud800-\udfff\ufffe\uffff]")


@dataclass(frozen=True, slots=True)
class Place:
    """Where a part of the document stands: its sheet and row, and what to write before a field's name."""

    sheet: str | None
    row: int | None
    prefix: str = ""


class TooManyFaults(Exception):
    """Reading was given up: the document is wrong all over."""


@dataclass
class FaultList:
    """Collects faults up to a limit that a person can still use."""

    locate: Callable[[Path], Place]
    limit: int = 200
    faults: list[Fault] = field(default_factory=list)

    def add(self, path: Path, name: str, message: str) -> None:
        place = self.locate(path)
        self.faults.append(Fault(place.prefix + name, message, place.sheet, place.row))
        if len(self.faults) >= self.limit:
            self.faults.append(Fault("", f"reading stopped after {self.limit} faults", place.sheet))
            raise TooManyFaults


class Node:
    """An object of the document at a path. Every getter returns None (or empty) after reporting a fault."""

    def __init__(self, value: object, path: Path, faults: FaultList, known: frozenset[str]) -> None:
        self.path = path
        self._faults = faults
        self._values: Mapping[str, object] = {}
        if not isinstance(value, Mapping):
            self.fault("", "must be an object with named fields")
            return
        self._values = value
        for name in value:
            if name not in known:
                self.fault(str(name)[:60], f"is not a field here; the fields are {', '.join(sorted(known))}")

    def fault(self, name: str, message: str) -> None:
        self._faults.add(self.path, name, message)

    def has(self, name: str) -> bool:
        """Whether the field is given at all, even as null."""
        return name in self._values

    def raw(self, name: str) -> object:
        return self._values.get(name)

    def text(self, name: str, required: bool = True) -> str | None:
        value = self._values.get(name)
        if value is None or value == "":
            if required:
                self.fault(name, "is missing")
            return None
        if isinstance(value, bool) or not isinstance(value, str | int | Decimal):
            self.fault(name, "must be text")
            return None
        trimmed = str(value).strip()
        if not trimmed and required:
            self.fault(name, "is missing")
        elif len(trimmed) > MOST_TEXT:
            self.fault(name, f"is longer than {MOST_TEXT} characters")
        elif _UNPRINTABLE.search(trimmed):
            self.fault(name, "holds characters that cannot be printed")
        else:
            return trimmed or None
        return None

    def id(self, name: str = "id", required: bool = True) -> str | None:
        value = self.text(name, required)
        if value is not None and not _ID.fullmatch(value):
            self.fault(name, "must be 1 to 64 letters, digits, dots, dashes or underscores, without spaces")
            return None
        return value

    def decimal(self, name: str, low: str = "0", high: str = "999999999", above: bool = False) -> Decimal | None:
        """A plain decimal between ``low`` and ``high`` (above ``low`` if so asked); None if null or left out."""
        value = self._values.get(name)
        return None if value is None or value == "" else self.read_decimal(name, value, low, high, above)

    def read_decimal(self, name: str, value: object, low: str, high: str, above: bool = False) -> Decimal | None:
        number = as_decimal(value)
        if number is None:
            self.fault(name, f"“{str(value)[:40]}” is not a plain decimal number like 12.50, with a point")
        elif number < Decimal(low) or number > Decimal(high) or (above and number == Decimal(low)):
            self.fault(name, f"must be {'more than' if above else 'at least'} {low} and at most {high}")
        else:
            return number
        return None

    def whole(self, name: str, low: int, high: int, required: bool = True) -> int | None:
        value = self._values.get(name)
        if value is None or value == "":
            if required:
                self.fault(name, "is missing")
            return None
        number = as_decimal(value)
        if number is None or number != number.to_integral_value() or not low <= number <= high:
            self.fault(name, f"must be a whole number from {low:,} to {high:,}")
            return None
        return int(number)

    def flag(self, name: str) -> bool:
        value = self._values.get(name)
        if value is None or isinstance(value, bool):
            return bool(value)
        self.fault(name, "must be true or false")
        return False

    def choice(self, name: str, kind: type[S], default: S | None = None) -> S | None:
        value = self._values.get(name)
        if value is None and default is not None:
            return default
        if isinstance(value, str) and value in [member.value for member in kind]:
            return kind(value)
        self.fault(name, f"must be one of {', '.join(member.value for member in kind)}")
        return None

    def items(self, name: str, known: frozenset[str]) -> Iterator["Node"]:
        """The objects of a list field."""
        value = self._values.get(name)
        if value is None:
            return
        if not isinstance(value, list):
            self.fault(name, "must be a list")
            return
        for index, item in enumerate(value):
            yield Node(item, (*self.path, name, index), self._faults, known)

    def ids(self, name: str, pattern: re.Pattern[str] | None = _ID) -> tuple[str, ...] | None:
        """A list of ids (or card numbers, without a pattern); None if left out or null."""
        value = self._values.get(name)
        if value is None:
            return None
        if not isinstance(value, list) or not all(isinstance(item, str) for item in value):
            self.fault(name, "must be a list of texts")
            return ()
        for item in value:
            if pattern is not None and not pattern.fullmatch(item):
                self.fault(name, f"“{item[:60]}” is not an id")
        return tuple(value)

    def table(self, name: str) -> Mapping[str, object]:
        """An object used as a table from ids or numbers to values."""
        value = self._values.get(name)
        if value is None:
            return {}
        if not isinstance(value, Mapping):
            self.fault(name, "must be an object")
            return {}
        return value

    def attempt(self, name: str, action: Callable[[], R]) -> R | None:
        """Run a rule of the core; report its refusal at this place."""
        try:
            return action()
        except InputError as error:
            for fault in error.faults:
                self.fault(name, fault.message)
            return None


def as_decimal(value: object) -> Decimal | None:
    """A plain decimal from its text or number; None for anything else."""
    if isinstance(value, bool) or not isinstance(value, str | int | Decimal):
        return None
    text = format(value, "f") if isinstance(value, Decimal) and value.is_finite() else str(value).strip()
    return Decimal(text.replace(",", ".")) if _DECIMAL.fullmatch(text) else None
