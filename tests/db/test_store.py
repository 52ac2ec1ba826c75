"""The store: its shape is what the code says, sheets come back as they went in, and impossible rows are refused."""

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import IntegrityError

from tests.sheets import example_1
from tobbix.core.products.reading import read_sheet
from tobbix.db.base import Database
from tobbix.db.migrating import differences
from tobbix.db.products.loading import find_release, load_sheet
from tobbix.db.products.saving import save_sheet
from tobbix.db.products.tables import ValueObservationRow, VersionRow
from tobbix.demo.releases import demo_sheets


def test_the_migrations_lead_to_the_tables_of_the_code(database_url: str) -> None:
    store = Database(database_url)
    assert differences(store.engine) == []
    store.engine.dispose()


def test_every_demo_sheet_comes_back_as_it_went_in(database: Database) -> None:
    for made in demo_sheets():
        with database.transaction() as session:
            save_sheet(session, made, "test")
        with database.transaction() as session:
            assert load_sheet(session, find_release(session, made.id)) == made


def test_versions_and_their_observations_outlive_a_replacement(database: Database) -> None:
    made = example_1()
    with database.transaction() as session:
        save_sheet(session, read_sheet(made).sheet, "first")
        before = set(session.scalars(select(VersionRow.id)))
    made["lines"][1]["cards"][0]["price"] = "3"
    del made["lines"][2]
    made["lines"][1]["cards"].append({"number": "new", "subject": "New", "price": "1"})
    with database.transaction() as session:
        save_sheet(session, read_sheet(made).sheet, "second")
        after = set(session.scalars(select(VersionRow.id)))
        second = session.scalars(select(ValueObservationRow).filter_by(source="second")).all()
    assert len(before - after) == 60 and len(after - before) == 1
    assert [str(row.amount.normalize()) for row in second] == ["3", "1"]  # only what is news is recorded


@pytest.mark.parametrize(
    "wrong",
    [
        "update value_observation set amount = -1",
        "update value_observation set amount = null",
        "update value_observation set version_id = null",
        "update odds set number = null",
        "update odds set basis = 'perhaps'",
        "update pack_kind set cards = 0",
        "update format set usable = 1.5",
        "update release set currency = 'eu1'",
        "insert into owner values (2, 'x', 'x', false)",
    ],
)
def test_the_database_itself_refuses_the_impossible(database: Database, wrong: str) -> None:
    with database.transaction() as session:
        save_sheet(session, read_sheet(example_1()).sheet, "test")
    with pytest.raises(IntegrityError), database.transaction() as session:
        session.execute(text(wrong))
