"""Product sheets from and to files: JSON (the full form), XLSX and a zip of CSV, told apart by their contents."""

from enum import StrEnum

from tobbix.core.base.errors import InputError
from tobbix.core.products.reading import ReadSheet, locate_in_document, read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.formats.csv_zips import is_csv_zip, read_csv_zip, write_csv_zip
from tobbix.formats.json_files import read_json, write_json
from tobbix.formats.workbooks import read_workbook, write_workbook

MOST_BYTES = 24 * 1024 * 1024
_ZIP = b"PK\x03\x04"


class SheetFile(StrEnum):
    """The file forms of a product sheet."""

    JSON = "json"
    XLSX = "xlsx"
    CSV = "zip"


def parse_sheet(content: bytes) -> ReadSheet:
    """Read a product sheet from the bytes of a JSON file, a workbook or a zip of CSV files.

    Raises InputError with every fault; a file that is neither is one fault at ``file``.
    """
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // 1024 // 1024} MB")
    if not content.strip():
        raise InputError.at("file", "is empty")
    if content.startswith(_ZIP) and is_csv_zip(content):
        return read_sheet(*read_csv_zip(content))
    if content.startswith(_ZIP):
        document, locate = read_workbook(content)
        return read_sheet(document, locate)
    return read_sheet(read_json(content), locate_in_document)


def dump_sheet(sheet: ProductSheet, form: SheetFile) -> bytes:
    """The file of a sheet; reading it back gives the same canonical document."""
    document = write_document(sheet)
    write = {SheetFile.JSON: write_json, SheetFile.XLSX: write_workbook, SheetFile.CSV: write_csv_zip}[form]
    return write(document)
