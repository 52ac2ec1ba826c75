"""Dividing a cost over things, exactly (Rule C-15).

Shares are whole minor units and always add up to the total: each gets its exact part rounded down, and the units that
are left go to the largest remainders, compared as fractions, ties by order (Hamilton's method).

Example: 100.00 over values 12, 7, 7, 3, 1 is 40.00, 23.34, 23.33, 10.00, 3.33.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from math import lcm

from tobbix.core.base.errors import Fault, InputError


class Method(StrEnum):
    """How a cost is divided."""

    VALUE = "value"
    EQUAL = "equal"
    COUNT = "count"
    HAND = "hand"
    RESIDUAL = "residual"


@dataclass(frozen=True, slots=True)
class Part:
    """A thing that carries a part of a cost.

    ``value`` of all of it (money, None if unknown), ``count`` how many with what weight, ``fixed`` a part given by hand
    (money). A ``gift`` carries nothing.
    """

    name: str
    value: Decimal | None = None
    count: Decimal = Decimal(1)
    fixed: Decimal | None = None
    gift: bool = False


def share_out(total: Decimal, weights: Sequence[Fraction], minor_units: int) -> tuple[Decimal, ...]:
    """A total (money, may be negative) by weights >= 0 that are not all 0. Rule C-15.

    >>> [str(part) for part in share_out(Decimal("1.00"), [Fraction(1)] * 3, 2)]
    ['0.34', '0.33', '0.33']
    """
    if not any(weights) or min(weights) < 0:
        raise ValueError("weights must not be negative, nor all of them 0")
    units = int(abs(total).scaleb(minor_units))
    common = lcm(*(weight.denominator for weight in weights))  # as whole numbers they are as exact, and much quicker
    parts = [weight.numerator * (common // weight.denominator) for weight in weights]
    all_of_them = sum(parts)
    floors, rests = map(list, zip(*(divmod(units * part, all_of_them) for part in parts), strict=True))
    by_remainder = sorted(range(len(parts)), key=lambda i: (-rests[i], i))
    for index in by_remainder[: units - sum(floors)]:
        floors[index] += 1
    sign = -1 if total < 0 else 1
    return tuple(sign * Decimal(floor).scaleb(-minor_units) for floor in floors)


def share_as_said(
    total: Decimal, parts: Mapping[int, Decimal], whole: Decimal, field: str, minor_units: int
) -> dict[int, Decimal]:
    """A total (money at home) over things as their ``parts`` of the ``whole`` say (both in one currency). Rule C-15.

    Raises InputError at the ``field`` for parts that are negative or do not add up.
    """
    if any(part < 0 for part in parts.values()) or sum(parts.values(), Decimal(0)) != whole or not whole:
        raise InputError.at(field, f"must not be negative, and add up to the {whole} in all")
    return dict(zip(parts, share_out(total, [Fraction(part) for part in parts.values()], minor_units), strict=True))


def share_out_by_count(total: Decimal, counts: Sequence[int], minor_units: int) -> tuple[Decimal, ...]:
    """A total (money) over parts of a stack, by how many each has. Rule C-15."""
    return share_out(total, [Fraction(count) for count in counts], minor_units)


def divide(total: Decimal, parts: Sequence[Part], method: Method, minor_units: int = 2) -> tuple[Decimal, ...]:
    """Divide a landed cost (money) over what was bought. Rule C-15.

    Raises InputError naming the part: an unknown value where values decide, parts by hand that do not add up, a
    residual that is not there, nothing that could carry the cost.
    """
    if not parts:
        raise InputError.at("things", "there is nothing to carry the cost")
    carriers = [i for i, part in enumerate(parts) if not part.gift]
    if not carriers:
        raise InputError.at("things", "gifts carry no cost, and there is nothing else")
    shares = [Decimal(0)] * len(parts)
    fixed = [i for i in carriers if parts[i].fixed is not None]
    if method in (Method.HAND, Method.RESIDUAL):
        faults = [
            Fault(f"things[{i}].fixed", f"{parts[i].name}: must not be negative, with at most {minor_units} decimals")
            for i in fixed
            if not _is_money(parts[i].fixed, minor_units)
        ]
        if faults:
            raise InputError(faults)
        for i in fixed:
            shares[i] = parts[i].fixed or Decimal(0)
        rest = total - sum(shares)
        if method is Method.HAND:
            open_parts = [i for i in carriers if parts[i].fixed is None]
            if open_parts:
                raise InputError(Fault(f"things[{i}].fixed", f"{parts[i].name}: give its part") for i in open_parts)
            if rest != 0:
                raise InputError.at("things", f"the parts given by hand are {rest:+} off the cost of {total}")
            return tuple(shares)
        carriers = [i for i in carriers if parts[i].fixed is None]
        if rest < 0:
            raise InputError.at("things", f"the parts given by hand pass the cost of {total} by {-rest}")
        if rest == 0:  # what is left carries nothing, whatever it is worth
            return tuple(shares)
        if not carriers:
            raise InputError.at("things", f"nothing is left to carry {rest}")
        total = rest
    weights = _weights([parts[i] for i in carriers], carriers, method)
    for i, share in zip(carriers, share_out(total, weights, minor_units), strict=True):
        shares[i] = share
    return tuple(shares)


def _is_money(amount: Decimal | None, minor_units: int) -> bool:
    return amount is not None and amount >= 0 and amount == round(amount, minor_units)


def _weights(parts: Sequence[Part], places: Sequence[int], method: Method) -> list[Fraction]:
    if method is Method.EQUAL:
        return [Fraction(1)] * len(parts)
    if method is Method.COUNT:
        return [Fraction(part.count) for part in parts]
    unknown = [(place, part) for place, part in zip(places, parts, strict=True) if part.value is None]
    if unknown:
        raise InputError(
            Fault(f"things[{place}].value", f"{part.name}: its value is not known; give one, or divide by count")
            for place, part in unknown
        )
    if not any(part.value for part in parts):
        raise InputError.at("things", "all values are 0; divide equally or by count")
    return [Fraction(part.value or 0) for part in parts]
