"""What is kept of openings: sessions with their pulls, weights, and redemptions."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.holdings.states import DocumentState, Purpose
from tobbix.core.opening.session import Pulled

ALIVE = (DocumentState.RUNNING, DocumentState.PAUSED)


@dataclass(frozen=True, slots=True)
class Opening:
    """A session: the opening of a box, some packs or several boxes of an item; ``packs`` in all, ``gone`` opened by
    somebody else before, with the promised hits ``gone_hits`` by line, which are believed with ``trust``. The share
    ``entertainment`` of what it costs is booked for a ``purpose``. ``case_name``: of which case its boxes are, if it
    is said."""

    number: int
    document: int
    version: int
    item: int
    release: str
    format: str
    format_id: int
    boxes: int
    packs: int
    gone: int
    gone_hits: Mapping[str, int]
    trust: float
    stopped_hot: bool
    current_pack: int
    state: DocumentState
    entertainment: Decimal
    purpose: Purpose
    started_on: date
    done_on: date | None
    note: str | None
    case_name: str | None = None

    @property
    def is_alive(self) -> bool:
        """Whether it is running or put aside."""
        return self.state in ALIVE


@dataclass(frozen=True, slots=True)
class Pull:
    """A card that came out of a pack, or ``count`` of like ones; no ``card`` (its number): the rest of a pack. ``once``
    is the sender's own text."""

    number: int
    once: str
    pack: int
    line: str
    card: str | None
    line_id: int
    version_id: int | None
    count: int
    serial: str | None
    flaw: str | None

    @property
    def pulled(self) -> Pulled:
        """It as the rules take it."""
        return Pulled(self.pack, self.line, self.card, self.count, self.serial, self.flaw)


@dataclass(frozen=True, slots=True)
class Weight:
    """A box or pack that was weighed (grams), and whether it held a hit, once that is known."""

    number: int
    unit: str
    grams: Decimal
    held_hit: bool | None
    day: date


@dataclass(frozen=True, slots=True)
class Redemption:
    """A card that comes by post; ``item`` the card in stock that it was exchanged for."""

    number: int
    version: int
    name: str
    code: str
    choices: str | None
    chosen: str | None
    item: int | None
    posted_on: date | None
    due_on: date | None
    arrived_on: date | None
