"""The generating function of what a pack, a box or several boxes are worth (Rule C-04).

Written once over any element (see ``maths.transforms``): Fourier vectors give the distribution, series the moments.

Guaranteed hits lie in distinct packs, independent of the other guarantees; given that m packs are usable, the number
of a guarantee's hits in them is hypergeometric. Guarantees per case lie in distinct boxes; boxes are taken out of the
case one by one, so several boxes are of one case.
"""

from collections.abc import Callable, Iterator
from itertools import product
from math import comb, prod
from typing import Generic, TypeVar

from tobbix.core.base.errors import InputError
from tobbix.core.maths.transforms import Element, power
from tobbix.core.products.odds import Per
from tobbix.core.products.slots import BoxModel, GuaranteeModel, PackModel

T = TypeVar("T", bound=Element)
U = TypeVar("U", bound=Element)
Leaf = Callable[[str], T]

_MOST_CASE_STEPS = 5_000


class Totals(Generic[T]):
    """Generating functions of totals of one format. ``leaf`` gives a line's, ``one`` is the element of nothing."""

    def __init__(self, model: BoxModel, leaf: Leaf[T], one: T) -> None:
        self._model = model
        self._leaf = leaf
        self._one = one
        self._base = leaf(model.base)
        self._usable = float(model.format.usable)
        self._mixes = [self._mix(guarantee) for guarantee in model.guarantees]
        self._slots = [self._pack_slots(pack) for pack in model.packs]

    def pack(self, kind: int) -> T:
        """One pack of a kind, taken from a box at random."""
        pack = self._model.packs[kind]
        element, free = self._slots[kind], pack.base_slots
        for guarantee, mix in zip(self._model.guarantees, self._mixes, strict=True):
            if kind not in guarantee.packs:
                continue
            packs = self._model.eligible(guarantee)
            whole, chance_more = self._share_of_box(guarantee)
            most = -(-(whole + (chance_more > 0)) // packs)
            parts: list[T] = []
            for count, chance in ((whole, 1 - chance_more), (whole + 1, chance_more)):
                if chance > 0:
                    sure, rest = divmod(count, packs)
                    hits = power(mix, sure, self._one) * power(self._base, most - sure - (rest > 0), self._one)
                    if rest:
                        hits = hits * (self._base * (1 - rest / packs) + mix * (rest / packs))
                    parts.append(hits * chance)
            element = element * _sum(parts)
            free -= most
        return self._or_worthless(element * power(self._base, free, self._one))

    def pack_without_hits(self, kind: int) -> T:
        """A loose pack of a kind that somebody has searched: base cards are left in it."""
        return self._or_worthless(power(self._base, self._model.packs[kind].slots_in_all, self._one))

    def boxes(self, count: int) -> T:
        """``count`` boxes, of one case as far as it goes."""
        return self.boxes_as(count, lambda box: box, self._one)

    def boxes_as(self, count: int, turn: Callable[[T], U], one: U) -> U:
        """The same over elements that boxes ``turn`` into; ``one`` is theirs of nothing."""
        per_case = self._model.format.boxes_per_case or 1
        left = tuple(g.count % per_case for g in self._model.guarantees if g.per is Per.CASE)
        if not any(left):
            return power(turn(self._box(self._counts(()))), count, one)
        steps = per_case * prod(2 * (rest + 1) for rest in left)
        if steps > _MOST_CASE_STEPS:
            raise InputError.at("guarantees", "too many guarantees per case to work out together")
        spares = product(*((0, 1) if rest else (0,) for rest in left))
        patterns = {pattern: turn(self._box(self._counts(pattern))) for pattern in spares}
        cases, single = divmod(count, per_case)
        element = self._from_case(single, per_case, left, patterns, one) if single else one
        if cases:
            element = element * power(self._from_case(per_case, per_case, left, patterns, one), cases, one)
        return element

    def some_packs(self, taken: tuple[int, ...]) -> T:
        """So many packs of each kind, taken at random from one box."""
        model = self._model
        parts: list[T] = []
        spares = [(0, 1) if self._share_of_box(g)[1] > 0 else (0,) for g in model.guarantees]
        for pattern in product(*spares):
            chance, counts = 1.0, []
            for guarantee, more in zip(model.guarantees, pattern, strict=True):
                whole, chance_more = self._share_of_box(guarantee)
                chance *= chance_more if more else 1 - chance_more
                counts.append(whole + more)
            parts.append(self._packs_of_box(counts, taken) * chance)
        return _sum(parts)

    def _from_case(
        self, boxes: int, per_case: int, left: tuple[int, ...], patterns: dict[tuple[int, ...], U], one: U
    ) -> U:
        """Boxes drawn one by one from a case that holds ``left`` spare hits of each case guarantee."""
        states: dict[tuple[int, ...], U] = {left: one}
        for drawn in range(boxes):
            remaining = per_case - drawn
            following: dict[tuple[int, ...], list[U]] = {}
            for state, element in states.items():
                for pattern, box in patterns.items():
                    chance = prod(
                        (rest / remaining if hit else 1 - rest / remaining)
                        for rest, hit in zip(state, pattern, strict=True)
                    )
                    if chance > 0:
                        key = tuple(rest - hit for rest, hit in zip(state, pattern, strict=True))
                        following.setdefault(key, []).append(element * box * chance)
            states = {key: _sum(parts) for key, parts in following.items()}
        return _sum(list(states.values()))

    def _counts(self, pattern: tuple[int, ...]) -> list[int]:
        """Hits of each guarantee in a box that holds the spare case hits of ``pattern``."""
        spare = iter(pattern)
        return [
            g.count if g.per is Per.BOX else g.count // (self._model.format.boxes_per_case or 1) + next(spare, 0)
            for g in self._model.guarantees
        ]

    def _share_of_box(self, guarantee: GuaranteeModel) -> tuple[int, float]:
        """Hits sure to be in a box, and the chance of one more."""
        if guarantee.per is Per.BOX:
            return guarantee.count, 0.0
        boxes = self._model.format.boxes_per_case or 1
        return guarantee.count // boxes, guarantee.count % boxes / boxes

    def _box(self, counts: list[int]) -> T:
        """One box with ``counts`` hits of each guarantee in distinct packs."""
        return self._packs_of_box(counts, tuple(pack.count for pack in self._model.packs))

    def _packs_of_box(self, counts: list[int], taken: tuple[int, ...]) -> T:
        """So many packs of each kind of one box with ``counts`` hits of each guarantee in distinct packs."""
        model = self._model
        sure = [count // model.eligible(g) for count, g in zip(counts, model.guarantees, strict=True)]
        spare = [count % model.eligible(g) for count, g in zip(counts, model.guarantees, strict=True)]
        packs: list[T] = []
        for kind, pack in enumerate(model.packs):
            element, free = self._slots[kind], pack.base_slots
            for index, guarantee in enumerate(model.guarantees):
                if kind in guarantee.packs:
                    element = element * power(self._mixes[index], sure[index], self._one)
                    free -= sure[index] + (spare[index] > 0)
            packs.append(element * power(self._base, free, self._one))
        return _sum(
            [self._usable_packs(usable, packs, spare) * chance for usable, chance in self._usable_counts(taken)]
        )

    def _usable_counts(self, taken: tuple[int, ...]) -> Iterator[tuple[tuple[int, ...], float]]:
        """How many of the packs taken of each kind are usable, with its chance."""
        u = self._usable
        if u == 1:
            yield taken, 1.0
            return
        for usable in product(*(range(count + 1) for count in taken)):
            chance = prod(
                comb(count, m) * u**m * (1 - u) ** (count - m) for count, m in zip(taken, usable, strict=True)
            )
            if chance > 0:
                yield usable, chance

    def _usable_packs(self, usable: tuple[int, ...], packs: list[T], spare: list[int]) -> T:
        """The usable packs of a box; ``packs`` leave one slot open for every guarantee with spare hits."""
        element = self._one
        for kind, count in enumerate(usable):
            element = element * power(packs[kind], count, self._one)
        for index, guarantee in enumerate(self._model.guarantees):
            if not spare[index]:
                continue
            total, good = self._model.eligible(guarantee), sum(usable[kind] for kind in guarantee.packs)
            terms = [
                power(self._mixes[index], hits, self._one)
                * power(self._base, good - hits, self._one)
                * (comb(good, hits) * comb(total - good, spare[index] - hits) / comb(total, spare[index]))
                for hits in range(max(0, spare[index] - (total - good)), min(spare[index], good) + 1)
            ]
            element = element * _sum(terms)
        return element

    def _pack_slots(self, pack: PackModel) -> T:
        """The slots of a pack that average lines may take."""
        element = self._one
        for slot in pack.slots:
            none = 1 - sum(chance for _, chance in slot.chances)
            parts = [self._leaf(line) * chance for line, chance in slot.chances]
            element = element * _sum([*parts, self._base * none] if none > 1e-15 else parts)
        return element

    def _mix(self, guarantee: GuaranteeModel) -> T:
        return _sum([self._leaf(line) * share for line, share in guarantee.shares])

    def _or_worthless(self, element: T) -> T:
        return element if self._usable == 1 else element * self._usable + self._one * (1 - self._usable)


def _sum(parts: list[U]) -> U:
    total = parts[0]
    for part in parts[1:]:
        total = total + part
    return total
