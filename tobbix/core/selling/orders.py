"""Orders: how far each is, what a sale really made, and where all of them stand (Rules C-16 and C-31)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import DocumentState


class OrderStage(StrEnum):
    """How far an order is."""

    TO_PACK = "to_pack"
    PACKED = "packed"
    SENT = "sent"
    COMPLAINED = "complained"
    DONE = "done"
    RETURNED = "returned"
    CANCELLED = "cancelled"


_STAGES: Mapping[DocumentState, OrderStage] = {
    DocumentState.SENT: OrderStage.SENT, DocumentState.DISPUTED: OrderStage.COMPLAINED,
    DocumentState.DONE: OrderStage.DONE, DocumentState.RETURNED: OrderStage.RETURNED,
    DocumentState.UNDONE: OrderStage.CANCELLED,
}  # fmt: skip


def stage_of(state: DocumentState, packed: bool) -> OrderStage:
    """How far an order is by the state of its document, and whether it is packed.

    >>> stage_of(DocumentState.PAID, False).value
    'to_pack'
    """
    return _STAGES.get(state, OrderStage.PACKED if packed else OrderStage.TO_PACK)


@dataclass(frozen=True, slots=True)
class SaleResult:
    """What a sale made (money at home): what it brought, what was kept back as fees, postage, supplies used and what
    the things had cost (None: of one nobody remembers, so there is no profit to say)."""

    brought: Decimal
    fees: Decimal
    postage: Decimal
    supplies: Decimal
    cost: Decimal | None

    @property
    def profit(self) -> Decimal | None:
        """Rule C-16."""
        return None if self.cost is None else self.brought - self.fees - self.postage - self.supplies - self.cost


def result_of(booked: Mapping[Account, Decimal], cost_is_known: bool) -> SaleResult:
    """What a sale made, by what its document booked on each account (money, debit positive). Rule C-16."""
    on = {account: booked.get(account, Decimal(0)) for account in Account}
    return SaleResult(
        -on[Account.INCOME], on[Account.FEES], on[Account.POSTAGE], on[Account.SUPPLIES_USED],
        on[Account.COST_OF_SALES] if cost_is_known else None,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class OrderWaiting:
    """An order of which something is to be done: how far it is, since when, and what was paid (money at home)."""

    document: int
    reference: str
    stage: OrderStage
    day: date
    buyer: str | None
    complaint: str | None
    home: Decimal


def state_orders(
    to_pack: int, packed: int, complained: int, late: Sequence[str], owed: Decimal, home: str
) -> Verdict:  # fmt: skip
    """What is to be packed and posted today, who complains, and what is late; ``owed`` by markets (money)."""
    if complained:
        who = "1 buyer complains" if complained == 1 else f"{complained} buyers complain"
        sentence: tuple[Run, ...] = (Run(who, "complaints", True), Run(": answer first, before anything is packed."))
    elif to_pack:
        orders = "1 order is" if to_pack == 1 else f"{to_pack:,} orders are"
        sentence = (Run(orders, "to pack", True), Run(" paid and to be packed."))
    elif packed:
        parcels = "1 parcel is" if packed == 1 else f"{packed:,} parcels are"
        sentence = (Run(parcels, "packed", True), Run(" packed and waits for the post." if packed == 1
                                                       else " packed and wait for the post."))  # fmt: skip
    else:
        sentence = (Run("Nothing is to be packed", "to pack", True), Run("."))
    ground = []
    if to_pack and complained:
        ground.append(f"{to_pack:,} to pack.")
    if packed and (to_pack or complained):
        ground.append(f"{packed:,} packed, not posted.")
    if late:
        ground.append(f"Late: {', '.join(late[:3])}{' and more' if len(late) > 3 else ''}.")
    if owed > 0:
        ground.append(f"Markets owe you {amount(owed, home)}.")
    return Verdict(sentence, (Run(" ".join(ground)),) if ground else ())


def state_result(reference: str, stage: OrderStage, things: int, result: SaleResult, home: str) -> Verdict:
    """What an order made."""
    many = "1 thing" if things == 1 else f"{things} things"
    if stage is OrderStage.CANCELLED:
        return Verdict((Run(f"{reference} was cancelled", "stage", True), Run(": it left nothing in the books.")), ())
    if result.profit is None:
        head = (Run(f"{reference} brought "), Run(amount(result.brought, home), "brought", True), Run("."))
        return Verdict(head, (Run(f"{many}; nobody remembers what it cost, so no profit is said."),))
    kind = "made" if result.profit >= 0 else "lost"
    end = " before its post." if stage in (OrderStage.TO_PACK, OrderStage.PACKED) else " after all."
    head = (Run(f"{reference} {kind} "), Run(amount(abs(result.profit), home), "profit", True), Run(end))
    spent = result.fees + result.postage + result.supplies
    return Verdict(head, (Run(f"{many}: {amount(result.brought, home)} in, {amount(spent, home)} for fees, post and "
                              f"packing, {amount(result.cost or Decimal(0), home)} had it cost."),))  # fmt: skip


@dataclass(frozen=True, slots=True)
class ParcelOnItsWay:
    """A parcel of the list: ``out`` or ``in``, of which document (its kind and words), how many things, and its days
    (None: not known). ``claim_until``: when its insurer hears no claim any more."""

    document: int
    kind: str
    text: str
    direction: str
    things: int
    carrier: str | None
    tracking: str | None
    sent_on: date | None
    due_on: date | None
    received_on: date | None
    claim_until: date | None

    def is_late(self, today: date) -> bool:
        """Whether it is due and not there. Rule C-32."""
        return self.received_on is None and self.due_on is not None and self.due_on < today

    @property
    def days(self) -> int | None:
        """How long it took, once it is there. Rule C-32."""
        return None if self.sent_on is None or self.received_on is None else (self.received_on - self.sent_on).days


def state_parcels(parcels: Sequence[ParcelOnItsWay], today: date) -> Verdict:
    """What is on its way, both ways, and what is late. Rule C-32."""
    away = [it for it in parcels if it.received_on is None]
    if not away:
        return Verdict((Run("Nothing is on its way", "away", True), Run(".")), ())
    late = [it for it in away if it.is_late(today)]
    many = "1 parcel is" if len(away) == 1 else f"{len(away):,} parcels are"
    out = sum(it.direction == "out" for it in away)
    sentence = (Run(many, "away", True), Run(f" on the way, {out} to others and {len(away) - out} to you."))
    ground = []
    if late:
        ground.append("1 is late." if len(late) == 1 else f"{len(late)} are late.")
    soon = sorted((it.claim_until, it.text) for it in away if it.claim_until is not None and it.claim_until >= today)
    if soon:
        ground.append(f"The next claim must be in by {soon[0][0]:%-d %B}: {soon[0][1]}.")
    return Verdict(sentence, (Run(" ".join(ground)),) if ground else ())
