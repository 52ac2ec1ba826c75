"""The Grading step: graders and carriers as the owner describes them."""

from collections.abc import Sequence
from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.grading import schemas
from tobbix.core.base.errors import NotFound
from tobbix.core.grading.graders import COLUMNS, CenteringLimit, GraderProfile, Tier, state_graders
from tobbix.core.grading.submissions import CarrierProfile, PostClass
from tobbix.services.grading import profiles

blueprint = APIBlueprint(
    "grader_profiles",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="grading", description="Whether, where and with what to grade")],
    operation_id_callback=operation_id,
)


def _show(found: profiles.StoredGrader) -> schemas.GraderOut:
    it = found.profile
    same = {name: getattr(it, name) for name in _SAME}
    return schemas.GraderOut(
        number=found.number, version=found.version, grades=list(it.grades), subgrades=list(it.subgrades),
        tiers=[schemas.TierOut.model_validate(tier) for tier in it.tiers],
        limits=[schemas.LimitOut.model_validate(limit) for limit in it.limits], columns=list(it.columns),
        packing=list(it.packing), **same,
    )  # fmt: skip


_SAME = (
    "name", "currency", "membership", "refusal", "whole", "cap", "back_weight", "duty_share", "duty_fixed",
)  # fmt: skip


def _read(body: schemas.GraderIn) -> GraderProfile:
    tiers = tuple(
        Tier(
            it.id or it.name, it.name, Decimal(it.fee), it.min_cards,
            None if it.value_limit is None else Decimal(it.value_limit), Decimal(it.up_charge), it.days,
            it.members_only,
        )
        for it in body.tiers
    )  # fmt: skip
    limits = tuple(CenteringLimit(it.grade, Decimal(it.front), Decimal(it.back)) for it in body.limits)
    return GraderProfile(
        body.name.strip(), body.currency, tuple(body.grades), tiers, tuple(body.subgrades),
        None if body.membership is None else Decimal(body.membership), Decimal(body.refusal), limits, body.whole,
        Decimal(body.cap), Decimal(body.back_weight or 0), Decimal(body.duty_share or 0), Decimal(body.duty_fixed),
        tuple(body.columns), tuple(it for it in body.packing if it.strip()),
    )  # fmt: skip


@blueprint.get("/graders", responses={200: schemas.GradersOut}, summary="Graders as they are described")
@returns()
def list_graders() -> schemas.GradersOut:
    found = profiles.list_graders(catalogue().database)
    names = {it.profile.name for it in found}
    return schemas.GradersOut(
        graders=[_show(it) for it in found], known_columns=list(COLUMNS),
        offered=[it.profile.name for it in context().graders if it.profile.name not in names],
        verdict=show_verdict(state_graders([it.profile for it in found])),
    )  # fmt: skip


@blueprint.post("/graders", responses={201: schemas.GraderMadeOut}, summary="Describe a grader")
@returns(201)
def add_grader(body: schemas.GraderIn) -> schemas.GraderMadeOut:
    return schemas.GraderMadeOut(number=profiles.put_grader(catalogue().database, None, 0, _read(body)))


@blueprint.post("/graders/offered/<name>", responses={201: schemas.GraderMadeOut}, summary="Begin with one that ships")
@returns(201)
def add_offered(path: schemas.OfferedPath) -> schemas.GraderMadeOut:
    found = next((it.profile for it in context().graders if it.profile.name == path.name), None)
    if found is None:
        raise NotFound("no such grader ships with the program")
    return schemas.GraderMadeOut(number=profiles.put_grader(catalogue().database, None, 0, found))


@blueprint.get("/graders/<int:number>", responses={200: schemas.GraderOut}, summary="A grader")
@returns()
def read_grader(path: schemas.GraderPath) -> schemas.GraderOut:
    return _show(profiles.find_grader(catalogue().database, path.number))


@blueprint.put("/graders/<int:number>", responses={200: schemas.GraderOut}, summary="Describe a grader anew")
@returns()
def change_grader(path: schemas.GraderPath, body: schemas.GraderIn) -> schemas.GraderOut:
    profiles.put_grader(catalogue().database, path.number, body.version, _read(body))
    return _show(profiles.find_grader(catalogue().database, path.number))


@blueprint.delete("/graders/<int:number>", responses={204: None}, summary="Take a grader out of use")
@returns(204)
def remove_grader(path: schemas.GraderPath) -> None:
    profiles.remove_grader(catalogue().database, path.number)


@blueprint.post("/graders/<int:number>/restore", responses={204: None}, summary="Use a grader again")
@returns(204)
def restore_grader(path: schemas.GraderPath) -> None:
    profiles.restore_grader(catalogue().database, path.number)


def _carriers() -> schemas.CarriersOut:
    return schemas.CarriersOut(
        carriers=[
            schemas.CarrierOut(
                name=it.profile.name, version=it.version,
                classes=[schemas.PostClassOut.model_validate(each) for each in it.profile.classes],
            )
            for it in profiles.list_carriers(catalogue().database)
        ]
    )  # fmt: skip


@blueprint.get("/carriers", responses={200: schemas.CarriersOut}, summary="Carriers with their classes")
@returns()
def list_carriers() -> schemas.CarriersOut:
    return _carriers()


def _maybe(said: str | None) -> Decimal | None:
    return None if said is None else Decimal(said)


def _size(said: Sequence[str]) -> tuple[Decimal, Decimal, Decimal]:
    return Decimal(said[0]), Decimal(said[1]), Decimal(said[2])


@blueprint.put("/carriers", responses={200: schemas.CarriersOut}, summary="Describe a carrier")
@returns()
def put_carrier(body: schemas.CarrierIn) -> schemas.CarriersOut:
    classes = tuple(
        PostClass(
            it.id or it.name, it.name, Decimal(it.price), _maybe(it.insured_to), it.days, it.tracked,
            _size(it.least), None if it.most is None else _size(it.most), _maybe(it.most_weight), it.no_rigid,
            _maybe(it.value_limit), Decimal(it.loss or 0), it.claim_days,
        )
        for it in body.classes
    )  # fmt: skip
    profiles.put_carrier(catalogue().database, body.version, CarrierProfile(body.name.strip(), classes))
    return _carriers()


def _habits(found: profiles.GradingHabits) -> schemas.GradingHabitsOut:
    return schemas.GradingHabitsOut(**{name: getattr(found, name) for name in schemas.GradingHabitsOut.model_fields})


@blueprint.get("/grading/habits", responses={200: schemas.GradingHabitsOut}, summary="By what grading is weighed")
@returns()
def read_grading_habits() -> schemas.GradingHabitsOut:
    return _habits(profiles.read_habits(catalogue().database))


@blueprint.put("/grading/habits", responses={200: schemas.GradingHabitsOut}, summary="Weigh by other habits")
@returns()
def save_grading_habits(body: schemas.GradingHabitsIn) -> schemas.GradingHabitsOut:
    said = {name: Decimal(getattr(body, name) or 0) for name in ("strength", "breakage", "crack_cost", "per_card")}
    return _habits(profiles.save_habits(catalogue().database, profiles.GradingHabits(**said, version=body.version)))
