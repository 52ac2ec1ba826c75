"""The Selling step: listings, offers, and markets that are asked."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import date
from decimal import Decimal
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.selling import listing_schemas as schemas
from tobbix.api.selling.routes import PAGE, PDF, TAG, send_file
from tobbix.api.tasks.schemas import TaskOut, TaskPath, show_task
from tobbix.core.base.money import minor_units
from tobbix.core.pricing.asking import Asking
from tobbix.core.selling.listings import COLUMNS, OPEN, WORDS, Errand, between
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.selling import listings, markets, offers, papers, proposing
from tobbix.services.selling.listings import ListingSaid, StoredListing
from tobbix.services.selling.proposing import ListingHabits

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


@blueprint.post("/listings/put-up", responses={200: TaskOut}, summary="Put drafted listings up")
@returns()
def put_up_listings(body: schemas.NumbersIn) -> TaskOut:
    return _errand(Errand.PUT_UP, body.numbers)


def _errand(errand: Errand, numbers: Sequence[int] = (), on: date | None = None) -> TaskOut:
    task = markets.ask_errand(catalogue(), context().markets, errand, numbers, on)
    return show_task(task)


@blueprint.post("/listings/ask", responses={200: TaskOut}, summary="Ask markets what became of listings")
@returns()
def ask_markets(body: schemas.AskMarketsIn) -> TaskOut:
    return _errand(Errand.NEWS, on=body.on)


@blueprint.post("/listings/take-off", responses={200: TaskOut}, summary="Take off what ended here")
@returns()
def take_off_listings() -> TaskOut:
    return _errand(Errand.TAKE_OFF)


@blueprint.get("/listings/errands/<int:number>", responses={200: schemas.ErrandOut}, summary="What came of asking")
@returns()
def read_errand(path: TaskPath) -> schemas.ErrandOut:
    task, told = markets.read_errand(catalogue(), path.number)
    shown = [schemas.ToldOut.model_validate(it) for it in told]
    return schemas.ErrandOut(task=show_task(task), told=shown)


@blueprint.post("/listings/reprice", responses={200: schemas.AllRepricedOut}, summary="New prices of listings")
@returns()
def reprice_listings(body: schemas.RepriceIn) -> schemas.AllRepricedOut:
    share = None if body.percent is None else Decimal(body.percent) / 100
    found = offers.reprice(catalogue(), body.numbers, body.level, share, body.apply)
    return schemas.AllRepricedOut(repriced=[schemas.RepricedOut.model_validate(it) for it in found])


@blueprint.post("/listings/<int:number>/end", responses={200: schemas.EndedOut}, summary="End a listing")
@returns()
def end_listing(path: schemas.ListingPath, body: schemas.ListingVersionIn) -> schemas.EndedOut:
    told, task = markets.take_off(catalogue(), context().markets, path.number, body.version)
    return schemas.EndedOut(text=told.text, errand=None if task is None else task.number)


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
    parts = listings.stream_photos(catalogue(), path.way, numbers)
    return send_file(parts, "application/zip", f"photos-{path.way}.zip")
