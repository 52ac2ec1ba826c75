"""The items listed, filtered, sorted, paged and summed in the database."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from sqlalchemy import ColumnElement, case, func, select, text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.sentences import ItemSums
from tobbix.core.holdings.states import HELD_STATES, Kind, State
from tobbix.db.holdings.loading import to_item
from tobbix.db.holdings.tables import HeldValueRow, ItemRow, SavedFilterRow, id_of_release, ids_of_line

SORTS = ("name", "count", "basis", "value", "acquired_on", "place", "id")
_ALWAYS_SAID = frozenset({"name", "count", "id"})
_HELD = ItemRow.state.in_([state.value for state in HELD_STATES])


@dataclass(frozen=True, slots=True)
class ItemFilter:
    """What is listed: every word of ``find`` in name, number, serial or place; held things unless a ``state`` says
    otherwise.

    ``identity`` known or unknown: whether it is known which version, or which format, a thing is. ``condition`` "none":
    not said. ``worth`` (money at home): worth that much or more. ``since``: acquired on that day or before.
    ``doubles``: versions of which more than one is held. ``value`` known or unknown: whether it is
    known what it is worth."""

    find: str = ""
    kind: str | None = None
    state: str = "held"
    release: str | None = None
    line: str | None = None
    purchase: int | None = None
    session: int | None = None
    basis: str | None = None
    never_for_sale: bool | None = None
    identity: str | None = None
    condition: str | None = None
    place: str | None = None
    worth: Decimal | None = None
    since: date | None = None
    doubles: bool = False
    value: str | None = None


@dataclass(frozen=True, slots=True)
class ItemPage:
    """A page of items, and whether there are more after it."""

    items: tuple[Item, ...]
    more: bool


def _conditions(wanted: ItemFilter) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = []
    if wanted.state == "held":
        found.append(_HELD)
    elif wanted.state != "all":
        found.append(ItemRow.state == wanted.state)
    for word in wanted.find.lower().split():
        found.append(ItemRow.search_text.contains(word, autoescape=True))
    if wanted.condition is not None:
        is_unsaid = ItemRow.condition.is_(None)
        found.append(is_unsaid if wanted.condition == "none" else ItemRow.condition == wanted.condition)
    if wanted.place is not None:
        found.append(func.lower(ItemRow.place) == wanted.place.strip().lower())
    if wanted.worth is not None:
        found.append(ItemRow.id.in_(select(HeldValueRow.item_id).where(HeldValueRow.amount >= wanted.worth)))
    if wanted.since is not None:
        found.append(ItemRow.acquired_on <= wanted.since)
    if wanted.doubles:
        many = select(ItemRow.version_id).where(_HELD, ItemRow.version_id.is_not(None)).group_by(ItemRow.version_id)
        found.append(ItemRow.version_id.in_(many.having(func.sum(ItemRow.count) > 1)))
    if wanted.kind is not None:
        found.append(ItemRow.kind == wanted.kind)
    if wanted.release is not None:
        found.append(ItemRow.release_id == id_of_release(wanted.release))
    if wanted.line is not None:
        found.append(ItemRow.line_id.in_(ids_of_line(wanted.line)))
    is_known = case((ItemRow.kind == "sealed", ItemRow.format_id.is_not(None)), else_=ItemRow.version_id.is_not(None))
    if wanted.identity is not None:
        is_named = ItemRow.kind.in_((Kind.SEALED.value, Kind.CARD.value, Kind.STACK.value))
        found.append(is_named & (is_known if wanted.identity == "known" else ~is_known))
    if wanted.purchase is not None:
        found.append(ItemRow.purchase_id == wanted.purchase)
    if wanted.session is not None:
        found.append(ItemRow.session_id == wanted.session)
    if wanted.basis == "unknown":
        found.append(ItemRow.basis.is_(None) & ItemRow.owner_id.is_(None))
    elif wanted.basis == "known":
        found.append(ItemRow.basis.is_not(None))
    if wanted.value is not None:
        unvalued = ItemRow.id.in_(select(HeldValueRow.item_id).where(HeldValueRow.amount.is_(None)))
        found.append(ItemRow.owner_id.is_(None) & (unvalued if wanted.value == "unknown" else ~unvalued))
    if wanted.never_for_sale is not None:
        found.append(ItemRow.never_for_sale == wanted.never_for_sale)
    return found


def list_items(session: Session, wanted: ItemFilter, sort: str, descending: bool, start: int, count: int) -> ItemPage:
    """A page of items. Raises InputError for an unknown sort."""
    if sort not in SORTS:
        raise InputError.at("sort", f"must be one of {', '.join(SORTS)}")
    page = select(ItemRow.id).where(*_conditions(wanted))
    column, last = getattr(ItemRow, sort), ItemRow.id
    if sort == "value":  # kept in rows of their own, so that the order comes from an index
        page = page.join(HeldValueRow, HeldValueRow.item_id == ItemRow.id)
        column, last = HeldValueRow.amount, HeldValueRow.item_id
    order = [column.desc() if descending else column.asc(), last.desc() if descending else last.asc()]
    if sort not in _ALWAYS_SAID:  # an index of what is always said knows no last nulls
        order[0] = order[0].nulls_last()
    # Which they are first: what they are called is asked for these alone.
    ids = list(session.scalars(page.order_by(*order).offset(start).limit(count + 1)))
    rows = {row.id: to_item(row) for row in session.scalars(select(ItemRow).where(ItemRow.id.in_(ids[:count])))}
    return ItemPage(tuple(rows[item] for item in ids[:count]), len(ids) > count)


def all_items(session: Session, wanted: ItemFilter) -> list[Item]:
    """Every item that a filter lists, by number."""
    return [
        to_item(row)
        for row in session.scalars(select(ItemRow).where(*_conditions(wanted)).order_by(ItemRow.id))
    ]  # fmt: skip


def numbers_to_offer(session: Session, wanted: ItemFilter, way: str, most: int) -> tuple[list[int], int]:
    """The things of a filter that may be offered by a way of selling and are not yet, the dearest first, at most so
    many; and how many there are in all."""
    may_be = (
        ItemRow.state == State.HELD.value, ItemRow.owner_id.is_(None), ItemRow.never_for_sale.is_(False),
        ItemRow.kind != Kind.SUPPLY.value,
        text("not exists (select from listing_thing t where t.is_open and t.way = :way and t.item_id = item.id)")
        .bindparams(way=way),
    )  # fmt: skip
    found = select(ItemRow.id).where(*_conditions(wanted), *may_be)
    page = found.join(HeldValueRow, HeldValueRow.item_id == ItemRow.id)
    dearest = page.order_by(HeldValueRow.amount.desc().nulls_last(), ItemRow.id).limit(most)
    numbers = list(session.scalars(dearest))
    total = session.scalar(select(func.count()).select_from(found.subquery()))
    return numbers, total or 0


def versions_listed(session: Session, wanted: ItemFilter) -> list[int]:
    """The versions of what a filter lists, each once, by number."""
    query = select(ItemRow.version_id).where(*_conditions(wanted), ItemRow.version_id.is_not(None)).distinct()
    return [version for version in session.scalars(query.order_by(ItemRow.version_id)) if version is not None]


def sum_items(session: Session, wanted: ItemFilter, minor_units: int) -> ItemSums:
    """How many a filter lists, and what those that are one's own cost and are worth together."""
    is_own = ItemRow.owner_id.is_(None)
    sums = (
        select(
            func.count(), func.coalesce(func.sum(ItemRow.count), 0), func.coalesce(func.sum(ItemRow.basis), 0),
            func.count().filter(ItemRow.basis.is_(None), is_own),
            func.coalesce(func.sum(HeldValueRow.amount).filter(is_own), 0),
            func.count().filter(HeldValueRow.amount.is_(None), is_own),
        )
        .select_from(ItemRow)
        .join(HeldValueRow, HeldValueRow.item_id == ItemRow.id)
        .where(*_conditions(wanted))
    )  # fmt: skip
    total, count, basis, unknown, value, unvalued = session.execute(sums).one()
    step = Decimal(1).scaleb(-minor_units)
    return ItemSums(
        total, int(count), Decimal(basis or 0), unknown, Decimal(value or 0).quantize(step, ROUND_HALF_UP), unvalued
    )


