"""What a version in a state is worth by what was seen of it, with its spread and its trend (Rule C-18).

Example: 31, 34, 29, 36, 33, 35, 30, 38, 32, 118: only 118 is flagged; the median is 33.00 without it, and its exact
96.1 % interval is the 2nd to the 8th of nine.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray
from scipy import special

from tobbix.core.base.errors import InputError
from tobbix.core.maths.severity import Array
from tobbix.core.maths.trends import theil_sen
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.observing import AllIn, CardKey, Observation, Rates, bring_home

SALES = (CompKind.SOLD, CompKind.AUCTION, CompKind.OWN)
WINDOW, HALF_LIFE, THIN, STALE = 90, 60.0, 3, 180
LEAST_FLAGGED, FAR, _CONFIDENCE = 5, 3.5, 0.95
_TREND_SALES, _TREND_DAYS = 5, 3
_TIE = 1e-12
_NO_SALE = {
    CompKind.ASK: "an ask, not a sale",
    CompKind.BOOK_LOW: "a book price, not a sale",
    CompKind.BOOK_HIGH: "a book price, not a sale",
}


@dataclass(frozen=True, slots=True)
class Choice:
    """Which sales count: of a version (None: all are of one) in a ``state`` as of a day, how old at most (days), of
    which kinds; the half-life of a sale's weight (days). The owner may ``keep`` what is flagged, or ``drop`` any. Of
    graded copies only those with certain ``subgrades`` may count (None: all)."""

    state: str
    on: date
    card: CardKey | None = None
    window: int = WINDOW
    kinds: tuple[CompKind, ...] = SALES
    half_life: float = HALF_LIFE
    keep: frozenset[str] = frozenset()
    drop: frozenset[str] = frozenset()
    subgrades: frozenset[str] | None = None


@dataclass(frozen=True, slots=True)
class Interval:
    """An interval with its confidence (money)."""

    low: float
    high: float
    confidence: float


@dataclass(frozen=True, slots=True)
class Trend:
    """The change of the price per 30 days (share of 1) with its 95 %, and where it starts and ends (day, money);
    ``starts_at_extreme``: the first is the highest or lowest of all, so that the plain change misleads."""

    per_30_days: float
    low: float
    high: float
    start: tuple[date, float]
    end: tuple[date, float]
    starts_at_extreme: bool


@dataclass(frozen=True, slots=True)
class Ask:
    """The lowest open ask of a market in a state, all-in (money), and how many there are."""

    market: str | None
    state: str | None
    lowest: float
    count: int


@dataclass(frozen=True, slots=True)
class Estimate:
    """What a version in a state is worth, by so many sales ``used`` (money at home; None where nothing was seen).
    ``counted`` are the sales that speak, brought home; ``beside`` those that are flagged, the asks and book prices."""

    state: str
    used: int
    flagged: tuple[str, ...]
    left_out: tuple[tuple[str, str], ...]
    assumed: tuple[str, ...]
    estimate: float | None
    last: float | None
    mean: float | None
    median: float | None
    low: float | None
    high: float | None
    interval: Interval | None
    trend: Trend | None
    sales_per_30_days: float
    days_since_last: int | None
    lowest_ask: float | None
    lowest_ask_state: str | None
    asks: tuple[Ask, ...]
    book: tuple[float | None, float | None] | None
    counted: tuple[AllIn, ...] = ()
    beside: tuple[AllIn, ...] = ()

    @property
    def offers(self) -> int:
        """How many ask for it in this state now."""
        return sum(ask.count for ask in self.asks if ask.state == self.state)

    @property
    def months_of_supply(self) -> float | None:
        """For how many months what is asked for lasts at this pace; None where nothing sells."""
        return self.offers / self.sales_per_30_days if self.sales_per_30_days > 0 else None

    @property
    def thin(self) -> bool:
        """Whether fewer than three sales speak."""
        return self.used < THIN

    @property
    def stale(self) -> bool:
        """Whether the last sale is over half a year old, or there is none to go by."""
        return self.used == 0 or self.days_since_last is None or self.days_since_last > STALE


@dataclass(frozen=True, slots=True)
class Highest:
    """The most that was ever paid for a card in a state, all-in at home (money), and when."""

    amount: float
    day: date


def highest_paid(seen: Sequence[Observation], state: str, aside: Collection[str], rates: Rates) -> Highest | None:
    """The most that was ever paid for one copy in a state, but for what stands ``aside``; unknown shipping counts as
    usual. None if no sale was seen. Rule C-18."""
    sales = [
        it
        for it in seen
        if it.comp.kind in SALES and it.comp.state == state and it.comp.lot == 1 and it.id not in aside
    ]
    top = max(bring_home(sales, [], rates)[0], key=lambda it: it.amount, default=None)
    return None if top is None else Highest(top.amount, top.seen.comp.day)


def weighted_median(values: Array, weights: Array) -> float:
    """The least value with half of the weight at or under it; on a tie the middle of it and the next. Rule C-18.

    >>> weighted_median(np.array([1.0, 2.0, 4.0]), np.array([1.0, 1.0, 2.0]))
    3.0
    """
    order = np.argsort(values, kind="stable")
    values, reached = values[order], np.cumsum(weights[order])
    half = reached[-1] / 2
    at = int(np.searchsorted(reached, half * (1 - _TIE)))
    if at + 1 < values.size and abs(reached[at] - half) <= half * _TIE:
        return float((values[at] + values[at + 1]) / 2)
    return float(values[at])


def flag_outliers(values: Array) -> NDArray[np.bool_]:
    """Which of some prices (money, shape (n,)) lie far from the others: the modified z-score of their logs passes 3.5
    (Iglewicz and Hoaglin 1993). None of fewer than five. Rule C-18."""
    if values.size < LEAST_FLAGGED:
        return np.zeros(values.size, bool)
    off = np.log(values) - np.median(np.log(values))
    spread = float(np.median(np.abs(off))) / 0.6745
    if spread == 0:
        spread = 1.2533 * float(np.mean(np.abs(off)))
    return np.abs(off) > FAR * spread if spread > 0 else np.zeros(values.size, bool)


def median_interval(values: Array, confidence: float = _CONFIDENCE) -> Interval:
    """The interval of the plain median from order statistics: the innermost ranks k and n + 1 - k that hold it with at
    least ``confidence``, else the lowest and highest with theirs (Conover, *Practical Nonparametric Statistics*).
    Rule C-18."""
    ordered, count = np.sort(values), values.size
    k = rank_of_median(count, confidence)
    return Interval(float(ordered[k - 1]), float(ordered[count - k]), _holds(count, k))


def rank_of_median(count: int, confidence: float) -> int:
    """The innermost rank k so that the k-th and the k-th last of so many hold the median with that confidence; 1 if no
    rank does. Rule C-18."""
    k = max(int((count - float(special.ndtri((1 + confidence) / 2)) * count**0.5) / 2), 1)  # near it
    while k > 1 and _holds(count, k) < confidence:
        k -= 1
    while 2 * (k + 1) <= count + 1 and _holds(count, k + 1) >= confidence:
        k += 1
    return k


def _holds(count: int, k: int) -> float:
    """The chance that the median lies between the k-th and the k-th last of so many."""
    return 1 - 2 * float(special.bdtr(k - 1, count, 0.5))


def find_trend(days: Sequence[date], prices: Array) -> Trend | None:
    """Theil and Sen's slope of the log price with its 95 % (Sen 1968), per 30 days. Rule C-18.

    ``days`` and ``prices`` (money) in the order in which they were seen. None for fewer than five sales, or on fewer
    than three days, or where so many are alike that its interval cannot be told.
    """
    if len(days) < _TREND_SALES or len(set(days)) < _TREND_DAYS:
        return None
    at = np.array([day.toordinal() for day in days], float)
    first, last = int(np.argmin(at)), len(days) - 1 - int(np.argmax(at[::-1]))
    change, low, high = (float(np.exp(30 * slope) - 1) for slope in theil_sen(at, np.log(prices)))
    if np.isnan(low) or np.isnan(high):
        return None
    start = float(prices[first])
    return Trend(
        change, low, high, (days[first], start), (days[last], float(prices[last])),
        start in (float(prices.min()), float(prices.max())),
    )  # fmt: skip


def why_not(seen: Observation, choice: Choice) -> str | None:
    """Why an observation is not in a choice; None if it is. Rule C-18."""
    age = (choice.on - seen.comp.day).days
    if choice.card is not None and seen.card != choice.card:
        return "of another version"
    if seen.comp.kind not in choice.kinds:
        return _NO_SALE.get(seen.comp.kind, "not of the kinds that count")
    if seen.comp.state != choice.state:
        return "its state is not known" if seen.comp.state is None else f"in another state: {seen.comp.state}"
    if choice.subgrades is not None and seen.comp.subgrades not in choice.subgrades:
        return f"with other subgrades: {seen.comp.subgrades or 'not said'}"
    if seen.comp.lot != 1:
        return f"a lot of {seen.comp.lot}"
    if age < 0:
        return "after the day that is asked for"
    if age > choice.window:
        return f"{age} days old"
    return "left out by the owner" if seen.id in choice.drop else None


def estimate_value(observations: Sequence[Observation], choice: Choice, rates: Rates) -> Estimate:
    """What a version in a state is worth as of a day by all that was seen of it. Rule C-18.

    Raises InputError for a window or half-life that cannot be, observations of several versions where none is named,
    and a currency without a rate.
    """
    if choice.window < 1 or not choice.half_life > 0:
        raise InputError.at("window" if choice.window < 1 else "half_life", "must be more than 0")
    if choice.card is None and len({seen.card for seen in observations}) > 1:
        raise InputError.at("version", "these are sales of several versions; name one as release/line/number[/variant]")
    reasons = [(seen, why_not(seen, choice)) for seen in observations]
    chosen = [seen for seen, why in reasons if why is None]
    of_card = [seen for seen in observations if choice.card is None or seen.card == choice.card]
    in_window = [seen for seen in of_card if 0 <= (choice.on - seen.comp.day).days <= choice.window]
    asks = [seen for seen in in_window if seen.comp.kind is CompKind.ASK]
    same = [seen for seen in of_card if seen.comp.state == choice.state and seen.comp.day <= choice.on]
    books = [seen for seen in same if seen.comp.kind in (CompKind.BOOK_LOW, CompKind.BOOK_HIGH)]
    found, others, assumed = bring_home(chosen, [*asks, *books], rates)
    values = np.array([item.amount for item in found])
    far = flag_outliers(values) & np.array([item.seen.id not in choice.keep for item in found], bool)
    used = [item for item, is_far in zip(found, far, strict=True) if not is_far]
    ages = [(choice.on - s.comp.day).days for s in same if s.comp.kind in choice.kinds and s.comp.lot == 1]
    by_market = _lowest_asks([item for item in others if item.seen.comp.kind is CompKind.ASK])
    lowest = min(by_market, key=lambda ask: ask.lowest, default=None)
    more = _figures(used, choice)
    return Estimate(
        choice.state,
        len(used),
        tuple(item.seen.id for item, is_far in zip(found, far, strict=True) if is_far),
        tuple((seen.id, why) for seen, why in reasons if why is not None),
        assumed,
        *more,
        30 * len(found) / choice.window,
        min(ages, default=None),
        None if lowest is None else lowest.lowest,
        None if lowest is None else lowest.state,
        by_market,
        _book([item for item in others if item.seen.comp.kind is not CompKind.ASK]),
        tuple(used),
        (*(item for item, is_far in zip(found, far, strict=True) if is_far), *others),
    )


_Figures = tuple[
    float | None, float | None, float | None, float | None, float | None, float | None, Interval | None, Trend | None
]


def _figures(used: Sequence[AllIn], choice: Choice) -> _Figures:
    """Estimate, last, mean, median, low, high, interval and trend of what is not flagged."""
    if not used:
        return (None,) * 8
    values = np.array([item.amount for item in used])
    days = [item.seen.comp.day for item in used]
    weights = 2.0 ** (-np.array([(choice.on - day).days for day in days]) / choice.half_life)
    newest = len(days) - 1 - int(np.argmax([day.toordinal() for day in reversed(days)]))
    return (
        weighted_median(values, weights), float(values[newest]), float(values.mean()), float(np.median(values)),
        float(values.min()), float(values.max()), median_interval(values), find_trend(days, values),
    )  # fmt: skip


def _lowest_asks(asks: Sequence[AllIn]) -> tuple[Ask, ...]:
    found: dict[tuple[str | None, str | None], list[float]] = {}
    for item in asks:
        found.setdefault((item.seen.comp.market, item.seen.comp.state), []).append(item.amount)
    return tuple(Ask(market, state, min(amounts), len(amounts)) for (market, state), amounts in found.items())


def _book(books: Sequence[AllIn]) -> tuple[float | None, float | None] | None:
    """The newest low and high of the book, None if there is neither."""
    newest: dict[CompKind, AllIn] = {}
    for item in books:
        if item.seen.comp.kind not in newest or item.seen.comp.day >= newest[item.seen.comp.kind].seen.comp.day:
            newest[item.seen.comp.kind] = item
    low, high = newest.get(CompKind.BOOK_LOW), newest.get(CompKind.BOOK_HIGH)
    return None if not newest else (None if low is None else low.amount, None if high is None else high.amount)
