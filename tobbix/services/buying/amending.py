"""What happens to a purchase after it was booked: corrections, later costs, refunds, disputes, another division, undo.

Each use case is one transaction, and refuses to overwrite what another window changed meanwhile.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part
from tobbix.core.holdings.states import HELD_STATES, DocumentState, State
from tobbix.db.base import Database, Session
from tobbix.db.buying.loading import find_purchase, load_purchase
from tobbix.db.holdings.loading import opened_of, standing_entries, things_of_purchase
from tobbix.db.holdings.saving import (
    add_charges,
    change_items,
    change_parcel,
    keep_change,
    party_named,
    touch_document,
)
from tobbix.db.installation.keeping import load_preferences
from tobbix.services.buying.booking import ChargeInput, take_back_entry, to_home
from tobbix.services.products.valuing import home_on, revalue_items, say_worth


def dispute_purchase(database: Database, number: int, version: int, why: str) -> None:
    """Open a dispute, or with empty words close it. Raises NotFound, Conflict."""
    with database.transaction() as session:
        document, dispute = find_purchase(session, number, version), why.strip() or None
        state = document.state
        if state is not DocumentState.ORDERED:
            state = DocumentState.DISPUTED if dispute else DocumentState.RECEIVED
        change_parcel(session, document.number, "in", dispute=dispute)
        touch_document(session, document.number, state)


def refund_purchase(database: Database, number: int, version: int, charge: ChargeInput) -> None:
    """Money back: it clears what was sent back, lowers what is left of the basis, and beyond that is income. C-16.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        document, home = find_purchase(session, number, version), load_preferences(session).currency
        found = to_home(session, charge, home)
        things = things_of_purchase(session, number, (*HELD_STATES, State.RETURNED), with_pulls=True)
        text, cash = f"refund: {document.text}", found.line(home, comes_in=True)
        change = register.take_refund(things, cash, charge.day, text, minor_units(home))
        change = _follow_opened(session, number, change, things, home)
        entry = keep_change(session, change, document.number)
        add_charges(session, document.number, entry, [found.refund()])
        touch_document(session, document.number)


def add_charge(database: Database, number: int, version: int, charge: ChargeInput) -> None:
    """A cost that comes later, duty or return postage: it raises what is still held of it. Rules C-15 and C-16.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        document, home = find_purchase(session, number, version), load_preferences(session).currency
        found = to_home(session, charge, home)
        things = things_of_purchase(session, number, HELD_STATES, with_pulls=True)
        text = f"{charge.kind}, later: {document.text}"
        change = register.add_cost(things, found.line(home), charge.day, text, minor_units(home))
        change = _follow_opened(session, number, change, things, home)
        entry = keep_change(session, change, document.number)
        add_charges(session, document.number, entry, [found.charge()])
        touch_document(session, document.number)


_GONE = (State.OPENED, State.SOLD, State.GIVEN_AWAY, State.LOST, State.TRADED, State.USED_UP)


def _follow_opened(
    session: Session, number: int, change: register.Change, before: Sequence[register.Thing], home: str
) -> register.Change:
    gone = things_of_purchase(session, number, _GONE)
    came_from = opened_of(session, [thing.key for thing in change.things])
    return register.follow_opened(change, before, gone, came_from, minor_units(home))


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
        document = find_purchase(session, number, version).number
        seller = party_named(session, said.seller, "seller")
        touch_document(session, document, text=said.name.strip(), party_id=seller, note=said.note)
        change_parcel(
            session, document, "in", carrier=said.carrier, tracking=said.tracking, due_on=said.due_on
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class PartInput:
    """How a thing is to carry its part in a division done again."""

    item: int
    value: Decimal | None = None
    fixed: Decimal | None = None
    gift: bool = False
    weight: Decimal = Decimal(1)


def divide_again(
    database: Database, number: int, version: int, method: Method, parts: Sequence[PartInput], day: date, book: bool
) -> tuple[Decimal, ...]:
    """Divide what is still held of a purchase anew; without ``book`` it is only shown. Rule C-15.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        document = find_purchase(session, number, version)
        things = things_of_purchase(session, number, HELD_STATES)
        said = {part.item: part for part in parts}
        if said.keys() - {thing.key for thing in things}:
            raise Conflict("some of these are no longer held; look again, then retry")
        wrong = [t.name for t in things if t.key in said and not 0 < said[t.key].weight <= 1_000_000]
        if wrong:
            raise InputError.at("weight", f"{wrong[0]}: must be more than 0")
        change_items(session, {p.item: {"fixed": p.fixed, "gift": p.gift, "weight": p.weight} for p in parts})
        as_said = {thing.number: thing for thing in load_purchase(session, number).things}
        known = {thing.key: thing.value for thing in things}
        worths = {t.key: said[t.key].value if t.key in said else t.value for t in things}
        divided = [
            Part(t.name, worths[t.key], t.count * kept.weight, kept.fixed, kept.gift)
            for t in things
            for kept in [as_said[t.key]]
        ]
        home = load_preferences(session).currency
        text = f"divided again by {method.value}: {document.text}"
        change = register.divide_again(things, divided, method, day, text, minor_units(home))
        shares = tuple(thing.basis or Decimal(0) for thing in change.things)
        if not book:
            session.rollback()
            return shares
        keep_change(session, change, document.number, method=method)
        new = [(part.item, part.value) for part in parts if part.value is not None and part.value != known[part.item]]
        valued = home_on(session, day)
        say_worth(session, valued, new, day)
        revalue_items(session, valued, [item for item, _ in new])
        touch_document(session, document.number)
        return shares


def unreceive(session: Session, document: int) -> None:
    """The receipt of a purchase was taken back: its parcel is on its way again."""
    change_parcel(session, document, "in", received_on=None, inspection=None, dispute=None)
    touch_document(session, document, DocumentState.ORDERED)


def undo_purchase(database: Database, number: int, version: int, day: date) -> None:
    """Take a purchase back: everything booked in it, the newest first, so that its things are gone; all of it stays on
    record.

    Raises NotFound, or Conflict, which says by what, if something of it has moved on.
    """
    with database.transaction() as session:
        document = find_purchase(session, number, version)
        for entry, _ in standing_entries(session, document.number):
            take_back_entry(session, entry, day)
        touch_document(session, document.number, DocumentState.UNDONE)
