"""Commands on selling, on files alone: no store, no server."""

from pathlib import Path

import click

from tobbix.cli.pricing import AS_JSON, tell
from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.selling.packing import plan_packing
from tobbix.formats.parcels import describe_packing, parse_parcel

_SHOWN = 5


@click.command()
@click.argument("file", type=SHEET)
@AS_JSON
@plain_errors
def pack(file: Path, as_json: bool) -> None:
    """Every way to pack and send a parcel, the cheapest in expectation first. Rule C-31."""
    asked = parse_parcel(read_file(file))
    found = plan_packing(asked)
    words = [] if found.plans else ["nothing that is here takes it"]
    for plan in found.plans[:_SHOWN]:
        parts = ", ".join(filter(None, (plan.holder, plan.wrap, plan.outer)))
        words.append(f"{plan.expected_cost:,.2f} {asked.currency} by {plan.mail_class}: {parts}, {plan.weight} g")
    if found.plans:
        words += [f"  {at}. {step}" for at, step in enumerate(found.plans[0].steps, 1)]
    words += [f"  {name}: {why}" for name, why in found.refused]
    tell(describe_packing(found), words, as_json)
