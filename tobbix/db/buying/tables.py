"""Tables of buying: purchases."""

from decimal import Decimal

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Numeric
from sqlalchemy.orm import Mapped, mapped_column, relationship

from tobbix.db.base import Table
from tobbix.db.holdings.documents import DocumentRow


class PurchaseRow(Table):
    """What a purchase says beyond its document; ``entertainment`` the share that was meant for fun."""

    __tablename__ = "purchase"
    __table_args__ = (CheckConstraint("entertainment >= 0 and entertainment <= 1", name="entertainment"),)

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("document.id"), unique=True)
    entertainment: Mapped[Decimal] = mapped_column(Numeric(5, 4), default=0)
    document: Mapped[DocumentRow] = relationship(lazy="joined", innerjoin=True)
