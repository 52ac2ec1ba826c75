"""What is sent and answered: pages of results, and the words of titles."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Amount, Condition, Currency, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.pricing.schemas import CardKeys
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.looking_up import SearchWords
from tobbix.core.pricing.titles import Means, Taught
from tobbix.services.pricing.pasting import MOST_TEXT

Market = Annotated[str, StringConstraints(min_length=1, max_length=60, strip_whitespace=True)]
MOST_ROWS = 2_000


class PageIn(Strict):
    """A page as it was copied; where it is from, the state of raw cards that say none, what a result is that does not
    say whether it was sold, whether 3/11 is the 11th of March, and the card that was looked for."""

    text: str = Field(max_length=MOST_TEXT)
    market: Market | None = None
    raw_state: Condition | None = None
    unsaid: Literal[CompKind.SOLD, CompKind.ASK] = CompKind.SOLD
    month_first: bool = False
    only: CardKeys | None = None


class ProposedOut(BaseModel):
    """A result as it would be kept; the figures are empty where it is refused before they are known."""

    row: int
    title: str
    version: int | None
    choices: list[int]
    kind: CompKind | None
    day: date | None
    price: Exact | None
    shipping: Exact | None
    tax: Exact | None
    currency: str | None
    state: str | None
    bids: int | None
    market: str | None
    lot: int
    doubt: str | None
    refused: str | None
    known: bool
    ready: bool
    unexplained: list[str]
    own_id: str | None
    subgrades: str | None
    photo: Literal["copy", "stock"] | None


class PageOut(BaseModel):
    """All results of a page, and the cards that they are or may be of."""

    verdict: VerdictOut
    results: list[ProposedOut]
    cards: list[FoundOut]


class RowIn(Strict):
    """A result that is kept: a price of a version in a state (a condition, or Grader:grade); ``own_id`` is the one that
    it has at its market, if it was fetched from there."""

    version: RowNumber
    kind: CompKind
    day: date
    price: Amount
    shipping: Amount | None
    currency: Currency
    state: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    bids: int | None = Field(ge=0, le=100_000)
    lot: int = Field(ge=1, le=100_000)
    title: str = Field(max_length=300)
    market: Market | None = None
    tax: Amount | None = None
    own_id: Annotated[str, StringConstraints(min_length=1, max_length=100)] | None = None
    subgrades: Annotated[str, StringConstraints(min_length=1, max_length=60)] | None = None
    photo: Literal["copy", "stock"] | None = None


class KeepPageIn(Strict):
    market: Market | None = None
    rows: list[RowIn] = Field(min_length=1, max_length=MOST_ROWS)


class SearchQuery(CardKeys):
    """In which ``state`` it is looked for (a condition, or Grader:grade)."""

    state: str = Field("NM", max_length=60)


class SearchIn(CardKeys):
    """The owner's own words for a card; empty: the proposed ones again."""

    words: str = Field(max_length=600)
    without: str = Field("", max_length=600)


class SearchOut(Mirror, of=SearchWords):
    """Words to search for, other spellings, and what to leave out."""


class BatchPath(BaseModel):
    batch: RowNumber


class TaughtOut(Mirror, of=Taught):
    """What words of titles mean."""

    number: int


class TaughtListOut(BaseModel):
    words: list[TaughtOut]


class TeachIn(Strict):
    """Words of titles and what they mean, of one release or of any."""

    words: str = Field(max_length=200)
    means: Means
    value: str = Field("", max_length=200)
    release: Key | None = None


class TaughtPath(BaseModel):
    number: RowNumber
