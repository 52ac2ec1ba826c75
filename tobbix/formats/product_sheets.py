"""Product sheets from and to files: JSON (the full form) and XLSX, told apart by their contents."""

from enum import StrEnum

from tobbix.core.base.errors import InputError
from tobbix.core.products.reading import ReadSheet, locate_in_document, read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.formats.json_files import read_json, write_json
from tobbix.formats.workbooks import read_workbook, write_workbook

MOST_BYTES = 24 * 1024 * 1024
_ZIP = b"PK\x03\x04"


class SheetFile(StrEnum):
    """The file forms of a product sheet."""

    JSON = "json"
    XLSX = "xlsx"


def parse_sheet(content: bytes) -> ReadSheet:
    """Read a product sheet from the bytes of a JSON file or workbook.

    Raises InputError with every fault; a file that is neither is one fault at ``file``.
    """
    if len(content) > MOST_BYTES:
        raise InputError.at("file", f"is larger than {MOST_BYTES // 1024 // 1024} MB")
    if not content.strip():
        raise InputError.at("file", "is empty")
    if content.startswith(_ZIP):
        document, locate = read_workbook(content)
        return read_sheet(document, locate)
    return read_sheet(read_json(content), locate_in_document)


def dump_sheet(sheet: ProductSheet, form: SheetFile) -> bytes:
    """The file of a sheet; reading it back gives the same canonical document."""
    document = write_document(sheet)
    return write_workbook(document) if form is SheetFile.XLSX else write_json(document)
