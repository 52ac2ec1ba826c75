"""Ports: what the program asks of the outside, as it needs it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from typing import Protocol

from tobbix.core.grading.graders import GraderProfile
from tobbix.core.holdings.states import ChargeKind
from tobbix.core.pricing.results import Result


class RateFeed(Protocol):
    """A feed of exchange rates: an open CSV with the columns date, currency and rate (home units for one)."""

    name: str

    def fetch(self, home: str, first: date, last: date) -> str:
        """The feed's text for the days from ``first`` to ``last``."""
        ...


class Scale(Protocol):
    """A scale on a serial line: each reading is a line like ``ST,GS,+  213.4 g``."""

    def read_line(self) -> str:
        """The next line that the scale sends."""
        ...


class CodeReader(Protocol):
    """A reader of the codes that are printed on cards, like ``HP2-44``. One that is plugged in types them into the
    field that has the focus, as a keyboard does; this port is for one that is asked."""

    name: str

    def read(self) -> list[str]:
        """What it has read since it was last asked."""
        ...


class Scanner(Protocol):
    """A scanner that puts files down: pictures of cards, each under a name."""

    name: str

    def list_files(self) -> list[str]:
        """The names of what it put down and nobody put away yet, the oldest first."""
        ...

    def read_file(self, name: str) -> bytes:
        """The file of a name. Raises NotFound."""
        ...

    def put_away(self, name: str) -> None:
        """A file was taken over: it is listed no longer. Raises NotFound."""
        ...


@dataclass(frozen=True, slots=True)
class CardSent:
    """A card of a form, by its line: its number here, tier and declared value (money at home), and ``shows``, how good
    it is (a grade, None: not known). A real grader sees that on the card; a simulated one has no other way to it."""

    line: int
    item: int
    tier: str
    declared: Decimal
    shows: float | None


@dataclass(frozen=True, slots=True)
class FormSent:
    """A submission as it was posted to a grader."""

    reference: str
    sent_on: date
    profile: GraderProfile
    cards: tuple[CardSent, ...]


class GraderStage(StrEnum):
    """How far a submission is at a grader."""

    UNDER_WAY = "on its way there"
    RECEIVED = "received"
    GRADING = "being graded"
    GRADED = "graded"
    RETURNED = "on its way back"


@dataclass(frozen=True, slots=True)
class GraderCharge:
    """A part of a grader's bill (money of its currency), what it is for, over some lines of the form, or with None over
    all."""

    kind: ChargeKind
    name: str
    amount: Decimal
    over: tuple[int, ...] | None


@dataclass(frozen=True, slots=True)
class CardGraded:
    """What came of a line of the form: a grade with its certificate and subgrades, or why there is none."""

    line: int
    grade: str | None
    certificate: str | None
    subgrades: tuple[tuple[str, str], ...]
    words: str | None


@dataclass(frozen=True, slots=True)
class GraderAnswer:
    """What a grader says of a submission as of a day: its stages so far with their days, a question if it has one, its
    bill and grades once they are there, and which lines came back in which parcel."""

    stages: tuple[tuple[GraderStage, date], ...]
    question: str | None
    bill: tuple[GraderCharge, ...]
    grades: tuple[CardGraded, ...]
    parcels: tuple[tuple[date, tuple[int, ...]], ...]


class GraderService(Protocol):
    """A grader that takes submissions and can be asked how far one is."""

    profile: GraderProfile

    def ask(self, form: FormSent, on: date) -> GraderAnswer:
        """What it says of a submission as of a day. Raises Busy, NoAnswer."""
        ...


class PriceList(StrEnum):
    """What a source of prices can be asked for: what was sold, what is asked for, lots that close soon (each with the
    day on which it closes), and results of lots."""

    SOLD = "sold"
    ASKS = "asks"
    CLOSING = "closing"
    RESULTS = "results"


class Busy(Exception):
    """It was asked too often, and says after how many ``seconds`` to ask again."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"it asks to wait {seconds:g} s")
        self.seconds = seconds


class NoAnswer(Exception):
    """It did not answer in time, or with an error; the words say which."""


@dataclass(frozen=True, slots=True)
class PricePage:
    """A page of a list, the newest first; every result has the source's own id. ``more``: there is a next page."""

    results: tuple[Result, ...]
    more: bool


class PriceSource(Protocol):
    """A market or an auction house: pages of results for words that are looked up."""

    name: str
    lists: tuple[PriceList, ...]

    def ask(self, which: PriceList, words: str, without: Sequence[str], page: int, today: date) -> PricePage:
        """A page (the first is 1) of what has all the ``words`` and none of ``without``. Raises Busy, NoAnswer."""
        ...


@dataclass(frozen=True, slots=True)
class ListingSent:
    """A listing as it goes out to a market: its number here, title, words, price (money of its currency), whether it is
    an auction and when that closes, ``expects``, what it should bring (None: not known; a real market's buyers know
    that, a simulated one has no other way to it), and its photos (JPEG files)."""

    number: int
    title: str
    words: str
    price: Decimal
    currency: str
    is_auction: bool
    listed_on: date
    ends_on: date | None
    expects: Decimal | None
    photos: tuple[bytes, ...] = ()


class NewsKind(StrEnum):
    """What a market has to say of a listing or of the order that came of it."""

    SOLD = "sold"
    ENDED = "ended"
    COMPLAINT = "complaint"
    ARRIVED = "arrived"
    PAID = "paid"


@dataclass(frozen=True, slots=True)
class MarketNews:
    """Something that happened at a market: of the listing of a ``reference``, in an ``order`` of its own number. Money
    of the listing's currency: what the buyer paid for it and for shipping, and what the market keeps; of a payout the
    price is what it pays. The same news may come twice."""

    kind: NewsKind
    day: date
    reference: str
    order: str = ""
    price: Decimal = Decimal(0)
    shipping: Decimal = Decimal(0)
    fees: Decimal = Decimal(0)
    buyer: str = ""
    address: str = ""
    words: str = ""


class SellingService(Protocol):
    """A market or an auction house that takes listings and says what became of them."""

    name: str

    def put_up(self, it: ListingSent, on: date) -> str:
        """Put a listing up; its own number for it, the same if it is asked twice. Raises Busy, NoAnswer."""
        ...

    def withdraw(self, reference: str) -> None:
        """Take a listing off. Raises Busy, NoAnswer."""
        ...

    def news(self, listed: Sequence[tuple[str, ListingSent]], on: date) -> Sequence[MarketNews]:
        """What became of listings, each with its number there, as of a day. Raises Busy, NoAnswer."""
        ...


Rate = tuple[str, date, Decimal]
