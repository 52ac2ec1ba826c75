"""What was seen of a card on the real store: typed, noticed when it comes twice, and what it makes of a value."""

from datetime import UTC, datetime, timedelta
from decimal import Decimal as D

import pytest
from sqlalchemy import text

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.schools import WORDS, School
from tobbix.db.pricing.many import kept_of_all
from tobbix.formats.item_lists import parse_items
from tobbix.services.installation.preferences import choose_school, read_preferences
from tobbix.services.pricing import adding, looking_round, pasting, revaluing, seeing, since, tabling
from tobbix.services.pricing.keeping import keep_values
from tobbix.services.products import importing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing, items
from tobbix.services.tasks.carrying import carry_out_task, read_task

CARD = ("test", "c", "C8", "")


def test_sales_are_typed_once_and_make_what_is_held_worth_more(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    rows = parse_items(b"name,release,line,number\nBest,test,c,C8\n")
    bringing.import_items(catalogue.database, rows, TODAY)

    def held() -> D | None:
        return items.list_items(catalogue.database, items.ItemFilter(), "id", True, 0, 1).items[0].value

    assert held() == 120  # by the sheet
    lines = ["150 + 2 bellbuoy", "160 + 2 bellbuoy yesterday", "150 + 0 gavelrock 7 bids", "900 + 0", "155 + 2"]
    text = "\n".join([*lines, "140 ask quay", "999 plumb:9"])
    added = adding.add_sales(catalogue, *CARD, text, None)
    assert (added.added, added.known) == (7, 0)
    assert adding.add_sales(catalogue, *CARD, text + "\n\n", None).added == 0  # the same page twice adds nothing
    view = seeing.read_price(catalogue, *CARD, None, 90)
    assert (view.state, view.found.used, len(view.found.flagged)) == ("NM", 4, 1)
    assert view.found.estimate is not None and 150 <= view.found.estimate <= 162 and "Ask" in view.verdict.text()
    assert {it.state for it in view.states} == {"NM", "plumb:9"} and view.asking[0].price == D("141.99")
    assert held() == D(str(view.found.estimate)).quantize(D("0.01"))
    far = next(it for it in view.seen if it.flagged)
    adding.choose_sale(catalogue, far.number, "keep")
    kept = seeing.read_price(catalogue, *CARD, "NM", 90)
    assert kept.found.used == 5 and kept.found.flagged == ()
    adding.choose_sale(catalogue, far.number, "leave_out")
    assert seeing.read_price(catalogue, *CARD, "NM", 90).found.used == 4
    top = seeing.read_price(catalogue, *CARD, "NM", 90).highest
    assert top is not None and top.amount == pytest.approx(162) and top.day < TODAY  # not the 900 that is left out
    looked = looking_round.look_round(catalogue)
    assert [(it.count, it.card.price) for it in looked.seen] == [(7, D(str(round(view.found.estimate or 0, 2))))]
    assert looked.next_up == () and "fresh value" in looked.verdict.text()
    with pytest.raises(InputError) as caught:
        adding.add_sales(catalogue, *CARD, "12.50\nnothing\n13 3 dec 2030", None)
    assert {(fault.row, fault.field) for fault in caught.value.faults} >= {(2, "text")}
    with pytest.raises(NotFound):
        seeing.read_price(catalogue, "test", "c", "C99", "", None, 90)


def test_what_changed_since_the_last_look_is_said_by_money(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    rows = parse_items(b"name,release,line,number,count\nBest,test,c,C8,2\nOther,test,c,C7,1\nThird,test,c,C6,1\n")
    bringing.import_items(catalogue.database, rows, TODAY)
    assert since.read_changes(catalogue).since is None
    with catalogue.database.transaction() as session:  # what was known so far was known for ten days
        session.execute(text("update value set recorded_at = recorded_at - interval '10 days'"))
    looked = datetime.now(UTC) - timedelta(5)
    since.mark_seen(catalogue, looked, never=False)
    assert since.read_changes(catalogue).rows == ()
    for number, price in (("C8", 150), ("C7", 30), ("C6", 20)):  # by the sheet 120, 40 and 20
        adding.add_sales(
            catalogue, "test", "c", number, "", "\n".join(f"{price} + 0 {day} nov" for day in (3, 4, 5)), "NM"
        )
    found = since.read_changes(catalogue)
    assert [(it.card.number, it.before, it.now, it.change) for it in found.rows] == [
        ("C8", 120, 150, 60), ("C7", 40, 30, -10),
    ]  # fmt: skip
    assert "worth 50.00 EUR more" in found.verdict.text() and "Up 60.00, down 10.00." in found.verdict.text()
    since.mark_seen(catalogue, None, never=False)
    assert since.read_changes(catalogue).rows == ()
    since.mark_seen(catalogue, looked, never=False)  # taken back: it is all there again
    assert since.read_changes(catalogue).all_of == 2
    since.mark_seen(catalogue, None, never=True)
    assert since.read_changes(catalogue).since is None
    with pytest.raises(InputError):
        since.mark_seen(catalogue, datetime.now(UTC) + timedelta(1), never=False)


def test_everything_is_valued_anew_by_the_owners_school_as_it_would_be_one_by_one(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    ago = [f"{TODAY - timedelta(days):%d %b %Y}" for days in range(200)]
    said = (
        f"10 + 0 {ago[12]}\n12 + 1 {ago[9]}\n40 + 0 {ago[2]}\n30 + 0 plumb:9 {ago[4]}\n55 + 0 ask\n8 + 0 LP {ago[190]}"
    )
    adding.add_sales(catalogue, *CARD, said, None)
    adding.add_sales(catalogue, "test", "c", "C7", "", f"20 + 1 {ago[3]}\n21 + 1 {ago[2]}\n22 + 1 {ago[1]}", None)

    def kept() -> dict[tuple[int, str], tuple[object, ...]]:
        with catalogue.database.transaction() as session:
            found = kept_of_all(session)
        return {key: (it.says, it.amount, it.low, it.high, it.comps, it.day) for key, it in found.items()}

    def revalued(school: School) -> tuple[dict[tuple[int, str], tuple[object, ...]], int]:
        version = read_preferences(catalogue.database).version
        task = choose_school(catalogue, school, version)
        carry_out_task(catalogue.database, task.number, revaluing.revalue_runs(catalogue))
        done = read_task(catalogue.database, task.number)
        assert done.state == "done" and done.result is not None
        return kept(), done.result["changed"]

    usual = kept()
    assert revalued(School.WEIGHTED) == (usual, 0)  # nothing is recorded where nothing changed
    for school, amount in ((School.LAST, 40), (School.AVERAGE, 21), (School.MEDIAN, 13)):
        together, changed = revalued(school)
        assert changed >= 1 and D(amount) in {it[1] for it in together.values()}
        view = seeing.read_price(catalogue, *CARD, "NM", 90)
        assert (view.school, view.weighted) == (school, 13)
        assert view.found.estimate == pytest.approx(float(amount), abs=0.01)
        assert f"by {WORDS[school]}" in view.verdict.text()
        with catalogue.database.transaction() as session:  # the same as one by one
            keep_values(session, sorted({version for version, _ in together}), catalogue.today())
        assert kept() == together
    assert D(55) in {it[1] for it in revalued(School.LOWEST_ASK)[0].values()}
    assert "nothing to go by for the middle of the book" in _chosen(catalogue, School.BOOK).verdict.text()
    with pytest.raises(Conflict):
        choose_school(catalogue, School.LAST, 0)
    importing.remove_release(catalogue, "test")  # what is out of sight stays as it was, and stops nothing
    for school in (School.MEDIAN, School.BOOK):
        before = kept()
        assert revalued(school)[0] == before


def _chosen(catalogue: Catalogue, school: School) -> seeing.PriceView:
    choose_school(catalogue, school, read_preferences(catalogue.database).version)
    return seeing.read_price(catalogue, *CARD, "NM", 90)


def test_the_least_subgrades_that_make_a_grade_count_alone_if_asked_and_other_graders_stand_beside(
    catalogue: Catalogue,
) -> None:
    take(catalogue, example_1())
    head = "release\tline\tnumber\tgrader\tgrade\tsubgrades\tphoto\tprice\tday"
    made = [("Fourfold", "9.5", "9.5/9.5/9.5/9", "copy", 60), ("Fourfold", "9.5", "10/10/9.5/9.5", "", 90),
            ("Fourfold", "9.5", "10/10/9.5/9.5", "", 94), ("Plumbline", "9.5", "", "", 75)]  # fmt: skip
    text = "\n".join([head, *(f"test\tc\tC8\t{a}\t{b}\t{c}\t{d}\t{p}\t{TODAY}" for a, b, c, d, p in made)])
    wish = tabling.TableWish(None, None, CompKind.SOLD, False, None, None)
    read = tabling.read_listed(catalogue, text, None, wish).page
    kept = [(it.version, it.comp) for it in read.proposed if it.version and it.comp]
    assert [(comp.subgrades, comp.photo) for _, comp in kept][0] == ("9.5/9.5/9.5/9", "copy") and len(kept) == 4
    pasting.keep_page(catalogue, None, kept)

    def worth(subgrades: str | None) -> float | None:
        return seeing.read_price(catalogue, *CARD, "Fourfold:9.5", 90, subgrades).found.estimate

    assert (worth(None), worth("least"), worth("10/10/9.5/9.5")) == (90, 60, 92)
    view = seeing.read_price(catalogue, *CARD, "Fourfold:9.5", 90)
    assert view.subgrades == ("9.5/9.5/9.5/9", "10/10/9.5/9.5")
    assert [(it.state, it.estimate) for it in view.elsewhere] == [("Plumbline:9.5", 75)]
