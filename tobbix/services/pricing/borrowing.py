"""What hardly sells is valued by its line-mates, its subject and its state, as a task, release by release; then what
all that is held is worth together, with its spread, and what to look up to narrow that (C-37)."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

import numpy as np

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Verdict
from tobbix.core.base.tasks import Task, TaskState
from tobbix.core.pricing.borrowing import (
    WINDOW,
    Borrowing,
    Coverage,
    Spread,
    borrow,
    group_sharing,
    say_honesty,
)
from tobbix.core.pricing.estimating import SALES
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.pricing.summing import Apart, Shared, Summed, add_up, narrow_most, state_sum
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import ENOUGH_COMPS, Says, Source, Value
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import comps_of_all
from tobbix.db.pricing.many import HeldRow, held_rows, kept_of_all, releases_of, seen_versions, subjects_in, versions_of
from tobbix.db.pricing.side_by_side import releases_named
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import record_values, values_in
from tobbix.services.pricing.seeing import find_card
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on, revalue_release
from tobbix.services.tasks.carrying import Run, Tell, ask_for, fingerprint_of, list_tasks

KIND = "borrow"
ABOUT = "prices:what hardly sells"
LOOK_UPS = 20


@dataclass(frozen=True, slots=True)
class LentRelease:
    """What came of borrowing within a release: from how many sales, for how many values, how honest these are (of how
    many held-out sales, share inside the 80 %), by which spread (standard deviations of the log), and by which factor
    intervals were widened. ``others``: the releases that lent with it, by subjects that they share."""

    key: str
    sales: int
    values: int
    of: int
    within: float | None
    spread: Spread
    widened: float
    others: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class NextLook:
    """A card in a state that would narrow the sum, by which share of its variance."""

    card: FoundCard
    state: str
    narrows: float


@dataclass(frozen=True, eq=False)
class LentView:
    """The newest borrowing: its task (None: nothing was asked yet), and once it is done what came of it: release by
    release, of how many there were too few sales, the sum of all that is held, the same after the look-ups."""

    task: Task | None
    day: date | None
    releases: tuple[LentRelease, ...]
    too_few: int
    summed: Summed | None
    after: Summed | None
    look_ups: tuple[NextLook, ...]
    currency: str
    verdict: Verdict


def ask_borrowing(catalogue: Catalogue, across: bool = False) -> Task:
    """Begin to borrow for all releases, or find that it was just begun. ``across``: releases that share subjects lend
    to each other."""
    with catalogue.database.transaction() as session:
        total = len(set(releases_of(session, seen_versions(session)).values()))
    minute = datetime.now(UTC).isoformat(timespec="minutes")
    return ask_for(
        catalogue.database, KIND, ABOUT, {"across": across}, fingerprint_of(KIND, f"{minute} {across}"), max(total, 1)
    )


def borrow_runs(catalogue: Catalogue) -> dict[str, Run]:
    """How values are borrowed."""

    def run(task: Task, tell: Tell) -> Mapping[str, Any]:
        today = catalogue.today()
        with catalogue.database.transaction() as session:
            keys = sorted(set(releases_of(session, seen_versions(session)).values()))
            usual = load_preferences(session).sheet_condition
            states: dict[str, set[str]] = {}
            for row in held_rows(session, usual):
                if row.release is not None and row.version is not None:
                    states.setdefault(row.release, {usual}).add(row.state)
        lent: list[LentRelease] = []
        kept: dict[str, Borrowing] = {}
        too_few = 0
        together = [[key] for key in keys]
        if task.asked.get("across"):
            with catalogue.database.transaction() as session:
                together = group_sharing(subjects_in(session, keys))
        told = 0
        for group in together:
            with catalogue.database.transaction() as session:
                wanted = set[str]().union(*(states.get(key, {usual}) for key in group))
                found = _lend(session, group, sorted(wanted), today)
            if found is None:
                too_few += len(group)
            else:
                kept |= dict.fromkeys(group, found[1])
                lent.append(found[0])
            told += len(group)
            tell(min(told, task.total))
        with catalogue.database.transaction() as session:
            summed = _sum(session, kept, usual, home_on(session, today))
        return {
            "day": today.isoformat(), "too_few": too_few, "releases": [asdict(it) for it in lent], **summed,
        }  # fmt: skip

    return {KIND: run}


def _lend(
    session: Session, group: Sequence[str], states: Sequence[str], today: date
) -> tuple[LentRelease, Borrowing] | None:
    """Borrow within a release, or several, and keep what that makes of the versions; None where there are too few
    sales."""
    keys, subjects = dict[int, CardKey](), dict[CardKey, str | None]()
    for key in group:
        for version, line, number, variant, subject in versions_of(session, key):
            keys[version] = CardKey(key, line, number, variant)
            subjects[keys[version]] = None if subject == number else subject  # a number says nothing of another release
    comps = comps_of_all(session, list(keys))
    seen = [
        Observation(str(at), keys[version], comp, subjects[keys[version]])
        for version, of_it in comps.items()
        for at, comp, choice in of_it
        if choice != "leave_out"
    ]  # fmt: skip
    currency = load_preferences(session).currency
    sold_in = {it.comp.state for it in seen if it.comp.kind in SALES and (today - it.comp.day).days <= WINDOW}
    wanted = [state for state in states if state in sold_in]  # of others nothing says what they do to a price
    try:
        found = borrow(seen, today, Rates(currency, all_rates(session)), wanted, also=subjects, across=len(group) > 1)
    except InputError:  # too few of them, which is said
        for key in group:
            _keep(session, key, {}, currency, today, _versions_in(keys, key))
        return None
    numbers = {card: version for version, card in keys.items()}
    now: dict[tuple[int, str], Value] = {}
    for it in found.values:
        if it.estimate is None or it.low is None or it.high is None or it.own_sales >= ENOUGH_COMPS:
            continue
        middle, low, high = (Money.from_estimate(amount, currency).amount for amount in (it.estimate, it.low, it.high))
        now[numbers[it.card], it.state] = Value(
            Says.PRICE, middle, currency, today, Source.BORROWED, min(low, middle), max(high, middle), it.own_sales
        )
    for key in group:
        own = _versions_in(keys, key)
        _keep(session, key, {it: value for it, value in now.items() if it[0] in own}, currency, today, own)
    sold = sum(it.own_sales for it in found.values)
    lent = LentRelease(
        group[0], sold, len(now), found.coverage.of, found.coverage.within, found.spread, found.widened,
        tuple(group[1:]),
    )  # fmt: skip
    return lent, found


def _versions_in(keys: Mapping[int, CardKey], release: str) -> set[int]:
    return {version for version, card in keys.items() if card.release == release}


def _keep(
    session: Session, key: str, now: Mapping[tuple[int, str], Value], currency: str, today: date, versions: set[int]
) -> None:
    """Keep what changed, and say no longer what is not lent any more."""
    before = kept_of_all(session, Source.BORROWED, sorted(versions))
    changed = {it: value for it, value in now.items() if it not in before or _money(before[it]) != _money(value)}
    gone = Value(Says.RELEASED, None, currency, today, Source.BORROWED)
    changed |= {it: gone for it, value in before.items() if value.says is Says.PRICE and it not in now}
    if not changed:
        return
    release = find_release(session, key, stub=True)
    by_state: dict[str, list[tuple[int, Value]]] = {}
    for (version, state), value in changed.items():
        by_state.setdefault(state, []).append((version, value))
    for state, values in by_state.items():
        record_values(session, release, "version_id", state, values)
    revalue_release(session, home_on(session, today), release.id)


def _money(value: Value) -> tuple[Decimal | None, Decimal | None, Decimal | None]:
    return value.amount, value.low, value.high


def _sum(session: Session, kept: Mapping[str, Borrowing], usual: str, home: Home) -> dict[str, Any]:
    """What all that is held is worth together, and what would narrow that most."""
    rows = held_rows(session, usual)
    borrowed: dict[int, tuple[Borrowing, dict[tuple[int, str], int]]] = {}  # what was lent together errs together
    others: list[HeldRow] = []
    unknown = 0
    for row in rows:
        if row.amount is None:
            unknown += 1
        elif row.source == Source.BORROWED.value and row.version is not None and (row.release or "") in kept:
            within = kept[row.release or ""]
            counts = borrowed.setdefault(id(within), (within, {}))[1]
            key = (row.version, row.state if row.state in within.states else usual)  # as things are valued
            counts[key] = counts.get(key, 0) + row.count
        else:
            others.append(row)
    places: list[list[tuple[int, str]]] = []
    shared: list[Shared] = []
    for found, counts in borrowed.values():
        of = list(counts)
        cards = read_cards(session, [version for version, _ in of])
        named = [
            (CardKey(card.release, card.line, card.number, card.variant), state)
            for card, state in ((cards[version], state) for version, state in of)
        ]
        middle, covariance = found.together(named)
        shared.append(Shared(np.array([counts[it] for it in of], float), middle, covariance, found.spread.sale**2))
        places.append(of)
    apart = _apart(session, others)
    summed, (order, after) = add_up(shared, apart), narrow_most(shared, LOOK_UPS)
    variance = sum(part.variance for part in shared) or 1.0
    return {
        "sum": asdict(summed), "after": asdict(add_up(after, apart)), "unknown": unknown,
        "borrowed": sum(map(len, places)),
        "look_ups": [
            {"version": places[it.part][it.place][0], "state": places[it.part][it.place][1],
             "narrows": it.narrows / variance}
            for it in order
        ],
    }  # fmt: skip


def _apart(session: Session, rows: Sequence[HeldRow]) -> list[Apart]:
    """What is not borrowed, each with the spread of its value where one is known."""
    by_state: dict[str, set[int]] = {}
    for row in rows:
        if row.version is not None and row.source == Source.COMPS.value:
            by_state.setdefault(row.state, set()).add(row.version)
    spreads = {
        (version, state): value
        for state, versions in by_state.items()
        for version, value in values_in(session, sorted(versions), state).items()
    }
    found = []
    for row in rows:
        middle = float(row.amount or 0)
        value = spreads.get((row.version or 0, row.state)) if row.source == Source.COMPS.value else None
        if value is None or not value.amount or value.low is None or value.high is None or middle <= 0:
            found.append(Apart(middle))
        else:
            of_it = middle / float(value.amount)
            found.append(Apart(middle, float(value.low) * of_it or None, float(value.high) * of_it))
    return found


def read_borrowing(catalogue: Catalogue) -> LentView:
    """The newest borrowing as it stands."""
    tasks = list_tasks(catalogue.database, ABOUT, KIND)
    with catalogue.database.transaction() as session:
        currency = load_preferences(session).currency
        done = next((it for it in tasks if it.state is TaskState.DONE and it.result), None)
        if done is None or done.result is None:
            first = tasks[0] if tasks else None
            return LentView(first, None, (), 0, None, None, (), currency, state_sum(None, 0, 0, currency))
        said = done.result
        cards = read_cards(session, [it["version"] for it in said["look_ups"]])
    releases = tuple(
        LentRelease(**{**it, "spread": Spread(**it["spread"]), "others": tuple(it.get("others", ()))})
        for it in said["releases"]
    )
    summed, after = Summed(**said["sum"]), Summed(**said["after"])
    look_ups = tuple(
        NextLook(cards[it["version"]], it["state"], it["narrows"]) for it in said["look_ups"] if it["version"] in cards
    )
    return LentView(
        tasks[0], date.fromisoformat(said["day"]), releases, said["too_few"], summed, after, look_ups, currency,
        state_sum(summed, said["unknown"], said["borrowed"], currency),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class LentValue:
    """What a card in a state is worth by borrowing (money at home), on which day, with its 80 %, from how many sales of
    its own; and how honest the release's values are, in words."""

    amount: Decimal
    low: Decimal | None
    high: Decimal | None
    day: date
    own_sales: int | None
    honesty: str


def read_lent(catalogue: Catalogue, release: str, line: str, number: str, variant: str, state: str) -> LentValue | None:
    """What is borrowed for a card in a state; None if nothing is. Raises NotFound."""
    tasks = list_tasks(catalogue.database, ABOUT, KIND)
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        value = kept_of_all(session, Source.BORROWED, [version]).get((version, state))
    if value is None or value.amount is None:
        return None
    done = next((it.result for it in tasks if it.state is TaskState.DONE and it.result), None) or {"releases": []}
    of = next((it for it in done["releases"] if release in (it["key"], *it.get("others", ()))), None)
    coverage = Coverage(0, None) if of is None else Coverage(of["of"], of["within"])
    return LentValue(value.amount, value.low, value.high, value.day, value.comps, say_honesty(coverage))


def titles_of(catalogue: Catalogue, keys: Sequence[str]) -> dict[str, str]:
    """What some releases are called, by their keys."""
    with catalogue.database.transaction() as session:
        return {key: title for key, title in releases_named(session) if key in set(keys)}
