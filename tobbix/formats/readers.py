"""The program of the child process that reads files; see ``tobbix.formats.confined``."""

import sys

sys.modules["numpy"] = None  # type: ignore[assignment]  # the spreadsheet's package would load it, and needs it not

from tobbix.formats.confined import serve_reader  # noqa: E402
from tobbix.formats.item_lists import read_values  # noqa: E402
from tobbix.formats.sheet_files import read_sheet_file  # noqa: E402
from tobbix.formats.tables import read_text  # noqa: E402

if __name__ == "__main__":
    serve_reader({"items": read_values, "sheet": read_sheet_file, "table": read_text}, sys.argv[1])
