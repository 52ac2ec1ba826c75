"""What the owner's time and a usual sale cost, for everything that asks whether a card is worth a hand."""

from dataclasses import dataclass, replace
from decimal import Decimal

from tobbix.core.maths.severity import Array
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.sorting.pulling import Work
from tobbix.db.base import Session
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import list_way_rows, to_way


@dataclass(frozen=True)
class Usual:
    """The work on a card, the way in which the owner sells (None: no way is said, prices count as they are), and the
    home currency."""

    work: Work
    way: SellingWay | None
    currency: str

    def net(self, price: Decimal) -> float:
        """What a sale at a price leaves (money)."""
        return float(price) if self.way is None else float(self.way.net(price))

    def nets(self, prices: Array) -> Array:
        """The same of many prices (shape (n,))."""
        return prices if self.way is None else self.way.net_values(prices)

    def gain(self, price: Decimal) -> float:
        """The same less the work of selling."""
        return self.net(price) - self.work.selling_cost


def usual_work(session: Session, hourly: float | None = None, look_up: float | None = None) -> Usual:
    """By the owner's habits; an hour and the minutes of a look as they are asked for. Raises InputError."""
    preferences = load_preferences(session)
    habits = preferences.selling
    ways = [to_way(row) for row in list_way_rows(session)]
    way = next((it for it in ways if it.id == habits.way), ways[0] if ways else None)
    usual = Work(habits.hourly_rate if hourly is None else hourly, selling=habits.minutes_per_sale, least=habits.floor)
    work = usual if look_up is None else replace(usual, look_up=look_up)
    return Usual(work, way, preferences.currency)
