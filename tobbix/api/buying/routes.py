"""The Buying step: purchases, parcels, rates, the most to bid, offers for collections."""

from datetime import timedelta
from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.acts import key_or_fresh
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import VersionIn
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.buying.schemas import (
    BidOut,
    BidQuery,
    BillPartOut,
    BookedOut,
    BoughtOut,
    ChargeOut,
    CountOut,
    DisputeIn,
    DivideIn,
    DivisionOut,
    FetchIn,
    HomeOut,
    LaterChargeIn,
    LineQuery,
    NumberOut,
    OfferIn,
    OfferOut,
    ProspectOut,
    PurchaseIn,
    PurchaseOut,
    PurchasePath,
    PurchasesOut,
    PurchaseWordsIn,
    RateIn,
    RateOut,
    RatePath,
    RatesOut,
    ReceiveIn,
    RefundIn,
    SharesOut,
    SpokenOut,
    WonOut,
    WonQuery,
)
from tobbix.core.base.errors import InputError
from tobbix.core.base.money import minor_units
from tobbix.core.buying.bidding import (
    AuctionTerms,
    Work,
    bill_of,
    landed_ceiling,
    most_to_bid,
    offer_for_collection,
    read_sample,
    state_bid,
    state_offer,
)
from tobbix.core.buying.purchase import Purchase
from tobbix.core.buying.summary import Planned, state_buying, state_planned, state_purchase
from tobbix.core.holdings.states import Kind
from tobbix.core.planning.spending import month_with
from tobbix.core.products.prospect import Prospect
from tobbix.services.buying import amending, booking, proposing, purchasing, rates
from tobbix.services.installation.preferences import read_preferences, read_spending
from tobbix.services.pricing.ways import work_out_net

blueprint = APIBlueprint(
    "buying",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="buying", description="What was bought, and what it really cost")],
    operation_id_callback=operation_id,
)


def _decimal(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text)


def _said(body: PurchaseIn) -> purchasing.PurchaseInput:
    plain = body.model_dump(exclude={"charges", "things", "entertainment"})
    charges = [
        booking.ChargeInput(c.kind, Decimal(c.amount), c.currency, c.day, c.purse, _decimal(c.rate))
        for c in body.charges
    ]
    things = [
        purchasing.ThingInput(
            **{**t.model_dump(), "value": _decimal(t.value), "fixed": _decimal(t.fixed), "weight": Decimal(t.weight)}
        )
        for t in body.things
    ]
    return purchasing.PurchaseInput(
        charges=tuple(charges), things=tuple(things), entertainment=Decimal(body.entertainment or "0"), **plain
    )


def show_purchase(found: Purchase, currency: str, prospect: Prospect | None = None) -> PurchaseOut:
    parcel = found.parcel
    return PurchaseOut(
        verdict=show_verdict(state_purchase(found, currency, prospect)), number=found.number, version=found.version,
        currency=currency,
        name=found.name, seller=found.seller, bought_on=found.bought_on, state=found.state.value, method=found.method,
        entertainment=found.entertainment, landed=found.landed, note=found.note,
        carrier=parcel and parcel.carrier, tracking=parcel and parcel.tracking, due_on=parcel and parcel.due_on,
        received_on=parcel and parcel.received_on, dispute=parcel and parcel.dispute,
        inspection=parcel and parcel.inspection,
        charges=[ChargeOut.model_validate(c, from_attributes=True) for c in found.charges],
        things=[BoughtOut.model_validate(t, from_attributes=True) for t in found.things],
        history=[BookedOut.model_validate(e, from_attributes=True) for e in found.history],
    )  # fmt: skip


@blueprint.get("/purchases", responses={200: PurchasesOut}, summary="What was bought")
@returns()
def list_purchases() -> PurchasesOut:
    found = purchasing.list_purchases(catalogue().database)
    currency = read_preferences(catalogue().database).currency
    rows = [(p.state, p.landed, p.parcel.due_on if p.parcel else None) for p in found]
    verdict = show_verdict(state_buying(rows, catalogue().today(), currency))
    return PurchasesOut(verdict=verdict, currency=currency, purchases=[show_purchase(p, currency) for p in found])


@blueprint.get("/purchases/<int:number>", responses={200: PurchaseOut}, summary="A purchase")
@returns()
def read_purchase(path: PurchasePath) -> PurchaseOut:
    return read_after(path.number)


