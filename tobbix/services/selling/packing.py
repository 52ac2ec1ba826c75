"""How an order's parcel is packed: planned by what is here, ticked off, packed, posted, and arrived (C-31, C-32)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.results import Verdict
from tobbix.core.grading.centering import CARD
from tobbix.core.grading.submissions import PostClass, insurance_gap
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.states import DocumentState, Kind
from tobbix.core.products.describing import CardSize, size_of
from tobbix.core.selling.choosing import best_by_class, keep_to, nearest_misses, state_by_hand, state_packing
from tobbix.core.selling.packing import MailClass, PackedCard, Packing, Parcel, Plan, Size, plan_packing
from tobbix.core.selling.supplies import to_parts
from tobbix.core.selling.tracking import read_tracking
from tobbix.db.base import Session
from tobbix.db.grading.profiles import list_carriers
from tobbix.db.holdings.loading import booked_of, load_document
from tobbix.db.holdings.saving import change_parcel, forget_sending, touch_document
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.describing import Description, load_description
from tobbix.db.products.loading import find_release
from tobbix.db.selling import orders, supplies
from tobbix.db.selling.claims import parcels_by_class
from tobbix.db.selling.orders import OrderLine, StoredOrder
from tobbix.services.buying.booking import ChargeInput, take_back_entry
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling.claims import learnt_loss
from tobbix.services.selling.habits import load_habits
from tobbix.services.selling.orders import send_order
from tobbix.services.selling.supplies import take_from
from tobbix.services.stock.dividing import use_up

_THICK, _GRAMS = Decimal("0.35"), Decimal("1.8")  # a card of usual stock: common practice, no source
_SLAB = (Decimal(84), Decimal(136), Decimal(8))
_SLAB_GRAMS = Decimal(60)
MOST_CARDS = 400


@dataclass(frozen=True, eq=False)
class PackingView:
    """How an order may be packed: the best plan of each class that takes it, why others do not, the one that is
    followed (as it was chosen, or the cheapest). ``missing``: why nothing can be planned; ``by_hand``: it holds what no
    plan knows the size of, and is packed as it needs."""

    order: StoredOrder
    ways: tuple[Plan, ...]
    refused: tuple[tuple[str, str], ...]
    plan: Plan | None
    carrier: str | None
    post: PostClass | None
    parcel: Parcel
    missing: str | None
    by_hand: bool
    verdict: Verdict


def read_packing(catalogue: Catalogue, document: int, way: str | None = None) -> PackingView:
    """How an order is best packed by what is here, or by the class ``way``. Rule C-31. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return _packing(session, catalogue.today(), document, way)


def _packing(session: Session, today: date, document: int, way: str | None) -> PackingView:
    order = orders.find_order(session, document)
    home = load_preferences(session).currency
    stock, used = supplies.stock_of_supplies(session, today)
    stored = supplies.list_supplies(session)
    carriers = [it.profile for it in list_carriers(session)]
    classes = {
        it.name if len(carriers) == 1 else f"{it.name} ({carrier.name})": (carrier.name, it)
        for carrier in carriers
        for it in carrier.classes
        if it.most is not None
    }
    by_hand = _by_hand(order.lines)
    cards = () if by_hand else _cards(session, order.lines)
    each, records = {}, parcels_by_class(session)
    for it in stored:
        own = next((stack.each for stack in stock if stack.name == it.supply.name and stack.each is not None), None)
        each[it.supply.name] = it.supply.cost if own is None else own
    parts = to_parts([(it.supply, each[it.supply.name]) for it in stored], len(cards) == 1)
    parcel = Parcel(
        home, sum((line.home for line in order.lines), Decimal(0)), load_habits(session).tracking_from, cards, *parts,
        tuple(_mail(name, it, learnt_loss(records, name, it.loss)) for name, (_, it) in classes.items()),
        order.reference,
    )  # fmt: skip
    missing = by_hand
    if by_hand is None and not stored:
        missing = "no supplies are described yet: say first what there is to pack with"
    elif by_hand is None and not classes:
        missing = "no carrier says which sizes it takes: describe its classes first"
    there = {name: sum(stack.count for stack in stock if stack.name == name) for name in used}
    found = keep_to(plan_packing(parcel), there) if cards else Packing((), ())
    ways = best_by_class(found)
    chosen = way or (order.post or {}).get("class")
    plan = next((it for it in ways if it.mail_class == chosen), ways[0] if ways else None)
    carrier, post = (None, None) if plan is None else classes[plan.mail_class]
    return PackingView(
        order, ways, nearest_misses(found.refused), plan, carrier, post, parcel, missing,
        by_hand is not None, state_by_hand(parcel) if by_hand else state_packing(parcel, found),
    )  # fmt: skip


