"""The owner's corrections of a sheet: one price or one statement of odds, checked like a whole sheet (Rule C-01)."""

import re
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal

from tobbix.core.base.errors import Fault, InputError, NotFound
from tobbix.core.products.assuming import parse_share
from tobbix.core.products.checking import check_sheet
from tobbix.core.products.fields import FaultList, as_decimal
from tobbix.core.products.odds import Odds, Per, parse_cell, plain
from tobbix.core.products.prices import line_versions
from tobbix.core.products.reading import MOST_PRICE, locate_in_document
from tobbix.core.products.sheet import Format, Guarantee, Line, LineKind, ProductSheet

FOLLOWS = "follows"
RELEASED = "release"
_GUARANTEE = re.compile(r"([1-9][0-9]{0,4}) per (box|case)(?: in pack ([A-Za-z0-9._-]{1,64}))?: (.+)")


@dataclass(frozen=True, slots=True)
class PriceWord:
    """What is said of a price: an amount, None for unknown, that it follows the parent line's, or that what was said
    is released."""

    amount: Decimal | None
    follows: bool = False
    released: bool = False


def parse_price(text: str, field: str = "price") -> PriceWord:
    """A price as typed: ``12.50``, empty or ``unknown``, ``follows``, or ``release`` for what is known otherwise.

    Raises InputError naming ``field``.
    """
    words = text.strip().lower()
    if words in ("", "unknown", "?"):
        return PriceWord(None)
    if words in (FOLLOWS, RELEASED):
        return PriceWord(None, words == FOLLOWS, words == RELEASED)
    amount = as_decimal(words)
    if amount is None or amount > Decimal(MOST_PRICE):
        raise InputError.at(field, f"“{text.strip()[:40]}” is not a price; write it like 12.50, or leave it empty")
    return PriceWord(amount)


def find_line(sheet: ProductSheet, line_id: str) -> Line:
    """The line of an id. Raises NotFound."""
    if line_id not in sheet.line_by_id:
        raise NotFound(f"{sheet.release.title} has no line “{line_id}”")
    return sheet.line_by_id[line_id]


def find_format(sheet: ProductSheet, format_id: str) -> Format:
    """The format of an id. Raises NotFound."""
    if format_id not in sheet.format_by_id:
        raise NotFound(f"{sheet.release.title} has no format “{format_id}”")
    return sheet.format_by_id[format_id]


def _tried(word: PriceWord) -> PriceWord:
    """A price that can be tried. A released one is whatever is known otherwise, which a sheet alone does not tell."""
    if word.released:
        raise InputError.at("text", "what was typed is released on the release’s page; try an amount here")
    return word


def check_card_price(sheet: ProductSheet, line_id: str, number: str, word: PriceWord) -> Line:
    """The line of a card that something can be said of. Raises NotFound, InputError."""
    line = find_line(sheet, line_id)
    if line.cards_of is None and word.follows:
        raise InputError.at("price", f"{line.name} has prices of its own; only a parallel’s can follow")
    if all(version.number != number for version in line_versions(sheet, line)):
        raise NotFound(f"{line.name} has no card {number}")
    return line


def with_card_price(sheet: ProductSheet, line_id: str, number: str, word: PriceWord) -> ProductSheet:
    """The sheet with another price of one version. Raises NotFound, InputError."""
    line = check_card_price(sheet, line_id, number, _tried(word))
    if line.cards_of is None:
        cards = tuple(replace(c, price=word.amount) if c.number == number else c for c in line.cards)
        changed = replace(line, cards=cards)
    else:
        overrides = dict(line.price_overrides)
        overrides.pop(number, None)
        if not word.follows:
            overrides[number] = word.amount
        changed = replace(line, price_overrides=tuple(overrides.items()))
    return replace(sheet, lines=tuple(changed if item is line else item for item in sheet.lines))


def check_format_price(sheet: ProductSheet, format_id: str, word: PriceWord) -> Format:
    """The format that something can be said of. Raises NotFound, InputError."""
    if word.follows:
        raise InputError.at("price", "a box’s price follows no other; give an amount or leave it empty")
    return find_format(sheet, format_id)


def with_format_price(sheet: ProductSheet, format_id: str, word: PriceWord) -> ProductSheet:
    """The sheet with another price of a sealed box. Raises NotFound, InputError."""
    fmt = check_format_price(sheet, format_id, _tried(word))
    changed = replace(fmt, price=word.amount)
    return replace(sheet, formats=tuple(changed if item is fmt else item for item in sheet.formats))


def with_usable(sheet: ProductSheet, format_id: str, text: str) -> ProductSheet:
    """The sheet with another share of packs that are usable (not bricked), as typed. Raises NotFound, InputError."""
    changed = replace(find_format(sheet, format_id), usable=parse_share(text, "usable"))
    return _revised(sheet, formats=tuple(changed if fmt.id == format_id else fmt for fmt in sheet.formats))


def with_line_factor(sheet: ProductSheet, line_id: str, factor: Decimal) -> ProductSheet:
    """The sheet with all known prices of a line times a factor, rounded half up to the cent. Raises NotFound."""
    line = find_line(sheet, line_id)

    def scaled(price: Decimal | None) -> Decimal | None:
        if price is None:
            return None
        return min((price * factor).quantize(Decimal("0.01"), ROUND_HALF_UP), Decimal(MOST_PRICE))

    if line.cards_of is None:
        changed = replace(line, cards=tuple(replace(card, price=scaled(card.price)) for card in line.cards))
    else:
        multiple = None if line.price_multiple is None else line.price_multiple * factor
        changed = replace(
            line,
            price_multiple=multiple if multiple is None else multiple.quantize(Decimal("0.000001")).normalize() + 0,
            price_floor=scaled(line.price_floor),
            price_overrides=tuple((number, scaled(price)) for number, price in line.price_overrides),
        )
    return replace(sheet, lines=tuple(changed if item is line else item for item in sheet.lines))


