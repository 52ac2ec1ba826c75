"""The register of things owned: bases, and what each event does to them and to states (Rules C-15 and C-16).

Every function takes things as they are and returns a ``Change``: the things after it, and the balanced entry that goes
with it. So stock, transit, grading and supplies together always equal the sum of the known bases.

A thing of somebody else, a friend's card say, may lie among them: it has an ``owner`` and never a basis.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings.allocation import Method, Part, divide, share_out, share_out_by_count
from tobbix.core.holdings.ledger import Account, Entry, Event, Posting
from tobbix.core.holdings.states import HELD_STATES, Action, Kind, Purpose, State, next_state


@dataclass(frozen=True, slots=True)
class Thing:
    """An item or a counted stack of like things: ``count`` of them with one ``basis`` together (money, None: nobody
    remembers). ``value`` of all of them where it is known (estimate, money). ``owner`` the party whose it is, None:
    one's own. A ``gift`` came with something else and carries no later cost either.

    Raises ValueError for a count under 1, or a basis of what is somebody else's.
    """

    key: int
    name: str
    count: int
    state: State
    basis: Decimal | None
    value: Decimal | None = None
    kind: Kind = Kind.OTHER
    owner: int | None = None
    gift: bool = False

    def __post_init__(self) -> None:
        if self.count < 1:
            raise ValueError("a thing counts at least one")
        if self.owner is not None and self.basis is not None:
            raise ValueError("what is somebody else's carries no cost")


@dataclass(frozen=True, slots=True)
class Change:
    """The things after an event (those before are given by their keys), and its entry, which may move no money."""

    things: tuple[Thing, ...]
    entry: Entry


_ACCOUNTS = {State.IN_TRANSIT: Account.TRANSIT, State.HELD: Account.STOCK, State.AWAY: Account.GRADING}


def account_of(thing: Thing) -> Account:
    """The account that carries a thing's basis. Raises ValueError for one that is not held."""
    if thing.state not in _ACCOUNTS:
        raise ValueError(f"nothing is held as {thing.state.value}")
    return Account.SUPPLIES if (thing.kind, thing.state) == (Kind.SUPPLY, State.HELD) else _ACCOUNTS[thing.state]


def known_basis(things: Sequence[Thing]) -> Decimal:
    """The sum of the known bases of what is held."""
    return sum((t.basis for t in things if t.state in HELD_STATES and t.basis is not None), Decimal(0))


def take_action(things: Sequence[Thing], action: Action) -> tuple[Thing, ...]:
    """Things after an action that changes their states. Raises Conflict, which names the thing, where it cannot."""
    after = []
    for t in things:
        try:
            after.append(replace(t, state=next_state(t.state, action)))
        except Conflict as error:
            raise Conflict(f"{t.name}: {error}") from error
    return tuple(after)


def carry(before: Sequence[Thing], after: Sequence[Thing], into: Account | None = None) -> tuple[Posting, ...]:
    """The lines by which known bases go from where things were to where they are, or all ``into`` one account."""
    sums: dict[Account, Decimal] = {}
    for old, new in zip(before, after, strict=True):
        if old.basis:
            target = into or account_of(new)
            sums[target] = sums.get(target, Decimal(0)) + old.basis
            sums[account_of(old)] = sums.get(account_of(old), Decimal(0)) - old.basis
    return tuple(Posting(account, amount) for account, amount in sums.items() if amount)


def buy(things: Sequence[Thing], charges: Sequence[Posting], day: date, text: str) -> Change:
    """Buy things whose bases are divided already: the charges (cash lines, negative) add up to them."""
    total = -sum((line.amount for line in charges), Decimal(0))
    if known_basis(things) != total:
        raise InputError.at("things", f"the parts are {known_basis(things) - total:+} off the landed cost of {total}")
    lines = [Posting(account_of(t), t.basis) for t in things if t.basis]
    return Change(tuple(things), Entry(day, Event.PURCHASE, text, (*lines, *charges)))


def receive(things: Sequence[Thing], day: date, text: str) -> Change:
    """Things that were on their way stand on the desk."""
    after = take_action(things, Action.RECEIVE)
    return Change(after, Entry(day, Event.RECEIPT, text, carry(things, after)))


