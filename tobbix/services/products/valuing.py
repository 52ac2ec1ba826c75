"""What held things are worth: the home currency with its rates, what is said of a thing, and bringing it all up."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from functools import cached_property

from sqlalchemy import ARRAY, BigInteger, ColumnElement, any_, literal, select
from sqlalchemy.orm import Session

from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Price, Says, Source, Value, converter
from tobbix.db.holdings.rates import rates_on
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.finding import find_cards
from tobbix.db.products.tables import ValueRow, VersionRow
from tobbix.db.products.values import in_other_currencies, price_versions, record_values, revalue

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
    session: Session, home: Home, worths: Iterable[tuple[int, Decimal | None]], day: date, source: Source = Source.OWNER
) -> None:
    """Keep what is said of things themselves, all of each together (money at home); None: no longer, they are worth
    what their version is."""
    record_values(
        session, None, "item_id", OWNED,
        [
            (item, Value(Says.RELEASED if amount is None else Says.PRICE, amount, home.currency, day, source))
            for item, amount in worths
        ],
    )  # fmt: skip


def said_worth(session: Session, item: int) -> tuple[Decimal, date] | None:
    """What is said of a thing itself (money), and on which day; None if nothing, or no longer."""
    query = select(ValueRow.amount, ValueRow.day).where(ValueRow.item_id == item, ValueRow.taken_back_at.is_(None))
    found = session.execute(query.order_by(ValueRow.id.desc()).limit(1)).one_or_none()
    return None if found is None or found.amount is None else (found.amount, found.day)


def revalue_items(session: Session, home: Home, items: Iterable[int]) -> None:
    """Bring up what certain things are worth."""
    session.flush()
    wanted = literal(list(items), ARRAY(BigInteger))  # one parameter, however many they are
    revalue(session, ItemRow.id == any_(wanted), home.state, home.convert)


def revalue_cards(session: Session, home: Home, versions: Iterable[int]) -> None:
    """Bring up what is held of certain versions, and of the parallels whose prices may follow them."""
    cards = select(VersionRow.card_id).where(VersionRow.id.in_(list(versions)))
    like = select(VersionRow.id).where(VersionRow.card_id.in_(cards))
    revalue(session, ItemRow.version_id.in_(like), home.state, home.convert)


def revalue_release(session: Session, home: Home, release: int) -> None:
    """Bring up all that is held of a release."""
    revalue(session, ItemRow.release_id == release, home.state, home.convert)


def revalue_all(session: Session, home: Home) -> None:
    """Bring up everything that is held."""
    revalue(session, ItemRow.id.is_not(None), home.state, home.convert)


def revalue_foreign(session: Session, home: Home) -> None:
    """Bring up what is worth money of another currency: rates have changed."""
    which: ColumnElement[bool] = in_other_currencies(home.currency)
    revalue(session, which, home.state, home.convert)
