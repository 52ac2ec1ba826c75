"""The register of things owned: states, bases, and what each event does to both (Rules C-15 and C-16).

Every function takes things as they are and returns a ``Change``: the things after it, and the balanced entry that goes
with it. So stock, transit and grading together always equal the sum of the known bases.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum
from fractions import Fraction

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings import ledger
from tobbix.core.holdings.allocation import Method, Part, divide, share_out
from tobbix.core.holdings.ledger import Account, Entry, Event, Line


class State(StrEnum):
    """Where a thing is in its life."""

    IN_TRANSIT = "in_transit"
    HELD = "held"
    AT_GRADING = "at_grading"
    OPENED = "opened"
    SOLD = "sold"
    GIVEN_AWAY = "given_away"
    LOST = "lost"
    RETURNED = "returned"
    UNDONE = "undone"


class Action(StrEnum):
    """What may happen to a thing."""

    RECEIVE = "receive"
    OPEN = "open"
    GIVE_AWAY = "give_away"
    LOSE = "lose"
    SEND_BACK = "send_back"
    UNDO = "undo"
    CLOSE_AGAIN = "close_again"
    BRING_BACK = "bring_back"


_NEXT: Mapping[tuple[State, Action], State] = {
    (State.IN_TRANSIT, Action.RECEIVE): State.HELD,
    (State.IN_TRANSIT, Action.LOSE): State.LOST,
    (State.IN_TRANSIT, Action.UNDO): State.UNDONE,
    (State.HELD, Action.OPEN): State.OPENED,
    (State.HELD, Action.GIVE_AWAY): State.GIVEN_AWAY,
    (State.HELD, Action.LOSE): State.LOST,
    (State.HELD, Action.SEND_BACK): State.RETURNED,
    (State.HELD, Action.UNDO): State.UNDONE,
    (State.OPENED, Action.CLOSE_AGAIN): State.HELD,
    (State.LOST, Action.BRING_BACK): State.HELD,
    (State.GIVEN_AWAY, Action.BRING_BACK): State.HELD,
    (State.RETURNED, Action.BRING_BACK): State.HELD,
}

HELD_STATES = (State.IN_TRANSIT, State.HELD, State.AT_GRADING)
_ACCOUNTS = {State.IN_TRANSIT: Account.TRANSIT, State.HELD: Account.STOCK, State.AT_GRADING: Account.GRADING}


def next_state(state: State, action: Action) -> State:
    """The state after an action. Raises Conflict for one that is not possible from here."""
    found = _NEXT.get((state, action))
    if found is None:
        words = action.value.replace("_", " ")
        raise Conflict(f"a thing that is {state.value.replace('_', ' ')} cannot be taken to: {words}")
    return found


@dataclass(frozen=True, slots=True)
class Thing:
    """An item or a counted stack of like things: ``count`` of them with one ``basis`` together (money, None: nobody
    remembers). ``value`` of all of them where it is known (estimate, money)."""

    key: int
    name: str
    count: int
    state: State
    basis: Decimal | None
    value: Decimal | None = None

    def __post_init__(self) -> None:
        if self.count < 1:
            raise ValueError("a thing counts at least one")


@dataclass(frozen=True, slots=True)
class Change:
    """The things after an event (those before are given by their keys), and its entry; None if no money moves."""

    things: tuple[Thing, ...]
    entry: Entry | None


def account_of(state: State) -> Account:
    """The account that carries the basis of things in a state. Raises ValueError for one that holds nothing."""
    if state not in _ACCOUNTS:
        raise ValueError(f"nothing is held as {state.value}")
    return _ACCOUNTS[state]


def known_basis(things: Sequence[Thing]) -> Decimal:
    """The sum of the known bases of what is held."""
    return sum((t.basis for t in things if t.state in HELD_STATES and t.basis is not None), Decimal(0))


def _entry(entry: Entry) -> Entry | None:
    return entry if entry.moves else None


def buy(things: Sequence[Thing], charges: Sequence[Line], day: date, text: str) -> Change:
    """Buy things whose bases are divided already: the charges (cash lines, negative) add up to them."""
    total = -sum((line.amount for line in charges), Decimal(0))
    if known_basis(things) != total:
        raise InputError.at("things", f"the parts are {known_basis(things) - total:+} off the landed cost of {total}")
    lines = [Line(account_of(t.state), t.basis) for t in things if t.basis]
    return Change(tuple(things), _entry(Entry(day, Event.PURCHASE, text, (*lines, *charges))))


def receive(things: Sequence[Thing], day: date, text: str) -> Change:
    """Things that were on their way stand on the desk."""
    after = tuple(replace(t, state=next_state(t.state, Action.RECEIVE)) for t in things)
    entry = ledger.move(day, Event.RECEIPT, text, known_basis(things), Account.TRANSIT, Account.STOCK)
    return Change(after, _entry(entry))


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
        Line(account_of(old.state), (new.basis or Decimal(0)) - (old.basis or Decimal(0)))
        for old, new in zip(things, after, strict=True)
        if new.basis != old.basis
    )
    return Change(after, _entry(Entry(day, Event.DIVISION, text, lines)))


@dataclass(frozen=True, slots=True)
class PacksLeft:
    """The packs of the last box that stay sealed: the ``thing`` that they become, and their ``share`` of that box."""

    thing: Thing
    share: Fraction

    def __post_init__(self) -> None:
        if not 0 < self.share < 1:
            raise ValueError("a box that is begun keeps a part of itself")


def open_sealed(
    sealed: Thing,
    opened: int,
    pulls: Sequence[Thing],
    fun: Decimal,
    day: date,
    text: str,
    minor_units: int = 2,
    packs_left: PacksLeft | None = None,
) -> Change:
    """Open ``opened`` of a sealed stack: their basis, less the share for ``fun``, moves to what came out. Rule C-15.

    ``pulls`` come without a basis and with a value or, if any is unknown, by count. What is not opened keeps its part,
    so do the ``packs_left`` of the last box. ``fun`` is the share of 1 that the owner books as entertainment. The
    first thing returned is what was opened, then what stays sealed if any, the packs left if any, and the pulls.
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
        return Change((gone, *rest, *(replace(pull, basis=None) for pull in pulls)), None)
    enjoyed = (taken * fun).quantize(Decimal(1).scaleb(-minor_units), ROUND_HALF_UP)
    if not pulls:
        enjoyed = taken
    shares = divide_pulls(taken - enjoyed, pulls, minor_units) if pulls else ()
    moved = tuple(replace(pull, basis=share) for pull, share in zip(pulls, shares, strict=True))
    lines = (
        Line(Account.STOCK, -taken),
        *(Line(Account.STOCK, part) for part in shares if part),
        *((Line(Account.ENTERTAINMENT, enjoyed),) if enjoyed else ()),
    )
    return Change((gone, *rest, *moved), _entry(Entry(day, Event.OPENING, text, lines)))


