"""Values apart from sheets: which counts, on which day, in which currency; and what is held follows at once."""

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal as D

import pytest
from sqlalchemy import select, update

from tests.conftest import TODAY, make_database
from tests.services.test_collector import BOUGHT, balanced
from tests.services.test_products import prices, take
from tests.services.test_versions import counted
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.opening.session import Pulled
from tobbix.core.planning.habits import AS_USUAL
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.products.price_book import Price, Says, Source, Value
from tobbix.core.products.revising import find_format
from tobbix.core.products.valuation import ONE_BOX
from tobbix.db.base import Database
from tobbix.db.holdings.tables import HeldValueRow, ItemRow
from tobbix.db.pricing.comps import add_comps, comps_of
from tobbix.db.products.loading import find_release
from tobbix.db.products.saving import find_version
from tobbix.db.products.tables import ValueRow
from tobbix.db.products.values import load_book, price_versions, record_values, take_back_values
from tobbix.demo.selling import demo_ways
from tobbix.formats.item_lists import parse_items
from tobbix.services.books import books
from tobbix.services.buying import purchasing, rates
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import PurchaseInput, ThingInput
from tobbix.services.installation.desk import read_desk
from tobbix.services.installation.preferences import change_preferences, choose_home, read_preferences
from tobbix.services.opening import closing, finding, opening, viewing
from tobbix.services.pricing.ways import save_way
from tobbix.services.products import assuming, editing
from tobbix.services.products.answering import answer_holding, answer_release, answer_releases
from tobbix.services.products.assuming import Assumption, AssumptionKind
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_all
from tobbix.services.stock import bringing, items


def say(
    catalogue: Catalogue, number: str, source: Source, amount: str, comps: int | None = None, line: str = "a"
) -> None:
    with catalogue.database.transaction() as session:
        release = find_release(session, "test", lock=True)
        version = find_version(session, release, "a", number)
        assert version is not None
        value = Value(Says.PRICE, D(amount), "EUR", TODAY, source, comps=comps)
        record_values(session, release, "version_id", "NM", [(version, value)])


def now(catalogue: Catalogue, number: str) -> Price:
    with catalogue.database.transaction() as session:
        home, release = home_on(session, catalogue.today()), find_release(session, "test")
        version = find_version(session, release, "a", number)
        return price_versions(session, [version], home.state, home.convert)[version or 0]


def test_what_is_current_goes_by_its_source_and_the_owner_s_word_is_pinned(catalogue: Catalogue) -> None:
    take(catalogue, example_1())  # A1 at 1
    assert (now(catalogue, "A1").amount, now(catalogue, "A1").source) == (1, "sheet")
    for source, amount, comps, current in (
        (Source.BOOK, "9", None, 1), (Source.COMPS, "8", 2, 1), (Source.BORROWED, "7", None, 1),
        (Source.COMPS, "6", 3, 6), (Source.COMPS, "5", 2, 1),  # the newest of a source counts, even if it is thinner
        (Source.COMPS, "4", 9, 4),
    ):  # fmt: skip
        say(catalogue, "A1", source, amount, comps)
        assert now(catalogue, "A1").amount == current, (source, amount)
    editing.change_card_price(catalogue, "test", prices(catalogue), "a", "A1", "2.50")
    say(catalogue, "A1", Source.COMPS, "30", 40)
    assert (now(catalogue, "A1").amount, now(catalogue, "A1").pinned) == (D("2.50"), True)
    editing.change_card_price(catalogue, "test", prices(catalogue), "a", "A1", "")
    assert now(catalogue, "A1").amount is None  # the owner says that it is unknown
    editing.change_card_price(catalogue, "test", prices(catalogue), "a", "A1", "release")
    assert now(catalogue, "A1").amount == 30
    editing.undo_change(catalogue, "test")
    editing.undo_change(catalogue, "test")
    assert now(catalogue, "A1").amount == D("2.50")


