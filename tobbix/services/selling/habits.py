"""What is done as a habit where parcels are packed."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.db.base import Database, Session
from tobbix.db.sorting.judging import load_table, save_table

_TABLE = "packing"


@dataclass(frozen=True, slots=True)
class PackingHabits:
    """From which value on a parcel is tracked (money at home; None: never needed), and the sender as labels have it, a
    line each."""

    tracking_from: Decimal | None = Decimal(40)
    sender: tuple[str, ...] = ()
    version: int = 0


def load_habits(session: Session) -> PackingHabits:
    """The owner's, or the usual ones."""
    content, version = load_table(session, _TABLE)
    if content is None:
        return PackingHabits(version=version)
    said = content["tracking_from"]
    return PackingHabits(None if said is None else Decimal(said), tuple(content["sender"]), version)


def read_habits(database: Database) -> PackingHabits:
    """The owner's, or the usual ones."""
    with database.transaction() as session:
        return load_habits(session)


def save_habits(database: Database, habits: PackingHabits) -> PackingHabits:
    """Pack by other habits. Raises InputError, Conflict."""
    if habits.tracking_from is not None and habits.tracking_from < 0:
        raise InputError.at("tracking_from", "must not be negative")
    with database.transaction() as session:
        said = None if habits.tracking_from is None else f"{habits.tracking_from:f}"
        save_table(session, _TABLE, {"tracking_from": said, "sender": list(habits.sender)}, habits.version)
        return load_habits(session)
