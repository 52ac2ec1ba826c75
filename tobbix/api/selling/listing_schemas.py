"""What is sent and answered about listings, offers and markets that are asked."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.stock.schemas import FilterQuery
from tobbix.api.tasks.schemas import TaskOut
from tobbix.core.selling.listings import ListingKind, ListingState, Repriced
from tobbix.services.selling.listings import StoredOffer
from tobbix.services.selling.markets import Told

_Numbers = Annotated[list[RowNumber], Field(max_length=200)]
_Name = Annotated[str, StringConstraints(max_length=120)]
_Title = Annotated[str, StringConstraints(max_length=200)]
_Text = Annotated[str, StringConstraints(max_length=4000)]
_Moved = Annotated[str, StringConstraints(pattern=r"^-?[0-9]{1,3}(\.[0-9]{1,2})?$")]


class ListingPath(BaseModel):
    number: RowNumber


class OfferPath(BaseModel):
    number: RowNumber


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

    offer: RowNumber | None = None


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


class EndedOut(BaseModel):
    """A listing that ended: what came of it in words, and the errand that takes it off at its market, if one does."""

    text: str
    errand: int | None


class ErrandOut(BaseModel):
    """How far markets were asked, and once it is done what came of it."""

    task: TaskOut
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
