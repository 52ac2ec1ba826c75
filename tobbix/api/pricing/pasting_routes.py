"""The Pricing step: pages of results, and the words of titles."""

from decimal import Decimal

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing import pasting_schemas as schemas
from tobbix.api.pricing.schemas import CardKeys, SalesAddedOut
from tobbix.core.pricing.comps import Comp, split_state
from tobbix.core.pricing.pages import Proposed
from tobbix.services.pricing import adding, looking_up, pasting

blueprint = APIBlueprint(
    "pasting",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="pasting", description="Pages of results, and what the words of titles mean")],
    operation_id_callback=operation_id,
)


def _keys(card: CardKeys) -> tuple[str, str, str, str]:
    return card.release, card.line, card.number, card.variant


def show_proposed(item: Proposed) -> schemas.ProposedOut:
    """A result as it would be kept."""
    comp = item.comp
    return schemas.ProposedOut(
        **{name: getattr(item, name) for name in ("row", "title", "version", "doubt", "refused", "known", "ready")},
        **{name: None if comp is None else getattr(comp, name)
           for name in ("kind", "day", "price", "shipping", "tax", "currency", "state", "bids", "market",
                        "subgrades", "photo")},
        lot=1 if comp is None else comp.lot, choices=list(item.choices), unexplained=list(item.unexplained),
        own_id=None if comp is None else comp.outside_id,
    )  # fmt: skip


def read_row(row: schemas.RowIn) -> tuple[int, Comp]:
    """A result that is kept, with its version."""
    shipping = None if row.shipping is None else Decimal(row.shipping)
    tax = None if row.tax is None else Decimal(row.tax)
    return row.version, Comp(
        row.kind, row.day, Decimal(row.price), row.currency, shipping, tax, *split_state(row.state),
        subgrades=row.subgrades, photo=row.photo, market=row.market, bids=row.bids, lot=row.lot, note=row.title or None,
        outside=row.market if row.own_id and row.market else None, outside_id=row.own_id if row.market else None,
    )  # fmt: skip


@blueprint.post("/prices/page/reading", responses={200: schemas.PageOut}, summary="Read a pasted page of results")
@returns()
def read_page(body: schemas.PageIn) -> schemas.PageOut:
    only = None if body.only is None else _keys(body.only)
    found = pasting.read_page(catalogue(), body.text, body.market, body.raw_state, body.unsaid, body.month_first, only)
    return schemas.PageOut(
        verdict=show_verdict(found.verdict), results=[show_proposed(item) for item in found.proposed],
        cards=[FoundOut.model_validate(card, from_attributes=True) for card in found.cards.values()],
    )  # fmt: skip


@blueprint.post("/prices/page", responses={200: SalesAddedOut}, summary="Keep results of a page")
@returns()
def keep_page(body: schemas.KeepPageIn) -> SalesAddedOut:
    rows = [read_row(row) for row in body.rows]
    return SalesAddedOut.model_validate(pasting.keep_page(catalogue(), body.market, rows), from_attributes=True)


@blueprint.get("/prices/card/words", responses={200: schemas.SearchOut}, summary="Words to look a card up with")
@returns()
def read_search(query: schemas.SearchQuery) -> schemas.SearchOut:
    found = looking_up.read_words(catalogue(), _keys(query), query.state)
    return schemas.SearchOut.model_validate(found, from_attributes=True)


@blueprint.put("/prices/card/words", responses={204: None}, summary="Keep one's own words to look a card up with")
@returns(204)
def put_search(body: schemas.SearchIn) -> None:
    looking_up.keep_words(catalogue(), _keys(body), body.words, body.without)


@blueprint.delete("/prices/batches/<int:batch>", responses={204: None}, summary="Take back what came in together")
@returns(204)
def take_back_batch(path: schemas.BatchPath) -> None:
    adding.take_back_batch(catalogue(), path.batch)


@blueprint.post("/prices/batches/<int:batch>/restore", responses={204: None}, summary="Have it there again")
@returns(204)
def restore_batch(path: schemas.BatchPath) -> None:
    adding.take_back_batch(catalogue(), path.batch, again=True)


def _taught() -> schemas.TaughtListOut:
    return schemas.TaughtListOut(
        words=[
            schemas.TaughtOut(number=number, words=it.words, means=it.means, value=it.value, release=it.release)
            for number, it in pasting.list_taught(catalogue())
        ]
    )  # fmt: skip


@blueprint.get("/prices/words", responses={200: schemas.TaughtListOut}, summary="What words of titles mean")
@returns()
def list_taught() -> schemas.TaughtListOut:
    return _taught()


@blueprint.post("/prices/words", responses={200: schemas.TaughtListOut}, summary="Say what words of titles mean")
@returns()
def teach(body: schemas.TeachIn) -> schemas.TaughtListOut:
    pasting.teach(catalogue(), body.words, body.means, body.value, body.release)
    return _taught()


@blueprint.delete("/prices/words/<int:number>", responses={200: schemas.TaughtListOut}, summary="Forget such words")
@returns()
def forget_taught(path: schemas.TaughtPath) -> schemas.TaughtListOut:
    pasting.forget_taught(catalogue(), path.number)
    return _taught()
