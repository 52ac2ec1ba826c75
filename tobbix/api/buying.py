"""The Buying step: purchases, parcels, rates, the most to bid, offers for collections."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Literal

from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from tobbix.api.context import context, workshop
from tobbix.api.documenting import operation_id, returns
from tobbix.api.fields import Amount, Currency, Exact, Key, Once, Share, Strict, Words
from tobbix.api.verdicts import VerdictOut, show_verdict
from tobbix.core.base.errors import InputError
from tobbix.core.buying.bidding import (
    AuctionTerms,
    landed_ceiling,
    most_to_bid,
    offer_for_collection,
    state_bid,
)
from tobbix.core.buying.summary import state_buying
from tobbix.core.holdings.allocation import Method
from tobbix.services.buying import purchasing
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.pricing.ways import work_out_net

blueprint = APIBlueprint(
    "buying",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="buying", description="What was bought, and what it really cost")],
    operation_id_callback=operation_id,
)


class ChargeIn(Strict):
    """A part of the cost, in its currency on the day that it was paid."""

    kind: Literal["price", "premium", "shipping", "tax", "duty", "other"]
    amount: Amount
    currency: Currency
    day: date
    purse: str = Field("bank", min_length=1, max_length=60)


class ThingIn(Strict):
    """A thing bought. ``value`` is of all of them; empty is unknown."""

    kind: Literal["sealed", "card", "stack", "other"]
    name: str = Field(min_length=1, max_length=300)
    count: int = Field(1, ge=1, le=1_000_000)
    release: Key | None = None
    format: Key | None = None
    line: Key | None = None
    number: str | None = Field(None, max_length=200)
    value: Amount | None = None
    fixed: Amount | None = None
    gift: bool = False


class PurchaseIn(Strict):
    """A purchase as typed. ``received_on`` empty: it is still on its way."""

    name: str = Field(min_length=1, max_length=200)
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


class RecordIn(PurchaseIn):
    """``once`` is any text of the sender's own: sent twice with the same, it is kept once."""

    once: Once


class HomeOut(BaseModel):
    kind: str
    amount: Exact
    currency: str
    rate: Exact
    source: str
    home: Exact


class DivisionOut(BaseModel):
    """The landed cost and how it would be divided, in the order of the things."""

    currency: str
    charges: list[HomeOut]
    landed: Exact
    shares: list[Exact]


class ChargeOut(BaseModel):
    kind: str
    amount: Exact
    currency: str
    day: date
    rate: Exact
    home: Exact
    purse: str


class BoughtOut(BaseModel):
    """A thing of a purchase as it stands."""

    number: int
    kind: str
    name: str
    count: int
    state: str
    basis: Exact | None
    value: Exact | None
    fixed: Exact | None
    gift: bool
    release: str | None
    format: str | None


class HistoryOut(BaseModel):
    number: int
    day: date
    event: str
    text: str


class PurchaseOut(BaseModel):
    number: int
    version: int
    name: str
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
    history: list[HistoryOut]


class PurchasesOut(BaseModel):
    verdict: VerdictOut
    currency: str
    purchases: list[PurchaseOut]


class NumberOut(BaseModel):
    number: int


class PurchasePath(BaseModel):
    number: int = Field(ge=1, le=9_000_000_000_000)


class VersionIn(Strict):
    version: int = Field(ge=0, le=2_000_000_000)


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


class PartIn(Strict):
    item: int = Field(ge=1, le=9_000_000_000_000)
    value: Amount | None = None
    fixed: Amount | None = None
    gift: bool = False


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
    rate: str = Field(pattern=r"^\d{1,6}(\.\d{1,8})?$")


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


class BidOut(BaseModel):
    verdict: VerdictOut
    bid: Exact
    ceiling: float
    landed: float


class OfferIn(Strict):
    """Values of cards taken at random from a collection of ``cards``."""

    sample: list[float] = Field(min_length=2, max_length=5_000)
    cards: int = Field(ge=2, le=10_000_000)
    keeps: float = Field(0.8, ge=0, le=1)
    minutes_per_card: float = Field(0.5, ge=0, le=1_000)
    hourly_rate: float = Field(10, ge=0, le=100_000)
    margin: float = Field(0.2, ge=0, le=1)


