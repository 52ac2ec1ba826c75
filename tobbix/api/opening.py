"""The Opening step: sessions, pulls, results against the odds, weights, redemptions."""

from datetime import date
from decimal import Decimal
from typing import Any, Literal

from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from tobbix.api.buying import NumberOut
from tobbix.api.context import context, workshop
from tobbix.api.documenting import operation_id, returns
from tobbix.api.fields import Exact, Key, Once, Share, Strict, Words
from tobbix.api.verdicts import VerdictOut, show_verdict
from tobbix.core.opening.results import STRENGTH
from tobbix.core.opening.session import Pulled
from tobbix.services.opening import extras, opening

blueprint = APIBlueprint(
    "opening",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="opening", description="What comes out of boxes and packs")],
    operation_id_callback=operation_id,
)


class OpeningIn(Strict):
    """A session of so many boxes of an item. ``gone`` packs were opened by somebody else before."""

    once: Once
    item: int = Field(ge=1, le=9_000_000_000_000)
    boxes: int = Field(1, ge=1, le=1_000)
    entertainment: Share | None = Field(None, description="Left out: the share said when it was bought")
    gone: int = Field(0, ge=0, le=10_000)
    gone_seen: int = Field(0, ge=0, le=10_000)
    trust: float = Field(1.0, ge=0, le=1)
    note: Words | None = None


class OpeningPath(BaseModel):
    number: int = Field(ge=1, le=9_000_000_000_000)


class OpeningRowOut(BaseModel):
    number: int
    release: str
    format: str
    boxes: int
    packs: int
    current_pack: int
    state: Literal["running", "paused", "done", "undone"]
    started_on: date
    done_on: date | None
    note: str | None


class NamedOpeningOut(OpeningRowOut):
    name: str


class OpeningsOut(BaseModel):
    verdict: VerdictOut
    sessions: list[NamedOpeningOut]
    openable: list["OpenableOut"]


class OpenableOut(BaseModel):
    """Sealed product that stands on the desk."""

    item: int
    name: str
    count: int
    basis: Exact | None


class PullOut(BaseModel):
    number: int
    pack: int
    line: str
    line_name: str
    card: str | None
    subject: str
    count: int
    serial: str | None
    flaw: str | None
    worth: float | None


class LeftOut(BaseModel):
    name: str
    promised: int
    seen: int


class ResultOut(BaseModel):
    """A line against its odds (C-13)."""

    line: str
    name: str
    packs: int
    rate: float
    expected: float
    observed: int
    low: float | None
    high: float | None
    p_value: float | None
    p_more: float | None
    corrected: float | None
    posterior: float | None
    right: bool | None


class LineChoiceOut(BaseModel):
    """A line that the format can hold, for typing."""

    id: str
    name: str
    print_run: int | None
    is_base: bool


class OpeningOut(OpeningRowOut):
    """A session as it stands: what is left, the running account, the odds so far."""

    release_title: str
    format_name: str
    currency: str
    gone: int
    trust: float
    entertainment: Exact
    stopped_hot: bool
    verdict: VerdictOut
    pack_cards: int
    pack_room: int
    cost: Exact | None
    pulled_worth: float
    left_packs: int
    left_value: float
    left_per_pack: float
    live: list[LeftOut]
    luck: float | None
    results: list[ResultOut]
    pulls: list[PullOut]
    lines: list[LineChoiceOut]


class PullIn(Strict):
    """A card of a pack: its line and number; base cards may be counted without one."""

    once: Once
    pack: int = Field(ge=1, le=10_000)
    line: Key
    number: str | None = Field(None, max_length=200)
    count: int = Field(1, ge=1, le=1_000)
    serial: str | None = Field(None, max_length=40)
    flaw: str | None = Field(None, max_length=200)


class TurnIn(Strict):
    """Go to another pack; ``rest_is_base``: what is not logged of the present one is base."""

    pack: int = Field(ge=1, le=10_000)
    rest_is_base: bool


