"""The Pricing step: ways of selling, and what a price nets."""

from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing.schemas import (
    AskingOut,
    AskOut,
    BesideOut,
    BracketOut,
    CardPriceQuery,
    ChangedOut,
    ChangesOut,
    CompChoiceIn,
    CompOut,
    CompPath,
    LadderOut,
    LookedUpOut,
    LookingOut,
    MeetingOut,
    NetOut,
    NetQuery,
    NextUpOut,
    OtherWayOut,
    PopulationsIn,
    PopulationsOut,
    PriceOut,
    ReleaseNameOut,
    SalesAddedOut,
    SalesIn,
    SeenIn,
    SideBySideOut,
    SideBySideQuery,
    StateWorthOut,
    TradedOut,
    TradeIn,
    TradeOut,
    TrendOut,
    WayIn,
    WayOut,
    WayPath,
    WaysOut,
)
from tobbix.core.base.errors import InputError
from tobbix.core.pricing.asking import state_assumed
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.pricing.trading import Traded
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.odds import plain
from tobbix.services.pricing import adding, looking_round, seeing, side_by_side, since, trading
from tobbix.services.pricing.ways import StoredWay, list_ways, remove_way, save_way, work_out_net

blueprint = APIBlueprint(
    "pricing",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="pricing", description="Ways of selling and what they leave")],
    operation_id_callback=operation_id,
)


_AMOUNTS = ("fixed_fee", "payment_share", "payment_fixed", "least", "shipping_charged", "postage", "packing", "lost",
            "tax")  # fmt: skip


def _show(stored: StoredWay) -> WayOut:
    way = stored.way
    kept = way.net(Decimal(10))
    return WayOut(
        id=way.id,
        version=stored.version,
        name=way.name,
        commission=[
            BracketOut(up_to=None if b.up_to is None else plain(b.up_to), share=plain(b.share)) for b in way.commission
        ],
        on=way.on,
        most=None if way.most is None else plain(way.most),
        example_net=f"{float(kept):.2f}",
        **{name: plain(getattr(way, name)) for name in _AMOUNTS},
    )


@blueprint.get("/ways", responses={200: WaysOut}, summary="Ways of selling")
@returns()
def read_ways() -> WaysOut:
    return WaysOut(ways=[_show(stored) for stored in list_ways(catalogue().database)])


@blueprint.put("/ways/<way>", responses={200: WayOut}, summary="Add or change a way of selling")
@returns()
def put_way(path: WayPath, body: WayIn) -> WayOut:
    way = SellingWay(
        path.way,
        body.name,
        tuple(Bracket(None if b.up_to is None else Decimal(b.up_to), Decimal(b.share or "0")) for b in body.commission),
        body.on,
        most=None if body.most is None else Decimal(body.most),
        **{name: Decimal(getattr(body, name) or "0") for name in _AMOUNTS},
    )
    return _show(save_way(catalogue().database, way, body.version))


@blueprint.delete("/ways/<way>", responses={200: WayOut}, summary="Take a way of selling out")
@returns()
def delete_way(path: WayPath) -> WayOut:
    return _show(remove_way(catalogue().database, path.way))


@blueprint.get("/ways/<way>/net", responses={200: NetOut}, summary="What a price nets, or what to list for a net")
@returns()
def read_net(path: WayPath, query: NetQuery) -> NetOut:
    if (query.price is None) == (query.net is None):
        raise InputError.at("price", "give either a price or the net that is wanted")
    price = None if query.price is None else Decimal(query.price)
    net = None if query.net is None else Decimal(query.net)
    found = work_out_net(catalogue().database, path.way, price, net)
    return NetOut(price=found.price, net=found.net)


@blueprint.get("/prices", responses={200: LookingOut}, summary="What to look up next, and what was looked up last")
@returns()
def look_round() -> LookingOut:
    found = looking_round.look_round(catalogue())
    return LookingOut(
        verdict=show_verdict(found.verdict), currency=found.currency, waiting=found.waiting,
        next_up=[NextUpOut.model_validate(it, from_attributes=True) for it in found.next_up],
        seen=[LookedUpOut.model_validate(it, from_attributes=True) for it in found.seen],
    )  # fmt: skip


@blueprint.get("/prices/side-by-side", responses={200: SideBySideOut}, summary="Many cards beside one another")
@returns()
def look_beside(query: SideBySideQuery) -> SideBySideOut:
    cost = None if query.cost is None else Decimal(query.cost)
    found = side_by_side.look_beside(catalogue(), query.release, query.state, query.grader, cost)
    return SideBySideOut(
        verdict=show_verdict(found.verdict), all_of=found.all_of, state=found.state, currency=found.currency,
        graders=list(found.graders), grades=list(found.grades),
        releases=[ReleaseNameOut(key=key, title=title) for key, title in found.releases],
        rows=[
            BesideOut(
                card=FoundOut.model_validate(row.card, from_attributes=True), held=row.held,
                value=row.value and row.value.amount, day=row.value and row.value.day,
                graded={grade: known.amount for grade, known in row.graded.items()}, gains=dict(row.gains),
                least=row.least,
            )
            for row in found.rows
        ],
    )  # fmt: skip


