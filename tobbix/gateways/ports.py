"""Ports: what the program asks of the outside, as it needs it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from typing import Protocol

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


Rate = tuple[str, date, Decimal]
