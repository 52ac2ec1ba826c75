"""The sentences of the Buying step."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import DocumentState


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


def state_purchase(purchase: Purchase, currency: str) -> Verdict:
    """Where a purchase is, and what it cost. Rule C-15."""
    name = purchase.name[:1].upper() + purchase.name[1:]
    where = Run(_WHERE[purchase.state], "state", True)
    if purchase.state is DocumentState.UNDONE:
        return Verdict((Run(f"{name} "), where, Run(".")), ())
    return Verdict((Run(f"{name} "), where, Run(f"; it cost {amount(purchase.landed, currency)} landed.")), ())
