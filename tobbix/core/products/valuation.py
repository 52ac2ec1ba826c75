"""What a pack, a box, several boxes or a case are worth: expected value and whole distribution (C-02 to C-04)."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import reduce
from operator import add
from typing import TypeVar

import numpy as np

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Assumed, LeftOut, Matter
from tobbix.core.maths.compound import distribute
from tobbix.core.maths.distribution import Distribution
from tobbix.core.maths.severity import Array, Severity
from tobbix.core.maths.transforms import Element
from tobbix.core.products.assuming import NOTHING_ASSUMED, Assumptions, assume
from tobbix.core.products.prices import Drawn, LineValue, value_line
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.slots import BoxModel, build_box_model
from tobbix.core.products.totals import Leaf, Totals
from tobbix.core.products.worth import GROSS, Worth, mix_unsold, value_draw

_T = TypeVar("_T", bound=Element)

_NOTHING = Severity(np.zeros(1), np.ones(1))
MOST_BOXES = 1_000
_ONCE = 0.02  # expected copies below which a second one does not matter
_MOST_APART = 5


class Bound(StrEnum):
    """How unknown prices and splits count (Rule C-01).

    ``MAIN``: prices at their line's mean, an unknown split all on its cheapest line. ``LOW``: prices at the lowest
    known instead. ``HIGH``: an unknown split all on its dearest line instead.
    """

    MAIN = "main"
    LOW = "low"
    HIGH = "high"


class Unit(StrEnum):
    """What is being valued."""

    PACK = "pack"
    BOXES = "boxes"


@dataclass(frozen=True, slots=True)
class Holding:
    """One pack of a kind (``pack``, an index), or a number of boxes. A loose pack is believed to have been ``searched``
    with that chance: its hits are gone then (Rule C-07)."""

    unit: Unit
    boxes: int = 1
    pack: int = 0
    searched: float = 0.0


ONE_BOX = Holding(Unit.BOXES)


@dataclass(frozen=True, slots=True)
class LineShare:
    """A line's part in the expected value (C-03). ``value`` is None if it is not known; then it is left out."""

    line: str
    name: str
    cards: int
    hits: float
    value: float | None


@dataclass(frozen=True, slots=True)
class CardShare:
    """A card's part in the expected value (C-03).

    ``copies`` expected, the market ``price`` of one, what one is ``worth`` by the basis, ``value`` of them together.
    """

    line: str
    line_name: str
    number: str
    subject: str
    copies: float
    price: float
    worth: float
    value: float
    assumed: bool


@dataclass(frozen=True, eq=False)
class Valuation:
    """A format's model with its lines valued: what every figure about it is computed from.

    ``stated`` is the model before an unknown split was put on a line, ``owner_assumed`` what the owner assumes.
    """

    sheet: ProductSheet
    format: Format
    model: BoxModel
    stated: BoxModel
    lines: Mapping[str, LineValue]
    bound: Bound
    worth: Worth
    owner_assumed: tuple[Assumed, ...] = ()

    def drawn(self, line: str) -> Drawn | None:
        """A hit of a line by the bound that is asked for; None if nothing is known of its value."""
        value = self.lines[line]
        return value.low if self.bound is Bound.LOW else value.high

    def severity(self, line: str) -> Severity | None:
        drawn = self.drawn(line)
        return None if drawn is None else drawn.severity

    def mean_of(self, line: str) -> float | None:
        severity = self.severity(line)
        return None if severity is None else severity.mean

    @property
    def assumed(self) -> tuple[Assumed, ...]:
        """What counts at an assumed value, of lines that this format can hold (Rule C-01)."""
        values = tuple(a for line in self.model.hits_per_box() if (a := self.lines[line].assumed) is not None)
        return values + self.owner_assumed

    @property
    def undecided(self) -> bool:
        """Whether some guarantee's split is unknown, so that a high bound differs."""
        return any(guarantee.undecided for guarantee in self.stated.guarantees)

    def left_out(self, boxes: int = 1) -> tuple[LeftOut, ...]:
        """What is unknown and therefore not in the number. If there is any, the number is a lower bound."""
        names = {line.id: line.name for line in self.sheet.lines}
        out = [LeftOut(Matter.ODDS, line, names[line], None, why) for line, why in self.model.unstated]
        for line, hits in self.model.hits_per_box().items():
            if hits > 0 and self.severity(line) is None:
                why = "fewer than half of its cards have a price" if self.lines[line].versions else "it lists no cards"
                out.append(LeftOut(Matter.PRICE, line, names[line], hits * boxes, why))
        for guarantee in self.stated.guarantees:
            if guarantee.undecided:
                together = " and ".join(names[line] for line in guarantee.undecided)
                hits = guarantee.rest * self.model.per_box(guarantee) * boxes
                count_as = "dearest" if self.bound is Bound.HIGH else "cheapest"
                why = f"how they split is not known; all count as the {count_as} of them"
                out.append(LeftOut(Matter.SPLIT, guarantee.undecided[0], together, hits, why))
        return tuple(out)


