"""What waits at the stations of the line of work."""

from tobbix.db.buying.loading import waiting_purchases
from tobbix.db.opening.loading import waiting_sessions
from tobbix.services.products.catalogue import Catalogue


def waiting_counts(catalogue: Catalogue) -> dict[str, int]:
    """Parcels on their way or in dispute, and sessions that are not finished."""
    with catalogue.database.transaction() as session:
        return {"buying": waiting_purchases(session), "opening": waiting_sessions(session)}
