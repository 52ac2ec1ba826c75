"""The canonical document of a product sheet: defaults written out, decimals as strings, one order of fields."""

from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.products.odds import plain
from tobbix.core.products.prices import line_versions
from tobbix.core.products.reading import MARK, VERSION
from tobbix.core.products.sheet import STANDARD_PACK, Format, Line, ProductSheet

Document = dict[str, object]


def write_document(sheet: ProductSheet) -> Document:
    """The one document that stands for a sheet: reading it gives the sheet back, writing that gives it again."""
    release = sheet.release
    return {
        "tobbix": MARK,
        "schema_version": VERSION,
        "revision": sheet.revision,
        "id": sheet.id,
        "release": {
            "name": release.name,
            "series": release.series,
            "year": release.year,
            "publisher": release.publisher,
        },
        "currency": sheet.currency,
        "priced_on": sheet.priced_on.isoformat(),
        "formats": [_format(sheet, fmt) for fmt in sheet.formats],
        "lines": [_line(sheet, line) for line in sheet.lines],
        "guarantees": [
            {
                "format": g.format,
                "count": g.count,
                "per": g.per.value,
                "pack": g.pack,
                "lines": {line: None if share is None else plain(share) for line, share in g.lines},
            }
            for g in sheet.guarantees
        ],
    }


def price_text(value: Decimal | None, currency: str) -> str | None:
    """A price with the digits of its currency's minor unit, more only where they say something.

    >>> price_text(Decimal("1.5"), "EUR"), price_text(Decimal("0.1250"), "EUR")
    ('1.50', '0.125')
    """
    if value is None:
        return None
    text = plain(value)
    digits = len(text.partition(".")[2])
    return text if digits >= minor_units(currency) else f"{value:.{minor_units(currency)}f}"


def _format(sheet: ProductSheet, fmt: Format) -> Document:
    document: Document = {"id": fmt.id, "name": fmt.name, "channel": fmt.channel}
    if len(fmt.packs) == 1 and fmt.packs[0].id == STANDARD_PACK:
        document |= {"packs_per_box": fmt.packs[0].count, "cards_per_pack": fmt.packs[0].cards}
    else:
        document["packs"] = [{"id": pack.id, "count": pack.count, "cards": pack.cards} for pack in fmt.packs]
    return document | {
        "boxes_per_case": fmt.boxes_per_case,
        "price": price_text(fmt.price, sheet.currency),
        "usable": plain(fmt.usable),
    }


def _line(sheet: ProductSheet, line: Line) -> Document:
    document: Document = {
        "id": line.id,
        "name": line.name,
        "kind": line.kind.value,
        "print_run": line.print_run,
        "redemption": line.redemption,
    }
    if line.cards_of is not None:
        document |= {
            "cards_of": line.cards_of,
            "only": None if line.only is None else list(line.only),
            "price_multiple": None if line.price_multiple is None else plain(line.price_multiple),
            "price_floor": price_text(line.price_floor, sheet.currency),
            "price_overrides": {
                v.number: price_text(v.price, sheet.currency) for v in line_versions(sheet, line) if v.own
            },
        }
    if line.formats is not None:
        document["formats"] = list(line.formats)
    if line.kind.value != "base":
        document["odds"] = [
            {
                "format": odds.format,
                "pack": odds.pack,
                "statement": None if odds.statement is None else str(odds.statement),
                "basis": odds.basis.value,
            }
            for odds in line.odds
        ]
        document["not_in"] = list(line.not_in)
    if line.cards_of is None:
        document["cards"] = [
            {
                "number": card.number,
                "subject": card.subject,
                "weight": plain(card.weight),
                "price": price_text(card.price, sheet.currency),
            }
            for card in line.cards
        ]
    return document
