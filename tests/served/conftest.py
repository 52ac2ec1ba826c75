"""The application as it is served: `tobbix serve` with its keeper, web server and worker, over real sockets."""

import json
import os
import secrets
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
import requests

from tests.conftest import PASSPHRASE, ROOT, make_database
from tobbix.db.base import Database
from tobbix.db.migrating import migrate
from tobbix.services.installation.owners import create_owner


class Served:
    """An installation of its own in a folder: started, asked, killed."""

    def __init__(self, url: str, folder: Path, cluster: Path | None = None, **settings: str) -> None:
        self.url, self.folder = url, folder
        self._more = [] if cluster is None else ["--cluster", str(cluster)]
        self._settings = {"TOBBIX_SECRET_KEY": secrets.token_hex(32), **settings}
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> "Served":
        command = [sys.executable, "-m", "tobbix.cli", "serve", "--port", "8400", "--next-free"]
        command += ["--folder", str(self.folder), *self._more]
        environment = {**os.environ, "TOBBIX_DATABASE_URL": self.url, "TOBBIX_FRONTEND": str(ROOT / "frontend/dist"),
                       **self._settings}  # fmt: skip
        with (self.folder / "start.log").open("wb") as log:
            self._process = subprocess.Popen(command, env=environment, cwd=ROOT, stdout=log, stderr=log)
        self.wait_until(lambda health: health["store"] and health["worker"])
        return self

    def __enter__(self) -> "Served":
        return self.start()

    def __exit__(self, *_: object) -> None:
        self.stop()  # also after a failure: its keeper would start it again for ever

    def said(self) -> dict[str, Any]:
        found = json.loads((self.folder / "server.json").read_text())
        assert isinstance(found, dict)
        return found

    @property
    def address(self) -> str:
        return str(self.said()["address"])

    @property
    def port(self) -> int:
        return int(self.said()["port"])

    def health(self) -> dict[str, Any]:
        answer = requests.get(f"{self.address}/api/health", timeout=5).json()
        assert isinstance(answer, dict)
        return answer

    def wait_until(self, holds: Callable[[dict[str, Any]], Any], seconds: float = 60) -> dict[str, Any]:
        """Ask for its health until it is as it should be."""
        end = time.monotonic() + seconds
        while True:
            try:
                health = self.health()
                if health["instance"] == self.said()["token"] and holds(health):
                    return health
            except (requests.RequestException, OSError, ValueError):
                pass
            assert time.monotonic() < end, self.logs()
            time.sleep(0.1)

    def logs(self) -> str:
        return "\n".join(path.read_text() for path in sorted(self.folder.glob("*.log")))

    def children(self, name: str) -> list[int]:
        """The processes of the keeper that are called so: web or work."""
        listed = subprocess.run(["pgrep", "-P", str(self.said()["pid"]), "-f", f"tobbix.cli {name}"],
                                capture_output=True, text=True, check=False)  # fmt: skip
        return [int(line) for line in listed.stdout.split()]

    def stop(self) -> None:
        if self._process is not None:
            self._process.send_signal(signal.SIGTERM)
            assert self._process.wait(30) == 0, self.logs()
            self._process = None

    def browser(self, passphrase: str = PASSPHRASE) -> "Browser":
        return Browser(self.address).sign_in(passphrase)


class Browser(requests.Session):
    """A client that keeps cookies and sends the token along, as the interface does."""

    def __init__(self, address: str) -> None:
        super().__init__()
        self.address = address
        self.headers["Origin"] = address

    def request(self, method: Any, url: Any, *more: Any, **how: Any) -> requests.Response:
        how.setdefault("timeout", 60)
        return super().request(method, self.address + str(url), *more, **how)

    def sign_in(self, passphrase: str) -> "Browser":
        self.headers["X-CSRFToken"] = self.get("/api/session").json()["token"]
        answer = self.post("/api/session", json={"passphrase": passphrase})
        assert answer.status_code == 200, answer.text
        self.headers["X-CSRFToken"] = answer.json()["token"]
        return self


def install(server_url: str, name: str, folder: Path, cluster: Path | None = None, **settings: str) -> Served:
    """An empty installation with its owner, not started; with ``cluster`` in the database of that cluster itself."""
    url = make_database(server_url, name) if cluster is None else server_url
    database = Database(url)
    migrate(database.engine)
    create_owner(database, "Ines Quillfeather", PASSPHRASE)
    database.engine.dispose()
    return Served(url, folder, cluster, **settings)


@pytest.fixture(scope="module")
def served(server_url: str, worker_id: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    made = install(server_url, f"served_{worker_id}", tmp_path_factory.mktemp("served")).start()
    yield made
    made.stop()
