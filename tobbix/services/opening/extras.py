"""Beside the sessions: what can be opened, finding a card, weights, redemptions, and the sentences."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.results import Part, Verdict
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import State
from tobbix.core.opening.records import Redemption, Weight
from tobbix.core.opening.remaining import hot_box_of
from tobbix.core.opening.session import promised_lines
from tobbix.core.opening.weighing import WeightVerdict, judge_weights
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.prices import line_versions
from tobbix.core.products.revising import find_format, find_line
from tobbix.core.products.sheet import ProductSheet
from tobbix.db.holdings.listing import openable_items
from tobbix.db.holdings.loading import find_item
from tobbix.db.holdings.saving import change_words
from tobbix.db.opening import loading, saving
from tobbix.db.opening.loading import find_redemption, find_session, load_weights, redeemable_items
from tobbix.db.opening.saving import add_weight
from tobbix.db.products.loading import format_identity, list_releases
from tobbix.formats.rates import parse_scale_line
from tobbix.gateways.ports import Scale
from tobbix.services.opening.opening import read_session
from tobbix.services.products.valuing import find_priced
from tobbix.services.products.workshop import Workshop

_SHOWN = 12


Promised = tuple[tuple[str, str, int], ...]


def list_openable(workshop: Workshop) -> list[tuple[Item, int, Promised]]:
    """Sealed product of a release that stands on the desk, with the packs of a box and what it
    promises (line, name, number)."""
    with workshop.database.transaction() as session:
        rows = openable_items(session)
        known = {row.key for row in list_releases(session)}
        sheets = {key: workshop.sheet(session, key) for key in {row.release for row in rows} if key in known}
    return [
        (row, find_format(sheet, row.format).packs_per_box, _promised(sheet, row.format))
        for row in rows
        for sheet in [sheets.get(row.release or "")]
        if sheet is not None and row.format is not None and any(fmt.id == row.format for fmt in sheet.formats)
    ]


def _promised(sheet: ProductSheet, format_id: str) -> Promised:
    lines = promised_lines(sheet, format_id)
    return tuple((line, sheet.line_by_id[line].name, count) for line, count in lines.items())


@dataclass(frozen=True, slots=True)
class HotBox:
    """The chance that a box is hot, after ``packs`` packs of which ``hits`` held a card of the line. Rule C-12."""

    packs: int
    hits: int
    rate: float
    chance: float


def judge_hot_box(workshop: Workshop, number: int, line: str, one_in: float, times: float) -> HotBox:
    """How likely a session's box is a hot one, if one in ``one_in`` boxes is and holds ``times`` as many of a line.

    Raises NotFound, InputError.
    """
    view = read_session(workshop, number)
    found = next((item for item in view.results if item.line == line), None)
    if found is None:
        raise NotFound("this format has no such line with known odds")
    hits = len({view.pull.pack for view in view.pulls if view.pull.line == line})
    chance = hot_box_of(one_in, times, found.rate, found.packs, hits)
    return HotBox(found.packs, hits, found.rate, chance)


def find_in_box(workshop: Workshop, number: int, find: str) -> list[FoundCard]:
    """Cards that a session's format can hold, by number, a part of the subject or the line. Raises NotFound."""
    with workshop.database.transaction() as session:
        row = find_session(session, number, lock=False)
        return find_priced(session, workshop.today(), find, _SHOWN, row.release, row.format_id)


@dataclass(frozen=True, slots=True)
class LineCards:
    """The numbers of a line's cards, and its print run if they are numbered."""

    numbers: tuple[str, ...]
    print_run: int | None


def cards_of_line(workshop: Workshop, number: int, line: str) -> LineCards:
    """The cards that a line of a session's release has. Raises NotFound."""
    with workshop.database.transaction() as session:
        row = find_session(session, number, lock=False)
        sheet = workshop.sheet(session, row.release)
    found = find_line(sheet, line)
    return LineCards(tuple(version.number for version in line_versions(sheet, found)), found.print_run)


def read_weights(
    workshop: Workshop, release: str, format_id: str, unit: str
) -> tuple[list[Weight], WeightVerdict | None, Verdict]:
    """The owner's weights of a format, and whether they tell. Rule C-14. Raises NotFound."""
    with workshop.database.transaction() as session:
        find_format(workshop.sheet(session, release), format_id)
        identity = format_identity(session, release, format_id)
        rows = load_weights(session, identity, unit)
    with_hit = [float(row.grams) for row in rows if row.held_hit is True]
    without = [float(row.grams) for row in rows if row.held_hit is False]
    try:
        said = judge_weights(with_hit, without)
    except InputError as error:
        return (
            rows,
            None,
            Verdict(
                (
                    Part("Too few to say", "tells", True),
                    Part(f": {error.faults[0].message}."),
                ),
                (),
            ),
        )
    return rows, said, said.verdict


def log_weight(
    workshop: Workshop,
    scale: Scale,
    release: str,
    format_id: str,
    unit: str,
    grams: float | None,
    held: bool | None,
) -> None:
    """Keep a weight; without grams the scale is read. Raises NotFound, InputError."""
    weight = parse_scale_line(scale.read_line()) if grams is None else Decimal(repr(grams))
    with workshop.database.transaction() as session:
        find_format(workshop.sheet(session, release), format_id)
        identity = format_identity(session, release, format_id)
        add_weight(session, identity, unit, round(weight, 3), held, workshop.today())


def take_weight_back(workshop: Workshop, number: int, back: bool) -> None:
    """Take a weight back, or bring it in again; it stays on record. Raises NotFound."""
    with workshop.database.transaction() as session:
        saving.take_weight_back(session, number, back)


def take_redemption_back(workshop: Workshop, number: int, back: bool) -> None:
    """Take a redemption back, or bring it in again. Raises NotFound, or Conflict once its card arrived: that is taken
    back first."""
    with workshop.database.transaction() as session:
        row = find_redemption(session, number)
        if back and row.arrived_on is not None:
            raise Conflict(f"{row.name} has arrived; say first that it has not")
        saving.take_redemption_back(session, number, back)


def list_redemptions(workshop: Workshop) -> list[Redemption]:
    """Cards that come by post: those that are still awaited first."""
    with workshop.database.transaction() as session:
        return loading.list_redemptions(session)


def list_redeemable(workshop: Workshop) -> Sequence[Item]:
    """Cards in stock of a redemption line that no redemption is noted for."""
    with workshop.database.transaction() as session:
        return redeemable_items(session)


def put_redemption(workshop: Workshop, number: int | None, version: int | None, said: Mapping[str, Any]) -> None:
    """Note a redemption or change one. When it arrives, the card that it was exchanged for becomes what was chosen, and
    carries its cost on. Raises NotFound, Conflict, InputError.
    """
    days = [said.get(name) for name in ("posted_on", "arrived_on")]
    if any(day is not None and day > workshop.today() for day in days):
        raise InputError.at("arrived_on" if days[1] else "posted_on", "is still to come")
    with workshop.database.transaction() as session:
        before = None if number is None else find_redemption(session, number, version).arrived_on
        item = None if said.get("item_id") is None else find_item(session, said["item_id"])
        if item is not None and item.state is not State.HELD:
            raise Conflict(f"{item.name} is no longer held, so it cannot be exchanged")
        row = find_redemption(session, saving.put_redemption(session, number, said))
        if item is not None and (row.arrived_on is None) != (before is None):
            name = row.chosen or row.name if row.arrived_on else row.name
            change_words(session, item.number, {"name": name}, workshop.today())
