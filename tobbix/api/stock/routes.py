"""The Stock step: everything owned."""

from dataclasses import asdict
from decimal import Decimal
from hashlib import sha256

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.acts import act_key
from tobbix.api.base.cards import FindQuery, FoundListOut
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import VersionIn, read_upload
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.stock.schemas import (
    BackTogetherIn,
    BasisIn,
    FilterPath,
    FilterQuery,
    HeldNumbersOut,
    HeldQuery,
    ItemDetailOut,
    ItemEventOut,
    ItemIn,
    ItemOut,
    ItemPath,
    ItemsExportPath,
    ItemsForm,
    ItemsImportedOut,
    ItemsOut,
    ItemsQuery,
    ItemSumsOut,
    ItemVersionOut,
    JoinIn,
    MadeOut,
    OutTogetherIn,
    SavedFilterIn,
    SavedFilterOut,
    SavedFiltersOut,
    SplitIn,
    TakeOutIn,
    ThereBeforeIn,
    TogetherIn,
)
from tobbix.core.base.errors import Fault
from tobbix.core.holdings.sentences import state_item
from tobbix.core.holdings.states import Action, Kind, State
from tobbix.core.products.prospect import ground_of
from tobbix.formats.item_lists import COLUMNS, ItemLine, parse_items, write_csv, write_xlsx
from tobbix.services.buying.proposing import foresee_boxes
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.installation.progress import Phase, Stage
from tobbix.services.stock import bringing, dividing, items

blueprint = APIBlueprint(
    "stock",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="stock", description="Everything owned")],
    operation_id_callback=operation_id,
)


@blueprint.get("/items", responses={200: ItemsOut}, summary="Everything owned")
@returns()
def list_items(query: ItemsQuery) -> ItemsOut:
    page = items.list_items(catalogue().database, query.wanted(), query.sort, query.descending, query.start, query.take)
    return ItemsOut.model_validate(page, from_attributes=True)


@blueprint.get("/items/sums", responses={200: ItemSumsOut}, summary="What a filter lists, together")
@returns()
def sum_items(query: FilterQuery) -> ItemSumsOut:
    sums, verdict = items.state_stock(catalogue().database, query.wanted())
    return ItemSumsOut(**asdict(sums), verdict=show_verdict(verdict))


@blueprint.get("/items/<int:number>", responses={200: ItemDetailOut}, summary="An item with its history")
@returns()
def read_item(path: ItemPath) -> ItemDetailOut:
    view = items.read_item(catalogue().database, path.number)
    item, verdict = view.item, view.verdict
    if item.kind == Kind.SEALED and item.state is State.HELD and not item.packs_gone:
        prospect = foresee_boxes(catalogue(), [(item.release, item.format, item.count, item.basis)])[0]
        if prospect is not None:
            currency = read_preferences(catalogue().database).currency
            verdict = state_item(item, currency, ground_of(prospect, currency))
    events = [ItemEventOut.model_validate(event, from_attributes=True) for event in view.history]
    shown = ItemOut.model_validate(view.item, from_attributes=True).model_dump()
    return ItemDetailOut(
        **shown, verdict=show_verdict(verdict), history=events, value_day=view.value_day,
        value_source=view.value_source,
    )  # fmt: skip


@blueprint.put("/items/<int:number>", responses={200: ItemVersionOut}, summary="Correct an item")
@returns()
def correct_item(path: ItemPath, body: ItemIn) -> ItemVersionOut:
    changes = body.model_dump(exclude={"version"}, exclude_unset=True)
    if "card" in changes:
        changes["number"] = changes.pop("card")
    if changes.get("value") is not None:
        changes["value"] = Decimal(changes["value"])
    version = items.correct_item(catalogue().database, path.number, body.version, changes, catalogue().today())
    return ItemVersionOut(version=version)


@blueprint.post("/items/<int:number>/out", responses={204: None}, summary="Lost, given away or sent back")
@returns(204)
def take_out(path: ItemPath, body: TakeOutIn) -> None:
    action, today = Action(body.action), catalogue().today()
    items.take_out(catalogue().database, path.number, body.version, action, today, body.why, body.purpose)


@blueprint.post("/items/<int:number>/back", responses={204: None}, summary="It is here again")
@returns(204)
def bring_back(path: ItemPath, body: VersionIn) -> None:
    items.bring_back(catalogue().database, path.number, body.version, catalogue().today())


@blueprint.put("/items/<int:number>/basis", responses={204: None}, summary="What it cost is found")
@returns(204)
def remember_basis(path: ItemPath, body: BasisIn) -> None:
    items.remember_basis(catalogue().database, path.number, body.version, Decimal(body.basis), catalogue().today())


@blueprint.put("/items", responses={204: None}, summary="Correct several items at once")
@returns(204)
def correct_items(body: TogetherIn) -> None:
    changes = body.model_dump(exclude={"items"}, exclude_unset=True)
    chosen = [(item.number, item.version) for item in body.items]
    items.correct_items(catalogue().database, chosen, changes, catalogue().today())


