"""Small files of great harm, and files that are nearly right: each is answered in bounded time and memory."""

import io
import json
import random
import threading
import time
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

import requests

from tests.attack.hostile_requests import memory_of
from tests.served.conftest import Served
from tests.sheets import example_1
from tobbix.formats.item_lists import write_csv, write_xlsx

MB = 1024 * 1024
_MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
_HEAD = f'<?xml version="1.0"?><worksheet xmlns="{_MAIN}"><sheetData>'
_TAIL = "</sheetData></worksheet>"
_TYPES = (
    '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType='
    '"application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType='
    '"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>'
)


def workbook(sheet: bytes | Iterator[bytes], shared: bytes | None = None, name: str = "Release") -> bytes:
    """A workbook with one sheet of any bytes."""
    office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    package = "http://schemas.openxmlformats.org/package/2006/relationships"
    strings = f'<Relationship Id="r2" Type="{office}/sharedStrings" Target="sharedStrings.xml"/>' if shared else ""
    parts: dict[str, str | bytes] = {
        "[Content_Types].xml": _TYPES,
        "_rels/.rels": f'<Relationships xmlns="{package}"><Relationship Id="r1" Type="{office}/officeDocument" '
        'Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": f'<workbook xmlns="{_MAIN}" xmlns:r="{office}"><sheets><sheet name="{name}"'
        ' sheetId="1" r:id="r1"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{package}"><Relationship Id="r1" '
        f'Type="{office}/worksheet" Target="worksheets/sheet1.xml"/>{strings}</Relationships>',
    }  # fmt: skip
    if shared:
        parts["xl/sharedStrings.xml"] = shared
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for path, content in parts.items():
            archive.writestr(path, content)
        with archive.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as target:
            for chunk in [sheet] if isinstance(sheet, bytes) else sheet:
                target.write(chunk)
    return stream.getvalue()


