"""The workshop that requests work with, handed over by the application that they run in."""

from flask import current_app

from tobbix.services.products.workshop import Workshop


def workshop() -> Workshop:
    """The workshop of the running application."""
    found = current_app.extensions["tobbix"]
    assert isinstance(found, Workshop)
    return found
