"""A small part of the attack (``make attack`` runs it whole): nothing lost, doubled or half done, and no failure."""

from pathlib import Path

from sqlalchemy import text

from tests.attack.hostile_files import harmful_files, run_files
from tests.attack.hostile_requests import run_requests
from tests.attack.kills import Figures, judge, run_kills
from tests.served.conftest import Served, install
from tobbix.db.base import Database
from tobbix.formats.limits import MEMORY, SECONDS

SLOW = {"a zip that unpacks to 2.8 GB", "a million rows", "100,001 rows of a workbook", "a million empty rows"}


def test_eight_kills_lose_double_and_halve_nothing(server_url: str, worker_id: str, tmp_path: Path) -> None:
    with install(server_url, f"kills_{worker_id}", tmp_path) as served:
        figures, actor = run_kills(served, 8, 8)
        assert figures.kills == 8 and figures.acts >= 8
        assert (figures.lost, figures.doubled, figures.half_done, figures.refused, figures.failures) == (
            [],
            [],
            [],
            [],
            0,
        )
    # What it counts, it sees: a lost purchase, a doubled card, a posting without its other half.
    database = Database(served.url)
    with database.engine.begin() as connection:
        connection.execute(text("update document set text = 'other' where text = 'lot 0'"))
        connection.execute(text("update item set name = 'old card 0' where name = 'single 0'"))
        connection.execute(text("alter table posting disable trigger posting_balances"))
        connection.execute(text("delete from posting where id = (select min(id) from posting)"))
    database.engine.dispose()
    found = Figures()
    judge(served, actor, found)
    assert found.lost == ["purchase lot 0"] and (not actor.made["item"] or found.doubled == ["item old card 0"])
    assert any("does not balance" in line for line in found.half_done)


def test_five_hundred_hostile_requests_are_answered_plainly(served: Served) -> None:
    figures = run_requests(served, 500, 8)
    assert figures.sent >= 475 and figures.failed == [] and figures.unplain == []
    assert set(figures.statuses) >= {200, 404, 422}


def test_thirty_hostile_files_stay_within_their_bounds(served: Served) -> None:
    names = [name for name in harmful_files() if name not in SLOW]
    figures = run_files(served, 2 * len(names) + 30, 8, names)
    assert figures.failed == [] and figures.sent >= 90
    assert figures.reader <= MEMORY * 1.05 and figures.slowest < SECONDS * 2, figures  # a bound, not a speed