def _repeat(head: str, part: str, times: int) -> Iterator[bytes]:
    yield (_HEAD + head).encode()
    block = (part * 1_000).encode()
    for _ in range(times // 1_000):
        yield block
    yield _TAIL.encode()


def _zip(parts: dict[str, bytes]) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return stream.getvalue()


def _with_text(words: str) -> str:
    return f'<worksheet xmlns="{_MAIN}"><sheetData><row><c t="inlineStr"><is><t>{words}</t></is></c></row>{_TAIL}'


def _cell(number: str) -> str:
    return f'<c r="A1" t="n"><v>{number}</v></c>'


def harmful_files() -> dict[str, Callable[[], bytes]]:
    """Each by its name, made when it is sent."""
    text = '<c t="inlineStr"><is><t>name</t></is></c>'
    entities = "".join(
        f'<!ENTITY a{n} "{"&a" + str(n - 1) + ";"}{("&a" + str(n - 1) + ";") * 9}">' for n in range(1, 10)
    )
    laughs = f'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a0 "lol">{entities}]>'
    sheet = example_1()
    return {
        "a number of a gigabyte, in JSON": lambda: json.dumps(sheet).replace('"0.05"', "1e999999999").encode(),
        "a small number of a gigabyte": lambda: json.dumps(sheet).replace('"0.05"', "1e-999999999").encode(),
        "a number of 5,000 digits": lambda: json.dumps(sheet).replace('"0.05"', "9" * 5_000).encode(),
        "100,000 brackets": lambda: b"[" * 100_000,
        "900 brackets in a field": lambda: b'{"tobbix": ' + b"[" * 900 + b"]" * 900 + b"}",
        "a list with such a number": lambda: b"name,basis,value\nx,1e999999999,1e-999999999\n",
        "a zip that unpacks to 2.8 GB": lambda: workbook(_repeat("", " " * 1_000, 2_800_000)),
        "a zip of such a zip": lambda: _zip({"Release.csv": workbook(_repeat("", " " * 1_000, 400_000))}),
        "CSV of 300 MB of spaces": lambda: _zip({"Release.csv": b" " * 300 * MB}),
        "a sheet of spaces": lambda: workbook(_repeat("", " " * 88, 1_000_000)),
        "a million empty rows": lambda: workbook(_repeat("<row>" + text + "</row>", "<row/>", 1_000_000)),
        "a million rows": lambda: workbook(_repeat("<row>" + text + "</row>", "<row><c><v>1</v></c></row>", 1_000_000)),
        "16,384 columns": lambda: workbook(_repeat("<row>" + text, "<c><v>1</v></c>", 16_000)),
        "16,384 columns a thousand times": lambda: workbook(
            _repeat("", '<row><c r="A1"><v>1</v></c><c r="XFD1"><v>1</v></c></row>', 20_000)
        ),
        "one cell at the far corner": lambda: workbook(
            f'{_HEAD}<row r="1">{text}</row><row r="1048576"><c r="XFD1048576"><v>1</v></c></row>{_TAIL}'.encode()
        ),
        "a million shared texts": lambda: workbook(
            f"{_HEAD}<row>{text}</row>{_TAIL}".encode(),
            f'<sst xmlns="{_MAIN}">'.encode() + b"<si><t>x</t></si>" * 1_000_000 + b"</sst>",
        ),
        "a shared text of 80 MB": lambda: workbook(
            f'{_HEAD}<row><c t="s"><v>0</v></c></row>{_TAIL}'.encode(),
            f'<sst xmlns="{_MAIN}"><si><t>'.encode() + b"x" * 80 * MB + b"</t></si></sst>",
        ),
        "a number without an end": lambda: workbook(f"{_HEAD}<row>{_cell('1e99999')}</row>{_TAIL}".encode()),
        "a whole number of 5,000 digits": lambda: workbook(
            f"{_HEAD}<row>{_cell('9' * 5_000)}</row>{_TAIL}".encode()
        ),
        "entities within entities": lambda: workbook(f"{laughs}{_with_text('&a9;')}".encode()),
        "an entity of a file": lambda: workbook(
            f'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY f SYSTEM "file:///etc/passwd">]>{_with_text("&f;")}'.encode()
        ),
        "60,000 elements within each other": lambda: workbook((_HEAD + "<row>" * 60_000).encode()),
        "5,000 parts": lambda: _zip({f"p{n}": b"" for n in range(5_000)}),
        "a line of 20 MB": lambda: b"name\n" + b"x" * 20 * MB,
        "20 million commas": lambda: b"name\n" + b"," * 20 * MB,
        "ten million line breaks": lambda: b"name\n" + b"\n" * 10 * MB,
        "a quote without an end": lambda: b'name\n"' + b"x\n" * 5 * MB,
        "100,001 rows": lambda: write_csv(("name",), ((f"x{n}",) for n in range(100_001))),
        "100,001 rows of a workbook": lambda: write_xlsx("I", ("name",), ((f"x{n}",) for n in range(100_001))),
        "UTF-16": lambda: "name\nGull Rock\n".encode("utf-16"),
        "control characters": lambda: b"name,note\nGull\x0bRock,\x00\n",
        "a sheet of 23 MB": lambda: json.dumps(sheet).encode() + b" " * 23 * MB,
        "200,000 cards": lambda: json.dumps({**sheet, "lines": [{**sheet["lines"][0], "cards": [
            {"number": str(n), "subject": "x", "weight": "1", "price": "1"} for n in range(200_000)]}]}).encode(),
        "repeated fields": lambda: b'{"tobbix": "product-sheet", "tobbix": "product-sheet"}',
        "no number": lambda: json.dumps(sheet).replace('"0.05"', "NaN").encode(),
    }  # fmt: skip


def mangled_files(count: int, seed: int) -> Iterator[tuple[str, bytes]]:
    """Right files with some bytes changed, cut or doubled."""
    chance = random.Random(seed)
    right = {
        "json": json.dumps(example_1(), indent=1).encode(),
        "csv": write_csv(("name", "basis"), ((f"x{n}", "1.00") for n in range(200))),
        "list": write_xlsx("Items", ("name", "basis"), ((f"x{n}", "1.00") for n in range(200))),
    }
    for number in range(count):
        name = chance.choice(sorted(right))
        content = bytearray(right[name])
        for _ in range(chance.choice([1, 3, 40])):
            place = chance.randrange(len(content))
            kind = chance.randrange(4)
            if kind == 0:
                content[place] = chance.randrange(256)
            elif kind == 1:
                del content[place : place + chance.randrange(1, 200)]
            elif kind == 2:
                content[place:place] = content[place : place + 100] * chance.randrange(1, 20)
            else:
                content[place:place] = chance.randbytes(8)
            if not content:
                content = bytearray(b"x")
        yield f"{name} {number}, mangled", bytes(content)


@dataclass
class Figures:
    """``failed``: 5xx or no answer. Seconds and bytes are the most of one file."""

    sent: int = 0
    statuses: Counter[int] = field(default_factory=Counter)
    failed: list[str] = field(default_factory=list)
    slowest: float = 0.0
    slowest_what: str = ""
    reader: int = 0  # bytes of the process that reads
    reader_what: str = ""
    server: int = 0  # bytes of the server


class _Watch:
    """The most memory of the processes that read files, looked at all the time."""

    def __init__(self) -> None:
        self.most = 0
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._look, daemon=True)
        self._thread.start()

    def _look(self) -> None:
        while not self._stop.wait(0.02):
            for path in Path("/proc").glob("[0-9]*/cmdline"):
                try:
                    if b"tobbix.formats.readers" in path.read_bytes():
                        lines = (path.parent / "status").read_text().splitlines()
                        held = next((line for line in lines if line.startswith("VmHWM")), "x 0")
                        self.most = max(self.most, int(held.split()[1]) * 1024)
                except OSError:
                    continue

    def take(self) -> int:
        most, self.most = self.most, 0
        return most

    def end(self) -> None:
        self._stop.set()
        self._thread.join()


def run_files(served: Served, count: int, seed: int, harmful: list[str] | None = None) -> Figures:
    """Send ``count`` files as lists of items and as product sheets in turn; the harmful ones as both."""
    figures, me, watch = Figures(), served.browser(), _Watch()

    def send(name: str, content: bytes, path: str) -> None:
        began = time.monotonic()
        try:
            answer = me.post(
                path,
                files={"file": ("x", content)},
                headers={"Idempotency-Key": f"{name}{path}"[-64:].encode("ascii", "replace").decode()},
                timeout=120,
            )
        except requests.RequestException as error:
            figures.failed.append(f"{name} to {path}: {error}")
            return
        finally:
            took = time.monotonic() - began
            figures.sent += 1
            if took > figures.slowest:
                figures.slowest, figures.slowest_what = took, name
            if (held := watch.take()) > figures.reader:
                figures.reader, figures.reader_what = held, name
        figures.statuses[answer.status_code] += 1
        if answer.status_code >= 500:
            figures.failed.append(f"{name} to {path}: {answer.text[:300]}")

    files = harmful_files()
    for name in harmful or list(files):
        content = files[name]()
        for path in ("/api/items", "/api/releases"):
            send(name, content, path)
    for name, content in mangled_files(max(count - figures.sent, 0), seed):
        send(name, content, chance_path(name))
    watch.end()
    figures.server = memory_of(served)
    return figures


def chance_path(name: str) -> str:
    """Where a mangled file belongs."""
    return "/api/releases" if name.startswith("json") else "/api/items"
