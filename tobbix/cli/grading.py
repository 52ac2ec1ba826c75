"""Commands on grading, on files alone: no store, no server."""

from pathlib import Path

import click

from tobbix.cli.pricing import AS_JSON, tell
from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.grading.batch import choose_batch
from tobbix.core.grading.gain import work_out_gain
from tobbix.core.grading.submission_cost import share_submission
from tobbix.formats.grading_files import (
    describe_batch,
    describe_gain,
    describe_submission,
    parse_batch,
    parse_question,
    parse_submission,
)


@click.command()
@click.argument("file", type=SHEET)
@AS_JSON
@plain_errors
def grade_gain(file: Path, as_json: bool) -> None:
    """What grading a card is expected to bring beside selling it raw. Rule C-26."""
    found = work_out_gain(parse_question(read_file(file)))
    even = found.break_even
    pays = {"always": "it pays whatever comes", "never": "no chance of a gem makes it pay"}
    words = [
        f"gain {float(found.gain):,.2f}: {float(found.expected_net):,.2f} expected, {float(found.raw_net):,.2f} raw; "
        f"a loss in {float(found.chance_of_loss):.0%}",
        pays.get(even.case, "") if even.gem is None else f"it pays from a gem in {float(even.gem):.1%}",
    ]
    words += [
        f"  {it.grade}: {float(it.chance):.0%}, {it.action.value}, "
        + ("not known" if it.net is None else f"leaves {float(it.net):,.2f}")
        for it in found.by_grade
    ]
    tell(describe_gain(found), words, as_json)


@click.command()
@click.argument("file", type=SHEET)
@AS_JSON
@plain_errors
def submission_cost(file: Path, as_json: bool) -> None:
    """What a submission costs by card and by owner. Rule C-25."""
    asked = parse_submission(read_file(file))
    found = share_submission(asked.home, asked.cards, asked.charges)
    words = [f"{found.total:,} {asked.home} in all"]
    words += [f"  {owner}: {amount:,}" for owner, amount in found.per_owner.items()]
    words += [
        f"  {card}: {amount:,} (planned {float(found.planned[card]):,.4f})" for card, amount in found.per_card.items()
    ]
    tell(describe_submission(found), words, as_json)


@click.command()
@click.argument("file", type=SHEET)
@click.option("--seconds", type=click.FloatRange(0, min_open=True), help="Look no longer than so many seconds.")
@AS_JSON
@plain_errors
def best_batch(file: Path, seconds: float | None, as_json: bool) -> None:
    """Which cards go into which tier for the greatest expected gain. Rule C-29."""
    found = choose_batch(parse_batch(read_file(file)), seconds)
    words = [
        f"{float(found.total_gain):,.2f} gained in all" + ("" if found.proven else f", {found.bound:,.2f} at most")
    ]
    if found.membership:
        words.append("  with a membership")
    words += [f"  {tier}: {', '.join(cards)}" for tier, cards in found.tiers.items()]
    words += [f"  {card}: {why}" for card, why in found.why.items()]
    tell(describe_batch(found), words, as_json)
