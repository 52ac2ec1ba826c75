"""The log of a process: one file that only its owner may read, which rotates; no secrets, and never local variables."""

import logging
import os
import re
from collections.abc import Iterable
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Any

MOST_BYTES = 2 * 1024 * 1024
KEPT = 3
_HIDDEN = "[hidden]"
_NAMED = re.compile(
    r"(?i)((?:pass(?:phrase|word|wd)|secret(?:_key)?|token|cookie|authorization)[\"']?\s*[:=]\s*)(\"[^\"]*\"|'[^']*'|[^\s,;)}\]]+)"
)
_IN_ADDRESS = re.compile(r"(?<=://)([^\s:/@]*):([^\s@]*)@")


class Discreet(logging.Formatter):
    """Lines of time, level and words, with what is secret taken out: what is known, and what is called one."""

    def __init__(self, secrets: Iterable[str]) -> None:
        super().__init__("%(asctime)s %(levelname)s %(name)s: %(message)s")
        self._secrets = [secret for secret in secrets if secret]

    def format(self, record: logging.LogRecord) -> str:
        text = super().format(record)
        for secret in self._secrets:
            text = text.replace(secret, _HIDDEN)
        text = _IN_ADDRESS.sub(rf"\1:{_HIDDEN}@", text)
        return _NAMED.sub(rf"\1{_HIDDEN}", text)


class Private(RotatingFileHandler):
    """A file with mode 600, also after it has rotated."""

    def _open(self) -> Any:
        stream = super()._open()
        os.fchmod(stream.fileno(), 0o600)
        return stream


def start_log(target: Path | None, secrets: Iterable[str]) -> None:
    """Send what the process says to a file (to standard error without one)."""
    os.umask(0o077)
    handler = (
        logging.StreamHandler()
        if target is None
        else Private(target, maxBytes=MOST_BYTES, backupCount=KEPT, encoding="utf-8")
    )
    handler.setFormatter(Discreet(secrets))
    root = logging.getLogger()
    root.handlers = [handler]
    root.setLevel(logging.WARNING)
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # that one request waits for another is no news
    logging.getLogger("tobbix").setLevel(logging.INFO)
