"""Redemptions: cards that come by post."""

from collections.abc import Mapping, Sequence
from typing import Any

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import State
from tobbix.core.opening.records import Redemption
from tobbix.db.holdings.loading import find_item
from tobbix.db.holdings.saving import change_words
from tobbix.db.opening import loading, saving
from tobbix.db.opening.loading import find_redemption, redeemable_items
from tobbix.services.products.catalogue import Catalogue


def take_redemption_back(catalogue: Catalogue, number: int, back: bool) -> None:
    """Take a redemption back, or bring it in again. Raises NotFound, or Conflict once its card arrived: that is taken
    back first."""
    with catalogue.database.transaction() as session:
        row = find_redemption(session, number)
        if back and row.arrived_on is not None:
            raise Conflict(f"{row.name} has arrived; say first that it has not")
        saving.take_redemption_back(session, number, back)


def list_redemptions(catalogue: Catalogue) -> list[Redemption]:
    """Cards that come by post: those that are still awaited first."""
    with catalogue.database.transaction() as session:
        return loading.list_redemptions(session)


def list_redeemable(catalogue: Catalogue) -> Sequence[Item]:
    """Cards in stock of a redemption line that no redemption is noted for."""
    with catalogue.database.transaction() as session:
        return redeemable_items(session)


def put_redemption(catalogue: Catalogue, number: int | None, version: int | None, said: Mapping[str, Any]) -> None:
    """Note a redemption or change one. When it arrives, the card that it was exchanged for becomes what was chosen, and
    carries its cost on. Raises NotFound, Conflict, InputError.
    """
    days = [said.get(name) for name in ("posted_on", "arrived_on")]
    if any(day is not None and day > catalogue.today() for day in days):
        raise InputError.at("arrived_on" if days[1] else "posted_on", "is still to come")
    with catalogue.database.transaction() as session:
        before = None if number is None else find_redemption(session, number, version).arrived_on
        item = None if said.get("item_id") is None else find_item(session, said["item_id"])
        if item is not None and item.state is not State.HELD:
            raise Conflict(f"{item.name} is no longer held, so it cannot be exchanged")
        row = find_redemption(session, saving.put_redemption(session, number, said))
        if item is not None and (row.arrived_on is None) != (before is None):
            name = row.chosen or row.name if row.arrived_on else row.name
            change_words(session, item.number, {"name": name}, catalogue.today())