def with_odds(sheet: ProductSheet, line_id: str, format_id: str, pack: str | None, text: str) -> ProductSheet:
    """The sheet with other odds of a line in a format, as typed in one cell. Rule C-01.

    Raises NotFound, or InputError for odds that cannot be, the slots of the format included.
    """
    line, fmt = find_line(sheet, line_id), find_format(sheet, format_id)
    if line.kind is LineKind.BASE:
        raise InputError.at("odds", f"{line.name} is the base: it fills the slots that no hit took")
    said = parse_cell(text, "odds")
    others = [odds for odds in line.odds if odds.format != fmt.id or (said is not None and odds.pack != pack)]
    not_in = tuple(item for item in line.not_in if item != fmt.id)
    if said is None:
        not_in = (*not_in, fmt.id)
    else:
        index = next((i for i, o in enumerate(line.odds) if o.format == fmt.id and o.pack == pack), len(others))
        others.insert(index, Odds(fmt.id, said[0], said[1], pack))
    changed = replace(line, odds=tuple(others), not_in=not_in)
    return _revised(sheet, lines=tuple(changed if item is line else item for item in sheet.lines))


def write_odds(line: Line, format_id: str, pack: str | None) -> str:
    """The cell that ``parse_cell`` reads: what the line says of a format; empty if it says nothing."""
    if format_id in line.not_in:
        return "not in it"
    for odds in line.odds_in(format_id):
        if odds.pack == pack:
            if odds.statement is None:
                return "unstated"
            return f"{odds.statement}, guaranteed" if odds.basis.value == "guaranteed" else str(odds.statement)
    return ""


def write_guarantee(sheet: ProductSheet, guarantee: Guarantee) -> str:
    """The words that ``parse_guarantee`` reads, like ``1 per box: Keeper's Hand 0.6, Rope & Rivet 0.4``."""
    pack = f" in pack {guarantee.pack}" if guarantee.pack is not None else ""
    lines = []
    for line, share in guarantee.lines:
        name = sheet.line_by_id[line].name
        known = name if not set(name) & set(",:") else line
        lines.append(f"{known} {'?' if share is None else plain(share)}")
    return f"{guarantee.count} per {guarantee.per}{pack}: {', '.join(lines)}"


def parse_guarantee(sheet: ProductSheet, format_id: str, text: str) -> Guarantee:
    """A guarantee as typed: ``1 per box: Keeper's Hand 60 %, Rope & Rivet 40 %``; ``?`` where the split is unknown.

    Lines go by name or id. Raises InputError at ``guarantee``. Rules C-01 and C-04.
    """
    match = _GUARANTEE.fullmatch(" ".join(text.split()))
    if match is None:
        raise InputError.at("guarantee", "write it like 1 per box: first line 0.6, second line 0.4; ? if not known")
    names = {line.name.casefold(): line.id for line in sheet.lines} | {
        line.id.casefold(): line.id for line in sheet.lines
    }
    shares: dict[str, Decimal | None] = {}
    for part in match[4].split(","):
        name, _, share = part.strip().removesuffix("%").strip().rpartition(" ")
        line = names.get(name.strip().casefold())
        if line is None or sheet.line_by_id[line].kind is LineKind.BASE:
            raise InputError.at("guarantee", f"there is no line “{name.strip()[:60]}” that can be guaranteed")
        value = None if share == "?" else as_decimal(share)
        if value is None and share != "?":
            raise InputError.at("guarantee", f"“{share[:20]}” is not a share; write 0.6, 60 % or ?")
        if value is not None and part.strip().endswith("%"):
            value /= 100
        if line in shares:
            raise InputError.at("guarantee", f"{name.strip()} is named twice")
        shares[line] = value
    known = sum(share for share in shares.values() if share is not None)
    if known > 1 or (None not in shares.values() and known != 1):
        raise InputError.at("guarantee", f"the shares sum to {plain(Decimal(known))}, not to 1")
    return Guarantee(format_id, int(match[1]), Per(match[2]), tuple(shares.items()), match[3])


def with_guarantee(sheet: ProductSheet, number: int, text: str) -> ProductSheet:
    """The sheet with guarantee ``number`` (from 0, in the sheet's order) as typed. Raises NotFound, InputError."""
    if not 0 <= number < len(sheet.guarantees):
        raise NotFound(f"{sheet.release.title} has no such guarantee")
    guarantees = list(sheet.guarantees)
    guarantees[number] = parse_guarantee(sheet, guarantees[number].format, text)
    return _revised(sheet, guarantees=tuple(guarantees))


def _revised(
    sheet: ProductSheet,
    lines: tuple[Line, ...] | None = None,
    formats: tuple[Format, ...] | None = None,
    guarantees: tuple[Guarantee, ...] | None = None,
) -> ProductSheet:
    revised = replace(
        sheet,
        revision=sheet.revision + 1,
        lines=sheet.lines if lines is None else lines,
        formats=sheet.formats if formats is None else formats,
        guarantees=sheet.guarantees if guarantees is None else guarantees,
    )
    faults = FaultList(locate_in_document)
    check_sheet(revised, faults)
    if faults.faults:
        field = "odds" if guarantees is None else "guarantee"
        raise InputError(Fault(field, fault.message) for fault in faults.faults)
    return revised
