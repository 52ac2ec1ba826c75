"""Long simulations: asked for, followed, stopped, and remembered with their inputs.

They are tasks of the kinds boxes, worlds and set, each about a format of a release.
"""

from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.tasks import Task
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.box_value import SHARES, WORST, BoxValue, value_holding
from tobbix.core.products.collating import Collation, check_collation, plan_batches, read_figures, simulate_batch
from tobbix.core.products.completing import SetAim, find_pieces, simulate_set
from tobbix.core.products.prices import line_versions
from tobbix.core.products.revising import find_format
from tobbix.core.products.valuation import ONE_BOX, Valuation
from tobbix.core.products.verdict import ask
from tobbix.core.products.worlds import simulate_worlds
from tobbix.core.products.worth import ValueBasis
from tobbix.services.products.catalogue import Catalogue, Looked
from tobbix.services.products.planning import begin_with_held
from tobbix.services.tasks.carrying import Run, Stopped, Tell, ask_for, fingerprint_of, read_task, stop_task

MOST_BOXES = 5_000_000
MOST_WORLDS = 1_000
MOST_RUNS = 20_000
_THREADS = 2


@dataclass(frozen=True, slots=True)
class Question:
    """What is simulated: ``boxes`` as they are packed (C-05), ``worlds`` of uncertain prices (C-06), or ``set``
    (C-09), with ``count`` runs. ``price`` per box (sticker, money); ``line`` of the set, which begins with what the
    owner holds of it if ``held``."""

    kind: str
    format: str
    count: int
    seed: int = 1
    price: float | None = None
    no_repeats: bool = True
    even: bool = False
    line: str | None = None
    held: bool = False
    basis: str | None = None
    way: str | None = None


@dataclass(frozen=True, slots=True)
class Simulation:
    """A simulation as it stands; ``is_current``: asked again now, it would be the same."""

    task: Task
    is_current: bool


def ask_simulation(catalogue: Catalogue, key: str, question: Question) -> Simulation:
    """Begin a simulation, or find the one that answers the same. Raises InputError, NotFound."""
    looked, valuation = _prepare(catalogue, key, question)
    if question.kind == "boxes":
        check_collation(valuation, Collation(question.no_repeats, question.even))
    most = {"boxes": MOST_BOXES, "worlds": MOST_WORLDS, "set": MOST_RUNS}[question.kind]
    if not 1 <= question.count <= most:
        raise InputError.at("count", f"must be from 1 to {most:,}")
    if question.kind == "set":
        find_pieces(valuation, _aim(catalogue, key, question))
    belongs_to = f"release:{key}/{question.format}"
    task = ask_for(
        catalogue.database, question.kind, belongs_to, asdict(question),
        _fingerprint(catalogue, looked, question), question.count,
    )  # fmt: skip
    return Simulation(task, is_current=True)


def _aim(catalogue: Catalogue, key: str, question: Question) -> SetAim:
    aim = SetAim(question.line or "")
    return begin_with_held(catalogue, key, aim) if question.held else aim


def _fingerprint(catalogue: Catalogue, looked: Looked, question: Question) -> str:
    """Of all that a result rests on: the sheet, prices at home, how values are looked at, what is held, and asked."""
    sheet = looked.sheet
    prices = [(line.id, version.price) for line in sheet.lines for version in line_versions(sheet, line)]
    formats = [(fmt.id, fmt.price) for fmt in sheet.formats]
    preferences = looked.preferences
    uncertainty = preferences.uncertainty if question.kind == "worlds" else None
    held = sorted(_aim(catalogue, sheet.id, question).held) if question.held else None
    return fingerprint_of(
        sheet.id, sheet.revision, sheet.currency, prices, formats, repr(looked.standpoint),
        repr(preferences.costs_with_time), repr(uncertainty), held, asdict(question),
    )  # fmt: skip


def read_simulation(catalogue: Catalogue, number: int) -> Simulation:
    """How far a simulation is, and its result. Raises NotFound."""
    return _show(catalogue, read_task(catalogue.database, number))


def stop_simulation(catalogue: Catalogue, number: int) -> Simulation:
    """Stop a simulation: at once if it waits, after its present batch if it runs. Raises NotFound."""
    return _show(catalogue, stop_task(catalogue.database, number))


def _show(catalogue: Catalogue, task: Task) -> Simulation:
    if task.kind not in _RUNS:
        raise NotFound("there is no such simulation")
    question = Question(**task.asked)
    looked, _ = _prepare(catalogue, _release_of(task), question)
    return Simulation(task, _fingerprint(catalogue, looked, question) == task.fingerprint)


