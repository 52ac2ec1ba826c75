"""Prices fetched from markets and auction houses, as a task: asked card by card, judged as a pasted page is, kept where
nothing is doubtful. Each card is kept by itself, so that what came in stays when it is stopped; done again, it adds
nothing twice.
"""

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.results import Verdict
from tobbix.core.base.tasks import Task, TaskState
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.fetching import Fetched, Missed, Scope, state_asking, state_fetched
from tobbix.core.pricing.looking_up import SearchWords
from tobbix.core.pricing.pages import PageSaid
from tobbix.core.pricing.results import Ended, Result
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.buying.targets import list_targets
from tobbix.db.holdings.listing import ItemFilter, versions_listed
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.comps import add_comps, begin_batch, count_of_batch
from tobbix.db.pricing.next_up import list_wanting
from tobbix.db.pricing.side_by_side import cards_beside, releases_named
from tobbix.db.pricing.titles import all_named
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import price_versions
from tobbix.gateways.ports import Busy, NoAnswer, PriceList, PriceSource
from tobbix.services.pricing.keeping import keep_values
from tobbix.services.pricing.looking_up import Keys, words_of
from tobbix.services.pricing.pasting import ReadPage, read_titles
from tobbix.services.pricing.seeing import find_card
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on
from tobbix.services.tasks.carrying import Run, Tell, ask_for, fingerprint_of, list_tasks, read_task

KIND = "fetch"
MOST_CARDS, MOST_PAGES, MOST_DOUBTFUL, MOST_LOTS = 5_000, 4, 300, 300
_TRIES, _MOST_WAITS, _LONGEST_WAIT = 4, 40, 60.0
_BETWEEN = 0.5  # seconds before the second try after a fault; each further one waits twice as long


@dataclass(frozen=True, eq=False)
class FetchView:
    """A fetch as it stands: what was ``kept`` so far, and once it is done what came of it, with the results that want a
    look as a page of their own, the lots that close, and what got no answer, each of a card."""

    task: Task
    batch: int
    kept: int
    verdict: Verdict
    doubtful: ReadPage | None
    lots: tuple[tuple[int, Result], ...]
    missed: tuple[Missed, ...]
    cards: Mapping[int, FoundCard]


def ask_fetch(
    catalogue: Catalogue, sources: Sequence[PriceSource], scope: Scope, named: Keys | None = None,
    wanted: ItemFilter | None = None,
) -> Task:  # fmt: skip
    """Begin to fetch prices of what a ``scope`` holds; ``named`` are the keys of the card, or of the release, and
    ``wanted`` the filter of what is held.

    Raises InputError, NotFound.
    """
    if not sources:
        raise InputError.at("scope", "no market is connected here")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        versions, about = _versions(session, scope, named, wanted, today)
        if not versions:
            raise InputError.at("scope", "there is no card in it")
        if len(versions) > MOST_CARDS:
            raise InputError.at("scope", f"these are {len(versions):,} cards; at most {MOST_CARDS:,} at once")
        batch = begin_batch(session, f"fetched: {about}"[:200], today)
    asked = {"scope": scope.value, "about": about, "versions": versions, "batch": batch}
    minute = datetime.now(UTC).isoformat(timespec="minutes")  # whoever asks the same in one minute meant one
    mark = fingerprint_of(KIND, scope.value, versions, minute)
    return ask_for(catalogue.database, KIND, f"prices:{about}"[:200], asked, mark, len(versions))


def _versions(
    session: Session, scope: Scope, named: Keys | None, wanted: ItemFilter | None, today: date
) -> tuple[list[int], str]:
    """The versions of a scope, and what it is called."""
    if scope in (Scope.CARD, Scope.RELEASE) and named is None:
        raise InputError.at("scope", "say which")
    if scope is Scope.CARD and named is not None:
        version = find_card(session, *named)
        card = read_cards(session, [version])[version]
        return [version], f"{card.subject} {card.number}"
    if scope is Scope.RELEASE and named is not None:
        release = find_release(session, named[0], stub=True)
        return [version for version, _ in cards_beside(session, release.key, MOST_CARDS + 1)[0]], release.name
    if scope is Scope.TARGETS:
        return sorted({it.card for it in list_targets(session) if it.card is not None}), "the target list"
    if scope is Scope.HELD:
        return versions_listed(session, ItemFilter()), "all that is held"
    if scope is Scope.FILTER:
        return versions_listed(session, wanted or ItemFilter()), "a filter of the stock"
    home = home_on(session, today)
    return [it.version for it in list_wanting(session, today, home.state, MOST_CARDS)[0]], "what to look up next"


