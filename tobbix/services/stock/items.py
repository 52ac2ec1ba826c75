"""Everything owned: the list with its filters, what was there before, and small corrections."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings import register, sentences
from tobbix.core.holdings.documents import ItemEvent
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.sentences import ItemSums
from tobbix.core.holdings.states import Action, DocumentKind, Purpose, State, next_state
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.prices import line_versions
from tobbix.core.products.revising import find_line
from tobbix.db.base import Database
from tobbix.db.holdings import listing
from tobbix.db.holdings.listing import ItemFilter, ItemPage
from tobbix.db.holdings.loading import find_item, item_history, last_mark, load_entry, load_things
from tobbix.db.holdings.saving import (
    add_document,
    change_words,
    keep_change,
)
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import running_session
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.services.buying.booking import take_back_entry
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced, home_on, revalue_items, say_worth

__all__ = ["ItemFilter", "ItemPage", "ItemSums"]

_BATCH = 5_000
MOST_FOUND = 12
_MANY = 1_000


def list_items(database: Database, wanted: ItemFilter, sort: str, descending: bool, start: int, count: int) -> ItemPage:
    """A page of items, filtered, sorted and paged in the database. Raises InputError for an unknown sort."""
    with database.transaction() as session:
        return listing.list_items(session, wanted, sort, descending, start, count)


def sum_items(database: Database, wanted: ItemFilter) -> ItemSums:
    """How many a filter lists, and what they cost and are worth together."""
    return state_stock(database, wanted)[0]


def state_stock(database: Database, wanted: ItemFilter) -> tuple[ItemSums, Verdict]:
    """The sums of a filter, and its sentence."""
    with database.transaction() as session:
        currency = load_preferences(session).currency
        sums = listing.sum_items(session, wanted, minor_units(currency))
    return sums, sentences.state_stock(sums, currency)


@dataclass(frozen=True, slots=True)
class ItemView:
    """An item with its sentence and history, and the day and source of what it is worth."""

    item: Item
    verdict: Verdict
    history: tuple[ItemEvent, ...]
    value_day: date | None
    value_source: str | None


def read_item(database: Database, number: int) -> ItemView:
    """An item as it stands. Raises NotFound."""
    with database.transaction() as session:
        item = find_item(session, number, lock=False)
        said = sentences.state_item(item, load_preferences(session).currency)
        return ItemView(item, said, tuple(item_history(session, number)), *listing.worth_of(session, number))


def correct_item(database: Database, number: int, version: int, changes: Mapping[str, Any], day: date) -> int:
    """Correct what is said of an item: its name, which card or format it is, place, condition, serial, value, note,
    whether it is ever for sale. Returns its new version.

    Raises NotFound, or Conflict if it was changed meanwhile, or is being opened and would be of another format.
    """
    with database.transaction() as session:
        item = find_item(session, number, version)
        known = {"release": item.release, "format": item.format, "line": item.line, "number": item.card,
                 "variant": item.variant}  # fmt: skip
        said: dict[str, Any] = {name: changes.get(name, value) for name, value in known.items()}
        naming = Naming(**{**said, "variant": said["variant"] or ""})
        fresh = {name: value for name, value in changes.items() if name not in _IDENTITY}
        if changes.keys() & _IDENTITY:
            identity = identify_one(session, naming)
            if identity.format_id != item.format_id and running_session(session, [item.number]) is not None:
                raise Conflict("this is being opened; finish that session or take it back first")
            fresh |= identity.columns()
        home, more = home_on(session, day), []
        if "value" in fresh:
            worth = fresh.pop("value")
            more = ["what was said of its worth is released" if worth is None else f"said to be worth {worth}"]
            say_worth(session, home, [(number, worth)], day)
        now = change_words(session, number, fresh, day, more)
        revalue_items(session, home, [number])
        return now


def correct_items(database: Database, chosen: Sequence[tuple[int, int]], changes: Mapping[str, Any], day: date) -> None:
    """Correct words of several items (number, version) at once: place, condition, whether they are ever for sale; all
    of them or none. Raises NotFound, or Conflict if one was changed meanwhile."""
    with database.transaction() as session:
        for number, version in chosen:
            find_item(session, number, version)
            change_words(session, number, dict(changes), day, [])
        revalue_items(session, home_on(session, day), [number for number, _ in chosen])


_IDENTITY = frozenset({"release", "format", "line", "number", "variant"})


def take_out(
    database: Database,
    number: int,
    version: int,
    action: Action,
    day: date,
    why: str,
    purpose: Purpose = Purpose.GIFT,
) -> None:
    """An item is lost, given away for a ``purpose`` or sent back; its basis goes to the account that says so.

    Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        find_item(session, number, version)
        things = load_things(session, [number])
        gone = next_state(things[0].state, action)
        words = "sent back" if gone is State.RETURNED else gone.value.replace("_", " ")
        if action is Action.GIVE_AWAY and purpose is not Purpose.GIFT:
            words += f" ({purpose.value})"
        text = (f"{words}: {things[0].name}" + (f" ({why.strip()})" if why.strip() else ""))[:500]
        kind = DocumentKind.GIFT if action is Action.GIVE_AWAY else DocumentKind.CORRECTION
        document = add_document(session, kind, day, text)
        keep_change(session, register.take_out(things, action, day, text, purpose), document)


