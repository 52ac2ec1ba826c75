"""Questions before buying, over HTTP."""

from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import VersionIn
from tobbix.api.products import planning_schemas as schemas
from tobbix.api.products import planning_views as views
from tobbix.api.products.schemas import FormatPath, ReleasePath, RevisionOut, ViewQuery
from tobbix.api.products.views import show_revision
from tobbix.core.base.errors import InputError
from tobbix.core.products.completing import SetAim
from tobbix.core.products.trying import Edit
from tobbix.services.products import answering, assuming, planning, simulating, trying

blueprint = APIBlueprint(
    "planning",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="planning", description="Everything to know before buying a box")],
    operation_id_callback=operation_id,
)

_RELEASE, _FORMAT = "/releases/<release>", "/releases/<release>/formats/<format>"


@blueprint.get(_FORMAT + "/sureness", responses={200: schemas.SurenessOut}, summary="How sure a loss is")
@returns()
def read_sureness(path: FormatPath, query: schemas.PriceQuery) -> BaseModel:
    found = planning.answer_sureness(catalogue(), path.release, path.format, query.price, query.choice())
    return views.show_sureness(found)


@blueprint.get(_RELEASE + "/comparison", responses={200: schemas.ComparisonOut}, summary="Formats side by side")
@returns()
def read_comparison(path: ReleasePath, query: schemas.CompareQuery) -> BaseModel:
    return views.show_comparison(
        planning.answer_comparison(catalogue(), path.release, query.rare_packs, query.choice())
    )


@blueprint.get(_FORMAT + "/set", responses={200: schemas.SetOut}, summary="What a set takes")
@returns()
def read_set(path: FormatPath, query: schemas.SetQuery) -> BaseModel:
    aim = SetAim(query.line, query.number or None)
    found = planning.answer_set(
        catalogue(), path.release, path.format, aim, query.repeats, query.price, query.choice(), query.held
    )
    return views.show_set(found)


@blueprint.get(_RELEASE + "/production", responses={200: schemas.ProductionOut}, summary="How many exist")
@returns()
def read_production(path: ReleasePath, query: schemas.ProductionQuery) -> BaseModel:
    return views.show_production(planning.answer_production(catalogue(), path.release, _shares(query.shares)))


def _shares(text: str) -> dict[str, float]:
    shares = {}
    for part in filter(None, (item.strip() for item in text.split(","))):
        name, _, share = part.partition(":")
        try:
            shares[name.strip()] = float(share)
        except ValueError:
            raise InputError.at("shares", f"“{part[:60]}” is not like harbour:0.8") from None
    return shares


@blueprint.get(_FORMAT + "/choice", responses={200: schemas.ChoiceOut}, summary="Rip, hold or buy the singles")
@returns()
def read_choice(path: FormatPath, query: schemas.ChoiceQuery) -> BaseModel:
    sealed = planning.SealedAsked(query.sealed_value, query.growth, query.years, query.keeping)
    found = planning.answer_choice(catalogue(), path.release, path.format, query.price, sealed, query.choice())
    return views.show_choice(found)


@blueprint.get(_RELEASE + "/wanted", responses={200: schemas.WantedListOut}, summary="Wanted cards")
@returns()
def read_wanted(path: ReleasePath) -> BaseModel:
    return views.show_wanted(assuming.read_wanted(catalogue(), path.release))


@blueprint.put(_RELEASE + "/wanted", responses={200: schemas.WantedListOut}, summary="Want a card, or no longer")
@returns()
def put_wanted(path: ReleasePath, body: schemas.WantedIn) -> BaseModel:
    found = assuming.change_wanted(catalogue(), path.release, body.line, body.number, body.wanted)
    return views.show_wanted(found)


@blueprint.get(_RELEASE + "/assumptions", responses={200: schemas.AssumptionsOut}, summary="What is assumed")
@returns()
def read_assumptions(path: ReleasePath) -> BaseModel:
    return views.show_assumptions(assuming.read_assumptions(catalogue(), path.release))


@blueprint.put(_RELEASE + "/assumptions", responses={200: schemas.AssumptionsOut}, summary="Assume something")
@returns()
def put_assumption(path: ReleasePath, body: schemas.AssumptionIn) -> BaseModel:
    wanted = assuming.Assumption(body.kind, body.line, body.format, body.text)
    return views.show_assumptions(assuming.change_assumption(catalogue(), path.release, wanted))


@blueprint.get(_FORMAT + "/trial", responses={200: schemas.TrialOut}, summary="A scratch copy beside the sheet")
@returns()
def read_trial(path: FormatPath, query: ViewQuery) -> BaseModel:
    return views.show_trial(trying.read_trial(catalogue(), path.release, path.format, query.choice()))


@blueprint.post(_RELEASE + "/trial/edits", responses={200: schemas.VersionOut}, summary="Try a change")
@returns()
def add_trial_edit(path: ReleasePath, body: schemas.EditIn) -> BaseModel:
    edit = Edit(body.kind, body.text, body.line, body.number, body.format, body.pack)
    return schemas.VersionOut(version=trying.add_trial(catalogue(), path.release, body.version, edit))


@blueprint.delete(
    _RELEASE + "/trial/edits/<int:number>", responses={200: schemas.VersionOut}, summary="Take a trial back"
)
@returns()
def remove_trial_edit(path: schemas.EditPath, query: schemas.VersionQuery) -> BaseModel:
    version = trying.remove_trial(catalogue(), path.release, query.version, path.number)
    return schemas.VersionOut(version=version)


@blueprint.post(_RELEASE + "/trial/keep", responses={200: RevisionOut}, summary="Make the scratch copy the sheet")
@returns()
def keep_trial(path: ReleasePath, body: VersionIn) -> BaseModel:
    sheet = trying.keep_trial(catalogue(), path.release, body.version)
    return show_revision(sheet, answering.read_last_change(catalogue(), path.release))


@blueprint.delete(_RELEASE + "/trial", responses={204: None}, summary="Throw the scratch copy away")
@returns(204)
def drop_trial(path: ReleasePath) -> None:
    trying.drop_trial(catalogue(), path.release)


@blueprint.post(_FORMAT + "/simulations", responses={200: schemas.SimulationOut}, summary="Begin a long simulation")
@returns()
def ask_simulation(path: FormatPath, body: schemas.SimulationIn) -> BaseModel:
    question = simulating.Question(
        body.kind, path.format, body.count, body.seed, body.price, body.no_repeats, body.even, body.line,
        body.held, body.basis, body.way,
    )  # fmt: skip
    return views.show_simulation(simulating.ask_simulation(catalogue(), path.release, question))


@blueprint.get("/simulations/<int:number>", responses={200: schemas.SimulationOut}, summary="How far a simulation is")
@returns()
def read_simulation(path: schemas.SimulationPath) -> BaseModel:
    return views.show_simulation(simulating.read_simulation(catalogue(), path.number))


@blueprint.post("/simulations/<int:number>/stop", responses={200: schemas.SimulationOut}, summary="Stop a simulation")
@returns()
def stop_simulation(path: schemas.SimulationPath) -> BaseModel:
    return views.show_simulation(simulating.stop_simulation(catalogue(), path.number))
