"""What is known of a release beside its sheet: how large its cards are, what to look for, whom they show."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import InputError
from tobbix.core.products.fields import as_decimal
from tobbix.core.products.odds import plain

_PART = re.compile(r"[0-9]+|[^0-9]+")


class NoteKind(StrEnum):
    """What a note says: a known fault, how to tell something, or anything else."""

    FAULT = "fault"
    TELLING = "telling"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class CardSize:
    """Width and height (mm), thickness (mm) and weight (g; None: not measured) of a line's cards: of all, or of those
    from a ``first`` number to a ``last``."""

    width: Decimal
    height: Decimal
    thickness: Decimal | None = None
    weight: Decimal | None = None
    first: str | None = None
    last: str | None = None


def number_order(number: str) -> tuple[tuple[int, int | str], ...]:
    """How numbers follow each other as people read them.

    >>> sorted(["FS10", "FS2", "12", "2"], key=number_order)
    ['2', '12', 'FS2', 'FS10']
    """
    parts = _PART.findall(number.strip().casefold())
    return tuple((0, int(part)) if part.isdigit() and part.isascii() else (1, part) for part in parts)


def size_of(number: str, sizes: Iterable[CardSize]) -> CardSize | None:
    """The size of a card: that of the narrowest range that its number is in, else the line's; None if not said."""
    found = [size for size in sizes if size.first is None or _within(number, size)]
    return max(found, key=lambda size: (size.first is not None, number_order(size.first or "")), default=None)


def _within(number: str, size: CardSize) -> bool:
    first, last = number_order(size.first or ""), number_order(size.last or "")
    return first <= number_order(number) <= last


_SIZE = re.compile(
    r"(?:(?P<first>.+?) to (?P<last>.+?):)?\s*(?P<width>[0-9.]+) x (?P<height>[0-9.]+)(?: x (?P<thickness>[0-9.]+))?"
    r"(?: mm)?(?:,? (?P<weight>[0-9.]+) g)?"
)
_LARGEST = {"width": 400, "height": 400, "thickness": 40, "weight": 1_000}


def parse_sizes(text: str) -> tuple[CardSize, ...]:
    """Sizes as typed, a semicolon between them: ``63 x 88 x 0.31 mm, 1.8 g; 141 to 150: 70 x 120 mm``.

    Raises InputError at ``text``: a size that cannot be, a range that ends before it begins, two that say something of
    the same card.
    """
    found: list[CardSize] = []
    for part in filter(str.strip, text.split(";")):
        match = _SIZE.fullmatch(" ".join(part.replace("×", " x ").split()))
        if match is None:
            raise InputError.at("text", f"“{part.strip()[:60]}” is not a size; write 63 x 88 x 0.31 mm, 1.8 g")
        measures = {name: None if match[name] is None else as_decimal(match[name]) for name in _LARGEST}
        for name, most in _LARGEST.items():
            measure = measures[name]
            if match[name] is not None and (measure is None or not 0 < measure <= most):
                raise InputError.at("text", f"a {name} must be over 0 and at most {most}")
        size = CardSize(first=match["first"], last=match["last"], **measures)  # type: ignore[arg-type]
        if size.first is not None and number_order(size.first) > number_order(size.last or ""):
            raise InputError.at("text", f"{size.last} is before {size.first}")
        if any(_overlap(size, other) for other in found):
            raise InputError.at("text", f"“{part.strip()[:60]}” says something of cards that another part tells of")
        found.append(size)
    return tuple(found)


def write_sizes(sizes: Iterable[CardSize]) -> str:
    """The words that ``parse_sizes`` reads."""
    return "; ".join(_write(size) for size in sizes)


def _write(size: CardSize) -> str:
    numbers = "" if size.first is None else f"{size.first} to {size.last}: "
    thickness = "" if size.thickness is None else f" x {plain(size.thickness)}"
    weight = "" if size.weight is None else f", {plain(size.weight)} g"
    return f"{numbers}{plain(size.width)} x {plain(size.height)}{thickness} mm{weight}"


def _overlap(one: CardSize, other: CardSize) -> bool:
    if one.first is None or other.first is None:
        return one.first is other.first
    begins = max(number_order(one.first), number_order(other.first))
    return begins <= min(number_order(one.last or ""), number_order(other.last or ""))