def value_format(
    sheet: ProductSheet,
    format_id: str,
    bound: Bound = Bound.MAIN,
    worth: Worth = GROSS,
    assumptions: Assumptions = NOTHING_ASSUMED,
) -> Valuation:
    """Value the lines of a format. Rules C-01 and C-02.

    ``bound`` says how unknown prices and splits count, ``worth`` what a pull is worth, ``assumptions`` what the owner
    assumes where the sheet says nothing.
    Raises InputError for an unknown format, or one that the slot model refuses (see ``build_box_model``).
    """
    if format_id not in sheet.format_by_id:
        raise InputError.at("format", f"the sheet has no format “{format_id}”; it has {', '.join(sheet.format_by_id)}")
    sheet, owner_assumed = assume(sheet, format_id, assumptions)
    fmt = sheet.format_by_id[format_id]
    model = build_box_model(sheet, fmt)
    needed = {model.base, *model.rates, *(line for g in model.guarantees for line, _ in g.shares)}
    needed.update(line for guarantee in model.guarantees for line in guarantee.undecided)
    values = dict(assumptions.values)
    lines = {line.id: value_line(sheet, line, worth, values.get(line.id)) for line in sheet.lines if line.id in needed}
    valuation = Valuation(sheet, fmt, model, model, lines, bound, worth, owner_assumed)

    def mean(line: str) -> float:
        known = valuation.mean_of(line)
        return -1.0 if known is None else known

    choose = max if bound is Bound.HIGH else min
    guarantees = tuple(g.decided(choose(g.undecided, key=mean)) if g.undecided else g for g in model.guarantees)
    return replace(valuation, model=replace(model, guarantees=guarantees))


def deepen(valuation: Valuation, boxes: int) -> Valuation:
    """The valuation where further copies of a card sell for less, as ``boxes`` boxes bring them. Rule C-02 (depth).

    Each card is worth the average over its copies, so that the mean is exact; the spread comes from a simulation.
    """
    depth = valuation.worth.horizon.depth
    if depth <= 0:
        return valuation
    hits = valuation.model.hits_per_box()
    lines = dict(valuation.lines)
    for line, value in valuation.lines.items():
        drawn = valuation.drawn(line)
        if drawn is None or not value.versions or hits.get(line, 0.0) <= 0:
            continue
        at_least = _copies_at_least(valuation.model, line, value.shares, boxes)
        prices = value.prices if valuation.bound is not Bound.LOW else _low_prices(value)
        fallen = prices[:, None] * (1 - depth) ** np.arange(at_least.shape[1])
        total = at_least.sum(axis=1)
        values = np.where(
            total > 0, (valuation.worth.of(fallen) * at_least).sum(axis=1) / np.maximum(total, 1e-300), drawn.each
        )
        deeper = Drawn(*mix_unsold(values, value.shares, valuation.worth, line))
        lines[line] = replace(value, high=deeper, low=deeper)
    return replace(valuation, lines=lines)


def _low_prices(value: LineValue) -> Array:
    unknown = np.array([version.price is None for version in value.versions])
    lowest = value.assumed.low if value.assumed is not None else 0.0
    return np.where(unknown, lowest, value.prices)


