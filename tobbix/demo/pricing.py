"""What the demo's collector saw of prices: two years of sales of 400 versions, some thin, some old, some far off; what
graders had counted; words of titles that she explained."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from random import Random

from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.ladder import Population
from tobbix.core.pricing.titles import Means
from tobbix.core.products.finding import FoundCard
from tobbix.services.pricing import adding, pasting
from tobbix.services.products.catalogue import Catalogue

SEED = 20_261_127
_VERSIONS, _DAYS = 400, 730
_GRADES = {"10": 5.2, "9": 1.9, "8": 1.25, "7": 1.0}
_SUBGRADES = (("9.5/9.5/9.5/9", 2.0), ("9.5/9.5/9/9.5", 2.1), ("10/9.5/9.5/9.5", 2.7), ("10/10/9.5/9.5", 3.2))
_DEAR = 13.0  # money: from here on graded copies sell, too
_MARKETS = (("Bellbuoy", "EUR", CompKind.SOLD, "1.60"), ("Gavelrock", "GBP", CompKind.AUCTION, "4.90"),
            ("Swapslip", "EUR", CompKind.SOLD, "1.30"))  # fmt: skip


def load_prices(catalogue: Catalogue, cards: Sequence[FoundCard]) -> dict[FoundCard, float]:
    """Load what was seen of 400 of some cards; about what each of those goes for (money)."""
    random, today = Random(SEED), catalogue.today()
    chosen = random.sample(list(cards), min(_VERSIONS, len(cards)))
    comps: list[tuple[int, Comp]] = []
    counted: list[tuple[int, Population]] = []
    levels: dict[FoundCard, float] = {}
    for at, card in enumerate(chosen):
        level = levels[card] = random.lognormvariate(1.6, 1.1)
        comps += [(card.version, comp) for comp in _sales(random, card, level, at, today)]
        if at % 3 == 0:
            counted += [(card.version, item) for item in _populations(random, today)]
    adding.bring_in(catalogue, "two years of looking", comps, counted)
    pasting.teach(catalogue, "blank reverse", Means.VARIANT, "blank back", None)
    pasting.teach(catalogue, "scanned print", Means.NO_CARD, "", None)
    return levels


def _sales(random: Random, card: FoundCard, level: float, at: int, today: date) -> list[Comp]:
    """The sales of a card: every eighth is thin, every eighth stale; one in twenty has a sale far off."""
    drift = random.gauss(0, 0.15) / 365
    kind_of = at % 8
    count = random.randint(1, 2) if kind_of == 0 else random.randint(4, 40)
    youngest = 200 if kind_of == 1 else 0
    found = []
    for _ in range(count):
        age = random.randint(youngest, _DAYS)
        if kind_of > 1 and random.random() < 0.5:
            age = random.randint(0, 90)
        found.append(_sale(random, card, level * (1 - drift * age), age, today))
    if at % 20 == 5:
        found.append(_sale(random, card, level * random.choice([3.5, 4.5, 6.0]), random.randint(0, 80), today))
    if at % 5 == 2:
        found += [
            _sale(random, card, level * multiple * random.lognormvariate(0, 0.15), random.randint(0, 150), today, grade)
            for grade, multiple in _GRADES.items()
            for _ in range(random.randint(0, 4))
        ]
        found += _by_subgrades(Random(SEED + at), card, level, today)
    if level > _DEAR and at % 5 != 2:
        apart = Random(SEED * 7 + at)  # so that all else stays as it was
        found += [
            _sale(apart, card, level * multiple * apart.lognormvariate(0, 0.12), apart.randint(0, 120), today, grade)
            for grade, multiple in _GRADES.items()
            for _ in range(apart.randint(2, 4))
        ]
    if at % 4 == 0:
        found.append(_sale(random, card, level * random.uniform(1.05, 1.4), random.randint(0, 20), today, ask=True))
    return found


def _sale(
    random: Random, card: FoundCard, level: float, age: int, today: date, grade: str | None = None, ask: bool = False
) -> Comp:
    market, currency, kind, post = random.choice(_MARKETS)
    price = max(level * random.lognormvariate(0, 0.16) * (0.86 if currency == "GBP" else 1), 0.3)
    condition = None if grade else "NM" if random.random() < 0.75 else "LP"
    if condition == "LP":
        price *= 0.75
    return Comp(
        CompKind.ASK if ask else kind, today - timedelta(days=age), Decimal(round(price, 2)).quantize(Decimal("0.01")),
        currency, Decimal(post) if random.random() < 0.8 else None, None, condition, "Plumbline" if grade else None,
        grade, None, market, random.randint(2, 19) if kind is CompKind.AUCTION and not ask else None,
        note=f"{card.subject} {card.release_title} {card.number}",
    )  # fmt: skip


def _by_subgrades(random: Random, card: FoundCard, level: float, today: date) -> list[Comp]:
    """Copies that Fourfold gave a 9.5, some of them only just."""
    return [
        replace(_sale(random, card, level * multiple, random.randint(0, 80), today, "9.5"), grader="Fourfold",
                subgrades=said)
        for said, multiple in _SUBGRADES
        for _ in range(random.randint(1, 3))
    ]  # fmt: skip


def _populations(random: Random, today: date) -> list[Population]:
    """What Plumbline had given, half a year ago and lately, and Fourfold once."""
    early = {"10": random.randint(0, 60), "9": random.randint(5, 140), "8": random.randint(5, 90)}
    found = [Population("Plumbline", grade, count, today - timedelta(days=190)) for grade, count in early.items()]
    found += [
        Population("Plumbline", grade, count + random.randint(0, 1 + count // 5), today - timedelta(days=12))
        for grade, count in early.items()
    ]
    if random.random() < 0.4:
        found += [
            Population("Fourfold", grade, random.randint(0, 25), today - timedelta(days=30))
            for grade in ("10", "9.5", "9", "8.5")
        ]
    return found
