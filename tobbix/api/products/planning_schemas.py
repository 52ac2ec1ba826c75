"""What the planning pages of the Products step send and take."""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.products.schemas import (
    BasisOut,
    FormatOut,
    LineShareOut,
    ReleasePath,
    ViewQuery,
)
from tobbix.core.planning.rip_hold_buy import Choice
from tobbix.core.products.completing import SetPoint, Way
from tobbix.core.products.producing import CopiesMade, PrintEstimate
from tobbix.core.products.sureness import HoldingLoss, MeanSpread
from tobbix.core.products.trying import EditKind
from tobbix.services.products.assuming import Assumption, AssumptionKind

Price = Annotated[float | None, Field(ge=0, le=99_999_999, allow_inf_nan=False)]
Number = Annotated[str, StringConstraints(min_length=1, max_length=200)]


class PriceQuery(ViewQuery):
    """``price`` per box; left out, today's."""

    price: Price = None


class HoldingLossOut(Mirror, of=HoldingLoss, without=("boxes",)):
    """``outlay`` is all that it costs, with the owner's time; None without a price."""


class MarketCurvesOut(BaseModel):
    """The chance of break-even by market factor and price: ``chances[factor][price]``."""

    factors: list[float]
    prices: list[float]
    chances: list[list[float]]
    at_price: list[float] | None


class MeanSpreadOut(Mirror, of=MeanSpread):
    """How far the average itself may be off because prices are uncertain: one in twenty is under ``low``."""


class SurenessOut(BaseModel):
    """How sure a loss is (C-06). ``mixed_loss`` is over markets as unsure as the owner says."""

    release_title: str
    currency: str
    priced_on: date
    format: FormatOut
    basis: BasisOut
    price: float | None
    outlay: float | None
    verdict: VerdictOut
    holdings: list[HoldingLossOut]
    curves: MarketCurvesOut
    mixed_loss: float | None
    spread: MeanSpreadOut
    own_spread: float
    market_spread: float


class CompareQuery(ViewQuery):
    """Rare are hits of lines that come less often than once in so many packs."""

    rare_packs: float = Field(50, ge=0.01, le=1_000_000, allow_inf_nan=False)


class AtLeastOut(BaseModel):
    """The ``chance`` of an outcome of at least so much (money)."""

    amount: float
    chance: float


class FormatFactsOut(BaseModel):
    format: FormatOut
    price: float | None
    outlay: float | None
    per_pack: float | None
    per_card: float | None
    mean: float
    mean_per_pack: float
    mean_per_card: float
    middle: float
    loss: float | None
    returned: float | None
    hits: float
    rare: float
    cost_per_hit: float | None
    only_here: list[str]
    lower_bound: bool
    guesses: list[str]
    curve: list[AtLeastOut]


class RefusedOut(BaseModel):
    name: str
    why: str


class ComparisonOut(BaseModel):
    """Formats side by side, one box of each at today's price."""

    release_title: str
    currency: str
    priced_on: date
    basis: BasisOut
    verdict: VerdictOut
    formats: list[FormatFactsOut]
    refused: list[RefusedOut]


class SetQuery(PriceQuery):
    """All cards of a ``line``; with ``number``, the rainbow of that card. ``repeats``: a pack may hold a card twice;
    ``held``: begin with what the owner has of it."""

    line: Key
    number: str | None = Field(None, max_length=200)
    repeats: bool = False
    held: bool = False


class SetPointOut(Mirror, of=SetPoint):
    """After so many packs (or boxes): cards found, spares, the chance of all, and net cost with the rest bought."""


class SetOut(BaseModel):
    """What it takes to complete a set (C-09)."""

    release_title: str
    currency: str
    format: FormatOut
    basis: BasisOut
    verdict: VerdictOut
    name: str
    cards: int
    unit: Literal["pack", "box"]
    price: float | None
    way: Way
    repeats: bool
    short: int
    mean: float
    error: float | None
    half: float | None
    nine_tenths: float | None
    curve: list[SetPointOut]
    buy_all: float | None
    stop: SetPointOut | None
    missing: list[str]


class ProductionQuery(BaseModel):
    """Shares of all packs by format, like ``harbour:0.8,market:0.2``; empty if they are not known."""

    shares: str = Field("", max_length=4_000)


class PrintEstimateOut(Mirror, of=PrintEstimate):
    formats: list[str]


class FormatMadeOut(BaseModel):
    format: str
    name: str
    estimates: int
    packs: float | None
    low: float | None
    high: float | None
    boxes: float | None
    cases: float | None
    share: float | None


class CopiesOut(Mirror, of=CopiesMade):
    not_counted: list[str]


