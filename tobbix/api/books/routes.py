"""The books: balances, lots, sessions, entries, and files."""

from decimal import Decimal
from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.books.schemas import (
    BalanceOut,
    BooksOut,
    DocumentPath,
    EntryOut,
    EntryPath,
    FriendLineOut,
    FriendOut,
    FriendQuery,
    FriendsOut,
    FriendStatementOut,
    FriendsThingOut,
    LotOut,
    LotSumOut,
    MinutesIn,
    MinutesOut,
    MonthOut,
    PostingOut,
    PurseCountedIn,
    PurseCountedOut,
    PurseOut,
    PursePath,
    PursesOut,
    SalesOut,
    SalesQuery,
    SalesSumOut,
    SoldOut,
    TakenBackOut,
    ThingOut,
)
from tobbix.core.books.reports import Lot, sum_lots
from tobbix.core.holdings.ledger import Event
from tobbix.services.books import books, friends, sales, taking_back

blueprint = APIBlueprint(
    "books",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="books", description="What it all cost and is worth")],
    operation_id_callback=operation_id,
)


_THINGS = 3  # of an entry that are named; the others are counted


def _lot(lot: Lot) -> LotOut:
    return LotOut.model_validate(lot, from_attributes=True)


@blueprint.get("/books", responses={200: BooksOut}, summary="Where the books stand")
@returns()
def read_books() -> BooksOut:
    view = books.read_books(catalogue().database)
    return BooksOut(
        verdict=show_verdict(view.verdict),
        currency=view.currency,
        off=view.off[0],
        stock_off=view.off[1],
        balances=[BalanceOut(account=account, purse=purse, amount=amount) for account, purse, amount in view.balances],
        lots=[_lot(lot) for lot in view.lots],
        all_lots=LotSumOut.model_validate(sum_lots(view.lots), from_attributes=True),
        sessions=[_lot(lot) for lot in view.sessions],
        all_sessions=LotSumOut.model_validate(sum_lots(view.sessions), from_attributes=True),
        months=[MonthOut.model_validate(month, from_attributes=True) for month in view.months],
        entries_in_all=view.in_all,
        entries=[
            EntryOut(
                number=shown.number,
                day=shown.entry.day,
                event=shown.entry.event.value,
                text=shown.entry.text,
                taken_back=shown.taken_back,
                can_be_taken_back=not shown.taken_back and shown.entry.event is not Event.UNDO,
                lines=[PostingOut.model_validate(line, from_attributes=True) for line in shown.entry.lines],
                things=[ThingOut(item=item, name=name) for item, name in shown.things[:_THINGS]],
                all_things=len(shown.things),
            )
            for shown in view.entries
        ],
    )


@blueprint.post("/entries/<int:number>/undo", responses={200: TakenBackOut}, summary="Take back what was booked")
@returns()
def undo_entry(path: EntryPath) -> TakenBackOut:
    return TakenBackOut(text=taking_back.take_back(catalogue(), path.number))


def _file(content: bytes | str, kind: str, name: str) -> Response:
    response = make_response(content)
    response.content_type = kind
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


_FILES: dict[Any, Any] = {
    200: {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}
}
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_CSV = "text/csv; charset=utf-8"
_SHOWN = 500


def _sales(query: SalesQuery) -> sales.SalesView:
    return sales.read_sales(catalogue(), query.by, query.first, query.last, query.only)


