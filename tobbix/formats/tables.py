"""Any table as plain text with tabs: from CSV, the first sheet of a workbook, or a list of sales in JSON."""

from collections.abc import Sequence
from datetime import date, datetime

from tobbix.core.base.errors import InputError
from tobbix.formats.confined import Progress, read_confined
from tobbix.formats.item_lists import read_rows
from tobbix.formats.limits import AT_ONCE, MB, MOST_BYTES
from tobbix.formats.sales import parse_sales
from tobbix.formats.unpacking import ZIP

_MOST_CELL = 500
_SALES = ("release", "line", "number", "variant", "title", "kind", "day", "price", "shipping", "tax", "currency",
          "state", "grader", "grade", "market", "bids", "lot", "subgrades", "photo")  # fmt: skip


def table_text(content: bytes) -> str:
    """A file's table, its cells parted by tabs. Raises InputError at ``file``."""
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // MB} MB")
    if content.startswith(ZIP) or len(content) > AT_ONCE:
        return str(read_confined("table", content))
    return read_text(content)


def read_text(content: bytes, progress: Progress = lambda rows: None) -> str:
    """The same, in place."""
    if content.lstrip()[:1] == b"{":
        rows: list[Sequence[object]] = [_SALES]
        for seen in parse_sales(content).observations:
            card, comp = seen.card, seen.comp
            rows.append(
                (
                    card.release, card.line, card.number, card.variant, seen.subject, comp.kind.value, comp.day,
                    comp.price, comp.shipping, comp.tax, comp.currency, comp.condition, comp.grader, comp.grade,
                    comp.market, comp.bids, comp.lot, comp.subgrades, comp.photo,
                )
            )  # fmt: skip
    else:
        rows = list(read_rows(content, progress))
    if not rows:
        raise InputError.at("file", "is empty")
    return "\n".join("\t".join(map(_cell, row)) for row in rows)


def _cell(value: object) -> str:
    if isinstance(value, datetime | date):
        return value.isoformat()[:10]
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return "" if value is None else " ".join(str(value).split())[:_MOST_CELL]
