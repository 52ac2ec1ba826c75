"""The Opening step: sessions, pulls, results against the odds, weights, redemptions."""

from decimal import Decimal
from typing import Any

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.acts import key_or_fresh
from tobbix.api.base.cards import FindQuery, FoundListOut
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.steps import StepListOut, show_steps
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.buying.schemas import NumberOut, ProspectOut
from tobbix.api.opening.schemas import (
    ComparedFormatsOut,
    ComparedLineOut,
    CompareFormatsQuery,
    DivideSessionIn,
    FinishIn,
    HeldIn,
    HotOut,
    HotQuery,
    LeftLineOut,
    LeftOut,
    LineChoiceOut,
    NamedOpeningOut,
    NewPartOut,
    NewPartsOut,
    OpenableOut,
    OpeningIn,
    OpeningOut,
    OpeningPath,
    OpeningRowOut,
    OpeningsOut,
    PromisedOut,
    PullIn,
    PullOut,
    PullPath,
    RedeemableOut,
    RedemptionChange,
    RedemptionIn,
    RedemptionOut,
    RedemptionsOut,
    ResultOut,
    ResultsOut,
    ResultsQuery,
    StepPath,
    TickIn,
    TotalsIn,
    TurnIn,
    UnvaluedOut,
    WeightIn,
    WeightOut,
    WeightsOut,
    WeightsQuery,
)
from tobbix.core.base.errors import InputError
from tobbix.core.holdings.allocation import Method
from tobbix.core.opening.records import Opening
from tobbix.core.opening.session import Pulled
from tobbix.core.opening.summary import state_opening, state_results, state_some_packs
from tobbix.core.products.prospect import state_prospect
from tobbix.services.opening import closing, finding, opening, preparing, redeeming, results, viewing, weighing

blueprint = APIBlueprint(
    "opening",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="opening", description="What comes out of boxes and packs")],
    operation_id_callback=operation_id,
)


def _share(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text or "0")


def _row(row: Opening) -> dict[str, Any]:
    return {name: getattr(row, name) for name in OpeningRowOut.model_fields}


def _show(number: int) -> OpeningOut:
    view = viewing.read_session(catalogue(), number)
    sheet, row = view.looked.sheet, view.session
    return OpeningOut(
        **_row(row),
        release_title=sheet.release.title,
        format_name=view.format.name,
        currency=sheet.currency,
        gone=row.gone,
        trust=row.trust,
        entertainment=row.entertainment,
        stopped_hot=row.stopped_hot,
        verdict=show_verdict(view.verdict),
        pack_sizes=list(view.pack_sizes),
        pack_room=max(view.pack_room, 0),
        cost=view.cost,
        pulled_worth=view.pulled_worth,
        pulled_unknown=view.pulled_unknown,
        left_lower_bound=view.ahead.lower_bound,
        left_packs=view.ahead.packs,
        left_value=view.ahead.value + view.ahead.rest,
        left_per_pack=view.ahead.per_pack,
        live=[LeftOut(name=g.name, promised=g.promised, seen=g.seen) for g in view.ahead.live],
        chances=[show_verdict(said) for said in state_some_packs(view.ahead)],
        left=[LeftLineOut.model_validate(item, from_attributes=True) for item in view.left],
        luck=view.luck,
        results=[ResultOut.model_validate(item, from_attributes=True) for item in view.results],
        pulls=[
            PullOut(
                number=p.pull.number, pack=p.pull.pack, line=p.pull.line, line_name=p.line_name, card=p.pull.card,
                subject=p.subject, count=p.pull.count, serial=p.pull.serial, flaw=p.pull.flaw, worth=p.worth,
            )
            for p in view.pulls
        ],
        lines=[
            LineChoiceOut(id=line.id, name=line.name, print_run=line.print_run, is_base=line.kind.value == "base")
            for line in sheet.lines
            if row.format not in line.not_in
        ],
        unvalued=[UnvaluedOut.model_validate(item, from_attributes=True) for item in view.unvalued],
        prospect=None if view.prospect is None else ProspectOut.model_validate(view.prospect, from_attributes=True),
    )  # fmt: skip


