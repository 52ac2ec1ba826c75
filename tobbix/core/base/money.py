"""Money that happened, exact; and the one place where an estimate becomes money."""

import re
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

# ISO 4217 minor units that differ from two. From memory.
_MINOR_UNITS = {"JPY": 0, "KRW": 0, "ISK": 0, "CLP": 0, "VND": 0, "BHD": 3, "KWD": 3, "TND": 3, "OMR": 3, "JOD": 3}
_CODE = re.compile(r"[A-Z]{3}")


def minor_units(currency: str) -> int:
    """Decimals of a currency's minor unit (ISO 4217). Raises ValueError for what is not a code."""
    if not _CODE.fullmatch(currency):
        raise ValueError(f"{currency!r} is not a currency code of three capital letters")
    return _MINOR_UNITS.get(currency, 2)


@dataclass(frozen=True, slots=True)
class Money:
    """An exact amount in a currency. Added and subtracted only to its like.

    >>> str(Money.of("1.10", "EUR") + Money.of("2", "EUR"))
    '3.10 EUR'
    """

    amount: Decimal
    currency: str

    def __post_init__(self) -> None:
        units = minor_units(self.currency)
        if not self.amount.is_finite() or self.amount != self.amount.quantize(Decimal(1).scaleb(-units)):
            raise ValueError(f"{self.amount} is not a whole number of {self.currency} minor units")

    @classmethod
    def of(cls, text: str, currency: str) -> "Money":
        """Money from its decimal text; refuses parts of a minor unit."""
        return cls(Decimal(text), currency)

    @classmethod
    def from_estimate(cls, value: float, currency: str) -> "Money":
        """The one rounding of an estimate into money: half up, to the minor unit."""
        step = Decimal(1).scaleb(-minor_units(currency))
        # repr gives the shortest decimal that is this float, so 7.385 rounds as a person reads it.
        return cls(Decimal(repr(value)).quantize(step, rounding=ROUND_HALF_UP), currency)

    def __add__(self, other: "Money") -> "Money":
        self._same(other)
        return Money(self.amount + other.amount, self.currency)

    def __sub__(self, other: "Money") -> "Money":
        self._same(other)
        return Money(self.amount - other.amount, self.currency)

    def _same(self, other: "Money") -> None:
        if self.currency != other.currency:
            raise ValueError(f"{self.currency} and {other.currency} cannot be added without a rate")

    def __str__(self) -> str:
        return f"{self.amount:.{minor_units(self.currency)}f} {self.currency}"
