"""What held things are worth: the home currency with its rates, what is said of a thing, and bringing it all up."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from functools import cached_property

from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Price, Says, Source, Value, converter
from tobbix.db.base import Session
from tobbix.db.holdings.rates import rates_on
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products import values
from tobbix.db.products.finding import find_cards
from tobbix.db.products.values import price_versions, record_values

OWNED = "owned"


@dataclass(frozen=True)
class Home:
    """The home currency, the condition that sheets speak for, and the rates of a day, which are read once they are
    needed."""

    currency: str
    state: str
    read_rates: Callable[[], Mapping[str, Decimal]]

    @cached_property
    def rates(self) -> Mapping[str, Decimal]:
        return self.read_rates()

    def convert(self, amount: Decimal, currency: str) -> Decimal | None:
        """An amount at home; None without a rate."""
        return amount if currency == self.currency else converter(self.currency, self.rates)(amount, currency)


def home_on(session: Session, day: date) -> Home:
    """The home currency with the rates of a day."""
    preferences = load_preferences(session)
    return Home(preferences.currency, preferences.sheet_condition, lambda: rates_on(session, day))


def find_priced(
    session: Session, day: date, find: str, most: int, release: str | None = None, format_id: int | None = None
) -> list[FoundCard]:
    """Cards by what is typed, with what they go for at home."""

    def prices(versions: Sequence[int]) -> Mapping[int, Price]:
        home = home_on(session, day)
        return price_versions(session, versions, home.state, home.convert)

    return find_cards(session, find, most, release, format_id, prices)


def say_worth(
    session: Session,
    home: Home,
    worths: Iterable[tuple[int, Decimal | None]],
    day: date,
    source: Source = Source.OWNER,
    entry: int | None = None,
) -> None:
    """Keep what is said of things themselves, all of each together (money at home); None: no longer, they are worth
    what their version is. What an ``entry`` shares out so is taken back with it."""
    record_values(
        session, None, "item_id", OWNED,
        [
            (item, Value(Says.RELEASED if amount is None else Says.PRICE, amount, home.currency, day, source))
            for item, amount in worths
        ],
        entry,
    )  # fmt: skip


def said_worth(session: Session, item: int) -> tuple[Decimal, date] | None:
    """What is said of a thing itself (money), and on which day; None if nothing, or no longer."""
    return values.said_of_item(session, item)


def revalue_items(session: Session, home: Home, items: Iterable[int]) -> None:
    """Bring up what certain things are worth."""
    values.revalue_items(session, items, home.state, home.convert)


def revalue_cards(session: Session, home: Home, versions: Iterable[int]) -> None:
    """Bring up what is held of certain versions, and of the parallels whose prices may follow them."""
    values.revalue_cards(session, versions, home.state, home.convert)


def revalue_release(session: Session, home: Home, release: int) -> None:
    """Bring up all that is held of a release."""
    values.revalue_release(session, release, home.state, home.convert)


def revalue_all(session: Session, home: Home) -> None:
    """Bring up everything that is held."""
    values.revalue_all(session, home.state, home.convert)


def revalue_foreign(session: Session, home: Home) -> None:
    """Bring up what is worth money of another currency: rates have changed."""
    values.revalue_foreign(session, home.currency, home.state, home.convert)
