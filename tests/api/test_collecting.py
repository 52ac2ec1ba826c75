"""Buying, opening, stock and books over HTTP: the whole way of a box, what is refused, and which field is named."""

from io import BytesIO
from typing import Any

import pytest
from flask.testing import FlaskClient
from openpyxl import load_workbook

from tests.api.test_api import upload
from tests.conftest import TODAY, sign_in
from tests.sheets import example_1

DAY = str(TODAY)


class Caller:
    """A client that is signed in and says what was refused, by field."""

    def __init__(self, client: FlaskClient) -> None:
        self.client, self.headers = client, sign_in(client)
        upload(client, self.headers, example_1())

    def __call__(self, method: str, path: str, body: object = None, status: int = 200) -> Any:
        """Send a request; what its body says as ``once`` is the key of the act."""
        headers = self.headers
        if isinstance(body, dict) and "once" in body:
            headers = {**headers, "Idempotency-Key": body["once"]}
            body = {name: value for name, value in body.items() if name != "once"}
        answer = self.client.open(f"/api/{path}", method=method, json=body, headers=headers)
        assert answer.status_code == status, (answer.status_code, answer.get_data(as_text=True)[:400])
        return answer.json if answer.data else None

    def refused(self, method: str, path: str, body: object = None, status: int = 422) -> dict[str, str]:
        answer = self(method, path, body, status)
        return {fault["field"]: fault["message"] for fault in answer["faults"]}


@pytest.fixture
def call(client: FlaskClient) -> Caller:
    return Caller(client)


def bought(**more: object) -> dict[str, object]:
    charge = {"kind": "price", "amount": "120.00", "currency": "EUR", "day": DAY}
    thing = {"kind": "sealed", "name": "Test 2025, Box", "count": 2, "release": "test", "format": "box", "value": "130"}
    return {
        "name": "two boxes", "bought_on": DAY, "charges": [charge], "things": [thing, {
            "kind": "card", "name": "Subject A10, A", "release": "test", "line": "a", "number": "A10", "value": "10",
        }], **more,
    }  # fmt: skip


def test_a_lot_is_bought_shown_received_refunded_and_corrected(call: Caller) -> None:
    shown = call("POST", "purchases/preview", bought())
    assert (shown["landed"], shown["shares"]) == ("120", ["111.43", "8.57"])
    assert call("GET", "purchases")["purchases"] == []  # only shown
    for _ in range(2):  # sent twice, kept once
        number = call("POST", "purchases", {**bought(), "once": "k"}, 201)["number"]
    here = f"purchases/{number}"
    found = call("GET", here)
    assert (found["state"], found["version"], len(call("GET", "purchases")["purchases"])) == ("ordered", 1, 1)
    assert [(t["basis"], t["state"]) for t in found["things"]] == [("111.43", "in_transit"), ("8.57", "in_transit")]
    assert call.refused("POST", f"{here}/receive", {"version": 1, "day": "2026-01-01"})["day"].startswith("is before")
    found = call("POST", f"{here}/receive", {"version": 1, "day": DAY, "seal": True, "contents": False, "note": "wet"})
    assert (found["state"], found["dispute"]) == ("disputed", "contents not as described. wet")
    assert found["inspection"] == {"seal": True, "series": None, "contents": False, "note": "wet"}
    assert call("PUT", f"{here}/dispute", {"version": 2, "why": ""})["state"] == "received"
    money = {"amount": "12.00", "currency": "EUR", "day": DAY}
    found = call("POST", f"{here}/refund", {**money, "version": 3})
    assert [t["basis"] for t in found["things"]] == ["100.29", "7.71"]
    found = call("POST", f"{here}/charges", {**money, "kind": "duty", "version": 4, "currency": "GBP", "rate": "1.25"})
    assert (found["landed"], found["charges"][-1]["home"]) == ("123", "15")
    wrong = call.refused("POST", f"{here}/charges", {**money, "kind": "duty", "version": 5, "currency": "SEK"})
    assert "fetch or set one" in wrong["currency"]
    words = {"version": 5, "name": "a lot", "tracking": "GP1", "due_on": DAY}
    assert call("PUT", here, words)["tracking"] == "GP1"
    call("PUT", here, words, 409)  # a second window that saw the version before
    parts = [{"item": thing["number"], "weight": weight} for thing, weight in zip(found["things"], "13", strict=True)]
    body = {"version": 6, "method": "count", "parts": parts, "book": False}
    assert call("POST", f"{here}/divide", body)["shares"] == ["49.2", "73.8"]  # 2 x 1 to 1 x 3
    call("POST", f"{here}/divide", {**body, "book": True})
    events = [entry["event"] for entry in call("GET", here)["history"]]
    assert events == ["purchase", "receipt", "refund", "purchase", "division"]
    assert call("POST", f"{here}/undo", {"version": 7})["state"] == "undone"
    books = call("GET", "books")
    assert (books["off"], books["stock_off"]) == ("0", "0") and not any(float(b["amount"]) for b in books["balances"])


