"""Answers about releases: what the list, a release and a box's page show."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from tobbix.core.base.errors import TobbixError
from tobbix.core.base.results import Verdict
from tobbix.core.products.answer import Answer, Worked, answer_at, chance_of_loss
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.chase import Chase, Target, find_chase
from tobbix.core.products.most_to_pay import BuyingCosts, MostToPay, PayingRule, most_to_pay
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.prices import VersionPrice, line_versions
from tobbix.core.products.revising import find_format, find_line
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.valuation import ONE_BOX, Holding, Unit
from tobbix.core.products.verdict import ask, state_chase
from tobbix.db.installation import load_preferences
from tobbix.db.products.loading import find_release, last_change, list_releases
from tobbix.services.products.workshop import Workshop


@dataclass(frozen=True, eq=False)
class ReleaseAnswers:
    """A release and its formats' answers. ``last_change`` is what undoing would take back."""

    sheet: ProductSheet
    formats: tuple[FormatAnswer, ...]
    last_change: str | None


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
    """A holding's figures and answer, with the owner's rule that it rests on."""

    sheet: ProductSheet
    worked: Worked
    answer: Answer
    rule: PayingRule
    costs: BuyingCosts
    beside: tuple[UnitAnswer, ...]


def answer_releases(workshop: Workshop) -> list[ReleaseAnswers]:
    """All releases with an answer for one box of each format."""
    with workshop.database.transaction() as session:
        rule, costs, _ = load_preferences(session)
        sheets = [workshop.sheet(session, stored.key) for stored in list_releases(session)]
    return [ReleaseAnswers(sheet, _answer_formats(workshop, sheet, rule, costs), None) for sheet in sheets]


def answer_release(workshop: Workshop, key: str) -> ReleaseAnswers:
    """One release with an answer for one box of each format. Raises NotFound."""
    with workshop.database.transaction() as session:
        rule, costs, _ = load_preferences(session)
        sheet = workshop.sheet(session, key)
        change = last_change(session, find_release(session, key))
        what = None if change is None else change.what
    return ReleaseAnswers(sheet, _answer_formats(workshop, sheet, rule, costs), what)


def _answer_formats(
    workshop: Workshop, sheet: ProductSheet, rule: PayingRule, costs: BuyingCosts
) -> tuple[FormatAnswer, ...]:
    answers = []
    for fmt in sheet.formats:
        try:
            worked = Worked(workshop.value(sheet, fmt.id, ONE_BOX), None, None)  # a row shows neither low nor case
            price = None if fmt.price is None else float(fmt.price)
            answers.append(FormatAnswer(fmt, worked, answer_at(worked, price, rule, costs), None))
        except TobbixError as error:  # one format that cannot be valued must not hide the others
            answers.append(FormatAnswer(fmt, None, None, str(error)))
    return tuple(answers)


def answer_holding(
    workshop: Workshop, key: str, format_id: str, holding: Holding, price: float | None
) -> HoldingAnswer:
    """The answer about a holding at a sticker ``price`` (money; None: today's, if known). Raises NotFound, InputError.

    For a pack, today's price is the box's divided by its packs.
    """
    with workshop.database.transaction() as session:
        rule, costs, _ = load_preferences(session)
        sheet = workshop.sheet(session, key)
    fmt = find_format(sheet, format_id)
    worked = workshop.worked(sheet, format_id, holding)
    if price is None and fmt.price is not None:
        price = float(fmt.price) / (fmt.packs_per_box if holding.unit is Unit.PACK else 1)
    per_box = price if price is None or holding.unit is Unit.BOXES else price * fmt.packs_per_box
    beside = []
    for name, other, share in _units(fmt):
        value = workshop.value(sheet, format_id, other)
        asked = ask(None if per_box is None else per_box / share, other.boxes, costs)
        most = most_to_pay(value.outcomes, rule, costs)
        beside.append(UnitAnswer(other, name, value, most, asked.sticker, chance_of_loss(value.outcomes, asked)))
    return HoldingAnswer(sheet, worked, answer_at(worked, price, rule, costs), rule, costs, tuple(beside))


def _units(fmt: Format) -> Iterator[tuple[str, Holding, int]]:
    """What stands beside each other: name, holding, and by what a box's price is divided."""
    if fmt.packs_per_box > 1:
        for index, pack in enumerate(fmt.packs):
            name = "Pack" if len(fmt.packs) == 1 else f"Pack ({pack.id})"
            yield name, Holding(Unit.PACK, pack=index), fmt.packs_per_box
    yield "Box", ONE_BOX, 1
    if fmt.boxes_per_case is not None and fmt.boxes_per_case > 1:
        yield f"Case of {fmt.boxes_per_case}", Holding(Unit.BOXES, fmt.boxes_per_case), 1


@dataclass(frozen=True, eq=False)
class ChaseAnswer:
    """A chase with its verdict, and what it was asked about."""

    sheet: ProductSheet
    format: Format
    what: str
    sticker: float | None
    chase: Chase
    verdict: Verdict


def answer_chase(workshop: Workshop, key: str, format_id: str, target: Target, price: float | None) -> ChaseAnswer:
    """What it takes to pull a target at a sticker ``price`` per box (money; None: today's). Rule C-08.

    Raises NotFound, InputError.
    """
    with workshop.database.transaction() as session:
        _, costs, _ = load_preferences(session)
        sheet = workshop.sheet(session, key)
    fmt = find_format(sheet, format_id)
    line = find_line(sheet, target.line)
    valuation = workshop.value(sheet, format_id, ONE_BOX).valuation
    asked = ask(price if price is not None or fmt.price is None else float(fmt.price), 1, costs)
    found = find_chase(valuation, target, asked.landed)
    subjects = {version.number: version.subject for version in line_versions(sheet, line)}
    chosen = [subjects[number] for number in sorted(target.numbers or ())]
    what = f"{' or '.join(chosen)}, {line.name}" if chosen else f"any {line.name}"
    verdict = state_chase(found, what, sheet.currency, bool(valuation.left_out()))
    return ChaseAnswer(sheet, fmt, what, asked.sticker, found, verdict)


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
    workshop: Workshop, key: str, line_id: str, find: str, sort: str, descending: bool, start: int, count: int
) -> tuple[ProductSheet, Checklist]:
    """A page of a line's checklist, with its sheet: cards whose number is, or subject holds, ``find``.

    ``sort`` is one of ``SORTS``. Raises NotFound.
    """
    sheet = workshop.read_sheet(key)
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