@blueprint.post("/purchases/preview", responses={200: DivisionOut}, summary="Landed cost and division, not booked")
@returns()
def preview_purchase(body: PurchaseIn) -> DivisionOut:
    said = _said(body)
    found = purchasing.preview_purchase(catalogue().database, said, catalogue().today())
    prospects = proposing.foresee_boxes(
        catalogue(),
        [(t.release, t.format, t.count, share) for t, share in zip(said.things, found.shares, strict=True)],
    )
    spent, _ = read_spending(catalogue().database, catalogue().today())
    after = month_with(spent, [(c.said.day, c.home) for c in found.charges], catalogue().today())
    thing = said.things[0]
    planned = Planned(
        thing.name or said.name,
        thing.count,
        len(said.things),
        found.landed,
        prospects[0],
        spent.month,
        after,
        spent.limit,
    )
    charges = [
        HomeOut(
            kind=c.said.kind, amount=c.said.amount, currency=c.said.currency, rate=c.rate, source=c.source, home=c.home
        )
        for c in found.charges
    ]
    return DivisionOut(
        verdict=show_verdict(state_planned(planned, found.currency)),
        currency=found.currency,
        charges=charges,
        landed=found.landed,
        shares=list(found.shares),
        prospects=[None if it is None else ProspectOut.model_validate(it, from_attributes=True) for it in prospects],
        month=spent.month,
        spent=spent.total,
        after=after,
        limit=spent.limit,
    )


@blueprint.get("/purchases/reading", responses={200: SpokenOut}, summary="What a line of words means")
@returns()
def read_line(query: LineQuery) -> SpokenOut:
    return SpokenOut.model_validate(proposing.understand(catalogue(), query.line), from_attributes=True)


@blueprint.post("/purchases", responses={201: NumberOut}, summary="Record a purchase")
@returns(201)
def record_purchase(body: PurchaseIn) -> NumberOut:
    number = purchasing.record_purchase(catalogue().database, _said(body), key_or_fresh(), catalogue().today())
    return NumberOut(number=number)


@blueprint.post("/purchases/<int:number>/receive", responses={200: PurchaseOut}, summary="Receive and inspect")
@returns()
def receive_purchase(path: PurchasePath, body: ReceiveIn) -> PurchaseOut:
    found = purchasing.Inspection(body.seal, body.series, body.contents, body.note)
    purchasing.receive_purchase(catalogue().database, path.number, body.version, body.day, found)
    return read_after(path.number)


def read_after(number: int) -> PurchaseOut:
    currency = read_preferences(catalogue().database).currency
    found = purchasing.read_purchase(catalogue().database, number)
    box = next((thing for thing in found.things if thing.kind == Kind.SEALED and thing.count), None)
    prospect = None
    if box is not None:
        prospect = proposing.foresee_boxes(catalogue(), [(box.release, box.format, box.count, box.basis)])[0]
    return show_purchase(found, currency, prospect)


@blueprint.put("/purchases/<int:number>/dispute", responses={200: PurchaseOut}, summary="Dispute, or close it")
@returns()
def dispute_purchase(path: PurchasePath, body: DisputeIn) -> PurchaseOut:
    amending.dispute_purchase(catalogue().database, path.number, body.version, body.why)
    return read_after(path.number)


@blueprint.post("/purchases/<int:number>/refund", responses={200: PurchaseOut}, summary="Money back")
@returns()
def refund_purchase(path: PurchasePath, body: RefundIn) -> PurchaseOut:
    said = _charge("other", body)
    amending.refund_purchase(catalogue().database, path.number, body.version, said)
    return read_after(path.number)


def _charge(kind: str, body: RefundIn) -> booking.ChargeInput:
    if body.day > catalogue().today():
        raise InputError.at("day", "is still to come")
    return booking.ChargeInput(kind, Decimal(body.amount), body.currency, body.day, body.purse, _decimal(body.rate))


@blueprint.post("/purchases/<int:number>/charges", responses={200: PurchaseOut}, summary="A cost that comes later")
@returns()
def add_charge(path: PurchasePath, body: LaterChargeIn) -> PurchaseOut:
    amending.add_charge(catalogue().database, path.number, body.version, _charge(body.kind, body))
    return read_after(path.number)


