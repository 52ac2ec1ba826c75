"""Commands on buying, on files alone: no store, no server."""

from pathlib import Path

import click

from tobbix.cli.pricing import AS_JSON, tell
from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.buying.basket import fill_basket
from tobbix.formats.baskets import describe_basket, parse_basket


@click.command()
@click.argument("file", type=SHEET)
@click.option("--seconds", type=click.FloatRange(0, min_open=True), help="Look no longer than so many seconds.")
@AS_JSON
@plain_errors
def basket(file: Path, seconds: float | None, as_json: bool) -> None:
    """The cheapest way to buy a list of cards from many sellers. Rule C-22."""
    asked = parse_basket(read_file(file))
    found = fill_basket(asked.wanted, asked.sellers, asked.asks, seconds)
    words = [f"{found.total:,} {asked.currency} in all, each alone {found.alone:,}"]
    for order in found.orders:
        cards = ", ".join(f"{it.count} x {it.card} at {it.price:,}" for it in order.cards)
        words.append(f"  {order.seller}: {cards}, shipping {order.shipping:,}")
    words += [f"  not to be had: {count} x {card}" for card, count in found.missing]
    if not found.proven:
        words.append(
            "  not proven" + ("" if found.gap is None else f": at most {found.gap * 100:.2f} % cheaper is possible")
        )
    tell(describe_basket(found), words, as_json)
