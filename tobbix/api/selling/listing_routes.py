"""The Selling step: listings, offers, markets that are asked, sales by file, and which way out a thing goes."""

from collections.abc import Sequence
from dataclasses import asdict, fields, replace
from decimal import Decimal
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.selling import listing_schemas as schemas
from tobbix.api.selling.routes import PAGE, PDF, TAG, send_file
from tobbix.api.stock.schemas import ItemPath
from tobbix.core.base.money import minor_units
from tobbix.core.planning.ways_out import PlanningTerms, say_road
from tobbix.core.pricing.asking import Asking
from tobbix.core.selling.listings import COLUMNS, OPEN, WORDS, between
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.selling import listings, markets, offers, papers, proposing, sales_files, trading, ways_out
from tobbix.services.selling.listings import ListingSaid, StoredListing
from tobbix.services.selling.proposing import ListingHabits
from tobbix.services.selling.sales_files import SalesSaid
from tobbix.services.stock.taking_in import CardInput, name_of

blueprint = APIBlueprint("listings", __name__, url_prefix="/api", abp_tags=[TAG], operation_id_callback=operation_id)
_ZIP: dict[Any, Any] = {200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}}
_CSV: dict[Any, Any] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}


def _asked(asking: Sequence[Asking]) -> list[schemas.AskedOut]:
    return [schemas.AskedOut(name=it.name, price=it.price, net=it.net, days=it.days) for it in asking]


@blueprint.post("/listings/proposals", responses={200: schemas.ProposalsOut}, summary="How things would be offered")
@returns()
def propose_listings(body: schemas.ProposeIn) -> schemas.ProposalsOut:
    wanted = None if body.filter is None else body.filter.wanted()
    found, total = proposing.propose(catalogue(), body.items, body.way, wanted)
    same = ("item", "name", "count", "title", "words", "value", "lowest", "place", "refused")
    return schemas.ProposalsOut(
        proposals=[
            schemas.ProposalOut(
                must=list(it.must), photos=list(it.photos), asking=_asked(it.asking),
                **{name: getattr(it, name) for name in same},
            )  # fmt: skip
            for it in found
        ],
        total=total, can_be_asked=body.way in markets.services_by_way(catalogue(), context().markets),
        currency=read_preferences(catalogue().database).currency,
    )  # fmt: skip


def _said(it: schemas.ListingIn | schemas.ChangedListingIn) -> ListingSaid:
    items = tuple(it.items) if isinstance(it, schemas.ListingIn) else ()
    lowest = None if it.lowest is None else Decimal(it.lowest)
    return ListingSaid(items, Decimal(it.price), it.title, it.words, it.kind, lowest, it.ends_on)


@blueprint.post("/listings", responses={201: schemas.ListingsMadeOut}, summary="Draft listings")
@returns(201)
def add_listings(body: schemas.NewListingsIn) -> schemas.ListingsMadeOut:
    return schemas.ListingsMadeOut(numbers=listings.draft(catalogue(), body.way, [_said(it) for it in body.listings]))


def _row(it: StoredListing) -> schemas.ListingRowOut:
    same = [name for name in schemas.ListingRowOut.model_fields if name not in ("things", "offers", "old")]
    today, step = catalogue().today(), Decimal(1).scaleb(-minor_units(it.currency))
    return schemas.ListingRowOut(
        things=[schemas.ListedThingOut(item=item, name=name) for item, name in it.things],
        offers=[
            schemas.ListingOfferOut(between=between(it.price, offer.amount, step), **asdict(offer))
            for offer in it.offers
        ],
        old=it.is_old(today),
        **{name: getattr(it, name) for name in same},
    )  # fmt: skip


