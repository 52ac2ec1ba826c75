"""The keeper: one process that holds the port and keeps the others alive, whatever ends them.

It binds first, so that a port that is taken is said at once and stays this installation's while the server is started
again. It keeps the web server and the worker, and the database's own cluster if it is told where that is. Where it is
and who it is stands in a file, by a token that the server's health repeats.
"""

import fcntl
import json
import logging
import os
import secrets
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO
from urllib.parse import urlsplit

from tobbix.core.base.errors import Conflict

log = logging.getLogger("tobbix.keeper")
_LONG = 30.0  # seconds after which a start counts as one that went well
_MOST_DELAY = 2.0
_PATIENCE = 8.0  # seconds to end by itself


@dataclass
class Child:
    """A process to keep: how it is started, and how often it ended of late."""

    name: str
    command: list[str]
    files: tuple[int, ...] = ()
    process: subprocess.Popen[bytes] | None = None
    began: float = 0.0
    next_start: float = 0.0
    delay: float = field(default=0.1)

    def tend(self, environment: Mapping[str, str]) -> None:
        """Start it if it is not there and its time has come."""
        now = time.monotonic()
        if self.process is not None:
            code = self.process.poll()
            if code is None:
                return
            self.process = None
            self.delay = 0.1 if now - self.began > _LONG else min(self.delay * 2, _MOST_DELAY)
            self.next_start = now + self.delay
            log.warning("%s ended (%s); it is started again", self.name, code)
        if now >= self.next_start:
            self.began = now
            self.process = subprocess.Popen(self.command, env=environment, pass_fds=self.files)

    def ask_to_end(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()

    def end(self, until: float) -> None:
        if self.process is None:
            return
        try:
            self.process.wait(max(until - time.monotonic(), 0.05))
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
        self.process = None


def bind(host: str, port: int, tries: int = 1, patience: float = 0.0) -> socket.socket:
    """A socket that listens on the first free of ``tries`` ports from ``port`` on. Raises Conflict."""
    end = time.monotonic() + patience
    while True:
        for wanted in range(port, min(port + tries, 65_536)):
            listener = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
            listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                listener.bind((host, wanted))
                listener.listen(256)
                return listener
            except OSError as error:
                listener.close()
                reason = error.strerror
        if time.monotonic() >= end:
            many = f"{port}" if tries == 1 else f"{port} to {port + tries - 1}"
            raise Conflict(f"{host}, port {many}: {reason}; choose another with --port")
        time.sleep(0.2)


class Place:
    """The folder in which an installation runs: held by one keeper at a time, who says there where it listens."""

    def __init__(self, folder: Path) -> None:
        self._state = folder / "server.json"
        self._lock: IO[str] = (folder / "server.lock").open("a+")
        try:
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise Conflict(f"this installation is served already, at {self._said().get('address')}") from None

    def _said(self) -> dict[str, str]:
        try:
            said = json.loads(self._state.read_text())
        except (OSError, ValueError):
            return {}
        return said if isinstance(said, dict) else {}

    def last_port(self) -> int | None:
        """Where a keeper before this one listened, if it was not stopped in order."""
        port = self._said().get("port")
        return port if isinstance(port, int) else None

    def announce(self, address: str, port: int, token: str) -> None:
        fresh = self._state.with_suffix(".new")
        said = {"address": address, "port": port, "token": token, "pid": os.getpid()}
        with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
            json.dump(said, file)
        fresh.replace(self._state)

    def leave(self) -> None:
        self._state.unlink(missing_ok=True)


class Keeper:
    """Keeps the web server and the worker on ``listener``; with ``cluster`` also the database's own cluster."""

    def __init__(self, listener: socket.socket, url: str, cluster: Path | None, logs: Path | None) -> None:
        self.token = secrets.token_hex(16)
        host, port = listener.getsockname()[:2]
        self.port = int(port)
        self.address = f"http://{f'[{host}]' if ':' in host else host}:{port}"
        self._url, self._cluster = url, cluster
        self._stop = threading.Event()
        mine = ["--parent", str(os.getpid())]

        def command(name: str, *more: str) -> list[str]:
            target = [] if logs is None else ["--log", str(logs / f"{name}.log")]
            return [sys.executable, "-m", "tobbix.cli", name, *mine, *target, *more]

        descriptor = listener.fileno()
        self._children = [
            Child("the server", command("web", "--socket", str(descriptor)), (descriptor,)),
            Child("the worker", command("work")),
        ]

    def run(self) -> None:
        """Keep them until told to stop."""
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, lambda *_: self._stop.set())
        if self._cluster is not None:
            threading.Thread(target=self._keep_cluster, daemon=True).start()
        while not self._stop.is_set():
            environment = {**os.environ, "TOBBIX_DATABASE_URL": self._url, "TOBBIX_INSTANCE": self.token,
                           "MALLOC_ARENA_MAX": "2"}  # fmt: skip  # many threads must not hold on to much memory each
            for child in self._children:
                child.tend(environment)
            self._stop.wait(0.1)
        for child in self._children:
            child.ask_to_end()
        until = time.monotonic() + _PATIENCE
        for child in self._children:
            child.end(until)

    def _keep_cluster(self) -> None:
        while not self._stop.wait(1):
            if _answers(self._url):
                continue
            log.warning("the database is not there; it is started again")
            started = subprocess.run(
                ["scripts/cluster.sh", "start", str(self._cluster)], capture_output=True, text=True, check=False
            )
            url = started.stdout.strip()
            if started.returncode != 0:
                log.error("the database did not start: %s", started.stderr.strip()[-500:])
            elif url != self._url:  # its port was taken by another: whoever knew the old one is started again
                self._url = url
                for child in self._children:
                    child.ask_to_end()


def _answers(url: str) -> bool:
    """Whether somebody listens where the database should be."""
    address = urlsplit(url)
    try:
        with socket.create_connection((address.hostname or "127.0.0.1", address.port or 5432), 5):
            return True
    except OSError:
        return False


def end_with(parent: int) -> None:
    """End this process with its parent, at once: nothing is ever half stored."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os.kill(os.getpid(), signal.SIGKILL)

    threading.Thread(target=watch, daemon=True).start()
