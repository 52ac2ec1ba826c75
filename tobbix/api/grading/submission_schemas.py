"""What is sent and answered about submissions."""

from datetime import date
from typing import Annotated, Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Condition, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.holdings.documents import Booked, Charge, ParcelSeen
from tobbix.core.holdings.states import ChargeKind, DocumentState
from tobbix.gateways.ports import GraderStage

Short = Annotated[str, StringConstraints(max_length=40)]
Words = Annotated[str, StringConstraints(max_length=200)]


class SubmissionPath(BaseModel):
    number: RowNumber


class SubmissionRowOut(BaseModel):
    """A submission of the list: ``late`` by what was promised."""

    number: int
    grader: str
    state: DocumentState
    day: date
    cards: int
    friends: int
    away: int
    charged: Exact
    planned: Exact | None
    sent_on: date | None
    days: int | None
    promised: int | None
    late: bool
    stage: str | None
    question: str | None


class SubmissionsOut(BaseModel):
    submissions: list[SubmissionRowOut]
    currency: str
    verdict: VerdictOut


class DraftCardIn(Strict):
    """A card of a draft; no declared value: the honest default."""

    item: RowNumber
    tier: Annotated[str, StringConstraints(max_length=80)]
    declared: Amount | None = None


class NewDraftIn(Strict):
    grader: RowNumber
    cards: list[DraftCardIn] = Field([], max_length=2_000)


class DraftIn(Strict):
    """A draft as it is said, at the version that was seen."""

    version: int = Field(ge=0)
    cards: list[DraftCardIn] = Field(max_length=2_000)
    carrier: Words | None = None
    post_class: Annotated[str, StringConstraints(max_length=80)] | None = None
    tracking: Annotated[str, StringConstraints(max_length=100)] | None = None
    back: Amount = "0"
    membership: bool = False


class SubmissionMadeOut(BaseModel):
    number: int


class UsedIn(Strict):
    """So many of a supply."""

    item: RowNumber
    count: int = Field(ge=1, le=100_000)


class PostIn(Strict):
    version: int = Field(ge=0)
    day: date
    tracking: Annotated[str, StringConstraints(max_length=100)] | None = None
    supplies: list[UsedIn] = Field([], max_length=100)


class SubmittedCardOut(BaseModel):
    """A card of a submission; ``honest`` the default of its declared value, ``carried`` its part of the bills."""

    item: int
    line: int
    name: str
    state: str
    owner: str | None
    tier: str
    said: Exact | None
    declared: Exact | None
    honest: Exact | None
    chances: dict[str, float]
    grade: str | None
    certificate: str | None
    subgrades: dict[str, str] | None
    carried: Exact | None
    value: Exact | None
    cracked: bool


class PlanPartOut(BaseModel):
    name: str
    amount: float


class RefusalOut(BaseModel):
    field: str
    message: str


class AgainstOut(BaseModel):
    """A part of the bill beside its plan (money at home)."""

    kind: ChargeKind
    planned: Exact | None
    billed: Exact | None
    difference: Exact


class SubmissionChargeOut(Mirror, of=Charge):
    """A part of the bill."""


class SubmissionBookedOut(Mirror, of=Booked):
    can_be_taken_back: bool


class ParcelSeenOut(Mirror, of=ParcelSeen):
    """A parcel of the submission."""


class StageOut(BaseModel):
    stage: str
    day: date


class OwedOut(BaseModel):
    owner: str
    amount: Exact


class SubmissionOut(BaseModel):
    """A submission with its cards, plan, bill and history; ``refusals`` why it cannot be posted as it is."""

    number: int
    version: int
    state: DocumentState
    day: date
    grader: int
    grader_name: str
    grades: list[str]
    subgrades: list[str]
    grader_currency: str
    has_membership: bool
    carrier: str | None
    post_class: str | None
    tracking: str | None
    back: Exact
    membership: bool
    reference: str | None
    sent_on: date | None
    stages: list[StageOut]
    question: str | None
    promised: int | None
    days: int | None
    cards: list[SubmittedCardOut]
    per_card: Exact | None
    total: Exact | None
    parts: list[PlanPartOut]
    per_owner: dict[str, Exact]
    refusals: list[RefusalOut]
    gap: Exact | None
    packing: list[str]
    charges: list[SubmissionChargeOut]
    against: list[AgainstOut]
    owed: list[OwedOut]
    history: list[SubmissionBookedOut]
    parcels: list[ParcelSeenOut]
    currency: str
    can_be_asked: bool
    unexplained: Exact | None
    membership_says: str | None
    verdict: VerdictOut