def test_one_price_corrected_makes_no_other_fresh_and_undone_it_is_as_old_as_it_was(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    before = catalogue.read_sheet("test")
    assert before.book is not None and before.priced_on == date(2026, 11, 1)
    with catalogue.database.transaction() as session:
        session.execute(update(ValueRow).values(recorded_at=datetime(2026, 11, 2, tzinfo=UTC)))
    sheet = editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C8", "240")
    assert sheet.book is not None and sheet.priced_on == date(2026, 11, 1)
    assert {key for key, value in sheet.book.cards.items() if value.day == TODAY} == {("c", "C8")}
    assert sheet.revision == before.revision and sheet.book.revision == before.book.revision + 1
    editing.undo_change(catalogue, "test")
    after = catalogue.read_sheet("test").book
    assert after is not None and after.cards == before.book.cards and after.formats == before.book.formats
    with catalogue.database.transaction() as session:  # the view of a day that is past
        release = find_release(session, "test")
        assert load_book(session, release, "NM", datetime(2026, 11, 3, tzinfo=UTC)).cards == before.book.cards
        assert load_book(session, release, "NM", datetime(2026, 11, 1, tzinfo=UTC)).cards == {}
    taken = take(catalogue, {**example_1(), "priced_on": "2026-11-20"}, replace_existing=True)
    assert taken.outcome == "replaced" and catalogue.read_sheet("test").priced_on == date(2026, 11, 20)
    editing.undo_change(catalogue, "test")
    assert catalogue.read_sheet("test").priced_on == date(2026, 11, 1)


def test_a_sheet_that_is_replaced_keeps_every_comp_and_one_that_comes_twice_doubles_none(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    seen = [Comp(CompKind.SOLD, TODAY - timedelta(n), D(n), "GBP", outside="feed", outside_id=str(n)) for n in (1, 2)]
    with catalogue.database.transaction() as session:
        version = find_version(session, find_release(session, "test"), "b", "B1") or 0
        assert add_comps(session, [(version, comp) for comp in seen]) == 2
        assert add_comps(session, [(version, comp) for comp in [*seen, replace(seen[0], outside_id="3")]]) == 1
    smaller = example_1()
    del smaller["lines"][2]
    take(catalogue, smaller, replace_existing=True)
    with catalogue.database.transaction() as session:
        assert [comp.outside_id for _, comp, _ in comps_of(session, version)] == ["2", "1", "3"]
        assert comps_of(session, version)[0][1] == seen[1]


def test_a_release_in_another_currency_is_right_to_the_cent_everywhere(catalogue: Catalogue) -> None:
    store = catalogue.database
    made = {**example_1(), "currency": "GBP"}
    made["formats"][0]["price"] = "48.00"
    take(catalogue, made)
    unknown = answer_release(catalogue, "test").sheet
    assert unknown.without_rate == ("GBP",) and unknown.format_by_id["box"].price is None  # never pounds as euros
    rates.set_rate(store, "GBP", TODAY, D("1.25"), TODAY)
    answer = answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL)
    assert (answer.looked.sheet.currency, answer.answer.asked.sticker) == ("EUR", 60)
    assert answer.worked.value.mean == pytest.approx(37.4536 * 1.25, abs=2e-4)
    assert items.search_cards(catalogue, "C8")[0].price == 150

    said = PurchaseInput(
        "a box and a card", BOUGHT, (ChargeInput("price", D("60.00"), "GBP", BOUGHT, rate=D("1.20")),),
        (ThingInput("sealed", "Box", 1, "test", "box", value=D("60")),
         ThingInput("card", "C7", 1, "test", None, "c", "C7", value=D("12"))), received_on=BOUGHT,
    )  # fmt: skip
    number = purchasing.record_purchase(store, said, "k", TODAY)
    box, card = purchasing.read_purchase(store, number).things
    assert (box.basis, card.basis) == (D("60.000"), D("12.000"))
    items.correct_item(store, card.number, card.version, {"value": None}, TODAY)  # worth what its version is
    assert items.read_item(store, card.number).item.value == 50
    session = opening.start_session(catalogue, opening.SessionInput(box.number), "s")
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    view = books.read_books(store)
    assert view.off == (0, 0) and view.currency == "EUR"
    pulled = items.list_items(store, items.ItemFilter(session=session), "value", True, 0, 9).items
    assert [(row.name, row.value) for row in pulled] == [("Subject C8, C", 150), ("Base, not listed", D("4.44"))]
    rates.set_rate(store, "GBP", TODAY, D("1.30"), TODAY)
    assert (
        items.read_item(store, pulled[0].number).item.value == 156
        and items.read_item(store, card.number).item.value == 52
    )
    exported = editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C8", "130")
    assert exported.currency == "EUR" and items.search_cards(catalogue, "C8")[0].price == 130
    with store.transaction() as opened:
        written = catalogue.as_written(opened, "test")
    assert written.currency == "GBP" and {c.number: c.price for c in written.line_by_id["c"].cards}["C8"] == 100
    balanced(store)


def test_the_home_currency_is_chosen_until_something_is_booked(catalogue: Catalogue) -> None:
    store = catalogue.database
    take(catalogue, {**example_1(), "currency": "JPY"})
    with pytest.raises(InputError):
        choose_home(store, "YEN", "NM", 0, TODAY)
    assert choose_home(store, "JPY", "LP", 0, TODAY).version == 1
    change_preferences(store, replace(read_preferences(store), monthly_limit=D("400"), currency="EUR"))
    assert (read_preferences(store).currency, read_preferences(store).sheet_condition) == ("JPY", "LP")
    with pytest.raises(InputError, match="0 decimals"):
        bringing.import_items(store, parse_items(b"name,basis\nA1,1.5\n"), TODAY)
    bringing.import_items(store, parse_items(b"name,basis\nA1,2\n"), TODAY)
    with pytest.raises(Conflict, match="kept in JPY"):
        choose_home(store, "EUR", "LP", 2, TODAY)
    assert choose_home(store, "JPY", "NM", 2, TODAY).sheet_condition == "NM"


def test_whatever_is_remembered_goes_with_all_that_it_rests_on(server_url: str, worker_id: str) -> None:
    """Outside an act results are remembered: each thing that they rest on is changed in turn, on the same store."""
    database = Database(make_database(server_url, f"remembered_{worker_id}"))
    day = [TODAY]
    catalogue = Catalogue(database, lambda: day[0])
    take(catalogue, {**example_1(), "currency": "GBP"})
    rates.set_rate(database, "GBP", TODAY, D("1.25"), TODAY)
    rates.set_rate(database, "GBP", TODAY + timedelta(1), D("1.5"), TODAY)

    def mean() -> float:
        return answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL).worked.value.mean

    def tomorrow() -> None:
        day[0] += timedelta(1)

    changes: list[Callable[[], object]] = [
        lambda: editing.change_odds(catalogue, "test", 1, "a", "box", None, "1:2 packs"),
        lambda: editing.change_card_price(catalogue, "test", prices(catalogue), "c", "C8", "500"),
        tomorrow,
        lambda: rates.set_rate(database, "GBP", day[0], D("1.6"), day[0]),
        lambda: assuming.change_assumption(catalogue, "test", Assumption(AssumptionKind.SELLS, "a", None, "0.5")),
        lambda: save_way(database, demo_ways()[0], 0),
        lambda: choose_home(database, "USD", "NM", 0, day[0]),
    ]
    known = [mean()]
    for change in changes[:-1]:
        change()
        known.append(mean())
        with counted(database) as sent:
            assert mean() == known[-1]
        assert len(sent) < 12
    rates.set_rate(database, "GBP", day[0], D("2"), day[0])
    changes[-1]()
    rates.set_rate(database, "EUR", day[0], D("1.2"), day[0])  # the rates are of the new home now
    known.append(mean())
    same = len(known) - len({round(value, 6) for value in known})
    assert same == 1, known  # a share that sells counts once there is a way of selling
    database.engine.dispose()