def held_and_lacking(catalogue: Catalogue, release: str, line: str) -> tuple[list[str], list[str]]:
    """The numbers of a line's cards of which at least one is held, and of the others, in the order of its checklist:
    what a set of it begins with. Raises NotFound."""
    sheet = catalogue.read_sheet(release)
    with catalogue.database.transaction() as session:
        held = listing.held_numbers(session, release, line)
    numbers = [version.number for version in line_versions(sheet, find_line(sheet, line))]
    return [number for number in numbers if number in held], [number for number in numbers if number not in held]


def bring_back(database: Database, number: int, version: int, day: date) -> None:
    """An item that was lost, given away or sent back is here again, with its cost: what took it out is taken back.

    Raises NotFound, or Conflict, which says by what, if something stands in the way.
    """
    with database.transaction() as session:
        item = find_item(session, number, version)
        if item.state not in (State.LOST, State.GIVEN_AWAY, State.RETURNED):
            raise Conflict("only what was lost, given away or sent back can be here again")
        last = last_mark(session, number)
        if last is None or load_entry(session, last)[1].event is not Event.WRITE_OFF:
            raise Conflict("something was booked of it since; take that back first, in its history")
        take_back_entry(session, last, day, f"here again: {item.name}"[:500])


def remember_basis(database: Database, number: int, version: int, basis: Decimal, day: date) -> None:
    """What an item cost is found: against opening equity. Rule C-16. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        units = minor_units(load_preferences(session).currency)
        if not 0 <= basis <= 99_999_999 or basis != round(basis, units):
            raise InputError.at("basis", f"must not be negative, with at most {units} decimals")
        find_item(session, number, version)
        thing = load_things(session, [number])[0]
        text = f"its cost is found: {thing.name}"[:500]
        change = register.remember_basis(thing, basis, day, text)
        keep_change(session, change, add_document(session, DocumentKind.CORRECTION, day, text))


def search_cards(catalogue: Catalogue, find: str) -> list[FoundCard]:
    """Cards of all releases, by number, a part of the subject, the line or the release."""
    with catalogue.database.transaction() as session:
        return find_priced(session, catalogue.today(), find, MOST_FOUND)


def all_items(database: Database, wanted: ItemFilter) -> list[Item]:
    """Every item that a filter lists, for a file."""
    with database.transaction() as session:
        return listing.all_items(session, wanted)


def list_filters(database: Database) -> Sequence[tuple[str, Mapping[str, Any]]]:
    """Filters that the owner keeps, by name."""
    with database.transaction() as session:
        return listing.list_filters(session)


def save_filter(database: Database, name: str, query: Mapping[str, Any]) -> None:
    """Keep a filter under a name, in place of one of the same name. Raises InputError."""
    if not name.strip():
        raise InputError.at("name", "give it a name")
    with database.transaction() as session:
        listing.keep_filter(session, name.strip(), query)


def remove_filter(database: Database, name: str) -> None:
    """Forget a filter. Raises Conflict if there is none of that name."""
    with database.transaction() as session:
        listing.forget_filter(session, name)
