"""One scripted year through the services: what later steps need of the register, its documents, and taking back (C-16).

Every act is checked twice: what it books by hand-worked figures, and that stock is the sum of the known bases.
"""

from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal as D
from io import BytesIO

import pytest
from PIL import Image
from sqlalchemy import select

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings.documents import Side
from tobbix.core.holdings.ledger import Account
from tobbix.core.holdings.states import Action, DocumentState, Kind, Purpose
from tobbix.db.base import Database
from tobbix.db.holdings.documents import ParcelItemRow, PredictionRow
from tobbix.db.holdings.loading import (
    account_balances,
    list_photos,
    load_document,
    load_labels,
    off_balance,
    standing_entries,
)
from tobbix.db.holdings.saving import log_minutes, party_named
from tobbix.db.products.identifying import Naming
from tobbix.formats.pictures import read_picture
from tobbix.services.books.taking_back import take_back
from tobbix.services.buying import amending, purchasing
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import PurchaseInput, ThingInput
from tobbix.services.grading.submitting import CameBack, Expected, bill, come_back, crack, make_good, send_away
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import orders
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.trading import settle_claim, trade
from tobbix.services.stock import dividing, items
from tobbix.services.stock.photos import keep_photo, read_photo, take_photo_out
from tobbix.services.stock.taking_in import CardInput, settle_with, take_in

SPRING = TODAY - timedelta(days=200)


def balances(store: Database) -> dict[Account, D]:
    """The books by account, after having seen that they balance and hold what the things cost."""
    with store.transaction() as session:
        assert off_balance(session) == (0, 0)
        found: dict[Account, D] = {}
        for (account, _), amount in account_balances(session).items():
            found[account] = found.get(account, D(0)) + amount
        return {account: amount for account, amount in found.items() if amount}


def paid(amount: str, kind: str = "other", currency: str = "EUR", rate: str | None = None) -> ChargeInput:
    return ChargeInput(kind, D(amount), currency, SPRING, "bank", None if rate is None else D(rate))


def lot(store: Database, *things: ThingInput, price: str = "60.00") -> list[int]:
    said = PurchaseInput("a lot", SPRING, (paid(price, "price"),), things, received_on=SPRING, seller="a family")
    number = purchasing.record_purchase(store, said, f"lot-{price}-{len(things)}", TODAY)
    return [thing.number for thing in purchasing.read_purchase(store, number).things]


def card(name: str, value: str, count: int = 1) -> ThingInput:
    return ThingInput("card" if count == 1 else "stack", name, count, value=D(value))


def state(store: Database, number: int) -> tuple[str, int, D | None]:
    row = items.read_item(store, number).item
    return row.state, row.count, row.basis


def document(store: Database, number: int) -> DocumentState:
    with store.transaction() as session:
        return load_document(session, number).state


def newest(store: Database, number: int) -> int:
    with store.transaction() as session:
        return standing_entries(session, number)[0][0]


