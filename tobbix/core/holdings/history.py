"""Taking back what was booked (Rule C-16): by itself, as an event of its own, and only while nothing stands on it.

Every event that was booked leaves a mark on each thing that it touched: what the thing was after it. An entry can be
taken back while its mark is the last on all of its things; then each is again what the mark before says, and what the
entry made is gone. A mark that was taken back itself no longer counts. So any step can be undone, the newest first, and
what cannot be is told by what stands in the way.

What a document began with goes last, so that nothing booked of it hangs in the air: a sale not before its postage.

Example: a box is bought (entry 1), received (2) and given away (3). Entry 2 cannot be taken back, because of 3; once 3
is, it can.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict
from tobbix.core.holdings.ledger import Entry, Event, reverse
from tobbix.core.holdings.register import Change, Thing
from tobbix.core.holdings.states import DocumentKind, DocumentState, State


@dataclass(frozen=True, slots=True)
class Mark:
    """What a thing was after an entry that still stands: ``entry`` its number, ``text`` what it says."""

    entry: int
    text: str
    state: State
    count: int
    basis: Decimal | None


@dataclass(frozen=True, slots=True)
class History:
    """A thing as it is, with its marks in their order."""

    thing: Thing
    marks: tuple[Mark, ...]


def take_back(number: int, entry: Entry, histories: Sequence[History], day: date, text: str | None = None) -> Change:
    """Take back the entry of this number, of which ``histories`` are all the things it touched; ``text`` says what that
    is, where it has a name of its own.

    Raises Conflict, which says by what, if one of them has moved on since.
    """
    blocked: dict[str, str] = {}
    after = []
    for history in histories:
        last = history.marks[-1] if history.marks else None
        if last is None or last.entry != number:
            blocked.setdefault(last.text if last else "something else", history.thing.name)
            continue
        before = history.marks[-2] if len(history.marks) > 1 else None
        if before is None:
            after.append(replace(history.thing, state=State.UNDONE))
        else:
            after.append(replace(history.thing, state=before.state, count=before.count, basis=before.basis))
    if blocked:
        said = "; ".join(f"{name}: “{text}”" for text, name in list(blocked.items())[:3])
        raise Conflict(f"this stays, since something came after it: {said}. Take that back first.")
    return Change(tuple(after), reverse(entry, day, text))


def check_order(number: int, standing: Sequence[tuple[int, str]]) -> None:
    """``standing`` are what was booked of a document and stands, the newest first: number and words. Raises Conflict
    if this is what the document began with, and something else of it stands."""
    if len(standing) > 1 and standing[-1][0] == number:
        raise Conflict(f"this stays as long as “{standing[0][1]}” does, which was booked of it. Take that back first.")


def after_taking_back(
    kind: DocumentKind, state: DocumentState, event: Event, has_more: bool, was_sent: bool
) -> DocumentState:
    """The state of a document of which an ``event`` was taken back; ``has_more``: something else of it stands."""
    if not has_more:
        return DocumentState.UNDONE
    match kind, event:
        case DocumentKind.ORDER, Event.SALE_RETURN:
            return DocumentState.SENT if was_sent else DocumentState.PAID
        case DocumentKind.SUBMISSION, Event.COMING_BACK | Event.WRITE_OFF:
            return DocumentState.SENT
    return state
