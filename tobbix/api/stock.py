"""The Stock step: everything owned."""

from datetime import date
from decimal import Decimal
from typing import Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from pydantic import BaseModel, Field

from tobbix.api.acts import act_key
from tobbix.api.cards import FindQuery, FoundListOut
from tobbix.api.context import context, workshop
from tobbix.api.documenting import operation_id, returns
from tobbix.api.fields import Amount, Condition, Exact, Key, Once, Strict, read_upload
from tobbix.core.holdings.register import Action, State
from tobbix.formats.item_lists import COLUMNS, ItemLine, parse_items, write_csv, write_xlsx
from tobbix.services.installation.progress import Phase, Stage
from tobbix.services.stock import items

blueprint = APIBlueprint(
    "stock",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="stock", description="Everything owned")],
    operation_id_callback=operation_id,
)


class ItemOut(BaseModel):
    number: int
    version: int
    kind: str
    name: str
    release: str | None
    line: str | None
    card: str | None
    count: int
    state: State
    basis: Exact | None
    value: Exact | None
    condition: str | None
    serial: str | None
    place: str | None
    never_for_sale: bool
    acquired_on: date | None
    note: str | None
    purchase: int | None
    session: int | None


class ItemEventOut(BaseModel):
    day: date
    event: str
    text: str
    state: str
    basis: Exact | None


class ItemDetailOut(ItemOut):
    history: list[ItemEventOut]


class ItemsOut(BaseModel):
    """A page of items, with sums over all that the filter lists; things without a basis are counted apart."""

    items: list[ItemOut]
    total: int
    count: int
    basis: Exact
    unknown_basis: int
    value: Exact


class FilterQuery(BaseModel):
    find: str = Field("", max_length=200)
    kind: Literal["sealed", "card", "stack", "other"] | None = None
    state: Literal["held", "all", "in_transit", "opened", "sold", "given_away", "lost", "returned", "undone"] = "held"
    release: Key | None = None
    purchase: int | None = Field(None, ge=1, le=9_000_000_000_000)
    session: int | None = Field(None, ge=1, le=9_000_000_000_000)
    basis: Literal["known", "unknown"] | None = None
    never_for_sale: bool | None = None

    def wanted(self) -> items.ItemFilter:
        names = ("find", "kind", "state", "release", "purchase", "session", "basis", "never_for_sale")
        return items.ItemFilter(**{name: getattr(self, name) for name in names})


class ItemsQuery(FilterQuery):
    sort: Literal["name", "count", "basis", "value", "acquired_on", "place", "id"] = "id"
    descending: bool = True
    start: int = Field(0, ge=0, le=10_000_000)
    take: int = Field(50, ge=1, le=200)


class ItemPath(BaseModel):
    number: int = Field(ge=1, le=9_000_000_000_000)


class ItemIn(Strict):
    """What is corrected: fields that are not sent stay as they are, one that is sent empty is not known any more."""

    version: int = Field(ge=0, le=2_000_000_000)
    name: str = Field("", min_length=1, max_length=300)
    release: Key | None = None
    line: Key | None = None
    card: str | None = Field(None, max_length=200)
    value: Amount | None = None
    condition: Condition | None = None
    serial: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=100)
    never_for_sale: bool = False
    note: str | None = Field(None, max_length=500)


class ThereBeforeIn(Strict):
    """A thing that was there before, typed; an empty basis is unknown."""

    name: str = Field(min_length=1, max_length=300)
    count: int = Field(1, ge=1, le=1_000_000)
    basis: Amount | None = None
    value: Amount | None = None
    release: Key | None = None
    line: Key | None = None
    number: str | None = Field(None, max_length=200)
    serial: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=100)
    condition: Condition | None = None
    once: Once | None = None


class ItemVersionIn(Strict):
    version: int = Field(ge=0, le=2_000_000_000)


class BasisIn(ItemVersionIn):
    basis: Amount


class TakeOutIn(ItemVersionIn):
    action: Literal["lose", "give_away", "send_back"]
    why: str = Field("", max_length=200)


class ItemVersionOut(BaseModel):
    version: int


class ItemsForm(BaseModel):
    file: FileStorage = Field(description="A list of items: CSV or XLSX")
    once: Once | None = None


class ItemsImportedOut(BaseModel):
    rows: int


class ItemsExportPath(BaseModel):
    form: Literal["csv", "xlsx"]


class SavedFilterIn(Strict):
    name: str = Field(min_length=1, max_length=60)
    query: dict[str, str | int | bool | None] = Field(max_length=12)


class SavedFilterOut(BaseModel):
    name: str
    query: dict[str, str | int | bool | None]


class SavedFiltersOut(BaseModel):
    filters: list[SavedFilterOut]


class FilterPath(BaseModel):
    name: str = Field(min_length=1, max_length=60)


