"""Open: a session for boxes or packs, pull by pull, and at its end the cost moves to what came out.

Nothing is lost on reload: every pull is stored as it is logged.
"""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from hashlib import sha256

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.holdings.states import DocumentKind, DocumentState, Kind, Purpose, State
from tobbix.core.opening.records import Opening, Pull
from tobbix.core.opening.session import (
    Pulled,
    cards_of_pack,
    check_pull,
    promised_lines,
    spread_totals,
)
from tobbix.core.products.revising import find_format
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.db.base import Session
from tobbix.db.buying.loading import meant_for_fun
from tobbix.db.holdings.loading import find_item
from tobbix.db.holdings.saving import add_document, document_once
from tobbix.db.opening.loading import (
    find_session,
    is_logged,
    running_session,
    session_once,
)
from tobbix.db.opening.saving import add_pulls, add_session, change_session, take_pulls_back
from tobbix.db.products.loading import locate_card
from tobbix.services.opening.viewing import pulls_of, room_in
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced

MOST_PACKS = 2_000
MOST_FOUND = 60  # as many versions of one card as a box may hold, and more
_TOTALS = "totals:"  # marks the pulls of packs that were logged as totals, which are taken back together


@dataclass(frozen=True, slots=True)
class SessionInput:
    """A session as typed: of an item, so many boxes (or packs of a box that is not whole); the share
    ``entertainment`` of their cost is booked for a ``purpose``. Sessions with the same ``case_name`` open boxes of one
    case."""

    item: int
    boxes: int = 1
    entertainment: Decimal | None = None
    gone: int = 0
    gone_hits: Mapping[str, int] = field(default_factory=dict)
    trust: float = 1.0
    started_on: date | None = None
    note: str | None = None
    purpose: Purpose = Purpose.ENTERTAINMENT
    case_name: str | None = None


@dataclass(frozen=True, slots=True)
class Sought:
    """A card of a pack by what was typed; ``place`` which of those that are called so, 1 for the first."""

    pack: int
    find: str
    place: int = 1
    serial: str | None = None
    flaw: str | None = None


def start_session(catalogue: Catalogue, said: SessionInput, once: str) -> int:
    """Begin to open sealed things that are held; sent twice it begins once. Returns the session's number.

    Raises NotFound, Conflict, InputError.
    """
    with catalogue.database.transaction() as session:
        if document_once(session, once) is not None:
            known = session_once(session, once)
            if known is None:
                raise Conflict("this key was sent with something else")
            return known
        item = find_item(session, said.item)
        if item.state is not State.HELD or item.kind is not Kind.SEALED or item.format_id is None:
            raise Conflict("only sealed product that stands on the desk, of a release with its sheet, can be opened")
        if running_session(session, [item.number]) is not None:
            raise Conflict("this is being opened already; go on with that session")
        if not 1 <= said.boxes <= item.count:
            raise InputError.at("boxes", f"must be from 1 to the {item.count} that you have")
        sheet = catalogue.sheet(session, item.release or "")
        fmt = find_format(sheet, item.format or "")
        gone, gone_hits, trust = said.gone, said.gone_hits, said.trust
        if item.packs_gone:  # a box that was begun knows how far
            gone, gone_hits, trust = item.packs_gone, item.hits_gone, item.trust
        packs = said.boxes * fmt.packs_per_box
        if packs > MOST_PACKS:
            raise InputError.at("boxes", f"open at most {MOST_PACKS:,} packs at once")
        if not 0 <= gone < packs:
            raise InputError.at("gone", f"must be from 0 to {packs - 1}")
        fun = said.entertainment
        if fun is None:  # as it was meant when it was bought
            fun = meant_for_fun(session, item.purchase)
        if not 0 <= fun <= 1:
            raise InputError.at("entertainment", "must be from 0 to 1 (0.5 is half)")
        promised = promised_lines(sheet, fmt.id)
        for line, hits in gone_hits.items():
            if not 0 <= hits <= promised.get(line, 0) * said.boxes:
                raise InputError.at("gone_hits", f"a box promises {promised.get(line, 0)} of “{line[:60]}”")
        if not 0 <= trust <= 1:
            raise InputError.at("trust", "must be from 0 to 1")
        case = (said.case_name or "").strip()
        if len(case) > 60:
            raise InputError.at("case_name", "must be at most 60 characters")
        document = add_document(
            session, DocumentKind.OPENING, said.started_on or catalogue.today(), item.name,
            state=DocumentState.RUNNING, note=said.note, once=once,
        )  # fmt: skip
        return add_session(
            session, document, item_id=item.number, format_id=item.format_id, boxes=said.boxes, packs=packs,
            gone=gone, gone_hits=dict(gone_hits), trust=trust, current_pack=gone + 1, entertainment=fun,
            purpose=said.purpose.value, case_name=case or None,
        )  # fmt: skip


