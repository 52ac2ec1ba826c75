"""Rip, hold or buy the singles: three sums about one box, and what would have to be true for another to win (C-11).

All three say how much better off the owner is in money than before, a card that is wanted counting at what it would
cost to buy: opening may lose or win, holding earns what the sealed box sells for, and buying the singles comes out even
by definition, since the cards are worth their price to the one who wants them. So it wins where the others lose.

Example: a box at 96.00 that nets 74.00 on average, half an hour at 10.00 an hour: opening leaves -27.00 on average.
Sold sealed today it nets 83.10: -12.90. Neither is better than even, so the wanted cards are bought singly.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Run, Verdict
from tobbix.core.maths.distribution import Distribution
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.valuation import (
    FirstCopy,
    Valuation,
    chance_of_copy,
    deepen,
    expected_value,
    revalue_first_copies,
    worth_of_copy,
)
from tobbix.core.products.verdict import Asked, amount_words, basis_words, guessed, often

MOST_GROWTH = 10.0
MOST_VALUE = 99_999_999
_MOST_FACTOR = 100.0


class Choice(StrEnum):
    """What can be done with the money or the box."""

    OPEN = "open"
    SELL_SEALED = "sell_sealed"
    HOLD = "hold"
    SINGLES = "singles"


@dataclass(frozen=True, slots=True)
class SealedPlan:
    """What is assumed of the sealed box: its ``value`` sold today (market price, money, None if unknown), how it grows
    a year (a share; may be negative), how many ``years`` it is kept, and what keeping it costs a year (money)."""

    value: float | None
    growth: float = 0.08
    years: float = 2.0
    keeping: float = 0.0

    def __post_init__(self) -> None:
        faults = []
        if self.value is not None and not 0 <= self.value <= MOST_VALUE:
            faults.append(Fault("sealed_value", "must be from 0 to 99,999,999"))
        if not -0.99 <= self.growth <= MOST_GROWTH:
            faults.append(Fault("growth", "must be from -0.99 to 10 a year (0.08 is 8 %)"))
        if not 0 <= self.years <= 50:
            faults.append(Fault("years", "must be from 0 to 50"))
        if not 0 <= self.keeping <= MOST_VALUE:
            faults.append(Fault("keeping", "must be from 0 to 99,999,999"))
        if not faults and self.value is not None and self.value * (1 + self.growth) ** self.years > MOST_VALUE:
            faults.append(Fault("growth", f"in {self.years:g} years it would be worth more than 99,999,999"))
        if faults:
            raise InputError(faults)


@dataclass(frozen=True, slots=True)
class WantedCard:
    """A card that is wanted: all-in ``price`` to buy (money), expected ``copies`` in the box, the ``chance`` of any."""

    name: str
    price: float
    copies: float
    chance: float


@dataclass(frozen=True, slots=True)
class Opened:
    """What comes out of the box where the first copy of a wanted card counts at what buying it would cost.

    ``mean_at(factor)`` is the mean with all cards at that factor of today's prices (money).
    """

    outcomes: Distribution
    mean_at: Callable[[float], float]


def open_with_wanted(valuation_at: Callable[[float], Valuation], wanted: Sequence[tuple[str, str, float]]) -> Opened:
    """What opening brings where cards are wanted: line, number and all-in price (money). Rule C-11.

    ``valuation_at(factor)`` values the format with the market at a factor of today's; the prices of what is wanted move
    along.
    """
    today = deepen(valuation_at(1.0), 1)
    chances = [chance_of_copy(today, line, number) for line, number, _ in wanted]

    def mean_at(factor: float) -> float:
        valuation = deepen(valuation_at(factor), 1)
        mean = expected_value(valuation)
        for (line, number, price), chance in zip(wanted, chances, strict=True):
            mean += chance * (price * factor - worth_of_copy(valuation, line, number))
        return mean

    outcomes = revalue_first_copies(today, [FirstCopy(*card) for card in wanted])
    return Opened(outcomes, mean_at)


@dataclass(frozen=True, slots=True)
class Threshold:
    """What would have to be true for ``choice`` to win: ``what`` at ``value``, None if nothing of that kind would."""

    choice: Choice
    what: str
    value: float | None

    def words(self, currency: str) -> str:
        """The condition in words, as in: hold it if it grows by 12 % a year."""
        if self.value is None:
            return "never, by that alone"
        if self.what == "market_factor":
            return f"if cards are at {_percent(self.value)} of today’s"
        if self.what == "growth":
            return f"if it grows by {_percent(self.value)} a year"
        if self.what == "sealed_value":
            return f"if it sells sealed at {amount_words(self.value, currency)}"
        side = "over" if self.choice is Choice.SINGLES else "under"
        return f"if it costs {side} {amount_words(self.value, currency)}"


def _percent(share: float) -> str:
    return f"{share * 100:.{1 if abs(share) < 0.1 else 0}f} %"


@dataclass(frozen=True, slots=True)
class Sums:
    """The three sums (money better off than before; None where a price is not known). Rule C-11.

    ``open_loss`` the chance that opening loses; ``singles_cost`` what all wanted cards cost together.
    """

    open: float | None
    open_loss: float | None
    sell_sealed: float | None
    hold: float | None
    hold_sum: float | None
    singles_cost: float
    wanted_share: float
    best: Choice
    thresholds: tuple[Threshold, ...]


def weigh_choices(
    opened: Opened,
    asked: Asked,
    sealed: SealedPlan,
    net_of_sealed: Callable[[float], float],
    wanted: Sequence[WantedCard],
) -> Sums:
    """Rip, hold or buy the singles. Rule C-11.

    ``opened`` is what the box holds, ``asked`` what it costs; ``net_of_sealed`` what a sealed box nets at a market
    price, non-decreasing (Rule C-17). The first copy of a wanted card counts at its price, a further one at its net.
    """
    worth = opened.outcomes.mean
    share = sum(card.price * card.chance for card in wanted)
    later = None if sealed.value is None else sealed.value * (1 + sealed.growth) ** sealed.years
    hold_sum = None if later is None else net_of_sealed(later) - sealed.keeping * sealed.years
    out = None if asked.outlay is None else worth - asked.outlay
    sold = None if asked.landed is None or sealed.value is None else net_of_sealed(sealed.value) - asked.landed
    held = None if asked.landed is None or hold_sum is None else hold_sum - asked.landed
    known = {Choice.OPEN: out, Choice.SELL_SEALED: sold, Choice.HOLD: held, Choice.SINGLES: 0.0}
    best = max((choice for choice, gain in known.items() if gain is not None), key=lambda c: known[c] or 0.0)
    loss = None
    if asked.outlay is not None:
        loss = max(1 - opened.outcomes.chance_at_least(asked.outlay), 0.0)
    return Sums(
        out,
        loss,
        sold,
        held,
        hold_sum,
        sum(card.price for card in wanted),
        share,
        best,
        tuple(_thresholds(opened, asked, sealed, net_of_sealed, known, best)),
    )


def _thresholds(
    opened: Opened,
    asked: Asked,
    sealed: SealedPlan,
    net_of_sealed: Callable[[float], float],
    known: dict[Choice, float | None],
    best: Choice,
) -> list[Threshold]:
    """For every other choice, the one figure that would have to change, all else as it is."""
    found: list[Threshold] = []
    if asked.landed is None or asked.outlay is None:
        return found
    bar = known[best] or 0.0
    if best is not Choice.OPEN:
        needed = bar + asked.outlay
        found.append(Threshold(Choice.OPEN, "market_factor", _least(opened.mean_at, needed, _MOST_FACTOR, 40, 1e-6)))
        if best is Choice.SINGLES:
            worth = opened.outcomes.mean
            found.append(Threshold(Choice.OPEN, "landed_price", max(worth - (asked.outlay - asked.landed), 0.0)))
    if best is not Choice.HOLD and sealed.value is not None and sealed.years > 0:
        wanted = bar + asked.landed + sealed.keeping * sealed.years
        found.append(Threshold(Choice.HOLD, "growth", _growth_for(wanted, sealed, net_of_sealed)))
    if best is not Choice.SELL_SEALED:
        found.append(Threshold(Choice.SELL_SEALED, "sealed_value", _least(net_of_sealed, bar + asked.landed, 1e8)))
    if best is not Choice.SINGLES:
        found.append(Threshold(Choice.SINGLES, "landed_price", asked.landed + bar))
    return found


def _growth_for(wanted: float, sealed: SealedPlan, net_of_sealed: Callable[[float], float]) -> float | None:
    """The yearly growth at which the held box nets an amount; None past the most that is believed."""
    most = min((sealed.value or 0.0) * (1 + MOST_GROWTH) ** min(sealed.years, 50.0), float(MOST_VALUE))
    value = _least(net_of_sealed, wanted, most)
    if value is None or not sealed.value:
        return None
    return float((value / sealed.value) ** (1 / sealed.years) - 1)


def _least(
    net: Callable[[float], float], wanted: float, most: float, halvings: int = 100, least: float = 0.0
) -> float | None:
    """The least market price, or factor, that nets an amount, by bisection; None if even ``most`` does not."""
    if net(most) < wanted:
        return None
    low, high = least, most
    for _ in range(halvings):
        middle = (low + high) / 2
        low, high = (low, middle) if net(middle) >= wanted else (middle, high)
    return high


_WORDS = {
    Choice.OPEN: "open it",
    Choice.SELL_SEALED: "sell it sealed now",
    Choice.HOLD: "keep it sealed",
    Choice.SINGLES: "buy the cards you want singly",
}


def note_choices(sums: Sums, sealed: SealedPlan, currency: str) -> dict[Choice, str]:
    """What each sum rests on, in words. Rule C-11."""
    opened = "no price"
    if sums.open_loss is not None:
        opened = f"on average; loses in {_percent(sums.open_loss)}"
    singles = "nothing marked as wanted: leave the box"
    if sums.singles_cost > 0:
        singles = f"costs {amount_words(sums.singles_cost, currency)}, and you have them all"
    return {
        Choice.OPEN: opened,
        Choice.SELL_SEALED: "what it nets today, less what it costs",
        Choice.HOLD: f"in {sealed.years:g} years, if it grows as you say",
        Choice.SINGLES: singles,
    }


def state_choice(sums: Sums, value: BoxValue, asked: Asked, sealed: SealedPlan) -> Verdict:
    """Which choice wins under these assumptions, the chance of a loss first. Rule C-11."""
    currency = value.valuation.sheet.currency

    def amount(figure: float) -> str:
        return f"{Money.from_estimate(figure, currency).amount:+,}".replace("-", "\u2212")

    ground = [Run(basis_words(value.valuation.worth, currency), "basis")]
    if sealed.value is not None:
        growth = f"{sealed.growth * 100:+g} %".replace("-", "\u2212")
        ground.append(Run(f"; the sealed box grows by {growth} a year for {sealed.years:g} years"))
    ground += [Run(". "), *guessed(value.valuation), Run("Estimates, not advice.")]
    if asked.outlay is None or sums.open is None or sums.open_loss is None:
        sentence = [
            Run("Give today’s price", "price", True),
            Run(" to weigh opening, holding and buying singly."),
        ]
        return Verdict(tuple(sentence), tuple(ground))
    loses = often("loses", sums.open_loss, "time", "times", "loss", value.lower_bound)
    start = [Run("Opening it "), *loses, Run(f" ({amount(sums.open)} on average). ")]
    words = _WORDS[sums.best]
    if sums.best is Choice.SINGLES and sums.singles_cost == 0:
        words = "leave it; nothing earns more than not buying"
    gain = {Choice.OPEN: sums.open, Choice.SELL_SEALED: sums.sell_sealed, Choice.HOLD: sums.hold}.get(sums.best)
    end = Run("." if gain is None else f": {amount(gain)}.")
    best = Run(words, "best", True)
    return Verdict((*start, Run("Better: "), best, end), tuple(ground))
