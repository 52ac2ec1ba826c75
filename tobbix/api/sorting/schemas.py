"""What is sent and answered about sorting: plans, entry, what to pull, doubles."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Amount, Condition, Exact, Key, RowNumber, Share, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import PartOut, VerdictOut
from tobbix.api.products.naming_schemas import SeenReleaseIn
from tobbix.core.sorting.passes import PassKind
from tobbix.core.sorting.projects import Project
from tobbix.core.sorting.pulling import Work
from tobbix.services.sorting.planning import StoredRun

Text = Annotated[str, StringConstraints(max_length=200)]
_MOST = 10_000_000


class PassIn(Strict):
    """A pass as it is said; empty: as usual, or not known (``finds``)."""

    kind: PassKind
    name: Annotated[str, StringConstraints(max_length=80)]
    share: Share = "1"
    rate: Amount | None = None
    heaps: int | None = Field(None, ge=0, le=100_000)
    finds: Amount | None = None


class HoardIn(Strict):
    cards: int = Field(ge=0, le=_MOST)
    hourly: Amount
    table: int = Field(12, ge=0, le=1_000)
    box_holds: int = Field(800, ge=0, le=100_000)
    passes: list[PassIn] = Field(max_length=40)


class PlanIn(HoardIn):
    """A plan to keep; ``version`` as it was seen, 0 for a new one; ``item`` the collection that it is of."""

    version: int = Field(0, ge=0)
    name: Text
    expected: Amount | None = None
    item: int | None = Field(None, ge=1)


class PlannedPassOut(BaseModel):
    """A pass with what it takes; ``own_hours`` by which its rate is learnt, ``past`` the point to stop."""

    kind: PassKind
    name: str
    share: Exact
    said_rate: Exact | None
    said_heaps: int | None
    finds: Exact | None
    cards: int
    rate: float
    own_hours: float
    heaps: int
    rounds: int
    hours: float
    cost: float
    boxes: int
    done: int
    past: bool


class SortingPlanOut(BaseModel):
    passes: list[PlannedPassOut]
    hours: float
    hours_left: float
    verdict: VerdictOut


class ProjectOut(Mirror, of=Project):
    gain: Exact | None
    per_hour: Exact | None


class RunOut(Mirror, of=StoredRun):
    """A run of the clock over a pass."""


class PlanViewOut(SortingPlanOut):
    number: int
    version: int
    name: str
    cards: int
    hourly: Exact
    table: int
    box_holds: int
    expected: Exact | None
    item: int | None
    item_name: str | None
    document: int
    shared_entry: int | None
    runs: list[RunOut]
    running: int | None
    running_since: datetime | None
    project: ProjectOut
    project_verdict: VerdictOut
    currency: str


class PlansOut(BaseModel):
    plans: list[PlanViewOut]
    verdict: VerdictOut


class PlanPath(BaseModel):
    number: RowNumber


class RunPath(PlanPath):
    run: RowNumber


class UsualPassesOut(BaseModel):
    """The usual passes, and what an hour is worth by the owner's habits."""

    passes: list[PassIn]
    hourly: Exact


class KeptOut(BaseModel):
    number: int


class ClockIn(Strict):
    place: int = Field(ge=0, le=100)


class StopIn(Strict):
    cards: int = Field(ge=0, le=_MOST)


class ShareCostIn(Strict):
    """``each``: what one card counts of which the value is not known."""

    version: int = Field(ge=0)
    each: Amount | None = None


class TakenInOut(BaseModel):
    """The entry by which what was done can be taken back."""

    entry: int


class CardEntryIn(Strict):
    """A card as it was typed, with the pile that was chosen before; ``fresh``: a set that is named by it."""

    text: str = Field(max_length=1_000)
    release: Key | None = None
    fresh: SeenReleaseIn | None = None
    line: Text
    place: Annotated[str, StringConstraints(max_length=100)] | None = None
    condition: Condition | None = None
    plan: int | None = Field(None, ge=1)


