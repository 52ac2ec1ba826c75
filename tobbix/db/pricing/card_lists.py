"""What the owner has to give away, by version and state."""

from sqlalchemy import text
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import State

_HAVES = """
    select i.version_id, coalesce((
        select p.name || ':' || lb.grade from label lb join party p on p.id = lb.grader_id
        where lb.item_id = i.id and not exists (select from entry r where r.reverses_id = lb.entry_id)
            and (lb.removed_by_id is null or exists (select from entry r where r.reverses_id = lb.removed_by_id))
        order by lb.id desc limit 1
    ), i.condition, :usual) as state, sum(i.count)
    from item i
    where i.version_id is not null and i.state = :held and not i.never_for_sale and i.owner_id is null
    group by 1, 2 order by 1, 2
"""


def list_haves(session: Session, usual: str) -> list[tuple[int, str, int]]:
    """What is at hand and may be given: version, state (``usual`` where none is said) and how many."""
    rows = session.execute(text(_HAVES), {"held": State.HELD.value, "usual": usual})
    return [(version, state, int(count)) for version, state, count in rows]