def _fields(row: Any) -> dict[str, Any]:
    same = ("version", "kind", "name", "release", "line", "count", "state", "basis", "value", "condition", "serial",
            "place", "never_for_sale", "acquired_on", "note")  # fmt: skip
    return {
        "number": row.id, "card": row.number, "purchase": row.purchase_id, "session": row.session_id,
        **{name: getattr(row, name) for name in same},
    }  # fmt: skip


@blueprint.get("/items", responses={200: ItemsOut}, summary="Everything owned")
@returns()
def list_items(query: ItemsQuery) -> ItemsOut:
    page = items.list_items(workshop().database, query.wanted(), query.sort, query.descending, query.start, query.take)
    shown = [ItemOut(**_fields(row)) for row in page.items]
    return ItemsOut(
        items=shown, total=page.total, count=page.count, basis=page.basis, unknown_basis=page.unknown_basis,
        value=page.value,
    )  # fmt: skip


@blueprint.get("/items/<int:number>", responses={200: ItemDetailOut}, summary="An item with its history")
@returns()
def read_item(path: ItemPath) -> ItemDetailOut:
    row, history = items.read_item(workshop().database, path.number)
    events = [ItemEventOut.model_validate(event, from_attributes=True) for event in history]
    return ItemDetailOut(**_fields(row), history=events)


@blueprint.put("/items/<int:number>", responses={200: ItemVersionOut}, summary="Correct an item")
@returns()
def correct_item(path: ItemPath, body: ItemIn) -> ItemVersionOut:
    changes = body.model_dump(exclude={"version"}, exclude_unset=True)
    if "card" in changes:
        changes["number"] = changes.pop("card")
    if changes.get("value") is not None:
        changes["value"] = Decimal(changes["value"])
    version = items.correct_item(workshop().database, path.number, body.version, changes, workshop().today())
    return ItemVersionOut(version=version)


@blueprint.post("/items/<int:number>/out", responses={204: None}, summary="Lost, given away or sent back")
@returns(204)
def take_out(path: ItemPath, body: TakeOutIn) -> None:
    items.take_out(workshop().database, path.number, body.version, Action(body.action), workshop().today(), body.why)


@blueprint.post("/items/<int:number>/back", responses={204: None}, summary="It is here again")
@returns(204)
def bring_back(path: ItemPath, body: ItemVersionIn) -> None:
    items.bring_back(workshop().database, path.number, body.version, workshop().today())


@blueprint.put("/items/<int:number>/basis", responses={204: None}, summary="What it cost is found")
@returns(204)
def remember_basis(path: ItemPath, body: BasisIn) -> None:
    items.remember_basis(workshop().database, path.number, body.version, Decimal(body.basis), workshop().today())


@blueprint.get("/cards", responses={200: FoundListOut}, summary="Cards of all releases, by what is typed")
@returns()
def search_cards(query: FindQuery) -> FoundListOut:
    return FoundListOut.of(items.search_cards(workshop(), query.find))


@blueprint.post("/items", responses={201: ItemsImportedOut}, summary="Bring in what was there before")
@returns(201)
def import_items(form: ItemsForm) -> ItemsImportedOut:
    with context().progress.follow(act_key()) as tell:
        lines = parse_items(read_upload(form.file), lambda rows: tell(Stage(Phase.READING, rows)))
        rows = items.import_items(
            workshop().database, lines, workshop().today(), lambda rows: tell(Stage(Phase.STORING, rows, len(lines)))
        )
    return ItemsImportedOut(rows=rows)


@blueprint.post("/items/one", responses={201: ItemsImportedOut}, summary="Type in a thing that was there before")
@returns(201)
def add_item(body: ThereBeforeIn) -> ItemsImportedOut:
    line = ItemLine(
        row=1, name=body.name.strip(), release=body.release, line=body.line, number=body.number, count=body.count,
        condition=body.condition, serial=body.serial, place=body.place,
        basis=None if body.basis is None else Decimal(body.basis),
        value=None if body.value is None else Decimal(body.value),
        acquired_on=None, never_for_sale=False, note=None,
    )  # fmt: skip
    return ItemsImportedOut(rows=items.import_items(workshop().database, [line], workshop().today()))


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
            else getattr(row, name)
            for name in COLUMNS
        )
        for row in items.all_items(workshop().database, query.wanted())
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
    rows = items.list_filters(workshop().database)
    return SavedFiltersOut(filters=[SavedFilterOut(name=row.name, query=row.query) for row in rows])


@blueprint.get("/item-filters", responses={200: SavedFiltersOut}, summary="Filters kept by name")
@returns()
def list_filters() -> SavedFiltersOut:
    return _filters()


@blueprint.put("/item-filters", responses={200: SavedFiltersOut}, summary="Keep a filter by name")
@returns()
def save_filter(body: SavedFilterIn) -> SavedFiltersOut:
    items.save_filter(workshop().database, body.name, body.query)
    return _filters()


@blueprint.delete("/item-filters/<name>", responses={200: SavedFiltersOut}, summary="Forget a filter")
@returns()
def remove_filter(path: FilterPath) -> SavedFiltersOut:
    items.remove_filter(workshop().database, path.name)
    return _filters()
