"""The sentences of the Buying step."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import DocumentState
from tobbix.core.products.prospect import Prospect, ground_of
from tobbix.core.products.verdict import amount_words


def state_buying(purchases: Sequence[tuple[str, Decimal, date | None]], today: date, currency: str) -> Verdict:
    """What is on its way and what is disputed: state, landed cost (money) and due day of each purchase."""
    if not purchases:
        return Verdict(
            (
                Run("Nothing is recorded yet", "purchases", True),
                Run(": record what you bought."),
            ),
            (),
        )
    coming = [(cost, due) for state, cost, due in purchases if state == "ordered"]
    disputed = sum(state == "disputed" for state, _, _ in purchases)
    late = sum(due is not None and due < today for _, due in coming)
    many = "Nothing is" if not coming else "One parcel is" if len(coming) == 1 else f"{len(coming)} parcels are"
    sentence = [Run(f"{many} on the way", "coming", True)]
    if coming:
        sentence.append(Run(f", worth {sum((cost for cost, _ in coming), Decimal(0)):,.2f} {currency} landed"))
    if late:
        sentence.append(Run(f"; {late} {'is' if late == 1 else 'are'} late"))
    if disputed:
        sentence.append(Run(f"; {disputed} {'is' if disputed == 1 else 'are'} in dispute"))
    sentence.append(Run("."))
    ground = (Run("Landed: price, premium, shipping, tax and duty, less refunds, each at the rate of its day."),)
    return Verdict(tuple(sentence), ground)


_WHERE = {
    DocumentState.ORDERED: "is on its way", DocumentState.RECEIVED: "is here",
    DocumentState.DISPUTED: "is in dispute", DocumentState.UNDONE: "was taken back",
}  # fmt: skip


def state_purchase(purchase: Purchase, currency: str, prospect: Prospect | None = None) -> Verdict:
    """Where a purchase is, and what it cost; of a box what was paid for one against what it promises. Rule C-15."""
    name = purchase.name[:1].upper() + purchase.name[1:]
    where = Run(_WHERE[purchase.state], "state", True)
    if purchase.state is DocumentState.UNDONE:
        return Verdict((Run(f"{name} "), where, Run(".")), ())
    sentence = [Run(f"{name} "), where, Run(f"; it cost {amount(purchase.landed, currency)} landed")]
    ground: tuple[Run, ...] = ()
    if prospect is not None:
        if prospect.paid is not None:
            sentence += [
                Run(", "),
                Run(amount_words(float(prospect.paid), currency), "paid", True),
                Run(f" a {prospect.one}"),
            ]
        ground = ground_of(prospect, currency)
    return Verdict((*sentence, Run(".")), ground)


@dataclass(frozen=True, slots=True)
class Planned:
    """A purchase before it is booked (money at home): what it is of, how many, what it costs landed; what one of them
    promises if that is known; what the month would come to against the owner's limit, None without one."""

    name: str
    count: int
    things: int
    landed: Decimal
    prospect: Prospect | None
    month: str
    after: Decimal
    limit: Decimal | None


def state_planned(planned: Planned, currency: str) -> Verdict:
    """What a purchase would cost and bring, before it is booked. Rules C-04, C-07 and C-15."""
    many = "" if planned.count == 1 else f"{planned.count} × "
    others = planned.things - 1
    more = "" if not others else f" and {others} other {'thing' if others == 1 else 'things'}"
    sentence = [
        Run(f"{many}{planned.name}{more}, "),
        Run(amount(planned.landed, currency), "landed", True),
        Run(" landed"),
    ]
    rests: list[Run] = []
    prospect = planned.prospect
    if prospect is not None and prospect.paid is not None:
        if planned.count > 1:
            sentence += [Run(": "), Run(amount_words(float(prospect.paid), currency), "each"), Run(" each")]
        rests += [*ground_of(prospect, currency), Run(" ")]
    if planned.limit is not None:
        is_over = planned.after > planned.limit
        rests += [
            Run(f"This takes {planned.month} to "),
            Run(amount(planned.after, currency), "month", is_over),
            Run(f" of your {amount(planned.limit, currency)}"),
            Run(": over the limit that you set. It can wait." if is_over else "."),
        ]
    return Verdict((*sentence, Run(".")), tuple(rests))
