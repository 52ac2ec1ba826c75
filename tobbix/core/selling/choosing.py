"""Which way to pack and send a parcel: by what is there, the best of each class, from which value on a dearer one pays,
and why others are refused (C-31)."""

from collections.abc import Mapping, Sequence
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount
from tobbix.core.selling.packing import MailClass, Packing, Parcel, Plan


def keep_to(found: Packing, there: Mapping[str, int]) -> Packing:
    """The plans that the supplies that are ``there`` (how many of which; others are not counted) are enough for; a
    class that has none left is refused for what is missing. Rule C-31."""
    kept, short = list[Plan](), dict[str, dict[str, None]]()
    for plan in found.plans:
        missing = [(name, there[name]) for name, many in plan.used if there.get(name, many) < many]
        if not missing:
            kept.append(plan)
        for name, left in missing:
            why = f"no {name} is left" if left == 0 else f"only {left} of {name} are left"
            short.setdefault(plan.mail_class, {})[why] = None
    taken = {plan.mail_class for plan in kept}
    refused = [(name, "; ".join(why)) for name, why in short.items() if name not in taken]
    return Packing(tuple(kept), (*found.refused, *refused))


def best_by_class(found: Packing) -> tuple[Plan, ...]:
    """The cheapest plan of each class that takes it, the cheapest class first. Rule C-31."""
    return tuple({plan.mail_class: plan for plan in reversed(found.plans)}[name]
                 for name in dict.fromkeys(plan.mail_class for plan in found.plans))  # fmt: skip


def pays_from(plan: Plan, other: Plan, cheap: MailClass, dear: MailClass) -> Decimal | None:
    """The value from which on the dearer plan costs less in expectation (money); None: never. Rule C-31.

    Both costs are straight in the value but for where their insurance ends, so the value is where they cross.
    """
    more = other.postage + other.packing - plan.postage - plan.packing
    if more <= 0:
        return Decimal(0)
    if dear.loss >= cheap.loss and dear.insured_to <= cheap.insured_to:
        return None

    def gap(value: Decimal) -> Decimal:
        lost = cheap.loss * max(value - cheap.insured_to, Decimal(0))
        return lost - dear.loss * max(value - dear.insured_to, Decimal(0)) - more

    corners = sorted({cheap.insured_to, dear.insured_to})
    for low, high in zip(corners, corners[1:], strict=False):
        if gap(low) < 0 <= gap(high):
            return low + (high - low) * -gap(low) / (gap(high) - gap(low))
    slope = cheap.loss - dear.loss
    last = corners[-1]
    return last if gap(last) >= 0 else None if slope <= 0 else last - gap(last) / slope


def state_packing(parcel: Parcel, found: Packing) -> Verdict:
    """How to send a parcel, what that saves, and from which value on the tracked way would be the cheaper one."""
    ways = best_by_class(found)
    if not ways:
        return Verdict((Run("Nothing that is here takes it", "way", True), Run(": look why below.")), ())
    best, classes = ways[0], {it.id: it for it in parcel.classes}
    all_in = amount(best.expected_cost, parcel.currency)
    sentence = [Run("Send it as "), Run(best.mail_class, "way", True), Run(f": {all_in} in all")]
    if len(ways) > 1:
        less = ways[1].expected_cost - best.expected_cost
        sentence.append(Run(f", {amount(less, parcel.currency)} less than {ways[1].mail_class}"))
    sentence.append(Run("."))
    many = "One card" if len(parcel.cards) == 1 else f"{len(parcel.cards)} cards"
    ground = [f"{many} at {amount(parcel.value, parcel.currency)}."]
    chosen = classes[best.mail_class]
    if best.expected_loss > 0:
        ground.append(f"The chance that it is lost ({chosen.loss * 100:.2g} %) costs "
                      f"{amount(best.expected_loss, parcel.currency)}.")  # fmt: skip
    tracked = next((it for it in ways[1:] if classes[it.mail_class].tracked and not chosen.tracked), None)
    pays = None if tracked is None else pays_from(best, tracked, chosen, classes[tracked.mail_class])
    if tracked is not None and pays is not None:
        ground.append(f"{tracked.mail_class} starts to pay at {amount(pays, parcel.currency)}.")
    if parcel.tracking_from is not None:
        ground.append(f"Your rule: tracked from {amount(parcel.tracking_from, parcel.currency)}.")
    return Verdict(tuple(sentence), (Run(" ".join(ground)),))


def state_by_hand(parcel: Parcel) -> Verdict:
    """That a parcel is packed as it needs, and what it is worth."""
    sentence = (Run("Pack it by hand", "way", True), Run(f": it is worth {amount(parcel.value, parcel.currency)}."))
    limit = parcel.tracking_from
    if limit is None:
        return Verdict(sentence, ())
    return Verdict(sentence, (Run(f"Your rule: tracked from {amount(limit, parcel.currency)}."),))


def nearest_misses(refused: Sequence[tuple[str, str]]) -> tuple[tuple[str, str], ...]:
    """Why classes are refused, each limit once, with the parcel that comes nearest to it: of many ways to pack, each
    misses it by something else.

    >>> nearest_misses([("Letter", "takes up to 50 g, this weighs 86 g; takes up to 50 g, this weighs 53 g")])
    (('Letter', 'takes up to 50 g, this weighs 53 g'),)
    """
    found = []
    for name, reasons in refused:
        nearest: dict[str, tuple[Decimal, str]] = {}
        for reason in reasons.split("; "):
            limit, _, of = reason.partition(", this ")
            number = next((Decimal(it) for it in of.split() if it.replace(".", "", 1).isdigit()), Decimal(0))
            miss = -number if limit.startswith("takes from") else number
            if limit not in nearest or miss < nearest[limit][0]:
                nearest[limit] = (miss, reason)
        found.append((name, "; ".join(reason for _, reason in nearest.values())))
    return tuple(found)
