"""The Stock step: entry by the thousand."""

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import PartOut
from tobbix.api.sorting import schemas
from tobbix.core.products.naming import SeenRelease
from tobbix.services.sorting import entering, filling

blueprint = APIBlueprint(
    "entering",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="sorting", description="Sorting a hoard")],
    operation_id_callback=operation_id,
)


@blueprint.get("/sorting/sets", responses={200: schemas.KnownSetsOut}, summary="What entry can choose from")
@returns()
def list_sets() -> schemas.KnownSetsOut:
    found = entering.list_sets(catalogue())
    reader = context().reader
    return schemas.KnownSetsOut(
        sets=[schemas.KnownSetOut(key=it.key, title=it.title, lines=list(it.lines)) for it in found.sets],
        places=list(found.places), plans=dict(found.plans), reader=None if reader is None else reader.name,
    )  # fmt: skip


@blueprint.post("/sorting/cards", responses={201: schemas.EnteredOut}, summary="Enter a card as it was typed")
@returns(201)
def enter_card(body: schemas.CardEntryIn) -> schemas.EnteredOut:
    named = None if body.fresh is None else SeenRelease(**body.fresh.model_dump())
    pile = entering.Pile(body.release, named, body.line, body.place, body.condition, body.plan)
    found = entering.enter_card(catalogue(), pile, body.text)
    return schemas.EnteredOut(
        card=FoundOut.model_validate(found.card, from_attributes=True),
        matters=[PartOut.model_validate(run, from_attributes=True) for run in found.matters],
        **{name: getattr(found, name) for name in ("entry", "item", "count", "condition", "total", "said", "new_card")},
    )


@blueprint.post("/sorting/scans", responses={200: schemas.ScansOut}, summary="What the barcode reader read")
@returns()
def read_codes() -> schemas.ScansOut:
    reader = context().reader
    return schemas.ScansOut(texts=[] if reader is None else reader.read())


@blueprint.post("/sorting/salvage", responses={201: schemas.TakenInOut}, summary="Sleeves and holders into supplies")
@returns(201)
def salvage_supplies(body: schemas.SalvageIn) -> schemas.TakenInOut:
    return schemas.TakenInOut(entry=entering.salvage(catalogue(), body.name, body.count))


@blueprint.post("/sorting/fills", responses={200: schemas.FillsOut}, summary="What cards would fill if they came in")
@returns()
def would_fill(body: schemas.FillsIn) -> schemas.FillsOut:
    said = filling.would_fill(catalogue(), [filling.Coming(**card.model_dump()) for card in body.cards])
    return schemas.FillsOut(
        cards=[[PartOut.model_validate(run, from_attributes=True) for run in of_it] for of_it in said]
    )
