"""The Grading step: the best batch, the record, training the eye, a second opinion."""

from decimal import Decimal

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.grading import record_schemas as schemas
from tobbix.api.grading.schemas import GemRateOut, to_lines
from tobbix.api.stock.photo_routes import PICTURE, show_picture
from tobbix.api.stock.schemas import ItemPath
from tobbix.api.tasks.schemas import TaskOut, show_task
from tobbix.core.grading.training import EyeBias, TrainedEye
from tobbix.services.grading import batching, record

blueprint = APIBlueprint(
    "grading_record",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="grading", description="Whether, where and with what to grade")],
    operation_id_callback=operation_id,
)


def _said(body: schemas.BatchIn) -> batching.BatchSaid:
    return batching.BatchSaid(
        body.grader, Decimal(body.out), Decimal(body.back), body.owned, body.may_join,
        None if body.budget is None else Decimal(body.budget), body.most, tuple(body.without),
    )  # fmt: skip


@blueprint.post("/grading/batch", responses={200: schemas.BatchOut}, summary="Which cards in which tier")
@returns()
def best_batch(body: schemas.BatchIn) -> schemas.BatchOut:
    found = batching.best_batch(catalogue(), _said(body))
    tier_of = {key: to for to, of_it in found.found.tiers.items() for key in of_it}
    names = {it.id: it.name for it in found.by.grader.profile.tiers}
    order = [*tier_of, *found.found.not_sent]
    return schemas.BatchOut(
        grader=found.by.grader.number,
        cards=[
            schemas.BatchCardOut(
                item=int(key), name=found.cards[key].name, owner=found.cards[key].owner is not None,
                tier=tier_of.get(key), why=found.found.why[key],
            )
            for key in order
        ],
        unknown=len(found.unknown),
        tiers=[
            schemas.BatchTierOut(tier=to, name=names.get(to, to), cards=len(of_it))
            for to, of_it in found.found.tiers.items()
        ],
        gain=float(found.found.total_gain), bound=found.found.bound, proven=found.found.proven,
        membership=found.found.membership, spent=found.spent,
        missing=[schemas.MissingOut(tier=tier, cards=cards) for tier, cards in found.missing],
        task=None if found.task is None else show_task(found.task),
        curve=[schemas.BudgetPointOut(budget=x, gain=y, cards=cards) for x, y, cards in found.curve],
        currency=found.by.home.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.post("/grading/batch/curve", responses={200: TaskOut}, summary="What other budgets would bring")
@returns()
def begin_curve(body: schemas.BatchIn) -> TaskOut:
    return show_task(batching.ask_curve(catalogue(), _said(body)))


def _bias(found: EyeBias | None) -> schemas.EyeBiasOut | None:
    return None if found is None else schemas.EyeBiasOut.model_validate(found)


def _eye(found: TrainedEye) -> schemas.EyeOut:
    return schemas.EyeOut(
        trials=found.trials, left_right=_bias(found.left_right), top_bottom=_bias(found.top_bottom)
    )  # fmt: skip


@blueprint.get("/grading/record", responses={200: schemas.RecordOut}, summary="Predicted against received grades")
@returns()
def read_record() -> schemas.RecordOut:
    found = record.read_record(catalogue())
    return schemas.RecordOut(
        calibration=None if found.calibration is None else schemas.CalibrationOut.model_validate(found.calibration),
        rates={by: [GemRateOut.model_validate(it) for it in rates] for by, rates in found.rates.items()},
        spreads=[
            schemas.GraderSpreadOut(grader=grader, deviation=it.deviation, cards=it.cards)
            for grader, it in found.spreads
        ],
        outcomes=[
            schemas.OutcomeOut(
                item=it.item, grader=it.grader, release=it.release, day=it.day, gem=it.gem,
                likely=max(it.chances, key=lambda grade: it.chances[grade]), grade=it.grade,
            )
            for it in reversed(found.outcomes)
        ],
        eye=_eye(found.eye), verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/grading/training", responses={200: schemas.TrainingOut}, summary="What to train the eye on")
@returns()
def read_training() -> schemas.TrainingOut:
    found = record.read_training(catalogue())
    replay = found.replay
    width, height = record.size_of_scan()
    return schemas.TrainingOut(
        seed=found.seed, width=width, height=height,
        replay=None if replay is None else schemas.ReplayOut(
            item=replay.item, grader=replay.grader, grades=list(replay.grades), front=replay.front, back=replay.back
        ),
        eye=_eye(found.eye), errors=[list(it) for it in found.errors], said=found.said, brier=found.brier,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/grading/training/<int:seed>", responses=PICTURE, summary="A simulated scan to train on")
def show_training_scan(path: schemas.SeedPath) -> Response:
    return show_picture("image/jpeg", record.training_scan(path.seed))


@blueprint.post("/grading/training/borders", responses={201: schemas.BordersOut}, summary="Borders that were placed")
@returns(201)
def try_borders(body: schemas.TryBordersIn) -> schemas.BordersOut:
    found = record.try_borders(catalogue(), body.seed, to_lines(body.edges), to_lines(body.frame))
    return schemas.BordersOut(placed=list(found.placed), known=list(found.known))


@blueprint.post("/grading/training/card", responses={201: schemas.CardTruthOut}, summary="Chances that were said")
@returns(201)
def try_card(body: schemas.TryCardIn) -> schemas.CardTruthOut:
    return schemas.CardTruthOut(grade=record.try_card(catalogue(), body.item, body.chances))


@blueprint.get("/items/<int:number>/opinion", responses={200: schemas.OpinionOut}, summary="A second opinion on a slab")
@returns()
def second_opinion(path: ItemPath) -> schemas.OpinionOut:
    found = record.second_opinion(catalogue(), path.number)
    return schemas.OpinionOut(
        item=found.item, name=found.name, labels=[schemas.LabelOut.model_validate(it) for it in found.labels],
        value=found.value,
        ways=[
            schemas.WeighedOut(
                kind=it.kind, net=float(it.net), gain=float(it.gain), worse=float(it.worse),
                months=None if it.months is None else float(it.months),
            )
            for it in found.ways
        ],
        missing=found.missing, currency=found.currency,
        verdict=None if found.verdict is None else show_verdict(found.verdict),
    )  # fmt: skip
