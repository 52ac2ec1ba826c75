"""Orders: sell, send, take returns and pay back. Each is booked in the order's document, and can be taken back by
itself."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing
from tobbix.core.holdings.allocation import share_as_said, share_out
from tobbix.core.holdings.ledger import Account, Posting
from tobbix.core.holdings.states import DocumentKind, DocumentState
from tobbix.db.base import Database, Session
from tobbix.db.holdings.loading import load_document, load_things, touched_by
from tobbix.db.holdings.saving import add_charges, add_document, add_parcel, keep_change, party_named, touch_document
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import list_way_rows
from tobbix.db.selling.orders import add_lines, add_order, change_order, find_order
from tobbix.services.buying.booking import ChargeHome, ChargeInput, to_home
from tobbix.services.selling.listings import end_sold
from tobbix.services.selling.offers import take_offer
from tobbix.services.selling.own_prices import keep_prices


@dataclass(frozen=True, slots=True)
class SaleInput:
    """A sale as typed: what the buyer paid for each thing (its number) and for shipping, in ``currency`` (None: at
    home); what was kept back of it as ``fees``; the rest came into ``purse``, or a ``market`` owes it until it pays
    out. ``rate``: home units for one, where the owner says it. ``reference``: the buyer's or market's own number (None:
    one is made), ``way`` the key of the way of selling, ``address`` where it goes; what was ``handed_over`` at a table
    needs no parcel. ``offer``: the number of the offer for its listing that is taken by it."""

    day: date
    prices: Mapping[int, Decimal]
    buyer: str | None = None
    currency: str | None = None
    shipping: Decimal = Decimal(0)
    fees: Decimal = Decimal(0)
    purse: str = "bank"
    rate: Decimal | None = None
    words: str = ""
    reference: str | None = None
    way: str | None = None
    market: str | None = None
    address: str = ""
    handed_over: bool = False
    offer: int | None = None


def sell(database: Database, said: SaleInput) -> int:
    """Sell things that are here; the order's document. Rule C-16. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        home = load_preferences(session).currency
        things = load_things(session, list(said.prices))
        gross = sum(said.prices.values(), said.shipping)
        _check(said, gross)
        came = ChargeInput(
            "price", gross - said.fees, said.currency or home, said.day, said.purse, said.rate
        )  # fmt: skip
        money = [_in_hand(session, to_home(session, came, home), home, said.market)]
        if said.fees:
            money.append(_fee(to_home(session, replace(came, amount=said.fees), home), home))
        total = sum((line.amount for line in money), Decimal(0))
        weights = [Fraction(price) for price in (*said.prices.values(), said.shipping)]
        *parts, shipping = share_out(total, weights, minor_units(home))
        proceeds = dict(zip(said.prices, parts, strict=True))
        text = said.words.strip() or f"sold: {', '.join(thing.name for thing in things)}"
        party = party_named(session, said.buyer, "buyer")
        state = DocumentState.DONE if said.handed_over else DocumentState.PAID
        if said.offer is not None:
            take_offer(session, said.offer, list(said.prices))
        document = add_document(session, DocumentKind.ORDER, said.day, text, party, state)
        kind = end_sold(session, list(said.prices), document, said.day, said.way)
        change = dealing.sell(things, proceeds, money, said.day, text[:500], shipping)
        keep_change(session, change, document)
        add_order(
            session, document, (said.reference or "").strip() or None, said.currency or home, way=said.way,
            address=said.address.strip(), shipping=said.shipping,
        )  # fmt: skip
        add_lines(session, document, [(item, price, proceeds[item]) for item, price in said.prices.items()])
        keep_prices(session, document, said.day, said.market or _way_name(session, said.way), kind)
        return document


def _way_name(session: Session, way: str | None) -> str | None:
    return next((row.name for row in list_way_rows(session) if row.key == way), None)


def _in_hand(session: Session, came: ChargeHome, home: str, market: str | None) -> Posting:
    cash = came.line(home, comes_in=True)
    party = party_named(session, market, "market")
    return cash if party is None else replace(cash, account=Account.RECEIVABLE, purse=None, party=party)


def _check(said: SaleInput, gross: Decimal) -> None:
    faults = [Fault(f"prices.{number}", "must not be negative") for number, price in said.prices.items() if price < 0]
    if not said.prices:
        faults.append(Fault("prices", "choose what is sold"))
    if said.shipping < 0:
        faults.append(Fault("shipping", "must not be negative"))
    if not 0 <= said.fees < max(gross, Decimal("0.01")):
        faults.append(Fault("fees", "must be from 0 to less than what was paid"))
    if faults:
        raise InputError(faults)


def _fee(kept: ChargeHome, home: str) -> Posting:
    if kept.said.currency == home:
        return Posting(Account.FEES, kept.home)
    return Posting(Account.FEES, kept.home, None, kept.said.amount, kept.said.currency, kept.rate)


def send_order(
    session: Session, document: int, things: Sequence[int], day: date, postage: ChargeInput | None,
    carrier: str | None = None, tracking: str | None = None, due_on: date | None = None,
) -> None:  # fmt: skip
    """An order's parcel goes out, and its postage is booked. Raises NotFound, Conflict, InputError."""
    order = load_document(session, document)
    if not set(things) <= set(touched_by(session, document)):
        raise InputError.at("things", "must name things of this order")
    touch_document(session, document, DocumentState.SENT)
    add_parcel(session, document, "out", things, carrier=carrier, tracking=tracking, sent_on=day, due_on=due_on)
    if postage is not None:
        pay_postage(session, document, postage, order.text)


def pay_postage(session: Session, document: int, postage: ChargeInput, what: str) -> None:
    """A parcel's bill is paid. Raises InputError."""
    home = load_preferences(session).currency
    found = to_home(session, postage, home)
    change = dealing.pay_postage(found.line(home), postage.day, f"postage: {what}"[:500])
    add_charges(session, document, keep_change(session, change, document), [found.charge()])


def pay_back(
    database: Database, document: int, refunded: Mapping[int, Decimal], paid: ChargeInput, returned: bool
) -> None:
    """A buyer gets money back, for things that are ``returned`` or that they keep: to each what ``refunded`` says, in
    the currency of what is ``paid``. Rule C-16. Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        load_document(session, document)
        home = load_preferences(session).currency
        things = load_things(session, list(refunded))
        found = to_home(session, paid, home)
        if not set(refunded) <= set(touched_by(session, document)):
            raise InputError.at("refunded", "must name things of this order")
        parts = share_as_said(found.home, refunded, paid.amount, "refunded", minor_units(home))
        text = f"{'returned' if returned else 'paid back'}: {', '.join(thing.name for thing in things)}"[:500]
        book = dealing.take_return if returned else dealing.refund_buyer
        change = book(things, parts, [found.line(home)], paid.day, text)
        keep_change(session, change, document)
        touch_document(session, document, DocumentState.RETURNED if returned else None)


def change_address(database: Database, document: int, version: int, address: str) -> None:
    """Where an order goes. Raises NotFound, Conflict."""
    with database.transaction() as session:
        find_order(session, document, version)
        change_order(session, document, address=address.strip())
