"""What is sent and answered about orders, packing, parcels and supplies."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Currency, Exact, Key, Millimetres, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.holdings.documents import Booked, ParcelSeen
from tobbix.core.holdings.states import State
from tobbix.core.selling.claims import Claim
from tobbix.core.selling.orders import OrderStage, ParcelOnItsWay
from tobbix.core.selling.packing import Plan
from tobbix.core.selling.supplies import Role
from tobbix.services.selling.claims import ClassRecord
from tobbix.services.selling.payouts import OpenOrder
from tobbix.services.selling.viewing import OrderBrief, OrderLine

_Name = Annotated[str, StringConstraints(max_length=200)]


class OrderPath(BaseModel):
    number: RowNumber


class OrdersQuery(Strict):
    """A page of orders, of a stage or all."""

    stage: OrderStage | None = None
    find: Annotated[str, StringConstraints(max_length=100)] = ""
    start: int = Field(0, ge=0, le=1_000_000)


class OrderRowOut(Mirror, of=OrderBrief):
    """An order of the list."""


class StageCountOut(BaseModel):
    stage: OrderStage
    count: int


class OwedByMarketOut(BaseModel):
    market: str
    amount: Exact


class OrdersOut(BaseModel):
    orders: list[OrderRowOut]
    more: bool
    counts: list[StageCountOut]
    owed: list[OwedByMarketOut]
    currency: str
    verdict: VerdictOut


class SoldIn(Strict):
    """A thing that is sold, and what is paid for it."""

    item: RowNumber
    price: Amount


class NewOrderIn(Strict):
    """A sale: the money came into a purse, or a market owes it until it pays out; ``offer``: the one that it takes."""

    day: date
    lines: list[SoldIn] = Field(max_length=500)
    buyer: _Name | None = None
    reference: Annotated[str, StringConstraints(max_length=60)] | None = None
    way: Key | None = None
    market: _Name | None = None
    currency: Currency | None = None
    shipping: Amount = "0"
    fees: Amount = "0"
    purse: Annotated[str, StringConstraints(max_length=60)] = "bank"
    rate: Amount | None = None
    address: Annotated[str, StringConstraints(max_length=1000)] = ""
    handed_over: bool = False
    offer: RowNumber | None = None


class OrderMadeOut(BaseModel):
    number: int


class FeesIn(Strict):
    """What is asked of a way of selling: prices of things sold in one parcel, and the shipping that is charged."""

    way: Key
    prices: list[Amount] = Field(max_length=500)
    shipping: Amount = "0"


class FeesOut(BaseModel):
    fees: Exact


class OrderLineOut(Mirror, of=OrderLine):
    """A thing of an order."""

    state: State


class SaleResultOut(BaseModel):
    """What a sale made (money at home)."""

    brought: Exact
    fees: Exact
    postage: Exact
    supplies: Exact
    cost: Exact | None
    profit: Exact | None


class OrderParcelOut(Mirror, of=ParcelSeen):
    """A parcel of the order."""


class OrderBookedOut(Mirror, of=Booked):
    can_be_taken_back: bool


class OrderOut(BaseModel):
    """An order with its things, parcels, history and what it made."""

    number: int
    version: int
    reference: str
    stage: OrderStage
    day: date
    buyer: str | None
    way: str | None
    address: str
    shipping: Exact
    currency: str
    home: str
    packed_on: date | None
    complaint: str | None
    claim_until: date | None
    lines: list[OrderLineOut]
    result: SaleResultOut
    parcels: list[OrderParcelOut]
    history: list[OrderBookedOut]
    verdict: VerdictOut


class PackingQuery(Strict):
    """By the class ``way``, or the one that was chosen, or the cheapest."""

    way: _Name | None = None


class PackingWayOut(Mirror, of=Plan, without=("steps", "used", "size")):
    """The best plan of a class."""

    size: list[Exact]
    expected_cost: Exact


class RefusedWayOut(BaseModel):
    way: str
    why: str


class UsedOut(BaseModel):
    name: str
    count: int


class PackingOut(BaseModel):
    """How an order is packed: ways that fit and those that do not, and the steps of the one that is followed."""

    version: int
    ways: list[PackingWayOut]
    refused: list[RefusedWayOut]
    chosen: str | None
    carrier: str | None
    steps: list[str]
    used: list[UsedOut]
    ticked: list[str]
    confirmed: list[int]
    value: Exact
    currency: str
    tracked: bool
    missing: str | None
    by_hand: bool
    verdict: VerdictOut


class TickedIn(Strict):
    """Steps that are done, in their words, and things that were confirmed by a key."""

    version: int = Field(ge=0)
    ticked: list[Annotated[str, StringConstraints(max_length=500)]] = Field(max_length=60)
    confirmed: list[RowNumber] = Field(max_length=500)


class OrderVersionOut(BaseModel):
    version: int


class MailWayIn(Strict):
    version: int = Field(ge=0)
    way: _Name


class PackedIn(Strict):
    version: int = Field(ge=0)


class PostedIn(Strict):
    """It is posted; no cost: as planned."""

    version: int = Field(ge=0)
    day: date
    tracking: Annotated[str, StringConstraints(max_length=100)] | None = None
    cost: Amount | None = None
    purse: Annotated[str, StringConstraints(max_length=60)] = "bank"


class ArrivedIn(Strict):
    day: date


class ComplaintIn(Strict):
    """What the buyer complains of; None: it is settled."""

    complaint: Annotated[str, StringConstraints(max_length=500)] | None = None


class RefundedIn(Strict):
    """Money back for some things that came back (``returned``) or that the buyer keeps, of the order's currency."""

    day: date
    lines: list[SoldIn] = Field(max_length=500)
    purse: Annotated[str, StringConstraints(max_length=60)] = "bank"
    returned: bool = False
    rate: Amount | None = None


