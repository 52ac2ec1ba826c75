"""What was booked for friends, and which of their things are where."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from sqlalchemy import text
from sqlalchemy.orm import Session

_FRIENDS = """
    select p.name, coalesce((select sum(g.amount) from posting g where g.party_id = p.id
            and g.account in ('receivable', 'payable')), 0),
        (select count(*) from item i where i.owner_id = p.id and i.state in ('held', 'away', 'in_transit'))
    from party p where 'friend' = any(p.roles) order by p.name
"""
_BOOKED = """
    select e.day, case when e.event in ('sale', 'sale_return')
            then replace(e.event, '_return', ' taken back') || ': ' ||
            coalesce((select string_agg(i.name, ', ' order by i.id) from item_event m join item i on i.id = m.item_id
                where m.entry_id = e.id and i.owner_id = p.id), '') else e.text end,
        sum(g.amount)
    from posting g join entry e on e.id = g.entry_id join party p on p.id = g.party_id
    where p.name = :name and 'friend' = any(p.roles) and g.account in ('receivable', 'payable') and e.day <= :last
    group by e.id, e.day, e.event, e.text, p.id order by e.day, e.id
"""
_THINGS = """
    select i.id, i.name, i.count, i.state, i.place,
        coalesce((select g.name || ' ' || b.grade from label b join party g on g.id = b.grader_id where b.item_id = i.id
            and b.removed_by_id is null and not exists (select from entry x where x.reverses_id = b.entry_id)
            order by b.id desc limit 1), ''),
        (select l.home from sale_line l join document d on d.id = l.document_id
            where l.item_id = i.id and d.state <> 'undone' order by l.document_id desc limit 1)
    from item i join party p on p.id = i.owner_id where p.name = :name and i.state <> 'undone'
    order by i.state not in ('held', 'away', 'in_transit'), i.id
"""


@dataclass(frozen=True, slots=True)
class FriendBrief:
    """A friend, what stands open (money at home; over 0: the friend owes it), and how many things of theirs are here or
    away."""

    name: str
    open: Decimal
    here: int


@dataclass(frozen=True, slots=True)
class FriendsThing:
    """A thing of a friend: where it is, its grade, and what it brought when it was sold (money at home)."""

    item: int
    name: str
    count: int
    state: str
    place: str | None
    grade: str
    brought: Decimal | None


def list_friends(session: Session) -> list[FriendBrief]:
    """Every friend, by name."""
    return [FriendBrief(name, Decimal(stands), here) for name, stands, here in session.execute(text(_FRIENDS))]


def booked_for(session: Session, name: str, last: date) -> list[tuple[date, str, Decimal]]:
    """What was booked for a friend up to a day: day, text (of a sale with the friend's things alone, as its order may
    have held others), and what it changed (money at home)."""
    rows = session.execute(text(_BOOKED), {"name": name, "last": last})
    return [(day, words, Decimal(change)) for day, words, change in rows]


def things_of(session: Session, name: str) -> list[FriendsThing]:
    """A friend's things, those that are here or away first."""
    return [
        FriendsThing(item, words, count, state, place, grade, brought if state == "sold" else None)
        for item, words, count, state, place, grade, brought in session.execute(text(_THINGS), {"name": name})
    ]
