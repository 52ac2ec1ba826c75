"""The reading of a product sheet's file, in whichever form it comes: all that the process which reads files needs."""

from tobbix.core.products.reading import ReadSheet, locate_in_document, read_sheet
from tobbix.formats.confined import Progress
from tobbix.formats.csv_zips import is_csv_zip, read_csv_zip
from tobbix.formats.json_files import read_json
from tobbix.formats.unpacking import ZIP
from tobbix.formats.workbooks import read_workbook


def read_sheet_file(content: bytes, progress: Progress = lambda rows: None) -> ReadSheet:
    """Read a product sheet in place, told apart by its contents. Raises InputError with every fault."""
    if content.startswith(ZIP) and is_csv_zip(content):
        return read_sheet(*read_csv_zip(content))
    if content.startswith(ZIP):
        return read_sheet(*read_workbook(content, progress))
    return read_sheet(read_json(content), locate_in_document)
