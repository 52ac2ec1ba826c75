"""Buy: record a purchase, divide its landed cost, receive and inspect it, dispute it, take a refund, take it back.

Each use case is one transaction: all of it is booked, or nothing.
"""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, divide
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import DocumentKind, DocumentState, Kind, State
from tobbix.db.base import Database, Session
from tobbix.db.buying import loading
from tobbix.db.buying.loading import purchase_once
from tobbix.db.buying.saving import add_purchase
from tobbix.db.holdings.loading import things_of_purchase
from tobbix.db.holdings.saving import (
    add_charges,
    add_document,
    add_parcel,
    bring_things,
    change_parcel,
    document_once,
    fresh_numbers,
    keep_change,
    party_named,
    touch_document,
)
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Identity, Naming, identify
from tobbix.services.buying.booking import ChargeHome, ChargeInput, judge_charge
from tobbix.services.products.valuing import home_on, revalue_items, say_worth


@dataclass(frozen=True, slots=True)
class ThingInput:
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
class PurchaseInput:
    """A purchase as typed. ``received_on`` None: it is still on its way."""

    name: str
    bought_on: date
    charges: tuple[ChargeInput, ...]
    things: tuple[ThingInput, ...]
    method: Method = Method.VALUE
    seller: str | None = None
    received_on: date | None = None
    carrier: str | None = None
    tracking: str | None = None
    due_on: date | None = None
    entertainment: Decimal = Decimal(0)
    note: str | None = None


@dataclass(frozen=True, slots=True)
class Division:
    """A landed cost and how it is divided, before it is booked."""

    currency: str
    charges: tuple[ChargeHome, ...]
    landed: Decimal
    shares: tuple[Decimal, ...]


def preview_purchase(database: Database, said: PurchaseInput, today: date) -> Division:
    """The landed cost and its division, without booking anything. Rule C-15. Raises InputError with every fault."""
    with database.transaction() as session:
        return _divide(session, said, today)


def record_purchase(database: Database, said: PurchaseInput, once: str, today: date) -> int:
    """Record a purchase and book it; sent twice with the same ``once`` it is kept once. Returns its number.

    Raises InputError with every fault; then nothing is booked.
    """
    with database.transaction() as session:
        if document_once(session, once) is not None:
            known = purchase_once(session, once)
            if known is None:
                raise Conflict("this key was sent with something else")
            return known
        division = _divide(session, said, today)
        name, here = said.name.strip(), said.received_on is not None
        document = add_document(
            session, DocumentKind.PURCHASE, said.bought_on, name, party_named(session, said.seller, "seller"),
            DocumentState.RECEIVED if here else DocumentState.ORDERED, said.note, once,
        )  # fmt: skip
        number = add_purchase(session, document, said.entertainment)
        identities = identify(session, {_naming(thing) for thing in said.things})
        items = fresh_numbers(session, len(said.things))
        state = State.HELD if here else State.IN_TRANSIT
        things = [
            Thing(item, thing.name, thing.count, state, share, thing.value, Kind(thing.kind), gift=thing.gift)
            for item, thing, share in zip(items, said.things, division.shares, strict=True)
        ]
        cash = [charge.line(division.currency) for charge in division.charges]
        change = register.buy(things, cash, said.bought_on, f"bought: {name}")
        rows = [_item(number, t, identities[_naming(t)], said.bought_on) for t in said.things]
        entry = bring_things(session, dict(zip(items, rows, strict=True)), change, document, said.method)
        add_charges(session, document, entry, [charge.charge() for charge in division.charges])
        add_parcel(
            session, document, "in", items, said.received_on, carrier=said.carrier, tracking=said.tracking,
            due_on=said.due_on,
        )  # fmt: skip
        home = home_on(session, today)
        worths = [(item, thing.value) for item, thing in zip(items, said.things, strict=True)]
        say_worth(session, home, [(item, worth) for item, worth in worths if worth is not None], said.bought_on)
        revalue_items(session, home, items)
        return number


def _naming(thing: ThingInput) -> Naming:
    return Naming(thing.release, thing.format, thing.line, thing.number, thing.variant or "")


def _item(purchase: int, thing: ThingInput, identity: Identity, day: date) -> dict[str, Any]:
    return {
        "kind": thing.kind, "name": thing.name.strip(), **identity.columns(), "count": thing.count,
        "fixed": thing.fixed, "gift": thing.gift, "weight": thing.weight, "condition": thing.condition,
        "serial": thing.serial, "place": thing.place, "acquired_on": day, "purchase_id": purchase,
    }  # fmt: skip


def _check_days(said: PurchaseInput, today: date) -> list[Fault]:
    faults = []
    if said.bought_on > today:
        faults.append(Fault("bought_on", "is still to come"))
    if said.received_on is not None and not said.bought_on <= said.received_on <= today:
        faults.append(Fault("received_on", "must be from the day it was bought to today"))
    return faults + [
        Fault(f"charges[{i}].day", "is still to come") for i, c in enumerate(said.charges) if c.day > today
    ]


def _divide(session: Session, said: PurchaseInput, today: date) -> Division:
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
        found, problem = judge_charge(session, charge, home)
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


def list_purchases(database: Database) -> list[Purchase]:
    """All purchases, the newest first."""
    with database.transaction() as session:
        return loading.list_purchases(session)


def read_purchase(database: Database, number: int) -> Purchase:
    """One purchase. Raises NotFound."""
    with database.transaction() as session:
        return loading.load_purchase(session, number)


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
        document = loading.find_purchase(session, number, version)
        if document.state is not DocumentState.ORDERED:
            raise Conflict("this parcel was received already")
        if day < document.day:
            raise InputError.at("day", "is before the day it was bought")
        things = things_of_purchase(session, number, [State.IN_TRANSIT])
        keep_change(session, register.receive(things, day, f"received: {document.text}"), document.number)
        wrong = [name for name in ("seal", "series", "contents") if getattr(found, name) is False]
        said = {"seal": found.seal, "series": found.series, "contents": found.contents, "note": found.note}
        dispute = f"{', '.join(wrong)} not as described. {found.note}".strip() if wrong else None
        change_parcel(session, document.number, "in", received_on=day, inspection=said, dispute=dispute)
        state = DocumentState.RECEIVED if found.is_fine else DocumentState.DISPUTED
        touch_document(session, document.number, state)
