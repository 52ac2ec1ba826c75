"""How an opening stands: what came out, what may still come, what it cost and holds, and its sentence."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.allocation import share_out_by_count
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import DocumentState
from tobbix.core.opening.ahead import look_ahead
from tobbix.core.opening.records import Opening, Pull
from tobbix.core.opening.remaining import Remaining
from tobbix.core.opening.results import LineResult, judge
from tobbix.core.opening.session import (
    TAKEN_BACK,
    Progress,
    cards_of_pack,
    observe,
    state_finished,
    state_session,
    view_card,
)
from tobbix.core.products.prospect import Prospect, foresee, state_prospect
from tobbix.core.products.sheet import Format
from tobbix.core.products.valuation import Holding, Unit, Valuation
from tobbix.db.base import Session
from tobbix.db.holdings.loading import find_item
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening import loading
from tobbix.db.opening.loading import (
    find_session,
    load_pulls,
    sessions_of_case,
)
from tobbix.services.products.answering import answer_formats
from tobbix.services.products.catalogue import Catalogue, Looked

MOST_PACKS = 2_000
MOST_FOUND = 60  # as many versions of one card as a box may hold, and more
_TOTALS = "totals:"  # marks the pulls of packs that were logged as totals, which are taken back together


@dataclass(frozen=True, eq=False)
class PullView:
    """A pull with its card and what it is worth (estimates, money; None if unknown)."""

    pull: Pull
    line_name: str
    subject: str
    worth: float | None


@dataclass(frozen=True, slots=True)
class LeftLine:
    """What is expected of a line in the packs that are left: ``hits`` in all, and what they are worth (estimates;
    None: unknown). Rule C-12."""

    line: str
    name: str
    hits: float
    value: float | None


@dataclass(frozen=True, slots=True)
class Unvalued:
    """Like cards that came out, of which nobody knows what one is worth."""

    line: str
    card: str | None
    name: str
    count: int


@dataclass(frozen=True, eq=False)
class SessionView:
    """A session as it stands: what is left, the running account, the odds so far; ``luck`` the chance that as many
    boxes hold less, once whole boxes are finished; ``prospect`` what one box promises as long as none is begun;
    ``pulled_unknown`` of how many cards that came out nobody knows the worth; ``unvalued`` what has to be valued before
    its cost can be divided by value."""

    session: Opening
    looked: Looked
    format: Format
    pulls: tuple[PullView, ...]
    pack_sizes: tuple[int, ...]
    pack_room: int
    ahead: Remaining
    left: tuple[LeftLine, ...]
    cost: Decimal | None
    pulled_worth: float
    pulled_unknown: int
    results: tuple[LineResult, ...]
    verdict: Verdict
    luck: float | None
    prospect: Prospect | None
    unvalued: tuple[Unvalued, ...]


def pulls_of(session: Session, number: int) -> list[Pull]:
    """What stands logged in a session, in its order."""
    return [pull for _, pull in load_pulls(session, number)]


def list_sessions(catalogue: Catalogue) -> list[tuple[Opening, str]]:
    """All sessions with the name of what is opened, those that are running first."""
    with catalogue.database.transaction() as session:
        return loading.list_sessions(session)


def read_session(catalogue: Catalogue, number: int) -> SessionView:
    """A session as it stands. Raises NotFound."""
    with catalogue.database.transaction() as session:
        row = find_session(session, number, lock=False)
        pulls = pulls_of(session, number)
        item = find_item(session, row.item, lock=False)
        looked = catalogue.look(session, row.release)
        home = load_preferences(session).currency
        same_case = {other.number: (other, list[Pull]()) for other in sessions_of_case(session, row)}
        for at, pull in load_pulls(session, *same_case) if same_case else ():
            same_case[at][1].append(pull)
    valuation = catalogue.valuation(looked.sheet, row.format, looked.standpoint)
    fmt = valuation.format
    said = [pull.pulled for pull in pulls]
    progress = progress_of(row, pulls)
    others = [(progress_of(other, came), [pull.pulled for pull in came]) for other, came in same_case.values()]
    ahead = look_ahead(valuation, progress, said, others)
    views = tuple(view_pull(valuation, pull) for pull in pulls)
    cost = item.basis
    if cost is not None and row.state is not DocumentState.DONE:  # what was begun may be a part of a stack
        cost = share_out_by_count(cost, [row.boxes, item.count - row.boxes], minor_units(home))[0]
    complete = row.state is DocumentState.DONE or progress.left == 0
    room = room_in(fmt, row.current_pack, pulls)
    worth = sum((view.worth or 0.0) * view.pull.count for view in views)
    unvalued = _unvalued(valuation, views) if row.is_alive and cost else ()
    unknown = sum(view.pull.count for view in views if view.worth is None)
    luck = None
    if row.state is DocumentState.DONE and row.gone == 0 and row.packs == row.boxes * fmt.packs_per_box:
        value = catalogue.value(looked.sheet, row.format, Holding(Unit.BOXES, row.boxes), looked.standpoint)
        luck = 1 - value.outcomes.chance_at_least(worth)
    verdict = state_session(valuation, ahead)
    prospect = None
    if not pulls and row.gone == 0 and row.is_alive:  # nothing is opened yet: what opening it means comes first
        answers = answer_formats(catalogue, looked)
        answer = next((found for found in answers if found.format.id == row.format), None)
        prospect = foresee(paid_a_box(item, fmt), answer)
        verdict = state_prospect(prospect, home)
    if row.state is DocumentState.DONE:
        verdict = state_finished(cost, worth, looked.sheet.currency, unknown)
    elif row.state is DocumentState.UNDONE:
        verdict = TAKEN_BACK
    return SessionView(
        row, looked, fmt, views, tuple(cards_of_pack(fmt, pack + 1) for pack in range(row.packs)), room, ahead,
        _left(valuation, ahead), cost, worth, unknown,
        judge(observe(valuation, progress, said, complete)), verdict, luck, prospect, unvalued,
    )  # fmt: skip


def _unvalued(valuation: Valuation, views: Sequence[PullView]) -> tuple[Unvalued, ...]:
    """The cards of unknown worth, those of packs that are not listed with them."""
    counts: dict[tuple[str, str | None, str], int] = {}
    for view in views:
        if view.worth is None:
            key = (view.pull.line, view.pull.card, f"{view.subject}, {view.line_name}")
            counts[key] = counts.get(key, 0) + view.pull.count
    base = valuation.model.base
    rest = view_card(valuation, base, None)
    if rest.worth is None:
        counts.setdefault((base, None, f"{rest.subject}, {rest.line_name}"), 0)
    return tuple(Unvalued(*key, count) for key, count in counts.items())


def paid_a_box(item: Item, fmt: Format) -> Decimal | None:
    """What one whole box of a sealed thing cost landed, None if nobody remembers, or if packs of it are gone."""
    if item.basis is None or item.packs_gone or item.count < 1 or fmt.packs_per_box < 1:
        return None
    return item.basis / item.count


def room_in(fmt: Format, pack: int, pulls: Sequence[Pull]) -> int:
    """How many cards of a pack are not logged."""
    return cards_of_pack(fmt, pack) - sum(pull.count for pull in pulls if pull.pack == pack)


def _left(valuation: Valuation, ahead: Remaining) -> tuple[LeftLine, ...]:
    """The lines that may still come, those that are worth most first."""
    usable = float(valuation.format.usable)
    found = []
    for line, hits in ahead.hits.items():
        if line in valuation.lines and hits > 0:
            mean = valuation.mean_of(line)
            value = None if mean is None else hits * mean * usable
            found.append(LeftLine(line, valuation.lines[line].name, hits, value))
    return tuple(sorted(found, key=lambda item: -(item.value or 0.0)))


def progress_of(row: Opening, pulls: Sequence[Pull]) -> Progress:
    """A pack is open once something of it is logged, wherever the cursor stands: before, it may hold anything."""
    if row.state is DocumentState.DONE:
        return Progress(row.packs, row.packs - row.gone, row.gone, row.gone_hits, row.trust)
    which = frozenset(pull.pack for pull in pulls)
    return Progress(row.packs, len(which), row.gone, row.gone_hits, row.trust, which)


def view_pull(valuation: Valuation, pull: Pull) -> PullView:
    """A pull with its card and what it is worth."""
    view = view_card(valuation, pull.line, pull.card)
    return PullView(pull, view.line_name, view.subject, view.worth)