def test_the_number_of_statements_does_not_grow_with_what_is_there(catalogue: Catalogue) -> None:
    """For the desk, an answer, a purchase, a session, stock and books."""
    store = catalogue.database
    take(catalogue, example_1())
    said = PurchaseInput("boxes", BOUGHT, (ChargeInput("price", D(60), "EUR", BOUGHT),),
                        (ThingInput("sealed", "Box", 2, "test", "box"),), received_on=BOUGHT)  # fmt: skip

    def grow(more: int) -> None:
        for at in range(more):
            take(catalogue, {**example_1(), "id": f"test-{datetime.now(UTC).timestamp()}-{at}".replace(".", "-")})
            number = purchasing.record_purchase(store, said, f"k{datetime.now(UTC)}", TODAY)
            item = purchasing.read_purchase(store, number).things[0]
            session = opening.start_session(catalogue, opening.SessionInput(item.number), f"s{datetime.now(UTC)}")
            opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
            closing.finish_session(catalogue, session, True, False)

    def statements() -> dict[str, int]:
        first = purchasing.list_purchases(store)[-1].number
        done = viewing.list_sessions(catalogue)[-1][0].number
        views: dict[str, Callable[[], object]] = {
            "shelf": lambda: answer_releases(catalogue),
            "desk": lambda: read_desk(catalogue),
            "answer": lambda: answer_holding(catalogue, "test", "box", ONE_BOX, None, AS_USUAL),
            "purchases": lambda: purchasing.list_purchases(store),
            "purchase": lambda: purchasing.read_purchase(store, first),
            "sessions": lambda: viewing.list_sessions(catalogue),
            "openable": lambda: finding.list_openable(catalogue),
            "session": lambda: viewing.read_session(catalogue, done),
            "stock": lambda: items.list_items(store, items.ItemFilter(), "value", True, 0, 50),
            "sums": lambda: items.sum_items(store, items.ItemFilter()),
            "books": lambda: books.read_books(store),
        }
        found = {}
        for name, view in views.items():
            view()
            with counted(store) as sent:
                view()
            found[name] = len(sent)
        return found

    grow(2)
    few = statements()
    grow(6)
    assert statements() == few and max(few.values()) <= 20, few


