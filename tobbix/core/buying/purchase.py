"""A purchase as it stands."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.documents import Booked, Charge, Parcel
from tobbix.core.holdings.states import DocumentState, State


@dataclass(frozen=True, slots=True)
class Bought:
    """A thing that a purchase brought; ``value`` of all of it (money, None: not known)."""

    number: int
    version: int
    kind: str
    name: str
    count: int
    state: State
    basis: Decimal | None
    value: Decimal | None
    fixed: Decimal | None
    gift: bool
    weight: Decimal
    release: str | None
    format: str | None


@dataclass(frozen=True, slots=True)
class Purchase:
    """A purchase with what it cost, what it brought, and what was booked of it and of that. ``landed`` is what its
    charges come to at home (money), less refunds. Rule C-15."""

    number: int
    document: int
    version: int
    name: str
    seller: str | None
    bought_on: date
    state: DocumentState
    method: Method
    entertainment: Decimal
    note: str | None
    charges: tuple[Charge, ...]
    things: tuple[Bought, ...]
    parcel: Parcel | None
    history: tuple[Booked, ...]

    @property
    def landed(self) -> Decimal:
        return sum((charge.home for charge in self.charges), Decimal(0))