def divide_again(
    things: Sequence[Thing], parts: Sequence[Part], method: Method, day: date, text: str, minor_units: int = 2
) -> Change:
    """Divide the basis of things that are still held anew. Rule C-15. Raises Conflict for things that are not."""
    gone = [t.name for t in things if t.state not in HELD_STATES]
    if gone:
        raise Conflict(f"{', '.join(gone)}: no longer held, so its part of the cost stays as it is")
    shares = divide(known_basis(things), parts, method, minor_units)
    after = tuple(replace(t, basis=share) for t, share in zip(things, shares, strict=True))
    lines = tuple(
        Posting(account_of(old), (new.basis or Decimal(0)) - (old.basis or Decimal(0)))
        for old, new in zip(things, after, strict=True)
        if new.basis != old.basis
    )
    return Change(after, Entry(day, Event.DIVISION, text, lines))


@dataclass(frozen=True, slots=True)
class PacksLeft:
    """The packs of the last box that stay sealed: the ``thing`` that they become, and their ``share`` of that box."""

    thing: Thing
    share: Fraction

    def __post_init__(self) -> None:
        if not 0 < self.share < 1:
            raise ValueError("a box that is begun keeps a part of itself")


PURPOSES = {
    Purpose.ENTERTAINMENT: Account.ENTERTAINMENT, Purpose.GIFT: Account.GIFTS, Purpose.GIVEAWAY: Account.GIVEAWAYS,
    Purpose.PUBLICITY: Account.PUBLICITY, Purpose.DONATION: Account.DONATIONS,
}  # fmt: skip


def open_sealed(
    sealed: Thing,
    opened: int,
    pulls: Sequence[Thing],
    fun: Decimal,
    day: date,
    text: str,
    minor_units: int = 2,
    packs_left: PacksLeft | None = None,
    purpose: Purpose = Purpose.ENTERTAINMENT,
) -> Change:
    """Open ``opened`` of a sealed stack: their basis, less the share for ``fun``, moves to what came out. Rule C-15.

    ``pulls`` come without a basis and with a value or, if any is unknown, by count. What is not opened keeps its part,
    so do the ``packs_left`` of the last box. ``fun`` is the share of 1 that the owner books as entertainment, or for
    another ``purpose``. The first thing returned is what was opened, then what stays sealed if any, the packs left if
    any, and the pulls.
    """
    if not 0 <= fun <= 1:
        raise InputError.at("entertainment", "must be from 0 to 1 (0.5 is half)")
    if not 1 <= opened <= sealed.count:
        raise InputError.at("opened", f"must be from 1 to {sealed.count}")
    after_state = next_state(sealed.state, Action.OPEN)
    taken: Decimal | None = None
    rest: list[Thing] = []
    kept: Decimal | None = None
    in_packs: Decimal | None = None
    if sealed.basis is not None:
        share = packs_left.share if packs_left else Fraction(0)
        weights = [opened - share, Fraction(sealed.count - opened), share]
        taken, kept, in_packs = share_out(sealed.basis, weights, minor_units)
    if opened < sealed.count:
        rest.append(replace(sealed, count=sealed.count - opened, basis=kept))
    if packs_left is not None:
        rest.append(replace(packs_left.thing, state=State.HELD, basis=in_packs))
    gone = replace(sealed, count=opened, state=after_state, basis=taken)
    if taken is None:
        nothing = Entry(day, Event.OPENING, text, ())
        return Change((gone, *rest, *(replace(pull, basis=None) for pull in pulls)), nothing)
    enjoyed = (taken * fun).quantize(Decimal(1).scaleb(-minor_units), ROUND_HALF_UP)
    if not pulls:
        enjoyed = taken
    shares = divide_pulls(taken - enjoyed, pulls, minor_units) if pulls else ()
    moved = tuple(replace(pull, basis=share) for pull, share in zip(pulls, shares, strict=True))
    lines = (
        *((Posting(Account.STOCK, -taken),) if taken else ()),
        *(Posting(Account.STOCK, part) for part in shares if part),
        *((Posting(PURPOSES[purpose], enjoyed),) if enjoyed else ()),
    )
    return Change((gone, *rest, *moved), Entry(day, Event.OPENING, text, lines))


