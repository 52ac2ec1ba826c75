"""Comps: what was seen of prices."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum


class CompKind(StrEnum):
    """What kind of price was seen."""

    SOLD = "sold"
    AUCTION = "auction"
    OWN = "own"
    ASK = "ask"
    BOOK_LOW = "book_low"
    BOOK_HIGH = "book_high"


@dataclass(frozen=True, slots=True)
class Comp:
    """One price that was seen, of a raw ``condition`` or a grader's grade (neither: not said), with what is known of
    its shipping and tax (money; None: not known) and of the copy's ``eye_appeal`` (-1 weak, 0 usual, 1 strong).
    ``outside`` names where it came from, with its id there."""

    kind: CompKind
    day: date
    price: Decimal
    currency: str
    shipping: Decimal | None = None
    tax: Decimal | None = None
    condition: str | None = None
    grader: str | None = None
    grade: str | None = None
    subgrades: str | None = None
    market: str | None = None
    bids: int | None = None
    photo: str | None = None
    lot: int = 1
    note: str | None = None
    eye_appeal: int | None = None
    outside: str | None = None
    outside_id: str | None = None

    @property
    def state(self) -> str | None:
        """The raw condition, or "Grader:grade"; None if it is not said."""
        return self.condition if self.grader is None else f"{self.grader}:{self.grade}"


def split_state(state: str) -> tuple[str | None, str | None, str | None]:
    """A state as condition, grader and grade: "NM" is a condition, "Plumbline:9" a grader's grade."""
    grader, _, grade = state.partition(":")
    return (None, grader, grade) if grade else (state, None, None)
