"""JSON in and out: numbers are read as decimals; repeated fields, non-numbers and what has no bounds are refused."""

import json
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.formats.limits import MOST_DEPTH, MOST_DIGITS


def read_json(content: bytes) -> object:
    """The document of a JSON file. Raises InputError at ``file`` with the place of the fault."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise InputError.at("file", f"is neither a workbook nor UTF-8 text (byte {error.start:,})") from None
    try:
        document = json.loads(
            text, parse_float=_decimal, parse_int=_whole, parse_constant=_refuse_constant,
            object_pairs_hook=_without_repeats,
        )  # fmt: skip
    except json.JSONDecodeError as error:
        raise InputError.at("file", f"is not JSON: {error.msg} in line {error.lineno}, column {error.colno}") from None
    except RecursionError:
        raise InputError.at("file", "is nested too deeply") from None
    if depth_of(document) > MOST_DEPTH:
        raise InputError.at("file", "is nested too deeply")
    return document


def depth_of(document: object) -> int:
    """How many lists and objects lie within each other."""
    depth, level = 0, [document]
    while level := [item for item in level if isinstance(item, dict | list)]:
        depth += 1
        level = [part for item in level for part in (item.values() if isinstance(item, dict) else item)]
    return depth


def write_json(document: object) -> bytes:
    """A document as indented UTF-8 JSON."""
    return (json.dumps(document, ensure_ascii=False, indent=1) + "\n").encode()


def _decimal(text: str) -> Decimal:
    number = Decimal(text)
    if len(text) > MOST_DIGITS or (number and not -MOST_DIGITS < number.adjusted() < MOST_DIGITS):
        raise InputError.at("file", f"holds a number of more than {MOST_DIGITS} digits: {text[:40]}")
    return number


def _whole(text: str) -> int:
    if len(text) > MOST_DIGITS:
        raise InputError.at("file", f"holds a number of more than {MOST_DIGITS} digits: {text[:40]}")
    return int(text)


def _refuse_constant(name: str) -> object:
    raise InputError.at("file", f"holds {name}, which is not a number in JSON")


def _without_repeats(pairs: list[tuple[str, object]]) -> dict[str, object]:
    result = dict(pairs)
    if len(result) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise InputError.at(twice[:60], "is given twice in one object")
    return result
