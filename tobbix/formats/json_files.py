"""JSON in and out: numbers are read as decimals, repeated fields and non-numbers are refused."""

import json
from decimal import Decimal

from tobbix.core.base.errors import InputError


def read_json(content: bytes) -> object:
    """The document of a JSON file. Raises InputError at ``file`` with the place of the fault."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise InputError.at("file", f"is neither a workbook nor UTF-8 text (byte {error.start:,})") from None
    try:
        return json.loads(
            text, parse_float=Decimal, parse_constant=_refuse_constant, object_pairs_hook=_without_repeats
        )
    except json.JSONDecodeError as error:
        raise InputError.at("file", f"is not JSON: {error.msg} in line {error.lineno}, column {error.colno}") from None
    except RecursionError:
        raise InputError.at("file", "is nested too deeply") from None
    except ValueError as error:  # a number of thousands of digits
        raise InputError.at("file", f"is not JSON: {str(error)[:100]}") from None


def write_json(document: object) -> bytes:
    """A document as indented UTF-8 JSON."""
    return (json.dumps(document, ensure_ascii=False, indent=1) + "\n").encode()


def _refuse_constant(name: str) -> object:
    raise InputError.at("file", f"holds {name}, which is not a number in JSON")


def _without_repeats(pairs: list[tuple[str, object]]) -> dict[str, object]:
    result = dict(pairs)
    if len(result) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise InputError.at(twice[:60], "is given twice in one object")
    return result
