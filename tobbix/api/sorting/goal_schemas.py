"""What is sent and answered about goals: sets, rainbows, slots of one's own."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Amount, Currency, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.sorting.goals import GoalKind
from tobbix.services.sorting.goals import ByPacks, SellerTerms

Text = Annotated[str, StringConstraints(max_length=200)]


class WholeIn(Strict):
    """What all of it sells for as one, on a day."""

    price: Amount
    currency: Currency
    day: date


class WholeSaidIn(Strict):
    """None: not known."""

    version: int = Field(ge=0)
    whole: WholeIn | None


class SlotIn(Strict):
    name: Text
    options: list[int] = Field(max_length=400)


class GoalIn(Strict):
    """A goal; ``version`` as it was seen, 0 for a new one."""

    version: int = Field(0, ge=0)
    name: Annotated[str, StringConstraints(max_length=120)]
    kind: GoalKind
    release: Key | None = None
    line: Text | None = None
    card: Text | None = None
    least: Annotated[str, StringConstraints(max_length=60)] | None = None
    each: bool = False
    numbered: bool = False
    subjects: list[Text] = Field(default_factory=list, max_length=500)
    slots: list[SlotIn] = Field(default_factory=list, max_length=1_000)
    whole: WholeIn | None = None


class GoalPath(BaseModel):
    number: RowNumber


class GoalBriefOut(BaseModel):
    number: int
    version: int
    name: str
    kind: GoalKind
    least: str | None
    total: int
    filled: int
    doubles: int


class GoalsOut(BaseModel):
    goals: list[GoalBriefOut]
    verdict: VerdictOut


class GoalSlotOut(BaseModel):
    """A slot: the card that fills it or the cheapest that could (``card``), the thing (None: missing), how many copies
    more could fill it, and what one is worth."""

    name: str
    card: FoundOut | None
    item: int | None
    spare: int
    value: Exact | None
    options: int


class SeenOut(BaseModel):
    """Money at home on a day, and in the currency that it was said in."""

    amount: Exact
    day: date
    other: Exact | None
    currency: str | None


class WholeSetOut(BaseModel):
    as_one: SeenOut | None
    singly: SeenOut | None
    unknown: int
    book_low: SeenOut | None
    book_high: SeenOut | None


class GoalOut(BaseModel):
    number: int
    version: int
    name: str
    kind: GoalKind
    release: str | None
    line: str | None
    least: str | None
    slots: list[GoalSlotOut]
    filled: int
    singly: Exact | None
    unknown: int
    whole: WholeSetOut
    doubles: int
    currency: str
    verdict: VerdictOut


class SellerTermsIn(Strict):
    seller: Annotated[str, StringConstraints(max_length=60)]
    shipping: Amount
    each_further: Amount = "0"
    free_from: Amount | None = None


class BasketIn(Strict):
    """What orders of a market cost to send; of others: as usual."""

    terms: list[SellerTermsIn] = Field(default_factory=list, max_length=200)


class SellerTermsOut(Mirror, of=SellerTerms):
    """By which terms a seller's orders were counted; ``known``: of how many asks the shipping was said."""


class BasketCardOut(BaseModel):
    name: str
    card: FoundOut | None
    count: int
    price: Exact


class BasketOrderOut(BaseModel):
    seller: str
    cards: list[BasketCardOut]
    shipping: Exact
    total: Exact


class GoalBasketOut(BaseModel):
    total: Exact
    alone: Exact
    orders: list[BasketOrderOut]
    missing: list[str]
    proven: bool
    gap: float | None
    asks: int
    terms: list[SellerTermsOut]
    currency: str
    verdict: VerdictOut


class ByPacksOut(Mirror, of=ByPacks):
    """Finishing by opening a format."""


class PacksToFinishOut(BaseModel):
    formats: list[ByPacksOut]
    currency: str
