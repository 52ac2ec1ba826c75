"""The held cards whose values want a look, by the money that rests on them."""

from datetime import date, timedelta

from sqlalchemy import text
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import HELD_STATES
from tobbix.core.pricing.estimating import THIN, WINDOW
from tobbix.core.pricing.next_up import HeldWorth

_WANTING = """
    with held as (
        select i.version_id, sum(i.count) as count,
            case when bool_and(h.amount is not null) then sum(h.amount) end as worth, min(h.day) as day,
            bool_or(h.source = 'comps') as by_sales, sum(i.basis) as basis,
            array_agg(distinct coalesce(i.condition, :usual)) as states
        from item i join held_value h on h.item_id = i.id
        where i.version_id is not null and i.state = any(:states) group by i.version_id
    ), judged as (
        select held.*, case when by_sales then (
            select v.comps from value v where v.version_id = held.version_id and v.state = any(held.states)
                and v.source = 'comps' and v.says = 'price' and v.taken_back_at is null
            order by v.id desc limit 1) end as sales
        from held
    )
    select version_id, count, worth, day, sales, count(*) over () from judged
    where worth is null or day < :old or sales < :thin
    order by coalesce(worth, basis, 0) desc, version_id limit :most
"""


def list_wanting(session: Session, today: date, usual: str, most: int) -> tuple[list[HeldWorth], int]:
    """The first of the held cards whose value is missing, old or thin, the most money first, and how many there are;
    ``usual`` is the condition of what says none."""
    asked = {"states": [state.value for state in HELD_STATES], "old": today - timedelta(WINDOW), "thin": THIN}
    rows = session.execute(text(_WANTING), {**asked, "usual": usual, "most": most}).all()
    found = [HeldWorth(version, int(count), worth, day, sales) for version, count, worth, day, sales, _ in rows]
    return found, int(rows[0][-1]) if rows else 0
