"""What is sent and answered about releases beside their sheets: cards as they were seen, notes, sizes, subjects."""

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.products.schemas import ReleasePath
from tobbix.core.products.describing import CardSize, NoteKind
from tobbix.core.products.identifying import Candidate, Choice, Question
from tobbix.core.products.naming import Seen

Text = Annotated[str, StringConstraints(max_length=200)]


class SeenReleaseIn(Strict):
    """A release as far as it is known."""

    name: Text
    year: int = Field(ge=1, le=9999)
    series: Text | None = None
    publisher: Text | None = None
    code: str | None = Field(None, max_length=64)


class NamedCardIn(Strict):
    """A card that was seen: of a release that is here (``release``), or of one that is named with it (``fresh``)."""

    release: Key | None = None
    fresh: SeenReleaseIn | None = None
    line: Text
    number: Text
    subject: Text = ""
    variant: str = Field("", max_length=60)


class SeenReleaseOut(BaseModel):
    """A release as far as seen; ``has_sheet``: what is listed stands beside its product sheet."""

    id: str
    title: str
    name: str
    year: int
    series: str | None
    publisher: str | None
    code: str | None


class StubOut(SeenReleaseOut):
    lines: int
    cards: int


class StubsOut(BaseModel):
    releases: list[StubOut]


class SeenCardOut(Mirror, of=Seen):
    """A card as it was seen: line, number, subject, and what the line does not say of it (edition, language, error)."""


class StubDetailOut(SeenReleaseOut):
    has_sheet: bool
    cards: list[SeenCardOut]


class NoteOut(BaseModel):
    number: int
    kind: NoteKind
    text: str
    line: str | None
    card: str | None


class SizeOut(Mirror, of=CardSize):
    """Width, height and thickness in mm, weight in g; a range of numbers, or none for all cards of the line."""


class LineSizesOut(BaseModel):
    """A line's sizes, and the words that say so."""

    line: str
    text: str
    sizes: list[SizeOut]


class FormatExtrasOut(BaseModel):
    format: str
    extras: list[str]


class DebutOut(BaseModel):
    line: str
    number: str


class DescriptionOut(BaseModel):
    """What is known of a release beside its sheet."""

    code: str | None
    notes: list[NoteOut]
    sizes: list[LineSizesOut]
    extras: list[FormatExtrasOut]
    debuts: list[DebutOut]


class NoteIn(Strict):
    kind: NoteKind
    text: str = Field(max_length=1000)
    line: Key | None = None
    card: Text | None = None


class NotePath(ReleasePath):
    number: RowNumber


class SizesIn(Strict):
    """Sizes as typed, like ``63 x 88 x 0.31 mm, 1.8 g; 141 to 150: 70 x 120 mm``; empty: not known."""

    text: str = Field(max_length=1000)


class ExtrasIn(Strict):
    extras: list[Text] = Field(max_length=50)


class DebutIn(Strict):
    number: Text
    debut: bool | None


class IdentifyQuery(BaseModel):
    """What was typed of a card, and what it was seen to show: each as ``about:value``, "?" if that cannot be told."""

    find: str = Field(max_length=120)
    seen: list[Annotated[str, StringConstraints(pattern=r"^[a-z]{1,10}:.{0,200}$")]] = Field(
        default_factory=list, max_length=10
    )


class CandidateOut(Mirror, of=Candidate, without=("size",)):
    """A version that a card may be."""


class MaySeeOut(Mirror, of=Choice):
    """A possible answer."""


class LookAtOut(Mirror, of=Question, without=("choices",)):
    """What to look at, and what may be seen."""

    choices: list[MaySeeOut]


class IdentifiedOut(BaseModel):
    """What a card may be, the first of ``of`` so many, and what to look at next."""

    left: list[CandidateOut]
    of: int
    question: LookAtOut | None
    sure: bool
    words: str


class SubjectsQuery(BaseModel):
    find: str = Field("", max_length=60)
    watched: bool = False


class SubjectPath(BaseModel):
    number: RowNumber


class SubjectOut(BaseModel):
    """A subject; ``first``: the earliest of its cards here, and whether it is said to be the first of all."""

    number: int
    name: str
    watched: bool
    cards: int
    first: FoundOut | None
    is_debut: bool


class SubjectsOut(BaseModel):
    subjects: list[SubjectOut]


class WatchIn(Strict):
    watched: bool