@blueprint.get("/sessions", responses={200: OpeningsOut}, summary="Openings, and what can be opened")
@returns()
def list_openings() -> OpeningsOut:
    rows = viewing.list_sessions(catalogue())
    sealed = finding.list_openable(catalogue())
    running = sum(row.is_alive for row, _ in rows)
    return OpeningsOut(
        verdict=show_verdict(state_opening(running, sum(found.item.count for found in sealed))),
        sessions=[NamedOpeningOut(name=name, **_row(row)) for row, name in rows],
        openable=[
            OpenableOut(
                verdict=show_verdict(state_prospect(found.prospect, found.currency)),
                prospect=ProspectOut.model_validate(found.prospect, from_attributes=True),
                item=found.item.number,
                name=found.item.name,
                count=found.item.count,
                basis=found.item.basis,
                packs_gone=found.item.packs_gone,
                packs=found.packs,
                promised=[PromisedOut(line=line, name=name, count=count) for line, name, count in found.promised],
                of_case=found.of_case,
            )
            for found in sealed
        ],
    )


@blueprint.post("/sessions", responses={201: NumberOut}, summary="Begin to open")
@returns(201)
def start_opening(body: OpeningIn) -> NumberOut:
    said = opening.SessionInput(
        body.item, body.boxes, _share(body.entertainment), body.gone, body.gone_hits, body.trust,
        None, body.note, case_name=body.case_name,
    )  # fmt: skip
    return NumberOut(number=opening.start_session(catalogue(), said, key_or_fresh()))


@blueprint.get("/sessions/<int:number>", responses={200: OpeningOut}, summary="An opening")
@returns()
def read_opening(path: OpeningPath) -> OpeningOut:
    return _show(path.number)


@blueprint.get("/sessions/<int:number>/cards", responses={200: FoundListOut}, summary="Cards that the box can hold")
@returns()
def find_cards(path: OpeningPath, query: FindQuery) -> FoundListOut:
    return FoundListOut.of(finding.find_in_box(catalogue(), path.number, query.find))


@blueprint.post("/sessions/<int:number>/pulls", responses={200: OpeningOut}, summary="Log a card")
@returns()
def log_pull(path: OpeningPath, body: PullIn) -> OpeningOut:
    serial, flaw = body.serial or None, body.flaw or None
    if body.find is not None:
        sought = opening.Sought(body.pack, body.find, body.place, serial, flaw)
        opening.log_found(catalogue(), path.number, sought, key_or_fresh())
    elif body.line is not None:
        fresh = Pulled(body.pack, body.line, body.number or None, body.count, serial, flaw)
        opening.log_pull(catalogue(), path.number, fresh, key_or_fresh())
    else:
        raise InputError.at("find", "say which card it is")
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/totals", responses={200: OpeningOut}, summary="Packs off the record")
@returns()
def log_totals(path: OpeningPath, body: TotalsIn) -> OpeningOut:
    totals = [(item.line, item.count) for item in body.totals]
    opening.log_totals(catalogue(), path.number, body.packs, totals, key_or_fresh())
    return _show(path.number)


@blueprint.get("/sessions/<int:number>/hot", responses={200: HotOut}, summary="Is it a hot box?")
@returns()
def read_hot_box(path: OpeningPath, query: HotQuery) -> HotOut:
    found = finding.judge_hot_box(catalogue(), path.number, query.line, query.one_in, query.times)
    return HotOut.model_validate(found, from_attributes=True)


@blueprint.delete("/sessions/<int:number>/pulls", responses={200: OpeningOut}, summary="Take the last card back")
@returns()
def undo_pull(path: OpeningPath) -> OpeningOut:
    opening.undo_pull(catalogue(), path.number)
    return _show(path.number)