def open_session(session: Session, number: int) -> Opening:
    """A session that goes on with this. Raises NotFound, or Conflict if it is over."""
    row = find_session(session, number)
    if not row.is_alive:
        raise Conflict("this session is finished" if row.state is DocumentState.DONE else "this session was taken back")
    change_session(session, number, DocumentState.RUNNING)
    return row


def log_pull(catalogue: Catalogue, number: int, fresh: Pulled, once: str) -> None:
    """Log a card of a pack, the next one is at hand once it is full; sent twice it is logged once.

    Raises NotFound, Conflict, InputError.
    """
    with catalogue.database.transaction() as session:
        row = open_session(session, number)
        if is_logged(session, number, once):
            return
        sheet = catalogue.sheet(session, row.release)
        fmt = find_format(sheet, row.format)
        if not row.gone < fresh.pack <= row.packs:
            raise InputError.at("pack", f"must be from {row.gone + 1} to {row.packs}")
        pulls = pulls_of(session, number)
        check_pull(sheet, fmt, [pull.pulled for pull in pulls], fresh)
        line, version = locate_card(session, row.format_id, fresh.line, fresh.number)
        add_pulls(session, number, [(once, line, version, fresh)])
        room = room_in(fmt, fresh.pack, pulls) - fresh.count
        change_session(session, number, current_pack=fresh.pack if room else min(fresh.pack + 1, row.packs))


def log_found(catalogue: Catalogue, number: int, seek: Sought, once: str) -> None:
    """Log a card that the box can hold by what was typed: whoever types faster than the list comes means the first,
    or the one whose place was named.

    Raises as above, at ``find`` where no card is called so.
    """
    with catalogue.database.transaction() as session:
        row = find_session(session, number, lock=False)
        found = find_priced(session, catalogue.today(), seek.find, MOST_FOUND, row.release, row.format_id)
    if len(found) < seek.place:
        some = "no card" if not found else f"only {len(found)}"
        raise InputError.at("find", f"{some} of this box is called “{seek.find[:60]}”")
    card = found[seek.place - 1]
    log_pull(catalogue, number, Pulled(seek.pack, card.line, card.number, 1, seek.serial, seek.flaw), once)


def log_totals(catalogue: Catalogue, number: int, packs: int, totals: Sequence[tuple[str, int]], once: str) -> None:
    """Log packs from the present one on as totals (line, hits); sent twice they are logged once.

    Raises NotFound, Conflict, InputError.
    """
    with catalogue.database.transaction() as session:
        row = open_session(session, number)
        mark = f"{_TOTALS}{sha256(once.encode()).hexdigest()[:32]}:"
        if is_logged(session, number, mark, is_mark=True):
            return
        sheet = catalogue.sheet(session, row.release)
        last = row.current_pack + packs - 1
        if not 1 <= packs <= row.packs - row.current_pack + 1:
            raise InputError.at("packs", f"must be from 1 to the {row.packs - row.current_pack + 1} that are left")
        known = [pull.pulled for pull in pulls_of(session, number)]
        span = range(row.current_pack, last + 1)
        fresh = spread_totals(sheet, find_format(sheet, row.format), known, span, totals)
        lines = {line: locate_card(session, row.format_id, line, None)[0] for line in {pull.line for pull in fresh}}
        add_pulls(session, number, [(f"{mark}{i}", lines[pull.line], None, pull) for i, pull in enumerate(fresh)])
        change_session(session, number, current_pack=min(last + 1, row.packs))


