"""What is sent and answered: haves and wants."""

from typing import Literal

from pydantic import BaseModel, Field

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Exact, Strict
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.pricing.card_lists import ListKind
from tobbix.services.pricing.pasting import MOST_TEXT


class OwnListPath(BaseModel):
    kind: ListKind
    form: Literal["csv", "xlsx"]


class TheirListIn(Strict):
    """Somebody else's list as it was pasted, and what its lines are where they do not say it."""

    text: str = Field(max_length=MOST_TEXT)
    kind: ListKind = ListKind.HAVE


class AimIn(Strict):
    """Cards to put on the target list, a line for each, with what it may cost."""

    text: str = Field(max_length=MOST_TEXT)


class AimedOut(BaseModel):
    """The numbers of what was put on the target list."""

    targets: list[int]


class MatchOut(BaseModel):
    """Where two lists meet: of which version how many may change hands, the owner's state and worth of one (up to
    ``planned`` for what is wanted), and what the other's line says, at home."""

    version: int
    count: int
    state: str
    worth: Exact | None
    planned: Exact | None
    words: str
    their_state: str | None
    same_state: bool
    asked: Exact | None


class UnclearOut(BaseModel):
    """A line of which it is not clear which card it is, and why."""

    row: int
    words: str
    why: str


class MeetingListsOut(BaseModel):
    verdict: VerdictOut
    gets: list[MatchOut]
    gives: list[MatchOut]
    unclear: list[UnclearOut]
    cards: list[FoundOut]
    currency: str
