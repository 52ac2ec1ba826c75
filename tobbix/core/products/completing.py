"""Completing a set from packs or boxes of a format: how many it takes, and where to buy the rest (Rule C-09)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tobbix.core.base.errors import InputError
from tobbix.core.maths import collecting
from tobbix.core.maths.collecting import Collected
from tobbix.core.maths.severity import Array
from tobbix.core.products.most_to_pay import NO_COSTS, BuyingCosts
from tobbix.core.products.sheet import LineKind
from tobbix.core.products.totals import Totals
from tobbix.core.products.valuation import Valuation, expected_value

_MOST_CLASSES = 3
_SIMULATED = 20_000
SEED = 2_009


class Way(StrEnum):
    """How the numbers were worked out."""

    EXACT = "exact"
    SIMULATED = "simulated"


@dataclass(frozen=True, slots=True)
class SetAim:
    """The set that is wanted: all cards of a ``line``, of which those with the numbers ``held`` are there already; or,
    with ``number``, the rainbow of that card of a base line: the card itself and each of its parallels, of which those
    of the lines ``held`` are there."""

    line: str
    number: str | None = None
    held: frozenset[str] = frozenset()


@dataclass(frozen=True, eq=False)
class Pieces:
    """The cards of a set in a format: of which line, with which chance among a hit of it, and what each is worth.

    ``buy`` what each costs to buy and ``worth`` what a spare copy brings (money; None where the line's value is not
    known), all of shape (cards,); ``held`` which of them are there from the start, of the same shape.
    """

    name: str
    lines: tuple[str, ...]
    labels: tuple[str, ...]
    shares: Array
    buy: Array | None
    worth: Array | None
    held: NDArray[np.bool_]
    missing_lines: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.lines)


@dataclass(frozen=True, slots=True)
class SetPoint:
    """After so many packs (or boxes): cards found, spares, the chance of all, and net cost with the rest bought."""

    packs: float
    found: float
    spares: float
    complete: float
    cost: float | None


@dataclass(frozen=True, eq=False)
class SetAnswer:
    """What it takes to complete a set. ``unit`` is what is counted, ``price`` of one (money, landed, None if unknown).

    ``stop`` is where buying the rest begins to be cheaper, None where nobody knows, or where each pack ``pays`` for
    itself and there is no such point; ``buy_all`` what all that is lacking costs to buy.
    ``short`` cards come less often than their mates. ``repeats`` whether a pack may hold a card twice.
    """

    pieces: Pieces
    unit: str
    price: float | None
    way: Way
    repeats: bool
    short: int
    mean: float
    error: float | None
    half: float | None
    nine_tenths: float | None
    curve: tuple[SetPoint, ...]
    buy_all: float | None
    stop: SetPoint | None
    pays: bool


def find_pieces(valuation: Valuation, aim: SetAim, singly: BuyingCosts = NO_COSTS) -> Pieces:
    """The cards of a set in a format; ``singly`` is what buying one costs beyond its price.

    Raises InputError for a set that the format does not hold.
    """
    sheet = valuation.sheet
    line = valuation.lines.get(aim.line)
    if line is None or not line.versions:
        raise InputError.at("line", f"this format holds no cards of a line “{aim.line[:60]}”")
    hits = valuation.model.hits_per_box()
    if aim.number is None:
        chosen = [(aim.line, i) for i in range(len(line.versions))]
        name, missing = f"all {len(chosen)} of {line.name}", list[str]()
        have = sum(version.number in aim.held for version in line.versions)
        if have == len(chosen):
            raise InputError.at("line", f"nothing of {line.name} is lacking: you hold all {have}")
        if have:
            name = f"{name}, of which you hold {have},"
    else:
        if sheet.line_by_id[aim.line].kind is not LineKind.BASE:
            raise InputError.at("line", "a rainbow begins with a card of the base")
        prints = [item for item in sheet.lines if item.id == aim.line or item.cards_of == aim.line]
        chosen, missing = [], []
        for item in prints:
            value = valuation.lines.get(item.id)
            at = None if value is None else next(
                (i for i, v in enumerate(value.versions) if v.number == aim.number), None
            )  # fmt: skip
            if at is not None and hits.get(item.id, 0.0) > 0:
                chosen.append((item.id, at))
            else:
                missing.append(item.name)
        subject = next((v.subject for v in line.versions if v.number == aim.number), None)
        if subject is None:
            raise InputError.at("number", f"{line.name} has no card {aim.number[:60]}")
        name = f"the rainbow of {subject}, {len(chosen)} cards"
        have = sum(item in aim.held for item, _ in chosen)
        if have == len(chosen) > 0:
            raise InputError.at("number", f"nothing of the rainbow of {subject} is lacking: you hold all {have}")
        if have:
            name = f"{name}, of which you hold {have},"
    if any(hits.get(item, 0.0) <= 0 for item, _ in chosen):
        raise InputError.at("line", "this format does not hold it, as far as the odds are known")
    names = [valuation.lines[i].versions[at].number if aim.number is None else i for i, at in chosen]
    drawn = [valuation.drawn(item) for item, _ in chosen]
    known = all(item is not None for item in drawn)
    return Pieces(
        name,
        tuple(item for item, _ in chosen),
        tuple(f"{valuation.lines[item].name} {valuation.lines[item].versions[at].number}" for item, at in chosen),
        np.array([valuation.lines[item].shares[at] for item, at in chosen]),
        np.array([singly.landed(float(valuation.lines[item].prices[at])) for item, at in chosen]) if known else None,
        np.array([d.each[at] for d, (_, at) in zip(drawn, chosen, strict=True) if d is not None]) if known else None,
        np.array([each in aim.held for each in names]),
        tuple(missing),
    )


def complete_set(
    valuation: Valuation,
    aim: SetAim,
    box_price: float | None,
    repeats: bool = False,
    singly: BuyingCosts = NO_COSTS,
) -> SetAnswer:
    """What it takes to complete a set. Rule C-09.

    ``box_price`` landed (money, None if unknown), ``singly`` what buying one card costs beyond its price. Packs are
    counted where they are alike, boxes where the format guarantees a line of the set or has several kinds of packs.
    ``repeats`` lets one pack hold a card twice; without it at most two weights can be followed exactly. Raises
    InputError for a set that the format does not hold.
    """
    pieces = find_pieces(valuation, aim, singly)
    by_box = counts_boxes(valuation, pieces)
    fmt = valuation.format
    if aim.number is not None:
        if len(pieces) > collecting.MOST_SUBSET_CARDS:
            raise InputError.at("number", f"a rainbow of more than {collecting.MOST_SUBSET_CARDS} cards is too long")
        lacking = np.nonzero(~pieces.held)[0]
        collected = collecting.collect_by_subsets(
            lacking.size, lambda subset: _none_of(valuation, pieces, lacking[list(subset)], by_box)
        )
        way, classes, repeats = Way.EXACT, np.maximum(np.cumsum(~pieces.held) - 1, 0), True
    else:
        kinds, classes, sizes = np.unique(np.round(pieces.shares, 12), return_inverse=True, return_counts=True)
        draws = draws_per_unit(valuation, aim.line, by_box)
        held = [int(pieces.held[classes == kind].sum()) for kind in range(kinds.size)]
        grouped = draws.size > 2 and not repeats and not by_box and kinds.size <= 2
        try:
            followed = _by_packs(sizes, kinds, draws, held) if grouped else None
            if followed is None:
                collected, way = _by_draws(pieces, kinds, sizes, draws, held)
                repeats = draws.size > 2
            else:
                collected, way = followed, Way.EXACT
        except ValueError as error:
            raise InputError.at("line", f"that set cannot be worked out: {error}") from None
    price = None if box_price is None else box_price / (1 if by_box else fmt.packs_per_box)
    return describe_set(valuation, pieces, collected, classes, way, repeats, price, by_box)


def _by_packs(sizes: NDArray[np.int_], kinds: Array, draws: Array, held: Sequence[int]) -> Collected | None:
    """Without repeats inside a pack, exactly; None where that takes more than a moment, and is simulated if asked."""
    try:
        return collecting.collect_by_packs(list(sizes), list(kinds), draws, distinct=True, held=held)
    except collecting.TooLong:
        return None


def _by_draws(
    pieces: Pieces, kinds: Array, sizes: NDArray[np.int_], draws: Array, held: Sequence[int]
) -> tuple[Collected, Way]:
    if kinds.size <= _MOST_CLASSES:
        chances = collecting.draws_to_complete([int(size) for size in sizes], [float(kind) for kind in kinds], held)
        return collecting.collect_by_draws(chances, kinds, draws), Way.EXACT
    runs = collecting.simulate_draws(pieces.shares, _SIMULATED, np.random.default_rng(SEED), held=pieces.held)
    chances = np.bincount(runs) / runs.size
    error = float(runs.std(ddof=1)) / runs.size**0.5
    return collecting.collect_by_draws(chances, kinds, draws, error), Way.SIMULATED


def simulate_set(
    valuation: Valuation, aim: SetAim, runs: int, random: np.random.Generator, progress: Callable[[int], None]
) -> SetAnswer:
    """The same without repeats inside a pack for any weights, simulated pack by pack. Rule C-09. Without costs."""
    pieces = find_pieces(valuation, aim)
    draws = draws_per_unit(valuation, aim.line, by_box=False)
    try:
        collected = collecting.simulate_packs(pieces.shares, draws, runs, random, progress, pieces.held)
    except ValueError as error:
        raise InputError.at("line", f"that set cannot be simulated: {error}") from None
    classes = np.arange(len(pieces))
    return describe_set(valuation, pieces, collected, classes, Way.SIMULATED, False, None, by_box=False)


def describe_set(
    valuation: Valuation,
    pieces: Pieces,
    collected: Collected,
    classes: NDArray[np.int_],
    way: Way,
    repeats: bool,
    price: float | None,
    by_box: bool,
) -> SetAnswer:
    """The curves of a collection: cards found, spare copies, the chance of all, and what it costs to stop there."""
    hits, usable = valuation.model.hits_per_box(), float(valuation.format.usable)
    per_unit = usable / (1 if by_box else valuation.format.packs_per_box)
    rates = np.array([hits[line] * share for line, share in zip(pieces.lines, pieces.shares, strict=True)]) * per_unit
    margin = None  # what one more pack costs once all is found
    if price is not None and pieces.buy is not None and pieces.worth is not None:
        margin = price - expected_value(valuation) * (1 if by_box else 1 / valuation.format.packs_per_box)

    def points_at(packs: Array, by_class: Array, complete: Array) -> list[SetPoint]:
        found = np.where(pieces.held[:, None], 1.0, by_class[np.asarray(classes)])
        spares = np.maximum(rates[:, None] * packs - (found - pieces.held[:, None]), 0.0)
        costs: list[float | None] = [None] * packs.size
        if margin is not None and pieces.buy is not None and pieces.worth is not None:
            other = margin + float(rates @ pieces.worth)  # the price less what else a pack holds
            costs = list((packs * other + pieces.buy @ (1 - found) - pieces.worth @ spares).tolist())
        rows = zip(packs, found.sum(axis=0), spares.sum(axis=0), complete, costs, strict=True)
        return [SetPoint(float(p), float(f), float(s), float(c), cost) for p, f, s, c, cost in rows]

    points = points_at(collected.packs, collected.found, collected.complete)
    stop = None
    if margin is not None and margin > 0:
        at = min(range(len(points)), key=lambda i: points[i].cost or 0.0)
        near = points[max(at - 1, 0) : at + 2]
        if collected.found_by is not None and collected.complete_by is not None:  # to the pack, between those listed
            packs = np.arange(near[0].packs, near[-1].packs + 1)
            complete = np.array([collected.complete_by(int(count)) for count in packs])
            near = points_at(packs, collected.found_by(packs), complete)
        stop = min(near, key=lambda point: point.cost or 0.0)
    return SetAnswer(
        pieces,
        "box" if by_box else "pack",
        price,
        way,
        repeats,
        int((pieces.shares < pieces.shares.max() - 1e-12).sum()) if len(set(pieces.lines)) == 1 else 0,
        collected.mean,
        collected.error,
        collected.packs_for(0.5),
        collected.packs_for(0.9),
        tuple(points),
        None if pieces.buy is None else float(pieces.buy[~pieces.held].sum()),
        stop,
        margin is not None and margin <= 0,
    )


def counts_boxes(valuation: Valuation, pieces: Pieces) -> bool:
    """Whether boxes are counted: packs are not alike, or a line of the set is guaranteed to a box."""
    guaranteed = {line for guarantee in valuation.model.guarantees for line, _ in guarantee.shares}
    return len(valuation.format.packs) > 1 or bool(guaranteed & set(pieces.lines))


def draws_per_unit(valuation: Valuation, line: str, by_box: bool) -> Array:
    """Chances of 0, 1, 2, ... cards of a line in a pack or box, from its generating function."""
    fmt = valuation.format
    points = 1 + (fmt.cards_per_box if by_box else max(pack.cards for pack in fmt.packs))
    turn = np.exp(-2j * np.pi * np.arange(points) / points)
    nothing = np.ones(points, np.complex128)
    totals = Totals(valuation.model, lambda item: turn if item == line else nothing, nothing)
    chances = np.fft.ifft(totals.boxes(1) if by_box else totals.pack(0)).real
    chances[chances < 1e-13] = 0.0
    last = int(np.nonzero(chances)[0][-1])
    return np.asarray(chances[: last + 1] / chances.sum())


def _none_of(valuation: Valuation, pieces: Pieces, subset: NDArray[np.int_], by_box: bool) -> float:
    """The chance that a pack (or box) holds none of some cards of the set."""
    shares: dict[str, float] = {}
    for piece in subset:
        shares[pieces.lines[piece]] = shares.get(pieces.lines[piece], 0.0) + float(pieces.shares[piece])
    totals = Totals(valuation.model, lambda line: 1.0 - shares.get(line, 0.0), 1.0)
    return totals.boxes(1) if by_box else totals.pack(0)
