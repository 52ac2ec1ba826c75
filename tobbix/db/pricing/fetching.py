"""Which versions prices are fetched for, and what came in of a fetch."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import HELD_STATES
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.pricing.comps import CompBatchRow, CompRow
from tobbix.db.products.tables import CardRow, LineRow, VersionRow


def held_versions(session: Session) -> list[int]:
    """The versions of all that is held, by their numbers."""
    query = select(ItemRow.version_id).where(
        ItemRow.version_id.is_not(None), ItemRow.state.in_([state.value for state in HELD_STATES])
    )
    return [version for version in session.scalars(query.distinct().order_by(ItemRow.version_id)) if version]


def versions_of(session: Session, release: int) -> list[int]:
    """The versions of a release, in the order of its lines and cards."""
    query = (
        select(VersionRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .where(LineRow.release_id == release, VersionRow.gone_at.is_(None))
        .order_by(LineRow.position.nulls_last(), CardRow.position.nulls_last(), VersionRow.id)
    )
    return list(session.scalars(query))


def count_of_batch(session: Session, batch: int) -> int:
    """How many prices came in together and were not taken back."""
    stands = select(CompBatchRow.id).where(CompBatchRow.id == batch, CompBatchRow.withdrawn_at.is_(None))
    return session.scalar(select(func.count()).where(CompRow.batch_id.in_(stands))) or 0
