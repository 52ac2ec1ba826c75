"""What is sent and answered about graders, pictures that are measured, and whether a card is worth grading."""

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Exact, Millimetres, RowNumber, Share, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.sorting.judging_schemas import FlawOut
from tobbix.api.stock.photo_schemas import PhotoOut
from tobbix.core.grading.calibrating import GemRate
from tobbix.core.grading.centering import Segment, SizeSays
from tobbix.core.grading.expecting import Ground
from tobbix.core.grading.gain import GradeAction
from tobbix.core.grading.graders import CenteringLimit, Tier, Whole
from tobbix.core.grading.pregrading import GradePart
from tobbix.core.grading.submissions import PostClass
from tobbix.core.holdings.documents import Side

Name = Annotated[str, StringConstraints(max_length=200)]
Grade = Annotated[str, StringConstraints(min_length=1, max_length=20)]
Chance = Annotated[float, Field(ge=0, le=1)]
Pixel = Annotated[float, Field(ge=-1e6, le=1e6)]
Pair = Annotated[list[Pixel], Field(min_length=2, max_length=2)]
Segments = list[Annotated[list[Pair], Field(min_length=2, max_length=2)]]


class GraderPath(BaseModel):
    number: RowNumber


class TierIn(Strict):
    """A tier: money of the grader's currency; empty: no limit, not promised."""

    id: str = Field(max_length=80)
    name: Name
    fee: Amount
    min_cards: int = Field(1, ge=0, le=10_000)
    value_limit: Amount | None = None
    up_charge: Amount = "0"
    days: int | None = Field(None, ge=0, le=3_650)
    members_only: bool = False


class LimitIn(Strict):
    grade: Grade
    front: Amount
    back: Amount


class GraderIn(Strict):
    """A grader as it is described; ``version`` as it was seen, 0 for a new one."""

    version: int = Field(0, ge=0)
    name: Name
    currency: Annotated[str, StringConstraints(max_length=3)]
    grades: list[Grade] = Field(max_length=100)
    tiers: list[TierIn] = Field(max_length=100)
    subgrades: list[Name] = Field([], max_length=20)
    membership: Amount | None = None
    refusal: Amount = "0"
    limits: list[LimitIn] = Field([], max_length=100)
    whole: Whole = Whole.WEAKEST
    cap: Amount = "1"
    back_weight: Share = "0.5"
    duty_share: Share = "0"
    duty_fixed: Amount = "0"
    columns: list[Name] = Field(max_length=40)
    packing: list[Name] = Field([], max_length=40)


class TierOut(Mirror, of=Tier):
    """A tier as it is kept."""


class LimitOut(Mirror, of=CenteringLimit):
    """The larger share that a grade allows."""


class GraderOut(BaseModel):
    number: int
    version: int
    name: str
    currency: str
    grades: list[str]
    tiers: list[TierOut]
    subgrades: list[str]
    membership: Exact | None
    refusal: Exact
    limits: list[LimitOut]
    whole: Whole
    cap: Exact
    back_weight: Exact
    duty_share: Exact
    duty_fixed: Exact
    columns: list[str]
    packing: list[str]


class GradersOut(BaseModel):
    """All graders in use; ``known_columns`` that a form may have, ``offered`` profiles that could be begun with."""

    graders: list[GraderOut]
    known_columns: list[str]
    offered: list[str]
    verdict: VerdictOut


class GraderMadeOut(BaseModel):
    number: int


class OfferedPath(BaseModel):
    name: Name


class PostClassIn(Strict):
    id: str = Field(max_length=80)
    name: Name
    price: Amount
    insured_to: Amount | None = None
    days: int | None = Field(None, ge=0, le=3_650)
    tracked: bool = False
    least: list[Millimetres] = Field(["0", "0", "0"], min_length=3, max_length=3)
    most: list[Millimetres] | None = Field(None, min_length=3, max_length=3)
    most_weight: Millimetres | None = None
    no_rigid: bool = False
    value_limit: Amount | None = None
    loss: Share = "0.01"
    claim_days: int | None = Field(None, ge=0, le=3_650)


class CarrierIn(Strict):
    version: int = Field(0, ge=0)
    name: Name
    classes: list[PostClassIn] = Field(max_length=100)


class PostClassOut(Mirror, of=PostClass):
    """How a parcel goes."""

    least: list[Exact]
    most: list[Exact] | None


class CarrierOut(BaseModel):
    name: str
    version: int
    classes: list[PostClassOut]


class CarriersOut(BaseModel):
    carriers: list[CarrierOut]


class GradingHabitsIn(Strict):
    version: int = Field(0, ge=0)
    strength: Amount
    breakage: Share
    crack_cost: Amount
    per_card: Amount


class GradingHabitsOut(BaseModel):
    version: int
    strength: Exact
    breakage: Exact
    crack_cost: Exact
    per_card: Exact


