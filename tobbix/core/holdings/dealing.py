"""What is done with things beyond buying and opening: sell, trade, send away for a service, crack, use up, claim.

As in the register every function returns the things after it with a balanced entry (Rule C-16). Money is given as its
lines: cash in positive, cash out negative, a fee that was kept back positive.

Example: a card that cost 20.00 is sold for 50.00; the market keeps 6.00 and 44.00 come in: cash 44.00, fees 6.00,
income -50.00, cost of sales 20.00, stock -20.00.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings.allocation import Method, Part, divide, share_out_by_count
from tobbix.core.holdings.ledger import Account, Entry, Event, Posting
from tobbix.core.holdings.register import Change, Thing, account_of, carry, divide_pulls, take_action
from tobbix.core.holdings.states import HELD_STATES, Action, State


def _sum(lines: Sequence[Posting]) -> Decimal:
    return sum((line.amount for line in lines), Decimal(0))


def sell(
    things: Sequence[Thing],
    proceeds: Mapping[int, Decimal],
    money: Sequence[Posting],
    day: date,
    text: str,
    shipping: Decimal = Decimal(0),
) -> Change:
    """Sell things: each brings what ``proceeds`` says by its key (money), and the buyer pays ``shipping`` besides.

    ``money`` is where it went (cash, a receivable, fees kept back) and adds up to all of it. What a friend's thing
    brings is owed to the friend. Raises Conflict, and InputError if the money does not add up.
    """
    after = take_action(things, Action.SELL)
    gross = sum((proceeds[t.key] for t in things), shipping)
    if _sum(money) != gross:
        raise InputError.at("money", f"what came in and was kept back is {_sum(money) - gross:+} off the {gross} paid")
    own = sum((proceeds[t.key] for t in things if t.owner is None), shipping)
    owed = [Posting(Account.PAYABLE, -proceeds[t.key], party=t.owner) for t in things if t.owner is not None]
    income = [Posting(Account.INCOME, -own)] if own else []
    lines = (*money, *income, *owed, *carry(things, after, Account.COST_OF_SALES))
    return Change(after, Entry(day, Event.SALE, text, lines))


def take_return(
    things: Sequence[Thing], refunded: Mapping[int, Decimal], money: Sequence[Posting], day: date, text: str
) -> Change:
    """A buyer returns things: each is here again with its basis, and what it brought goes back as far as ``refunded``
    says by its key. ``money`` as in a sale with the sign turned: cash out and fees given back are negative."""
    after = take_action(things, Action.TAKE_RETURN)
    lines = [*money, *_refund(things, refunded, money)]
    back = sum((t.basis for t in things if t.basis), Decimal(0))
    if back:
        lines += [*(Posting(account_of(t), t.basis) for t in after if t.basis), Posting(Account.COST_OF_SALES, -back)]
    return Change(after, Entry(day, Event.SALE_RETURN, text, tuple(lines)))


def refund_buyer(
    things: Sequence[Thing], refunded: Mapping[int, Decimal], money: Sequence[Posting], day: date, text: str
) -> Change:
    """Money back to a buyer who keeps the things."""
    gone = [t.name for t in things if t.state is not State.SOLD]
    if gone:
        raise Conflict(f"{', '.join(gone)}: not sold, so there is nobody to pay back")
    lines = (*money, *_refund(things, refunded, money))
    return Change(tuple(things), Entry(day, Event.SALE_RETURN, text, lines))


def _refund(things: Sequence[Thing], refunded: Mapping[int, Decimal], money: Sequence[Posting]) -> list[Posting]:
    total = sum((refunded[t.key] for t in things), Decimal(0))
    if _sum(money) != -total:
        raise InputError.at("money", f"what was paid back is {_sum(money) + total:+} off the {total} refunded")
    own = sum((refunded[t.key] for t in things if t.owner is None), Decimal(0))
    owed = [Posting(Account.PAYABLE, refunded[t.key], party=t.owner) for t in things if t.owner is not None]
    return [*([Posting(Account.INCOME, own)] if own else []), *owed]


def trade(
    given: Sequence[Thing], got: Sequence[Thing], cash: Posting | None, day: date, text: str, minor_units: int = 2
) -> Change:
    """Give things for others: what was given, with the cash paid and less the cash received, is what the others cost,
    by relative value. Cash beyond that cost is income. Rule C-16.

    ``got`` come held, without a basis. Where nobody remembers what the given ones cost, the others' is unknown too.
    Raises Conflict, and InputError if only some of the costs are known, or cash goes with unknown ones.
    """
    foreign = [t.name for t in (*given, *got) if t.owner is not None]
    if foreign:
        raise Conflict(f"{', '.join(foreign)}: belongs to somebody else, so it cannot be traded")
    if not given or not got:
        raise InputError.at("things", "a trade has something given and something got")
    after = take_action(given, Action.TRADE)
    unknown = [t.name for t in given if t.basis is None]
    if unknown and (len(unknown) < len(given) or cash is not None):
        raise InputError.at("things", f"{', '.join(unknown)}: say what it cost first (0 if nothing), or trade it apart")
    if unknown:
        return Change((*after, *got), Entry(day, Event.TRADE, text, ()))
    total = sum((t.basis for t in given if t.basis), Decimal(0)) - (cash.amount if cash else 0)
    shares = divide_pulls(max(total, Decimal(0)), got, minor_units)
    made = tuple(replace(t, basis=share) for t, share in zip(got, shares, strict=True))
    lines = [Posting(account_of(t), -t.basis) for t in given if t.basis]
    lines += [Posting(account_of(t), t.basis) for t in made if t.basis]
    lines += [cash] if cash else []
    lines += [Posting(Account.INCOME, total)] if total < 0 else []
    return Change((*after, *made), Entry(day, Event.TRADE, text, tuple(lines)))


def send_away(things: Sequence[Thing], day: date, text: str) -> Change:
    """Things go away for a service: a grading, a signature, a repair."""
    after = take_action(things, Action.SEND_AWAY)
    return Change(after, Entry(day, Event.SENDING, text, carry(things, after)))


def come_back(things: Sequence[Thing], day: date, text: str) -> Change:
    """Things are back from a service, whatever came of it."""
    after = take_action(things, Action.COME_BACK)
    return Change(after, Entry(day, Event.COMING_BACK, text, carry(things, after)))


def bill_service(
    things: Sequence[Thing], over: Sequence[int], cash: Posting, day: date, text: str, minor_units: int = 2
) -> Change:
    """A charge of a service, shared equally over the things that it is for (their keys): it raises what is one's own
    and held; for a friend's thing the friend owes it; for what is gone, or of unknown cost, it is a fee. C-15, C-25.

    ``cash`` is the line of what was paid (negative).
    """
    chosen = [t for t in things if t.key in set(over)]
    if len(chosen) != len(over) or not chosen:
        raise InputError.at("over", "must name things of this bill, each once")
    parts = [Part(t.name) for t in chosen]
    shares = divide(-cash.amount, parts, Method.EQUAL, minor_units)
    after, lines = [], [cash]
    for t, share in zip(chosen, shares, strict=True):
        if t.owner is not None:
            lines.append(Posting(Account.RECEIVABLE, share, party=t.owner))
        elif t.basis is not None and t.state in HELD_STATES:
            after.append(replace(t, basis=t.basis + share))
            lines.append(Posting(account_of(t), share))
        else:
            lines.append(Posting(Account.FEES, share))
    return Change(tuple(after), Entry(day, Event.SERVICE, text, tuple(line for line in lines if line.amount)))


def crack(thing: Thing, day: date, text: str) -> Change:
    """A card is taken out of its holder; its basis stays with it."""
    return Change(take_action([thing], Action.CRACK), Entry(day, Event.CRACK, text, ()))


def use_up(supply: Thing, count: int, day: date, text: str, minor_units: int = 2) -> Change:
    """Use so many of a supply; what is left keeps its part of the cost, salvaged ones have none."""
    if not 1 <= count <= supply.count:
        raise InputError.at("count", f"must be from 1 to the {supply.count} that are there")
    if count == supply.count:
        after = take_action([supply], Action.USE_UP)
        return Change(after, Entry(day, Event.USE, text, carry([supply], after, Account.SUPPLIES_USED)))
    used, kept = None, None
    if supply.basis is not None:
        used, kept = share_out_by_count(supply.basis, [count, supply.count - count], minor_units)
    left = replace(supply, count=supply.count - count, basis=kept, value=None)
    lines = (Posting(Account.SUPPLIES_USED, used), Posting(account_of(supply), -used)) if used else ()
    return Change((left,), Entry(day, Event.USE, text, lines))


def pay_postage(cash: Posting, day: date, text: str) -> Change:
    """A parcel's own bill."""
    return Change((), Entry(day, Event.POSTAGE, text, (Posting(Account.POSTAGE, -cash.amount), cash)))


