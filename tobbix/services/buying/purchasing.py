"""Buy: record a purchase, divide its landed cost, receive and inspect it, dispute it, take a refund, take it back.

Each use case is one transaction: all of it is booked, or nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from typing import TypeVar

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, divide
from tobbix.core.holdings.ledger import Account, Event, Line
from tobbix.core.holdings.register import State, Thing
from tobbix.db.base import Database
from tobbix.db.buying.tables import ChargeRow, ParcelRow, PurchaseRow
from tobbix.db.holdings.keeping import (
    find_rate,
    items_of_purchase,
    keep_change,
    to_thing,
)
from tobbix.db.holdings.tables import EntryRow, ItemRow
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Identity, Naming, identify
from tobbix.services.buying.rates import BY_HAND
from tobbix.services.products.valuing import home_on, revalue_items, say_worth

CHARGES = ("price", "premium", "shipping", "tax", "duty", "other")


@dataclass(frozen=True, slots=True)
class ChargeSaid:
    """A part of the cost as typed: an amount (money) in its currency, paid on a day from a purse; ``rate`` is home
    units for one of the currency where the owner says it, else that of the day."""

    kind: str
    amount: Decimal
    currency: str
    day: date
    purse: str = "bank"
    rate: Decimal | None = None


@dataclass(frozen=True, slots=True)
class ThingSaid:
    """A thing bought: so many of a format (``sealed``), a card, or anything in words; ``value`` of all of them,
    ``weight`` of each for a division by count."""

    kind: str
    name: str
    count: int = 1
    release: str | None = None
    format: str | None = None
    line: str | None = None
    number: str | None = None
    value: Decimal | None = None
    fixed: Decimal | None = None
    gift: bool = False
    weight: Decimal = Decimal(1)
    condition: str | None = None
    serial: str | None = None
    place: str | None = None
    variant: str | None = None


@dataclass(frozen=True, slots=True)
class PurchaseSaid:
    """A purchase as typed. ``received_on`` None: it is still on its way."""

    name: str
    bought_on: date
    charges: tuple[ChargeSaid, ...]
    things: tuple[ThingSaid, ...]
    method: Method = Method.VALUE
    seller: str | None = None
    received_on: date | None = None
    carrier: str | None = None
    tracking: str | None = None
    due_on: date | None = None
    entertainment: Decimal = Decimal(0)
    note: str | None = None


@dataclass(frozen=True, slots=True)
class ChargeHome:
    """A charge in the home currency, at the rate of its day and where that comes from."""

    said: ChargeSaid
    rate: Decimal
    source: str
    home: Decimal


@dataclass(frozen=True, slots=True)
class Division:
    """A landed cost and how it is divided, before it is booked."""

    currency: str
    charges: tuple[ChargeHome, ...]
    landed: Decimal
    shares: tuple[Decimal, ...]


@dataclass(frozen=True, eq=False)
class Purchase:
    """A purchase as it stands."""

    row: PurchaseRow
    charges: tuple[ChargeRow, ...]
    items: tuple[ItemRow, ...]
    parcel: ParcelRow | None
    history: tuple[EntryRow, ...]


def preview_purchase(database: Database, said: PurchaseSaid, today: date) -> Division:
    """The landed cost and its division, without booking anything. Rule C-15. Raises InputError with every fault."""
    with database.transaction() as session:
        return _divide(session, said, today)


def record_purchase(database: Database, said: PurchaseSaid, once: str, today: date) -> int:
    """Record a purchase and book it; sent twice with the same ``once`` it is kept once. Returns its number.

    Raises InputError with every fault; then nothing is booked.
    """
    with database.transaction() as session:
        session.execute(select(func.pg_advisory_xact_lock(func.hashtext(once))))
        known = session.scalar(select(PurchaseRow.id).where(PurchaseRow.once == once))
        if known is not None:
            return known
        division = _divide(session, said, today)
        row = PurchaseRow(
            once=once, name=said.name.strip(), seller=said.seller, bought_on=said.bought_on,
            state="ordered" if said.received_on is None else "received", method=said.method.value,
            entertainment=said.entertainment, landed=division.landed, note=said.note,
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(
            ChargeRow(
                purchase_id=row.id, kind=c.said.kind, amount=c.said.amount, currency=c.said.currency, day=c.said.day,
                rate=c.rate, home=c.home, purse=c.said.purse,
            )
            for c in division.charges
        )  # fmt: skip
        session.add(
            ParcelRow(
                purchase_id=row.id, carrier=said.carrier, tracking=said.tracking, due_on=said.due_on,
                received_on=said.received_on,
            )
        )  # fmt: skip
        state = State.IN_TRANSIT if said.received_on is None else State.HELD
        identities = identify(session, {_naming(thing) for thing in said.things})
        items = [_item(row, thing, identities[_naming(thing)], said, state) for thing in said.things]
        session.add_all(items)
        session.flush()
        things = [
            Thing(item.id, item.name, item.count, state, share, thing.value)
            for item, thing, share in zip(items, said.things, division.shares, strict=True)
        ]
        cash = [cash_line(charge, division.currency) for charge in division.charges]
        change = register.buy(things, cash, said.bought_on, f"bought: {row.name}")
        keep_change(session, change, items, said.bought_on, Event.PURCHASE, f"bought: {row.name}", row.id)
        home = home_on(session, today)
        worths = [(item.id, thing.value) for item, thing in zip(items, said.things, strict=True)]
        say_worth(session, home, [(item, worth) for item, worth in worths if worth is not None], said.bought_on)
        revalue_items(session, home, [item.id for item in items])
        return row.id


def _naming(thing: ThingSaid) -> Naming:
    return Naming(thing.release, thing.format, thing.line, thing.number, thing.variant or "")


def _item(row: PurchaseRow, thing: ThingSaid, identity: Identity, said: PurchaseSaid, state: State) -> ItemRow:
    return ItemRow(
        kind=thing.kind, name=thing.name.strip(), **identity.columns(), count=thing.count, state=state.value,
        basis=None, fixed=thing.fixed,
        gift=thing.gift, weight=thing.weight, condition=thing.condition, serial=thing.serial, place=thing.place,
        acquired_on=said.bought_on, purchase_id=row.id, version=0,
    )  # fmt: skip


def cash_line(charge: ChargeHome, home: str) -> Line:
    said = charge.said
    if said.currency == home:
        return Line(Account.CASH, -charge.home, said.purse)
    return Line(Account.CASH, -charge.home, said.purse, -said.amount, said.currency, charge.rate)


def _check_days(said: PurchaseSaid, today: date) -> list[Fault]:
    faults = []
    if said.bought_on > today:
        faults.append(Fault("bought_on", "is still to come"))
    if said.received_on is not None and not said.bought_on <= said.received_on <= today:
        faults.append(Fault("received_on", "must be from the day it was bought to today"))
    return faults + [
        Fault(f"charges[{i}].day", "is still to come") for i, c in enumerate(said.charges) if c.day > today
    ]


def _divide(session: Session, said: PurchaseSaid, today: date) -> Division:
    home = load_preferences(session).currency
    faults = _check_days(said, today)
    if not said.name.strip():
        faults.append(Fault("name", "say what was bought"))
    if not said.charges:
        faults.append(Fault("charges", "give at least the price"))
    if not 0 <= said.entertainment <= 1:
        faults.append(Fault("entertainment", "must be from 0 to 1 (0.5 is half)"))
    charges = []
    for i, charge in enumerate(said.charges):
        found, problem = to_home(session, charge, home)
        if problem is not None:
            faults.append(Fault(f"charges[{i}].{problem[0]}", problem[1]))
        elif found is not None:
            charges.append(found)
    for i, thing in enumerate(said.things):
        if not thing.name.strip():
            faults.append(Fault(f"things[{i}].name", "say what it is"))
        if thing.count < 1:
            faults.append(Fault(f"things[{i}].count", "must be at least 1"))
        if not 0 < thing.weight <= 1_000_000:
            faults.append(Fault(f"things[{i}].weight", "must be more than 0"))
    if faults:
        raise InputError(faults)
    landed = sum((charge.home for charge in charges), Decimal(0))
    parts = [Part(t.name, t.value, t.count * t.weight, t.fixed, t.gift) for t in said.things]
    only_one = sum(not part.gift for part in parts) == 1
    method = Method.EQUAL if only_one and said.method is Method.VALUE else said.method
    return Division(home, tuple(charges), landed, divide(landed, parts, method, minor_units(home)))


def to_home(session: Session, charge: ChargeSaid, home: str) -> tuple[ChargeHome | None, tuple[str, str] | None]:
    if charge.kind not in CHARGES:
        return None, ("kind", f"must be one of {', '.join(CHARGES)}")
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
    return ChargeHome(charge, rate, source, exact), None


def list_purchases(database: Database) -> list[Purchase]:
    """All purchases, the newest first."""
    with database.transaction() as session:
        rows = session.scalars(select(PurchaseRow).order_by(PurchaseRow.bought_on.desc(), PurchaseRow.id.desc()))
        return _load(session, list(rows))


def read_purchase(database: Database, number: int) -> Purchase:
    """One purchase. Raises NotFound."""
    with database.transaction() as session:
        return _load(session, [find_purchase(session, number, None, lock=False)])[0]


_Part = TypeVar("_Part", ChargeRow, ParcelRow, EntryRow, ItemRow)


def _load(session: Session, rows: Sequence[PurchaseRow]) -> list[Purchase]:
    """Purchases with all that belongs to them, in a few queries however many they are."""
    numbers = [row.id for row in rows]

    def by_purchase(table: type[_Part]) -> dict[int | None, list[_Part]]:
        found: dict[int | None, list[_Part]] = {}
        for row in session.scalars(select(table).where(table.purchase_id.in_(numbers)).order_by(table.id)):
            found.setdefault(row.purchase_id, []).append(row)
        return found

    charges, parcels, entries = by_purchase(ChargeRow), by_purchase(ParcelRow), by_purchase(EntryRow)
    items = by_purchase(ItemRow)
    return [
        Purchase(
            row,
            tuple(charges.get(row.id, ())),
            tuple(item for item in items.get(row.id, ()) if item.session_id is None),
            next(iter(parcels.get(row.id, ())), None),
            tuple(entries.get(row.id, ())),
        )
        for row in rows
    ]


def find_purchase(session: Session, number: int, version: int | None, lock: bool = True) -> PurchaseRow:
    row = session.get(PurchaseRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such purchase")
    if version is not None and row.version != version:
        raise Conflict("this was changed meanwhile; look again, then retry")
    if version is not None and row.state == "undone":
        raise Conflict("this purchase was taken back")
    return row


@dataclass(frozen=True, slots=True)
class Inspection:
    """What was found on the desk: True, False, or None if nobody looked."""

    seal: bool | None = None
    series: bool | None = None
    contents: bool | None = None
    note: str = ""

    @property
    def is_fine(self) -> bool:
        return False not in (self.seal, self.series, self.contents)


def receive_purchase(database: Database, number: int, version: int, day: date, found: Inspection) -> None:
    """A parcel stands on the desk; what is wrong with it opens a dispute. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        if row.state != "ordered":
            raise Conflict("this parcel was received already")
        if day < row.bought_on:
            raise InputError.at("day", "is before the day it was bought")
        items = [item for item in items_of_purchase(session, number) if item.state == State.IN_TRANSIT.value]
        text = f"received: {row.name}"
        keep_change(
            session, register.receive([to_thing(i) for i in items], day, text), items, day, Event.RECEIPT, text, number
        )
        parcel = session.scalars(select(ParcelRow).where(ParcelRow.purchase_id == number)).one()
        parcel.received_on = day
        parcel.inspection = {
            "seal": found.seal, "series": found.series, "contents": found.contents, "note": found.note,
        }  # fmt: skip
        row.state, row.version = ("received" if found.is_fine else "disputed"), row.version + 1
        if not found.is_fine:
            wrong = [name for name in ("seal", "series", "contents") if getattr(found, name) is False]
            parcel.dispute = f"{', '.join(wrong)} not as described. {found.note}".strip()