def _release_of(task: Task) -> str:
    return task.belongs_to.removeprefix("release:").rpartition("/")[0]


def simulation_runs(catalogue: Catalogue) -> dict[str, Run]:
    """How each kind of simulation is carried out."""

    def run_of(kind: str) -> Run:
        def run(task: Task, tell: Tell) -> Mapping[str, Any]:
            question = Question(**task.asked)
            looked, valuation = _prepare(catalogue, _release_of(task), question)
            if _fingerprint(catalogue, looked, question) != task.fingerprint:
                raise Conflict("the release was changed before the simulation began; ask again")
            return _RUNS[kind](catalogue, looked, valuation, question, tell)

        return run

    return {kind: run_of(kind) for kind in _RUNS}


def _prepare(catalogue: Catalogue, key: str, question: Question) -> tuple[Looked, Valuation]:
    basis = None if question.basis is None else ValueBasis(question.basis)
    looked = catalogue.read(key, ViewChoice(basis, question.way))
    find_format(looked.sheet, question.format)
    return looked, catalogue.valuation(looked.sheet, question.format, looked.standpoint)


def _outlay(looked: Looked, question: Question, box: BoxValue) -> float | None:
    fmt = box.valuation.format
    sticker = question.price if question.price is not None or fmt.price is None else float(fmt.price)
    return ask(sticker, box, looked.preferences.costs_with_time).outlay


def _run_boxes(
    catalogue: Catalogue, looked: Looked, valuation: Valuation, question: Question, tell: Tell
) -> dict[str, Any]:
    del catalogue
    collation = Collation(question.no_repeats, question.even)
    batches = plan_batches(question.count, question.seed)
    totals, done = [], 0
    with ThreadPoolExecutor(_THREADS) as pool:
        pending = pool.map(
            lambda batch: simulate_batch(valuation, batch[0], collation, np.random.default_rng(batch[1])), batches
        )
        try:
            for count, batch in enumerate(pending, 1):
                totals.append(batch)
                done += batch.size
                if count % 20 == 0:
                    tell(done)
        except Stopped:
            pool.shutdown(cancel_futures=True)
            raise
    exact = value_holding(valuation, ONE_BOX)
    outlay = _outlay(looked, question, exact)
    figures = read_figures(totals, outlay, SHARES, WORST)
    return {
        "boxes": figures.boxes,
        "mean": figures.mean,
        "mean_error": figures.mean_error,
        "deviation": figures.deviation,
        "quantiles": {f"{share:g}": amount for share, amount in figures.quantiles},
        "worst_tenth": figures.worst_tenth,
        "loss": None if figures.break_even is None else 1 - figures.break_even,
        "loss_error": figures.break_even_error,
        "exact": {
            "mean": exact.mean,
            "deviation": exact.outcomes.deviation,
            "quantiles": {f"{share:g}": amount for share, amount in exact.quantiles.items()},
            "worst_tenth": exact.worst_tenth,
            "loss": None if outlay is None else 1 - exact.outcomes.chance_at_least(outlay),
        },
    }


def _run_worlds(
    catalogue: Catalogue, looked: Looked, valuation: Valuation, question: Question, tell: Tell
) -> dict[str, Any]:
    del catalogue
    exact = value_holding(valuation, ONE_BOX)
    outlay = _outlay(looked, question, exact)
    worlds = simulate_worlds(
        valuation, looked.preferences.uncertainty, outlay, looked.preferences.rule,
        looked.preferences.costs_with_time, question.count, np.random.default_rng(question.seed), tell,
    )  # fmt: skip
    return asdict(worlds)


def _run_set(
    catalogue: Catalogue, looked: Looked, valuation: Valuation, question: Question, tell: Tell
) -> dict[str, Any]:
    random = np.random.default_rng(question.seed)
    answer = simulate_set(valuation, _aim(catalogue, looked.sheet.id, question), question.count, random, tell)
    step = max(len(answer.curve) // 160, 1)
    return {
        "mean": answer.mean,
        "error": answer.error,
        "half": answer.half,
        "nine_tenths": answer.nine_tenths,
        "curve": [asdict(point) for point in answer.curve[::step]],
    }


_RUNS: Mapping[str, Callable[[Catalogue, Looked, Valuation, Question, Tell], dict[str, Any]]] = {
    "boxes": _run_boxes,
    "worlds": _run_worlds,
    "set": _run_set,
}
