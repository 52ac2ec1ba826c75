"""Chasing a card, a line, or any of a few cards: how many packs or boxes it takes, and what it costs (Rule C-08).

The chance of no copy is the generating function of the box (``totals``) with, for each line, the chance that one of
its hits is not a target: exact with guarantees, cases and bricked packs, where boxes are not independent.

Example: one in three boxes. Three boxes do not make it sure: 1 - (2/3)^3 = 70.4 %.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import ceil, log, log1p

from tobbix.core.base.errors import InputError
from tobbix.core.maths.transforms import Series
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
    """The fewest loose packs and boxes with which at least one copy comes with ``chance``; None past ten million.
    ``reached`` is the chance that so many boxes have."""

    chance: float
    packs: int | None
    boxes: int | None
    reached: float | None


@dataclass(frozen=True, slots=True)
class Chase:
    """What a chase takes. Money is per box price ``price``; None where a price or value is not known.

    ``per_box`` expected copies; ``single`` the cheapest target to buy instead; ``long_run`` the net spend per copy
    if one goes on for ever; ``until_first`` the expected net spend until the first copy. Packs are loose ones of the
    kind ``pack`` (an index), which can hold it; ``of_one_box`` the chance with so many of the packs of one box.
    """

    per_box: float
    first_box: float
    pack: int
    of_one_box: tuple[tuple[int, float], ...]
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
    nones = [totals.pack(kind) for kind in range(len(model.packs))]
    kind = min(range(len(nones)), key=lambda at: nones[at])  # of the kinds that can hold it, the likeliest
    of_one_box = tuple(
        (count, 1 - totals.some_packs(tuple(count * (at == kind) for at in range(len(nones)))))
        for count in range(1, model.packs[kind].count + 1)
    )
    boxes_until_first = _boxes_until_first(valuation, totals.boxes)
    needed = tuple(_needed(chance, nones[kind], totals.boxes) for chance in CHANCES)
    last = needed[-1].boxes or _MOST
    steps = sorted({round(last * i / _CURVE_POINTS) for i in range(1, _CURVE_POINTS + 1)} - {0})
    singles = [item.cheapest for item in wanted if item.cheapest is not None]
    owns = [item.carried for item in wanted if item.carried is not None]
    loss_per_box = until_first = None
    if price is not None and len(owns) == len(wanted):
        loss_per_box = price - (expected_value(valuation) - sum(owns))
        until_first = price * boxes_until_first - _met_until_first(valuation, shares, wanted)
    return Chase(
        per_box,
        1 - totals.boxes(1),
        kind,
        of_one_box,
        needed,
        tuple((count, 1 - totals.boxes(count)) for count in steps),
        boxes_until_first,
        min(singles) if len(singles) == len(wanted) else None,
        price,
        None if loss_per_box is None else loss_per_box / per_box,
        until_first,
    )


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A target worked out: the chance that a hit of the line is one, the market price of the cheapest, what they add
    to the value of a box, and what one of them is worth on average (money); None if not known."""

    line: str
    share: float
    cheapest: float | None
    carried: float | None
    each: float | None


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
    carried = each = None
    share = 1.0 if wanted is None else float(line.shares[chosen].sum())
    if drawn is not None:
        each = float(line.shares[chosen] @ drawn.each[chosen]) / share
        hits = valuation.model.hits_per_box().get(target.line, 0.0) * float(valuation.format.usable)
        carried = float(line.shares[chosen] @ drawn.each[chosen]) * hits
    return _Wanted(target.line, share, min(prices) if len(prices) == len(chosen) else None, carried, each)


def _needed(chance: float, none_in_pack: float, none_in: Callable[[int], float]) -> Needed:
    boxes = _fewest(none_in, chance)
    return Needed(chance, _fewest_packs(none_in_pack, chance), boxes, None if boxes is None else 1 - none_in(boxes))


def _boxes_until_first(valuation: Valuation, none_in: Callable[[int], float]) -> float:
    """Expected boxes until the first copy: the sum of the chances of none yet, case by case."""
    per_case = valuation.format.boxes_per_case or 1
    return sum(none_in(count) for count in range(per_case)) / (1 - none_in(per_case))


class _Met:
    """What boxes hold beside what is chased: the chance ``none`` of no target, and of what else there is the ``mean``
    (money), over all ways to draw them."""

    __slots__ = ("mass", "mean", "none")

    def __init__(self, none: float, mass: float, mean: float) -> None:
        self.none, self.mass, self.mean = none, mass, mean

    def __mul__(self, other: "_Met | float") -> "_Met":
        if not isinstance(other, _Met):
            return _Met(self.none * other, self.mass * other, self.mean * other)
        return _Met(self.none * other.none, self.mass * other.mass, self.mass * other.mean + self.mean * other.mass)

    def __add__(self, other: "_Met") -> "_Met":
        return _Met(self.none + other.none, self.mass + other.mass, self.mean + other.mean)


def _met_until_first(valuation: Valuation, shares: Mapping[str, float], wanted: Sequence["_Wanted"]) -> float:
    """The expected value of all else that is met until the first copy comes (money).

    Boxes of one case are not independent: those without a copy so far make what shares its guarantee likelier. By the
    symmetry of a case's boxes, the value of the n-th one where none came before is 1/n of the sum over n boxes of the
    value of one where none came in the others, which is a derivative of the case's generating function.
    """
    each = {item.line: item.each for item in wanted}

    def leaf(line: str) -> _Met:
        mean = valuation.mean_of(line) or 0.0
        return _Met(1.0 - shares.get(line, 0.0), 1.0, mean - shares.get(line, 0.0) * (each.get(line) or 0.0))

    totals = Totals(valuation.model, leaf, _Met(1.0, 1.0, 0.0))

    def value_where_none_came_before(count: int) -> float:
        found = totals.boxes_as(count, lambda box: Series(box.none, box.mean), Series(1.0))
        return found.mean / count

    per_case = valuation.format.boxes_per_case or 1
    none = totals.boxes(per_case).none
    return sum(value_where_none_came_before(count) for count in range(1, per_case + 1)) / (1 - none)


def _fewest_packs(none_in_one: float, chance: float) -> int | None:
    if none_in_one <= 0 or none_in_one >= 1:
        return 1 if none_in_one <= 0 else None
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
