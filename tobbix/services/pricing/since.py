"""What changed since the owner looked last at the prices of what is held."""

from dataclasses import dataclass
from datetime import UTC, datetime
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Verdict
from tobbix.core.pricing.since import Changed, by_money, state_changes
from tobbix.core.products.price_book import Value
from tobbix.db.pricing.since import held_states, mark_prices_seen, prices_seen_at
from tobbix.db.products.finding import read_cards
from tobbix.db.products.values import values_in
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

MOST_CHANGES = 100
_FIRST = datetime(2000, 1, 1, tzinfo=UTC)


@dataclass(frozen=True, eq=False)
class Changes:
    """The changes with the most money first, of ``all_of`` them, since a time (None: the owner never looked)."""

    rows: tuple[Changed, ...]
    all_of: int
    since: datetime | None
    currency: str
    verdict: Verdict


def read_changes(catalogue: Catalogue) -> Changes:
    """What held cards are worth now against what they were worth when the owner looked last."""
    with catalogue.database.transaction() as session:
        since = prices_seen_at(session)
        home = home_on(session, catalogue.today())
        if since is None:
            return Changes((), 0, None, home.currency, state_changes((), None, home.currency))
        held = held_states(session, home.state)
        found: list[tuple[int, str, int, Decimal | None, Decimal | None]] = []
        for state in sorted({state for _, state, _ in held}):
            versions = [version for version, other, _ in held if other == state]
            then, now = (values_in(session, versions, state, at) for at in (since, None))
            found += [
                (version, state, count, _amount(then.get(version), home), _amount(now.get(version), home))
                for version, other, count in held
                if other == state and then.get(version) != now.get(version)
            ]
        cards = read_cards(session, sorted({version for version, *_ in found}))
    changed = by_money([Changed(cards[it[0]], *it[1:]) for it in found if it[0] in cards])
    verdict = state_changes(changed, since, home.currency)
    return Changes(tuple(changed[:MOST_CHANGES]), len(changed), since, home.currency, verdict)


def _amount(value: Value | None, home: Home) -> Decimal | None:
    return None if value is None or value.amount is None else home.convert(value.amount, value.currency)


def mark_seen(catalogue: Catalogue, at: datetime | None, never: bool) -> None:
    """The owner looked now, or at a time before (to take it back); ``never``: as before the first look.

    Raises InputError for a time that is none of before.
    """
    if at is not None and not _FIRST <= at <= datetime.now(UTC):
        raise InputError.at("at", "is no time at which anything was looked at")
    with catalogue.database.transaction() as session:
        mark_prices_seen(session, None if never else at or datetime.now(UTC))
