"""A hoard on the real store: entered, planned, judged, filled into goals, lent values, put into lots."""

from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal as D

import numpy as np
import pytest

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.tasks import TaskState
from tobbix.core.buying.targets import Target
from tobbix.core.holdings.states import State
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.products.naming import Seen, SeenRelease
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.core.sorting.goals import GoalKind
from tobbix.core.sorting.passes import USUAL_PASSES, Hoard
from tobbix.db.holdings.loading import off_balance
from tobbix.db.pricing.comps import add_comps
from tobbix.formats.item_lists import parse_items
from tobbix.services.books.taking_back import take_back
from tobbix.services.buying import targets
from tobbix.services.pricing import borrowing
from tobbix.services.products import naming
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.describing import list_subjects, watch_subject
from tobbix.services.sorting import entering, goals, judging, lots, planning, pulling
from tobbix.services.sorting.entering import Entered, Pile
from tobbix.services.sorting.filling import Coming, would_fill
from tobbix.services.sorting.goals import GoalSaid, SellerTerms
from tobbix.services.sorting.lots import TermsSaid
from tobbix.services.stock import bringing, items
from tobbix.services.stock.items import ItemFilter
from tobbix.services.tasks.carrying import carry_out_task

WRACK = SeenRelease("Tidewrack", 1987, code="TW")


def enter(catalogue: Catalogue, pile: Pile, *texts: str) -> list[Entered]:
    return [entering.enter_card(catalogue, pile, text) for text in texts]


def words(found: Entered) -> str:
    return "".join(run.text for run in found.matters)


def held(catalogue: Catalogue, find: str) -> Sequence[tuple[int, str | None, str | None]]:
    page = items.list_items(catalogue.database, ItemFilter(find=find), "id", False, 0, 50)
    return [(it.count, it.condition, it.place) for it in page.items]


