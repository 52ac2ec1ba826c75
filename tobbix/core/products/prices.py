"""What a hit of a line is worth: the prices of its cards, unknown ones counted as Rule C-01 says."""

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from tobbix.core.base.results import Assumed, Matter
from tobbix.core.maths.severity import Array, Severity
from tobbix.core.products.sheet import Card, Line, ProductSheet
from tobbix.core.products.worth import GROSS, Worth, value_draw


@dataclass(frozen=True, slots=True)
class VersionPrice:
    """One card of a line: its exact version with printing weight and market price (None: unknown).

    ``own`` if the price was given for this version itself rather than derived from the parent line's.
    """

    number: str
    subject: str
    weight: Decimal
    price: Decimal | None
    own: bool


def line_versions(sheet: ProductSheet, line: Line) -> tuple[VersionPrice, ...]:
    """The cards that a hit of the line may be, in the order of the checklist. Rule C-01.

    A line with ``cards_of`` takes the parent's checklist: price = max(parent's price x multiple, floor) unless
    overridden; with a print run every card is equally frequent, without one the parent's weights hold.
    """
    if line.cards_of is None:
        return tuple(VersionPrice(c.number, c.subject, _weight(line, c), c.price, True) for c in line.cards)
    overrides = dict(line.price_overrides)
    wanted = None if line.only is None else set(line.only)
    return tuple(
        VersionPrice(
            card.number,
            card.subject,
            _weight(line, card),
            overrides[card.number]
            if card.number in overrides
            else derived_price(card.price, line.price_multiple, line.price_floor),
            card.number in overrides,
        )
        for card in sheet.line_by_id[line.cards_of].cards
        if wanted is None or card.number in wanted
    )


def _weight(line: Line, card: Card) -> Decimal:
    return card.weight if line.print_run is None else Decimal(1)


def derived_price(parent: Decimal | None, multiple: Decimal | None, floor: Decimal | None) -> Decimal | None:
    """The price of a parallel's card from its parent's: times the multiple, at least the floor. Rule C-01."""
    if parent is None or multiple is None:
        return None
    return max(parent * multiple, floor or Decimal(0))


@dataclass(frozen=True, eq=False)
class Drawn:
    """A hit of a line as a severity, and what a copy of each card is worth on average (money, shape (cards,))."""

    severity: Severity
    each: Array


@dataclass(frozen=True, eq=False)
class LineValue:
    """A hit of a line. ``high`` and ``low`` are None if less than half of its weight is priced and nothing is assumed.

    ``prices`` are the market prices that ``high`` counts (shape (cards,)); ``assumed_value`` if the owner assumes one.
    """

    id: str
    name: str
    versions: tuple[VersionPrice, ...]
    shares: Array
    prices: Array
    high: Drawn | None
    low: Drawn | None
    assumed: Assumed | None = None

    @property
    def unpriced(self) -> int:
        return sum(version.price is None for version in self.versions)

    def place_of(self, number: str) -> int | None:
        """Where a card stands among the versions; None if the line has it not."""
        return next((at for at, version in enumerate(self.versions) if version.number == number), None)


def value_line(sheet: ProductSheet, line: Line, worth: Worth = GROSS, assumed: Decimal | None = None) -> LineValue:
    """The line's cards with chances and values (Rule C-02), unknown prices by Rule C-01.

    If at least half of the line's weight is priced, an unknown card counts at the weighted mean of the known ones
    (``high``) and beside it at the lowest known (``low``); below half the line's value is unknown, unless the owner
    has ``assumed`` one: then every unknown card counts at that price, in both.
    """
    versions = line_versions(sheet, line)
    weights = np.array([float(v.weight) for v in versions])
    shares = weights / weights.sum() if versions else np.ones(1)
    known = np.array([v.price is not None for v in versions], dtype=bool)
    values = np.array([float(v.price) if v.price is not None else 0.0 for v in versions])
    unknown = tuple(v.number for v in versions if v.price is None)

    def draw(prices: Array) -> Drawn:
        return Drawn(*value_draw(prices, shares, worth, line.id))

    if assumed is not None and (unknown or not versions):
        prices = np.where(known, values, float(assumed)) if versions else np.array([float(assumed)])
        high = draw(prices)
        note = Assumed(line.id, line.name, unknown, float(assumed), float(assumed), Matter.PRICE, by_owner=True)
        return LineValue(line.id, line.name, versions, shares if versions else np.zeros(0), prices, high, high, note)
    priced_weight = sum(v.weight for v in versions if v.price is not None)
    if priced_weight == 0 or 2 * priced_weight < sum(v.weight for v in versions):
        return LineValue(line.id, line.name, versions, shares if versions else np.zeros(0), values, None, None)
    mean_known = float(values[known] @ weights[known] / weights[known].sum())
    prices = np.where(known, values, mean_known)
    high = draw(prices)
    if not unknown:
        return LineValue(line.id, line.name, versions, shares, prices, high, high)
    lowest = float(values[known].min())
    note = Assumed(line.id, line.name, unknown, mean_known, lowest)
    return LineValue(line.id, line.name, versions, shares, prices, high, draw(np.where(known, values, lowest)), note)
