"""Sales of before the books began, and what sales in a file are matched with."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from hashlib import sha256

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert

from tobbix.core.base.errors import NotFound
from tobbix.core.holdings.states import State
from tobbix.db.base import Session
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.selling.tables import OrderRow, PastSaleRow


@dataclass(frozen=True, slots=True)
class PastSale:
    """A sale of before the books (money at home): what it ``brought``, its ``costs`` (fees, postage, packing), what it
    had cost (``basis``, None: nobody remembers)."""

    number: int
    sold_on: date
    name: str
    way: str
    brought: Decimal
    costs: Decimal
    basis: Decimal | None

    @property
    def profit(self) -> Decimal | None:
        """Rule C-16."""
        return None if self.basis is None else self.brought - self.costs - self.basis


def add_past_sales(session: Session, sales: Sequence[PastSale]) -> int:
    """Keep sales of before the books; how many of them were new: the same row of a file comes in once."""
    rows, seen = [], dict[str, int]()
    for it in sales:
        what = f"{it.sold_on} {it.name} {it.way} {it.brought} {it.costs} {it.basis}"
        seen[what] = seen.get(what, 0) + 1  # two alike in one file are two
        digest = sha256(f"{what} {seen[what]}".encode()).hexdigest()
        rows.append(
            {"sold_on": it.sold_on, "name": it.name[:300], "way": it.way, "brought": it.brought, "costs": it.costs,
             "basis": it.basis, "digest": digest}
        )  # fmt: skip
    if not rows:
        return 0
    made = session.execute(insert(PastSaleRow).values(rows).on_conflict_do_nothing().returning(PastSaleRow.id))
    return len(made.all())


def list_past_sales(session: Session) -> list[PastSale]:
    """The sales of before the books, the newest first."""
    rows = session.scalars(select(PastSaleRow).order_by(PastSaleRow.sold_on.desc(), PastSaleRow.id.desc()))
    return [PastSale(it.id, it.sold_on, it.name, it.way, it.brought, it.costs, it.basis) for it in rows]


def remove_past_sale(session: Session, number: int) -> None:
    """Forget one. Raises NotFound."""
    row = session.get(PastSaleRow, number)
    if row is None:
        raise NotFound("there is no such sale")
    session.delete(row)
    session.flush()


def references_taken(session: Session, references: Sequence[str]) -> set[str]:
    """Which orders' numbers are there already."""
    return set(session.scalars(select(OrderRow.reference).where(OrderRow.reference.in_(references))))


def held_named(session: Session, names: Sequence[str]) -> dict[str, list[int]]:
    """One's own things that are here, by their names in small letters."""
    lowered = sorted({name.casefold() for name in names})
    query = select(func.lower(ItemRow.name), ItemRow.id).where(
        func.lower(ItemRow.name).in_(lowered), ItemRow.state == State.HELD.value, ItemRow.owner_id.is_(None)
    )
    found: dict[str, list[int]] = {}
    for name, item in session.execute(query.order_by(ItemRow.id)):
        found.setdefault(name, []).append(item)
    return found
