"""The Stock step: plans of sorting, what to pull of each set, doubles in lots."""

from collections.abc import Sequence
from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import VerdictOut, show_verdict
from tobbix.api.sorting import schemas
from tobbix.core.sorting.lots import LotPlan
from tobbix.core.sorting.passes import USUAL_PASSES, Hoard, Pass, SortingPlan, state_plans
from tobbix.core.sorting.pulling import LookUp, PullList, judge_look_up
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.sorting import lots, planning, pulling

blueprint = APIBlueprint(
    "sorting",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="sorting", description="Sorting a hoard")],
    operation_id_callback=operation_id,
)


def _to_passes(said: Sequence[schemas.PassIn]) -> tuple[Pass, ...]:
    return tuple(
        Pass(
            it.kind, it.name, Decimal(it.share or 0), None if it.rate is None else Decimal(it.rate), it.heaps,
            None if it.finds is None else Decimal(it.finds),
        )
        for it in said
    )  # fmt: skip


def _to_hoard(body: schemas.HoardIn) -> Hoard:
    return Hoard(body.cards, Decimal(body.hourly), body.table, body.box_holds)


def _show_passes(plan: SortingPlan) -> list[schemas.PlannedPassOut]:
    return [
        schemas.PlannedPassOut(
            kind=it.said.kind, name=it.said.name, share=it.said.share, said_rate=it.said.rate,
            said_heaps=it.said.heaps, finds=it.said.finds, cards=it.cards, rate=it.rate, own_hours=it.own_hours,
            heaps=it.heaps, rounds=it.rounds, hours=it.hours, cost=it.cost, boxes=it.boxes, done=it.done, past=it.past,
        )
        for it in plan.passes
    ]  # fmt: skip


def _show(view: planning.PlanView) -> schemas.PlanViewOut:
    stored, project = view.stored, view.project
    return schemas.PlanViewOut(
        passes=_show_passes(view.plan), hours=view.plan.hours, hours_left=view.plan.hours_left,
        verdict=show_verdict(view.verdict), number=stored.number, version=stored.version, name=stored.name,
        cards=stored.hoard.cards, hourly=stored.hoard.hourly, table=stored.hoard.table,
        box_holds=stored.hoard.box_holds, expected=stored.expected, item=stored.item,
        item_name=None if view.item is None else view.item.name, document=stored.document,
        shared_entry=stored.shared_entry if project.shared else None,
        runs=[schemas.RunOut.model_validate(run, from_attributes=True) for run in view.runs],
        running=None if view.running is None else view.running.place,
        running_since=None if view.running is None else view.running.started_at,
        project=schemas.ProjectOut.model_validate(project, from_attributes=True),
        project_verdict=show_verdict(view.project_verdict), currency=view.currency,
    )  # fmt: skip


@blueprint.get("/sorting/plans", responses={200: schemas.PlansOut}, summary="All plans of sorting")
@returns()
def list_sorting_plans() -> schemas.PlansOut:
    views = planning.list_plans(catalogue())
    verdict = show_verdict(state_plans([view.plan.hours_left for view in views]))
    return schemas.PlansOut(plans=[_show(view) for view in views], verdict=verdict)


@blueprint.get("/sorting/usual", responses={200: schemas.UsualPassesOut}, summary="The usual passes")
@returns()
def read_usual_passes() -> schemas.UsualPassesOut:
    passes = [schemas.PassIn(kind=it.kind, name=it.name) for it in USUAL_PASSES]
    hourly = Decimal(str(read_preferences(catalogue().database).selling.hourly_rate))
    return schemas.UsualPassesOut(passes=passes, hourly=hourly)


@blueprint.post("/sorting/trial", responses={200: schemas.SortingPlanOut}, summary="What a plan would take")
@returns()
def try_sorting_plan(body: schemas.HoardIn) -> schemas.SortingPlanOut:
    plan, verdict = planning.try_plan(catalogue(), _to_hoard(body), _to_passes(body.passes))
    return schemas.SortingPlanOut(
        passes=_show_passes(plan), hours=plan.hours, hours_left=plan.hours_left, verdict=show_verdict(verdict)
    )


def _put(number: int | None, body: schemas.PlanIn) -> schemas.KeptOut:
    expected = None if body.expected is None else Decimal(body.expected)
    kept = planning.put_plan(
        catalogue(), number, body.version, body.name, _to_hoard(body), _to_passes(body.passes), expected, body.item
    )
    return schemas.KeptOut(number=kept)


@blueprint.post("/sorting/plans", responses={201: schemas.KeptOut}, summary="Keep a plan of sorting")
@returns(201)
def add_sorting_plan(body: schemas.PlanIn) -> schemas.KeptOut:
    return _put(None, body)


@blueprint.get("/sorting/plans/<int:number>", responses={200: schemas.PlanViewOut}, summary="A plan of sorting")
@returns()
def read_sorting_plan(path: schemas.PlanPath) -> schemas.PlanViewOut:
    return _show(planning.read_plan(catalogue(), path.number))


@blueprint.put("/sorting/plans/<int:number>", responses={200: schemas.KeptOut}, summary="Change a plan of sorting")
@returns()
def change_sorting_plan(path: schemas.PlanPath, body: schemas.PlanIn) -> schemas.KeptOut:
    return _put(path.number, body)


@blueprint.delete("/sorting/plans/<int:number>", responses={204: None}, summary="Take a plan off the list")
@returns(204)
def remove_sorting_plan(path: schemas.PlanPath) -> None:
    planning.remove_plan(catalogue(), path.number)


