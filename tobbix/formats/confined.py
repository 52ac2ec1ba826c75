"""Read a file of somebody else's in a process of its own, with an end to its memory and its time.

A small file can do great harm to whoever unpacks it: a workbook of 0.4 MB can hold gigabytes. So workbooks, zips and
every text that is not small are read by a child that is given the bytes, may hold ``MEMORY`` bytes and work for
``SECONDS``, and answers with the values that it read, or with the faults.
"""

import os
import pickle
import resource
import subprocess
import sys
import threading
from collections.abc import Callable, Mapping
from io import BytesIO
from typing import Any

from tobbix.core.base.errors import Fault, InputError
from tobbix.formats.limits import MEMORY, SECONDS

Progress = Callable[[int], None]
_TOO_LONG = f"takes more than {SECONDS} seconds to read; split it into smaller files"
_TOO_MUCH = "needs more memory to read than a file may; split it into smaller files, or save it anew"
_PLAIN = {"builtins": {"set", "frozenset", "dict", "list", "tuple"}, "datetime": {"date"}, "decimal": {"Decimal"},
          "fractions": {"Fraction"}}  # fmt: skip
_SERVERS = threading.BoundedSemaphore(2)  # readers at once


class _ValuesOnly(pickle.Unpickler):
    """The child is ours, but what it read is not: it hands over our own values, and no other."""

    def find_class(self, module: str, name: str) -> Any:
        if module.startswith(("tobbix.core.", "tobbix.formats.")) or name in _PLAIN.get(module, ()):
            return super().find_class(module, name)
        raise pickle.UnpicklingError(f"{module}.{name}")


def read_confined(kind: str, content: bytes, progress: Progress | None = None) -> Any:
    """What the reader ``kind`` makes of a file (see ``tobbix.formats.readers``). ``progress`` is told the rows so far.

    Raises InputError, with every fault that the reader found, or for a file that is too much.
    """
    environment = {"PATH": os.environ.get("PATH", ""), "PYTHONPATH": os.pathsep.join(filter(None, sys.path)),
                   "OPENBLAS_NUM_THREADS": "1"}  # fmt: skip
    with _SERVERS:
        child = subprocess.Popen(
            [sys.executable, "-m", "tobbix.formats.readers", kind], stdin=subprocess.PIPE, stdout=subprocess.PIPE,
            stderr=subprocess.PIPE, env=environment,
        )  # fmt: skip
        timer = threading.Timer(SECONDS, child.kill)
        timer.start()
        said: list[str] = []
        listener = threading.Thread(target=_listen, args=(child, progress, said), daemon=True)
        listener.start()
        try:
            answer = _talk(child, content)
        finally:
            is_late = not timer.is_alive()
            timer.cancel()
            child.kill()
            child.wait()
            listener.join()
    if is_late:
        raise InputError.at("file", _TOO_LONG)
    if not answer:
        if child.returncode < 0 or any("MemoryError" in line for line in said):
            raise InputError.at("file", _TOO_MUCH)
        raise RuntimeError(f"the reader ended with {child.returncode}: {' '.join(said)[-500:]}")
    outcome, value = _ValuesOnly(BytesIO(answer)).load()
    if outcome == "faults":
        raise InputError([Fault(*fault) for fault in value])
    return value


def _talk(child: "subprocess.Popen[bytes]", content: bytes) -> bytes:
    assert child.stdin is not None and child.stdout is not None
    try:
        with child.stdin:
            child.stdin.write(content)
    except BrokenPipeError:
        pass  # it ended before it had read all; what it says tells why
    with child.stdout:
        return child.stdout.read()


def _listen(child: "subprocess.Popen[bytes]", progress: Progress | None, said: list[str]) -> None:
    assert child.stderr is not None
    with child.stderr:
        for line in child.stderr:
            words = line.decode("utf-8", "replace").strip()
            if words.startswith("rows "):
                if progress is not None:
                    progress(int(words[5:]))
            else:
                said[:] = [*said[-20:], words]


def serve_reader(readers: Mapping[str, Callable[[bytes, Progress], Any]], kind: str) -> None:
    """The child's side: read standard input whole, answer on standard output."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    content = sys.stdin.buffer.read()
    try:
        answer: tuple[str, Any] = ("values", readers[kind](content, _tell))
    except InputError as error:
        answer = ("faults", [(fault.field, fault.message, fault.sheet, fault.row) for fault in error.faults])
    except MemoryError:
        answer = ("faults", [("file", _TOO_MUCH, None, None)])
    pickle.dump(answer, sys.stdout.buffer, pickle.HIGHEST_PROTOCOL)
    sys.stdout.flush()
    os._exit(0)


def _tell(rows: int) -> None:
    print(f"rows {rows}", file=sys.stderr, flush=True)
