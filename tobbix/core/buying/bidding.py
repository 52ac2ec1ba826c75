"""The most to bid, and what to offer for a collection.

Rule C-20. Example: net 84, return 25 %, margin 10: a ceiling of 67.20; shipping 6, tax 21 %, premium 20 %: 41.28.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction
from math import sqrt

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.states import ChargeKind
from tobbix.core.maths.statistics import student_point

_CENT = Decimal("0.01")
_INTERVAL = 0.95  # the two-sided 90 % of the mean
_CAREFUL = 0.90  # the one-sided bound that the top offer rests on
_LEAST = 8  # cards that a sample must have to say anything of the rest


@dataclass(frozen=True, slots=True)
class AuctionTerms:
    """What comes on top of the hammer: ``premium`` and ``tax`` as shares, ``shipping`` (money), taxed or not;
    ``increment`` the step of bids (money)."""

    premium: Decimal = Decimal(0)
    tax: Decimal = Decimal(0)
    shipping: Decimal = Decimal(0)
    tax_on_shipping: bool = True
    increment: Decimal = Decimal("0.01")

    def __post_init__(self) -> None:
        faults = [
            Fault(name, "must be from 0 to 1 (0.2 is 20 %)")
            for name in ("premium", "tax")
            if not 0 <= getattr(self, name) <= 1
        ]
        if not 0 <= self.shipping <= 99_999_999:
            faults.append(Fault("shipping", "must be from 0 to 99,999,999"))
        if not 0 < self.increment <= 1_000_000:
            faults.append(Fault("increment", "must be more than 0"))
        if faults:
            raise InputError(faults)

    def landed(self, hammer: Decimal) -> Fraction:
        """What a hammer price really costs (money, exact). Rule C-15."""
        taxed = 1 + Fraction(self.tax)
        shipping = Fraction(self.shipping) * (taxed if self.tax_on_shipping else 1)
        return Fraction(hammer) * (1 + Fraction(self.premium)) * taxed + shipping


def bill_of(hammer: Decimal, terms: AuctionTerms, minor_units: int) -> list[tuple[ChargeKind, Decimal]]:
    """The parts of the bill of a won bid that are not nothing (money), to the last coin what it costs landed. C-20.

    >>> [(kind.value, str(part)) for kind, part in
    ...  bill_of(Decimal("41.28"), AuctionTerms(Decimal("0.2"), Decimal("0.21"), Decimal(6)), 2)]
    [('price', '41.28'), ('premium', '8.26'), ('shipping', '6.00'), ('tax', '11.66')]
    """
    step = Decimal(1).scaleb(-minor_units)

    def coins(amount: Fraction) -> Decimal:
        return (Decimal(amount.numerator) / Decimal(amount.denominator)).quantize(step, ROUND_HALF_UP)

    parts = [
        (ChargeKind.PRICE, coins(Fraction(hammer))),
        (ChargeKind.PREMIUM, coins(Fraction(hammer) * Fraction(terms.premium))),
        (ChargeKind.SHIPPING, coins(Fraction(terms.shipping))),
    ]
    tax = coins(terms.landed(hammer)) - sum((part for _, part in parts), Decimal(0))
    return [(kind, part) for kind, part in [*parts, (ChargeKind.TAX, tax)] if part > 0]


def resale_ceiling(net: Decimal, margin: Decimal, wanted_return: Decimal) -> Fraction:
    """The most that a thing may cost landed if it is to be sold for ``net``: min(net - margin, net / (1 + return)).

    Rule C-20. Raises InputError for a negative margin or return.
    """
    if margin < 0:
        raise InputError.at("margin", "must not be negative")
    if wanted_return < 0:
        raise InputError.at("return", "must not be negative (0.25 is 25 %)")
    return min(Fraction(net) - Fraction(margin), Fraction(net) / (1 + Fraction(wanted_return)))


def landed_ceiling(net: Decimal | None, margin: Decimal, wanted_return: Decimal, typed: Decimal | None) -> Fraction:
    """The most that a thing may cost landed: for a resale, for keeping what was ``typed``, or the lower of both. C-20.

    Raises InputError if neither is known.
    """
    if net is None and typed is None:
        raise InputError.at("net", "say what it sells for net, or what it may cost at most")
    ceilings = [] if net is None else [resale_ceiling(net, margin, wanted_return)]
    if typed is not None:
        ceilings.append(Fraction(typed))
    return min(ceilings)


def most_to_bid(ceiling: Fraction, terms: AuctionTerms) -> Decimal:
    """The highest hammer price within a landed ceiling, in whole increments; 0 if none is. Rule C-20.

    >>> most_to_bid(Fraction("67.2"), AuctionTerms(Decimal("0.2"), Decimal("0.21"), Decimal(6)))
    Decimal('41.28')
    """
    hammer = (ceiling - _alone(terms)) / ((1 + Fraction(terms.premium)) * (1 + Fraction(terms.tax)))
    if hammer <= 0:
        return Decimal(0)
    bid = int(hammer / Fraction(terms.increment)) * terms.increment
    return bid if bid != bid.quantize(_CENT) else bid.quantize(_CENT)  # steps may be finer than a cent


def _alone(terms: AuctionTerms) -> Fraction:
    """What shipping and its tax come to, whatever is bid."""
    return Fraction(terms.shipping) * (1 + Fraction(terms.tax) if terms.tax_on_shipping else 1)


def read_sample(text: str, field: str = "sample") -> list[float]:
    """The values of cards (money) as typed with spaces or semicolons between; ``3x0.10`` is three such cards.

    Raises InputError at the ``field``, naming what is no value.

    >>> read_sample("4.00 3x0.10")
    [4.0, 0.1, 0.1, 0.1]
    """
    found: list[float] = []
    for word in text.replace(";", " ").split():
        times, mark, value = word.rpartition("x")
        try:
            count, amount = int(times) if mark else 1, float(value)
        except ValueError:
            raise InputError.at(field, f"“{word[:40]}” is no value; write 0.10, or 12x0.10 for twelve such") from None
        if not (1 <= count <= 5_000 and 0 <= amount <= 99_999_999) or len(found) + count > 5_000:
            raise InputError.at(field, f"“{word[:40]}” does not fit: values from 0, at most 5,000 cards")
        found += [amount] * count
    return found


@dataclass(frozen=True, slots=True)
class Work:
    """What selling a collection takes: ``keeps`` the share that a seller keeps of a sale (common practice: about 0.8,
    no source), minutes a card at an hourly rate (money), and the ``margin`` that is wanted, a share of what is left."""

    keeps: float = 1.0
    minutes_per_card: float = 0.0
    hourly_rate: float = 0.0
    margin: float = 0.0

    def __post_init__(self) -> None:
        faults = [
            Fault(name, "must be from 0 to 100 %") for name in ("keeps", "margin") if not 0 <= getattr(self, name) <= 1
        ]
        if faults:
            raise InputError(faults)


@dataclass(frozen=True, slots=True)
class Offer:
    """What a collection may be worth (estimates, money): what was valued one by one, and the rest by a sample.

    ``dear`` cards were valued singly at ``dear_value`` in all; of the rest a ``sample`` has the ``mean`` with the ends
    of its 90 % interval. ``total`` for all. ``fair`` is what may be offered, after fees, work and the wanted margin;
    ``top`` the most, on the careful end of the total, after fees and work.
    """

    dear: int
    dear_value: float
    sample: int
    mean: float
    mean_low: float
    mean_high: float
    total: float
    total_low: float
    total_high: float
    fair: float
    top: float


def offer_for_collection(sample: Sequence[float], cards: int, work: Work, dear: Sequence[float] = ()) -> Offer:
    """A fair and a top offer for a collection of ``cards``, from values (money). Rule C-20.

    Cards worth pulling are valued one by one (``dear``, a certainty stratum: Cochran, *Sampling Techniques*, 1977),
    the rest by a ``sample`` taken at random: value = their sum + N x mean. The fair offer rests on the mean; the top
    one on the one-sided 90 % lower bound (Student's t, with the correction for a finite collection, ch. 2), which a
    skewed sample makes more careful, not less. Raises InputError for a sample of fewer than eight that is not all of
    the rest.
    """
    size, rest = len(sample), cards - len(dear)
    if rest < size:
        seen = size + len(dear)
        raise InputError.at("cards", f"you gave the values of {seen} cards, more than the collection")
    if size < _LEAST and size != rest:
        raise InputError.at("sample", f"give the values of at least {_LEAST} of the rest, taken at random")
    if any(not 0 <= value <= 99_999_999 for value in (*sample, *dear)):
        raise InputError.at("sample", "values must not be negative")
    mean = sum(sample) / size if size else 0.0
    error = 0.0
    if size > 1:
        variance = sum((value - mean) ** 2 for value in sample) / (size - 1)
        error = sqrt(variance / size * max(1 - size / rest, 0.0))
    half = student_point(size - 1, _INTERVAL) * error if error else 0.0
    careful = max(mean - student_point(size - 1, _CAREFUL) * error, 0.0) if error else mean
    low, high, pulled = max(mean - half, 0.0), mean + half, sum(dear)
    hours = cards * work.minutes_per_card / 60 * work.hourly_rate
    top = max((pulled + careful * rest) * work.keeps - hours, 0.0)
    fair = max(((pulled + mean * rest) * work.keeps - hours) * (1 - work.margin), 0.0)
    return Offer(
        len(dear), pulled, size, mean, low, high,
        pulled + mean * rest, pulled + low * rest, pulled + high * rest, fair, top,
    )  # fmt: skip


def state_offer(offer: Offer, cards: int, currency: str) -> Verdict:
    """What to offer for a collection, or that the sample does not say."""

    def amount(figure: float) -> str:
        return f"{Money.from_estimate(figure, currency).amount:,}"

    sentence: tuple[Run, ...]
    if offer.fair <= 0:
        sentence = (
            Run("Walk away", "offer", True),
            Run(": after fees, work and margin nothing is left to offer."),
        )
    elif offer.top <= 0:
        sentence = (
            Run("Too few cards to say", "offer", True),
            Run(f": on average it would bear {amount(offer.fair)} {currency}, "),
            Run("but the sample may well be lucky. Draw more."),
        )
    elif offer.fair > offer.top:
        sentence = (
            Run("Offer at most "),
            Run(amount(offer.top), "top", True),
            Run(
                f" {currency}: on average it would bear {amount(offer.fair)}, but the sample says that with too little."
            ),
        )
    else:
        sentence = (
            Run("Offer "),
            Run(amount(offer.fair), "offer", True),
            Run(", and at most "),
            Run(amount(offer.top), "top", True),
            Run(f" {currency}."),
        )
    ground = [Run(f"From {offer.sample:,} of {cards - offer.dear:,} cards, taken at random")]
    if offer.dear:
        ground.append(Run(f", and {offer.dear:,} valued one by one at {amount(offer.dear_value)}"))
    ground.append(Run("; the most stands on what the rest is worth at least nine times in ten."))
    return Verdict(sentence, tuple(ground))


def state_bid(bid: Decimal, ceiling: Fraction, terms: AuctionTerms, currency: str) -> Verdict:
    """The most to bid, and what it comes to."""
    sentence: tuple[Run, ...]
    if bid <= 0 and ceiling <= _alone(terms):
        sentence = (Run("Do not bid", "bid", True), Run(": shipping and tax alone pass what it may cost."))
    elif bid <= 0:
        least = Run(f": the least bid, {terms.increment:,}, would pass what it may cost with all that comes on top.")
        sentence = (Run("Do not bid", "bid", True), least)
    else:
        landed = float(terms.landed(bid))
        sentence = (
            Run("Bid up to "),
            Run(f"{bid:,}", "bid", True),
            Run(f"; with premium, tax and shipping that is {landed:,.2f} {currency}."),
        )
    return Verdict(sentence, (Run(f"It may cost {float(ceiling):,.2f} landed. Rounded down to a step of bids."),))
