"""Goals in the store, what may fill them, and what is held and asked for of that."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.states import HELD_STATES
from tobbix.core.sorting.goals import Copy, GoalKind, Slot
from tobbix.db.sorting.tables import GoalRow


@dataclass(frozen=True, slots=True)
class StoredGoal:
    """A goal as it is kept: of a ``line`` (for a rainbow of the ``card`` of a number in it), or with slots of its own,
    each a name, its versions and a least state. ``whole``: price, currency and day of all of it sold as one."""

    number: int
    version: int
    name: str
    kind: GoalKind
    release: int | None
    line: int | None
    card: str | None
    least: str | None
    slots: tuple[tuple[str, tuple[int, ...], str | None], ...]
    whole: tuple[Decimal, str, date] | None


def _to_goal(row: GoalRow) -> StoredGoal:
    whole = None
    if row.whole_price is not None and row.whole_currency is not None and row.whole_day is not None:
        whole = (row.whole_price, row.whole_currency, row.whole_day)
    slots = tuple((it["name"], tuple(it["options"]), it["least"]) for it in row.slots)
    return StoredGoal(
        row.id, row.version, row.name, GoalKind(row.kind), row.release_id, row.line_id, row.number, row.least, slots,
        whole,
    )  # fmt: skip


def list_goals(session: Session) -> list[StoredGoal]:
    """All goals, by name."""
    query = select(GoalRow).where(GoalRow.removed_at.is_(None)).order_by(GoalRow.name, GoalRow.id)
    return [_to_goal(row) for row in session.scalars(query)]


def find_goal(session: Session, number: int) -> StoredGoal:
    """A goal. Raises NotFound."""
    return _to_goal(_find(session, number))


def _find(session: Session, number: int, lock: bool = False) -> GoalRow:
    row = session.get(GoalRow, number, with_for_update=lock)
    if row is None or row.removed_at is not None:
        raise NotFound("there is no such goal")
    return row


def put_goal(session: Session, said: StoredGoal) -> int:
    """Keep a new goal (its number is 0), or change one. Raises NotFound, Conflict."""
    row = GoalRow(version=0) if said.number == 0 else _find(session, said.number, lock=True)
    if row.version != said.version:
        raise Conflict("this goal was changed meanwhile; look again, then retry")
    row.version += 1
    row.name, row.kind, row.release_id, row.line_id = said.name, said.kind.value, said.release, said.line
    row.number, row.least = said.card, said.least
    row.slots = [{"name": name, "options": list(options), "least": least} for name, options, least in said.slots]
    row.whole_price, row.whole_currency, row.whole_day = said.whole or (None, None, None)
    session.add(row)
    session.flush()
    return row.id


def mark_goal(session: Session, number: int, removed_at: datetime | None) -> None:
    """Give a goal up, or take it up again. Raises NotFound."""
    row = session.get(GoalRow, number)
    if row is None:
        raise NotFound("there is no such goal")
    row.removed_at = removed_at


_OF_LINE = """
    select v.id, c.number, c.subject, coalesce(l.position, 1000000) from version v
        join card c on c.id = v.card_id join line l on l.id = v.line_id
    where v.line_id = :line and v.gone_at is null and v.variant = ''
    order by c.position nulls last, length(c.number), c.number, v.id
"""
_RAINBOW = """
    select v.id, l.name, c.subject, l.position from version v
        join card c on c.id = v.card_id join line l on l.id = v.line_id
    where c.line_id = :line and c.number = :number and v.gone_at is null and v.variant = '' and l.gone_at is null
    order by l.position nulls last, l.id, v.id
"""


def slots_of(session: Session, goal: StoredGoal) -> list[Slot]:
    """The slots of a goal with what may fill them; a set's by the numbers of its cards, a rainbow's by the names of its
    lines."""
    if goal.kind is GoalKind.SLOTS:
        return [Slot(name, options, least or goal.least) for name, options, least in goal.slots]
    query = _OF_LINE if goal.kind is GoalKind.SET else _RAINBOW
    asked = {"line": goal.line} | ({} if goal.kind is GoalKind.SET else {"number": goal.card})
    return [Slot(row[1], (row[0],), goal.least) for row in session.execute(text(query), asked)]


_HELD = """
    select i.id, i.version_id, i.count, i.condition, p.name, l.grade from item i
        left join lateral (select l.grader_id, l.grade from label l where l.item_id = i.id
            and not exists (select from entry e where e.reverses_id = l.entry_id)
            and (l.removed_by_id is null or exists (select from entry e where e.reverses_id = l.removed_by_id))
            order by l.id desc limit 1) l on true
        left join party p on p.id = l.grader_id
    where i.version_id = any(:versions) and i.state = any(:states) and i.owner_id is null
    order by i.id
