"""What to ask for a card: quick, at the market, or with patience, what each nets and about how long it takes (C-21)."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from tobbix.core.base.money import Money, minor_units
from tobbix.core.base.results import Run, Verdict
from tobbix.core.pricing.estimating import Estimate
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.pricing.schools import WORDS, School
from tobbix.core.products.verdict import amount_words


@dataclass(frozen=True, slots=True)
class Asking:
    """A price to ask (money), what it ``net``s in a way of selling, and about how many ``days`` it takes (None: not
    known, or no sale ever reached it)."""

    name: str
    price: Decimal
    net: float | None
    days: float | None


def days_to_sell(price: float, sales: Sequence[float], per_30_days: float, own_share: float) -> float | None:
    """About how many days a price takes: 30 / (sales per 30 days x share of the sales at it or more x own share of the
    offers). Rule C-21."""
    reached = sum(sale >= price - 1e-9 for sale in sales) / len(sales) if sales else 0.0
    pace = per_30_days * reached * own_share
    return 30 / pace if pace > 0 else None


def what_to_ask(found: Estimate, currency: str, way: SellingWay | None) -> tuple[Asking, ...]:
    """Quick, market and patient prices by the sales that are not flagged, beside what others ask. Rule C-21.

    Quick is just under the lowest ask in the same state, or the lower quartile where nobody asks or that is less;
    quartiles as NumPy's default.
    """
    sales = [item.amount for item in found.counted]
    if found.estimate is None:
        return ()
    step = Decimal(1).scaleb(-minor_units(currency))
    lower, upper = np.quantile(np.array(sales), [0.25, 0.75])
    quick = Money.from_estimate(float(lower), currency).amount
    same = [ask.lowest for ask in found.asks if ask.state == found.state]
    if same:
        under = Money.from_estimate(min(same), currency).amount - step
        quick = min(quick, under) if under > 0 else quick
    market = Money.from_estimate(found.estimate, currency).amount
    patient = Money.from_estimate(max(float(upper), found.estimate), currency).amount
    share = 1 / (found.offers + 1)

    def asking(name: str, price: Decimal) -> Asking:
        net = None if way is None else float(way.net(price))
        return Asking(name, price, net, days_to_sell(float(price), sales, found.sales_per_30_days, share))

    return asking("quick", min(quick, market)), asking("market", market), asking("patient", patient)


@dataclass(frozen=True, slots=True)
class Meeting:
    """How far an offer may go down (money; None: not known): the ``lowest`` worth taking in the way of selling; in
    person, where nothing is taken, from the ``seller``'s net to what a ``buyer`` pays all-in elsewhere, with the
    ``middle`` that is proposed."""

    lowest: Decimal | None
    seller: Decimal | None
    buyer: Decimal | None
    middle: Decimal | None


def meet(asks: Sequence[Asking], found: Estimate, currency: str, way: SellingWay | None) -> Meeting:
    """The lowest offer worth taking is what the quick price nets, asked for in the same way: less is to be had by
    asking that. In person the middle between the seller's net at the market price and the buyer's all-in. Rule C-21.
    """
    by_name = {ask.name: ask for ask in asks}
    quick, market = by_name.get("quick"), by_name.get("market")
    if quick is None or market is None or found.estimate is None:
        return Meeting(None, None, None, None)
    buyer = Money.from_estimate(found.estimate, currency).amount
    if way is None or market.net is None or quick.net is None:
        return Meeting(quick.price, None, buyer, None)
    seller = Money.from_estimate(market.net, currency).amount
    middle = Money.from_estimate((market.net + found.estimate) / 2, currency).amount if seller <= buyer else None
    return Meeting(quick.price, seller, buyer, middle)


def state_price(
    name: str, state: str, found: Estimate, asks: Sequence[Asking], currency: str, wanted: School = School.WEIGHTED,
    spoke: School = School.WEIGHTED,
) -> Verdict:  # fmt: skip
    """What a card is worth, by how much that is known, which way it moves, and what to ask; by which school if it is
    not the usual one: ``wanted`` is the owner's, ``spoke`` the one that had something to go by. Rules C-18, C-21."""
    if found.estimate is None or found.interval is None:
        last = found.days_since_last
        sentence = [Run("Nobody was seen to sell it", "estimate", True), Run(f" in {state} lately. ")]
        sentence.append(Run("Type or paste what you find." if last is None else f"The last sale is {last} days old."))
        return Verdict(tuple(sentence), ())
    many = "one sale" if found.used == 1 else f"{found.used} sales"
    sentence = [Run("Worth about "), Run(amount_words(found.estimate, currency), "estimate", True), Run(f" in {state}")]
    if spoke is not School.WEIGHTED:
        sentence.append(Run(f" by {WORDS[spoke]}"))
    trend = found.trend
    if trend is not None:
        word = "rises" if trend.per_30_days > 0 else "falls"
        sure = "" if trend.low > 0 or trend.high < 0 else ", if at all"
        sentence.append(Run(f"; it {word} by {abs(trend.per_30_days) * 100:.1f} % in 30 days{sure}"))
    market = next((ask for ask in asks if ask.name == "market"), None)
    sentence.append(Run("."))
    if market is not None:
        net = "" if market.net is None else f", which nets {amount_words(market.net, currency)}"
        sentence += [Run(" Ask "), Run(f"{market.price:,}", "ask", True), Run(f"{net}.")]
    ground = [
        Run(f"By {many}, the median between "), Run(amount_words(found.interval.low, currency), "low"), Run(" and "),
        Run(amount_words(found.interval.high, currency), "high"),
        Run(f" with {found.interval.confidence * 100:.0f} %; the last {_ago(found.days_since_last)}."),
    ]  # fmt: skip
    if wanted is not spoke:
        ground.append(Run(f" There is nothing to go by for {WORDS[wanted]}."))
    if found.thin or found.stale:
        words = " and ".join(word for word, so in (("few sales", found.thin), ("old ones", found.stale)) if so)
        ground.append(Run(f" It rests on {words}: take it as a hint."))
    if found.flagged:
        ground.append(Run(f" {len(found.flagged)} far off {'is' if len(found.flagged) == 1 else 'are'} not counted."))
    return Verdict(tuple(sentence), tuple(ground))


def state_assumed(found: Estimate) -> str:
    """What was assumed of the sales that speak, counted up; empty where all is known. Rule C-18."""
    shipping = sum(item.seen.comp.shipping is None for item in found.counted)
    tax = sum(item.seen.comp.tax is None for item in found.counted)
    parts = [
        f"{what} of {count if count < found.used else 'all'} is not known and counts as {how}"
        for what, count, how in (("shipping", shipping, "usual"), ("tax", tax, "none"))
        if count
    ]
    return (parts[0][:1].upper() + "; ".join(parts)[1:] + ".") if parts else ""


def _ago(days: int | None) -> str:
    return "unknown" if days is None else "today" if days == 0 else "yesterday" if days == 1 else f"{days} days ago"
