"""Buying, opening, stock and books on the real store: whole or nothing, exact, and never lost."""

import os
import signal
import subprocess
import sys
import textwrap
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal as D
from pathlib import Path

import pytest
from beancount import loader
from hypothesis import HealthCheck, Phase, given, note, settings
from hypothesis import strategies as st

from tests.conftest import ROOT, TODAY, cluster_script, make_database
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound, TobbixError
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.states import Action
from tobbix.core.opening.session import Pulled
from tobbix.db.base import Database
from tobbix.db.holdings.loading import off_balance
from tobbix.formats.item_lists import COLUMNS, parse_items, write_csv, write_xlsx
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.services.books import books, taking_back
from tobbix.services.buying import amending, purchasing, rates
from tobbix.services.buying.amending import PartInput
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import Inspection, PurchaseInput, ThingInput
from tobbix.services.opening import closing, opening, viewing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing, items

BOUGHT = date(2026, 11, 3)


def boxes(count: int = 2, **more: object) -> PurchaseInput:
    said = PurchaseInput(
        "two boxes",
        BOUGHT,
        (ChargeInput("price", D("120.00"), "EUR", BOUGHT), ChargeInput("shipping", D("5.00"), "EUR", BOUGHT, "card")),
        (
            ThingInput("sealed", "Test 2025, Box", count, "test", "box", value=D("130")),
            ThingInput("other", "empty tin", gift=True),
        ),
    )
    return replace(said, **more)  # type: ignore[arg-type]


def balanced(database: Database) -> None:
    with database.transaction() as session:
        assert off_balance(session) == (0, 0)


def start(catalogue: Catalogue, **more: object) -> tuple[int, int]:
    take(catalogue, example_1())
    number = purchasing.record_purchase(catalogue.database, boxes(received_on=BOUGHT), "k", TODAY)
    item = purchasing.read_purchase(catalogue.database, number).things[0].number
    said = opening.SessionInput(**{"item": item, "boxes": 1, "entertainment": D("0.2"), **more})  # type: ignore[arg-type]
    session = opening.start_session(catalogue, said, "s")
    assert opening.start_session(catalogue, said, "s") == session
    return item, session


def test_a_purchase_is_divided_shown_booked_once_received_and_taken_back(catalogue: Catalogue) -> None:
    store = catalogue.database
    assert rates.fetch_rates(store, SimulatedRates(), date(2026, 10, 1), TODAY) > 50
    pounds = boxes(charges=(ChargeInput("price", D("100.00"), "GBP", BOUGHT), *boxes().charges[1:]))
    shown = purchasing.preview_purchase(store, pounds, TODAY)
    assert shown.landed == sum(shown.shares) and shown.charges[0].source == "simulated feed"
    rates.set_rate(store, "GBP", BOUGHT, D("1.25"), TODAY)  # a rate set by hand wins
    assert purchasing.preview_purchase(store, pounds, TODAY).landed == D("130.00")
    first = purchasing.record_purchase(store, pounds, "k1", TODAY)
    assert purchasing.record_purchase(store, pounds, "k1", TODAY) == first
    bought = purchasing.read_purchase(store, first)
    assert [item.basis for item in bought.things] == [D("130.000"), 0] and bought.state == "ordered"
    balanced(store)
    purchasing.receive_purchase(store, first, 1, date(2026, 11, 9), Inspection(seal=True, series=False))
    found = purchasing.read_purchase(store, first)
    assert found.state == "disputed" and found.parcel is not None and "series" in (found.parcel.dispute or "")
    with pytest.raises(Conflict, match="changed meanwhile"):  # a second tab that saw the first version
        amending.refund_purchase(store, first, 1, ChargeInput("other", D(10), "EUR", TODAY))
    amending.refund_purchase(store, first, 2, ChargeInput("other", D("150.00"), "EUR", TODAY))
    assert purchasing.read_purchase(store, first).things[0].basis == 0
    view = books.read_books(store)
    assert {(a.value, amount) for a, _, amount in view.balances} >= {("income", D("-20.000")), ("stock", D("0.000"))}
    assert view.off == (0, 0)
    second = purchasing.record_purchase(store, boxes(received_on=TODAY), "k2", TODAY)
    amending.undo_purchase(store, second, 1, TODAY)
    assert purchasing.read_purchase(store, second).state == "undone"
    assert [e.event for e in purchasing.read_purchase(store, second).history] == ["purchase", "undo"]
    balanced(store)


