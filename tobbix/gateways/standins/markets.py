"""A simulated market and a simulated auction house: the same offers and sales for the same days, of goods that they are
told of; they let themselves be asked only so often, answer by pages, and now and then with a fault or not in time."""

import time
from collections.abc import Callable, Sequence
from datetime import date, timedelta
from decimal import Decimal
from math import exp
from random import Random
from zlib import crc32

from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.results import Ended, Result
from tobbix.core.pricing.titles import fold_words
from tobbix.gateways.ports import Busy, NoAnswer, PriceList, PricePage

Goods = Sequence[tuple[tuple[str, ...], float | None]]  # the words of each card, and about what it goes for (home)

_PAGE, _REMEMBERED, _ASKED, _CLOSING = 12, 120, 30, 6  # results of a page; days back, of asks, and ahead
_BURST, _PER_SECOND = 20, 30.0  # questions at once, and then in a second
_FAULT, _LATE = (41, 17), (97, 60)  # of so many questions that one fails, or comes too late
_STATES = (("", 1.0, 5), ("NM", 1.0, 5), ("near mint", 1.0, 2), ("LP", 0.75, 2), ("Plumbline 9", 1.9, 1),
           ("Plumbline 10", 5.2, 1))  # fmt: skip


def _chance(*of: object) -> float:
    """The same number from 0 to 1 for the same things."""
    return crc32("|".join(map(str, of)).encode()) / 2**32


class _Source:
    """What both have in common. ``goods`` are asked for once, ``clock`` counts seconds."""

    def __init__(
        self, name: str, currency: str, per_home: float, goods: Callable[[], Goods], clock: Callable[[], float]
    ) -> None:
        self.name = name
        self._currency, self._per_home, self._clock = currency, per_home, clock
        self._tell = goods
        self._goods: list[tuple[frozenset[str], tuple[str, ...], float]] | None = None
        self._asked = 0
        self._left, self._at = float(_BURST), clock()

    def _admit(self) -> None:
        now = self._clock()
        self._left = min(self._left + (now - self._at) * _PER_SECOND, _BURST)
        self._at = now
        if self._left < 1:
            raise Busy(round((1 - self._left) / _PER_SECOND + 0.01, 2))
        self._left -= 1
        self._asked += 1
        if self._asked % _FAULT[0] == _FAULT[1]:
            raise NoAnswer("it answered with a fault of its own")
        if self._asked % _LATE[0] == _LATE[1]:
            raise NoAnswer("it did not answer in time")

    def _find(self, words: str, without: Sequence[str]) -> list[tuple[tuple[str, ...], float]]:
        if self._goods is None:
            self._goods = [
                (frozenset(fold_words(" ".join(parts))), parts,
                 exp(1.6 + 2 * (_chance(*parts) - 0.5)) if level is None else level)
                for parts, level in self._tell()
            ]  # fmt: skip
        wanted = set(fold_words(words))
        never = [set(fold_words(each)) for each in without]
        return [
            (parts, level)
            for known, parts, level in self._goods
            if wanted <= known and not any(each and each <= known for each in never)
        ]

    def _result(
        self, parts: tuple[str, ...], level: float, day: date, said: str, kind: CompKind | None, ended: Ended,
        around: float = 1.0,
    ) -> Result:  # fmt: skip
        random = Random(crc32(f"{self.name}|{parts}|{day}|{said}".encode()))
        state, multiple, _ = random.choices(_STATES, [weight for *_, weight in _STATES])[0]
        lot = 2 if random.random() < 0.03 else 1
        price = max(level * multiple * lot * around * self._per_home * random.lognormvariate(0, 0.14), 0.2)
        words = list(parts) if random.random() < 0.7 else [*parts[1:], parts[0]]
        title = " ".join(filter(None, [*words, state, "lot of 2" if lot == 2 else ""]))
        bids = random.randint(2, 19) if kind is CompKind.AUCTION or ended is Ended.RUNNING else None
        return Result(
            0, title, Decimal(f"{price:.2f}"), self._currency,
            Decimal("1.60") if random.random() < 0.8 else None, day, bids, ended, kind=kind, lot=lot, market=self.name,
            own_id=f"{said}-{crc32(' '.join(parts).encode()):08x}-{day.toordinal()}",
        )  # fmt: skip

    def _page(self, found: list[Result], page: int) -> PricePage:
        return PricePage(tuple(found[(page - 1) * _PAGE : page * _PAGE]), len(found) > page * _PAGE)

    def _past(self, goods: list[tuple[tuple[str, ...], float]], today: date, said: str, kind: CompKind) -> list[Result]:
        """What was sold by the end of yesterday, the newest first."""
        return [
            self._result(parts, level, today - timedelta(back), said, kind, Ended.SOLD)
            for back in range(1, _REMEMBERED + 1)
            for parts, level in goods
            if _chance(self.name, said, *parts, (today - timedelta(back)).toordinal()) < _pace(parts) / 30
        ]


def _pace(parts: tuple[str, ...]) -> float:
    """Sales in 30 days: most cards sell seldom."""
    return 2.5 * _chance("pace", *parts) ** 2


class SimulatedMarket(_Source):
    """What is sold at a fixed price, and what is asked for."""

    lists: tuple[PriceList, ...] = (PriceList.SOLD, PriceList.ASKS)

    def __init__(self, name: str, goods: Callable[[], Goods], clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__(name, "EUR", 1.0, goods, clock)

    def ask(self, which: PriceList, words: str, without: Sequence[str], page: int, today: date) -> PricePage:
        self._admit()
        goods = self._find(words, without)
        if which is PriceList.SOLD:
            return self._page(self._past(goods, today, "s", CompKind.SOLD), page)
        asks = [
            self._result(parts, level, today - timedelta(back), "a", None, Ended.OPEN, 1.2)
            for back in range(_ASKED)
            for parts, level in goods
            if _chance(self.name, "ask", *parts, (today - timedelta(back)).toordinal()) < 0.04
        ]
        return self._page(asks, page)


class SimulatedAuctions(_Source):
    """Lots that close soon, in another currency, and their results."""

    lists: tuple[PriceList, ...] = (PriceList.RESULTS, PriceList.CLOSING)

    def __init__(self, name: str, goods: Callable[[], Goods], clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__(name, "GBP", 0.86, goods, clock)

    def ask(self, which: PriceList, words: str, without: Sequence[str], page: int, today: date) -> PricePage:
        self._admit()
        goods = self._find(words, without)
        if which is PriceList.RESULTS:
            return self._page(self._past(goods, today, "r", CompKind.AUCTION), page)
        lots = [
            self._result(parts, level, today + timedelta(ahead), "l", None, Ended.RUNNING, 0.6)
            for ahead in range(1, _CLOSING + 1)
            for parts, level in goods
            if _chance(self.name, "lot", *parts, (today + timedelta(ahead)).toordinal()) < 0.05
        ]
        return self._page(lots, page)
