"""Lots of doubles: what they bring by card, kilogram and hour, how many go into one, and when giving away is better
(Rule C-33).

A lot sells at a price for a thousand cards by a way of selling; its postage goes by weight. Heavier parcels carry a
card for less, so the cards are put into lots that fill a step of the postage: the step that leaves most is taken, and
what is left over makes a last lot. Where a lot leaves less than the work on it, giving it away is better.

Example: 2,500 commons bring 10.00 to 20.00, 0.4 to 0.8 cents a card (common practice, no source).
"""

import re
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount
from tobbix.core.pricing.fees import SellingWay

CARD_GRAMS = 1.8  # of a usual card
USUAL_PER_THOUSAND = (Decimal(4), Decimal(8))  # common practice, no source
MOST_CARDS = 1_000_000


@dataclass(frozen=True, slots=True)
class PostageStep:
    """What a parcel of at most so many ``grams`` costs to send (money)."""

    grams: int
    price: Decimal


@dataclass(frozen=True, slots=True)
class LotTerms:
    """At what lots sell: what a thousand cards bring (money), the grams of a card, of the box and the cost of the box
    (money), the steps of the postage by weight, what an hour costs and how many minutes a lot takes."""

    per_thousand: Decimal
    way: SellingWay
    postage: tuple[PostageStep, ...]
    hourly: Decimal = Decimal(0)
    minutes: Decimal = Decimal(20)
    card_grams: float = CARD_GRAMS
    box_grams: int = 150
    box_cost: Decimal = Decimal(0)

    def __post_init__(self) -> None:
        faults = [
            Fault(name, "must not be negative")
            for name in ("per_thousand", "hourly", "minutes", "box_cost", "box_grams")
            if getattr(self, name) < 0
        ]
        if not self.card_grams > 0:
            faults.append(Fault("card_grams", "must be over 0"))
        if not self.postage:
            faults.append(Fault("postage", "say what a parcel costs, by weight"))
        for at, (one, two) in enumerate(zip(self.postage, self.postage[1:], strict=False), 1):
            if two.grams <= one.grams:
                faults.append(Fault(f"postage[{at}].grams", "must rise"))
        faults += [
            Fault(f"postage[{at}].price", "must not be negative") for at, it in enumerate(self.postage) if it.price < 0
        ]
        if faults:
            raise InputError(faults)

    def step_for(self, cards: int) -> PostageStep | None:
        """The first step of the postage that carries so many cards; None if none does."""
        grams = self.box_grams + cards * self.card_grams
        return next((it for it in self.postage if grams <= it.grams), None)

    def most_in(self, step: PostageStep) -> int:
        """How many cards a parcel of this step carries."""
        return max(int((step.grams - self.box_grams) / self.card_grams + 1e-9), 0)


@dataclass(frozen=True, slots=True)
class Lot:
    """So many cards sold as one: what they bring, what is left after fees, postage and the box, and after the work on
    it (money)."""

    cards: int
    grams: float
    price: Decimal
    postage: Decimal
    net: Decimal
    after_work: Decimal

    @property
    def per_card(self) -> Decimal:
        return self.net / self.cards

    @property
    def per_kilogram(self) -> Decimal:
        return self.net / Decimal(str(self.grams)) * 1000


@dataclass(frozen=True, slots=True)
class LotPlan:
    """The lots that so many cards make: equal ones, and what is left over; with what all leave (money), ``per_hour``
    of the work (None: it takes none), and whether giving away is better."""

    cards: int
    lots: tuple[tuple[int, Lot], ...]
    net: Decimal
    after_work: Decimal
    per_hour: Decimal | None

    @property
    def give_away(self) -> bool:
        return self.after_work <= 0

    @property
    def count(self) -> int:
        return sum(many for many, _ in self.lots)