class FinishIn(Strict):
    """``fill``: packs that are not full are filled with base cards that nobody listed."""

    fill: bool = True
    stopped_hot: bool = False


class ResultsQuery(BaseModel):
    """``strength`` of the stated odds as a prior, in packs."""

    release: Key
    format: Key
    strength: float = Field(STRENGTH, gt=0, le=1_000_000, allow_inf_nan=False)


class ResultsOut(BaseModel):
    release_title: str
    format_name: str
    sessions: int
    packs: int
    stopped_hot: bool
    verdict: VerdictOut
    results: list[ResultOut]


class CompareFormatsQuery(BaseModel):
    """Two formats of a release whose finished sessions are compared."""

    release: Key
    first: Key
    second: Key


class ComparedLineOut(BaseModel):
    """A line in two formats: how many times as often it came in the first, and the chance of that by luck."""

    line: str
    name: str
    first_hits: int
    second_hits: int
    ratio: float | None
    p_value: float
    money_ratio: float | None
    money_p_value: float | None


class ComparedFormatsOut(BaseModel):
    lines: list[ComparedLineOut]


class FindQuery(BaseModel):
    """Cards that the format can hold, by number or a part of the subject."""

    find: str = Field(min_length=1, max_length=60)


class TotalIn(Strict):
    line: Key
    count: int = Field(ge=1, le=1_000)


class TotalsIn(Strict):
    """Packs from the present one on that were opened off the record: how many hits of which line, the rest is base."""

    once: str = Field(min_length=1, max_length=40)
    packs: int = Field(ge=1, le=10_000)
    totals: list[TotalIn] = Field(max_length=200)


class HotQuery(BaseModel):
    """One in ``one_in`` boxes is hot, and holds ``times`` as many hits of a line."""

    line: Key
    one_in: float = Field(20, gt=1, le=1_000_000, allow_inf_nan=False)
    times: float = Field(3, gt=1, le=1_000, allow_inf_nan=False)


class HotOut(BaseModel):
    packs: int
    hits: int
    rate: float
    chance: float


class FoundOut(BaseModel):
    line: str
    line_name: str
    number: str
    subject: str


class FoundListOut(BaseModel):
    cards: list[FoundOut]


class WeightIn(Strict):
    """Weight of a box or pack in grams; ``grams`` empty reads the scale."""

    release: Key
    format: Key
    unit: Literal["box", "pack"]
    grams: float | None = Field(None, gt=0, le=100_000)
    held_hit: bool | None = None


class WeightOut(BaseModel):
    number: int
    unit: str
    grams: float
    held_hit: bool | None
    day: date


class WeightsQuery(BaseModel):
    release: Key
    format: Key
    unit: Literal["box", "pack"] = "box"


class WeightsOut(BaseModel):
    """The owner's weights and what they say (C-14); figures None while there are too few."""

    verdict: VerdictOut
    area: float | None
    low: float | None
    high: float | None
    needed: int | None
    weights: list[WeightOut]


class RedemptionIn(Strict):
    name: str = Field(min_length=1, max_length=200)
    code: str = Field(min_length=1, max_length=100)
    choices: str | None = Field(None, max_length=300)
    posted_on: date | None = None
    due_on: date | None = None
    arrived_on: date | None = None


class RedemptionChange(RedemptionIn):
    version: int = Field(ge=1, le=2_000_000_000)


class RedemptionOut(RedemptionChange):
    number: int


class RedemptionsOut(BaseModel):
    redemptions: list[RedemptionOut]


def _share(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text or "0")


def _row(row: Any) -> dict[str, Any]:
    names = ("release", "format", "boxes", "packs", "current_pack", "state", "started_on", "done_on", "note")
    return {"number": row.id, **{name: getattr(row, name) for name in names}}


