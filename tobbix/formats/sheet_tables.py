"""A product sheet as tables: Release, Formats, Lines, Odds, Guarantees and Cards, in a workbook or as CSV.

Each table has its fields in the first row. Lists stand in one cell, separated by semicolons; kinds of packs as
``std 15 x 8; bonus 1 x 3``; a guarantee is one row per line, rows with the same number in ``guarantee`` belong
together.
"""

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Any

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.products.fields import Path, Place
from tobbix.formats.limits import MOST_FAULTS

COLUMNS: dict[str, tuple[str, ...]] = {
    "Release": ("tobbix", "schema_version", "revision", "id", "name", "series", "year", "publisher", "currency",
                "priced_on"),
    "Formats": ("id", "name", "channel", "packs_per_box", "cards_per_pack", "packs", "boxes_per_case", "price",
                "usable"),
    "Lines": ("id", "name", "kind", "print_run", "redemption", "cards_of", "only", "price_multiple", "price_floor",
              "formats", "not_in"),
    "Odds": ("line", "format", "pack", "statement", "basis"),
    "Guarantees": ("guarantee", "format", "count", "per", "pack", "line", "share"),
    "Cards": ("line", "number", "subject", "weight", "price"),
}  # fmt: skip
OPTIONAL = ("Odds", "Guarantees")
_PACK = re.compile(r"(\S+)\s+([0-9]+)\s*x\s*([0-9]+)")
_TOP = ("tobbix", "schema_version", "revision", "id", "currency", "priced_on")

Document = dict[str, object]


@dataclass(frozen=True)
class Row:
    """A row of a sheet by field; ``number`` as the spreadsheet counts."""

    sheet: str
    number: int
    cells: Mapping[str, object]

    def text(self, name: str) -> str:
        value = self.cells.get(name)
        return "" if value is None else str(value).strip()

    def listed(self, name: str) -> list[str] | None:
        return [item.strip() for item in self.text(name).split(";") if item.strip()] if self.text(name) else None


Tabled = tuple[Document, Callable[[Path], Place], list[Fault]]


def to_document(tables: Mapping[str, list[Row]], faults: list[Fault]) -> Tabled:
    """The document of the tables, where each of its parts stands, and the faults so far. Raises InputError with them
    where there is no release to read on with."""
    if len(tables["Release"]) != 1:
        faults.append(Fault("id", "the sheet Release has exactly one row below its head", "Release"))
        raise InputError(faults[:MOST_FAULTS])
    places: dict[Path, Place] = {}
    head = tables["Release"][0]
    places[()] = places[("release",)] = Place("Release", head.number)
    document: Document = {name: head.cells.get(name) for name in _TOP}
    document["release"] = {name: head.cells.get(name) for name in ("name", "series", "year", "publisher")}
    document["formats"] = [_format(row, faults) for row in tables["Formats"]]
    lines = [_line(row) for row in tables["Lines"]]
    document["lines"] = lines
    by_id: dict[object, tuple[int, Document]] = {line["id"]: (i, line) for i, line in reversed(list(enumerate(lines)))}
    for name in ("formats", "lines"):
        places |= {(name, i): Place(row.sheet, row.number) for i, row in enumerate(tables[name.title()])}
    for row in tables["Odds"]:
        found = _owner(row, by_id, faults)
        if found is not None:
            odds = _list_of(found[1], "odds")
            places["lines", found[0], "odds", len(odds)] = Place(row.sheet, row.number)
            odds.append({name: row.cells.get(name) for name in ("format", "pack", "statement", "basis")})
    for row in tables["Cards"]:
        found = _owner(row, by_id, faults)
        if found is not None:
            _add_card(row, found, places)
    document["guarantees"] = _guarantees(tables["Guarantees"], places, faults)

    def locate(path: Path) -> Place:
        while path not in places:
            path = path[:-1]
        return places[path]

    return document, locate, faults


def _owner(row: Row, by_id: Mapping[object, tuple[int, Document]], faults: list[Fault]) -> tuple[int, Document] | None:
    line = row.text("line")
    if line not in by_id:
        faults.append(Fault("line", f"there is no line “{line[:60]}”" if line else "is missing", row.sheet, row.number))
    return by_id.get(line)


def _list_of(document: Document, name: str) -> list[object]:
    items = document.setdefault(name, [])
    assert isinstance(items, list)
    return items


def _add_card(row: Row, found: tuple[int, Document], places: dict[Path, Place]) -> None:
    index, line = found
    if line["cards_of"] is None:
        cards = _list_of(line, "cards")
        places["lines", index, "cards", len(cards)] = Place(row.sheet, row.number)
        cards.append({name: row.cells.get(name) for name in ("number", "subject", "weight", "price")})
    else:  # a card of another line's checklist: its own price
        overrides = line.setdefault("price_overrides", {})
        assert isinstance(overrides, dict)
        overrides[row.text("number")] = row.cells.get("price")


