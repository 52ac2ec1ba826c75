"""Releases as far as seen: what is said of one and of its cards, and how a product sheet takes it over later.

A release that nobody has a sheet of is still a release: its cards are found, kept, priced and sold. Its checklist is
what was seen. When a sheet comes, lines are matched by name or key and cards by number, and the same versions go on.
"""

import re
import unicodedata
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.products.prices import line_versions
from tobbix.core.products.sheet import ProductSheet

FIRST_YEAR, LAST_YEAR = 1850, 2100
_SHOWN = 12


@dataclass(frozen=True, slots=True)
class SeenRelease:
    """What is known of a release beside a sheet; None: not known."""

    name: str
    year: int
    series: str | None = None
    publisher: str | None = None
    code: str | None = None

    @property
    def title(self) -> str:
        return " ".join([self.name, *([self.series] if self.series else []), str(self.year)])


@dataclass(frozen=True, slots=True)
class Seen:
    """A card as it was seen: line, number, subject, and what the line does not say of it (edition, language, error)."""

    line: str
    number: str
    subject: str
    variant: str = ""


def check_release(said: SeenRelease) -> SeenRelease:
    """The same, tidied. Raises InputError at ``name`` or ``year``."""
    if faults := _release_faults(said):
        raise InputError(faults)
    series, publisher, code = (_tidy(text or "") or None for text in (said.series, said.publisher, said.code))
    return SeenRelease(_tidy(said.name), said.year, series, publisher, code)


def check_card(said: Seen, release: SeenRelease | None) -> Seen:
    """The same, tidied. Raises InputError with all that is wrong with the card, and with its ``release`` if that is
    named with it.
    """
    faults = [] if release is None else _release_faults(release)
    if not said.line.strip():
        faults.append(Fault("line", "say which line it is of, Base for a plain card"))
    if not said.number.strip():
        faults.append(Fault("number", "give the number on the card, or a name for it"))
    if faults:
        raise InputError(faults)
    return Seen(_tidy(said.line), _tidy(said.number), _tidy(said.subject), _tidy(said.variant))


def _release_faults(said: SeenRelease) -> list[Fault]:
    faults = []
    if not said.name.strip():
        faults.append(Fault("name", "say what the release is called"))
    if not FIRST_YEAR <= said.year <= LAST_YEAR:
        faults.append(Fault("year", f"must be from {FIRST_YEAR} to {LAST_YEAR}"))
    return faults


def _tidy(text: str) -> str:
    return " ".join(text.split())


def make_key(text: str, taken: Collection[str]) -> str:
    """A key for a name: plain letters, digits and hyphens, at most 60 of them, that nothing else goes by.

    >>> make_key("Tidewrack 1987", {"tidewrack-1987"})
    'tidewrack-1987-2'
    """
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    key = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:56].strip("-") or "x"
    if key not in taken:
        return key
    number = 2
    while f"{key}-{number}" in taken:
        number += 1
    return f"{key}-{number}"


@dataclass(frozen=True, slots=True)
class TakingOver:
    """What a sheet makes of a stub: its lines by key to the sheet's, the cards that go on, and those beside it."""

    lines: Mapping[str, str]
    matched: tuple[Seen, ...]
    beside: tuple[Seen, ...]

    @property
    def words(self) -> str:
        """What would happen, in words."""
        total = len(self.matched) + len(self.beside)
        if not total:
            return "No card of it was seen yet."
        said = f"{len(self.matched)} of {total} cards match and go on as the same cards."
        if self.beside:
            names = ", ".join(f"{card.line} {card.number}" for card in self.beside[:_SHOWN])
            more = f" and {len(self.beside) - _SHOWN} more" if len(self.beside) > _SHOWN else ""
            said += f" Not in the sheet, and kept beside it: {names}{more}."
        return said


def match_stub(sheet: ProductSheet, names: Sequence[tuple[str, str]], seen: Sequence[tuple[str, Seen]]) -> TakingOver:
    """How a sheet takes a stub over: ``names`` are key and name of the stub's lines, ``seen`` its cards with their key.

    A line matches by its name, else by its key; a card by its number. What has a variant that the sheet cannot say goes
    on beside it, on the same card.
    """
    by_name: dict[str, str] = {}
    for line in sheet.lines:
        by_name.setdefault(line.name.casefold(), line.id)
    lines: dict[str, str] = {}
    for key, name in names:
        found = by_name.get(name.casefold()) or (key if key in sheet.line_by_id else None)
        if found is not None and found not in lines.values():
            lines[key] = found
    numbers = {
        line.id: {version.number for version in line_versions(sheet, line)}
        for line in sheet.lines
        if line.id in lines.values()
    }
    matched: list[Seen] = []
    beside: list[Seen] = []
    for key, card in seen:
        is_there = key in lines and card.number in numbers[lines[key]]
        (matched if is_there else beside).append(card)
    return TakingOver(lines, tuple(matched), tuple(beside))


def copy_of(serial: str | None) -> int | None:
    """Which copy a serial number names: 12 of "012/150"."""
    said = (serial or "").split("/")[0].strip()
    return int(said) if said.isascii() and said.isdigit() else None


def serial_fault(line: str, print_run: int | None, serial: str) -> str | None:
    """What is wrong with the number of a copy of a ``line`` by name: only a numbered line has one, up to its run."""
    if print_run is None:
        return f"{line} is not numbered"
    copy = copy_of(serial)
    if copy is None or not 1 <= copy <= print_run:
        return f"{line} is numbered 1 to {print_run}"
    return None
