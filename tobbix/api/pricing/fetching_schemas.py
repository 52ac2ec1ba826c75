"""What is sent and answered: prices fetched from markets."""

from datetime import date

from pydantic import BaseModel, Field

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Exact, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.pricing.pasting_schemas import PageOut
from tobbix.api.pricing.schemas import ReleaseNameOut
from tobbix.api.stock.schemas import FilterQuery
from tobbix.api.tasks.schemas import TaskOut
from tobbix.core.pricing.fetching import Missed, Scope

_Key = Field("", max_length=120)


class FetchPricesIn(Strict):
    """For which cards: a ``scope``, for a card or a release its keys, and for a filter of the stock what it asks."""

    scope: Scope
    release: str = _Key
    line: str = _Key
    number: str = _Key
    variant: str = _Key
    filter: FilterQuery | None = None


class MissedOut(Mirror, of=Missed):
    """What got no answer, and why."""


class ClosingLotOut(BaseModel):
    """A lot that closes on a ``day``: the card that was looked for, what it says, the bid so far and how many there
    are."""

    version: int
    title: str
    market: str | None
    day: date | None
    price: Exact | None
    shipping: Exact | None
    currency: str | None
    bids: int | None


class FetchOut(BaseModel):
    """A fetch as it stands; ``kept`` so far, which ``batch`` takes back. Once it is done: what came of it, what wants a
    look, lots that close, what got no answer, and the cards that these are of."""

    task: TaskOut
    about: str
    batch: int
    kept: int
    verdict: VerdictOut
    doubtful: PageOut | None
    lots: list[ClosingLotOut]
    missed: list[MissedOut]
    cards: list[FoundOut]


class SourcesOut(BaseModel):
    """What prices are fetched from here, the newest fetches, and the releases that can be asked for."""

    names: list[str]
    verdict: VerdictOut
    newest: list[TaskOut]
    releases: list[ReleaseNameOut]