def _by_hand(lines: Sequence[OrderLine]) -> str | None:
    """Why no plan can be made of what is sold: it is no card, or too many of them."""
    other = next((line.name for line in lines if line.kind not in (Kind.CARD.value, Kind.STACK.value)), None)
    if other is not None:
        return f"{other} is no card: pack it as it needs"
    if sum(line.count for line in lines) > MOST_CARDS:
        return f"these are more than {MOST_CARDS} cards: pack them as they need"
    return None


def _mail(name: str, it: PostClass, loss: Decimal) -> MailClass:
    return MailClass(
        name, it.price, it.least, it.most or it.least,
        Decimal(1_000_000) if it.most_weight is None else it.most_weight, it.no_rigid, it.tracked,
        it.insured_to or Decimal(0), it.value_limit, loss,
    )  # fmt: skip


def _cards(session: Session, lines: Sequence[OrderLine]) -> tuple[PackedCard, ...]:
    found, known = list[PackedCard](), dict[str, Description]()
    for line in lines:
        if line.is_slab:
            found.append(PackedCard(line.name, _SLAB, _SLAB_GRAMS, slab=True))
            continue
        size, grams = _size_of(session, line, known)
        for at in range(line.count):
            name = line.name if line.count == 1 else f"{line.name} {at + 1}"
            found.append(PackedCard(name, size, grams))
    many: dict[str, int] = {}
    named = []
    for card in found:  # a name that stands there twice is told apart by its place
        many[card.id] = many.get(card.id, 0) + 1
        again = many[card.id]
        named.append(card if again == 1 else PackedCard(f"{card.id} (no. {again})", card.size, card.weight, card.slab))
    return tuple(named)


def _size_of(session: Session, line: OrderLine, known: dict[str, Description]) -> tuple[Size, Decimal]:
    """How large a card is (mm) and what it weighs (g), by its line as far as that says, else as usual cards are; each
    release is asked once."""
    said: CardSize | None = None
    if line.release is not None:
        if line.release not in known:
            known[line.release] = load_description(session, find_release(session, line.release, stub=True))
        said = size_of(line.number or "", dict(known[line.release].sizes).get(line.line or "", ()))
    if said is None:
        return (Decimal(str(CARD[0])), Decimal(str(CARD[1])), _THICK), _GRAMS
    return (said.width, said.height, said.thickness or _THICK), said.weight or _GRAMS


def tick(catalogue: Catalogue, document: int, version: int, ticked: Sequence[str], confirmed: Sequence[int]) -> int:
    """Keep which steps are done and which things were confirmed by a key; the order's version. Raises NotFound,
    Conflict, InputError for a thing that is not in it: the wrong copy."""
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document, version)
        strange = set(confirmed) - {line.item for line in order.lines}
        if strange:
            raise InputError.at("confirmed", "that is not in this order: look at the copy in your hand")
        orders.change_order(session, document, ticked=list(ticked)[:60], confirmed=sorted(set(confirmed)))
        return order.version + 1


def choose_way(catalogue: Catalogue, document: int, version: int, way: str) -> None:
    """Go by another class than the cheapest. Raises NotFound, Conflict, InputError for one that does not take it."""
    with catalogue.database.transaction() as session:
        orders.find_order(session, document, version)
        found = _packing(session, catalogue.today(), document, way)
        if found.plan is None or found.plan.mail_class != way:
            why = dict(found.refused).get(way, "there is no such class")
            raise InputError.at("way", why)
        orders.change_order(session, document, post={"class": way}, ticked=[])


def pack(catalogue: Catalogue, document: int, version: int) -> None:
    """An order is packed by its plan: what that takes of the supplies is used up, salvaged ones first. Raises NotFound,
    Conflict for one that is not to be packed."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document, version)
        if load_document(session, document).state is not DocumentState.PAID or order.packed_on is not None:
            raise Conflict("this order is not to be packed")
        view = _packing(session, today, document, None)
        if view.by_hand:
            orders.change_order(session, document, packed_on=today, post=None)
            return
        if view.plan is None or view.post is None:
            raise Conflict(view.missing or "nothing that is here takes it")
        stock, _ = supplies.stock_of_supplies(session, today)
        use_up(session, document, take_from(stock, view.plan.used), today, order.reference)
        orders.change_order(session, document, packed_on=today, post=_frozen(view, view.plan, view.post))


def _frozen(view: PackingView, plan: Plan, post: PostClass) -> Mapping[str, Any]:
    """What was planned when it was packed, to be posted by and judged by later."""
    return {
        "class": plan.mail_class, "carrier": view.carrier, "price": f"{plan.postage:f}", "outer": plan.outer,
        "holder": plan.holder, "wrap": plan.wrap, "size": [f"{side:f}" for side in plan.size],
        "weight": f"{plan.weight:f}", "packing": f"{plan.packing:f}", "loss": f"{plan.expected_loss:f}",
        "gap": f"{insurance_gap([view.parcel.value], post.insured_to):f}", "tracked": post.tracked, "days": post.days,
        "claim_days": post.claim_days, "steps": list(plan.steps),
    }  # fmt: skip


def unpack(catalogue: Catalogue, document: int) -> None:
    """It is not packed after all: what was used of the supplies is there again. Raises NotFound, Conflict."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document)
        if order.packed_on is None or load_document(session, document).state is not DocumentState.PAID:
            raise Conflict("only what is packed and not posted can be unpacked")
        _put_supplies_back(session, document, today)
        orders.change_order(session, document, packed_on=None, post=None, ticked=[])


