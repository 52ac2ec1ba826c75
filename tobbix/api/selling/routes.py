"""The Selling step: orders from the sale to what they made."""

from collections.abc import Iterator
from decimal import Decimal
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.selling import schemas
from tobbix.services.books import taking_back
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.selling import orders, packing, papers, payouts, viewing
from tobbix.services.selling.orders import SaleInput

PAGE = 50
TAG = Tag(name="selling", description="Orders, packing, parcels, supplies")
blueprint = APIBlueprint("orders", __name__, url_prefix="/api", abp_tags=[TAG], operation_id_callback=operation_id)
PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


def send_file(content: bytes | Iterator[bytes], kind: str, name: str) -> Response:
    """A file to be kept under a name, whole or part by part."""
    response = Response(content, content_type=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@blueprint.get("/orders", responses={200: schemas.OrdersOut}, summary="Orders, the newest first")
@returns()
def list_orders(query: schemas.OrdersQuery) -> schemas.OrdersOut:
    found = viewing.list_orders(catalogue(), query.stage, query.find, query.start, PAGE)
    return schemas.OrdersOut(
        orders=[schemas.OrderRowOut.model_validate(it) for it in found.rows], more=found.more,
        counts=[schemas.StageCountOut(stage=stage, count=count) for stage, count in found.counts.items()],
        owed=[schemas.OwedByMarketOut(market=market, amount=amount) for market, amount in found.owed],
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.post("/orders", responses={201: schemas.OrderMadeOut}, summary="Something is sold")
@returns(201)
def add_order(body: schemas.NewOrderIn) -> schemas.OrderMadeOut:
    said = SaleInput(
        body.day, {it.item: Decimal(it.price) for it in body.lines}, body.buyer, body.currency,
        Decimal(body.shipping), Decimal(body.fees), body.purse, None if body.rate is None else Decimal(body.rate),
        reference=body.reference, way=body.way, market=body.market, address=body.address, handed_over=body.handed_over,
        offer=body.offer,
    )  # fmt: skip
    return schemas.OrderMadeOut(number=orders.sell(catalogue().database, said))


@blueprint.post("/orders/fees", responses={200: schemas.FeesOut}, summary="What a way of selling would keep")
@returns()
def quote_fees(body: schemas.FeesIn) -> schemas.FeesOut:
    prices = [Decimal(it) for it in body.prices]
    return schemas.FeesOut(fees=viewing.quote_fees(catalogue(), body.way, prices, Decimal(body.shipping)))


@blueprint.post("/orders/payouts", responses={200: schemas.PayoutOut}, summary="A market pays out")
@returns()
def take_payout(body: schemas.PayoutIn) -> schemas.PayoutOut:
    currency = read_preferences(catalogue().database).currency
    cash = ChargeInput("other", Decimal(body.amount), currency, body.day, body.purse)
    return schemas.PayoutOut(left=payouts.take_payout(catalogue(), body.market, cash, body.orders, body.as_fee))


@blueprint.get("/orders/owed", responses={200: schemas.OpenOrdersOut}, summary="What a market has not paid out")
@returns()
def list_open_orders(query: schemas.MarketQuery) -> schemas.OpenOrdersOut:
    found, rest = payouts.list_open(catalogue(), query.market)
    return schemas.OpenOrdersOut(orders=[schemas.OpenOrderOut.model_validate(it) for it in found], rest=rest)


@blueprint.get("/orders/picking.pdf", responses=PDF, summary="What is to be fetched, by place")
def read_picking_list() -> Response:
    return send_file(papers.write_picking_list(catalogue()), "application/pdf", "to-fetch.pdf")


@blueprint.get("/orders/labels.pdf", responses=PDF, summary="Labels of many orders on sheets")
def read_labels(query: schemas.LabelsQuery) -> Response:
    numbers = [int(it) for it in query.orders.split(",")]
    return send_file(papers.write_labels(catalogue(), numbers), "application/pdf", "labels.pdf")


def _show(number: int) -> schemas.OrderOut:
    found = viewing.read_order(catalogue(), number)
    it = found.stored
    return schemas.OrderOut(
        number=it.document, version=it.version, reference=it.reference, stage=found.stage, day=found.day,
        buyer=found.buyer, way=it.way, address=it.address, shipping=it.shipping, currency=it.currency,
        home=found.currency, packed_on=it.packed_on, complaint=it.complaint,
        claim_until=(it.post or {}).get("claim_until"),
        lines=[schemas.OrderLineOut.model_validate(line) for line in it.lines],
        result=schemas.SaleResultOut(
            brought=found.result.brought, fees=found.result.fees, postage=found.result.postage,
            supplies=found.result.supplies, cost=found.result.cost, profit=found.result.profit,
        ),
        parcels=[schemas.OrderParcelOut.model_validate(each) for each in found.parcels],
        history=[schemas.OrderBookedOut.model_validate(each) for each in found.booked],
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/orders/<int:number>", responses={200: schemas.OrderOut}, summary="An order")
@returns()
def read_order(path: schemas.OrderPath) -> schemas.OrderOut:
    return _show(path.number)


@blueprint.put("/orders/<int:number>/address", responses={200: schemas.OrderOut}, summary="Where an order goes")
@returns()
def change_address(path: schemas.OrderPath, body: schemas.AddressIn) -> schemas.OrderOut:
    orders.change_address(catalogue().database, path.number, body.version, body.address)
    return _show(path.number)


@blueprint.get("/orders/<int:number>/packing", responses={200: schemas.PackingOut}, summary="How it is packed")
@returns()
def read_packing(path: schemas.OrderPath, query: schemas.PackingQuery) -> schemas.PackingOut:
    found = packing.read_packing(catalogue(), path.number, query.way)
    plan = found.plan
    tracked = {it.id: it.tracked for it in found.parcel.classes}
    return schemas.PackingOut(
        version=found.order.version,
        ways=[
            schemas.PackingWayOut(
                size=list(it.size), expected_cost=it.expected_cost,
                **{name: getattr(it, name) for name in schemas.PackingWayOut.model_fields
                   if name not in ("size", "expected_cost")},
            )
            for it in found.ways
        ],
        refused=[schemas.RefusedWayOut(way=way, why=why) for way, why in found.refused],
        chosen=None if plan is None else plan.mail_class, carrier=found.carrier,
        steps=[] if plan is None else list(plan.steps),
        used=[] if plan is None else [schemas.UsedOut(name=name, count=count) for name, count in plan.used],
        ticked=list(found.order.ticked), confirmed=list(found.order.confirmed), value=found.parcel.value,
        currency=found.parcel.currency, tracked=plan is not None and tracked[plan.mail_class],
        missing=found.missing, by_hand=found.by_hand, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.put("/orders/<int:number>/steps", responses={200: schemas.OrderVersionOut}, summary="Steps that are done")
@returns()
def tick_steps(path: schemas.OrderPath, body: schemas.TickedIn) -> schemas.OrderVersionOut:
    version = packing.tick(catalogue(), path.number, body.version, body.ticked, body.confirmed)
    return schemas.OrderVersionOut(version=version)


@blueprint.put("/orders/<int:number>/way", responses={204: None}, summary="Go by another class")
@returns(204)
def choose_way(path: schemas.OrderPath, body: schemas.MailWayIn) -> None:
    packing.choose_way(catalogue(), path.number, body.version, body.way)


@blueprint.post("/orders/<int:number>/cancelled", responses={204: None}, summary="It is cancelled before it is posted")
@returns(204)
def cancel_order(path: schemas.OrderPath, body: schemas.PackedIn) -> None:
    taking_back.cancel_order(catalogue(), path.number, body.version)


@blueprint.post("/orders/<int:number>/packed", responses={200: schemas.OrderOut}, summary="It is packed")
@returns()
def pack_order(path: schemas.OrderPath, body: schemas.PackedIn) -> schemas.OrderOut:
    packing.pack(catalogue(), path.number, body.version)
    return _show(path.number)


@blueprint.delete("/orders/<int:number>/packed", responses={204: None}, summary="It is not packed after all")
@returns(204)
def unpack_order(path: schemas.OrderPath) -> None:
    packing.unpack(catalogue(), path.number)


@blueprint.post("/orders/<int:number>/posted", responses={200: schemas.OrderOut}, summary="It is posted")
@returns()
def post_order(path: schemas.OrderPath, body: schemas.PostedIn) -> schemas.OrderOut:
    cost = None if body.cost is None else Decimal(body.cost)
    said = packing.PostedInput(body.day, body.tracking, cost, body.purse)
    packing.post(catalogue(), path.number, body.version, said)
    return _show(path.number)


@blueprint.delete("/orders/<int:number>/posted", responses={204: None}, summary="It was not posted after all")
@returns(204)
def unpost_order(path: schemas.OrderPath) -> None:
    packing.unpost_order(catalogue(), path.number)


@blueprint.post("/orders/<int:number>/arrived", responses={200: schemas.OrderOut}, summary="The buyer has it")
@returns()
def order_arrived(path: schemas.OrderPath, body: schemas.ArrivedIn) -> schemas.OrderOut:
    packing.arrive(catalogue(), path.number, body.day)
    return _show(path.number)


@blueprint.put("/orders/<int:number>/complaint", responses={200: schemas.OrderOut}, summary="The buyer complains")
@returns()
def complain(path: schemas.OrderPath, body: schemas.ComplaintIn) -> schemas.OrderOut:
    packing.complain(catalogue(), path.number, body.complaint)
    return _show(path.number)


@blueprint.post("/orders/<int:number>/refunds", responses={200: schemas.OrderOut}, summary="Money back to the buyer")
@returns()
def pay_back(path: schemas.OrderPath, body: schemas.RefundedIn) -> schemas.OrderOut:
    view = viewing.read_order(catalogue(), path.number)
    refunded = {it.item: Decimal(it.price) for it in body.lines}
    total = sum(refunded.values(), Decimal(0))
    paid = ChargeInput("price", total, view.stored.currency, body.day, body.purse,
                       None if body.rate is None else Decimal(body.rate))  # fmt: skip
    orders.pay_back(catalogue().database, path.number, refunded, paid, body.returned)
    return _show(path.number)


@blueprint.get("/orders/<int:number>/slip.pdf", responses=PDF, summary="The slip of an order")
def read_slip(path: schemas.OrderPath) -> Response:
    return send_file(papers.write_slip(catalogue(), path.number), "application/pdf", f"slip-{path.number}.pdf")


@blueprint.get("/orders/<int:number>/customs.pdf", responses=PDF, summary="What an order holds, for the customs")
def read_customs_form(path: schemas.OrderPath) -> Response:
    return send_file(papers.write_customs_form(catalogue(), path.number), "application/pdf", "customs.pdf")


@blueprint.get("/orders/<int:number>/label.pdf", responses=PDF, summary="The label of an order")
def read_order_label(path: schemas.OrderPath) -> Response:
    return send_file(papers.write_order_label(catalogue(), path.number), "application/pdf", f"label-{path.number}.pdf")