@blueprint.post("/items/out", responses={204: None}, summary="Several are lost, given away or sent back")
@returns(204)
def take_several_out(body: OutTogetherIn) -> None:
    action, today = Action(body.action), catalogue().today()
    for chosen in body.items:  # a request is one transaction: all of them or none
        items.take_out(catalogue().database, chosen.number, chosen.version, action, today, body.why, body.purpose)


@blueprint.post("/items/back", responses={204: None}, summary="Several are here again")
@returns(204)
def bring_several_back(body: BackTogetherIn) -> None:
    for chosen in body.items:  # a request is one transaction: all of them or none
        items.bring_back(catalogue().database, chosen.number, chosen.version, catalogue().today())


@blueprint.get("/held", responses={200: HeldNumbersOut}, summary="Which cards of a line are held")
@returns()
def read_held(query: HeldQuery) -> HeldNumbersOut:
    held, lacking = items.held_and_lacking(catalogue(), query.release, query.line)
    return HeldNumbersOut(held=held, lacking=lacking)


@blueprint.post("/items/join", responses={204: None}, summary="Put like things together")
@returns(204)
def join_items(body: JoinIn) -> None:
    dividing.join_stacks(catalogue().database, body.numbers, catalogue().today())


@blueprint.post("/items/<int:number>/split", responses={201: MadeOut}, summary="Take some of a stack apart")
@returns(201)
def split_item(path: ItemPath, body: SplitIn) -> MadeOut:
    made = dividing.split_stack(catalogue().database, path.number, [body.count], catalogue().today())
    return MadeOut(number=made[0])


@blueprint.get("/cards", responses={200: FoundListOut}, summary="Cards of all releases, by what is typed")
@returns()
def search_cards(query: FindQuery) -> FoundListOut:
    return FoundListOut.of(items.search_cards(catalogue(), query.find))


@blueprint.post("/items", responses={201: ItemsImportedOut}, summary="Bring in what was there before")
@returns(201)
def import_items(form: ItemsForm) -> ItemsImportedOut:
    with context().progress.follow(act_key()) as tell:
        content, faults = read_upload(form.file), list[Fault]()
        lines = parse_items(content, lambda rows: tell(Stage(Phase.READING, rows)), faults)
        said = bringing.ListSaid(faults, form.words, f"sha256 {sha256(content).hexdigest()}", form.again)
        made = bringing.import_items(
            catalogue().database, lines, catalogue().today(),
            lambda rows: tell(Stage(Phase.STORING, rows, len(lines))), said,
        )  # fmt: skip
    return ItemsImportedOut(rows=made.rows, entry=made.entry)


@blueprint.post("/items/one", responses={201: ItemsImportedOut}, summary="Type in a thing that was there before")
@returns(201)
def add_item(body: ThereBeforeIn) -> ItemsImportedOut:
    line = ItemLine(
        row=1, name=body.name.strip(), release=body.release, line=body.line, number=body.number, variant=body.variant,
        count=body.count,
        condition=body.condition, serial=body.serial, place=body.place,
        basis=None if body.basis is None else Decimal(body.basis),
        value=None if body.value is None else Decimal(body.value),
        acquired_on=None, never_for_sale=False, note=None,
    )  # fmt: skip
    said = bringing.ListSaid(words=False)
    made = bringing.import_items(catalogue().database, [line], catalogue().today(), said=said)
    return ItemsImportedOut(rows=made.rows, entry=made.entry)


@blueprint.get(
    "/items.<form>",
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
    summary="The items of a filter as a file",
)
def export_items(path: ItemsExportPath, query: FilterQuery) -> Response:
    rows = (
        tuple(
            ("yes" if row.never_for_sale else "no") if name == "never_for_sale"
            else row.acquired_on.isoformat() if name == "acquired_on" and row.acquired_on
            else row.card if name == "number"
            else getattr(row, name)
            for name in COLUMNS
        )
        for row in items.all_items(catalogue().database, query.wanted())
    )  # fmt: skip
    if path.form == "csv":
        content, kind = write_csv(COLUMNS, rows), "text/csv; charset=utf-8"
    else:
        content = write_xlsx("Items", COLUMNS, rows)
        kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    response = make_response(content)
    response.content_type = kind
    response.headers["Content-Disposition"] = f'attachment; filename="items.{path.form}"'
    return response


def _filters() -> SavedFiltersOut:
    rows = items.list_filters(catalogue().database)
    return SavedFiltersOut(filters=[SavedFilterOut(name=name, query=query) for name, query in rows])


@blueprint.get("/item-filters", responses={200: SavedFiltersOut}, summary="Filters kept by name")
@returns()
def list_filters() -> SavedFiltersOut:
    return _filters()


@blueprint.put("/item-filters", responses={200: SavedFiltersOut}, summary="Keep a filter by name")
@returns()
def save_filter(body: SavedFilterIn) -> SavedFiltersOut:
    items.save_filter(catalogue().database, body.name, body.query)
    return _filters()


@blueprint.delete("/item-filters/<name>", responses={200: SavedFiltersOut}, summary="Forget a filter")
@returns()
def remove_filter(path: FilterPath) -> SavedFiltersOut:
    items.remove_filter(catalogue().database, path.name)
    return _filters()
