"""What came out over all finished sessions: against the odds, two formats against each other, back into the value."""

from dataclasses import dataclass, replace
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.opening.results import (
    STRENGTH,
    Compared,
    LineResult,
    Observed,
    compare_rates,
    judge,
    own_odds_words,
)
from tobbix.core.opening.session import Pulled, observe
from tobbix.core.products.revising import find_format
from tobbix.core.products.sheet import Format
from tobbix.db.opening.loading import count_pulls, finished_costs, finished_sessions
from tobbix.db.products.loading import format_identity
from tobbix.services.opening.viewing import progress_of
from tobbix.services.products.catalogue import Catalogue, Looked


def with_own_odds(catalogue: Catalogue, looked: Looked, format_id: str) -> Looked:
    """The same with the odds of a format as the owner's finished sessions moved them (posterior means). Rule C-13."""
    view = read_results(catalogue, looked.sheet.id, format_id, STRENGTH)
    own = tuple(
        (format_id, item.line, f"{item.posterior:.6f} per pack", own_odds_words(item, STRENGTH))
        for item in view.results
        if item.posterior is not None and item.posterior >= 5e-7 and item.packs
    )
    assumptions = replace(looked.standpoint.assumptions, own_odds=own)
    return replace(looked, standpoint=replace(looked.standpoint, assumptions=assumptions))


@dataclass(frozen=True, eq=False)
class ComparedLine:
    """A line in two formats, per pack and per unit of money paid. Rule C-13."""

    line: str
    name: str
    hits: tuple[int, int]
    per_pack: Compared
    per_money: Compared | None


def compare_formats(catalogue: Catalogue, key: str, first: str, second: str) -> list[ComparedLine]:
    """What came out of two formats against each other. Rule C-13. Raises NotFound, InputError."""
    views = [read_results(catalogue, key, fmt, STRENGTH) for fmt in (first, second)]
    if any(not view.packs for view in views):
        raise InputError.at("formats", "both formats need a finished session")
    by_line = [{item.line: item for item in view.results} for view in views]
    packs = (float(views[0].packs), float(views[1].packs))
    costs = (_spent(catalogue, key, first), _spent(catalogue, key, second))
    found = []
    for line, item in by_line[0].items():
        if line in by_line[1]:
            hits = (item.observed, by_line[1][line].observed)
            money = compare_rates(hits, (costs[0], costs[1])) if costs[0] and costs[1] else None
            found.append(ComparedLine(line, item.name, hits, compare_rates(hits, packs), money))
    return found


def _spent(catalogue: Catalogue, key: str, format_id: str) -> float | None:
    """What the finished sessions of a format cost (money), None where a basis is not known."""
    with catalogue.database.transaction() as session:
        costs = [cost for *_, cost in finished_costs(session, format_identity(session, key, format_id))]
    total = sum((cost for cost in costs if cost is not None), Decimal(0))
    return None if None in costs or not total else float(total)


@dataclass(frozen=True, eq=False)
class ResultsView:
    """Results over all finished sessions of a format."""

    looked: Looked
    format: Format
    sessions: int
    packs: int
    results: tuple[LineResult, ...]
    stopped_hot: bool


def read_results(catalogue: Catalogue, key: str, format_id: str, strength: float) -> ResultsView:
    """What came out of all finished sessions of a format against its odds. Rule C-13. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        looked = catalogue.look(session, key)
        identity = format_identity(session, key, format_id)
        rows = finished_sessions(session, identity)
        fmt = find_format(looked.sheet, format_id)
        promised = {line for it in looked.sheet.guarantees_in(format_id) for line, _ in it.lines}
        pulls: dict[int, list[Pulled]] = {row.number: [] for row in rows}
        for number, pulled in count_pulls(session, list(pulls), fmt.packs_per_box, promised):
            pulls[number].append(pulled)
    valuation = catalogue.valuation(looked.sheet, format_id, looked.standpoint)
    merged: dict[str, Observed] = {}
    for row in rows:
        for item in observe(valuation, progress_of(row, ()), pulls[row.number], complete=True):
            old = merged.get(item.line)
            merged[item.line] = item if old is None else Observed(
                item.line, item.name, old.packs + item.packs, item.rate, old.hits + item.hits,
                old.promised if item.promised is None else item.promised,
                old.boxes + item.boxes,
            )  # fmt: skip
    packs = sum(row.packs - row.gone for row in rows)
    results = judge(list(merged.values()), strength)
    return ResultsView(looked, fmt, len(rows), packs, results, any(row.stopped_hot for row in rows))