@blueprint.get("/books/sales", responses={200: SalesOut}, summary="What sales made, by something")
@returns()
def read_sales(query: SalesQuery) -> SalesOut:
    found = _sales(query)
    newest = found.things[::-1][:_SHOWN] if query.only is not None else ()
    return SalesOut(
        rows=[SalesSumOut.model_validate(it) for it in found.rows], total=SalesSumOut.model_validate(found.total),
        things=[SoldOut.model_validate(it) for it in newest], before=found.before, currency=found.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/books/sales.csv", responses=_FILES, summary="A statement of sales as CSV")
def export_sales_csv(query: SalesQuery) -> Response:
    return _file(sales.write_sales(_sales(query), as_xlsx=False), _CSV, "sales.csv")


@blueprint.get("/books/sales.xlsx", responses=_FILES, summary="A statement of sales as a workbook")
def export_sales_xlsx(query: SalesQuery) -> Response:
    return _file(sales.write_sales(_sales(query), as_xlsx=True), _XLSX, "sales.xlsx")


@blueprint.get("/books/entries.xlsx", responses=_FILES, summary="All lines of all entries as a workbook")
def export_entries_xlsx() -> Response:
    return _file(books.export_xlsx(catalogue().database), _XLSX, "entries.xlsx")


@blueprint.get("/books/documents.csv", responses=_FILES, summary="All documents as CSV")
def export_documents_csv() -> Response:
    return _file(books.export_documents(catalogue().database, as_xlsx=False), _CSV, "documents.csv")


@blueprint.get("/books/documents.xlsx", responses=_FILES, summary="All documents as a workbook")
def export_documents_xlsx() -> Response:
    return _file(books.export_documents(catalogue().database, as_xlsx=True), _XLSX, "documents.xlsx")


@blueprint.get("/friends", responses={200: FriendsOut}, summary="What stands open with friends")
@returns()
def list_friends() -> FriendsOut:
    found, currency = friends.list_friends(catalogue())
    return FriendsOut(friends=[FriendOut.model_validate(it) for it in found], currency=currency)


def _statement(query: FriendQuery) -> friends.FriendStatement:
    return friends.read_statement(catalogue(), query.name, query.first, query.last)


@blueprint.get("/friends/statement", responses={200: FriendStatementOut}, summary="A friend's account")
@returns()
def read_friend_statement(query: FriendQuery) -> FriendStatementOut:
    found = _statement(query)
    return FriendStatementOut(
        name=found.name, before=found.before, lines=[FriendLineOut.model_validate(it) for it in found.lines],
        open=found.open, things=[FriendsThingOut.model_validate(it) for it in found.things], currency=found.currency,
        verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/friends/statement.csv", responses=_FILES, summary="A friend's account as CSV")
def export_statement_csv(query: FriendQuery) -> Response:
    return _file(friends.write_table(_statement(query), as_xlsx=False), _CSV, "statement.csv")


@blueprint.get("/friends/statement.xlsx", responses=_FILES, summary="A friend's account as a workbook")
def export_statement_xlsx(query: FriendQuery) -> Response:
    return _file(friends.write_table(_statement(query), as_xlsx=True), _XLSX, "statement.xlsx")


@blueprint.get("/friends/statement.pdf", responses=_FILES, summary="A friend's account to be handed over")
def export_statement_pdf(query: FriendQuery) -> Response:
    return _file(friends.write_statement(_statement(query)), "application/pdf", "statement.pdf")


@blueprint.get("/purses", responses={200: PursesOut}, summary="What should be in each purse")
@returns()
def list_purses() -> PursesOut:
    found, currency = sales.list_purses(catalogue())
    return PursesOut(purses=[PurseOut.model_validate(it) for it in found], currency=currency)


@blueprint.post("/purses/<name>/counted", responses={200: PurseCountedOut}, summary="A purse was counted")
@returns()
def count_purse(path: PursePath, body: PurseCountedIn) -> PurseCountedOut:
    return PurseCountedOut(difference=sales.count(catalogue(), path.name, Decimal(body.counted)))


@blueprint.get("/documents/<int:number>/minutes", responses={200: MinutesOut}, summary="Time that a document took")
@returns()
def read_minutes(path: DocumentPath) -> MinutesOut:
    return MinutesOut(minutes=sales.minutes_of(catalogue(), path.number))


@blueprint.post("/documents/<int:number>/minutes", responses={200: MinutesOut}, summary="Log time on a document")
@returns()
def log_minutes(path: DocumentPath, body: MinutesIn) -> MinutesOut:
    return MinutesOut(minutes=sales.spend_minutes(catalogue(), path.number, Decimal(body.minutes), body.what))


@blueprint.get(
    "/books/ledger.txt",
    responses={200: {"content": {"text/plain": {"schema": {"type": "string"}}}}},
    summary="All entries as a plain-text ledger",
)
def export_ledger() -> Response:
    return _file(books.export_ledger(catalogue().database), "text/plain; charset=utf-8", "tobbix.ledger.txt")


@blueprint.get(
    "/books/entries.csv",
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
    summary="All lines of all entries as CSV",
)
def export_entries() -> Response:
    return _file(books.export_csv(catalogue().database), "text/csv; charset=utf-8", "entries.csv")
