"""Money that happened, exact; and the one place where an estimate becomes money."""

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from functools import cache

from babel import Locale
from babel.numbers import get_currency_precision


@cache
def minor_units(currency: str) -> int:
    """Decimals of a currency's minor unit (ISO 4217, as babel's data have them). Raises ValueError for no code."""
    if currency not in Locale("en").currencies:
        raise ValueError(f"{currency!r} is not a currency code of three capital letters")
    return get_currency_precision(currency)


def in_digits(amount: Decimal | None, currency: str) -> str:
    """An exact amount with the digits of its currency, for a file; nothing for what is not known.

    >>> in_digits(Decimal("1200"), "JPY"), in_digits(Decimal("6"), "EUR")
    ('1200', '6.00')
    """
    return "" if amount is None else f"{amount:.{minor_units(currency)}f}"


def in_figures(amount: Decimal | None, currency: str) -> Decimal | None:
    """An exact amount with the digits of its currency, as a figure for a table.

    >>> str(in_figures(Decimal("-6"), "EUR")), in_figures(None, "EUR")
    ('-6.00', None)
    """
    return None if amount is None else amount.quantize(Decimal(1).scaleb(-minor_units(currency)))


def currency_codes() -> list[tuple[str, str]]:
    """Codes of currencies in use, with their English names, by name."""
    return sorted(
        ((code, name) for code, name in Locale("en").currencies.items() if not name.endswith(")")), key=lambda c: c[1]
    )


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
