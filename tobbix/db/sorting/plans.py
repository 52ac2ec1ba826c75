"""Plans of sorting in the store, with the clocks over their passes and what was entered under them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.states import HELD_STATES, Kind, State
from tobbix.core.sorting.passes import Hoard, Pass, PassKind, PassRun
from tobbix.db.holdings.tables import EntryRow, HeldValueRow, ItemEventRow, ItemRow
from tobbix.db.sorting.tables import SortingPlanRow, SortingRunRow


@dataclass(frozen=True, slots=True)
class StoredPlan:
    """A plan as it is kept, with the version that a change must name."""

    number: int
    version: int
    name: str
    hoard: Hoard
    passes: tuple[Pass, ...]
    expected: Decimal | None
    item: int | None
    document: int
    shared_entry: int | None


@dataclass(frozen=True, slots=True)
class StoredRun:
    """A run of the clock over a pass, in minutes; both None while it runs."""

    number: int
    place: int
    kind: PassKind
    cards: int | None
    minutes: Decimal | None
    started_at: datetime


@dataclass(frozen=True, slots=True)
class EnteredSums:
    """What was entered under a plan and is still held: rows, cards, what they are worth (money at home), and of how
    many rows that is not known."""

    rows: int
    cards: int
    value: Decimal
    unknown: int


def _to_plan(row: SortingPlanRow) -> StoredPlan:
    passes = tuple(
        Pass(
            PassKind(it["kind"]), it["name"], Decimal(it["share"]), None if it["rate"] is None else Decimal(it["rate"]),
            it["heaps"], None if it["finds"] is None else Decimal(it["finds"]),
        )
        for it in row.passes
    )  # fmt: skip
    hoard = Hoard(row.cards, row.hourly, row.table, row.box_holds)
    return StoredPlan(
        row.id, row.version, row.name, hoard, passes, row.expected, row.item_id, row.document_id, row.shared_entry_id
    )


def _from_pass(it: Pass) -> dict[str, Any]:
    return {
        "kind": it.kind.value, "name": it.name, "share": str(it.share), "heaps": it.heaps,
        "rate": None if it.rate is None else str(it.rate), "finds": None if it.finds is None else str(it.finds),
    }  # fmt: skip


def list_plans(session: Session) -> list[StoredPlan]:
    """All plans, the newest first."""
    query = select(SortingPlanRow).where(SortingPlanRow.removed_at.is_(None)).order_by(SortingPlanRow.id.desc())
    return [_to_plan(row) for row in session.scalars(query)]


def find_plan(session: Session, number: int, version: int | None = None) -> StoredPlan:
    """A plan, locked where a ``version`` is named. Raises NotFound, Conflict."""
    return _to_plan(_find(session, number, version))


def _find(session: Session, number: int, version: int | None = None) -> SortingPlanRow:
    row = session.get(SortingPlanRow, number, with_for_update=version is not None)
    if row is None or row.removed_at is not None:
        raise NotFound("there is no such plan")
    if version is not None and row.version != version:
        raise Conflict("this plan was changed meanwhile; look again, then retry")
    return row


def put_plan(
    session: Session, number: int | None, version: int, name: str, hoard: Hoard, passes: Sequence[Pass],
    expected: Decimal | None, item: int | None, document: int | None = None,
) -> int:  # fmt: skip
    """Keep a new plan on its ``document``, or change one. Raises NotFound, Conflict."""
    row = SortingPlanRow(document_id=document, version=0) if number is None else _find(session, number, version)
    row.name, row.passes, row.expected, row.item_id = name, [_from_pass(it) for it in passes], expected, item
    row.cards, row.hourly, row.table, row.box_holds = hoard.cards, hoard.hourly, hoard.table, hoard.box_holds
    row.version += 1
    session.add(row)
    session.flush()
    return row.id


def mark_plan(session: Session, number: int, removed_at: datetime | None) -> None:
    """Take a plan off the list, or put it back. Raises NotFound."""
    row = session.get(SortingPlanRow, number)
    if row is None:
        raise NotFound("there is no such plan")
    row.removed_at = removed_at


def mark_shared(session: Session, number: int, entry: int | None) -> None:
    """Say by which entry its cost was shared out; None: it no longer is."""
    row = session.get_one(SortingPlanRow, number)
    row.shared_entry_id = entry
    row.version += 1


def list_runs(session: Session, plan: int) -> list[StoredRun]:
    """The runs of a plan's clock, in their order."""
    query = select(SortingRunRow).where(SortingRunRow.plan_id == plan).order_by(SortingRunRow.id)
    return [
        StoredRun(row.id, row.place, PassKind(row.kind), row.cards, row.minutes, row.started_at)
        for row in session.scalars(query)
    ]


