"""Known faults of a release, counted from what was marked on its cards, for a side that nobody looked at (Rule C-27).

Flaws of one kind, side and place are one fault. It is on a further card by the share of the sides looked at that show
it, as if four more had shown nothing: so one mark among two cards is no known fault yet. The four are a choice of our
own, in the manner of adding pseudo-observations (Agresti and Coull 1998), here all on the side of "none".
"""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from tobbix.core.sorting.flaws import Flaw, Place, Side

UNSEEN_MATES = 4  # sides without a fault that are counted beside those looked at
MOST_OF_PART = 4  # faults of one part of a card that its chances take in, the most frequent


@dataclass(frozen=True, slots=True)
class KnownFault:
    """A flaw as it is usual on cards of a release: on ``marked`` of the ``looked`` sides that somebody looked at."""

    flaw: Flaw
    marked: int
    looked: int

    @property
    def share(self) -> float:
        """The chance that a further card has it.

        >>> from tobbix.core.sorting.flaws import FlawKind, Size
        >>> KnownFault(Flaw(FlawKind.WEAR, Side.BACK, Size.SMALL, 0.0, 0.5), 9, 14).share
        0.5
        """
        return self.marked / (self.looked + UNSEEN_MATES)

    @property
    def words(self) -> str:
        flaw = self.flaw
        where = {Place.CORNER: " at a corner", Place.EDGE: " at an edge", Place.PICTURE: ""}[flaw.place]
        return f"{flaw.kind.value}{where} of the {flaw.side.value}, on {self.marked} of {self.looked} looked at"


def count_faults(
    flaws: Mapping[int, Sequence[Flaw]], looked: Iterable[tuple[int, Side]]
) -> tuple[KnownFault, ...]:  # fmt: skip
    """The faults of a release, the most frequent first, by the flaws of its cards (by their numbers) and which sides of
    them were ``looked`` at beside those."""
    sides = set(looked) | {(card, it.side) for card, marked in flaws.items() for it in marked}
    many = Counter(side for _, side in sides)
    found: dict[tuple[str, Side, str], dict[int, Flaw]] = {}
    for card, marked in flaws.items():
        for it in marked:  # of several alike on one card the worst
            of_kind = found.setdefault((it.kind.value, it.side, it.place.value), {})
            if card not in of_kind or _severity(it) > _severity(of_kind[card]):
                of_kind[card] = it
    faults = [
        KnownFault(sorted(cards.values(), key=_severity)[len(cards) // 2], len(cards), many[side])
        for (_, side, _), cards in found.items()
    ]
    return tuple(sorted(faults, key=lambda it: (-it.share, it.words)))


def _severity(flaw: Flaw) -> int:
    return ("small", "medium", "large").index(flaw.size.value)


def may_have(faults: Sequence[KnownFault], seen: Iterable[Side]) -> tuple[KnownFault, ...]:
    """Those of the faults that may be on a card: on sides that nobody ``seen``."""
    known = set(seen)
    return tuple(it for it in faults if it.flaw.side not in known)


def state_faults(faults: Sequence[KnownFault], unseen: Sequence[KnownFault]) -> str | None:
    """What is usual on a release's cards, and what of that the chances of a card count in; None: nothing was marked."""
    if not faults:
        return None
    usual = "; ".join(it.words for it in faults[:MOST_OF_PART])
    if not unseen:
        return f"Marked on cards of this release: {usual}. This one was looked at there, so none is added."
    sides = {it.flaw.side.value for it in unseen}
    where = f"the {sides.pop()}" if len(sides) == 1 else "either side"
    return f"Marked on cards of this release: {usual}. Nobody looked at {where} of this one: its chances count that in."
