"""Results of sales on the real store, a friend's account, purses that are counted, claims, lists for a table (C-16,
C-31, C-32)."""

from datetime import timedelta
from decimal import Decimal as D
from io import BytesIO

import pytest
from openpyxl import load_workbook

from tests.conftest import TODAY
from tests.services.test_grading import begin as begin_grading
from tests.services.test_grading import books
from tests.services.test_listings import FILE, ways
from tests.services.test_selling import begin
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.books.sales import SalesBy
from tobbix.core.holdings.ledger import Account
from tobbix.db.holdings.loading import account_balances
from tobbix.db.selling.claims import parcels_by_class
from tobbix.services.books import books as books_service
from tobbix.services.books import friends, sales
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import (
    claims,
    habits,
    orders,
    packing,
    papers,
    sales_files,
    viewing,
)
from tobbix.services.selling.orders import SaleInput
from tobbix.services.selling.packing import PostedInput
from tobbix.services.selling.sales_files import SalesSaid
from tobbix.services.stock.taking_in import CardInput, settle_with, take_in


def test_sales_come_together_by_anything_to_the_cent_and_leave_as_files(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    ways(catalogue)
    first = orders.sell(
        catalogue.database,
        SaleInput(
            TODAY, {cards[0]: D(12), cards[1]: D(4)}, "Tove Maribel", fees=D("1.61"), shipping=D(2), way="bellbuoy"
        ),
    )
    orders.sell(catalogue.database, SaleInput(TODAY, {cards[2]: D(3)}, way="fair", handed_over=True))
    orders.pay_back(catalogue.database, first, {cards[1]: D(4)}, ChargeInput("price", D(4), "EUR", TODAY, "bank"),
                    returned=True)  # fmt: skip
    sales.spend_minutes(catalogue, first, D(30), "")
    sales_files.take_sales(catalogue, SalesSaid(FILE.format(one=0), "bellbuoy"), [], [5], None)
    found = sales.read_sales(catalogue, SalesBy.WAY, None, None)
    with catalogue.database.transaction() as session:
        booked = {account: amount for (account, _), amount in account_balances(session).items()}
    assert found.total.brought == -booked[Account.INCOME] + D(40) and found.before == 1  # the old sale has no entries
    assert found.total.fees == booked[Account.FEES] + D(4) and found.total.count == 3
    by_way = {it.name: it for it in found.rows}
    assert by_way["Bellbuoy"].profit == D("13.99") - D("1.61") + D("0.01") - D(5) and by_way["Quay Fair"].profit == D(
        -2
    )
    assert by_way["Bellbuoy"].per_hour is not None and by_way["Bellbuoy"].minutes == D(30)
    assert by_way["Bellbuoy"].days == 30 and "nobody remembers" in found.verdict.text()
    (month,) = sales.read_sales(catalogue, SalesBy.MONTH, TODAY.replace(day=1), TODAY).rows
    assert month.count == 2 and month.name == f"{TODAY:%Y-%m}"
    one = sales.read_sales(catalogue, SalesBy.BUYER, None, None, only="Tove Maribel")
    assert [it.name for it in one.things] == ["card 0"]
    text = sales.write_sales(one, as_xlsx=False).decode().splitlines()
    assert text[1].startswith(f"{TODAY},card 0,Bellbuoy,Tove Maribel,") and text[-1].startswith(",all,")
    book = load_workbook(BytesIO(sales.write_sales(one, as_xlsx=True)))
    assert [row[1].value for row in book.active.rows] == ["thing", "card 0", "all"]
    assert b"order" in books_service.export_documents(catalogue.database, as_xlsx=False)
    with pytest.raises(InputError, match="before the first day"):
        sales.read_sales(catalogue, SalesBy.WAY, TODAY, TODAY - timedelta(1))


def test_what_a_friends_card_brings_is_the_friends_and_stands_in_their_account(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    store = catalogue.database
    (theirs, other) = take_in(store, [CardInput("a card of Bram’s"), CardInput("one more")], TODAY, owner="Bram")
    said = SaleInput(TODAY, {cards[0]: D(10), theirs: D(30)}, shipping=D(2), fees=D(4))
    document = orders.sell(store, said)
    view = sales.read_sales(catalogue, SalesBy.WAY, None, None)
    assert sorted((it.name, it.brought, it.profit) for it in view.things) == [
        ("a card of Bram’s", D(0), D(-3)), ("card 0", D(12), D(6)),
    ]  # fmt: skip
    assert view.total.profit == viewing.read_order(catalogue, document).result.profit == D(3)
    found = friends.read_statement(catalogue, "Bram", None, None)
    assert found.verdict.text().startswith("You owe Bram 30.00.") and "1 thing of theirs is" in found.verdict.text()
    assert [(it.item, it.state, it.brought) for it in found.things] == [(other, "held", None), (theirs, "sold", D(30))]
    cash = ChargeInput("other", D(25), "EUR", TODAY, "bank")
    settle_with(store, "Bram", cash, comes_in=False)
    found = friends.read_statement(catalogue, "Bram", TODAY, TODAY)
    assert [(it.change, it.open) for it in found.lines] == [(D(-30), D(-30)), (D(25), D(-5))]
    later = friends.read_statement(catalogue, "Bram", TODAY + timedelta(1), TODAY + timedelta(9))
    assert (later.before, later.lines, later.open) == (D(-5), (), D(-5))
    assert friends.write_table(found, as_xlsx=False).decode().splitlines()[1:] == [
        f"{TODAY},sale: a card of Bram’s,,30.00,-30.00", f"{TODAY},settled with Bram,25.00,,-5.00",
    ]  # fmt: skip
    assert friends.write_table(found, as_xlsx=True)[:2] == b"PK" and friends.write_statement(found)[:4] == b"%PDF"
    with pytest.raises(InputError, match="before the first day"):
        friends.read_statement(catalogue, "Bram", TODAY, TODAY - timedelta(1))
    with pytest.raises(NotFound):
        friends.read_statement(catalogue, "Nobody", None, None)


def test_a_purse_is_counted_and_a_claim_is_filed_paid_and_learnt_from(catalogue: Catalogue) -> None:
    cards = begin(catalogue)
    number = orders.sell(catalogue.database, SaleInput(TODAY, {cards[0]: D(45)}, "Tove Maribel", purse="cash",
                                                       address="Tove"))  # fmt: skip
    assert sales.count(catalogue, "cash", D("44.50")) == D("-0.50")
    assert sales.count(catalogue, "cash", D("44.50")) == 0 and books(catalogue)[Account.LOST] == D("0.50")
    with pytest.raises(InputError, match="no such purse"):
        sales.count(catalogue, "sock", D(1))
    with pytest.raises(Conflict, match="was not posted"):
        claims.read_claim(catalogue, number)
    packing.pack(catalogue, number, viewing.read_order(catalogue, number).version)
    packing.post(catalogue, number, viewing.read_order(catalogue, number).version, PostedInput(TODAY, "GP 77"))
    view = claims.read_claim(catalogue, number)
    with pytest.raises(Conflict, match="who sends it"):
        papers.write_customs_form(catalogue, number)
    habits.save_habits(catalogue.database, habits.PackingHabits(D(40), ("Ines Quillfeather", "Ottergate")))
    assert papers.write_customs_form(catalogue, number).startswith(b"%PDF")
    assert view.most == D(45) and any("slip" in it for it in view.papers)
    with pytest.raises(InputError, match="at most 45.00"):
        claims.file_claim(catalogue, number, 0, D(60), "lost")
    claims.file_claim(catalogue, number, 0, D(45), "it never came")
    with pytest.raises(Conflict, match="changed meanwhile"):
        claims.file_claim(catalogue, number, 0, D(45), "it never came")
    claims.settle_claim(catalogue, number, 1, D(45), "bank")
    with pytest.raises(Conflict, match="paid already"):
        claims.settle_claim(catalogue, number, 2, D(45), "bank")
    assert viewing.read_order(catalogue, number).result.brought == D(90)
    packing.arrive(catalogue, number, TODAY)
    (record,) = claims.class_records(catalogue)
    assert (record.parcels, record.claims, record.late) == (1, 1, 0) and record.low > 0
    with catalogue.database.transaction() as session:
        records = parcels_by_class(session)
    assert claims.learnt_loss(records, record.name, D("0.012")) == D("0.016915")  # (2.4 + 1) / 201
    assert claims.learnt_loss(records, "none of it", D("0.012")) == D("0.012")
    books(catalogue)


def test_a_price_list_is_made_for_the_table_and_one_for_its_owner(catalogue: Catalogue) -> None:
    _, cards = begin_grading(catalogue)
    table, own = (papers.write_price_list(catalogue, cards, for_owner) for for_owner in (False, True))
    assert table.startswith(b"%PDF") and own.startswith(b"%PDF") and len(own) > len(table)
    with pytest.raises(NotFound):
        papers.write_price_list(catalogue, [999_999], for_owner=False)
