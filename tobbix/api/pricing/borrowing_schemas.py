"""What is sent and answered about values that are borrowed."""

from datetime import date

from pydantic import BaseModel

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.tasks.schemas import TaskOut
from tobbix.core.pricing.borrowing import Spread
from tobbix.core.pricing.summing import Summed
from tobbix.services.pricing.borrowing import LentRelease, LentValue


class BorrowQuery(Strict):
    """``across``: releases that share subjects lend to each other."""

    across: bool = False


class SpreadOut(Mirror, of=Spread):
    """Standard deviations of the log."""


class LentReleaseOut(Mirror, of=LentRelease, without=("spread", "others")):
    spread: SpreadOut
    others: list[str]
    title: str
    honesty: str


class SummedOut(Mirror, of=Summed):
    half_width: float


class NextLookOut(BaseModel):
    """A card to look up, by which share of the sum's variance that narrows it."""

    card: FoundOut
    state: str
    narrows: float


class LentOut(BaseModel):
    task: TaskOut | None
    day: date | None
    releases: list[LentReleaseOut]
    too_few: int
    summed: SummedOut | None
    after: SummedOut | None
    look_ups: list[NextLookOut]
    currency: str
    verdict: VerdictOut


class LentValueOut(Mirror, of=LentValue):
    """What is borrowed for a card in a state."""


class LentCardOut(BaseModel):
    lent: LentValueOut | None
