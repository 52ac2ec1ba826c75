"""What comes in at no cost, a friend's cards among it, and settling with those whose cards lie here."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing, register
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import DocumentKind, Kind, State
from tobbix.db.base import Database, Session
from tobbix.db.holdings.loading import account_balances
from tobbix.db.holdings.saving import add_document, add_items, keep_change, party_named
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Naming, identify
from tobbix.services.buying.booking import ChargeInput, to_home
from tobbix.services.products.valuing import home_on, revalue_items


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


def rows_of(
    session: Session, said: Sequence[CardInput], day: date, owner: int | None = None
) -> list[dict[str, object]]:
    """The columns of things that come in."""
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
        numbers = add_items(session, rows_of(session, said, day, party))
        things = [
            Thing(number, card.name, card.count, State.HELD, basis, None, card.kind, party)
            for number, card in zip(numbers, said, strict=True)
        ]
        text = f"{'taken in for ' + owner if owner else 'came in'}: {', '.join(card.name for card in said)}"[:500]
        change = register.bring_in(things, day, text)
        keep_change(session, change, add_document(session, DocumentKind.IMPORT, day, text, party))
        revalue_items(session, home_on(session, day), numbers)
        return numbers


def settle_with(
    database: Database, party: str, cash: ChargeInput, comes_in: bool, role: str = "friend"
) -> Decimal:  # fmt: skip
    """A friend pays what is owed for a batch, or is paid what a card of theirs brought; or a market pays out. What
    stands open after it (money, debit positive). Raises InputError for more than is owed."""
    with database.transaction() as session:
        settle(session, party, cash, comes_in, role, f"settled with {party}")
        return sum(account_balances(session, party_named(session, party, role) or 0).values(), Decimal(0))


def settle(session: Session, party: str, cash: ChargeInput, comes_in: bool, role: str, text: str) -> int:
    """Money between somebody and oneself that clears what is owed; its document. Raises InputError for more than
    that."""
    home, found = load_preferences(session).currency, party_named(session, party, role) or 0
    owed = {account: amount for (account, _), amount in account_balances(session, found).items()}
    charge = to_home(session, cash, home)
    change = dealing.settle(found, owed, charge.line(home, comes_in), cash.day, text, minor_units(home))
    document = add_document(session, DocumentKind.CORRECTION, cash.day, text, found)
    keep_change(session, change, document)
    return document


def name_of(release: str | None, line: str | None, number: str | None, variant: str = "") -> Naming:
    """A card by its keys."""
    return Naming(release, None, line, number, variant)
