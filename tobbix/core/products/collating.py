"""Boxes as they are packed: no card twice in a box, hits spread evenly over the packs (Rule C-05), by simulation.

The number of hits of each line comes from the slot model (``slots``), or, spread evenly, is the whole part of what is
expected and at random one more. The cards of a line are drawn by systematic sampling of fixed size: with n draws, card
i is taken with probability n w_i / sum(w), so that the mean stays C-03 (Madow 1949, "On the theory of systematic
sampling, II"). A card comes twice only where a box holds more draws of a line than that allows.

Every box has an order of its own for each line, drawn anew: one order for many boxes would make them alike. Errors are
judged between batches.

Example: ten cards, ten draws without repeats: the box holds each of them once, whatever the start.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tobbix.core.base.errors import InputError
from tobbix.core.maths.severity import Array
from tobbix.core.products.odds import Per
from tobbix.core.products.simulation import draw_sums
from tobbix.core.products.slots import GuaranteeModel, PackModel
from tobbix.core.products.valuation import Valuation

BATCH = 4_000
_ORDERED = 400_000  # places of cards put in order at once
Counts = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Collation:
    """How boxes are packed: ``no_repeats`` of a card within a box, ``even`` spread of the hits over the packs."""

    no_repeats: bool = True
    even: bool = False


@dataclass(frozen=True, slots=True)
class SimulatedFigures:
    """What simulated boxes show (money). Errors are standard errors, judged between batches; of one
    batch alone they are not known (None).

    ``quantiles`` by share; ``break_even`` the chance of at least the outlay asked about, None without one.
    """

    boxes: int
    mean: float
    mean_error: float | None
    deviation: float
    quantiles: tuple[tuple[float, float], ...]
    worst_tenth: float
    break_even: float | None
    break_even_error: float | None


def check_collation(valuation: Valuation, collation: Collation) -> None:
    """Refuse what cannot be packed so. Rule C-05.

    Raises InputError where a box holds, on average, more draws of a line than its most frequent card allows without
    repeats, or where evenly spread hits cannot all find a slot.
    """
    if collation.no_repeats:
        for line, hits in valuation.model.hits_per_box().items():
            value = valuation.lines[line]
            if value.versions and hits * float(value.shares.max()) > 1 + 1e-9:
                raise InputError.at(
                    "no_repeats",
                    f"a box holds {hits:.4g} cards of {value.name} on average, more than its {len(value.versions)} "
                    "cards allow without repeats",
                )
    if collation.even:
        most = sum(np.ceil(count - 1e-9) for count in valuation.model.rates.values())
        most += sum(-(-g.count // _boxes(valuation, g)) for g in valuation.model.guarantees)
        if most > valuation.format.cards_per_box:
            raise InputError.at("even", "the hits of all lines together can pass the cards of a box")


def _boxes(valuation: Valuation, guarantee: GuaranteeModel) -> int:
    return 1 if guarantee.per is Per.BOX else valuation.format.boxes_per_case or 1


def plan_batches(boxes: int, seed: int) -> list[tuple[int, np.random.SeedSequence]]:
    """Sizes of batches with a seed each: the same however they are shared out."""
    sizes = [BATCH] * (boxes // BATCH) + ([boxes % BATCH] if boxes % BATCH else [])
    return list(zip(sizes, np.random.SeedSequence(seed).spawn(len(sizes)), strict=True))


def simulate_batch(valuation: Valuation, boxes: int, collation: Collation, random: np.random.Generator) -> Array:
    """Values of boxes (money, shape (boxes,)). Rule C-05."""
    hits = dict(_count_hits(valuation, boxes, collation, random))
    totals = np.zeros(boxes)
    for line, counts in hits.items():
        drawn, value = valuation.drawn(line), valuation.lines[line]
        if drawn is None:
            continue
        if not collation.no_repeats or not value.versions:
            totals += draw_sums(drawn.severity, counts, random)
            continue
        sold, bulk = valuation.worth.sold(line), valuation.worth.bulk
        each = drawn.each
        if sold < 1:  # copies that do not sell are taken off at random before the cards are drawn
            unsold = random.binomial(counts, 1 - sold)
            totals += unsold * bulk
            counts = counts - unsold
            each = (each - (1 - sold) * bulk) / sold if sold > 0 else each
        totals += _draw_systematic(each, value.shares, counts, random)
    return totals


def simulate_depth(valuation: Valuation, boxes: int, samples: int, random: np.random.Generator) -> Array:
    """Values of ``samples`` lots of ``boxes`` boxes where each further copy of a card sells for less (money, shape
    (samples,)). Rule C-02. Of a guarantee per case, each box is taken from a case of its own."""
    depth, worth = valuation.worth.horizon.depth, valuation.worth
    totals = np.zeros(samples)
    for line, counts in _count_hits(valuation, samples * boxes, Collation(no_repeats=False), random):
        drawn, value = valuation.drawn(line), valuation.lines[line]
        count = counts.reshape(samples, boxes).sum(axis=1)
        if drawn is None:
            continue
        if not value.versions:
            totals += draw_sums(drawn.severity, count, random)
            continue
        sold = random.binomial(count, worth.sold(line))
        totals += (count - sold) * worth.bulk
        fallen = value.prices[:, None] * (1 - depth) ** np.arange(int(sold.max(initial=0)))
        brought = np.concatenate([np.zeros((value.shares.size, 1)), np.cumsum(worth.of(fallen), axis=1)], axis=1)
        for start in range(0, samples, max(_ORDERED // value.shares.size, 1)):
            some = slice(start, start + max(_ORDERED // value.shares.size, 1))
            copies = random.multinomial(sold[some], value.shares / value.shares.sum())
            totals[some] += brought[np.arange(value.shares.size), copies].sum(axis=1)
    return totals


def _count_hits(
    valuation: Valuation, boxes: int, collation: Collation, random: np.random.Generator
) -> Iterator[tuple[str, Counts]]:
    """How many usable cards of each line every box holds."""
    model, usable = valuation.model, float(valuation.format.usable)
    good = [
        random.binomial(pack.count, usable, boxes) if usable < 1 else np.full(boxes, pack.count) for pack in model.packs
    ]
    hits: dict[str, Counts] = {}
    base = sum(
        (packs * (pack.base_slots + len(pack.slots)) for packs, pack in zip(good, model.packs, strict=True)),
        np.zeros(boxes, np.int64),
    )

    def add(line: str, counts: Counts) -> None:
        nonlocal base
        hits[line] = hits.get(line, 0) + counts
        base = base - counts

    for packs, pack in zip(good, model.packs, strict=True):
        for line, counts in _average_hits(pack, packs, collation.even, random):
            add(line, counts)
    for guarantee in model.guarantees:
        whole, spare = divmod(guarantee.count, _boxes(valuation, guarantee))
        count = whole + (random.random(boxes) < spare / _boxes(valuation, guarantee))
        total = model.eligible(guarantee)
        usable_packs = sum((good[kind] for kind in guarantee.packs), np.zeros(boxes, np.int64))
        placed = _in_usable(count, usable_packs, total, random)
        remaining = 1.0
        for line, share in guarantee.shares:
            taken = random.binomial(placed, min(share / remaining, 1.0) if remaining > 1e-12 else 0.0)
            add(line, taken)
            placed, remaining = placed - taken, remaining - share
    hits[model.base] = base
    yield from hits.items()


def _average_hits(
    pack: PackModel, packs: Counts, even: bool, random: np.random.Generator
) -> Iterator[tuple[str, Counts]]:
    """Hits of average lines in the usable ``packs`` of each box."""
    for slot in pack.slots:
        if even:
            for line, chance in slot.chances:
                expected = chance * pack.count
                count = int(expected) + (random.random(packs.size) < expected - int(expected))
                yield line, _in_usable(count, packs, pack.count, random)
            continue
        left, remaining = packs, 1.0
        for line, chance in slot.chances:
            taken = random.binomial(left, min(chance / remaining, 1.0) if remaining > 1e-12 else 0.0)
            yield line, taken
            left, remaining = left - taken, remaining - chance


def _in_usable(count: Counts, usable: Counts, total: int, random: np.random.Generator) -> Counts:
    """How many of ``count`` hits, spread over distinct packs (some twice only once all have one), are usable."""
    if (usable == total).all():
        return np.asarray(count, np.int64)
    whole, spare = np.divmod(count, total)
    return np.asarray(whole * usable + random.hypergeometric(usable, total - usable, spare), np.int64)


def _draw_systematic(each: Array, shares: Array, counts: Counts, random: np.random.Generator) -> Array:
    """The worth of ``counts[i]`` cards of a line without repeats, for each box i (money), in an order of its own."""
    sums = np.zeros(counts.size)
    once = np.nonzero(counts == 1)[0]
    ends = np.cumsum(shares)
    sums[once] = each[
        np.searchsorted(ends / ends[-1], random.random(once.size), side="right").clip(max=shares.size - 1)
    ]
    several = np.nonzero(counts > 1)[0]
    for start in range(0, several.size, max(_ORDERED // shares.size, 1)):
        boxes = several[start : start + max(_ORDERED // shares.size, 1)]
        order = np.argsort(random.random((boxes.size, shares.size), np.float32), axis=1)
        ends = np.cumsum(shares[order], axis=1)
        reached = np.ceil(counts[boxes, None] * (ends / ends[:, -1:]) - random.random((boxes.size, 1)))
        sums[boxes] = (each[order] * np.diff(reached, axis=1, prepend=0.0)).sum(axis=1)
    return sums


def read_figures(
    totals: list[Array], outlay: float | None, shares: tuple[float, ...], worst: float
) -> SimulatedFigures:
    """What batches of simulated boxes show; ``outlay`` is all that a box costs (money)."""
    values = np.sort(np.concatenate(totals))
    means = np.array([batch.mean() for batch in totals])
    sizes = np.array([batch.size for batch in totals], float)

    def error(figures: Array, overall: float) -> float | None:
        if len(figures) < 2:
            return None
        weights = sizes / sizes.sum()
        return float(np.sqrt((weights**2 @ (figures - overall) ** 2) * len(figures) / (len(figures) - 1)))

    mean = float(values.mean())
    chance = chance_error = None
    if outlay is not None:
        reached = np.array([(batch >= outlay - 1e-9).mean() for batch in totals])
        chance = float((values >= outlay - 1e-9).mean())
        chance_error = error(reached, chance)
    picks = [(share, float(values[min(int(np.ceil(share * values.size)) - 1, values.size - 1)])) for share in shares]
    tail = max(int(worst * values.size), 1)
    return SimulatedFigures(
        values.size, mean, error(means, mean), float(values.std()), tuple(picks), float(values[:tail].mean()),
        chance, chance_error,
    )  # fmt: skip
