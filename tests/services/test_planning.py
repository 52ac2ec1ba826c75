"""Use cases of planning: assumptions, trials and simulations that are followed, stopped, remembered and repeated."""

import time
from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal
from threading import Thread

import pytest

from tests.conftest import TODAY, make_database
from tests.services.test_products import prices, take
from tests.sheets import document, example_1, line
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.tasks import Task
from tobbix.core.planning.habits import AS_USUAL
from tobbix.core.products.trying import Edit, EditKind
from tobbix.core.products.valuation import ONE_BOX
from tobbix.db.base import Database
from tobbix.db.tasks.tables import TaskRow
from tobbix.demo.releases import demo_sheets
from tobbix.jobs.worker import run_worker
from tobbix.services.products import assuming, editing, simulating, trying
from tobbix.services.products.answering import answer_holding, answer_release
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet
from tobbix.services.tasks.carrying import carry_out_task, list_tasks


def mean(catalogue: Catalogue) -> float:
    return answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean


def test_an_assumption_counts_until_the_sheet_says_something(catalogue: Catalogue) -> None:
    take(catalogue, document([line("a", ["12"], None, "unstated")]))
    before = mean(catalogue)
    said = assuming.Assumption(assuming.AssumptionKind.ODDS, "a", "box", "1:6 packs")
    assert assuming.change_assumption(catalogue, "test", said) == [said]
    assert mean(catalogue) - before == pytest.approx(2 * (12 - 0.05))
    editing.change_odds(catalogue, "test", 1, "a", "box", None, "1:12 packs")
    assert mean(catalogue) - before == pytest.approx(12 - 0.05)  # the sheet's word wins
    assert assuming.change_assumption(catalogue, "test", replace(said, text="")) == []
    for wrong in (replace(said, text="often"), replace(said, format=None), replace(said, kind="price")):  # type: ignore[arg-type]
        with pytest.raises(InputError):
            assuming.change_assumption(catalogue, "test", wrong)
    with pytest.raises(NotFound):
        assuming.change_wanted(catalogue, "test", "a", "A99", wanted=True)


