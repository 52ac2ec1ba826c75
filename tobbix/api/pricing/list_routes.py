"""The Pricing step: haves and wants, as files and where they meet somebody else's."""

from decimal import Decimal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.pricing import list_schemas as schemas
from tobbix.core.base.money import minor_units
from tobbix.core.pricing.card_lists import COLUMNS, Match
from tobbix.formats.item_lists import write_csv, write_xlsx
from tobbix.services.pricing import card_lists

blueprint = APIBlueprint(
    "lists",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="lists", description="Haves and wants")],
    operation_id_callback=operation_id,
)
_KINDS = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
_MOST_UNCLEAR = 200


@blueprint.get(
    "/prices/lists/<kind>.<form>",
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
    summary="What the owner has to give, or wants, as a file",
)
def export_list(path: schemas.OwnListPath) -> Response:
    found, currency = card_lists.list_own(catalogue(), path.kind)
    rows = [
        (
            path.kind.value, card.release, card.line, card.number, card.variant, card.subject, own.state, own.count,
            _written(own.worth if own.planned is None else own.planned, currency), currency,
        )
        for card, own in found
    ]  # fmt: skip
    content = write_csv(COLUMNS, rows) if path.form == "csv" else write_xlsx("Cards", COLUMNS, rows)
    response = make_response(content)
    response.content_type = _KINDS[path.form]
    response.headers["Content-Disposition"] = f'attachment; filename="{path.kind.value}s.{path.form}"'
    return response


def _written(amount: Decimal | None, currency: str) -> str | None:
    """With the currency's own digits: 7.000 would be taken for seven thousand."""
    return None if amount is None else f"{amount:.{minor_units(currency)}f}"


def _match(it: Match) -> schemas.MatchOut:
    return schemas.MatchOut(
        version=it.mine.version, count=it.count, state=it.mine.state, worth=it.mine.worth, planned=it.mine.planned,
        words=it.theirs.words, their_state=it.theirs.state, same_state=it.same_state, asked=it.asked,
    )  # fmt: skip


@blueprint.post("/prices/lists/meeting", responses={200: schemas.MeetingListsOut}, summary="Where two lists meet")
@returns()
def meet_lists(body: schemas.TheirListIn) -> schemas.MeetingListsOut:
    found = card_lists.meet(catalogue(), body.text, body.kind)
    return schemas.MeetingListsOut(
        verdict=show_verdict(found.verdict), gets=[_match(it) for it in found.gets],
        gives=[_match(it) for it in found.gives],
        unclear=[
            schemas.UnclearOut(row=line.row, words=line.words[:200], why=why)
            for line, why in found.unread[:_MOST_UNCLEAR]
        ],
        cards=[FoundOut.model_validate(card, from_attributes=True) for card in found.cards.values()],
        currency=found.currency,
    )  # fmt: skip


@blueprint.post("/prices/lists/targets", responses={200: schemas.AimedOut}, summary="Put a list on the target list")
@returns()
def aim_at(body: schemas.AimIn) -> schemas.AimedOut:
    return schemas.AimedOut(targets=card_lists.aim_at(catalogue(), body.text))
