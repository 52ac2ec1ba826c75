"""What the parts of a product sheet say of each other: references, repeats, checklists, and the slot model."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field

from tobbix.core.base.errors import InputError
from tobbix.core.products.fields import FaultList, Path
from tobbix.core.products.odds import Basis, Per, rate_per_pack
from tobbix.core.products.sheet import Format, Line, LineKind, ProductSheet, is_in
from tobbix.core.products.slots import build_box_model

MOST_VERSIONS = 300_000


@dataclass(frozen=True, slots=True)
class Broken:
    """What of a document could not be read: ids of ``formats`` and ``lines`` that are there all the same, where those
    that were read stand (``places``), and lists that lack a part: (line, "cards" or "odds"), or ("", "guarantees")."""

    formats: frozenset[str] = frozenset()
    lines: frozenset[str] = frozenset()
    places: Mapping[tuple[str, str], int] = field(default_factory=dict)
    lacking: frozenset[tuple[str, str]] = frozenset()

    def at(self, name: str, part: str, number: int) -> Path:
        return (name, self.places.get((name, part), number))


NOTHING_BROKEN = Broken()


def check_sheet(sheet: ProductSheet, faults: FaultList, broken: Broken = NOTHING_BROKEN) -> None:
    """Add every fault between the parts of a sheet whose fields are sound; nothing is said of what hangs on one that is
    ``broken``, which has a fault of its own. Rules C-01 and C-04."""
    if not broken.formats:
        _unique(faults, "formats", [fmt.id for fmt in sheet.formats], "id")
    if not broken.lines:
        _unique(faults, "lines", [line.id for line in sheet.lines], "id")
    formats, lines = {*sheet.format_by_id, *broken.formats}, {*sheet.line_by_id, *broken.lines}
    for number, fmt in enumerate(sheet.formats):
        _check_format(sheet, fmt, broken.at("formats", fmt.id, number), faults, bool(broken.lines))
    for number, line in enumerate(sheet.lines):
        _check_line(sheet, line, broken.at("lines", line.id, number), faults, formats, broken)
    for number, guarantee in enumerate(() if ("", "guarantees") in broken.lacking else sheet.guarantees):
        path: Path = ("guarantees", number)
        _known(faults, path, "format", [guarantee.format], formats, "format")
        _known(faults, path, "lines", [line for line, _ in guarantee.lines], lines, "line")
        if guarantee.pack is not None and guarantee.format in sheet.format_by_id:
            packs = {pack.id for pack in sheet.format_by_id[guarantee.format].packs}
            _known(faults, path, "pack", [guarantee.pack], packs, "pack")
        for name, _ in guarantee.lines:
            if name in sheet.line_by_id and sheet.line_by_id[name].kind is LineKind.BASE:
                faults.add(path, f"lines.{name}", "a base line fills the other slots; it cannot be guaranteed")
    versions = sum(len(line.cards) or len(_parent_cards(sheet, line)) for line in sheet.lines)
    if versions > MOST_VERSIONS:
        faults.add((), "lines", f"the lines make {versions:,} versions; a sheet holds at most {MOST_VERSIONS:,}")
    if not faults.faults:
        for number, fmt in enumerate(sheet.formats):
            try:
                build_box_model(sheet, fmt)
            except InputError as error:
                for fault in error.faults:
                    faults.add(("formats", number), fault.field, fault.message)


def _check_format(sheet: ProductSheet, fmt: Format, path: Path, faults: FaultList, lines_broken: bool) -> None:
    _unique(faults, path, [pack.id for pack in fmt.packs], "packs")
    if lines_broken:  # the base may be among them
        return
    bases = [line for line in sheet.lines if line.kind is LineKind.BASE and is_in(line, fmt.id)]
    if len(bases) != 1:
        have = " and ".join(line.name for line in bases) or "none"
        faults.add(path, "id", f"a format needs exactly one base line, {fmt.name} has {have}; see the lines' formats")


def _check_line(
    sheet: ProductSheet, line: Line, path: Path, faults: FaultList, formats: Set[str], broken: Broken
) -> None:
    if (line.id, "cards") not in broken.lacking:
        _unique(faults, (*path, "cards"), [card.number for card in line.cards], "number")
    if line.kind is LineKind.BASE:
        _known(faults, path, "formats", line.formats or (), formats, "format")
        if line.formats == ():
            faults.add(path, "formats", "names no format; leave it out for all of them")
        for name, given in (("odds", line.odds), ("not_in", line.not_in), ("cards_of", line.cards_of)):
            if given:
                faults.add(path, name, "a base line has none; it fills the slots that no hit took")
    elif line.formats is not None:
        faults.add(path, "formats", "only a base line names its formats; other lines give odds or not_in")
    _known(faults, path, "not_in", line.not_in, formats, "format")
    _check_parent(sheet, line, path, faults, broken)
    seen: Counter[tuple[str, str | None]] = Counter()
    for number, odds in enumerate(line.odds):
        at: Path = path if (line.id, "odds") in broken.lacking else (*path, "odds", number)
        _known(faults, at, "format", [odds.format], formats, "format")
        seen[odds.format, odds.pack] += 1
        if seen[odds.format, odds.pack] > 1:
            faults.add(at, "format", f"{line.name} has odds for {odds.format} twice")
        if odds.format in line.not_in:
            faults.add(at, "format", f"{line.name} gives odds for {odds.format} and says that it is not in it")
        fmt = sheet.format_by_id.get(odds.format)
        if fmt is None:
            continue
        if odds.pack is not None:
            _known(faults, at, "pack", [odds.pack], {pack.id for pack in fmt.packs}, "pack")
        if odds.statement is not None and odds.statement.per is Per.CASE and fmt.boxes_per_case is None:
            faults.add(at, "statement", f"odds per case need boxes_per_case of {fmt.name}")
        elif odds.statement is not None and odds.basis is Basis.AVERAGE:
            cards = max((p.cards for p in fmt.packs if odds.pack in (None, p.id)), default=0)
            packs = sum(p.count for p in fmt.packs if odds.pack in (None, p.id))
            if packs and rate_per_pack(odds.statement, packs, fmt.boxes_per_case) > cards:
                faults.add(at, "statement", f"more hits than the {cards} cards of a pack")


def _check_parent(sheet: ProductSheet, line: Line, path: Path, faults: FaultList, broken: Broken) -> None:
    if line.cards_of is None:
        for name in ("only", "price_multiple", "price_floor", "price_overrides"):
            if getattr(line, name):
                faults.add(path, name, "only for a line that takes its cards from another (cards_of)")
        if line.kind is LineKind.BASE and not line.cards and (line.id, "cards") not in broken.lacking:
            faults.add(path, "cards", "a base line lists its cards")
        return
    if line.cards:
        faults.add(path, "cards", "give either cards or cards_of, not both")
    if line.cards_of in broken.lines or (line.cards_of, "cards") in broken.lacking:
        return
    parent = sheet.line_by_id.get(line.cards_of)
    if parent is None or parent.cards_of is not None or not parent.cards:
        faults.add(path, "cards_of", f"“{line.cards_of}” is not a line that lists its own cards")
        return
    numbers = {card.number for card in parent.cards}
    _known(faults, path, "only", line.only or (), numbers, f"card of {parent.name}")
    if line.only is not None and not line.only:
        faults.add(path, "only", "names no card; leave it out for the whole checklist")
    mine = numbers if line.only is None else set(line.only)
    _known(faults, path, "price_overrides", [number for number, _ in line.price_overrides], mine, "card of this line")


def _parent_cards(sheet: ProductSheet, line: Line) -> Sequence[str]:
    if line.only is not None:
        return line.only
    parent = sheet.line_by_id.get(line.cards_of or "")
    return [] if parent is None else [card.number for card in parent.cards]


def _known(faults: FaultList, path: Path, name: str, given: Iterable[str], known: Iterable[str], what: str) -> None:
    names = set(known)
    for item in given:
        if item not in names:
            faults.add(path, name, f"there is no {what} “{item[:60]}”")


def _unique(faults: FaultList, path: str | Path, ids: list[str], name: str) -> None:
    """Report ids that come twice; ``path`` is a list's name, or the path of what holds the list."""
    start: Path = (path,) if isinstance(path, str) else path
    seen: set[str] = set()
    for index, item in enumerate(ids):
        if item in seen:
            at = start if name == "packs" else (*start, index)
            faults.add(at, name, f"“{item}” is there twice")
        seen.add(item)