@dataclass(frozen=True, slots=True)
class Holding:
    """What is still held of a lot: what it cost and is worth (money), and of how many things that is not known."""

    basis: Decimal = Decimal(0)
    value: Decimal = Decimal(0)
    unknown_basis: int = 0
    unknown_value: int = 0


def held_by(session: Session, origin: str) -> Mapping[int, Holding]:
    """What is still held of each ``origin``: purchase or session, by its number."""
    column = {"purchase": ItemRow.purchase_id, "session": ItemRow.session_id}[origin]
    query = (
        select(
            column, func.sum(ItemRow.basis).filter(_HELD), func.sum(HeldValueRow.amount).filter(_HELD),
            func.count().filter(_HELD & ItemRow.basis.is_(None)),
            func.count().filter(_HELD & HeldValueRow.amount.is_(None)),
        )
        .join(HeldValueRow, HeldValueRow.item_id == ItemRow.id, isouter=True)
        .where(column.is_not(None))
        .group_by(column)
    )  # fmt: skip
    return {
        key or 0: Holding(Decimal(basis or 0), Decimal(value or 0), no_basis, no_value)
        for key, basis, value, no_basis, no_value in session.execute(query)
    }


def rests_on_releases(session: Session) -> Mapping[str, tuple[int, Decimal | None]]:
    """How many things are held of each release, one's own, and what those are worth that a worth is known of (money at
    home; None: of none), by its key."""
    query = (
        select(ItemRow.release, func.sum(ItemRow.count), func.sum(HeldValueRow.amount))
        .join(HeldValueRow, HeldValueRow.item_id == ItemRow.id)
        .where(_HELD, ItemRow.owner_id.is_(None), ItemRow.release_id.is_not(None))
        .group_by(ItemRow.release)
    )
    return {
        release or "": (int(things), None if worth is None else Decimal(worth).quantize(Decimal("0.01"), ROUND_HALF_UP))
        for release, things, worth in session.execute(query)
    }


