"""What the pages ask while somebody types and chooses: lines that are understood, prospects, entry without waiting."""

import pytest

from tests.api.test_collecting import Caller, bought, call
from tests.conftest import TODAY
from tobbix.formats.product_sheets import parse_sheet

__all__ = ["call"]  # the fixture
HERE = {"received_on": str(TODAY)}


def test_a_purchase_in_one_line_is_understood_by_what_is_known_and_judged_before_it_is_booked(call: Caller) -> None:
    read = call("GET", "purchases/reading?line=2 test box 110 %2B 4,50 gav")
    assert (read["count"], [cost["kind"] for cost in read["costs"]]) == (2, ["price", "shipping"])
    box = read["things"][0]
    assert (box["kind"], box["name"], box["format"]) == ("sealed", "Test 2025, Box", "box")
    assert (read["seller"], read["knows_seller"]) == ("gav", False)
    call("POST", "purchases", {**bought(seller="Gavel Row"), "once": "s"}, 201)
    read = call("GET", "purchases/reading?line=A10 3 gavel")
    assert (read["seller"], read["knows_seller"]) == ("Gavel Row", True)
    card = read["things"][0]
    assert (card["kind"], card["line"], card["number"], card["value"]) == ("card", "a", "A10", "10")
    assert call("GET", "purchases/reading?line=wooden sign 4")["things"] == [
        {"kind": "other", "name": "wooden sign", "release": None, "format": None, "line": None, "number": None,
         "variant": None, "value": None},
    ]  # fmt: skip
    assert call("GET", "purchases/reading?line=")["things"] == []

    call("PUT", "preferences", {**preferences(call), "monthly_limit": "200"})
    shown = call("POST", "purchases/preview", bought())
    prospect, nothing = shown["prospects"]
    assert nothing is None and prospect["paid"] == "55.715"  # 111.43 for two
    assert 0 < prospect["loss"] < 1 and prospect["mean"] > 0 and prospect["sealed"] is None
    assert (shown["spent"], shown["after"], shown["limit"]) == ("120", "240", "200")
    words = "".join(part["text"] for part in shown["verdict"]["sentence"] + shown["verdict"]["rests_on"])
    assert "2 × Test 2025, Box and 1 other thing, 120.00 landed: 55.72 each" in words
    assert "This takes November to 240.00 of your 200.00: over the limit that you set." in words


def preferences(call: Caller) -> dict[str, object]:
    kept = dict(call("GET", "preferences"))
    for name in ("currency", "currency_open", "sheet_condition", "school"):
        kept.pop(name, None)
    return kept


def test_cards_are_logged_by_what_was_typed_and_a_full_pack_moves_on(call: Caller) -> None:
    call("POST", "purchases", {**bought(**HERE), "once": "b"}, 201)
    sealed = call("GET", "sessions")["openable"][0]
    assert sealed["prospect"]["paid"] == "55.715" and sealed["verdict"]["sentence"][0]["text"].startswith(
        "You paid 55.7"
    )
    number = call("POST", "sessions", {"once": "s", "item": sealed["item"], "boxes": 1}, 201)["number"]
    here = f"sessions/{number}"
    view = call("GET", here)
    assert view["prospect"]["paid"] == "55.715" and set(view["pack_sizes"]) == {6}
    assert call.refused("POST", f"{here}/pulls", {"pack": 1, "find": "nobody"})["find"].endswith("is called “nobody”")
    assert call.refused("POST", f"{here}/pulls", {"pack": 1, "find": "A10", "place": 9})["find"].startswith("only 1 of")
    assert call.refused("POST", f"{here}/pulls", {"pack": 1}) == {"find": "say which card it is"}
    for turn in range(6):
        pull = {"once": f"p{turn}", "pack": 1, "find": str(turn + 1)}
        view = call("POST", f"{here}/pulls", pull)
        assert call("POST", f"{here}/pulls", pull) == view  # the answer was lost, and it was sent again
        assert view["current_pack"] == (2 if turn == 5 else 1)
    assert [pull["card"] for pull in view["pulls"]] == ["1", "2", "3", "4", "5", "6"] and view["prospect"] is None
    assert call.refused("POST", f"{here}/pulls", {"pack": 1, "find": "7"}) == {"count": "pack 1 is full"}
    view = call("POST", f"{here}/pack", {"pack": 3, "rest_of": 2})
    assert view["current_pack"] == 3 and view["pulls"][-1]["count"] == 6
    assert (
        call("POST", f"{here}/pack", {"pack": 3, "rest_of": 2})["pulls"] == view["pulls"]
    )  # a full pack stays as it is
    back = {"once": "back"}
    last = view["pulls"][-1]["number"]
    assert call("DELETE", f"{here}/pulls/{last}", back)["current_pack"] == 2
    assert call("DELETE", f"{here}/pulls/{last}", back)["current_pack"] == 2  # taken back once


