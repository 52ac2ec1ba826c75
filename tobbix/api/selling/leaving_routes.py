"""The Selling step: sales by file, trades, sales of before the books, and which way out a thing goes."""

from dataclasses import fields, replace
from decimal import Decimal

from flask_openapi3 import APIBlueprint

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.selling import leaving_schemas as schemas
from tobbix.api.selling.routes import TAG
from tobbix.api.stock.schemas import ItemPath
from tobbix.core.planning.ways_out import PlanningTerms, say_road
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.selling import sales_files, trading, ways_out
from tobbix.services.selling.sales_files import SalesSaid
from tobbix.services.stock.taking_in import CardInput, name_of

blueprint = APIBlueprint("leaving", __name__, url_prefix="/api", abp_tags=[TAG], operation_id_callback=operation_id)


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
def remove_past_sale(path: schemas.PastSalePath) -> None:
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
