"""The product sheet as values: one release with its formats, lines, odds, guarantees and cards.

Exact things (prices, weights, shares, odds) are ``Decimal``; an unknown one is None. References go by ``id``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from enum import StrEnum
from functools import cached_property
from typing import TYPE_CHECKING

from tobbix.core.products.odds import Basis, Odds, Per

if TYPE_CHECKING:
    from tobbix.core.products.price_book import PriceBook

STANDARD_PACK = "std"


class LineKind(StrEnum):
    """What a line is."""

    BASE = "base"
    INSERT = "insert"
    PARALLEL = "parallel"
    AUTOGRAPH = "autograph"
    RELIC = "relic"


@dataclass(frozen=True, slots=True)
class Release:
    """One publication of cards by a publisher in a year; ``series`` if it is sold in parts."""

    name: str
    series: str | None
    year: int
    publisher: str

    @property
    def title(self) -> str:
        return " ".join([self.name, *([self.series] if self.series else []), str(self.year)])


@dataclass(frozen=True, slots=True)
class PackKind:
    """``count`` packs of ``cards`` cards each in a box."""

    id: str
    count: int
    cards: int


@dataclass(frozen=True, slots=True)
class Format:
    """One sealed configuration. ``price`` per box, None if unknown; ``usable`` the share of packs not bricked.
    ``case_price`` of a whole case, which no sheet says; None if nobody did."""

    id: str
    name: str
    channel: str | None
    packs: tuple[PackKind, ...]
    boxes_per_case: int | None
    price: Decimal | None
    usable: Decimal = Decimal(1)
    case_price: Decimal | None = None

    def price_of(self, boxes: int) -> Decimal | None:
        """Today's price of each of so many boxes: a case's own where it is one case, else the box's."""
        if self.case_price is not None and boxes == self.boxes_per_case:
            return self.case_price / boxes
        return self.price

    @property
    def packs_per_box(self) -> int:
        return sum(pack.count for pack in self.packs)

    @property
    def cards_per_box(self) -> int:
        return sum(pack.count * pack.cards for pack in self.packs)

    def describe(self) -> str:
        """``16 packs of 8``, or ``15 packs of 8 and 1 of 3``."""
        parts = [f"{pack.count} of {pack.cards}" for pack in self.packs]
        first = self.packs[0]
        parts[0] = f"{first.count} {'pack' if first.count == 1 else 'packs'} of {first.cards}"
        return " and ".join(parts)


@dataclass(frozen=True, slots=True)
class Card:
    """A card of a line's checklist; ``weight`` its relative printing, ``price`` its market value or None."""

    number: str
    subject: str
    weight: Decimal = Decimal(1)
    price: Decimal | None = None


@dataclass(frozen=True, slots=True)
class Line:
    """A group of cards with its own odds. ``cards_of`` takes the checklist of another line, priced from it."""

    id: str
    name: str
    kind: LineKind
    print_run: int | None = None
    redemption: bool = False
    cards: tuple[Card, ...] = ()
    cards_of: str | None = None
    only: tuple[str, ...] | None = None
    price_multiple: Decimal | None = None
    price_floor: Decimal | None = None
    price_overrides: tuple[tuple[str, Decimal | None], ...] = ()
    odds: tuple[Odds, ...] = ()
    not_in: tuple[str, ...] = ()
    formats: tuple[str, ...] | None = None

    def odds_in(self, format_id: str) -> tuple[Odds, ...]:
        return tuple(odds for odds in self.odds if odds.format == format_id)


@dataclass(frozen=True, slots=True)
class Guarantee:
    """``count`` hits per box or case, from the named lines with shares that sum to 1 (None: split unknown)."""

    format: str
    count: int
    per: Per
    lines: tuple[tuple[str, Decimal | None], ...]
    pack: str | None = None


@dataclass(frozen=True)
class ProductSheet:
    """A whole release as its owner knows it. ``revision`` counts the owner's changes.

    What the owner's store prices has the ``book`` that its prices are from, and the currencies there was no rate for.
    """

    id: str
    revision: int
    release: Release
    currency: str
    priced_on: date
    formats: tuple[Format, ...]
    lines: tuple[Line, ...]
    guarantees: tuple[Guarantee, ...] = ()
    book: "PriceBook | None" = field(default=None, compare=False, repr=False)
    without_rate: tuple[str, ...] = field(default=(), compare=False)

    @cached_property
    def line_by_id(self) -> Mapping[str, Line]:
        return {line.id: line for line in self.lines}

    @cached_property
    def format_by_id(self) -> Mapping[str, Format]:
        return {fmt.id: fmt for fmt in self.formats}

    def base_line(self, format_id: str) -> Line:
        """The line whose cards fill the slots that no hit took."""
        return next(line for line in self.lines if line.kind is LineKind.BASE and is_in(line, format_id))

    def guarantees_in(self, format_id: str) -> tuple[Guarantee, ...]:
        """All guarantees of a format, those written as a line's odds included."""
        short = tuple(
            Guarantee(odds.format, int(odds.statement.number), odds.statement.per, ((line.id, Decimal(1)),), odds.pack)
            for line in self.lines
            for odds in line.odds_in(format_id)
            if odds.basis is Basis.GUARANTEED and odds.statement is not None
        )
        return short + tuple(g for g in self.guarantees if g.format == format_id)

    def silent_lines(self, format_id: str) -> tuple[Line, ...]:
        """Lines that neither name the format nor say that they are not in it (Rule C-01)."""
        guaranteed = {line for g in self.guarantees if g.format == format_id for line, _ in g.lines}
        return tuple(
            line
            for line in self.lines
            if line.kind is not LineKind.BASE
            and not line.odds_in(format_id)
            and format_id not in line.not_in
            and line.id not in guaranteed
        )

    def confirmed_silence(self) -> "ProductSheet":
        """The same sheet where every silent line says that it is not in the format."""
        silent: dict[str, list[str]] = {}
        for fmt in self.formats:
            for line in self.silent_lines(fmt.id):
                silent.setdefault(line.id, []).append(fmt.id)
        lines = tuple(
            replace(line, not_in=line.not_in + tuple(silent[line.id])) if line.id in silent else line
            for line in self.lines
        )
        return replace(self, lines=lines)


def is_in(base: Line, format_id: str) -> bool:
    """Whether a base line fills the slots of a format."""
    return base.formats is None or format_id in base.formats