def test_a_stack_is_split_sold_and_returned_and_each_step_can_be_taken_back(catalogue: Catalogue) -> None:
    store = catalogue.database
    stack, single = lot(store, card("commons", "30", 10), card("a hit", "30"))
    items.correct_item(store, stack, 1, {"value": D("30.00")}, SPRING)
    three = dividing.split_stack(store, stack, [3], SPRING)[0]
    assert state(store, three) == ("held", 3, D("9.000")) and state(store, stack) == ("held", 7, D("21.000"))
    assert items.read_item(store, three).item.value == D("9.00")  # what was said of all follows too
    order = orders.sell(
        store,
        SaleInput(SPRING, {three: D("12.00"), single: D("40.00")}, "Wren Asquith", shipping=D("3.00"), fees=D("5.50")),
    )
    assert document(store, order) is DocumentState.PAID
    assert balances(store) == {
        Account.STOCK: D("21"), Account.COST_OF_SALES: D("39"), Account.INCOME: D("-55.00"),
        Account.FEES: D("5.50"), Account.CASH: D("-10.50"),
    }  # fmt: skip
    with pytest.raises(Conflict, match="a hit: what is sold cannot be sold"):  # nothing is sold twice
        orders.sell(store, SaleInput(SPRING, {single: D(1)}))
    sleeves = take_in(store, [CardInput("sleeves out of a collection", count=50, kind=Kind.SUPPLY)], SPRING, basis=D(0))
    with store.transaction() as session:
        orders.send_order(session, order, [three, single], SPRING, paid("2.10", "shipping"), "Gannet Post", "GP9")
        dividing.use_up(session, order, [(sleeves[0], 4)], SPRING, "an order")
    assert state(store, sleeves[0]) == ("held", 46, D(0)) and balances(store)[Account.POSTAGE] == D("2.10")
    with store.transaction() as session:
        assert session.scalars(select(ParcelItemRow.item_id).order_by(ParcelItemRow.item_id)).all()[-2:] == [
            single, three,
        ]  # fmt: skip
        log_minutes(session, order, SPRING, D(12), "packing")
    orders.pay_back(store, order, {single: D("40.00")}, paid("40.00"), returned=True)
    assert state(store, single) == ("held", 1, D("30.000")) and document(store, order) is DocumentState.RETURNED
    assert balances(store)[Account.INCOME] == D("-15.00") and balances(store)[Account.COST_OF_SALES] == D("9")
    for wrong, words in (({three: D("4.00")}, "add up to the 5.00"), ({stack: D("5.00")}, "things of this order"),
                         ({three: D("-1"), single: D(6)}, "not be negative")):  # fmt: skip
        with pytest.raises(InputError, match=words):
            orders.pay_back(store, order, wrong, paid("5.00"), returned=False)
    with pytest.raises(InputError, match="things of this order"), store.transaction() as session:
        orders.send_order(session, order, [stack], SPRING, None)

    take_back(catalogue, newest(store, order))  # the buyer keeps it after all
    assert state(store, single)[0] == "sold" and document(store, order) is DocumentState.SENT
    purchase = purchasing.list_purchases(store)[0]
    with pytest.raises(Conflict, match="something came after it: commons: “split: 3 of 10 x commons”; a hit: “sold:"):
        amending.undo_purchase(store, purchase.number, purchase.version, TODAY)
    with store.transaction() as session:
        everything = standing_entries(session, order)
    with pytest.raises(Conflict, match="stays as long as “.*” does, which was booked of it"):
        take_back(catalogue, everything[-1][0])  # the sale not before its postage
    for entry, _ in everything:
        take_back(catalogue, entry)
    assert document(store, order) is DocumentState.UNDONE and balances(store)[Account.STOCK] == D("60")
    dividing.join_stacks(store, [stack, three], TODAY)
    assert state(store, stack) == ("held", 10, D("30.000")) and state(store, three)[0] == "joined"
    assert items.read_item(store, stack).item.value == D("30.00")
    for event in items.read_item(store, stack).history[:0:-1]:  # joined, and before that split
        if event.can_be_taken_back and event.entry is not None:
            take_back(catalogue, event.entry)
    assert (state(store, stack), state(store, three)[0]) == (("held", 10, D("30.000")), "undone")
    assert items.read_item(store, stack).item.value == D("30.00")  # what was said of all counts again
    with pytest.raises(Conflict, match="differ in kind, name"):
        dividing.join_stacks(store, [stack, single], TODAY)


