"""The kinds and states of what is owned and of what is written of it, and the one table of what may follow what.

An action that is not in the table is not possible; whoever asks for it is told what the thing is.
"""

from collections.abc import Mapping
from enum import StrEnum

from tobbix.core.base.errors import Conflict


class Kind(StrEnum):
    """What a thing is."""

    SEALED = "sealed"
    CARD = "card"
    STACK = "stack"
    SUPPLY = "supply"
    OTHER = "other"


class State(StrEnum):
    """Where a thing is in its life; ``AWAY`` for a service, a grading, a signature or a repair."""

    IN_TRANSIT = "in_transit"
    HELD = "held"
    AWAY = "away"
    OPENED = "opened"
    SOLD = "sold"
    TRADED = "traded"
    GIVEN_AWAY = "given_away"
    LOST = "lost"
    RETURNED = "returned"
    JOINED = "joined"
    USED_UP = "used_up"
    UNDONE = "undone"


CONDITIONS = ("mint", "NM", "LP", "MP", "HP", "damaged")  # of a raw card, from the best on


class Action(StrEnum):
    """What may happen to a thing."""

    RECEIVE = "receive"
    OPEN = "open"
    SPLIT = "split"
    JOIN = "join"
    SELL = "sell"
    TAKE_RETURN = "take_return"
    TRADE = "trade"
    SEND_AWAY = "send_away"
    COME_BACK = "come_back"
    CRACK = "crack"
    USE_UP = "use_up"
    GIVE_AWAY = "give_away"
    LOSE = "lose"
    CLAIM = "claim"
    SEND_BACK = "send_back"
    UNDO = "undo"


_NEXT: Mapping[tuple[State, Action], State] = {
    (State.IN_TRANSIT, Action.RECEIVE): State.HELD,
    (State.IN_TRANSIT, Action.LOSE): State.LOST,
    (State.HELD, Action.OPEN): State.OPENED,
    (State.HELD, Action.SPLIT): State.HELD,
    (State.HELD, Action.JOIN): State.JOINED,
    (State.HELD, Action.SELL): State.SOLD,
    (State.HELD, Action.TRADE): State.TRADED,
    (State.HELD, Action.SEND_AWAY): State.AWAY,
    (State.HELD, Action.CRACK): State.HELD,
    (State.HELD, Action.USE_UP): State.USED_UP,
    (State.HELD, Action.GIVE_AWAY): State.GIVEN_AWAY,
    (State.HELD, Action.LOSE): State.LOST,
    (State.HELD, Action.SEND_BACK): State.RETURNED,
    (State.AWAY, Action.COME_BACK): State.HELD,
    (State.AWAY, Action.LOSE): State.LOST,
    (State.SOLD, Action.TAKE_RETURN): State.HELD,
    (State.LOST, Action.CLAIM): State.LOST,
    # What is taken back was the last that happened, so the thing is as it was made.
    (State.IN_TRANSIT, Action.UNDO): State.UNDONE,
    (State.HELD, Action.UNDO): State.UNDONE,
}

HELD_STATES = (State.IN_TRANSIT, State.HELD, State.AWAY)

_DONE: Mapping[Action, str] = {
    Action.RECEIVE: "received", Action.OPEN: "opened", Action.SPLIT: "split", Action.JOIN: "joined with another",
    Action.SELL: "sold", Action.TAKE_RETURN: "taken back from a buyer", Action.TRADE: "traded",
    Action.SEND_AWAY: "sent away", Action.COME_BACK: "brought back from a service", Action.CRACK: "cracked out",
    Action.USE_UP: "used up", Action.GIVE_AWAY: "given away", Action.LOSE: "written off", Action.CLAIM: "claimed for",
    Action.SEND_BACK: "sent back", Action.UNDO: "taken back",
}  # fmt: skip
_IS: Mapping[State, str] = {
    State.IN_TRANSIT: "on its way", State.HELD: "here", State.AWAY: "away for a service", State.OPENED: "opened",
    State.SOLD: "sold", State.TRADED: "traded", State.GIVEN_AWAY: "given away", State.LOST: "lost",
    State.RETURNED: "sent back", State.JOINED: "part of another stack", State.USED_UP: "used up",
    State.UNDONE: "taken back",
}  # fmt: skip


