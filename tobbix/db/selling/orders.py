"""Orders: kept, listed by how far they are, and what stands booked of each."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from itertools import count
from typing import Any

from sqlalchemy import func, select, text

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import DocumentState, State
from tobbix.core.selling.orders import OrderStage, OrderWaiting, ParcelOnItsWay, stage_of
from tobbix.db.base import Session
from tobbix.db.holdings.tables import EntryRow, PostingRow
from tobbix.db.selling.tables import OrderLineRow, OrderRow


@dataclass(frozen=True, slots=True)
class OrderLine:
    """A thing of an order: its name, the keys of its release and line, its number, place, state, count, condition and
    whether it is one's own; ``basis`` what it cost (None: nobody remembers); what was paid for it (of the order's
    currency) and its part of what came in (money at home), and the newest label that it carries."""

    item: int
    name: str
    kind: str
    count: int
    release: str | None
    line: str | None
    number: str | None
    place: str | None
    condition: str | None
    state: State
    is_own: bool
    basis: Decimal | None
    price: Decimal
    home: Decimal
    label: str | None
    is_slab: bool


@dataclass(frozen=True, slots=True)
class StoredOrder:
    """An order beside its document."""

    document: int
    version: int
    reference: str
    way: str | None
    address: str
    shipping: Decimal
    currency: str
    post: Mapping[str, Any] | None
    ticked: tuple[str, ...]
    confirmed: tuple[int, ...]
    packed_on: date | None
    complaint: str | None
    lines: tuple[OrderLine, ...]


def add_order(session: Session, document: int, reference: str | None, currency: str, **said: Any) -> None:
    """An order for a document, under a ``reference`` of its own or one that is made (None); ``said``: way, address,
    shipping. Raises Conflict for a reference that is taken."""

    def is_taken(name: str) -> bool:
        return session.scalar(select(OrderRow.document_id).where(OrderRow.reference == name)) is not None

    if reference is not None and is_taken(reference):
        raise Conflict(f"there is an order {reference} already")
    if reference is None:  # somebody may have given another order that number
        made = (f"S-{document}{'' if at == 1 else f'-{at}'}" for at in count(1))
        reference = next(name for name in made if not is_taken(name))
    session.add(
        OrderRow(
            document_id=document, version=1, reference=reference, currency=currency, ticked=[], confirmed=[], **said
        )
    )
    session.flush()


def add_lines(session: Session, document: int, lines: Sequence[tuple[int, Decimal, Decimal]]) -> None:
    """What was paid for each thing: its number, price, and its part at home."""
    session.add_all(
        OrderLineRow(document_id=document, item_id=item, position=at, price=price, home=home)
        for at, (item, price, home) in enumerate(lines)
    )
    session.flush()


_LINES = """
    select l.item_id, i.name, i.kind, i.count, r.key, n.key, c.number, i.place, i.condition, i.state,
        i.owner_id is null, i.basis, l.price, l.home, b.label, b.label is not null
    from sale_line l join item i on i.id = l.item_id left join version v on v.id = i.version_id
        left join release r on r.id = i.release_id left join line n on n.id = i.line_id
        left join card c on c.id = v.card_id
        left join lateral (select p.name || ' ' || b.grade as label from label b join party p on p.id = b.grader_id
            join entry e on e.id = b.entry_id
            where b.item_id = i.id and not exists (select from entry x where x.reverses_id = e.id)
                and (b.removed_by_id is null or exists (select from entry r where r.reverses_id = b.removed_by_id))
            order by b.id desc limit 1) b on true
    where l.document_id = :document order by l.position
