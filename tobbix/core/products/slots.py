"""The slot model of a format (Rule C-04): which hits a pack can hold, and where.

A pack has c slots. An average line with rate r takes ceil(r) of them: certain ones for the whole part, one with a
chance for the rest. Slots that guaranteed hits may need are kept free for them, so that no pack can hold more hits
than cards. If the average lines need more slots than are left, the most frequent slots stay and all others share the
last, mutually exclusive. Every slot without a hit holds a base card.

Example: packs of 3; lines at 1:2, 1:3, 1:4 and 1:10 packs. The two most frequent keep a slot each, the other two share
the third with chances 0.25 and 0.1, a base card with 0.65.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby
from math import ceil

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.products.odds import Basis, Per, rate_per_pack
from tobbix.core.products.sheet import Format, Guarantee, LineKind, ProductSheet


@dataclass(frozen=True, slots=True)
class Slot:
    """Lines that may take the slot, with their chances; otherwise it holds a base card."""

    chances: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class PackModel:
    """``count`` packs with ``slots`` for hits and ``base_slots`` others (those kept for guaranteed hits included)."""

    id: str
    count: int
    slots: tuple[Slot, ...]
    base_slots: int

    @property
    def slots_in_all(self) -> int:
        """How many cards it holds."""
        return len(self.slots) + self.base_slots


@dataclass(frozen=True, slots=True)
class GuaranteeModel:
    """``count`` hits per box or case, in distinct packs of the kinds ``packs`` (indices), split by ``shares``.

    ``undecided`` are the lines whose split of the remaining share ``rest`` is unknown.
    """

    count: int
    per: Per
    packs: tuple[int, ...]
    shares: tuple[tuple[str, float], ...]
    undecided: tuple[str, ...] = ()
    rest: float = 0.0

    def decided(self, line: str) -> "GuaranteeModel":
        """The same with the whole undecided share on one line."""
        if not self.undecided:
            return self
        return GuaranteeModel(self.count, self.per, self.packs, (*self.shares, (line, self.rest)))


@dataclass(frozen=True)
class BoxModel:
    """All that decides how many hits of which line a box holds. ``rates`` are average hits per box by line."""

    format: Format
    base: str
    packs: tuple[PackModel, ...]
    guarantees: tuple[GuaranteeModel, ...]
    rates: Mapping[str, float]
    unstated: tuple[tuple[str, str], ...]

    def eligible(self, guarantee: GuaranteeModel) -> int:
        """Packs of a box that may hold the guarantee's hits."""
        return sum(self.packs[kind].count for kind in guarantee.packs)

    def per_box(self, guarantee: GuaranteeModel) -> float:
        """Expected hits of a guarantee in a box."""
        if guarantee.per is Per.BOX:
            return float(guarantee.count)
        return guarantee.count / (self.format.boxes_per_case or 1)

    def hits_per_box(self) -> dict[str, float]:
        """Expected hits per box of each line with known odds, then the base cards in the slots that none took."""
        hits = dict(self.rates)
        for guarantee in self.guarantees:
            for line, share in guarantee.shares:
                hits[line] = hits.get(line, 0.0) + share * self.per_box(guarantee)
        undecided = sum(g.rest * self.per_box(g) for g in self.guarantees if g.undecided)
        return {self.base: self.format.cards_per_box - sum(hits.values()) - undecided, **hits}


def build_box_model(sheet: ProductSheet, fmt: Format) -> BoxModel:
    """The slot model of a format. Rules C-01 and C-04.

    Raises InputError naming the format's field where hits could pass the slots, odds are twice given, a unit is
    missing, or the rates that have to share a slot sum to more than 1.
    """
    unstated = [(line.id, "the sheet does not say whether it is in this format") for line in sheet.silent_lines(fmt.id)]
    kinds = {pack.id: index for index, pack in enumerate(fmt.packs)}
    per_kind: list[dict[str, Fraction]] = [{} for _ in fmt.packs]
    rates: dict[str, float] = {}
    for line in sheet.lines:
        if line.kind is LineKind.BASE:
            continue
        for odds in line.odds_in(fmt.id):
            if odds.basis is Basis.UNSTATED:
                unstated.append((line.id, "its odds are not stated"))
            if odds.basis is not Basis.AVERAGE or odds.statement is None:
                continue
            chosen = _kinds(fmt, kinds, odds.pack)
            packs = sum(fmt.packs[kind].count for kind in chosen)
            rate = rate_per_pack(odds.statement, packs, fmt.boxes_per_case)
            rates[line.id] = rates.get(line.id, 0.0) + float(rate * packs)
            for kind in chosen:
                per_kind[kind][line.id] = per_kind[kind].get(line.id, Fraction(0)) + rate
    guarantees = tuple(_guarantee(fmt, kinds, g) for g in sheet.guarantees_in(fmt.id))
    packs_model = tuple(
        _pack_model(sheet, fmt, index, per_kind[index], _kept_free(fmt, index, guarantees))
        for index in range(len(fmt.packs))
    )
    return BoxModel(fmt, sheet.base_line(fmt.id).id, packs_model, guarantees, rates, tuple(unstated))


