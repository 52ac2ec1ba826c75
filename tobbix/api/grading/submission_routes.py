"""The Grading step: submissions from the draft to what came back."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.grading import submission_schemas as schemas
from tobbix.core.grading.reading_grades import ReadGrade, read_grades
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading import answers, papers, submissions, submitting
from tobbix.services.grading.submissions import CardSaid, DraftSaid, SubmissionView
from tobbix.services.grading.submitting import CameBack
from tobbix.services.installation.preferences import read_preferences
from tobbix.services.stock.taking_in import CardInput, settle_with, take_in
from tobbix.services.stock.taking_in import name_of as naming_of

blueprint = APIBlueprint(
    "submissions",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="grading", description="Whether, where and with what to grade")],
    operation_id_callback=operation_id,
)


@blueprint.get("/submissions", responses={200: schemas.SubmissionsOut}, summary="All submissions")
@returns()
def list_submissions() -> schemas.SubmissionsOut:
    found = submissions.list_submissions(catalogue())
    return schemas.SubmissionsOut(
        submissions=[
            schemas.SubmissionRowOut(
                number=it.document, days=days, late=late,
                **{
                    name: getattr(it, name)
                    for name in schemas.SubmissionRowOut.model_fields
                    if name not in ("number", "days", "late")
                },
            )
            for it, days, late in found.rows
        ],
        currency=found.currency, verdict=show_verdict(found.verdict),
    )  # fmt: skip


def _cards(said: Sequence[schemas.DraftCardIn]) -> tuple[CardSaid, ...]:
    return tuple(CardSaid(it.item, it.tier, None if it.declared is None else Decimal(it.declared)) for it in said)


@blueprint.post("/submissions", responses={201: schemas.SubmissionMadeOut}, summary="Draft a submission")
@returns(201)
def draft_submission(body: schemas.NewDraftIn) -> schemas.SubmissionMadeOut:
    return schemas.SubmissionMadeOut(number=submissions.draft(catalogue(), body.grader, _cards(body.cards)))


@blueprint.get("/submissions/<int:number>", responses={200: schemas.SubmissionOut}, summary="A submission")
@returns()
def read_submission(path: schemas.SubmissionPath) -> schemas.SubmissionOut:
    return _show(submissions.read_submission(catalogue(), path.number))


def _show(found: SubmissionView) -> schemas.SubmissionOut:
    stored, plan = found.stored, found.plan
    per_owner = {} if plan is None else dict(plan.cost.per_owner)
    return schemas.SubmissionOut(
        number=stored.document, version=stored.version, state=found.state, day=found.day, grader=stored.grader,
        grader_name=found.profile.name, grades=list(found.profile.grades), subgrades=list(found.profile.subgrades),
        grader_currency=found.profile.currency, has_membership=found.profile.membership is not None,
        carrier=stored.carrier, post_class=stored.post_class, tracking=stored.tracking, back=stored.back,
        membership=stored.membership, reference=stored.reference, sent_on=stored.sent_on,
        stages=[schemas.StageOut(stage=stage, day=day) for stage, day in stored.stages], question=stored.question,
        promised=found.promised, days=found.days_away,
        cards=[
            schemas.SubmittedCardOut(
                item=it.stored.item, line=at, name=it.stored.name, state=it.stored.state, owner=it.stored.owner_name,
                tier=it.stored.tier, said=it.stored.declared, declared=it.declared, honest=it.honest,
                chances=dict(it.chances), grade=it.stored.grade, certificate=it.stored.certificate,
                subgrades=None if it.stored.subgrades is None else dict(it.stored.subgrades), carried=it.carried,
                value=it.value, cracked=it.stored.cracked,
            )
            for at, it in enumerate(found.cards, 1)
        ],
        per_card=None if plan is None else plan.cost.total / len(found.cards),
        total=None if plan is None else plan.cost.total,
        parts=[] if plan is None else [schemas.PlanPartOut(name=it.name, amount=float(it.amount)) for it in plan.parts],
        per_owner=per_owner,
        refusals=[schemas.RefusalOut(field=it.field, message=it.message) for it in found.refusal],
        gap=found.gap, packing=list(found.profile.packing),
        charges=[schemas.SubmissionChargeOut.model_validate(it) for it in found.charges],
        against=[
            schemas.AgainstOut(kind=it.kind, planned=it.planned, billed=it.billed, difference=it.difference)
            for it in found.against
        ],
        owed=[schemas.OwedOut(owner=owner, amount=amount) for owner, amount in found.owed],
        history=[schemas.SubmissionBookedOut.model_validate(it) for it in found.booked],
        parcels=[schemas.ParcelSeenOut.model_validate(it) for it in found.parcels], currency=found.currency,
        can_be_asked=any(it.profile.name == found.profile.name for it in context().graders),
        unexplained=found.unexplained, membership_says=found.membership, verdict=show_verdict(found.verdict),
    )  # fmt: skip


@blueprint.get("/submissions/<int:number>/alone", responses={200: schemas.AloneOut}, summary="Alone or with a group")
@returns()
def weigh_alone(path: schemas.SubmissionPath, query: schemas.AloneQuery) -> schemas.AloneOut:
    return schemas.AloneOut(says=submissions.weigh_alone(catalogue(), path.number, Decimal(query.flat)))


@blueprint.put("/submissions/<int:number>", responses={200: schemas.SubmissionOut}, summary="Say a draft anew")
@returns()
def change_submission(path: schemas.SubmissionPath, body: schemas.DraftIn) -> schemas.SubmissionOut:
    said = DraftSaid(
        _cards(body.cards), body.carrier, body.post_class, body.tracking, Decimal(body.back), body.membership
    )
    submissions.change_draft(catalogue(), path.number, body.version, said)
    return _show(submissions.read_submission(catalogue(), path.number))


@blueprint.delete("/submissions/<int:number>", responses={204: None}, summary="Give a draft up")
@returns(204)
def drop_submission(path: schemas.SubmissionPath) -> None:
    submissions.drop_draft(catalogue(), path.number)


@blueprint.post("/submissions/<int:number>/restore", responses={204: None}, summary="Take a draft up again")
@returns(204)
def restore_submission(path: schemas.SubmissionPath) -> None:
    submissions.drop_draft(catalogue(), path.number, again=True)


@blueprint.post("/submissions/<int:number>/post", responses={200: schemas.SubmissionOut}, summary="It is posted")
@returns()
def post_submission(path: schemas.SubmissionPath, body: schemas.PostIn) -> schemas.SubmissionOut:
    supplies = [(it.item, it.count) for it in body.supplies]
    submissions.post_submission(catalogue(), path.number, body.version, body.day, body.tracking, supplies)
    return _show(submissions.read_submission(catalogue(), path.number))


@blueprint.post("/submissions/<int:number>/news", responses={200: schemas.NewsOut}, summary="Ask the grader")
@returns()
def ask_grader(path: schemas.SubmissionPath, body: schemas.AskIn) -> schemas.NewsOut:
    found = answers.ask_grader(catalogue(), context().graders, path.number, body.on)
    answer, items = found.answer, found.items

    def numbers(lines: Sequence[int]) -> list[int]:
        return [items[line - 1] for line in lines]

    return schemas.NewsOut(
        stages=[schemas.StageOut(stage=stage.value, day=day) for stage, day in answer.stages],
        stage=answer.stages[-1][0] if answer.stages else None, question=answer.question,
        bill=[
            schemas.NewsChargeOut(
                name=it.name, amount=it.amount, kind=it.kind,
                over=None if it.over is None else numbers(it.over),
            )
            for it in answer.bill
        ],
        grades=[
            schemas.ReadGradeOut(
                item=items[it.line - 1], line=it.line, grade=it.grade, certificate=it.certificate,
                subgrades=dict(it.subgrades) or None, words=it.words or "",
            )
            for it in answer.grades
        ],
        parcels=[schemas.NewsParcelOut(day=day, items=numbers(lines)) for day, lines in answer.parcels],
    )  # fmt: skip


@blueprint.put("/submissions/<int:number>/question", responses={204: None}, summary="What the grader asks")
@returns(204)
def say_question(path: schemas.SubmissionPath, body: schemas.QuestionIn) -> None:
    answers.say_question(catalogue(), path.number, body.question)


@blueprint.post("/submissions/<int:number>/read", responses={200: schemas.ReadGradesOut}, summary="Read pasted grades")
@returns()
def read_pasted(path: schemas.SubmissionPath, body: schemas.PastedIn) -> schemas.ReadGradesOut:
    view = submissions.read_submission(catalogue(), path.number)
    read = read_grades(body.text, view.profile.grades, view.profile.subgrades, len(view.cards))
    return schemas.ReadGradesOut(cards=[_read(it, view) for it in read])


def _read(it: ReadGrade, view: SubmissionView) -> schemas.ReadGradeOut:
    return schemas.ReadGradeOut(
        item=view.cards[it.line - 1].stored.item, line=it.line, grade=it.grade, certificate=it.certificate,
        subgrades=None if it.subgrades is None else dict(it.subgrades), words=it.words,
    )  # fmt: skip


@blueprint.post("/submissions/<int:number>/grades", responses={200: schemas.SubmissionOut}, summary="Grades are in")
@returns()
def take_grades(path: schemas.SubmissionPath, body: schemas.GradesIn) -> schemas.SubmissionOut:
    came = [
        CameBack(
            it.item, it.grade or None, it.certificate or None, it.subgrades, it.words, it.condition,
            None if it.number is None else naming_of(it.release, it.line, it.number, it.variant), it.lost,
        )
        for it in body.cards
    ]  # fmt: skip
    answers.take_grades(catalogue(), path.number, came, body.day, body.tracking or None)
    return _show(submissions.read_submission(catalogue(), path.number))


@blueprint.post("/submissions/<int:number>/bills", responses={200: schemas.SubmissionOut}, summary="It was billed")
@returns()
def bill_submission(path: schemas.SubmissionPath, body: schemas.BillsIn) -> schemas.SubmissionOut:
    charges = [
        (
            ChargeInput(it.kind, Decimal(it.amount), it.currency, it.day, it.purse,
                        None if it.rate is None else Decimal(it.rate)),
            it.over,
        )
        for it in body.charges
    ]  # fmt: skip
    submitting.bill_all(catalogue().database, path.number, charges)
    return _show(submissions.read_submission(catalogue(), path.number))


def _file(content: bytes, kind: str, name: str) -> Response:
    response = make_response(content)
    response.content_type = kind
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


_PAPER: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


@blueprint.get("/submissions/<int:number>/form.<form>", responses=_PAPER, summary="The grader's form")
def read_form(path: schemas.PaperPath) -> Response:
    if path.form == "csv":
        content = papers.write_form_csv(catalogue(), path.number)
        return _file(content, "text/csv; charset=utf-8", f"submission-{path.number}.csv")
    return _file(papers.write_form(catalogue(), path.number), "application/pdf", f"submission-{path.number}.pdf")


@blueprint.get("/submissions/<int:number>/statement", responses=_PAPER, summary="A friend's statement")
def read_statement(path: schemas.SubmissionPath, query: schemas.StatementQuery) -> Response:
    content = papers.write_statement(catalogue(), path.number, query.owner)
    return _file(content, "application/pdf", f"statement-{path.number}.pdf")


@blueprint.get("/submissions/<int:number>/label", responses=_PAPER, summary="The label of its parcel")
def read_label(path: schemas.SubmissionPath) -> Response:
    return _file(papers.write_address(catalogue(), path.number), "application/pdf", f"label-{path.number}.pdf")


@blueprint.post("/friends/cards", responses={201: schemas.FriendsCardOut}, summary="A friend's card lies here")
@returns(201)
def take_friends_card(body: schemas.FriendsCardIn) -> schemas.FriendsCardOut:
    naming = None if body.number is None else naming_of(body.release, body.line, body.number, body.variant)
    card = CardInput(body.name.strip(), naming, condition=body.condition)
    made = take_in(catalogue().database, [card], catalogue().today(), owner=body.owner)
    return schemas.FriendsCardOut(item=made[0])


@blueprint.post("/friends/settled", responses={200: schemas.SettledOut}, summary="Settle with a friend")
@returns()
def settle_with_friend(body: schemas.SettleIn) -> schemas.SettledOut:
    currency = read_preferences(catalogue().database).currency
    cash = ChargeInput("other", Decimal(body.amount), currency, body.day, body.purse)
    return schemas.SettledOut(left=settle_with(catalogue().database, body.owner, cash, body.comes_in))


@blueprint.post("/submissions/<int:number>/made-good", responses={204: None}, summary="A friend's lost card")
@returns(204)
def make_good(path: schemas.SubmissionPath, body: schemas.MakeGoodIn) -> None:
    submitting.make_good(catalogue().database, path.number, body.owner, Decimal(body.amount), body.day)


@blueprint.post("/items/<int:number>/cracked", responses={204: None}, summary="Crack a card out of its holder")
@returns(204)
def crack_item(path: schemas.SubmissionPath) -> None:
    submitting.crack(catalogue().database, path.number, catalogue().today())