def test_every_fault_of_a_purchase_is_named_at_its_field(call: Caller) -> None:
    bad = bought(
        charges=[
            {"kind": "price", "amount": "1,50", "currency": "eu", "day": "soon", "rate": "-1"},
            {"kind": "bribe", "amount": "1", "currency": "EUR", "day": DAY},
        ],
        things=[{"kind": "card", "name": "x", "count": "many", "release": "no such/key"}],
        entertainment="1.5", secret=1,
    )  # fmt: skip
    faults = call.refused("POST", "purchases/preview", bad)
    assert faults["charges[0].amount"] == "is no amount; write it like 12.50"
    assert faults["charges[0].currency"] == "is no code of three capital letters"
    assert faults["charges[0].day"] == "is no day; write it like 2026-11-25"
    assert faults["charges[0].rate"] == "is no exchange rate; write it like 1.1650"
    assert faults["things[0].count"] == "is no whole number" and faults["entertainment"] == "is no share from 0 to 1"
    assert {"charges[1].kind", "things[0].release", "secret"} <= faults.keys()
    assert call.refused("POST", "purchases/preview", {"charges": []}).keys() >= {"name", "bought_on", "things"}
    empty = bought(name=" ", things=[{"kind": "card", "name": ""}])
    assert call.refused("POST", "purchases/preview", empty) == {
        "name": "say what was bought",
        "things[0].name": "say what it is",
    }
    both = bought(things=[{"kind": "card", "name": "a", "fixed": "200"}, {"kind": "card", "name": "b", "value": "1"}])
    assert "pass the cost" in call.refused("POST", "purchases/preview", {**both, "method": "residual"})["things"]
    assert "give its part" in call.refused("POST", "purchases/preview", {**both, "method": "hand"})["things[1].fixed"]
    call("GET", "purchases/99", status=404)


def test_rates_come_from_the_feed_and_one_set_by_hand_wins_until_it_is_taken_back(call: Caller) -> None:
    assert call("POST", "rates/fetch", {"days": 20})["count"] > 20
    pounds = bought(charges=[{"kind": "price", "amount": "100", "currency": "GBP", "day": DAY}])
    feed = call("POST", "purchases/preview", pounds)["charges"][0]
    assert feed["source"] == "simulated feed"
    call("PUT", "rates", {"currency": "GBP", "day": DAY, "rate": "1.5"}, 204)
    assert call("POST", "purchases/preview", pounds)["landed"] == "150"
    assert [(r["currency"], r["by_hand"]) for r in call("GET", "rates")["rates"]] == [
        ("GBP", True), ("GBP", False), ("USD", False),
    ]  # fmt: skip
    call("DELETE", f"rates/GBP/{DAY}", status=204)
    assert call("POST", "purchases/preview", pounds)["charges"][0] == feed
    call("DELETE", f"rates/GBP/{DAY}", status=404)
    assert call.refused("PUT", "rates", {"currency": "GBP", "day": DAY, "rate": "0"}) == {"rate": "must be over 0"}


def test_the_most_to_bid_and_what_to_offer(call: Caller) -> None:
    terms = "premium=0.2&tax=0.21&shipping=6"
    bid = call("GET", f"bid?net=84&margin=10&wanted_return=0.25&{terms}")
    assert (bid["bid"], bid["ceiling"]) == ("41.28", 67.2)
    untaxed = call("GET", f"bid?ceiling=67.2&{terms}&tax_on_shipping=false&increment=0.5")
    assert untaxed["bid"] == "42"  # (67.20 - 6) / 1.452 = 42.149
    assert call.refused("GET", f"bid?{terms}")["net"].startswith("say what it sells for")
    assert call.refused("GET", "bid?price=10")["way"].startswith("say through which way")
    assert call.refused("GET", "bid?net=ten&premium=2").keys() == {"net", "premium"}
    work = {"keeps": "0.8", "minutes_per_card": "0.5", "hourly_rate": "10", "margin": "0.2"}
    offer = call("POST", "offer", {"sample": "40x0.5 40x0.6 20x0.4", "cards": 1000, **work})
    # Mean 0.52, 1,000 cards: 520, a fifth off for fees, 83.33 of work, a fifth as margin.
    assert offer["fair"] == pytest.approx((520 * 0.8 - 1000 * 0.5 / 60 * 10) * 0.8) and len(offer["values"]) == 100
    assert offer["fair"] < offer["top"] and offer["verdict"]["sentence"][0]["text"] == "Offer "
    pulled = call("POST", "offer", {"sample": "40x0.5 40x0.6 20x0.4", "dear": "250", "cards": 1001})
    assert pulled["total"] == pytest.approx(770) and pulled["fair"] == pytest.approx(770)
    assert "Walk away" in str(call("POST", "offer", {"sample": "8x0.01 0.02", "cards": 1000, **work})["verdict"])
    assert "more than the collection" in call.refused("POST", "offer", {"sample": "9x1", "cards": 2})["cards"]
    assert "at least 8" in call.refused("POST", "offer", {"sample": "1 2 3", "cards": 900})["sample"]
    for wrong in ("0.1 x", "1 nan", "2 -1", "0x5 1", "9999x1"):
        assert "sample" in call.refused("POST", "offer", {"sample": wrong, "cards": 100})


