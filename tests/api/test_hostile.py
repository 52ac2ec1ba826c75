"""What nobody would send by honest typing: a plain refusal each, never a failure, and nothing half done."""

import json
import threading
from datetime import UTC, datetime, timedelta
from io import BytesIO

import pytest
from flask.testing import FlaskClient
from sqlalchemy import text

from tests.conftest import PASSPHRASE, TODAY, make_database, sign_in
from tests.sheets import example_1
from tobbix.api.installation import routes as installation
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.core.base.errors import Conflict
from tobbix.db.base import Database
from tobbix.services.installation.owners import create_owner, why_weak
from tobbix.services.installation.sending import Answer, carry_out
from tobbix.services.installation.signing_in import Limits, MustWait, find_owner_of, wait_after
from tobbix.services.installation.signing_in import sign_in as begin
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import import_sheet
from tobbix.services.products.simulating import Question, ask_simulation, read_simulation, simulation_runs
from tobbix.services.tasks.carrying import carry_out_task


def test_impossible_values_are_refused_at_their_field(client: FlaskClient, catalogue: Catalogue) -> None:
    headers = sign_in(client)
    import_sheet(catalogue, json.dumps(example_1()).encode(), confirm_silent=True, replace_existing=False)
    weight = {"release": "test", "format": "box", "unit": "box", "held_hit": None}
    deep = '{"name": ' + "[" * 1_000 + "]" * 1_000 + ', "query": {}}'
    mark = {
        "count": 1,
        **dict.fromkeys(("release", "line", "number", "basis", "value", "condition", "serial", "place")),
    }
    cases = [
        ("GET", "/api/releases/test/formats/box/answer?factor=5e-324", None, 422, "factor"),
        ("POST", "/api/weights", {**weight, "grams": 0.0001}, 422, "grams"),
        ("POST", "/api/weights", {**weight, "grams": 1e-320}, 422, "grams"),
        ("PUT", "/api/item-filters", deep, 422, "body"),
        ("PUT", "/api/item-filters", "[" * 90_000, 422, "body"),
        ("PUT", "/api/item-filters", {"name": "x", "query": {"find": "a\x00b"}}, 422, "query.find"),
        ("POST", "/api/items/one", {**mark, "name": "Gull\x0b Rock"}, 422, "name"),
        ("POST", "/api/items/one", {**mark, "name": "half of a letter \ud800"}, 422, "name"),
        ("GET", "/api/releases/" + "x" * 300, None, 422, "release"),
        ("GET", "/api/releases/%00", None, 422, "release"),
    ]
    for method, path, body, status, field in cases:
        sent = body if isinstance(body, str) or body is None else json.dumps(body)
        answer = client.open(path, method=method, data=sent, headers=headers, content_type="application/json")
        assert answer.status_code == status, (path, answer.status_code, answer.text)
        assert answer.content_type == "application/problem+json"
        assert field in [fault["field"] for fault in answer.json["faults"]], answer.json
    long = {**headers, "Idempotency-Key": "x" * 65}
    answer = client.post("/api/items/one", json={**mark, "name": "fine"}, headers=long)
    assert answer.status_code == 422 and answer.json["faults"][0]["field"] == "Idempotency-Key"
    for form in ({"file": "words"}, {}, {"confirmed": "true"}, {"file": (BytesIO(b"PK"), "x"), "confirmed": "perhaps"}):
        assert client.post("/api/backup", data=form, headers=headers).status_code == 422
    # One of before, when such characters were taken: the list still comes out.
    client.post("/api/items/one", json={**mark, "name": "Old Rock"}, headers=headers)
    with catalogue.database.transaction() as session:
        session.execute(text("update item set note = e'with a \\x0b in it'"))
    assert client.get("/api/items.xlsx").status_code == 200


@pytest.mark.parametrize("count", [1, 10, 3_999, 4_001])
def test_simulations_of_any_count_say_what_they_know(catalogue: Catalogue, count: int) -> None:
    """One batch alone tells nothing of its error: unknown, not a number that is none."""
    import_sheet(catalogue, json.dumps(example_1()).encode(), confirm_silent=True, replace_existing=False)
    number = ask_simulation(catalogue, "test", Question("boxes", "box", count)).task.number
    carry_out_task(catalogue.database, number, simulation_runs(catalogue))
    found = read_simulation(catalogue, number).task
    assert found.state == "done" and found.result is not None and found.result["boxes"] == count
    assert (found.result["mean_error"] is None) == (count <= 4_000)


def test_a_database_that_is_away_is_said_in_plain_words() -> None:
    app = create_app(Config(_env_file=None, database_url="postgresql+psycopg://nobody@127.0.0.1:1/none"))
    client = app.test_client()
    assert client.get("/api/health").json == {"store": False, "worker": None, "instance": ""}
    answer = client.get("/api/session")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "2")
    assert answer.json["detail"].startswith("The database does not answer just now. Nothing was changed.")


