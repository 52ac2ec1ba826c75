"""Chasing a card, a line, or any of a few cards: how many packs or boxes it takes, and what it costs (Rule C-08).

The chance of no copy is the generating function of the box (``totals``) with, for each line, the chance that one of
its hits is not a target: exact with guarantees, cases and bricked packs, where boxes are not independent.

Example: one in three boxes. Three boxes do not make it sure: 1 - (2/3)^3 = 70.4 %.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil, log, log1p

from tobbix.core.base.errors import InputError
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


def parse_targets(text: str) -> tuple[Target, ...]:
    """Targets as written in an address: ``line`` or ``line:number,number``, separated by semicolons.

    >>> parse_targets("hand; fog:FS1,FS2")[0]
    Target(line='hand', numbers=None)
    """
    targets = []
    for part in text.split(";"):
        line, _, numbers = part.strip().partition(":")
        chosen = frozenset(number.strip() for number in numbers.split(",") if number.strip())
        if line:
            targets.append(Target(line.strip(), chosen or None))
    return tuple(targets)


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


def find_chase(valuation: Valuation, targets: Sequence[Target], price: float | None) -> Chase:
    """What it takes to pull any of the targets from boxes at a landed ``price`` each (money). Rule C-08.

    Raises InputError for a target that the format cannot hold.
    """
    wanted = [_find_wanted(valuation, target) for target in targets]
    if not wanted:
        raise InputError.at("line", "say which card or line is chased")
    shares = {item.line: item.share for item in wanted}
    if len(shares) < len(wanted):
        raise InputError.at("line", "a line is named twice; name its cards together")
    model = valuation.model
    totals = Totals(model, lambda line: 1.0 - shares.get(line, 0.0), 1.0)
    usable = float(valuation.format.usable)
    hits = model.hits_per_box()
    per_box = sum(hits.get(line, 0.0) * share for line, share in shares.items()) * usable
    if per_box <= 0:
        raise InputError.at("line", "this format does not hold it, as far as the odds are known")
    none_in_pack = totals.pack(0)
    boxes_until_first = _boxes_until_first(valuation, totals.boxes)
    needed = tuple(
        Needed(chance, _fewest_packs(none_in_pack, chance), _fewest(totals.boxes, chance)) for chance in CHANCES
    )
    last = needed[-1].boxes or _MOST
    steps = sorted({round(last * i / _CURVE_POINTS) for i in range(1, _CURVE_POINTS + 1)} - {0})
    singles = [item.cheapest for item in wanted if item.cheapest is not None]
    owns = [item.carried for item in wanted if item.carried is not None]
    loss_per_box = None
    if price is not None and len(owns) == len(wanted):
        loss_per_box = price - (expected_value(valuation) - sum(owns))
    return Chase(
        per_box,
        1 - totals.boxes(1),
        needed,
        tuple((count, 1 - totals.boxes(count)) for count in steps),
        boxes_until_first,
        min(singles) if len(singles) == len(wanted) else None,
        price,
        None if loss_per_box is None else loss_per_box / per_box,
        None if loss_per_box is None else loss_per_box * boxes_until_first,
    )


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A target worked out: the chance that a hit of the line is one, the market price of the cheapest, and what they
    add to the value of a box (money); None if not known."""

    line: str
    share: float
    cheapest: float | None
    carried: float | None


def _find_wanted(valuation: Valuation, target: Target) -> _Wanted:
    line = valuation.lines.get(target.line)
    if line is None or not line.versions:
        raise InputError.at("line", f"this format holds no cards of a line “{target.line[:60]}”")
    wanted = target.numbers
    chosen = [i for i, version in enumerate(line.versions) if wanted is None or version.number in wanted]
    if wanted is not None and len(chosen) < len(wanted):
        missing = sorted(wanted - {version.number for version in line.versions})
        raise InputError.at("number", f"{line.name} has no card {', '.join(missing)[:100]}")
    prices = [float(price) for i in chosen if (price := line.versions[i].price) is not None]
    drawn = valuation.drawn(target.line)
    carried = None
    if drawn is not None:
        hits = valuation.model.hits_per_box().get(target.line, 0.0) * float(valuation.format.usable)
        carried = float(line.shares[chosen] @ drawn.each[chosen]) * hits
    share = 1.0 if wanted is None else float(line.shares[chosen].sum())
    return _Wanted(target.line, share, min(prices) if len(prices) == len(chosen) else None, carried)


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