def test_a_box_is_opened_finished_reopened_and_told_against_its_odds(call: Caller) -> None:
    call("POST", "purchases", {**bought(received_on=DAY), "once": "k"}, 201)
    openings = call("GET", "sessions")
    box = openings["openable"][0]
    assert (box["count"], box["packs"], box["promised"]) == (2, 12, [{"line": "c", "name": "C", "count": 1}])
    begin = {"once": "s", "item": box["item"], "boxes": 1, "entertainment": "0.5"}
    assert "promises 1" in call.refused("POST", "sessions", {**begin, "gone": 3, "gone_hits": {"c": 2}})["gone_hits"]
    assert call.refused("POST", "sessions", {**begin, "boxes": 3})["boxes"] == "must be from 1 to the 2 that you have"
    number = call("POST", "sessions", begin, 201)["number"]
    here = f"sessions/{number}"
    assert [card["number"] for card in call("GET", f"{here}/cards?find=c8")["cards"]] == ["C8"]
    pull = {"once": "1", "pack": 1, "line": "c", "number": "C8"}
    for _ in range(2):
        view = call("POST", f"{here}/pulls", pull)
    assert (len(view["pulls"]), view["live"][0]["seen"], view["pulled_worth"]) == (1, 1, 120)
    assert call.refused("POST", f"{here}/pulls", {**pull, "once": "2", "number": "C9"}).keys() == {"number"}
    assert call.refused("POST", f"{here}/pulls", {**pull, "once": "3", "pack": 13}).keys() == {"pack"}
    view = call("POST", f"{here}/totals", {"once": "t", "packs": 3, "totals": [{"line": "a", "count": 2}]})
    assert view["current_pack"] == 4 and call("GET", f"{here}/hot?line=a&one_in=20&times=2")["packs"] == 3
    assert len(call("DELETE", f"{here}/pulls")["pulls"]) == 1
    view = call("POST", f"{here}/pack", {"pack": 2, "rest_of": 1})
    rest = next(pull for pull in view["pulls"] if pull["card"] is None)
    assert rest["count"] == 5 and len(call("DELETE", f"{here}/pulls/{rest['number']}")["pulls"]) == 1
    call("DELETE", f"{here}/pulls/{rest['number']}", status=404)
    assert call("POST", f"{here}/pause")["state"] == "paused"
    done = call("POST", f"{here}/finish", {"rest_is_base": False})
    assert (done["state"], done["packs"], done["cost"]) == ("done", 1, "4.64")  # a twelfth of 55.72
    call("POST", f"{here}/finish", {}, 409)
    left = next(item for item in call("GET", "sessions")["openable"] if item["packs_gone"])
    assert (left["packs_gone"], left["basis"]) == (1, "51.07")
    assert call("POST", f"{here}/reopen")["cost"] == "55.72"
    done = call("POST", f"{here}/finish", {"rest_is_base": True, "stopped_hot": True})
    assert (done["packs"], done["cost"]) == (12, "55.72") and done["luck"] > 0.9
    again = call("POST", f"{here}/divide", {"version": done["version"], "method": "count", "book": False})["parts"]
    assert sum(part["count"] for part in again) == 72 and again[0]["name"] == "Subject C8, C"
    assert (again[0]["basis"], again[0]["share"]) == ("27.06", "0.39")  # 27.86 over 72 cards
    call("POST", f"{here}/divide", {"version": 0, "book": True}, 409)
    results = call("GET", "results?release=test&format=box&strength=3")
    line = {item["line"]: item for item in results["results"]}
    assert results["stopped_hot"] and line["c"]["right"] is True and line["a"]["observed"] == 0
    assert line["a"]["p_value"] == pytest.approx(0.01156, abs=5e-6)  # none, or nine and more: no likelier
    call("GET", "results/compared?release=test&first=box&second=box2", status=404)
    for grams, held in ((10.1, True), (10.0, False), (10.4, True), (None, False)):
        body = {"release": "test", "format": "box", "unit": "box", "grams": grams, "held_hit": held}
        weights = call("POST", "weights", body)
    assert len(weights["weights"]) == 4 and weights["area"] is not None
    books = call("GET", "books")
    assert books["stock_off"] == "0" and {b["account"] for b in books["balances"]} >= {"entertainment", "stock", "cash"}
    row = books["sessions"][0]
    assert (row["cost"], row["basis"]) == ("55.72", "27.86")  # half of it was for fun, rounded half up


