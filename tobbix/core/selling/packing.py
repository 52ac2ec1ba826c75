"""How a parcel is packed and sent: every way that fits, the cheapest in expectation first (Rule C-31).

Each raw card takes the first sleeve that it fits. Sleeved cards fill holders of one kind in order, holders and slabs
lie on one another, and a wrap goes around the stack if there is a slab or more than one piece. The stack may lie turned
by a quarter in the outer. A mail class takes sizes from a least to a most, largest first, up to a weight; some take
nothing rigid, and from a value on tracking is required. What a plan costs in expectation is postage, packing and the
chance of loss times what is not insured.

Sizes are in mm (width, height, thickness), weights in grams, amounts in one currency.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.holdings.sentences import amount

Size = tuple[Decimal, Decimal, Decimal]


@dataclass(frozen=True, slots=True)
class PackedCard:
    """A card that goes, raw or as a ``slab``."""

    id: str
    size: Size
    weight: Decimal
    slab: bool = False


@dataclass(frozen=True, slots=True)
class Sleeve:
    """Takes a card up to ``inner``, and adds to its size."""

    id: str
    inner: Size
    adds: Size
    weight: Decimal
    cost: Decimal


@dataclass(frozen=True, slots=True)
class Wrap:
    """Goes around a stack, and adds to its size."""

    id: str
    adds: Size
    weight: Decimal
    cost: Decimal


@dataclass(frozen=True, slots=True)
class Holder:
    """Takes sleeved cards up to ``inner``, their thicknesses together."""

    id: str
    inner: Size
    outer: Size
    weight: Decimal
    cost: Decimal
    rigid: bool = False


@dataclass(frozen=True, slots=True)
class Outer:
    """What all of it goes into. ``outer`` sizes without a thickness (None): content and ``wall`` then."""

    id: str
    kind: str
    inner: Size
    outer: tuple[Decimal, Decimal, Decimal | None]
    wall: Decimal
    weight: Decimal
    cost: Decimal
    rigid: bool = False


@dataclass(frozen=True, slots=True)
class MailClass:
    """A mail class: sizes from ``least`` to ``most``, largest first; what is insured, the value that it takes (money;
    None: any), and the chance of loss or damage (share)."""

    id: str
    price: Decimal
    least: Size
    most: Size
    most_weight: Decimal
    no_rigid: bool
    tracked: bool
    insured_to: Decimal
    value_limit: Decimal | None
    loss: Decimal


@dataclass(frozen=True, slots=True)
class Parcel:
    """What is sent, what it is worth (money), from which value on it is tracked (None: never needed), and with what it
    may be packed and sent."""

    currency: str
    value: Decimal
    tracking_from: Decimal | None
    cards: tuple[PackedCard, ...]
    sleeves: tuple[Sleeve, ...]
    wraps: tuple[Wrap, ...]
    holders: tuple[Holder, ...]
    outers: tuple[Outer, ...]
    classes: tuple[MailClass, ...]
    reference: str | None = None


@dataclass(frozen=True, slots=True)
class Plan:
    """One way to pack and send it: ``size`` of the outside, largest first; what each part costs (money), the steps in
    their order, and how many of which supplies it takes."""

    mail_class: str
    outer: str
    holder: str | None
    wrap: str | None
    size: Size
    weight: Decimal
    postage: Decimal
    packing: Decimal
    expected_loss: Decimal
    steps: tuple[str, ...]
    used: tuple[tuple[str, int], ...] = ()

    @property
    def expected_cost(self) -> Decimal:
        return self.postage + self.packing + self.expected_loss


@dataclass(frozen=True, slots=True)
class Packing:
    """Every plan, the cheapest first and of these the lighter, and why each class that takes none is refused."""

    plans: tuple[Plan, ...]
    refused: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class _Stack:
    """What goes into an outer."""

    holder: Holder | None
    many: int
    wrap: Wrap | None
    size: Size
    weight: Decimal
    cost: Decimal
    rigid: bool


def plan_packing(parcel: Parcel) -> Packing:
    """Every way to pack and send a parcel. Rule C-31. Raises InputError with every fault."""
    _check(parcel)
    why: dict[str, dict[str, None]] = {it.id: {} for it in parcel.classes}
    sleeved, unsleeved = _sleeve(parcel)
    plans: list[Plan] = []
    stacks, missing = ([], f"no sleeve here fits {unsleeved}") if unsleeved else _stacks(parcel, sleeved)
    fits = [(stack, outer) for stack in stacks for outer in parcel.outers if _goes_in(stack.size, outer)]
    if stacks and not fits:
        missing = "no outer here is large enough"
    for it in parcel.classes:
        refusal = _refuses_value(parcel, it)
        if refusal is not None:
            why[it.id][refusal] = None
            continue
        if not fits:
            why[it.id][missing] = None
        for stack, outer in fits:
            found = _send(parcel, stack, outer, it, sleeved)
            if isinstance(found, str):
                why[it.id][found] = None
            else:
                plans.append(found)
    taken = {plan.mail_class for plan in plans}
    plans.sort(key=lambda plan: (plan.expected_cost, plan.weight))
    refused = tuple((it.id, "; ".join(why[it.id])) for it in parcel.classes if it.id not in taken)
    return Packing(tuple(plans), refused)


def _is_within(size: Sequence[Decimal], room: Sequence[Decimal]) -> bool:
    return all(one <= other for one, other in zip(size, room, strict=True))


def _sleeve(parcel: Parcel) -> tuple[list[tuple[PackedCard, Sleeve]], str | None]:
    """Each raw card with its sleeve; the first that none fits."""
    found = []
    for card in parcel.cards:
        if card.slab:
            continue
        sleeve = next((it for it in parcel.sleeves if _is_within(card.size, it.inner)), None)
        if sleeve is None:
            return [], card.id
        found.append((card, sleeve))
    return found, None


def _stacks(parcel: Parcel, sleeved: Sequence[tuple[PackedCard, Sleeve]]) -> tuple[list[_Stack], str]:
    """What may lie in an outer, by kind of holder and wrap; why nothing may."""
    slabs = [card for card in parcel.cards if card.slab]
    sizes = [_add(card.size, sleeve.adds) for card, sleeve in sleeved]
    weight = sum((card.weight for card in parcel.cards), Decimal(0))
    weight += sum((sleeve.weight for _, sleeve in sleeved), Decimal(0))
    cost = sum((sleeve.cost for _, sleeve in sleeved), Decimal(0))
    found, missing = list[_Stack](), "no holder here fits the cards"
    for holder in parcel.holders if sleeved else (None,):
        many = 0 if holder is None else _count_holders(holder, sizes)
        if many is None:
            continue
        pieces = [card.size for card in slabs] + ([holder.outer] * many if holder is not None else [])
        size = (max(it[0] for it in pieces), max(it[1] for it in pieces), sum((it[2] for it in pieces), Decimal(0)))
        is_wrapped = bool(slabs) or len(pieces) > 1
        if is_wrapped and not parcel.wraps:
            missing = "more than one piece, or a slab, needs a wrap, and there is none"
        rigid = bool(slabs) or (holder is not None and holder.rigid)
        of_holders = (many * holder.weight, many * holder.cost) if holder is not None else (Decimal(0), Decimal(0))
        for wrap in parcel.wraps if is_wrapped else (None,):
            more = (Decimal(0), Decimal(0)) if wrap is None else (wrap.weight, wrap.cost)
            found.append(
                _Stack(
                    holder, many, wrap, size if wrap is None else _add(size, wrap.adds),
                    weight + of_holders[0] + more[0], cost + of_holders[1] + more[1], rigid,
                )
            )  # fmt: skip
    return found, missing


def _count_holders(holder: Holder, sizes: Sequence[Size]) -> int | None:
    """How many holders of a kind the sleeved cards fill in order; None if one does not fit."""
    many, room = 0, Decimal(-1)
    for size in sizes:
        if not _is_within(size, holder.inner):
            return None
        if size[2] > room:
            many, room = many + 1, holder.inner[2]
        room -= size[2]
    return many


def _add(size: Size, adds: Size) -> Size:
    return size[0] + adds[0], size[1] + adds[1], size[2] + adds[2]


def _goes_in(size: Size, outer: Outer) -> bool:
    """Whether a stack goes into an outer, turned by a quarter if need be."""
    turned = (size[1], size[0], size[2])
    return _is_within(size, outer.inner) or _is_within(turned, outer.inner)


def _refuses_value(parcel: Parcel, it: MailClass) -> str | None:
    if it.value_limit is not None and parcel.value > it.value_limit:
        return f"takes values up to {it.value_limit:,} only"
    if parcel.tracking_from is not None and parcel.value >= parcel.tracking_from and not it.tracked:
        return f"is not tracked, which is required from {parcel.tracking_from:,}"
    return None


def _send(
    parcel: Parcel, stack: _Stack, outer: Outer, it: MailClass, sleeved: Sequence[tuple[PackedCard, Sleeve]]
) -> Plan | str:
    """The plan of one stack in one outer by one class, or why that is refused."""
    thick = stack.size[2] + outer.wall if outer.outer[2] is None else outer.outer[2]
    largest, middle, least = sorted((outer.outer[0], outer.outer[1], thick), reverse=True)
    size, weight = (largest, middle, least), stack.weight + outer.weight
    if it.no_rigid and (stack.rigid or outer.rigid):
        return "takes nothing rigid"
    if weight > it.most_weight:
        return f"takes up to {it.most_weight.normalize():f} g, this weighs {weight.normalize():f} g"
    for at, name in enumerate(("longest", "middle", "thinnest")):
        if size[at] > it.most[at]:
            return (
                f"takes up to {it.most[at].normalize():f} mm on the {name} side, this has {size[at].normalize():f} mm"
            )
        if size[at] < it.least[at]:
            return (
                f"takes from {it.least[at].normalize():f} mm on the {name} side, this has {size[at].normalize():f} mm"
            )
    gap = max(parcel.value - it.insured_to, Decimal(0))
    holder, wrap = (None if part is None else part.id for part in (stack.holder, stack.wrap))
    return Plan(
        it.id, outer.id, holder, wrap, size, weight, it.price, stack.cost + outer.cost, it.loss * gap,
        tuple(_steps(parcel, stack, outer, it, sleeved, gap, weight)), tuple(_used(stack, outer, sleeved).items()),
    )  # fmt: skip


def _used(stack: _Stack, outer: Outer, sleeved: Sequence[tuple[PackedCard, Sleeve]]) -> dict[str, int]:
    found = dict(Counter(sleeve.id for _, sleeve in sleeved))
    if stack.holder is not None:
        found[stack.holder.id] = stack.many
    if stack.wrap is not None:
        found[stack.wrap.id] = 1
    return found | {outer.id: 1}


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _steps(
    parcel: Parcel, stack: _Stack, outer: Outer, it: MailClass, sleeved: Sequence[tuple[PackedCard, Sleeve]],
    gap: Decimal, weight: Decimal,
) -> Iterator[str]:  # fmt: skip
    """What is done, in the right order for just this parcel: common practice, no source."""
    alone = len(parcel.cards) == 1
    yield f"Look at {'it' if alone else 'each card'} once more: corners, surface, back, as it was promised."
    for sleeve in dict.fromkeys(sleeve for _, sleeve in sleeved):
        those = [card.id for card, other in sleeved if other is sleeve]
        if alone:
            yield f"{_capital(sleeve.id)}, opening up."
        else:
            named = f"{', '.join(those[:4])}{' and the others' if len(those) > 4 else ''}"
            yield f"{_capital(sleeve.id)} around each of {len(those)}: {named}."
    reference = parcel.reference or "the order number"
    if stack.holder is not None:
        into = stack.holder.id if stack.many == 1 else f"{stack.many} x {stack.holder.id}, filled in order"
        yield f"{_capital(into)}: the sleeve\u2019s opening first, so that what slips never meets the tape."
        yield "Paper tape over the holder\u2019s mouth, its end folded to a tab, that never meets the card."
        yield f"Write {reference} on the holder\u2019s front."
    else:
        yield f"Write {reference} on a slip that lies on the front."
    if stack.wrap is not None:
        yield f"Lay the pieces on one another, {stack.wrap.id} around them, so that nothing moves."
    yield f"Into {outer.id}; close it."
    if gap > 0 and it.insured_to < parcel.value:
        yield f"Know that {amount(gap, parcel.currency)} {parcel.currency} stay uninsured."
    post = f"{amount(it.price, parcel.currency)} {parcel.currency}"
    yield f"Send it as {it.id}, {post}; it should weigh about {weight.normalize():f} g."


def _check(parcel: Parcel) -> None:
    faults = []
    if not parcel.cards:
        faults.append(Fault("cards", "say at least one"))
    for name in ("cards", "sleeves", "wraps", "holders", "outers", "classes"):
        ids = [it.id for it in getattr(parcel, name)]
        faults += [
            Fault(f"{name}[{at}].id", f"{key[:60]} stands there twice") for at, key in enumerate(ids) if key in ids[:at]
        ]
    for at, it in enumerate(parcel.classes):
        if not 0 <= it.loss <= 1:
            faults.append(Fault(f"classes[{at}].loss", "must be from 0 to 1"))
    if faults:
        raise InputError(faults)
