"""A product sheet from a document: every fault is reported, each with its sheet, row and field.

The document is the full form of the open format (nested objects and lists of plain values); files are turned into it
by ``formats``. Reading has two passes: the fields of every part, then what the parts say of each other (references,
shares, guarantees, slots).
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.products.checking import NOTHING_BROKEN, Broken, check_sheet
from tobbix.core.products.fields import FaultList, Node, Path, Place, TooManyFaults
from tobbix.core.products.odds import Basis, Odds, Per, check_basis, parse_statement
from tobbix.core.products.sheet import (
    STANDARD_PACK,
    Card,
    Format,
    Guarantee,
    Line,
    LineKind,
    PackKind,
    ProductSheet,
    Release,
)

MARK = "product-sheet"
VERSION = 1
MOST_CARDS = 100_000
MOST_PACKS = 1_000
MOST_CARDS_PER_PACK = 1_000
MOST_PRICE = "99999999"

_TOP = frozenset("tobbix schema_version revision id release currency priced_on formats lines guarantees".split())
_RELEASE = frozenset("name series year publisher".split())
_FORMAT = frozenset("id name channel packs_per_box cards_per_pack packs boxes_per_case price usable".split())
_PACK = frozenset("id count cards".split())
_LINE = frozenset(
    "id name kind print_run redemption cards cards_of only price_multiple price_floor price_overrides odds not_in "
    "formats".split()
)
_CARD = frozenset("number subject weight price".split())
_ODDS = frozenset("format pack statement basis".split())
_GUARANTEE = frozenset("format count per lines pack".split())

_SHEETS = {"formats": "Formats", "lines": "Lines", "odds": "Odds", "guarantees": "Guarantees", "cards": "Cards"}


@dataclass(frozen=True)
class ReadSheet:
    """A sheet without faults, and the questions it leaves open: lines that are silent about a format (Rule C-01)."""

    sheet: ProductSheet
    questions: tuple[Fault, ...]


def locate_in_document(path: Path) -> Place:
    """The place of a part by its path: the sheet that it would be on, its number in its list, and the path itself."""
    sheet, row, text = "Release", None, ""
    for step in path:
        if isinstance(step, int):
            row, text = step + 1, f"{text}[{step}]"
        else:
            sheet, row = _SHEETS.get(step, sheet), None if step in _SHEETS else row
            text = f"{text}.{step}" if text else step
    return Place(sheet, row, f"{text}." if text else "")


def read_sheet(
    document: object, locate: Callable[[Path], Place] = locate_in_document, before: Sequence[Fault] = ()
) -> ReadSheet:
    """Read a product sheet. Rules C-01 and C-04 (what they refuse).

    Raises InputError with all faults, up to 200, those found ``before`` in its tables with them.
    """
    faults = FaultList(locate, faults=list(before))
    try:
        sheet = _read(document, faults)
        if sheet is not None:
            check_sheet(sheet, faults, _broken(document, sheet) if faults.faults else NOTHING_BROKEN)
    except TooManyFaults:
        sheet = None
    if faults.faults or sheet is None:
        raise InputError(faults.faults)
    return ReadSheet(sheet, open_questions(sheet, locate))


def _broken(document: object, sheet: ProductSheet) -> Broken:
    """The parts of a document that could not be read, so that nothing is said of what hangs on them."""

    def parts(of: object, name: str) -> list[Mapping[str, object]]:
        given = of.get(name) if isinstance(of, Mapping) else None
        return [part if isinstance(part, Mapping) else {} for part in given] if isinstance(given, list) else []

    formats, lines = parts(document, "formats"), parts(document, "lines")
    lacking = {
        (line.id, name)
        for line in sheet.lines
        for made in lines
        for name in ("cards", "odds")
        if made.get("id") == line.id and len(parts(made, name)) != len(getattr(line, name))
    }
    if len(parts(document, "guarantees")) != len(sheet.guarantees):
        lacking.add(("", "guarantees"))
    return Broken(
        frozenset(str(made.get("id")) for made in formats) - sheet.format_by_id.keys(),
        frozenset(str(made.get("id")) for made in lines) - sheet.line_by_id.keys(),
        {
            (name, str(made.get("id"))): at
            for name, given in (("formats", formats), ("lines", lines))
            for at, made in enumerate(given)
        },
        frozenset(lacking),
    )


def open_questions(sheet: ProductSheet, locate: Callable[[Path], Place] = locate_in_document) -> tuple[Fault, ...]:
    """One question for each line that is silent about a format: is it really not in it? Rule C-01."""
    index = {line.id: number for number, line in enumerate(sheet.lines)}
    questions = []
    for fmt in sheet.formats:
        for line in sheet.silent_lines(fmt.id):
            place = locate(("lines", index[line.id]))
            message = (
                f"{line.name} says nothing about {fmt.name}: give its odds, or say or confirm that it is not in it"
            )
            questions.append(Fault(f"{place.prefix}not_in", message, place.sheet, place.row))
    return tuple(questions)


def _read(document: object, faults: FaultList) -> ProductSheet | None:
    top = Node(document, (), faults, _TOP)
    if top.raw("tobbix") != MARK or top.raw("schema_version") != VERSION:
        top.fault("tobbix", f"this is not a product sheet: it must say {MARK}, schema_version {VERSION}")
        return None
    revision = top.whole("revision", 1, 1_000_000_000, required=False)
    sheet_id, currency = top.id(), top.text("currency")
    if currency is not None:
        try:
            minor_units(currency)
        except ValueError:
            top.fault("currency", "must be a currency code of three capital letters, like EUR")
    release = _release(Node(top.raw("release"), ("release",), faults, _RELEASE))
    priced_on = _date(top, "priced_on")
    formats = tuple(f for node in top.items("formats", _FORMAT) if (f := _format(node)) is not None)
    lines = _lines(top)
    guarantees = tuple(g for node in top.items("guarantees", _GUARANTEE) if (g := _guarantee(node)) is not None)
    for name, parts in (("formats", formats), ("lines", lines)):
        if not parts and not faults.faults:
            top.fault(name, "a sheet needs at least one")
    if sheet_id is None or currency is None or release is None or priced_on is None:
        return None
    return ProductSheet(sheet_id, revision or 1, release, currency, priced_on, formats, lines, guarantees)


def _date(node: Node, name: str) -> date | None:
    text = node.text(name)
    if text is None:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        node.fault(name, "must be a date like 2026-11-01")
        return None


def _release(node: Node) -> Release | None:
    name, year, publisher = node.text("name"), node.whole("year", 1800, 2200), node.text("publisher")
    series = node.text("series", required=False)
    if name is None or year is None or publisher is None:
        return None
    return Release(name, series, year, publisher)


def _format(node: Node) -> Format | None:
    fmt_id, name = node.id(), node.text("name")
    channel = node.text("channel", required=False)
    packs = _packs(node)
    boxes = node.whole("boxes_per_case", 1, 1_000, required=False)
    price = node.decimal("price", high=MOST_PRICE)
    usable = node.decimal("usable", high="1")
    if fmt_id is None or name is None or not packs:
        return None
    return Format(fmt_id, name, channel, packs, boxes, price, Decimal(1) if usable is None else usable)


def _packs(node: Node) -> tuple[PackKind, ...]:
    if node.raw("packs") is None:
        count = node.whole("packs_per_box", 1, MOST_PACKS)
        cards = node.whole("cards_per_pack", 1, MOST_CARDS_PER_PACK)
        return () if count is None or cards is None else (PackKind(STANDARD_PACK, count, cards),)
    for short in ("packs_per_box", "cards_per_pack"):
        if node.raw(short) is not None:
            node.fault(short, "is the short form; leave it out where packs are listed")
    packs = []
    for item in node.items("packs", _PACK):
        pack_id, count = item.id(), item.whole("count", 1, MOST_PACKS)
        cards = item.whole("cards", 1, MOST_CARDS_PER_PACK)
        if pack_id is not None and count is not None and cards is not None:
            packs.append(PackKind(pack_id, count, cards))
    if not packs:
        node.fault("packs", "a format without packs has no odds")
    elif sum(pack.count for pack in packs) > MOST_PACKS:
        node.fault("packs", f"a box holds at most {MOST_PACKS:,} packs")
    return tuple(packs)


def _lines(top: Node) -> tuple[Line, ...]:
    lines, cards = [], 0
    for node in top.items("lines", _LINE):
        line = _line(node, MOST_CARDS - cards)
        if line is not None:
            lines.append(line)
            cards += len(line.cards)
    return tuple(lines)


def _line(node: Node, cards_left: int) -> Line | None:
    line_id, name, kind = node.id(), node.text("name"), node.choice("kind", LineKind)
    raw_cards = node.raw("cards")
    if isinstance(raw_cards, list) and len(raw_cards) > cards_left:
        node.fault("cards", f"a sheet holds at most {MOST_CARDS:,} cards")
        return None
    cards = tuple(c for item in node.items("cards", _CARD) if (c := _card(item)) is not None)
    overrides = tuple(
        (number, None if value is None else node.read_decimal(f"price_overrides.{number}", value, "0", MOST_PRICE))
        for number, value in node.table("price_overrides").items()
    )
    line = Line(
        line_id or "",
        name or "",
        kind or LineKind.INSERT,
        node.whole("print_run", 1, 100_000_000, required=False),
        node.flag("redemption"),
        cards,
        node.id("cards_of", required=False),
        node.ids("only", pattern=None),
        node.decimal("price_multiple", high="1000000"),
        node.decimal("price_floor", high=MOST_PRICE),
        overrides,
        tuple(o for item in node.items("odds", _ODDS) if (o := _odds(item)) is not None),
        node.ids("not_in") or (),
        node.ids("formats"),
    )
    return None if line_id is None or name is None or kind is None else line


def _card(node: Node) -> Card | None:
    number, subject = node.text("number"), node.text("subject")
    if number is not None and ";" in number:
        node.fault("number", "must not hold a semicolon, which separates numbers in a workbook")
    weight = node.decimal("weight", high="1000000", above=True)
    price = node.decimal("price", high=MOST_PRICE)
    if number is None or subject is None:
        return None
    return Card(number, subject, Decimal(1) if weight is None else weight, price)


def _odds(node: Node) -> Odds | None:
    fmt, basis, pack = node.id("format"), node.choice("basis", Basis, Basis.AVERAGE), node.id("pack", required=False)
    text = node.text("statement", required=False)
    statement = None if text is None else node.attempt("statement", lambda: parse_statement(text))
    if fmt is None or basis is None or (text is not None and statement is None):
        return None
    node.attempt("basis" if statement else "statement", lambda: check_basis(statement, basis, "basis"))
    return Odds(fmt, statement, basis, pack)


def _guarantee(node: Node) -> Guarantee | None:
    fmt, count, per = node.id("format"), node.whole("count", 1, 100_000), node.choice("per", Per)
    if per is Per.PACK:
        node.fault("per", "must be box or case")
    shares: list[tuple[str, Decimal | None]] = []
    table: Mapping[str, object] = node.table("lines")
    for line, value in table.items():
        share = None if value is None else node.read_decimal(f"lines.{line}", value, "0", "1")
        shares.append((line, share))
    if not table:
        node.fault("lines", "name at least one line")
    known = sum(share for _, share in shares if share is not None)
    if all(share is not None for _, share in shares) and shares and known != 1:
        node.fault("lines", f"the shares sum to {known}, not to 1")
    elif known > 1:
        node.fault("lines", f"the known shares sum to {known}, more than 1")
    if fmt is None or count is None or per is None:
        return None
    return Guarantee(fmt, count, per, tuple(shares), node.id("pack", required=False))