class EnteredOut(BaseModel):
    """What was entered, how many of it are there then, and what matters of it."""

    entry: int
    item: int
    card: FoundOut
    count: int
    condition: str | None
    total: int
    said: str
    matters: list[PartOut]
    new_card: bool


class KnownSetOut(BaseModel):
    key: str
    title: str
    lines: list[str]


class KnownSetsOut(BaseModel):
    """Every set with its lines, places in use, plans, and the names of readers that are connected."""

    sets: list[KnownSetOut]
    places: list[str]
    plans: dict[int, str]
    reader: str | None


class ComingIn(Strict):
    """A card that may come in, by its keys; no condition: as good as prices speak of."""

    release: Key
    line: Key
    number: str = Field(max_length=200)
    variant: str = Field("", max_length=60)
    condition: Condition | None = None


class FillsIn(Strict):
    cards: list[ComingIn] = Field(max_length=200)


class FillsOut(BaseModel):
    """What each of the cards that were asked about would fill, in words; empty where nothing."""

    cards: list[list[PartOut]]


class ScansOut(BaseModel):
    """What the barcode reader read since it was last asked."""

    texts: list[str]


class SalvageIn(Strict):
    name: Text
    count: int = Field(ge=0, le=1_000_000)


class WorkOut(Mirror, of=Work):
    look_up_cost: float
    selling_cost: float


class PullQuery(BaseModel):
    hourly: float | None = Field(None, ge=0, le=100_000)
    look_up: float | None = Field(None, ge=0, le=1_440)


class PullListPath(BaseModel):
    key: Key


class PulledOut(BaseModel):
    number: str
    subject: str
    version: int
    price: float | None
    net: float | None
    gain: float | None
    watched: bool
    debut: bool
    why: str


class LookUpOut(BaseModel):
    cost: float
    finds: float
    pays: bool


class LinePullsOut(BaseModel):
    line: str
    cards: int
    unknown: int
    pulled: list[PulledOut]
    look_up: LookUpOut | None
    verdict: VerdictOut


class PullListOut(BaseModel):
    key: str
    title: str
    lines: list[LinePullsOut]
    work: WorkOut
    way: str | None
    currency: str
    verdict: VerdictOut


class SetPullsOut(BaseModel):
    key: str
    title: str
    worth: int
    marked: int
    cards: int
    unknown: int
    look_up: LookUpOut | None


class AllPullsOut(BaseModel):
    sets: list[SetPullsOut]
    work: WorkOut
    currency: str
    verdict: VerdictOut


class JudgeLookQuery(PullQuery):
    """A pile where one card in ``one_in`` nets so much."""

    one_in: float = Field(gt=0, le=1_000_000_000)
    net: float = Field(ge=0, le=99_999_999)


class DoublesQuery(BaseModel):
    """At what lots sell; postage as grams and price, by commas."""

    postage: str = Field("", max_length=400)
    per_thousand: Amount | None = None
    way: Key | None = None
    minutes: Amount | None = None
    hourly: Amount | None = None
    box_grams: int | None = Field(None, ge=0, le=100_000)
    box_cost: Amount | None = None


class LotOfOut(BaseModel):
    """So many like lots: cards, grams, and what each brings and leaves (money)."""

    many: int
    cards: int
    grams: float
    price: Exact
    postage: Exact
    net: Exact
    after_work: Exact
    per_kilogram: Exact


class LotPlanOut(BaseModel):
    cards: int
    lots: list[LotOfOut]
    net: Exact
    after_work: Exact
    per_hour: Exact | None
    give_away: bool


class SetDoublesOut(BaseModel):
    title: str
    line: str
    cards: int
    worth: Exact
    plan: LotPlanOut


class LotTermsOut(BaseModel):
    """At what lots sell."""

    per_thousand: Exact
    minutes: Exact
    hourly: Exact
    box_grams: int
    box_cost: Exact


class DoublesOut(BaseModel):
    sets: list[SetDoublesOut]
    cards: int
    together: LotPlanOut | None
    terms: LotTermsOut
    way: str | None
    currency: str
    verdict: VerdictOut
