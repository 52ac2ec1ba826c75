"""Haves and wants: the owner's as lists to give away, and where they meet somebody else's."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Verdict
from tobbix.core.buying.targets import Target, check_target
from tobbix.core.pricing.card_lists import (
    MOST_LINES,
    Listed,
    ListKind,
    Match,
    Mine,
    is_more_than_a_name,
    meet_lists,
    read_card_list,
    state_meeting,
)
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.buying.targets import list_targets, put_target
from tobbix.db.holdings.rates import latest_rates
from tobbix.db.pricing.card_lists import list_haves
from tobbix.db.products.finding import read_cards
from tobbix.db.products.identifying import Naming, identify
from tobbix.db.products.values import price_versions
from tobbix.services.buying.targets import MOST_TARGETS
from tobbix.services.pricing.pasting import reader_of
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

MOST_NAME = 300


@dataclass(frozen=True, eq=False)
class Meeting:
    """Where two lists meet: what the owner ``gets`` and ``gives``, the lines of which it is not clear which card it is
    with the reason, and the cards."""

    gets: tuple[Match, ...]
    gives: tuple[Match, ...]
    unread: tuple[tuple[Listed, str], ...]
    cards: dict[int, FoundCard]
    currency: str
    verdict: Verdict


def list_own(catalogue: Catalogue, kind: ListKind) -> tuple[list[tuple[FoundCard, Mine]], str]:
    """What the owner has to give away, or wants, card by card, and the currency at home."""
    with catalogue.database.transaction() as session:
        home = home_on(session, catalogue.today())
        mine = _own(session, home, kind)
        cards = read_cards(session, sorted({it.version for it in mine}))
    return [(cards[it.version], it) for it in mine if it.version in cards], home.currency


def _own(session: Session, home: Home, kind: ListKind) -> list[Mine]:
    if kind is ListKind.HAVE:
        found: list[tuple[int, str, int, Decimal | None]] = [
            (version, state, count, None) for version, state, count in list_haves(session, home.state)
        ]
    else:
        found = [
            (it.card, it.target.state, 1, it.target.planned)
            for it in list_targets(session)
            if it.card is not None and it.target.bought is None
        ]
    prices = {
        state: price_versions(session, [it[0] for it in found if it[1] == state], state, home.convert)
        for state in {it[1] for it in found}
    }
    mine = []
    for version, state, count, planned in found:
        price = prices[state][version]
        worth = price.amount if price.own or ":" not in state else None  # a grade is worth what its own sales say
        mine.append(Mine(version, state, count, worth, planned))
    return mine


def meet(catalogue: Catalogue, text: str, kind: ListKind) -> Meeting:
    """Where the owner's lists meet somebody else's, as it was pasted; lines that say nothing else are of one ``kind``.
    Raises InputError at ``text``."""
    with catalogue.database.transaction() as session:
        home = home_on(session, catalogue.today())
        known = {home.currency, *(row.currency for row in latest_rates(session))}
        listed = read_card_list(text, kind, known)
        if len(listed) > MOST_LINES:
            raise InputError.at("text", f"has more than {MOST_LINES:,} lines")
        read = _identify(session, listed)
        theirs: dict[ListKind, dict[int, list[tuple[Listed, str | None, Decimal | None]]]] = {
            each: {} for each in ListKind
        }
        for line, (version, state, _) in zip(listed, read, strict=True):
            if version is not None:
                asked = None if line.price is None else home.convert(line.price, line.currency or home.currency)
                theirs[line.kind].setdefault(version, []).append((line, state, asked))
        gets = meet_lists(_own(session, home, ListKind.WANT), theirs[ListKind.HAVE])
        gives = meet_lists(_own(session, home, ListKind.HAVE), theirs[ListKind.WANT])
        cards = read_cards(session, sorted({it.mine.version for it in (*gets, *gives)}))
    unread = tuple((line, why) for line, (version, _, why) in zip(listed, read, strict=True) if version is None)
    return Meeting(
        tuple(gets), tuple(gives), unread, cards, home.currency,
        state_meeting(len(gets), len(gives), len(unread), len(listed)),
    )  # fmt: skip


def _identify(session: Session, listed: Sequence[Listed]) -> list[tuple[int | None, str | None, str]]:
    """The version and state of each line ("" if words that are not understood say it): by its keys, else by its words,
    and then never by a name alone; and why it is not clear."""
    namings = {
        line.row: Naming(line.release, None, line.line, line.number, line.variant)
        for line in listed
        if line.release and line.line and line.number
    }
    by_keys = identify(session, set(namings.values()))
    reader = reader_of(session, [line.words for line in listed])
    named = {card.version: card for card in reader.possible}
    found: list[tuple[int | None, str | None, str]] = []
    for line in listed:
        keyed = by_keys[namings[line.row]].version_id if line.row in namings else None
        reading = reader.read(line.words)
        why = reading.refused or reading.doubt
        card = named.get(reading.version or 0)
        if why is None and card is not None and not is_more_than_a_name(line.words, card):
            why = "it says only a name: its number, line or release tells which card it is"
        found.append(
            (
                keyed or (reading.version if why is None else None),
                line.state or ("" if reading.unclear else reading.state),
                why or "",
            )
        )
    return found


def aim_at(catalogue: Catalogue, text: str) -> list[int]:
    """Put a whole list on the target list: every line a card with the price up to which it may be bought; its numbers
    there. What is not clear stays on it in its words. Raises InputError at ``text`` with the row of every line that
    says no price, or cannot be; then nothing is added."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        home = home_on(session, today)
        known = {home.currency, *(row.currency for row in latest_rates(session))}
        listed = read_card_list(text, ListKind.WANT, known)
        if not 0 < len(listed) <= MOST_TARGETS - len(list_targets(session)):
            raise InputError.at(
                "text", f"a target list has at most {MOST_TARGETS:,} cards, and here are {len(listed):,}"
            )
        faults, made = [], []
        for line, (version, state, why) in zip(listed, _identify(session, listed), strict=True):
            planned = None if line.price is None else home.convert(line.price, line.currency or home.currency)
            if planned is None:
                faults.append(Fault("text", f"“{line.words[:40]}”: say what it may cost, at its end", None, line.row))
                continue
            if state == "":
                faults.append(Fault("text", f"“{line.words[:40]}”: {why}; explain it among the titles", None, line.row))
                continue
            amount = Money.from_estimate(float(planned), home.currency).amount
            target = Target(line.words[:MOST_NAME], state or home.state, amount)
            try:
                check_target(target, today)
            except InputError as error:
                faults += [Fault("text", f"“{line.words[:40]}”: {it.message}", None, line.row) for it in error.faults]
            made.append((version, target))
        if faults:
            raise InputError(faults)
        return [put_target(session, None, 0, version, target, None) for version, target in made]
