"""The desk: what there is to do today over all steps."""

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.installation.schemas import DayMarksOut, DeskOut, HeldOut, JobOut
from tobbix.core.holdings.sentences import state_stock
from tobbix.services.installation.desk import read_desk, write_week

blueprint = APIBlueprint(
    "desk",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="desk", description="What there is to do today")],
    operation_id_callback=operation_id,
)


@blueprint.get("/desk", responses={200: DeskOut}, summary="What to do today")
@returns()
def show_desk() -> DeskOut:
    desk = read_desk(catalogue(), context().backups)
    return DeskOut(
        today=desk.today,
        currency=desk.currency,
        verdict=show_verdict(desk.verdict),
        jobs=[
            JobOut(
                step=job.step.value, label=job.act.value, when=job.when, day=job.day, stake=job.stake,
                minutes=job.minutes, text=job.text, path=placed.path,
            )
            for placed in desk.jobs
            for job in [placed.job]
        ],
        counts=desk.counts,
        week=[DayMarksOut(day=day, marks=list(marks)) for day, marks in desk.week],
        held=HeldOut(
            verdict=show_verdict(state_stock(desk.held, desk.currency)), things=desk.held.count,
            basis=desk.held.basis, value=desk.held.value,
        ),
    )  # fmt: skip


@blueprint.get(
    "/desk.ics",
    responses={200: {"content": {"text/calendar": {"schema": {"type": "string"}}}}},
    summary="What has a day, as a calendar file",
)
def export_desk() -> Response:
    response = make_response(write_week(catalogue()))
    response.content_type = "text/calendar; charset=utf-8"
    response.headers["Content-Disposition"] = 'attachment; filename="tobbix.ics"'
    return response