def test_bad_purchases_are_refused_with_every_fault_and_change_nothing(catalogue: Catalogue) -> None:
    bad = boxes(
        charges=(ChargeInput("price", D("1.005"), "EUR", BOUGHT), ChargeInput("price", D(5), "USD", BOUGHT)),
        things=(ThingInput("other", " "),),
    )
    with pytest.raises(InputError) as caught:
        purchasing.record_purchase(catalogue.database, bad, "b", TODAY)
    assert {f.field for f in caught.value.faults} == {"charges[0].amount", "charges[1].currency", "things[0].name"}
    for wrong, field in (
        (boxes(bought_on=TODAY + timedelta(1)), "bought_on"), (boxes(received_on=BOUGHT - timedelta(1)), "received_on"),
        (boxes(things=(ThingInput("card", "a"), ThingInput("card", "b"))), "things[0].value"),
        (boxes(charges=()), "charges"),
    ):  # fmt: skip
        with pytest.raises(InputError) as caught:
            purchasing.record_purchase(catalogue.database, wrong, "w", TODAY)
        assert caught.value.faults[0].field == field
    assert purchasing.list_purchases(catalogue.database) == []


def test_a_lot_is_divided_again_with_a_trace(catalogue: Catalogue) -> None:
    store = catalogue.database
    things = tuple(
        ThingInput("card", name, value=D(v)) for name, v in (("a", 12), ("b", 7), ("c", 7), ("d", 3), ("e", 1))
    )
    lot = boxes(charges=(ChargeInput("price", D("100.00"), "EUR", BOUGHT),), things=things, received_on=TODAY)
    number = purchasing.record_purchase(store, lot, "lot", TODAY)
    held = purchasing.read_purchase(store, number).things
    assert [str(i.basis) for i in held] == ["40.000", "23.340", "23.330", "10.000", "3.330"]
    items.take_out(store, held[4].number, held[4].version, Action.GIVE_AWAY, TODAY, "to a child")
    parts = [PartInput(i.number, value=D(1)) for i in held[:4]]
    assert amending.divide_again(store, number, 1, Method.VALUE, parts, TODAY, book=False)[0] == D("24.17")
    assert purchasing.read_purchase(store, number).things[0].basis == D("40.000")  # only shown
    amending.divide_again(store, number, 1, Method.VALUE, parts, TODAY, book=True)
    with pytest.raises(Conflict):
        amending.divide_again(store, number, 2, Method.EQUAL, [PartInput(held[4].number)], TODAY, book=True)
    with pytest.raises(Conflict):
        amending.undo_purchase(store, number, 2, TODAY)  # a part of it is gone
    view = items.read_item(store, held[0].number)
    row, history = view.item, view.history
    assert [event.event for event in history] == ["purchase", "division"] and row.basis == D("24.170")
    balanced(store)


def test_costs_that_come_later_and_rates_by_hand(catalogue: Catalogue) -> None:
    """Duty after the opening goes to what came out of it, and what is said of a purchase can be corrected."""
    store = catalogue.database
    _, session = start(catalogue)
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    number = purchasing.list_purchases(store)[0].number
    duty = ChargeInput("duty", D("10.00"), "GBP", TODAY, rate=D("1.25"))
    amending.add_charge(store, number, 1, duty)
    card = items.list_items(store, items.ItemFilter(session=session), "value", True, 0, 1).items[0]
    # Half of the lot is still sealed at 62.50, the other half's 50.00 lies on the pulls: 12.50 over 112.50.
    assert purchasing.read_purchase(store, number).things[0].basis == D("69.440") and card.basis > D("44.94")
    found = purchasing.read_purchase(store, number)
    assert found.landed == D("137.500") and found.charges[-1].rate == D("1.25")
    balanced(store)
    with pytest.raises(InputError) as caught:
        amending.add_charge(store, number, 2, ChargeInput("duty", D(1), "GBP", TODAY))
    assert caught.value.faults[0].field == "currency"
    words = amending.PurchaseWords("two boxes, late", "Ottergate Cards", None, "GP1", TODAY, "left at the door")
    amending.correct_purchase(store, number, 2, words)
    found = purchasing.read_purchase(store, number)
    assert (found.name, found.parcel and found.parcel.tracking) == ("two boxes, late", "GP1")
    with pytest.raises(Conflict):
        amending.correct_purchase(store, number, 2, words)
    with pytest.raises(InputError, match="say what was bought"):
        amending.correct_purchase(store, number, 3, replace(words, name=" "))
    rates.set_rate(store, "SEK", TODAY, D("0.09"), TODAY)
    rates.fetch_rates(store, SimulatedRates(), TODAY - timedelta(20), TODAY)
    home, listed = rates.list_rates(store)
    assert home == "EUR" and {(r.currency, r.by_hand) for r in listed} == {
        ("GBP", False), ("USD", False), ("SEK", True),
    }  # fmt: skip
    rates.forget_rate(store, "SEK", TODAY, TODAY)
    with pytest.raises(NotFound):
        rates.forget_rate(store, "SEK", TODAY, TODAY)


