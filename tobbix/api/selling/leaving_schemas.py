"""What is sent and answered about sales files, trades and ways out."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Condition, Exact, Key, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.planning.ways_out import Road
from tobbix.core.selling.sales_files import SaleColumn, SaleRow, UnsaidFees
from tobbix.services.selling.sales_files import PastSale

_Name = Annotated[str, StringConstraints(max_length=120)]


class SalesFileIn(Strict):
    """A text of sales as it came; columns as they are said (None: guessed, or as last time)."""

    text: Annotated[str, StringConstraints(max_length=2_000_000)]
    way: Key
    columns: list[SaleColumn] | None = Field(None, max_length=60)
    month_first: bool = False


class SaleRowOut(Mirror, of=SaleRow):
    """A row of sales as it was read."""


class ReadSaleOut(BaseModel):
    row: SaleRowOut
    listing: int | None
    items: list[int]
    problem: str | None
    is_there: bool


class SalesFileOut(BaseModel):
    head: list[str]
    has_head: bool
    columns: list[SaleColumn]
    remembered: bool
    rows: list[ReadSaleOut]


class TakeSalesIn(SalesFileIn):
    """Which rows are taken in as orders, and which as results of before the books; ``unsaid_fees``: what was kept where
    a row does not say it."""

    rows: list[int] = Field(max_length=2_000)
    before: list[int] = Field(max_length=2_000)
    market: _Name | None = None
    unsaid_fees: UnsaidFees | None = None


class RowLeftOut(BaseModel):
    row: int
    why: str


class SalesTakenOut(BaseModel):
    orders: list[int]
    past: int
    left: list[RowLeftOut]


class PastSaleOut(Mirror, of=PastSale):
    """A sale of before the books, with what it made (None: nobody remembers what it had cost)."""

    profit: Exact | None


class PastSalePath(BaseModel):
    number: RowNumber


class PastSalesOut(BaseModel):
    sales: list[PastSaleOut]
    currency: str


class SwappedIn(Strict):
    """A thing that comes in by a trade: its name, its keys where it is known, and what it is taken to be worth."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=300)]
    release: Annotated[str, StringConstraints(max_length=64)] | None = None
    line: Annotated[str, StringConstraints(max_length=64)] | None = None
    number: Annotated[str, StringConstraints(max_length=200)] | None = None
    variant: Annotated[str, StringConstraints(max_length=60)] = ""
    condition: Condition | None = None
    value: Amount | None = None


class NewSwapIn(Strict):
    """Things given for others, with the cash that evens it (``comes_in``: it is paid to you)."""

    day: date
    given: list[RowNumber] = Field(min_length=1, max_length=100)
    got: list[SwappedIn] = Field(min_length=1, max_length=100)
    party: _Name | None = None
    cash: Amount | None = None
    comes_in: bool = False
    purse: Annotated[str, StringConstraints(max_length=60)] = "cash"


class SwapMadeOut(BaseModel):
    items: list[int]


class WayOutOut(BaseModel):
    """A way out: what comes in (None: not known, and ``why``), when, what it costs and what it is worth today."""

    road: Road
    key: str
    name: str
    words: str
    comes: Exact | None
    days: int
    spent: Exact
    minutes: Exact
    today: Exact | None
    why: str
    assumed: bool
    chosen: bool


class PlanningTermsIn(Strict):
    """What time and waiting cost: an hour, a year (percent), minutes by road, days."""

    version: int = Field(ge=0)
    hourly: Amount
    yearly: Amount
    selling: Amount
    grading: Amount
    in_person: Amount
    lot: Amount
    other: Amount
    days: int = Field(ge=0, le=3_650)
    meeting_days: int = Field(ge=0, le=3_650)


class PlanningTermsOut(BaseModel):
    version: int
    hourly: Exact
    yearly: Exact
    selling: Exact
    grading: Exact
    in_person: Exact
    lot: Exact
    other: Exact
    days: int
    meeting_days: int


class WaysOutOut(BaseModel):
    item: int
    name: str
    ways: list[WayOutOut]
    spread: Exact | None
    margin: Exact | None
    close: bool
    chosen: bool
    terms: PlanningTermsOut
    currency: str
    verdict: VerdictOut


class ChooseWayIn(Strict):
    """Which way out the owner goes; no road: what is worth most."""

    road: Road | None = None
    key: Annotated[str, StringConstraints(max_length=64)] = ""
