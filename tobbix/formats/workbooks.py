"""A product sheet as an XLSX workbook, a sheet for each table. Texts that begin with = + - @ are written as text, and
stay text.
"""

from collections.abc import Callable, Iterator
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font

from tobbix.core.base.errors import Fault, InputError
from tobbix.formats.limits import MOST_COLUMNS, MOST_ROWS
from tobbix.formats.sheet_tables import COLUMNS, OPTIONAL, Document, Row, Tabled, check_head, to_document, to_table
from tobbix.formats.unpacking import TOLD_EVERY, open_workbook

Progress = Callable[[int], None]


def read_workbook(content: bytes, progress: Progress = lambda rows: None) -> Tabled:
    """The document of a workbook, where each of its parts stands, and what is wrong with its tables. Raises InputError
    for one that holds no sheet at all."""
    faults: list[Fault] = []
    return to_document(_read_tables(content, progress, faults), faults)


def _read_tables(content: bytes, progress: Progress, faults: list[Fault]) -> dict[str, list[Row]]:
    try:
        book = open_workbook(content)
        tables = {name: list(_rows(book, name, faults, progress)) for name in COLUMNS}
    except (InputError, MemoryError):
        raise
    except Exception as error:
        raise InputError.at("file", f"is not a workbook that can be read ({type(error).__name__})") from error
    return tables


def _rows(book: Workbook, name: str, faults: list[Fault], progress: Progress) -> Iterator[Row]:
    if name not in book.sheetnames:
        if name not in OPTIONAL:
            faults.append(Fault("sheet", f"the workbook has no sheet {name}", name))
        return
    sheet = book[name]
    sheet.reset_dimensions()
    rows = sheet.iter_rows()
    head = [str(cell.value or "").strip() for cell in next(iter(rows), ())]
    check_head(name, head, faults)
    for number, row in enumerate(rows, 2):
        if number > MOST_ROWS:
            faults.append(Fault("file", f"the sheet has more than {MOST_ROWS:,} rows", name))
            return
        if number % TOLD_EVERY == 0:
            progress(number)
        if len(row) > MOST_COLUMNS and any(cell.value is not None for cell in row[MOST_COLUMNS:]):
            faults.append(Fault("file", f"the sheet has more than {MOST_COLUMNS} columns", name, number))
            return
        cells = {}
        for column, cell in zip(head, row, strict=False):
            if not column or cell.value is None:
                continue
            if cell.data_type in ("f", "e"):
                what = "a formula; paste its value" if cell.data_type == "f" else f"the error {cell.value}"
                faults.append(Fault(column, f"holds {what}", name, number))
                continue
            cells[column] = _plain(cell.value)
        if any(value != "" for value in cells.values()):
            yield Row(name, number, cells)


def _plain(value: object) -> object:
    """A cell's value as a document holds it: text, whole number, decimal or flag."""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == datetime.min.time() else value.isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float):
        return int(value) if value.is_integer() and abs(value) < 1e15 else Decimal(repr(value))
    return value


def write_workbook(document: Document) -> bytes:
    """The workbook of a canonical document."""
    book = Workbook(write_only=True)
    for name, columns in COLUMNS.items():
        sheet = book.create_sheet(name)
        sheet.freeze_panes = "A2"
        head = [WriteOnlyCell(sheet, column) for column in columns]
        for cell in head:
            cell.font = Font(bold=True)
        sheet.append(head)
        for values in to_table(document, name):
            cells = []
            for value in values:
                cell = WriteOnlyCell(sheet, value)
                if isinstance(value, str):
                    cell.data_type = "s"  # never a formula, whatever it begins with
                cells.append(cell)
            sheet.append(cells)
    stream = BytesIO()
    book.save(stream)
    return stream.getvalue()