def test_a_lot_by_count_with_weights_and_a_card_found_by_what_is_typed(catalogue: Catalogue) -> None:
    store = catalogue.database
    take(catalogue, example_1())
    things = (
        ThingInput("card", "Subject A10, A", 1, "test", None, "a", "A10", weight=D(6), serial="7/9", condition="NM"),
        ThingInput("stack", "commons", 40, weight=D("0.1"), place="tin 2"),
    )
    said = boxes(charges=boxes().charges[:1], things=things, method=Method.COUNT, received_on=TODAY)
    number = purchasing.record_purchase(store, said, "w", TODAY)
    card, commons = purchasing.read_purchase(store, number).things
    assert (card.basis, commons.basis) == (D("72.000"), D("48.000"))  # 6 to 4
    kept = items.read_item(store, card.number).item
    assert (kept.serial, kept.condition) == ("7/9", "NM")
    assert items.read_item(store, commons.number).item.place == "tin 2"
    parts = [PartInput(card.number, weight=D(1)), PartInput(commons.number, weight=D(1))]
    again = amending.divide_again(store, number, 1, Method.COUNT, parts, TODAY, book=False)
    assert again == (D("2.93"), D("117.07"))  # 1 of 41
    with pytest.raises(InputError, match="more than 0"):
        amending.divide_again(store, number, 1, Method.COUNT, [PartInput(card.number, weight=D(0))], TODAY, book=False)
    assert [c.number for c in items.search_cards(catalogue, "a10 test")] == ["A10"]
    assert [c.number for c in items.search_cards(catalogue, "c8")] == ["C8"] and items.search_cards(
        catalogue, " "
    ) == []
    forgotten = bringing.import_items(store, parse_items(b"name,basis\nOld card,\n"), TODAY).rows
    row = items.list_items(store, items.ItemFilter(basis="unknown"), "id", True, 0, forgotten).items[0]
    with pytest.raises(InputError, match="2 decimals"):
        items.remember_basis(store, row.number, 1, D("1.005"), TODAY)
    items.remember_basis(store, row.number, 1, D("1.50"), TODAY)
    with pytest.raises(Conflict):
        items.remember_basis(store, row.number, 2, D("1.50"), TODAY)
    balanced(store)


def test_fifteen_thousand_rows_come_in_with_unknown_and_known_bases_and_go_round(catalogue: Catalogue) -> None:
    store = catalogue.database
    head = ("name", "count", "basis", "place", "note")
    rows = [(f"Card {i}", 1 + i % 3, "" if i % 2 else "0.10", f"box {i % 40}", "=x") for i in range(15_000)]
    assert bringing.import_items(store, parse_items(write_csv(head, rows)), TODAY).rows == 15_000
    page = items.list_items(store, items.ItemFilter(basis="unknown"), "name", False, 0, 3)
    sums = items.sum_items(store, items.ItemFilter(basis="unknown"))
    assert (sums.total, sums.unknown_basis, sums.basis, page.more) == (7_500, 7_500, 0, True)
    known = items.list_items(store, items.ItemFilter(find="box 8", basis="known"), "basis", True, 0, 5)
    sums = items.sum_items(store, items.ItemFilter(find="BOX 8", basis="known"))
    assert sums.basis == sums.total * D("0.10") > 0 and known.items[0].note == "=x"
    balanced(store)
    again = [
        [getattr(row, name) for name in COLUMNS] for row in items.all_items(store, items.ItemFilter(find="Card 77"))
    ]
    for content in (write_csv(COLUMNS, again), write_xlsx("Items", COLUMNS, again)):
        assert [line.name for line in parse_items(content)] == [row[0] for row in again]
    bad = write_csv(head, [("", 0, "-1", "p", ""), ("ok", 1, "", "", "")])
    with pytest.raises(InputError) as caught:
        parse_items(bad)
    assert {(f.row, f.field) for f in caught.value.faults} == {(2, "name"), (2, "count"), (2, "basis")}
    version = items.correct_item(store, page.items[0].number, 1, {"place": "binder 1", "never_for_sale": True}, TODAY)
    assert version == 2 and items.read_item(store, page.items[0].number).history[-1].event == "correction"