def test_many_rows_are_found_by_words_changed_together_or_not_at_all_split_and_joined(call: Caller) -> None:
    call("POST", "purchases", {**bought(**HERE), "once": "b"}, 201)
    for once in ("c", "d"):
        card = {"name": "Subject A10, A", "release": "test", "line": "a", "number": "A10", "count": 1, "value": "10"}
        call("POST", "items/one", {**card, "once": once}, 201)
    listed = call("GET", "items?find=a10 subject")["items"]
    assert len(listed) == 3 and call("GET", "items?find=subject nobody")["items"] == []
    assert len(call("GET", "items?doubles=true")["items"]) == 3
    assert [item["kind"] for item in call("GET", "items?worth=100")["items"]] == ["sealed"]
    assert call("GET", "items?condition=none")["items"] and not call("GET", "items?condition=NM")["items"]
    chosen = [{"number": item["number"], "version": item["version"]} for item in listed]
    call("PUT", "items", {"items": chosen, "place": "tin 9", "condition": "NM"}, 204)
    assert len(call("GET", "items?place=Tin 9&condition=NM")["items"]) == 3
    stale = [{**chosen[0], "version": chosen[0]["version"] + 1}, chosen[1]]  # the second was changed meanwhile
    call("PUT", "items", {"items": stale, "place": "lid"}, 409)
    assert call("GET", "items?place=lid")["items"] == []  # none of them
    typed = [item["number"] for item in listed if item["purchase"] is None]
    call("POST", "items/join", {"numbers": typed}, 204)
    joined = next(item for item in call("GET", "items?find=a10")["items"] if item["count"] == 2)
    made = call("POST", f"items/{joined['number']}/split", {"count": 1}, 201)["number"]
    assert call("GET", f"items/{made}")["count"] == 1
    assert call.refused("POST", f"items/{joined['number']}/split", {"count": 5})
    now = [{"number": it["number"], "version": it["version"]} for it in call("GET", "items?find=a10")["items"]]
    call("POST", "items/out", {"items": now, "action": "give_away", "why": "to a neighbour"}, 204)
    assert call("GET", "items?find=a10")["items"] == []
    books = call("GET", "books")
    assert (books["off"], books["stock_off"]) == ("0", "0")


def test_only_the_change_that_is_named_is_taken_back_and_a_removed_release_is_found_again(call: Caller) -> None:
    def price(number: str, text: str) -> int:
        revision = call("GET", "releases/test")["release"]["price_revision"]
        said = call("PUT", "releases/test/lines/c/price", {"number": number, "price": text, "price_revision": revision})
        assert number in said["what"]
        return int(said["change"])

    first, second = price("C8", "150"), price("C7", "90")
    refused = call("POST", f"releases/test/undo?change={first}", None, 409)
    assert "something came after it: price of C C7" in refused["detail"]
    assert "C7" in call("POST", f"releases/test/undo?change={second}")["undone"]
    assert "C8" in call("POST", f"releases/test/undo?change={first}")["undone"]
    call("DELETE", "releases/test", None, 204)
    shelf = call("GET", "releases")
    assert shelf["releases"] == [] and shelf["removed"] == [{"id": "test", "title": "Test 2025"}]
    call("POST", "releases/test/restore", None, 204)
    assert call("GET", "releases")["removed"] == []


def test_a_column_of_prices_is_one_change_or_none_and_a_case_has_a_price_of_its_own(call: Caller) -> None:
    here = "releases/test"
    revision = call("GET", here)["release"]["price_revision"]
    said = [{"number": "A1", "price": "3.50"}, {"number": "A2", "price": "lots"}, {"number": "Z9", "price": "1"}]
    faults = call.refused("PUT", f"{here}/lines/a/prices", {"prices": said, "price_revision": revision})
    assert list(faults) == ["prices[1].price", "prices[2].number"]
    said = [{"number": "A1", "price": "3.50"}, {"number": "A2", "price": ""}]
    done = call("PUT", f"{here}/lines/a/prices", {"prices": said, "price_revision": revision})
    cards = {card["number"]: card["price"] for card in call("GET", f"{here}/lines/a/cards")["cards"]}
    assert (done["what"], cards["A1"], cards["A2"], cards["A3"]) == ("2 prices of A", "3.50", None, "1.00")
    call("PUT", f"{here}/lines/a/prices", {"prices": said, "price_revision": revision}, 409)  # on what stood before
    call("POST", f"{here}/undo?change={done['change']}")
    cards = {card["number"]: card["price"] for card in call("GET", f"{here}/lines/a/cards")["cards"]}
    assert (cards["A1"], cards["A2"]) == ("1.00", "1.00")

    ten = f"{here}/formats/box/answer?boxes=10"
    revision = call("GET", here)["release"]["price_revision"]
    assert call("GET", ten)["price"] is None
    case: dict[str, object] = {"price": "550.00", "price_revision": revision}
    done = call("PUT", f"{here}/formats/box/case-price", case)
    assert call("GET", here)["release"]["formats"][0]["case_price"] == "550.00"
    assert call("GET", ten)["price"] == 55.0  # each of a case of ten
    units = {unit["name"]: unit["price"] for unit in call("GET", f"{here}/formats/box/answer")["units"]}
    assert (units["Box"], units["Case of 10"]) == (None, 550.0)  # a box alone has none still
    call("POST", f"{here}/undo?change={done['change']}")
    assert call("GET", here)["release"]["formats"][0]["case_price"] is None


def test_a_release_is_begun_by_hand_from_what_is_known(call: Caller) -> None:
    said = {
        "name": "Tidewrack", "year": 2026, "publisher": "Ottergate Press", "series": None, "format": "Chest",
        "packs_per_box": 12, "cards_per_pack": 6, "boxes_per_case": 8, "price": "90.00", "base_cards": 60,
        "lines": [
            {"name": "Fog Bells", "cards": 10, "odds": "1:4", "price": "3"},
            {"name": "Anchor Marks", "cards": 2, "odds": "1 per box, guaranteed", "price": ""},
        ],
    }  # fmt: skip
    wrong = {**said, "name": " ", "lines": [{"name": "", "cards": 0, "odds": "often", "price": ""}]}
    assert list(call.refused("POST", "releases/begin", wrong)) == ["name", "lines[0].name", "lines[0].cards"]
    wrong = {**said, "lines": [{**said["lines"][0], "odds": "often"}]}
    assert list(call.refused("POST", "releases/begin", wrong)) == ["lines[0].odds"]
    done = call("POST", "releases/begin", said, 201)
    assert (done["release"], done["title"], done["outcome"]) == ("tidewrack-2026", "Tidewrack 2026", "added")
    found = call("GET", "releases/tidewrack-2026")
    assert [(line["name"], line["cards"], line["unpriced"]) for line in found["lines"]] == [
        ("Base", 60, 60), ("Fog Bells", 10, 0), ("Anchor Marks", 2, 2),
    ]  # fmt: skip
    answer = call("GET", "releases/tidewrack-2026/formats/box/answer?basis=gross")
    fog = next(share for share in answer["by_line"] if share["line"] == "fog-bells")
    assert (fog["hits"], fog["value"]) == pytest.approx((3.0, 9.0))  # 12 packs at 1:4, 3.00 each
    assert answer["verdict"]["sentence"] and answer["unknown"] != []  # what nobody priced is said, not counted
    again = call("POST", "releases/begin", said, 201)
    assert again["release"] == "tidewrack-2026-2"  # another of that name goes by a key of its own
    for form in ("xlsx", "json", "zip"):
        empty = call.client.get(f"/api/empty-sheet.{form}").get_data()
        assert parse_sheet(empty).sheet.release.name == "Name of the release"
