"""What happens to a purchase after it was booked: corrections, later costs, refunds, disputes, another division, undo.

Each use case is one transaction, and refuses to overwrite what another window changed meanwhile.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import ledger, register
from tobbix.core.holdings.allocation import Method, Part
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.register import Change, State
from tobbix.db.base import Database
from tobbix.db.buying.tables import ChargeRow, ParcelRow
from tobbix.db.holdings.keeping import (
    add_entry,
    items_of_purchase,
    keep_change,
    load_entries,
    reversed_entries,
    to_thing,
)
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.installation.keeping import load_preferences
from tobbix.services.buying.purchasing import ChargeSaid, cash_line, find_purchase, to_home
from tobbix.services.products.valuing import home_on, revalue_items, say_worth


def dispute_purchase(database: Database, number: int, version: int, why: str) -> None:
    """Open a dispute, or with empty words close it. Raises NotFound, Conflict."""
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        parcel = session.scalars(select(ParcelRow).where(ParcelRow.purchase_id == number)).one()
        parcel.dispute = why.strip() or None
        if row.state in ("received", "disputed"):
            row.state = "disputed" if parcel.dispute else "received"
        row.version += 1


def refund_purchase(database: Database, number: int, version: int, charge: ChargeSaid) -> None:
    """Money back: it lowers what is left of the basis, beyond that it is income. Rule C-16.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        home = load_preferences(session).currency
        found, problem = to_home(session, replace(charge, kind="other"), home)
        if found is None:
            raise InputError.at(*(problem or ("amount", "cannot be booked")))
        items = _still_held(session, number)
        line = replace(cash_line(found, home), amount=found.home)
        if line.original is not None:
            line = replace(line, original=charge.amount)
        text = f"refund: {row.name}"
        change = register.take_refund([to_thing(i) for i in items], line, charge.day, text, minor_units(home))
        keep_change(session, change, items, charge.day, Event.REFUND, text, number)
        session.add(
            ChargeRow(
                purchase_id=number, kind="refund", amount=-charge.amount, currency=charge.currency, day=charge.day,
                rate=found.rate, home=-found.home, purse=charge.purse,
            )
        )  # fmt: skip
        row.landed -= found.home
        row.version += 1


def _still_held(session: Session, number: int) -> list[ItemRow]:
    """What a purchase brought and what came out of it, as far as it is held."""
    rows = items_of_purchase(session, number, with_pulls=True)
    return [row for row in rows if State(row.state) in register.HELD_STATES]


def add_charge(database: Database, number: int, version: int, charge: ChargeSaid) -> None:
    """A cost that comes later, duty or return postage: it raises what is still held of it. Rules C-15 and C-16.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        home = load_preferences(session).currency
        found, problem = to_home(session, charge, home)
        if found is None:
            raise InputError.at(*(problem or ("amount", "cannot be booked")))
        items, text = _still_held(session, number), f"{charge.kind}, later: {row.name}"
        change = register.add_cost(
            [to_thing(i) for i in items], cash_line(found, home), charge.day, text, minor_units(home)
        )
        keep_change(session, change, items, charge.day, Event.PURCHASE, text, number)
        session.add(
            ChargeRow(
                purchase_id=number, kind=charge.kind, amount=charge.amount, currency=charge.currency, day=charge.day,
                rate=found.rate, home=found.home, purse=charge.purse,
            )
        )  # fmt: skip
        row.landed += found.home
        row.version += 1


@dataclass(frozen=True, slots=True)
class PurchaseWords:
    """What is said of a purchase beside its money."""

    name: str
    seller: str | None
    carrier: str | None
    tracking: str | None
    due_on: date | None
    note: str | None


def correct_purchase(database: Database, number: int, version: int, said: PurchaseWords) -> None:
    """Correct what is said of a purchase; no money moves. Raises NotFound, Conflict, InputError."""
    if not said.name.strip():
        raise InputError.at("name", "say what was bought")
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        parcel = session.scalars(select(ParcelRow).where(ParcelRow.purchase_id == number)).one()
        row.name, row.seller, row.note = said.name.strip(), said.seller, said.note
        parcel.carrier, parcel.tracking, parcel.due_on = said.carrier, said.tracking, said.due_on
        row.version += 1


@dataclass(frozen=True, slots=True)
class PartSaid:
    """How a thing is to carry its part in a division done again."""

    item: int
    value: Decimal | None = None
    fixed: Decimal | None = None
    gift: bool = False
    weight: Decimal = Decimal(1)


def divide_again(
    database: Database, number: int, version: int, method: Method, parts: Sequence[PartSaid], day: date, book: bool
) -> tuple[Decimal, ...]:
    """Divide what is still held of a purchase anew; without ``book`` it is only shown. Rule C-15.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        items = [i for i in items_of_purchase(session, number) if State(i.state) in register.HELD_STATES]
        said = {part.item: part for part in parts}
        if said.keys() - {item.id for item in items}:
            raise Conflict("some of these are no longer held; look again, then retry")
        home = load_preferences(session).currency
        for item in items:
            part = said.get(item.id)
            if part is not None:
                if not 0 < part.weight <= 1_000_000:
                    raise InputError.at("weight", f"{item.name}: must be more than 0")
                item.fixed, item.gift, item.weight = part.fixed, part.gift, part.weight
        known = {item.id: item.value for item in items}
        worths = {item.id: said[item.id].value if item.id in said else item.value for item in items}
        divided = [Part(i.name, worths[i.id], i.count * i.weight, i.fixed, i.gift) for i in items]
        text = f"divided again by {method.value}: {row.name}"
        things = [to_thing(i) for i in items]
        change = register.divide_again(things, divided, method, day, text, minor_units(home))
        shares = tuple(thing.basis or Decimal(0) for thing in change.things)
        if not book:
            session.rollback()
            return shares
        keep_change(session, change, items, day, Event.DIVISION, text, number)
        new = [(part.item, part.value) for part in parts if part.value is not None and part.value != known[part.item]]
        valued = home_on(session, day)
        say_worth(session, valued, new, day)
        revalue_items(session, valued, [item for item, _ in new])
        row.method, row.version = method.value, row.version + 1
        return shares


def undo_purchase(database: Database, number: int, version: int, day: date) -> None:
    """Take a purchase back: every entry of it is reversed, its things are gone; all of it stays on record.

    Raises NotFound, or Conflict if something of it was opened, sold or given away.
    """
    with database.transaction() as session:
        row = find_purchase(session, number, version)
        items = [i for i in items_of_purchase(session, number) if i.state != State.UNDONE.value]
        after = [replace(to_thing(i), state=register.next_state(State(i.state), register.Action.UNDO)) for i in items]
        done = reversed_entries(session)
        for identity, entry in load_entries(session, purchase=number):
            if identity not in done and entry.event is not Event.UNDO:
                add_entry(session, ledger.reverse(entry, day), number, reverses=identity)
        text = f"taken back: {row.name}"
        keep_change(session, Change(tuple(after), None), items, day, Event.UNDO, text, number)
        row.state, row.version = "undone", row.version + 1
