"""A card that was found by what somebody typed: its number, a bit of the subject, and the line if need be."""

from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True, slots=True)
class FoundCard:
    """A version of a card, with its market price (money, None: unknown); ``version`` is its number in the store."""

    release: str
    release_title: str
    line: str
    line_name: str
    number: str
    variant: str
    subject: str
    version: int
    price: Decimal | None

    @property
    def name(self) -> str:
        """What a copy of it is called in the stock."""
        line = f"{self.line_name} ({self.variant})" if self.variant else self.line_name
        return f"{self.subject}, {line}, {self.release_title}"
