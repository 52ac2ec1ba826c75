"""What grading costs in time: the gains of 300 cards, the best batch of 300 cards over four tiers beside HiGHS alone on
the same model, a scan measured, 500 simulated scans, a year of submissions. A part of ``make bench``."""

from datetime import timedelta
from decimal import Decimal
from functools import partial

import numpy as np
from scipy import optimize

from tests.bench_work import DAY, seconds
from tests.conftest import make_database
from tobbix.core.grading.batch import BatchCard, BatchQuestion, BatchTier, choose_batch
from tobbix.core.grading.centering import NotMeasured, measure_centering
from tobbix.core.grading.gain import Cracking, TierLimit
from tobbix.core.grading.many import work_out_gains
from tobbix.core.grading.simulated_scans import simulate_scan
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.db.base import Database
from tobbix.formats.item_lists import parse_items
from tobbix.gateways.shipped import PLUMBLINE
from tobbix.services.grading import profiles, submissions
from tobbix.services.grading.submissions import CardSaid
from tobbix.services.installation.owners import create_owner
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing, items
from tobbix.services.stock.items import ItemFilter

_CARDS, _SCANS = 300, 500
_WAY = SellingWay("w", "w", commission=(Bracket(None, Decimal("0.13")),), fixed_fee=Decimal("1.20"))
_CRACK = Cracking(Decimal("0.02"), Decimal(1))
_GRADES = ("10", "9", "8", "7")


def _question(random: np.random.Generator) -> BatchQuestion:
    cards = []
    for at in range(_CARDS):
        shares = np.round(random.dirichlet(np.ones(4)), 4)
        chances = {grade: Decimal(f"{share:.4f}") for grade, share in zip(_GRADES, shares, strict=True)}
        chances["7"] += 1 - sum(chances.values(), Decimal(0))
        raw = random.lognormal(2.8, 0.9)
        values = {
            grade: Decimal(f"{raw * times:.2f}") for grade, times in zip(_GRADES, (4.5, 1.6, 0.9, 0.7), strict=True)
        }
        cards.append(BatchCard(f"c{at}", chances, dict(values), Decimal(f"{raw:.2f}")))
    tiers = (
        BatchTier("bulk", Decimal(18), 20, Decimal(200), Decimal(15), True), BatchTier("standard", Decimal(26)),
        BatchTier("swift", Decimal(70)), BatchTier("value", Decimal(22), 10, Decimal(80), Decimal(20)),
    )  # fmt: skip
    return BatchQuestion(
        _WAY,
        tuple(cards),
        tiers,
        Decimal(4),
        Decimal(20),
        Decimal(15),
        Decimal(90),
        budget=Decimal(2_000),
        crack=_CRACK,
    )


def bench_grading(server_url: str) -> None:
    """Gains, batch, scans, submissions."""
    random = np.random.default_rng(14)
    chances = random.dirichlet(np.ones(10), _CARDS)
    values = np.sort(random.uniform(5, 400, (_CARDS, 10)), axis=1)[:, ::-1].copy()
    raw, cost = random.uniform(5, 120, _CARDS), np.full(_CARDS, 27.4)
    gains = partial(work_out_gains, chances, values, raw, cost, _WAY, _CRACK, TierLimit(Decimal(250), Decimal(15)))
    gains()
    print(f"300 gains: {min(seconds(gains) for _ in range(5)) * 1e3:.1f} ms of core time (aim: under 50)")
    _bench_batch(random)
    scan = simulate_scan(5, 1_680).pixels[:, :1_200]
    measure = partial(measure_centering, scan)
    measure()
    print(f"a scan of {scan.shape[1]} x {scan.shape[0]}: {min(seconds(measure) for _ in range(5)) * 1e3:.0f} ms "
          "(aim: under 300)")  # fmt: skip
    _bench_scans()
    database = Database(make_database(server_url, "grading"))
    create_owner(database, "Bench", "four plain words here")
    catalogue = Catalogue(database, lambda: DAY)
    lines = b"name,kind,basis\n" + b"".join(f"card {at},card,5\n".encode() for at in range(400))
    bringing.import_items(database, parse_items(lines), DAY - timedelta(400))
    grader = profiles.put_grader(database, None, 0, PLUMBLINE)
    cards = [it.number for it in items.all_items(database, ItemFilter())]
    for at in range(40):
        submissions.draft(catalogue, grader, [CardSaid(it, "standard") for it in cards[at * 10 : at * 10 + 10]])
    listed = partial(submissions.list_submissions, catalogue)
    listed()
    print(f"a year of 40 submissions: {min(seconds(listed) for _ in range(5)) * 1e3:.0f} ms (aim: under 100)")


def _bench_batch(random: np.random.Generator) -> None:
    """The batch beside HiGHS alone: the same program, caught as it is handed over, solved by itself."""
    question = _question(random)
    caught: list[tuple[object, ...]] = []
    real = optimize.milp

    def catch(c: object, **options: object) -> object:
        caught.append((c, options))
        return real(c, **options)

    optimize.milp = catch
    try:
        took = seconds(lambda: choose_batch(question))
    finally:
        optimize.milp = real
    found = choose_batch(question)
    if not caught:
        print(f"the best batch of {_CARDS} cards over 4 tiers: {took:.2f} s, proven: {found.proven}")
        return
    c, options = caught[0]
    assert isinstance(options, dict)
    alone = seconds(lambda: real(c, **options))
    said = f"the best batch of {_CARDS} cards over 4 tiers: {took:.2f} s, proven: {found.proven}"
    print(f"{said}; HiGHS alone {alone:.2f} s, "
          f"x {took / alone:.2f} (aim: 1.5)")  # fmt: skip


def _bench_scans() -> None:
    """500 scans of 520 pixels: errors and refusals."""
    errors, inside, refused = [], 0, 0
    for seed in range(_SCANS):
        scan = simulate_scan(20_000 + seed, 520)
        try:
            found = measure_centering(scan.pixels)
        except NotMeasured:
            refused += 1
            continue
        error = abs(found.left_right[0] - scan.left)
        errors.append(error)
        inside += error <= found.uncertainty[0]
    print(f"{_SCANS} scans of 520 pixels: 95 % within {np.quantile(errors, 0.95):.2f} points (aim: 1), "
          f"{inside / len(errors):.0%} inside their 95 %, {refused} refused")  # fmt: skip
