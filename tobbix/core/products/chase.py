"""Chasing a card, a line, or any of a few cards: how many packs or boxes it takes, and what it costs (Rule C-08).

The chance of no copy is the generating function of the box (``totals``) with, for each line, the chance that one of
its hits is not a target: exact with guarantees, cases and bricked packs, where boxes are not independent.

Example: one in three boxes. Three boxes do not make it sure: 1 - (2/3)^3 = 70.4 %.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil, log, log1p

from tobbix.core.base.errors import InputError
from tobbix.core.products.prices import VersionPrice
from tobbix.core.products.totals import Totals
from tobbix.core.products.valuation import Valuation, expected_value

CHANCES = (0.5, 0.75, 0.9, 0.95)
_MOST = 10_000_000
_CURVE_POINTS = 60


@dataclass(frozen=True, slots=True)
class Target:
    """What is chased: some cards of a line by number, or the whole line if ``numbers`` is None."""

    line: str
    numbers: frozenset[str] | None = None


@dataclass(frozen=True, slots=True)
class Needed:
    """The fewest packs and boxes with which at least one copy comes with ``chance``; None past ten million."""

    chance: float
    packs: int | None
    boxes: int | None


@dataclass(frozen=True, slots=True)
class Chase:
    """What a chase takes. Money is per box price ``price``; None where a price or value is not known.

    ``per_box`` expected copies; ``single`` the cheapest target to buy instead; ``long_run`` the net spend per copy
    if one goes on for ever; ``until_first`` the expected net spend until the first copy.
    """

    per_box: float
    first_box: float
    needed: tuple[Needed, ...]
    curve: tuple[tuple[int, float], ...]
    boxes_until_first: float
    single: float | None
    price: float | None
    long_run: float | None
    until_first: float | None


def find_chase(valuation: Valuation, target: Target, price: float | None) -> Chase:
    """What it takes to pull a target from boxes at a landed ``price`` each (money). Rule C-08.

    Raises InputError for a target that the format cannot hold.
    """
    share, versions = _share(valuation, target)
    model = valuation.model
    totals = Totals(model, lambda line: 1.0 - share if line == target.line else 1.0, 1.0)
    usable = float(valuation.format.usable)
    per_box = model.hits_per_box().get(target.line, 0.0) * share * usable
    if per_box <= 0:
        raise InputError.at("line", "this format does not hold it, as far as the odds are known")
    none_in_pack = totals.pack(0)
    boxes_until_first = _boxes_until_first(valuation, totals.boxes)
    needed = tuple(
        Needed(chance, _fewest_packs(none_in_pack, chance), _fewest(totals.boxes, chance)) for chance in CHANCES
    )
    last = needed[-1].boxes or _MOST
    steps = sorted({round(last * i / _CURVE_POINTS) for i in range(1, _CURVE_POINTS + 1)} - {0})
    prices = [float(version.price) for version in versions if version.price is not None]
    single = min(prices) if prices and len(prices) == len(versions) else None
    own = _value_of_targets(valuation, target)
    loss_per_box = None if price is None or own is None else price - (expected_value(valuation) - own)
    return Chase(
        per_box,
        1 - totals.boxes(1),
        needed,
        tuple((count, 1 - totals.boxes(count)) for count in steps),
        boxes_until_first,
        single,
        price,
        None if loss_per_box is None else loss_per_box / per_box,
        None if loss_per_box is None else loss_per_box * boxes_until_first,
    )


def _share(valuation: Valuation, target: Target) -> tuple[float, Sequence[VersionPrice]]:
    """The chance that a hit of the line is a target, and the targets."""
    line = valuation.lines.get(target.line)
    if line is None or not line.versions:
        raise InputError.at("line", f"this format holds no cards of a line “{target.line[:60]}”")
    wanted = target.numbers
    chosen = [i for i, version in enumerate(line.versions) if wanted is None or version.number in wanted]
    if wanted is not None and len(chosen) < len(wanted):
        missing = sorted(wanted - {version.number for version in line.versions})
        raise InputError.at("number", f"{line.name} has no card {', '.join(missing)[:100]}")
    share = 1.0 if wanted is None else float(line.shares[chosen].sum())
    return share, [line.versions[i] for i in chosen]


def _value_of_targets(valuation: Valuation, target: Target) -> float | None:
    """What the targets add to the expected value of a box (money)."""
    severity, line = valuation.severity(target.line), valuation.lines[target.line]
    if severity is None:
        return None
    hits = valuation.model.hits_per_box()[target.line] * float(valuation.format.usable)
    carried = line.shares * severity.values * hits
    wanted = target.numbers
    return float(sum(carried[i] for i, v in enumerate(line.versions) if wanted is None or v.number in wanted))


def _boxes_until_first(valuation: Valuation, none_in: Callable[[int], float]) -> float:
    """Expected boxes until the first copy: the sum of the chances of none yet, case by case."""
    per_case = valuation.format.boxes_per_case or 1
    return sum(none_in(count) for count in range(per_case)) / (1 - none_in(per_case))


def _fewest_packs(none_in_one: float, chance: float) -> int | None:
    if none_in_one <= 0:
        return 1
    count = ceil(log1p(-chance) / log(none_in_one) - 1e-9)
    return max(count, 1) if count <= _MOST else None


def _fewest(none_in: Callable[[int], float], chance: float) -> int | None:
    """The least count with 1 - none_in(count) >= chance; ``none_in`` falls."""
    limit = 1 - chance + 1e-12
    high = 1
    while none_in(high) > limit:
        high *= 2
        if high > _MOST:
            return None
    low = high // 2
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if none_in(middle) <= limit else (middle, high)
    return high
