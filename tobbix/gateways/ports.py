"""Ports: what the program asks of the outside, as it needs it."""

from datetime import date
from decimal import Decimal
from typing import Protocol


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


Rate = tuple[str, date, Decimal]