def test_cards_are_entered_by_number_into_piles_and_each_is_taken_back_by_itself(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    pile = Pile(None, WRACK, "Base", "box 1", "NM")
    first, second, again = enter(catalogue, pile, "7 Gull Rock", "8 x2 lp", "7 x3")
    assert first.new_card and not again.new_card and (again.item, again.total) == (first.item, 4)
    assert again.said == "3 x 7 Gull Rock, Base, NM: 4 of it here"
    assert first.card.release == "tidewrack-1987" and second.card.subject == "8"
    assert held(catalogue, "tidewrack") == [(4, "NM", "box 1"), (2, "LP", "box 1")]
    # elsewhere, or in another condition, it is another stack; a code names its release by itself
    (coded,) = enter(catalogue, Pile("test", None, "a", "box 2"), "tw-7")
    assert coded.card.version == first.card.version and held(catalogue, "gull")[1] == (1, None, "box 2")
    with pytest.raises(Conflict, match="Take that back first"):
        take_back(catalogue, first.entry)  # three more were put to it since
    take_back(catalogue, second.entry)  # though it is not the last of its pile
    take_back(catalogue, again.entry)
    take_back(catalogue, first.entry)
    take_back(catalogue, coded.entry)
    assert held(catalogue, "tidewrack") == []
    (once_more,) = enter(catalogue, pile, "7")
    assert held(catalogue, "gull") == [(1, "NM", "box 1")] and once_more.item != first.item
    for wrong, field in (("99", "text"), (" ", "text"), ("4 x0", "text"), ("4 " + "x" * 400, "text")):
        with pytest.raises(InputError) as refused:
            enter(catalogue, Pile("test", None, "c", None), wrong)
        assert refused.value.faults[0].field == field
    (named,) = enter(catalogue, Pile("test", None, "c", None), "99 A card beside the sheet")
    assert named.new_card
    with pytest.raises(InputError, match="choose a set"):
        enter(catalogue, Pile(None, None, "Base"), "4")
    with pytest.raises(NotFound):
        enter(catalogue, Pile("nowhere", None, "Base"), "4")
    entry = entering.salvage(catalogue, "thick sleeves", 40)
    assert held(catalogue, "sleeves") == [(40, None, None)]
    take_back(catalogue, entry)
    with catalogue.database.transaction() as session:
        assert off_balance(session) == (0, 0)


def test_what_matters_of_a_card_is_said_when_it_is_typed(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    pile = Pile("test", None, "c", "box 1", "NM")
    plain, dear = enter(catalogue, pile, "7 base", "C7")
    assert words(plain) == "" and words(dear) == "about 40.00"
    version = items.search_cards(catalogue, "C8")[0].version
    targets.put_target(catalogue, None, 0, version, Target("Subject C8", "NM", D(160)), None)
    goal = goals.put_goal(catalogue, 0, 0, GoalSaid("Line c", GoalKind.SET, "test", "c", least="NM"))
    watch_subject(catalogue, list_subjects(catalogue, "C8", False)[0][0].number, True)
    poor, good, more = enter(catalogue, pile, "C8 lp", "C8", "C8")
    assert words(poor).startswith("watched · on the target list, up to 160.00 · about ")
    assert "missing in Line c" in words(good) and "missing" not in words(more)
    # the same is said wherever cards come in: of one that is there already nothing, of one nobody knows nothing
    asked = [
        Coming("test", "c", number, condition=state) for number, state in (("C6", None), ("C6", "LP"), ("C7", None))
    ]
    targets.put_target(
        catalogue, None, 0, items.search_cards(catalogue, "C7")[0].version, Target("C7", "NM", D(9)), None
    )
    said = ["".join(run.text for run in it) for it in would_fill(catalogue, [*asked, Coming("no", "c", "C6")])]
    assert said == ["missing in Line c", "", "on the target list, up to 9.00", ""]
    brief = goals.list_goals(catalogue)[0]
    view = goals.read_goal(catalogue, goal)
    assert (brief.filled, brief.total, brief.doubles) == (2, len(view.slots), 1)
    assert [it.card.number for it in view.slots if it.card and it.state.item is not None] == ["C7", "C8"]


def test_a_collection_is_planned_and_timed_and_its_cost_goes_to_its_cards(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    bringing.import_items(
        catalogue.database, parse_items(b"name,kind,basis\na shoebox from the fair,other,100\n"), TODAY
    )
    (box,) = items.list_items(catalogue.database, ItemFilter(find="shoebox"), "id", False, 0, 5).items
    number = planning.put_plan(catalogue, None, 0, "The shoebox", Hoard(400, D(12)), USUAL_PASSES, D(150), box.number)
    planning.start_clock(catalogue, number, 1)
    with pytest.raises(Conflict, match="runs already"):
        planning.start_clock(catalogue, number, 2)
    run = planning.stop_clock(catalogue, number, 300)
    view = planning.read_plan(catalogue, number)
    assert view.plan.passes[1].done == 300 and view.plan.passes[1].own_hours > 0 and view.running is None
    assert "Nothing is entered yet; it cost 100.00" in view.project_verdict.text()
    with pytest.raises(InputError, match="has been timed"):
        planning.put_plan(catalogue, number, view.stored.version, "x", Hoard(400, D(12)), USUAL_PASSES[:1], None, None)
    planning.drop_run(catalogue, number, run)
    pile = Pile("test", None, "c", "box 9", None, number)
    enter(catalogue, pile, "C8", "C6 x2", "C1")
    enter(catalogue, Pile(None, WRACK, "Base", "box 9", None, number), "1 x10")
    view = planning.read_plan(catalogue, number)
    assert (view.project.entered, view.project.rows, view.project.unknown, view.project.value) == (14, 4, 1, 165)
    with pytest.raises(InputError, match="of 1 rows the value is not known"):
        planning.share_cost(catalogue, number, view.stored.version, None)
    entry = planning.share_cost(catalogue, number, view.stored.version, D("0.10"))
    bases = {it.name.split(",")[0]: it.basis for it in items.all_items(catalogue.database, ItemFilter(place="box 9"))}
    # 100.00 over 120, 2 x 20, 5 and 10 x 0.10
    assert bases == {"Subject C8": D("72.29"), "Subject C6": D("24.10"), "Subject C1": D("3.01"), "1": D("0.60")}
    assert items.read_item(catalogue.database, box.number).item.state is State.OPENED
    after = planning.read_plan(catalogue, number)
    assert after.project.shared and "65.00 more than the 100.00 that it cost" in after.project_verdict.text()
    take_back(catalogue, entry)
    assert not planning.read_plan(catalogue, number).project.shared
    assert items.read_item(catalogue.database, box.number).item.basis == 100
    planning.remove_plan(catalogue, number)
    assert planning.list_plans(catalogue) == []
    with catalogue.database.transaction() as session:
        assert off_balance(session) == (0, 0)


def test_flaws_make_a_condition_by_the_owners_table(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    (found,) = enter(catalogue, Pile("test", None, "c"), "C8")
    marks = [Flaw(FlawKind.WEAR, Side.BACK, Size.SMALL, x, 0.02) for x in (0.01, 0.99)]
    assert judging.judge_item(catalogue, found.item, marks).readings.strict.condition == "LP"
    item = items.read_item(catalogue.database, found.item).item
    kept = judging.mark_flaws(catalogue, found.item, item.version, marks, "LP")
    assert kept.item.condition == "LP" and kept.flaws == tuple(marks) and kept.marked == ((FlawKind.WEAR, 1),)
    assert kept.verdict.text().startswith("It is LP strictly, about 96.00; NM leniently, about 120.00.")
    with pytest.raises(Conflict):
        judging.mark_flaws(catalogue, found.item, item.version, [], None)
    rules = [judging.RuleSaid((), (), None, (), "MP", "hp 3, damaged")]
    judging.save_rules(catalogue, rules, 0)
    again = judging.judge_item(catalogue, found.item)
    assert (again.readings.lenient.condition, again.readings.strict.condition) == ("MP", "HP")
    assert judging.read_table(catalogue).rules[0].strict.text == "HP 3, damaged"
    judging.save_factors(catalogue, {"NM": D(1), "MP": D("0.25")}, 0)
    worths = {it.condition: it.amount for it in judging.judge_item(catalogue, found.item).worths}
    assert (worths["NM"], worths["MP"], worths["HP"]) == (120, 30, None)
    judging.save_rules(catalogue, None, 1)
    assert len(judging.read_table(catalogue).rules) > 5
    with pytest.raises(InputError, match="not a condition"):
        judging.save_rules(catalogue, [judging.RuleSaid((), (), None, (), "good", "MP")], 2)
    with pytest.raises(Conflict):
        judging.save_rules(catalogue, None, 0)
    with pytest.raises(InputError):
        judging.save_factors(catalogue, {"NM": D(0), "fine": D(1)}, 1)


def test_goals_are_finished_singly_by_basket_or_by_packs(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    enter(catalogue, Pile("test", None, "c"), "C1", "C2", "C2", "C3")
    number = goals.put_goal(
        catalogue, 0, 0, GoalSaid("Line c", GoalKind.SET, "test", "c", whole=(D(150), "EUR", TODAY))
    )
    view = goals.read_goal(catalogue, number)
    assert view.verdict.text() == "5 missing of 8 of Line c; singly they cost about 200.00. 1 copy is double."
    assert view.whole.as_one is not None and view.whole.singly is not None and view.whole.singly.amount == 216
    assert view.whole.book_low is None
    goals.say_whole(catalogue, number, view.stored.version, (D(170), "EUR", TODAY))
    again = goals.read_goal(catalogue, number)
    assert again.whole.as_one is not None and again.whole.as_one.amount == 170
    for whole in ((D(-1), "EUR", TODAY), (D(1), "EURO", TODAY), (D(1), "EUR", TODAY + timedelta(1))):
        with pytest.raises(InputError):
            goals.say_whole(catalogue, number, again.stored.version, whole)
    by_number = {it.number: it.version for it in items.search_cards(catalogue, "subject c")}
    asks = [("C4", "7", "North"), ("C5", "11", "North"), ("C6", "19", "South"), ("C4", "6.5", "South")]
    with catalogue.database.transaction() as session:
        add_comps(session, [
            (by_number[card], Comp(CompKind.ASK, TODAY, D(price), "EUR", D(3), D(0), "NM", market=market))
            for card, price, market in asks
        ])  # fmt: skip
    found = goals.fill_by_basket(catalogue, number, [])
    assert found.basket.total == D("6.5") + 11 + 19 + 3 + 3 and found.basket.proven and found.asks == 4
    assert "3 of 5 for 42.50 in 2 orders; each as an order of its own they cost 45.50." in found.verdict.text()
    dear = goals.fill_by_basket(catalogue, number, [SellerTerms("South", D(3), D(2), None, 0)])
    assert dear.basket.total == 7 + 11 + 3 + 19 + 3
    with catalogue.database.transaction() as session:  # one that nobody says the shipping of counts the usual, said
        silent = Comp(CompKind.ASK, TODAY, D(1), "EUR", None, D(0), "NM", market="West")
        add_comps(session, [(by_number["C7"], silent)])
    west = goals.fill_by_basket(catalogue, number, [])
    assert west.basket.total == D("42.5") + 1 + 3 and "What West take for sending is not known" in west.verdict.text()
    packs = goals.finish_by_packs(catalogue, number)
    assert [it.format for it in packs] == ["box"] and packs[0].mean > 5 and packs[0].why_not is None
    # looser ones: each card of a line in any finish, and subjects at a grade
    loose = goals.put_goal(catalogue, 0, 0, GoalSaid("any", GoalKind.SLOTS, "test", "base", each=True))
    assert goals.list_goals(catalogue)[1].total == 100 and loose
    graded = GoalSaid("at 9", GoalKind.SLOTS, least="Plumbline:9", subjects=("Subject C1", "subject c2"))
    assert goals.read_goal(catalogue, goals.put_goal(catalogue, 0, 0, graded)).state.filled == 0
    rainbow = goals.put_goal(catalogue, 0, 0, GoalSaid("one", GoalKind.RAINBOW, "test", "c", "C1"))
    assert goals.read_goal(catalogue, rainbow).verdict.text().startswith("It is complete")
    with pytest.raises(Conflict, match="nothing is missing"):
        goals.fill_by_basket(catalogue, rainbow, [])
    for wrong in (GoalSaid(" ", GoalKind.SET, "test", "c"), GoalSaid("x", GoalKind.SET, "test", "zz"),
                  GoalSaid("x", GoalKind.SET), GoalSaid("x", GoalKind.SLOTS),
                  GoalSaid("x", GoalKind.RAINBOW, "test", "c"),
                  GoalSaid("x", GoalKind.SLOTS, subjects=("Nobody",)),
                  GoalSaid("x", GoalKind.SET, "test", "c", least="fine")):  # fmt: skip
        with pytest.raises(InputError):
            goals.put_goal(catalogue, 0, 0, wrong)
    goals.remove_goal(catalogue, number)
    assert "Line c" not in [it.stored.name for it in goals.list_goals(catalogue)]


def test_what_hardly_sells_is_lent_a_value_and_the_sum_says_how_wide_it_is(catalogue: Catalogue) -> None:
    random = np.random.default_rng(3)
    seen = [Seen(line, str(at), f"Light {at}") for line in ("Base", "Gold", "Slate") for at in range(1, 13)]
    cards = naming.name_cards(catalogue, WRACK, seen)
    subject = random.normal(0, 0.5, 12)
    level = {"Base": 1.0, "Gold": 2.5, "Slate": 1.8}
    truth = {it.version: level[it.line_name] + subject[int(it.number) - 1] for it in cards}
    comps = [
        (it.version, Comp(CompKind.SOLD, TODAY - timedelta(int(random.integers(0, 300))),
                          D(f"{np.exp(truth[it.version] + random.normal(0, 0.15)):.2f}"), "EUR", D(0), D(0), "NM"))
        for it in cards for _ in range(0 if it.number in ("3", "9") and it.line_name == "Gold" else 2)
    ]  # fmt: skip
    with catalogue.database.transaction() as session:
        add_comps(session, comps)
    pile = Pile("tidewrack-1987", None, "Gold", "box 1", "NM")
    enter(catalogue, pile, "3", "9 x2", "4")
    task = borrowing.ask_borrowing(catalogue)
    assert borrowing.read_borrowing(catalogue).task == task
    carry_out_task(catalogue.database, task.number, borrowing.borrow_runs(catalogue))
    found = borrowing.read_borrowing(catalogue)
    assert found.task is not None and found.task.state is TaskState.DONE and found.summed is not None
    (lent,) = found.releases
    assert lent.sales == 68 and lent.values == 36 and lent.of == 34
    bare = next(it for it in cards if (it.line_name, it.number) == ("Gold", "3"))
    value = borrowing.read_lent(catalogue, bare.release, bare.line, "3", "", "NM")
    assert value is not None and value.low is not None and value.high is not None
    assert abs(np.log(float(value.amount)) - truth[bare.version]) < 0.5 and value.low < value.amount < value.high
    assert value.own_sales == 0 and "held out" in value.honesty
    (item,) = items.all_items(catalogue.database, ItemFilter(find="light 9, gold"))
    assert item.value is not None and item.value > 0  # what is held is worth that now
    assert found.summed.low < found.summed.middle < found.summed.high and found.after is not None
    assert found.after.half_width < found.summed.half_width
    assert {it.card.number for it in found.look_ups} == {"3", "9", "4"}
    assert found.verdict is not None and "3 values are borrowed" in found.verdict.text()
    changed = borrowing.ask_borrowing(catalogue)
    carry_out_task(catalogue.database, changed.number, borrowing.borrow_runs(catalogue))
    assert borrowing.read_borrowing(catalogue).summed == found.summed  # done again, nothing is recorded twice
    # another release, with three sales of its own, is lent to by the subjects that both have
    other = SeenRelease("Tidewrack", 1988)
    theirs = naming.name_cards(catalogue, other, [Seen("Base", str(at), f"Light {at}") for at in range(1, 13)])
    with catalogue.database.transaction() as session:
        add_comps(session, [
            (it.version, Comp(CompKind.SOLD, TODAY, D(f"{np.exp(1.4 + subject[int(it.number) - 1]):.2f}"), "EUR", D(0),
                              D(0), "NM")) for it in theirs[:3]
        ])  # fmt: skip
    assert borrowing.read_lent(catalogue, "tidewrack-1988", theirs[5].line, "6", "", "NM") is None
    across = borrowing.ask_borrowing(catalogue, across=True)
    carry_out_task(catalogue.database, across.number, borrowing.borrow_runs(catalogue))
    (both,) = borrowing.read_borrowing(catalogue).releases
    assert (both.key, both.others) == ("tidewrack-1987", ("tidewrack-1988",)) and both.sales == 71
    lent_there = borrowing.read_lent(catalogue, "tidewrack-1988", theirs[5].line, "6", "", "NM")
    assert lent_there is not None and abs(np.log(float(lent_there.amount)) - 1.4 - subject[5]) < 0.5


def test_doubles_make_lots_and_sets_a_list_of_what_to_pull(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    enter(catalogue, Pile("test", None, "base"), "1 x30", "2 x10")
    enter(catalogue, Pile("test", None, "c"), "C8 x3")
    view = lots.read_doubles(catalogue, TermsSaid("100 2, 1000 3", D(500), hourly=D(0)))
    assert [(it.line, it.cards, it.worth) for it in view.sets] == [("Base", 38, D("1.90"))]  # C8 sells by itself
    assert view.together is not None and view.together.net == D("0.5") * 38 - 3
    assert view.verdict is not None and view.verdict.text().startswith("Sell 38 doubles in one lot")
    dear = lots.read_doubles(catalogue, TermsSaid("100 2, 1000 3", D(4)))
    assert dear.together is not None and dear.together.give_away
    with pytest.raises(InputError, match="like 1000 4.50"):
        lots.read_doubles(catalogue, TermsSaid("a stamp"))
    pulls = pulling.read_pulls(catalogue, "test", 12.0, 1.5)
    by_line = {it.line: [card.card.number for card in it.found.pulled] for it in pulls.lines}
    assert by_line["Base"] == [] and by_line["C"][:2] == ["C8", "C7"] and "Pull" in pulls.verdict.text()
    short = pulling.list_all_pulls(catalogue, 12.0, 1.5)
    assert [it.key for it in short.sets] == ["test"] and short.sets[0].look_up is not None
    assert short.verdict.text().startswith("Looking cards up pays in 1 of 1 sets; a look costs 0.30.")
    with pytest.raises(NotFound):
        pulling.read_pulls(catalogue, "nowhere", None, None)