@blueprint.put("/purchases/<int:number>", responses={200: PurchaseOut}, summary="Correct what is said of it")
@returns()
def correct_purchase(path: PurchasePath, body: PurchaseWordsIn) -> PurchaseOut:
    said = amending.PurchaseWords(**body.model_dump(exclude={"version"}))
    amending.correct_purchase(catalogue().database, path.number, body.version, said)
    return read_after(path.number)


@blueprint.post("/purchases/<int:number>/divide", responses={200: SharesOut}, summary="Divide the cost again")
@returns()
def divide_purchase(path: PurchasePath, body: DivideIn) -> SharesOut:
    parts = [
        amending.PartInput(p.item, _decimal(p.value), _decimal(p.fixed), p.gift, Decimal(p.weight)) for p in body.parts
    ]
    shares = amending.divide_again(
        catalogue().database, path.number, body.version, body.method, parts, catalogue().today(), body.book
    )
    return SharesOut(shares=list(shares))


@blueprint.post("/purchases/<int:number>/undo", responses={200: PurchaseOut}, summary="Take a purchase back")
@returns()
def undo_purchase(path: PurchasePath, body: VersionIn) -> PurchaseOut:
    amending.undo_purchase(catalogue().database, path.number, body.version, catalogue().today())
    return read_after(path.number)


@blueprint.post("/rates/fetch", responses={200: CountOut}, summary="Take exchange rates from the feed")
@returns()
def fetch_rates(body: FetchIn) -> CountOut:
    today = catalogue().today()
    count = rates.fetch_rates(catalogue().database, context().rates, today - timedelta(days=body.days), today)
    return CountOut(count=count)


@blueprint.get("/rates", responses={200: RatesOut}, summary="Exchange rates")
@returns()
def list_rates() -> RatesOut:
    home, found = rates.list_rates(catalogue().database)
    return RatesOut(home=home, rates=[RateOut.model_validate(rate, from_attributes=True) for rate in found])


@blueprint.delete("/rates/<currency>/<day>", responses={204: None}, summary="Take a rate set by hand back")
@returns(204)
def forget_rate(path: RatePath) -> None:
    rates.forget_rate(catalogue().database, path.currency, path.day, catalogue().today())


@blueprint.put("/rates", responses={204: None}, summary="Set a rate by hand")
@returns(204)
def set_rate(body: RateIn) -> None:
    rates.set_rate(catalogue().database, body.currency, body.day, Decimal(body.rate), catalogue().today())


@blueprint.get("/bid/won", responses={200: WonOut}, summary="The bill of a won bid")
@returns()
def read_won(query: WonQuery) -> WonOut:
    terms = AuctionTerms(
        Decimal(query.premium or "0"), Decimal(query.tax or "0"), Decimal(query.shipping), query.tax_on_shipping
    )
    home = read_preferences(catalogue().database).currency
    bill = bill_of(Decimal(query.hammer), terms, minor_units(home))
    return WonOut(parts=[BillPartOut(kind=kind, amount=amount) for kind, amount in bill])


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
        net = work_out_net(catalogue().database, query.way, Decimal(query.price), None).net
    ceiling = landed_ceiling(net, Decimal(query.margin), Decimal(query.wanted_return), _decimal(query.ceiling))
    bid = most_to_bid(ceiling, terms)
    currency = read_preferences(catalogue().database).currency
    verdict = show_verdict(state_bid(bid, ceiling, terms, currency))
    return BidOut(verdict=verdict, bid=bid, ceiling=float(ceiling), landed=float(terms.landed(bid)))


@blueprint.post("/offer", responses={200: OfferOut}, summary="An offer for a collection, from a sample")
@returns()
def work_out_offer(body: OfferIn) -> OfferOut:
    sample, dear = read_sample(body.sample), read_sample(body.dear, "dear")
    keeps, margin = float(body.keeps or 1), float(body.margin or 0)
    work = Work(keeps, float(body.minutes_per_card or 0), float(body.hourly_rate or 0), margin)
    found = offer_for_collection(sample, body.cards, work, dear)
    currency = read_preferences(catalogue().database).currency
    return OfferOut(
        verdict=show_verdict(state_offer(found, body.cards, currency)),
        values=[*dear, *sample],
        **{name: getattr(found, name) for name in OfferOut.model_fields if hasattr(found, name)},
    )