def count_purse(purse: str, before: Decimal, counted: Decimal, day: date, text: str) -> Change:
    """A purse was counted: what is lacking is lost, what is too much makes good what was lost."""
    off = counted - before
    return Change(
        (), Entry(day, Event.CORRECTION, text, (Posting(Account.CASH, off, purse), Posting(Account.LOST, -off)))
    )


def settle_claim(things: Sequence[Thing], paid: Mapping[int, Decimal], cash: Posting, day: date, text: str) -> Change:
    """A claim for lost things is paid, to each what ``paid`` says by its key (money): it makes good what the loss
    cost, beyond that it is income; for a friend's thing it is the friend's."""
    after = take_action(things, Action.CLAIM)
    total = sum((paid[t.key] for t in things), Decimal(0))
    if cash.amount != total:
        raise InputError.at("money", f"what was paid is {cash.amount - total:+} off the {total} of the things")
    lines = [cash]
    for t in things:
        if t.owner is not None:
            lines.append(Posting(Account.PAYABLE, -paid[t.key], party=t.owner))
            continue
        good = min(paid[t.key], t.basis or Decimal(0))
        lines += [Posting(Account.LOST, -good), Posting(Account.INCOME, good - paid[t.key])]
    return Change(after, Entry(day, Event.CLAIM, text, tuple(line for line in lines if line.amount)))


