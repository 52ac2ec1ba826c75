"""Product sheets from and to files: JSON (the full form), XLSX and a zip of CSV, told apart by their contents."""

from enum import StrEnum
from typing import cast

from tobbix.core.base.errors import InputError
from tobbix.core.products.reading import ReadSheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.formats.confined import Progress, read_confined
from tobbix.formats.csv_zips import write_csv_zip
from tobbix.formats.json_files import write_json
from tobbix.formats.limits import AT_ONCE, MB, MOST_BYTES
from tobbix.formats.sheet_files import read_sheet_file
from tobbix.formats.unpacking import ZIP
from tobbix.formats.workbooks import write_workbook


class SheetFile(StrEnum):
    """The file forms of a product sheet."""

    JSON = "json"
    XLSX = "xlsx"
    CSV = "zip"


def parse_sheet(content: bytes, progress: Progress | None = None) -> ReadSheet:
    """Read a product sheet from the bytes of a JSON file, a workbook or a zip of CSV files: what is not a small text,
    in a process of its own. ``progress`` is told the rows so far.

    Raises InputError with every fault; a file that is neither is one fault at ``file``.
    """
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // MB} MB")
    if not content.strip():
        raise InputError.at("file", "is empty")
    if content.startswith(ZIP) or len(content) > AT_ONCE:
        return cast(ReadSheet, read_confined("sheet", content, progress))
    return read_sheet_file(content)


def dump_sheet(sheet: ProductSheet, form: SheetFile) -> bytes:
    """The file of a sheet; reading it back gives the same canonical document."""
    document = write_document(sheet)
    write = {SheetFile.JSON: write_json, SheetFile.XLSX: write_workbook, SheetFile.CSV: write_csv_zip}[form]
    return write(document)
