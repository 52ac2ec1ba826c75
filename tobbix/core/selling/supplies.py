"""Packing supplies by their sizes: what holds what, and which of them are enough (Rule C-31)."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.selling.packing import Holder, Outer, Size, Sleeve, Wrap


class Role(StrEnum):
    """What a supply is for."""

    SLEEVE = "sleeve"
    HOLDER = "holder"
    WRAP = "wrap"
    OUTER = "outer"


@dataclass(frozen=True, slots=True)
class Supply:
    """A supply: what it takes ``inside`` (sleeves, holders, outers), its ``outside`` (holders and outers; an outer's
    thickness None: content and ``wall``), what it ``adds`` (sleeves and wraps); mm as width, height, thickness. Its
    weight (g), and what one costs where none was bought (money at home)."""

    name: str
    role: Role
    inside: Size | None = None
    outside: tuple[Decimal, Decimal, Decimal | None] | None = None
    adds: Size | None = None
    wall: Decimal = Decimal(0)
    weight: Decimal = Decimal(0)
    cost: Decimal = Decimal(0)
    rigid: bool = False


_NEEDS = {
    Role.SLEEVE: ("inside", "adds"), Role.HOLDER: ("inside", "outside"), Role.WRAP: ("adds",),
    Role.OUTER: ("inside", "outside"),
}  # fmt: skip


def check_supply(supply: Supply) -> None:
    """Raises InputError with every fault, at its field."""
    faults = [] if supply.name.strip() else [Fault("name", "say what it is called")]
    for name in _NEEDS[supply.role]:
        sizes = getattr(supply, name)
        if sizes is None:
            faults.append(Fault(name, f"a {supply.role} needs this: width, height and thickness in mm"))
        elif any(side is not None and (side < 0 or (side == 0 and name != "adds")) for side in sizes):
            faults.append(Fault(name, "must be over 0"))
    if supply.role is Role.HOLDER and supply.outside is not None and supply.outside[2] is None:
        faults.append(Fault("outside", "say its thickness too"))
    for name in ("wall", "weight", "cost"):
        if getattr(supply, name) < 0:
            faults.append(Fault(name, "must not be negative"))
    if faults:
        raise InputError(faults)


def to_parts(
    supplies: Sequence[tuple[Supply, Decimal]], alone: bool
) -> tuple[tuple[Sleeve, ...], tuple[Wrap, ...], tuple[Holder, ...], tuple[Outer, ...]]:
    """Supplies, each with what one costs, as the parts of a parcel. A card that is ``alone`` takes the thickest sleeve
    first, others the thinnest: common practice, no source."""
    sleeves, wraps, holders, outers = list[Sleeve](), list[Wrap](), list[Holder](), list[Outer]()
    for it, cost in supplies:
        if it.role is Role.SLEEVE and it.inside and it.adds:
            sleeves.append(Sleeve(it.name, it.inside, it.adds, it.weight, cost))
        elif it.role is Role.WRAP and it.adds:
            wraps.append(Wrap(it.name, it.adds, it.weight, cost))
        elif it.role is Role.HOLDER and it.inside and it.outside and it.outside[2] is not None:
            holders.append(Holder(it.name, it.inside, (it.outside[0], it.outside[1], it.outside[2]), it.weight, cost,
                                  it.rigid))  # fmt: skip
        elif it.role is Role.OUTER and it.inside and it.outside:
            outers.append(Outer(it.name, "", it.inside, it.outside, it.wall, it.weight, cost, it.rigid))
    sleeves.sort(key=lambda it: -it.adds[2] if alone else it.adds[2])
    return tuple(sleeves), tuple(wraps), tuple(holders), tuple(outers)


_D = Decimal
# Sizes of what is usually used; envelopes by ISO 269 (C6 114 x 162, C5 162 x 229 mm), from memory. Costs are invented.
USUAL = (
    Supply("thin sleeve", Role.SLEEVE, (_D(64), _D(89), _D(1)), None, (_D(2), _D(3), _D("0.1")), weight=_D("0.4"),
           cost=_D("0.01")),
    Supply("thick sleeve", Role.SLEEVE, (_D(66), _D(91), _D("3.5")), None, (_D(3), _D(4), _D("0.2")), weight=_D("0.6"),
           cost=_D("0.03")),
    Supply("slim holder", Role.HOLDER, (_D(70), _D(95), _D("0.9")), (_D(76), _D(101), _D("1.6")), weight=_D(8),
           cost=_D("0.12"), rigid=True),
    Supply("deep holder", Role.HOLDER, (_D(70), _D(96), _D("4")), (_D(77), _D(102), _D("5.2")), weight=_D(14),
           cost=_D("0.35"), rigid=True),
    Supply("card stack box", Role.HOLDER, (_D(70), _D(96), _D(40)), (_D(76), _D(104), _D(44)), weight=_D(35),
           cost=_D("0.60"), rigid=True),
    Supply("team bag", Role.WRAP, None, None, (_D(3), _D(4), _D("0.2")), weight=_D(1), cost=_D("0.04")),
    Supply("card and bubble wrap", Role.WRAP, None, None, (_D(20), _D(20), _D(14)), weight=_D(14), cost=_D("0.20")),
    Supply("envelope 114 x 162", Role.OUTER, (_D(110), _D(158), _D(6)), (_D(162), _D(114), None), None, _D("0.4"),
           _D(5), _D("0.08")),
    Supply("padded envelope 180 x 265", Role.OUTER, (_D(170), _D(225), _D(45)), (_D(265), _D(180), None), None, _D(6),
           _D(16), _D("0.35")),
    Supply("box 200 x 150 x 80", Role.OUTER, (_D(194), _D(144), _D(74)), (_D(200), _D(150), _D(80)), None, _D(0),
           _D(70), _D("0.70"), rigid=True),
)  # fmt: skip


def state_supplies(empty: Sequence[str], low: Sequence[str], kinds: int) -> Verdict:
    """What is used up, and what soon will be."""
    if not kinds:
        return Verdict(
            (Run("No supplies are described yet", "supplies", True), Run(": begin with the usual ones.")), ()
        )
    if empty:
        sentence = (Run(f"Buy {', '.join(empty[:3])}", "buy", True), Run(": none left."))
    elif low:
        sentence = (Run(f"Soon used up: {', '.join(low[:3])}", "buy", True), Run("."))
    else:
        sentence = (Run("Enough of everything", "buy", True), Run(f", of {kinds} kinds that are counted or bought."))
    return Verdict(sentence, (Run("What is not in stock under its name is not counted, and costs what is said here."),))
