"""Answers about releases: what the list, a release and a box's page show."""

from dataclasses import dataclass
from datetime import date

from tobbix.core.base.errors import TobbixError
from tobbix.core.products.answer import Answer, Worked, answer_at
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.prices import VersionPrice, line_versions
from tobbix.core.products.revising import find_format, find_line
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.valuation import ONE_BOX, Holding
from tobbix.db.installation import load_preferences
from tobbix.db.products.loading import last_change, find_release, list_releases
from tobbix.services.products.workshop import Workshop


@dataclass(frozen=True, eq=False)
class FormatAnswer:
    """A format with what is said of one box of it, or why nothing can be said."""

    format: Format
    worked: Worked | None
    answer: Answer | None
    refused: str | None


@dataclass(frozen=True, eq=False)
class ReleaseAnswers:
    """A release and its formats' answers. ``last_change`` is what undoing would take back."""

    sheet: ProductSheet
    formats: tuple[FormatAnswer, ...]
    last_change: str | None


@dataclass(frozen=True, eq=False)
class HoldingAnswer:
    """A holding's figures and answer, with the owner's rule that it rests on."""

    sheet: ProductSheet
    worked: Worked
    answer: Answer
    rule: PayingRule
    costs: BuyingCosts
    as_of: date


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
            worked = workshop.worked(sheet, fmt.id, ONE_BOX)
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
        price = float(fmt.price) / (fmt.packs_per_box if holding.unit == "pack" else 1)
    return HoldingAnswer(sheet, worked, answer_at(worked, price, rule, costs), rule, costs, sheet.priced_on)


@dataclass(frozen=True, slots=True)
class Checklist:
    """One page of a line's cards, and how many there are in all."""

    line: str
    cards: tuple[VersionPrice, ...]
    total: int
    unpriced: int


SORTS = {
    "checklist": lambda v: 0,
    "number": lambda v: (len(v.number), v.number),
    "subject": lambda v: v.subject.casefold(),
    "price": lambda v: -1 if v.price is None else v.price,
    "weight": lambda v: v.weight,
}


def list_cards(
    workshop: Workshop, key: str, line_id: str, find: str, sort: str, descending: bool, start: int, count: int
) -> Checklist:
    """A page of a line's checklist: cards whose number or subject holds ``find``, sorted. Raises NotFound."""
    sheet = workshop.read_sheet(key)
    versions = list(line_versions(sheet, find_line(sheet, line_id)))
    unpriced = sum(version.price is None for version in versions)
    words = find.casefold().strip()
    if words:
        versions = [v for v in versions if words in v.subject.casefold() or words == v.number.casefold()]
    if sort != "checklist" or descending:
        versions.sort(key=SORTS[sort], reverse=descending)
    return Checklist(line_id, tuple(versions[start : start + count]), len(versions), unpriced)
