"""Requests that nobody would send by honest typing: from the API's own document, and against every rule of it."""

import json
import random
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import quote

import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings

from tests.served.conftest import Browser, Served

# They end the attacker's own session, or are attacked by themselves.
APART = {("/api/session", "post"), ("/api/session", "delete"), ("/api/backup", "post"), ("/api/backup", "get"),
         ("/api/sign-ins", "delete")}  # fmt: skip
TEXTS = ["", " ", "\x00", "a\x0bb", "\ud800", "x" * 70_000, "'; drop table item; --", "%s%n", "../../etc/passwd", "-0",
         "=1+1", "<script>", "\u202etxt", "🂡" * 300, "null", "NaN", "1e999999999", "9" * 5_000, "0x10", "1:0 packs",
         "1:1e-300 packs", "skerrylight-2025", "2026-02-30", "0000-00-00", "+1", "１２"]  # fmt: skip
NUMBERS = [0, -1, 1, 5e-324, 1e308, -1e308, 1e-9, 2**31, 2**63, -(2**63), 10**400, 0.1, 99_999_999, True]
RAW = [b"", b"{", b"[" * 50_000, b"\xff\xfe", b'{"a": NaN}', b'{"a": Infinity}', b'{"a": 1e999999}', b"null", b"[]",
       b'"x"', b'{"a": 1, "a": 2}', b'{"\\u0000": 1}', b"{}" * 100, b'{"a":' + b"9" * 5_000 + b"}"]  # fmt: skip
PATHS = [
    "/" + "x" * 256, "/..%2f..%2fetc%2fpasswd", "/%00", "/api/%2e%2e/", "/assets/../index.html", "//evil.example/",
    "/api/releases/" + "y" * 5_000, "/api/items/99999999999999999999", "/api/items/-1", "/api/purchases/0x1", "/\u202e",
    "/api/releases/a%0d%0aX-Set:1", "/api/books/ledger.txt%00", "/?" + "a=1&" * 5_000,
]  # fmt: skip


@dataclass
class Figures:
    """What was answered. ``failed``: 5xx, or no answer; ``unplain``: refusals that are no problem documents."""

    sent: int = 0
    statuses: Counter[int] = field(default_factory=Counter)
    failed: list[str] = field(default_factory=list)
    unplain: list[str] = field(default_factory=list)
    slowest: float = 0.0
    slowest_what: str = ""
    memory: int = 0  # bytes of the server, at most


def memory_of(served: Served) -> int:
    """The most memory that the web server has held (bytes)."""
    lines = Path(f"/proc/{served.children('web')[0]}/status").read_text().splitlines()
    return next(int(line.split()[1]) * 1024 for line in lines if line.startswith("VmHWM"))