@blueprint.get("/listings", responses={200: schemas.ListingsOut}, summary="Listings, the newest first")
@returns()
def list_listings(query: schemas.ListingsQuery) -> schemas.ListingsOut:
    states = OPEN if query.state is None else (query.state,)
    found = listings.list_listings(catalogue(), states, query.find, query.start, PAGE)
    return schemas.ListingsOut(
        listings=[_row(it) for it in found.rows], more=found.more,
        counts=[schemas.ListingCountOut(state=state, count=count) for state, count in found.counts.items()],
        still_out=[_row(it) for it in markets.list_still_out(catalogue())],
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/listings/<int:number>", responses={200: schemas.ListingOut}, summary="A listing")
@returns()
def read_listing(path: schemas.ListingPath) -> schemas.ListingOut:
    found = listings.read_listing(catalogue(), path.number)
    return schemas.ListingOut(
        listing=_row(found.stored), way=found.way, must=list(found.must),
        untold=list(found.untold), photos=list(found.photos),
        chosen_photos=list(found.chosen), net=found.net, asking=_asked(found.asking),
        lowest=found.lowest,
    )  # fmt: skip


@blueprint.put("/listings/<int:number>", responses={204: None}, summary="Say a listing anew")
@returns(204)
def change_listing(path: schemas.ListingPath, body: schemas.ChangedListingIn) -> None:
    listings.change_listing(catalogue(), path.number, body.version, _said(body))


@blueprint.put("/listings/<int:number>/photos", responses={204: None}, summary="Which photos go with a listing")
@returns(204)
def choose_listing_photos(path: schemas.ListingPath, body: schemas.ListingPhotosIn) -> None:
    listings.choose_photos(catalogue(), path.number, body.version, body.photos)


@blueprint.get("/listings/<int:number>/sale", responses={200: schemas.SaleOfOut}, summary="What a listing is sold as")
@returns()
def read_sale_of(path: schemas.ListingPath, query: schemas.SaleOfQuery) -> schemas.SaleOfOut:
    found = offers.sale_of(catalogue(), path.number, query.offer)
    lines = [schemas.SoldAsOut(item=item, price=price) for item, price in found.prices.items()]
    return schemas.SaleOfOut(way=found.way, buyer=found.buyer, lines=lines)


@blueprint.post("/listings/put-up", responses={200: schemas.AllToldOut}, summary="Put drafted listings up")
@returns()
def put_up_listings(body: schemas.NumbersIn) -> schemas.AllToldOut:
    return _told(markets.send_out(catalogue(), context().markets, body.numbers))


def _told(told: Sequence[markets.Told]) -> schemas.AllToldOut:
    return schemas.AllToldOut(told=[schemas.ToldOut.model_validate(it) for it in told])


@blueprint.post("/listings/ask", responses={200: schemas.AllToldOut}, summary="Ask markets what became of listings")
@returns()
def ask_markets(body: schemas.AskMarketsIn) -> schemas.AllToldOut:
    return _told(markets.ask_markets(catalogue(), context().markets, body.on))


@blueprint.post("/listings/take-off", responses={200: schemas.AllToldOut}, summary="Take off what ended here")
@returns()
def take_off_listings() -> schemas.AllToldOut:
    return _told(markets.withdraw_all(catalogue(), context().markets))


@blueprint.post("/listings/reprice", responses={200: schemas.AllRepricedOut}, summary="New prices of listings")
@returns()
def reprice_listings(body: schemas.RepriceIn) -> schemas.AllRepricedOut:
    share = None if body.percent is None else Decimal(body.percent) / 100
    found = offers.reprice(catalogue(), body.numbers, body.level, share, body.apply)
    return schemas.AllRepricedOut(repriced=[schemas.RepricedOut.model_validate(it) for it in found])


@blueprint.post("/listings/<int:number>/end", responses={200: schemas.AllToldOut}, summary="End a listing")
@returns()
def end_listing(path: schemas.ListingPath, body: schemas.ListingVersionIn) -> schemas.AllToldOut:
    return _told([markets.take_off(catalogue(), context().markets, path.number, body.version)])


@blueprint.post("/listings/<int:number>/relist", responses={204: None}, summary="An ended listing is a draft again")
@returns(204)
def relist(path: schemas.ListingPath) -> None:
    listings.relist(catalogue(), path.number)


@blueprint.post("/listings/<int:number>/offers", responses={204: None}, summary="Somebody offers for a listing")
@returns(204)
def add_offer(path: schemas.ListingPath, body: schemas.NewOfferIn) -> None:
    offers.make_offer(catalogue(), path.number, body.buyer, Decimal(body.amount))


@blueprint.get(
    "/listings/<int:number>/offer-weighed", responses={200: schemas.WeighedOfferOut}, summary="Is an offer enough"
)
@returns()
def weigh_offer(path: schemas.ListingPath, query: schemas.WeighOfferQuery) -> schemas.WeighedOfferOut:
    found = offers.weigh_offer(catalogue(), path.number, Decimal(query.amount))
    return schemas.WeighedOfferOut(verdict=show_verdict(found))


@blueprint.post("/listing-offers/<int:number>", responses={204: None}, summary="Answer an offer")
@returns(204)
def answer_offer(path: schemas.OfferPath, body: schemas.AnswerIn) -> None:
    countered = None if body.countered is None else Decimal(body.countered)
    offers.answer_offer(catalogue(), path.number, body.answer, countered)


@blueprint.get("/listing-habits/<way>", responses={200: schemas.ListingHabitsOut}, summary="How listings are written")
@returns()
def read_listing_habits(path: schemas.ListingWayPath) -> schemas.ListingHabitsOut:
    found, version = proposing.read_habits(catalogue(), path.way)
    return schemas.ListingHabitsOut(
        version=version, pattern=found.pattern, most=found.most, columns=list(found.columns),
        known_columns=list(COLUMNS), known_words=list(WORDS),
    )  # fmt: skip


@blueprint.put("/listing-habits/<way>", responses={204: None}, summary="Write listings otherwise")
@returns(204)
def save_listing_habits(path: schemas.ListingWayPath, body: schemas.ListingHabitsIn) -> None:
    said = ListingHabits(body.pattern, body.most, tuple(body.columns))
    proposing.save_habits(catalogue(), path.way, said, body.version)


@blueprint.get("/price-list.pdf", responses=PDF, summary="What things cost at a table")
def write_price_list(query: schemas.PriceListQuery) -> Response:
    numbers = [int(it) for it in query.items.split(",")]
    name = "prices-own.pdf" if query.own else "prices.pdf"
    return send_file(papers.write_price_list(catalogue(), numbers, query.own), "application/pdf", name)


@blueprint.get("/listing-files/<way>", responses=_CSV, summary="Open listings as a market wants them")
def write_listings(path: schemas.ListingWayPath, query: schemas.FileQuery) -> Response:
    numbers = [int(it) for it in query.listings.split(",") if it]
    content = listings.write_listings(catalogue(), path.way, numbers)
    return send_file(content, "text/csv; charset=utf-8", f"listings-{path.way}.csv")


@blueprint.get("/listing-photos/<way>", responses=_ZIP, summary="The photos of open listings")
def write_listing_photos(path: schemas.ListingWayPath, query: schemas.FileQuery) -> Response:
    numbers = [int(it) for it in query.listings.split(",") if it]
    content = listings.write_photos(catalogue(), path.way, numbers)
    return send_file(content, "application/zip", f"photos-{path.way}.zip")


def _sales(body: schemas.SalesFileIn) -> SalesSaid:
    return SalesSaid(body.text, body.way, None if body.columns is None else tuple(body.columns), body.month_first)


@blueprint.post("/sales-files", responses={200: schemas.SalesFileOut}, summary="Read a file of sales")
@returns()
def read_sales_file(body: schemas.SalesFileIn) -> schemas.SalesFileOut:
    found = sales_files.read_sales_file(catalogue(), _sales(body))
    return schemas.SalesFileOut(
        head=list(found.table.head), has_head=found.table.has_head, columns=list(found.columns),
        remembered=found.remembered,
        rows=[
            schemas.ReadSaleOut(
                row=schemas.SaleRowOut.model_validate(it.row), listing=it.listing, items=list(it.items),
                problem=it.problem, is_there=it.is_there,
            )
            for it in found.rows
        ],
    )  # fmt: skip


@blueprint.post("/sales-files/taken", responses={200: schemas.SalesTakenOut}, summary="Take sales in")
@returns()
def take_sales(body: schemas.TakeSalesIn) -> schemas.SalesTakenOut:
    said = replace(_sales(body), unsaid_fees=body.unsaid_fees)
    found = sales_files.take_sales(catalogue(), said, body.rows, body.before, body.market)
    left = [schemas.RowLeftOut(row=row, why=why) for row, why in found.left]
    return schemas.SalesTakenOut(orders=list(found.orders), past=found.past, left=left)


@blueprint.post("/trades", responses={201: schemas.SwapMadeOut}, summary="Things are traded for others")
@returns(201)
def add_trade(body: schemas.NewSwapIn) -> schemas.SwapMadeOut:
    home = read_preferences(catalogue().database).currency
    paid = Decimal(body.cash or 0)
    cash = ChargeInput("price", paid, home, body.day, body.purse) if paid else None
    got = [
        CardInput(
            it.name, name_of(it.release, it.line, it.number, it.variant), condition=it.condition,
            value=None if it.value is None else Decimal(it.value),
        )
        for it in body.got
    ]  # fmt: skip
    made = trading.trade(catalogue().database, body.given, got, body.day, body.party, cash, body.comes_in)
    return schemas.SwapMadeOut(items=made)


@blueprint.get("/past-sales", responses={200: schemas.PastSalesOut}, summary="Sales of before the books")
@returns()
def list_past_sales() -> schemas.PastSalesOut:
    found = sales_files.list_past_sales(catalogue())
    return schemas.PastSalesOut(
        sales=[schemas.PastSaleOut.model_validate(it) for it in found],
        currency=read_preferences(catalogue().database).currency,
    )  # fmt: skip


@blueprint.delete("/past-sales/<int:number>", responses={204: None}, summary="It was no sale")
@returns(204)
def remove_past_sale(path: schemas.ListingPath) -> None:
    sales_files.remove_past_sale(catalogue(), path.number)


@blueprint.get("/items/<int:number>/ways-out", responses={200: schemas.WaysOutOut}, summary="Every way out of a thing")
@returns()
def read_ways_out(path: ItemPath) -> schemas.WaysOutOut:
    found = ways_out.read_ways(catalogue(), path.number)
    terms = {it.name: getattr(found.kept.terms, it.name) for it in fields(PlanningTerms)}
    return schemas.WaysOutOut(
        item=found.item, name=found.name,
        ways=[
            schemas.WayOutOut(
                road=it.way.road, key=it.way.key, name=it.way.name, words=say_road(it.way), comes=it.way.comes,
                days=it.way.days, spent=it.way.spent, minutes=it.way.minutes,
                today=None if it.today is None else round(it.today, 2), why=it.way.why, assumed=it.way.assumed,
                chosen=(it.way.road, it.way.key) == found.chosen,
            )
            for it in found.found.ways
        ],
        spread=found.found.spread, margin=None if found.found.margin is None else round(found.found.margin, 2),
        close=found.found.is_close, chosen=found.chosen is not None,
        terms=schemas.PlanningTermsOut(version=found.kept.version, **terms), currency=found.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.put("/items/<int:number>/way-out", responses={204: None}, summary="Choose which way out a thing goes")
@returns(204)
def choose_way_out(path: ItemPath, body: schemas.ChooseWayIn) -> None:
    ways_out.choose(catalogue(), path.number, None if body.road is None else (body.road, body.key))


@blueprint.put("/planning-terms", responses={204: None}, summary="What time and waiting cost")
@returns(204)
def save_planning_terms(body: schemas.PlanningTermsIn) -> None:
    amounts = {
        name: Decimal(getattr(body, name)) for name in ("hourly", "selling", "grading", "in_person", "lot", "other")
    }
    terms = PlanningTerms(
        yearly=Decimal(body.yearly), days=body.days, meeting_days=body.meeting_days, **amounts
    )  # fmt: skip
    ways_out.save_terms(catalogue(), terms, body.version)
