"""What is sent and answered: tables of prices and populations."""

from datetime import date
from typing import Annotated, Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from tobbix.api.base.cards import FoundOut
from tobbix.api.base.fields import Condition, Currency, RowNumber, Strict
from tobbix.api.base.verdicts import VerdictOut
from tobbix.api.pricing.pasting_schemas import MOST_ROWS, Market, ProposedOut, RowIn
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.tables import MOST_COLUMNS, Column
from tobbix.services.pricing.pasting import MOST_TEXT

Grader = Annotated[str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True)]


class TableForm(BaseModel):
    """A file with a table."""

    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage = Field(description="A table: CSV, XLSX, or a list of sales in JSON")


class TableTextOut(BaseModel):
    """The table as text, its cells parted by tabs."""

    text: str


class ColumnIn(Strict):
    """What a column means; amounts and copies may be ``of`` a state or a grade, amounts in one currency."""

    means: Column
    of: Annotated[str, StringConstraints(min_length=1, max_length=60)] | None = None
    currency: Currency | None = None


class TableIn(Strict):
    """A table as text, what its columns mean (null: as remembered or guessed), and what is said of all of it."""

    text: str = Field(max_length=MOST_TEXT)
    columns: list[ColumnIn] | None = Field(None, max_length=MOST_COLUMNS)
    market: Market | None = None
    raw_state: Condition | None = None
    unsaid: Literal[CompKind.SOLD, CompKind.ASK] = CompKind.SOLD
    month_first: bool = False
    grader: Grader | None = None
    day: date | None = None


class ColumnOut(BaseModel):
    """A column: its head, what it means, and the first things in it."""

    head: str
    means: Column
    of: str | None
    currency: str | None
    first: list[str]


class CountedOut(BaseModel):
    """A count of copies as it would be kept."""

    row: int
    title: str
    version: int | None
    choices: list[int]
    grader: str | None
    grade: str | None
    count: int | None
    day: date | None
    doubt: str | None
    refused: str | None


class TableOut(BaseModel):
    """What a table holds; ``left``: how many rows are too many at once."""

    verdict: VerdictOut
    columns: list[ColumnOut]
    guessed: bool
    results: list[ProposedOut]
    counts: list[CountedOut]
    cards: list[FoundOut]
    left: int


class CountIn(Strict):
    """How many copies of a version a grader had given a grade to, on a day."""

    version: RowNumber
    grader: Grader
    grade: Annotated[str, StringConstraints(min_length=1, max_length=20)]
    count: int = Field(ge=0, le=1_000_000_000)
    day: date


class KeepTableIn(Strict):
    """What is kept of a table; with its text and columns, what they mean is remembered."""

    text: str = Field(max_length=MOST_TEXT)
    columns: list[ColumnIn] = Field(max_length=MOST_COLUMNS)
    market: Market | None = None
    rows: list[RowIn] = Field(max_length=20 * MOST_ROWS)
    counts: list[CountIn] = Field(max_length=20 * MOST_ROWS)