def take_damages(cash: Posting, day: date, text: str) -> Change:
    """A claim is paid for what is no longer in the books, as it was sold: income of its sale."""
    return Change((), Entry(day, Event.CLAIM, text, (cash, Posting(Account.INCOME, -cash.amount))))


def correct_fee(party: int, kept: Decimal, day: date, text: str) -> Change:
    """A market kept more of an order than it had said (under 0: less), so that it owes that much less. Raises
    InputError for nothing."""
    if kept == 0:
        raise InputError.at("amount", "there is no difference")
    lines = (Posting(Account.FEES, kept), Posting(Account.RECEIVABLE, -kept, party=party))
    return Change((), Entry(day, Event.CORRECTION, text, lines))


def make_good(party: int, amount: Decimal, day: date, text: str) -> Change:
    """What a party is owed for a thing of theirs that was lost here."""
    return Change(
        (),
        Entry(day, Event.CLAIM, text, (Posting(Account.LOST, amount), Posting(Account.PAYABLE, -amount, party=party))),
    )


def settle(
    party: int, owed: Mapping[Account, Decimal], cash: Posting, day: date, text: str, minor_units: int = 2
) -> Change:
    """A party pays what it owes, or is paid what it is owed. ``owed`` are its balances (money, debit positive).

    Cash in clears the receivable, cash out the payable; where both stand they are set off first. Raises InputError for
    more than there is.
    """
    receivable, payable = owed.get(Account.RECEIVABLE, Decimal(0)), owed.get(Account.PAYABLE, Decimal(0))
    net = receivable + payable
    nothing = Decimal(0)
    if not min(net, nothing) <= cash.amount <= max(net, nothing) or cash.amount == 0:
        raise InputError.at("amount", f"must not be more than the {abs(net):.{minor_units}f} that is owed")
    off = min(receivable, -payable) if receivable > 0 > payable else Decimal(0)
    sums = {Account.RECEIVABLE: -off, Account.PAYABLE: off}
    sums[Account.RECEIVABLE if cash.amount > 0 else Account.PAYABLE] -= cash.amount
    lines = (cash, *(Posting(account, amount, party=party) for account, amount in sums.items() if amount))
    return Change((), Entry(day, Event.SETTLEMENT, text, lines))
