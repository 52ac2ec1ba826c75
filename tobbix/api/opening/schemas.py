"""What the Opening step takes in and gives out."""

from datetime import date
from typing import Literal

from pydantic import BaseModel, Field

from tobbix.api.base.fields import Amount, Exact, Key, RowNumber, Share, Strict, Words
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.buying.schemas import ProspectOut
from tobbix.core.opening.records import Weight
from tobbix.core.opening.remaining import GuaranteedLeft
from tobbix.core.opening.results import STRENGTH, LineResult
from tobbix.services.opening.closing import NewPart
from tobbix.services.opening.finding import HotBox
from tobbix.services.opening.viewing import LeftLine, Unvalued


class OpeningIn(Strict):
    """A session of so many boxes of an item. ``gone`` packs were opened by somebody else before."""

    item: RowNumber
    boxes: int = Field(1, ge=1, le=1_000)
    entertainment: Share | None = Field(None, description="Left out: the share said when it was bought")
    gone: int = Field(0, ge=0, le=10_000)
    gone_hits: dict[str, int] = Field(default={}, max_length=100)
    trust: float = Field(1.0, ge=0, le=1)
    note: Words | None = None
    case_name: Words | None = Field(None, description="Of which case the boxes are, over several sessions")


class OpeningPath(BaseModel):
    number: RowNumber


class StepPath(OpeningPath):
    step: Key


class TickIn(Strict):
    """Whether a step of a list is done."""

    done: bool


class PullPath(OpeningPath):
    pull: RowNumber


class OpeningRowOut(BaseModel):
    number: int
    version: int
    release: str
    format: str
    boxes: int
    packs: int
    current_pack: int
    state: Literal["running", "paused", "done", "undone"]
    started_on: date
    done_on: date | None
    note: str | None
    case_name: str | None


class NamedOpeningOut(OpeningRowOut):
    name: str


class OpeningsOut(BaseModel):
    verdict: VerdictOut
    sessions: list[NamedOpeningOut]
    openable: list["OpenableOut"]


class PromisedOut(BaseModel):
    """A line of which a format promises a number in each box."""

    line: str
    name: str
    count: int


class OpenableOut(BaseModel):
    """Sealed product that stands on the desk, with what opening one of it may bring."""

    verdict: VerdictOut
    prospect: ProspectOut
    item: int
    name: str
    count: int
    basis: Exact | None
    packs: int
    packs_gone: int
    promised: list[PromisedOut]
    of_case: bool


class PullOut(BaseModel):
    number: int
    pack: int
    line: str
    line_name: str
    card: str | None
    subject: str
    count: int
    serial: str | None
    flaw: str | None
    worth: float | None


class LeftLineOut(Mirror, of=LeftLine):
    """What is expected of a line in the packs that are left (estimates)."""


class LeftOut(Mirror, of=GuaranteedLeft, without=("packs", "trust")):
    """Promised hits of a group of lines in the box that is open: how many, and how many were seen."""


class UnvaluedOut(Mirror, of=Unvalued):
    """Like cards that came out, of which nobody knows what one is worth."""


class ResultOut(Mirror, of=LineResult):
    """A line against its odds (C-13)."""


class LineChoiceOut(BaseModel):
    """A line that the format can hold, for typing."""

    id: str
    name: str
    print_run: int | None
    is_base: bool


class OpeningOut(OpeningRowOut):
    """A session as it stands: what is left, the running account, the odds so far."""

    release_title: str
    format_name: str
    currency: str
    gone: int
    trust: float
    entertainment: Exact
    stopped_hot: bool
    verdict: VerdictOut
    pack_sizes: list[int]
    pack_room: int
    cost: Exact | None
    pulled_worth: float
    pulled_unknown: int
    left_lower_bound: bool
    left_packs: int
    left_value: float
    left_per_pack: float
    live: list[LeftOut]
    chances: list[VerdictOut] = Field(description="Of at least one of them in 1, 2, … of the packs left of this box")
    left: list[LeftLineOut]
    luck: float | None
    results: list[ResultOut]
    pulls: list[PullOut]
    lines: list[LineChoiceOut]
    prospect: ProspectOut | None
    unvalued: list[UnvaluedOut]


class PullIn(Strict):
    """A card of a pack: its line and number, or what was typed for it and which of those found; base cards may be
    counted without a number."""

    pack: int = Field(ge=1, le=10_000)
    line: Key | None = None
    find: str | None = Field(None, min_length=1, max_length=60)
    place: int = Field(1, ge=1, le=60)
    number: str | None = Field(None, max_length=200)
    count: int = Field(1, ge=1, le=1_000)
    serial: str | None = Field(None, max_length=40)
    flaw: str | None = Field(None, max_length=200)


