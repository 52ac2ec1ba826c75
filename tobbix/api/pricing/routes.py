"""The Pricing step: ways of selling, and what a price nets."""

from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.pricing.schemas import BracketOut, NetOut, NetQuery, WayIn, WayOut, WayPath, WaysOut
from tobbix.core.base.errors import InputError
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.products.odds import plain
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