"""


def find_order(session: Session, document: int, version: int | None = None) -> StoredOrder:
    """An order with its things. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.get(OrderRow, document, with_for_update=version is not None)
    if row is None:
        raise NotFound("there is no such order")
    if version is not None and row.version != version:
        raise Conflict("this order was changed meanwhile; look again, then retry")
    rows = session.execute(text(_LINES), {"document": document})
    lines = tuple(OrderLine(*[*row[:9], State(row[9]), *row[10:]]) for row in rows)
    return StoredOrder(
        row.document_id, row.version, row.reference, row.way, row.address, row.shipping, row.currency, row.post,
        tuple(row.ticked), tuple(row.confirmed), row.packed_on, row.complaint, lines,
    )  # fmt: skip


def change_order(session: Session, document: int, **said: Any) -> None:
    """Change what is said of an order, which is another version then."""
    row = session.get_one(OrderRow, document)
    for name, value in said.items():
        setattr(row, name, value)
    row.version += 1
    session.flush()


def is_order(session: Session, document: int) -> bool:
    """Whether a document is an order that is kept here."""
    return session.get(OrderRow, document) is not None


@dataclass(frozen=True, slots=True)
class OrderBrief:
    """An order in brief: who bought by which way, how many things for how much (of ``currency``), when it was packed
    and sent, is due or arrived, and what it made (money at home; None: not known)."""

    document: int
    reference: str
    day: date
    stage: OrderStage
    buyer: str | None
    way: str | None
    things: int
    names: str
    paid: Decimal
    currency: str
    sent_on: date | None
    due_on: date | None
    received_on: date | None
    tracking: str | None
    complaint: str | None
    profit: Decimal | None


_STAGES = {
    OrderStage.TO_PACK: "d.state = 'paid' and o.packed_on is null",
    OrderStage.PACKED: "d.state = 'paid' and o.packed_on is not null",
    OrderStage.SENT: "d.state = 'sent'",
    OrderStage.COMPLAINED: "d.state = 'disputed'",
    OrderStage.DONE: "d.state = 'done'",
    OrderStage.RETURNED: "d.state = 'returned'",
    OrderStage.CANCELLED: "d.state = 'undone'",
}
_PAGE = """
    with page as (
        select d.id, d.day, d.state, d.party_id from sale_order o join document d on d.id = o.document_id
        where {stage} and (:find = '' or o.reference ilike :like or exists (select from party f where f.id = d.party_id
            and f.name ilike :like) or d.text ilike :like)
        order by d.id desc offset :start limit :count
    )
    select d.id, o.reference, d.day, d.state, o.packed_on is not null, p.name, o.way, l.things, l.names,
        l.paid + o.shipping, o.currency, r.sent_on, r.due_on, r.received_on, r.tracking, o.complaint,
        case when l.known then l.made end
    from page d join sale_order o on o.document_id = d.id left join party p on p.id = d.party_id
        left join lateral (select count(*) as things, string_agg(i.name, ', ' order by x.position) as names,
            sum(x.price) as paid, bool_and(i.basis is not null or i.owner_id is not null) as known,
            (select -coalesce(sum(g.amount), 0) from posting g join entry e on e.id = g.entry_id
                where e.document_id = d.id and g.account = any(:accounts)) as made
            from sale_line x join item i on i.id = x.item_id where x.document_id = d.id) l on true
        left join lateral (select sent_on, due_on, received_on, tracking from parcel
            where document_id = d.id and direction = 'out' order by id desc limit 1) r on true
    order by d.id desc
"""
MADE = (Account.INCOME, Account.FEES, Account.POSTAGE, Account.SUPPLIES_USED, Account.COST_OF_SALES)


def list_orders(session: Session, stage: OrderStage | None, find: str, start: int, most: int) -> list[OrderBrief]:
    """A page of orders, the newest first: of a ``stage`` or all, with words in reference, buyer or what was sold."""
    escaped = find.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    query = text(_PAGE.format(stage="true" if stage is None else _STAGES[stage]))
    rows = session.execute(
        query,
        {"find": find, "like": f"%{escaped}%", "start": start, "count": most,
         "accounts": [account.value for account in MADE]},
    )  # fmt: skip
    return [
        OrderBrief(number, reference, day, stage_of(DocumentState(state), packed), *more)
        for number, reference, day, state, packed, *more in rows
    ]