class AddressIn(Strict):
    version: int = Field(ge=0)
    address: Annotated[str, StringConstraints(max_length=1000)]


class PayoutIn(Strict):
    """A market pays out (money at home), for some orders or just so much; ``as_fee``: where it is not what those orders
    have open, it kept the difference as a fee."""

    market: _Name
    amount: Amount
    day: date
    purse: Annotated[str, StringConstraints(max_length=60)] = "bank"
    orders: list[int] = Field(default_factory=list, max_length=1_000)
    as_fee: bool = False


class PayoutOut(BaseModel):
    left: Exact


class MarketQuery(Strict):
    market: _Name


class OpenOrderOut(Mirror, of=OpenOrder):
    """An order that a market has not paid out (money at home)."""


class OpenOrdersOut(BaseModel):
    """What a market owes, by its orders; ``rest`` is of none of them."""

    orders: list[OpenOrderOut]
    rest: Exact


class LabelsQuery(Strict):
    """Orders by their numbers, with commas between."""

    orders: Annotated[str, StringConstraints(max_length=4_000, pattern=r"^[0-9]{1,13}(,[0-9]{1,13})*$")]


class ParcelRowOut(Mirror, of=ParcelOnItsWay):
    late: bool
    days: int | None


class ClassRecordOut(Mirror, of=ClassRecord):
    """What the own parcels of a class say."""


class ParcelsOut(BaseModel):
    parcels: list[ParcelRowOut]
    classes: list[ClassRecordOut]
    verdict: VerdictOut


class SupplyIn(Strict):
    """A supply by its sizes (mm: width, height, thickness); an outer without a thickness grows with its content."""

    version: int = Field(0, ge=0)
    name: Annotated[str, StringConstraints(max_length=120)]
    role: Role
    inside: list[Millimetres] | None = Field(None, min_length=3, max_length=3)
    outside: list[Millimetres | None] | None = Field(None, min_length=3, max_length=3)
    adds: list[Millimetres] | None = Field(None, min_length=3, max_length=3)
    wall: Millimetres = "0"
    weight: Millimetres = "0"
    cost: Amount = "0"
    rigid: bool = False


class SupplyOut(BaseModel):
    """A supply; ``count`` in stock (None: never counted), ``each`` what the next one costs, ``used`` in ninety days."""

    number: int
    version: int
    name: str
    role: Role
    inside: list[Exact] | None
    outside: list[Exact | None] | None
    adds: list[Exact] | None
    wall: Exact
    weight: Exact
    cost: Exact
    rigid: bool
    count: int | None
    each: Exact
    used: int


class SuppliesOut(BaseModel):
    supplies: list[SupplyOut]
    currency: str
    verdict: VerdictOut


class SupplyMadeOut(BaseModel):
    number: int


class BegunOut(BaseModel):
    added: int


class PackingHabitsIn(Strict):
    """From which value on a parcel is tracked (None: never), and the sender as labels have it."""

    version: int = Field(ge=0)
    tracking_from: Amount | None
    sender: list[Annotated[str, StringConstraints(max_length=80)]] = Field(max_length=6)


class PackingHabitsOut(BaseModel):
    version: int
    tracking_from: Exact | None
    sender: list[str]


class ClaimOut(Mirror, of=Claim):
    """A claim for a parcel."""


class ClaimViewOut(BaseModel):
    claim: ClaimOut | None
    most: Exact
    until: str | None
    papers: list[str]
    currency: str


class ClaimIn(Strict):
    version: int = Field(ge=0)
    amount: Amount
    words: Annotated[str, StringConstraints(max_length=1000)]


class ClaimSettledIn(Strict):
    """What came in for a claim; nothing: it was refused."""

    version: int = Field(ge=1)
    paid: Amount | None = None
    purse: Annotated[str, StringConstraints(max_length=60)] = "bank"