class OfferOut(BaseModel):
    sample: int
    mean: float
    mean_low: float
    mean_high: float
    total: float
    total_low: float
    total_high: float
    fair: float
    top: float


def _decimal(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text)


def _said(body: PurchaseIn) -> purchasing.PurchaseSaid:
    plain = body.model_dump(exclude={"charges", "things", "entertainment", "once"})
    charges = [purchasing.ChargeSaid(c.kind, Decimal(c.amount), c.currency, c.day, c.purse) for c in body.charges]
    things = [
        purchasing.ThingSaid(**{**t.model_dump(), "value": _decimal(t.value), "fixed": _decimal(t.fixed)})
        for t in body.things
    ]
    return purchasing.PurchaseSaid(
        charges=tuple(charges), things=tuple(things), entertainment=Decimal(body.entertainment or "0"), **plain
    )


def show_purchase(found: purchasing.Purchase) -> PurchaseOut:
    row, parcel = found.row, found.parcel
    return PurchaseOut(
        number=row.id, version=row.version, name=row.name, seller=row.seller, bought_on=row.bought_on,
        state=row.state, method=Method(row.method), entertainment=row.entertainment, landed=row.landed, note=row.note,
        carrier=parcel and parcel.carrier, tracking=parcel and parcel.tracking, due_on=parcel and parcel.due_on,
        received_on=parcel and parcel.received_on, dispute=parcel and parcel.dispute,
        inspection=parcel and parcel.inspection,
        charges=[ChargeOut.model_validate(c, from_attributes=True) for c in found.charges],
        things=[
            BoughtOut(
                number=i.id, kind=i.kind, name=i.name, count=i.count, state=i.state, basis=i.basis, value=i.value,
                fixed=i.fixed, gift=i.gift, release=i.release, format=i.format,
            )
            for i in found.items
        ],
        history=[HistoryOut(number=e.id, day=e.day, event=e.event, text=e.text) for e in found.history],
    )  # fmt: skip


@blueprint.get("/purchases", responses={200: PurchasesOut}, summary="What was bought")
@returns()
def list_purchases() -> PurchasesOut:
    found = purchasing.list_purchases(workshop().database)
    currency = read_preferences(workshop().database).currency
    rows = [(p.row.state, p.row.landed, p.parcel.due_on if p.parcel else None) for p in found]
    verdict = show_verdict(state_buying(rows, workshop().today(), currency))
    return PurchasesOut(verdict=verdict, currency=currency, purchases=[show_purchase(p) for p in found])


@blueprint.get("/purchases/<int:number>", responses={200: PurchaseOut}, summary="A purchase")
@returns()
def read_purchase(path: PurchasePath) -> PurchaseOut:
    return show_purchase(purchasing.read_purchase(workshop().database, path.number))


@blueprint.post("/purchases/preview", responses={200: DivisionOut}, summary="Landed cost and division, not booked")
@returns()
def preview_purchase(body: PurchaseIn) -> DivisionOut:
    found = purchasing.preview_purchase(workshop().database, _said(body), workshop().today())
    charges = [
        HomeOut(
            kind=c.said.kind, amount=c.said.amount, currency=c.said.currency, rate=c.rate, source=c.source, home=c.home
        )
        for c in found.charges
    ]
    return DivisionOut(currency=found.currency, charges=charges, landed=found.landed, shares=list(found.shares))


@blueprint.post("/purchases", responses={201: NumberOut}, summary="Record a purchase")
@returns(201)
def record_purchase(body: RecordIn) -> NumberOut:
    number = purchasing.record_purchase(workshop().database, _said(body), body.once, workshop().today())
    return NumberOut(number=number)


