"""The API: sign-in, forgery, headers, problems, and a document that a fuzzer cannot break."""

import json
import time
from collections import Counter
from importlib import import_module
from pkgutil import walk_packages
from typing import Any

import pytest
import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, settings
from pydantic import BaseModel

from tests.conftest import PASSPHRASE, sign_in
from tests.sheets import document, example_1, line
from tobbix import api
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.demo.releases import demo_sheets
from tobbix.demo.selling import demo_ways
from tobbix.services.pricing.ways import save_way
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet


def upload(client: FlaskClient, headers: dict[str, str], made: object, **fields: str):  # type: ignore[no-untyped-def]
    """Send a sheet as a form. The body is put together here: the test client's own way leaves large files open."""
    content = made if isinstance(made, bytes) else json.dumps(made).encode()
    parts = [f'; name="{name}"\r\n\r\n{value}'.encode() for name, value in fields.items()]
    parts.append(b'; name="file"; filename="sheet.json"\r\nContent-Type: application/json\r\n\r\n' + content)
    body = b"".join(b"--part\r\nContent-Disposition: form-data" + part + b"\r\n" for part in parts) + b"--part--\r\n"
    return client.post("/api/releases", data=body, content_type="multipart/form-data; boundary=part", headers=headers)


def test_nothing_is_open_before_sign_in_and_guessing_is_limited(client: FlaskClient) -> None:
    for path in ("/api/releases", "/api/desk", "/api/preferences", "/api/releases/x/sheet.json"):
        answer = client.get(path)
        assert (answer.status_code, answer.json["detail"]) == (401, "Sign in first.")
    token = client.get("/api/session").json["token"]
    guess = {"json": {"passphrase": "is it this one?"}, "headers": {"X-CSRFToken": token}}
    assert [client.post("/api/session", **guess).status_code for _ in range(5)] == [401, 401, 401, 429, 429]
    right = {"json": {"passphrase": PASSPHRASE}, "headers": {"X-CSRFToken": token}}
    assert client.post("/api/session", **right).status_code == 429


def test_a_session_is_strict_and_changes_need_its_token(client: FlaskClient) -> None:
    headers = sign_in(client)
    cookie = client.get_cookie(client.application.config["SESSION_COOKIE_NAME"])
    assert cookie is not None and cookie.http_only and cookie.same_site == "Strict"
    assert client.delete("/api/releases/none").status_code == 400  # no token
    assert client.delete("/api/releases/none", headers={"X-CSRFToken": "forged"}).status_code == 400
    assert client.delete("/api/releases/none", headers=headers).status_code == 404
    assert client.delete("/api/session", headers=headers).json["signed_in"] is False
    assert client.get("/api/releases").status_code == 401


def test_every_answer_carries_strict_headers(client: FlaskClient) -> None:
    for path in ("/", "/api/session", "/products/anything", "/assets/none.js"):
        headers = client.get(path).headers
        policy = headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy and "unsafe-inline" not in policy and "script-src 'self';" in policy
        assert headers["X-Content-Type-Options"] == "nosniff" and headers["X-Frame-Options"] == "DENY"
        assert "http" not in policy


def test_a_sheet_goes_in_is_answered_and_comes_out(client: FlaskClient) -> None:
    headers = sign_in(client)
    assert upload(client, headers, example_1()).json["outcome"] == "added"
    answer = client.get("/api/releases/test/formats/box/answer?price=60").json
    assert answer["loss"] == pytest.approx(1 - 0.113724, abs=1e-6)
    assert sum(answer["histogram"]["chances"]) == pytest.approx(1)
    assert [unit["name"] for unit in answer["units"]] == ["Pack", "Box", "Case of 10"]
    assert {part["name"] for part in answer["verdict"]["sentence"]} >= {"price", "loss", "most_to_pay"}
    exported = client.get("/api/releases/test/sheet.json")
    assert exported.headers["Content-Disposition"].endswith('filename="test.json"')
    assert upload(client, headers, exported.data).json["outcome"] == "unchanged"
    chase = client.get("/api/releases/test/formats/box/chase?targets=c:C8&price=60").json
    assert chase["long_run"] == pytest.approx(435.65, abs=5e-3) and chase["single"] == 120
    pack = client.get("/api/releases/test/formats/box/answer?unit=pack").json
    assert pack["mean"] * 12 == pytest.approx(answer["mean"])