def count_stages(session: Session) -> dict[OrderStage, int]:
    """How many orders are how far."""
    rows = session.execute(text(
        "select d.state, o.packed_on is not null, count(*) from sale_order o join document d on d.id = o.document_id "
        "group by 1, 2"
    ))  # fmt: skip
    found = dict.fromkeys(OrderStage, 0)
    for state, packed, many in rows:
        found[stage_of(DocumentState(state), packed)] += many
    return found


def late_orders(session: Session, today: date, most: int = 5) -> list[str]:
    """References of orders whose parcel is due and not there, the longest first."""
    rows = session.execute(
        text(
            "select o.reference from sale_order o join document d on d.id = o.document_id "
            "join parcel r on r.document_id = d.id and r.direction = 'out' "
            "where d.state = 'sent' and r.received_on is null and r.due_on < :today order by r.due_on limit :most"
        ),
        {"today": today, "most": most},
    )
    return [reference for (reference,) in rows]


def waiting_orders(session: Session) -> list[OrderWaiting]:
    """Orders that are to be packed, posted or answered."""
    rows = session.execute(text(
        "select d.id, o.reference, d.state, o.packed_on is not null, d.day, p.name, o.complaint, "
        "(select coalesce(sum(l.home), 0) from sale_line l where l.document_id = d.id) "
        "from document d join sale_order o on o.document_id = d.id left join party p on p.id = d.party_id "
        "where d.kind = 'order' and d.state in ('paid', 'disputed') order by d.id"
    ))  # fmt: skip
    return [
        OrderWaiting(number, reference, stage_of(DocumentState(state), packed), *more)
        for number, reference, state, packed, *more in rows
    ]


def booked_of_order(session: Session, document: int) -> dict[Account, Decimal]:
    """What a document booked on each account, what was taken back having no part in it (money, debit positive)."""
    query = (
        select(PostingRow.account, func.sum(PostingRow.amount))
        .join(EntryRow, EntryRow.id == PostingRow.entry_id)
        .where(EntryRow.document_id == document)
        .group_by(PostingRow.account)
    )
    return {Account(account): Decimal(amount) for account, amount in session.execute(query)}


def owed_by_markets(session: Session) -> list[tuple[str, Decimal]]:
    """What each market still owes (money at home), by name."""
    rows = session.execute(text(
        "select p.name, sum(g.amount) from posting g join party p on p.id = g.party_id "
        "where g.account = 'receivable' and 'market' = any(p.roles) group by p.name having sum(g.amount) <> 0 "
        "order by p.name"
    ))  # fmt: skip
    return [(name, Decimal(owed)) for name, owed in rows]


_PARCELS = """
    select r.document_id, d.kind, d.text, r.direction, (select count(*) from parcel_item i where i.parcel_id = r.id),
        p.name, r.tracking, r.sent_on, r.due_on, r.received_on, o.reference, o.post
    from parcel r join document d on d.id = r.document_id left join party p on p.id = r.carrier_id
        left join sale_order o on o.document_id = d.id
    where d.state <> 'undone' and case when r.received_on is null then d.state not in ('done', 'returned')
        else r.received_on > cast(:since as date) end
    order by r.received_on is not null, coalesce(r.due_on, r.sent_on, d.day), r.id limit :most
"""


def list_parcels(session: Session, since: date, most: int) -> list[ParcelOnItsWay]:
    """Parcels on their way both ways, the first due first, and those that arrived after a day."""
    found = []
    rows = session.execute(text(_PARCELS), {"since": since, "most": most})
    for number, kind, words, direction, things, carrier, tracking, sent, due, received, reference, post in rows:
        until = (post or {}).get("claim_until")
        found.append(ParcelOnItsWay(
            number, kind, reference or words, direction, things, carrier, tracking, sent, due, received,
            None if until is None else date.fromisoformat(until),
        ))  # fmt: skip
    return found