def describe(state: State) -> str:
    """A state in words, as in: it is here."""
    return _IS[state]


def next_state(state: State, action: Action) -> State:
    """The state after an action. Raises Conflict for one that is not possible from here."""
    found = _NEXT.get((state, action))
    if found is None:
        raise Conflict(f"what is {_IS[state]} cannot be {_DONE[action]}")
    return found


class DocumentKind(StrEnum):
    """What a document is of."""

    PURCHASE = "purchase"
    OPENING = "opening"
    IMPORT = "import"
    CORRECTION = "correction"
    SUBMISSION = "submission"
    ORDER = "order"
    TRADE = "trade"
    GIFT = "gift"
    PARCEL_BILL = "parcel_bill"


class DocumentState(StrEnum):
    """How far a document is; each kind has its own way through these."""

    DRAFTED = "drafted"
    RUNNING = "running"
    PAUSED = "paused"
    ORDERED = "ordered"
    PAID = "paid"
    SENT = "sent"
    RECEIVED = "received"
    DISPUTED = "disputed"
    RETURNED = "returned"
    DONE = "done"
    UNDONE = "undone"


_D = DocumentState
# A document that is taken back as a whole is undone from anywhere; that is not repeated here.
_FOLLOWS: Mapping[DocumentKind, Mapping[DocumentState, tuple[DocumentState, ...]]] = {
    DocumentKind.IMPORT: {_D.UNDONE: (_D.DONE,)},  # all of it was taken back, and more is entered
    DocumentKind.PURCHASE: {
        _D.ORDERED: (_D.RECEIVED, _D.DISPUTED),
        _D.RECEIVED: (_D.DISPUTED, _D.ORDERED),
        _D.DISPUTED: (_D.RECEIVED, _D.ORDERED),
    },
    DocumentKind.OPENING: {
        _D.RUNNING: (_D.PAUSED, _D.DONE),
        _D.PAUSED: (_D.RUNNING, _D.DONE),
        _D.DONE: (_D.RUNNING,),
        _D.UNDONE: (_D.RUNNING,),
    },
    DocumentKind.SUBMISSION: {_D.DRAFTED: (_D.SENT,), _D.SENT: (_D.DONE, _D.DRAFTED), _D.DONE: (_D.SENT,)},
    DocumentKind.ORDER: {
        _D.PAID: (_D.SENT, _D.RETURNED),
        _D.SENT: (_D.DONE, _D.DISPUTED, _D.RETURNED, _D.PAID),
        _D.DISPUTED: (_D.DONE, _D.RETURNED, _D.SENT),
        _D.DONE: (_D.DISPUTED, _D.RETURNED, _D.SENT),
        _D.RETURNED: (_D.PAID, _D.SENT, _D.DISPUTED, _D.DONE),
    },
}


def follow(kind: DocumentKind, state: DocumentState, after: DocumentState) -> DocumentState:
    """The state ``after``, if a document of this kind may come to it from ``state``. Raises Conflict if not."""
    is_undone = after is DocumentState.UNDONE and state is not after
    if is_undone or after in _FOLLOWS.get(kind, {}).get(state, ()):
        return after
    raise Conflict(f"a {kind.value.replace('_', ' ')} that is {state.value} cannot be {after.value}")


class ChargeKind(StrEnum):
    """What a part of a bill is for. Rule C-15."""

    PRICE = "price"
    PREMIUM = "premium"
    SHIPPING = "shipping"
    TAX = "tax"
    DUTY = "duty"
    SERVICE = "service"
    OTHER = "other"
    REFUND = "refund"


class ParcelState(StrEnum):
    """Where a parcel is."""

    ON_ITS_WAY = "on_its_way"
    ARRIVED = "arrived"
    LOST = "lost"


class Purpose(StrEnum):
    """What something is let go for, where it is not sold."""

    ENTERTAINMENT = "entertainment"
    GIFT = "gift"
    GIVEAWAY = "giveaway"
    PUBLICITY = "publicity"
    DONATION = "donation"
