"""Lists of items as CSV or XLSX, in and out: the owner's collection as a spreadsheet keeps it.

Columns: see ``COLUMNS``; only name has to be there. An empty basis is unknown, never 0.
"""

import csv
import re
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO, StringIO
from operator import attrgetter

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from python_calamine import CalamineWorkbook

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.holdings.states import CONDITIONS, Kind, State
from tobbix.formats.confined import Progress, read_confined
from tobbix.formats.formula_marks import mark, unmark
from tobbix.formats.limits import AT_ONCE, MB, MOST_BYTES, MOST_COLUMNS, MOST_FAULTS, MOST_ITEM_ROWS
from tobbix.formats.unpacking import TOLD_EVERY, ZIP, check_unpacked

COLUMNS = ("name", "kind", "release", "format", "line", "number", "variant", "count", "condition", "state", "serial",
           "place", "basis", "value", "acquired_on", "never_for_sale", "note")  # fmt: skip
_UNPRINTABLE = re.compile(r"[\x00-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
_AMOUNT = re.compile(r"[0-9]{1,8}(?:\.[0-9]{1,20}|,[0-9]{1,2})?")
KINDS = tuple(kind.value for kind in Kind)
STATES = tuple(state.value for state in State if state is not State.UNDONE)
_YES = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False, "": False}


@dataclass(frozen=True, slots=True)
class ItemLine:
    """A row of the list; ``row`` as the spreadsheet counts."""

    row: int
    name: str
    release: str | None
    line: str | None
    number: str | None
    variant: str | None
    count: int
    condition: str | None
    serial: str | None
    place: str | None
    basis: Decimal | None
    value: Decimal | None
    acquired_on: date | None
    never_for_sale: bool
    note: str | None
    kind: str | None = None
    format: str | None = None
    state: str | None = None


def parse_items(content: bytes, progress: Progress | None = None, kept: list[Fault] | None = None) -> list[ItemLine]:
    """Read a list from CSV (UTF-8, comma or semicolon) or XLSX: what is not a small text, in a process of its own.
    ``progress`` is told the rows so far. Raises InputError with every fault, by row; with ``kept`` the faults of rows
    are added to that instead, so that what else is wrong with the list can be said with them.
    """
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // MB} MB")
    if content.startswith(ZIP) or len(content) > AT_ONCE:
        values, said = read_confined("items", content, progress)
        lines, faults = [ItemLine(*row) for row in values], [Fault(*fault) for fault in said]
    else:
        lines, faults = read_items(content)
    if kept is not None:
        kept += faults
    elif faults:
        raise InputError(faults[:MOST_FAULTS])
    return lines


def read_items(content: bytes, progress: Progress = lambda rows: None) -> tuple[list[ItemLine], list[Fault]]:
    """The same, in place: the rows, and the faults of rows."""
    rows = read_rows(content, progress)
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
        spare = next((at for at, cell in enumerate(cells) if _text(cell) and (at >= len(head) or not head[at])), None)
        if spare is not None:
            faults.append(Fault(f"column {spare + 1}", "has no name above it: there is a cell too many", None, number))
        if any(row.values()):
            found.append(_line(number, row, faults))
        if len(faults) > MOST_FAULTS:
            break
    return found, faults


def read_rows(
    content: bytes, progress: Progress = lambda rows: None, most: int | None = None
) -> list[Sequence[object]]:
    """The rows of a table, its head first, from CSV (UTF-8, comma or semicolon) or the first sheet of a workbook, at
    ``most`` so many. Raises InputError at ``file``."""
    read = _read_workbook if content.startswith(ZIP) else _read_csv
    return read(content, progress, MOST_ITEM_ROWS if most is None else most)


def read_values(content: bytes, progress: Progress) -> tuple[list[tuple[object, ...]], list[tuple[object, ...]]]:
    """The same as plain tuples, which are quickly handed over."""
    values = attrgetter(*(field.name for field in fields(ItemLine)))
    lines, faults = read_items(content, progress)
    return [values(line) for line in lines], [(f.field, f.message, f.sheet, f.row) for f in faults]


def _text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return cell.date().isoformat()
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return str(cell).strip()


