"""An installation of one's own: the first visit, backups that are made by themselves, the drill, and the phone."""

import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

import pytest
import requests
from sqlalchemy import text

from tests.conftest import PASSPHRASE, ROOT, TODAY, make_database
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.core.base.errors import InputError
from tobbix.core.planning.keeping import kept
from tobbix.db.base import Database
from tobbix.db.migrating import newest
from tobbix.services.installation.keeping import back_up_before_migrating, back_up_daily, drill, list_daily
from tobbix.services.installation.owners import check_listening, create_owner
from tobbix.services.products.catalogue import Catalogue


@pytest.fixture
def fresh(server_url: str, worker_id: str) -> Iterator[Database]:
    """A store that belongs to nobody yet."""
    database = Database(make_database(server_url, f"own_{worker_id}"))
    yield database
    database.engine.dispose()


def test_the_first_visit_makes_the_owner_with_all_that_was_said_or_nothing_of_it(fresh: Database) -> None:
    client = create_app(Config(_env_file=None, own=True), Catalogue(fresh, lambda: TODAY)).test_client()
    session = client.get("/api/session").json
    assert (session["has_owner"], session["signed_in"]) == (False, False)
    headers = {"X-CSRFToken": session["token"]}
    hand = {"id": "hand", "name": "From hand to hand", "commission": "0", "fixed_fee": "0", "postage": "0"}
    market = {"id": "market", "name": "Gavelrock", "commission": "0.12", "fixed_fee": "0.35", "postage": "1.50"}
    said = {"name": "Ada", "passphrase": PASSPHRASE, "currency": "CHF", "ways": [market, hand]}

    def refused(**change: object) -> set[str]:
        answer = client.post("/api/owner", json={**said, **change}, headers=headers)
        assert answer.status_code == 422
        return {fault["field"] for fault in answer.json["faults"]}

    assert refused(name=" ", currency="chf") == {"name", "currency"}
    assert refused(passphrase="password1234") == {"passphrase"}
    assert refused(ways=[hand, hand]) == {"ways[1].name"}
    assert client.get("/api/session").json["has_owner"] is False
    began = client.post("/api/owner", json=said, headers=headers)
    assert (began.json["signed_in"], began.json["owner"], began.json["is_demo"]) == (True, "Ada", False)
    preferences = client.get("/api/preferences").json
    assert (preferences["currency"], preferences["way"], preferences["currency_open"]) == ("CHF", "market", True)
    assert [way["example_net"] for way in client.get("/api/ways").json["ways"]] == ["6.95", "10.00"]
    headers = {"X-CSRFToken": began.json["token"]}
    assert client.post("/api/owner", json=said, headers=headers).status_code == 409
    assert client.post("/api/demo-releases", headers=headers).status_code == 409  # never mixed with the demo
    desk = client.get("/api/desk").json
    assert desk["jobs"] == [] and desk["verdict"]["sentence"][1]["text"] == "one box"


def test_backups_are_made_each_day_thinned_out_and_pass_a_drill(
    fresh: Database, server_url: str, worker_id: str, tmp_path: Path
) -> None:
    folder = tmp_path / "backups"
    assert back_up_daily(fresh, folder, TODAY) is None and not folder.exists()  # nobody's yet
    assert back_up_before_migrating(fresh, folder, TODAY) is None
    create_owner(fresh, "Ada", PASSPHRASE)
    made = back_up_daily(fresh, folder, TODAY)
    assert made is not None and made.stat().st_mode & 0o777 == 0o600
    assert back_up_daily(fresh, folder, TODAY) is None  # once a day
    for back in range(1, 500):
        (folder / f"tobbix-{TODAY - timedelta(back)}.zip").touch()
    back_up_daily(fresh, folder, TODAY)
    days = [one.day for one in list_daily(folder)]
    assert days[:7] == [TODAY - timedelta(back) for back in range(7)]
    assert set(days) == kept(TODAY - timedelta(back) for back in range(500)) and len(days) == 21
    assert days[-1] == date(2025, 12, 31)  # the last of each of twelve months

    other = Database(make_database(server_url, f"scratch_{worker_id}"))
    try:
        found = drill(made, other)
        assert found.differing == () and found.tables is not None and found.tables > 35 and found.rows
        with pytest.raises(InputError, match="holds an installation"):
            drill(made, other)
        with other.engine.begin() as connection:  # a store that an older version left
            connection.execute(text("update alembic_version set version_num = '0123456789ab'"))
        saved = back_up_before_migrating(other, folder, TODAY)
        assert saved is not None and saved.name == f"before-{newest()}-{TODAY}.zip"
        before = saved.stat().st_mtime_ns
        assert back_up_before_migrating(other, folder, TODAY) == saved and saved.stat().st_mtime_ns == before
    finally:
        other.engine.dispose()
    made.write_bytes(made.read_bytes()[:-200])
    with pytest.raises(InputError):
        drill(made, fresh)


def test_a_phone_gets_in_through_tls_with_a_certificate_of_this_installation(fresh: Database, tmp_path: Path) -> None:
    create_owner(fresh, "Ada", PASSPHRASE)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "tobbix.cli", "phone", "--folder", str(tmp_path), "--host", "127.0.0.1"]
    environment = {**os.environ, "TOBBIX_DATABASE_URL": fresh.engine.url.render_as_string(hide_password=False),
                   "TOBBIX_SECRET_KEY": "k" * 64}  # fmt: skip
    with subprocess.Popen(
        [*command, "--port", str(port)], env=environment, cwd=ROOT, stdout=subprocess.PIPE, text=True
    ) as running:
        try:
            here = f"https://127.0.0.1:{port}"
            certificate = tmp_path / "tls/certificate.pem"
            asked = requests.Session()
            answer = _ask_until(asked, f"{here}/api/session", certificate)
            assert answer.json()["has_owner"] is True and "Strict-Transport-Security" in answer.headers
            token = {"X-CSRFToken": answer.json()["token"], "Origin": here}
            signed = asked.post(f"{here}/api/session", json={"passphrase": PASSPHRASE}, headers=token,
                                verify=str(certificate), timeout=20)  # fmt: skip
            assert signed.json()["signed_in"] is True
            assert all(cookie.secure for cookie in asked.cookies) and len(asked.cookies) >= 1
            assert (tmp_path / "tls/key.pem").stat().st_mode & 0o077 == 0
            with pytest.raises(requests.RequestException):  # nothing is said without TLS
                requests.get(f"http://127.0.0.1:{port}/api/session", timeout=5)
        finally:
            running.terminate()
        said = running.communicate(timeout=20)[0]
    assert here in said and "fingerprint" in said and "strangers" in said


def _ask_until(asked: requests.Session, address: str, certificate: Path) -> requests.Response:
    end = time.monotonic() + 60
    while True:
        try:
            return asked.get(address, verify=str(certificate), timeout=20)
        except (requests.RequestException, OSError):
            assert time.monotonic() < end
            time.sleep(0.2)


def test_a_phone_is_not_let_in_before_there_is_a_passphrase_of_ones_own(fresh: Database) -> None:
    with pytest.raises(InputError, match="passphrase of your own"):
        check_listening(fresh, "192.168.1.7")
