"""How many exist: what numbered lines with known odds tell about the packs that were made (Rule C-10).

A numbered line of so many cards has print run x cards copies in all; with one in N packs they fill that many x N packs.
Several lines give several estimates, which show how far the odds and the print runs fit each other.

Example: /150 at 1:12, /75 at 1:25, /30 at 1:61 and /10 at 1:190, 60 cards each: 108,000; 112,500; 109,800; 114,000.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from statistics import median

from tobbix.core.base.errors import InputError
from tobbix.core.products.odds import Basis
from tobbix.core.products.prices import line_versions
from tobbix.core.products.sheet import Line, LineKind, ProductSheet
from tobbix.core.products.slots import build_box_model


@dataclass(frozen=True, slots=True)
class PrintEstimate:
    """What one numbered line tells: ``packs`` in all of its formats, None with the reason ``why`` where it cannot."""

    line: str
    name: str
    print_run: int
    cards: int
    formats: tuple[str, ...]
    packs: float | None
    why: str | None


@dataclass(frozen=True, slots=True)
class FormatMade:
    """How much of a format was made: the middle of the estimates with the lowest and highest; None if unknown."""

    format: str
    estimates: int
    packs: float | None
    low: float | None
    high: float | None
    boxes: float | None
    cases: float | None


@dataclass(frozen=True, slots=True)
class CopiesMade:
    """Copies of each card of an unnumbered line: ``common`` of most cards, ``rarest`` of its shortest print.

    A lower bound where a format that holds it is ``not_counted``; None where nothing is known.
    """

    line: str
    name: str
    common: float | None
    rarest: float | None
    low: float | None
    high: float | None
    not_counted: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Production:
    """All of it; ``shares`` are the packs of each format as a share of all packs, as far as the owner gave them."""

    estimates: tuple[PrintEstimate, ...]
    formats: tuple[FormatMade, ...]
    copies: tuple[CopiesMade, ...]
    shares: tuple[tuple[str, float], ...]


def made_of(production: Production, format_id: str) -> FormatMade | None:
    """How much of a format was made; None where nothing tells."""
    return next((made for made in production.formats if made.format == format_id and made.packs is not None), None)


def estimate_production(sheet: ProductSheet, shares: Mapping[str, float] | None = None) -> Production:
    """How many packs, boxes, cases and cards exist. Rule C-10.

    ``shares`` of all packs by format, summing to 1, are kept: each line tells the total, and a format's middle is its
    share of the middle of the totals. Without them a line that is in several formats is not identified.
    Raises InputError for shares that are not shares.
    """
    given = dict(shares or {})
    if given:
        unknown = sorted(given.keys() - sheet.format_by_id.keys())
        if unknown:
            raise InputError.at("shares", f"{sheet.release.title} has no format “{unknown[0][:60]}”")
        if any(not 0 <= share <= 1 for share in given.values()) or abs(sum(given.values()) - 1) > 1e-6:
            raise InputError.at("shares", "the formats' shares of all packs must be from 0 to 1 and sum to 1")
    rates = {fmt.id: _rates(sheet, fmt.id) for fmt in sheet.formats}
    estimates, by_format = [], {fmt.id: list[float]() for fmt in sheet.formats}
    for line in sheet.lines:
        if line.print_run is None or line.kind is LineKind.BASE:
            continue
        estimate = _estimate(sheet, line, line.print_run, rates, given)
        estimates.append(estimate)
        if estimate.packs is None:
            continue
        if given:  # the shares are kept: each line tells the total
            total = estimate.packs / sum(given.get(key, 0.0) for key in estimate.formats)
            for key, share in given.items():
                if share > 0:
                    by_format[key].append(total * share)
        else:
            by_format[estimate.formats[0]].append(estimate.packs)
    made = tuple(_made(sheet, key, found) for key, found in by_format.items())
    middles = {item.format: item for item in made if item.packs is not None}
    copies = tuple(
        _copies(sheet, line, rates, middles)
        for line in sheet.lines
        if line.print_run is None and not line.redemption and (line.cards or line.cards_of)
    )
    return Production(tuple(estimates), made, copies, tuple(given.items()))


def _rates(sheet: ProductSheet, format_id: str) -> dict[str, float | None]:
    """Hits per pack of each line in a format; None where the line may be in it and nobody knows how often."""
    fmt = sheet.format_by_id[format_id]
    model = build_box_model(sheet, fmt)
    known: dict[str, float | None] = {
        line: hits / fmt.packs_per_box for line, hits in model.hits_per_box().items() if hits > 0
    }
    known |= {line: None for line, _ in model.unstated}
    known |= {line: None for guarantee in model.guarantees for line in guarantee.undecided}
    return known


def _estimate(
    sheet: ProductSheet,
    line: Line,
    print_run: int,
    rates: Mapping[str, Mapping[str, float | None]],
    given: Mapping[str, float],
) -> PrintEstimate:
    cards = len(line_versions(sheet, line))
    holding = tuple(key for key, known in rates.items() if line.id in known)

    def answer(packs: float | None, why: str | None) -> PrintEstimate:
        return PrintEstimate(line.id, line.name, print_run, cards, holding, packs, why)

    if line.redemption:
        return answer(None, "it comes by post: its print cap is not the number made")
    if any(odds.basis is Basis.UNSTATED for odds in line.odds) or any(rates[key][line.id] is None for key in holding):
        return answer(None, "its odds are not known in every format that may hold it")
    if not holding or not cards:
        return answer(None, "no format is said to hold it" if cards else "it lists no cards")
    copies = print_run * cards
    if not given and len(holding) == 1:
        return answer(copies / (rates[holding[0]][line.id] or 1.0), None)
    if not sum(given.get(key, 0.0) for key in holding):
        return answer(None, "it is in several formats, and how many packs of each were made is not known")
    together = sum(given.get(key, 0.0) for key in holding)
    rate = sum(given.get(key, 0.0) / together * (rates[key][line.id] or 0.0) for key in holding)
    return answer(copies / rate, None)


def _made(sheet: ProductSheet, key: str, found: list[float]) -> FormatMade:
    fmt = sheet.format_by_id[key]
    if not found:
        return FormatMade(key, 0, None, None, None, None, None)
    packs = median(found)
    boxes = packs / fmt.packs_per_box
    cases = None if fmt.boxes_per_case is None else boxes / fmt.boxes_per_case
    return FormatMade(key, len(found), packs, min(found), max(found), boxes, cases)


def _copies(
    sheet: ProductSheet,
    line: Line,
    rates: Mapping[str, Mapping[str, float | None]],
    made: Mapping[str, FormatMade],
) -> CopiesMade:
    versions = line_versions(sheet, line)
    holding = [key for key, known in rates.items() if line.id in known]
    counted = [key for key in holding if key in made and rates[key][line.id] is not None]
    names = tuple(sheet.format_by_id[key].name for key in holding if key not in counted)
    weights = [float(version.weight) for version in versions]
    if not counted or not weights:
        return CopiesMade(line.id, line.name, None, None, None, None, names)

    def copies(pick: str, weight: float) -> float:
        hits = sum(getattr(made[key], pick) * (rates[key][line.id] or 0.0) for key in counted)
        return float(hits * weight / sum(weights))

    middle = median(weights)
    return CopiesMade(
        line.id, line.name, copies("packs", middle), copies("packs", min(weights)),
        copies("low", middle), copies("high", middle), names,
    )  # fmt: skip
