"""Which versions prices are fetched for, and what came in of a fetch."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.db.pricing.comps import CompBatchRow, CompRow
from tobbix.db.products.tables import CardRow, LineRow, VersionRow


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
