"""Purchases into the store."""

from decimal import Decimal

from sqlalchemy.orm import Session

from tobbix.db.buying.tables import PurchaseRow


def add_purchase(session: Session, document: int, entertainment: Decimal) -> int:
    """A purchase that a document is of; its number."""
    row = PurchaseRow(document_id=document, entertainment=entertainment)
    session.add(row)
    session.flush()
    return row.id