def test_what_is_held_is_kept_at_its_current_worth_whatever_happens(catalogue: Catalogue) -> None:
    """Each row is what a fresh reckoning gives, after every kind of change."""
    store = catalogue.database
    take(catalogue, example_1())

    def kept() -> dict[int, tuple[object, ...]]:
        with store.transaction() as session:
            rows = session.execute(
                select(ItemRow.id, HeldValueRow.amount, HeldValueRow.day, HeldValueRow.source)
                .outerjoin(HeldValueRow, HeldValueRow.item_id == ItemRow.id).order_by(ItemRow.id)
            ).all()  # fmt: skip
            known = set(session.scalars(select(HeldValueRow.item_id)))
            assert known == {row.id for row in rows}
            return {row.id: tuple(row[1:]) for row in rows}

    def check() -> None:
        before = kept()
        with store.transaction() as session:
            revalue_all(session, home_on(session, TODAY))
        assert kept() == before

    rows = b"name,release,line,number,count,condition\nx,test,a,A10,3,NM\ny,test,a,A10,1,LP\nz,test,b,B1,2,\n"
    bringing.import_items(store, parse_items(rows), TODAY)
    assert [worth[0] for worth in kept().values()] == [30, 10, 12]
    check()
    with store.transaction() as session:
        version = find_version(session, find_release(session, "test"), "a", "A10") or 0
        worn = Value(Says.PRICE, D(4), "EUR", TODAY, Source.COMPS, comps=5)
        record_values(session, find_release(session, "test"), "version_id", "LP", [(version, worn)])
        revalue_all(session, home_on(session, TODAY))
    assert [worth[0] for worth in kept().values()] == [30, 4, 12]
    with store.transaction() as session:  # what is said to be unknown is not filled from another condition
        unknown = Value(Says.UNKNOWN, None, "EUR", TODAY, Source.OWNER)
        ids = record_values(session, find_release(session, "test"), "version_id", "LP", [(version, unknown)])
        revalue_all(session, home_on(session, TODAY))
    assert [worth[0] for worth in kept().values()] == [30, None, 12]
    with store.transaction() as session:
        take_back_values(session, find_release(session, "test"), ids)
        revalue_all(session, home_on(session, TODAY))
    editing.change_card_price(catalogue, "test", prices(catalogue), "a", "A10", "11")
    assert [worth[0] for worth in kept().values()] == [33, 4, 12]
    check()
    editing.undo_change(catalogue, "test")
    take(catalogue, {**example_1(), "priced_on": "2026-11-20"}, replace_existing=True)
    check()
    first = next(iter(kept()))
    items.correct_item(store, first, 1, {"value": D(99)}, TODAY)
    assert kept()[first] == (99, TODAY, "owner")
    items.correct_item(store, first, 2, {"value": None, "number": "A1"}, TODAY)
    assert kept()[first][0] == 3
    check()
    assert find_format(catalogue.read_sheet("test"), "box").price is None