def test_two_owners_cards_are_sent_away_one_is_lost_and_the_claim_is_paid(catalogue: Catalogue) -> None:
    store = catalogue.database
    own = lot(store, card("keeper one", "20"), card("keeper two", "40"))
    take(catalogue, example_1())
    (friends,) = take_in(store, [CardInput("Bram’s", Naming("test", None, "c", "C8"))], SPRING, owner="Bram Tolliver")
    assert (items.read_item(store, friends).item.card, items.read_item(store, friends).item.value) == (
        "C8",
        D("120.00"),
    )
    assert items.sum_items(store, items.ItemFilter()).value == D("60.00")  # nor does it count as one's own
    assert items.sum_items(store, items.ItemFilter()).unknown_basis == 0  # a friend's card is not in the books
    with pytest.raises(Conflict, match="one's own"):
        items.remember_basis(store, friends, 1, D(5), SPRING)
    cards = [*own, friends]
    expected = {own[0]: Expected({"10": 0.4, "9": 0.6}, 45)}
    batch = send_away(store, "Plumbline", cards, SPRING, expected, "Gannet Post")
    assert balances(store)[Account.GRADING] == D("60")
    bill(store, batch, paid("46.00", "service", "USD", "0.90"))  # 41.40 at home: 13.80 a card
    bill(store, batch, paid("7.00", "shipping"), over=[own[0], friends])
    assert balances(store)[Account.RECEIVABLE] == D("17.30") and state(store, own[0])[2] == D("37.300")
    come_back(store, batch, [CameBack(own[0], "9", "PL-1"), CameBack(friends, lost=True)], TODAY)
    assert document(store, batch) is DocumentState.SENT  # one is still away
    come_back(store, batch, [CameBack(own[1], words="signed", condition="MP", naming=Naming("test", None, "a", "A10"))],
              TODAY)  # fmt: skip
    assert document(store, batch) is DocumentState.DONE and state(store, own[1]) == ("held", 1, D("53.800"))
    signed = items.read_item(store, own[1])
    assert (signed.item.condition, signed.item.card) == ("MP", "A10") and "condition: " in signed.history[-1].text
    make_good(store, batch, "Bram Tolliver", D("30.00"), TODAY)
    settle_claim(store, batch, {friends: D("25.00")}, paid("25.00"), "Gannet Post")
    # Bram owes 17.30 and is owed 30.00 that we promised and 25.00 that the carrier paid.
    with pytest.raises(InputError, match="37.70 that is owed"):
        settle_with(store, "Bram Tolliver", paid("40.00"), comes_in=False)
    assert settle_with(store, "Bram Tolliver", paid("37.70"), comes_in=False) == 0
    found = balances(store)
    assert Account.RECEIVABLE not in found and Account.PAYABLE not in found and found[Account.LOST] == D("30.00")

    with pytest.raises(Conflict, match="something was booked of it since"):
        items.bring_back(store, friends, items.read_item(store, friends).item.version, TODAY)
    with store.transaction() as session:
        assert [(label.grade, label.certificate, label.removed) for label in load_labels(session, own[0])] == [
            ("9", "PL-1", False)
        ]
        kept = session.execute(select(PredictionRow.what, PredictionRow.estimate, PredictionRow.chances)).all()
        assert [tuple(row) for row in kept] == [("grade", None, {"9": 0.6, "10": 0.4}), ("days", 45.0, None)]
    crack(store, own[0], TODAY)
    with store.transaction() as session:
        assert load_labels(session, own[0])[0].removed
    again = send_away(store, "Fourfold", [own[0]], TODAY, {})
    come_back(store, again, [CameBack(own[0], "9.5", "FF-7", {"corners": "9.5"})], TODAY)
    take_back(catalogue, newest(store, again))  # it was another card
    with store.transaction() as session:
        assert [label.grade for label in load_labels(session, own[0])] == ["9"]  # what was taken back does not count
    assert state(store, own[0])[0] == "away" and document(store, again) is DocumentState.SENT
    balances(store)


def test_a_trade_with_cash_carries_the_cost_and_gifts_go_to_their_purpose(catalogue: Catalogue) -> None:
    store = catalogue.database
    given = lot(store, card("a spare", "20"), card("another", "40"))
    got = trade(store, [given[0]], [CardInput("a gale", value=D("30.00")), CardInput("a slate", value=D("15.00"))],
                SPRING, "Wren Asquith", paid("4.00"))  # fmt: skip
    assert [state(store, number)[2] for number in got] == [D("16.000"), D("8.000")]
    assert items.read_item(store, got[0]).item.value == D("30.00")
    items.take_out(store, got[1], 1, Action.GIVE_AWAY, TODAY, "to the harbour school", Purpose.DONATION)
    assert balances(store) == {
        Account.STOCK: D("56"), Account.DONATIONS: D("8"), Account.CASH: D("-64.00"),
    }  # fmt: skip
    items.bring_back(store, got[1], 2, TODAY)
    entry = items.read_item(store, got[0]).history[0].entry
    assert entry is not None
    take_back(catalogue, entry)
    assert state(store, given[0]) == ("held", 1, D("20.000")) and state(store, got[0])[0] == "undone"
    with pytest.raises(Conflict, match="taken back already"):
        take_back(catalogue, entry)