def _show(number: int) -> OpeningOut:
    view = opening.read_session(workshop(), number)
    sheet, row = view.looked.sheet, view.row
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
        pack_cards=view.pack_cards,
        pack_room=max(view.pack_room, 0),
        cost=view.cost,
        pulled_worth=view.pulled_worth,
        left_packs=view.ahead.packs,
        left_value=view.ahead.value,
        left_per_pack=view.ahead.per_pack,
        live=[LeftOut(name=g.name, promised=g.promised, seen=g.seen) for g in view.ahead.live],
        luck=view.luck,
        results=[ResultOut.model_validate(item, from_attributes=True) for item in view.results],
        pulls=[
            PullOut(
                number=p.row.id, pack=p.row.pack, line=p.row.line, line_name=p.line_name, card=p.row.number,
                subject=p.subject, count=p.row.count, serial=p.row.serial, flaw=p.row.flaw, worth=p.worth,
            )
            for p in view.pulls
        ],
        lines=[
            LineChoiceOut(id=line.id, name=line.name, print_run=line.print_run, is_base=line.kind.value == "base")
            for line in sheet.lines
            if row.format not in line.not_in
        ],
    )  # fmt: skip


@blueprint.get("/sessions", responses={200: OpeningsOut}, summary="Openings, and what can be opened")
@returns()
def list_openings() -> OpeningsOut:
    rows = opening.list_sessions(workshop())
    sealed = extras.list_openable(workshop())
    return OpeningsOut(
        verdict=show_verdict(extras.state_opening(rows, sealed)),
        sessions=[NamedOpeningOut(name=name, **_row(row)) for row, name in rows],
        openable=[OpenableOut(item=i.id, name=i.name, count=i.count, basis=i.basis) for i in sealed],
    )


@blueprint.post("/sessions", responses={201: NumberOut}, summary="Begin to open")
@returns(201)
def start_opening(body: OpeningIn) -> NumberOut:
    said = opening.SessionSaid(
        body.item, body.boxes, _share(body.entertainment), body.gone, body.gone_seen, body.trust,
        None, body.note,
    )  # fmt: skip
    return NumberOut(number=opening.start_session(workshop(), said, body.once))


@blueprint.get("/sessions/<int:number>", responses={200: OpeningOut}, summary="An opening")
@returns()
def read_opening(path: OpeningPath) -> OpeningOut:
    return _show(path.number)


@blueprint.get("/sessions/<int:number>/cards", responses={200: FoundListOut}, summary="Cards that the box can hold")
@returns()
def find_cards(path: OpeningPath, query: FindQuery) -> FoundListOut:
    found = extras.find_cards(workshop(), path.number, query.find)
    return FoundListOut(cards=[FoundOut.model_validate(card, from_attributes=True) for card in found])


@blueprint.post("/sessions/<int:number>/pulls", responses={200: OpeningOut}, summary="Log a card")
@returns()
def log_pull(path: OpeningPath, body: PullIn) -> OpeningOut:
    fresh = Pulled(body.pack, body.line, body.number or None, body.count, body.serial or None, body.flaw or None)
    opening.log_pull(workshop(), path.number, fresh, body.once)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/totals", responses={200: OpeningOut}, summary="Packs off the record")
@returns()
def log_totals(path: OpeningPath, body: TotalsIn) -> OpeningOut:
    totals = [(item.line, item.count) for item in body.totals]
    opening.log_totals(workshop(), path.number, body.packs, totals, body.once)
    return _show(path.number)


@blueprint.get("/sessions/<int:number>/hot", responses={200: HotOut}, summary="Is it a hot box?")
@returns()
def read_hot_box(path: OpeningPath, query: HotQuery) -> HotOut:
    found = extras.judge_hot_box(workshop(), path.number, query.line, query.one_in, query.times)
    return HotOut.model_validate(found, from_attributes=True)


@blueprint.delete("/sessions/<int:number>/pulls", responses={200: OpeningOut}, summary="Take the last card back")
@returns()
def undo_pull(path: OpeningPath) -> OpeningOut:
    opening.undo_pull(workshop(), path.number)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/pack", responses={200: OpeningOut}, summary="Go to another pack")
