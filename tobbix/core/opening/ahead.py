"""What is still expected of a session's packs, box by box (Rule C-12).

What a box was promised and has not shown lies in its packs that are left, at random; what a case was promised lies in
one of the boxes that have not shown theirs, the likelier the less of a box is open; average lines do not remember. Of
a box that somebody else began, a seller said what was gone: that word is believed with a trust that every pack moves.

Example: 24 packs, 18 gone, one hit still promised, trust 0.7: after two more packs without it 0.152 a pack.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import comb

import numpy as np

from tobbix.core.opening.remaining import GuaranteedLeft, Remaining
from tobbix.core.opening.session import Progress, Pulled
from tobbix.core.products.odds import Per
from tobbix.core.products.slots import GuaranteeModel
from tobbix.core.products.valuation import Valuation


@dataclass(frozen=True, slots=True)
class _Box:
    """A box of the session: packs ``left``, ``gone`` before and ``opened`` here, by kind, and hits ``seen`` by line."""

    left: tuple[int, ...]
    gone: tuple[int, ...]
    opened: tuple[int, ...]
    seen: Counter[str]

    @property
    def is_begun_elsewhere(self) -> bool:
        return any(self.gone) and any(self.left + self.opened)

    def shown(self, pool: frozenset[str], progress: Progress) -> int:
        """Hits of a pool of lines that came out of it, here or, as the seller says, before."""
        before = sum(progress.gone_hits.get(line, 0) for line in pool) if self.is_begun_elsewhere else 0
        return sum(self.seen[line] for line in pool) + before

    def count(self, packs: Sequence[int], guarantee: GuaranteeModel) -> int:
        """How many of those packs may hold the guarantee's hits."""
        return sum(packs[kind] for kind in guarantee.packs)


def look_ahead(
    valuation: Valuation,
    progress: Progress,
    pulled: Sequence[Pulled],
    same_case: Sequence[tuple[Progress, Sequence[Pulled]]] = (),
) -> Remaining:
    """What is still expected in the packs that are left (estimates); ``same_case``: other sessions that opened boxes of
    the same case, with what came out. Rule C-12."""
    model, fmt = valuation.model, valuation.format
    boxes = _boxes_of(valuation, progress, pulled)
    left_by_kind = [sum(box.left[kind] for box in boxes) for kind in range(len(fmt.packs))]
    hits: dict[str, float] = {}

    def expect(guarantee: GuaranteeModel, count: float) -> None:
        for line, share in guarantee.shares:
            hits[line] = hits.get(line, 0.0) + share * count

    for pack, left in zip(model.packs, left_by_kind, strict=True):
        for slot in pack.slots:
            for line, chance in slot.chances:
                hits[line] = hits.get(line, 0.0) + chance * left
    pools = [_pool(before, after) for before, after in zip(valuation.stated.guarantees, model.guarantees, strict=True)]
    here = _current(boxes)
    trusts = [_trust(valuation, pools, box, progress) if box.is_begun_elsewhere else 1.0 for box in boxes]
    live: list[GuaranteedLeft] = []
    before = [(box, other) for other, came in same_case for box in _boxes_of(valuation, other, came)]
    if progress.packs < fmt.packs_per_box:  # loose packs: nobody knows what else their boxes held
        for guarantee in model.guarantees:
            packs = sum(left_by_kind[kind] for kind in guarantee.packs)
            expect(guarantee, model.per_box(guarantee) / model.eligible(guarantee) * packs)
    else:
        for guarantee, pool in zip(model.guarantees, pools, strict=True):
            cased = guarantee.per is Per.CASE
            sure = guarantee.count // (fmt.boxes_per_case or 1) if cased else guarantee.count
            for at, box in enumerate(boxes):
                left = box.count(box.left, guarantee)
                group = GuaranteedLeft(_name(valuation, pool), sure, box.shown(pool, progress), left, trusts[at])
                expect(guarantee, group.expected)
                if at == here and not cased:
                    live.append(group)
            if cased:
                expect(guarantee, _of_cases(valuation, guarantee, pool, boxes, progress, before))
    cards = sum(left * pack.cards for left, pack in zip(left_by_kind, fmt.packs, strict=True))
    hits[model.base] = max(cards - sum(hits.values()), 0.0)
    value, some_unknown = _worth_of(valuation, hits)
    rest, rest_unknown = _worth_of(valuation, _rest_of_packs(valuation, progress, pulled))
    value *= float(fmt.usable)
    unknown = rest_unknown or some_unknown or bool(model.unstated)
    packs = sum(left_by_kind)
    here_left = sum(boxes[here].left) if live else 0
    per_pack = value / packs if packs else 0.0
    return Remaining(packs, hits, value, per_pack, tuple(live), unknown and (packs > 0 or rest > 0), here_left, rest)


def _worth_of(valuation: Valuation, cards: Mapping[str, float]) -> tuple[float, bool]:
    """What so many cards of each line are worth (estimate, money), and whether that of some of them is not known."""
    known = {
        line: valuation.mean_of(line) for line, count in cards.items() if count > 1e-12 and line in valuation.lines
    }
    value = sum(cards[line] * mean for line, mean in known.items() if mean is not None)
    return value, None in known.values()