class ProductionOut(BaseModel):
    """How many exist (C-10)."""

    release_title: str
    verdict: VerdictOut
    estimates: list[PrintEstimateOut]
    formats: list[FormatMadeOut]
    copies: list[CopiesOut]


class ChoiceQuery(PriceQuery):
    """What is assumed of the sealed box; left out, the habit."""

    sealed_value: Price = None
    growth: float | None = Field(None, ge=-0.99, le=10, allow_inf_nan=False)
    years: float | None = Field(None, ge=0, le=50, allow_inf_nan=False)
    keeping: Price = None


class WantedOut(BaseModel):
    """A wanted card: its price, and how many of it a box holds on average."""

    line: str
    number: str
    name: str
    price: float
    copies: float


class ThresholdOut(BaseModel):
    """What would have to be true for a choice to win: as a figure, and in words."""

    choice: Choice
    what: Literal["market_factor", "landed_price", "growth", "sealed_value"]
    value: float | None
    words: str


class ChoiceOut(BaseModel):
    """Rip, hold or buy the singles (C-11): money better off than before by each."""

    release_title: str
    currency: str
    format: FormatOut
    basis: BasisOut
    verdict: VerdictOut
    price: float | None
    landed: float | None
    outlay: float | None
    mean: float
    sealed_value: float | None
    growth: float
    years: float
    keeping: float
    open: float | None
    open_loss: float | None
    sell_sealed: float | None
    hold: float | None
    hold_sum: float | None
    singles_cost: float
    wanted_share: float
    best: Choice
    notes: dict[Choice, str]
    thresholds: list[ThresholdOut]
    wanted: list[WantedOut]
    unpriced: list[str]


class WantedCardOut(BaseModel):
    line: str
    number: str


class WantedListOut(BaseModel):
    wanted: list[WantedCardOut]


class WantedIn(Strict):
    line: Key
    number: Number
    wanted: bool


class AssumptionOut(Mirror, of=Assumption):
    """One assumption as typed."""


class AssumptionsOut(BaseModel):
    assumptions: list[AssumptionOut]


class AssumptionIn(Strict):
    """``text`` as typed: odds, a price, or a share; empty takes it back."""

    kind: AssumptionKind
    line: Key
    format: Key | None = None
    text: str = Field(max_length=60)


class EditIn(Strict):
    """A trial: ``text`` is odds, a price, a share of usable packs, or a factor for all prices of a line."""

    version: int = Field(ge=0, le=2_000_000_000)
    kind: EditKind
    text: str = Field(max_length=100)
    line: Key | None = None
    number: Number | None = None
    format: Key | None = None
    pack: Key | None = None


class EditOut(BaseModel):
    kind: EditKind
    text: str
    line: str | None
    number: str | None
    format: str | None
    pack: str | None


class VersionQuery(BaseModel):
    version: int = Field(ge=0, le=2_000_000_000)


class VersionOut(BaseModel):
    version: int


class EditPath(ReleasePath):
    number: int = Field(ge=0, le=10_000)


class SideOut(BaseModel):
    """One box, of the sheet or of the scratch copy."""

    price: float | None
    usable: float
    mean: float
    middle: float
    loss: float | None
    most: float
    lower_bound: bool
    by_line: list[LineShareOut]
    odds: dict[str, str]
    curve: list[AtLeastOut]


class TrialOut(BaseModel):
    """A scratch copy beside the sheet."""

    release_title: str
    currency: str
    format: FormatOut
    basis: BasisOut
    verdict: VerdictOut
    version: int
    edits: list[EditOut]
    stale: list[str]
    before: SideOut
    after: SideOut


class SimulationIn(Strict):
    """What is simulated: ``boxes`` as they are packed, ``worlds`` of prices, or a ``set`` (of ``line``)."""

    kind: Literal["boxes", "worlds", "set"]
    count: int = Field(ge=1, le=5_000_000)
    seed: int = Field(1, ge=0, le=2_000_000_000)
    price: Price = None
    no_repeats: bool = True
    even: bool = False
    line: Key | None = None
    held: bool = False
    basis: Literal["gross", "net", "floor"] | None = None
    way: Key | None = None


class SimulationPath(BaseModel):
    number: RowNumber


class SimulationOut(BaseModel):
    """A simulation as it stands; ``result`` has the figures of its kind once it is done."""

    number: int
    kind: Literal["boxes", "worlds", "set"]
    state: Literal["waiting", "running", "done", "cancelled", "failed"]
    done: int
    total: int
    seed: int
    asked: dict[str, Any]
    result: dict[str, Any] | None
    fault: str | None
    is_current: bool
