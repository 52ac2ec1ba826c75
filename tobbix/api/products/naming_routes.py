"""The Products step: releases as far as seen, and what is known of any release beside its sheet."""

from collections.abc import Sequence
from typing import Any

from flask_openapi3 import APIBlueprint, Tag

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.context import catalogue
from tobbix.api.base.documenting import operation_id, returns
from tobbix.api.products import naming_schemas as schemas
from tobbix.api.products.schemas import FormatPath, LinePath, ReleasePath
from tobbix.core.base.errors import InputError
from tobbix.core.products.describing import CardSize, write_sizes
from tobbix.core.products.identifying import Shows
from tobbix.core.products.naming import Seen, SeenRelease
from tobbix.services.products import describing, identifying, naming

blueprint = APIBlueprint(
    "naming",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="naming", description="Releases as far as seen, and what is known beside the sheets")],
    operation_id_callback=operation_id,
)


def _about(key: str, about: SeenRelease) -> dict[str, Any]:
    names = ("title", "name", "year", "series", "publisher", "code")
    return {"id": key, **{name: getattr(about, name) for name in names}}


@blueprint.get("/stubs", responses={200: schemas.StubsOut}, summary="Releases as far as seen")
@returns()
def list_stubs() -> schemas.StubsOut:
    return schemas.StubsOut(
        releases=[
            schemas.StubOut(**_about(stub.key, stub.about), lines=stub.lines, cards=stub.cards)
            for stub in naming.list_stubs(catalogue())
        ]
    )


@blueprint.get("/releases/<release>/seen", responses={200: schemas.StubDetailOut}, summary="Cards beside a sheet")
@returns()
def read_stub(path: ReleasePath) -> schemas.StubDetailOut:
    found = naming.read_stub(catalogue(), path.release)
    cards = [schemas.SeenCardOut.model_validate(card, from_attributes=True) for card in found.cards]
    return schemas.StubDetailOut(**_about(found.key, found.about), has_sheet=found.has_sheet, cards=cards)


@blueprint.put("/releases/<release>/seen", responses={204: None}, summary="Correct a release as far as seen")
@returns(204)
def correct_stub(path: ReleasePath, body: schemas.SeenReleaseIn) -> None:
    naming.correct_release(catalogue(), path.release, SeenRelease(**body.model_dump()))


@blueprint.post("/named-cards", responses={201: FoundOut}, summary="Name a card that no sheet tells of")
@returns(201)
def name_card(body: schemas.NamedCardIn) -> FoundOut:
    if (body.release is None) == (body.fresh is None):
        raise InputError.at("release", "choose a release, or name one")
    release = body.release if body.fresh is None else SeenRelease(**body.fresh.model_dump())
    assert release is not None
    found = naming.name_card(catalogue(), release, Seen(body.line, body.number, body.subject, body.variant))
    return FoundOut.model_validate(found, from_attributes=True)


@blueprint.get("/releases/<release>/description", responses={200: schemas.DescriptionOut}, summary="Beside the sheet")
@returns()
def read_description(path: ReleasePath) -> schemas.DescriptionOut:
    return _description(path.release)


MOST_SHOWN = 20


def _description(release: str) -> schemas.DescriptionOut:
    found = describing.read_description(catalogue(), release)
    return schemas.DescriptionOut(
        code=found.code,
        notes=[schemas.NoteOut.model_validate(note, from_attributes=True) for note in found.notes],
        sizes=[_show_sizes(line, sizes) for line, sizes in found.sizes],
        extras=[schemas.FormatExtrasOut(format=fmt, extras=list(extras)) for fmt, extras in found.extras],
        debuts=[schemas.DebutOut(line=line, number=number) for line, number in found.debuts],
    )


def _show_sizes(line: str, sizes: Sequence[CardSize]) -> schemas.LineSizesOut:
    shown = [schemas.SizeOut.model_validate(size, from_attributes=True) for size in sizes]
    return schemas.LineSizesOut(line=line, text=write_sizes(sizes), sizes=shown)


@blueprint.post("/releases/<release>/notes", responses={201: schemas.DescriptionOut}, summary="Note something of it")
@returns(201)
def add_note(path: ReleasePath, body: schemas.NoteIn) -> schemas.DescriptionOut:
    describing.add_note(catalogue(), path.release, body.kind, body.text, body.line, body.card)
    return _description(path.release)


@blueprint.delete(
    "/releases/<release>/notes/<int:number>", responses={200: schemas.DescriptionOut}, summary="Forget a note"
)
@returns()
def remove_note(path: schemas.NotePath) -> schemas.DescriptionOut:
    describing.remove_note(catalogue(), path.release, path.number)
    return _description(path.release)


@blueprint.put("/releases/<release>/lines/<line>/sizes", responses={200: schemas.DescriptionOut}, summary="Card sizes")
@returns()
def put_sizes(path: LinePath, body: schemas.SizesIn) -> schemas.DescriptionOut:
    describing.put_sizes(catalogue(), path.release, path.line, body.text)
    return _description(path.release)


@blueprint.put(
    "/releases/<release>/formats/<format>/extras", responses={200: schemas.DescriptionOut}, summary="What else is in it"
)
@returns()
def put_extras(path: FormatPath, body: schemas.ExtrasIn) -> schemas.DescriptionOut:
    describing.put_extras(catalogue(), path.release, path.format, body.extras)
    return _description(path.release)


@blueprint.put(
    "/releases/<release>/lines/<line>/debut", responses={200: schemas.DescriptionOut}, summary="A first card"
)
@returns()
def put_debut(path: LinePath, body: schemas.DebutIn) -> schemas.DescriptionOut:
    describing.put_debut(catalogue(), path.release, path.line, body.number, body.debut)
    return _description(path.release)


@blueprint.get("/cards/identified", responses={200: schemas.IdentifiedOut}, summary="Which exact card it is")
@returns()
def identify_card(query: schemas.IdentifyQuery) -> schemas.IdentifiedOut:
    answers: dict[Shows, str] = {}
    for seen in query.seen:
        about, _, value = seen.partition(":")
        if about not in set(Shows):
            raise InputError.at("seen", f"there is nothing called {about} to look at")
        answers[Shows(about)] = value
    found = identifying.identify_card(catalogue(), query.find, answers)
    question = found.question
    return schemas.IdentifiedOut(
        left=[schemas.CandidateOut.model_validate(it) for it in found.left[:MOST_SHOWN]], of=len(found.left),
        question=None if question is None else schemas.LookAtOut.model_validate(question), sure=found.sure,
        words=found.words,
    )  # fmt: skip


@blueprint.get("/subjects", responses={200: schemas.SubjectsOut}, summary="Whom cards show, over all releases")
@returns()
def list_subjects(query: schemas.SubjectsQuery) -> schemas.SubjectsOut:
    found = describing.list_subjects(catalogue(), query.find, query.watched)
    return schemas.SubjectsOut(
        subjects=[
            schemas.SubjectOut(
                number=it.number, name=it.name, watched=it.watched, cards=it.cards, is_debut=it.is_debut,
                first=None if first is None else FoundOut.model_validate(first, from_attributes=True),
            )
            for it, first in found
        ]
    )  # fmt: skip


@blueprint.put("/subjects/<int:number>", responses={204: None}, summary="Watch a subject")
@returns(204)
def watch_subject(path: schemas.SubjectPath, body: schemas.WatchIn) -> None:
    describing.watch_subject(catalogue(), path.number, body.watched)
