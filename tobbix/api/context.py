"""What requests work with, handed over by the application that they run in."""

from collections.abc import Callable
from dataclasses import dataclass

from flask import current_app

from tobbix.gateways.ports import RateFeed, Scale
from tobbix.services.products.workshop import Workshop


@dataclass(frozen=True)
class Context:
    """The workshop, the feeds and devices behind their ports, and what adds the demo's releases."""

    workshop: Workshop
    rates: RateFeed
    scale: Scale
    add_demo_releases: Callable[[Workshop], int]


def context() -> Context:
    """The context of the running application."""
    found = current_app.extensions["tobbix"]
    assert isinstance(found, Context)
    return found


def workshop() -> Workshop:
    """The workshop of the running application."""
    return context().workshop