def fetch_runs(
    catalogue: Catalogue, sources: Sequence[PriceSource], wait: Callable[[float], None] = time.sleep
) -> dict[str, Run]:
    """How a fetch is carried out; ``wait`` lets seconds pass."""

    def run(task: Task, tell: Tell) -> Mapping[str, Any]:
        found = Fetched()
        doubtful: list[dict[str, Any]] = []
        lots: list[dict[str, Any]] = []
        missed: list[dict[str, Any]] = []
        for at, version in enumerate(task.asked["versions"], 1):
            with catalogue.database.transaction() as session:
                words = words_of(session, version)
            results, silent = _ask_all(sources, version, words, catalogue.today(), wait)
            missed += [asdict(it) for it in silent]
            closing = [result for result in results if result.ended is Ended.RUNNING]
            lots += [{"version": version, **_pack(result)} for result in closing]
            more, unsure = _keep(catalogue, task.asked["batch"], [it for it in results if it not in closing])
            found = replace(
                found, cards=at, new=found.new + (more.kept > 0), kept=found.kept + more.kept,
                known=found.known + more.known, refused=found.refused + more.refused,
            )  # fmt: skip
            doubtful += [_pack(result) for result in unsure]
            tell(at)
        lots.sort(key=lambda lot: str(lot["day"]))
        return {
            "found": asdict(found), "doubtful": doubtful[:MOST_DOUBTFUL], "lots": lots[:MOST_LOTS], "missed": missed,
            "cut": max(len(doubtful) - MOST_DOUBTFUL, 0) + max(len(lots) - MOST_LOTS, 0),
        }  # fmt: skip

    return {KIND: run}


def _ask_all(
    sources: Sequence[PriceSource], version: int, words: SearchWords | None, today: date, wait: Callable[[float], None]
) -> tuple[list[Result], list[Missed]]:
    """What every list of every source has of a card, and what got no answer."""
    if words is None:
        return [], [Missed("nobody was asked", version, "it shows nothing to look it up by")]
    results: list[Result] = []
    missed: list[Missed] = []
    for source in sources:
        for which in source.lists:
            try:
                results += _ask(source, which, words, today, wait)
            except NoAnswer as fault:
                missed.append(Missed(source.name, version, str(fault)))
    return results, missed


def _ask(
    source: PriceSource, which: PriceList, words: SearchWords, today: date, wait: Callable[[float], None]
) -> list[Result]:
    """All pages of a list for a card, at the pace that the source asks for; a fault is tried again. Raises NoAnswer."""
    results: list[Result] = []
    tries = waits = 0
    page = 1
    while page <= MOST_PAGES:
        try:
            found = source.ask(which, words.words, words.without, page, today)
        except Busy as busy:
            waits += 1
            if waits > _MOST_WAITS:
                raise NoAnswer("it asks to wait again and again") from busy
            wait(min(busy.seconds, _LONGEST_WAIT))
            continue
        except NoAnswer:
            tries += 1
            if tries >= _TRIES:
                raise
            wait(_BETWEEN * 2 ** (tries - 1))
            continue
        results += found.results
        if not found.more:
            break
        page += 1
    return results


def _keep(catalogue: Catalogue, batch: int, results: Sequence[Result]) -> tuple[Fetched, list[Result]]:
    """Keep what is not doubtful of a card's results; also what is clearly of another card that is known."""
    if not results:
        return Fetched(), []
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        page = _judge(session, results, today)
        ready = [(it.version, it.comp) for it in page.proposed if it.ready and it.version and it.comp]
        kept = add_comps(session, ready, batch=batch)
        if kept:
            keep_values(session, sorted({version for version, _ in ready}), today)
    known = len(ready) - kept + sum(it.known and not it.refused for it in page.proposed)
    refused = sum(it.refused is not None for it in page.proposed)
    unsure = [
        result
        for result, it in zip(results, page.proposed, strict=True)
        if not (it.ready or it.refused or it.known)
    ]  # fmt: skip
    return Fetched(kept=kept, known=known, refused=refused), unsure


