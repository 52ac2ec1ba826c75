"""Answers about releases: what the list, a release and a box's page show."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from tobbix.core.base.errors import TobbixError
from tobbix.core.base.results import Verdict
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.answer import Answer, Worked, answer_at, chance_of_loss
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.chase import Chase, Target, find_chase
from tobbix.core.products.most_to_pay import MostToPay, most_to_pay
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.prices import VersionPrice, line_versions
from tobbix.core.products.producing import estimate_production, made_of
from tobbix.core.products.revising import find_format, find_line
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.valuation import ONE_BOX, Holding, Unit
from tobbix.core.products.verdict import ask, state_chase
from tobbix.db.base import Session
from tobbix.db.products.loading import find_release, last_change, list_releases, other_series
from tobbix.services.products.catalogue import Catalogue, Looked

OwnOdds = Callable[[Catalogue, Looked, str], Looked]


@dataclass(frozen=True, slots=True)
class LastChange:
    """What undoing would take back, and its number."""

    number: int
    what: str


@dataclass(frozen=True, eq=False)
class ReleaseAnswers:
    """A release and its formats' answers. ``last_change`` is what undoing would take back."""

    sheet: ProductSheet
    formats: tuple[FormatAnswer, ...]
    last_change: LastChange | None


@dataclass(frozen=True, eq=False)
class UnitAnswer:
    """A pack, a box or a case beside the others, at today's price."""

    holding: Holding
    name: str
    value: BoxValue
    most: MostToPay
    price: float | None
    loss: float | None


@dataclass(frozen=True, eq=False)
class HoldingAnswer:
    """A holding's figures and answer, with what they rest on."""

    looked: Looked
    worked: Worked
    answer: Answer
    beside: tuple[UnitAnswer, ...]
    other_series: tuple[str, ...]


def answer_releases(catalogue: Catalogue) -> list[ReleaseAnswers]:
    """All releases with an answer for one box of each format."""
    with catalogue.database.transaction() as session:
        all_looked = catalogue.look_at(session, list_releases(session))
    return [ReleaseAnswers(looked.sheet, answer_formats(catalogue, looked), None) for looked in all_looked]


def answer_release(catalogue: Catalogue, key: str) -> ReleaseAnswers:
    """One release with an answer for one box of each format. Raises NotFound."""
    with catalogue.database.transaction() as session:
        looked = catalogue.look(session, key)
        change = _last_change(session, key)
    return ReleaseAnswers(looked.sheet, answer_formats(catalogue, looked), change)


def read_last_change(catalogue: Catalogue, key: str) -> LastChange | None:
    """What undoing would take back. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return _last_change(session, key)


def _last_change(session: Session, key: str) -> LastChange | None:
    change = last_change(session, find_release(session, key))
    return None if change is None else LastChange(change.id, change.what)


def answer_formats(catalogue: Catalogue, looked: Looked) -> tuple[FormatAnswer, ...]:
    """One box of each format of a release at today's price, worked out once per sheet, standpoint and rule."""
    return catalogue.answers(looked, lambda: _answer_formats(catalogue, looked))


def _answer_formats(catalogue: Catalogue, looked: Looked) -> tuple[FormatAnswer, ...]:
    answers = []
    preferences = looked.preferences
    for fmt in looked.sheet.formats:
        try:  # a row shows neither bounds nor case
            value = catalogue.value(looked.sheet, fmt.id, ONE_BOX, looked.standpoint)
            price = None if fmt.price is None else float(fmt.price)
            worked = Worked(value, None, None, None)
            answer = answer_at(worked, price, preferences.rule, preferences.costs_with_time)
            answers.append(FormatAnswer(fmt, worked, answer, None))
        except TobbixError as error:  # one format that cannot be valued must not hide the others
            answers.append(FormatAnswer(fmt, None, None, str(error)))
    return tuple(answers)


def answer_holding(
    catalogue: Catalogue,
    key: str,
    format_id: str,
    holding: Holding,
    price: float | None,
    choice: ViewChoice,
    own_odds: OwnOdds | None = None,
) -> HoldingAnswer:
    """The answer about a holding at a sticker ``price`` (money; None: today's, if known). Raises NotFound, InputError.

    For a pack, today's price is the box's divided by its packs. ``own_odds`` gives a look at a format the odds that own
    results moved; openings come after products, so it is handed in.
    """
    with catalogue.database.transaction() as session:
        looked = catalogue.look(session, key, choice)
        others = other_series(session, looked.stored)
    if own_odds is not None:
        looked = own_odds(catalogue, looked, format_id)
    sheet, costs, rule = looked.sheet, looked.preferences.costs_with_time, looked.preferences.rule
    fmt = find_format(sheet, format_id)
    worked = catalogue.worked(sheet, format_id, holding, looked.standpoint)
    if price is None:
        known = fmt.price if holding.unit is Unit.PACK else fmt.price_of(holding.boxes)
        if known is not None:
            price = float(known) / (fmt.packs_per_box if holding.unit is Unit.PACK else 1)
    per_box = price if price is None or holding.unit is Unit.BOXES else price * fmt.packs_per_box
    beside = []
    for name, other, share in list_units(fmt, searched=holding.searched):
        value = catalogue.value(sheet, format_id, other, looked.standpoint)
        each = None if per_box is None else per_box / share
        if other.boxes == fmt.boxes_per_case and fmt.case_price is not None and other.unit is Unit.BOXES:
            each = float(fmt.case_price) / other.boxes
        asked = ask(each, value, costs)
        most = most_to_pay(value.outcomes, rule, costs, value.boxes)
        beside.append(UnitAnswer(other, name, value, most, asked.sticker, chance_of_loss(value.outcomes, asked)))
    return HoldingAnswer(looked, worked, answer_at(worked, price, rule, costs), tuple(beside), others)


