"""Close an opening: at its end the cost moves to what came out, and that can be taken back.

Packs that were not reached stay sealed: whole boxes as they are, the packs of a box that was begun as a thing of their
own, with their part of its cost. Rules C-15 and C-16.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from fractions import Fraction
from types import MappingProxyType
from typing import Any

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.matching import fit
from tobbix.core.base.money import Money, minor_units
from tobbix.core.holdings import register
from tobbix.core.holdings.allocation import Method, Part, share_out
from tobbix.core.holdings.items import MOST_NAME, Item
from tobbix.core.holdings.register import PacksLeft, Thing
from tobbix.core.holdings.states import DocumentState, Kind, State
from tobbix.core.opening.records import Opening, Pull
from tobbix.core.opening.session import begun_box, promised_hits, view_card
from tobbix.core.products.price_book import Source
from tobbix.core.products.revising import find_format
from tobbix.core.products.valuation import Valuation
from tobbix.db.base import Session
from tobbix.db.holdings.loading import cards_of, find_item, standing_entries, things_of_session
from tobbix.db.holdings.saving import add_items, change_items, keep_change, split_off
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.opening.loading import find_session
from tobbix.db.opening.saving import change_session
from tobbix.services.buying.booking import take_back_entry
from tobbix.services.opening.opening import fill_packs, open_session
from tobbix.services.opening.viewing import pulls_of, view_pull
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on, revalue_items, said_worth, say_worth

Worths = Mapping[tuple[str, str | None], Decimal]


def finish_session(
    catalogue: Catalogue,
    number: int,
    rest_is_base: bool,
    stopped_hot: bool,
    day: date | None = None,
    worths: Worths = MappingProxyType({}),
    by_count: bool = False,
) -> None:
    """Close a session: the basis of what was opened moves to what came out. Rules C-15 and C-16.

    What is not logged of a pack that was reached is base. Packs that were not reached stay sealed; with
    ``rest_is_base`` the box was opened to its end, and they held base cards only. A card of unknown value is asked for:
    ``worths`` says what one is worth by line and number (money at home), or all is divided ``by_count``.

    Raises NotFound, Conflict, InputError.
    """
    with catalogue.database.transaction() as session:
        row = open_session(session, number)
        looked = catalogue.look(session, row.release)
        sheet, fmt = looked.sheet, find_format(looked.sheet, row.format)
        pulls, per_box = pulls_of(session, number), fmt.packs_per_box
        reached = max((pull.pack for pull in pulls), default=row.gone)
        if rest_is_base:
            reached = -(-max(reached, row.current_pack) // per_box) * per_box
        if reached == row.gone:
            raise InputError.at("session", "nothing was logged; log what came out, or say that it was base cards only")
        fill_packs(session, row, sheet, fmt, range(row.gone + 1, reached + 1), pulls)
        pulls = pulls_of(session, number)
        boxes = -(-reached // per_box)
        item = find_item(session, row.item)
        valuation = catalogue.valuation(sheet, fmt.id, looked.standpoint)
        home = load_preferences(session).currency
        units = minor_units(home)
        made = _items(row, item, valuation, pulls)
        said_now = [worths.get((pull.line, pull.card)) if worth is None else None for _, worth, pull in made]
        begun = _packs_left(row, item, valuation, pulls, reached)
        left = add_items(session, [begun[0]])[0] if begun else None
        numbers = add_items(session, [said for said, *_ in made])
        values = [
            told * said["count"] if told is not None
            else None if worth is None
            else Money.from_estimate(worth, home).amount
            for (said, worth, _), told in zip(made, said_now, strict=True)
        ]  # fmt: skip
        if item.basis and not by_count:
            _ask_for_values([said["name"] for (said, *_), value in zip(made, values, strict=True) if value is None])
        things = [
            Thing(i, said["name"], said["count"], State.HELD, None, worth, Kind(said["kind"]))
            for i, (said, *_), worth in zip(numbers, made, values, strict=True)
        ]
        day = day or catalogue.today()
        text = f"opened: {boxes} x {item.name}" if boxes > 1 else f"opened: {item.name}"
        packs = None
        if begun and left is not None:
            packs = PacksLeft(Thing(left, begun[0]["name"], 1, State.HELD, None, None, Kind.SEALED), begun[1])
        change = register.open_sealed(
            item.thing, boxes, things, row.entertainment, day, text, units, packs, row.purpose
        )
        opened = item.number
        if boxes < item.count:  # some stay sealed: what was opened leaves the stack
            opened = split_off(session, item.number, boxes)
            change = replace(change, things=(replace(change.things[0], key=opened), *change.things[1:]))
        now_home = home_on(session, catalogue.today())
        sealed = None if opened == item.number else item.number
        packed = (left, begun[1]) if begun else None
        if left is not None:
            change_items(session, {left: {"parent_id": opened}})
        entry = keep_change(session, change, row.document)
        _share_worth(session, now_home, entry, item, opened, sealed, boxes, packed, units)
        of_owner = [(i, w) for i, w, told in zip(numbers, values, said_now, strict=True) if told is not None]
        of_sheet = [
            (i, worth)
            for i, (said, *_), worth, told in zip(numbers, made, values, said_now, strict=True)
            if said["version_id"] is None and worth is not None and told is None
        ]
        say_worth(session, now_home, of_sheet, day, Source.SHEET)
        say_worth(session, now_home, of_owner, day, entry=entry)
        revalue_items(session, now_home, [t.key for t in change.things])
        change_session(
            session, number, DocumentState.DONE, item_id=opened, boxes=boxes, packs=reached, done_on=day,
            current_pack=reached, stopped_hot=stopped_hot,
        )  # fmt: skip


def _ask_for_values(unknown: Sequence[str]) -> None:
    """One card of unknown value does not change the rule for all others in silence. Rule C-15."""
    if unknown:
        names = f"{', '.join(dict.fromkeys(unknown[:5]))}{' and others' if len(unknown) > 5 else ''}"
        raise InputError.at("cards", f"{names}: the value is not known; say it, or divide by count")


def _share_worth(
    session: Session,
    home: Home,
    entry: int,
    item: Item,
    opened: int,
    sealed: int | None,
    boxes: int,
    begun: tuple[int | None, Fraction] | None,
    units: int,
) -> None:
    """What the owner said of all boxes together is shared out over those opened, those sealed and the packs
    left; it is of the day that it was said."""
    said = said_worth(session, item.number)
    if said is None:
        return
    worth, day = said
    worths: list[tuple[int, Decimal | None]] = []
    if sealed is not None:
        rest, gone = share_out(worth, [Fraction(item.count - boxes), Fraction(boxes)], units)
        worths = [(sealed, rest), (opened, gone)]
    if begun is not None and begun[0] is not None:
        worths.append((begun[0], share_out(worth, [begun[1], item.count - begun[1]], units)[0]))
    say_worth(session, home, worths, day, entry=entry)


def _packs_left(
    row: Opening, item: Item, valuation: Valuation, pulls: Sequence[Pull], reached: int
) -> tuple[dict[str, Any], Fraction] | None:
    """The packs of the last box that nobody opened, and their share of that box; None if it is empty."""
    begun = begun_box(valuation.format.packs_per_box, reached, row.gone)
    if begun is None:
        return None
    before, share = reached - begun.gone, begun.share
    seen = Counter(promised_hits(valuation.sheet, row.format, [pull.pulled for pull in pulls if pull.pack > before]))
    if row.gone > before:
        seen.update(row.gone_hits)
    packs = "1 pack" if begun.left == 1 else f"{begun.left} packs"
    made = {
        "kind": "sealed", "name": fit(item.name.split(", packs left:")[0], MOST_NAME, f", packs left: {packs}"),
        "release_id": item.release_id, "format_id": item.format_id, "count": 1, "acquired_on": item.acquired_on,
        "purchase_id": item.purchase, "place": item.place, "never_for_sale": item.never_for_sale,
        "packs_gone": begun.gone, "hits_gone": dict(seen), "trust": row.trust, "owner_id": item.owner,
    }  # fmt: skip
    return made, share


def undo_finish(catalogue: Catalogue, number: int) -> None:
    """Take the end of a session back: it goes on, what was opened carries its cost again. Rule C-16.

    Raises NotFound, or Conflict, which says by what, if something of it has moved on.
    """
    with catalogue.database.transaction() as session:
        row = find_session(session, number)
        if row.state is not DocumentState.DONE:
            raise Conflict("this session is not finished")
        for entry, _ in standing_entries(session, row.document):  # divisions of later, then the opening
            take_back_entry(session, entry, catalogue.today())
        reopen(catalogue, session, row)


def reopen(catalogue: Catalogue, session: Session, row: Opening) -> None:
    """The end of a session was taken back: it goes on, with what it was begun with."""
    opened = find_item(session, row.item)
    had_left = opened.state is State.UNDONE and opened.parent is not None  # a stack, and is back in it
    item = opened.parent if had_left else opened.number
    fmt = find_format(catalogue.sheet(session, row.release), row.format)
    change_session(
        session, row.number, DocumentState.RUNNING, item_id=item, packs=row.boxes * fmt.packs_per_box, done_on=None,
        stopped_hot=False,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class NewPart:
    """What a thing of a session carries, and would carry of the same cost divided by what it is worth today (money)."""

    name: str
    count: int
    value: Decimal | None
    basis: Decimal
    share: Decimal


def divide_session(catalogue: Catalogue, number: int, version: int, method: Method, book: bool) -> tuple[NewPart, ...]:
    """Divide anew what the cards of a finished session that are still held carry, by today's values; without ``book``
    it is only shown. Rule C-15. Raises NotFound, Conflict, InputError.
    """
    with catalogue.database.transaction() as session:
        row = find_session(session, number)
        if row.state is not DocumentState.DONE:
            raise Conflict("the cost moves to the cards when the session is finished")
        if book and row.version != version:
            raise Conflict("this was changed meanwhile; look again, then retry")
        looked = catalogue.look(session, row.release)
        valuation = catalogue.valuation(looked.sheet, row.format, looked.standpoint)
        home = load_preferences(session).currency
        items = things_of_session(session, number)
        cards = cards_of(session, [thing.key for thing in items])
        values = [_worth_today(item, *cards[item.key], valuation, home) for item in items]
        parts = [Part(i.name, value, Decimal(i.count)) for i, value in zip(items, values, strict=True)]
        day, text = catalogue.today(), f"divided again by {method.value}: opening of {looked.sheet.release.title}"
        change = register.divide_again(items, parts, method, day, text, minor_units(home))
        made = tuple(
            NewPart(item.name, item.count, value, item.basis or Decimal(0), thing.basis or Decimal(0))
            for item, value, thing in zip(items, values, change.things, strict=True)
        )
        if book:
            keep_change(session, change, row.document, method=method)
            change_session(session, number)
        return made


def _worth_today(item: Thing, line: str | None, number: str | None, valuation: Valuation, home: str) -> Decimal | None:
    """What an item that was pulled is worth by today's prices; what was said of it where they do not know it."""
    view = view_card(valuation, line or "", number)
    return item.value if view.worth is None else Money.from_estimate(view.worth * item.count, home).amount


