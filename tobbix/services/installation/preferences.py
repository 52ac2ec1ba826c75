"""How the owner decides and sells, and what was spent this month against the limit."""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.base.tasks import Task
from tobbix.core.planning.habits import Preferences
from tobbix.core.planning.spending import Spent, judge_spending, month_of
from tobbix.core.pricing.schools import School
from tobbix.db.base import Database, Session
from tobbix.db.buying.loading import spent_on_purchases
from tobbix.db.holdings.loading import is_anything_booked
from tobbix.db.installation.keeping import load_preferences, save_preferences
from tobbix.db.installation.spending import is_anything_spent, keep_spending, list_spending, mark_spending
from tobbix.services.pricing.revaluing import ask_revaluing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_all


def read_preferences(database: Database) -> Preferences:
    with database.transaction() as session:
        return load_preferences(session)


def change_preferences(database: Database, wanted: Preferences) -> Preferences:
    """Store them. Raises Conflict if they were changed since ``wanted.version``, NotFound for an unknown way."""
    with database.transaction() as session:
        current = load_preferences(session, lock=True)
        if current.version != wanted.version:
            raise Conflict("these settings were changed meanwhile; look again, then retry")
        saved = replace(
            wanted, version=current.version + 1, currency=current.currency, sheet_condition=current.sheet_condition,
            school=current.school,
        )  # fmt: skip
        save_preferences(session, saved)
    return saved


def is_home_open(database: Database) -> bool:
    """Whether the home currency can still be chosen: nothing is booked yet."""
    with database.transaction() as session:
        return _nothing_booked(session)


def _nothing_booked(session: Session) -> bool:
    return not is_anything_booked(session) and not is_anything_spent(session)


def check_currency(currency: str) -> None:
    """Refuse what is no currency. Raises InputError."""
    try:
        minor_units(currency)
    except ValueError:
        raise InputError.at("currency", "is not a currency code of three capital letters, like EUR") from None


def choose_school(catalogue: Catalogue, school: School, version: int) -> Task:
    """Choose by which school prices are read off sales; everything is valued anew by it, as a task. Raises Conflict."""
    with catalogue.database.transaction() as session:
        current = load_preferences(session, lock=True)
        if current.version != version:
            raise Conflict("these settings were changed meanwhile; look again, then retry")
        save_preferences(session, replace(current, version=version + 1, school=school))
    return ask_revaluing(catalogue)


def choose_home(database: Database, currency: str, sheet_condition: str, version: int, today: date) -> Preferences:
    """Choose the home currency, as long as nothing is booked, and the condition that prices of sheets speak for.

    Raises InputError, or Conflict if something is booked in another one, or it was changed meanwhile.
    """
    check_currency(currency)
    with database.transaction() as session:
        current = load_preferences(session, lock=True)
        if current.version != version:
            raise Conflict("these settings were changed meanwhile; look again, then retry")
        if current.currency != currency and not _nothing_booked(session):
            raise Conflict(f"the books are kept in {current.currency}; that cannot be changed any more")
        saved = replace(current, version=version + 1, currency=currency, sheet_condition=sheet_condition)
        save_preferences(session, saved)
        session.flush()
        revalue_all(session, home_on(session, today))
    return saved


@dataclass(frozen=True, slots=True)
class SpentOn:
    """Something that money was spent on: a purchase, or an entry of its own that can be taken back."""

    day: date
    amount: Decimal
    what: str
    entry: int | None
    purchase: int | None


def read_spending(database: Database, today: date) -> tuple[Spent, list[SpentOn]]:
    """What was spent in today's month against the limit, and what on, the newest first.

    Purchases count with all that they cost, at the rate of its day, less refunds of the month.
    """
    first, after = month_of(today)
    with database.transaction() as session:
        preferences = load_preferences(session)
        found = [
            SpentOn(day, amount, what, number, None)
            for number, day, amount, what in list_spending(session, first, after)
        ]  # fmt: skip
        units = minor_units(preferences.currency)
        found += [
            SpentOn(day, round(Decimal(home or 0), units), name, None, number)
            for number, name, day, home in spent_on_purchases(session, first, after)
        ]
    found.sort(key=lambda item: item.day, reverse=True)
    total = sum((item.amount for item in found), Decimal(0))
    return judge_spending(total, preferences.monthly_limit, preferences.currency, today), found


def note_spending(database: Database, day: date, amount: Decimal, what: str, once: str, today: date) -> int:
    """Keep what was spent on product; sent twice with the same ``once`` it is kept once. Returns its number.

    Raises InputError for a day to come, an amount that is not one, or no words.
    """
    if day > today:
        raise InputError.at("day", "is still to come")
    if not what.strip():
        raise InputError.at("what", "say what it was spent on")
    with database.transaction() as session:
        units = minor_units(load_preferences(session).currency)
        if not 0 < amount <= 99_999_999 or amount != round(amount, units):
            raise InputError.at("amount", f"must be an amount over 0, with at most {units} decimals")
        return keep_spending(session, day, amount, what.strip(), once)


def take_back_spending(database: Database, number: int, back: bool) -> None:
    """Take an entry back, or bring it in again; it is never deleted. Raises NotFound."""
    with database.transaction() as session:
        mark_spending(session, number, back)
