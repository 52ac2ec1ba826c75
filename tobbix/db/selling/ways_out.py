"""Which way out was chosen for a thing, in the store."""

from datetime import date

from tobbix.core.planning.ways_out import Road
from tobbix.db.base import Session
from tobbix.db.selling.tables import WayOutRow


def find_choice(session: Session, item: int) -> tuple[Road, str] | None:
    """The road that was chosen for a thing, and by which way; None: nobody chose."""
    row = session.get(WayOutRow, item)
    return None if row is None else (Road(row.road), row.way or "")


def put_choice(session: Session, item: int, choice: tuple[Road, str] | None, day: date) -> None:
    """Keep which way out was chosen; None: what is worth most again."""
    row = session.get(WayOutRow, item, with_for_update=True)
    if choice is None:
        if row is not None:
            session.delete(row)
    else:
        row = row or WayOutRow(item_id=item)
        row.road, row.way, row.day = choice[0].value, choice[1] or None, day
        session.add(row)
    session.flush()