def test_the_ledger_passes_a_general_accounting_tool(catalogue: Catalogue) -> None:
    """Outside: beancount loads the exported ledger without an error."""
    store = catalogue.database
    rates.set_rate(store, "GBP", BOUGHT, D("1.171717"), TODAY)
    pounds = boxes(charges=(ChargeInput("price", D("99.95"), "GBP", BOUGHT, "Gavelrock £"), *boxes().charges[1:]))
    purchasing.record_purchase(store, replace(pounds, name='a "quoted" lot'), "p", TODAY)
    start(catalogue)
    number = purchasing.record_purchase(store, boxes(received_on=TODAY), "u", TODAY)
    amending.undo_purchase(store, number, 1, TODAY)
    text = books.export_ledger(store)
    entries, errors, _ = loader.load_string(text)
    assert errors == [] and sum(type(entry).__name__ == "Transaction" for entry in entries) == 4
    assert books.export_csv(store).decode().count("\n") > 10


ACTS = st.lists(
    st.tuples(
        st.sampled_from(
            [
                "buy",
                "receive",
                "divide",
                "refund",
                "later",
                "undo",
                "open",
                "open some",
                "reopen",
                "lose",
                "find",
                "fix",
            ]
        ),
        st.integers(1, 9_999),
    ),
    min_size=6,
    max_size=18,
)


@given(acts=ACTS)
@settings(
    max_examples=25, deadline=None, derandomize=True, phases=[Phase.generate],  # shrinking takes minutes here
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)  # fmt: skip
def test_any_sequence_keeps_the_books_and_the_stock_together(catalogue: Catalogue, acts: list[tuple[str, int]]) -> None:
    store = catalogue.database
    take(catalogue, example_1())
    note(str(acts))
    for place, (act, number) in enumerate(acts):
        bought = [p for p in purchasing.list_purchases(store) if p.state != "undone"]
        try:
            match act:
                case "buy":
                    charges = (ChargeInput("price", D(number) / 100, "EUR", BOUGHT),)
                    here = TODAY if number % 2 else None
                    purchasing.record_purchase(
                        store, boxes(charges=charges, received_on=here), f"{id(acts)}-{place}", TODAY
                    )
                case "receive":
                    purchasing.receive_purchase(store, bought[0].number, bought[0].version, TODAY, Inspection())
                case "divide":
                    amending.divide_again(store, bought[0].number, bought[0].version, Method.COUNT, [], TODAY, True)
                case "refund":
                    charge = ChargeInput("other", D(number) / 100, "EUR", TODAY)
                    amending.refund_purchase(store, bought[0].number, bought[0].version, charge)
                case "later":
                    charge = ChargeInput("duty", D(number) / 100, "EUR", TODAY)
                    amending.add_charge(store, bought[0].number, bought[0].version, charge)
                case "undo":
                    amending.undo_purchase(store, bought[-1].number, bought[-1].version, TODAY)
                case "open":
                    item = next(i for p in bought for i in p.things if i.kind == "sealed" and i.state == "held")
                    said = opening.SessionInput(item.number, 1, D(number % 3) / 2)
                    session = opening.start_session(catalogue, said, f"{id(acts)}-{place}")
                    closing.finish_session(catalogue, session, True, False)
                case "open some":
                    item = next(i for p in bought for i in p.things if i.kind == "sealed" and i.state == "held")
                    session = opening.start_session(catalogue, opening.SessionInput(item.number), f"{id(acts)}-{place}")
                    gone = items.read_item(store, item.number).item.packs_gone
                    opening.log_pull(catalogue, session, Pulled(gone + 1, "a", "A1"), "1")
                    closing.finish_session(catalogue, session, False, False)
                case "reopen":
                    sessions = [row.number for row, _ in viewing.list_sessions(catalogue) if row.state == "done"]
                    closing.undo_finish(catalogue, sessions[number % len(sessions)] if sessions else 0)
                    closing.finish_session(catalogue, sessions[number % len(sessions)], number % 2 == 0, False)
                case "lose":
                    item = next(i for p in bought for i in p.things if i.state == "held")
                    items.take_out(store, item.number, item.version, Action.LOSE, TODAY, "")
                case "find":
                    lost = items.list_items(store, items.ItemFilter(state="lost"), "id", False, 0, 1).items[0]
                    items.bring_back(store, lost.number, lost.version, TODAY)
                case "fix":
                    item = next(i for p in bought for i in p.things)
                    items.correct_item(store, item.number, item.version, {"place": f"tin {number}"}, TODAY)
        except (TobbixError, IndexError, StopIteration):
            pass  # it was not possible in this state: then nothing may have changed
        balanced(store)


