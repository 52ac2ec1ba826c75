"""The command that measures pictures, by itself: the package for pictures takes its time to load."""

from pathlib import Path

import click

from tobbix.cli.pricing import AS_JSON, tell
from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.grading.centering import measure_centering
from tobbix.formats.grading_files import describe_centering, read_size
from tobbix.formats.pictures import read_scan


@click.command()
@click.argument("image", type=SHEET)
@click.option("--size", default="63x88", show_default=True, help="Of the card, in mm.")
@AS_JSON
@plain_errors
def centering(image: Path, size: str, as_json: bool) -> None:
    """How a card on a scan or photo is centred. Rule C-27."""
    scan = read_scan(read_file(image))
    found = measure_centering(scan.pixels, scan.dpi, read_size(size))
    words = [
        f"left/right {found.left_right[0]:.1f}/{found.left_right[1]:.1f} (\u00b1 {found.uncertainty[0]:.1f})",
        f"top/bottom {found.top_bottom[0]:.1f}/{found.top_bottom[1]:.1f} (\u00b1 {found.uncertainty[1]:.1f})",
        f"turned by {found.rotation:.1f} degrees",
    ]
    if found.size is not None:
        words.append(f"{found.size[0]:.1f} x {found.size[1]:.1f} mm")
    tell(describe_centering(found), words, as_json)
