"""Booking, for every step: a bill in the home currency, and taking an entry back."""

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import history
from tobbix.core.holdings.documents import Charge
from tobbix.core.holdings.ledger import Account, Event, Posting
from tobbix.core.holdings.register import Change
from tobbix.core.holdings.states import ChargeKind, DocumentKind
from tobbix.db.base import Session
from tobbix.db.holdings.loading import load_document, load_entry, load_histories, refuse_opened, standing_entries
from tobbix.db.holdings.rates import find_rate
from tobbix.db.holdings.saving import keep_change
from tobbix.db.products.values import take_back_shared
from tobbix.services.buying.rates import BY_HAND
from tobbix.services.products.valuing import home_on, revalue_items


@dataclass(frozen=True, slots=True)
class ChargeInput:
    """A part of a bill as typed: an amount (money) in its currency, paid on a day from a purse; ``rate`` is home units
    for one of the currency where the owner says it, else that of the day."""

    kind: str
    amount: Decimal
    currency: str
    day: date
    purse: str = "bank"
    rate: Decimal | None = None


@dataclass(frozen=True, slots=True)
class ChargeHome:
    """A charge in the home currency, at the rate of its day and where that comes from."""

    said: ChargeInput
    rate: Decimal
    source: str
    home: Decimal

    def charge(self) -> Charge:
        """What is kept of it."""
        said = self.said
        return Charge(ChargeKind(said.kind), said.amount, said.currency, said.day, self.rate, self.home, said.purse)

    def refund(self) -> Charge:
        """What is kept of it as money back."""
        said = self.said
        return Charge(
            ChargeKind.REFUND, -said.amount, said.currency, said.day, self.rate, -self.home, said.purse
        )  # fmt: skip

    def line(self, home: str, comes_in: bool = False) -> Posting:
        """The line of cash: paid, or for what ``comes_in`` received."""
        said, sign = self.said, 1 if comes_in else -1
        if said.currency == home:
            return Posting(Account.CASH, sign * self.home, said.purse)
        return Posting(Account.CASH, sign * self.home, said.purse, sign * said.amount, said.currency, self.rate)


MOST_AT_HOME = 99_999_999_999  # what a column of money holds, with room to be added up


def judge_charge(session: Session, charge: ChargeInput, home: str) -> tuple[ChargeHome | None, tuple[str, str] | None]:
    """A charge at home, or the field that is wrong with it and why."""
    if charge.kind not in set(ChargeKind) - {ChargeKind.REFUND}:
        return None, ("kind", f"must be one of {', '.join(kind for kind in ChargeKind if kind != 'refund')}")
    try:
        units = minor_units(charge.currency)
    except ValueError:
        return None, ("currency", "is not a code of three capital letters")
    if not 0 < charge.amount <= 99_999_999 or charge.amount != round(charge.amount, units):
        return None, ("amount", f"must be an amount over 0, with at most {units} decimals")
    if not charge.purse.strip():
        return None, ("purse", "say what it was paid from")
    if charge.currency == home:
        return ChargeHome(charge, Decimal(1), "home currency", charge.amount), None
    if charge.rate is not None:
        rate, source = charge.rate, BY_HAND
        if not 0 < rate < 1_000_000:
            return None, ("rate", "must be over 0")
    else:
        found = find_rate(session, charge.currency, charge.day)
        if found is None:
            return None, ("currency", f"there is no rate of {charge.currency} for {charge.day}; fetch or set one")
        rate, source, _ = found
    exact = (charge.amount * rate).quantize(Decimal(1).scaleb(-minor_units(home)), ROUND_HALF_UP)
    if exact > MOST_AT_HOME:
        return None, ("amount", f"comes to {exact:,} {home}; more than {MOST_AT_HOME:,} cannot be booked")
    return ChargeHome(charge, rate, source, exact), None


def to_home(session: Session, charge: ChargeInput, home: str, place: str = "") -> ChargeHome:
    """A charge at home. Raises InputError at its field, which ``place`` comes before."""
    found, problem = judge_charge(session, charge, home)
    if found is None:
        field, message = problem or ("amount", "cannot be booked")
        raise InputError.at(f"{place}{field}", message)
    return found


def take_back_entry(session: Session, number: int, day: date, text: str | None = None) -> Change:
    """Take an entry back by itself: its lines are reversed, and what it touched is as it was before.
    Rule C-16. ``text`` says what that is, where it has a name of its own.

    Raises NotFound, or Conflict, which says by what, if something stands on it.
    """
    document, entry, gone = load_entry(session, number)
    if gone:
        raise Conflict("this was taken back already")
    if entry.event is Event.UNDO:
        raise Conflict("this took something back; do that again instead")
    if load_document(session, document).kind is not DocumentKind.IMPORT:  # what came in so stands each by itself
        history.check_order(number, standing_entries(session, document))
    histories = load_histories(session, number)
    change = history.take_back(number, entry, histories, day, text)
    now = {item.thing.key: item.thing.state for item in histories}
    refuse_opened(session, [t.key for t in change.things if t.state is not now[t.key]])
    keep_change(session, change, document, reverses=number)
    take_back_shared(session, number)
    revalue_items(session, home_on(session, day), [t.key for t in change.things])
    return change
