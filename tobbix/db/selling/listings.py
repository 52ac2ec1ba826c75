"""Listings: what is known of things that are offered, what is offered where, and offers for it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from sqlalchemy import ARRAY, BigInteger, bindparam, delete, func, select, text, update
from sqlalchemy.exc import IntegrityError

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.states import State
from tobbix.core.selling.listings import ListedSum, ListingKind, ListingState, ThingShown
from tobbix.db.base import Session
from tobbix.db.selling.tables import ListingOfferRow, ListingRow, ListingThingRow

OFFERED = 60  # days after which a price is old


@dataclass(frozen=True, slots=True)
class ThingOffered:
    """A thing that may be offered: what is shown of it, its version, condition, state and place, the photos of it
    (front, back, details, the newest of each first), what it cost (money at home, None: nobody remembers), whose it is
    (None: one's own), whether it is never for sale."""

    item: int
    shown: ThingShown
    version: int | None
    state: State
    place: str | None
    photos: tuple[int, ...]
    basis: Decimal | None
    owner: int | None
    keeps: bool

    @property
    def values_as(self) -> str | None:
        """The state that it is valued in: its grade with its grader, else its condition."""
        grader, _, grade = self.shown.grade.rpartition(" ")
        return f"{grader}:{grade}" if grade else self.shown.condition or None


_THINGS = """
    select i.id, i.name, i.count, r.year, concat_ws(' ', r.name, r.series), n.name, c.number, c.subject, v.variant,
        i.serial, i.condition, i.packs_gone, i.version_id, i.state, i.place, i.basis, i.owner_id, i.never_for_sale,
        array(select p.id from photo p where p.item_id = i.id
            order by array_position(array['front', 'back', 'detail'], p.side::text), p.id desc),
        (select p.name || ' ' || b.grade from label b join party p on p.id = b.grader_id
            where b.item_id = i.id and not exists (select from entry x where x.reverses_id = b.entry_id)
                and (b.removed_by_id is null or exists (select from entry x where x.reverses_id = b.removed_by_id))
            order by b.id desc limit 1),
        array(select p.name || ' ' || b.grade from label b join party p on p.id = b.grader_id
            where b.item_id = i.id and not exists (select from entry x where x.reverses_id = b.entry_id)
                and b.removed_by_id is not null
                and not exists (select from entry x where x.reverses_id = b.removed_by_id) order by b.id),
        array(select substr(e.text, length(:cleaned) + 1) from item_event e
            where e.item_id = i.id and e.text like :cleaned || '%' order by e.id),
        array(select distinct f.size || ' ' || f.kind || ' on the ' || f.side from flaw f where f.item_id = i.id)
    from item i left join version v on v.id = i.version_id left join release r on r.id = i.release_id
        left join line n on n.id = i.line_id left join card c on c.id = v.card_id
    where i.id = any(:items)
"""


def things_offered(session: Session, items: Sequence[int], cleaned: str) -> list[ThingOffered]:
    """What is known of some things, in their order; ``cleaned`` begins what a history says of a cleaning. Raises
    NotFound."""
    found = {}
    for row in session.execute(text(_THINGS), {"items": list(items), "cleaned": cleaned}):
        shown = ThingShown(
            row[1], row[2], row[3], row[4] or "", row[5] or "", row[6] or "", row[7] or "", row[8] or "", row[9] or "",
            row[10] or "", row[19] or "", tuple(row[21]), tuple(row[20]), row[11], tuple(sorted(row[22])),
        )  # fmt: skip
        found[row[0]] = ThingOffered(
            row[0], shown, row[12], State(row[13]), row[14], tuple(row[18]), row[15], row[16], row[17]
        )  # fmt: skip
    missing = [item for item in items if item not in found]
    if missing:
        raise NotFound(f"there is no thing {missing[0]}")
    return [found[item] for item in items]


@dataclass(frozen=True, slots=True)
class StoredOffer:
    """An offer for a listing (money of its currency)."""

    number: int
    day: date
    buyer: str | None
    amount: Decimal
    answer: str
    countered: Decimal | None


@dataclass(frozen=True, slots=True)
class StoredListing:
    """A listing with its things (number and name) and offers, the newest first; ``photos`` that go with it in their
    order (None: all of its things). Money of its currency."""

    number: int
    version: int
    way: str
    kind: ListingKind
    state: ListingState
    title: str
    words: str
    price: Decimal
    currency: str
    lowest: Decimal | None
    expected: Mapping[str, Any] | None
    made_on: date
    listed_on: date | None
    ends_on: date | None
    priced_on: date
    ended_on: date | None
    reference: str | None
    document: int | None
    heard: tuple[str, ...]
    photos: tuple[int, ...] | None
    things: tuple[tuple[int, str], ...]
    offers: tuple[StoredOffer, ...]

    def is_old(self, today: date) -> bool:
        return self.state is ListingState.LISTED and (today - self.priced_on).days > OFFERED


def add_listing(session: Session, items: Sequence[int], way: str, **said: Any) -> int:
    """A drafted listing of some things. Raises Conflict where one is in a listing of that way already."""
    row = ListingRow(version=1, way=way, state=ListingState.DRAFTED.value, heard=[], **said)
    session.add(row)
    session.flush()
    _put_things(session, row.id, way, items)
    return row.id


def _put_things(session: Session, listing: int, way: str, items: Sequence[int]) -> None:
    taken = session.execute(
        text("select i.name from listing_thing t join item i on i.id = t.item_id "
             "where t.is_open and t.way = :way and t.item_id = any(:items) limit 1"),
        {"way": way, "items": list(items)},
    ).scalar()  # fmt: skip
    if taken is not None:
        raise Conflict(f"{taken} is offered there already: change that listing, or end it")
    try:
        with session.begin_nested():
            session.add_all(
                ListingThingRow(listing_id=listing, item_id=item, way=way, position=at, is_open=True)
                for at, item in enumerate(items)
            )
            session.flush()
    except IntegrityError as error:  # two at once
        raise Conflict("one of these is offered there already") from error


_LIST = """
    select l.id, l.version, l.way, l.kind, l.state, l.title, l.words, l.price, l.currency, l.lowest, l.expected,
        l.made_on, l.listed_on, l.ends_on, l.priced_on, l.ended_on, l.reference, l.document_id, l.heard, l.photos,
        (select json_agg(json_build_array(i.id, i.name) order by t.position)
            from listing_thing t join item i on i.id = t.item_id where t.listing_id = l.id) as things,
        (select json_agg(json_build_array(o.id, o.day, o.buyer, o.amount::text, o.answer, o.countered::text)
            order by o.id desc) from listing_offer o where o.listing_id = l.id) as offers
    from listing l
"""


def _to_listing(row: Any) -> StoredListing:
    things = tuple((item, name) for item, name in row.things or ())
    offers = tuple(
        StoredOffer(number, date.fromisoformat(day), buyer, Decimal(amount), answer,
                    None if countered is None else Decimal(countered))
        for number, day, buyer, amount, answer, countered in row.offers or ()
    )  # fmt: skip
    kind, state = ListingKind(row.kind), ListingState(row.state)
    photos = None if row.photos is None else tuple(row.photos)
    return StoredListing(
        *[row.id, row.version, row.way, kind, state, *row[5:18], tuple(row.heard), photos, things, offers]
    )


def find_listing(session: Session, number: int, version: int | None = None) -> StoredListing:
    """A listing. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.execute(text(f"{_LIST} where l.id = :number"), {"number": number}).one_or_none()
    if row is None:
        raise NotFound("there is no such listing")
    if version is not None:
        session.get_one(ListingRow, number, with_for_update=True, populate_existing=True)
        row = session.execute(text(f"{_LIST} where l.id = :number"), {"number": number}).one()
        if row.version != version:
            raise Conflict("this listing was changed meanwhile; look again, then retry")
    return _to_listing(row)


def find_listings(session: Session, numbers: Sequence[int]) -> list[StoredListing]:
    """Some listings, in the order of their numbers. Raises NotFound."""
    where = "where l.id = any(:numbers) order by l.id"
    found = [_to_listing(row) for row in session.execute(text(f"{_LIST} {where}"), {"numbers": list(numbers)})]
    if len(found) < len(set(numbers)):
        raise NotFound("there is no such listing")
    return found


def listed_at(session: Session, way: str, since: date) -> list[StoredListing]:
    """What is out by a way of selling under the market's own number, or was sold there since a day."""
    where = (
        "where l.way = :way and l.reference is not null "
        "and (l.state = 'listed' or (l.state = 'sold' and l.ended_on >= :since)) order by l.id"
    )
    return [_to_listing(row) for row in session.execute(text(f"{_LIST} {where}"), {"way": way, "since": since})]


def open_of_way(session: Session, way: str, numbers: Sequence[int]) -> list[StoredListing]:
    """The open listings of a way of selling, the newest first; of ``numbers`` alone where some are named."""
    is_asked = "(cardinality(:numbers) = 0 or l.id = any(:numbers))"
    where = f"where l.state in ('drafted', 'listed') and l.way = :way and {is_asked}"
    said = {"way": way, "numbers": list(numbers)}
    query = text(f"{_LIST} {where} order by l.id desc").bindparams(bindparam("numbers", type_=ARRAY(BigInteger)))
    return [_to_listing(row) for row in session.execute(query, said)]


def list_listings(
    session: Session, states: Sequence[ListingState], find: str, start: int, most: int
) -> list[StoredListing]:
    """Listings in some states that are called or hold something like ``find``, the newest first."""
    where = "where l.state = any(:states) and (:find = '' or l.title ilike :like or l.reference ilike :like)"
    rows = session.execute(
        text(f"{_LIST} {where} order by l.id desc limit :most offset :start"),
        {"states": [it.value for it in states], "find": find, "like": f"%{_escaped(find)}%", "most": most,
         "start": start},
    )  # fmt: skip
    return [_to_listing(row) for row in rows]


def _escaped(find: str) -> str:
    return find.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def listings_of(session: Session, items: Sequence[int]) -> list[StoredListing]:
    """The open listings that hold one of some things."""
    where = (
        "where l.id in (select t.listing_id from listing_thing t where t.is_open and t.item_id = any(:items)) "
        "order by l.id for update of l"
    )
    return [_to_listing(row) for row in session.execute(text(f"{_LIST} {where}"), {"items": list(items)})]


def offered_already(session: Session, items: Sequence[int], way: str) -> set[int]:
    """Which of some things are in an open listing of a way."""
    of_way = select(ListingThingRow.item_id).where(ListingThingRow.is_open, ListingThingRow.way == way)
    return set(session.scalars(of_way.where(ListingThingRow.item_id.in_(items))))


def still_out(session: Session) -> list[StoredListing]:
    """Listings that ended here and are out at a market still, as far as anybody knows."""
    where = "where l.state = 'ended' and l.reference is not null and not l.heard ?| array['withdrawn', 'ended']"
    return [_to_listing(row) for row in session.execute(text(f"{_LIST} {where} order by l.id"))]


def count_listings(session: Session) -> dict[ListingState, int]:
    """How many listings are how far."""
    rows = session.execute(select(ListingRow.state, func.count()).group_by(ListingRow.state))
    counted = {state: int(count) for state, count in rows}
    return {state: counted.get(state.value, 0) for state in ListingState}


def change_listing(session: Session, number: int, **said: Any) -> None:
    """Change what is said of a listing, which is another version then; one that is sold or ended lets its things go."""
    row = session.get_one(ListingRow, number)
    for name, value in said.items():
        setattr(row, name, value)
    row.version += 1
    session.flush()
    if "state" in said and said["state"] in (ListingState.SOLD.value, ListingState.ENDED.value):
        let_go = update(ListingThingRow).where(ListingThingRow.listing_id == number).values(is_open=False)
        session.execute(let_go)


def reopen(session: Session, number: int) -> None:
    """An ended listing is a draft again. Raises Conflict where one of its things is offered there meanwhile."""
    row = session.get_one(ListingRow, number)
    things = select(ListingThingRow.item_id).where(ListingThingRow.listing_id == number)
    items = list(session.scalars(things.order_by(ListingThingRow.position)))
    session.execute(delete(ListingThingRow).where(ListingThingRow.listing_id == number))
    _put_things(session, number, row.way, items)
    row.state, row.ended_on, row.listed_on, row.reference, row.document_id = "drafted", None, None, None, None
    row.heard = []
    row.version += 1
    session.flush()


def add_offer(session: Session, listing: int, day: date, buyer: str | None, amount: Decimal) -> int:
    """Somebody offers for a listing."""
    row = ListingOfferRow(listing_id=listing, day=day, buyer=buyer, amount=amount, answer="open")
    session.add(row)
    session.flush()
    return row.id


def find_offer(session: Session, number: int) -> StoredListing:
    """The listing that an offer is for. Raises NotFound."""
    row = session.get(ListingOfferRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such offer")
    return find_listing(session, row.listing_id)


def answer_offer(session: Session, number: int, answer: str, countered: Decimal | None) -> int:
    """What was answered to an offer that was open; its listing. Raises NotFound, Conflict."""
    row = session.get(ListingOfferRow, number, with_for_update=True)
    if row is None:
        raise NotFound("there is no such offer")
    if row.answer != "open":
        raise Conflict("this offer was answered already")
    row.answer, row.countered = answer, countered
    session.flush()
    return row.listing_id


_SUM = """
    select count(*), coalesce(sum(l.price), 0), count(*) filter (where l.priced_on < :old),
        coalesce(array_agg(l.title order by l.ends_on, l.id) filter (where l.ends_on between :today and :soon),
            array[]::varchar[]),
        (select count(*) from listing_offer o join listing x on x.id = o.listing_id
            where o.answer = 'open' and x.state = 'listed'),
        (select count(*) from listing x where x.state = 'ended' and x.reference is not null
            and not x.heard ?| array['withdrawn', 'ended'])
    from listing l where l.state = 'listed'
"""


def sum_listed(session: Session, today: date) -> ListedSum:
    """What is out, with what wants an answer."""
    days = {"old": today - timedelta(OFFERED), "today": today, "soon": today + timedelta(7)}
    listed, asked, old, closing, offers, out = session.execute(text(_SUM), days).one()
    return ListedSum(listed, asked, old, tuple(closing), offers, out)
