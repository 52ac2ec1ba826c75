"""What is sent and answered: the Stock step: everything owned."""

from datetime import date
from decimal import Decimal
from typing import Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from tobbix.api.base.fields import Amount, Condition, Exact, Key, RowNumber, Strict, VersionIn
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.holdings.documents import ItemEvent
from tobbix.core.holdings.states import Purpose, State
from tobbix.core.products.price_book import Source
from tobbix.services.stock import items

GivenFor = Literal[Purpose.GIFT, Purpose.GIVEAWAY, Purpose.PUBLICITY, Purpose.DONATION]


class ItemOut(BaseModel):
    number: int
    version: int
    kind: str
    name: str
    release: str | None
    format: str | None
    line: str | None
    card: str | None
    variant: str | None
    identified: bool
    count: int
    state: State
    basis: Exact | None
    value: Exact | None
    condition: str | None
    serial: str | None
    place: str | None
    never_for_sale: bool
    acquired_on: date | None
    note: str | None
    purchase: int | None
    session: int | None


class ItemEventOut(Mirror, of=ItemEvent, without=("count",)):
    can_be_taken_back: bool


class ItemDetailOut(ItemOut):
    """An item with its sentence and history, and the day and source of what it is worth."""

    verdict: VerdictOut
    value_day: date | None
    value_source: Source | None
    history: list[ItemEventOut]


class ItemsOut(BaseModel):
    """A page of items; ``more``: there are others after it."""

    items: list[ItemOut]
    more: bool


class ItemSumsOut(BaseModel):
    """Sums over all that a filter lists; things without a known cost or worth are counted apart."""

    verdict: VerdictOut
    total: int
    count: int
    basis: Exact
    unknown_basis: int
    value: Exact
    unknown_value: int


class FilterQuery(BaseModel):
    find: str = Field("", max_length=200)
    kind: Literal["sealed", "card", "stack", "supply", "other"] | None = None
    state: State | Literal["all"] = State.HELD
    release: Key | None = None
    line: Key | None = None
    purchase: RowNumber | None = None
    session: RowNumber | None = None
    basis: Literal["known", "unknown"] | None = None
    never_for_sale: bool | None = None
    identity: Literal["known", "unknown"] | None = None
    condition: Condition | Literal["none"] | None = None
    place: str | None = Field(None, max_length=100)
    worth: Decimal | None = Field(None, ge=0, le=99_999_999, decimal_places=4)
    since: date | None = None
    doubles: bool = False
    value: Literal["known", "unknown"] | None = None

    def wanted(self) -> items.ItemFilter:
        return items.ItemFilter(**{name: getattr(self, name) for name in FilterQuery.model_fields})


class ItemsQuery(FilterQuery):
    sort: Literal["name", "count", "basis", "value", "acquired_on", "place", "id"] = "id"
    descending: bool = True
    start: int = Field(0, ge=0, le=10_000_000)
    take: int = Field(50, ge=1, le=200)


class ItemPath(BaseModel):
    number: RowNumber


class ChosenIn(Strict):
    """One of several items, at the version that was seen."""

    number: RowNumber
    version: int = Field(ge=0, le=2_000_000_000)


class TogetherIn(Strict):
    """What is corrected of several items at once: fields that are not sent stay as they are."""

    items: list[ChosenIn] = Field(min_length=1, max_length=500)
    condition: Condition | None = None
    place: str | None = Field(None, max_length=100)
    never_for_sale: bool = False


class BackTogetherIn(Strict):
    """Things that were taken out and are here again, each at the version that was seen."""

    items: list[ChosenIn] = Field(min_length=1, max_length=200)


class HeldQuery(BaseModel):
    release: Key
    line: Key


class HeldNumbersOut(BaseModel):
    """The numbers of a line's cards of which at least one is held, and of those that are not."""

    held: list[str]
    lacking: list[str]


class OutTogetherIn(Strict):
    """Several items leave the stock, not by a sale."""

    items: list[ChosenIn] = Field(min_length=1, max_length=500)
    action: Literal["lose", "give_away", "send_back"]
    why: str = Field("", max_length=200)
    purpose: GivenFor = Purpose.GIFT


class JoinIn(Strict):
    """Like things that are put together on the first of them."""

    numbers: list[int] = Field(min_length=2, max_length=500)


class SplitIn(Strict):
    """So many of a stack become a thing of their own."""

    count: int = Field(ge=1, le=1_000_000)


class MadeOut(BaseModel):
    """The number of the thing that was made."""

    number: int


class ItemIn(Strict):
    """What is corrected: fields that are not sent stay as they are, one that is sent empty is not known any more."""

    version: int = Field(ge=0, le=2_000_000_000)
    name: str = Field("", min_length=1, max_length=300)
    release: Key | None = None
    format: Key | None = None
    line: Key | None = None
    card: str | None = Field(None, max_length=200)
    variant: str | None = Field(None, max_length=60)
    value: Amount | None = None
    condition: Condition | None = None
    serial: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=100)
    never_for_sale: bool = False
    note: str | None = Field(None, max_length=500)


class ThereBeforeIn(Strict):
    """A thing that was there before, typed; an empty basis is unknown."""

    name: str = Field(min_length=1, max_length=300)
    count: int = Field(1, ge=1, le=1_000_000)
    basis: Amount | None = None
    value: Amount | None = None
    release: Key | None = None
    line: Key | None = None
    number: str | None = Field(None, max_length=200)
    variant: str | None = Field(None, max_length=60)
    serial: str | None = Field(None, max_length=40)
    place: str | None = Field(None, max_length=100)
    condition: Condition | None = None


class BasisIn(VersionIn):
    basis: Amount


class TakeOutIn(VersionIn):
    action: Literal["lose", "give_away", "send_back"]
    why: str = Field("", max_length=200)
    purpose: GivenFor = Purpose.GIFT


class ItemVersionOut(BaseModel):
    version: int


class ItemsForm(BaseModel):
    file: FileStorage = Field(description="A list of items: CSV or XLSX")
    words: bool = Field(False, description="Names that nobody here knows stay as words")
    again: bool = Field(False, description="Bring the same file in once more")


class ItemsImportedOut(BaseModel):
    """How many rows came in, and the entry that takes them back."""

    rows: int
    entry: int


class ItemsExportPath(BaseModel):
    form: Literal["csv", "xlsx"]


class SavedFilterIn(Strict):
    name: str = Field(min_length=1, max_length=60)
    query: dict[str, str | int | bool | None] = Field(max_length=12)


class SavedFilterOut(BaseModel):
    name: str
    query: dict[str, str | int | bool | None]


class SavedFiltersOut(BaseModel):
    filters: list[SavedFilterOut]


class FilterPath(BaseModel):
    name: str = Field(min_length=1, max_length=60)