def divide_pulls(total: Decimal, pulls: Sequence[Thing], minor_units: int = 2) -> tuple[Decimal, ...]:
    """A basis over what came out: by relative value, by count where one is unknown or all are nothing. Rule C-15."""
    parts = [Part(pull.name, pull.value, Decimal(pull.count)) for pull in pulls]
    by_value = all(part.value is not None for part in parts) and any(part.value for part in parts)
    return divide(total, parts, Method.VALUE if by_value else Method.COUNT, minor_units)


def share_cost(amount: Decimal, things: Sequence[Thing], minor_units: int) -> tuple[Decimal, ...]:
    """A later cost or refund over things that carry one: in proportion to the bases; where these are all 0 by the
    values, or by count where one is not known. Rule C-15."""
    if any(t.basis for t in things):
        return divide(amount, [Part(t.name, t.basis) for t in things], Method.VALUE, minor_units)
    return divide_pulls(amount, things, minor_units)


def add_cost(things: Sequence[Thing], cash: Posting, day: date, text: str, minor_units: int = 2) -> Change:
    """A cost that comes later, duty say: it raises what is still held of a purchase, never a gift; where nothing is
    held any more it is a cost of sales. Rules C-15 and C-16.

    ``cash`` is the line of what was paid (negative).
    """
    held = [t for t in things if t.state in HELD_STATES and t.basis is not None and not t.gift]
    if not held:
        return Change((), Entry(day, Event.PURCHASE, text, (Posting(Account.COST_OF_SALES, -cash.amount), cash)))
    shares = share_cost(-cash.amount, held, minor_units)
    after = tuple(replace(t, basis=(t.basis or 0) + share) for t, share in zip(held, shares, strict=True))
    lines = (cash, *(Posting(account_of(t), share) for t, share in zip(held, shares, strict=True) if share))
    return Change(after, Entry(day, Event.PURCHASE, text, lines))


def take_refund(things: Sequence[Thing], cash: Posting, day: date, text: str, minor_units: int = 2) -> Change:
    """Money back for a purchase: it clears what was sent back first, then lowers the bases that are still held, in
    proportion; the rest is income. Rule C-16."""
    rest = cash.amount
    after: list[Thing] = []
    lines = [cash]
    for chosen in (
        [t for t in things if t.state is State.RETURNED and t.basis],
        [t for t in things if t.state in HELD_STATES and t.basis],
    ):
        off = min(rest, sum((t.basis for t in chosen if t.basis), Decimal(0)))
        if off <= 0:
            continue
        rest -= off
        for t, cut in zip(chosen, share_cost(off, chosen, minor_units), strict=True):
            after.append(replace(t, basis=(t.basis or 0) - cut))
            account = Account.SUSPENSE if t.state is State.RETURNED else account_of(t)
            lines += [Posting(account, -cut)] if cut else []
    if rest:
        lines.append(Posting(Account.INCOME, -rest))
    return Change(tuple(after), Entry(day, Event.REFUND, text, tuple(lines)))


def follow_opened(
    change: Change, before: Sequence[Thing], gone: Sequence[Thing], came_from: Mapping[int, int], minor_units: int = 2
) -> Change:
    """What an opening cost follows a later cost or a refund of what was opened. Rule C-15.

    ``before`` are the things as they were, ``gone`` those of the purchase that are no longer held, of which what was
    opened keeps what it cost on record; ``came_from`` tells by a card's key what was opened. What its cards gained or
    lost it did too; what fell on nothing that is held (cost of sales, income) is shared over all that is gone.
    """
    old = {t.key: t.basis or Decimal(0) for t in before}
    moved: dict[int, Decimal] = {}
    for t in change.things:
        source = came_from.get(t.key)
        if source is not None and t.key in old:
            moved[source] = moved.get(source, Decimal(0)) + (t.basis or Decimal(0)) - old[t.key]
    unplaced = sum(
        (line.amount for line in change.entry.lines if line.account in (Account.COST_OF_SALES, Account.INCOME)),
        Decimal(0),
    )
    paid = [t for t in gone if t.basis]
    if unplaced and paid:
        for t, share in zip(paid, share_cost(unplaced, paid, minor_units), strict=True):
            moved[t.key] = moved.get(t.key, Decimal(0)) + share
    opened = tuple(
        replace(t, basis=max(t.basis + moved[t.key], Decimal(0)))
        for t in paid
        if t.basis is not None and t.state is State.OPENED and moved.get(t.key)
    )
    return replace(change, things=(*change.things, *opened))