def own_rates(session: Session) -> list[PassRun]:
    """What the clocks of all plans measured, by kind of pass."""
    query = (
        select(SortingRunRow.kind, func.sum(SortingRunRow.cards), func.sum(SortingRunRow.minutes))
        .where(SortingRunRow.minutes.is_not(None))
        .group_by(SortingRunRow.kind)
    )
    return [
        PassRun(PassKind(kind), int(cards or 0), float(minutes or 0)) for kind, cards, minutes in session.execute(query)
    ]


def start_run(session: Session, plan: int, place: int, kind: PassKind, now: datetime) -> None:
    """Start the clock over a pass. Raises Conflict if one of the plan runs."""
    running = select(SortingRunRow.id).where(SortingRunRow.plan_id == plan, SortingRunRow.minutes.is_(None))
    if session.scalar(running) is not None:
        raise Conflict("the clock of this plan runs already; stop it first")
    session.add(SortingRunRow(plan_id=plan, place=place, kind=kind.value, started_at=now))
    session.flush()


def end_run(session: Session, plan: int, cards: int, now: datetime) -> int:
    """Stop the clock with how many cards went through; its number. Raises Conflict if none runs."""
    query = select(SortingRunRow).where(SortingRunRow.plan_id == plan, SortingRunRow.minutes.is_(None))
    row = session.scalar(query.with_for_update())
    if row is None:
        raise Conflict("the clock of this plan does not run")
    seconds = max((now - row.started_at).total_seconds(), 0.6)
    row.cards, row.minutes = cards, Decimal(round(seconds / 60, 2))
    session.flush()
    return row.id


def drop_run(session: Session, plan: int, number: int) -> None:
    """A run did not count. Raises NotFound."""
    row = session.get(SortingRunRow, number)
    if row is None or row.plan_id != plan:
        raise NotFound("there is no such run of the clock")
    session.delete(row)


def entered_under(session: Session, document: int) -> list[int]:
    """What was entered on a document and is still held, one's own, by number."""
    touched = (
        select(ItemEventRow.item_id).join(EntryRow, EntryRow.id == ItemEventRow.entry_id)
        .where(EntryRow.document_id == document)
    )  # fmt: skip
    query = select(ItemRow.id).where(
        ItemRow.id.in_(touched), ItemRow.state.in_([state.value for state in HELD_STATES]),
        ItemRow.kind.in_((Kind.CARD.value, Kind.STACK.value)),
    )  # fmt: skip
    return list(session.scalars(query.order_by(ItemRow.id)))


def sum_entered(session: Session, items: Sequence[int]) -> EnteredSums:
    """Some things together."""
    query = (
        select(
            func.count(), func.coalesce(func.sum(ItemRow.count), 0), func.coalesce(func.sum(HeldValueRow.amount), 0),
            func.count().filter(HeldValueRow.amount.is_(None)),
        )
        .select_from(ItemRow).join(HeldValueRow, HeldValueRow.item_id == ItemRow.id)
        .where(ItemRow.id.in_(items))
    )  # fmt: skip
    rows, cards, value, unknown = session.execute(query).one()
    return EnteredSums(rows, int(cards), Decimal(value or 0), unknown)


def like_thing(session: Session, version: int, condition: str | None, place: str | None) -> int | None:
    """A held thing of one's own, of this version and condition at this place, of unknown cost and without anything
    special: more may be put to it."""
    query = select(ItemRow.id).where(
        ItemRow.version_id == version, ItemRow.state == State.HELD.value, ItemRow.basis.is_(None),
        ItemRow.condition.is_not_distinct_from(condition), ItemRow.place.is_not_distinct_from(place),
        ItemRow.owner_id.is_(None), ItemRow.serial.is_(None), ItemRow.eye_appeal.is_(None), ItemRow.note.is_(None),
        ItemRow.never_for_sale.is_(False), ItemRow.gift.is_(False),
        ItemRow.kind.in_((Kind.CARD.value, Kind.STACK.value)),
    )  # fmt: skip
    return session.scalar(query.order_by(ItemRow.id).limit(1).with_for_update())
