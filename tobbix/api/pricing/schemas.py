"""What is sent and answered: the Pricing step: ways of selling, and what a price nets."""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Amount, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.pricing.asking import Asking, Meeting
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.estimating import Ask
from tobbix.core.pricing.fees import FeeBase
from tobbix.core.pricing.ladder import Ladder, Rung
from tobbix.core.pricing.next_up import NextUp
from tobbix.core.pricing.schools import School
from tobbix.services.pricing.adding import Added
from tobbix.services.pricing.seeing import StateWorth

Share = Annotated[str, StringConstraints(pattern=r"^0?(\.[0-9]{1,6})?$|^0$")]


class BracketOut(BaseModel):
    """A marginal share of the amount up to ``up_to``, the last without end."""

    up_to: str | None
    share: str


class BracketIn(Strict):
    up_to: Amount | None
    share: Share


class WayOut(BaseModel):
    """A way of selling; amounts and shares are decimal strings, 0.12 is 12 %."""

    id: str
    version: int
    name: str
    commission: list[BracketOut]
    on: FeeBase
    fixed_fee: str
    payment_share: str
    payment_fixed: str
    least: str
    most: str | None
    shipping_charged: str
    postage: str
    packing: str
    lost: str
    tax: str
    example_net: str


class WaysOut(BaseModel):
    """All ways of selling; ``example_net`` of each is what a sale at 10.00 leaves."""

    ways: list[WayOut]


class WayIn(Strict):
    """``version`` 0 adds a way, another changes the one of that version."""

    version: int = Field(ge=0, le=2_000_000_000)
    name: Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]
    commission: list[BracketIn] = Field(min_length=1, max_length=20)
    on: FeeBase
    fixed_fee: Amount
    payment_share: Share
    payment_fixed: Amount
    least: Amount
    most: Amount | None
    shipping_charged: Amount
    postage: Amount
    packing: Amount
    lost: Share
    tax: Share


class WayPath(BaseModel):
    way: Key


class NetQuery(BaseModel):
    """Either a ``price``, or a ``net`` that is wanted."""

    price: Amount | None = None
    net: Amount | None = None


class NetOut(BaseModel):
    """What a price nets, unrounded."""

    price: Exact
    net: Exact


class CardKeys(Strict):
    """A version of a card by its keys."""

    release: Key
    line: Key
    number: str = Field(max_length=200)
    variant: str = Field("", max_length=60)


class CardPriceQuery(CardKeys):
    """In which ``state`` (a condition, or Grader:grade; left out, the usual one), by sales of how many days, and of
    which ``subgrades`` ("least": the least that make the grade)."""

    state: str | None = Field(None, max_length=60)
    window: int = Field(90, ge=1, le=3_650)
    subgrades: str | None = Field(None, max_length=60)


class SalesIn(CardKeys):
    """What was typed of a card's prices, a line for each."""

    text: str = Field(max_length=200_000)
    state: str | None = Field(None, max_length=60)


class SalesAddedOut(Mirror, of=Added):
    """How many prices were added, and how many were there already."""


class CompPath(BaseModel):
    number: RowNumber


class CompChoiceIn(Strict):
    """Keep what is flagged, leave it out, or neither."""

    choice: Literal["keep", "leave_out"] | None


class TrendOut(BaseModel):
    """The change in 30 days with its 95 %, and the days and prices that it starts and ends at."""

    per_30_days: float
    low: float
    high: float
    start_on: date
    start: float
    end_on: date
    end: float
    starts_at_extreme: bool


class AskOut(Mirror, of=Ask):
    """The lowest open ask of a market in a state, and how many there are."""


class AskingOut(Mirror, of=Asking):
    """A price to ask, what it nets and about how many days it takes."""


class OtherWayOut(BaseModel):
    """What the prices to ask net in another way of selling, in their order."""

    way: str
    nets: list[float]


class MeetingOut(Mirror, of=Meeting):
    """The lowest offer worth taking, and where to meet in person."""


class StateWorthOut(Mirror, of=StateWorth):
    """What a state of the card is worth by its sales."""


class RungOut(Mirror, of=Rung):
    """A grade: what its sales say, what fits those beside it, and how many copies there are."""


class LadderOut(Mirror, of=Ladder, without=("rungs",)):
    """A grader's grades upwards, the neighbours of which the lower went for more, and the gem rate."""

    rungs: list[RungOut]
    reversals: list[list[str]]


class PopulationsIn(CardKeys):
    """Populations as they were typed, a line for each grader."""

    text: str = Field(max_length=5_000)


class PopulationsOut(BaseModel):
    added: int


