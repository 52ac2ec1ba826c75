"""What was seen of prices, brought to one measure: all-in, in the home currency, with what was assumed (Rule C-18)."""

from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from statistics import median

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.pricing.comps import CompKind


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
    """One price that was seen of a version in a ``state``: a raw condition, or "Grader:grade" (None: not said).

    ``shipping`` and ``tax`` are None where they are not known; ``lot`` copies went together. Money in ``currency``.
    """

    id: str
    kind: CompKind
    on: date
    price: Decimal
    currency: str
    card: CardKey
    state: str | None = None
    shipping: Decimal | None = None
    tax: Decimal | None = None
    subject: str | None = None
    subgrades: str | None = None
    market: str | None = None
    bids: int | None = None
    photo: str | None = None
    lot: int = 1
    note: str | None = None


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
        if seen.currency == rates.home:
            factors[seen.id] = Decimal(1)
            continue
        found = rates.find(seen.currency, seen.on)
        if found is None:
            faults.append(Fault("currency", f"{seen.id}: there is no rate of {seen.currency}"))
            continue
        rate, day = found
        factors[seen.id] = rate
        if day > seen.on:
            assumed[f"{seen.currency} of {seen.on.isoformat()} at the first rate after it, of {day.isoformat()}"] = None
    if faults:
        raise InputError(faults)
    known = [(seen.market, seen.shipping * factors[seen.id]) for seen in chosen if seen.shipping is not None]
    of_market: dict[str | None, list[Decimal]] = {}
    for market, shipping in known:
        of_market.setdefault(market, []).append(shipping)
    usual = {market: median(amounts) for market, amounts in of_market.items()}
    of_all = median([shipping for _, shipping in known]) if known else Decimal(0)

    def all_in(seen: Observation) -> AllIn:
        shipping = None if seen.shipping is None else seen.shipping * factors[seen.id]
        if shipping is None:
            shipping = usual.get(seen.market, of_all) if seen.market is not None else of_all
            whose = f"{seen.market}’s usual" if seen.market in usual and seen.market is not None else "the usual"
            assumed[f"{seen.id}: shipping not known, {whose} {float(shipping):.2f}"] = None
        if seen.tax is None:
            assumed[f"{seen.id}: tax not known, none"] = None
        tax = Decimal(0) if seen.tax is None else seen.tax
        return AllIn(seen, float((seen.price + tax) * factors[seen.id] + shipping))

    return [all_in(seen) for seen in chosen], [all_in(seen) for seen in others], tuple(assumed)


def cards_of(observations: Iterable[Observation]) -> list[CardKey]:
    """The versions that observations are of, each once, in their order."""
    return list(dict.fromkeys(seen.card for seen in observations))
