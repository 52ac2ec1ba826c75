"""What is sent and answered about listings, offers, sales files and ways out."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Condition, Exact, Key, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.stock.schemas import FilterQuery
from tobbix.core.planning.ways_out import Road
from tobbix.core.selling.listings import ListingKind, ListingState, Repriced
from tobbix.core.selling.sales_files import SaleColumn, SaleRow, UnsaidFees
from tobbix.services.selling.listings import StoredOffer
from tobbix.services.selling.markets import Told
from tobbix.services.selling.sales_files import PastSale

_MOST = 9_000_000_000_000
_Number = Annotated[int, Field(ge=1, le=_MOST)]
_Numbers = Annotated[list[_Number], Field(max_length=200)]
_Name = Annotated[str, StringConstraints(max_length=120)]
_Title = Annotated[str, StringConstraints(max_length=200)]
_Text = Annotated[str, StringConstraints(max_length=4000)]
_Moved = Annotated[str, StringConstraints(pattern=r"^-?[0-9]{1,3}(\.[0-9]{1,2})?$")]


class ListingPath(BaseModel):
    number: int = Field(ge=1, le=_MOST)


class OfferPath(BaseModel):
    number: int = Field(ge=1, le=_MOST)


class ListingWayPath(BaseModel):
    way: Key


class AskedOut(BaseModel):
    """A price to ask, what it nets (money), and about how many days it takes."""

    name: str
    price: Exact
    net: float | None
    days: float | None


class ProposeIn(Strict):
    """Things that are to be offered by a way of selling, or what a filter of the stock finds."""

    items: _Numbers = Field(default_factory=list)
    way: Key
    filter: FilterQuery | None = None


class ProposalOut(BaseModel):
    item: int
    name: str
    title: str
    words: str
    must: list[str]
    asking: list[AskedOut]
    value: Exact | None
    lowest: Exact | None
    count: int
    photos: list[int]
    place: str | None
    refused: str | None


class ProposalsOut(BaseModel):
    """How things would be offered; ``total`` how many there are in all, of which these come first."""

    proposals: list[ProposalOut]
    total: int
    can_be_asked: bool
    currency: str


class ListingIn(Strict):
    """A listing as it is typed; several things make one listing of all of them."""

    items: _Numbers
    price: Amount
    title: _Title | None = None
    words: _Text | None = None
    kind: ListingKind = ListingKind.FIXED
    lowest: Amount | None = None
    ends_on: date | None = None


class NewListingsIn(Strict):
    way: Key
    listings: list[ListingIn] = Field(max_length=200)


class ListingsMadeOut(BaseModel):
    numbers: list[int]


class ChangedListingIn(Strict):
    version: int = Field(ge=1)
    price: Amount
    title: _Title
    words: _Text
    kind: ListingKind = ListingKind.FIXED
    lowest: Amount | None = None
    ends_on: date | None = None


class ListingOfferOut(Mirror, of=StoredOffer):
    """An offer for a listing; ``between``: the middle between it and the price."""

    between: Exact


class ListedThingOut(BaseModel):
    item: int
    name: str


class ListingRowOut(BaseModel):
    """A listing of the list; ``old``: its price was not looked at for long."""

    number: int
    version: int
    way: str
    kind: ListingKind
    state: ListingState
    title: str
    words: str
    price: Exact
    currency: str
    lowest: Exact | None
    made_on: date
    listed_on: date | None
    ends_on: date | None
    priced_on: date
    ended_on: date | None
    reference: str | None
    document: int | None
    things: list[ListedThingOut]
    offers: list[ListingOfferOut]
    old: bool


class ListingsQuery(Strict):
    """A page of listings in a state, or of all that are open."""

    state: ListingState | None = None
    find: Annotated[str, StringConstraints(max_length=100)] = ""
    start: int = Field(0, ge=0, le=1_000_000)


class ListingCountOut(BaseModel):
    state: ListingState
    count: int


class ListingsOut(BaseModel):
    listings: list[ListingRowOut]
    more: bool
    counts: list[ListingCountOut]
    still_out: list[ListingRowOut]
    currency: str
    verdict: VerdictOut


class ListingOut(BaseModel):
    listing: ListingRowOut
    way: str
    must: list[str]
    untold: list[str]
    photos: list[int]
    chosen_photos: list[int]
    net: Exact
    asking: list[AskedOut]
    lowest: Exact | None


class ListingVersionIn(Strict):
    version: int = Field(ge=1)


class ListingPhotosIn(ListingVersionIn):
    """Which photos go with a listing, in which order."""

    photos: _Numbers


class SaleOfQuery(Strict):
    """For which offer it is sold; none: at its price."""

    offer: int | None = Field(None, ge=1, le=_MOST)


class SoldAsOut(BaseModel):
    item: int
    price: Exact


class SaleOfOut(BaseModel):
    """What a listing is sold as: each thing with its part of the price."""

    way: str
    buyer: str | None
    lines: list[SoldAsOut]


class NumbersIn(Strict):
    numbers: _Numbers


class ToldOut(Mirror, of=Told):
    """What came of one thing that was sent to a market or said by it."""


class AllToldOut(BaseModel):
    told: list[ToldOut]


class AskMarketsIn(Strict):
    """``on``: a day further on, which a simulated market can be asked about."""

    on: date | None = None


class RepriceIn(Strict):
    """New prices by a level, or by a share (percent) up or down; shown unless ``apply``."""

    numbers: _Numbers
    level: Literal["quick", "market", "patient"] | None = None
    percent: _Moved | None = None
    apply: bool = False


class RepricedOut(Mirror, of=Repriced):
    """A listing whose price changes."""


class AllRepricedOut(BaseModel):
    repriced: list[RepricedOut]


class NewOfferIn(Strict):
    amount: Amount
    buyer: _Name | None = None


class WeighOfferQuery(Strict):
    amount: Amount


class WeighedOfferOut(BaseModel):
    verdict: VerdictOut


class AnswerIn(Strict):
    answer: Literal["declined", "countered"]
    countered: Amount | None = None


class ListingHabitsOut(BaseModel):
    version: int
    pattern: str
    most: int
    columns: list[str]
    known_columns: list[str]
    known_words: list[str]


class ListingHabitsIn(Strict):
    version: int = Field(ge=0)
    pattern: Annotated[str, StringConstraints(max_length=300)]
    most: int = Field(ge=0, le=1_000)
    columns: list[Annotated[str, StringConstraints(max_length=40)]] = Field(max_length=30)


class FileQuery(Strict):
    """Which open listings; none: all of the way."""

    listings: Annotated[str, StringConstraints(max_length=2_000, pattern=r"^([0-9]{1,12}(,[0-9]{1,12})*)?$")] = ""


class PriceListQuery(Strict):
    """Which things; ``own``: with what is for their owner alone."""

    items: Annotated[str, StringConstraints(pattern=r"^[0-9]{1,12}(,[0-9]{1,12}){0,199}$")]
    own: bool = False


class SalesFileIn(Strict):
    """A text of sales as it came; columns as they are said (None: guessed, or as last time)."""

    text: Annotated[str, StringConstraints(max_length=2_000_000)]
    way: Key
    columns: list[SaleColumn] | None = Field(None, max_length=60)
    month_first: bool = False


class SaleRowOut(Mirror, of=SaleRow):
    """A row of sales as it was read."""


class ReadSaleOut(BaseModel):
    row: SaleRowOut
    listing: int | None
    items: list[int]
    problem: str | None
    is_there: bool


class SalesFileOut(BaseModel):
    head: list[str]
    has_head: bool
    columns: list[SaleColumn]
    remembered: bool
    rows: list[ReadSaleOut]


class TakeSalesIn(SalesFileIn):
    """Which rows are taken in as orders, and which as results of before the books; ``unsaid_fees``: what was kept where
    a row does not say it."""

    rows: list[int] = Field(max_length=2_000)
    before: list[int] = Field(max_length=2_000)
    market: _Name | None = None
    unsaid_fees: UnsaidFees | None = None


class RowLeftOut(BaseModel):
    row: int
    why: str


class SalesTakenOut(BaseModel):
    orders: list[int]
    past: int
    left: list[RowLeftOut]


class PastSaleOut(Mirror, of=PastSale):
    """A sale of before the books, with what it made (None: nobody remembers what it had cost)."""

    profit: Exact | None


class PastSalesOut(BaseModel):
    sales: list[PastSaleOut]
    currency: str


class SwappedIn(Strict):
    """A thing that comes in by a trade: its name, its keys where it is known, and what it is taken to be worth."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=300)]
    release: Annotated[str, StringConstraints(max_length=64)] | None = None
    line: Annotated[str, StringConstraints(max_length=64)] | None = None
    number: Annotated[str, StringConstraints(max_length=200)] | None = None
    variant: Annotated[str, StringConstraints(max_length=60)] = ""
    condition: Condition | None = None
    value: Amount | None = None