_LEFT_INTO = {Action.LOSE: Account.LOST, Action.SEND_BACK: Account.SUSPENSE}


def take_out(things: Sequence[Thing], action: Action, day: date, text: str, purpose: Purpose = Purpose.GIFT) -> Change:
    """Things are lost, given away for a ``purpose`` or sent back: their basis goes to the account that says so."""
    after = take_action(things, action)
    into = PURPOSES[purpose] if action is Action.GIVE_AWAY else _LEFT_INTO[action]
    return Change(after, Entry(day, Event.WRITE_OFF, text, carry(things, after, into)))


def remember_basis(thing: Thing, basis: Decimal, day: date, text: str) -> Change:
    """The cost of a thing whose basis nobody knew is found: it comes against opening equity. Rule C-16.

    Raises Conflict if it has one, is not held, or is somebody else's.
    """
    if thing.basis is not None or thing.state not in HELD_STATES or thing.owner is not None:
        raise Conflict("only what is one's own, held without a known cost, can be given one")
    lines = (Posting(account_of(thing), basis), Posting(Account.OPENING_EQUITY, -basis)) if basis else ()
    return Change((replace(thing, basis=basis),), Entry(day, Event.CORRECTION, text, lines))


def bring_in(things: Sequence[Thing], day: date, text: str) -> Change:
    """What was there before the books began: known bases against opening equity, unknown ones stay unknown.

    So comes in what a friend leaves here, and what is salvaged at no cost."""
    sums: dict[Account, Decimal] = {}
    for t in things:
        if t.basis and t.state in HELD_STATES:  # what is gone already has a history, and carries nothing
            sums[account_of(t)] = sums.get(account_of(t), Decimal(0)) + t.basis
    total = sum(sums.values(), Decimal(0))
    lines = [Posting(account, amount) for account, amount in sums.items()]
    lines += [Posting(Account.OPENING_EQUITY, -total)] if total else []
    return Change(tuple(things), Entry(day, Event.OPENING_BALANCE, text, tuple(lines)))


def add_more(thing: Thing, count: int, day: date, text: str) -> Change:
    """More of what was there before, of which nobody remembers the cost, is found and put to it.

    Raises Conflict where its cost is known: a further copy of unknown cost would hide that."""
    if thing.basis is not None or thing.state is not State.HELD:
        raise Conflict("only to what is here, of unknown cost, can more of the same be put")
    return Change((replace(thing, count=thing.count + count),), Entry(day, Event.OPENING_BALANCE, text, ()))


def split(thing: Thing, counts: Sequence[int], day: date, text: str, minor_units: int = 2) -> Change:
    """Take so many of a stack each as things of their own; its basis follows by count. Rule C-15.

    The first thing returned is what stays, then one for each of ``counts``, all with the stack's key. Raises Conflict,
    InputError unless at least one stays and is taken.
    """
    rest = thing.count - sum(counts)
    if not counts or min(counts) < 1 or rest < 1:
        raise InputError.at("count", f"must be from 1 to {thing.count - 1}, so that one stays")
    state = next_state(thing.state, Action.SPLIT)
    every = [rest, *counts]
    shares: Sequence[Decimal | None] = [None] * len(every)
    if thing.basis is not None:
        shares = share_out_by_count(thing.basis, every, minor_units)
    made = tuple(
        replace(thing, count=count, state=state, basis=share, value=None)
        for count, share in zip(every, shares, strict=True)
    )
    return Change(made, Entry(day, Event.SPLIT, text, ()))


def join(things: Sequence[Thing], day: date, text: str) -> Change:
    """Put like things together on the first of them. Raises Conflict where one's cost is known and another's is not."""
    if len(things) < 2:
        raise InputError.at("things", "choose at least two")
    if len({t.basis is None for t in things}) > 1 or len({t.owner for t in things}) > 1:
        raise Conflict("the cost of some of these is known and of others not; say it first, then join them")
    first, *others = things
    next_state(first.state, Action.JOIN)
    total = None if first.basis is None else sum((t.basis or Decimal(0) for t in things), Decimal(0))
    whole = replace(first, count=sum(t.count for t in things), basis=total, value=None)
    return Change((whole, *take_action(others, Action.JOIN)), Entry(day, Event.JOIN, text, ()))
