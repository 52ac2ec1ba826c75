"""The Selling step: parcels on their way, and what there is to pack with."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.selling import schemas
from tobbix.api.selling.routes import TAG, send_file
from tobbix.core.selling.packing import Size
from tobbix.core.selling.supplies import Supply
from tobbix.services.selling import claims, habits, parcels, supplies
from tobbix.services.selling.supplies import SupplyRow

blueprint = APIBlueprint("parcels", __name__, url_prefix="/api", abp_tags=[TAG], operation_id_callback=operation_id)
_CALENDAR: dict[Any, Any] = {200: {"content": {"text/calendar": {"schema": {"type": "string"}}}}}


@blueprint.get("/parcels", responses={200: schemas.ParcelsOut}, summary="Parcels on their way, both ways")
@returns()
def list_parcels() -> schemas.ParcelsOut:
    found = parcels.list_parcels(catalogue())
    same = [name for name in schemas.ParcelRowOut.model_fields if name != "late"]
    return schemas.ParcelsOut(
        parcels=[
            schemas.ParcelRowOut(late=it.is_late(found.today), **{name: getattr(it, name) for name in same})
            for it in found.rows
        ],
        classes=[schemas.ClassRecordOut.model_validate(it) for it in claims.class_records(catalogue())],
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/orders/<int:number>/claim", responses={200: schemas.ClaimViewOut}, summary="What may be claimed")
@returns()
def read_claim(path: schemas.OrderPath) -> schemas.ClaimViewOut:
    found = claims.read_claim(catalogue(), path.number)
    return schemas.ClaimViewOut(
        claim=None if found.claim is None else schemas.ClaimOut.model_validate(found.claim), most=found.most,
        until=found.until, papers=list(found.papers), currency=found.currency,
    )  # fmt: skip


@blueprint.put("/orders/<int:number>/claim", responses={204: None}, summary="Claim for a parcel")
@returns(204)
def file_claim(path: schemas.OrderPath, body: schemas.ClaimIn) -> None:
    claims.file_claim(catalogue(), path.number, body.version, Decimal(body.amount), body.words)


@blueprint.delete("/orders/<int:number>/claim", responses={204: None}, summary="Withdraw a claim")
@returns(204)
def withdraw_claim(path: schemas.OrderPath) -> None:
    claims.withdraw_claim(catalogue(), path.number)


@blueprint.post("/orders/<int:number>/claim/settled", responses={204: None}, summary="A claim is paid or refused")
@returns(204)
def settle_claim(path: schemas.OrderPath, body: schemas.ClaimSettledIn) -> None:
    paid = None if body.paid is None else Decimal(body.paid)
    claims.settle_claim(catalogue(), path.number, body.version, paid, body.purse)


@blueprint.get("/parcels.ics", responses=_CALENDAR, summary="When parcels are due, as a calendar")
def read_parcels_calendar() -> Response:
    return send_file(parcels.write_parcels_calendar(catalogue()), "text/calendar; charset=utf-8", "parcels.ics")


def _show(it: SupplyRow) -> schemas.SupplyOut:
    same = ("name", "role", "wall", "weight", "cost", "rigid")
    supply = it.stored.supply
    return schemas.SupplyOut(
        number=it.stored.number, version=it.stored.version, count=it.count, each=it.each, used=it.used,
        inside=None if supply.inside is None else list(supply.inside),
        outside=None if supply.outside is None else list(supply.outside),
        adds=None if supply.adds is None else list(supply.adds), **{name: getattr(supply, name) for name in same},
    )  # fmt: skip


@blueprint.get("/packing-supplies", responses={200: schemas.SuppliesOut}, summary="What there is to pack with")
@returns()
def list_supplies() -> schemas.SuppliesOut:
    found = supplies.list_supplies(catalogue())
    return schemas.SuppliesOut(
        supplies=[_show(it) for it in found.rows], currency=found.currency, verdict=show_verdict(found.verdict)
    )


def _three(said: Sequence[str] | None) -> Size | None:
    return None if said is None else (Decimal(said[0]), Decimal(said[1]), Decimal(said[2]))


def _read(body: schemas.SupplyIn) -> Supply:
    outside = None
    if body.outside is not None:
        width, height, thick = body.outside
        outside = (Decimal(width or 0), Decimal(height or 0), None if thick is None else Decimal(thick))
    return Supply(
        body.name.strip(), body.role, _three(body.inside), outside, _three(body.adds), Decimal(body.wall),
        Decimal(body.weight), Decimal(body.cost), body.rigid,
    )  # fmt: skip


@blueprint.post("/packing-supplies", responses={201: schemas.SupplyMadeOut}, summary="Describe a supply")
@returns(201)
def add_supply(body: schemas.SupplyIn) -> schemas.SupplyMadeOut:
    return schemas.SupplyMadeOut(number=supplies.put_supply(catalogue().database, None, 0, _read(body)))


@blueprint.post("/packing-supplies/usual", responses={200: schemas.BegunOut}, summary="Begin with the usual ones")
@returns()
def begin_with_usual() -> schemas.BegunOut:
    return schemas.BegunOut(added=supplies.begin_with_usual(catalogue().database))


@blueprint.put("/packing-supplies/<int:number>", responses={204: None}, summary="Describe a supply anew")
@returns(204)
def change_supply(path: schemas.OrderPath, body: schemas.SupplyIn) -> None:
    supplies.put_supply(catalogue().database, path.number, body.version, _read(body))


@blueprint.delete("/packing-supplies/<int:number>", responses={204: None}, summary="Take a supply out of use")
@returns(204)
def remove_supply(path: schemas.OrderPath) -> None:
    supplies.remove_supply(catalogue().database, path.number)


@blueprint.post("/packing-supplies/<int:number>/restore", responses={204: None}, summary="Use a supply again")
@returns(204)
def restore_supply(path: schemas.OrderPath) -> None:
    supplies.remove_supply(catalogue().database, path.number, again=True)


@blueprint.get("/packing-habits", responses={200: schemas.PackingHabitsOut}, summary="How parcels go as a habit")
@returns()
def read_packing_habits() -> schemas.PackingHabitsOut:
    return _habits(habits.read_habits(catalogue().database))


@blueprint.put("/packing-habits", responses={200: schemas.PackingHabitsOut}, summary="Pack by other habits")
@returns()
def save_packing_habits(body: schemas.PackingHabitsIn) -> schemas.PackingHabitsOut:
    limit = None if body.tracking_from is None else Decimal(body.tracking_from)
    sender = tuple(line.strip() for line in body.sender if line.strip())
    return _habits(habits.save_habits(catalogue().database, habits.PackingHabits(limit, sender, body.version)))


def _habits(found: habits.PackingHabits) -> schemas.PackingHabitsOut:
    return schemas.PackingHabitsOut(version=found.version, tracking_from=found.tracking_from, sender=list(found.sender))
