"""What there is to do today, over all steps."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from pathlib import Path
from urllib.parse import quote

from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.sentences import ItemSums
from tobbix.core.planning.desk import (
    Act,
    Job,
    Resting,
    backup_job,
    counts_of,
    in_order,
    of_the_week,
    order_jobs,
    parcel_job,
    redemption_job,
    release_job,
    session_job,
    state_desk,
    unvalued_job,
)
from tobbix.core.products.overview import list_waiting
from tobbix.db.buying.loading import list_purchases
from tobbix.db.holdings.listing import ItemFilter, rests_on_releases, sum_items, worths
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import list_redemptions, list_sessions
from tobbix.db.selling.orders import waiting_orders
from tobbix.formats.calendars import Dated, write_calendar
from tobbix.services.installation.keeping import list_daily
from tobbix.services.opening.viewing import read_session
from tobbix.services.products.answering import answer_releases
from tobbix.services.products.catalogue import Catalogue

PLACES = {
    Act.RECEIVE: "/buying/{}#parcel", Act.SETTLE: "/buying/{}#parcel", Act.GO_ON: "/opening/{}",
    Act.POST: "/opening#redemptions", Act.ARRIVE: "/opening#redemptions", Act.LOOK_UP: "/products/{}",
    Act.VALUE: "/stock?value=unknown", Act.BACK_UP: "/settings/installation#backup",
    Act.PACK: "/selling/{}", Act.HAND_IN: "/selling/{}", Act.ANSWER: "/selling/{}",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Placed:
    """A job and the address of the page where it is done."""

    job: Job
    path: str


@dataclass(frozen=True, eq=False)
class Desk:
    """The jobs in their order, how many wait at each step, what is due this week, and what is held in ``currency``."""

    today: date
    currency: str
    jobs: tuple[Placed, ...]
    counts: dict[str, int]
    week: tuple[tuple[date, tuple[str, ...]], ...]
    held: ItemSums
    verdict: Verdict


def read_desk(catalogue: Catalogue, backups: Path | None = None) -> Desk:
    """What there is to do today; ``backups`` the folder of daily ones, None if none are made."""
    today = catalogue.today()
    releases = answer_releases(catalogue)
    with catalogue.database.transaction() as session:
        preferences = load_preferences(session)
        home = preferences.currency
        purchases = list_purchases(session)
        running = [(row, name) for row, name in list_sessions(session) if row.is_alive]
        posted = [row for row in list_redemptions(session) if row.arrived_on is None]
        worth = worths(session, [row.item for row in posted if row.item is not None])
        held = sum_items(session, ItemFilter(), minor_units(home))
        resting = rests_on_releases(session)
        waiting = waiting_orders(session)
    found: list[Job | None] = [parcel_job(purchase, today, home) for purchase in purchases]
    for row, name in running:
        view = read_session(catalogue, row.number)
        known = [line.value for line in view.left]
        left = None if None in known else Decimal(sum(value or 0.0 for value in known))
        opened = row.packs - view.ahead.packs
        found.append(session_job(row, name, opened, left, preferences.selling.minutes_per_box, home))
    found += order_jobs(waiting, today, home)
    found += [redemption_job(row, worth.get(row.item or 0), today, home) for row in posted]
    for answers in releases:
        things, value = resting.get(answers.sheet.id, (0, None))
        has_answer = any(answer.loss is not None for answer in answers.formats)
        chores = list_waiting(answers.sheet, answers.formats, today)
        found.append(release_job(chores, Resting(things, value), has_answer, home))
    found.append(unvalued_job(held.unknown_value))
    is_first_day = not releases and not purchases and not held.total
    if backups is not None and not is_first_day:
        daily = list_daily(backups)
        found.append(backup_job(daily[0].day if daily else None, today))
    jobs = in_order([job for job in found if job is not None])
    verdict = state_desk(jobs, is_first_day)
    placed = tuple(Placed(job, PLACES[job.act].format(quote(job.key))) for job in jobs)
    return Desk(today, home, placed, counts_of(jobs), tuple(of_the_week(jobs, today)), held, verdict)


def write_week(catalogue: Catalogue) -> bytes:
    """Everything on the desk that has a day, as a calendar. RFC 5545."""
    desk = read_desk(catalogue)
    return write_calendar([
        Dated(f"{placed.job.act.name.lower()}-{placed.job.key}@tobbix", placed.job.day, placed.job.text)
        for placed in desk.jobs
        if placed.job.day is not None
    ], desk.today)  # fmt: skip
