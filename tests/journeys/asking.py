"""Asking the application as its pages do, without loading one: for what a journey needs before it begins."""

import json
from typing import Any

from playwright.sync_api import APIResponse, Page

from tests.conftest import TODAY
from tobbix.services.installation.owners import DEMO_PASSPHRASE


def _send(page: Page, method: str, path: str, **said: Any) -> APIResponse:
    requests = page.context.request  # it shares the cookies of the context's pages
    token = requests.get("/api/session").json()["token"]
    return requests.fetch(f"/api/{path}", method=method, headers={"X-CSRFToken": token}, **said)


def ask(page: Page, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
    """What the application answers; None where it answers nothing."""
    answer = _send(page, method, path, **({} if body is None else {"data": body}))
    return None if answer.status == 204 else answer.json()


def let_in(page: Page) -> None:
    """Sign in without the form: the form has its own journey."""
    assert ask(page, "POST", "session", {"passphrase": DEMO_PASSPHRASE})["owner"]


def bring_in(page: Page, made: dict[str, Any]) -> None:
    """A product sheet comes in as a file."""
    file = {"name": "sheet.json", "mimeType": "application/json", "buffer": json.dumps(made).encode()}
    assert _send(page, "POST", "releases", multipart={"file": file}).status < 300


def own_card(page: Page) -> int:
    """A card of one's own that is here and may be sold, whatever other journeys sold or took in for friends."""
    wanted = "kind=card&identity=known&value=known&basis=known&never_for_sale=false&take=50"
    found = ask(page, "GET", f"items?{wanted}")["items"]
    return int(next(it["number"] for it in found if it["state"] == "held"))


def begin(page: Page, boxes: int) -> int:
    """A session of so many boxes that were just bought."""
    thing = {"kind": "sealed", "name": "boxes", "count": boxes, "release": "skerrylight-2025", "format": "harbour",
             "value": "96"}  # fmt: skip
    charge = {"kind": "price", "amount": "500", "currency": "EUR", "day": str(TODAY), "purse": "bank"}
    body = {"name": "boxes", "bought_on": str(TODAY), "received_on": str(TODAY), "charges": [charge], "things": [thing]}
    number = ask(page, "POST", "purchases", body)["number"]
    item = ask(page, "GET", f"purchases/{number}")["things"][0]["number"]
    return int(ask(page, "POST", "sessions", {"item": item, "boxes": boxes})["number"])
