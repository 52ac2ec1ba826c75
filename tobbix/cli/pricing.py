"""Commands on prices: what a sale nets, what to list for, what a card is worth by what was seen, and by its grade.

They work on files alone: no store, no server.
"""

import json
from collections.abc import Mapping
from dataclasses import asdict
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path
from typing import Any

import click

from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.core.base.errors import InputError
from tobbix.core.pricing.borrowing import borrow as run_borrowing
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.estimating import SALES, Choice, Estimate, estimate_value
from tobbix.core.pricing.grade_curve import GradeCurve, GradeValue, fit_curve
from tobbix.formats.questions import Question, read_question
from tobbix.formats.sales import as_figure, parse_sales, parse_version
from tobbix.formats.selling_ways import parse_way

AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")
DAY = click.DateTime(["%Y-%m-%d"])


def tell(answer: Mapping[str, Any], words: list[str], as_json: bool) -> None:
    """Print an answer as one JSON object, or in words."""
    click.echo(json.dumps(answer, ensure_ascii=False, indent=1) if as_json else "\n".join(words))


@click.command()
@click.argument("way", type=SHEET)
@click.option("--price", "prices", required=True, multiple=True, help="A price; several go into one parcel.")
@AS_JSON
@plain_errors
def net(way: Path, prices: tuple[str, ...], as_json: bool) -> None:
    """What a sale nets in a way of selling, several cards in one parcel. Rule C-17."""
    selling = parse_way(read_file(way))
    amounts = [as_figure(price, "price") for price in prices]
    if any(not 0 <= amount <= 99_999_999 for amount in amounts):
        raise InputError.at("price", "must be from 0 to 99,999,999")
    kept, fees = selling.net_parcel(amounts), selling.fees_of_parcel(amounts)
    exact = Decimal(kept.numerator) / Decimal(kept.denominator)
    rounded = exact.quantize(Decimal("0.01"), ROUND_HALF_UP)
    answer = {"net": float(kept), "net_rounded": float(rounded), "fees": float(fees)}
    tell(answer, [f"nets {rounded:,} after {float(fees):,.2f} of fees"], as_json)


@click.command()
@click.argument("way", type=SHEET)
@click.option("--net", "wanted", required=True, help="What is to be kept.")
@AS_JSON
@plain_errors
def list_price(way: Path, wanted: str, as_json: bool) -> None:
    """The least price that nets an amount in a way of selling. Rule C-17."""
    selling, amount = parse_way(read_file(way)), as_figure(wanted, "net")
    if not 0 <= amount <= 99_999_999:
        raise InputError.at("net", "must be from 0 to 99,999,999")
    price, exact = selling.list_price(amount), selling.price_for(amount)
    tell({"price": float(price), "exact": float(exact)}, [f"list it at {price:,}"], as_json)


@click.command()
@click.argument("sales", type=SHEET)
@click.option("--state", required=True, help="A condition, or Grader:grade.")
@click.option("--on", "day", required=True, type=DAY, help="As of which day.")
@click.option("--window", default=90, show_default=True, type=click.IntRange(1, 36_500), help="How old at most, days.")
@click.option("--kinds", default=",".join(SALES), show_default=True, help="Which kinds of sales count.")
@click.option("--half-life", default=60.0, show_default=True, type=click.FloatRange(0, min_open=True), help="In days.")
@click.option("--version", "card", help="release/line/number, or with /variant.")
@click.option("--home", help="The home currency of a table (CSV or XLSX).")
@click.option("--rates", type=SHEET, help="Rates of the day for a table.")
@AS_JSON
@plain_errors
def comps(
    sales: Path,
    state: str,
    day: Any,
    window: int,
    kinds: str,
    half_life: float,
    card: str | None,
    home: str | None,
    rates: Path | None,
    as_json: bool,
) -> None:
    """What a card in a state is worth by what was seen of it. Rule C-18."""
    known = [kind.value for kind in CompKind]
    wanted = [kind.strip() for kind in kinds.split(",") if kind.strip()]
    if not wanted or any(kind not in known for kind in wanted):
        raise InputError.at("kinds", f"must be of {', '.join(known)}")
    seen = parse_sales(read_file(sales), home, None if rates is None else read_file(rates))
    choice = Choice(
        state, day.date(), None if card is None else parse_version(card), window,
        tuple(CompKind(kind) for kind in wanted), half_life,
    )  # fmt: skip
    found = estimate_value(seen.observations, choice, seen.rates)
    tell(describe_estimate(found), _in_words(found, seen.rates.home), as_json)