def _rest_of_packs(valuation: Valuation, progress: Progress, pulled: Sequence[Pulled]) -> dict[str, float]:
    """The cards by line that are expected among those not logged of packs that are begun: a slot that showed no hit
    among those logged may still hold one, the others hold base cards."""
    model, fmt = valuation.model, valuation.format
    kinds = [kind for kind, pack in enumerate(fmt.packs) for _ in range(pack.count)]
    seen: dict[int, Counter[str]] = {}
    for item in pulled if progress.which is not None else ():
        seen.setdefault(item.pack, Counter())[item.line] += item.count
    rest: dict[str, float] = {}
    for pack, lines in seen.items():
        kind = kinds[(pack - 1) % fmt.packs_per_box]
        cards, logged = fmt.packs[kind].cards, lines.total()
        base = float(cards - logged)
        if base <= 0:
            continue
        for slot in model.packs[kind].slots:
            shown = next((line for line, _ in slot.chances if lines[line] > 0), None)
            if shown is not None:
                lines[shown] -= 1
                continue
            whole = sum(chance for _, chance in slot.chances)
            still = (1 - logged / cards) / (1 - whole * logged / cards)
            for line, chance in slot.chances:
                rest[line] = rest.get(line, 0.0) + chance * still
                base -= chance * still
        rest[model.base] = rest.get(model.base, 0.0) + base
    return rest


def _boxes_of(valuation: Valuation, progress: Progress, pulled: Sequence[Pulled]) -> list[_Box]:
    fmt = valuation.format
    kinds = [kind for kind, pack in enumerate(fmt.packs) for _ in range(pack.count)]
    per_box = fmt.packs_per_box
    seen: dict[int, Counter[str]] = {}
    for item in pulled:
        seen.setdefault((item.pack - 1) // per_box, Counter())[item.line] += item.count
    boxes = []
    for box in range(-(-progress.packs // per_box)):
        counts = [Counter[int](), Counter[int](), Counter[int]()]
        for pack in range(box * per_box + 1, min((box + 1) * per_box, progress.packs) + 1):
            counts[progress.state_of(pack)][kinds[(pack - 1) % per_box]] += 1
        left, gone, opened = (tuple(count[kind] for kind in range(len(fmt.packs))) for count in counts)
        boxes.append(_Box(left, gone, opened, seen.get(box, Counter())))
    return boxes


def _current(boxes: Sequence[_Box]) -> int:
    """The box that is open: the last of which something is, or the first."""
    begun = [at for at, box in enumerate(boxes) if any(box.opened) and any(box.left)]
    return begun[-1] if begun else next((at for at, box in enumerate(boxes) if any(box.left)), len(boxes) - 1)


def _pool(stated: GuaranteeModel, model: GuaranteeModel) -> frozenset[str]:
    """All lines that a guarantee may be of, also where its split is not known."""
    return frozenset(line for line, _ in (*stated.shares, *model.shares)) | frozenset(stated.undecided)


def _name(valuation: Valuation, pool: frozenset[str]) -> str:
    return " or ".join(line.name for line in valuation.sheet.lines if line.id in pool)


def _trust(valuation: Valuation, pools: Sequence[frozenset[str]], box: _Box, progress: Progress) -> float:
    """The trust in the seller's word after the packs of this box that were opened since (Bayes). If the word is not
    true, nothing of a promised line was left: one hit makes it certain."""
    likely = 1.0
    for guarantee, pool in zip(valuation.model.guarantees, pools, strict=True):
        if guarantee.per is not Per.BOX:
            continue
        if any(box.seen[line] for line in pool):
            return 1.0
        left = max(guarantee.count - sum(progress.gone_hits.get(line, 0) for line in pool), 0)
        opened = box.count(box.opened, guarantee)
        packs = opened + box.count(box.left, guarantee)
        if left >= packs:
            likely *= 1.0 if opened == 0 or left == 0 else 0.0
        else:
            likely *= comb(packs - left, opened) / comb(packs, opened)
    trusted = progress.trust * likely
    return trusted / (trusted + 1 - progress.trust) if trusted > 0 else 0.0


def _of_cases(
    valuation: Valuation,
    guarantee: GuaranteeModel,
    pool: frozenset[str],
    boxes: Sequence[_Box],
    progress: Progress,
    before: Sequence[tuple[_Box, Progress]],
) -> float:
    """The hits that a case promises beyond those of each box, expected in the packs left of the session's boxes, which
    are of one case as far as it goes, as are those opened ``before``."""
    per_case = valuation.format.boxes_per_case or 1
    sure, spare = divmod(guarantee.count, per_case)
    expected = 0.0
    together = [*before, *((box, progress) for box in boxes)]
    for start in range(0, len(together), per_case):
        of_case = together[start : start + per_case]
        weights, found = [], 0
        for box, whose in of_case:
            seen = box.shown(pool, whose)
            found += seen > sure
            weights.append(0.0 if seen > sure else box.count(box.left, guarantee) / valuation.model.eligible(guarantee))
        left = spare - found
        if left <= 0:
            continue
        elsewhere = [1.0] * (per_case - len(of_case))
        ways = _symmetric([*weights, *elsewhere], left)
        for at, weight in enumerate(weights):
            if start + at < len(before):
                continue
            others = weights[:at] + weights[at + 1 :] + elsewhere
            expected += weight * _symmetric(others, left - 1) / ways if ways > 0 else 0.0
    return expected


def _symmetric(weights: Sequence[float], degree: int) -> float:
    """The sum over all choices of ``degree`` of the weights of their product."""
    sums = np.zeros(degree + 1)
    sums[0] = 1.0
    for weight in weights:
        sums[1:] += weight * sums[:-1]
    return float(sums[degree])
