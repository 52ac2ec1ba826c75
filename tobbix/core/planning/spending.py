"""A limit to what is spent on product in a month, and where it stands. Plain words, and no cue to buy more."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.overview import MONTHS

NEAR = Decimal("0.8")


class LimitState(StrEnum):
    """Where the month's spending stands."""

    NONE = "none"
    WITHIN = "within"
    NEAR = "near"
    OVER = "over"


@dataclass(frozen=True, slots=True)
class Spent:
    """What was spent in a month (money) against the ``limit``, None without one."""

    month: str
    total: Decimal
    limit: Decimal | None
    currency: str
    state: LimitState
    verdict: Verdict


def month_of(day: date) -> tuple[date, date]:
    """The first day of a day's month, and of the next.

    >>> month_of(date(2026, 12, 5))
    (datetime.date(2026, 12, 1), datetime.date(2027, 1, 1))
    """
    first = day.replace(day=1)
    return first, date(day.year + day.month // 12, day.month % 12 + 1, 1)


def month_with(spent: Spent, charges: Iterable[tuple[date, Decimal]], today: date) -> Decimal:
    """What the month comes to with charges that are not booked yet (day, money at home): those of its days count."""
    first, after = month_of(today)
    return spent.total + sum((amount for day, amount in charges if first <= day < after), Decimal(0))


def judge_spending(total: Decimal, limit: Decimal | None, currency: str, today: date) -> Spent:
    """Where spending stands in today's month; at or over the limit it points to help, in general words."""
    month = MONTHS[today.month - 1]
    state = LimitState.NONE
    if limit is not None:
        state = LimitState.OVER if total >= limit else LimitState.NEAR if total >= limit * NEAR else LimitState.WITHIN
    spent = Run(f"{total:,.2f}", "spent", state in (LimitState.NEAR, LimitState.OVER))
    if limit is None:
        sentence = (Run(f"Spent in {month}: "), spent, Run(f" {currency}. You have set no limit."))
        return Spent(month, total, limit, currency, state, Verdict(sentence, ()))
    sentence = (Run(f"Spent in {month}: "), spent, Run(f" of {limit:,.2f} {currency}."))
    ground: tuple[Run, ...] = ()
    if state is LimitState.OVER:
        ground = (
            Run(
                "That is your own limit for this month; the next pack can wait. If it is hard to stop, talk to "
                "somebody: your country has free and confidential help lines for gambling."
            ),
        )
    return Spent(month, total, limit, currency, state, Verdict(sentence, ground))