def _judge(session: Session, results: Sequence[Result], today: date) -> ReadPage:
    preferences = load_preferences(session)
    return read_titles(session, results, PageSaid(None, preferences.currency, preferences.sheet_condition), today)


def list_fetches(catalogue: Catalogue) -> tuple[list[Task], list[tuple[str, str]]]:
    """The newest fetches, and the releases that prices can be fetched of: key and title."""
    with catalogue.database.transaction() as session:
        releases = releases_named(session)
    return list_tasks(catalogue.database, kind=KIND), releases


def read_fetch(catalogue: Catalogue, number: int) -> FetchView:
    """A fetch as it stands; what wants a look is judged anew by what is known now. Raises NotFound."""
    task = read_task(catalogue.database, number)
    if task.kind != KIND:
        raise NotFound("there is no such fetch")
    result = task.result
    batch = int(task.asked["batch"])
    if result is None:
        with catalogue.database.transaction() as session:
            kept = count_of_batch(session, batch)
        words = state_asking(task.asked["about"], kept, task.state in (TaskState.CANCELLED, TaskState.FAILED))
        return FetchView(task, batch, kept, words, None, (), (), {})
    unsure = [replace(_unpack(row), row=at) for at, row in enumerate(result["doubtful"], 1)]
    lots = tuple((int(row["version"]), _unpack(row)) for row in result["lots"])
    missed = tuple(Missed(**row) for row in result["missed"])
    found = Fetched(**result["found"])
    with catalogue.database.transaction() as session:
        page = _judge(session, unsure, catalogue.today()) if unsure else None
        kept = count_of_batch(session, batch)
        cards = read_cards(session, sorted({version for version, _ in lots} | {it.version for it in missed}))
    open_ones = 0 if page is None else sum(not (it.known or it.refused) for it in page.proposed)
    gone = found.kept > 0 and kept == 0
    verdict = state_fetched(found, open_ones, len(lots), len(missed), gone, result.get("cut", 0))
    return FetchView(task, batch, kept, verdict, page, lots, missed, cards)


def list_goods(catalogue: Catalogue) -> list[tuple[tuple[str, ...], float | None]]:
    """What the cards here are called, in words, and about what each goes for (money; None: not known): what simulated
    sources deal in."""
    with catalogue.database.transaction() as session:
        home = home_on(session, catalogue.today())
        named = all_named(session)
        prices = price_versions(session, [it.version for it in named], home.state, home.convert)
    return [
        (
            tuple(filter(None, (it.subject, it.release_name, str(it.year), "" if it.is_plain else it.line_name,
                                it.number, it.variant, f"/{it.print_run}" if it.print_run else ""))),
            None if (amount := prices[it.version].amount) is None else float(amount),
        )
        for it in named
    ]  # fmt: skip


def _pack(result: Result) -> dict[str, Any]:
    """A result as plain values that a task can keep."""
    plain = {name: value for name, value in asdict(result).items() if value is not None}
    return {name: str(value) if isinstance(value, Decimal | date) else value for name, value in plain.items()}


def _unpack(row: Mapping[str, Any]) -> Result:
    def said(name: str) -> Any:
        return row.get(name)

    def amount(name: str) -> Decimal | None:
        return None if said(name) is None else Decimal(said(name))

    return Result(
        row["row"], row["title"], amount("price"), said("currency"), amount("shipping"),
        None if said("day") is None else date.fromisoformat(said("day")), said("bids"), Ended(row["ended"]),
        said("state"), None if said("kind") is None else CompKind(said("kind")), said("lot"), amount("tax"),
        said("market"), said("fault"), said("own_id"), said("subgrades"), said("photo"),
    )  # fmt: skip
