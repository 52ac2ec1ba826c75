"""The Pricing step: what hardly sells, by what its mates sell for."""

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing import borrowing_schemas as schemas
from tobbix.api.pricing.schemas import CardPriceQuery
from tobbix.api.tasks.schemas import TaskOut, show_task
from tobbix.core.pricing.borrowing import Coverage, say_honesty
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.pricing import borrowing

blueprint = APIBlueprint(
    "borrowing",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="borrowing", description="Values that are borrowed")],
    operation_id_callback=operation_id,
)


@blueprint.post("/prices/borrowing", responses={200: TaskOut}, summary="Value what hardly sells")
@returns()
def begin_borrowing(query: schemas.BorrowQuery) -> TaskOut:
    return show_task(borrowing.ask_borrowing(catalogue(), query.across))


@blueprint.get("/prices/borrowing", responses={200: schemas.LentOut}, summary="What came of borrowing")
@returns()
def read_borrowing() -> schemas.LentOut:
    found = borrowing.read_borrowing(catalogue())
    titles = borrowing.titles_of(catalogue(), [key for it in found.releases for key in (it.key, *it.others)])
    return schemas.LentOut(
        task=None if found.task is None else show_task(found.task), day=found.day,
        releases=[
            schemas.LentReleaseOut(
                **{name: getattr(it, name) for name in ("key", "sales", "values", "of", "within", "widened", "others")},
                spread=schemas.SpreadOut.model_validate(it.spread),
                title=", ".join(titles.get(key, key) for key in (it.key, *it.others)),
                honesty=say_honesty(Coverage(it.of, it.within)),
            )
            for it in found.releases
        ],
        too_few=found.too_few,
        summed=None if found.summed is None else schemas.SummedOut.model_validate(found.summed),
        after=None if found.after is None else schemas.SummedOut.model_validate(found.after),
        look_ups=[
            schemas.NextLookOut(card=FoundOut.model_validate(it.card), state=it.state, narrows=it.narrows)
            for it in found.look_ups
        ],
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/prices/borrowed", responses={200: schemas.LentCardOut}, summary="What is borrowed for a card")
@returns()
def read_borrowed(query: CardPriceQuery) -> schemas.LentCardOut:
    state = query.state or read_preferences(catalogue().database).sheet_condition
    found = borrowing.read_lent(catalogue(), query.release, query.line, query.number, query.variant, state)
    return schemas.LentCardOut(lent=None if found is None else schemas.LentValueOut.model_validate(found))
