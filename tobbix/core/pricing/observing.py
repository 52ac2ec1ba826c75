"""What was seen of prices, brought to one measure: all-in, in the home currency, with what was assumed (Rule C-18)."""

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from statistics import median

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.pricing.comps import Comp


@dataclass(frozen=True, slots=True)
class CardKey:
    """A version: release, line, number and variant (empty by default)."""

    release: str
    line: str
    number: str
    variant: str = ""

    def __str__(self) -> str:
        return "/".join(filter(None, (self.release, self.line, self.number, self.variant)))


@dataclass(frozen=True, slots=True)
class Observation:
    """A price that was seen of a version, by its ``id``."""

    id: str
    card: CardKey
    comp: Comp
    subject: str | None = None


@dataclass(frozen=True)
class Rates:
    """Rates of the day into the ``home`` currency: (currency, day, home units each), in any order."""

    home: str
    rates: Sequence[tuple[str, date, Decimal]] = ()
    _by_currency: Mapping[str, list[tuple[date, Decimal]]] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        found: dict[str, list[tuple[date, Decimal]]] = {}
        for currency, on, rate in self.rates:
            found.setdefault(currency, []).append((on, rate))
        object.__setattr__(self, "_by_currency", {currency: sorted(days) for currency, days in found.items()})

    def find(self, currency: str, on: date) -> tuple[Decimal, date] | None:
        """The latest rate on or before a day, else the first after it, with its day; None if there is none at all."""
        days = self._by_currency.get(currency)
        if not days:
            return None
        at = bisect_right([day for day, _ in days], on)
        day, rate = days[max(at - 1, 0)]
        return rate, day


@dataclass(frozen=True, slots=True)
class AllIn:
    """An observation at home: ``amount`` with shipping and tax, of which ``shipping`` is known or assumed (money)."""

    seen: Observation
    amount: float


def bring_home(
    chosen: Sequence[Observation], others: Sequence[Observation], rates: Rates
) -> tuple[list[AllIn], list[AllIn], tuple[str, ...]]:
    """Observations that are chosen, and others, all-in and in the home currency, and what was assumed. Rule C-18.

    Unknown shipping counts as the median known one of the same market in the choice, else of the choice, else 0;
    unknown tax as 0. Raises InputError for a currency without a rate.
    """
    assumed: dict[str, None] = {}
    faults: list[Fault] = []
    factors: dict[str, Decimal] = {}
    for seen in (*chosen, *others):
        currency, on = seen.comp.currency, seen.comp.day
        found = (Decimal(1), on) if currency == rates.home else rates.find(currency, on)
        if found is None:
            faults.append(Fault("currency", f"{seen.id}: there is no rate of {currency}"))
            continue
        factors[seen.id], day = found
        if day > on:
            assumed[f"{currency} of {on.isoformat()} at the first rate after it, of {day.isoformat()}"] = None
    if faults:
        raise InputError(faults)
    of_market: dict[str | None, list[Decimal]] = {}
    for seen in chosen:
        if seen.comp.shipping is not None:
            of_market.setdefault(seen.comp.market, []).append(seen.comp.shipping * factors[seen.id])
    usual = {market: median(amounts) for market, amounts in of_market.items() if market is not None}
    known = [amount for amounts in of_market.values() for amount in amounts]
    of_all = median(known) if known else Decimal(0)

    def all_in(seen: Observation) -> AllIn:
        comp, factor = seen.comp, factors[seen.id]
        if comp.shipping is None:
            shipping = usual.get(comp.market or "", of_all)
            whose = f"{comp.market}’s usual" if comp.market in usual else "the usual"
            assumed[f"{seen.id}: shipping not known, {whose} {float(shipping):.2f}"] = None
        else:
            shipping = comp.shipping * factor
        if comp.tax is None:
            assumed[f"{seen.id}: tax not known, none"] = None
        return AllIn(seen, float((comp.price + (comp.tax or 0)) * factor + shipping))

    return [all_in(seen) for seen in chosen], [all_in(seen) for seen in others], tuple(assumed)
