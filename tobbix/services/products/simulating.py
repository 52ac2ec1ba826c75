"""Long simulations: asked for, followed, stopped, and remembered with their inputs.

Whoever asks the same again (same release and revision, same question, same seed) gets the same run.
"""

import json
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any

import numpy as np
from sqlalchemy.exc import IntegrityError

from tobbix.core.base.errors import Conflict, InputError, TobbixError
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.box_value import SHARES, WORST, BoxValue, value_holding
from tobbix.core.products.collating import Collation, check_collation, plan_batches, read_figures, simulate_batch
from tobbix.core.products.completing import SetAim, find_pieces, simulate_set
from tobbix.core.products.revising import find_format
from tobbix.core.products.valuation import ONE_BOX, Valuation
from tobbix.core.products.verdict import ask
from tobbix.core.products.worlds import simulate_worlds
from tobbix.core.products.worth import ValueBasis
from tobbix.db.products.loading import find_release
from tobbix.db.products.simulations import (
    add_simulation,
    find_alive,
    finish,
    get_simulation,
    note_progress,
    release_key,
)
from tobbix.db.products.tables import SimulationRow
from tobbix.services.products.workshop import Looked, Workshop

MOST_BOXES = 5_000_000
MOST_WORLDS = 1_000
MOST_RUNS = 20_000
_THREADS = 2


@dataclass(frozen=True, slots=True)
class Question:
    """What is simulated: ``boxes`` as they are packed (C-05), ``worlds`` of uncertain prices (C-06), or ``set``
    (C-09), with ``count`` runs. ``price`` per box (sticker, money); line and number of the set."""

    kind: str
    format: str
    count: int
    seed: int = 1
    price: float | None = None
    no_repeats: bool = True
    even: bool = False
    line: str | None = None
    basis: str | None = None
    way: str | None = None


@dataclass(frozen=True, slots=True)
class Simulation:
    """A simulation as it stands."""

    number: int
    kind: str
    state: str
    done: int
    total: int
    seed: int
    asked: Mapping[str, Any]
    result: Mapping[str, Any] | None
    fault: str | None
    is_current: bool


def ask_simulation(workshop: Workshop, key: str, question: Question) -> Simulation:
    """Begin a simulation, or find the one that answers the same. Raises InputError, NotFound."""
    looked, valuation = _prepare(workshop, key, question)
    if question.kind == "boxes":
        check_collation(valuation, Collation(question.no_repeats, question.even))
    most = {"boxes": MOST_BOXES, "worlds": MOST_WORLDS, "set": MOST_RUNS}[question.kind]
    if not 1 <= question.count <= most:
        raise InputError.at("count", f"must be from 1 to {most:,}")
    if question.kind == "set":
        find_pieces(valuation, SetAim(question.line or ""))
    asked = asdict(question)
    identity = [key, looked.sheet.revision, repr(looked.standpoint), repr(looked.preferences.costs_with_time), asked]
    if question.kind == "worlds":
        identity.append(repr(looked.preferences.uncertainty))
    fingerprint = sha256(json.dumps(identity, sort_keys=True).encode()).hexdigest()
    try:
        with workshop.database.transaction() as session:
            row = find_alive(session, fingerprint)
            if row is None:
                release = find_release(session, key)
                row = add_simulation(session, release, question.kind, asked, fingerprint, question.seed, question.count)
            return _show(row, looked.sheet.revision)
    except IntegrityError:  # another request asked the same in this moment
        with workshop.database.transaction() as session:
            row = find_alive(session, fingerprint)
            if row is None:
                raise Conflict("the simulation was just stopped; ask again") from None
            return _show(row, looked.sheet.revision)


def read_simulation(workshop: Workshop, number: int) -> Simulation:
    """How far a simulation is, and its result. Raises NotFound."""
    with workshop.database.transaction() as session:
        row = get_simulation(session, number)
        return _show(row, workshop.sheet(session, release_key(session, row)).revision)


def stop_simulation(workshop: Workshop, number: int) -> Simulation:
    """Stop a simulation: at once if it waits, after its present batch if it runs. Raises NotFound."""
    with workshop.database.transaction() as session:
        row = get_simulation(session, number, lock=True)
        row.stop_asked = True
        if row.state == "waiting":
            row.state, row.finished_at = "cancelled", datetime.now(UTC)
        session.flush()
        return _show(row, row.revision)


