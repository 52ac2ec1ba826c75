"""A list of wanted cards with what sellers ask: kind ``basket`` as JSON."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.buying.basket import AskOf, Basket, Seller
from tobbix.formats.questions import Question, read_question

_TOP = frozenset(("currency", "wanted", "sellers", "asks"))
_WANTED, _SELLER = frozenset(("card", "count")), frozenset(("seller", "shipping", "each_further", "free_from"))
_ASK = frozenset(("seller", "card", "price", "stock"))


@dataclass(frozen=True, slots=True)
class BasketQuestion:
    """What is wanted, of whom it may be bought, and in which currency all of it is."""

    currency: str
    wanted: dict[str, int]
    sellers: tuple[Seller, ...]
    asks: tuple[AskOf, ...]


def parse_basket(content: bytes) -> BasketQuestion:
    """Read a basket. Raises InputError with every fault, by field and row."""
    return read_question(content, "basket", _TOP, _read)


def _read(top: Question) -> BasketQuestion:
    wanted: dict[str, int] = {}
    for part in top.parts("wanted", _WANTED):
        card, count = part.text("card") or "", part.count("count")
        wanted[card] = wanted.get(card, 0) + count
    sellers = tuple(
        Seller(part.text("seller") or "", part.must("shipping"), part.must("each_further"), part.figure("free_from"))
        for part in top.parts("sellers", _SELLER)
    )
    asks = tuple(
        AskOf(part.text("seller") or "", part.text("card") or "", part.must("price"), part.count("stock"))
        for part in top.parts("asks", _ASK)
    )
    return BasketQuestion(top.text("currency") or "", wanted, sellers, asks)


def describe_basket(found: Basket) -> dict[str, object]:
    """The answer as the open format names it."""

    def figure(amount: Decimal) -> float:
        return float(amount)

    return {
        "total": figure(found.total),
        "orders": [
            {
                "seller": order.seller,
                "cards": [{"card": it.card, "count": it.count, "price": figure(it.price)} for it in order.cards],
                "shipping": figure(order.shipping),
            }
            for order in found.orders
        ],
        "alone": figure(found.alone),
        "missing": [{"card": card, "count": count} for card, count in found.missing],
        "proven": found.proven,
        "gap": found.gap,
    }
