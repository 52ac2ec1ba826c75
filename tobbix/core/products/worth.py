"""What a pull is worth to the owner: gross, net of a way of selling, or net with a floor (Rule C-02).

A market price passes four steps: it falls until the sale (decay), the market moves it (factor), a way of selling keeps
its part (net), and what nets less than the handling is worth, or than bulk brings, goes into the bulk (floor).

Example: at 12 % and 0.60 a sale, with cards that net under 1.00 as bulk at 0.02, a card at 3.00 is worth 2.04 and one
at 1.50 is worth 0.02.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.maths.severity import Array, Severity


class ValueBasis(StrEnum):
    """What the value of a pull means (Rule C-02)."""

    GROSS = "gross"
    NET = "net"
    FLOOR = "floor"


class NetOfSale(Protocol):
    """A way of selling (Rule C-17), as far as a valuation needs it. Must be hashable."""

    @property
    def name(self) -> str: ...

    def net_values(self, prices: Array) -> Array:
        """What the seller keeps at each price (money)."""
        ...


@dataclass(frozen=True, slots=True)
class Horizon:
    """What happens to prices until the sale: ``decay`` a month (share) for ``months``, and ``depth``, the share by
    which the price falls for each further copy of one card (it counts in lots of several boxes)."""

    months: float = 0.0
    decay: float = 0.0
    depth: float = 0.0

    def __post_init__(self) -> None:
        faults = []
        if not 0 <= self.months <= 120:
            faults.append(Fault("months", "must be from 0 to 120"))
        if not 0 <= self.decay < 1:
            faults.append(Fault("decay", "must be from 0 to less than 1 a month (0.05 is 5 %)"))
        if not 0 <= self.depth < 1:
            faults.append(Fault("depth", "must be from 0 to less than 1 a copy (0.1 is 10 %)"))
        if faults:
            raise InputError(faults)

    @property
    def kept(self) -> float:
        """The share of today's price that is left at the sale."""
        return float((1 - self.decay) ** self.months)


@dataclass(frozen=True, slots=True)
class Worth:
    """How a market price becomes the value of a pull (Rule C-02).

    ``way`` sells the cards, None for gross. ``floor`` is the least net worth handling, ``bulk`` what a card brings
    otherwise (money). ``handling`` is the owner's time for a sale (money). ``sells`` the share of hits of a line that
    sell within the horizon, ``sells_else`` that of the other lines; the rest is bulk. ``factor`` is what the market
    does to all prices (Rule C-06), ``spread`` the standard deviation of the log of each price by itself.
    """

    basis: ValueBasis = ValueBasis.GROSS
    way: NetOfSale | None = None
    floor: float = 0.0
    bulk: float = 0.0
    handling: float = 0.0
    sells: tuple[tuple[str, float], ...] = ()
    sells_else: float = 1.0
    horizon: Horizon = Horizon()
    factor: float = 1.0
    spread: float = 0.0

    def __post_init__(self) -> None:
        faults = []
        if (self.basis is ValueBasis.GROSS) != (self.way is None):
            faults.append(Fault("way", "net values need a way of selling, gross ones have none"))
        for name in ("floor", "bulk", "handling"):
            if not 0 <= getattr(self, name) <= 99_999_999:
                faults.append(Fault(name, "must be from 0 to 99,999,999"))
        shares = [("sells", share) for _, share in self.sells] + [("sells_else", self.sells_else)]
        faults += [Fault(name, "must be from 0 to 1 (0.8 is 80 %)") for name, share in shares if not 0 <= share <= 1]
        if not 0 < self.factor <= 100:
            faults.append(Fault("factor", "must be more than 0 and at most 100"))
        if not 0 <= self.spread <= 2:
            faults.append(Fault("spread", "must be from 0 to 2"))
        if faults:
            raise InputError(faults)

    def of(self, prices: Array) -> Array:
        """What a copy at each market price (money, any shape) is worth if it sells. Never negative. Rule C-02."""
        prices = prices * (self.factor * self.horizon.kept)
        if self.way is None:
            return prices
        net = self.way.net_values(prices) - self.handling
        if self.basis is ValueBasis.FLOOR:
            return np.where(net >= max(self.floor, self.bulk), net, self.bulk)
        return np.maximum(net, 0.0)

    def sold(self, line: str) -> float:
        """The share of a line's hits that sell."""
        return 1.0 if self.basis is ValueBasis.GROSS else dict(self.sells).get(line, self.sells_else)


GROSS = Worth()

# Gauss-Hermite nodes for the spread of one price; seven integrate a lognormal's mean to nine digits at 50 %.
_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(7)
_CHANCES = _WEIGHTS / _WEIGHTS.sum()


def value_draw(prices: Array, shares: Array, worth: Worth, line: str) -> tuple[Severity, Array]:
    """A hit of a line as a severity, and the expected worth of a copy of each card (money, shape of ``prices``).

    ``shares`` are the chances of the cards. A price with a spread becomes seven, with the same mean. Rules C-02, C-06.
    """
    if worth.spread <= 0:
        return mix_unsold(worth.of(prices), shares, worth, line)
    moved = np.exp(worth.spread * _NODES - worth.spread**2 / 2)
    moved /= float(_CHANCES @ moved)
    values = worth.of(prices[:, None] * moved)
    severity, _ = mix_unsold(values.ravel(), (shares[:, None] * _CHANCES).ravel(), worth, line)
    return severity, mix_unsold(values @ _CHANCES, shares, worth, line)[1]


def worth_of_price(worth: Worth, line: str, price: float) -> float:
    """What a copy of a line's card is worth at a market price (money), as a hit of it counts. Rule C-02."""
    return float(value_draw(np.array([price]), np.ones(1), worth, line)[1][0])


def mix_unsold(values: Array, chances: Array, worth: Worth, line: str) -> tuple[Severity, Array]:
    """Values of copies that sell, with the share that does not sell counted as bulk (Rule C-02)."""
    sold = worth.sold(line)
    each = values * sold + (1 - sold) * worth.bulk
    if sold < 1:
        values, chances = np.append(values, worth.bulk), np.append(chances * sold, 1 - sold)
    return Severity(values, chances / chances.sum()), each
