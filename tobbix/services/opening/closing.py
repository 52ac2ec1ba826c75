"""Close an opening: at its end the cost moves to what came out, and that can be taken back.

Packs that were not reached stay sealed: whole boxes as they are, the packs of a box that was begun as a thing of their
own, with their part of its cost. Rules C-15 and C-16.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction

from sqlalchemy import and_, or_, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import Money, minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, share_out
from tobbix.core.holdings.ledger import Account, Event
from tobbix.core.holdings.register import HELD_STATES, PacksLeft, State, Thing
from tobbix.core.opening.session import begun_box, promised_hits, view_card
from tobbix.core.products.price_book import Source
from tobbix.core.products.revising import find_format
from tobbix.core.products.valuation import Valuation
from tobbix.db.holdings.keeping import find_item, keep_change, load_entries, reversed_entries, to_thing
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import ALIVE
from tobbix.db.opening.tables import PullRow, SessionRow
from tobbix.services.opening.opening import fill_pack, find_session, load_pulls, open_session, to_pulled, view_pull
from tobbix.services.products.valuing import Home, home_on, revalue_items, said_worth, say_worth
from tobbix.services.products.workshop import Workshop


def finish_session(
    workshop: Workshop, number: int, rest_is_base: bool, stopped_hot: bool, day: date | None = None
) -> None:
    """Close a session: the basis of what was opened moves to what came out. Rules C-15 and C-16.

    What is not logged of a pack that was reached is base. Packs that were not reached stay sealed; with
    ``rest_is_base`` the box was opened to its end, and they held base cards only.

    Raises NotFound, Conflict, InputError.
    """
    with workshop.database.transaction() as session:
        row = open_session(session, number)
        looked = workshop.look(session, row.release)
        sheet, fmt = looked.sheet, find_format(looked.sheet, row.format)
        pulls, per_box = load_pulls(session, number), fmt.packs_per_box
        reached = max((pull.pack for pull in pulls), default=row.gone)
        if rest_is_base:
            reached = -(-max(reached, row.current_pack) // per_box) * per_box
        if reached == row.gone:
            raise InputError.at("session", "nothing was logged; log what came out, or say that it was base cards only")
        for pack in range(row.gone + 1, reached + 1):
            fill_pack(session, row, sheet, fmt, pack, pulls)
        pulls = load_pulls(session, number)
        boxes = -(-reached // per_box)
        item = find_item(session, row.item_id)
        valuation = workshop.valuation(sheet, fmt.id, looked.standpoint)
        home = load_preferences(session).currency
        units = minor_units(home)
        made = _items(row, item, valuation, pulls)
        begun = _packs_left(row, item, valuation, pulls, reached)
        session.add_all([*([begun[0]] if begun else []), *(i for i, _ in made)])
        session.flush()
        worths = [None if worth is None else Money.from_estimate(worth, home).amount for _, worth in made]
        things = [
            Thing(i.id, i.name, i.count, State.HELD, None, worth) for (i, _), worth in zip(made, worths, strict=True)
        ]
        day = day or workshop.today()
        text = f"opened: {boxes} x {item.name}" if boxes > 1 else f"opened: {item.name}"
        left = PacksLeft(to_thing(begun[0]), begun[1]) if begun else None
        change = register.open_sealed(to_thing(item), boxes, things, row.entertainment, day, text, units, left)
        rows: list[ItemRow] = [item]
        if boxes < item.count:  # some stay sealed: what was opened leaves the stack
            rows = [_split(item), item]
            session.add(rows[0])
            session.flush()
        _share_worth(session, home_on(session, workshop.today()), item, rows, boxes, begun, units)
        row.item_id = rows[0].id
        if begun:
            begun[0].parent_id = row.item_id
            rows.append(begun[0])
        everything = [*rows, *(i for i, _ in made)]
        keep_change(session, change, everything, day, Event.OPENING, text, item.purchase_id, number)
        now_home = home_on(session, workshop.today())
        unlisted = [(i.id, worth) for (i, _), worth in zip(made, worths, strict=True) if i.version_id is None]
        known = [(item, worth) for item, worth in unlisted if worth is not None]
        say_worth(session, now_home, known, day, Source.SHEET)
        revalue_items(session, now_home, [i.id for i in everything])
        row.boxes, row.packs, row.state, row.done_on = boxes, reached, "done", day
        row.current_pack, row.stopped_hot = reached, stopped_hot


def _share_worth(
    session: Session,
    home: Home,
    item: ItemRow,
    rows: Sequence[ItemRow],
    boxes: int,
    begun: tuple[ItemRow, Fraction] | None,
    units: int,
) -> None:
    """What the owner said of all boxes together is shared out over those opened, those sealed and the packs
    left; it is of the day that it was said."""
    said = said_worth(session, item.id)
    if said is None:
        return
    worth, day = said
    worths = []
    if len(rows) > 1:
        sealed, opened = share_out(worth, [Fraction(item.count - boxes), Fraction(boxes)], units)
        worths = [(item.id, sealed), (rows[0].id, opened)]
    if begun is not None:
        worths.append((begun[0].id, share_out(worth, [begun[1], item.count - begun[1]], units)[0]))
    say_worth(session, home, worths, day)


def _packs_left(
    row: SessionRow, item: ItemRow, valuation: Valuation, pulls: Sequence[PullRow], reached: int
) -> tuple[ItemRow, Fraction] | None:
    """The packs of the last box that nobody opened, and their share of that box; None if it is empty."""
    begun = begun_box(valuation.format.packs_per_box, reached, row.gone)
    if begun is None:
        return None
    before, share = reached - begun.gone, begun.share
    seen = Counter(
        promised_hits(valuation.sheet, row.format, [to_pulled(pull) for pull in pulls if pull.pack > before])
    )
    if row.gone > before:
        seen.update(row.gone_hits)
    packs = "1 pack" if begun.left == 1 else f"{begun.left} packs"
    made = ItemRow(
        kind="sealed", name=f"{item.name.split(', packs left:')[0]}, packs left: {packs}", release_id=item.release_id,
        format_id=item.format_id, count=1, state=State.HELD.value, acquired_on=item.acquired_on,
        purchase_id=item.purchase_id, place=item.place, gift=False, never_for_sale=item.never_for_sale, version=0,
        packs_gone=begun.gone, hits_gone=dict(seen), trust=row.trust,
    )  # fmt: skip
    return made, share


def undo_finish(workshop: Workshop, number: int) -> None:
    """Take the end of a session back: it goes on, what was opened carries its cost again. Rule C-16.

    Raises NotFound, or Conflict if something of it has moved on.
    """
    with workshop.database.transaction() as session:
        row = find_session(session, number)
        if row.state != "done":
            raise Conflict("this session is not finished")
        opened = find_item(session, row.item_id)
        is_packs_left = and_(ItemRow.parent_id == opened.id, ItemRow.session_id.is_(None), ItemRow.packs_gone > 0)
        query = select(ItemRow).where(or_(ItemRow.session_id == number, is_packs_left))
        alive = query.where(ItemRow.state != State.UNDONE.value).order_by(ItemRow.id).with_for_update()
        made = list(session.scalars(alive))
        begun = select(SessionRow.id).where(
            SessionRow.item_id.in_([item.id for item in made]), SessionRow.state.in_(ALIVE)
        )
        if session.scalar(begun.limit(1)) is not None:
            raise Conflict("the packs that were left are being opened, so the opening stays")
        done = reversed_entries(session)
        entries = [
            (identity, entry)
            for identity, entry in load_entries(session, opening=number)
            if entry.event is Event.OPENING and identity not in done
        ]
        fun = sum((line.amount for _, e in entries for line in e.lines if line.account is Account.ENTERTAINMENT), 0)
        text, day = f"taken back: opening of {opened.name}", workshop.today()
        change = register.close_again(to_thing(opened), [to_thing(i) for i in made], Decimal(fun), day, text)
        entry = keep_change(session, change, [opened, *made], day, Event.UNDO, text, opened.purchase_id, number)
        if entry is not None and entries:
            entry.reverses_id = entries[-1][0]
        fmt = find_format(workshop.sheet(session, row.release), row.format)
        row.packs, row.state, row.done_on, row.stopped_hot = row.boxes * fmt.packs_per_box, "running", None, False
        row.version += 1


@dataclass(frozen=True, slots=True)
class NewPart:
    """What a thing of a session carries, and would carry of the same cost divided by what it is worth today (money)."""

    name: str
    count: int
    value: Decimal | None
    basis: Decimal
    share: Decimal


def divide_session(workshop: Workshop, number: int, version: int, method: Method, book: bool) -> tuple[NewPart, ...]:
    """Divide anew what the cards of a finished session that are still held carry, by today's values; without ``book``
    it is only shown. Rule C-15. Raises NotFound, Conflict, InputError.
    """
    with workshop.database.transaction() as session:
        row = find_session(session, number)
        if row.state != "done":
            raise Conflict("the cost moves to the cards when the session is finished")
        if book and row.version != version:
            raise Conflict("this was changed meanwhile; look again, then retry")
        looked = workshop.look(session, row.release)
        valuation = workshop.valuation(looked.sheet, row.format, looked.standpoint)
        home = load_preferences(session).currency
        query = select(ItemRow).where(ItemRow.session_id == number, ItemRow.basis.is_not(None))
        held = query.where(ItemRow.state.in_([state.value for state in HELD_STATES])).order_by(ItemRow.id)
        items = list(session.scalars(held.with_for_update()))
        values = [_worth_today(item, valuation, home) for item in items]
        parts = [Part(i.name, value, Decimal(i.count)) for i, value in zip(items, values, strict=True)]
        day, text = workshop.today(), f"divided again by {method.value}: opening of {looked.sheet.release.title}"
        change = register.divide_again([to_thing(i) for i in items], parts, method, day, text, minor_units(home))
        made = tuple(
            NewPart(item.name, item.count, value, item.basis or Decimal(0), thing.basis or Decimal(0))
            for item, value, thing in zip(items, values, change.things, strict=True)
        )
        if book:
            keep_change(session, change, items, day, Event.DIVISION, text, items[0].purchase_id, number)
            row.version += 1
        return made


def _worth_today(item: ItemRow, valuation: Valuation, home: str) -> Decimal | None:
    """What an item that was pulled is worth by today's prices; what was said of it where they do not know it."""
    view = view_card(valuation, item.line or "", item.number)
    return item.value if view.worth is None else Money.from_estimate(view.worth * item.count, home).amount