def test_items_are_filtered_corrected_taken_out_and_exported(call: Caller) -> None:
    typed = {"name": "Old card", "count": 3, "place": "tin 9", "condition": "LP"}
    for _ in range(2):  # sent twice, kept once
        call("POST", "items/one", {**typed, "once": "o"}, 201)
    call("POST", "items/one", {**typed, "name": "Known card", "basis": "1.50", "value": "4"}, 201)
    assert call.refused("POST", "items/one", {**typed, "basis": "1.005"})["basis"].startswith("must not be negative")
    assert call.refused("POST", "items/one", {**typed, "count": 0, "condition": "fine"}).keys() == {
        "count",
        "condition",
    }
    page, sums = call("GET", "items?basis=unknown&find=TIN"), call("GET", "items/sums?basis=unknown&find=TIN")
    assert (sums["total"], sums["count"], sums["unknown_basis"], page["more"]) == (1, 3, 1, False)
    unvalued = [item["name"] for item in call("GET", "items?value=unknown&find=tin")["items"]]
    assert unvalued == ["Old card"] and call("GET", "items?value=known&line=none")["items"] == []
    desk = call("GET", "desk")
    assert [job["path"] for job in desk["jobs"] if job["step"] == "stock"] == ["/stock?value=unknown"]
    old = page["items"][0]
    here = f"items/{old['number']}"
    assert call("PUT", here, {"version": 1, "value": "2.00", "card": "B7"})["version"] == 2  # the rest stays
    found = call("GET", here)
    assert (found["card"], found["value"], found["condition"], found["place"]) == ("B7", "2", "LP", "tin 9")
    call("PUT", here, {"version": 1, "note": "late"}, 409)
    assert "name" in call.refused("PUT", here, {"version": 2, "name": ""})
    call("PUT", f"{here}/basis", {"version": 2, "basis": "9.00"}, 204)
    call("POST", f"{here}/out", {"version": 3, "action": "give_away", "why": "to a child"}, 204)
    call("POST", f"{here}/out", {"version": 4, "action": "lose"}, 409)
    call("POST", f"{here}/back", {"version": 4}, 204)
    history = call("GET", here)["history"]
    assert [(event["state"], event["basis"]) for event in history][-3:] == [
        ("held", "9"), ("given_away", "9"), ("held", "9"),
    ]  # fmt: skip
    version = call("GET", here)["version"]
    several = [{"number": old["number"], "version": version}]
    call("POST", "items/out", {"items": several, "action": "lose"}, 204)
    call("POST", "items/back", {"items": several}, 409)  # at the version from before it left
    call("POST", "items/back", {"items": [{**several[0], "version": version + 1}]}, 204)
    assert call("GET", here)["state"] == "held"
    call(
        "POST",
        "items/one",
        {"name": "A", "count": 1, "release": "test", "line": "a", "number": "A3", "basis": "1"},
        201,
    )
    sets = call("GET", "held?release=test&line=a")
    ask = "releases/test/formats/box/set?line=a"
    assert call("GET", f"{ask}&held=true")["mean"] < call("GET", ask)["mean"]
    assert sets["held"] == ["A3"] and len(sets["lacking"]) == 9 and "A3" not in sets["lacking"]
    assert call("PUT", "item-filters", {"name": "tins", "query": {"find": "tin"}})["filters"][0]["name"] == "tins"
    assert call("DELETE", "item-filters/tins")["filters"] == []
    call("DELETE", "item-filters/tins", status=409)
    book = load_workbook(BytesIO(call.client.get("/api/items.xlsx?find=tin").get_data()))
    rows = list(book.active.iter_rows(values_only=True))
    assert rows[0][0] == "name" and {row[0] for row in rows[1:]} == {"Old card", "Known card"}
    assert call.client.get("/api/items.csv?basis=unknown").get_data(as_text=True).count("\n") == 1  # only the head
    ledger = call.client.get("/api/books/ledger.txt").get_data(as_text=True)
    assert "Equity:Opening" in ledger.replace("OpeningEquity", "Opening") and call("GET", "books")["off"] == "0"


