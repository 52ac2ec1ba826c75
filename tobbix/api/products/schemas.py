"""What the Products step sends and takes. Prices are decimal strings, estimates numbers; None is unknown."""

from datetime import date
from typing import Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from tobbix.api.base.fields import Key, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.base.results import Assumed, LeftOut
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.box_value import TopHeavy
from tobbix.core.products.most_to_pay import MostToPay, PayingRule
from tobbix.core.products.price_book import Source
from tobbix.core.products.valuation import MOST_BOXES
from tobbix.core.products.worth import ValueBasis
from tobbix.services.products.importing import Outcome


class MostOut(Mirror, of=MostToPay):
    """Highest landed prices by each standard, and the sticker price that the owner's rule leads to."""


class FiguresOut(BaseModel):
    """One box at today's price. ``loss`` is the chance of a loss; quantiles by share."""

    mean: float
    quantiles: dict[str, float]
    loss: float | None
    most: MostOut
    lower_bound: bool
    guesses: list[str]
    meets_rule: bool


class FormatOut(BaseModel):
    """A format; ``figures`` is None where nothing can be said, ``refused`` then says why."""

    id: str
    name: str
    channel: str | None
    contents: str
    packs: list[str]
    packs_per_box: int
    cards_per_box: int
    boxes_per_case: int | None
    usable: float
    price: str | None
    case_price: str | None
    figures: FiguresOut | None
    refused: str | None


class ReleaseOut(BaseModel):
    id: str
    title: str
    publisher: str
    year: int
    currency: str
    priced_on: date
    revision: int
    price_revision: int
    lines: int
    cards: int
    formats: list[FormatOut]


class RemovedOut(BaseModel):
    """A release that was removed and can be brought back."""

    id: str
    title: str


class ShelfOut(BaseModel):
    """All releases, with the sentence over them, and those that were removed; it may offer the demo's."""

    verdict: VerdictOut
    releases: list[ReleaseOut]
    removed: list[RemovedOut]
    offers_demo: bool


class OddsOut(BaseModel):
    """What a line says of a format (and a kind of pack), as it is typed."""

    format: str
    pack: str | None
    text: str


class GuaranteeOut(BaseModel):
    """A guarantee of a format as it is typed; ``number`` is its place in the sheet."""

    number: int
    format: str
    text: str


class LineOut(BaseModel):
    id: str
    name: str
    kind: str
    print_run: int | None
    redemption: bool
    cards: int
    unpriced: int
    cards_of: str | None
    price_multiple: str | None
    price_floor: str | None
    odds: list[OddsOut]
    guaranteed: dict[str, str]


class ReleaseDetailOut(BaseModel):
    verdict: VerdictOut
    release: ReleaseOut
    lines: list[LineOut]
    guarantees: list[GuaranteeOut]
    last_change: str | None


class CardOut(BaseModel):
    """A card of a line; ``own`` if its price was said of this version, with its ``day`` and ``source``, rather than
    derived from the parent line's."""

    number: str
    subject: str
    weight: str
    price: str | None
    own: bool
    day: date | None
    source: Source | None


class ChecklistOut(BaseModel):
    cards: list[CardOut]
    total: int
    unpriced: int


class HistogramOut(BaseModel):
    """Chances of the bins between ``edges``; the last chance is of the last edge and more."""

    edges: list[float]
    chances: list[float]


class LineShareOut(BaseModel):
    line: str
    name: str
    cards: int
    hits: float
    value: float | None
    share: float | None


class CardShareOut(BaseModel):
    line: str
    line_name: str
    number: str
    subject: str
    one_in: float | None
    price: float
    worth: float
    value: float
    share: float
    assumed: bool


class AssumedOut(Mirror, of=Assumed):
    """What an unknown counts as: by rule from its line's other prices, or because the owner assumes it."""

    cards: list[str]


class UnknownOut(Mirror, of=LeftOut):
    """An unknown part that is not in the number, which is then a lower bound."""


class BoundOut(BaseModel):
    """The same at a bound: unknown prices at the lowest of their line, or an unknown split on its dearest line."""

    mean: float
    middle: float
    loss: float | None
    most: float


class BasisOut(BaseModel):
    """What a pull is worth here: gross, net, or net with a floor; ``words`` says it as a person would."""

    basis: ValueBasis
    way: str | None
    way_name: str | None
    floor: float
    bulk: float
    words: str


class TopHeavyOut(Mirror, of=TopHeavy):
    """How much few cards carry: shares of the expected value, None if that is 0."""


class GridOut(BaseModel):
    """How the distribution was worked out: the grid's step (money), in how many parts, and the bound on misplaced
    chance."""

    step: float
    points: int
    parts: int
    error: float


class UnitOut(BaseModel):
    """A pack, a box or a case beside the others: ``price`` of the whole unit at today's price per box."""

    name: str
    price: float | None
    mean: float
    middle: float
    loss: float | None
    most: float
    most_per_pack: float