class Attacker:
    """Sends, and keeps the figures."""

    def __init__(self, served: Served, seed: int) -> None:
        self.served, self.figures = served, Figures()
        self.me: Browser = served.browser()
        self.chance = random.Random(seed)

    def judge(self, what: str, began: float, answer: requests.Response | None) -> None:
        took = time.monotonic() - began
        figures = self.figures
        figures.sent += 1
        if took > figures.slowest:
            figures.slowest, figures.slowest_what = took, what[:120]
        if answer is None or answer.status_code >= 500:
            figures.failed.append(f"{what[:300]}: {None if answer is None else answer.text[:200]}")
            return
        figures.statuses[answer.status_code] += 1
        if answer.status_code == 401:
            self.me = self.served.browser()
        kind = answer.headers.get("Content-Type", "")
        if answer.status_code >= 400 and kind != "application/problem+json":
            figures.unplain.append(f"{what[:200]}: {answer.status_code} {kind}")

    def send(self, method: str, path: str, **how: Any) -> None:
        began = time.monotonic()
        try:
            answer = self.me.request(method, path, allow_redirects=False, **how)
        except (requests.exceptions.InvalidURL, UnicodeError, ValueError):
            return  # the client itself does not send such a thing
        except requests.RequestException:
            answer = None
        self.judge(f"{method} {path} {str(how)[:200]}", began, answer)

    def from_schema(self, count: int) -> None:
        """Requests made from the document, of every operation about equally many."""
        schema = schemathesis.openapi.from_url(f"{self.served.address}/api/openapi.json")
        operations = [found.ok() for found in schema.get_all_operations()]
        operations = [found for found in operations if (found.path, found.method) not in APART]
        each = max(count // len(operations), 1)
        for operation in operations:

            @settings(max_examples=each, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
                      suppress_health_check=list(HealthCheck))  # fmt: skip
            @given(case=operation.as_strategy())
            def attack(case: Any) -> None:
                began = time.monotonic()
                try:
                    sent = case.as_transport_kwargs(base_url=self.served.address)
                    sent["headers"] = {**dict(sent.get("headers") or {}), **dict(self.me.headers)}
                    address = sent.pop("url").removeprefix(self.served.address)
                    answer = self.me.request(sent.pop("method"), address, allow_redirects=False, **sent)
                except requests.RequestException:
                    answer = None
                self.judge(f"{case.method} {case.formatted_path}", began, answer)

            attack()

    def against_the_rules(self, count: int) -> None:
        """Requests that break what the document says, in every way that came to mind."""
        document = self.me.get("/api/openapi.json").json()
        operations = [(path, method, operation) for path, methods in sorted(document["paths"].items())
                      for method, operation in methods.items() if (path, method) not in APART]  # fmt: skip
        schemas = document["components"]["schemas"]
        for _ in range(count):
            if self.chance.random() < 0.1:
                self.send(
                    self.chance.choice(["GET", "POST", "DELETE", "PATCH", "TRACE", "X"]), self.chance.choice(PATHS)
                )
                continue
            path, method, operation = self.chance.choice(operations)
            address = path
            for parameter in operation.get("parameters", []):
                value = self._value(parameter["schema"], schemas)
                if parameter["in"] == "path":
                    address = address.replace(f"{{{parameter['name']}}}", _encode(str(value)))
                elif self.chance.random() < 0.7:
                    address += f"{'&' if '?' in address else '?'}{parameter['name']}={_encode(str(value))}"
            content = operation.get("requestBody", {}).get("content", {})
            if "multipart/form-data" in content:
                self.send(method.upper(), address[:30_000], files={"file": ("x", self.chance.choice(RAW))})
            elif content and self.chance.random() < 0.15:
                kind = {"Content-Type": self.chance.choice(["application/json", "text/plain", "x"])}
                self.send(method.upper(), address[:30_000], data=self.chance.choice(RAW), headers=kind)  # fmt: skip
            elif content:
                body = self._value(next(iter(content.values()))["schema"], schemas)
                self.send(method.upper(), address[:30_000], data=json.dumps(body).encode("utf-8", "surrogatepass"),
                          headers={"Content-Type": "application/json"})  # fmt: skip
            else:
                self.send(method.upper(), address[:30_000])

    def _text(self) -> str:
        return self.chance.choice(TEXTS)

    def _value(self, schema: dict[str, Any], schemas: dict[str, Any], depth: int = 0) -> Any:
        """Something that is nearly, or not at all, what a schema wants."""
        if "$ref" in schema:
            schema = schemas[schema["$ref"].rpartition("/")[2]]
        if self.chance.random() < 0.12 or depth > 6:
            return self.chance.choice([None, [], {}, self._text(), self.chance.choice(NUMBERS), [[[]]]])
        if "anyOf" in schema:
            return self._value(self.chance.choice(schema["anyOf"]), schemas, depth)
        if "enum" in schema:
            return self.chance.choice(schema["enum"])
        match schema.get("type"):
            case "object":
                fields = schema.get("properties", {})
                return {name: self._value(part, schemas, depth + 1) for name, part in fields.items()
                        if self.chance.random() < 0.93}  # fmt: skip
            case "array":
                many = self.chance.choice([0, 1, 2, 40])
                return [self._value(schema.get("items", {}), schemas, depth + 1) for _ in range(many)]
            case "integer" | "number":
                return self.chance.choice([1, 1, 2, 10, *NUMBERS])
            case "boolean":
                return self.chance.random() < 0.5
        return self.chance.choice(["EUR", "12.50", "2026-11-20", "box", "test", "a", "A1", self._text()])


def _encode(value: str) -> str:
    return quote(value.encode("utf-8", "surrogatepass"), safe="")


def run_requests(served: Served, count: int, seed: int) -> Figures:
    """Half of the requests from the document, half against it."""
    attacker = Attacker(served, seed)
    attacker.me.post("/api/demo-releases")
    attacker.from_schema(count // 2)
    attacker.against_the_rules(count - attacker.figures.sent)
    attacker.figures.memory = memory_of(served)
    return attacker.figures
