"""Open: a session for boxes or packs, pull by pull, and at its end the cost moves to what came out.

Nothing is lost on reload: every pull is stored as it is logged.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal
from fractions import Fraction

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.money import Money, minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import share_out
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.register import State, Thing
from tobbix.core.opening.remaining import Remaining
from tobbix.core.opening.results import LineResult, judge
from tobbix.core.opening.session import (
    Progress,
    Pulled,
    cards_of_pack,
    check_pull,
    look_ahead,
    observe,
    spread_totals,
    state_session,
)
from tobbix.core.products.revising import find_format
from tobbix.core.products.sheet import Format, ProductSheet
from tobbix.core.products.valuation import Holding, Unit, Valuation
from tobbix.db.buying.tables import PurchaseRow
from tobbix.db.holdings.keeping import find_item, keep_change, to_thing
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.installation import load_preferences
from tobbix.db.opening.tables import PullRow, SessionRow
from tobbix.services.products.workshop import Looked, Workshop

MOST_PACKS = 2_000
_TOTALS = "totals:"  # marks the pulls of packs that were logged as totals, which are taken back together


@dataclass(frozen=True, slots=True)
class SessionSaid:
    """A session as typed: of an item, so many boxes (or packs of a box that is not whole)."""

    item: int
    boxes: int = 1
    entertainment: Decimal | None = None
    gone: int = 0
    gone_seen: int = 0
    trust: float = 1.0
    started_on: date | None = None
    note: str | None = None


@dataclass(frozen=True, eq=False)
class PullView:
    """A pull with its card and what it is worth (estimates, money; None if unknown)."""

    row: PullRow
    line_name: str
    subject: str
    worth: float | None


@dataclass(frozen=True, eq=False)
class SessionView:
    """A session as it stands: what is left, the running account, the odds so far; ``luck`` the chance that as many
    boxes hold less, once whole boxes are finished."""

    row: SessionRow
    looked: Looked
    format: Format
    pulls: tuple[PullView, ...]
    pack_cards: int
    pack_room: int
    ahead: Remaining
    cost: Decimal | None
    pulled_worth: float
    results: tuple[LineResult, ...]
    verdict: Verdict
    luck: float | None


def start_session(workshop: Workshop, said: SessionSaid, once: str) -> int:
    """Begin to open sealed things that are held; sent twice it begins once. Returns the session's number.

    Raises NotFound, Conflict, InputError.
    """
    with workshop.database.transaction() as session:
        session.execute(select(func.pg_advisory_xact_lock(func.hashtext(once))))
        known = session.scalar(select(SessionRow.id).where(SessionRow.once == once))
        if known is not None:
            return known
        item = find_item(session, said.item)
        if item.state != State.HELD.value or item.kind != "sealed" or not item.release or not item.format:
            raise Conflict("only sealed product that stands on the desk, of a release with its sheet, can be opened")
        running = select(SessionRow.id).where(
            SessionRow.item_id == item.id, SessionRow.state.in_(("running", "paused"))
        )
        if session.scalar(running) is not None:
            raise Conflict("this is being opened already; go on with that session")
        if not 1 <= said.boxes <= item.count:
            raise InputError.at("boxes", f"must be from 1 to the {item.count} that you have")
        fmt = find_format(workshop.sheet(session, item.release), item.format)
        packs = said.boxes * fmt.packs_per_box
        if packs > MOST_PACKS:
            raise InputError.at("boxes", f"open at most {MOST_PACKS:,} packs at once")
        if not 0 <= said.gone < packs:
            raise InputError.at("gone", f"must be from 0 to {packs - 1}")
        fun = said.entertainment
        if fun is None:  # as it was meant when it was bought
            bought = None if item.purchase_id is None else session.get(PurchaseRow, item.purchase_id)
            fun = Decimal(0) if bought is None else bought.entertainment
        if not 0 <= fun <= 1:
            raise InputError.at("entertainment", "must be from 0 to 1 (0.5 is half)")
        if not 0 <= said.trust <= 1:
            raise InputError.at("trust", "must be from 0 to 1")
        row = SessionRow(
            once=once, item_id=item.id, release=item.release, format=item.format, boxes=said.boxes, packs=packs,
            gone=said.gone, gone_seen=said.gone_seen, trust=said.trust, state="running", current_pack=said.gone + 1,
            entertainment=fun, started_on=said.started_on or workshop.today(), note=said.note,
        )  # fmt: skip
        session.add(row)
        session.flush()
        return row.id


def list_sessions(workshop: Workshop) -> list[tuple[SessionRow, str]]:
    """All sessions with the name of what is opened, those that are running first."""
    with workshop.database.transaction() as session:
        order = (SessionRow.state.in_(("done", "undone")), SessionRow.started_on.desc(), SessionRow.id.desc())
        query = select(SessionRow, ItemRow.name).join(ItemRow, ItemRow.id == SessionRow.item_id).order_by(*order)
        return [(row, name) for row, name in session.execute(query)]


def read_session(workshop: Workshop, number: int) -> SessionView:
    """A session as it stands. Raises NotFound."""
    with workshop.database.transaction() as session:
        row = _find(session, number, lock=False)
        pulls = load_pulls(session, number)
        item = session.get(ItemRow, row.item_id)
        looked = workshop.look(session, row.release)
    valuation = workshop.valuation(looked.sheet, row.format, looked.standpoint)
    fmt = valuation.format
    said = [to_pulled(pull) for pull in pulls]
    progress = progress_of(row, pulls)
    ahead = look_ahead(valuation, progress, said)
    views = tuple(_view(valuation, pull) for pull in pulls)
    cost = None
    if item is not None and item.basis is not None:
        cost = item.basis * row.boxes / item.count if row.state in ("running", "paused") else item.basis
    complete = row.state == "done" or progress.left == 0
    room = cards_of_pack(fmt, row.current_pack) - sum(p.count for p in pulls if p.pack == row.current_pack)
    worth = sum((view.worth or 0.0) * view.row.count for view in views)
    luck = None
    if row.state == "done" and row.gone == 0 and row.packs == row.boxes * fmt.packs_per_box:
        value = workshop.value(looked.sheet, row.format, Holding(Unit.BOXES, row.boxes), looked.standpoint)
        luck = 1 - value.outcomes.chance_at_least(worth)
    return SessionView(
        row, looked, fmt, views, cards_of_pack(fmt, row.current_pack), room, ahead, cost,
        worth,
        judge(observe(valuation, progress, said, complete)), state_session(valuation, ahead), luck,
    )  # fmt: skip


def progress_of(row: SessionRow, pulls: Sequence[PullRow]) -> Progress:
    """A pack in the hand counts as opened once something of it is logged: before, it may still hold anything."""
    is_begun = row.state == "done" or any(pull.pack >= row.current_pack for pull in pulls)
    last = row.packs if row.state == "done" else row.current_pack
    opened = last - row.gone - (0 if is_begun else 1)
    return Progress(row.packs, opened, row.gone, row.gone_seen, row.trust)


def _view(valuation: Valuation, pull: PullRow) -> PullView:
    value = valuation.lines.get(pull.line)
    drawn = None if value is None else valuation.drawn(pull.line)
    name = valuation.sheet.line_by_id[pull.line].name if pull.line in valuation.sheet.line_by_id else pull.line
    if value is None or pull.number is None:
        return PullView(pull, name, "not listed", None if drawn is None else drawn.severity.mean)
    at = next((i for i, version in enumerate(value.versions) if version.number == pull.number), None)
    if at is None:
        return PullView(pull, name, "", None)
    return PullView(pull, name, value.versions[at].subject, None if drawn is None else float(drawn.each[at]))


def _find(session: Session, number: int, lock: bool = True) -> SessionRow:
    row = session.get(SessionRow, number, with_for_update=lock)
    if row is None:
        raise NotFound("there is no such session")
    return row


def _open(session: Session, number: int) -> SessionRow:
    row = _find(session, number)
    if row.state not in ("running", "paused"):
        raise Conflict("this session is finished")
    row.state = "running"
    row.version += 1
    return row


def load_pulls(session: Session, *numbers: int) -> list[PullRow]:
    query = select(PullRow).where(PullRow.session_id.in_(numbers), PullRow.taken_back_at.is_(None)).order_by(PullRow.id)
    return list(session.scalars(query))


def to_pulled(row: PullRow) -> Pulled:
    return Pulled(row.pack, row.line, row.number, row.count, row.serial, row.flaw)


def log_pull(workshop: Workshop, number: int, fresh: Pulled, once: str) -> None:
    """Log a card of the present pack; sent twice it is logged once. Raises NotFound, Conflict, InputError."""
    with workshop.database.transaction() as session:
        row = _open(session, number)
        known = select(PullRow.id).where(PullRow.session_id == number, PullRow.once == once)
        if session.scalar(known) is not None:
            return
        sheet = workshop.sheet(session, row.release)
        fmt = find_format(sheet, row.format)
        if not row.gone < fresh.pack <= row.packs:
            raise InputError.at("pack", f"must be from {row.gone + 1} to {row.packs}")
        check_pull(sheet, fmt, [to_pulled(pull) for pull in load_pulls(session, number)], fresh)
        session.add(
            PullRow(
                session_id=number, once=once, pack=fresh.pack, line=fresh.line, number=fresh.number,
                count=fresh.count, serial=fresh.serial, flaw=fresh.flaw,
            )
        )  # fmt: skip
        row.current_pack = fresh.pack


def log_totals(workshop: Workshop, number: int, packs: int, totals: Sequence[tuple[str, int]], once: str) -> None:
    """Log packs from the present one on as totals (line, hits); sent twice they are logged once.

    Raises NotFound, Conflict, InputError.
    """
    with workshop.database.transaction() as session:
        row = _open(session, number)
        mark = f"{_TOTALS}{once}:"
        sent = select(PullRow.id).where(PullRow.session_id == number, PullRow.once.startswith(mark, autoescape=True))
        if session.scalar(sent.limit(1)) is not None:
            return
        sheet = workshop.sheet(session, row.release)
        last = row.current_pack + packs - 1
        if not 1 <= packs <= row.packs - row.current_pack + 1:
            raise InputError.at("packs", f"must be from 1 to the {row.packs - row.current_pack + 1} that are left")
        known = [to_pulled(pull) for pull in load_pulls(session, number)]
        span = range(row.current_pack, last + 1)
        fresh = spread_totals(sheet, find_format(sheet, row.format), known, span, totals)
        session.add_all(
            PullRow(session_id=number, once=f"{mark}{i}", pack=pull.pack, line=pull.line, count=pull.count)
            for i, pull in enumerate(fresh)
        )
        row.current_pack = min(last + 1, row.packs)


def undo_pull(workshop: Workshop, number: int) -> None:
    """Take the last pull back, totals as a whole. Raises NotFound, or Conflict if there is none."""
    with workshop.database.transaction() as session:
        row = _open(session, number)
        pulls = load_pulls(session, number)
        if not pulls:
            raise Conflict("nothing is logged that could be taken back")
        last = pulls[-1]
        mark = last.once.rpartition(":")[0] + ":" if last.once.startswith(_TOTALS) else None
        taken = [last] if mark is None else [pull for pull in pulls if pull.once.startswith(mark)]
        for pull in taken:
            pull.taken_back_at = datetime.now(UTC)
        row.current_pack = min(pull.pack for pull in taken)


def turn_pack(workshop: Workshop, number: int, pack: int, rest_is_base: bool) -> None:
    """Go to another pack; with ``rest_is_base`` what is not logged of the present one is base. Raises as above."""
    with workshop.database.transaction() as session:
        row = _open(session, number)
        sheet = workshop.sheet(session, row.release)
        fmt = find_format(sheet, row.format)
        if rest_is_base:
            _fill(session, row, sheet, fmt, row.current_pack, load_pulls(session, number))
        if not row.gone < pack <= row.packs:
            raise InputError.at("pack", f"must be from {row.gone + 1} to {row.packs}")
        row.current_pack = pack


def _fill(
    session: Session, row: SessionRow, sheet: ProductSheet, fmt: Format, pack: int, pulls: Sequence[PullRow]
) -> None:
    room = cards_of_pack(fmt, pack) - sum(pull.count for pull in pulls if pull.pack == pack)
    if room > 0:
        base = sheet.base_line(fmt.id).id
        session.add(PullRow(session_id=row.id, once=f"rest-{pack}-{row.version}", pack=pack, line=base, count=room))
        session.flush()


def pause_session(workshop: Workshop, number: int) -> None:
    """Put a session aside; anything that is logged resumes it. Raises NotFound, Conflict."""
    with workshop.database.transaction() as session:
        _open(session, number).state = "paused"


def finish_session(workshop: Workshop, number: int, fill: bool, stopped_hot: bool, day: date | None = None) -> None:
    """Close a session: the basis of what was opened moves to what came out. Rules C-15 and C-16.

    With ``fill`` packs that are not full are filled with base cards that nobody listed. Packs that were not reached
    stay sealed: only whole boxes of them, so a box that was begun has to be opened to its end.
    Raises NotFound, Conflict, InputError.
    """
    with workshop.database.transaction() as session:
        row = _open(session, number)
        looked = workshop.look(session, row.release)
        sheet, fmt = looked.sheet, find_format(looked.sheet, row.format)
        pulls = load_pulls(session, number)
        reached = max([row.current_pack, *(pull.pack for pull in pulls)])
        boxes = -(-reached // fmt.packs_per_box)
        if fill:
            for pack in range(row.gone + 1, boxes * fmt.packs_per_box + 1):
                _fill(session, row, sheet, fmt, pack, pulls)
            pulls = load_pulls(session, number)
        if not pulls:
            raise InputError.at("session", "nothing was logged; log what came out, or fill the packs with base cards")
        item = find_item(session, row.item_id)
        valuation = workshop.valuation(sheet, fmt.id, looked.standpoint)
        home = load_preferences(session).currency
        made = _items(row, item, valuation, pulls, home)
        session.add_all(made)
        session.flush()
        things = [Thing(i.id, i.name, i.count, State.HELD, None, i.value) for i in made]
        day = day or workshop.today()
        text = f"opened: {boxes} x {item.name}" if boxes > 1 else f"opened: {item.name}"
        change = register.open_sealed(to_thing(item), boxes, things, row.entertainment, day, text, minor_units(home))
        rows: list[ItemRow] = [item]
        if len(change.things) > len(made) + 1:  # some stay sealed: what was opened leaves the stack
            rows = [_split(item), item]
            if item.value is not None:  # what was said of all of them is shared out by their number
                parts = [Fraction(item.count - boxes), Fraction(boxes)]
                item.value, rows[0].value = share_out(item.value, parts, minor_units(home))
            session.add(rows[0])
            session.flush()
        keep_change(session, change, [*rows, *made], day, Event.OPENING, text, item.purchase_id, number)
        if len(rows) > 1:
            row.item_id = rows[0].id
        row.boxes, row.packs, row.state, row.done_on = boxes, boxes * fmt.packs_per_box, "done", day
        row.current_pack, row.stopped_hot = row.packs, stopped_hot


def _split(item: ItemRow) -> ItemRow:
    names = ("kind", "name", "release", "format", "acquired_on", "purchase_id", "place", "gift")
    return ItemRow(
        **{name: getattr(item, name) for name in names}, count=1, state=State.HELD.value, parent_id=item.id, version=0,
        never_for_sale=False,
    )  # fmt: skip


def _items(row: SessionRow, item: ItemRow, valuation: Valuation, pulls: Sequence[PullRow], home: str) -> list[ItemRow]:
    """Hits and flawed or numbered cards one by one, like commons as counted stacks."""
    sheet = valuation.sheet
    base = sheet.base_line(row.format).id
    stacks: Counter[tuple[str, str | None]] = Counter()
    singles = []
    for pull in pulls:
        if pull.line == base and pull.serial is None and pull.flaw is None:
            stacks[pull.line, pull.number] += pull.count
        else:
            singles += [(pull, view) for view in [_view(valuation, pull)] for _ in range(pull.count)]
    made = [
        _made(row, item, "card", f"{view.subject}, {view.line_name}", pull.line, pull.number, 1, view.worth, home,
              pull.serial, pull.flaw)
        for pull, view in singles
    ]  # fmt: skip
    for (line, number), count in stacks.items():
        view = _view(valuation, PullRow(line=line, number=number))
        name = f"{view.subject}, {view.line_name}" if number is not None else f"{view.line_name}, not listed"
        worth = None if view.worth is None else view.worth * count
        made.append(_made(row, item, "stack", name, line, number, count, worth, home))
    return made


def _made(
    row: SessionRow,
    item: ItemRow,
    kind: str,
    name: str,
    line: str,
    number: str | None,
    count: int,
    worth: float | None,
    home: str,
    serial: str | None = None,
    flaw: str | None = None,
) -> ItemRow:
    return ItemRow(
        kind=kind, name=name, release=row.release, format=None, line=line, number=number, count=count,
        state=State.HELD.value, basis=None, value=None if worth is None else Money.from_estimate(worth, home).amount,
        serial=serial, note=flaw, acquired_on=row.started_on, purchase_id=item.purchase_id, session_id=row.id,
        parent_id=item.id, gift=False, never_for_sale=False, version=0,
    )  # fmt: skip
