"""A parcel to be packed: kind ``parcel`` as JSON."""

from decimal import Decimal

from tobbix.core.selling.packing import (
    Holder,
    MailClass,
    Outer,
    PackedCard,
    Packing,
    Parcel,
    Size,
    Sleeve,
    Wrap,
)
from tobbix.formats.questions import Question, decimal_of, read_question

_TOP = frozenset(("currency", "value", "tracking_from", "cards", "sleeves", "wraps", "holders", "outers", "classes"))
_CARD = frozenset(("id", "size", "weight", "slab"))
_WRAP = frozenset(("id", "adds", "weight", "cost"))
_HOLDER = frozenset(("id", "inner", "outer", "weight", "cost", "rigid"))
_CLASS = frozenset(
    ("id", "price", "least", "most", "most_weight", "no_rigid", "tracked", "insured_to", "value_limit", "loss")
)


def parse_parcel(content: bytes) -> Parcel:
    """Read a parcel. Raises InputError with every fault, by field and row."""
    return read_question(content, "parcel", _TOP, _read)


def _read(top: Question) -> Parcel:
    return Parcel(
        top.text("currency") or "", top.must("value"), top.figure("tracking_from"),
        tuple(
            PackedCard(it.text("id") or "", _size(it, "size"), it.must("weight"), it.yes("slab"))
            for it in top.parts("cards", _CARD)
        ),
        tuple(
            Sleeve(it.text("id") or "", _size(it, "inner"), _size(it, "adds"), it.must("weight"), it.must("cost"))
            for it in top.parts("sleeves", _WRAP | {"inner"})
        ),
        tuple(
            Wrap(it.text("id") or "", _size(it, "adds"), it.must("weight"), it.must("cost"))
            for it in top.parts("wraps", _WRAP)
        ),
        tuple(
            Holder(it.text("id") or "", _size(it, "inner"), _size(it, "outer"), it.must("weight"), it.must("cost"),
                   it.yes("rigid"))
            for it in top.parts("holders", _HOLDER)
        ),
        tuple(
            Outer(it.text("id") or "", it.text("kind", required=False) or "", _size(it, "inner"), _outside(it),
                  it.figure("wall", required=_is_open(it)) or Decimal(0), it.must("weight"), it.must("cost"),
                  it.yes("rigid"))
            for it in top.parts("outers", _HOLDER | {"kind", "wall"})
        ),
        tuple(
            MailClass(it.text("id") or "", it.must("price"), _size(it, "least"), _size(it, "most"),
                      it.must("most_weight"), it.yes("no_rigid"), it.yes("tracked"), it.must("insured_to"),
                      it.figure("value_limit"), it.must("loss"))
            for it in top.parts("classes", _CLASS)
        ),
    )  # fmt: skip


def _sides(part: Question, name: str, may_end_open: bool = False) -> list[Decimal | None]:
    value = part.raw(name)
    if not isinstance(value, list) or len(value) != 3:
        part.fault(name, "must be three sizes in mm: width, height, thickness")
        return [Decimal(0)] * 3
    sides: list[Decimal | None] = []
    for at, side in enumerate(value):
        number = decimal_of(side)
        if side is None and may_end_open and at == 2:
            sides.append(None)
        elif number is None or number < 0:
            part.fault(name, f"“{str(side)[:20]}” is not a size in mm")
            sides.append(Decimal(0))
        else:
            sides.append(number)
    return sides


def _size(part: Question, name: str) -> Size:
    one, two, three = (side or Decimal(0) for side in _sides(part, name))
    return one, two, three


def _outside(part: Question) -> tuple[Decimal, Decimal, Decimal | None]:
    one, two, three = _sides(part, "outer", may_end_open=True)
    return one or Decimal(0), two or Decimal(0), three


def _is_open(part: Question) -> bool:
    """Whether its thickness is that of what is in it."""
    value = part.raw("outer")
    return isinstance(value, list) and len(value) == 3 and value[2] is None


def describe_packing(found: Packing) -> dict[str, object]:
    """The answer as the open format names it."""
    return {
        "plans": [
            {
                "expected_cost": float(plan.expected_cost), "class": plan.mail_class, "outer": plan.outer,
                "holder": plan.holder, "wrap": plan.wrap, "size": [float(side) for side in plan.size],
                "weight": float(plan.weight), "postage": float(plan.postage), "packing": float(plan.packing),
                "expected_loss": float(plan.expected_loss), "steps": list(plan.steps),
            }
            for plan in found.plans
        ],
        "refused": [{"class": name, "why": why} for name, why in found.refused],
    }  # fmt: skip