def test_nothing_was_changed_is_said_only_where_it_is_true(
    client: FlaskClient, catalogue: Catalogue, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The answer of a write fails to be made: the write is taken back with it, and can be sent again."""
    headers = sign_in(client)
    spent = {"day": TODAY.isoformat(), "amount": "5.00", "what": "packs"}
    keyed = {**headers, "Idempotency-Key": "k"}
    with monkeypatch.context() as patched:
        patched.setattr(installation, "_spending", lambda: 1 / 0)
        failed = client.post("/api/spending", json=spent, headers=keyed)
    assert failed.status_code == 500 and "Nothing was changed" in failed.json["detail"]
    assert client.get("/api/spending").json["total"] == "0.00"
    first = client.post("/api/spending", json=spent, headers=keyed)
    client.post("/api/spending", json={**spent, "what": "more"}, headers={**keyed, "Idempotency-Key": "other"})
    again = client.post("/api/spending", json=spent, headers=keyed)
    assert first.json["total"] == "5.00" and again.json == first.json  # as it was answered then
    for other in ({**spent, "amount": "6.00"}, {**spent, "what": "a box"}):
        assert client.post("/api/spending", json=other, headers=keyed).status_code == 409
    assert client.put("/api/item-filters", json={"name": "x", "query": {}}, headers=keyed
                      ).status_code == 409  # fmt: skip
    assert client.get("/api/spending").json["total"] == "10.00"


def test_acts_that_get_into_each_other_s_way_are_tried_again(server_url: str, worker_id: str) -> None:
    """A real deadlock of two acts: both are carried out; an act that cannot be is refused, not failed."""
    database = Database(make_database(server_url, f"clash_{worker_id}"))
    with database.engine.begin() as connection:
        connection.execute(text("create table pair (id int primary key, n int not null)"))
        connection.execute(text("insert into pair values (1, 0), (2, 0)"))
    met = threading.Barrier(2, timeout=20)
    tries: list[int] = []

    def act(first: int, second: int) -> Answer:
        tries.append(first)
        with database.transaction() as session:
            session.execute(text("update pair set n = n + 1 where id = :id"), {"id": first})
        if len(tries) <= 2:
            met.wait()
        with database.transaction() as session:
            session.execute(text("update pair set n = n + 1 where id = :id"), {"id": second})
        return Answer(200, "{}")

    both = [threading.Thread(target=carry_out, args=(database, None, "", lambda p=pair: act(*p)))
            for pair in ((1, 2), (2, 1))]  # fmt: skip
    for one in both:
        one.start()
    for one in both:
        one.join()
    with database.engine.connect() as connection:
        assert connection.execute(text("select array_agg(n) from pair")).scalar() == [2, 2]
    assert len(tries) == 3

    def impossible() -> Answer:
        with database.transaction() as session:
            session.execute(text("insert into pair values (1, 0)"))
        return Answer(200, "{}")

    with pytest.raises(Conflict, match="in the same moment"):
        carry_out(database, None, "", impossible)
    database.engine.dispose()


def test_guessing_waits_longer_and_longer_but_never_the_owner_s_own_browser(database: Database) -> None:
    create_owner(database, "Ines Quillfeather", PASSPHRASE)
    now = datetime.now(UTC)
    waits = []
    for _ in range(12):
        while True:
            try:
                assert begin(database, "wrong", "strangers", "", now) is None
                break
            except MustWait as must:
                waits.append(must.seconds)
                now += timedelta(seconds=must.seconds)
    assert waits == [1, 2, 4, 8, 16, 32, 60, 60, 60] and wait_after(10**9) == timedelta(seconds=60)
    with pytest.raises(MustWait):  # also with the right one: the wait tells nothing
        begin(database, PASSPHRASE, "strangers", "", now)
    token = begin(database, PASSPHRASE, "a browser of the owner's", "Firefox", now)
    assert token is not None
    limits = Limits(timedelta(hours=12), timedelta(days=14))
    seen = now
    while seen < now + timedelta(days=13):
        seen += timedelta(hours=11)
        assert find_owner_of(database, token, limits, seen) is not None
    assert find_owner_of(database, token, limits, now + timedelta(days=14, seconds=1)) is None
    idle = begin(database, PASSPHRASE, "another", "", now)
    assert idle and find_owner_of(database, idle, limits, now + timedelta(hours=12, seconds=1)) is None
    for weak in ("a" * 12, "passwordpassword", "ines quillfeather", "tobbixtobbix", "qwertyuiopas"):
        assert why_weak(weak, "Ines Quillfeather"), weak
    assert why_weak(PASSPHRASE) is None and why_weak("x1!" * 66) is not None
