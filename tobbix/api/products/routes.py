"""The Products step: releases, their sheets, and what their boxes are worth."""

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from tobbix.api.base.acts import act_key
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import read_upload
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.products import correcting_schemas as typed
from tobbix.api.products import schemas
from tobbix.api.products.views import (
    show_answer,
    show_card,
    show_chase,
    show_guarantees,
    show_line,
    show_release,
    show_revision,
)
from tobbix.core.base.errors import Conflict
from tobbix.core.products.beginning import FirstLine, FirstSheet
from tobbix.core.products.chase import parse_targets
from tobbix.core.products.overview import state_release, state_shelf
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import Holding, Unit
from tobbix.formats.product_sheets import SheetFile
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.installation.progress import Phase, Stage
from tobbix.services.opening.results import with_own_odds
from tobbix.services.products import answering, editing, importing

blueprint = APIBlueprint(
    "products",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="products", description="Releases and what their boxes are worth")],
    operation_id_callback=operation_id,
)

MEDIA_TYPES = {
    SheetFile.JSON: "application/json",
    SheetFile.XLSX: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    SheetFile.CSV: "application/zip",
}


@blueprint.get("/releases", responses={200: schemas.ShelfOut}, summary="All releases, value against price")
@returns()
def list_releases() -> BaseModel:
    found = answering.answer_releases(catalogue())
    verdict = state_shelf([(answers.sheet, answers.formats) for answers in found])
    releases = [show_release(answers.sheet, answers.formats) for answers in found]
    removed = [schemas.RemovedOut(id=key, title=title) for key, title in importing.list_removed(catalogue())]
    return schemas.ShelfOut(
        verdict=show_verdict(verdict), releases=releases, removed=removed,
        offers_demo=context().add_demo_releases is not None,
    )  # fmt: skip


@blueprint.post("/releases", responses={201: schemas.ImportedOut}, summary="Import a product sheet")
@returns(201)
def import_release(form: schemas.ImportForm) -> BaseModel:
    with context().progress.follow(act_key()) as tell:
        done = importing.import_sheet(
            catalogue(), read_upload(form.file), form.confirm_silent, form.replace, form.same_release,
            lambda rows: tell(Stage(Phase.READING, rows)),
        )  # fmt: skip
    return _imported(done)


def _imported(done: importing.Imported) -> schemas.ImportedOut:
    sheet = done.sheet
    return schemas.ImportedOut(
        release=sheet.id, title=sheet.release.title, revision=sheet.revision, outcome=done.outcome
    )


@blueprint.post("/releases/begin", responses={201: schemas.ImportedOut}, summary="Begin a release by hand")
@returns(201)
def begin_release(body: typed.FirstSheetIn) -> BaseModel:
    said = body.model_dump(exclude={"lines"})
    lines = [FirstLine(**line.model_dump()) for line in body.lines]
    home = read_preferences(catalogue().database).currency
    done = importing.begin_release(catalogue(), FirstSheet(**said, currency=home, lines=lines))
    return _imported(done)


@blueprint.get(
    "/empty-sheet.<form>",
    responses={200: {"content": {media: {"schema": {"type": "string"}} for media in MEDIA_TYPES.values()}}},
    summary="A product sheet to be filled in",
)
def export_empty(path: schemas.EmptySheetPath) -> Response:
    form = SheetFile(path.form)
    home = read_preferences(catalogue().database).currency
    response = make_response(importing.empty_sheet(home, catalogue().today(), form))
    response.content_type = MEDIA_TYPES[form]
    response.headers["Content-Disposition"] = f'attachment; filename="product-sheet.{form.value}"'
    return response


@blueprint.post("/demo-releases", responses={200: schemas.AddedOut}, summary="Add the invented demo's releases")
@returns()
def add_demo_releases() -> BaseModel:
    add = context().add_demo_releases
    if add is None:
        raise Conflict("this installation is your own; the demo has one of its own (make demo)")
    return schemas.AddedOut(added=add(catalogue()))


@blueprint.get("/releases/<release>", responses={200: schemas.ReleaseDetailOut}, summary="A release")
@returns()
def read_release(path: schemas.ReleasePath) -> BaseModel:
    found = answering.answer_release(catalogue(), path.release)
    return schemas.ReleaseDetailOut(
        verdict=show_verdict(state_release(found.sheet, found.formats)),
        release=show_release(found.sheet, found.formats),
        lines=[show_line(found.sheet, line) for line in found.sheet.lines],
        guarantees=show_guarantees(found.sheet),
        last_change=None if found.last_change is None else found.last_change.what,
    )


@blueprint.delete("/releases/<release>", responses={204: None}, summary="Put a release out of sight")
@returns(204)
def remove_release(path: schemas.ReleasePath) -> None:
    importing.remove_release(catalogue(), path.release)


@blueprint.post("/releases/<release>/restore", responses={204: None}, summary="Bring a removed release back")
@returns(204)
def restore_release(path: schemas.ReleasePath) -> None:
    importing.restore_release(catalogue(), path.release)


def _revised(release: str, sheet: ProductSheet) -> schemas.RevisionOut:
    return show_revision(sheet, answering.read_last_change(catalogue(), release))


