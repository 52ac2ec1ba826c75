"""A release that is begun by hand: what is known on the first day, as a product sheet of the open format."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.products.naming import make_key
from tobbix.core.products.odds import parse_cell
from tobbix.core.products.reading import MARK, MOST_CARDS, VERSION


@dataclass(frozen=True, slots=True)
class FirstLine:
    """An insert line as it is first known: its name, how many cards it has, its odds as typed in one cell (Rule C-01),
    and what a card of it is worth on average as typed; empty is unknown."""

    name: str
    cards: int
    odds: str
    price: str = ""


@dataclass(frozen=True, slots=True)
class FirstSheet:
    """What is known of a release: what it is called, one format of it, how many cards the base has, and its lines."""

    name: str
    year: int
    publisher: str
    series: str | None
    currency: str
    format: str
    packs_per_box: int
    cards_per_pack: int
    boxes_per_case: int | None
    price: str
    base_cards: int
    lines: Sequence[FirstLine] = ()


def begin_sheet(said: FirstSheet, today: date, taken: Collection[str] = ()) -> dict[str, Any]:
    """The document of a product sheet for what was said. Cards are numbered from 1, in a line with its first letters
    before, and shown as nobody yet; what each is worth is what was said of the line.

    Raises InputError, at ``lines[N].odds`` and its like. What the parts say of each other is checked where it is read.
    """
    faults = [
        Fault(field, "must be 1 to 200 characters")
        for field, text in (("name", said.name), ("publisher", said.publisher), ("format", said.format))
        if not text.strip()
    ]
    lines, keys = [], ["base"]
    for at, line in enumerate(said.lines):
        if not line.name.strip():
            faults.append(Fault(f"lines[{at}].name", "must be 1 to 200 characters"))
        if not 1 <= line.cards <= MOST_CARDS:
            faults.append(Fault(f"lines[{at}].cards", f"must be from 1 to {MOST_CARDS:,}"))
            continue
        try:
            stated = parse_cell(line.odds, f"lines[{at}].odds")
        except InputError as error:
            faults += error.faults
            continue
        key = make_key(line.name, keys)
        keys.append(key)
        mark = "".join(word[0] for word in line.name.split() if word[0].isalnum()).upper()[:4] or "N"
        odds = [] if stated is None else [{"format": "box", "statement": None if stated[0] is None else str(stated[0]),
                                           "basis": stated[1].value}]  # fmt: skip
        lines.append({
            "id": key, "name": line.name.strip(), "kind": "insert", "odds": odds,
            "not_in": ["box"] if stated is None else [], "cards": _cards(line.cards, mark, line.price.strip() or None),
        })  # fmt: skip
    if not 1 <= said.base_cards <= MOST_CARDS:
        faults.append(Fault("base_cards", f"must be from 1 to {MOST_CARDS:,}"))
    if faults:
        raise InputError(faults)
    box = {
        "id": "box", "name": said.format.strip(), "packs_per_box": said.packs_per_box,
        "cards_per_pack": said.cards_per_pack, "boxes_per_case": said.boxes_per_case,
        "price": said.price.strip() or None,
    }  # fmt: skip
    base = {"id": "base", "name": "Base", "kind": "base", "cards": _cards(said.base_cards, "", None)}
    title = f"{said.name} {said.series or ''} {said.year}"
    release = {"name": said.name.strip(), "year": said.year, "publisher": said.publisher.strip()}
    if said.series:
        release["series"] = said.series
    return {
        "tobbix": MARK, "schema_version": VERSION, "id": make_key(title, taken), "release": release,
        "currency": said.currency, "priced_on": today.isoformat(), "formats": [box], "lines": [base, *lines],
    }  # fmt: skip


def _cards(count: int, mark: str, price: str | None) -> list[dict[str, Any]]:
    return [
        {"number": f"{mark}{at}", "subject": "not said yet", "weight": "1", "price": price}
        for at in range(1, count + 1)
    ]