def _kinds(fmt: Format, kinds: Mapping[str, int], pack: str | None) -> tuple[int, ...]:
    if pack is None:
        return tuple(range(len(fmt.packs)))
    if pack not in kinds:
        raise InputError.at("pack", f"{fmt.name} has no pack “{pack}”")
    return (kinds[pack],)


def _guarantee(fmt: Format, kinds: Mapping[str, int], guarantee: Guarantee) -> GuaranteeModel:
    if guarantee.per is Per.CASE and fmt.boxes_per_case is None:
        raise InputError.at("boxes_per_case", f"{fmt.name} has a guarantee per case, so it needs the boxes in a case")
    known = tuple((line, float(share)) for line, share in guarantee.lines if share is not None)
    undecided = tuple(line for line, share in guarantee.lines if share is None)
    rest = 1.0 - sum(share for _, share in known)
    chosen = _kinds(fmt, kinds, guarantee.pack)
    if len(undecided) == 1:  # what the others leave is no longer unknown
        return GuaranteeModel(guarantee.count, guarantee.per, chosen, (*known, (undecided[0], rest)))
    return GuaranteeModel(guarantee.count, guarantee.per, chosen, known, undecided, rest if undecided else 0.0)


def _kept_free(fmt: Format, kind: int, guarantees: tuple[GuaranteeModel, ...]) -> int:
    """The most guaranteed hits that one pack of this kind can hold."""
    most = 0
    for guarantee in guarantees:
        if kind in guarantee.packs:
            packs = sum(fmt.packs[k].count for k in guarantee.packs)
            boxes = 1 if guarantee.per is Per.BOX else fmt.boxes_per_case or 1
            most += ceil(ceil(guarantee.count / boxes) / packs)
    return most


def _pack_model(
    sheet: ProductSheet, fmt: Format, kind: int, rates: Mapping[str, Fraction], kept_free: int
) -> PackModel:
    pack = fmt.packs[kind]
    room = pack.cards - kept_free
    if room < 0:
        raise _refuse(fmt, f"the guarantees can put {kept_free} hits into a pack of {pack.cards} cards")
    single = [(line, Fraction(1)) for line, rate in rates.items() for _ in range(int(rate))]
    single += [(line, rate - int(rate)) for line, rate in rates.items() if rate > int(rate)]
    shared: list[tuple[str, Fraction]] = []
    if len(single) > room:
        single.sort(key=lambda slot: -slot[1])  # stable: ties stay in the order of the sheet
        single, shared = single[: max(room - 1, 0)], single[max(room - 1, 0) :]
        together = sum(chance for _, chance in shared)
        if room == 0 or together > 1:
            names = ", ".join(sheet.line_by_id[line].name for line, _ in groupby(shared, key=lambda slot: slot[0]))
            raise _refuse(
                fmt,
                f"{len(rates)} lines need more than the {room} free slots of a pack, and those that have to share "
                f"the last one ({names}) come {float(together):.3g} times a pack together",
            )
    slots = [Slot(((line, float(chance)),)) for line, chance in single]
    if shared:
        slots.append(Slot(tuple((line, float(chance)) for line, chance in shared)))
    return PackModel(pack.id, pack.count, tuple(slots), pack.cards - len(slots))


def _refuse(fmt: Format, why: str) -> InputError:
    return InputError([Fault("cards_per_pack", f"{fmt.name}: {why}", "Formats")])