def test_a_trial_is_compared_kept_as_one_change_and_undone(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    version = trying.add_trial(catalogue, "test", 0, Edit(EditKind.ODDS, "1:2 packs", line="a", format="box"))
    version = trying.add_trial(catalogue, "test", version, Edit(EditKind.CARD_PRICE, "150", line="c", number="C8"))
    with pytest.raises(Conflict):
        trying.add_trial(catalogue, "test", 1, Edit(EditKind.BOX_PRICE, "9", format="box"))
    found = trying.read_trial(catalogue, "test", "box", AS_USUAL)
    assert found.before.value.mean == pytest.approx(37.4536, abs=1e-4) and found.after.value.mean > 42
    with pytest.raises(InputError):
        trying.add_trial(catalogue, "test", version, Edit(EditKind.ODDS, "1:0 packs", line="a", format="box"))
    assert mean(catalogue) == pytest.approx(37.4536, abs=1e-4)  # the sheet is as it was
    trying.keep_trial(catalogue, "test", version)
    assert mean(catalogue) == pytest.approx(found.after.value.mean)
    assert answer_release(catalogue, "test").last_change.what == "2 changes that were tried"
    assert trying.read_trial(catalogue, "test", "box", AS_USUAL).edits == ()
    editing.undo_change(catalogue, "test")
    assert mean(catalogue) == pytest.approx(37.4536, abs=1e-4)
    trying.add_trial(catalogue, "test", 0, Edit(EditKind.BOX_PRICE, "9", format="box"))
    trying.drop_trial(catalogue, "test")
    assert trying.read_trial(catalogue, "test", "box", AS_USUAL).version == 0


def test_a_tried_price_may_follow_again_and_releasing_is_no_trial(catalogue: Catalogue) -> None:
    store_sheet(catalogue, demo_sheets()[0], replace_existing=False)
    key = "skerrylight-2025"
    editing.change_card_price(catalogue, key, prices(catalogue, key), "slate", "7", "12.50")
    with pytest.raises(InputError, match="release’s page"):
        trying.add_trial(catalogue, key, 0, Edit(EditKind.CARD_PRICE, "release", line="slate", number="7"))
    version = trying.add_trial(catalogue, key, 0, Edit(EditKind.CARD_PRICE, "follows", line="slate", number="7"))
    kept = trying.keep_trial(catalogue, key, version)
    assert "7" not in dict(kept.line_by_id["slate"].price_overrides)
    undone = editing.undo_change(catalogue, key).sheet
    assert dict(undone.line_by_id["slate"].price_overrides)["7"] == Decimal("12.50")


@pytest.fixture
def own(server_url: str, worker_id: str) -> Iterator[tuple[Catalogue, str]]:
    """A database of its own: the worker has connections of its own, so what is stored is committed."""
    url = make_database(server_url, f"jobs_{worker_id}")
    database = Database(url)
    catalogue = Catalogue(database, lambda: TODAY)
    take(catalogue, example_1())
    yield catalogue, url
    database.engine.dispose()


def ask(catalogue: Catalogue, asked: simulating.Question) -> Task:
    return simulating.ask_simulation(catalogue, "test", asked).task


def read(catalogue: Catalogue, number: int) -> Task:
    return simulating.read_simulation(catalogue, number).task


def question(**more: object) -> simulating.Question:
    return simulating.Question(**{"kind": "boxes", "format": "box", "count": 200_000, "price": 60.0, **more})  # type: ignore[arg-type]


def test_simulations_run_in_the_background_and_are_remembered_with_their_inputs(own: tuple[Catalogue, str]) -> None:
    catalogue, url = own
    asked = ask(catalogue, question())
    worlds = ask(catalogue, question(kind="worlds", count=10))
    cards = ask(catalogue, question(kind="set", count=200, line="a"))
    assert asked.state == "waiting" and ask(catalogue, question()).number == asked.number
    run_worker(url, wait=False)
    done = read(catalogue, asked.number)
    assert (done.state, done.done) == ("done", 200_000) and done.result is not None
    exact, error = done.result["exact"], done.result["mean_error"]
    assert abs(done.result["mean"] - exact["mean"]) < 4.5 * error
    assert exact["loss"] == pytest.approx(1 - 0.113724, abs=1e-6)
    assert abs(done.result["loss"] - exact["loss"]) < 5 * done.result["loss_error"] + 0.01
    assert read(catalogue, worlds.number).state == "done"
    assert (read(catalogue, cards.number).result or {})["mean"] > 10
    assert {task.number for task in list_tasks(catalogue.database, "release:test/box")} == {
        asked.number, worlds.number, cards.number,
    }  # fmt: skip
    again = ask(catalogue, question())
    assert again.number == asked.number and again.result == done.result
    assert ask(catalogue, question(seed=2)).number != asked.number
    editing.change_format_price(catalogue, "test", prices(catalogue), "box", "55")
    assert not simulating.read_simulation(catalogue, asked.number).is_current
    for wrong, field in ((question(count=0), "count"), (question(kind="set", line="zz", count=20), "line")):
        with pytest.raises(InputError) as caught:
            ask(catalogue, wrong)
        assert caught.value.faults[0].field == field


def test_a_simulation_is_stopped_or_done_again_after_its_worker_was_killed(own: tuple[Catalogue, str]) -> None:
    catalogue, url = own
    waiting = ask(catalogue, question())
    assert simulating.stop_simulation(catalogue, waiting.number).task.state == "cancelled"
    long = ask(catalogue, question(count=5_000_000))
    assert long.number != waiting.number
    worker = Thread(target=run_worker, args=(url, False))
    worker.start()
    while read(catalogue, long.number).done == 0:
        time.sleep(0.05)
    simulating.stop_simulation(catalogue, long.number)
    worker.join()
    stopped = read(catalogue, long.number)
    assert stopped.state == "cancelled" and 0 < stopped.done < 5_000_000 and stopped.result is None
    # killed half way: the row says "running" and a part is done; the job is put back and runs from the beginning
    left = ask(catalogue, question(seed=3))
    with catalogue.database.transaction() as session:
        row = session.get(TaskRow, left.number)
        assert row is not None
        row.state, row.done = "running", 100_000
    runs = simulating.simulation_runs(catalogue)
    carry_out_task(catalogue.database, left.number, runs)
    once = read(catalogue, left.number)
    assert once.state == "done" and (once.result or {})["boxes"] == 200_000
    carry_out_task(catalogue.database, left.number, runs)  # a second run of a finished one changes nothing
    assert read(catalogue, left.number).result == once.result
