"""What is worth pulling of each set, and whether looking its cards up pays (C-35)."""

from dataclasses import dataclass, replace

import numpy as np

from tobbix.core.base.results import Verdict
from tobbix.core.sorting.pulling import (
    Candidate,
    LookUp,
    PullList,
    Work,
    list_pulls,
    state_pulls,
    state_release,
    state_sets,
)
from tobbix.db.base import Session
from tobbix.db.pricing.side_by_side import releases_named
from tobbix.db.products.values import price_versions
from tobbix.db.sorting.entering import KnownRelease, cards_of_sets, release_known
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on
from tobbix.services.sorting.work import Usual, usual_work


@dataclass(frozen=True, eq=False)
class LinePulls:
    """What to pull of one line, with its sentence."""

    line: str
    found: PullList
    verdict: Verdict


@dataclass(frozen=True, eq=False)
class PullView:
    """The list of a release by line, by which work it was judged."""

    release: KnownRelease
    title: str
    lines: tuple[LinePulls, ...]
    work: Work
    way: str | None
    currency: str
    verdict: Verdict


def read_pulls(catalogue: Catalogue, key: str, hourly: float | None, look_up: float | None) -> PullView:
    """What to pull of a release; an hour and the minutes of a look as asked. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        release = release_known(session, key)
        assert release is not None
        usual, home = usual_work(session, hourly, look_up), home_on(session, catalogue.today())
        by_line = _judge(session, key, usual, home).get(key, [])
        title = dict(releases_named(session)).get(key, key)
    lines = tuple(LinePulls(name, it, state_pulls(name, it, usual.work, usual.currency)) for name, it in by_line)
    return PullView(
        release, title, lines, usual.work, None if usual.way is None else usual.way.name, usual.currency,
        state_release(title, [it for _, it in by_line]),
    )  # fmt: skip


def _judge(session: Session, key: str | None, usual: Usual, home: Home) -> dict[str, list[tuple[str, PullList]]]:
    """What to pull of each line of a release, or of all, by the keys of the releases."""
    rows = cards_of_sets(session, key)
    prices = price_versions(session, [it.card.version for it in rows], home.state, home.convert) if rows else {}
    amounts = [prices[it.card.version].amount if it.card.version in prices else None for it in rows]
    known = [at for at, amount in enumerate(amounts) if amount is not None]
    nets = usual.nets(np.array([float(amounts[at] or 0) for at in known]))
    cards = [it.card for it in rows]
    for at, net in zip(known, nets.tolist(), strict=True):
        cards[at] = replace(cards[at], price=float(amounts[at] or 0), net=net)
    by_line: dict[tuple[str, int, str], list[Candidate]] = {}
    for row, card in zip(rows, cards, strict=True):
        by_line.setdefault((row.release, row.line, row.line_name), []).append(card)
    found: dict[str, list[tuple[str, PullList]]] = {}
    for (release, _, name), of_line in by_line.items():
        found.setdefault(release, []).append((name, list_pulls(usual.work, of_line)))
    return found


@dataclass(frozen=True, slots=True)
class SetPulls:
    """A set in brief: how many cards are worth pulling, are marked, are known, and whether looking up pays (None: no
    price is known)."""

    key: str
    title: str
    worth: int
    marked: int
    cards: int
    unknown: int
    look_up: LookUp | None


@dataclass(frozen=True, eq=False)
class AllPulls:
    """Every set in brief, what pays first, and whether a look pays by a chance and a net of one's own."""

    sets: tuple[SetPulls, ...]
    work: Work
    currency: str
    verdict: Verdict


def list_all_pulls(catalogue: Catalogue, hourly: float | None, look_up: float | None) -> AllPulls:
    """For which sets looking up pays at all. Rule C-35. Raises InputError."""
    found = []
    with catalogue.database.transaction() as session:
        usual, home = usual_work(session, hourly, look_up), home_on(session, catalogue.today())
        judged = _judge(session, None, usual, home)
        for key, title in releases_named(session):
            lines = [it for _, it in judged.get(key, [])]
            worth = sum(it.worth for it in lines)
            cards = sum(it.cards for it in lines)
            known = [(it.cards, it.look_up) for it in lines if it.look_up is not None]
            many = sum(count for count, _ in known)
            look = None
            if many:
                look = LookUp(usual.work.look_up_cost, sum(count * it.finds for count, it in known) / many)
            marked = sum(len(it.pulled) for it in lines) - worth
            found.append(SetPulls(key, title, worth, marked, cards, sum(it.unknown for it in lines), look))
    found.sort(key=lambda it: (-(it.look_up.finds if it.look_up else -1), it.title))
    return AllPulls(
        tuple(found), usual.work, usual.currency, state_sets([it.look_up for it in found], usual.work, usual.currency)
    )


def read_work(catalogue: Catalogue, hourly: float | None, look_up: float | None) -> Work:
    """By which work cards are judged. Raises InputError."""
    with catalogue.database.transaction() as session:
        return usual_work(session, hourly, look_up).work
