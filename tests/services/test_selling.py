"""Selling on the real store: orders packed by what is there, posted, refused, returned, paid out, each step taken back,
with books that balance whatever happens."""

from datetime import timedelta
from decimal import Decimal as D

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import event, text

from tests.conftest import TODAY
from tests.services.test_grading import books
from tobbix.core.base.errors import Conflict, InputError, NotFound, TobbixError
from tobbix.core.holdings.ledger import Account, Event
from tobbix.core.holdings.states import Kind
from tobbix.core.selling.orders import OrderStage
from tobbix.core.selling.supplies import Role, Supply
from tobbix.db.holdings.saving import party_named
from tobbix.gateways.shipped import GANNET
from tobbix.services.books.taking_back import cancel_order, take_back
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading import profiles
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import habits, orders, packing, papers, parcels, payouts, supplies, viewing
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.packing import PostedInput
from tobbix.services.stock.taking_in import CardInput, settle_with, take_in

SPRING = TODAY - timedelta(days=30)


def begin(catalogue: Catalogue, cards: int = 4) -> list[int]:
    """Cards at 5.00 each, the usual supplies with a few of them counted, and a carrier."""
    store = catalogue.database
    numbers = take_in(store, [CardInput(f"card {at}", value=D(8)) for at in range(cards)], SPRING, basis=D(5))
    supplies.begin_with_usual(store)
    if not profiles.list_carriers(store):
        profiles.put_carrier(store, 0, GANNET)
    take_in(store, [CardInput("thick sleeve", count=3, kind=Kind.SUPPLY)], SPRING, basis=D("0.30"))
    take_in(store, [CardInput("slim holder", count=2, kind=Kind.SUPPLY)], SPRING, basis=D(0))
    return numbers


def sold(catalogue: Catalogue, *items: int, price: str = "12.50", **said: object) -> int:
    sale = SaleInput(SPRING, {item: D(price) for item in items}, "Tove Maribel", shipping=D("1.20"), fees=D("2.13"),
                     address="Tove Maribel\nSlip Lane 4\nSaltby", **said)  # type: ignore[arg-type]  # fmt: skip
    return orders.sell(catalogue.database, sale)


def version(catalogue: Catalogue, number: int) -> int:
    return viewing.read_order(catalogue, number).version


