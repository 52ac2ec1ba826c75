"""The books: balances, lots, sessions, entries, and files."""

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.books.schemas import (
    BalanceOut,
    BooksOut,
    EntryOut,
    EntryPath,
    LotOut,
    LotSumOut,
    MonthOut,
    PostingOut,
    TakenBackOut,
    ThingOut,
)
from tobbix.core.books.reports import Lot, sum_lots
from tobbix.core.holdings.ledger import Event
from tobbix.services.books import books, taking_back

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