@blueprint.post("/purchases/<int:number>/receive", responses={200: PurchaseOut}, summary="Receive and inspect")
@returns()
def receive_purchase(path: PurchasePath, body: ReceiveIn) -> PurchaseOut:
    found = purchasing.Inspection(body.seal, body.series, body.contents, body.note)
    purchasing.receive_purchase(workshop().database, path.number, body.version, body.day, found)
    return read_after(path.number)


def read_after(number: int) -> PurchaseOut:
    return show_purchase(purchasing.read_purchase(workshop().database, number))


@blueprint.put("/purchases/<int:number>/dispute", responses={200: PurchaseOut}, summary="Dispute, or close it")
@returns()
def dispute_purchase(path: PurchasePath, body: DisputeIn) -> PurchaseOut:
    purchasing.dispute_purchase(workshop().database, path.number, body.version, body.why)
    return read_after(path.number)


@blueprint.post("/purchases/<int:number>/refund", responses={200: PurchaseOut}, summary="Money back")
@returns()
def refund_purchase(path: PurchasePath, body: RefundIn) -> PurchaseOut:
    said = purchasing.ChargeSaid("other", Decimal(body.amount), body.currency, body.day, body.purse)
    purchasing.refund_purchase(workshop().database, path.number, body.version, said)
    return read_after(path.number)


@blueprint.post("/purchases/<int:number>/divide", responses={200: SharesOut}, summary="Divide the cost again")
@returns()
def divide_purchase(path: PurchasePath, body: DivideIn) -> SharesOut:
    parts = [purchasing.PartSaid(p.item, _decimal(p.value), _decimal(p.fixed), p.gift) for p in body.parts]
    shares = purchasing.divide_again(
        workshop().database, path.number, body.version, body.method, parts, workshop().today(), body.book
    )
    return SharesOut(shares=list(shares))


@blueprint.post("/purchases/<int:number>/undo", responses={200: PurchaseOut}, summary="Take a purchase back")
@returns()
def undo_purchase(path: PurchasePath, body: VersionIn) -> PurchaseOut:
    purchasing.undo_purchase(workshop().database, path.number, body.version, workshop().today())
    return read_after(path.number)


@blueprint.post("/rates/fetch", responses={200: CountOut}, summary="Take exchange rates from the feed")
@returns()
def fetch_rates(body: FetchIn) -> CountOut:
    today = workshop().today()
    count = purchasing.fetch_rates(workshop().database, context().rates, today - timedelta(days=body.days), today)
    return CountOut(count=count)


@blueprint.put("/rates", responses={204: None}, summary="Set a rate by hand")
@returns(204)
def set_rate(body: RateIn) -> None:
    purchasing.set_rate(workshop().database, body.currency, body.day, Decimal(body.rate))


@blueprint.get("/bid", responses={200: BidOut}, summary="The most to bid")
@returns()
def read_bid(query: BidQuery) -> BidOut:
    terms = AuctionTerms(
        Decimal(query.premium or "0"), Decimal(query.tax or "0"), Decimal(query.shipping), query.tax_on_shipping,
        Decimal(query.increment),
    )  # fmt: skip
    net = _decimal(query.net)
    if query.price is not None:
        if query.way is None:
            raise InputError.at("way", "say through which way it sells at that price")
        net = work_out_net(workshop().database, query.way, Decimal(query.price), None).net
    ceiling = landed_ceiling(net, Decimal(query.margin), Decimal(query.wanted_return), _decimal(query.ceiling))
    bid = most_to_bid(ceiling, terms)
    currency = read_preferences(workshop().database).currency
    verdict = show_verdict(state_bid(bid, ceiling, terms, currency))
    return BidOut(verdict=verdict, bid=bid, ceiling=float(ceiling), landed=float(terms.landed(bid)))


@blueprint.post("/offer", responses={200: OfferOut}, summary="An offer for a collection, from a sample")
@returns()
def read_offer(body: OfferIn) -> OfferOut:
    found = offer_for_collection(
        body.sample, body.cards, body.keeps, body.minutes_per_card, body.hourly_rate, body.margin
    )
    return OfferOut.model_validate(found, from_attributes=True)