def run_simulation(workshop: Workshop, number: int) -> None:
    """Carry a simulation out: the task of the worker. A second run of the same gives the same result.

    Does nothing for one that is finished or was stopped before it began.
    """
    with workshop.database.transaction() as session:
        row = get_simulation(session, number, lock=True)
        if row.state not in ("waiting", "running"):
            return
        row.state, row.done = "running", 0
        key, question, revision = release_key(session, row), Question(**row.asked), row.revision
    try:
        looked, valuation = _prepare(workshop, key, question)
        if looked.sheet.revision != revision:
            raise Conflict("the release was changed before the simulation began; ask again")
        result = _RUNS[question.kind](looked, valuation, question, _teller(workshop, number))
        _close(workshop, number, "done", result, None)
    except _Stopped:
        _close(workshop, number, "cancelled", None, None)
    except TobbixError as error:
        _close(workshop, number, "failed", None, str(error)[:500])
    except Exception:
        _close(workshop, number, "failed", None, "something went wrong; the server's log says more")
        raise


def give_up_simulation(workshop: Workshop, number: int) -> None:
    """Close a simulation that ended its worker again and again. Raises NotFound."""
    _close(workshop, number, "failed", None, "it ended the worker several times; ask for fewer")


class _Stopped(Exception):
    """The owner asked to stop."""


Tell = Callable[[int], None]


def _teller(workshop: Workshop, number: int) -> Tell:
    """What keeps the progress, and ends the run once the owner asked for it."""

    def tell(done: int) -> None:
        with workshop.database.transaction() as session:
            if not note_progress(session, number, done):
                raise _Stopped

    return tell


def _prepare(workshop: Workshop, key: str, question: Question) -> tuple[Looked, Valuation]:
    basis = None if question.basis is None else ValueBasis(question.basis)
    looked = workshop.read(key, ViewChoice(basis, question.way))
    find_format(looked.sheet, question.format)
    return looked, workshop.valuation(looked.sheet, question.format, looked.standpoint)


def _outlay(looked: Looked, question: Question, box: BoxValue) -> float | None:
    fmt = box.valuation.format
    sticker = question.price if question.price is not None or fmt.price is None else float(fmt.price)
    return ask(sticker, box, looked.preferences.costs_with_time).outlay


def _run_boxes(looked: Looked, valuation: Valuation, question: Question, tell: Tell) -> dict[str, Any]:
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
        except _Stopped:
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


def _run_worlds(looked: Looked, valuation: Valuation, question: Question, tell: Tell) -> dict[str, Any]:
    exact = value_holding(valuation, ONE_BOX)
    outlay = _outlay(looked, question, exact)
    worlds = simulate_worlds(
        valuation, looked.preferences.uncertainty, outlay, looked.preferences.rule,
        looked.preferences.costs_with_time, question.count, np.random.default_rng(question.seed), tell,
    )  # fmt: skip
    return asdict(worlds)


def _run_set(looked: Looked, valuation: Valuation, question: Question, tell: Tell) -> dict[str, Any]:
    del looked
    random = np.random.default_rng(question.seed)
    answer = simulate_set(valuation, SetAim(question.line or ""), question.count, random, tell)
    step = max(len(answer.curve) // 160, 1)
    return {
        "mean": answer.mean,
        "error": answer.error,
        "half": answer.half,
        "nine_tenths": answer.nine_tenths,
        "curve": [asdict(point) for point in answer.curve[::step]],
    }


_RUNS: Mapping[str, Callable[[Looked, Valuation, Question, Tell], dict[str, Any]]] = {
    "boxes": _run_boxes,
    "worlds": _run_worlds,
    "set": _run_set,
}


def _close(workshop: Workshop, number: int, state: str, result: dict[str, Any] | None, fault: str | None) -> None:
    with workshop.database.transaction() as session:
        finish(session, number, state, datetime.now(UTC), result, fault)


def _show(row: SimulationRow, revision: int) -> Simulation:
    return Simulation(
        row.id, row.kind, row.state, row.done, row.total, row.seed, row.asked, row.result, row.fault,
        row.revision == revision,
    )  # fmt: skip
