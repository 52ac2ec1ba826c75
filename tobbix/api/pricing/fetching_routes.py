"""The Pricing step: prices fetched from markets."""

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing import fetching_schemas as schemas
from tobbix.api.pricing.pasting_routes import show_proposed
from tobbix.api.pricing.pasting_schemas import PageOut
from tobbix.api.pricing.schemas import ReleaseNameOut
from tobbix.api.tasks.schemas import TaskOut, TaskPath, show_task
from tobbix.core.pricing.fetching import Scope, state_sources
from tobbix.services.pricing import fetching, revaluing

blueprint = APIBlueprint(
    "fetching",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="fetching", description="Prices fetched from markets")],
    operation_id_callback=operation_id,
)


@blueprint.get("/prices/fetches", responses={200: schemas.SourcesOut}, summary="What prices are fetched from")
@returns()
def list_fetches() -> schemas.SourcesOut:
    newest, releases = fetching.list_fetches(catalogue())
    names = [source.name for source in context().sources]
    return schemas.SourcesOut(
        names=names,
        verdict=show_verdict(state_sources(names)),
        newest=[show_task(task) for task in newest],
        releases=[ReleaseNameOut(key=key, title=title) for key, title in releases],
    )


@blueprint.post("/prices/fetches", responses={200: TaskOut}, summary="Fetch prices")
@returns()
def begin_fetch(body: schemas.FetchPricesIn) -> TaskOut:
    named = (body.release, body.line, body.number, body.variant) if body.release else None
    if body.scope is Scope.CARD and not body.number:
        named = None
    wanted = None if body.filter is None else body.filter.wanted()
    task = fetching.ask_fetch(catalogue(), context().sources, body.scope, named, wanted)
    return show_task(task)


@blueprint.post("/prices/revaluing", responses={200: TaskOut}, summary="Value everything anew")
@returns()
def begin_revaluing() -> TaskOut:
    return show_task(revaluing.ask_revaluing(catalogue()))


@blueprint.get("/prices/fetches/<int:number>", responses={200: schemas.FetchOut}, summary="What a fetch brought")
@returns()
def read_fetch(path: TaskPath) -> schemas.FetchOut:
    found = fetching.read_fetch(catalogue(), path.number)
    page = found.doubtful
    return schemas.FetchOut(
        task=show_task(found.task), about=found.task.asked["about"],
        batch=found.batch, kept=found.kept, verdict=show_verdict(found.verdict),
        doubtful=None if page is None else PageOut(
            verdict=show_verdict(page.verdict), results=[show_proposed(item) for item in page.proposed],
            cards=[FoundOut.model_validate(card, from_attributes=True) for card in page.cards.values()],
        ),
        lots=[
            schemas.ClosingLotOut(version=version, **{
                name: getattr(lot, name) for name in schemas.ClosingLotOut.model_fields if name != "version"
            })
            for version, lot in found.lots
        ],
        missed=[schemas.MissedOut.model_validate(it) for it in found.missed],
        cards=[FoundOut.model_validate(card, from_attributes=True) for card in found.cards.values()],
    )  # fmt: skip
