"""The server of HTTP: waitress, which takes a request in whole before a thread works on it.

Connections are bounded, and so is the time that headers and bodies may take: whoever dawdles is cut off.
What it refuses by itself is a problem document like every other refusal.
"""

import json
import socket
import time
from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ErrorTask

MOST_CONNECTIONS = 480
HEADER_SECONDS = 20
BODY_SECONDS = 30  # and one more for each 100 kB that is announced
IDLE_SECONDS = 75
_SLOWEST = 100_000
MOST_HEADER_BYTES = 48 * 1024
_LARGE = 1024 * 1024
_MOST_LARGE = 8  # uploads at once
_WORDS = {
    HTTPStatus.REQUEST_ENTITY_TOO_LARGE: "That is larger than anything that can be sent here.",
    HTTPStatus.REQUEST_HEADER_FIELDS_TOO_LARGE: f"Address and headers hold at most {MOST_HEADER_BYTES // 1024} kB.",
    HTTPStatus.REQUEST_TIMEOUT: "The request took too long to arrive; send it again.",
    HTTPStatus.SERVICE_UNAVAILABLE: "Too many large files are arriving at once; try again in a moment.",
    HTTPStatus.INTERNAL_SERVER_ERROR: "Something went wrong here.",
}


class _Refusal:
    """What the server itself refuses."""

    def __init__(self, status: HTTPStatus) -> None:
        self.code = int(status)


class _ProblemTask(ErrorTask):  # type: ignore[misc]
    """A refusal as a problem document (RFC 9457)."""

    def execute(self) -> None:
        status = HTTPStatus(self.request.error.code)
        problem = {"type": "about:blank", "title": status.phrase, "status": int(status), "faults": [], "flag": None,
                   "detail": _WORDS.get(status, "That is not a request that can be understood.")}  # fmt: skip
        body = json.dumps(problem).encode()
        self.status = f"{int(status)} {status.phrase}"
        self.response_headers = [
            ("Content-Type", "application/problem+json"),
            ("Cache-Control", "no-store"),
            ("X-Content-Type-Options", "nosniff"),
        ]
        self.set_close_on_finish()
        self.content_length = len(body)
        self.write(body)


class _Channel(HTTPChannel):  # type: ignore[misc]
    """A connection that knows since when its present request is arriving."""

    error_task_class = _ProblemTask
    since: float | None = None
    request: Any

    def received(self, data: bytes) -> bool:
        if self.request is None:
            self.since = time.time()
        taken = bool(super().received(data))
        arriving = self.request
        if arriving is None:
            self.since = None
        elif self.announced > _LARGE and self.server.large_ones() > _MOST_LARGE:
            self.refuse(HTTPStatus.SERVICE_UNAVAILABLE)
        return taken

    @property
    def announced(self) -> int:
        """The bytes of the body that is arriving, as far as it is known."""
        arriving = self.request
        return int(arriving.content_length or 0) if arriving is not None and arriving.headers_finished else 0

    def is_late(self, now: float) -> bool:
        """Whether the request that is arriving has taken longer than it may."""
        arriving = self.request
        if arriving is None or self.since is None:
            return False
        allowed = BODY_SECONDS + self.announced / _SLOWEST if arriving.headers_finished else HEADER_SECONDS
        return now - self.since > allowed

    def refuse(self, status: HTTPStatus) -> None:
        """Answer what is still arriving, and close."""
        with self.requests_lock:
            arriving, self.request, self.since = self.request, None, None
            if arriving is None or self.will_close or self.close_when_flushed:
                return
            arriving.error, arriving.completed = _Refusal(status), True
            self.requests.append(arriving)
            if len(self.requests) == 1:
                self.server.add_task(self)


class WebServer(TcpWSGIServer):  # type: ignore[misc]
    """waitress with an end to patience."""

    channel_class = _Channel

    def large_ones(self) -> int:
        return sum(channel.announced > _LARGE for channel in list(self.active_channels.values()))

    def maintenance(self, now: float) -> None:
        super().maintenance(now)
        for channel in list(self.active_channels.values()):
            if channel.is_late(now):
                channel.refuse(HTTPStatus.REQUEST_TIMEOUT)

    def handle_accept(self) -> None:
        """Take a connection in; if there are too many, the one that was quiet for longest makes room."""
        while len(self.active_channels) >= MOST_CONNECTIONS:
            quiet = min(
                (channel for channel in self.active_channels.values() if not channel.requests),
                key=lambda channel: channel.last_activity,
                default=None,
            )
            if quiet is None:
                return  # all are being answered; it waits in the queue of the system
            quiet.handle_close()
        super().handle_accept()


def make_web_server(application: Callable[..., Any], listener: socket.socket, most_bytes: int) -> WebServer:
    """A server on a socket that listens already; ``run`` serves until it is told to stop."""
    from_waitress = _adjust(most_bytes)
    return WebServer(
        application, None, True, listener, bind_socket=False, adj=from_waitress,
        sockinfo=(listener.family, listener.type, listener.proto, listener.getsockname()),
    )  # fmt: skip


def _adjust(most_bytes: int) -> Any:
    return Adjustments(
        threads=8,
        connection_limit=1_000_000,  # counted by the server itself, see handle_accept
        channel_timeout=IDLE_SECONDS,
        cleanup_interval=2,
        max_request_body_size=most_bytes,
        max_request_header_size=MOST_HEADER_BYTES,
        outbuf_high_watermark=1 << 30,  # a slow reader keeps a file waiting, never a thread
        asyncore_use_poll=True,
        backlog=256,
        ident=None,
        clear_untrusted_proxy_headers=True,
        log_socket_errors=False,
    )