def _copies_at_least(model: BoxModel, line: str, shares: Array, boxes: int) -> Array:
    """P(at least k copies of each card) for k = 1, 2, ... (shape (cards, ks)), from the copies' generating function."""
    kinds, kind_of = np.unique(np.round(shares, 12), return_inverse=True)
    most = float(kinds.max()) * model.hits_per_box()[line] * boxes
    points = int(2 ** np.ceil(np.log2(most + 12 * most**0.5 + 24)))
    turn = np.exp(-2j * np.pi * np.arange(points) / points)
    nothing = np.ones((kinds.size, points), np.complex128)
    marked = 1 - kinds[:, None] * (1 - turn)
    function = Totals(model, lambda item: marked if item == line else nothing, nothing).boxes(boxes)
    chances = np.maximum(np.fft.ifft(function, axis=1).real, 0.0)
    at_least = np.cumsum(chances[:, ::-1], axis=1)[:, ::-1][:, 1:]
    return np.asarray(at_least[kind_of])


def share_by_line(valuation: Valuation, boxes: int = 1) -> tuple[LineShare, ...]:
    """Expected hits and value by line, in the order of the sheet, for ``boxes`` boxes. Rule C-03.

    Values count usable packs only; hits are those that the odds put in.
    """
    hits = valuation.model.hits_per_box()
    usable = float(valuation.format.usable)
    shares = []
    for line in valuation.sheet.lines:
        if line.id in hits:
            mean = valuation.mean_of(line.id)
            value = None if mean is None else hits[line.id] * boxes * usable * mean
            cards = len(valuation.lines[line.id].versions)
            shares.append(LineShare(line.id, line.name, cards, hits[line.id] * boxes, value))
    return tuple(shares)


def share_by_card(valuation: Valuation, boxes: int = 1) -> tuple[CardShare, ...]:
    """Expected copies and value of every card, those that carry most first. Rule C-03."""
    usable = float(valuation.format.usable)
    shares = []
    for line, hits in valuation.model.hits_per_box().items():
        drawn, value = valuation.drawn(line), valuation.lines[line]
        if drawn is None or not value.versions:
            continue
        prices = value.prices if valuation.bound is not Bound.LOW else _low_prices(value)
        copies = value.shares * hits * boxes
        carried = copies * drawn.each * usable
        shares += [
            CardShare(
                line, value.name, v.number, v.subject,
                float(copies[i]), float(prices[i]), float(drawn.each[i]), float(carried[i]), v.price is None,
            )
            for i, v in enumerate(value.versions)
        ]  # fmt: skip
    return tuple(sorted(shares, key=lambda card: -card.value))


def expected_value(valuation: Valuation, boxes: int = 1) -> float:
    """Expected value of ``boxes`` boxes, unknown parts left out (money). Rule C-03."""
    return sum(share.value for share in share_by_line(valuation, boxes) if share.value is not None)


def value_distribution(valuation: Valuation, holding: Holding = ONE_BOX, step: float | None = None) -> Distribution:
    """The distribution of what a holding is worth. Rule C-04.

    ``step`` (money) replaces the chosen grid step. Raises InputError for a number of boxes outside 1 to 1,000.
    """
    if not 1 <= holding.boxes <= MOST_BOXES:
        raise InputError.at("boxes", f"give a whole number of boxes from 1 to {MOST_BOXES:,}")
    if not 0 <= holding.pack < len(valuation.model.packs):
        raise InputError.at("pack", "the format has no such pack")
    if not 0 <= holding.searched <= 1:
        raise InputError.at("searched", "a share is from 0 to 1, or 0 % to 100 %")
    severities = {line: valuation.severity(line) or _NOTHING for line in valuation.lines}

    def compose(leaf: Callable[[Severity], _T]) -> _T:
        return _total(valuation.model, holding, lambda line: leaf(severities[line]), leaf(_NOTHING))

    return distribute([*severities.values(), _NOTHING], compose, step)


@dataclass(frozen=True, slots=True)
class FirstCopy:
    """A card of which the first copy counts for ``value`` (money): it is wanted, and so much would it cost to buy."""

    line: str
    number: str
    value: float


