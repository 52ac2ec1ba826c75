"""Product sheets for the tests, built as the open format's documents."""

from collections.abc import Sequence
from typing import Any

from hypothesis import strategies as st

from tobbix.core.products.reading import read_sheet
from tobbix.core.products.sheet import ProductSheet

Document = dict[str, Any]


def cards(prefix: str, prices: Sequence[str | None], weights: list[str] | None = None) -> list[Document]:
    weights = weights or ["1"] * len(prices)
    return [
        {"number": f"{prefix}{i}", "subject": f"Subject {prefix}{i}", "weight": weight, "price": price}
        for i, (price, weight) in enumerate(zip(prices, weights, strict=True), 1)
    ]


def line(line_id: str, prices: Sequence[str | None], odds: str | None, basis: str = "average", **more: Any) -> Document:
    """An insert with odds in the format ``box``; ``weights`` and any other field may be given."""
    said = [] if odds is None and basis == "average" else [{"format": "box", "statement": odds, "basis": basis}]
    checklist = cards(line_id.upper(), prices, more.pop("weights", None))
    return {"id": line_id, "name": line_id.title(), "kind": "insert", "odds": said, "cards": checklist, **more}


def document(lines: list[Document], base: Sequence[str | None] | None = None, **fmt: Any) -> Document:
    """A sheet with one format ``box``, by default 12 packs of 6."""
    box = {"id": "box", "name": "Box", "packs_per_box": 12, "cards_per_pack": 6, **fmt}
    base_line = {"id": "base", "name": "Base", "kind": "base", "cards": cards("", base or ["0.05"])}
    return {
        "tobbix": "product-sheet",
        "schema_version": 1,
        "id": "test",
        "release": {"name": "Test", "year": 2025, "publisher": "Ottergate Press"},
        "currency": "EUR",
        "priced_on": "2026-11-01",
        "formats": [box],
        "lines": [base_line, *lines],
    }


def sheet(lines: list[Document], base: Sequence[str | None] | None = None, **fmt: Any) -> ProductSheet:
    guarantees = fmt.pop("guarantees", [])
    return read_sheet({**document(lines, base, **fmt), "guarantees": guarantees}).sheet


def example_1(usable: str = "1") -> Document:
    """EX1 of rule C-04; the base has a hundred cards, all at 0.05."""
    return document(
        [
            line("a", ["1"] * 5 + ["2"] * 3 + ["4", "10"], "1:3 packs"),
            line("b", ["6"] * 40 + ["9"] * 12 + ["21"] * 6 + ["45"] * 2, "1:24 packs"),
            line("c", ["5", "5", "6", "8", "12", "20", "40", "120"], "1 per box", "guaranteed",
                 weights=["1"] * 6 + ["0.5"] * 2),
        ],
        ["0.05"] * 100,
        boxes_per_case=10,
        usable=usable,
    )  # fmt: skip


PRICES = st.lists(st.integers(0, 4000).map(lambda cents: f"{cents / 100:.2f}"), min_size=1, max_size=5)


@st.composite
def documents(draw: st.DrawFn) -> dict[str, Any]:
    """Formats with up to six average lines (often more than slots) and up to one guarantee."""
    lines = [line(f"l{i}", draw(PRICES), f"1:{draw(st.integers(6, 60))} packs") for i in range(draw(st.integers(0, 6)))]
    if draw(st.booleans()):
        lines.append(line("g", draw(PRICES), f"{draw(st.integers(1, 7))} per box", "guaranteed"))
    return document(
        lines,
        draw(PRICES),
        packs_per_box=draw(st.integers(1, 8)),
        cards_per_pack=draw(st.integers(9, 10) if draw(st.booleans()) else st.integers(8, 12)),
        boxes_per_case=draw(st.integers(1, 4)),
        usable=draw(st.sampled_from(["1", "0.6"])),
    )
