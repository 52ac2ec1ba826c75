"""A simulated market and auction house: listings find buyers the sooner the less they ask, orders arrive, now and then
a buyer complains; it pays out a week later, does not answer at times, and says some things twice. The same listing
always fares alike."""

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from random import Random

from tobbix.gateways.ports import ListingSent, MarketNews, NewsKind, NoAnswer

_FAILS, _COMPLAINS, _TWICE = 0.1, 0.06, 0.1
_BUYERS = (
    ("Tove Maribel", "Slip Lane 4", "Saltby"), ("Joris Kettleby", "Ropewalk 11", "Marrow Quay"),
    ("Edda Sorrel", "Upper Chandlery 2", "Wick Haven"), ("Piet Ashgrove", "Cooper's Yard 9", "Linnet Bay"),
)  # fmt: skip


class SimulatedMarketplace:
    """A place that sells, by its name; ``keeps`` is what it takes of a price (share), ``pace`` how many days a thing at
    its value takes. ``chance`` decides whether it answers, for tests to make it reliable."""

    def __init__(
        self, name: str, keeps: Decimal = Decimal("0.11"), pace: float = 12, chance: Callable[[], float] | None = None
    ) -> None:
        self.name, self._keeps, self._pace = name, keeps, pace
        self._chance = chance or Random(name).random

    def _answer(self) -> None:
        if self._chance() < _FAILS:
            raise NoAnswer(f"{self.name} did not answer in time")

    def put_up(self, it: ListingSent, on: date) -> str:
        """Put a listing up; its own number for it, the same if it is asked twice."""
        self._answer()
        return f"{self.name[:1].upper()}L{Random(f'{self.name} {it.number} {it.listed_on}').randrange(10**6, 10**7)}"

    def withdraw(self, reference: str) -> None:
        """Take a listing off."""
        self._answer()

    def news(self, listed: Sequence[tuple[str, ListingSent]], on: date) -> Sequence[MarketNews]:
        """What became of listings, as of a day, the oldest first."""
        self._answer()
        found = [it for reference, sent in listed for it in self._became(reference, sent) if it.day <= on]
        twice = [it for it in found if Random(f"{it.reference} {it.kind}").random() < _TWICE]
        return sorted([*found, *twice], key=lambda it: it.day)

    def _became(self, reference: str, sent: ListingSent) -> list[MarketNews]:
        random = Random(reference)
        asked = float(sent.price)
        value = asked if sent.expects is None else float(sent.expects)
        if sent.is_auction:
            closed = sent.ends_on or sent.listed_on + timedelta(7)
            price = _cents(max(Decimal(repr(value * random.lognormvariate(-0.05, 0.2))), Decimal("0.01")))
            if price < sent.price:
                return [MarketNews(NewsKind.ENDED, closed, reference, words="nobody bid enough")]
            day = closed
        else:
            ratio = asked / value if value > 0 else 1.0
            day = sent.listed_on + timedelta(1 + int(random.expovariate(1 / self._pace) * ratio**4))
            price = sent.price
        name, street, town = random.choice(_BUYERS)
        order, shipping = f"{self.name[:1].upper()}-{random.randrange(10_000, 100_000)}", Decimal("1.60")
        fees = _cents((price + shipping) * self._keeps)
        news = [
            MarketNews(NewsKind.SOLD, day, reference, order, price, shipping, fees, name, f"{name}\n{street}\n{town}")
        ]
        there = day + timedelta(random.randint(3, 9))
        if random.random() < _COMPLAINS:
            news.append(MarketNews(NewsKind.COMPLAINT, there, reference, order, words="a corner is softer than shown"))
        else:
            news.append(MarketNews(NewsKind.ARRIVED, there, reference, order))
        paid = day + timedelta(7 - day.weekday() + 7)  # the second Monday after it
        news.append(MarketNews(NewsKind.PAID, paid, reference, order, price + shipping - fees))
        return news


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"), ROUND_HALF_UP)
