"""Packing supplies by their sizes, and how many of each are in stock."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal

from sqlalchemy import func, select, text

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.selling.supplies import Role, Supply
from tobbix.db.base import Session
from tobbix.db.selling.tables import PackingSupplyRow


@dataclass(frozen=True, slots=True)
class StoredSupply:
    """A supply with its number and version."""

    number: int
    version: int
    supply: Supply


def list_supplies(session: Session) -> list[StoredSupply]:
    """All supplies in use, in the owner's order."""
    query = select(PackingSupplyRow).where(PackingSupplyRow.removed_at.is_(None))
    rows = session.scalars(query.order_by(PackingSupplyRow.position, PackingSupplyRow.id))
    return [StoredSupply(row.id, row.version, _to_supply(row)) for row in rows]


def put_supply(session: Session, number: int | None, version: int, supply: Supply) -> int:
    """Keep a new supply, or change one; its number. Raises NotFound, Conflict."""
    row = session.scalar(select(PackingSupplyRow).where(PackingSupplyRow.name == supply.name).with_for_update())
    if number is None:
        if row is not None and row.removed_at is None:
            raise Conflict(f"there is {supply.name} already")
        last = session.scalar(select(func.coalesce(func.max(PackingSupplyRow.position), 0))) or 0
        row = row or PackingSupplyRow(name=supply.name, version=0, position=last + 1)
        row.removed_at = None
    else:
        if row is not None and row.id != number:
            raise Conflict(f"there is {supply.name} already")
        row = session.get(PackingSupplyRow, number, with_for_update=True)
        if row is None:
            raise NotFound("there is no such supply")
        if row.version != version:
            raise Conflict("this supply was changed meanwhile; look again, then retry")
    row.version += 1
    row.name, row.role, row.rigid = supply.name, supply.role.value, supply.rigid
    row.inside, row.adds = _sizes(supply.inside), _sizes(supply.adds)
    row.outside = None if supply.outside is None else [None if it is None else f"{it:f}" for it in supply.outside]
    row.wall, row.weight, row.cost = supply.wall, supply.weight, supply.cost
    session.add(row)
    session.flush()
    return row.id


def remove_supply(session: Session, number: int, again: bool = False) -> None:
    """Take a supply out of use, or with ``again`` use it once more. Raises NotFound."""
    row = session.get(PackingSupplyRow, number)
    if row is None:
        raise NotFound("there is no such supply")
    row.removed_at = None if again else datetime.now(UTC)


def _sizes(said: Sequence[Decimal] | None) -> list[str] | None:
    return None if said is None else [f"{it:f}" for it in said]


def _to_supply(row: PackingSupplyRow) -> Supply:
    def three(said: Sequence[str] | None) -> tuple[Decimal, Decimal, Decimal] | None:
        return None if said is None else (Decimal(said[0]), Decimal(said[1]), Decimal(said[2]))

    outside = None
    if row.outside is not None:
        width, height, thick = row.outside
        outside = (Decimal(width or 0), Decimal(height or 0), None if thick is None else Decimal(thick))
    return Supply(
        row.name, Role(row.role), three(row.inside), outside, three(row.adds), row.wall, row.weight, row.cost, row.rigid
    )


@dataclass(frozen=True, slots=True)
class SupplyStock:
    """A stack of a supply that is here: its number, count, and what one cost (money; None: nobody remembers)."""

    item: int
    name: str
    count: int
    each: Decimal | None


def stock_of_supplies(session: Session, today: date) -> tuple[list[SupplyStock], dict[str, int]]:
    """The stacks of supplies that are here, the cheapest first, salvaged ones at nothing; and of every supply that was
    ever counted, how many were used for parcels in the last ninety days."""
    rows = session.execute(text(
        "select id, name, count, basis / count from item where kind = 'supply' and state = 'held' and owner_id is null "
        "order by basis / count nulls last, id"
    ))  # fmt: skip
    used = session.execute(
        text("""
        select i.name, coalesce(sum(u.many) filter (where u.day > cast(:today as date) - 90), 0)
        from item i left join lateral (
            select e.day, (select coalesce(b.count, 0) from item_event b where b.item_id = i.id and b.id < v.id
                order by b.id desc limit 1) - case when v.state = 'used_up' then 0 else v.count end as many
            from item_event v join entry e on e.id = v.entry_id
            where v.item_id = i.id and e.event = 'use' and not exists (select from entry x where x.reverses_id = e.id)
        ) u on true
        where i.kind = 'supply' and i.state <> 'undone' group by i.name
    """),
        {"today": today},
    )
    return [SupplyStock(*row) for row in rows], {name: int(many) for name, many in used}