def list_units(fmt: Format, more: int | None = None, searched: float = 0.0) -> Iterator[tuple[str, Holding, int]]:
    """What stands beside each other: name, holding, and by what a box's price is divided; ``more`` boxes too, loose
    packs with the chance that they were ``searched``."""
    if fmt.packs_per_box > 1:
        for index, pack in enumerate(fmt.packs):
            name = "Pack" if len(fmt.packs) == 1 else f"Pack ({pack.id})"
            yield name, Holding(Unit.PACK, pack=index, searched=searched), fmt.packs_per_box
    yield "Box", ONE_BOX, 1
    if more is not None:
        yield f"{more} boxes", Holding(Unit.BOXES, more), 1
    if fmt.boxes_per_case is not None and fmt.boxes_per_case > 1:
        yield f"Case of {fmt.boxes_per_case}", Holding(Unit.BOXES, fmt.boxes_per_case), 1


@dataclass(frozen=True, eq=False)
class ChaseAnswer:
    """A chase with its verdict, and what it was asked about."""

    looked: Looked
    format: Format
    what: str
    sticker: float | None
    chase: Chase
    verdict: Verdict


def answer_chase(
    catalogue: Catalogue,
    key: str,
    format_id: str,
    targets: Sequence[Target],
    price: float | None,
    choice: ViewChoice,
) -> ChaseAnswer:
    """What it takes to pull any of some targets at a sticker ``price`` per box (money; None: today's). Rule C-08.

    Raises NotFound, InputError.
    """
    looked = catalogue.read(key, choice)
    sheet = looked.sheet
    fmt = find_format(sheet, format_id)
    value = catalogue.value(sheet, format_id, ONE_BOX, looked.standpoint)
    asked = ask(
        price if price is not None or fmt.price is None else float(fmt.price), value, looked.preferences.costs_with_time
    )
    found = find_chase(value.valuation, targets, asked.outlay)
    what = " or ".join(_name_target(sheet, target) for target in targets)
    made = made_of(estimate_production(sheet), format_id)
    verdict = state_chase(found, what, value.valuation, None if made is None else made.boxes)
    return ChaseAnswer(looked, fmt, what, asked.sticker, found, verdict)


def _name_target(sheet: ProductSheet, target: Target) -> str:
    line = find_line(sheet, target.line)
    subjects = {version.number: version.subject for version in line_versions(sheet, line)}
    chosen = [subjects[number] for number in sorted(target.numbers or ())]
    return f"{' or '.join(chosen)}, {line.name}" if chosen else f"any {line.name}"


@dataclass(frozen=True, slots=True)
class Checklist:
    """One page of a line's cards, and how many there are in all."""

    cards: tuple[VersionPrice, ...]
    total: int
    unpriced: int


SORTS: dict[str, Callable[[VersionPrice], Any]] = {
    "checklist": lambda v: 0,
    "number": lambda v: (len(v.number), v.number),
    "subject": lambda v: v.subject.casefold(),
    "price": lambda v: -1 if v.price is None else v.price,
    "weight": lambda v: v.weight,
}


def list_cards(
    catalogue: Catalogue, key: str, line_id: str, find: str, sort: str, descending: bool, start: int, count: int
) -> tuple[ProductSheet, Checklist]:
    """A page of a line's checklist, with its sheet: cards whose number is, or subject holds, ``find``.

    ``sort`` is one of ``SORTS``. Raises NotFound.
    """
    sheet = catalogue.read_sheet(key)
    versions = list(line_versions(sheet, find_line(sheet, line_id)))
    unpriced = sum(version.price is None for version in versions)
    words = find.casefold().strip()
    if words:
        versions = [v for v in versions if words in v.subject.casefold() or words == v.number.casefold()]
    if sort != "checklist":
        versions.sort(key=SORTS[sort], reverse=descending)
    elif descending:
        versions.reverse()
    return sheet, Checklist(tuple(versions[start : start + count]), len(versions), unpriced)
