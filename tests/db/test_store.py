"""The store: its shape is what the code says, sheets come back as they went in, and impossible rows are refused."""

from datetime import date

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from tests.sheets import example_1
from tobbix.core.holdings.ledger import Entry, Event
from tobbix.core.holdings.states import DocumentKind
from tobbix.core.products.price_book import with_prices
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.sheet import ProductSheet
from tobbix.db.base import Database
from tobbix.db.holdings.saving import add_document, add_entry
from tobbix.db.migrating import differences
from tobbix.db.products.finding import find_cards
from tobbix.db.products.loading import find_release, load_structure
from tobbix.db.products.planning import list_wanted, put_wanted
from tobbix.db.products.saving import save_sheet, save_structure
from tobbix.db.products.tables import LineRow, ReleaseRow, SubjectRow, ValueRow, VersionRow
from tobbix.db.products.values import load_book, take_back_values
from tobbix.demo.releases import demo_sheets


def test_the_migrations_lead_to_the_tables_of_the_code(database_url: str) -> None:
    store = Database(database_url)
    assert differences(store.engine) == []
    store.engine.dispose()


def stored(session: Session, release: ReleaseRow) -> ProductSheet:
    """A sheet as it comes out of the store with its own prices."""
    return with_prices(load_structure(session, release), load_book(session, release, "NM"), release.currency or "")


def test_every_demo_sheet_comes_back_as_it_went_in(database: Database) -> None:
    for made in demo_sheets():
        with database.transaction() as session:
            save_sheet(session, made, "NM")
        with database.transaction() as session:
            assert stored(session, find_release(session, made.id)) == made


def test_a_version_outlives_every_replacement_with_all_that_hangs_on_it(database: Database) -> None:
    """Also where a line takes another checklist: a version is its line's, number's and variant's."""
    first, made = example_1(), example_1()
    del made["lines"][2]
    made["lines"][1]["cards"][0]["price"] = "3"
    made["lines"][1]["cards"].append({"number": "new", "subject": "New / Subject A10", "price": "1"})
    del made["lines"][2]["cards"]  # now a parallel of another line
    made["lines"][2] |= {"cards_of": "a", "price_multiple": "2"}
    with database.transaction() as session:
        release, _ = save_sheet(session, read_sheet(first).sheet, "NM")
        before = {row.id: row.position for row in session.scalars(select(VersionRow))}
        lost = session.scalars(select(VersionRow.id).join(LineRow, LineRow.id == VersionRow.line_id)
                               .where(LineRow.key == "b")).first()  # fmt: skip
        assert lost is not None
        put_wanted(session, lost, True)
    with database.transaction() as session:
        _, ids = save_sheet(session, read_sheet(made).sheet, "NM")
        after = {row.id: row for row in session.scalars(select(VersionRow))}
        second = session.scalars(select(ValueRow).where(ValueRow.id.in_(ids)).order_by(ValueRow.id)).all()
        assert before.keys() <= after.keys() and list_wanted(session, release) == []
        gone = [after[key] for key in before if after[key].position is None]
        assert len(gone) == 60 + 8 and all(row.gone_at for row in gone)  # b, and the own cards of c
        assert [str(row.amount and row.amount.normalize()) for row in second][:2] == ["3", "1"]  # only what is news
        assert stored(session, release) == read_sheet(made).sheet
        assert find_cards(session, "subject b59", 5) == [] and find_cards(session, "new", 5)[0].subject[:3] == "New"
        assert session.scalars(select(SubjectRow.name).where(SubjectRow.name == "New")).all() == ["New"]
    with database.transaction() as session:
        save_structure(session, read_sheet(first).sheet)
        take_back_values(session, release, ids)
        assert stored(session, release) == read_sheet(first).sheet and list_wanted(session, release)
        again = {row.id: row.position for row in session.scalars(select(VersionRow).where(VersionRow.id.in_(before)))}
        assert again == before and find_cards(session, "subject b59", 5)[0].number == "B59"


@pytest.mark.parametrize(
    "wrong",
    [
        "update value set amount = -1",
        "update value set amount = null",
        "update value set version_id = null",
        "update odds set number = null",
        "update odds set basis = 'perhaps'",
        "update pack_kind set cards = 0",
        "update format set usable = 1.5",
        "delete from version",
        "update version set gone_at = now()",
        "update release set currency = 'eu1'",
        "insert into owner values (2, 'x', 'x', false)",
    ],
)
def test_the_database_itself_refuses_the_impossible(database: Database, wrong: str) -> None:
    with database.transaction() as session:
        save_sheet(session, read_sheet(example_1()).sheet, "NM")
    with pytest.raises(IntegrityError), database.transaction() as session:
        session.execute(text(wrong))


def test_the_database_itself_refuses_an_entry_that_does_not_balance(database: Database) -> None:
    """When the transaction ends, whoever wrote it; a line less is as wrong as a line too many."""
    write = "insert into posting (entry_id, account, amount) values (:entry, 'stock', 10), (:entry, 'suspense', -10)"
    with database.transaction() as session:
        document = add_document(session, DocumentKind.CORRECTION, date(2026, 11, 25), "x")
        entry = add_entry(session, Entry(date(2026, 11, 25), Event.RECEIPT, "x", ()), document)
        session.execute(text(write), {"entry": entry})
        session.execute(text("set constraints all immediate"))
    for wrong in (
        "update posting set amount = 11 where account = 'stock'",
        "delete from posting where account = 'stock'",
    ):
        with pytest.raises(IntegrityError, match="is off by"), database.transaction() as session:
            session.execute(text(wrong))