@blueprint.delete(
    "/sessions/<int:number>/pulls/<int:pull>", responses={200: OpeningOut}, summary="Take a certain card back"
)
@returns()
def take_pull_back(path: PullPath) -> OpeningOut:
    opening.undo_pull(catalogue(), path.number, path.pull)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/pack", responses={200: OpeningOut}, summary="Go to another pack")
@returns()
def turn_pack(path: OpeningPath, body: TurnIn) -> OpeningOut:
    opening.turn_pack(catalogue(), path.number, body.pack, body.rest_of)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/pause", responses={200: OpeningOut}, summary="Put it aside")
@returns()
def pause_opening(path: OpeningPath) -> OpeningOut:
    opening.pause_session(catalogue(), path.number)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/finish", responses={200: OpeningOut}, summary="Move the cost to the cards")
@returns()
def finish_opening(path: OpeningPath, body: FinishIn) -> OpeningOut:
    worths = {(said.line, said.card): Decimal(said.worth) for said in body.worths}
    closing.finish_session(
        catalogue(), path.number, body.rest_is_base, body.stopped_hot, worths=worths, by_count=body.by_count
    )
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/reopen", responses={200: OpeningOut}, summary="Take the end of it back")
@returns()
def reopen_opening(path: OpeningPath) -> OpeningOut:
    closing.undo_finish(catalogue(), path.number)
    return _show(path.number)


@blueprint.delete("/sessions/<int:number>", responses={200: OpeningOut}, summary="It was begun by mistake")
@returns()
def take_opening_back(path: OpeningPath) -> OpeningOut:
    opening.take_session_back(catalogue(), path.number)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/go-on", responses={200: OpeningOut}, summary="It goes on after all")
@returns()
def go_on(path: OpeningPath) -> OpeningOut:
    opening.go_on(catalogue(), path.number)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/divide", responses={200: NewPartsOut}, summary="Divide its cost again")
@returns()
def divide_session(path: OpeningPath, body: DivideSessionIn) -> NewPartsOut:
    parts = closing.divide_session(catalogue(), path.number, body.version, Method(body.method), body.book)
    return NewPartsOut(parts=[NewPartOut.model_validate(part, from_attributes=True) for part in parts])


@blueprint.get("/results", responses={200: ResultsOut}, summary="Odds against results")
@returns()
def read_results(query: ResultsQuery) -> ResultsOut:
    view = results.read_results(catalogue(), query.release, query.format, query.strength)
    return ResultsOut(
        release_title=view.looked.sheet.release.title,
        format_name=view.format.name,
        sessions=view.sessions,
        packs=view.packs,
        stopped_hot=view.stopped_hot,
        verdict=show_verdict(state_results(view.packs, view.results, view.stopped_hot)),
        results=[ResultOut.model_validate(item, from_attributes=True) for item in view.results],
    )


@blueprint.get("/results/compared", responses={200: ComparedFormatsOut}, summary="Two formats against each other")
@returns()
def compare_results(query: CompareFormatsQuery) -> ComparedFormatsOut:
    found = results.compare_formats(catalogue(), query.release, query.first, query.second)
    return ComparedFormatsOut(
        lines=[
            ComparedLineOut(
                line=item.line,
                name=item.name,
                first_hits=item.hits[0],
                second_hits=item.hits[1],
                ratio=item.per_pack.ratio,
                p_value=item.per_pack.p_value,
                money_ratio=None if item.per_money is None else item.per_money.ratio,
                money_p_value=None if item.per_money is None else item.per_money.p_value,
            )
            for item in found
        ]
    )


@blueprint.get("/sessions/<int:number>/steps", responses={200: StepListOut}, summary="What comes before the first pack")
@returns()
def read_steps(path: OpeningPath) -> StepListOut:
    return show_steps(preparing.list_steps(catalogue(), path.number))


@blueprint.put("/sessions/<int:number>/steps/<step>", responses={200: StepListOut}, summary="Tick a step, or open it")
@returns()
def tick_step(path: StepPath, body: TickIn) -> StepListOut:
    preparing.tick(catalogue(), path.number, path.step, body.done)
    return show_steps(preparing.list_steps(catalogue(), path.number))


