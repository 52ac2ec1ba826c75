"""The desk: what waits over all steps, in its order, with what is at stake. Worked by hand."""

from datetime import date
from decimal import Decimal as D
from typing import Any

from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.documents import Charge, Parcel
from tobbix.core.holdings.states import ChargeKind, DocumentState, ParcelState, Purpose
from tobbix.core.opening.records import Opening, Redemption
from tobbix.core.planning.desk import (
    Act,
    Job,
    Resting,
    When,
    counts_of,
    in_order,
    of_the_week,
    parcel_job,
    redemption_job,
    release_job,
    session_job,
    state_desk,
    unvalued_job,
)
from tobbix.core.products.overview import Chore, Waiting

TODAY = date(2026, 11, 26)  # a Thursday


def _bought(number: int, paid: str, due: date | None, state: DocumentState = DocumentState.ORDERED) -> Purchase:
    charge = Charge(ChargeKind.PRICE, D(paid), "EUR", date(2026, 11, 3), D(1), D(paid), "card")
    parcel = Parcel(ParcelState.ON_ITS_WAY, None, None, due, None, None, None)
    return Purchase(
        number, number, 0, f"lot {number}", None, date(2026, 11, 3), state, Method.VALUE, D(0), None, (charge,), (),
        parcel, (),
    )  # fmt: skip


def _session(packs: int) -> Opening:
    return Opening(
        7, 7, 0, 1, "skerry", "harbour", 1, 1, packs, 0, {}, 1.0, False, 1, DocumentState.RUNNING, D(0),
        Purpose.ENTERTAINMENT, TODAY, None, None,
    )  # fmt: skip


def _redemption(posted: date | None, due: date | None, arrived: date | None = None) -> Redemption:
    return Redemption(3, 0, "a relic", "CODE", None, None, None, posted, due, arrived)


def _all() -> list[Job]:
    old = Waiting(Chore.STALE, "moth", "Moths 1998", None, "prices 177 days old", 92)
    missing = Waiting(Chore.CARD_PRICES, "moth", "Moths 1998", None, "1 card without a price")
    found = [
        parcel_job(_bought(1, "60.00", date(2026, 11, 26)), TODAY, "EUR"),
        parcel_job(_bought(2, "118.00", date(2026, 11, 23)), TODAY, "EUR"),
        parcel_job(_bought(3, "20.00", date(2026, 11, 29)), TODAY, "EUR"),
        parcel_job(_bought(4, "20.00", None), TODAY, "EUR"),
        parcel_job(_bought(5, "85.00", None, DocumentState.DISPUTED), TODAY, "EUR"),
        session_job(_session(16), "harbour box", 9, D("14.96"), 32.0, "EUR"),
        redemption_job(_redemption(None, date(2026, 12, 16)), D("41.00"), TODAY, "EUR"),
        release_job([missing, old], Resting(1, D("145.00")), False, "EUR"),
        unvalued_job(2),
    ]
    return [job for job in found if job is not None]


def test_what_is_due_comes_first_and_then_what_pays_most_for_the_time() -> None:
    jobs = in_order(_all()[::-1])
    assert [(job.act, job.key) for job in jobs] == [
        (Act.RECEIVE, "2"), (Act.RECEIVE, "1"), (Act.RECEIVE, "3"), (Act.SETTLE, "5"), (Act.GO_ON, "7"),
        (Act.LOOK_UP, "moth"), (Act.POST, "3"), (Act.RECEIVE, "4"), (Act.VALUE, ""),
    ]  # fmt: skip
    assert jobs[4].minutes == 14  # 32 minutes a box, 7 of 16 packs are left
    assert jobs[5].minutes == 139.5  # 93 look-ups of a minute and a half: Rule C-35
    assert counts_of(jobs) == {"products": 1, "buying": 5, "opening": 2, "stock": 1, "selling": 0, "books": 0}
    assert sum(counts_of(jobs).values()) == len(jobs)
    verdict = state_desk(jobs, False)
    assert verdict.text() == (
        "Take in lot 2: it holds 118.00 of yours and was due on Monday. "
        "Then one due today and two with a day to come and five without a day."
    )


def test_rows_say_what_hangs_on_them_and_a_week_has_what_is_late_on_today() -> None:
    jobs = in_order(_all())
    said = " ".join(job.text for job in jobs)
    assert "Lot 3 is due on Sunday; it holds 20.00 of yours." in said
    assert "Lot 4 is on its way since 3 November 2026, and no day is known" in said
    assert "Harbour box lies open after 9 of 16 packs. About 14.96 may still be in it." in said
    assert "Moths 1998 has 1 card without a price; and prices 177 days old. One thing that you hold" in said
    assert "The code of a relic is not posted, due on 16 December 2026; it is worth about 41.00." in said
    week = of_the_week(jobs, TODAY)
    assert [(day.day, marks) for day, marks in week if marks] == [(26, ("parcel due",) * 2), (29, ("parcel due",))]


def test_what_is_settled_or_carries_nothing_does_not_wait() -> None:
    old = Waiting(Chore.STALE, "moth", "Moths 1998", None, "prices 177 days old", 92)
    settled: list[Any] = [
        parcel_job(_bought(1, "60.00", TODAY, DocumentState.RECEIVED), TODAY, "EUR"),
        redemption_job(_redemption(TODAY, TODAY, TODAY), None, TODAY, "EUR"),
        release_job([old], Resting(), False, "EUR"),
        release_job([], Resting(5, D(5)), True, "EUR"),
        unvalued_job(0),
    ]
    assert settled == [None] * 5
    unsaid = release_job([old], Resting(2), False, "EUR")  # what nobody knows the worth of is not worth nothing
    assert unsaid is not None and unsaid.stake is None and "2 things that you hold rest on it." in unsaid.text
    carried = release_job([old], Resting(), True, "EUR")
    assert carried is not None and carried.when is When.CALM and carried.stake is None
    assert "Nothing waits" in state_desk([], False).text() and "Begin with one box" in state_desk([], True).text()