def divide_pulls(total: Decimal, pulls: Sequence[Thing], minor_units: int = 2) -> tuple[Decimal, ...]:
    """A basis over what came out: by relative value, by count where one is unknown or all are nothing. Rule C-15."""
    parts = [Part(pull.name, pull.value, Decimal(pull.count)) for pull in pulls]
    by_value = all(part.value is not None for part in parts) and any(part.value for part in parts)
    return divide(total, parts, Method.VALUE if by_value else Method.COUNT, minor_units)


def close_again(opened: Thing, made: Sequence[Thing], fun: Decimal, day: date, text: str) -> Change:
    """Take an opening back: what came out of it, packs left included, is gone again, and what was opened is sealed.

    ``fun`` is what was booked as entertainment then (money). The first thing returned is what was opened. Raises
    Conflict if something of it has moved on, or carries another cost since.
    """
    moved = [t.name for t in made if t.state is not State.HELD]
    if moved:
        raise Conflict(f"{', '.join(moved[:3])}: no longer held, so the opening stays")
    basis = None
    if opened.basis is not None:
        basis = known_basis(made) + fun
    after = tuple(replace(t, state=next_state(t.state, Action.UNDO)) for t in made)
    sealed = replace(opened, state=next_state(opened.state, Action.CLOSE_AGAIN), basis=basis)
    if basis is None:
        return Change((sealed, *after), None)
    lines = (
        Line(Account.STOCK, basis),
        *(Line(Account.STOCK, -t.basis) for t in made if t.basis),
        *((Line(Account.ENTERTAINMENT, -fun),) if fun else ()),
    )
    return Change((sealed, *after), _entry(Entry(day, Event.UNDO, text, lines)))


