"""What is sent and answered: the books: balances, lots, sessions, entries, and files."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Exact, RowNumber, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.books.friends import FriendLine
from tobbix.core.books.reports import Lot, LotSum, Month
from tobbix.core.books.sales import SalesBy, SalesSum, ThingSold
from tobbix.core.holdings.ledger import Account, Posting
from tobbix.services.books.friends import FriendBrief, FriendsThing
from tobbix.services.books.sales import Purse


class BalanceOut(BaseModel):
    account: Account
    purse: str | None
    amount: Exact


class LotOut(Mirror, of=Lot):
    """A purchase or a session; ``realised``, ``unrealised`` and ``total`` are None where a part is not known."""

    cost: Exact | None
    realised: Exact | None
    unrealised: Exact | None
    total: Exact | None


class LotSumOut(Mirror, of=LotSum):
    """Lots together; a figure is at least that where it is not ``known``."""


class MonthOut(Mirror, of=Month):
    """What a month came to, by its first day; ``held`` at its end, at cost."""


class ThingOut(BaseModel):
    """A thing that an entry is about."""

    item: int
    name: str


class PostingOut(Mirror, of=Posting, without=("party",)):
    """One line of an entry: ``amount`` in the home currency (money, debit positive)."""


class EntryOut(BaseModel):
    number: int
    day: date
    event: str
    text: str
    taken_back: bool
    can_be_taken_back: bool
    lines: list[PostingOut]
    things: list[ThingOut] = Field(description="The first few of all_things")
    all_things: int


class EntryPath(BaseModel):
    number: RowNumber


class TakenBackOut(BaseModel):
    """What was taken back, in words."""

    text: str


class BooksOut(BaseModel):
    """Where the books stand. ``off`` and ``stock_off`` are 0 at any time."""

    verdict: VerdictOut
    currency: str
    off: Exact
    stock_off: Exact
    balances: list[BalanceOut]
    lots: list[LotOut]
    all_lots: LotSumOut
    sessions: list[LotOut]
    all_sessions: LotSumOut
    months: list[MonthOut]
    entries_in_all: int
    entries: list[EntryOut]


class SalesQuery(Strict):
    """Sales of some days by something; ``only`` those of one name of it."""

    by: SalesBy = SalesBy.WAY
    first: date | None = None
    last: date | None = None
    only: Annotated[str, StringConstraints(max_length=500)] | None = None


class SalesSumOut(Mirror, of=SalesSum):
    """Sales together."""


class SoldOut(Mirror, of=ThingSold, without=("names",)):
    """What a thing made."""

    costs: Exact
    profit: Exact | None


class SalesOut(BaseModel):
    rows: list[SalesSumOut]
    total: SalesSumOut
    things: list[SoldOut]
    before: int
    currency: str
    verdict: VerdictOut


class FriendOut(Mirror, of=FriendBrief):
    """A friend and what stands open (money at home; over 0: the friend owes it)."""


class FriendsOut(BaseModel):
    friends: list[FriendOut]
    currency: str


class FriendQuery(Strict):
    """A friend's account of some days."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=120)]
    first: date | None = None
    last: date | None = None


class FriendLineOut(Mirror, of=FriendLine):
    """Something that was booked for a friend."""


class FriendsThingOut(Mirror, of=FriendsThing):
    """A thing of a friend, as it is now."""


class FriendStatementOut(BaseModel):
    name: str
    before: Exact
    lines: list[FriendLineOut]
    open: Exact
    things: list[FriendsThingOut]
    currency: str
    verdict: VerdictOut


class PurseOut(Mirror, of=Purse):
    """A purse and what should be in it."""


class PursesOut(BaseModel):
    purses: list[PurseOut]
    currency: str


class PursePath(BaseModel):
    name: Annotated[str, StringConstraints(max_length=60)]


class PurseCountedIn(Strict):
    counted: Amount


class PurseCountedOut(BaseModel):
    difference: Exact


class DocumentPath(BaseModel):
    number: RowNumber


class MinutesIn(Strict):
    minutes: Amount
    what: Annotated[str, StringConstraints(max_length=200)] = ""


class MinutesOut(BaseModel):
    minutes: Exact
