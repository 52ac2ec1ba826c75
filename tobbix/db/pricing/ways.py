"""Ways of selling."""

from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, Numeric, String, func, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.base.errors import NotFound
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.db.base import Table

_MONEY = Numeric(14, 4)
_SHARE = Numeric(7, 6)


class SellingWayRow(Table):
    """A way of selling; ``commission`` holds its brackets as [upper end or null, share], decimals as text."""

    __tablename__ = "selling_way"
    __table_args__ = (
        CheckConstraint("fee_base in ('price', 'price_and_shipping', 'price_shipping_and_tax')", name="fee_base"),
        CheckConstraint("most is null or most >= least", name="cap"),
        CheckConstraint("payment_share >= 0 and payment_share < 1", name="payment_share"),
        CheckConstraint("lost >= 0 and lost < 1", name="lost"),
        CheckConstraint("tax >= 0 and tax < 1", name="tax"),
        CheckConstraint(
            "least(fixed_fee, payment_fixed, least, shipping_charged, postage, packing) >= 0", name="not_negative"
        ),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    key: Mapped[str] = mapped_column(String(64), unique=True)
    position: Mapped[int]
    version: Mapped[int]
    name: Mapped[str] = mapped_column(String(200))
    commission: Mapped[list[Any]] = mapped_column(JSONB)
    fee_base: Mapped[str] = mapped_column(String(30))
    fixed_fee: Mapped[Decimal] = mapped_column(_MONEY)
    payment_share: Mapped[Decimal] = mapped_column(_SHARE)
    payment_fixed: Mapped[Decimal] = mapped_column(_MONEY)
    least: Mapped[Decimal] = mapped_column(_MONEY)
    most: Mapped[Decimal | None] = mapped_column(_MONEY)
    shipping_charged: Mapped[Decimal] = mapped_column(_MONEY)
    postage: Mapped[Decimal] = mapped_column(_MONEY)
    packing: Mapped[Decimal] = mapped_column(_MONEY)
    lost: Mapped[Decimal] = mapped_column(_SHARE)
    tax: Mapped[Decimal] = mapped_column(_SHARE)


_SAME = ("name", "fixed_fee", "payment_share", "payment_fixed", "least", "most", "shipping_charged", "postage",
         "packing", "lost", "tax")  # fmt: skip


def to_way(row: SellingWayRow) -> SellingWay:
    """The core's value of a row."""
    brackets = tuple(Bracket(None if end is None else Decimal(end), Decimal(share)) for end, share in row.commission)
    return SellingWay(row.key, commission=brackets, on=FeeBase(row.fee_base), **{n: getattr(row, n) for n in _SAME})


def way_names(session: Session) -> list[str]:
    """The names of the ways of selling, in their order."""
    return [row.name for row in list_way_rows(session)]


def list_way_rows(session: Session) -> list[SellingWayRow]:
    """All ways, in the owner's order."""
    return list(session.scalars(select(SellingWayRow).order_by(SellingWayRow.position, SellingWayRow.id)))


def find_way(session: Session, key: str, lock: bool = False) -> SellingWayRow:
    """The row of a way. Raises NotFound."""
    query = select(SellingWayRow).where(SellingWayRow.key == key)
    row = session.scalar(query.with_for_update() if lock else query)
    if row is None:
        raise NotFound(f"there is no way of selling “{key[:64]}”")
    return row


def put_way(session: Session, way: SellingWay, row: SellingWayRow | None) -> SellingWayRow:
    """Write a way into its row, or into a new one at the end."""
    if row is None:
        last = session.scalar(select(func.coalesce(func.max(SellingWayRow.position), 0)))
        row = SellingWayRow(key=way.id, position=(last or 0) + 1, version=0)
        session.add(row)
    for name in _SAME:
        setattr(row, name, getattr(way, name))
    row.commission = [[None if b.up_to is None else str(b.up_to), str(b.share)] for b in way.commission]
    row.fee_base = way.on.value
    row.version += 1
    session.flush()
    return row
