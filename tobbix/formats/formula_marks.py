"""Texts in CSV that a spreadsheet would take for a formula: written with an apostrophe before them and read back
without it. A text that begins with an apostrophe gets one as well, so that each comes back as it was."""

_MARKED = ("=", "+", "-", "@", "'")


def mark(cell: object) -> object:
    """A cell as it is written."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_MARKED) else cell


def unmark(cell: str) -> str:
    """A cell as it was before it was marked."""
    return cell[1:] if cell.startswith("'") and cell[1:2] in _MARKED else cell