def describe_estimate(found: Estimate) -> dict[str, Any]:
    """The figures of ``comps`` as the open format names them."""
    trend = found.trend
    return {
        "used": found.used,
        "flagged": list(found.flagged),
        "left_out": [{"id": number, "why": why} for number, why in found.left_out],
        "assumed": list(found.assumed),
        "estimate": found.estimate,
        "last": found.last,
        "mean": found.mean,
        "median": found.median,
        "low": found.low,
        "high": found.high,
        "interval": None if found.interval is None else asdict(found.interval),
        "trend": None if trend is None else {
            "per_30_days": trend.per_30_days, "low": trend.low, "high": trend.high,
            "from": _dated(*trend.start), "to": _dated(*trend.end), "starts_at_extreme": trend.starts_at_extreme,
        },
        "sales_per_30_days": found.sales_per_30_days,
        "days_since_last": found.days_since_last,
        "thin": found.thin,
        "stale": found.stale,
        "lowest_ask": found.lowest_ask,
        "lowest_ask_state": found.lowest_ask_state,
        "asks": [asdict(ask) for ask in found.asks],
        "book": None if found.book is None else {"low": found.book[0], "high": found.book[1]},
    }  # fmt: skip


def _dated(on: date, price: float) -> dict[str, Any]:
    return {"on": on.isoformat(), "price": price}


def _in_words(found: Estimate, home: str) -> list[str]:
    if found.estimate is None or found.interval is None:
        return ["nothing was sold that counts"]
    between = found.interval
    words = [
        f"worth about {found.estimate:.2f} {home}, {between.low:.2f} to {between.high:.2f} with "
        f"{between.confidence * 100:.1f} %, by {found.used} sales, the last {found.days_since_last} days ago"
    ]
    if found.thin or found.stale:
        words.append(f"  {' and '.join(w for w, is_so in (('thin', found.thin), ('stale', found.stale)) if is_so)}")
    if found.trend is not None:
        words.append(f"  moves {found.trend.per_30_days * 100:+.2f} % in 30 days")
    words += [f"  flagged: {number}" for number in found.flagged]
    return words + [f"  assumed: {text}" for text in found.assumed]


@click.command()
@click.argument("sales", type=SHEET)
@click.option("--on", "day", required=True, type=DAY, help="As of which day.")
@click.option("--states", help="In which states, commas between them; else in those that sold.")
@click.option("--home", help="The home currency of a table (CSV or XLSX).")
@click.option("--rates", type=SHEET, help="Rates of the day for a table.")
@AS_JSON
@plain_errors
def borrow(sales: Path, day: Any, states: str | None, home: str | None, rates: Path | None, as_json: bool) -> None:
    """What cards of a release are worth that hardly sell, by those beside them. Rule C-37."""
    seen = parse_sales(read_file(sales), home, None if rates is None else read_file(rates))
    wanted = None if states is None else [state.strip() for state in states.split(",") if state.strip()]
    found = run_borrowing(seen.observations, day.date(), seen.rates, wanted)
    answer = {
        "values": [
            {
                "line": it.card.line, "number": it.card.number, "variant": it.card.variant, "state": it.state,
                "estimate": it.estimate, "low": it.low, "high": it.high, "own_sales": it.own_sales,
                "own_weight": it.own_weight,
            }
            for it in found.values
        ],
        "spread": asdict(found.spread),
        "coverage": asdict(found.coverage),
        "widened": found.widened,
    }  # fmt: skip
    words = [
        f"{it.card.line} {it.card.number} {it.state}: "
        + ("unknown" if it.estimate is None else f"{it.estimate:.2f} ({it.low:.2f} to {it.high:.2f})")
        for it in found.values
    ]
    within = found.coverage.within
    words.append(f"of {found.coverage.of} last sales held out, {'none' if within is None else f'{within:.0%}'} as said")
    tell(answer, words, as_json)


_CURVE, _GRADE = frozenset(("grades", "ratios")), frozenset(("grade", "value", "weight"))


@click.command()
@click.argument("file", type=SHEET)
@AS_JSON
@plain_errors
def curve(file: Path, as_json: bool) -> None:
    """The value of a card by its grade, which never falls as the grade rises. Rule C-19."""
    found = read_question(read_file(file), "grade-curve", _CURVE, _read_curve)
    answer = {
        "fit": [asdict(item) for item in found.fit],
        "reversals": [list(pair) for pair in found.reversals],
    }
    words = [
        f"{item.grade}: {'unknown' if item.fitted is None else f'{item.fitted:.2f}'}"
        f"{', estimated' if item.estimated else ''}"
        for item in found.fit
    ]
    tell(answer, [*words, *(f"  {low} went for more than {high}" for low, high in found.reversals)], as_json)


def _read_curve(top: Question) -> GradeCurve:
    grades = []
    for part in top.parts("grades", _GRADE):
        value, weight = part.figure("value", None, above=True), part.figure("weight", Decimal(1), above=True)
        grades.append(GradeValue(part.text("grade") or "", None if value is None else float(value), float(weight or 1)))
    ratios = {grade: float(ratio) for grade, ratio in top.figures("ratios", above=True).items() if ratio is not None}
    return fit_curve(grades, ratios or None)
