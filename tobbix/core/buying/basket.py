"""The cheapest way to buy a list of cards from many sellers (Rule C-22).

The problem: each order costs shipping, so that the cheapest copy of each card is not the cheapest basket; a seller may
send for nothing from an amount on, and asks have stocks. The method: a mixed-integer program in whole minor units,
solved to proven optimality by HiGHS (Huangfu and Hall 2018) through SciPy's ``milp``; the total is then added up
exactly from the counts. How many of each ask are bought is whole; a seller is used or not, and sends for nothing only
if the goods reach the amount.

Example: two cards at 2.00 each from A and at 2.50 each from B, shipping 3.00 from A and 1.00 from B: both from B cost
6.00 against 7.00.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.maths.programs import Row, find_least

MOST_ASKS = 20_000


@dataclass(frozen=True, slots=True)
class Seller:
    """Who sells: ``shipping`` of an order with one card, of ``each_further`` card in it (money), and from how much of
    goods on it is sent for nothing (``free_from``; None: never)."""

    name: str
    shipping: Decimal
    each_further: Decimal = Decimal(0)
    free_from: Decimal | None = None

    def shipping_of(self, goods: Decimal, cards: int) -> Decimal:
        """What an order of so many cards costs to send (money)."""
        if cards == 0 or (self.free_from is not None and goods >= self.free_from):
            return Decimal(0)
        return self.shipping + self.each_further * (cards - 1)


@dataclass(frozen=True, slots=True)
class AskOf:
    """So many copies (``stock``) of a card that a seller asks a price for, each (money)."""

    seller: str
    card: str
    price: Decimal
    stock: int = 1


@dataclass(frozen=True, slots=True)
class Bought:
    """So many copies of a card at a price each (money)."""

    card: str
    count: int
    price: Decimal


@dataclass(frozen=True, slots=True)
class Order:
    """What is bought of a seller, with its shipping (money)."""

    seller: str
    cards: tuple[Bought, ...]
    shipping: Decimal

    @property
    def total(self) -> Decimal:
        return sum((it.price * it.count for it in self.cards), Decimal(0)) + self.shipping


@dataclass(frozen=True, slots=True)
class Basket:
    """The orders with what they cost in all, and what each copy as an order of its own would (money); how many of which
    card are not to be had; whether nothing cheaper is possible (``proven``), else by how much at most (share; None: not
    known)."""

    total: Decimal
    orders: tuple[Order, ...]
    alone: Decimal
    missing: tuple[tuple[str, int], ...]
    proven: bool
    gap: float | None


def fill_basket(
    wanted: Mapping[str, int], sellers: Sequence[Seller], asks: Sequence[AskOf], seconds: float | None = None
) -> Basket:
    """The cheapest basket of exactly the counts that are wanted, as far as they are to be had. Rule C-22.

    ``seconds``: how long to look at most; then the best that was found. Raises InputError with every fault: a seller
    that is not named or twice, amounts and counts that cannot be.
    """
    by_name = {seller.name: seller for seller in sellers}
    _check(wanted, sellers, asks, by_name)
    there: dict[str, int] = {}
    for ask in asks:
        there[ask.card] = there.get(ask.card, 0) + ask.stock
    had = {card: min(count, there.get(card, 0)) for card, count in wanted.items()}
    missing = tuple((card, count - had[card]) for card, count in wanted.items() if count > had[card])
    useful = [ask for ask in asks if had.get(ask.card, 0) > 0]
    if not useful:
        return Basket(Decimal(0), (), Decimal(0), missing, proven=True, gap=0.0)
    counts, proven, gap = _solve(had, by_name, useful, seconds)
    orders = []
    for name in dict.fromkeys(ask.seller for ask in useful):
        cards = tuple(
            Bought(ask.card, count, ask.price)
            for ask, count in zip(useful, counts, strict=True)
            if ask.seller == name and count
        )
        if cards:
            goods = sum((it.price * it.count for it in cards), Decimal(0))
            orders.append(Order(name, cards, by_name[name].shipping_of(goods, sum(it.count for it in cards))))
    total = sum((order.total for order in orders), Decimal(0))
    return Basket(total, tuple(orders), _alone(had, by_name, useful), missing, proven, gap)


def _check(
    wanted: Mapping[str, int], sellers: Sequence[Seller], asks: Sequence[AskOf], by_name: Mapping[str, Seller]
) -> None:
    faults = [
        Fault(f"wanted[{at}].count", "must be at least 1") for at, count in enumerate(wanted.values()) if count < 1
    ]
    for at, seller in enumerate(sellers):
        if by_name[seller.name] is not seller:
            faults.append(Fault(f"sellers[{at}].seller", f"{seller.name[:60]} stands there twice"))
        faults += [
            Fault(f"sellers[{at}].{name}", "must not be negative")
            for name in ("shipping", "each_further", "free_from")
            if (getattr(seller, name) or 0) < 0
        ]
    for at, ask in enumerate(asks):
        if ask.seller not in by_name:
            faults.append(Fault(f"asks[{at}].seller", f"there is no seller {ask.seller[:60]}"))
        if ask.price < 0:
            faults.append(Fault(f"asks[{at}].price", "must not be negative"))
        if ask.stock < 1:
            faults.append(Fault(f"asks[{at}].stock", "must be at least 1"))
    if len(asks) > MOST_ASKS:
        faults.append(Fault("asks", f"are more than {MOST_ASKS:,}"))
    if faults:
        raise InputError(faults)


def _alone(had: Mapping[str, int], by_name: Mapping[str, Seller], asks: Sequence[AskOf]) -> Decimal:
    """What the copies cost if each is an order of its own, the cheapest of each card."""
    total = Decimal(0)
    for card, count in had.items():
        offers = sorted(
            (ask.price + by_name[ask.seller].shipping_of(ask.price, 1), ask.stock) for ask in asks if ask.card == card
        )
        for cost, stock in offers:
            taken = min(count, stock)
            total, count = total + cost * taken, count - taken
    return total


def _solve(
    had: Mapping[str, int], by_name: Mapping[str, Seller], asks: Sequence[AskOf], seconds: float | None
) -> tuple[list[int], bool, float | None]:
    """How many of each ask are bought, whether that is proven the cheapest, and the gap (share; None: unknown)."""
    names = list(dict.fromkeys(ask.seller for ask in asks))
    used = [by_name[name] for name in names]
    scale = _scale(
        [*(ask.price for ask in asks), *(a for s in used for a in (s.shipping, s.each_further, s.free_from))]
    )
    at_seller = {name: at for at, name in enumerate(names)}
    many, sold = len(asks), len(names)
    # variables: copies of each ask; whether a seller is used; whether it sends for nothing; what further cards cost
    buy, use, free, more = 0, many, many + sold, many + 2 * sold
    width = many + 3 * sold
    prices = np.array([float(ask.price * scale) for ask in asks])
    most = np.array([min(ask.stock, had[ask.card]) for ask in asks], float)
    cost = np.zeros(width)
    cost[buy:use] = prices
    for at, seller in enumerate(used):
        cost[use + at], cost[free + at] = float(seller.shipping * scale), -float(seller.shipping * scale)
        cost[more + at] = 1.0
    of_card: dict[str, list[int]] = {}
    of_seller: dict[str, list[int]] = {}
    for i, ask in enumerate(asks):
        of_card.setdefault(ask.card, []).append(i)
        of_seller.setdefault(ask.seller, []).append(i)
    rows: list[Row] = []
    for card, count in had.items():
        rows.append(({buy + i: 1.0 for i in of_card.get(card, ())}, count, count))
    for i, ask in enumerate(asks):  # nothing of a seller that is not used
        rows.append(({buy + i: 1.0, use + at_seller[ask.seller]: -most[i]}, -np.inf, 0.0))
    for at, seller in enumerate(used):
        own = of_seller[seller.name]
        rows.append(({free + at: 1.0, use + at: -1.0}, -np.inf, 0.0))
        if seller.free_from is not None:
            goods = {buy + i: prices[i] for i in own}
            rows.append(({**goods, free + at: -float(seller.free_from * scale)}, 0.0, np.inf))
        each = float(seller.each_further * scale)
        if each:
            sent = {buy + i: -each for i in own}
            beyond = each * float(most[own].sum())
            rows.append(({**sent, more + at: 1.0, use + at: each, free + at: beyond}, 0.0, np.inf))
    lower, upper = np.zeros(width), np.full(width, np.inf)
    upper[buy:use], upper[use:more] = most, 1.0
    for at, seller in enumerate(used):
        if seller.free_from is None:
            upper[free + at] = 0.0
    whole = np.zeros(width)
    whole[:more] = 1
    found = find_least(cost, rows, lower, upper, whole, seconds)
    if found.x is None:
        return _greedy(had, asks), False, None
    return [round(it) for it in found.x[:many]], found.status == 0, found.mip_gap


def _scale(amounts: Sequence[Decimal | None]) -> int:
    """What makes all amounts whole: tolerances of the solver are then far below the smallest difference."""
    digits = [max(0, -int(it.normalize().as_tuple().exponent)) for it in amounts if it is not None]
    return int(10 ** min(max(digits, default=0), 6))


def _greedy(had: Mapping[str, int], asks: Sequence[AskOf]) -> list[int]:
    """The cheapest copies, whatever they cost to send: where nothing better was found in time."""
    counts, left = [0] * len(asks), dict(had)
    for i in sorted(range(len(asks)), key=lambda i: asks[i].price):
        counts[i] = min(asks[i].stock, left[asks[i].card])
        left[asks[i].card] -= counts[i]
    return counts