def _items(
    row: Opening, item: Item, valuation: Valuation, pulls: Sequence[Pull]
) -> list[tuple[dict[str, Any], float | None, Pull]]:
    """Hits and flawed or numbered cards one by one, like commons as counted stacks, with what each is worth here
    (estimate; None: not known), and a pull of it."""
    sheet = valuation.sheet
    base = sheet.base_line(row.format).id
    stacks: dict[str | None, list[Pull]] = {}
    singles = []
    for pull in pulls:
        if pull.line == base and pull.serial is None and pull.flaw is None:
            stacks.setdefault(pull.card, []).append(pull)
        else:
            singles += [(pull, view) for view in [view_pull(valuation, pull)] for _ in range(pull.count)]
    made = [
        (_made(row, item, "card", f"{view.subject}, {view.line_name}", pull, 1), view.worth, pull)
        for pull, view in singles
    ]
    for number, like in stacks.items():
        view, count = view_pull(valuation, like[0]), sum(pull.count for pull in like)
        name = f"{view.subject}, {view.line_name}" if number is not None else f"{view.line_name}, not listed"
        worth = None if view.worth is None else view.worth * count
        made.append((_made(row, item, "stack", name, like[0], count), worth, like[0]))
    return made


def _made(row: Opening, item: Item, kind: str, name: str, pull: Pull, count: int) -> dict[str, Any]:
    return {
        "kind": kind, "name": fit(name, MOST_NAME), "release_id": item.release_id, "line_id": pull.line_id,
        "version_id": pull.version_id, "number_text": pull.card, "count": count, "serial": pull.serial,
        "note": pull.flaw, "acquired_on": row.started_on, "purchase_id": item.purchase, "session_id": row.number,
        "parent_id": item.number, "owner_id": item.owner,
    }  # fmt: skip
