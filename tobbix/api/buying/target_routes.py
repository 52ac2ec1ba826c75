"""The Buying step: the target list, and making or buying a grade."""

from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.buying import target_schemas as schemas
from tobbix.core.buying.making import make_or_buy, state_made
from tobbix.core.buying.targets import Bought, Target, write_bands
from tobbix.services.buying import targets
from tobbix.services.buying.targets import ListedTarget, TargetList
from tobbix.services.installation.preferences import read_preferences

blueprint = APIBlueprint(
    "targets",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="targets", description="The target list, and making or buying a grade")],
    operation_id_callback=operation_id,
)


def _show(it: ListedTarget) -> schemas.TargetOut:
    target, copy = it.target, it.target.bought
    return schemas.TargetOut(
        **{name: getattr(it, name) for name in ("number", "version", "note", "held", "comp", "comp_on", "ceiling")},
        name=target.name, state=target.state, planned=target.planned,
        card=None if it.card is None else FoundOut.model_validate(it.card, from_attributes=True),
        bought=None if copy is None else schemas.BoughtCopyOut.model_validate(copy, from_attributes=True),
        savings=None if it.savings is None else schemas.SavingsOut.model_validate(it.savings, from_attributes=True),
    )  # fmt: skip


def _list(found: TargetList) -> schemas.TargetsOut:
    return schemas.TargetsOut(
        verdict=show_verdict(found.verdict), currency=found.currency, bands=write_bands(found.bands),
        projection=schemas.ProjectionOut.model_validate(found.projection, from_attributes=True),
        targets=[_show(it) for it in found.targets],
    )  # fmt: skip


def _put(number: int | None, body: schemas.TargetIn) -> schemas.TargetsOut:
    said = body.bought

    def money(text: str | None) -> Decimal | None:
        return None if text is None else Decimal(text)

    bought = None
    if said is not None:
        bought = Bought(
            said.state.strip(), said.on, Decimal(said.all_in), money(said.low), money(said.middle), money(said.high)
        )
    target = Target(body.name.strip(), body.state.strip(), Decimal(body.planned), bought)
    targets.put_target(catalogue(), number, body.version, body.card, target, body.note)
    return _list(targets.read_targets(catalogue()))


@blueprint.get("/targets", responses={200: schemas.TargetsOut}, summary="The target list and where it will end")
@returns()
def read_targets() -> schemas.TargetsOut:
    return _list(targets.read_targets(catalogue()))


@blueprint.post("/targets", responses={200: schemas.TargetsOut}, summary="Aim at a card")
@returns()
def add_target(body: schemas.TargetIn) -> schemas.TargetsOut:
    return _put(None, body)


@blueprint.put("/targets/<int:number>", responses={200: schemas.TargetsOut}, summary="Change it, or say it was bought")
@returns()
def change_target(path: schemas.TargetPath, body: schemas.TargetIn) -> schemas.TargetsOut:
    return _put(path.number, body)


@blueprint.delete("/targets/<int:number>", responses={204: None}, summary="Take a card off the list")
@returns(204)
def remove_target(path: schemas.TargetPath) -> None:
    targets.remove_target(catalogue(), path.number)


@blueprint.post("/targets/<int:number>/restore", responses={204: None}, summary="Put a card back on the list")
@returns(204)
def restore_target(path: schemas.TargetPath) -> None:
    targets.remove_target(catalogue(), path.number, again=True)


@blueprint.put("/targets/bands", responses={204: None}, summary="Say the price bands of the list")
@returns(204)
def put_bands(body: schemas.BandsIn) -> None:
    targets.change_bands(catalogue(), body.text)


@blueprint.get("/make", responses={200: schemas.MakingOut}, summary="Make or buy a grade")
@returns()
def read_making(query: schemas.MakeQuery) -> schemas.MakingOut:
    slab, lower = (None if text is None else float(text) for text in (query.slab, query.lower))
    amounts = (float(query.raw), float(query.grading), float(query.chance or "0"), float(query.miss_net))
    found = make_or_buy(*amounts, slab, lower)
    verdict = state_made(found, read_preferences(catalogue().database).currency)
    return schemas.MakingOut(verdict=show_verdict(verdict), cost=found.cost, tries=found.tries)
