"""Trades, and claims for what was lost in the post."""

from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing
from tobbix.core.holdings.allocation import share_as_said
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import DocumentKind, State
from tobbix.db.base import Database
from tobbix.db.holdings.loading import load_things
from tobbix.db.holdings.saving import add_document, add_items, keep_change, party_named
from tobbix.db.installation.keeping import load_preferences
from tobbix.services.buying.booking import ChargeInput, to_home
from tobbix.services.products.valuing import home_on, revalue_items, say_worth
from tobbix.services.stock.taking_in import CardInput, rows_of


def trade(
    database: Database,
    given: Sequence[int],
    got: Sequence[CardInput],
    day: date,
    party: str | None = None,
    cash: ChargeInput | None = None,
    cash_comes_in: bool = False,
) -> list[int]:
    """Give things for others, with the cash that evens it; the numbers of what was got. Rule C-16.

    Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        home = load_preferences(session).currency
        found = None if cash is None else to_home(session, cash, home)
        things = load_things(session, given)
        text = f"traded: {', '.join(t.name for t in things)} for {', '.join(card.name for card in got)}"[:500]
        document = add_document(session, DocumentKind.TRADE, day, text, party_named(session, party, "buyer"))
        made = add_items(session, rows_of(session, got, day))
        came = [
            Thing(number, card.name, card.count, State.HELD, None, card.value, card.kind)
            for number, card in zip(made, got, strict=True)
        ]
        line = None if found is None else found.line(home, cash_comes_in)
        change = dealing.trade(things, came, line, day, text, minor_units(home))
        keep_change(session, change, document)
        now = home_on(session, day)
        worths = [(number, card.value) for number, card in zip(made, got, strict=True)]
        say_worth(session, now, [(number, worth) for number, worth in worths if worth is not None], day)
        revalue_items(session, now, made)
        return made


def settle_claim(
    database: Database, document: int | None, paid: Mapping[int, Decimal], cash: ChargeInput, insurer: str | None
) -> None:
    """A claim for lost things is paid, to each what ``paid`` says in the currency of the ``cash``; it belongs to the
    ``document`` whose parcel it was, if any. Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        home = load_preferences(session).currency
        things, found = load_things(session, list(paid)), to_home(session, cash, home)
        parts = share_as_said(found.home, paid, cash.amount, "paid", minor_units(home))
        text = f"claim paid: {', '.join(thing.name for thing in things)}"[:500]
        if document is None:
            party = party_named(session, insurer, "carrier")
            document = add_document(session, DocumentKind.CORRECTION, cash.day, text, party)
        line = found.line(home, comes_in=True)
        change = dealing.settle_claim(things, parts, line, cash.day, text)
        keep_change(session, change, document)