def add_cost(things: Sequence[Thing], cash: Line, day: date, text: str, minor_units: int = 2) -> Change:
    """A cost that comes later, duty say: it raises what is still held of a purchase in proportion to the bases (by
    count where they are all 0); where nothing is held any more it is a cost of sales. Rules C-15 and C-16.

    ``cash`` is the line of what was paid (negative).
    """
    held = [t for t in things if t.state in HELD_STATES and t.basis is not None]
    if not held:
        return Change(
            tuple(things), _entry(Entry(day, Event.PURCHASE, text, (Line(Account.COST_OF_SALES, -cash.amount), cash)))
        )
    by_basis = any(t.basis for t in held)
    parts = [Part(t.name, t.basis, Decimal(t.count)) for t in held]
    shares = divide(-cash.amount, parts, Method.VALUE if by_basis else Method.COUNT, minor_units)
    after = {t.key: replace(t, basis=(t.basis or 0) + share) for t, share in zip(held, shares, strict=True)}
    lines = (cash, *(Line(account_of(t.state), share) for t, share in zip(held, shares, strict=True) if share))
    return Change(tuple(after.get(t.key, t) for t in things), _entry(Entry(day, Event.PURCHASE, text, lines)))


def take_refund(things: Sequence[Thing], cash: Line, day: date, text: str, minor_units: int = 2) -> Change:
    """Money back for a purchase: it lowers the bases that are still held, in proportion; the rest is income. C-16."""
    held = [t for t in things if t.state in HELD_STATES and t.basis]
    remaining = known_basis(held)
    off = min(cash.amount, remaining)
    cuts: tuple[Decimal, ...] = ()
    if off > 0:
        parts = [Part(t.name, t.basis) for t in held]
        cuts = divide(off, parts, Method.VALUE, minor_units)
    after = {t.key: replace(t, basis=(t.basis or 0) - cut) for t, cut in zip(held, cuts, strict=bool(cuts))}
    lines = [cash, *(Line(account_of(t.state), -cut) for t, cut in zip(held, cuts, strict=bool(cuts)))]
    if cash.amount > off:
        lines.append(Line(Account.INCOME, off - cash.amount))
    changed = tuple(after.get(t.key, t) for t in things)
    return Change(changed, _entry(Entry(day, Event.REFUND, text, tuple(lines))))


def take_out(things: Sequence[Thing], action: Action, day: date, text: str) -> Change:
    """Things are lost, given away or sent back: their basis goes to the account that says so."""
    after = tuple(replace(t, state=next_state(t.state, action)) for t in things)
    lines: list[Line] = []
    for t, gone in zip(things, after, strict=True):
        if t.basis:
            lines += [Line(_LEFT_INTO[gone.state], t.basis), Line(account_of(t.state), -t.basis)]
    return Change(after, _entry(Entry(day, Event.WRITE_OFF, text, tuple(lines))))


_LEFT_INTO = {State.LOST: Account.LOST, State.GIVEN_AWAY: Account.GIFTS, State.RETURNED: Account.SUSPENSE}


def bring_back(thing: Thing, day: date, text: str) -> Change:
    """A thing that was lost, given away or sent back is here again, with the cost that it carried."""
    after = replace(thing, state=next_state(thing.state, Action.BRING_BACK))
    entry = ledger.move(day, Event.CORRECTION, text, thing.basis or Decimal(0), _LEFT_INTO[thing.state], Account.STOCK)
    return Change((after,), _entry(entry))


def remember_basis(thing: Thing, basis: Decimal, day: date, text: str) -> Change:
    """The cost of a thing whose basis nobody knew is found: it comes against opening equity. Rule C-16.

    Raises Conflict if it has one, or is not held.
    """
    if thing.basis is not None or thing.state not in HELD_STATES:
        raise Conflict("only what is held without a known cost can be given one")
    entry = ledger.move(day, Event.CORRECTION, text, basis, Account.OPENING_EQUITY, account_of(thing.state))
    return Change((replace(thing, basis=basis),), _entry(entry))


def bring_in(things: Sequence[Thing], day: date, text: str) -> Change:
    """What was there before the books began: known bases against opening equity, unknown ones stay unknown."""
    total = known_basis(things)
    entry = ledger.move(day, Event.OPENING_BALANCE, text, total, Account.OPENING_EQUITY, Account.STOCK)
    return Change(tuple(things), _entry(entry))