def _put_supplies_back(session: Session, document: int, today: date) -> None:
    for it in reversed(booked_of(session, document)):
        if it.event == Event.USE.value and not it.taken_back:
            take_back_entry(session, it.number, today)


@dataclass(frozen=True, slots=True)
class PostedInput:
    """That an order's parcel was posted: when, by which tracking number, and what it cost (None: as planned; 0: no
    stamp of one's own) from which purse."""

    day: date
    tracking: str | None = None
    cost: Decimal | None = None
    purse: str = "bank"


def post(catalogue: Catalogue, document: int, version: int, said: PostedInput) -> None:
    """An order's parcel is posted: its postage is booked. Rule C-32. Raises NotFound, Conflict for one that is not
    packed, InputError."""
    today = catalogue.today()
    if said.day > today:
        raise InputError.at("day", "is after today")
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document, version)
        if order.packed_on is None or load_document(session, document).state is not DocumentState.PAID:
            raise Conflict("pack it first")
        plan = dict(order.post or {})
        tracking = None
        if said.tracking and said.tracking.strip():
            read = read_tracking(said.tracking)
            if read.fault:
                raise InputError.at("tracking", read.fault)
            tracking = read.number
        elif plan.get("tracked"):
            raise InputError.at("tracking", f"{plan['class']} is tracked: type its number")
        if said.cost is None and "price" not in plan:
            raise InputError.at("cost", "say what the post took: it was packed without a plan")
        cost = Decimal(plan["price"]) if said.cost is None else said.cost
        due = None if plan.get("days") is None else said.day + timedelta(plan["days"])
        until = None if plan.get("claim_days") is None else said.day + timedelta(plan["claim_days"])
        home = load_preferences(session).currency
        postage = ChargeInput("shipping", cost, home, said.day, said.purse) if cost > 0 else None
        items = [line.item for line in order.lines]
        send_order(session, document, items, said.day, postage, plan.get("carrier"), tracking, due)
        orders.change_order(
            session, document, post={**plan, "claim_until": None if until is None else until.isoformat()}
        )  # fmt: skip


def arrive(catalogue: Catalogue, document: int, day: date) -> None:
    """The buyer has it and is content: the order is done. Raises NotFound, Conflict, InputError."""
    with catalogue.database.transaction() as session:
        orders.find_order(session, document)
        if day > catalogue.today():
            raise InputError.at("day", "is after today")
        touch_document(session, document, DocumentState.DONE)
        change_parcel(session, document, "out", received_on=day)
        orders.change_order(session, document, complaint=None)


def complain(catalogue: Catalogue, document: int, complaint: str | None) -> None:
    """The buyer complains; or with None it is settled. Raises NotFound, Conflict, InputError."""
    with catalogue.database.transaction() as session:
        orders.find_order(session, document)
        if complaint is not None and not complaint.strip():
            raise InputError.at("complaint", "say what the buyer complains of")
        touch_document(session, document, DocumentState.DISPUTED if complaint else DocumentState.DONE)
        orders.change_order(session, document, complaint=(complaint or "").strip() or None)


def unpost_order(catalogue: Catalogue, document: int) -> None:
    """It was not posted after all: its postage is taken back, and it is packed and waits. Raises NotFound, Conflict."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document)
        if load_document(session, document).state is not DocumentState.SENT:
            raise Conflict("only what was posted, and of which nothing else is known, can be taken back")
        for it in reversed(booked_of(session, document)):
            if it.event == Event.POSTAGE.value and not it.taken_back:
                take_back_entry(session, it.number, today)
        forget_sending(session, document)
        touch_document(session, document, DocumentState.PAID)
        orders.change_order(session, document, post={**(order.post or {}), "claim_until": None})
