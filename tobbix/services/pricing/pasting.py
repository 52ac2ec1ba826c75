"""A page of results pasted: read, shown as it would be kept, kept once the owner says so; words of titles explained."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.ladder import Population
from tobbix.core.pricing.pages import PageSaid, Proposed, judge_page, state_page
from tobbix.core.pricing.results import Result, read_results
from tobbix.core.pricing.titles import Means, Reading, Taught, TitleReader, fold_words, word_runs
from tobbix.core.products.finding import FoundCard
from tobbix.db.base import Session
from tobbix.db.holdings.rates import latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing import titles
from tobbix.db.pricing.comps import add_comps, add_populations, begin_batch, comps_of_all, known_graders
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.services.pricing.adding import Added
from tobbix.services.pricing.keeping import keep_values
from tobbix.services.pricing.seeing import find_card
from tobbix.services.products.catalogue import Catalogue

MOST_TEXT = 1_000_000


@dataclass(frozen=True, eq=False)
class ReadPage:
    """A page as it was read, with the cards that its results are or may be of."""

    proposed: tuple[Proposed, ...]
    cards: dict[int, FoundCard]
    verdict: Verdict


def read_page(
    catalogue: Catalogue,
    text: str,
    market: str | None,
    raw_state: str | None,
    unsaid: CompKind,
    month_first: bool,
    only: tuple[str, str, str, str] | None = None,
) -> ReadPage:
    """What a pasted page holds, each result with the version, kind and state that it is proposed to be; nothing is
    kept. ``only``: the keys of the version that was looked for. Raises NotFound, InputError.
    """
    if raw_state is not None and raw_state not in CONDITIONS:
        raise InputError.at("state", f"is one of {', '.join(CONDITIONS)}")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        preferences = load_preferences(session)
        currencies = [row.currency for row in latest_rates(session)]
        looked_for = None if only is None else find_card(session, *only)
        results = read_results(text, today, [preferences.currency, *currencies], month_first)
        said = PageSaid(market, preferences.currency, raw_state or preferences.sheet_condition, unsaid, looked_for)
        return read_titles(session, results, said, today)


def read_titles(session: Session, results: Sequence[Result], said: PageSaid, today: date) -> ReadPage:
    """Results by the words of their titles, judged."""
    reader = reader_of(session, [result.title for result in results])
    readings = [reader.read(result.title) for result in results]
    return judge(session, results, readings, said, today, [row.currency for row in latest_rates(session)])


def reader_of(session: Session, said: Sequence[str]) -> TitleReader:
    """Who reads some titles, by all versions that they may be of."""
    possible = titles.find_possible(session, word_runs(said))
    lines = titles.lines_of(session, (version.release for version in possible))
    return TitleReader(possible, known_graders(session), [taught for _, taught in titles.list_taught(session)], lines)


def judge(
    session: Session, results: Sequence[Result], readings: Sequence[Reading], said: PageSaid, today: date,
    currencies: Sequence[str],
) -> ReadPage:  # fmt: skip
    """Results whose titles were read, judged beside what is kept of their versions already."""
    versions = {reading.version for reading in readings if reading.version}
    there = comps_of_all(session, sorted({*versions, *([said.only] if said.only else [])}))
    kept = {version: [comp for _, comp, _ in comps] for version, comps in there.items()}
    proposed = judge_page(results, readings, said, today, currencies, kept)
    cards = read_cards(session, sorted({v for item in proposed for v in (item.version, *item.choices) if v}))
    return ReadPage(tuple(proposed), cards, state_page(proposed))


def keep_page(
    catalogue: Catalogue,
    market: str | None,
    rows: Sequence[tuple[int, Comp]],
    counted: Sequence[tuple[int, Population]] = (),
) -> Added:
    """Keep results of a page or a table, each a price of a version, and what graders ``counted`` of versions. Raises
    InputError at the row that cannot be; then nothing is kept."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        cards = read_cards(session, sorted({version for version, _ in (*rows, *counted)}))
        known = {load_preferences(session).currency, *(row.currency for row in latest_rates(session))}
        faults = [
            Fault(f"rows.{at}.{field}", message)
            for at, (version, comp) in enumerate(rows)
            for field, message in (
                ("version", "there is no such card" if version not in cards else ""),
                ("day", f"{comp.day.isoformat()} is still to come" if comp.day > today else ""),
                ("currency", f"there is no rate of {comp.currency}" if comp.currency not in known else ""),
                ("price", "must be more than 0" if comp.price <= 0 else ""),
            )
            if message
        ]
        faults += [
            Fault(f"counts.{at}.version", "there is no such card")
            for at, (version, _) in enumerate(counted)
            if version not in cards
        ]
        if faults:
            raise InputError(faults)
        batch = begin_batch(session, f"a page of {market or 'results'}"[:200], today) if rows else None
        seen = [(version, comp if comp.market else replace(comp, market=market)) for version, comp in rows]
        add_comps(session, seen, batch=batch)
        add_populations(session, counted)
        keep_values(session, sorted(cards), today)
    return Added(len(rows), 0, batch)


def list_taught(catalogue: Catalogue) -> list[tuple[int, Taught]]:
    """What was explained of the words of titles."""
    with catalogue.database.transaction() as session:
        return titles.list_taught(session)


def teach(catalogue: Catalogue, words: str, means: Means, value: str, release: str | None) -> int:
    """Keep what words of titles mean. Raises NotFound, InputError."""
    plain = " ".join(fold_words(words))
    if not plain or len(plain) > 100:
        raise InputError.at("words", "say the words as they stand in the title")
    if means is not Means.NO_CARD and not value.strip():
        raise InputError.at("value", "say what they mean")
    if means is Means.STATE and ":" not in value and value not in CONDITIONS:
        raise InputError.at("value", f"is one of {', '.join(CONDITIONS)}, or a grade like Plumbline:9")
    with catalogue.database.transaction() as session:
        owner = None if release is None else find_release(session, release, stub=True)
        kept = Taught(plain, means, value.strip(), release)
        return titles.teach(session, kept, None if owner is None else owner.id)


def forget_taught(catalogue: Catalogue, number: int) -> None:
    """Forget what words mean. Raises NotFound."""
    with catalogue.database.transaction() as session:
        titles.forget_taught(session, number)
