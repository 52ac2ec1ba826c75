"""What is sent and answered about batches, the record, trials of the eye, second opinions."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Exact, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.grading.schemas import Chance, GemRateOut, Segments
from tobbix.api.tasks.schemas import TaskOut
from tobbix.core.grading.calibrating import Calibration, GraderSpread, Reliable
from tobbix.core.grading.second_opinion import Opinion
from tobbix.core.grading.training import EyeBias
from tobbix.core.holdings.documents import Label


class BatchIn(Strict):
    """What is asked of a batch: ``out`` at home, ``back`` in the grader's currency; no budget or most: none."""

    grader: RowNumber | None = None
    out: Amount = "0"
    back: Amount = "0"
    owned: bool = False
    may_join: bool = True
    budget: Amount | None = None
    most: int | None = Field(None, ge=0, le=5_000)
    without: list[int] = Field([], max_length=5_000)


class BatchCardOut(BaseModel):
    item: int
    name: str
    owner: bool
    tier: str | None
    why: str


class BatchTierOut(BaseModel):
    tier: str
    name: str
    cards: int


class MissingOut(BaseModel):
    """How many cards more a tier with a least count would need."""

    tier: str
    cards: int


class BudgetPointOut(BaseModel):
    budget: float
    gain: float
    cards: int


class BatchOut(BaseModel):
    """The best batch with why each card is in or out; ``curve`` what other budgets gain, once that is worked out."""

    grader: int
    cards: list[BatchCardOut]
    unknown: int
    tiers: list[BatchTierOut]
    gain: float
    bound: float
    proven: bool
    membership: bool
    spent: Exact
    missing: list[MissingOut]
    task: TaskOut | None
    curve: list[BudgetPointOut]
    currency: str
    verdict: VerdictOut


class ReliableOut(Mirror, of=Reliable):
    """A group of predictions."""


class CalibrationOut(Mirror, of=Calibration, without=("groups",)):
    groups: list[ReliableOut]


class GraderSpreadOut(Mirror, of=GraderSpread):
    grader: str


class OutcomeOut(BaseModel):
    item: int
    grader: str
    release: str
    day: date
    gem: float
    likely: str
    grade: str


class EyeBiasOut(Mirror, of=EyeBias):
    is_clear: bool


class EyeOut(BaseModel):
    trials: int
    left_right: EyeBiasOut | None
    top_bottom: EyeBiasOut | None


class RecordOut(BaseModel):
    """The record of predictions: by grader, release, quarter, bucket."""

    calibration: CalibrationOut | None
    rates: dict[str, list[GemRateOut]]
    spreads: list[GraderSpreadOut]
    outcomes: list[OutcomeOut]
    eye: EyeOut
    verdict: VerdictOut


class ReplayOut(BaseModel):
    item: int
    grader: str
    grades: list[str]
    front: int | None
    back: int | None


class TrainingOut(BaseModel):
    """What to train on next; ``errors`` of the trials so far at the left and at the top (points)."""

    seed: int
    width: int
    height: int
    replay: ReplayOut | None
    eye: EyeOut
    errors: list[list[float]]
    said: int
    brier: float | None
    verdict: VerdictOut


class SeedPath(BaseModel):
    seed: int = Field(ge=0, le=2_000_000_000)


class TryBordersIn(Strict):
    seed: int = Field(ge=0, le=2_000_000_000)
    edges: Segments = Field(max_length=8)
    frame: Segments = Field(max_length=8)


class BordersOut(BaseModel):
    placed: list[float]
    known: list[float]


class TryCardIn(Strict):
    item: RowNumber
    chances: dict[Annotated[str, StringConstraints(max_length=20)], Chance]


class CardTruthOut(BaseModel):
    grade: str


class LabelOut(Mirror, of=Label):
    """What a grader said."""


class WeighedOut(BaseModel):
    kind: Opinion
    net: float
    gain: float
    worse: float
    months: float | None


class OpinionOut(BaseModel):
    item: int
    name: str
    labels: list[LabelOut]
    value: Exact | None
    ways: list[WeighedOut]
    missing: str | None
    currency: str
    verdict: VerdictOut | None
