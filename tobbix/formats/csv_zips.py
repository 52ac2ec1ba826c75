"""A product sheet as a zip of CSV files (RFC 4180, UTF-8, a comma between fields), one for each table.

A spreadsheet takes a text that begins with = + - @ for a formula, so such texts are written with an apostrophe before
them, and so are those that begin with an apostrophe themselves; reading takes it off again.
"""

import csv
import zipfile
from collections.abc import Iterator
from io import BytesIO, StringIO

from tobbix.core.base.errors import Fault, InputError
from tobbix.formats.formula_marks import mark, unmark
from tobbix.formats.limits import MOST_ROWS
from tobbix.formats.sheet_tables import COLUMNS, OPTIONAL, Document, Row, Tabled, check_head, to_document, to_table
from tobbix.formats.unpacking import check_unpacked

_WHOLE = (
    "schema_version",
    "revision",
    "year",
    "packs_per_box",
    "cards_per_pack",
    "boxes_per_case",
    "print_run",
    "count",
)
_DATE_OF_ZIP = (1980, 1, 1, 0, 0, 0)  # the same bytes for the same sheet


def is_csv_zip(content: bytes) -> bool:
    """Whether a zip holds CSV files rather than a workbook."""
    try:
        with zipfile.ZipFile(BytesIO(content)) as archive:
            return any(name.lower().endswith("release.csv") for name in archive.namelist())
    except (zipfile.BadZipFile, OSError, ValueError):
        return False


def read_csv_zip(content: bytes) -> Tabled:
    """The document of a zip of CSV files, where each part stands, and what is wrong with its tables. Raises InputError
    for one that holds no sheet at all."""
    faults: list[Fault] = []
    tables: dict[str, list[Row]] = {}
    try:
        with zipfile.ZipFile(BytesIO(content)) as archive:
            check_unpacked(archive)
            names = {name.rsplit("/", 1)[-1].lower(): name for name in archive.namelist()}
            for table in COLUMNS:
                stored = names.get(f"{table.lower()}.csv")
                if stored is not None:
                    tables[table] = list(_rows(table, archive.read(stored), faults))
                else:
                    tables[table] = []
                    if table not in OPTIONAL:
                        faults.append(Fault("file", f"the zip has no {table}.csv", table))
    except (zipfile.BadZipFile, OSError, RuntimeError, NotImplementedError, EOFError) as error:
        raise InputError.at("file", f"is not a zip that can be read ({type(error).__name__})") from None
    return to_document(tables, faults)


def _rows(table: str, content: bytes, faults: list[Fault]) -> Iterator[Row]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        faults.append(Fault("file", f"is not UTF-8 text (byte {error.start:,})", table))
        return
    reader = csv.reader(StringIO(text, newline=""), strict=True)
    try:
        head = [cell.strip() for cell in next(reader, [])]
        check_head(table, head, faults)
        for number, cells in enumerate(reader, 2):
            if number > MOST_ROWS:
                faults.append(Fault("file", f"the table has more than {MOST_ROWS:,} rows", table))
                return
            if len(cells) > len(head) and any(cells[len(head) :]):
                faults.append(
                    Fault("file", f"the row has {len(cells)} fields under {len(head)} columns", table, number)
                )
                continue
            values = {name: _value(name, cell) for name, cell in zip(head, cells, strict=False) if name and cell != ""}
            if values:
                yield Row(table, number, values)
    except csv.Error as error:
        faults.append(Fault("file", f"is not CSV: {error}", table, reader.line_num))


def _value(name: str, cell: str) -> object:
    if (plain := unmark(cell)) != cell:
        return plain
    return (
        int(cell) if name in _WHOLE and cell.strip().isascii() and cell.strip().isdigit() and len(cell) < 16 else cell
    )


def write_csv_zip(document: Document) -> bytes:
    """The zip of a canonical document; the same document gives the same bytes."""
    stream = BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for table, columns in COLUMNS.items():
            text = StringIO(newline="")
            writer = csv.writer(text)
            writer.writerow(columns)
            for row in to_table(document, table):
                writer.writerow([mark(value) for value in row])
            archive.writestr(zipfile.ZipInfo(f"{table}.csv", _DATE_OF_ZIP), text.getvalue(), zipfile.ZIP_DEFLATED)
    return stream.getvalue()
