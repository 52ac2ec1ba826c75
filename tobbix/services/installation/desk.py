"""What waits at the stations of the line of work."""

from tobbix.db.buying.loading import waiting_purchases
from tobbix.db.opening.loading import waiting_sessions
from tobbix.services.products.workshop import Workshop


def waiting_counts(workshop: Workshop) -> dict[str, int]:
    """Parcels on their way or in dispute, and sessions that are not finished."""
    with workshop.database.transaction() as session:
        return {"buying": waiting_purchases(session), "opening": waiting_sessions(session)}