"""


def copies_of(session: Session, versions: Iterable[int]) -> list[Copy]:
    """What is held of some versions, one's own, raw or with its grade."""
    asked: dict[str, Any] = {"versions": list(versions), "states": [state.value for state in HELD_STATES]}
    return [
        Copy(item, version, count, None if grader else condition, grader, grade)
        for item, version, count, condition, grader, grade in session.execute(text(_HELD), asked)
    ]


@dataclass(frozen=True, slots=True)
class AskSeen:
    """What was asked for a version lately (money of its currency; shipping None: not known)."""

    version: int
    market: str
    price: Decimal
    shipping: Decimal | None
    tax: Decimal | None
    currency: str
    day: date
    state: str | None
    kind: str


_ASKS = """
    select version_id, coalesce(market, ''), price, shipping, tax, currency, day,
        case when grader is null then condition else grader || ':' || grade end, kind
    from comp where version_id = any(:versions) and kind = any(:kinds) and lot = 1 and day between :since and :until
        and (batch_id is null or not exists (select from comp_batch b where b.id = batch_id
            and b.withdrawn_at is not null))
    order by day, id
"""


def asks_for(
    session: Session, versions: Sequence[int], since: date, until: date, kinds: Sequence[str] = ("ask",)
) -> list[AskSeen]:
    """What was asked for some versions, or said of them by a book (``kinds``), from a day to another."""
    asked = {"versions": list(versions), "since": since, "until": until, "kinds": list(kinds)}
    return [AskSeen(*row) for row in session.execute(text(_ASKS), asked)]


_FINISHES = """
    select c.number, c.subject, v.id from version v join card c on c.id = v.card_id join line l on l.id = v.line_id
    where c.line_id = :line and v.gone_at is null and l.gone_at is null and v.variant = ''
        and (not :numbered or l.print_run is not null)
    order by c.position nulls last, length(c.number), c.number, v.id
"""
_SHOWING = """
    select v.id from version v join card c on c.id = v.card_id join line l on l.id = v.line_id
        join release r on r.id = l.release_id join card_subject cs on cs.card_id = c.id
        join subject s on s.id = cs.subject_id
    where lower(s.name) = lower(:subject) and v.gone_at is null and r.removed_at is null
        and (cast(:release as bigint) is null or r.id = :release)
    order by v.id limit :most
"""


def finishes_of(session: Session, line: int, numbered: bool) -> list[tuple[str, tuple[int, ...]]]:
    """Each card of a line with all finishes that it comes in, or only the numbered ones: names and versions."""
    found: dict[str, list[int]] = {}
    for number, subject, version in session.execute(text(_FINISHES), {"line": line, "numbered": numbered}):
        found.setdefault(number if subject == number else f"{number} {subject}", []).append(version)
    return [(name, tuple(versions)) for name, versions in found.items()]


def versions_showing(session: Session, subject: str, release: int | None, most: int) -> tuple[int, ...]:
    """The versions that show a subject, of a release or of all."""
    asked = {"subject": subject, "release": release, "most": most}
    return tuple(session.scalars(text(_SHOWING), asked))


_SPARE = """
    select r.id, coalesce(concat_ws(' ', r.name, r.series, r.year), i.release_text, ''),
        coalesce(l.name, i.line_text, ''),
        i.version_id, i.count, h.amount,
        (select s.weight from line_size s where s.line_id = i.line_id and s.weight is not null order by s.id limit 1)
    from item i join held_value h on h.item_id = i.id left join release r on r.id = i.release_id
        left join line l on l.id = i.line_id
    where i.state = 'held' and i.kind in ('card', 'stack') and i.owner_id is null and not i.never_for_sale
        and not exists (select from label b where b.item_id = i.id) and i.serial is null
    order by 2, 3, i.id
"""


@dataclass(frozen=True, slots=True)
class RawHeld:
    """A raw thing of one's own that is here: of which set and line, which version if that is known, how many, what all
    of them are worth (money at home) and the grams of one, where these are known."""

    title: str
    line: str
    version: int | None
    count: int
    worth: Decimal | None
    grams: float | None


def raw_held(session: Session) -> list[RawHeld]:
    """All raw cards of one's own that are here and may be sold, by set and line."""
    return [
        RawHeld(title, line, version, count, worth, None if grams is None else float(grams))
        for _, title, line, version, count, worth, grams in session.execute(text(_SPARE))
    ]