def _format(row: Row, faults: list[Fault]) -> Document:
    names = ("id", "name", "channel", "packs_per_box", "cards_per_pack", "boxes_per_case", "price", "usable")
    document: Document = {name: row.cells.get(name) for name in names}
    listed = row.listed("packs")
    if listed is not None:
        packs = []
        for text in listed:
            match = _PACK.fullmatch(text)
            if match is None:
                message = f"“{text[:40]}” is not a kind of pack; write std 15 x 8; bonus 1 x 3"
                faults.append(Fault("packs", message, row.sheet, row.number))
            else:
                packs.append({"id": match[1], "count": int(match[2]), "cards": int(match[3])})
        document["packs"] = packs
    return document


def _line(row: Row) -> Document:
    document: Document = {
        name: row.cells.get(name) for name in ("name", "kind", "print_run", "price_multiple", "price_floor")
    }
    redemption = row.cells.get("redemption")
    words = {"": None, "yes": True, "true": True, "no": False, "false": False}
    document["redemption"] = words.get(redemption.strip().lower(), redemption) if isinstance(redemption, str) \
        else redemption  # fmt: skip
    document["id"], document["cards_of"] = row.text("id") or None, row.text("cards_of") or None
    for name in ("only", "formats", "not_in"):
        document[name] = row.listed(name)
    return document


def _guarantees(rows: Sequence[Row], places: dict[Path, Place], faults: list[Fault]) -> list[Document]:
    groups: dict[str, list[Row]] = {}
    for row in rows:
        if not row.text("guarantee"):
            faults.append(Fault("guarantee", "is missing; number the guarantees 1, 2, 3", row.sheet, row.number))
        groups.setdefault(row.text("guarantee"), []).append(row)
    guarantees: list[Document] = []
    for group in groups.values():
        first = group[0]
        for row in group[1:]:
            for name in ("format", "count", "per", "pack"):
                if row.text(name) and row.text(name) != first.text(name):
                    message = f"differs from row {first.number} of the same guarantee"
                    faults.append(Fault(name, message, row.sheet, row.number))
        places["guarantees", len(guarantees)] = Place(first.sheet, first.number)
        document: Document = {name: first.cells.get(name) for name in ("format", "count", "per", "pack")}
        document["lines"] = {row.text("line"): row.cells.get("share") for row in group}
        guarantees.append(document)
    return guarantees


def check_head(name: str, head: Sequence[str], faults: list[Fault]) -> None:
    """Report columns that a table does not have, or has twice."""
    for column in head:
        if column and column not in COLUMNS[name]:
            message = f"is not a column of {name}; those are {', '.join(COLUMNS[name])}"
            faults.append(Fault(column[:60], message, name, 1))
        elif column and head.count(column) > 1:
            faults.append(Fault(column, "stands over two columns", name, 1))


def to_table(document: Document, name: str) -> Iterable[Sequence[Any]]:
    """The rows of one table of a canonical document."""
    lines = _objects(document["lines"])
    columns = COLUMNS[name]
    if name == "Release":
        values = document | dict(_object(document["release"]))
        return [[values[column] for column in columns]]
    if name == "Formats":
        return [[_cell(fmt, column) for column in columns] for fmt in _objects(document["formats"])]
    if name == "Lines":
        return [[_cell(line, column) for column in columns] for line in lines]
    if name == "Odds":
        return [
            [line["id"], *(odds[column] for column in columns[1:])]
            for line in lines
            for odds in _objects(line.get("odds", []))
        ]
    if name == "Guarantees":
        return [
            [number, g["format"], g["count"], g["per"], g["pack"], line, share]
            for number, g in enumerate(_objects(document["guarantees"]), 1)
            for line, share in _object(g["lines"]).items()
        ]
    return chain.from_iterable(_card_rows(line) for line in lines)


def _card_rows(line: Mapping[str, object]) -> Iterator[Sequence[object]]:
    for card in _objects(line.get("cards", [])):
        yield [line["id"], card["number"], card["subject"], card["weight"], card["price"]]
    for number, price in _object(line.get("price_overrides", {})).items():
        yield [line["id"], number, None, None, price]


def _cell(part: Mapping[str, object], column: str) -> object:
    value = part.get(column)
    if column == "packs" and isinstance(value, list):
        return "; ".join(f"{pack['id']} {pack['count']} x {pack['cards']}" for pack in value)
    if isinstance(value, list):
        return "; ".join(str(item) for item in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value


def _objects(value: object) -> list[Mapping[str, object]]:
    assert isinstance(value, list)
    return value


def _object(value: object) -> Mapping[str, object]:
    assert isinstance(value, Mapping)
    return value
