"""The target list: cards are aimed at, bought, and told apart by what was saved and why (C-24)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Verdict
from tobbix.core.buying.targets import (
    Band,
    Bought,
    Projection,
    Savings,
    Target,
    ceiling_at_a_show,
    check_target,
    project,
    read_bands,
    split_savings,
    state_targets,
)
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Value
from tobbix.db.base import Session
from tobbix.db.buying import targets
from tobbix.db.products.finding import read_card, read_cards
from tobbix.db.products.values import values_in
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

MOST_TARGETS = 2_000
_SAME_TIME = timedelta(days=30)  # how old a comp may be to be that of the time of a purchase


@dataclass(frozen=True, eq=False)
class ListedTarget:
    """A card of the list: its ``card`` (None: in words only), how many are held, its comp now in the planned state and
    the most to pay at a show (money at home; None: not known, or bought), and what was saved."""

    number: int
    version: int
    card: FoundCard | None
    target: Target
    note: str | None
    held: int
    comp: Decimal | None
    comp_on: date | None
    ceiling: Decimal | None
    savings: Savings | None


@dataclass(frozen=True, eq=False)
class TargetList:
    """The whole list, and where it will end."""

    targets: tuple[ListedTarget, ...]
    projection: Projection
    bands: tuple[Band, ...]
    currency: str
    verdict: Verdict


def read_targets(catalogue: Catalogue) -> TargetList:
    """The list with its comps of today, what is to be bought first, the savings of what was bought, and the projection.
    Rule C-24."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home, stored, bands = home_on(session, today), targets.list_targets(session), targets.load_bands(session)
        versions = sorted({it.card for it in stored if it.card is not None})
        cards, held = read_cards(session, versions), targets.held_of(session, versions)
        by_state = {
            state: values_in(session, versions, state)
            for state in sorted({it.target.state for it in stored if it.card})
        }
    listed = []
    for it in sorted(stored, key=lambda it: it.target.bought is not None):
        value = by_state.get(it.target.state, {}).get(it.card or 0)
        comp = _at_home(home, value)
        is_open = it.target.bought is None
        listed.append(
            ListedTarget(
                it.number, it.version, cards.get(it.card or 0), it.target, it.note, held.get(it.card or 0, 0), comp,
                None if comp is None or value is None else value.day,
                ceiling_at_a_show(it.target.planned, comp) if is_open else None, split_savings(it.target),
            )
        )  # fmt: skip
    found = project([it.target for it in stored], today, bands)
    return TargetList(tuple(listed), found, bands, home.currency, state_targets(found, home.currency))


def _at_home(home: Home, value: Value | None) -> Decimal | None:
    if value is None or value.amount is None:
        return None
    return home.convert(value.amount, value.currency)


def put_target(
    catalogue: Catalogue, number: int | None, version: int, card: int | None, said: Target, note: str | None
) -> int:
    """Add a card to the list, or change it, also to say that it was bought; returns its number.

    The comps of the time are those that are known now, where none are said and it was bought in the last 30 days.
    Raises NotFound, Conflict, InputError.
    """
    today = catalogue.today()
    check_target(said, today)
    with catalogue.database.transaction() as session:
        if number is None and len(targets.list_targets(session)) >= MOST_TARGETS:
            raise InputError.at("name", f"a list has at most {MOST_TARGETS:,} cards")
        if card is not None:
            read_card(session, card)
        bought = said.bought
        if bought is not None and bought.middle is None and card is not None and today - bought.on <= _SAME_TIME:
            said = replace(said, bought=_with_comps(session, home_on(session, today), bought, card))
        return targets.put_target(session, number, version, card, said, note)


def _with_comps(session: Session, home: Home, bought: Bought, card: int) -> Bought:
    """A copy that was bought with the comps of its state as they are now."""
    value = values_in(session, [card], bought.state).get(card)
    middle = _at_home(home, value)
    if middle is None or value is None:
        return bought
    ends = (None if end is None else home.convert(end, value.currency) for end in (value.low, value.high))
    low, high = (None if end is None else Money.from_estimate(float(end), home.currency).amount for end in ends)
    middle = Money.from_estimate(float(middle), home.currency).amount
    low, high = None if low is None else min(low, middle), None if high is None else max(high, middle)
    return replace(bought, low=low, middle=middle, high=high)


def remove_target(catalogue: Catalogue, number: int, again: bool = False) -> None:
    """Take a card off the list, or put it back ``again``. Raises NotFound."""
    with catalogue.database.transaction() as session:
        targets.mark_target(session, number, None if again else datetime.now(UTC))


def change_bands(catalogue: Catalogue, text: str) -> None:
    """Keep price bands as they were typed. Raises InputError at ``text``."""
    bands: Sequence[Band] = read_bands(text)
    with catalogue.database.transaction() as session:
        targets.save_bands(session, bands)
