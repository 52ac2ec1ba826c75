"""What a seller keeps of a sale, and the list price that nets a wanted amount (Rule C-17).

Fees are piecewise linear in the price: commission in marginal brackets with a minimum and a cap, a payment share, and
fixed parts. Between the corners of that line everything is exact in fractions, both ways.

Example: 12 % up to 1,000 then 3 %, 0.35 fixed, payment 2.9 % + 0.30, all on price and shipping. A card at 10.00 with
1.50 shipping charged, 1.50 postage and 0.25 packing nets 7.3865; to net 8.00 it has to be listed at 10.73.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from functools import cached_property
from math import ceil

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.maths.severity import Array

_ZERO = Decimal(0)
MOST = Decimal(99_999_999)


class FeeBase(StrEnum):
    """What fees are taken on."""

    PRICE = "price"
    PRICE_AND_SHIPPING = "price_and_shipping"
    PRICE_SHIPPING_AND_TAX = "price_shipping_and_tax"


@dataclass(frozen=True, slots=True)
class Bracket:
    """A marginal share of the amount up to ``up_to`` (money; None: without end)."""

    up_to: Decimal | None
    share: Decimal


@dataclass(frozen=True)
class SellingWay:
    """A way of selling: what is taken, and what a sale costs the seller (money per sale, shares of 1).

    ``commission`` brackets in rising order, the last without end; ``least`` and ``most`` bound the commission.
    ``tax`` is what the buyer pays on price and shipping, which only matters where fees are taken on it.
    ``lost`` is the expected loss in the post as a share of the price. Raises InputError with every fault.
    """

    id: str
    name: str
    commission: tuple[Bracket, ...] = (Bracket(None, _ZERO),)
    on: FeeBase = FeeBase.PRICE_AND_SHIPPING
    fixed_fee: Decimal = _ZERO
    payment_share: Decimal = _ZERO
    payment_fixed: Decimal = _ZERO
    least: Decimal = _ZERO
    most: Decimal | None = None
    shipping_charged: Decimal = _ZERO
    postage: Decimal = _ZERO
    packing: Decimal = _ZERO
    lost: Decimal = _ZERO
    tax: Decimal = _ZERO

    def __post_init__(self) -> None:
        faults = []
        for name in ("fixed_fee", "payment_fixed", "least", "shipping_charged", "postage", "packing"):
            if not 0 <= getattr(self, name) <= MOST:
                faults.append(Fault(name, "must be from 0 to 99,999,999"))
        for name in ("payment_share", "lost", "tax"):
            if not 0 <= getattr(self, name) < 1:
                faults.append(Fault(name, "must be from 0 to less than 1 (0.029 is 2.9 %)"))
        if self.most is not None and self.most < self.least:
            faults.append(Fault("most", "the cap must not be under the minimum"))
        faults += _check_brackets(self.commission)
        if not faults:
            steepest = max(bracket.share for bracket in self.commission) + self.payment_share
            if steepest * (1 + self.tax) + self.lost >= 1:
                faults.append(Fault("commission", "commission, payment and loss together take all of the price"))
        if faults:
            raise InputError(faults)

    def _amount(self, price: Fraction) -> Fraction:
        """What fees are taken on."""
        amount = price
        if self.on is not FeeBase.PRICE:
            amount += Fraction(self.shipping_charged)
        return amount * (1 + Fraction(self.tax)) if self.on is FeeBase.PRICE_SHIPPING_AND_TAX else amount

    def _price(self, amount: Fraction) -> Fraction:
        """The price at which fees are taken on ``amount``; the inverse of ``_amount``."""
        if self.on is FeeBase.PRICE_SHIPPING_AND_TAX:
            amount /= 1 + Fraction(self.tax)
        return amount if self.on is FeeBase.PRICE else amount - Fraction(self.shipping_charged)

    def commission_on(self, price: Fraction) -> Fraction:
        """Commission of one item at a price (money, exact)."""
        taken = max(_marginal(self.commission, self._amount(price)), Fraction(self.least))
        return taken if self.most is None else min(taken, Fraction(self.most))

    def net_parcel(self, prices: Sequence[Decimal]) -> Fraction:
        """What the seller keeps of several items sold in one parcel, unrounded (money, exact). Rule C-17.

        They share the postage, the packing and the fixed fees; commission is taken item by item, the shipping charged
        counting with the first.
        """
        whole, shipping = sum(map(Fraction, prices), Fraction(0)), Fraction(self.shipping_charged)
        costs = Fraction(self.postage) + Fraction(self.packing) + Fraction(self.lost) * whole
        return whole + shipping - self.fees_of_parcel(prices) - costs

    def fees_of_parcel(self, prices: Sequence[Decimal]) -> Fraction:
        """What the way takes of such a parcel: commission, payment and fixed fees (money, exact). Rule C-17."""
        exact, shipping = [Fraction(price) for price in prices], Fraction(self.shipping_charged)
        amount = self._amount(sum(exact, Fraction(0)))
        commission = self.commission_on(exact[0]) if exact else Fraction(0)
        for price in exact[1:]:
            commission += self.commission_on(price - (shipping if self.on is not FeeBase.PRICE else 0))
        return commission + Fraction(self.payment_share) * amount + Fraction(self.fixed_fee + self.payment_fixed)

    def net(self, price: Decimal) -> Fraction:
        """What the seller keeps of one sale at a price, unrounded (money, exact). Rule C-17.

        >>> way = SellingWay("fair", "Quay Fair", packing=Decimal("0.10"))
        >>> way.net(Decimal("2.50"))
        Fraction(12, 5)
        """
        return self.net_parcel([price])

    @cached_property
    def _corners(self) -> tuple[tuple[Fraction, Fraction], ...]:
        """Prices from 0 where the line bends, each with its net; beyond the last it is straight."""
        bounds = [Fraction(bracket.up_to) for bracket in self.commission if bracket.up_to is not None]
        for bound in (self.least, self.most):
            if bound is not None and bound > 0 and (at := _amount_with(self.commission, Fraction(bound))) is not None:
                bounds.append(at)
        prices = sorted({Fraction(0), *(price for bound in bounds if (price := self._price(bound)) > 0)})
        prices.append(prices[-1] + 1)
        return tuple((price, self._net_exact(price)) for price in prices)

    def _net_exact(self, price: Fraction) -> Fraction:
        fees = self.commission_on(price) + Fraction(self.payment_share) * self._amount(price)
        fixed = Fraction(self.fixed_fee + self.payment_fixed + self.postage + self.packing)
        return price * (1 - Fraction(self.lost)) + Fraction(self.shipping_charged) - fees - fixed

    def price_for(self, net: Decimal) -> Fraction:
        """The exact price that nets an amount; 0 if even a gift nets it. Rule C-17."""
        wanted = Fraction(net)
        corners = self._corners
        if wanted <= corners[0][1]:
            return Fraction(0)
        for (low, at_low), (high, at_high) in zip(corners, corners[1:], strict=False):
            if wanted <= at_high or high is corners[-1][0]:
                return low + (wanted - at_low) * (high - low) / (at_high - at_low)
        raise AssertionError("the last corner is taken")

    def list_price(self, net: Decimal, minor_units: int = 2) -> Decimal:
        """The least price in whole minor units whose unrounded net reaches an amount. Rule C-17."""
        scale = 10**minor_units
        return Decimal(ceil(self.price_for(net) * scale)).scaleb(-minor_units)

    def net_values(self, prices: Array) -> Array:
        """What the seller keeps at each of many prices (money, any shape), as floats for estimates."""
        at = np.array([float(price) for price, _ in self._corners])
        net = np.array([float(kept) for _, kept in self._corners])
        beyond = np.maximum(prices - at[-1], 0.0) * (net[-1] - net[-2])  # the last two corners are one apart
        return np.asarray(np.interp(prices, at, net) + beyond)


def _check_brackets(brackets: tuple[Bracket, ...]) -> list[Fault]:
    faults = []
    if not brackets or brackets[-1].up_to is not None:
        faults.append(Fault("commission", "the last bracket has no upper end"))
    bounds = [bracket.up_to for bracket in brackets[:-1]]
    if any(bound is None or bound <= 0 for bound in bounds) or bounds != sorted(set(bounds), key=lambda b: b or 0):
        faults.append(Fault("commission", "the upper ends of the brackets must rise"))
    if any(not 0 <= bracket.share < 1 for bracket in brackets):
        faults.append(Fault("commission", "each share must be from 0 to less than 1 (0.12 is 12 %)"))
    return faults


def _marginal(brackets: tuple[Bracket, ...], amount: Fraction) -> Fraction:
    taken, low = Fraction(0), Fraction(0)
    for bracket in brackets:
        high = amount if bracket.up_to is None else min(amount, Fraction(bracket.up_to))
        taken += max(high - low, Fraction(0)) * Fraction(bracket.share)
        low = high
    return taken


def _amount_with(brackets: tuple[Bracket, ...], commission: Fraction) -> Fraction | None:
    """The amount on which the brackets take a commission, None if they never take so much."""
    taken, low = Fraction(0), Fraction(0)
    for bracket in brackets:
        share = Fraction(bracket.share)
        if bracket.up_to is None:
            return low + (commission - taken) / share if share > 0 else None
        whole = (Fraction(bracket.up_to) - low) * share
        if taken + whole >= commission:
            return low + (commission - taken) / share
        taken, low = taken + whole, Fraction(bracket.up_to)
    return None
