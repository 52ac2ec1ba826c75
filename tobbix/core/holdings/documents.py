"""Documents: what entries and the histories of things hang on, and what is read of them."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.holdings.states import ChargeKind, DocumentKind, DocumentState, ParcelState


@dataclass(frozen=True, slots=True)
class Document:
    """A document as it stands; ``party`` the name of whom it is with."""

    number: int
    kind: DocumentKind
    day: date
    state: DocumentState
    version: int
    text: str
    party: str | None = None
    note: str | None = None


@dataclass(frozen=True, slots=True)
class Charge:
    """A part of a bill in its currency on its day, and at home at a rate (home units each); a refund is negative."""

    kind: ChargeKind
    amount: Decimal
    currency: str
    day: date
    rate: Decimal
    home: Decimal
    purse: str


@dataclass(frozen=True, slots=True)
class Booked:
    """An entry of a document in words. ``taken_back``: another one took it back; ``reverses`` the one that it does."""

    number: int
    day: date
    event: str
    text: str
    taken_back: bool
    reverses: int | None

    @property
    def can_be_taken_back(self) -> bool:
        """Whether it stands and is not itself a taking back; what came after it may still be in the way."""
        return not self.taken_back and self.event != "undo"


@dataclass(frozen=True, slots=True)
class ItemEvent:
    """What happened to an item: its state, count and basis after it, and the ``entry`` that booked it (None: words were
    corrected), which may have been taken back."""

    day: date
    event: str
    text: str
    state: str
    count: int
    basis: Decimal | None
    entry: int | None
    taken_back: bool

    @property
    def can_be_taken_back(self) -> bool:
        """Whether it stands and is not itself a taking back."""
        return self.entry is not None and not self.taken_back and self.event != "undo"


@dataclass(frozen=True, slots=True)
class Parcel:
    """A parcel of a document. ``inspection``: what was found, seal, series, contents and words."""

    state: ParcelState
    carrier: str | None
    tracking: str | None
    due_on: date | None
    received_on: date | None
    inspection: dict[str, bool | str | None] | None
    dispute: str | None


@dataclass(frozen=True, slots=True)
class ParcelSeen:
    """A parcel ``out`` or ``in`` of a document: how many things are in it, tracking, when it was posted, is due and
    arrived (None: not known, or not yet)."""

    direction: str
    things: int
    tracking: str | None
    sent_on: date | None
    due_on: date | None
    received_on: date | None


class Side(StrEnum):
    """What a photo shows of a card."""

    FRONT = "front"
    BACK = "back"
    DETAIL = "detail"


@dataclass(frozen=True, slots=True)
class Photo:
    """A picture of an item: sizes in pixels, ``dpi`` dots an inch (None: not said)."""

    number: int
    side: Side
    width: int
    height: int
    dpi: Decimal | None


@dataclass(frozen=True, slots=True)
class Label:
    """What a grader said of an item; ``removed``: it was cracked off."""

    grader: str
    grade: str
    certificate: str | None
    day: date
    removed: bool
    subgrades: dict[str, str] | None = None
