"""What waits at the stations of the line of work."""

from sqlalchemy import func, select

from tobbix.db.buying.tables import PurchaseRow
from tobbix.db.opening.tables import SessionRow
from tobbix.services.products.workshop import Workshop


def waiting_counts(workshop: Workshop) -> dict[str, int]:
    """Parcels on their way or in dispute, and sessions that are not finished."""
    with workshop.database.transaction() as session:
        parcels = select(func.count()).where(PurchaseRow.state.in_(("ordered", "disputed")))
        running = select(func.count()).where(SessionRow.state.in_(("running", "paused")))
        return {"buying": session.scalar(parcels) or 0, "opening": session.scalar(running) or 0}