@blueprint.post("/releases/<release>/undo", responses={200: schemas.UndoneOut}, summary="Take the last change back")
@returns()
def undo_change(path: schemas.ReleasePath, query: schemas.UndoQuery) -> BaseModel:
    done = editing.undo_change(catalogue(), path.release, query.change)
    return schemas.UndoneOut(revision=done.sheet.revision, undone=done.what, gone=done.gone)


@blueprint.get(
    "/releases/<release>/sheet.<form>",
    responses={200: {"content": {media: {"schema": {"type": "string"}} for media in MEDIA_TYPES.values()}}},
    summary="The product sheet as a file",
)
def export_release(path: schemas.ExportPath) -> Response:
    form = SheetFile(path.form)
    response = make_response(importing.export_sheet(catalogue(), path.release, form))
    response.content_type = MEDIA_TYPES[form]
    response.headers["Content-Disposition"] = f'attachment; filename="{path.release}.{form.value}"'
    return response


@blueprint.get("/releases/<release>/lines/<line>/cards", responses={200: schemas.ChecklistOut}, summary="Checklist")
@returns()
def list_cards(path: schemas.LinePath, query: schemas.CardsQuery) -> BaseModel:
    sheet, page = answering.list_cards(
        catalogue(), path.release, path.line, query.find, query.sort, query.descending, query.start, query.count
    )
    cards = [show_card(sheet, path.line, version) for version in page.cards]
    return schemas.ChecklistOut(cards=cards, total=page.total, unpriced=page.unpriced)


@blueprint.put("/releases/<release>/lines/<line>/price", responses={200: schemas.RevisionOut}, summary="Price a card")
@returns()
def put_card_price(path: schemas.LinePath, body: typed.CardPriceIn) -> BaseModel:
    sheet = editing.change_card_price(
        catalogue(), path.release, body.price_revision, path.line, body.number, body.price
    )
    return _revised(path.release, sheet)


@blueprint.put("/releases/<release>/lines/<line>/prices", responses={200: schemas.RevisionOut}, summary="Price many")
@returns()
def put_card_prices(path: schemas.LinePath, body: typed.ManyPricesIn) -> BaseModel:
    said = [(one.number, one.price) for one in body.prices]
    return _revised(
        path.release, editing.change_card_prices(catalogue(), path.release, body.price_revision, path.line, said)
    )


@blueprint.put("/releases/<release>/lines/<line>/odds", responses={200: schemas.RevisionOut}, summary="Correct odds")
@returns()
def put_odds(path: schemas.LinePath, body: typed.OddsIn) -> BaseModel:
    sheet = editing.change_odds(catalogue(), path.release, body.revision, path.line, body.format, body.pack, body.odds)
    return _revised(path.release, sheet)


@blueprint.put(
    "/releases/<release>/guarantees/<int:number>",
    responses={200: schemas.RevisionOut},
    summary="Correct a guarantee",
)
@returns()
def put_guarantee(path: schemas.GuaranteePath, body: typed.GuaranteeIn) -> BaseModel:
    sheet = editing.change_guarantee(catalogue(), path.release, body.revision, path.number, body.guarantee)
    return _revised(path.release, sheet)


@blueprint.put(
    "/releases/<release>/formats/<format>/price", responses={200: schemas.RevisionOut}, summary="Price a sealed box"
)
@returns()
def put_format_price(path: schemas.FormatPath, body: typed.FormatPriceIn) -> BaseModel:
    sheet = editing.change_format_price(catalogue(), path.release, body.price_revision, path.format, body.price)
    return _revised(path.release, sheet)


@blueprint.put(
    "/releases/<release>/formats/<format>/case-price", responses={200: schemas.RevisionOut}, summary="Price a case"
)
@returns()
def put_case_price(path: schemas.FormatPath, body: typed.FormatPriceIn) -> BaseModel:
    sheet = editing.change_case_price(catalogue(), path.release, body.price_revision, path.format, body.price)
    return _revised(path.release, sheet)


@blueprint.get(
    "/releases/<release>/formats/<format>/answer", responses={200: schemas.AnswerOut}, summary="What a box is worth"
)
@returns()
def read_answer(path: schemas.FormatPath, query: schemas.AnswerQuery) -> BaseModel:
    unit = Unit(query.unit)
    holding = (
        Holding(unit, query.boxes) if unit is Unit.BOXES else Holding(unit, pack=query.pack, searched=query.searched)
    )
    choice = query.choice(query.factor)
    own_odds = with_own_odds if query.own_odds else None
    found = answering.answer_holding(catalogue(), path.release, path.format, holding, query.price, choice, own_odds)
    return show_answer(found)


@blueprint.put(
    "/releases/<release>/formats/<format>/usable",
    responses={200: schemas.RevisionOut},
    summary="Say how many packs are usable",
)
@returns()
def put_usable(path: schemas.FormatPath, body: typed.UsableIn) -> BaseModel:
    sheet = editing.change_usable(catalogue(), path.release, body.revision, path.format, body.usable)
    return _revised(path.release, sheet)


@blueprint.get(
    "/releases/<release>/formats/<format>/chase",
    responses={200: schemas.ChaseOut},
    summary="What it takes to pull a card",
)
@returns()
def read_chase(path: schemas.FormatPath, query: schemas.ChaseQuery) -> BaseModel:
    targets = parse_targets(query.targets)
    found = answering.answer_chase(catalogue(), path.release, path.format, targets, query.price, query.choice())
    return show_chase(found)
