"""The Pricing step: tables of prices and populations."""

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.fields import read_upload
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing import tabling_schemas as schemas
from tobbix.api.pricing.pasting_routes import read_row, show_proposed
from tobbix.api.pricing.schemas import SalesAddedOut
from tobbix.core.pricing.ladder import Population
from tobbix.core.pricing.tables import ColumnSaid
from tobbix.formats.tables import table_text
from tobbix.services.pricing import pasting, tabling

blueprint = APIBlueprint(
    "tabling",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="tabling", description="Tables of prices and populations")],
    operation_id_callback=operation_id,
)
_FEW = 3


def _columns(given: list[schemas.ColumnIn]) -> list[ColumnSaid]:
    return [ColumnSaid(column.means, column.of, column.currency) for column in given]


@blueprint.post("/prices/table/file", responses={200: schemas.TableTextOut}, summary="A file's table as text")
@returns()
def read_table_file(form: schemas.TableForm) -> schemas.TableTextOut:
    return schemas.TableTextOut(text=table_text(read_upload(form.file)))


@blueprint.post("/prices/table/reading", responses={200: schemas.TableOut}, summary="Read a table of prices")
@returns()
def read_table(body: schemas.TableIn) -> schemas.TableOut:
    wish = tabling.TableWish(body.market, body.raw_state, body.unsaid, body.month_first, body.grader, body.day)
    found = tabling.read_listed(catalogue(), body.text, None if body.columns is None else _columns(body.columns), wish)
    table = found.table
    return schemas.TableOut(
        verdict=show_verdict(found.verdict),
        columns=[
            schemas.ColumnOut(
                head=table.head[at], means=column.means, of=column.of, currency=column.currency,
                first=[row[at] for row in table.rows[:_FEW]],
            )
            for at, column in enumerate(found.columns)
        ],
        guessed=found.guessed,
        results=[show_proposed(item) for item in found.page.proposed],
        counts=[
            schemas.CountedOut(
                row=at, title=item.count.title, version=item.version, choices=list(item.choices), doubt=item.doubt,
                refused=item.refused,
                **{name: getattr(item.count.counted, name, None) for name in ("grader", "grade", "count", "day")},
            )
            for at, item in enumerate(found.counts, 1)
        ],
        cards=[FoundOut.model_validate(card, from_attributes=True) for card in found.cards.values()],
        left=found.left,
    )  # fmt: skip


@blueprint.post("/prices/table", responses={200: SalesAddedOut}, summary="Keep what a table holds")
@returns()
def keep_table(body: schemas.KeepTableIn) -> SalesAddedOut:
    rows = [read_row(row) for row in body.rows]
    counts = [(it.version, Population(it.grader, it.grade, it.count, it.day)) for it in body.counts]
    added = pasting.keep_page(catalogue(), body.market, rows, counts)
    tabling.remember(catalogue(), body.text, _columns(body.columns))
    return SalesAddedOut.model_validate(added, from_attributes=True)
