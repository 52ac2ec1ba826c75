"""What the Buying step takes and gives."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, Field, PlainSerializer, WithJsonSchema

from tobbix.api.base.fields import (
    Amount,
    Condition,
    Currency,
    Exact,
    Key,
    Rate,
    RowNumber,
    Share,
    Strict,
    VersionIn,
    Words,
)
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.buying.purchase import Bought
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.documents import Booked, Charge
from tobbix.core.holdings.states import ChargeKind
from tobbix.core.products.prospect import Prospect
from tobbix.services.buying import rates
from tobbix.services.buying.proposing import MeantThing


class ChargeIn(Strict):
    """A part of the cost, in its currency on the day that it was paid."""

    kind: Literal["price", "premium", "shipping", "tax", "duty", "other"]
    amount: Amount
    currency: Currency
    day: date
    purse: str = Field("bank", min_length=1, max_length=60)
    rate: Rate | None = None


class ThingIn(Strict):
    """A thing bought. ``value`` is of all of them, empty is unknown; ``weight`` of each, for a division by count."""

    kind: Literal["sealed", "card", "stack", "other"]
    name: str = Field(max_length=300)
    count: int = Field(1, ge=1, le=1_000_000)
    release: Key | None = None
    format: Key | None = None
    line: Key | None = None
    number: str | None = Field(None, max_length=200)
    value: Amount | None = None
    fixed: Amount | None = None
    gift: bool = False
    weight: Amount = "1"
    condition: Condition | None = None
    serial: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=100)
    variant: str | None = Field(None, max_length=60)


class PurchaseIn(Strict):
    """A purchase as typed. ``received_on`` empty: it is still on its way."""

    name: str = Field(max_length=200)
    bought_on: date
    charges: list[ChargeIn] = Field(max_length=50)
    things: list[ThingIn] = Field(max_length=500)
    method: Method = Method.VALUE
    seller: str | None = Field(None, max_length=200)
    received_on: date | None = None
    carrier: str | None = Field(None, max_length=100)
    tracking: str | None = Field(None, max_length=100)
    due_on: date | None = None
    entertainment: Share = "0"
    note: Words | None = None


class ProspectOut(Mirror, of=Prospect):
    """One box before it is opened: paid, sealed, what it holds, the most to pay, the chance that it holds less."""


class SpokenCostOut(BaseModel):
    """A part of the cost as it was said: its amount with the digits that were typed."""

    kind: str
    amount: Annotated[Decimal, PlainSerializer(str), WithJsonSchema({"type": "string"})]
    currency: str | None


class HomeOut(BaseModel):
    kind: str
    amount: Exact
    currency: str
    rate: Exact
    source: str
    home: Exact


class DivisionOut(BaseModel):
    """The landed cost and how it would be divided, in the order of the things; what opening one of each would bring,
    and what the month would come to."""

    verdict: VerdictOut
    currency: str
    charges: list[HomeOut]
    landed: Exact
    shares: list[Exact]
    prospects: list[ProspectOut | None]
    month: str
    spent: Exact
    after: Exact
    limit: Exact | None


class LineQuery(BaseModel):
    line: str = Field("", max_length=400)


class MeantOut(Mirror, of=MeantThing):
    """What the words of a line may mean."""


class SpokenOut(BaseModel):
    """A purchase said in one line, as it is understood: the likeliest thing first."""

    count: int
    things: list[MeantOut]
    costs: list[SpokenCostOut]
    seller: str
    knows_seller: bool
    bought_on: date | None
    is_here: bool


class ChargeOut(Mirror, of=Charge):
    """A part of a bill in its currency on its day, and at home at a rate (home units each); a refund is negative."""


class BoughtOut(Mirror, of=Bought, without=("version",)):
    """A thing of a purchase as it stands."""


class BookedOut(Mirror, of=Booked, without=("reverses",)):
    """What was booked; whether it may be taken back by itself, as far as nothing came after it."""

    can_be_taken_back: bool


class PurchaseOut(BaseModel):
    verdict: VerdictOut
    number: int
    version: int
    name: str
    currency: str
    seller: str | None
    bought_on: date
    state: Literal["ordered", "received", "disputed", "undone"]
    method: Method
    entertainment: Exact
    landed: Exact
    note: str | None
    carrier: str | None
    tracking: str | None
    due_on: date | None
    received_on: date | None
    dispute: str | None
    inspection: dict[str, bool | str | None] | None
    charges: list[ChargeOut]
    things: list[BoughtOut]
    history: list[BookedOut]


class PurchasesOut(BaseModel):
    verdict: VerdictOut
    currency: str
    purchases: list[PurchaseOut]


class NumberOut(BaseModel):
    number: int


class PurchasePath(BaseModel):
    number: RowNumber


class ReceiveIn(VersionIn):
    """What the inspection found: True, False, or nothing if nobody looked."""

    day: date
    seal: bool | None = None
    series: bool | None = None
    contents: bool | None = None
    note: str = Field("", max_length=300)


class DisputeIn(VersionIn):
    why: str = Field(max_length=300)


class RefundIn(VersionIn):
    amount: Amount
    currency: Currency
    day: date
    purse: str = Field("bank", min_length=1, max_length=60)
    rate: Rate | None = None


class LaterChargeIn(RefundIn):
    """A cost that comes after the purchase was booked."""

    kind: Literal["price", "premium", "shipping", "tax", "duty", "other"]


class PurchaseWordsIn(VersionIn):
    """What is said of a purchase beside its money."""

    name: str = Field(max_length=200)
    seller: str | None = Field(None, max_length=200)
    carrier: str | None = Field(None, max_length=100)
    tracking: str | None = Field(None, max_length=100)
    due_on: date | None = None
    note: Words | None = None


class PartIn(Strict):
    item: RowNumber
    value: Amount | None = None
    fixed: Amount | None = None
    gift: bool = False
    weight: Amount = "1"


class DivideIn(VersionIn):
    """``book`` false only shows the division."""

    method: Method
    parts: list[PartIn] = Field(max_length=500)
    book: bool


class SharesOut(BaseModel):
    shares: list[Exact]


class RateIn(Strict):
    currency: Currency
    day: date
    rate: Rate


class RateOut(Mirror, of=rates.Rate):
    """Home units for one of the currency, on a day."""


class RatesOut(BaseModel):
    """The newest rate of each currency from the feed, and those set by hand."""

    home: str
    rates: list[RateOut]


class RatePath(BaseModel):
    currency: Currency
    day: date


class FetchIn(Strict):
    """How many days back rates are taken from the feed."""

    days: int = Field(90, ge=1, le=1_000)


class CountOut(BaseModel):
    count: int


class BidQuery(BaseModel):
    """A resale net of ``net``, or of a ``price`` through a ``way``; for keeping a typed ``ceiling``. Shares: 0.25."""

    net: Amount | None = None
    price: Amount | None = None
    way: Key | None = None
    margin: Amount = "0"
    wanted_return: Amount = "0"
    ceiling: Amount | None = None
    premium: Share = "0"
    tax: Share = "0"
    shipping: Amount = "0"
    tax_on_shipping: bool = True
    increment: Amount = "0.01"


class WonQuery(BaseModel):
    """A bid that was won, with what comes on top of it. Shares: 0.25."""

    hammer: Amount
    premium: Share = "0"
    tax: Share = "0"
    shipping: Amount = "0"
    tax_on_shipping: bool = True


class BillPartOut(BaseModel):
    """A part of a bill at home."""

    kind: ChargeKind
    amount: Exact


class WonOut(BaseModel):
    """What a won bid costs, part by part."""

    parts: list[BillPartOut]


class BidOut(BaseModel):
    verdict: VerdictOut
    bid: Exact
    ceiling: float
    landed: float


class OfferIn(Strict):
    """Values with spaces between: of cards worth pulling, one by one, and of a sample of the rest, out of a collection
    of ``cards``. Shares: 0.25. What is left out takes nothing off."""

    sample: str = Field("", max_length=20_000)
    dear: str = Field("", max_length=20_000)
    cards: int = Field(ge=1, le=10_000_000)
    keeps: Share | None = None
    minutes_per_card: Amount | None = None
    hourly_rate: Amount | None = None
    margin: Share | None = None


class OfferOut(BaseModel):
    verdict: VerdictOut
    values: list[float]
    dear: int
    dear_value: float
    sample: int
    mean: float
    mean_low: float
    mean_high: float
    total: float
    total_low: float
    total_high: float
    fair: float
    top: float
