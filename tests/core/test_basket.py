"""The cheapest basket against every possible one, by enumeration in this test (C-22)."""

from decimal import Decimal as D
from itertools import product
from random import Random

import pytest

from tobbix.core.base.errors import InputError
from tobbix.core.buying.basket import AskOf, Basket, Seller, fill_basket


def cheapest(wanted: dict[str, int], sellers: list[Seller], asks: list[AskOf]) -> D | None:
    """What the cheapest of all ways to buy exactly that costs; None if it cannot be had."""
    best: D | None = None
    for counts in product(*(range(min(ask.stock, wanted.get(ask.card, 0)) + 1) for ask in asks)):
        had = {card: sum(n for n, ask in zip(counts, asks, strict=True) if ask.card == card) for card in wanted}
        if had != wanted:
            continue
        total = D(0)
        for seller in sellers:
            own = [(n, ask) for n, ask in zip(counts, asks, strict=True) if ask.seller == seller.name]
            goods, cards = sum((n * ask.price for n, ask in own), D(0)), sum(n for n, _ in own)
            is_free = seller.free_from is not None and goods >= seller.free_from
            if cards and not is_free:
                total += seller.shipping + seller.each_further * (cards - 1)
            total += goods
        best = total if best is None else min(best, total)
    return best


def added_up(found: Basket) -> D:
    return sum((order.total for order in found.orders), D(0))


def test_no_basket_is_cheaper_than_the_one_that_is_found() -> None:
    random = Random(22)
    for _ in range(150):
        sellers = [
            Seller(name, D(random.randint(0, 400)) / 100, D(random.choice([0, 0, 25, 60])) / 100,
                   random.choice([None, None, D(random.randint(100, 900)) / 100]))
            for name in "ABC"
        ]  # fmt: skip
        asks = [
            AskOf(random.choice("ABC"), random.choice("xyz"), D(random.randint(10, 500)) / 100, random.randint(1, 2))
            for _ in range(random.randint(1, 7))
        ]
        wanted = {card: random.randint(1, 3) for card in random.sample("xyzw", random.randint(1, 3))}
        found = fill_basket(wanted, sellers, asks)
        had = {card: min(n, sum(a.stock for a in asks if a.card == card)) for card, n in wanted.items()}
        assert dict(found.missing) == {card: n - had[card] for card, n in wanted.items() if n > had[card]}
        assert found.proven and found.total == added_up(found)
        assert found.total == (cheapest({c: n for c, n in had.items() if n}, sellers, asks) or 0)
        bought: dict[str, int] = {}
        for order in found.orders:
            for it in order.cards:
                bought[it.card] = bought.get(it.card, 0) + it.count
        assert bought == {card: n for card, n in had.items() if n}  # exactly what is wanted, nothing to reach an amount
        by_name = {seller.name: seller for seller in sellers}
        each = {  # every single copy with what sending it by itself costs
            card: sorted(a.price + by_name[a.seller].shipping_of(a.price, 1) for a in asks if a.card == card
                         for _ in range(a.stock))[:n] for card, n in had.items()
        }  # fmt: skip
        assert found.alone == sum((cost for costs in each.values() for cost in costs), D(0))


def test_the_example_and_what_cannot_be() -> None:
    sellers = [Seller("A", D(3)), Seller("B", D(1))]
    asks = [AskOf(name, card, price) for name, price in (("A", D(2)), ("B", D("2.50"))) for card in "xy"]
    found = fill_basket({"x": 1, "y": 1, "z": 2}, sellers, asks)
    assert (found.total, found.alone, found.missing) == (D(6), D(7), (("z", 2),))
    assert [(order.seller, order.shipping) for order in found.orders] == [("B", D(1))]
    # goods of 2.00 or more go for nothing at A: then both from there
    assert fill_basket({"x": 1, "y": 1}, [Seller("A", D(3), D(0), D(4)), sellers[1]], asks).total == D(4)
    with pytest.raises(InputError) as caught:
        fill_basket({"x": 0}, [sellers[0], Seller("A", D(-1))], [AskOf("C", "x", D(-1), 0)])
    assert {fault.field for fault in caught.value.faults} == {
        "wanted[0].count", "sellers[0].seller", "sellers[1].shipping", "asks[0].seller", "asks[0].price",
        "asks[0].stock",
    }  # fmt: skip
    assert fill_basket({"x": 1}, sellers, []) == Basket(D(0), (), D(0), (("x", 1),), True, 0.0)