class TurnIn(Strict):
    """Go to another pack; what is not logged of the pack ``rest_of`` is base."""

    pack: int = Field(ge=1, le=10_000)
    rest_of: int | None = Field(None, ge=1, le=10_000)


class WorthIn(Strict):
    """What one copy of a card is worth that has no price."""

    line: Key
    card: str | None = Field(None, max_length=60)
    worth: Amount


class FinishIn(Strict):
    """``rest_is_base``: the box was opened to its end and the packs with nothing logged held base cards only; else
    they stay sealed."""

    rest_is_base: bool = False
    stopped_hot: bool = False
    worths: list[WorthIn] = Field(default=[], max_length=500)
    by_count: bool = Field(False, description="Divide by count, since the value of a card is not known")


class DivideSessionIn(Strict):
    """``book`` false only shows the division by today's values (or by count, or equally)."""

    version: int = Field(ge=0, le=2_000_000_000)
    method: Literal["value", "count", "equal"] = "value"
    book: bool


class NewPartOut(Mirror, of=NewPart):
    """What a thing of a session carries, and would carry of the same cost divided by what it is worth today (money)."""


class NewPartsOut(BaseModel):
    """What each thing of a session carries, and would carry."""

    parts: list[NewPartOut]


class ResultsQuery(BaseModel):
    """``strength`` of the stated odds as a prior, in expected hits."""

    release: Key
    format: Key
    strength: float = Field(STRENGTH, ge=0.001, le=1_000_000, allow_inf_nan=False)


class ResultsOut(BaseModel):
    release_title: str
    format_name: str
    sessions: int
    packs: int
    stopped_hot: bool
    verdict: VerdictOut
    results: list[ResultOut]


class CompareFormatsQuery(BaseModel):
    """Two formats of a release whose finished sessions are compared."""

    release: Key
    first: Key
    second: Key


class ComparedLineOut(BaseModel):
    """A line in two formats: how many times as often it came in the first, and the chance of that by luck."""

    line: str
    name: str
    first_hits: int
    second_hits: int
    ratio: float | None
    p_value: float
    money_ratio: float | None
    money_p_value: float | None


class ComparedFormatsOut(BaseModel):
    lines: list[ComparedLineOut]


class TotalIn(Strict):
    line: Key
    count: int = Field(ge=1, le=1_000)


class TotalsIn(Strict):
    """Packs from the present one on that were opened off the record: how many hits of which line, the rest is base."""

    packs: int = Field(ge=1, le=10_000)
    totals: list[TotalIn] = Field(max_length=200)


class HotQuery(BaseModel):
    """One in ``one_in`` boxes is hot, and holds ``times`` as many hits of a line."""

    line: Key
    one_in: float = Field(20, gt=1, le=1_000_000, allow_inf_nan=False)
    times: float = Field(3, gt=1, le=1_000, allow_inf_nan=False)


class HotOut(Mirror, of=HotBox):
    """The chance that a box is hot, after ``packs`` packs of which ``hits`` held a card of the line. Rule C-12."""


class WeightIn(Strict):
    """Weight of a box or pack in grams; ``grams`` empty reads the scale. One that does not fit the others is kept only
    if it is said to be ``sure``."""

    release: Key
    format: Key
    unit: Literal["box", "pack"]
    grams: float | None = Field(None, ge=0.01, le=100_000)
    held_hit: bool | None = None
    sure: bool = False


class HeldIn(Strict):
    """Whether what was weighed held a hit; null where it is not known yet."""

    held_hit: bool | None


class WeightOut(Mirror, of=Weight):
    grams: float


class WeightsQuery(BaseModel):
    release: Key
    format: Key
    unit: Literal["box", "pack"] = "box"


class WeightsOut(BaseModel):
    """The owner's weights and what they say (C-14); figures None while there are too few."""

    verdict: VerdictOut
    area: float | None
    low: float | None
    high: float | None
    p_value: float | None
    needed: int | None
    weights: list[WeightOut]


class RedemptionIn(Strict):
    name: str = Field(min_length=1, max_length=200)
    code: str = Field(min_length=1, max_length=100)
    choices: str | None = Field(None, max_length=300)
    chosen: str | None = Field(None, max_length=300)
    item: RowNumber | None = None
    posted_on: date | None = None
    due_on: date | None = None
    arrived_on: date | None = None


class RedemptionChange(RedemptionIn):
    version: int = Field(ge=1, le=2_000_000_000)


class RedemptionOut(RedemptionChange):
    number: int


class RedeemableOut(BaseModel):
    """A card in stock that can be exchanged by post."""

    item: int
    name: str


class RedemptionsOut(BaseModel):
    redeemable: list[RedeemableOut]
    redemptions: list[RedemptionOut]
