"""What can be opened, which cards a box can hold, and whether it is a hot one."""

from dataclasses import dataclass

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.holdings.items import Item
from tobbix.core.opening.remaining import hot_box_of
from tobbix.core.opening.session import promised_lines, seen_in_open_box
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.odds import Per
from tobbix.core.products.prices import line_versions
from tobbix.core.products.prospect import Prospect, foresee
from tobbix.core.products.revising import find_line
from tobbix.core.products.sheet import ProductSheet
from tobbix.db.holdings.listing import openable_items
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import find_session
from tobbix.db.products.loading import list_releases
from tobbix.services.opening.opening import MOST_FOUND
from tobbix.services.opening.viewing import paid_a_box, read_session
from tobbix.services.products.answering import answer_formats
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced

Promised = tuple[tuple[str, str, int], ...]


@dataclass(frozen=True, eq=False)
class Openable:
    """Sealed product on the desk, the packs of a box, what a box promises (line, name, number), whether its case
    promises something too, and what opening one may bring in ``currency``."""

    item: Item
    packs: int
    promised: Promised
    of_case: bool
    prospect: Prospect
    currency: str


def list_openable(catalogue: Catalogue) -> list[Openable]:
    """Sealed product of a release that stands on the desk, with what opening it may bring."""
    with catalogue.database.transaction() as session:
        rows = openable_items(session)
        wanted = {row.release for row in rows}
        stored = [row for row in list_releases(session) if row.key in wanted]
        looked = {it.sheet.id: it for it in catalogue.look_at(session, stored)}
        home = load_preferences(session).currency
    answers = {key: {found.format.id: found for found in answer_formats(catalogue, it)} for key, it in looked.items()}
    return [
        Openable(
            row, answers[key][row.format].format.packs_per_box, _promised(looked[key].sheet, row.format),
            any(guarantee.per is Per.CASE for guarantee in looked[key].sheet.guarantees_in(row.format)),
            foresee(paid_a_box(row, answers[key][row.format].format), answers[key][row.format]), home,
        )
        for row in rows
        for key in [row.release or ""]
        if row.format is not None and row.format in answers.get(key, {})
    ]  # fmt: skip


def _promised(sheet: ProductSheet, format_id: str) -> Promised:
    lines = promised_lines(sheet, format_id)
    return tuple((line, sheet.line_by_id[line].name, count) for line, count in lines.items())


@dataclass(frozen=True, slots=True)
class HotBox:
    """The chance that the box that is open is hot, after ``packs`` of its packs of which ``hits`` held a card of the
    line. Rule C-12."""

    packs: int
    hits: int
    rate: float
    chance: float


def judge_hot_box(catalogue: Catalogue, number: int, line: str, one_in: float, times: float) -> HotBox:
    """How likely a session's box is a hot one, if one in ``one_in`` boxes is and holds ``times`` as many of a line.

    Raises NotFound, InputError.
    """
    view = read_session(catalogue, number)
    found = next((item for item in view.results if item.line == line), None)
    if found is None:
        raise NotFound("this format has no such line with known odds")
    if found.promised is not None:
        raise InputError.at("line", "every box holds as many of it as is promised, hot or not")
    seen = seen_in_open_box([pulled.pull.pulled for pulled in view.pulls], line, view.format.packs_per_box)
    chance = hot_box_of(one_in, times, found.rate, seen)
    return HotBox(seen.packs, seen.hits(found.rate * times), found.rate, chance)


def find_in_box(catalogue: Catalogue, number: int, find: str) -> list[FoundCard]:
    """Cards that a session's format can hold, by number, a part of the subject or the line. Raises NotFound."""
    with catalogue.database.transaction() as session:
        row = find_session(session, number, lock=False)
        return find_priced(session, catalogue.today(), find, MOST_FOUND, row.release, row.format_id)


@dataclass(frozen=True, slots=True)
class LineCards:
    """The numbers of a line's cards, and its print run if they are numbered."""

    numbers: tuple[str, ...]
    print_run: int | None


def cards_of_line(catalogue: Catalogue, number: int, line: str) -> LineCards:
    """The cards that a line of a session's release has. Raises NotFound."""
    with catalogue.database.transaction() as session:
        row = find_session(session, number, lock=False)
        sheet = catalogue.sheet(session, row.release)
    found = find_line(sheet, line)
    return LineCards(tuple(version.number for version in line_versions(sheet, found)), found.print_run)
