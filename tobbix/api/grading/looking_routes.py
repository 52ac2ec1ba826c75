"""The Grading step: cards looked at on their photos, and whether they are worth grading."""

from collections.abc import Sequence
from math import isnan
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.grading import schemas
from tobbix.api.sorting.judging_schemas import FlawOut
from tobbix.api.stock.photo_routes import PICTURE, show_picture
from tobbix.api.stock.photo_schemas import PhotoOut, PhotoPath
from tobbix.api.stock.schemas import ItemPath
from tobbix.core.grading.centering import Centering, Segment, judge_size
from tobbix.core.holdings.documents import Side
from tobbix.services.grading import measuring, scanning, weighing

blueprint = APIBlueprint(
    "looking",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="grading", description="Whether, where and with what to grade")],
    operation_id_callback=operation_id,
)


def show_centering(found: Centering | None) -> schemas.CenteringOut | None:
    """How a side is centred, as it is sent."""
    if found is None:
        return None
    return schemas.CenteringOut(
        left_right=list(found.left_right), top_bottom=list(found.top_bottom), uncertainty=list(found.uncertainty),
        corners=[list(point) for point in found.corners], frame=[list(point) for point in found.frame],
        size=None if found.size is None else list(found.size), turn=found.rotation, tilt=found.tilt,
    )  # fmt: skip


def _sent(lines: Sequence[Segment]) -> schemas.Segments:
    return [[list(start), list(end)] for start, end in lines]


def _measured(found: measuring.MeasuredPhoto) -> schemas.MeasuredOut:
    it = found.measured
    return schemas.MeasuredOut(
        item=found.item, photo=PhotoOut.model_validate(found.photo), version=0 if it is None else it.version,
        edges=[] if it is None else _sent(it.edges), frame=[] if it is None else _sent(it.frame),
        by_hand=it is not None and it.by_hand, found=None if it is None else show_centering(it.found),
        refused=None if it is None else it.refused, size=list(found.size),
    )  # fmt: skip


@blueprint.get("/photos/<int:number>/lines", responses={200: schemas.MeasuredOut}, summary="What was measured on it")
@returns()
def read_lines(path: PhotoPath) -> schemas.MeasuredOut:
    return _measured(measuring.read_measurement(catalogue().database, path.number))


@blueprint.post("/photos/<int:number>/lines", responses={200: schemas.MeasuredOut}, summary="Find its lines")
@returns()
def find_lines(path: PhotoPath, body: schemas.FindLinesIn) -> schemas.MeasuredOut:
    return _measured(measuring.find_lines(catalogue().database, path.number, body.version))


@blueprint.put("/photos/<int:number>/lines", responses={200: schemas.MeasuredOut}, summary="Place its lines by hand")
@returns()
def place_lines(path: PhotoPath, body: schemas.LinesIn) -> schemas.MeasuredOut:
    found = measuring.place_lines(
        catalogue().database, path.number, body.version, schemas.to_lines(body.edges), schemas.to_lines(body.frame)
    )
    return _measured(found)


@blueprint.post("/photos/<int:number>/tried", responses={200: schemas.CenteringOut}, summary="What lines would say")
@returns()
def try_lines(path: PhotoPath, body: schemas.LinesIn) -> schemas.CenteringOut:
    shown = show_centering(
        measuring.try_lines(
            catalogue().database, path.number, schemas.to_lines(body.edges), schemas.to_lines(body.frame)
        )
    )
    assert shown is not None  # what makes no card was refused
    return shown


@blueprint.get("/photos/<int:number>/card", responses=PICTURE, summary="The card by itself, straight from above")
def show_card(path: PhotoPath) -> Response:
    return show_picture("image/jpeg", measuring.card_alone(catalogue().database, path.number))


@blueprint.post("/scans", responses={200: schemas.ScannedOut}, summary="What the scanner put down")
@returns()
def list_scans() -> schemas.ScannedOut:
    scanner = context().scanner
    if scanner is None:
        return schemas.ScannedOut(scanner=None, files=[])
    return schemas.ScannedOut(scanner=scanner.name, files=scanner.list_files())


@blueprint.post("/scans/taken", responses={201: schemas.TakenScansOut}, summary="A scanner's files become photos")
@returns(201)
def take_scans(body: schemas.TakeScansIn) -> schemas.TakenScansOut:
    taken = scanning.take_scans(catalogue().database, context().scanner, body.files, body.items, body.sides)
    return schemas.TakenScansOut(photos=taken)