def undo_pull(catalogue: Catalogue, number: int, pull: int | None = None) -> None:
    """Take a pull back, the last if none is named, totals as a whole. Raises NotFound, or Conflict if there is none."""
    with catalogue.database.transaction() as session:
        open_session(session, number)
        pulls = pulls_of(session, number)
        if not pulls:
            raise Conflict("nothing is logged that could be taken back")
        last = pulls[-1] if pull is None else next((p for p in pulls if p.number == pull), None)
        if last is None:
            raise NotFound("there is no such card in this session; it may have been taken back already")
        mark = last.once.rpartition(":")[0] + ":" if last.once.startswith(_TOTALS) else None
        taken = [last] if mark is None else [p for p in pulls if p.once.startswith(mark)]
        take_pulls_back(session, [p.number for p in taken])
        change_session(session, number, current_pack=min(p.pack for p in taken))


def turn_pack(catalogue: Catalogue, number: int, pack: int, rest_of: int | None = None) -> None:
    """Go to another pack; what is not logged of the pack ``rest_of`` is base. Raises as above."""
    with catalogue.database.transaction() as session:
        row = open_session(session, number)
        sheet = catalogue.sheet(session, row.release)
        fmt = find_format(sheet, row.format)
        for name, said in (("pack", pack), ("rest_of", pack if rest_of is None else rest_of)):
            if not row.gone < said <= row.packs:
                raise InputError.at(name, f"must be from {row.gone + 1} to {row.packs}")
        if rest_of is not None:
            fill_packs(session, row, sheet, fmt, [rest_of], pulls_of(session, number))
        change_session(session, number, current_pack=pack)


def fill_packs(
    session: Session, row: Opening, sheet: ProductSheet, fmt: Format, packs: Iterable[int], pulls: Sequence[Pull]
) -> None:
    """What is not logged of some packs is base."""
    logged = Counter[int]()
    for pull in pulls:
        logged[pull.pack] += pull.count
    room = {pack: cards_of_pack(fmt, pack) - logged[pack] for pack in packs}
    if any(left > 0 for left in room.values()):
        base = sheet.base_line(fmt.id).id
        line, _ = locate_card(session, row.format_id, base, None)
        rest = [
            (f"rest-{pack}-{row.version}", Pulled(pack, base, None, left)) for pack, left in room.items() if left > 0
        ]
        add_pulls(session, row.number, [(once, line, None, pull) for once, pull in rest])


def take_session_back(catalogue: Catalogue, number: int) -> None:
    """A session that was begun by mistake is taken back; what was logged in it stays on record. Its item is free again.

    Raises NotFound, or Conflict if it is finished: its end is taken back first.
    """
    with catalogue.database.transaction() as session:
        row = find_session(session, number)
        if not row.is_alive:
            is_done = row.state is DocumentState.DONE
            raise Conflict("take the end of this session back first" if is_done else "this was taken back already")
        change_session(session, number, DocumentState.UNDONE)


def go_on(catalogue: Catalogue, number: int) -> None:
    """A session that was taken back goes on after all. Raises NotFound, or Conflict if its item is no longer free."""
    with catalogue.database.transaction() as session:
        row = find_session(session, number)
        if row.state is not DocumentState.UNDONE:
            raise Conflict("this session was not taken back")
        item = find_item(session, row.item)
        is_free = item.state is State.HELD and running_session(session, [item.number]) is None
        if not is_free or item.count < row.boxes:
            raise Conflict("what it opened is no longer here to be opened")
        change_session(session, number, DocumentState.RUNNING)


def pause_session(catalogue: Catalogue, number: int) -> None:
    """Put a session aside; anything that is logged resumes it. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        open_session(session, number)
        change_session(session, number, DocumentState.PAUSED)