@blueprint.post("/prices/trade", responses={200: TradeOut}, summary="What evens a trade")
@returns()
def read_trade(body: TradeIn) -> TradeOut:
    give, get = (
        [trading.Wanted(it.version, it.state, it.count, None if it.value is None else Decimal(it.value)) for it in side]
        for side in (body.give, body.get)
    )
    found = trading.read_trade(catalogue(), give, get, Decimal(body.discount or "0"))

    def show(side: tuple[tuple[FoundCard, Traded], ...]) -> list[TradedOut]:
        return [
            TradedOut(card=FoundOut.model_validate(card, from_attributes=True), value=it.value, worth=it.worth)
            for card, it in side
        ]

    return TradeOut(
        verdict=show_verdict(found.trade.verdict), currency=found.currency, given=found.trade.given,
        got=found.trade.got, cash=found.trade.cash, give=show(found.give), get=show(found.get),
    )  # fmt: skip


@blueprint.get("/prices/changes", responses={200: ChangesOut}, summary="What changed since the last look")
@returns()
def read_changes() -> ChangesOut:
    found = since.read_changes(catalogue())
    return ChangesOut(
        verdict=show_verdict(found.verdict), since=found.since, currency=found.currency, all_of=found.all_of,
        rows=[
            ChangedOut(
                card=FoundOut.model_validate(row.card, from_attributes=True), state=row.state, held=row.held,
                before=row.before, now=row.now, change=row.change,
            )
            for row in found.rows
        ],
    )  # fmt: skip


@blueprint.put("/prices/changes/seen", responses={204: None}, summary="Say that one looked, or when")
@returns(204)
def mark_seen(body: SeenIn) -> None:
    since.mark_seen(catalogue(), body.at, body.never)


@blueprint.get("/prices/card", responses={200: PriceOut}, summary="What a card is worth by what was seen of it")
@returns()
def read_price(query: CardPriceQuery) -> PriceOut:
    view = seeing.read_price(
        catalogue(), query.release, query.line, query.number, query.variant, query.state, query.window,
        query.subgrades,
    )  # fmt: skip
    found, trend = view.found, view.found.trend
    return PriceOut(
        name=view.card.subject, release=view.card.release, release_title=view.card.release_title,
        line_name=view.card.line_name, number=view.card.number, state=view.state, window=view.window,
        currency=view.currency, verdict=show_verdict(view.verdict), used=found.used, estimate=found.estimate,
        weighted=view.weighted, school=view.school,
        last=found.last, mean=found.mean, median=found.median, low=found.low, high=found.high,
        interval_low=None if found.interval is None else found.interval.low,
        interval_high=None if found.interval is None else found.interval.high,
        confidence=None if found.interval is None else found.interval.confidence,
        trend=None if trend is None else TrendOut(
            per_30_days=trend.per_30_days, low=trend.low, high=trend.high, start_on=trend.start[0],
            start=trend.start[1], end_on=trend.end[0], end=trend.end[1], starts_at_extreme=trend.starts_at_extreme,
        ),
        sales_per_30_days=found.sales_per_30_days, days_since_last=found.days_since_last,
        months_of_supply=found.months_of_supply,
        thin=found.thin, stale=found.stale,
        asks=[AskOut.model_validate(ask, from_attributes=True) for ask in found.asks],
        book_low=None if found.book is None else found.book[0],
        book_high=None if found.book is None else found.book[1],
        assumed=state_assumed(found),
        asking=[AskingOut.model_validate(it, from_attributes=True) for it in view.asking], way=view.way,
        others=[OtherWayOut(way=name, nets=list(nets)) for name, nets in view.others],
        meeting=MeetingOut.model_validate(view.meeting, from_attributes=True),
        highest=view.highest and view.highest.amount, highest_on=view.highest and view.highest.day,
        states=[StateWorthOut.model_validate(it, from_attributes=True) for it in view.states],
        ladders=[LadderOut.model_validate(it, from_attributes=True) for it in view.ladders], gems=view.gems,
        subgrades=list(view.subgrades),
        elsewhere=[StateWorthOut.model_validate(it, from_attributes=True) for it in view.elsewhere],
        seen=[
            CompOut(
                number=it.number, kind=it.comp.kind, day=it.comp.day, price=it.comp.price, shipping=it.comp.shipping,
                tax=it.comp.tax, currency=it.comp.currency, state=it.comp.state, market=it.comp.market,
                bids=it.comp.bids, lot=it.comp.lot, note=it.comp.note, all_in=it.all_in, why=it.why,
                flagged=it.flagged, choice=it.choice,
            )
            for it in view.seen
        ],
    )  # fmt: skip


@blueprint.post("/prices/card", responses={200: SalesAddedOut}, summary="Add what was typed of a card's prices")
@returns()
def add_sales(body: SalesIn) -> SalesAddedOut:
    added = adding.add_sales(catalogue(), body.release, body.line, body.number, body.variant, body.text, body.state)
    return SalesAddedOut.model_validate(added, from_attributes=True)


@blueprint.post("/prices/card/populations", responses={200: PopulationsOut}, summary="Add populations of a card")
@returns()
def add_populations(body: PopulationsIn) -> PopulationsOut:
    card = (body.release, body.line, body.number, body.variant)
    return PopulationsOut(added=adding.add_populations(catalogue(), *card, body.text))


@blueprint.put("/comps/<int:number>/choice", responses={204: None}, summary="Keep a flagged price, or leave one out")
@returns(204)
def choose_comp(path: CompPath, body: CompChoiceIn) -> None:
    adding.choose_sale(catalogue(), path.number, body.choice)
