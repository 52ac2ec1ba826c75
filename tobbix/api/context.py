"""What requests work with, handed over by the application that they run in."""

from collections.abc import Callable
from dataclasses import dataclass

from flask import current_app

from tobbix.services.products.workshop import Workshop


@dataclass(frozen=True)
class Context:
    """The workshop, and what adds the demo's releases to it."""

    workshop: Workshop
    add_demo_releases: Callable[[Workshop], int]


def context() -> Context:
    """The context of the running application."""
    found = current_app.extensions["tobbix"]
    assert isinstance(found, Context)
    return found


def workshop() -> Workshop:
    """The workshop of the running application."""
    return context().workshop