@blueprint.post("/sorting/plans/<int:number>/back", responses={204: None}, summary="Put a plan back on the list")
@returns(204)
def restore_sorting_plan(path: schemas.PlanPath) -> None:
    planning.remove_plan(catalogue(), path.number, again=True)


@blueprint.post("/sorting/plans/<int:number>/clock", responses={204: None}, summary="Start the clock over a pass")
@returns(204)
def start_sorting_clock(path: schemas.PlanPath, body: schemas.ClockIn) -> None:
    planning.start_clock(catalogue(), path.number, body.place)


@blueprint.put("/sorting/plans/<int:number>/clock", responses={200: schemas.KeptOut}, summary="Stop the clock")
@returns()
def stop_sorting_clock(path: schemas.PlanPath, body: schemas.StopIn) -> schemas.KeptOut:
    return schemas.KeptOut(number=planning.stop_clock(catalogue(), path.number, body.cards))


@blueprint.delete("/sorting/plans/<int:number>/runs/<int:run>", responses={204: None}, summary="A run did not count")
@returns(204)
def drop_sorting_run(path: schemas.RunPath) -> None:
    planning.drop_run(catalogue(), path.number, path.run)


@blueprint.post("/sorting/plans/<int:number>/cost", responses={200: schemas.TakenInOut}, summary="Share its cost out")
@returns()
def share_sorting_cost(path: schemas.PlanPath, body: schemas.ShareCostIn) -> schemas.TakenInOut:
    each = None if body.each is None else Decimal(body.each)
    return schemas.TakenInOut(entry=planning.share_cost(catalogue(), path.number, body.version, each))


def _show_look(look: LookUp | None) -> schemas.LookUpOut | None:
    return None if look is None else schemas.LookUpOut(cost=look.cost, finds=look.finds, pays=look.pays)


def _show_line(line: str, found: PullList, verdict: VerdictOut) -> schemas.LinePullsOut:
    pulled = [
        schemas.PulledOut(
            **{name: getattr(it.card, name) for name in ("number", "subject", "version", "price", "net", "watched",
                                                         "debut")},
            gain=it.gain, why=it.why,
        )
        for it in found.pulled
    ]  # fmt: skip
    return schemas.LinePullsOut(
        line=line, cards=found.cards, unknown=found.unknown, pulled=pulled, look_up=_show_look(found.look_up),
        verdict=verdict,
    )  # fmt: skip


@blueprint.get("/sorting/pulls", responses={200: schemas.AllPullsOut}, summary="For which sets looking up pays")
@returns()
def list_pulls(query: schemas.PullQuery) -> schemas.AllPullsOut:
    found = pulling.list_all_pulls(catalogue(), query.hourly, query.look_up)
    sets = [
        schemas.SetPullsOut(
            key=it.key, title=it.title, worth=it.worth, marked=it.marked, cards=it.cards, unknown=it.unknown,
            look_up=_show_look(it.look_up),
        )
        for it in found.sets
    ]  # fmt: skip
    work = schemas.WorkOut.model_validate(found.work, from_attributes=True)
    return schemas.AllPullsOut(sets=sets, work=work, currency=found.currency, verdict=show_verdict(found.verdict))


@blueprint.get("/sorting/look", responses={200: schemas.LookUpOut}, summary="Whether to look cards of a pile up")
@returns()
def judge_look(query: schemas.JudgeLookQuery) -> schemas.LookUpOut:
    work = pulling.read_work(catalogue(), query.hourly, query.look_up)
    found = judge_look_up(work, 1 / query.one_in, query.net)
    return schemas.LookUpOut(cost=found.cost, finds=found.finds, pays=found.pays)


@blueprint.get("/sorting/pulls/<key>", responses={200: schemas.PullListOut}, summary="What to pull of a set")
@returns()
def read_pulls(path: schemas.PullListPath, query: schemas.PullQuery) -> schemas.PullListOut:
    found = pulling.read_pulls(catalogue(), path.key, query.hourly, query.look_up)
    return schemas.PullListOut(
        key=found.release.key, title=found.title,
        lines=[_show_line(it.line, it.found, show_verdict(it.verdict)) for it in found.lines],
        work=schemas.WorkOut.model_validate(found.work, from_attributes=True), way=found.way, currency=found.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


def _show_lots(plan: LotPlan) -> schemas.LotPlanOut:
    names = [name for name in schemas.LotOfOut.model_fields if name != "many"]
    lots_of = [schemas.LotOfOut(many=many, **{name: getattr(lot, name) for name in names}) for many, lot in plan.lots]
    return schemas.LotPlanOut(
        cards=plan.cards, lots=lots_of, net=plan.net, after_work=plan.after_work, per_hour=plan.per_hour,
        give_away=plan.give_away,
    )  # fmt: skip


@blueprint.get("/sorting/doubles", responses={200: schemas.DoublesOut}, summary="Doubles put into lots")
@returns()
def read_doubles(query: schemas.DoublesQuery) -> schemas.DoublesOut:
    amounts = {
        name: None if getattr(query, name) is None else Decimal(getattr(query, name))
        for name in ("per_thousand", "minutes", "hourly", "box_cost")
    }
    found = lots.read_doubles(
        catalogue(), lots.TermsSaid(query.postage, way=query.way, box_grams=query.box_grams, **amounts)
    )
    return schemas.DoublesOut(
        sets=[
            schemas.SetDoublesOut(
                title=it.title, line=it.line, cards=it.cards, worth=it.worth, plan=_show_lots(it.plan)
            )
            for it in found.sets
        ],
        cards=found.cards, together=None if found.together is None else _show_lots(found.together),
        terms=schemas.LotTermsOut.model_validate(found.terms, from_attributes=True), way=found.way,
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip
