"""Openings on the real store: pack by pack, in parts, taken back; results, weights and redemptions."""

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal as D

import pytest

from tests.conftest import TODAY
from tests.services.test_collector import BOUGHT, balanced, boxes, start
from tests.services.test_products import take
from tests.sheets import example_1, line
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.holdings.allocation import Method
from tobbix.core.holdings.states import Action
from tobbix.core.opening.session import Pulled
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.valuation import ONE_BOX
from tobbix.core.products.worth import ValueBasis
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.books import books
from tobbix.services.buying import amending, purchasing
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import PurchaseInput, ThingInput
from tobbix.services.opening import closing, finding, opening, preparing, redeeming, results, viewing, weighing
from tobbix.services.products import answering
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import items


def test_a_box_is_opened_pack_by_pack_and_its_cost_moves_to_the_cards(catalogue: Catalogue) -> None:
    item, session = start(catalogue)
    assert viewing.read_session(catalogue, session).ahead.packs == 12  # the pack in the hand may still hold anything
    opening.log_pull(catalogue, session, Pulled(1, "a", "A10"), "1")
    assert viewing.read_session(catalogue, session).ahead.packs == 11
    opening.log_pull(catalogue, session, Pulled(1, "a", "A10"), "1")  # sent twice
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8", flaw="soft corner"), "2")
    opening.log_pull(catalogue, session, Pulled(1, "a", "A1"), "3")
    opening.undo_pull(catalogue, session)
    view = viewing.read_session(catalogue, session)
    assert (len(view.pulls), view.pack_room, view.pulled_worth) == (2, 4, 130.0) and view.ahead.hits["c"] == 0
    opening.turn_pack(catalogue, session, 2, rest_of=1)
    opening.pause_session(catalogue, session)
    assert viewing.read_session(catalogue, session).session.state == "paused"
    with pytest.raises(InputError):
        opening.log_pull(catalogue, session, Pulled(2, "a", "A99"), "4")
    for pack in range(2, 13):
        opening.turn_pack(catalogue, session, min(pack + 1, 12), rest_of=pack)
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    made = items.list_items(catalogue.database, items.ItemFilter(session=session), "value", True, 0, 50)
    sums = items.sum_items(catalogue.database, items.ItemFilter(session=session))
    assert sums.count == 72 and [i.name for i in made.items[:2]] == ["Subject C8, C", "Subject A10, A"]
    assert sums.basis == D("50.000")  # half of 125.00, a fifth of it for fun
    assert made.items[0].note == "soft corner" and made.items[0].basis == D("44.94")
    seen = items.read_item(catalogue.database, item)
    sealed, _ = seen.item, seen.history
    assert (sealed.count, sealed.basis, sealed.state) == (1, D("62.500"), "held")
    judged = {r.line: r for r in results.read_results(catalogue, "test", "box", 24).results}
    assert judged["a"].observed == 1 and judged["a"].packs == 12 and judged["c"].right is True
    balanced(catalogue.database)
    with pytest.raises(Conflict):
        opening.log_pull(catalogue, session, Pulled(1, "a", "A1"), "9")


def test_the_steps_before_the_first_pack_hang_on_what_lies_there_and_are_kept(catalogue: Catalogue) -> None:
    _, session = start(catalogue)
    steps = preparing.list_steps(catalogue, session)
    ids = [step.id for step, _ in steps]
    assert {"wrap", "count", "blade"} < set(ids) and "cost" not in ids  # what it cost is known
    assert "12 packs in a box" in {step.id: step.text for step, _ in steps}["count"]
    for _ in range(2):  # a second tap changes nothing
        preparing.tick(catalogue, session, "wrap", True)
    preparing.tick(catalogue, session, "blade", True)
    preparing.tick(catalogue, session, "wrap", False)
    assert [step.id for step, done in preparing.list_steps(catalogue, session) if done] == ["blade"]
    with pytest.raises(NotFound):
        preparing.tick(catalogue, session, "cost", True)


def test_what_is_for_fun_is_as_it_was_said_when_it_was_bought(catalogue: Catalogue) -> None:
    _, session = start(catalogue, entertainment=None)
    assert viewing.read_session(catalogue, session).session.entertainment == 0
    number = purchasing.record_purchase(
        catalogue.database, boxes(received_on=BOUGHT, entertainment=D("0.3")), "fun", TODAY
    )
    item = purchasing.read_purchase(catalogue.database, number).things[0].number
    other = opening.start_session(catalogue, opening.SessionInput(item), "other")
    assert viewing.read_session(catalogue, other).session.entertainment == D("0.3")


def test_packs_off_the_record_are_totals_that_are_taken_back_together(catalogue: Catalogue) -> None:
    _, session = start(catalogue)
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    for _ in range(2):  # sent twice
        opening.log_totals(catalogue, session, 6, [("a", 3), ("b", 1)], "t")
    view = viewing.read_session(catalogue, session)
    counts = {line: sum(p.pull.count for p in view.pulls if p.pull.line == line) for line in ("a", "b", "base")}
    assert counts == {"a": 3, "b": 1, "base": 6 * 6 - 5} and view.session.current_pack == 7
    worths = {pull.worth for pull in view.pulls if pull.pull.line == "a"}
    assert worths == {2.5}  # the line's average, since nobody knows which card it was
    hot = finding.judge_hot_box(catalogue, session, "a", 20, 2)
    odds = 1 / 19 * 2**3 * ((1 - 2 / 3) / (1 - 1 / 3)) ** (hot.packs - 3)
    assert (hot.packs, hot.hits) == (6, 3) and hot.chance == pytest.approx(odds / (1 + odds))
    with pytest.raises(InputError, match="do not fit"):
        opening.log_totals(catalogue, session, 1, [("a", 7)], "u")
    with pytest.raises(InputError, match="no hits of"):
        opening.log_totals(catalogue, session, 1, [("base", 1)], "v")
    with pytest.raises(InputError, match="that are left"):
        opening.log_totals(catalogue, session, 7, [], "w")
    opening.undo_pull(catalogue, session)
    view = viewing.read_session(catalogue, session)
    assert [pull.pull.card for pull in view.pulls] == ["C8"] and view.session.current_pack == 1 and view.luck is None
    opening.log_totals(catalogue, session, 12, [("a", 4)], "x")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    # Worth 120 for the card, 10 for the hits: only a box that pulls as dear a card and much else holds as much.
    assert 0.9 < (viewing.read_session(catalogue, session).luck or 0) < 1
    balanced(catalogue.database)


def test_own_results_move_the_odds_and_two_formats_are_set_against_each_other(catalogue: Catalogue) -> None:
    made = example_1()
    made["formats"].append({**made["formats"][0], "id": "tin", "name": "Tin"})
    for one in made["lines"][1:]:
        one["odds"].append({**one["odds"][0], "format": "tin"})
    take(catalogue, made)
    for fmt, hits in (("box", 1), ("tin", 3)):
        things = (ThingInput("sealed", fmt, 1, "test", fmt),)
        charges = (ChargeInput("price", D("50.00") if fmt == "box" else D("75.00"), "EUR", BOUGHT),)
        bought = PurchaseInput(fmt, BOUGHT, charges, things, received_on=BOUGHT)
        number = purchasing.record_purchase(catalogue.database, bought, fmt, TODAY)
        item = purchasing.read_purchase(catalogue.database, number).things[0].number
        session = opening.start_session(catalogue, opening.SessionInput(item), f"open {fmt}")
        for pack in range(1, hits + 1):
            opening.log_pull(catalogue, session, Pulled(pack, "a", f"A{pack}"), f"{fmt}{pack}")
        opening.turn_pack(catalogue, session, 12)
        closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    found = {line.line: line for line in results.compare_formats(catalogue, "test", "box", "tin")}["a"]
    assert found.hits == (1, 3) and found.per_pack.ratio == pytest.approx(1 / 3)
    assert found.per_money is not None and found.per_money.ratio == pytest.approx(1 / 3 * 75 / 50)
    assert found.per_pack.p_value == pytest.approx(0.625)  # 1 of 4 at one half, two-sided: 10 of 16
    stated, own = (
        answering.answer_holding(
            catalogue,
            "test",
            "box",
            ONE_BOX,
            None,
            ViewChoice(ValueBasis.GROSS),
            results.with_own_odds if flag else None,
        )
        for flag in (False, True)
    )
    # Three expected hits count as stated: of a in 9 packs and 1 in the 12 opened, of b in 72 packs and none in 12.
    moved = 12 * ((4 / 21 - 1 / 3) * (2.5 - 0.05) + (3 / 84 - 1 / 24) * (9.4 - 0.05))
    assert own.worked.value.mean - stated.worked.value.mean == pytest.approx(moved, abs=1e-3)
    assert {note.line for note in own.worked.value.assumed if note.by_owner} == {"a", "b"}


def test_a_box_begun_by_somebody_else_counts_his_word_for_what_it_is_trusted(catalogue: Catalogue) -> None:
    item, session = start(catalogue, gone=6, trust=0.7)
    view = viewing.read_session(catalogue, session)
    assert view.ahead.hits["c"] == pytest.approx(0.7) and view.session.current_pack == 7
    assert [card.number for card in finding.find_in_box(catalogue, session, "c8")] == ["C8"]
    assert finding.find_in_box(catalogue, session, "Subject A")[0].line == "a"
    with pytest.raises(Conflict, match="opened already"):
        opening.start_session(catalogue, opening.SessionInput(item), "another")


def test_what_was_said_of_a_stack_comes_back_with_it(catalogue: Catalogue) -> None:
    """Two boxes said to be worth 130: one of them opened is 65, and 130 again when its opening is taken back."""
    item, session = start(catalogue)
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    assert items.read_item(catalogue.database, item).item.value == D("65.00")
    closing.undo_finish(catalogue, session)
    view = viewing.read_session(catalogue, session)
    assert (view.session.item, items.read_item(catalogue.database, item).item.value) == (item, D("130.00"))
    assert items.read_item(catalogue.database, item).item.count == 2


def test_packs_nobody_opened_keep_their_cost_and_an_opening_can_be_taken_back(catalogue: Catalogue) -> None:
    item, session = start(catalogue, boxes=2)  # two of two boxes at 62.50, a fifth for fun
    store = catalogue.database
    opening.log_pull(catalogue, session, Pulled(13, "c", "C8"), "1")
    opening.log_pull(catalogue, session, Pulled(14, "a", "A10"), "2")
    wrong = viewing.read_session(catalogue, session).pulls[0].pull.number
    opening.undo_pull(catalogue, session, wrong)  # not the last one
    opening.log_pull(catalogue, session, Pulled(15, "c", "C1"), "3")
    closing.finish_session(catalogue, session, rest_is_base=False, stopped_hot=False)
    view = viewing.read_session(catalogue, session)
    assert (view.session.packs, view.session.boxes, view.luck) == (15, 2, None)
    judged = {line.line: line for line in view.results}
    assert judged["a"].packs == 15 and judged["c"].right is False  # the first box, a whole one, held none
    left = next(iter(finding.list_openable(catalogue))).item
    # 9 of 24 packs: 46.875 of 125.00, the half cent stays with what was opened.
    assert (left.basis, left.packs_gone, left.hits_gone) == (D("46.870"), 3, {"c": 1})
    made = items.sum_items(store, items.ItemFilter(session=session))
    assert made.count == 15 * 6 and made.basis == D("62.50")  # 78.13, less a fifth
    balanced(store)

    again = opening.start_session(catalogue, opening.SessionInput(left.number), "again")
    going_on = viewing.read_session(catalogue, again)
    assert (going_on.session.gone, going_on.session.current_pack, going_on.ahead.packs) == (3, 4, 9)
    assert going_on.ahead.hits["c"] == 0 and going_on.cost == left.basis
    with pytest.raises(Conflict, match="packs left: 9 packs is being opened; finish session"):
        closing.undo_finish(catalogue, session)
    opening.log_totals(catalogue, again, 4, [("a", 1)], "t")
    closing.finish_session(catalogue, again, rest_is_base=False, stopped_hot=False)
    rest = next(iter(finding.list_openable(catalogue))).item
    assert (rest.name, rest.basis, rest.packs_gone) == ("Test 2025, Box, packs left: 5 packs", D("26.04"), 7)
    balanced(store)

    closing.undo_finish(catalogue, again)
    view = viewing.read_session(catalogue, again)
    assert (view.session.state, view.cost, view.session.packs) == ("running", D("46.870"), 12)
    assert items.read_item(store, rest.number).item.state == "undone"
    balanced(store)
    closing.finish_session(catalogue, again, rest_is_base=True, stopped_hot=False)
    card = items.list_items(store, items.ItemFilter(session=again), "value", True, 0, 1).items[0]
    items.take_out(store, card.number, card.version, Action.LOSE, TODAY, "")
    with pytest.raises(Conflict, match="something came after it: .*“lost: "):
        closing.undo_finish(catalogue, again)
    balanced(store)
    with pytest.raises(InputError, match="promises 1"):
        said = opening.SessionInput(item, gone=2, gone_hits={"c": 2})
        opening.start_session(catalogue, replace(said, item=whole_box(catalogue)), "w")


def test_what_came_out_is_divided_again_by_today_s_values(catalogue: Catalogue) -> None:
    _, session = start(catalogue, entertainment=None)
    for place, card in enumerate(("A10", "A1")):
        opening.log_pull(catalogue, session, Pulled(1, "a", card), str(place))
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    made = example_1()
    made["lines"][1]["cards"][0]["price"] = "40"  # A1 was worth 1
    take(catalogue, made, replace_existing=True)
    version = viewing.read_session(catalogue, session).session.version
    shown = closing.divide_session(catalogue, session, version, Method.VALUE, book=False)
    # 62.50 over 40, 10 and 70 base cards at 0.05, together 53.50.
    assert {part.name: part.share for part in shown} == {
        "Subject A1, A": D("46.73"), "Subject A10, A": D("11.68"), "Base, not listed": D("4.09"),
    }  # fmt: skip
    before = items.list_items(catalogue.database, items.ItemFilter(session=session), "value", True, 0, 3).items
    assert {row.name: row.basis for row in before}["Subject A1, A"] < 5  # only shown
    with pytest.raises(Conflict, match="changed meanwhile"):
        closing.divide_session(catalogue, session, version + 1, Method.VALUE, book=True)
    closing.divide_session(catalogue, session, version, Method.VALUE, book=True)
    row = items.list_items(catalogue.database, items.ItemFilter(session=session), "value", True, 0, 1).items[0]
    assert (row.name, row.basis, row.value) == ("Subject A1, A", D("46.730"), D("40.000"))
    assert [e.event for e in items.read_item(catalogue.database, row.number).history] == ["opening", "division"]
    closing.undo_finish(catalogue, session)  # and all of it can still be taken back
    assert viewing.read_session(catalogue, session).cost == D("62.500")
    balanced(catalogue.database)


def whole_box(catalogue: Catalogue) -> int:
    number = purchasing.record_purchase(catalogue.database, boxes(received_on=BOUGHT), "whole", TODAY)
    return purchasing.read_purchase(catalogue.database, number).things[0].number


def test_weights_come_from_the_scale_and_redemptions_wait(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    scale = SimulatedScale(seed=3)
    for index in range(8):
        weighing.log_weight(catalogue, scale, "test", "box", "box", None, index % 2 == 0)
    rows, said, _ = weighing.read_weights(catalogue, "test", "box", "box")
    assert len(rows) == 8 and said is not None and said.with_hit == 4
    redeeming.put_redemption(catalogue, None, None, {"name": "Build a Light", "code": "X1", "due_on": TODAY})
    row = redeeming.list_redemptions(catalogue)[0]
    with pytest.raises(Conflict):
        redeeming.put_redemption(catalogue, row.number, 7, {"arrived_on": TODAY})
    with pytest.raises(InputError):
        redeeming.put_redemption(catalogue, row.number, 1, {"arrived_on": TODAY + timedelta(1)})


def test_a_redeemed_card_carries_its_cost_on_to_what_comes_by_post(catalogue: Catalogue) -> None:
    made = example_1()
    made["lines"][3]["redemption"] = True
    take(catalogue, made)
    number = purchasing.record_purchase(catalogue.database, boxes(received_on=BOUGHT), "k", TODAY)
    item = purchasing.read_purchase(catalogue.database, number).things[0].number
    session = opening.start_session(catalogue, opening.SessionInput(item), "s")
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    card = redeeming.list_redeemable(catalogue)[0]
    said = {"name": card.name, "code": "BL-1", "choices": "three fronts", "item_id": card.number, "posted_on": TODAY}
    redeeming.put_redemption(catalogue, None, None, said)
    assert redeeming.list_redeemable(catalogue) == []
    row = redeeming.list_redemptions(catalogue)[0]
    came = {**said, "chosen": "Build a Light, front 2", "arrived_on": TODAY}
    redeeming.put_redemption(catalogue, row.number, 1, came)
    view = items.read_item(catalogue.database, card.number)
    changed, history = view.item, view.history
    assert (changed.name, changed.basis) == ("Build a Light, front 2", card.basis) and changed.basis
    assert "Subject C8, C to Build a Light" in history[-1].text
    redeeming.put_redemption(catalogue, row.number, 2, {**came, "arrived_on": None})
    assert items.read_item(catalogue.database, card.number).item.name == card.name
    items.take_out(catalogue.database, card.number, 3, Action.LOSE, TODAY, "")
    with pytest.raises(Conflict, match="no longer held"):
        redeeming.put_redemption(catalogue, row.number, 3, came)


def test_a_card_of_unknown_value_is_asked_for_before_the_cost_moves(catalogue: Catalogue) -> None:
    made = example_1()
    made["lines"].append(line("post", ["7", None, None], None, "unstated"))
    take(catalogue, made)
    number = purchasing.record_purchase(catalogue.database, boxes(received_on=BOUGHT), "k", TODAY)
    item = purchasing.read_purchase(catalogue.database, number).things[0].number
    session = opening.start_session(catalogue, opening.SessionInput(item), "s")
    for place, card in enumerate(("POST1", "POST2", "POST2")):  # its odds are not stated; it has names and a price
        opening.log_pull(catalogue, session, Pulled(1, "post", card), str(place))
    view = viewing.read_session(catalogue, session)
    assert [(p.subject, p.worth) for p in view.pulls[:2]] == [("Subject POST1", 7.0), ("Subject POST2", None)]
    assert [(u.line, u.card, u.count) for u in view.unvalued] == [("post", "POST2", 2)]
    assert view.ahead.rest > 0.15  # three cards of the pack are not logged, and may be hits
    with pytest.raises(InputError, match="Subject POST2, Post: the value is not known") as caught:
        closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    assert caught.value.faults[0].field == "cards"
    assert viewing.read_session(catalogue, session).session.is_alive
    worths: closing.Worths = {("post", "POST2"): D("10")}
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False, worths=worths)
    found = items.list_items(catalogue.database, items.ItemFilter(session=session), "value", True, 0, 9).items
    # 62.50 over 10, 10, 7 and 69 base cards at 0.05
    assert sorted(row.basis or 0 for row in found) == [D("7.08"), D("14.37"), D("20.52"), D("20.53")]
    assert [row.value for row in found][:2] == [10, 10]
    closing.undo_finish(catalogue, session)
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False, by_count=True)
    found = items.list_items(catalogue.database, items.ItemFilter(session=session), "count", True, 0, 9).items
    assert sum(row.basis or 0 for row in found) == D("62.50") and found[0].basis == D("59.89")
    balanced(catalogue.database)


def test_a_later_cost_and_a_refund_reach_what_an_opening_cost(catalogue: Catalogue) -> None:
    item, session = start(catalogue, entertainment=None)
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=True, stopped_hot=False)
    store = catalogue.database
    number = items.read_item(store, item).item.purchase or 0
    cost = viewing.read_session(catalogue, session).cost
    assert cost == D("62.50")

    def book(kind: str, amount: str) -> None:
        version = purchasing.read_purchase(store, number).version
        charge = ChargeInput("other", D(amount), "EUR", TODAY)
        act = amending.refund_purchase if kind == "refund" else amending.add_charge
        act(store, number, version, charge)
        balanced(store)

    book("duty", "12.50")  # half of it to the box that is sealed
    assert viewing.read_session(catalogue, session).cost == D("68.75")
    book("refund", "25.00")
    assert viewing.read_session(catalogue, session).cost == D("56.25")
    view = books.read_books(store)
    (lot,), (opened,) = view.lots, view.sessions
    assert (lot.paid, lot.back, lot.cost, opened.cost) == (D("137.50"), 25, D("112.50"), D("56.25"))
    assert (lot.basis, lot.realised, opened.realised) == (D("112.50"), 0, 0)
    assert (
        view.in_all == len(view.entries) and view.entries[0].things[0][1] == "Test 2025, Box"
    )  # entries name their things
    for row in items.list_items(store, items.ItemFilter(session=session), "value", True, 0, 9).items:
        items.take_out(store, row.number, row.version, Action.LOSE, TODAY, "")
    sealed = items.list_items(store, items.ItemFilter(kind="sealed"), "value", True, 0, 9).items[0]
    items.take_out(store, sealed.number, sealed.version, Action.LOSE, TODAY, "")
    view = books.read_books(store)
    assert (view.lots[0].lost, view.lots[0].realised) == (D("112.50"), D("-112.50")) and view.sessions[0].basis == 0
    assert sum(month.realised for month in view.months) == D("-112.50")
    book("duty", "3.00")  # nothing of it is held: a cost of sales, and of both boxes alike
    assert viewing.read_session(catalogue, session).cost == D("57.75")


def test_the_longest_names_and_the_largest_amounts_are_met_or_refused_at_their_field(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    things = (ThingInput("sealed", "B" * 300, 1, "test", "box"),)
    said = boxes(received_on=BOUGHT, things=things, name="L" * 300)
    number = purchasing.record_purchase(catalogue.database, said, "k", TODAY)
    item = purchasing.read_purchase(catalogue.database, number).things[0].number
    session = opening.start_session(catalogue, opening.SessionInput(item), "s")
    opening.log_pull(catalogue, session, Pulled(1, "c", "C8"), "1")
    closing.finish_session(catalogue, session, rest_is_base=False, stopped_hot=False)
    left = items.list_items(catalogue.database, items.ItemFilter(kind="sealed"), "id", True, 0, 9).items[0]
    assert len(left.name) == 300 and left.name.endswith("B…, packs left: 11 packs")
    dear = ChargeInput("price", D("99999999"), "GBP", BOUGHT, rate=D("999999"))
    with pytest.raises(InputError, match="cannot be booked") as caught:
        purchasing.record_purchase(catalogue.database, boxes(charges=(dear,)), "dear", TODAY)
    assert caught.value.faults[0].field == "charges[0].amount"
