"""What stands open with a friend whose cards one keeps, sends to a grader or sells: a running account (Rule C-16)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount


@dataclass(frozen=True, slots=True)
class FriendLine:
    """Something that was booked for a friend (money at home): ``change`` is over 0 where the friend owes more by it,
    under 0 where one owes the friend more or the friend paid; what stands open after it."""

    day: date
    text: str
    change: Decimal
    open: Decimal


def running(before: Decimal, booked: Sequence[tuple[date, str, Decimal]]) -> tuple[FriendLine, ...]:
    """A running account from what stood open ``before``; what nets to nothing is left out.

    >>> lent, paid = (date(2026, 1, 2), "a batch", Decimal(20)), (date(2026, 1, 3), "paid", Decimal(-25))
    >>> [str(it.open) for it in running(Decimal(5), [lent, paid])]
    ['25', '0']
    """
    found, stands = [], before
    for day, text, change in booked:
        if not change:
            continue
        stands += change
        found.append(FriendLine(day, text, change, stands))
    return tuple(found)


def state_friend(name: str, stands: Decimal, here: int, home: str) -> Verdict:
    """Who owes whom, and how many of the friend's things one has."""
    if stands > 0:
        head: tuple[Run, ...] = (Run(f"{name} owes you "), Run(amount(stands, home), "open", True), Run("."))
    elif stands < 0:
        head = (Run(f"You owe {name} "), Run(amount(-stands, home), "open", True), Run("."))
    else:
        head = (Run("Nothing stands open", "open", True), Run(f" with {name}."))
    things = "1 thing of theirs is" if here == 1 else f"{here:,} things of theirs are"
    return Verdict(head, (Run(f"{things} with you or away for them."),) if here else ())