class AloneQuery(Strict):
    """What a group would take a card at (money at home)."""

    flat: Amount


class AloneOut(BaseModel):
    says: str


class GradedIn(Strict):
    """What came of a card: its grade, or in words what else; perhaps in another condition or as another version."""

    item: RowNumber
    grade: Annotated[str, StringConstraints(max_length=20)] | None = None
    certificate: Annotated[str, StringConstraints(max_length=60)] | None = None
    subgrades: dict[Short, Short] | None = None
    words: Words = ""
    condition: Condition | None = None
    release: Key | None = None
    line: Key | None = None
    number: Words | None = None
    variant: Annotated[str, StringConstraints(max_length=60)] = ""
    lost: bool = False


class GradesIn(Strict):
    """What came back in one parcel."""

    day: date
    tracking: Annotated[str, StringConstraints(max_length=100)] | None = None
    cards: list[GradedIn] = Field(max_length=2_000)


class PastedIn(Strict):
    text: Annotated[str, StringConstraints(max_length=200_000)]


class GradesForm(BaseModel):
    file: FileStorage = Field(description="A list of grades: CSV")


class ReadGradeOut(BaseModel):
    """A card of a list of grades that was read: by its line of the form."""

    item: int
    line: int
    grade: str | None
    certificate: str | None
    subgrades: dict[str, str] | None
    words: str


class ReadGradesOut(BaseModel):
    cards: list[ReadGradeOut]


class AskIn(Strict):
    """As of a day: today, or one further on for a grader that is simulated."""

    on: date | None = None


class NewsChargeOut(BaseModel):
    """A part of the bill that the grader sends (money of its currency), over some cards (None: all)."""

    name: str
    amount: Exact
    kind: ChargeKind
    over: list[int] | None


class NewsParcelOut(BaseModel):
    day: date
    items: list[int]


class NewsOut(BaseModel):
    """What the grader says: its stages, a question, and once they are there bills, grades and parcels."""

    stages: list[StageOut]
    stage: GraderStage | None
    question: str | None
    bill: list[NewsChargeOut]
    grades: list[ReadGradeOut]
    parcels: list[NewsParcelOut]


class QuestionIn(Strict):
    """What the grader asks; None: it was answered."""

    question: Annotated[str, StringConstraints(max_length=500)] | None = None


class BillIn(Strict):
    """A part of the bill, over some of its cards or with None over all."""

    kind: ChargeKind
    amount: Amount
    currency: Annotated[str, StringConstraints(max_length=3)]
    day: date
    purse: Words = "bank"
    rate: Amount | None = None
    over: list[int] | None = Field(None, max_length=2_000)


class BillsIn(Strict):
    charges: list[BillIn] = Field(max_length=100)


class PaperPath(SubmissionPath):
    form: Literal["pdf", "csv"]


class StatementQuery(Strict):
    owner: Words


class FriendsCardIn(Strict):
    """A friend's card that lies here: its keys if it is known, else words."""

    owner: Words
    name: Annotated[str, StringConstraints(min_length=1, max_length=300)]
    release: Key | None = None
    line: Key | None = None
    number: Words | None = None
    variant: Annotated[str, StringConstraints(max_length=60)] = ""
    condition: Condition | None = None


class FriendsCardOut(BaseModel):
    item: int


class MakeGoodIn(Strict):
    owner: Words
    amount: Amount
    day: date


class SettleIn(Strict):
    """A friend pays what is owed (``comes_in``), or is paid."""

    owner: Words
    amount: Amount
    day: date
    comes_in: bool = True
    purse: Words = "bank"


class SettledOut(BaseModel):
    left: Exact