def test_a_redemption_is_noted_chosen_and_arrives(call: Caller) -> None:
    said = {"name": "Build a Light", "code": "BL-1", "choices": "three fronts", "due_on": DAY}
    for _ in range(2):
        rows = call("POST", "redemptions", {**said, "once": "r"})["redemptions"]
    assert len(rows) == 1
    row = rows[0]
    number = row.pop("number")
    assert call.refused("POST", "redemptions", {**said, "code": ""})["code"] == "is empty"
    assert "arrived_on" in call.refused("PUT", f"redemptions/{number}", {**row, "arrived_on": "2030-01-01"})
    rows = call("PUT", f"redemptions/{number}", {**row, "chosen": "front 2", "arrived_on": DAY})["redemptions"]
    assert (rows[0]["chosen"], rows[0]["arrived_on"]) == ("front 2", DAY)
    call("PUT", f"redemptions/{number}", row, 409)
    call("PUT", "redemptions/99", row, 404)


def test_anything_booked_is_taken_back_from_where_it_is_seen(call: Caller) -> None:
    number = call("POST", "purchases", {**bought(received_on=DAY), "once": "k"}, 201)["number"]
    box = call("GET", f"purchases/{number}")["things"][0]["number"]
    session = call("POST", "sessions", {"once": "s", "item": box, "boxes": 1}, 201)["number"]
    call("POST", f"items/{box}/out", {"version": 1, "action": "lose", "why": ""}, 409)  # a session holds it
    call("POST", f"purchases/{number}/undo", {"version": 1}, 409)
    assert call("DELETE", f"sessions/{session}")["state"] == "undone"
    call("DELETE", f"sessions/{session}", status=409)
    assert call("POST", f"sessions/{session}/go-on")["state"] == "running"
    call("DELETE", f"sessions/{session}")
    call("POST", f"items/{box}/out", {"version": 1, "action": "give_away", "why": "to a child"}, 204)
    history = call("GET", f"items/{box}")["history"]
    assert [(event["event"], event["can_be_taken_back"]) for event in history] == [
        ("purchase", True),
        ("write_off", True),
    ]
    call("POST", f"sessions/{session}/go-on", status=409)  # what it opened is gone
    refused = call("POST", f"entries/{history[0]['entry']}/undo", status=409)
    assert "“given away: Test 2025, Box (to a child)”. Take that back first." in refused["detail"]
    done = call("POST", f"entries/{history[1]['entry']}/undo")
    assert done["text"] == "given away: Test 2025, Box (to a child)" and call("GET", f"items/{box}")["state"] == "held"
    entries = call("GET", "books")["entries"]
    assert [(entry["event"], entry["taken_back"]) for entry in entries[:2]] == [("undo", False), ("write_off", True)]
    for entry in entries[:2]:
        assert not entry["can_be_taken_back"]
        call("POST", f"entries/{entry['number']}/undo", status=409)
    call("POST", "entries/999999/undo", status=404)

    weigh = {"release": "test", "format": "box", "unit": "box"}
    weight = call("POST", "weights", {**weigh, "once": "w", "grams": 210.5, "held_hit": None})["weights"][0]["number"]
    call("PUT", f"weights/{weight}", {"held_hit": True}, status=204)
    assert call("GET", "weights?release=test&format=box&unit=box")["weights"][0]["held_hit"] is True
    call("DELETE", f"weights/{weight}", status=204)
    assert call("GET", "weights?release=test&format=box&unit=box")["weights"] == []
    call("POST", f"weights/{weight}/restore", status=204)
    assert len(call("GET", "weights?release=test&format=box&unit=box")["weights"]) == 1
    noted = call("POST", "redemptions", {"once": "r", "name": "a light", "code": "BL", "posted_on": DAY})[
        "redemptions"
    ][0]
    here = f"redemptions/{noted['number']}"
    assert call("DELETE", here)["redemptions"] == []
    back = call("POST", f"{here}/restore")["redemptions"][0]
    came = {name: back[name] for name in back if name != "number"}
    call("PUT", here, {**came, "arrived_on": DAY})
    call("DELETE", here, status=409)
    for path in ("weights/999999", "redemptions/999999"):
        call("DELETE", path, status=404)
