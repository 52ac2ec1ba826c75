"""Kills at random points of a script that does everything the program can: nothing lost, doubled or half done."""

import json
import os
import random
import signal
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import requests
from sqlalchemy import text

from tests.served.conftest import Served
from tests.sheets import example_1
from tobbix.db.base import Database

Act = Callable[..., Any]
WAY = {"name": "Quay", "on": "price", "most": None, "commission": [{"up_to": None, "share": "0.1"}],
       **dict.fromkeys(("fixed_fee", "payment_share", "payment_fixed", "least", "shipping_charged", "postage",
                        "packing", "lost", "tax"), "0")}  # fmt: skip


@dataclass
class Figures:
    """What came of it. ``refused``: acts that were refused though nobody else was at work."""

    kills: int = 0
    acts: int = 0
    repeated: int = 0
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)
    half_done: list[str] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)
    failures: int = 0
    longest: float = 0.0


class Actor:
    """An owner at work, who sends again what was not answered, and knows what was."""

    def __init__(self, served: Served, figures: Figures) -> None:
        self._served, self._figures = served, figures
        self._me = served.browser()
        self.stop = threading.Event()
        self.done: dict[str, int] = {}  # acts that were acknowledged, by key
        self.made: dict[str, set[str]] = {"purchase": set(), "item": set(), "spending": set(), "redemption": set()}

    def ask(self, method: str, path: str, body: object = None, *, file: bytes | None = None) -> Any:
        """Send until there is an answer; an act with the same key every time."""
        key = f"k{self._figures.acts}"
        self._figures.acts += 1
        how: dict[str, Any] = {"files": {"file": ("x", file)}} if file is not None else {"json": body}
        began = time.monotonic()
        while True:
            try:
                answer = self._me.request(method, f"/api/{path}", headers={"Idempotency-Key": key}, timeout=30, **how)
            except requests.RequestException:
                answer = None
            if answer is not None and answer.status_code < 500:
                break
            self._figures.failures += answer is not None and answer.status_code == 500
            self._figures.repeated += 1
            time.sleep(0.1)
        self._figures.longest = max(self._figures.longest, time.monotonic() - began)
        if answer.status_code >= 400:
            self._figures.refused.append(f"{method} {path}: {answer.status_code} {answer.text[:200]}")
            raise Refused
        if method != "GET":
            self.done[key] = answer.status_code
        return answer.json() if answer.content else None

    def run(self) -> None:
        turn = 0
        while not self.stop.is_set():
            for part in (self._buy, self._open, self._stock, self._prices, self._rest):
                for _ in self._steps(part, turn):
                    if self.stop.is_set():
                        return
            turn += 1

    def _steps(self, part: Callable[[int], Iterator[None]], turn: int) -> Iterator[None]:
        try:
            yield from part(turn)
        except Refused:
            return

    def _buy(self, turn: int) -> Iterator[None]:
        day = self.ask("GET", "session")["today"]
        money = {"amount": "1.00", "currency": "EUR", "day": day}
        name = f"lot {turn}"
        box = {
            "kind": "sealed",
            "name": "Test 2025, Box",
            "count": 2,
            "release": "test",
            "format": "box",
            "value": "130",
        }
        things = [box, {"kind": "card", "name": f"single {turn}", "value": "10"}]
        body = {"name": name, "bought_on": day, "things": things,
                "charges": [{**money, "kind": "price", "amount": "120.00"}]}  # fmt: skip
        number = self.ask("POST", "purchases", body)["number"]
        self.made["purchase"].add(name)
        yield
        here = f"purchases/{number}"
        self.ask("POST", f"{here}/receive", {"version": 1, "day": day})
        yield
        self.ask("POST", f"{here}/charges", {**money, "kind": "duty", "version": 2})
        self.ask("POST", f"{here}/refund", {**money, "version": 3})
        yield
        found = self.ask("GET", here)
        parts = [{"item": thing["number"], "weight": "1"} for thing in found["things"]]
        self.ask("POST", f"{here}/divide", {"version": 4, "method": "count", "parts": parts, "book": True})
        self.ask("PUT", here, {"version": 5, "name": name, "tracking": "GP1", "due_on": day})
        yield
        if turn % 3 == 2:
            self.ask("POST", f"{here}/undo", {"version": 6})

    def _open(self, turn: int) -> Iterator[None]:
        box = self.ask("GET", "sessions")["openable"][-1]
        number = self.ask("POST", "sessions", {"item": box["item"], "boxes": 1})["number"]
        here = f"sessions/{number}"
        yield
        for pull, (line, card) in enumerate((("c", "C8"), ("a", "A1"), ("a", "A10"))):
            self.ask("POST", f"{here}/pulls", {"pack": pull + 1, "line": line, "number": card})
            yield
        self.ask("POST", f"{here}/pack", {"pack": 4, "rest_of": 3})
        self.ask("POST", f"{here}/totals", {"packs": 2, "totals": [{"line": "a", "count": 1}]})
        yield
        self.ask("DELETE", f"{here}/pulls")
        self.ask("POST", f"{here}/pause")
        yield
        self.ask("POST", f"{here}/finish", {"rest_is_base": True})
        yield
        if turn % 2:
            self.ask("POST", f"{here}/reopen")
            self.ask("POST", f"{here}/finish", {"rest_is_base": True, "stopped_hot": True})

    def _stock(self, turn: int) -> Iterator[None]:
        name = f"old card {turn}"
        self.ask("POST", "items/one", {"name": name, "count": 1, "basis": "1.50", "value": "4"})
        self.made["item"].add(name)
        yield
        rows = "".join(f"row {turn}-{row},1.00\n" for row in range(60))
        self.ask("POST", "items", file=f"name,basis\n{rows}".encode())
        self.made["item"] |= {f"row {turn}-{row}" for row in range(60)}
        yield
        item = self.ask("GET", f"items?find={name}&sort=id&descending=true")["items"][0]
        here = f"items/{item['number']}"
        self.ask("PUT", here, {"version": 1, "place": "tin 9"})
        self.ask("POST", f"{here}/out", {"version": 2, "action": "lose", "why": "the post"})
        self.ask("POST", f"{here}/back", {"version": 3})
        yield
        self.ask("PUT", "item-filters", {"name": f"f{turn}", "query": {"find": name}})
        self.ask("DELETE", f"item-filters/f{turn}")

    def _prices(self, turn: int) -> Iterator[None]:
        sheet = {**example_1(), "id": f"r{turn}"}
        self.ask("POST", "releases", file=json.dumps(sheet).encode())
        here = f"releases/r{turn}"
        yield
        priced = self.ask("GET", here)["release"]["price_revision"]
        done = self.ask("PUT", f"{here}/lines/c/price", {"number": "C8", "price": "130", "price_revision": priced})
        self.ask("PUT", f"{here}/formats/box/price", {"price": "55", "price_revision": done["price_revision"]})
        self.ask("PUT", f"{here}/lines/a/odds", {"format": "box", "odds": "1:4 packs", "revision": 1})
        yield
        self.ask("POST", f"{here}/undo")
        self.ask("PUT", f"{here}/wanted", {"line": "c", "number": "C8", "wanted": True})
        trial = {"version": 0, "kind": "box_price", "format": "box", "text": "60"}
        self.ask("POST", f"{here}/trial/edits", trial)
        self.ask("POST", f"{here}/trial/keep", {"version": 1})
        yield
        self.ask("POST", f"{here}/formats/box/simulations", {"kind": "boxes", "count": 2_000, "seed": turn})
        self.ask("DELETE", here)
        self.ask("POST", f"{here}/restore")

    def _rest(self, turn: int) -> Iterator[None]:
        day = self.ask("GET", "session")["today"]
        what = f"packs {turn}"
        self.ask("POST", "spending", {"day": day, "amount": "2.00", "what": what})
        self.made["spending"].add(what)
        yield
        self.ask("PUT", "rates", {"currency": "GBP", "day": f"2026-0{turn % 9 + 1}-11", "rate": "1.1650"})
        self.ask("PUT", f"ways/w{turn}", {**WAY, "version": 0})
        if turn % 2:
            self.ask("DELETE", f"ways/w{turn}")
        yield
        kept = self.ask("GET", "preferences")
        for name in ("currency", "currency_open", "sheet_condition", "school"):
            del kept[name]
        self.ask("PUT", "preferences", {**kept, "margin": turn % 5 / 10})
        code = f"BL-{turn}"
        rows = self.ask("POST", "redemptions", {"name": "Build a Light", "code": code, "due_on": day})["redemptions"]
        self.made["redemption"].add(code)
        row = next(row for row in rows if row["code"] == code)
        self.ask("PUT", f"redemptions/{row.pop('number')}", {**row, "chosen": "front 2"})
        yield
        self.ask(
            "POST", "weights", {"release": "test", "format": "box", "unit": "box", "grams": 10.5, "held_hit": True}
        )


