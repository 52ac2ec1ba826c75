"""The same model by simulation, slot by slot and pack by pack: the check of the exact distribution (Rule C-04).

It shares the slot model and the line values with the exact way, and nothing else: packs are filled, guaranteed hits
are laid into distinct packs, packs turn out usable or not, and every card is drawn.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from tobbix.core.maths.severity import Array, Severity
from tobbix.core.products.odds import Per
from tobbix.core.products.slots import BoxModel, GuaranteeModel
from tobbix.core.products.valuation import Valuation

_CHUNK = 20_000
Counts = NDArray[np.int64]


def simulate_boxes(
    valuation: Valuation,
    boxes: int,
    random: np.random.Generator,
    progress: Callable[[int], None] | None = None,
) -> Array:
    """Values of simulated boxes (money, shape (boxes,)), each from a case of its own. Rule C-04.

    ``random`` makes it repeatable; ``progress`` is told the number of boxes done after each chunk.
    """
    totals = np.empty(boxes)
    for start in range(0, boxes, _CHUNK):
        size = min(_CHUNK, boxes - start)
        totals[start : start + size] = _simulate_chunk(valuation, size, random)
        if progress is not None:
            progress(start + size)
    return totals


def _simulate_chunk(valuation: Valuation, size: int, random: np.random.Generator) -> Array:
    model = valuation.model
    usable = float(valuation.format.usable)
    good = [random.random((size, pack.count)) < usable if usable < 1 else None for pack in model.packs]
    hits: dict[str, Counts] = {}
    base = np.zeros(size, np.int64)
    for pack, mask in zip(model.packs, good, strict=True):
        packs = np.full(size, pack.count) if mask is None else mask.sum(axis=1)
        base += packs * (pack.base_slots + len(pack.slots))
        for slot in pack.slots:
            drawn = random.random((size, pack.count), dtype=np.float64)
            low = 0.0
            for line, chance in slot.chances:
                hit = (drawn >= low) & (drawn < low + chance)
                if mask is not None:
                    hit &= mask
                count = hit.sum(axis=1)
                hits[line] = hits.get(line, 0) + count
                base -= count
                low += chance
    for guarantee in model.guarantees:
        placed = _place(model, guarantee, good, size, random)
        base -= placed
        left = placed
        remaining = 1.0
        for line, share in guarantee.shares:
            chance = min(share / remaining, 1.0) if remaining > 1e-12 else 0.0
            taken = random.binomial(left, chance)
            hits[line] = hits.get(line, 0) + taken
            left, remaining = left - taken, remaining - share
    hits[model.base] = base
    totals = np.zeros(size)
    for line, counts in hits.items():
        severity = valuation.severity(line)
        if severity is not None:
            totals += draw_sums(severity, counts, random)
    return totals


def _place(
    model: BoxModel,
    guarantee: GuaranteeModel,
    good: list[NDArray[np.bool_] | None],
    size: int,
    random: np.random.Generator,
) -> Counts:
    """How many of a guarantee's hits lie in usable packs of each box."""
    count = np.full(size, guarantee.count)
    if guarantee.per is Per.CASE:
        boxes = model.format.boxes_per_case or 1
        sure, rest = divmod(guarantee.count, boxes)
        count = sure + (random.random(size) < rest / boxes).astype(np.int64)
    if all(mask is None for mask in good):
        return count
    packs = np.concatenate([m for kind in guarantee.packs if (m := good[kind]) is not None], axis=1)
    order = np.argsort(random.random(packs.shape), axis=1)
    shuffled = np.take_along_axis(packs, order, axis=1)
    in_every, further = np.divmod(count, packs.shape[1])
    first = np.arange(packs.shape[1]) < further[:, None]
    return np.asarray(in_every * packs.sum(axis=1) + (shuffled & first).sum(axis=1))


def draw_sums(severity: Severity, counts: Counts, random: np.random.Generator) -> Array:
    """The sum of ``counts[i]`` independent draws, for each i."""
    drawn = severity.values[_draw(severity, int(counts.sum()), random)]
    sums = np.bincount(np.repeat(np.arange(counts.size), counts), weights=drawn, minlength=counts.size)
    return np.asarray(sums, np.float64)


def _draw(severity: Severity, size: int, random: np.random.Generator) -> Counts:
    chances = severity.chances
    if np.ptp(chances) < 1e-15:
        return random.integers(chances.size, size=size)
    edges = np.cumsum(chances)
    return np.searchsorted(edges / edges[-1], random.random(size), side="right")
