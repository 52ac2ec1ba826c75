"""Double entry: every event is a balanced set of lines in the home currency (Rule C-16).

Example: a box at 96.00 with 4.00 shipping, paid from the card purse, on its way: transit 100.00, cash -100.00. When it
stands on the desk: stock 100.00, transit -100.00.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from enum import StrEnum


class Account(StrEnum):
    """The accounts; cash is kept per purse."""

    CASH = "cash"
    STOCK = "stock"
    TRANSIT = "transit"
    GRADING = "grading"
    SUPPLIES = "supplies"
    SUPPLIES_USED = "supplies_used"
    RECEIVABLE = "receivable"
    PAYABLE = "payable"
    INCOME = "income"
    FEES = "fees"
    POSTAGE = "postage"
    COST_OF_SALES = "cost_of_sales"
    ENTERTAINMENT = "entertainment"
    GIFTS = "gifts"
    GIVEAWAYS = "giveaways"
    PUBLICITY = "publicity"
    DONATIONS = "donations"
    LOST = "lost"
    TAX = "tax"
    EXCHANGE = "exchange"
    OPENING_EQUITY = "opening_equity"
    DRAWINGS = "drawings"
    SUSPENSE = "suspense"


HELD = (Account.STOCK, Account.TRANSIT, Account.GRADING, Account.SUPPLIES)
OWED = (Account.RECEIVABLE, Account.PAYABLE)


@dataclass(frozen=True, slots=True)
class Posting:
    """One line of an entry: ``amount`` in the home currency (money, debit positive).

    ``original`` amount in ``currency`` at ``rate`` home units each, where it was in another. ``purse`` of cash,
    ``party`` of what somebody owes or is owed.
    """

    account: Account
    amount: Decimal
    purse: str | None = None
    original: Decimal | None = None
    currency: str | None = None
    rate: Decimal | None = None
    party: int | None = None

    def __post_init__(self) -> None:
        if (self.account is Account.CASH) != (self.purse is not None):
            raise ValueError("cash, and only cash, is kept per purse")
        if (self.account in OWED) != (self.party is not None):
            raise ValueError("what is owed, and only that, is kept per party")
        if not self.amount.is_finite():
            raise ValueError("an amount must be finite")


class Event(StrEnum):
    """What happened."""

    PURCHASE = "purchase"
    RECEIPT = "receipt"
    REFUND = "refund"
    DIVISION = "division"
    OPENING = "opening"
    SPLIT = "split"
    JOIN = "join"
    SALE = "sale"
    SALE_RETURN = "sale_return"
    TRADE = "trade"
    SENDING = "sending"
    COMING_BACK = "coming_back"
    SERVICE = "service"
    CRACK = "crack"
    USE = "use"
    POSTAGE = "postage"
    CLAIM = "claim"
    SETTLEMENT = "settlement"
    OPENING_BALANCE = "opening_balance"
    CORRECTION = "correction"
    WRITE_OFF = "write_off"
    UNDO = "undo"


@dataclass(frozen=True, slots=True)
class Entry:
    """A balanced set of lines. Raises ValueError for one that does not balance: it is never made."""

    day: date
    event: Event
    text: str
    lines: tuple[Posting, ...]

    def __post_init__(self) -> None:
        off = sum((line.amount for line in self.lines), Decimal(0))
        if off != 0:
            raise ValueError(f"the entry is off by {off}")

    @property
    def moves(self) -> bool:
        """Whether it says anything."""
        return any(line.amount != 0 for line in self.lines)


def reverse(entry: Entry, day: date, text: str | None = None) -> Entry:
    """The entry that takes another back, in words of its own or in those of the other; both stay."""
    lines = tuple(
        replace(line, amount=-line.amount, original=None if line.original is None else -line.original)
        for line in entry.lines
    )
    return Entry(day, Event.UNDO, text or f"taken back: {entry.text}", lines)


def held_balance(found: Mapping[tuple[Account, str | None], Decimal]) -> Decimal:
    """Stock, in transit, at grading and supplies together: the sum of all known bases, at any time."""
    return sum((amount for (account, _), amount in found.items() if account in HELD), Decimal(0))