def kill_database(folder: Path) -> None:
    """End the server of a cluster at once, as a crash would."""
    where = folder / "elsewhere"
    data = Path(where.read_text().strip() if where.exists() else folder) / "data"
    os.kill(int((data / "postmaster.pid").read_text().splitlines()[0]), signal.SIGKILL)


class Refused(Exception):
    """An act was refused; the script goes on with the next part."""


def run_kills(
    served: Served, kills: int, seed: int, kill_database: Callable[[], object] | None = None
) -> tuple[Figures, Actor]:
    """Let the script run, kill the server (or the worker, or the database) at random, and count what is wrong after."""
    figures = Figures()
    chance = random.Random(seed)
    setup = served.browser()
    setup.post("/api/releases", files={"file": ("s.json", json.dumps(example_1()).encode())})
    actor = Actor(served, figures)
    thread = threading.Thread(target=actor.run)
    thread.start()
    try:
        for number in range(kills):
            time.sleep(chance.random())
            if kill_database is not None and number % 10 == 9:
                kill_database()
            else:
                for process in served.children("work" if number % 10 == 4 else "web"):
                    os.kill(process, signal.SIGKILL)
            figures.kills += 1
            served.wait_until(lambda health: health["store"])
    finally:
        actor.stop.set()
        thread.join(120)
    judge(served, actor, figures)
    return figures, actor