def test_refusals_are_problems_that_name_their_fields(client: FlaskClient) -> None:
    headers = sign_in(client)
    made = example_1()
    made["formats"][0]["usable"], made["currency"] = "2", "euro"
    refused = upload(client, headers, made)
    assert refused.status_code == 422 and refused.content_type == "application/problem+json"
    assert {(f["sheet"], f["field"]) for f in refused.json["faults"]} == {
        ("Release", "currency"),
        ("Formats", "formats[0].usable"),
    }
    silent = upload(client, headers, document([line("a", ["1"], None)]))
    assert (silent.status_code, silent.json["flag"]) == (409, "confirm_silent")
    assert client.get("/api/releases").json["releases"] == []
    assert upload(client, headers, b"x" * 30_000_000).status_code == 413
    assert client.put("/api/session").status_code == 405
    assert "GET" in client.put("/api/session").headers["Allow"]
    wrong = client.get("/api/releases/test/formats/box/answer?price=NaN&boxes=0")
    assert {fault["field"] for fault in wrong.json["faults"]} == {"price", "boxes"}


def test_an_empty_shelf_offers_the_demo_which_comes_in_once(client: FlaskClient) -> None:
    headers = sign_in(client)
    empty = client.get("/api/releases").json["verdict"]["sentence"]
    assert "There is no release here yet" in empty[0]["text"]
    added = [client.post("/api/demo-releases", headers=headers).json["added"] for _ in range(2)]
    assert added == [5, 0] and len(client.get("/api/releases").json["releases"]) == 5
    desk = client.get("/api/desk").json
    assert {job["step"] for job in desk["jobs"]} == {"products"} and desk["counts"]["products"] == len(desk["jobs"])
    assert "no price today" in " ".join(job["text"] for job in desk["jobs"])


def test_the_owner_s_rule_moves_the_most_to_pay(client: FlaskClient) -> None:
    headers = sign_in(client)
    upload(client, headers, example_1())
    before = dict(client.get("/api/preferences").json or {})
    for name in ("currency", "currency_open", "sheet_condition", "school"):
        del before[name]
    saved = client.put("/api/preferences", json={**before, "standard": "average", "margin": 0.25}, headers=headers)
    assert saved.json["version"] == 1
    assert client.put("/api/preferences", json=before, headers=headers).status_code == 409
    answer = client.get("/api/releases/test/formats/box/answer").json
    assert answer["most"]["sticker"] * 1.25 == pytest.approx(answer["mean"])


def test_the_planning_pages_answer_and_refuse_by_field(client: FlaskClient) -> None:
    headers = sign_in(client)
    upload(client, headers, example_1())
    way = {
        "version": 0, "name": "Bellbuoy", "on": "price", "most": None, "commission": [{"up_to": None, "share": "0.1"}],
        **dict.fromkeys(("fixed_fee", "payment_share", "payment_fixed", "least", "shipping_charged", "postage",
                         "packing", "lost", "tax"), "0"),
    }  # fmt: skip
    assert client.put("/api/ways/bell", json=way, headers=headers).json["example_net"] == "9.00"
    assert client.put("/api/ways/bell", json=way, headers=headers).json["version"] == 1  # the same once more
    other = client.put("/api/ways/bell", json={**way, "name": "Other"}, headers=headers)
    assert other.status_code == 409
    assert client.get("/api/ways/bell/net?net=8.10").json == {"price": "9", "net": "8.1"}
    ask = "/api/releases/test/formats/box"
    gross, net = (client.get(f"{ask}/answer?price=60&basis={basis}").json for basis in ("gross", "net"))
    assert net["mean"] == pytest.approx(gross["mean"] * 0.9) and net["basis"]["way_name"] == "Bellbuoy"
    sure = client.get(f"{ask}/sureness?basis=gross&price=60").json
    assert [item["name"] for item in sure["holdings"]] == ["Pack", "Box", "3 boxes", "Case of 10"]
    assert sure["holdings"][1]["loss"] == pytest.approx(1 - 0.113724, abs=1e-6)
    assert sure["holdings"][3]["loss"] == pytest.approx(1 - 0.02607, abs=1e-5)
    chase = client.get(f"{ask}/chase?targets=c:C8; b&price=60&basis=gross").json
    assert chase["what"] == "Subject C8, C or any B"
    assert client.get(f"{ask}/set?line=c").json["unit"] == "box"
    assert client.get("/api/releases/test/comparison").json["formats"][0]["only_here"] == ["Base", "A", "B", "C"]
    assert "No numbered line" in client.get("/api/releases/test/production").json["verdict"]["sentence"][0]["text"]
    assert client.get("/api/releases/test/production?shares=box:much").json["faults"][0]["field"] == "shares"
    wanted = {"line": "c", "number": "C8", "wanted": True}
    assert client.put("/api/releases/test/wanted", json=wanted, headers=headers).json["wanted"] == [
        {"line": "c", "number": "C8"}
    ]
    choice = client.get(f"{ask}/choice?price=60").json
    assert (choice["best"], choice["singles_cost"]) == ("singles", 120)
    assert client.get(f"{ask}/answer?basis=net&way=nowhere").json["faults"][0]["field"] == "way"
    entry = {"day": "2026-11-20", "amount": "30.00", "what": "a box"}
    keyed = {**headers, "Idempotency-Key": "1"}
    for _ in range(2):  # sent twice, kept once
        spent = client.post("/api/spending", json=entry, headers=keyed).json
    assert (spent["total"], len(spent["entries"]), spent["state"]) == ("30.00", 1, "none")
    late = client.post("/api/spending", json={**entry, "day": "2027-01-01"}, headers=headers)
    assert late.json["faults"][0]["field"] == "day"
    number = spent["entries"][0]["number"]
    assert client.delete(f"/api/spending/{number}", headers=headers).json["total"] == "0.00"
    assert client.post(f"/api/spending/{number}/restore", headers=headers).json["total"] == "30.00"


