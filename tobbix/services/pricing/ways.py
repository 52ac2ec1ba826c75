"""Ways of selling: what they take, what a price nets, and what to list a card at."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import Conflict
from tobbix.core.pricing.fees import SellingWay
from tobbix.db.base import Database
from tobbix.db.pricing.ways import find_way, list_way_rows, put_way, to_way


@dataclass(frozen=True, slots=True)
class StoredWay:
    """A way of selling with the version that a change must name."""

    way: SellingWay
    version: int


def list_ways(database: Database) -> list[StoredWay]:
    """All ways, in the owner's order."""
    with database.transaction() as session:
        return [StoredWay(to_way(row), row.version) for row in list_way_rows(session)]


def save_way(database: Database, way: SellingWay, version: int) -> StoredWay:
    """Add a way (``version`` 0) or change one. Adding the same once more changes nothing.

    Raises Conflict if it was changed meanwhile, or if another one of this key is there.
    """
    with database.transaction() as session:
        known = {row.key: row for row in list_way_rows(session)}
        if version == 0:
            if way.id in known and to_way(known[way.id]) == way:
                return StoredWay(way, known[way.id].version)
            if way.id in known:
                raise Conflict(f"there is a way of selling “{way.id}” already")
            return StoredWay(way, put_way(session, way, None).version)
        row = find_way(session, way.id, lock=True)
        if row.version != version:
            raise Conflict("this was changed meanwhile; look again, then retry")
        return StoredWay(way, put_way(session, way, row).version)


def remove_way(database: Database, key: str) -> StoredWay:
    """Take a way out; returns it, so that it can be put back. Raises NotFound."""
    with database.transaction() as session:
        row = find_way(session, key, lock=True)
        way = to_way(row)
        session.delete(row)
    return StoredWay(way, 0)


@dataclass(frozen=True, slots=True)
class NetOfPrice:
    """What a price nets, or the list price for a net (money, exact)."""

    price: Decimal
    net: Decimal


def work_out_net(database: Database, key: str, price: Decimal | None, net: Decimal | None) -> NetOfPrice:
    """What a price nets through a way; or the least list price that nets an amount. Rule C-17. Raises NotFound."""
    with database.transaction() as session:
        way = to_way(find_way(session, key))
    asked = price if price is not None else way.list_price(net or Decimal(0))
    kept = way.net(asked)
    return NetOfPrice(asked, Decimal(kept.numerator) / Decimal(kept.denominator))