def _split(item: ItemRow) -> ItemRow:
    """What leaves a stack, as a thing of its own."""
    names = ("kind", "name", "release_id", "format_id", "acquired_on", "purchase_id", "place", "gift")
    return ItemRow(
        **{name: getattr(item, name) for name in names}, count=1, state=State.HELD.value, parent_id=item.id, version=0,
        never_for_sale=False,
    )  # fmt: skip


def _items(
    row: SessionRow, item: ItemRow, valuation: Valuation, pulls: Sequence[PullRow]
) -> list[tuple[ItemRow, float | None]]:
    """Hits and flawed or numbered cards one by one, like commons as counted stacks, with what each is worth here
    (estimate; None: not known)."""
    sheet = valuation.sheet
    base = sheet.base_line(row.format).id
    stacks: dict[str | None, list[PullRow]] = {}
    singles = []
    for pull in pulls:
        if pull.line == base and pull.serial is None and pull.flaw is None:
            stacks.setdefault(pull.number, []).append(pull)
        else:
            singles += [(pull, view) for view in [view_pull(valuation, pull)] for _ in range(pull.count)]
    made = [
        (_made(row, item, "card", f"{view.subject}, {view.line_name}", pull, 1), view.worth) for pull, view in singles
    ]
    for number, like in stacks.items():
        view, count = view_pull(valuation, like[0]), sum(pull.count for pull in like)
        name = f"{view.subject}, {view.line_name}" if number is not None else f"{view.line_name}, not listed"
        worth = None if view.worth is None else view.worth * count
        made.append((_made(row, item, "stack", name, like[0], count), worth))
    return made


def _made(row: SessionRow, item: ItemRow, kind: str, name: str, pull: PullRow, count: int) -> ItemRow:
    return ItemRow(
        kind=kind, name=name, release_id=item.release_id, line_id=pull.line_id, version_id=pull.version_id,
        number_text=pull.number, count=count, state=State.HELD.value, basis=None, serial=pull.serial, note=pull.flaw,
        acquired_on=row.started_on, purchase_id=item.purchase_id, session_id=row.id, parent_id=item.id, gift=False,
        never_for_sale=False, version=0,
    )  # fmt: skip