_WRONG = {
    "an entry that does not balance": "select e.id from entry e left join posting p on p.entry_id = e.id "
    "group by e.id having coalesce(sum(p.amount), (e.event in ('purchase', 'refund'))::int) <> 0",
    "a thing without its history": "select id from item i where not exists (select from item_event e where "
    "e.item_id = i.id)",
    "a purchase without its costs": "select id from purchase p where not exists (select from charge c where "
    "c.document_id = p.document_id)",
    "a purchase without its booking": "select id from purchase p where not exists (select from entry e where "
    "e.document_id = p.document_id)",
    "stock that is not the sum of its bases": "select 1 where (select coalesce(sum(amount), 0) from posting "
    "where account in ('stock', 'transit', 'grading', 'supplies')) <> (select coalesce(sum(basis), 0) from item "
    "where state in ('held', 'in_transit', 'away'))",
    "a list of which some rows are missing": "select split_part(name, '-', 1) from item where name like 'row %' "
    "group by 1 having count(*) % 60 <> 0",
    "an act without its answer": "select once from sent where status = 0",
    "a release without formats": "select id from release r where not exists (select from format f where "
    "f.release_id = r.id)",
}


def judge(served: Served, actor: Actor, figures: Figures) -> None:
    """Hold what is stored against what was acknowledged, and against itself."""
    database = Database(served.url)
    with database.engine.connect() as connection:
        kept = {row[0]: row[1] for row in connection.execute(text("select once, status from sent"))}
        figures.lost += [key for key, status in actor.done.items() if kept.get(key) != status]
        for table, told in (
            ("purchase", "text from document where kind = 'purchase'"), ("item", "name from item"),
            ("spending", "what from spending"), ("redemption", "code from redemption"),
        ):  # fmt: skip
            counted = connection.execute(text(f"select t.*, count(*) from (select {told}) t group by 1"))  # noqa: S608
            counts = {row[0]: row[1] for row in counted}
            figures.lost += [f"{table} {name}" for name in actor.made[table] if name not in counts]
            figures.doubled += [f"{table} {name}" for name in actor.made[table] if counts.get(name, 0) > 1]
        twice = "select session_id, once from pull group by 1, 2 having count(*) > 1"
        figures.doubled += [str(row) for row in connection.execute(text(twice))]
        for what, query in _WRONG.items():
            figures.half_done += [f"{what}: {row[0]}" for row in connection.execute(text(query))]
    database.engine.dispose()
