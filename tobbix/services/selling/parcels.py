"""Parcels on their way, both ways, as a list and as a calendar (C-32)."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from tobbix.core.base.results import Verdict
from tobbix.core.selling.orders import ParcelOnItsWay, state_parcels
from tobbix.db.selling.orders import list_parcels as load_parcels
from tobbix.formats.calendars import Dated, write_calendar
from tobbix.services.products.catalogue import Catalogue

MOST, KEPT = 500, 30


@dataclass(frozen=True, eq=False)
class ParcelList:
    """Parcels on their way, the first due first, and those that arrived in the last month."""

    rows: tuple[ParcelOnItsWay, ...]
    today: date
    verdict: Verdict


def list_parcels(catalogue: Catalogue) -> ParcelList:
    """All parcels on their way, both ways. Rule C-32."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        rows = tuple(load_parcels(session, today - timedelta(KEPT), MOST))
    return ParcelList(rows, today, state_parcels(rows, today))


def write_parcels_calendar(catalogue: Catalogue) -> bytes:
    """When what is on its way is due, and until when it can be claimed for, as iCalendar."""
    found = list_parcels(catalogue)
    return write_calendar(_days(found), found.today)


def _days(found: ParcelList) -> Iterator[Dated]:
    for it in found.rows:
        if it.received_on is not None:
            continue
        way = "to you" if it.direction == "in" else "to its buyer"
        if it.due_on is not None:
            yield Dated(f"parcel-{it.document}-{it.direction}-due@tobbix", it.due_on, f"Due {way}: {it.text}")
        if it.claim_until is not None:
            yield Dated(f"parcel-{it.document}-{it.direction}-claim@tobbix", it.claim_until,
                        f"Last day of a claim: {it.text}")  # fmt: skip
