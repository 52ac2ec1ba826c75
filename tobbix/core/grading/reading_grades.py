"""Grades as they are typed, pasted or sent by a grader: a line of text for each card of a form."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import Fault, InputError

MOST_LINES = 5_000
_PARTS = re.compile(r"[0-9]+(?:[.,][0-9]+)?(?:\s*/\s*[0-9]+(?:[.,][0-9]+)?)+")


@dataclass(frozen=True, slots=True)
class ReadGrade:
    """What a line says of the card at a ``line`` of the form: a grade, a certificate, subgrades by their names, or in
    words why there is no grade."""

    line: int
    grade: str | None
    certificate: str | None
    subgrades: Mapping[str, str] | None
    words: str


def read_grades(text: str, grades: Sequence[str], parts: Sequence[str], cards: int) -> tuple[ReadGrade, ...]:
    """Grades out of text: on each line the number on the form, the grade, and as it comes the certificate and the
    subgrades (``9.5/9/9/9.5``); instead of a grade, words. Between them tabs, commas, semicolons or spaces; a head is
    passed over. Raises InputError with every fault, by its line.

    >>> read_grades("1; 9; 4711\\n2 refused, trimmed", ["10", "9"], (), 2)[1].words
    'refused, trimmed'
    >>> read_grades("1\\t9.5\\t88\\t9.5/9.5/9/9", ["10", "9.5", "9"], ("a", "b", "c", "d"), 1)[0].subgrades["c"]
    '9'
    """
    found: dict[int, ReadGrade] = {}
    faults: list[Fault] = []
    lines = [line.strip() for line in text.splitlines()]
    if len(lines) > MOST_LINES:
        raise InputError.at("text", f"has more than {MOST_LINES:,} lines")
    known = {_plain(grade): grade for grade in grades}
    for at, line in enumerate(lines, 1):
        if not line or not re.match(r"[0-9]", line):
            continue  # empty, or a head
        first = re.match(r"([0-9]+)\s*[\t;,:. ]\s*(.*)$", line)
        if first is None or not 1 <= int(first[1]) <= cards:
            faults.append(Fault("text", f"line {at}: say which card of the form it is, 1 to {cards}"))
            continue
        number, rest = int(first[1]), first[2]
        read = _read_rest(number, rest, known, parts)
        if isinstance(read, str):
            faults.append(Fault("text", f"line {at}: {read}"))
        elif number in found:
            faults.append(Fault("text", f"line {at}: card {number} is there twice"))
        else:
            found[number] = read
    if not found and not faults:
        faults.append(Fault("text", "holds no line that begins with the number of a card"))
    if faults:
        raise InputError(faults[:50])
    return tuple(found[number] for number in sorted(found))


def _plain(grade: str) -> str:
    return f"{float(grade):g}"


def _read_rest(number: int, rest: str, known: Mapping[str, str], parts: Sequence[str]) -> ReadGrade | str:
    """What stands behind the number, or what is wrong with it."""
    subgrades = None
    said = _PARTS.search(rest)
    if said is not None:
        given = [it.strip().replace(",", ".") for it in said[0].split("/")]
        if len(given) != len(parts):
            return f"{len(given)} subgrades, but this grader gives {len(parts) or 'none'}"
        strange = [it for it in given if _plain(it) not in known]
        if strange:
            return f"{strange[0]} is no grade of this grader"
        subgrades = {name: known[_plain(it)] for name, it in zip(parts, given, strict=True)}
        rest = f"{rest[: said.start()]} {rest[said.end() :]}".strip(" \t;,")
    cells = [it for it in re.split(r"[\t;]|,\s|\s+", rest) if it]
    if cells and re.fullmatch(r"[0-9]+(?:[.,][0-9]+)?", cells[0]):
        plain = _plain(cells[0].replace(",", "."))
        if plain not in known:
            return f"{cells[0]} is no grade of this grader"
        certificate = cells[1][:60] if len(cells) > 1 else None
        return ReadGrade(number, known[plain], certificate, subgrades, " ".join(cells[2:])[:200])
    return ReadGrade(number, None, None, None, rest[:200]) if rest else "says nothing of the card"
