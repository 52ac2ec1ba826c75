"""Commands that work on a product sheet alone: no store, no server."""

import json
from pathlib import Path
from typing import Any

import click

from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.base.errors import InputError
from tobbix.core.products.box_value import BoxValue, find_box_value
from tobbix.core.products.valuation import Bound, Holding, Unit
from tobbix.core.products.verdict import basis_words, often
from tobbix.core.products.worth import GROSS, ValueBasis, Worth
from tobbix.formats.product_sheets import parse_sheet
from tobbix.formats.selling_ways import parse_way

PRICE = click.FloatRange(0, 99_999_999)


@click.command()
@click.argument("sheet", type=SHEET)
@click.option("--format", "format_id", required=True, help="The id of the format.")
@click.option("--boxes", default=1, show_default=True, type=click.IntRange(1, 1_000), help="How many boxes.")
@click.option("--price", type=PRICE, help="Price per box; the sheet's if left out.")
@click.option("--basis", type=click.Choice([b.value for b in ValueBasis]), default="gross", show_default=True)
@click.option("--way", type=SHEET, help="A way of selling (JSON), for net values; see docs/product-sheet.md.")
@click.option("--floor", type=PRICE, default=1.0, show_default=True, help="Least net worth handling (basis floor).")
@click.option("--bulk", type=PRICE, default=0.01, show_default=True, help="What a card brings otherwise (basis floor).")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")
@plain_errors
def box_value(
    sheet: Path,
    format_id: str,
    boxes: int,
    price: float | None,
    basis: str,
    way: Path | None,
    floor: float,
    bulk: float,
    as_json: bool,
) -> None:
    """What a box of a product sheet is worth: needs no database. Figures of several boxes are totals; low and high are
    those of what is unknown (Rule C-01)."""
    read = parse_sheet(read_file(sheet)).sheet
    worth = GROSS
    if basis != "gross":
        if way is None:
            raise InputError.at("way", "net values need a way of selling: add --way FILE")
        worth = Worth(ValueBasis(basis), parse_way(read_file(way)), floor, bulk)
    value = find_box_value(read, format_id, Holding(Unit.BOXES, boxes), worth=worth)
    if price is None and value.valuation.format.price is not None:
        price = float(value.valuation.format.price)
    figures = describe_value(value, price)
    for extreme in (Bound.LOW, Bound.HIGH):
        other = find_box_value(read, format_id, Holding(Unit.BOXES, boxes), extreme, worth=worth)
        even = None if price is None else other.outcomes.chance_at_least(price * boxes)
        figures[extreme.value] = {"mean": other.mean, "chance_of_break_even": even}
    if as_json:
        click.echo(json.dumps(figures, ensure_ascii=False, indent=1))
        return
    what = f"{boxes} x {value.valuation.format.name}" if boxes > 1 else value.valuation.format.name
    words = basis_words(worth, read.currency)
    click.echo(f"{what} ({read.currency}, prices of {read.priced_on}). {words}.")
    bound = "at least " if value.lower_bound else ""
    click.echo(f"  average {bound}{value.mean:.2f}, middle {value.outcomes.quantile(0.5):.2f}")
    if price is not None:
        loss = 1 - value.outcomes.chance_at_least(price * boxes)
        words = "".join(run.text for run in often("lose", loss, "time", "times", bounded=value.lower_bound))
        click.echo(f"  at {price * boxes:.2f} you {words}")
    for left in value.left_out:
        click.echo(f"  left out: {left.name} ({left.why})")


def describe_value(value: BoxValue, price: float | None) -> dict[str, Any]:
    """The figures of ``box-value`` as the open format names them. ``price`` is per box; without one, no chance."""
    outcomes, boxes = value.outcomes, value.holding.boxes
    return {
        "format": value.valuation.format.id,
        "boxes": boxes,
        "basis": value.basis.value,
        "price": None if price is None else f"{price:.2f}",
        "mean": value.mean,
        "sd": outcomes.deviation,
        "quantiles": {f"{share:g}": amount for share, amount in value.quantiles.items()},
        "chance_of_break_even": None if price is None else outcomes.chance_at_least(price * boxes),
        "worst_tenth": value.worst_tenth,
        "grid_step": outcomes.step,
        "wrap_around": outcomes.wrap_around,
        "lower_bound": value.lower_bound,
        "by_line": [{"line": s.line, "hits": s.hits, "value": s.value} for s in value.by_line],
        "assumed": [
            {"matter": a.matter.value, "line": a.line, "cards": list(a.cards), "high": a.high, "low": a.low}
            for a in value.assumed
        ],
        "unknown": [{"matter": u.matter.value, "line": u.line, "hits": u.hits, "why": u.why} for u in value.left_out],
    }