def test_a_sheet_of_twenty_thousand_cards_goes_in_and_is_answered(client: FlaskClient) -> None:
    """No limit on the clock: tests/bench.py measures; here it has to be whole."""
    headers = sign_in(client)
    prices = [f"{(i * 37 % 900) / 100 + 0.05:.2f}" for i in range(20_000)]
    started = time.perf_counter()
    assert upload(client, headers, document([line("a", ["5"], "1:3 packs")], prices)).status_code == 201
    print(f"20,000 cards imported in {time.perf_counter() - started:.1f} s")
    page = client.get("/api/releases/test/lines/base/cards?start=19990&count=50").json
    assert (page["total"], len(page["cards"])) == (20_000, 10)
    assert client.get("/api/releases/test/formats/box/answer").json["mean"] > 0


@pytest.fixture
def fuzzed(catalogue: Catalogue, client: FlaskClient) -> FlaskClient:
    for made in demo_sheets()[1:3]:
        store_sheet(catalogue, made, replace_existing=False)
    for way in demo_ways()[:2]:
        save_way(catalogue.database, way, 0)
    return client


def test_a_fuzzer_with_the_api_s_own_document_finds_no_failure_of_the_server(
    fuzzed: FlaskClient, catalogue: Catalogue
) -> None:
    """Every operation, from its own schema, signed in and with the token: answers, or refusals as documented."""
    app = create_app(Config(_env_file=None), catalogue)
    client = app.test_client()
    headers = sign_in(client)
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", app)
    for path, field in (("release", "first-watch-2011"), ("line", "tide"), ("format", "locker"), ("way", "bellbuoy")):
        _give_example(schema.raw_schema, path, field)
    tried = 0
    refused: Counter[int] = Counter()

    for found in schema.get_all_operations():
        operation = found.ok()
        if (operation.path, operation.method) in ENDING:
            continue

        @settings(
            max_examples=4, deadline=None, database=None, derandomize=True, suppress_health_check=list(HealthCheck)
        )
        @given(case=operation.as_strategy())
        def attack(case: Any) -> None:
            nonlocal tried
            tried += 1
            answer = case.call(headers=headers, cookies=_cookie(client))
            assert answer.status_code < 500, f"{case.method} {case.formatted_path}: {answer.status_code}"
            if answer.status_code >= 400:
                refused[answer.status_code] += 1
                assert answer.headers["content-type"] == ["application/problem+json"]

        attack()
        if operation.method == "delete":  # the release is out of sight: put it back
            client.post("/api/releases/first-watch-2011/restore", headers=headers)
    assert tried > 300 and refused[401] == 0 and refused[400] < tried / 10, refused


def _give_example(document: dict[str, object], name: str, value: str) -> None:
    """Let half of the paths lead to something that exists."""
    for operations in document["paths"].values():  # type: ignore[attr-defined]
        for operation in operations.values():
            for parameter in operation.get("parameters", []):
                if parameter["name"] == name:
                    parameter["schema"] = {"anyOf": [{"const": value}, {"type": "string", "maxLength": 70}]}


ENDING = {
    ("/api/session", "post"),
    ("/api/session", "delete"),
    ("/api/backup", "post"),
}  # they end the fuzzer's session


def _cookie(client: FlaskClient) -> dict[str, str]:
    name = client.application.config["SESSION_COOKIE_NAME"]
    cookie = client.get_cookie(name)
    return {name: cookie.value if cookie else ""}


def test_no_two_schemas_have_the_same_name() -> None:
    """The document knows a schema by its name alone: of two, one would be shown for both."""
    names: dict[str, set[str]] = {}
    for found in walk_packages(api.__path__, "tobbix.api."):
        for name, made in vars(import_module(found.name)).items():
            if isinstance(made, type) and issubclass(made, BaseModel) and made.__module__.startswith("tobbix.api."):
                names.setdefault(name, set()).add(made.__module__)
    assert {name: modules for name, modules in names.items() if len(modules) > 1} == {}
