"""The Stock step: goals, what fills them, and what finishing costs."""

from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.sorting import goal_schemas as schemas
from tobbix.api.sorting.schemas import KeptOut
from tobbix.core.sorting.goals import Seen, state_goals
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.sorting import goals

blueprint = APIBlueprint(
    "goals",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="goals", description="Sets, rainbows and looser goals")],
    operation_id_callback=operation_id,
)


@blueprint.get("/goals", responses={200: schemas.GoalsOut}, summary="All goals")
@returns()
def list_goals() -> schemas.GoalsOut:
    found = goals.list_goals(catalogue())
    return schemas.GoalsOut(
        verdict=show_verdict(state_goals([(it.filled, it.total) for it in found])),
        goals=[
            schemas.GoalBriefOut(
                number=it.stored.number, version=it.stored.version, name=it.stored.name, kind=it.stored.kind,
                least=it.stored.least, total=it.total, filled=it.filled, doubles=it.doubles,
            )
            for it in found
        ],
    )  # fmt: skip


def _put(number: int, body: schemas.GoalIn) -> KeptOut:
    whole = None if body.whole is None else (Decimal(body.whole.price), body.whole.currency, body.whole.day)
    said = goals.GoalSaid(
        body.name, body.kind, body.release, body.line, body.card, body.least, body.each, body.numbered,
        tuple(body.subjects), tuple((it.name, tuple(it.options)) for it in body.slots), whole,
    )  # fmt: skip
    return KeptOut(number=goals.put_goal(catalogue(), number, body.version, said))


@blueprint.post("/goals", responses={201: KeptOut}, summary="Set a goal")
@returns(201)
def add_goal(body: schemas.GoalIn) -> KeptOut:
    return _put(0, body)


@blueprint.put("/goals/<int:number>", responses={200: KeptOut}, summary="Change a goal")
@returns()
def change_goal(path: schemas.GoalPath, body: schemas.GoalIn) -> KeptOut:
    return _put(path.number, body)


@blueprint.delete("/goals/<int:number>", responses={204: None}, summary="Give a goal up")
@returns(204)
def remove_goal(path: schemas.GoalPath) -> None:
    goals.remove_goal(catalogue(), path.number)


@blueprint.post("/goals/<int:number>/back", responses={204: None}, summary="Take a goal up again")
@returns(204)
def restore_goal(path: schemas.GoalPath) -> None:
    goals.remove_goal(catalogue(), path.number, again=True)


@blueprint.put("/goals/<int:number>/whole", responses={204: None}, summary="What all of it sells for as one")
@returns(204)
def say_goal_whole(path: schemas.GoalPath, body: schemas.WholeSaidIn) -> None:
    whole = None if body.whole is None else (Decimal(body.whole.price), body.whole.currency, body.whole.day)
    goals.say_whole(catalogue(), path.number, body.version, whole)


def _seen(it: Seen | None) -> schemas.SeenOut | None:
    if it is None:
        return None
    other, currency = it.other or (None, None)
    return schemas.SeenOut(amount=it.amount, day=it.day, other=other, currency=currency)


@blueprint.get("/goals/<int:number>", responses={200: schemas.GoalOut}, summary="A goal as it stands")
@returns()
def read_goal(path: schemas.GoalPath) -> schemas.GoalOut:
    found = goals.read_goal(catalogue(), path.number)
    stored, whole = found.stored, found.whole
    return schemas.GoalOut(
        number=stored.number, version=stored.version, name=stored.name, kind=stored.kind, release=found.release,
        line=found.line, least=stored.least,
        slots=[
            schemas.GoalSlotOut(
                name=it.state.slot.name, card=None if it.card is None else FoundOut.model_validate(it.card),
                item=it.state.item, spare=it.state.spare, value=it.value, options=len(it.state.slot.options),
            )
            for it in found.slots
        ],
        filled=found.state.filled, singly=found.ways.singly, unknown=found.ways.unknown,
        whole=schemas.WholeSetOut(
            as_one=_seen(whole.as_one), singly=_seen(whole.singly), unknown=whole.unknown,
            book_low=_seen(whole.book_low), book_high=_seen(whole.book_high),
        ),
        doubles=sum(found.state.doubles.values()), currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.post("/goals/<int:number>/basket", responses={200: schemas.GoalBasketOut}, summary="The best basket for it")
@returns()
def fill_goal_by_basket(path: schemas.GoalPath, body: schemas.BasketIn) -> schemas.GoalBasketOut:
    said = [
        goals.SellerTerms(
            it.seller, Decimal(it.shipping), Decimal(it.each_further),
            None if it.free_from is None else Decimal(it.free_from), 0,
        )
        for it in body.terms
    ]  # fmt: skip
    found = goals.fill_by_basket(catalogue(), path.number, said)
    basket = found.basket
    orders = [
        schemas.BasketOrderOut(
            seller=order.seller,
            cards=[
                schemas.BasketCardOut(
                    name=found.names[it.card], count=it.count, price=it.price,
                    card=FoundOut.model_validate(found.cards[it.card]) if it.card in found.cards else None,
                )
                for it in order.cards
            ],
            shipping=order.shipping, total=order.total,
        )
        for order in basket.orders
    ]  # fmt: skip
    return schemas.GoalBasketOut(
        total=basket.total, alone=basket.alone, orders=orders, missing=[found.names[key] for key, _ in basket.missing],
        proven=basket.proven, gap=basket.gap, asks=found.asks,
        terms=[schemas.SellerTermsOut.model_validate(it) for it in found.terms], currency=found.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/goals/<int:number>/packs", responses={200: schemas.PacksToFinishOut}, summary="Finishing by packs")
@returns()
def finish_by_packs(path: schemas.GoalPath) -> schemas.PacksToFinishOut:
    found = goals.finish_by_packs(catalogue(), path.number)
    return schemas.PacksToFinishOut(
        formats=[schemas.ByPacksOut.model_validate(it) for it in found],
        currency=read_preferences(catalogue().database).currency,
    )