def held_numbers(session: Session, release: str, line: str) -> set[str]:
    """The numbers of a line's cards of which at least one is held, one's own."""
    query = select(ItemRow.number).where(
        *_conditions(ItemFilter(release=release, line=line)), ItemRow.owner_id.is_(None), ItemRow.number.is_not(None)
    )
    return {number for number in session.scalars(query) if number}


def lines_held(session: Session, release: str, number: str) -> set[str]:
    """The lines of a release in which the card with that number is held, one's own."""
    query = select(ItemRow.line).where(
        *_conditions(ItemFilter(release=release)), ItemRow.owner_id.is_(None), ItemRow.number == number
    )
    return {line for line in session.scalars(query) if line}


def openable_items(session: Session) -> list[Item]:
    """Sealed product of a known format that stands on the desk, the newest first."""
    query = select(ItemRow).where(
        ItemRow.kind == Kind.SEALED.value, ItemRow.state == State.HELD.value, ItemRow.format_id.is_not(None)
    )
    return [to_item(r) for r in session.scalars(query.order_by(ItemRow.acquired_on.desc(), ItemRow.id.desc()))]


def worth_of(session: Session, number: int) -> tuple[Any, str | None]:
    """The day that an item's worth speaks for, and where that comes from."""
    row = session.get(HeldValueRow, number)
    return (None, None) if row is None else (row.day, row.source)


def worths(session: Session, items: Sequence[int]) -> Mapping[int, Decimal | None]:
    """What some items are worth (money at home, None: not known), by their numbers."""
    query = select(HeldValueRow.item_id, HeldValueRow.amount).where(HeldValueRow.item_id.in_(items))
    return dict(session.execute(query).all()) if items else {}


def places(session: Session) -> list[str]:
    """Where things that are held lie, by name."""
    query = select(ItemRow.place).where(_HELD, ItemRow.place.is_not(None)).distinct().order_by(ItemRow.place)
    return [place for place in session.scalars(query) if place]


def list_filters(session: Session) -> Sequence[tuple[str, Mapping[str, Any]]]:
    """Filters that the owner keeps, by name."""
    return [(row.name, row.query) for row in session.scalars(select(SavedFilterRow).order_by(SavedFilterRow.name))]


def keep_filter(session: Session, name: str, query: Mapping[str, Any]) -> None:
    """Keep a filter under a name, in place of one of the same name."""
    row = _filter(session, name) or SavedFilterRow(name=name)
    row.query = dict(query)
    session.add(row)
    session.flush()


def forget_filter(session: Session, name: str) -> None:
    """Forget a filter. Raises Conflict if there is none of that name."""
    row = _filter(session, name)
    if row is None:
        raise Conflict("there is no such filter")
    session.delete(row)
    session.flush()


def _filter(session: Session, name: str) -> SavedFilterRow | None:
    return session.scalar(select(SavedFilterRow).where(SavedFilterRow.name == name))
