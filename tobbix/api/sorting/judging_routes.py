"""The Stock step: a card's condition by its flaws."""

from collections.abc import Sequence
from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.sorting import judging_schemas as schemas
from tobbix.api.stock.schemas import ItemPath
from tobbix.core.sorting.flaws import Flaw
from tobbix.services.sorting import judging

blueprint = APIBlueprint(
    "judging",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="sorting", description="Sorting a hoard")],
    operation_id_callback=operation_id,
)


def _to_flaws(said: Sequence[schemas.FlawIn]) -> list[Flaw]:
    return [Flaw(it.kind, it.side, it.size, it.x, it.y) for it in said]


def _show(found: judging.JudgedItem) -> schemas.JudgedOut:
    item = found.item
    return schemas.JudgedOut(
        item=item.number, version=item.version, name=item.name, condition=item.condition,
        flaws=[
            schemas.FlawOut(kind=it.kind, side=it.side, size=it.size, x=it.x, y=it.y, place=it.place, words=it.words)
            for it in found.flaws
        ],
        lenient=schemas.ReadingOut.model_validate(found.readings.lenient),
        strict=schemas.ReadingOut.model_validate(found.readings.strict),
        worths=[schemas.ConditionWorthOut.model_validate(it) for it in found.worths], faults=list(found.faults),
        marked=[schemas.MarkedOut(kind=kind, things=things) for kind, things in found.marked],
        size=None if found.size is None else schemas.SizeOfOut.model_validate(found.size),
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/items/<int:number>/condition", responses={200: schemas.JudgedOut}, summary="A thing's condition")
@returns()
def read_condition(path: ItemPath) -> schemas.JudgedOut:
    return _show(judging.judge_item(catalogue(), path.number))


@blueprint.post("/items/<int:number>/condition", responses={200: schemas.JudgedOut}, summary="What flaws would make it")
@returns()
def try_condition(path: ItemPath, body: schemas.TryFlawsIn) -> schemas.JudgedOut:
    return _show(judging.judge_item(catalogue(), path.number, _to_flaws(body.flaws)))


@blueprint.put("/items/<int:number>/condition", responses={200: schemas.JudgedOut}, summary="Mark its flaws")
@returns()
def mark_condition(path: ItemPath, body: schemas.MarkFlawsIn) -> schemas.JudgedOut:
    marks = _to_flaws(body.flaws)
    return _show(judging.mark_flaws(catalogue(), path.number, body.version, marks, body.condition))


def _table() -> schemas.FlawTableOut:
    found = judging.read_table(catalogue())
    rules = [
        schemas.FlawRuleOut(
            kinds=list(it.kinds), places=list(it.places), side=it.side, sizes=list(it.sizes), lenient=it.lenient.text,
            strict=it.strict.text, words=it.words,
        )
        for it in found.rules
    ]  # fmt: skip
    return schemas.FlawTableOut(
        rules=rules, factors=dict(found.factors), version=found.version, factors_version=found.factors_version
    )


@blueprint.get("/sorting/flaws", responses={200: schemas.FlawTableOut}, summary="The table of flaws")
@returns()
def read_flaw_table() -> schemas.FlawTableOut:
    return _table()


@blueprint.put("/sorting/flaws", responses={200: schemas.FlawTableOut}, summary="Judge by another table")
@returns()
def save_flaw_table(body: schemas.FlawTableIn) -> schemas.FlawTableOut:
    rules = None
    if body.rules is not None:
        rules = [
            judging.RuleSaid(tuple(it.kinds), tuple(it.places), it.side, tuple(it.sizes), it.lenient, it.strict)
            for it in body.rules
        ]
    judging.save_rules(catalogue(), rules, body.version)
    return _table()


@blueprint.put("/sorting/factors", responses={200: schemas.FlawTableOut}, summary="What a condition is worth of NM")
@returns()
def save_condition_factors(body: schemas.FactorsIn) -> schemas.FlawTableOut:
    factors = None if body.factors is None else {name: Decimal(it) for name, it in body.factors.items()}
    judging.save_factors(catalogue(), factors, body.version)
    return _table()