@blueprint.get("/weights", responses={200: WeightsOut}, summary="Does weight tell?")
@returns()
def read_weights(query: WeightsQuery) -> WeightsOut:
    return _weights(query.release, query.format, query.unit)


def _weights(release: str, fmt: str, unit: str) -> WeightsOut:
    rows, said, verdict = weighing.read_weights(catalogue(), release, fmt, unit)
    return WeightsOut(
        verdict=show_verdict(verdict),
        area=said and said.area,
        low=said and said.low,
        high=said and said.high,
        p_value=said and said.p_value,
        needed=said and said.needed,
        weights=[
            WeightOut(number=r.number, unit=r.unit, grams=float(r.grams), held_hit=r.held_hit, day=r.day) for r in rows
        ],
    )


@blueprint.post("/weights", responses={200: WeightsOut}, summary="Log a weight, or read the scale")
@returns()
def log_weight(body: WeightIn) -> WeightsOut:
    weighing.log_weight(
        catalogue(), context().scale, body.release, body.format, body.unit, body.grams, body.held_hit, body.sure
    )
    return _weights(body.release, body.format, body.unit)


@blueprint.put("/weights/<int:number>", responses={204: None}, summary="Say anew whether it held a hit")
@returns(204)
def correct_weight(path: OpeningPath, body: HeldIn) -> None:
    weighing.correct_weight(catalogue(), path.number, body.held_hit)


@blueprint.delete("/weights/<int:number>", responses={204: None}, summary="Take a weight back")
@returns(204)
def take_weight_back(path: OpeningPath) -> None:
    weighing.take_weight_back(catalogue(), path.number, back=True)


@blueprint.post("/weights/<int:number>/restore", responses={204: None}, summary="Bring a weight in again")
@returns(204)
def restore_weight(path: OpeningPath) -> None:
    weighing.take_weight_back(catalogue(), path.number, back=False)


@blueprint.delete("/redemptions/<int:number>", responses={200: RedemptionsOut}, summary="Take a redemption back")
@returns()
def take_redemption_back(path: OpeningPath) -> RedemptionsOut:
    redeeming.take_redemption_back(catalogue(), path.number, back=True)
    return _redemptions()


@blueprint.post("/redemptions/<int:number>/restore", responses={200: RedemptionsOut}, summary="Bring it in again")
@returns()
def restore_redemption(path: OpeningPath) -> RedemptionsOut:
    redeeming.take_redemption_back(catalogue(), path.number, back=False)
    return _redemptions()


def _redemptions() -> RedemptionsOut:
    rows = redeeming.list_redemptions(catalogue())
    shown = [RedemptionOut.model_validate(row, from_attributes=True) for row in rows]
    redeemable = [RedeemableOut(item=i.number, name=i.name) for i in redeeming.list_redeemable(catalogue())]
    return RedemptionsOut(redemptions=shown, redeemable=redeemable)


def _said(body: RedemptionIn, without: set[str]) -> dict[str, Any]:
    said = body.model_dump(exclude=without)
    return {**said, "item_id": said.pop("item")}


@blueprint.get("/redemptions", responses={200: RedemptionsOut}, summary="Cards that come by post")
@returns()
def list_redemptions() -> RedemptionsOut:
    return _redemptions()


@blueprint.post("/redemptions", responses={200: RedemptionsOut}, summary="Note a redemption")
@returns()
def add_redemption(body: RedemptionIn) -> RedemptionsOut:
    redeeming.put_redemption(catalogue(), None, None, _said(body, set()))
    return _redemptions()


@blueprint.put("/redemptions/<int:number>", responses={200: RedemptionsOut}, summary="Change a redemption")
@returns()
def change_redemption(path: OpeningPath, body: RedemptionChange) -> RedemptionsOut:
    redeeming.put_redemption(catalogue(), path.number, body.version, _said(body, {"version"}))
    return _redemptions()
