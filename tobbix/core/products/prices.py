"""What a hit of a line is worth: the prices of its cards, unknown ones counted as Rule C-01 says."""

from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

import numpy as np

from tobbix.core.base.results import Assumed
from tobbix.core.maths.severity import Array, Severity
from tobbix.core.products.sheet import Card, Line, ProductSheet


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
            overrides[card.number] if card.number in overrides else _derived(line, card.price),
            card.number in overrides,
        )
        for card in sheet.line_by_id[line.cards_of].cards
        if wanted is None or card.number in wanted
    )


def _weight(line: Line, card: Card) -> Decimal:
    return card.weight if line.print_run is None else Decimal(1)


def _derived(line: Line, parent_price: Decimal | None) -> Decimal | None:
    if parent_price is None or line.price_multiple is None:
        return None
    return max(parent_price * line.price_multiple, line.price_floor or Decimal(0))


@dataclass(frozen=True, eq=False)
class LineValue:
    """A hit of a line as a severity. ``high`` and ``low`` are None if less than half of its weight is priced."""

    id: str
    name: str
    versions: tuple[VersionPrice, ...]
    shares: Array
    high: Severity | None
    low: Severity | None

    @cached_property
    def assumed(self) -> Assumed | None:
        """Which cards count at an assumed price, or None."""
        unknown = tuple(v.number for v in self.versions if v.price is None)
        if not unknown or self.high is None or self.low is None:
            return None
        at = next(i for i, v in enumerate(self.versions) if v.price is None)
        return Assumed(self.id, self.name, unknown, float(self.high.values[at]), float(self.low.values[at]))

    @property
    def unpriced(self) -> int:
        return sum(version.price is None for version in self.versions)


def value_line(sheet: ProductSheet, line: Line) -> LineValue:
    """The line's cards with chances and values (gross, Rule C-02), unknown prices by Rule C-01.

    If at least half of the line's weight is priced, an unknown card counts at the weighted mean of the known ones
    (``high``) and beside it at the lowest known (``low``); below half the line's value is unknown.
    """
    versions = line_versions(sheet, line)
    if not versions:
        return LineValue(line.id, line.name, (), np.zeros(0), None, None)
    weights = np.array([float(v.weight) for v in versions])
    shares = weights / weights.sum()
    known = np.array([v.price is not None for v in versions])
    priced_weight = sum(v.weight for v in versions if v.price is not None)
    if priced_weight == 0 or 2 * priced_weight < sum(v.weight for v in versions):
        return LineValue(line.id, line.name, versions, shares, None, None)
    values = np.array([float(v.price) if v.price is not None else 0.0 for v in versions])
    mean_known = float(values[known] @ weights[known] / weights[known].sum())
    high = Severity(np.where(known, values, mean_known), shares)
    if known.all():
        return LineValue(line.id, line.name, versions, shares, high, high)
    low = Severity(np.where(known, values, values[known].min()), shares)
    return LineValue(line.id, line.name, versions, shares, high, low)