@pytest.fixture
def committed(server_url: str, worker_id: str) -> Iterator[tuple[Database, str]]:
    url = make_database(server_url, f"books_{worker_id}")
    database = Database(url)
    yield database, url
    database.engine.dispose()


def test_a_server_killed_in_the_middle_of_booking_leaves_all_or_nothing(committed: tuple[Database, str]) -> None:
    """kill -9 between the statements of one booking."""
    database, url = committed
    script = textwrap.dedent(
        f"""
        import os, signal
        from sqlalchemy import event
        from tests.services.test_collector import TODAY, boxes
        from tobbix.db.base import Database
        from tobbix.services.buying import purchasing
        database, seen = Database({url!r}), []
        @event.listens_for(database.engine, "after_cursor_execute")
        def count(connection, cursor, statement, *rest):
            if statement.startswith("INSERT INTO charge"):
                os.kill(os.getpid(), signal.SIGKILL)
        purchasing.record_purchase(database, boxes(), "killed", TODAY)
        """
    )
    done = subprocess.run([sys.executable, "-c", script], cwd=ROOT, env=os.environ, check=False)
    assert done.returncode == -signal.SIGKILL
    assert purchasing.list_purchases(database) == []
    balanced(database)
    assert purchasing.record_purchase(database, boxes(), "killed", TODAY) > 0  # sent again, it is kept
    balanced(database)


def test_the_next_request_works_after_the_database_was_started_again(tmp_path_factory: pytest.TempPathFactory) -> None:
    folder = Path("/dev/shm" if Path("/dev/shm").is_dir() else "/tmp") / f"tobbix-again-{os.getpid()}"
    try:
        url = cluster_script("start", folder)
        database = Database(make_database(url, "again"))
        number = purchasing.record_purchase(database, boxes(), "a", TODAY)
        port = database.engine.url.port
        cluster_script("restart", folder)
        assert purchasing.read_purchase(database, number).name == "two boxes" and port
        database.engine.dispose()
    finally:
        cluster_script("stop", folder)
        subprocess.run(["rm", "-rf", str(folder)], check=True)


def test_a_list_goes_round_is_known_again_and_is_taken_back(catalogue: Catalogue) -> None:
    store = catalogue.database
    take(catalogue, example_1())
    row = b"Box,sealed,test,box,,,2,held,,60,\n"
    good = b"name,kind,release,format,line,number,count,state,serial,basis,acquired_on\n" + row
    said = bringing.ListSaid(words=False, mark="sha256 x")
    gone = b"Gone,card,test,,c,C8,1,sold,,9,2026-11-01\n"
    done = bringing.import_items(store, parse_items(good + gone), TODAY, said=said)
    held = items.list_items(store, items.ItemFilter(), "id", True, 0, 9).items
    assert [(row.kind, row.format, row.count) for row in held] == [("sealed", "box", 2)]  # and can be opened
    assert {row.name: row.state for row in items.all_items(store, items.ItemFilter(state="sold"))}["Gone"] == "sold"
    balanced(store)
    with pytest.raises(Conflict, match="brought in on .* already"):
        bringing.import_items(store, parse_items(good), TODAY, said=said)
    taking_back.take_back(catalogue, done.entry)
    assert items.sum_items(store, items.ItemFilter()).count == 0
    balanced(store)
    faults: list[Fault] = []
    bad = parse_items(
        good.replace(b",box,", b",tin,") + b"A,card,zz,,,,1,,,,\nB,card,test,,c,C99,1,,,,\n"
        b"C,card,test,,c,C8,0,,7/5,,2026-12-24\nD,card,test,,c,C8,1,,,1,5,x\n", kept=faults
    )  # fmt: skip
    with pytest.raises(InputError) as caught:  # what the file and what the store knows, at once
        bringing.import_items(store, bad, TODAY, said=replace(said, faults=faults))
    assert [(fault.row, fault.field) for fault in caught.value.faults] == [
        (2, "format"), (3, "release"), (4, "number"), (5, "count"), (5, "acquired_on"), (5, "serial"),
        (6, "column 12"), (6, "acquired_on"),
    ]  # fmt: skip
    assert bringing.import_items(store, parse_items(good + b"A,card,zz,,,,1,,,,\n"), TODAY).rows == 2  # as words