@blueprint.get("/grading/worth", responses={200: schemas.WorthTableOut}, summary="Which cards are worth grading")
@returns()
def weigh_all(query: schemas.WorthQuery) -> schemas.WorthTableOut:
    found = weighing.weigh_all(catalogue(), query.grader, query.tier, not query.lenient)
    return schemas.WorthTableOut(
        rows=[
            schemas.WorthRowOut(
                item=it.card.item, name=it.card.name, condition=it.card.condition, owner=it.card.owner is not None,
                keeps=it.card.keeps, draft=it.card.draft, by=it.by, raw=it.raw, gem=it.gem,
                **{name: _known(getattr(it, name)) for name in ("gain", "loss", "even", "per_month", "per_tied")},
            )
            for it in found.rows
        ],
        grader=found.by.grader.number, tier=found.by.tier.id, cost=found.by.cost, currency=found.by.home.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


def _known(value: float) -> float | None:
    return None if isnan(value) else value


@blueprint.get("/items/<int:number>/grading", responses={200: schemas.CloseOut}, summary="A card before it is graded")
@returns()
def look_closely(path: ItemPath, query: schemas.WorthQuery) -> schemas.CloseOut:
    return _close(weighing.look_closely(catalogue(), path.number, query.grader, query.tier, not query.lenient))


def _close(found: weighing.CloseView) -> schemas.CloseOut:
    data, gain = found.data, found.gain
    view = next(it for it in found.graders if it.grader.number == found.by.grader.number)
    outcomes = {} if gain is None else {it.grade: it for it in gain.by_grade}
    sides = []
    for side, it in data.measured.items():
        allowed = view.back_allows if side is Side.BACK else view.front_allows
        sides.append(
            schemas.MeasuredSideOut(
                side=side, photo=it.photo, version=it.version, found=show_centering(it.found), refused=it.refused,
                by_hand=it.by_hand, allows=allowed,
                size_says=None if it.found is None else judge_size(it.found, found.size),
            )
        )  # fmt: skip
    return schemas.CloseOut(
        item=data.card.item, name=data.card.name, release=data.card.release, line=data.card.line, number=data.card.card,
        condition=data.card.condition, size=list(found.size),
        photos=[PhotoOut.model_validate(it) for it in found.photos], sides=sides,
        flaws=[
            FlawOut(kind=it.kind, side=it.side, size=it.size, x=it.x, y=it.y, place=it.place, words=it.words)
            for it in data.flaws
        ],
        faults=list(found.faults), usual=found.usual,
        graders=[
            schemas.GraderViewOut(
                grader=it.grader.number, name=it.grader.profile.name, strict=dict(it.strict.chances),
                lenient=dict(it.lenient.chances),
                parts={part: dict(chances) for part, chances in it.strict.parts.items()}, chances=dict(it.chances),
                said=it.is_said, said_version=it.said_version,
            )
            for it in found.graders
        ],
        grader=found.by.grader.number, tier=found.by.tier.id, cost=found.by.cost, fee=found.by.fee, raw=data.raw,
        gain=None if gain is None else float(gain.gain),
        per_month=None if gain is None or gain.per_month is None else float(gain.per_month),
        loss=None if gain is None else float(gain.chance_of_loss),
        even_case=None if gain is None else gain.break_even.case,
        even=None if gain is None or gain.break_even.gem is None else float(gain.break_even.gem),
        curve=None if found.curve is None else _curve(found.curve),
        grades=[
            schemas.GradeRowOut(
                grade=grade, chance=chance, value=data.values[grade], guessed=grade in data.guessed,
                net=None if (net := getattr(outcomes.get(grade), "net", None)) is None else float(net),
                action=getattr(outcomes.get(grade), "action", None),
            )
            for grade, chance in view.chances.items()
        ],
        rate=None if found.rate is None else schemas.GemRateOut.model_validate(found.rate),
        population=dict(data.population), currency=found.by.home.currency, verdict=show_verdict(found.verdict),
        pre_verdict=show_verdict(found.pre_verdict),
    )  # fmt: skip


def _curve(found: Any) -> schemas.CurveOut:
    return schemas.CurveOut(gem=found.gem.tolist(), gain=found.gain.tolist())


@blueprint.put("/items/<int:number>/grading", responses={204: None}, summary="Say the chances of its grades")
@returns(204)
def say_chances(path: ItemPath, body: schemas.SayChancesIn) -> None:
    weighing.say_chances(catalogue(), path.number, body.grader, body.version, body.chances)


@blueprint.post("/items/<int:number>/cleaned", responses={204: None}, summary="What was done to a card")
@returns(204)
def log_cleaning(path: ItemPath, body: schemas.CleanedIn) -> None:
    scanning.log_cleaning(catalogue(), path.number, body.version, body.what)
