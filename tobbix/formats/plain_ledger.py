"""The books as a plain-text ledger in the syntax of Beancount, a general accounting tool, and as CSV.

Prices of other currencies are written as costs of the cash line (``-10.00 GBP @@ 11.60 EUR``), so every entry balances
in the home currency.
"""

import re
import unicodedata
from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import in_digits
from tobbix.core.holdings.ledger import Account, Entry, Posting

_NAMES = {
    Account.CASH: "Assets:Cash", Account.STOCK: "Assets:Stock", Account.TRANSIT: "Assets:Transit",
    Account.GRADING: "Assets:Grading", Account.SUPPLIES: "Assets:Supplies", Account.RECEIVABLE: "Assets:Receivable",
    Account.PAYABLE: "Liabilities:Friends", Account.INCOME: "Income:Sales", Account.FEES: "Expenses:Fees",
    Account.POSTAGE: "Expenses:Postage", Account.COST_OF_SALES: "Expenses:CostOfSales",
    Account.ENTERTAINMENT: "Expenses:Entertainment", Account.GIFTS: "Expenses:Gifts", Account.LOST: "Expenses:Lost",
    Account.TAX: "Expenses:Tax", Account.EXCHANGE: "Expenses:Exchange", Account.OPENING_EQUITY: "Equity:Opening",
    Account.DRAWINGS: "Equity:Drawings", Account.SUSPENSE: "Assets:Suspense",
    Account.SUPPLIES_USED: "Expenses:Supplies", Account.GIVEAWAYS: "Expenses:Giveaways",
    Account.PUBLICITY: "Expenses:Publicity", Account.DONATIONS: "Expenses:Donations",
}  # fmt: skip


class _Names:
    """The ledger's account names: of cash one for each purse, valid and unlike the others, whatever it is called."""

    def __init__(self, purses: Iterable[str]) -> None:
        self._purses: dict[str, str] = {}
        taken: set[str] = set()
        for purse in sorted(set(purses)):
            plain = unicodedata.normalize("NFKD", purse).encode("ascii", "ignore").decode()
            words = re.findall("[A-Za-z0-9]+", plain)
            base = "".join(word[:1].upper() + word[1:].lower() for word in words) or "Purse"
            name, count = base, 1
            while name in taken:  # equal once folded: they are counted through
                count += 1
                name = f"{base}-{count}"
            taken.add(name)
            self._purses[purse] = name

    def of(self, line: Posting) -> str:
        return _NAMES[line.account] if line.purse is None else f"{_NAMES[line.account]}:{self._purses[line.purse]}"


def write_ledger(entries: Iterable[Entry], home: str, title: str) -> str:
    """All entries that move money as a ledger that opens every account on the first day that it is used."""
    ordered = sorted((entry for entry in entries if entry.lines), key=lambda entry: entry.day)
    names = _Names(line.purse for entry in ordered for line in entry.lines if line.purse is not None)
    opened: dict[str, date] = {}
    for entry in ordered:
        for line in entry.lines:
            opened.setdefault(names.of(line), entry.day)
    out = [f'option "title" "{_quoted(title)}"', f'option "operating_currency" "{home}"', ""]
    out += [f"{day.isoformat()} open {name}" for name, day in sorted(opened.items())]
    for entry in ordered:
        out += ["", f'{entry.day.isoformat()} * "{entry.event.value}" "{_quoted(entry.text)}"']
        for line in entry.lines:
            if line.original is not None and line.currency is not None and line.original != 0:
                said = f"{_exact(line.original, line.currency)} @@ {_exact(abs(line.amount), home)}"
            else:
                said = _exact(line.amount, home)
            out.append(f"  {names.of(line)}  {said}")
    return "\n".join(out) + "\n"


def _exact(amount: Decimal, currency: str) -> str:
    return f"{in_digits(amount, currency)} {currency}"


def _quoted(text: str) -> str:
    return text.replace("\\", "\\\\").replace('"', "'").replace("\n", " ")
