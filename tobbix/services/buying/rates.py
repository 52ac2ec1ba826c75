"""Exchange rates: taken from the feed, set by hand, shown, and found for a charge."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.money import minor_units
from tobbix.db.base import Database
from tobbix.db.holdings.rates import latest_rates, put_rates, remove_rate
from tobbix.db.installation.keeping import load_preferences
from tobbix.formats.rates import parse_rates
from tobbix.gateways.ports import RateFeed
from tobbix.services.products.valuing import home_on, revalue_foreign

BY_HAND = "set by hand"


def fetch_rates(database: Database, feed: RateFeed, first: date, last: date) -> int:
    """Take rates in from the feed; says how many. Raises InputError for what is no rate."""
    with database.transaction() as session:
        home = load_preferences(session).currency
        count = put_rates(session, parse_rates(feed.fetch(home, first, last)), feed.name, by_hand=False)
        revalue_foreign(session, home_on(session, last))
        return count


def set_rate(database: Database, currency: str, day: date, rate: Decimal, today: date) -> None:
    """Set a rate by hand; it wins over the feed's. Raises InputError."""
    try:
        minor_units(currency)
    except ValueError:
        raise InputError.at("currency", "is not a code of three capital letters") from None
    if not 0 < rate < 1_000_000:
        raise InputError.at("rate", "must be over 0")
    with database.transaction() as session:
        put_rates(session, [(currency, day, rate)], BY_HAND, by_hand=True)
        revalue_foreign(session, home_on(session, today))


@dataclass(frozen=True, slots=True)
class Rate:
    """Home units for one of a currency on a day, and where that comes from."""

    currency: str
    day: date
    rate: Decimal
    source: str
    by_hand: bool


def list_rates(database: Database) -> tuple[str, list[Rate]]:
    """The home currency; of each other one the newest rate of the feed, and all that were set by hand."""
    with database.transaction() as session:
        rows = [Rate(r.currency, r.day, r.rate, r.source, r.by_hand) for r in latest_rates(session)]
        return load_preferences(session).currency, rows


def forget_rate(database: Database, currency: str, day: date, today: date) -> None:
    """Take a rate that was set by hand back; what was booked with it stays. Raises NotFound."""
    with database.transaction() as session:
        if not remove_rate(session, currency, day):
            raise NotFound(f"no rate of {currency} was set by hand for {day}")
        revalue_foreign(session, home_on(session, today))