@returns()
def turn_pack(path: OpeningPath, body: TurnIn) -> OpeningOut:
    opening.turn_pack(workshop(), path.number, body.pack, body.rest_is_base)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/pause", responses={200: OpeningOut}, summary="Put it aside")
@returns()
def pause_opening(path: OpeningPath) -> OpeningOut:
    opening.pause_session(workshop(), path.number)
    return _show(path.number)


@blueprint.post("/sessions/<int:number>/finish", responses={200: OpeningOut}, summary="Move the cost to the cards")
@returns()
def finish_opening(path: OpeningPath, body: FinishIn) -> OpeningOut:
    opening.finish_session(workshop(), path.number, body.fill, body.stopped_hot)
    return _show(path.number)


@blueprint.get("/results", responses={200: ResultsOut}, summary="Odds against results")
@returns()
def read_results(query: ResultsQuery) -> ResultsOut:
    view = opening.read_results(workshop(), query.release, query.format, query.strength)
    return ResultsOut(
        release_title=view.looked.sheet.release.title,
        format_name=view.format.name,
        sessions=view.sessions,
        packs=view.packs,
        stopped_hot=view.stopped_hot,
        verdict=show_verdict(extras.state_results(view)),
        results=[ResultOut.model_validate(item, from_attributes=True) for item in view.results],
    )


@blueprint.get("/results/compared", responses={200: ComparedFormatsOut}, summary="Two formats against each other")
@returns()
def compare_results(query: CompareFormatsQuery) -> ComparedFormatsOut:
    found = opening.compare_formats(workshop(), query.release, query.first, query.second)
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


@blueprint.get("/weights", responses={200: WeightsOut}, summary="Does weight tell?")
@returns()
def read_weights(query: WeightsQuery) -> WeightsOut:
    return _weights(query.release, query.format, query.unit)


def _weights(release: str, fmt: str, unit: str) -> WeightsOut:
    rows, said, verdict = extras.read_weights(workshop(), release, fmt, unit)
    return WeightsOut(
        verdict=show_verdict(verdict),
        area=said and said.area,
        low=said and said.low,
        high=said and said.high,
        needed=said and said.needed,
        weights=[
            WeightOut(number=r.id, unit=r.unit, grams=float(r.grams), held_hit=r.held_hit, day=r.day) for r in rows
        ],
    )


@blueprint.post("/weights", responses={200: WeightsOut}, summary="Log a weight, or read the scale")
@returns()
def log_weight(body: WeightIn) -> WeightsOut:
    extras.log_weight(workshop(), context().scale, body.release, body.format, body.unit, body.grams, body.held_hit)
    return _weights(body.release, body.format, body.unit)


def _redemptions() -> RedemptionsOut:
    rows = extras.list_redemptions(workshop())
    shown = [
        RedemptionOut(
            number=r.id, version=r.version, name=r.name, code=r.code, choices=r.choices, posted_on=r.posted_on,
            due_on=r.due_on, arrived_on=r.arrived_on,
        )
        for r in rows
    ]  # fmt: skip
    return RedemptionsOut(redemptions=shown)


@blueprint.get("/redemptions", responses={200: RedemptionsOut}, summary="Cards that come by post")
@returns()
def list_redemptions() -> RedemptionsOut:
    return _redemptions()


@blueprint.post("/redemptions", responses={200: RedemptionsOut}, summary="Note a redemption")
@returns()
def add_redemption(body: RedemptionIn) -> RedemptionsOut:
    extras.put_redemption(workshop(), None, None, body.model_dump())
    return _redemptions()


@blueprint.put("/redemptions/<int:number>", responses={200: RedemptionsOut}, summary="Change a redemption")
@returns()
def change_redemption(path: OpeningPath, body: RedemptionChange) -> RedemptionsOut:
    extras.put_redemption(workshop(), path.number, body.version, body.model_dump(exclude={"version"}))
    return _redemptions()
