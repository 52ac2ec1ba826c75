"""Trades, claims, and settling with those whose cards lie here."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing, register
from tobbix.core.holdings.allocation import share_as_said
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import DocumentKind, Kind, State
from tobbix.db.base import Database, Session
from tobbix.db.holdings.loading import account_balances, load_things
from tobbix.db.holdings.saving import add_document, add_items, keep_change, party_named
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Naming, identify
from tobbix.services.buying.booking import ChargeInput, to_home
from tobbix.services.products.valuing import home_on, revalue_items, say_worth


@dataclass(frozen=True, slots=True)
class CardInput:
    """A thing that comes in without being bought: what it is, in words or by name, and what it is worth (money at
    home, None: not known)."""

    name: str
    naming: Naming | None = None
    count: int = 1
    value: Decimal | None = None
    condition: str | None = None
    kind: Kind = Kind.CARD


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
        made = add_items(session, _rows(session, got, day))
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


def _rows(session: Session, said: Sequence[CardInput], day: date, owner: int | None = None) -> list[dict[str, object]]:
    known = identify(session, {card.naming or Naming() for card in said})
    return [
        {
            "kind": card.kind.value, "name": card.name, **known[card.naming or Naming()].columns(),
            "count": card.count, "condition": card.condition, "acquired_on": day, "owner_id": owner,
        }
        for card in said
    ]  # fmt: skip


def take_in(
    database: Database, said: Sequence[CardInput], day: date, owner: str | None = None, basis: Decimal | None = None
) -> list[int]:
    """What comes in at no cost: a friend's cards (``owner``), or supplies that were salvaged (``basis`` 0); the numbers
    of the things. Raises InputError.
    """
    with database.transaction() as session:
        party = party_named(session, owner, "friend")
        numbers = add_items(session, _rows(session, said, day, party))
        things = [
            Thing(number, card.name, card.count, State.HELD, basis, None, card.kind, party)
            for number, card in zip(numbers, said, strict=True)
        ]
        text = f"{'taken in for ' + owner if owner else 'came in'}: {', '.join(card.name for card in said)}"[:500]
        change = register.bring_in(things, day, text)
        keep_change(session, change, add_document(session, DocumentKind.IMPORT, day, text, party))
        revalue_items(session, home_on(session, day), numbers)
        return numbers


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


def settle_with(database: Database, party: str, cash: ChargeInput, comes_in: bool) -> Decimal:
    """A friend pays what is owed for a batch, or is paid what a card of theirs brought; what stands open after it
    (money, debit positive). Raises InputError for more than is owed."""
    with database.transaction() as session:
        home, found = load_preferences(session).currency, party_named(session, party, "friend") or 0
        balances = account_balances(session, found)
        owed = {account: amount for (account, _), amount in balances.items()}
        charge = to_home(session, cash, home)
        text = f"settled with {party}"
        change = dealing.settle(found, owed, charge.line(home, comes_in), cash.day, text, minor_units(home))
        document = add_document(session, DocumentKind.CORRECTION, cash.day, text, found)
        keep_change(session, change, document)
        return sum(account_balances(session, found).values(), Decimal(0))
