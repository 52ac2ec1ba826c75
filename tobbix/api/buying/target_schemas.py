"""What is sent and answered: the target list, and making or buying a grade."""

from datetime import date

from pydantic import BaseModel, Field

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Amount, Exact, RowNumber, Share, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.buying.targets import BandSum, Bought, Projection, Savings


class BoughtCopyOut(Mirror, of=Bought):
    """A copy that was bought, with the comps of its state at the time."""


class SavingsOut(Mirror, of=Savings):
    """What was saved against the plan, split in two where the comp of the time is known."""


class TargetOut(BaseModel):
    """A card of the list; ``ceiling`` is the most to pay for it at a show."""

    number: int
    version: int
    name: str
    card: FoundOut | None
    state: str
    planned: Exact
    note: str | None
    held: int
    comp: Exact | None
    comp_on: date | None
    ceiling: Exact | None
    bought: BoughtCopyOut | None
    savings: SavingsOut | None


class BandSumOut(Mirror, of=BandSum):
    """A price band, with what all of it is projected to cost."""


class ProjectionOut(Mirror, of=Projection, without=("bands",)):
    """Where the list will end."""

    bands: list[BandSumOut]


class TargetsOut(BaseModel):
    """The whole list, money at home; ``bands`` as they are typed."""

    verdict: VerdictOut
    currency: str
    bands: str
    projection: ProjectionOut
    targets: list[TargetOut]


class BoughtCopyIn(Strict):
    """A copy that was bought; its comps if they are known better than here."""

    state: str = Field(max_length=60)
    on: date
    all_in: Amount
    low: Amount | None = None
    middle: Amount | None = None
    high: Amount | None = None


class TargetIn(Strict):
    """A card by its number in the store (``card``) or in words only; ``version``: as it was seen."""

    version: int = Field(0, ge=0, le=2_000_000_000)
    name: str = Field(max_length=300)
    card: RowNumber | None = None
    state: str = Field(max_length=60)
    planned: Amount
    note: str | None = Field(None, max_length=500)
    bought: BoughtCopyIn | None = None


class BandsIn(Strict):
    """Price bands as they are typed: "low 5000, mid 10000, high 20000, top"."""

    text: str = Field(max_length=500)


class TargetPath(BaseModel):
    number: RowNumber


class MakeQuery(BaseModel):
    """A raw copy all-in, its grading, the chance of the grade or better (0.3), the mean net of a miss; the slab all-in
    and one a grade lower, if known."""

    raw: Amount
    grading: Amount
    chance: Share
    miss_net: Amount = "0"
    slab: Amount | None = None
    lower: Amount | None = None


class MakingOut(BaseModel):
    """What one copy costs by grading raw ones, and how many are graded for it."""

    verdict: VerdictOut
    cost: float
    tries: float