def chance_of_copy(valuation: Valuation, line: str, number: str) -> float:
    """The chance that a box holds at least one copy of a card; 0 where the format does not hold it. Rule C-08."""
    value = valuation.lines.get(line)
    shares = (
        [] if value is None else [s for v, s in zip(value.versions, value.shares, strict=True) if v.number == number]
    )
    if not shares:
        return 0.0
    return 1 - Totals(valuation.model, lambda drawn: 1.0 - float(shares[0]) * (drawn == line), 1.0).boxes(1)


def worth_of_copy(valuation: Valuation, line: str, number: str) -> float:
    """What a copy of a card is worth by the basis (money); 0 where nothing is known of its line."""
    drawn, at = valuation.drawn(line), valuation.lines[line].place_of(number)
    return 0.0 if drawn is None or at is None else float(drawn.each[at])


def revalue_first_copies(valuation: Valuation, firsts: Sequence[FirstCopy]) -> Distribution:
    """The distribution of what a box is worth where the first copy of some cards counts for another amount, a further
    one for what it is worth by the basis. Rules C-04 and C-11.

    Of the few that may well come twice that is exact; of rarer ones every copy counts as the first.
    Raises InputError for a card that the format does not hold.
    """
    hits = valuation.model.hits_per_box()
    parts: dict[str, list[tuple[Severity, float]]] = {
        line: [(valuation.severity(line) or _NOTHING, 1.0)] for line in valuation.lines
    }
    wanted: dict[str, list[tuple[int, FirstCopy]]] = {}
    for first in firsts:
        numbers = [version.number for version in valuation.lines[first.line].versions] if first.line in parts else []
        if first.number not in numbers:
            raise InputError.at(
                "number", f"this format holds no card {first.number[:60]} of a line “{first.line[:60]}”"
            )
        wanted.setdefault(first.line, []).append((numbers.index(first.number), first))

    def copies(line: str, at: int) -> float:
        return float(hits.get(line, 0.0) * valuation.lines[line].shares[at])

    often = sorted((-copies(line, at), line, at) for line, some in wanted.items() for at, _ in some)[:_MOST_APART]
    apart = {(line, at) for less, line, at in often if -less > _ONCE}
    for line, some in wanted.items():
        value, drawn = valuation.lines[line], valuation.drawn(line)
        places = [at for at, _ in some]
        others = np.ones(value.shares.size, np.bool_)
        others[places] = False
        parts[line] = []
        rest = float(value.shares[others].sum())
        if rest > 0:
            prices = value.prices if valuation.bound is not Bound.LOW else _low_prices(value)
            left = _NOTHING
            if drawn is not None and valuation.worth.horizon.depth > 0:  # averages over its copies already
                left = Severity(drawn.each[others], value.shares[others] / rest)
            elif drawn is not None:
                left = value_draw(prices[others], value.shares[others] / rest, valuation.worth, line)[0]
            parts[line].append((left, rest))
        for at, first in some:
            again = first.value if drawn is None or (line, at) not in apart else float(drawn.each[at])
            once = first.value if (line, at) in apart else None
            parts[line].append((Severity(np.array([again]), np.ones(1), once), float(value.shares[at])))

    def compose(leaf: Callable[[Severity], _T]) -> _T:
        def drawn_of(line: str) -> _T:
            return reduce(add, (leaf(severity) * share for severity, share in parts[line]))

        return _total(valuation.model, ONE_BOX, drawn_of, leaf(_NOTHING))

    return distribute([severity for some in parts.values() for severity, _ in some] + [_NOTHING], compose)


def _total(model: BoxModel, holding: Holding, leaf: Leaf[_T], one: _T) -> _T:
    totals = Totals(model, leaf, one)
    if holding.unit is not Unit.PACK:
        return totals.boxes(holding.boxes)
    if holding.searched <= 0:
        return totals.pack(holding.pack)
    return (
        totals.pack(holding.pack) * (1 - holding.searched) + totals.pack_without_hits(holding.pack) * holding.searched
    )