class CenteringOut(BaseModel):
    """How a side is centred: shares of the borders (percent) with their 95 % (points), the corners of card and frame in
    the picture (pixels), its size (mm), ``turn`` of the card in the picture and ``tilt`` of the print (degrees)."""

    left_right: Pair
    top_bottom: Pair
    uncertainty: Pair
    corners: list[Pair]
    frame: list[Pair]
    size: Pair | None
    turn: float
    tilt: float


class LinesIn(Strict):
    """Four lines along the edge and four along the frame (two points each, pixels), from the top clockwise."""

    version: int = Field(0, ge=0)
    edges: Segments = Field(max_length=8)
    frame: Segments = Field(max_length=8)


class FindLinesIn(Strict):
    version: int = Field(0, ge=0)


class MeasuredOut(BaseModel):
    """A photo with its lines; ``found`` None: nothing was measured, or why it was refused."""

    item: int
    photo: PhotoOut
    version: int
    edges: Segments
    frame: Segments
    by_hand: bool
    found: CenteringOut | None
    refused: str | None
    size: Pair


class WorthQuery(Strict):
    """At which grader (None: the first) and tier (None: its first); flaws counted in full or by half."""

    grader: RowNumber | None = None
    tier: str | None = Field(None, max_length=80)
    lenient: bool = False


class WorthRowOut(BaseModel):
    """A card of the table; None: not known. ``even`` the chance of a gem from which on it pays: 0 always, over 1
    never."""

    item: int
    name: str
    condition: str
    owner: bool
    keeps: bool
    draft: int | None
    by: Ground
    raw: Exact | None
    gem: float
    gain: float | None
    loss: float | None
    even: float | None
    per_month: float | None
    per_tied: float | None


class WorthTableOut(BaseModel):
    rows: list[WorthRowOut]
    grader: int
    tier: str
    cost: Exact
    currency: str
    verdict: VerdictOut


class MeasuredSideOut(BaseModel):
    """A side as it was measured last, and the best grade that its borders allow at the chosen grader."""

    side: Side
    photo: int
    version: int
    found: CenteringOut | None
    refused: str | None
    by_hand: bool
    allows: str | None
    size_says: SizeSays | None


class GraderViewOut(BaseModel):
    """What a grader may make of a card: chances strictly and leniently, by part, and what is gone by."""

    grader: int
    name: str
    strict: dict[str, float]
    lenient: dict[str, float]
    parts: dict[GradePart, dict[str, float]]
    chances: dict[str, float]
    said: bool
    said_version: int


class GradeRowOut(BaseModel):
    """A grade: its chance, what it brings (``guessed``: between or below known ones), leaves, and what is best done."""

    grade: str
    chance: float
    value: Exact | None
    guessed: bool
    net: float | None
    action: GradeAction | None


class GemRateOut(Mirror, of=GemRate):
    """How many were gems, with the 95 %."""

    share: float


class CurveOut(BaseModel):
    gem: list[float]
    gain: list[float]


class CloseOut(BaseModel):
    """A card before it goes: pictures, what was measured, flaws, what each grader may make of it, and whether."""

    item: int
    name: str
    release: str
    line: str
    number: str
    condition: str
    size: Pair
    photos: list[PhotoOut]
    sides: list[MeasuredSideOut]
    flaws: list[FlawOut]
    faults: list[str]
    usual: str | None
    graders: list[GraderViewOut]
    grader: int
    tier: str
    cost: Exact
    fee: Exact
    raw: Exact | None
    gain: float | None
    per_month: float | None
    loss: float | None
    even_case: str | None
    even: float | None
    curve: CurveOut | None
    grades: list[GradeRowOut]
    rate: GemRateOut | None
    population: dict[str, int]
    currency: str
    verdict: VerdictOut
    pre_verdict: VerdictOut


class SayChancesIn(Strict):
    """The chances that the owner says (shares of 1), or None: by the pictures again."""

    grader: RowNumber
    version: int = Field(0, ge=0)
    chances: dict[Grade, Chance] | None = None


class CleanedIn(Strict):
    """What was done to a card before it goes: it stands on its record."""

    version: int = Field(ge=0)
    what: Annotated[str, StringConstraints(min_length=1, max_length=200)]


class ScannedOut(BaseModel):
    """Pictures that a scanner put down since it was last asked: names, to be taken over one by one."""

    scanner: str | None
    files: list[str]


class TakeScansIn(Strict):
    """A scanner's files as photos of things, in the order front, back, front, back."""

    files: list[Name] = Field(max_length=200)
    items: list[int] = Field(max_length=200)
    sides: list[Side] = Field(max_length=200)


class TakenScansOut(BaseModel):
    photos: list[int]


def to_lines(said: Segments) -> list[Segment]:
    """Lines as they are sent, as the core takes them."""
    return [((x1, y1), (x2, y2)) for (x1, y1), (x2, y2) in said]
