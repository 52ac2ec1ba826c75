"""The books as a plain-text ledger in the syntax of Beancount, a general accounting tool, and as CSV.

Prices of other currencies are written as costs of the cash line (``-10.00 GBP @@ 11.60 EUR``), so every entry balances
in the home currency.
"""

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from tobbix.core.base.money import minor_units
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


def _name(line: Posting) -> str:
    if line.account is not Account.CASH:
        return _NAMES[line.account]
    words = "".join(part.capitalize() for part in "".join(c if c.isalnum() else " " for c in line.purse or "").split())
    ascii_words = words.encode("ascii", "ignore").decode()
    return f"Assets:Cash:{ascii_words if ascii_words[:1].isalnum() else 'Purse' + ascii_words}"


def write_ledger(entries: Iterable[Entry], home: str, title: str) -> str:
    """All entries that move money as a ledger that opens every account on the first day that it is used."""
    ordered = sorted((entry for entry in entries if entry.lines), key=lambda entry: entry.day)
    opened: dict[str, date] = {}
    for entry in ordered:
        for line in entry.lines:
            opened.setdefault(_name(line), entry.day)
    out = [f'option "title" "{_quoted(title)}"', f'option "operating_currency" "{home}"', ""]
    out += [f"{day.isoformat()} open {name}" for name, day in sorted(opened.items())]
    for entry in ordered:
        out += ["", f'{entry.day.isoformat()} * "{entry.event.value}" "{_quoted(entry.text)}"']
        for line in entry.lines:
            if line.original is not None and line.currency is not None and line.original != 0:
                said = f"{_exact(line.original, line.currency)} @@ {_exact(abs(line.amount), home)}"
            else:
                said = _exact(line.amount, home)
            out.append(f"  {_name(line)}  {said}")
    return "\n".join(out) + "\n"


def _exact(amount: Decimal, currency: str) -> str:
    return f"{amount:.{minor_units(currency)}f} {currency}"


def _quoted(text: str) -> str:
    return text.replace("\\", "\\\\").replace('"', "'").replace("\n", " ")