def test_what_was_booked_of_a_purchase_is_taken_back_by_itself(catalogue: Catalogue) -> None:
    store = catalogue.database
    said = PurchaseInput("a box", SPRING, (paid("100.00", "price"),), (card("a box", "100"),))
    number = purchasing.record_purchase(store, said, "b", TODAY)

    def found() -> Purchase:
        return purchasing.read_purchase(store, number)

    def last() -> int:
        return next(e.number for e in reversed(found().history) if e.can_be_taken_back)

    purchasing.receive_purchase(store, number, 1, TODAY, purchasing.Inspection(seal=False))
    amending.refund_purchase(store, number, 2, paid("30.00"))
    amending.add_charge(store, number, 3, paid("5.00", "duty"))
    assert found().landed == D("75.000") and found().things[0].basis == D("75.000")
    first = found().history
    with pytest.raises(Conflict, match="“refund: a box”|“duty, later: a box”"):
        take_back(catalogue, next(e.number for e in first if e.event == "receipt"))
    steps: list[Callable[[], object]] = [
        lambda: (found().landed, found().things[0].basis) == (D("70.000"), D("70.000")),
        lambda: (found().landed, found().charges[-1].kind) == (D("100.000"), "price"),
        lambda: (found().state, found().parcel and found().parcel.received_on) == ("ordered", None),
    ]
    for holds in steps:
        take_back(catalogue, last())
        assert holds()
        balances(store)
    amending.undo_purchase(store, number, found().version, TODAY)
    assert found().state == "undone" and not balances(store)
    assert not any(e.can_be_taken_back for e in found().history)


def photo(kind: str = "JPEG", **options: object) -> bytes:
    made = Image.effect_noise((63, 88), 80).convert("RGB")
    out = BytesIO()
    made.save(out, kind, **options)
    return out.getvalue()


def test_a_photo_keeps_its_pixels_and_loses_what_it_says_of_the_place(catalogue: Catalogue) -> None:
    """Outside: Pillow reads the same pixels out of the file that was stripped as out of the one that came."""
    store = catalogue.database
    (item,) = lot(store, card("a card", "20"))
    said = Image.Exif()
    said[0x010E], said[0x8769] = "51.5 N", {0x9003: "2026:01:01 10:00:00"}
    came = photo(dpi=(300, 300), exif=said, comment=b"by Ines", quality=90, progressive=True)
    number = keep_photo(store, item, Side.FRONT, came)
    media, kept = read_photo(store, number)
    with Image.open(BytesIO(came)) as before, Image.open(BytesIO(kept)) as after:
        assert before.tobytes() == after.tobytes() and media == "image/jpeg"
        assert not after.getexif() and "comment" not in after.info and b"51.5" not in kept and b"Ines" not in kept
    with store.transaction() as session:
        (photo_of,) = list_photos(session, item)
    assert (photo_of.width, photo_of.height, photo_of.dpi) == (63, 88, D("300.000"))
    assert max(Image.open(BytesIO(read_photo(store, number, small=True)[1])).size) <= 320
    said[0x0112] = 6  # it lies on its side
    turned = read_picture(photo(exif=said))
    assert (turned.width, turned.height, turned.media) == (88, 63, "image/png")
    for wrong in (b"", b"<svg/>", came[:200], photo("GIF")):
        with pytest.raises(InputError, match="no picture that can be read"):
            read_picture(wrong)
    take_photo_out(store, number)
    with store.transaction() as session:
        assert list_photos(session, item) == []


def test_a_party_has_one_name_and_the_roles_it_comes_to(database: Database) -> None:
    with database.transaction() as session:
        assert party_named(session, "  ", "seller") is None
        first = party_named(session, "Wren Asquith", "seller")
        assert party_named(session, " Wren Asquith", "friend") == first is not None