def make_lot(terms: LotTerms, cards: int) -> Lot:
    """A lot of so many cards. Raises InputError where no step of the postage carries it."""
    step = terms.step_for(cards)
    if step is None:
        raise InputError.at("postage", f"a parcel of {cards:,} cards is heavier than any step of it")
    price = terms.per_thousand * cards / 1000
    kept = terms.way.net(price) + Fraction(terms.way.postage + terms.way.packing)  # a lot has its own
    net = Decimal(kept.numerator) / kept.denominator - step.price - terms.box_cost
    work = terms.hourly * terms.minutes / 60
    return Lot(cards, terms.box_grams + cards * terms.card_grams, price, step.price, net, net - work)


def plan_lots(terms: LotTerms, cards: int) -> LotPlan:
    """How so many cards are best put into lots. Rule C-33. Raises InputError."""
    if not 1 <= cards <= MOST_CARDS:
        raise InputError.at("cards", f"must be from 1 to {MOST_CARDS:,}")
    sizes = sorted({min(terms.most_in(step), cards) for step in terms.postage} - {0})
    if not sizes:
        raise InputError.at("postage", "its lightest parcel does not even carry one card")
    plans = []
    for size in sizes:
        many, rest = divmod(cards, size)
        lots = [(many, make_lot(terms, size))]
        if rest:
            last = make_lot(terms, rest)
            lots.append((1, last))
        plans.append(lots)
    best = max(plans, key=lambda lots: sum(many * lot.after_work for many, lot in lots))
    count = sum(many for many, _ in best)
    net = sum((many * lot.net for many, lot in best), Decimal(0))
    after = sum((many * lot.after_work for many, lot in best), Decimal(0))
    hours = terms.minutes * count / 60
    return LotPlan(cards, tuple(best), net, after, net / hours if hours else None)


def read_postage(text: str) -> tuple[PostageStep, ...]:
    """Postage by weight as it is typed: grams and price, by commas. Raises InputError at ``postage``.

    >>> [(it.grams, str(it.price)) for it in read_postage("1000 4.50, 5000 6.20")]
    [(1000, '4.50'), (5000, '6.20')]
    """
    found = []
    for part in filter(None, (it.strip() for it in text.split(","))):
        said = re.fullmatch(r"([0-9]{1,7})(?: ?g)?[ :]+([0-9]{1,6}(?:\.[0-9]{1,3})?)", part)
        if said is None:
            raise InputError.at("postage", f"“{part[:30]}” is not a weight in grams and a price, like 1000 4.50")
        found.append(PostageStep(int(said[1]), Decimal(said[2])))
    return tuple(found)


def state_lots(plan: LotPlan | None, currency: str, with_postage: bool = True) -> Verdict:
    """Whether to sell doubles in lots, and at what; None: there are none."""
    if plan is None:
        nothing = (Run("Nothing is double", "net", True), Run(" that does not sell by itself."))
        return Verdict(nothing, (Run("Of each version one stays."),))
    cards = f"{plan.cards:,} doubles"
    size, each = plan.lots[0][1].cards, plan.net / plan.cards
    if plan.give_away:
        sentence = [Run("Give them away", "give_away", True), Run(f": {cards} in lots leave ")]
        sentence.append(Run(amount(plan.after_work, currency), "after_work"))
        sentence.append(Run(" after the work on them"))
    else:
        lots = (
            "one lot" if plan.count == 1 else f"{plan.count} lots of {'up to ' if len(plan.lots) > 1 else ''}{size:,}"
        )
        sentence = [Run(f"Sell {cards} in {lots}: they leave "), Run(amount(plan.net, currency), "net", True)]
        sentence.append(Run(f", {amount(each * 1000, currency)} for a thousand cards"))
    ground = "After fees, postage and the box" if with_postage else "After fees; say what postage costs, it can eat all"
    if plan.per_hour is not None:
        ground += f"; {amount(plan.per_hour, currency)} for each hour on them"
    return Verdict((*sentence, Run(".")), (Run(ground + ". Prices of lots differ much: look at a few first."),))
