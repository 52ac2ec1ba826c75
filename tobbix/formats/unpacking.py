"""Zips and workbooks as they are unpacked: bounded before anything of them is."""

import zipfile
from io import BytesIO

from openpyxl import Workbook, load_workbook

from tobbix.core.base.errors import InputError
from tobbix.formats.limits import MB, MOST_MEMBERS, MOST_UNPACKED

ZIP = b"PK\x03\x04"
TOLD_EVERY = 2_000  # rows


def check_unpacked(archive: zipfile.ZipFile) -> None:
    """Refuse what unpacks to more than a file may. Raises InputError."""
    members = archive.infolist()
    if len(members) > MOST_MEMBERS:
        raise InputError.at("file", f"holds more than {MOST_MEMBERS} parts")
    if sum(member.file_size for member in members) > MOST_UNPACKED:
        raise InputError.at("file", f"unpacks to more than {MOST_UNPACKED // MB} MB")


def open_workbook(content: bytes) -> Workbook:
    """A workbook to be read row by row. Raises InputError for one that is too large, or cannot be read."""
    with zipfile.ZipFile(BytesIO(content)) as archive:
        check_unpacked(archive)
    return load_workbook(BytesIO(content), read_only=True, keep_links=False)
