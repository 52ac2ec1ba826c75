"""Odds: how often a line comes out of a pack (Rule C-01)."""

import re
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction

from tobbix.core.base.errors import InputError
from tobbix.core.products.fields import DECIMAL


class Basis(StrEnum):
    """What a statement of odds promises."""

    AVERAGE = "average"
    GUARANTEED = "guaranteed"
    UNSTATED = "unstated"


class Per(StrEnum):
    """The unit that a statement counts in."""

    PACK = "pack"
    BOX = "box"
    CASE = "case"


_ONE_IN = re.compile(rf"1\s*:\s*({DECIMAL})\s+(pack|box|case)(?:s|es)?")
_COUNT = re.compile(rf"({DECIMAL})\s+per\s+(pack|box|case)")
_BARE = re.compile(rf"1\s*:\s*{DECIMAL}")
_CELL_BASIS = re.compile(r"(.*?)[,\s]+(guaranteed|average)")
_HOW_TO = "write it as 1:36 packs, 1:4 boxes, 1:2 cases, 2 per pack, 3 per box or 1 per case"
PLURAL = {Per.PACK: "packs", Per.BOX: "boxes", Per.CASE: "cases"}


@dataclass(frozen=True, slots=True)
class Statement:
    """``1:number`` units if ``one_in``, else ``number`` per unit."""

    one_in: bool
    number: Decimal
    per: Per

    def __str__(self) -> str:
        number = plain(self.number)
        return f"1:{number} {PLURAL[self.per]}" if self.one_in else f"{number} per {self.per}"

    @property
    def hits_per_unit(self) -> Fraction:
        """Hits per pack, box or case, whichever it speaks of."""
        return 1 / Fraction(self.number) if self.one_in else Fraction(self.number)


@dataclass(frozen=True, slots=True)
class Odds:
    """What is said of a line in a format; ``pack`` narrows it to one kind of pack."""

    format: str
    statement: Statement | None
    basis: Basis
    pack: str | None = None


def plain(number: Decimal) -> str:
    """A decimal as people write it: no exponent, no trailing zeros.

    >>> plain(Decimal("36.00")), plain(Decimal("1E+2"))
    ('36', '100')
    """
    text = format(number, "f")
    return text.rstrip("0").rstrip(".") if "." in text else text


def parse_statement(text: str, field: str = "statement") -> Statement:
    """Read ``1:N packs``, ``k per box`` and their like. Rule C-01.

    Raises InputError, naming ``field``, for another form or for N or k of 0.

    >>> str(parse_statement("1:36 packs")), str(parse_statement("2.50 per box"))
    ('1:36 packs', '2.5 per box')
    """
    trimmed = text.strip()
    for pattern, one_in in ((_ONE_IN, True), (_COUNT, False)):
        if match := pattern.fullmatch(trimmed):
            number = Decimal(match[1].replace(",", "."))
            if number <= 0:
                raise InputError.at(field, "the number in the odds must be more than 0")
            return Statement(one_in, number, Per(match[2]))
    raise InputError.at(field, f"“{trimmed[:60]}” is not a statement of odds; {_HOW_TO}")


def parse_cell(text: str, field: str = "statement") -> tuple[Statement | None, Basis] | None:
    """Odds as typed in one cell: a statement (``1:N`` alone is of packs), ``… guaranteed``, ``unstated``, or
    ``not in it`` (None). Rule C-01."""
    words = " ".join(text.strip().lower().split())
    if words in ("not in it", "not in", "no"):
        return None
    if words in ("unstated", "unknown", "?"):
        return None, Basis.UNSTATED
    basis = Basis.AVERAGE
    if match := _CELL_BASIS.fullmatch(words):
        words, basis = match[1], Basis(match[2])
    if _BARE.fullmatch(words):
        words = f"{words} packs"
    if not words:
        raise InputError.at(field, f"{_HOW_TO}; or unstated, or not in it")
    statement = parse_statement(words, field)
    check_basis(statement, basis, field)
    return statement, basis


def check_basis(statement: Statement | None, basis: Basis, field: str) -> None:
    """Refuse a basis that does not fit its statement. Rule C-01."""
    if basis is Basis.UNSTATED:
        if statement is not None:
            raise InputError.at(field, "odds that are unstated have no statement; leave it empty")
        return
    if statement is None:
        raise InputError.at(field, f"the odds are missing; {_HOW_TO}, or set the basis to unstated")
    if basis is Basis.GUARANTEED and (
        statement.one_in or statement.per is Per.PACK or statement.number != statement.number.to_integral_value()
    ):
        raise InputError.at(field, "a guarantee is a whole number per box or per case, like 3 per box")


def rate_per_pack(statement: Statement, packs_per_box: int, boxes_per_case: int | None) -> Fraction:
    """Expected hits per pack, exactly. Rule C-01.

    ``packs_per_box`` counts the packs that can hold the hit. Raises InputError if the unit of the statement is missing.

    >>> rate_per_pack(parse_statement("1:3 boxes"), 24, None)
    Fraction(1, 72)
    """
    if packs_per_box < 1:
        raise InputError.at("packs_per_box", "a format without packs has no odds")
    hits = statement.hits_per_unit
    if statement.per is Per.PACK:
        return hits
    if statement.per is Per.BOX:
        return hits / packs_per_box
    if boxes_per_case is None:
        raise InputError.at("boxes_per_case", "odds per case need the number of boxes in a case")
    return hits / (packs_per_box * boxes_per_case)


def card_rate(line_rate: Fraction, weight: Decimal, weights: Decimal) -> Fraction:
    """Expected copies per pack of one card of a line, ``weights`` being the sum over the line. Rule C-01.

    >>> card_rate(Fraction(1, 36), Decimal(1), Decimal(20))
    Fraction(1, 720)
    """
    return line_rate * Fraction(weight) / Fraction(weights)
