"""The slot model of rule C-04 by plain enumeration: amounts to the cent with exact chances, no transform and no grid.

Another reading of the rule than the product's, kept simple: a pack is its slots one after another, and the total the
convolution of all of them. Only for sheets of few cards.
"""

from collections.abc import Iterable, Mapping
from fractions import Fraction
from math import ceil
from random import Random

import numpy as np
from numpy.typing import NDArray

from tests.sheets import Document, document, line

Law = Mapping[int, float]  # cents to chance
NOTHING: Law = {0: 1.0}


def add(left: Law, right: Law) -> Law:
    total: dict[int, float] = {}
    for a, p in left.items():
        for b, q in right.items():
            total[a + b] = total.get(a + b, 0.0) + p * q
    return total


def add_all(laws: Iterable[Law]) -> Law:
    total = NOTHING
    for law in laws:
        total = add(total, law)
    return total


def mix(parts: Iterable[tuple[Law, float]]) -> Law:
    total: dict[int, float] = {}
    for law, share in parts:
        for amount, chance in law.items():
            total[amount] = total.get(amount, 0.0) + chance * share
    return total


def draw(item: Document) -> Law:
    """One card of a line's checklist."""
    weights = [float(card["weight"]) for card in item["cards"]]
    return mix(
        ({round(float(card["price"]) * 100): 1.0}, weight / sum(weights))
        for card, weight in zip(item["cards"], weights, strict=True)
    )


def box_law(made: Document) -> Law:
    """What one box of the only format holds: average lines by slots, guaranteed ones in place of base cards."""
    base, *lines = made["lines"]
    fmt = made["formats"][0]
    slots: list[tuple[Law, float]] = []  # of one pack: a line and its chance
    guaranteed: list[Law] = []
    for item in lines:
        number, unit = item["odds"][0]["statement"].split(" ", 1)
        if unit == "packs":
            rate = Fraction(1, int(number[2:]))
            slots += [(draw(item), float(min(rate, Fraction(1))))] * ceil(rate)
        else:
            guaranteed += [draw(item)] * int(number)
    packs = fmt["packs_per_box"]
    base_cards = packs * fmt["cards_per_pack"] - len(guaranteed) - packs * len(slots)
    each = [mix([(law, chance), (draw(base), 1 - chance)]) for law, chance in slots]
    return add_all([*guaranteed, *each * packs, *[draw(base)] * base_cards])


def at_least(law: Law, asked: Iterable[int]) -> NDArray[np.float64]:
    """P(total >= cents) for each of them."""
    amounts = np.array(sorted(law))
    survival = np.append(np.cumsum([law[amount] for amount in amounts.tolist()][::-1])[::-1], 0.0)
    return survival[np.searchsorted(amounts, list(asked))]


def random_sheet(random: Random) -> Document:
    """A small sheet whose dear cards lie far apart: whole prices and cents, up to tens of thousands."""

    def price(dear: bool) -> str:
        top = random.choice((300, 25_000, 90_000)) if dear else 3
        amount = random.uniform(0.01, top)
        return f"{round(amount) if random.random() < 0.4 else amount:.2f}"

    lines = []
    for at in range(random.randint(1, 3)):
        prices = [price(random.random() < 0.4) for _ in range(random.randint(1, 3))]
        weights = [random.choice(("1", "1", "0.5")) for _ in prices]
        lines.append(line(f"l{at}", prices, f"1:{random.randint(2, 40)} packs", weights=weights))
    if random.random() < 0.5:
        prices = [price(random.random() < 0.6) for _ in range(random.randint(1, 3))]
        lines.append(line("g", prices, f"{random.randint(1, 2)} per box", "guaranteed"))
    base = [f"{random.choice((0, 1, 5, 10)) / 100:.2f}" for _ in range(random.randint(1, 2))]
    return document(lines, base, packs_per_box=random.randint(2, 3), cards_per_pack=random.randint(5, 6))