def _line(number: int, row: Mapping[str, str], faults: list[Fault]) -> ItemLine:
    """A row; what is wrong with it is added to the faults, and stands empty in it."""

    def fault(field: str, message: str) -> None:
        faults.append(Fault(field, message, None, number))

    def amount(field: str) -> Decimal | None:
        text = row.get(field, "")
        if not text:
            return None
        if not _AMOUNT.fullmatch(text):
            fault(field, f"“{text[:40]}” is not an amount; write it like 12.50, or leave it empty if it is not known")
            return None
        return Decimal(text.replace(",", "."))

    def one_of(field: str, words: Sequence[str]) -> str | None:
        text = row.get(field, "") or None
        found = next((word for word in words if text is not None and word.lower() == text.lower()), None)
        if text is not None and found is None:
            fault(field, f"must be one of {', '.join(words)}")
        return found

    def words(field: str, most: int) -> str | None:
        text = row.get(field, "")
        if _UNPRINTABLE.search(text):
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
    keep = _YES.get(row.get("never_for_sale", "").lower())
    if keep is None:
        fault("never_for_sale", "must be yes or no")
    return ItemLine(
        number, name or "", words("release", 64), words("line", 64), words("number", 200), words("variant", 60),
        max(count, 1), one_of("condition", CONDITIONS),
        words("serial", 40), words("place", 100), amount("basis"), amount("value"), day, bool(keep), words("note", 500),
        one_of("kind", KINDS), words("format", 64), one_of("state", STATES),
    )  # fmt: skip


def _read_csv(content: bytes, progress: Progress, most: int) -> list[Sequence[object]]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise InputError.at("file", f"is neither a workbook nor UTF-8 text (byte {error.start:,})") from None
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else ","
    rows: list[Sequence[object]] = []
    try:
        for row in csv.reader(StringIO(text, newline=""), delimiter=delimiter, strict=True):
            if len(rows) > most:
                raise InputError.at("file", f"has more than {most:,} rows; bring it in as several files")
            if len(row) > MOST_COLUMNS and any(row[MOST_COLUMNS:]):
                raise InputError.at("file", f"has more than {MOST_COLUMNS} columns")
            if len(rows) % TOLD_EVERY == 0:
                progress(len(rows))
            rows.append([unmark(cell) for cell in row[:MOST_COLUMNS]])
    except csv.Error as error:
        raise InputError.at("file", f"is not CSV: {error}") from None
    return rows


def _read_workbook(content: bytes, progress: Progress, most: int) -> list[Sequence[object]]:
    rows: list[Sequence[object]] = []
    try:
        with zipfile.ZipFile(BytesIO(content)) as archive:
            check_unpacked(archive)
        sheet = CalamineWorkbook.from_filelike(BytesIO(content)).get_sheet_by_index(0)
        if sheet.width > MOST_COLUMNS:
            raise InputError.at("file", f"has more than {MOST_COLUMNS} columns")
        if sheet.height > most + 1:
            raise InputError.at("file", f"has more than {most:,} rows; bring it in as several files")
        for number, row in enumerate(sheet.iter_rows(), 1):
            if number % TOLD_EVERY == 0:
                progress(number)
            rows.append(row)
    except (InputError, MemoryError):
        raise
    except Exception as error:
        raise InputError.at("file", f"is not a workbook that can be read ({type(error).__name__})") from error
    return rows


def write_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """A table as CSV; texts that look like formulas are written as text."""
    text = StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(head)
    for row in rows:
        writer.writerow([mark(cell) for cell in row])
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
            plain = ILLEGAL_CHARACTERS_RE.sub("\ufffd", value) if isinstance(value, str) else value
            cell = WriteOnlyCell(sheet, plain)  # type: ignore[arg-type]
            if isinstance(value, str):
                cell.data_type = "s"
            elif isinstance(value, Decimal):
                cell.number_format = f"{Decimal(0):.{max(-int(value.as_tuple().exponent), 0)}f}"
            cells.append(cell)
        sheet.append(cells)
    stream = BytesIO()
    book.save(stream)
    return stream.getvalue()