class CompOut(BaseModel):
    """One price that was seen."""

    number: int
    kind: CompKind
    day: date
    price: Exact
    shipping: Exact | None
    tax: Exact | None
    currency: str
    state: str | None
    market: str | None
    bids: int | None
    lot: int
    note: str | None
    all_in: float | None
    why: str | None
    flagged: bool
    choice: Literal["keep", "leave_out"] | None


class PriceOut(BaseModel):
    """What a card is worth in a state by what was seen of it; money at home."""

    name: str
    release: str
    release_title: str
    line_name: str
    number: str
    state: str
    window: int
    currency: str
    verdict: VerdictOut
    used: int
    estimate: float | None
    weighted: float | None
    school: School
    last: float | None
    mean: float | None
    median: float | None
    low: float | None
    high: float | None
    interval_low: float | None
    interval_high: float | None
    confidence: float | None
    trend: TrendOut | None
    sales_per_30_days: float
    days_since_last: int | None
    months_of_supply: float | None
    thin: bool
    stale: bool
    asks: list[AskOut]
    book_low: float | None
    book_high: float | None
    assumed: str
    asking: list[AskingOut]
    way: str | None
    others: list[OtherWayOut]
    meeting: MeetingOut
    highest: float | None
    highest_on: date | None
    states: list[StateWorthOut]
    ladders: list[LadderOut]
    gems: str
    subgrades: list[str]
    elsewhere: list[StateWorthOut]
    seen: list[CompOut]


class LookedUpOut(BaseModel):
    """A card with what it goes for, how many of its prices were seen, and the newest day."""

    card: FoundOut
    count: int
    day: date


class NextUpOut(Mirror, of=NextUp, without=("card",)):
    """A card to look up, and why."""

    card: FoundOut


class LookingOut(BaseModel):
    """What to look up next, of ``waiting`` in all, and the cards of which prices were recorded last; money at home."""

    verdict: VerdictOut
    currency: str
    waiting: int
    next_up: list[NextUpOut]
    seen: list[LookedUpOut]


class SideBySideQuery(BaseModel):
    """Cards of a release, or all that are held; a state; a grader, and what grading costs in all, in money at home."""

    release: Key | None = None
    state: str | None = Field(None, max_length=60)
    grader: str | None = Field(None, min_length=1, max_length=40)
    cost: Amount | None = None


class BesideOut(BaseModel):
    """A card raw and graded; what each grade gains once grading is paid, and the least grade from which on it does."""

    card: FoundOut
    held: int
    value: Exact | None
    day: date | None
    graded: dict[str, Exact]
    gains: dict[str, Exact]
    least: str | None


class ReleaseNameOut(BaseModel):
    """A release by its key, and what it is called."""

    key: str
    title: str


class SideBySideOut(BaseModel):
    """Cards beside one another, the dearest first, of ``all_of`` in all; money at home."""

    verdict: VerdictOut
    all_of: int
    state: str
    currency: str
    graders: list[str]
    grades: list[str]
    releases: list[ReleaseNameOut]
    rows: list[BesideOut]


class TradedIn(Strict):
    """So many copies of a version in a state; ``value`` what one is agreed to be worth, if not what is known."""

    version: RowNumber
    state: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    count: int = Field(1, ge=1, le=10_000)
    value: Amount | None = None


class TradeIn(Strict):
    """What is given and got in a trade, and how much less (a share of 1) what is given counts."""

    give: list[TradedIn] = Field(max_length=200)
    get: list[TradedIn] = Field(max_length=200)
    discount: Share = "0"


class TradedOut(BaseModel):
    """A card of a trade, what one is worth and all copies are."""

    card: FoundOut
    value: Exact | None
    worth: Exact | None


class TradeOut(BaseModel):
    """A trade, and the cash that evens it (more than 0 is paid); money at home."""

    verdict: VerdictOut
    currency: str
    given: Exact
    got: Exact
    cash: Exact | None
    give: list[TradedOut]
    get: list[TradedOut]


class ChangedOut(BaseModel):
    """A held card whose value changed: what one was worth and is, and by how much all copies did (money at home)."""

    card: FoundOut
    state: str
    held: int
    before: Exact | None
    now: Exact | None
    change: Exact | None


class ChangesOut(BaseModel):
    """What changed since the last look (null: there was none), the most money first, of ``all_of`` in all."""

    verdict: VerdictOut
    since: datetime | None
    currency: str
    all_of: int
    rows: list[ChangedOut]


class SeenIn(Strict):
    """When the owner looked: now, ``at`` a time before, or ``never``."""

    at: AwareDatetime | None = None
    never: bool = False
