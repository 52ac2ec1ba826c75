"""What the owner prefers: the rule for the most to pay, and what buying costs on top."""

from dataclasses import dataclass

from tobbix.core.base.errors import Conflict
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.db.base import Database
from tobbix.db.installation import load_preferences, save_preferences


@dataclass(frozen=True, slots=True)
class Preferences:
    """The owner's rule (C-07), costs of buying (C-15) and the version of both."""

    rule: PayingRule
    costs: BuyingCosts
    version: int


def read_preferences(database: Database) -> Preferences:
    with database.transaction() as session:
        return Preferences(*load_preferences(session))


def change_preferences(database: Database, rule: PayingRule, costs: BuyingCosts, version: int) -> Preferences:
    """Store them. Raises Conflict if they were changed since ``version``."""
    with database.transaction() as session:
        _, _, current = load_preferences(session, lock=True)
        if current != version:
            raise Conflict("these settings were changed meanwhile; look again, then retry")
        save_preferences(session, rule, costs, current + 1)
    return Preferences(rule, costs, version + 1)
