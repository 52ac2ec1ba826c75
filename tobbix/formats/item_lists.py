"""Lists of items as CSV or XLSX, in and out: the owner's collection as a spreadsheet keeps it.

Columns: see ``COLUMNS``; only name has to be there. An empty basis is unknown, never 0.
"""

import csv
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal, InvalidOperation
from io import BytesIO, StringIO

from openpyxl import Workbook, load_workbook
from openpyxl.cell import WriteOnlyCell

from tobbix.core.base.errors import Fault, InputError

COLUMNS = ("name", "release", "line", "number", "count", "condition", "serial", "place", "basis", "value",
           "acquired_on", "never_for_sale", "note")  # fmt: skip
CONDITIONS = ("mint", "NM", "LP", "MP", "HP", "damaged")
MOST_BYTES = 24 * 1024 * 1024
_MARKED = ("=", "+", "-", "@", "'")
_MOST_ROWS = 100_001
_YES = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False, "": False}


@dataclass(frozen=True, slots=True)
class ItemLine:
    """A row of the list; ``row`` as the spreadsheet counts."""

    row: int
    name: str
    release: str | None
    line: str | None
    number: str | None
    count: int
    condition: str | None
    serial: str | None
    place: str | None
    basis: Decimal | None
    value: Decimal | None
    acquired_on: date | None
    never_for_sale: bool
    note: str | None


def parse_items(content: bytes) -> list[ItemLine]:
    """Read a list from CSV (UTF-8, comma or semicolon) or XLSX. Raises InputError with every fault, by row."""
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // 1024 // 1024} MB")
    rows = _read_workbook(content) if content.startswith(b"PK\x03\x04") else _read_csv(content)
    if not rows:
        raise InputError.at("file", "is empty")
    head = [str(cell or "").strip().lower() for cell in rows[0]]
    unknown = [name for name in head if name and name not in COLUMNS]
    if unknown or "name" not in head:
        problem = f"“{unknown[0][:40]}” is not a column" if unknown else "the column name is missing"
        raise InputError.at("file", f"{problem}; those are {', '.join(COLUMNS)}")
    faults: list[Fault] = []
    found = []
    for number, cells in enumerate(rows[1:], 2):
        row = {name: _text(cell) for name, cell in zip(head, cells, strict=False) if name}
        if any(row.values()):
            line = _line(number, row, faults)
            if line is not None:
                found.append(line)
    if faults:
        raise InputError(faults[:200])
    return found


def _text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return cell.date().isoformat()
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    text = str(cell).strip()
    return text[1:] if text.startswith("'") and text[1:2] in _MARKED else text


def _line(number: int, row: Mapping[str, str], faults: list[Fault]) -> ItemLine | None:
    before = len(faults)

    def fault(field: str, message: str) -> None:
        faults.append(Fault(field, message, None, number))

    def amount(field: str) -> Decimal | None:
        text = row.get(field, "")
        if not text:
            return None
        try:
            value = Decimal(text)
            if not value.is_finite() or not 0 <= value <= 99_999_999:
                raise InvalidOperation
            return value
        except InvalidOperation:
            fault(field, f"“{text[:40]}” is not an amount; write it like 12.50, or leave it empty if it is not known")
            return None

    def words(field: str, most: int) -> str | None:
        text = row.get(field, "")
        if any(ord(character) < 32 for character in text):
            fault(field, "holds a character that cannot be printed")
        if len(text) > most:
            fault(field, f"is longer than {most} characters")
        return text or None

    name = words("name", 300)
    if name is None:
        fault("name", "is missing")
    count_text = row.get("count", "") or "1"
    count = int(count_text) if count_text.isascii() and count_text.isdigit() and len(count_text) < 8 else 0
    if count < 1:
        fault("count", "must be a whole number from 1")
    day_text = row.get("acquired_on", "")
    day = None
    if day_text:
        try:
            day = date.fromisoformat(day_text)
        except ValueError:
            fault("acquired_on", "is not a day like 2026-11-25")
    condition = row.get("condition", "") or None
    if condition is not None:
        by_word = {item.lower(): item for item in CONDITIONS}
        if condition.lower() not in by_word:
            fault("condition", f"must be one of {', '.join(CONDITIONS)}")
        condition = by_word.get(condition.lower())
    keep = _YES.get(row.get("never_for_sale", "").lower())
    if keep is None:
        fault("never_for_sale", "must be yes or no")
    line = ItemLine(
        number, name or "", words("release", 64), words("line", 64), words("number", 200), max(count, 1), condition,
        words("serial", 40), words("place", 100), amount("basis"), amount("value"), day, bool(keep), words("note", 500),
    )  # fmt: skip
    return line if len(faults) == before else None


def _read_csv(content: bytes) -> list[Sequence[object]]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise InputError.at("file", f"is neither a workbook nor UTF-8 text (byte {error.start:,})") from None
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else ","
    rows: list[Sequence[object]] = []
    try:
        for row in csv.reader(StringIO(text, newline=""), delimiter=delimiter, strict=True):
            rows.append(row)
            if len(rows) > _MOST_ROWS:
                raise InputError.at("file", "has more than 100,000 rows")
    except csv.Error as error:
        raise InputError.at("file", f"is not CSV: {error}") from None
    return rows


def _read_workbook(content: bytes) -> list[Sequence[object]]:
    try:
        with zipfile.ZipFile(BytesIO(content)) as archive:
            if sum(member.file_size for member in archive.infolist()) > 400 * 1024 * 1024:
                raise InputError.at("file", "unpacks to more than a list can need")
        book = load_workbook(BytesIO(content), read_only=True, keep_links=False)
        sheet = book[book.sheetnames[0]]
        rows = [row for row, _ in zip(sheet.iter_rows(values_only=True, max_col=40), range(_MOST_ROWS), strict=False)]
    except InputError:
        raise
    except Exception as error:
        raise InputError.at("file", f"is not a workbook that can be read ({type(error).__name__})") from error
    return [tuple(row) for row in rows]


def write_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """A table as CSV; texts that look like formulas are written as text."""
    text = StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(head)
    for row in rows:
        writer.writerow([f"'{cell}" if isinstance(cell, str) and cell.startswith(_MARKED) else cell for cell in row])
    return text.getvalue().encode()


def write_xlsx(title: str, head: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """A table as a workbook of one sheet; texts stay texts."""
    book = Workbook(write_only=True)
    sheet = book.create_sheet(title)
    sheet.freeze_panes = "A2"
    sheet.append(list(head))
    for row in rows:
        cells = []
        for value in row:
            cell = WriteOnlyCell(sheet, value)  # type: ignore[arg-type]
            if isinstance(value, str):
                cell.data_type = "s"
            cells.append(cell)
        sheet.append(cells)
    stream = BytesIO()
    book.save(stream)
    return stream.getvalue()
