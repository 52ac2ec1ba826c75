"""What markets pay out, set against the orders that it is for; a difference is booked as the fee that it was (C-16)."""

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing
from tobbix.core.holdings.allocation import share_out
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.sentences import amount
from tobbix.db.base import Session
from tobbix.db.holdings.loading import account_balances
from tobbix.db.holdings.saving import keep_change
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.selling import payouts
from tobbix.db.selling.payouts import OpenOrder as OpenOrder
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock.taking_in import settle


def list_open(catalogue: Catalogue, market: str) -> tuple[list[OpenOrder], Decimal]:
    """The orders that a market has not paid out, and what it owes besides (money at home; under 0: it was paid without
    saying for which). Raises NotFound."""
    with catalogue.database.transaction() as session:
        party = payouts.find_market(session, market)
        found = payouts.open_orders(session, party)
        return found, _owed(session, party) - sum((it.amount for it in found), Decimal(0))


def _owed(session: Session, party: int) -> Decimal:
    balances = account_balances(session, party)
    return sum((it for (account, _), it in balances.items() if account is Account.RECEIVABLE), Decimal(0))


def take_payout(
    catalogue: Catalogue, market: str, cash: ChargeInput, orders: Sequence[int], as_fee: bool = False
) -> Decimal:  # fmt: skip
    """A market pays out for some orders (none: just so much); what it owes after it (money at home). Where it is not
    what those have open, ``as_fee`` says that it kept the difference, which is shared out over them by what they have
    open. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        home, party = load_preferences(session).currency, payouts.find_market(session, market)
        text = f"{market} paid out"
        if orders:
            payouts.lock_orders(session, orders)
            known = {it.document: it for it in payouts.open_orders(session, party)}
            chosen = [known[order] for order in dict.fromkeys(orders) if order in known]
            if len(chosen) < len(set(orders)):
                raise InputError.at("orders", f"one of these {market} does not owe any more")
            kept = sum((it.amount for it in chosen), Decimal(0)) - cash.amount
            if kept and not as_fee:
                less = "less" if kept > 0 else "more"
                off = f"is {amount(abs(kept), home)} {less} than those orders have open"
                raise InputError.at("amount", f"{off}: say that it is its fee, or choose the orders that it is for")
            if kept:
                _correct_fees(session, party, market, chosen, kept, cash, home)
            text = f"{text}: {', '.join(it.reference for it in chosen)}"[:500]
        document = settle(session, market, replace(cash, kind="other"), True, "market", text)
        if orders:
            payouts.mark_paid(session, document, list(dict.fromkeys(orders)))
        return _owed(session, party)


def _correct_fees(
    session: Session, party: int, market: str, orders: Sequence[OpenOrder], kept: Decimal, cash: ChargeInput, home: str
) -> None:
    """What a market kept more (or less) than it had said, in each order by what it has open."""
    shares = share_out(kept, [Fraction(max(it.amount, Decimal(0))) for it in orders], minor_units(home))
    for it, share in zip(orders, shares, strict=True):
        if share:
            text = f"{market} kept {'more' if share > 0 else 'less'} than it had said: {it.reference}"
            keep_change(session, dealing.correct_fee(party, share, cash.day, text), it.document)