def test_an_order_is_packed_by_what_is_here_posted_and_what_it_made_is_exact(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    number = sold(catalogue, cards[0], reference="B-2041")
    with pytest.raises(Conflict, match="B-2041 already"):
        sold(catalogue, cards[1], reference="B-2041")
    plan = packing.read_packing(catalogue, number)
    assert plan.plan is not None and plan.plan.mail_class == "Letter" and plan.carrier == "Gannet Post"
    assert "Send it as Letter" in plan.verdict.text() and "tracked from 40.00" in plan.verdict.text()
    assert dict(plan.plan.used) == {"thick sleeve": 1, "slim holder": 1, "envelope 114 x 162": 1}
    assert [step for step in plan.plan.steps if "B-2041" in step] and plan.plan.packing == D("0.18")  # 0.10, 0, 0.08
    kept = packing.tick(catalogue, number, version(catalogue, number), [plan.plan.steps[0]], [cards[0]])
    with pytest.raises(InputError, match="copy in your hand"):
        packing.tick(catalogue, number, kept, [], [cards[1]])
    with pytest.raises(Conflict, match="pack it first"):
        packing.post(catalogue, number, kept, PostedInput(TODAY))
    packing.pack(catalogue, number, kept)
    with pytest.raises(Conflict, match="changed meanwhile"):
        packing.pack(catalogue, number, kept)
    with pytest.raises(Conflict, match="not to be packed"):
        packing.pack(catalogue, number, version(catalogue, number))
    assert viewing.read_order(catalogue, number).stage is OrderStage.PACKED
    with pytest.raises(InputError, match="check digit should be 9"):
        packing.post(catalogue, number, version(catalogue, number), PostedInput(TODAY, "RR473124828OG"))
    packing.post(catalogue, number, version(catalogue, number), PostedInput(TODAY, "rr 473124829 og"))
    view = viewing.read_order(catalogue, number)
    assert view.stage is OrderStage.SENT and view.parcels[0].tracking == "RR473124829OG"
    result = view.result
    assert (result.brought, result.fees, result.postage, result.supplies, result.cost) == (
        D("13.70"), D("2.13"), D("1.20"), D("0.10"), D("5"),
    )  # fmt: skip
    assert result.profit == D("5.27") and "B-2041 made 5.27" in view.verdict.text()
    (row,) = viewing.list_orders(catalogue, OrderStage.SENT, "tove", 0, 10).rows
    assert row.profit == D("5.27") and row.paid == D("13.70")
    listed = parcels.list_parcels(catalogue)
    assert [(it.text, it.due_on, it.claim_until) for it in listed.rows] == [
        ("B-2041", TODAY + timedelta(3), TODAY + timedelta(60))
    ]
    assert b"Due to its buyer: B-2041" in parcels.write_parcels_calendar(catalogue)
    packing.unpost_order(catalogue, number)
    packing.unpack(catalogue, number)
    again = viewing.read_order(catalogue, number)
    assert again.stage is OrderStage.TO_PACK and again.result.postage == again.result.supplies == 0
    assert {it.stored.supply.name: it.count for it in supplies.list_supplies(catalogue).rows}["thick sleeve"] == 3
    for paper in (papers.write_slip(catalogue, number), papers.write_order_label(catalogue, number),
                  papers.write_labels(catalogue, [number] * 9), papers.write_picking_list(catalogue)):  # fmt: skip
        assert paper.startswith(b"%PDF")


def test_supplies_never_go_below_zero_and_tracking_is_required(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    first, second, third = (sold(catalogue, card) for card in cards[:3])
    for number in (first, second):
        packing.pack(catalogue, number, version(catalogue, number))
    view = packing.read_packing(catalogue, third)  # both slim holders are used
    assert view.plan is not None and view.plan.holder == "deep holder"
    assert "slim holder" in supplies.list_supplies(catalogue).verdict.text()
    dear = sold(catalogue, cards[3], price="90")
    view = packing.read_packing(catalogue, dear)
    assert view.plan is not None and view.plan.mail_class == "Tracked parcel"
    assert dict(view.refused)["Letter"] == "takes values up to 50 only"
    with pytest.raises(InputError, match="takes values up to 50 only"):
        packing.choose_way(catalogue, dear, version(catalogue, dear), "Letter")
    packing.choose_way(catalogue, dear, version(catalogue, dear), "Insured parcel")
    packing.pack(catalogue, dear, version(catalogue, dear))
    with pytest.raises(InputError, match="is tracked: type its number"):
        packing.post(catalogue, dear, version(catalogue, dear), PostedInput(TODAY))
    box = take_in(catalogue.database, [CardInput("a box", kind=Kind.SEALED)], SPRING, basis=D(60))[0]
    large = sold(catalogue, box, price="90")
    assert packing.read_packing(catalogue, large).missing == "a box is no card: pack it as it needs"
    packing.pack(catalogue, large, version(catalogue, large))
    with pytest.raises(InputError, match="say what the post took"):
        packing.post(catalogue, large, version(catalogue, large), PostedInput(TODAY))
    packing.post(catalogue, large, version(catalogue, large), PostedInput(TODAY, cost=D("6.90")))
    habits.save_habits(catalogue.database, habits.PackingHabits(None, ("Ines", "Ottergate"), 0))
    with pytest.raises(InputError, match="needs this"):
        supplies.put_supply(catalogue.database, None, 0, Supply("tube", Role.HOLDER))


def test_a_market_owes_until_it_pays_out_and_a_complaint_ends_in_a_refund(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    number = sold(catalogue, *cards[:2], market="Bellbuoy")
    other = sold(catalogue, cards[2], reference=f"S-{number + 2}")  # the number that the next one would be given
    assert viewing.read_order(catalogue, sold(catalogue, cards[3])).stored.reference == f"S-{other + 1}-2"
    assert viewing.list_orders(catalogue, None, "", 0, 10).owed == (("Bellbuoy", D("24.070")),)
    cash = ChargeInput("other", D("24.07"), "EUR", TODAY, "bank")
    with pytest.raises(InputError, match="not be more than the 24.07"):
        settle_with(catalogue.database, "Bellbuoy", ChargeInput("other", D(25), "EUR", TODAY, "bank"), True, "market")
    assert settle_with(catalogue.database, "Bellbuoy", cash, True, "market") == 0
    packing.pack(catalogue, number, version(catalogue, number))
    packing.post(catalogue, number, version(catalogue, number), PostedInput(TODAY, cost=D(0)))
    packing.complain(catalogue, number, "a corner is bent")
    assert "1 buyer complains" in viewing.list_orders(catalogue, None, "", 0, 10).verdict.text()
    back = ChargeInput("price", D("12.50"), "EUR", TODAY, "bank")
    orders.pay_back(catalogue.database, number, {cards[0]: D("12.50")}, back, returned=True)
    view = viewing.read_order(catalogue, number)
    assert view.stage is OrderStage.RETURNED and view.result.cost == D(5) and view.result.brought == D("13.70")
    returned = next(it.number for it in view.booked if it.event == Event.SALE_RETURN.value)
    take_back(catalogue, returned)
    with catalogue.database.transaction() as session:
        assert party_named(session, "Bellbuoy", "market")
    assert books(catalogue)[Account.COST_OF_SALES] == D(20)  # of all four cards


def test_an_order_is_cancelled_before_it_is_posted_and_leaves_nothing(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    before = books(catalogue)
    number = sold(catalogue, *cards[:2])
    packing.pack(catalogue, number, version(catalogue, number))
    with pytest.raises(Conflict, match="changed meanwhile"):
        cancel_order(catalogue, number, 1)
    cancel_order(catalogue, number, version(catalogue, number))
    assert viewing.read_order(catalogue, number).stage is OrderStage.CANCELLED
    assert books(catalogue) == before
    with pytest.raises(Conflict, match="not posted"):  # sent twice
        cancel_order(catalogue, number, version(catalogue, number))
    again = sold(catalogue, *cards[:2])
    packing.pack(catalogue, again, version(catalogue, again))
    packing.post(catalogue, again, version(catalogue, again), PostedInput(TODAY, cost=D(0)))
    with pytest.raises(Conflict, match="paid back, or returned"):
        cancel_order(catalogue, again, version(catalogue, again))


def test_a_payout_is_set_against_its_orders_and_what_was_kept_beside_is_a_fee(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    with pytest.raises(NotFound, match="ever owed"):  # and nobody of that name is made by asking
        payouts.list_open(catalogue, "Bellbuoy")
    one, two, three = (sold(catalogue, it, market="Bellbuoy") for it in cards[:3])  # 11.57 open each
    found, rest = payouts.list_open(catalogue, "Bellbuoy")
    assert [(it.document, it.amount) for it in found] == [(one, D("11.57")), (two, D("11.57")), (three, D("11.57"))]
    cash = ChargeInput("other", D("22.84"), "EUR", TODAY, "bank")
    with pytest.raises(InputError, match="is 0.30 less than those orders have open"):
        payouts.take_payout(catalogue, "Bellbuoy", cash, [one, two])
    assert payouts.list_open(catalogue, "Bellbuoy") == (found, rest) and rest == 0  # nothing is half done
    assert payouts.take_payout(catalogue, "Bellbuoy", cash, [one, two], as_fee=True) == D("11.57")
    assert [viewing.read_order(catalogue, it).result.fees for it in (one, two, three)] == [
        D("2.28"), D("2.28"), D("2.13"),
    ]  # fmt: skip
    assert [it.document for it in payouts.list_open(catalogue, "Bellbuoy")[0]] == [three]
    with pytest.raises(InputError, match="does not owe any more"):  # sent twice
        payouts.take_payout(catalogue, "Bellbuoy", cash, [one, two], as_fee=True)
    with catalogue.database.transaction() as session:
        entry = session.scalar(text("select max(id) from entry where event = 'settlement'"))
    take_back(catalogue, entry)
    assert [it.amount for it in payouts.list_open(catalogue, "Bellbuoy")[0]] == [D("11.42"), D("11.42"), D("11.57")]
    all_of = ChargeInput("other", D("34.41"), "EUR", TODAY, "bank")
    assert payouts.take_payout(catalogue, "Bellbuoy", all_of, [one, two, three]) == 0
    assert Account.RECEIVABLE not in books(catalogue)


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.tuples(st.integers(0, 8), st.integers(0, 3)), max_size=14))
def test_whatever_happens_to_orders_the_books_balance(catalogue: Catalogue, acts: list[tuple[int, int]]) -> None:
    """Sold, packed, posted, arrived, complained, returned, refunded, taken back, in any order and perhaps twice."""
    cards = begin(catalogue)
    made: list[int] = []
    for act, which in acts:
        number = made[which % len(made)] if made else None
        try:
            if act == 0:
                made.append(sold(catalogue, cards[which]))
            elif number is None:
                continue
            elif act == 1:
                packing.pack(catalogue, number, version(catalogue, number))
            elif act == 2:
                packing.post(catalogue, number, version(catalogue, number), PostedInput(TODAY))
            elif act == 3:
                packing.arrive(catalogue, number, TODAY)
            elif act == 4:
                packing.complain(catalogue, number, "it is late")
            elif act in (5, 6):
                item = viewing.read_order(catalogue, number).stored.lines[0].item
                back = ChargeInput("price", D(3), "EUR", TODAY, "bank")
                orders.pay_back(catalogue.database, number, {item: D(3)}, back, returned=act == 5)
            elif act == 7:
                standing = [it for it in viewing.read_order(catalogue, number).booked if it.can_be_taken_back]
                if standing:
                    take_back(catalogue, standing[-1 - which % len(standing)].number)
            else:
                packing.unpack(catalogue, number)
        except TobbixError:
            pass  # refused, with nothing half done: the books say so
        books(catalogue)
        held = [it.count for it in supplies.list_supplies(catalogue).rows if it.count is not None]
        assert all(count >= 0 for count in held)


def test_the_list_asks_the_same_few_things_however_many_there_are(catalogue: Catalogue) -> None:
    cards = begin(catalogue, 12)
    sold(catalogue, cards[0])
    counted: list[int] = []
    event.listen(catalogue.database.engine, "before_cursor_execute", lambda *_: counted.append(1))
    viewing.list_orders(catalogue, None, "", 0, 50)
    few = len(counted)
    for card in cards[1:]:
        sold(catalogue, card)
    counted.clear()
    assert len(viewing.list_orders(catalogue, None, "", 0, 50).rows) == 12
    assert len(counted) == few <= 8
