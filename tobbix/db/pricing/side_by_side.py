"""Which cards stand beside one another: those of a release, or all that are held."""

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import HELD_STATES
from tobbix.db.pricing.comps import CompRow

_CARDS = """
    with held as (
        select version_id, sum(count) as count from item
        where version_id is not null and state = any(:states) group by version_id
    )
    select v.id, coalesce(held.count, 0), count(*) over ()
    from version v join line l on l.id = v.line_id join release r on r.id = l.release_id
        join card c on c.id = v.card_id left join held on held.version_id = v.id
    where v.gone_at is null and r.removed_at is null
        and (cast(:release as varchar) is null and held.count > 0 or r.key = :release)
    order by l.position nulls last, c.position nulls last, v.id limit :most
"""


def cards_beside(session: Session, release: str | None, most: int) -> tuple[list[tuple[int, int]], int]:
    """The first cards of a release (None: all that are held) with how many are held, and how many there are."""
    asked = {"states": [state.value for state in HELD_STATES], "release": release, "most": most}
    rows = session.execute(text(_CARDS), asked).all()
    return [(version, int(held)) for version, held, _ in rows], int(rows[0][-1]) if rows else 0


def releases_named(session: Session) -> list[tuple[str, str]]:
    """Every release that is there, as far as seen or whole, the newest first: its key and what it is called."""
    query = """select key, concat_ws(' ', name, series, year) from release
        where removed_at is null order by year desc, name, id"""
    return [(key, title) for key, title in session.execute(text(query))]


def grades_seen(session: Session, grader: str) -> list[str]:
    """The grades of a grader of which any price was seen."""
    query = select(CompRow.grade).where(CompRow.grader == grader, CompRow.grade.is_not(None)).distinct()
    return [grade for grade in session.scalars(query) if grade is not None]