class RuleOut(Mirror, of=PayingRule):
    """The owner's standard: ``chance`` of break-even to keep, or the average to beat by ``margin`` (a share)."""


class AnswerOut(BaseModel):
    """The answer about a pack or some boxes of a format (C-03, C-04, C-07)."""

    release: str
    release_title: str
    revision: int
    price_revision: int
    currency: str
    priced_on: date
    format: FormatOut
    unit: Literal["pack", "boxes"]
    boxes: int
    basis: BasisOut
    price: float | None
    landed: float | None
    outlay: float | None
    other_series: list[str]
    loss: float | None
    verdict: VerdictOut
    mean: float
    deviation: float
    quantiles: dict[str, float]
    worst_tenth: float
    most: MostOut
    rule: RuleOut
    histogram: HistogramOut
    by_line: list[LineShareOut]
    best_cards: list[CardShareOut]
    top_heavy: TopHeavyOut
    units: list[UnitOut]
    lower_bound: bool
    assumed: list[AssumedOut]
    unknown: list[UnknownOut]
    low: BoundOut | None
    high: BoundOut | None
    grid: GridOut


class NeededOut(BaseModel):
    """The fewest packs and boxes for a chance, and what so many boxes cost."""

    chance: float
    packs: int | None
    boxes: int | None
    spent: float | None


class CurvePointOut(BaseModel):
    """The chance of at least one copy in so many boxes."""

    boxes: int
    chance: float


class PackChanceOut(BaseModel):
    """The chance of at least one with so many packs of one box."""

    packs: int
    chance: float


class ChaseOut(BaseModel):
    """What it takes to pull a card, some cards or any of a line (C-08); ``pack`` the kind that packs are of, where
    a box has several."""

    release_title: str
    currency: str
    format: FormatOut
    basis: BasisOut
    what: str
    price: float | None
    verdict: VerdictOut
    one_in_boxes: float
    first_box: float
    pack: str | None
    of_one_box: list[PackChanceOut]
    needed: list[NeededOut]
    curve: list[CurvePointOut]
    boxes_until_first: float
    single: float | None
    long_run: float | None
    until_first: float | None


class ImportedOut(BaseModel):
    release: str
    title: str
    revision: int
    outcome: Outcome


class EmptySheetPath(BaseModel):
    form: Literal["json", "xlsx", "zip"]


class AddedOut(BaseModel):
    """How many releases were added."""

    added: int


class UndoneOut(BaseModel):
    """What was taken back; ``gone``: the release has no sheet any more, it is known as far as seen again."""

    revision: int
    undone: str
    gone: bool


class RevisionOut(BaseModel):
    """What stands after a change, and the change itself, which can be taken back by its number."""

    revision: int
    price_revision: int
    change: int | None
    what: str | None


class UndoQuery(Strict):
    """Take back this change and no other; without it the last one, whichever that is."""

    change: int | None = Field(None, ge=1)


class ReleasePath(BaseModel):
    release: Key


class ExportPath(ReleasePath):
    form: Literal["json", "xlsx", "zip"]


class LinePath(ReleasePath):
    line: Key


class GuaranteePath(ReleasePath):
    number: int = Field(ge=0, le=100_000)


class FormatPath(ReleasePath):
    format: Key


class ImportForm(BaseModel):
    """A product sheet as a file, and what the owner has confirmed."""

    file: FileStorage = Field(description="A product sheet: JSON, XLSX, or a zip of CSV files")
    confirm_silent: bool = False
    replace: bool = False
    same_release: bool | None = None


class CardsQuery(BaseModel):
    find: str = Field("", max_length=200)
    sort: Literal["checklist", "number", "subject", "price", "weight"] = "checklist"
    descending: bool = False
    start: int = Field(0, ge=0, le=1_000_000)
    count: int = Field(50, ge=1, le=200)


class ViewQuery(BaseModel):
    """What a pull is worth on this page; left out, as the owner usually looks at it."""

    basis: ValueBasis | None = None
    way: Key | None = None

    def choice(self, factor: float = 1.0) -> ViewChoice:
        return ViewChoice(self.basis, self.way, factor)


class AnswerQuery(ViewQuery):
    """``price`` per pack or box; left out, today's. ``factor`` is what the market does to all prices; ``own_odds``
    takes the odds as the owner's own openings moved them; ``searched`` is the share of loose packs believed to be."""

    unit: Literal["pack", "boxes"] = "boxes"
    pack: int = Field(0, ge=0, le=1_000)
    boxes: int = Field(1, ge=1, le=MOST_BOXES)
    price: float | None = Field(None, ge=0, le=99_999_999, allow_inf_nan=False)
    factor: float = Field(1.0, ge=0.01, le=100, allow_inf_nan=False)
    own_odds: bool = False
    searched: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)


class ChaseQuery(ViewQuery):
    """What is chased: ``line`` or ``line:number,number``, several separated by semicolons."""

    targets: str = Field(min_length=1, max_length=2_000)
    price: float | None = Field(None, ge=0, le=99_999_999, allow_inf_nan=False)