class NewSwapIn(Strict):
    """Things given for others, with the cash that evens it (``comes_in``: it is paid to you)."""

    day: date
    given: list[_Number] = Field(min_length=1, max_length=100)
    got: list[SwappedIn] = Field(min_length=1, max_length=100)
    party: _Name | None = None
    cash: Amount | None = None
    comes_in: bool = False
    purse: Annotated[str, StringConstraints(max_length=60)] = "cash"


class SwapMadeOut(BaseModel):
    items: list[int]


class WayOutOut(BaseModel):
    """A way out: what comes in (None: not known, and ``why``), when, what it costs and what it is worth today."""

    road: Road
    key: str
    name: str
    words: str
    comes: Exact | None
    days: int
    spent: Exact
    minutes: Exact
    today: Exact | None
    why: str
    assumed: bool
    chosen: bool


class PlanningTermsIn(Strict):
    """What time and waiting cost: an hour, a year (percent), minutes by road, days."""

    version: int = Field(ge=0)
    hourly: Amount
    yearly: Amount
    selling: Amount
    grading: Amount
    in_person: Amount
    lot: Amount
    other: Amount
    days: int = Field(ge=0, le=3_650)
    meeting_days: int = Field(ge=0, le=3_650)


class PlanningTermsOut(BaseModel):
    version: int
    hourly: Exact
    yearly: Exact
    selling: Exact
    grading: Exact
    in_person: Exact
    lot: Exact
    other: Exact
    days: int
    meeting_days: int


class WaysOutOut(BaseModel):
    item: int
    name: str
    ways: list[WayOutOut]
    spread: Exact | None
    margin: Exact | None
    close: bool
    chosen: bool
    terms: PlanningTermsOut
    currency: str
    verdict: VerdictOut


class ChooseWayIn(Strict):
    """Which way out the owner goes; no road: what is worth most."""

    road: Road | None = None
    key: Annotated[str, StringConstraints(max_length=64)] = ""
