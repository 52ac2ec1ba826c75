"""``make attack``: everything, against an instance of its own on loopback, with its figures. At most 30 minutes."""

import sys
import tempfile
import time
from pathlib import Path

from tests.attack.backups import run_backups, table_digests
from tests.attack.hostile_files import run_files
from tests.attack.hostile_requests import run_requests
from tests.attack.kills import kill_database, run_kills
from tests.conftest import TODAY, cluster_script, make_database
from tests.served.conftest import Served, install
from tobbix.db.base import Database
from tobbix.demo.scenario import load_demo
from tobbix.formats.item_lists import ItemLine
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.backups import back_up, restore
from tobbix.services.stock.bringing import import_items

KILLS, REQUESTS, FILES, ROWS = 200, 20_000, 200, 250_000


def attack_with_kills(folder: Path) -> bool:
    """On a cluster that syncs, as the kept one does, and that the keeper keeps."""
    url = cluster_script("start", folder / "cluster", "kept")
    served = install(url, "tobbix", folder, cluster=folder / "cluster").start()
    began = time.monotonic()
    found, _ = run_kills(served, KILLS, 20_261_126, lambda: kill_database(folder / "cluster"))
    print(f"kills        {found.kills} in {time.monotonic() - began:.0f} s, {found.acts} acts, {found.repeated} sent")
    print(
        f"             again; lost {len(found.lost)}, doubled {len(found.doubled)}, half done {len(found.half_done)},"
    )
    print(f"             refused {len(found.refused)}, 500 {found.failures}; longest wait {found.longest:.1f} s")
    wrong = [*found.lost, *found.doubled, *found.half_done, *found.refused]
    print(*(f"  {line}" for line in wrong[:20]), sep="\n", end="\n" if wrong else "")
    served.stop()
    cluster_script("stop", folder / "cluster", "kept")
    return not wrong and not found.failures


def attack_with_requests(served: Served) -> bool:
    began = time.monotonic()
    found = run_requests(served, REQUESTS, 20_261_126)
    print(f"requests     {found.sent} in {time.monotonic() - began:.0f} s: {dict(sorted(found.statuses.items()))}")
    print(
        f"             5xx or no answer {len(found.failed)}, refusals that are no problem document {len(found.unplain)}"
    )
    print(f"             slowest {found.slowest:.2f} s ({found.slowest_what[:70]})")
    print(f"             the server held {found.memory / 1e6:.0f} MB at most")
    wrong = [*found.failed, *found.unplain]
    print(*(f"  {line}" for line in wrong[:20]), sep="\n", end="\n" if wrong else "")
    return not wrong


def attack_with_files(served: Served) -> bool:
    began = time.monotonic()
    found = run_files(served, FILES, 20_261_126)
    print(f"files        {found.sent} in {time.monotonic() - began:.0f} s: {dict(sorted(found.statuses.items()))}")
    print(f"             5xx or no answer {len(found.failed)}; slowest {found.slowest:.1f} s ({found.slowest_what})")
    print(f"             the reader held {found.reader / 1e6:.0f} MB at most ({found.reader_what}),")
    print(f"             the server {found.server / 1e6:.0f} MB")
    print(*(f"  {line}" for line in found.failed[:20]), sep="\n", end="\n" if found.failed else "")
    return not found.failed


def attack_with_backups(url: str, folder: Path) -> bool:
    """Damaged ones, and one of many rows that must come back as it was."""
    database = Database(make_database(url, "attack_backups"))
    load_demo(database, SimulatedRates(), SimulatedScale())
    saved = folder / "saved.zip"
    back_up(database, saved)
    began = time.monotonic()
    count, wrong = run_backups(database, saved, folder)
    print(f"backups      {count} damaged in {time.monotonic() - began:.0f} s; taken or half taken {len(wrong)}")
    print(*(f"  {line}" for line in wrong), sep="\n", end="\n" if wrong else "")
    for start in range(0, ROWS, 50_000):
        rows = [ItemLine(n, f"card {n}", None, None, None, None, 1, None, None, None, None, None, None, False, None)
                for n in range(start, start + 50_000)]  # fmt: skip
        import_items(database, rows, TODAY)
    before = table_digests(database)
    began = time.monotonic()
    size = back_up(database, saved)
    middle = time.monotonic()
    restore(database, saved, confirmed=True)
    same = table_digests(database) == before
    print(f"large backup {before['item'][0]} items, {size / 1e6:.1f} MB: out in {middle - began:.1f} s, back in "
          f"{time.monotonic() - middle:.1f} s, {len(before)} tables {'equal' if same else 'NOT EQUAL'}")  # fmt: skip
    database.engine.dispose()
    return same and not wrong


def main() -> None:
    with tempfile.TemporaryDirectory(prefix="tobbix-attack-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        throwaway, kept, requests_folder = folder / "throwaway", folder / "kept", folder / "requests"
        kept.mkdir()
        requests_folder.mkdir()
        url = cluster_script("start", throwaway)
        try:
            served = install(url, "attack_requests", requests_folder).start()
            held = [attack_with_requests(served), attack_with_files(served)]
            served.stop()
            held.append(attack_with_backups(url, folder))
            held.append(attack_with_kills(kept))
        finally:
            cluster_script("stop", throwaway)
    print("everything held" if all(held) else "NOT everything held")
    sys.exit(0 if all(held) else 1)


main()
