"""What sales made, thing by thing and together: by way, month, year, lot, session, submission, set, subject, buyer
(Rule C-16).

A thing's part of its order's fees, postage and supplies goes by its part of what the order brought; so the things of an
order add up to it, and refunds are in it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.allocation import share_out
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.sentences import amount


class SalesBy(StrEnum):
    """By what sales are put together."""

    WAY = "way"
    MONTH = "month"
    YEAR = "year"
    LOT = "lot"
    SESSION = "session"
    SUBMISSION = "submission"
    SET = "set"
    SUBJECT = "subject"
    BUYER = "buyer"


@dataclass(frozen=True, slots=True)
class LineSold:
    """A thing of an order: its part of what came in (``home``, money at home), what it had cost (None: nobody
    remembers), whether it is still sold, when it came, by what it can be put together with others, and whether it is
    one's own (what a friend's brings is the friend's)."""

    document: int
    item: int
    name: str
    day: date
    home: Decimal
    basis: Decimal | None
    is_sold: bool
    acquired_on: date | None
    names: Mapping[SalesBy, str]
    is_own: bool = True


@dataclass(frozen=True, slots=True)
class ThingSold:
    """What a thing made (money at home): what it ``brought`` after refunds, its part of the order's costs, what it had
    cost (None: nobody remembers), for how many days it was held, its part of the minutes logged (None: none were)."""

    document: int
    item: int
    name: str
    day: date
    brought: Decimal
    fees: Decimal
    postage: Decimal
    supplies: Decimal
    basis: Decimal | None
    days: int | None
    minutes: Decimal | None
    names: Mapping[SalesBy, str]

    @property
    def costs(self) -> Decimal:
        """Fees, postage and packing together."""
        return self.fees + self.postage + self.supplies

    @property
    def profit(self) -> Decimal | None:
        """Rule C-16."""
        return None if self.basis is None else self.brought - self.costs - self.basis


def things_sold(
    lines: Sequence[LineSold], booked: Mapping[int, Mapping[Account, Decimal]], minutes: Mapping[int, Decimal],
    minor_units: int,
) -> list[ThingSold]:  # fmt: skip
    """What each thing made, out of what its order's document booked on each account (money, debit positive). A thing
    that came back is out of it. Rule C-16."""
    found = []
    by_document: dict[int, list[LineSold]] = {}
    for line in lines:
        by_document.setdefault(line.document, []).append(line)
    for document, all_of in by_document.items():
        on = booked.get(document, {})
        of = [it for it in all_of if it.is_sold] or all_of
        weights = [Fraction(it.home) for it in of] if any(it.home for it in of) else [Fraction(1)] * len(of)

        def shares(
            account: Account, sign: int = 1, on: Mapping[Account, Decimal] = on, weights: Sequence[Fraction] = weights
        ) -> Sequence[Decimal]:
            return share_out(sign * on.get(account, Decimal(0)), weights, minor_units)

        own = [weight if it.is_own else Fraction(0) for it, weight in zip(of, weights, strict=True)]
        earned = shares(Account.INCOME, -1, on, own if any(own) else weights)
        parts = zip(
            of, earned, shares(Account.FEES), shares(Account.POSTAGE),
            shares(Account.SUPPLIES_USED), strict=True,
        )  # fmt: skip
        total = sum(weights)
        for weight, (it, brought, fees, postage, supplies) in zip(weights, parts, strict=True):
            took = minutes.get(document)
            days = None if it.acquired_on is None else (it.day - it.acquired_on).days
            part = None if took is None else Decimal(round(float(weight / total) * float(took) * 10)) / 10
            basis = it.basis if it.is_sold and it.is_own else Decimal(0)
            costs = (brought, fees, postage, supplies, basis)
            found.append(ThingSold(document, it.item, it.name, it.day, *costs, days, part, it.names))
    return found


@dataclass(frozen=True, slots=True)
class SalesSum:
    """Sales together (money at home): how many, what they brought and cost; the ``profit`` of the ``known`` ones (those
    whose cost is remembered), the mean of the days held, and what an hour made where time was logged."""

    name: str
    count: int
    brought: Decimal
    fees: Decimal
    postage: Decimal
    supplies: Decimal
    basis: Decimal
    known: int
    profit: Decimal
    days: float | None
    minutes: Decimal
    per_hour: Decimal | None


def sum_sales(name: str, things: Sequence[ThingSold]) -> SalesSum:
    """Things together; of one nobody remembers no profit is said. Rule C-16."""

    def total(values: Sequence[Decimal]) -> Decimal:
        return sum(values, Decimal(0))

    known = [it for it in things if it.basis is not None]
    days = [it.days for it in things if it.days is not None]
    timed = [it for it in known if it.minutes]
    minutes = total([it.minutes or Decimal(0) for it in timed])
    made = total([it.profit or Decimal(0) for it in timed])
    return SalesSum(
        name, len(things), total([it.brought for it in things]), total([it.fees for it in things]),
        total([it.postage for it in things]), total([it.supplies for it in things]),
        total([it.basis or Decimal(0) for it in known]), len(known), total([it.profit or Decimal(0) for it in known]),
        sum(days) / len(days) if days else None, minutes, made / minutes * 60 if minutes else None,
    )  # fmt: skip


def group_sales(things: Sequence[ThingSold], by: SalesBy) -> tuple[SalesSum, ...]:
    """Sales together by something; months and years the newest first, else what made most first. Rule C-16."""
    groups: dict[str, list[ThingSold]] = {}
    for it in things:
        groups.setdefault(it.names.get(by, ""), []).append(it)
    sums = [sum_sales(name, of) for name, of in groups.items()]
    if by in (SalesBy.MONTH, SalesBy.YEAR):
        return tuple(sorted(sums, key=lambda it: it.name, reverse=True))
    return tuple(sorted(sums, key=lambda it: (-it.profit, it.name)))


def state_sales(found: SalesSum, home: str, span: str) -> Verdict:
    """What all sales of a time made."""
    if not found.count:
        return Verdict(
            (
                Run(f"Nothing was sold{span}", "profit", True),
                Run("."),
            ),
            (),
        )
    many = "1 thing" if found.count == 1 else f"{found.count:,} things"
    if not found.known:
        head = (Run(f"{many} brought "), Run(amount(found.brought, home), "brought", True), Run(f"{span}."))
        return Verdict(head, (Run("Nobody remembers what they cost, so no profit is said."),))
    verb = "made" if found.profit >= 0 else "lost"
    head = (Run(f"{many} {verb} "), Run(amount(abs(found.profit), home), "profit", True), Run(f"{span}."))
    spent = found.fees + found.postage + found.supplies
    ground = f"{amount(found.brought, home)} in, {amount(spent, home)} for fees, post and packing, "
    ground += f"{amount(found.basis, home)} had they cost."
    if found.known < found.count:
        ground += f" Of {found.count - found.known:,} nobody remembers the cost: they are left out of the profit."
    return Verdict(head, (Run(ground),))
