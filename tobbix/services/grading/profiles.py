"""Graders and carriers as the owner describes them, and by which habits grading is weighed."""

from dataclasses import dataclass
from datetime import UTC, datetime
from decimal import Decimal

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.grading.gain import Cracking
from tobbix.core.grading.graders import GraderProfile, check_profile
from tobbix.core.grading.submissions import CarrierProfile, check_carrier
from tobbix.db.base import Database, Session
from tobbix.db.grading import profiles
from tobbix.db.grading.profiles import StoredCarrier as StoredCarrier
from tobbix.db.grading.profiles import StoredGrader as StoredGrader
from tobbix.db.sorting.judging import load_table, save_table

_TABLE = "grading"


def list_graders(database: Database) -> list[StoredGrader]:
    """All graders that are in use, by name."""
    with database.transaction() as session:
        return profiles.list_graders(session)


def find_grader(database: Database, number: int) -> StoredGrader:
    """A grader. Raises NotFound."""
    with database.transaction() as session:
        return profiles.find_grader(session, number)


def put_grader(database: Database, number: int | None, version: int, profile: GraderProfile) -> int:
    """Keep a grader; its number. Raises InputError with every fault, NotFound, Conflict."""
    check_profile(profile)
    with database.transaction() as session:
        return profiles.put_grader(session, number, version, profile)


def remove_grader(database: Database, number: int) -> None:
    """Take a grader out of use; what was sent to it stays. Raises NotFound."""
    with database.transaction() as session:
        profiles.mark_grader(session, number, datetime.now(UTC))


def restore_grader(database: Database, number: int) -> None:
    """Use a grader again. Raises NotFound."""
    with database.transaction() as session:
        profiles.mark_grader(session, number, None)


def list_carriers(database: Database) -> list[StoredCarrier]:
    """All carriers of which the classes are known."""
    with database.transaction() as session:
        return profiles.list_carriers(session)


def put_carrier(database: Database, version: int, carrier: CarrierProfile) -> None:
    """Keep a carrier by its name. Raises InputError with every fault, Conflict."""
    check_carrier(carrier)
    with database.transaction() as session:
        profiles.put_carrier(session, version, carrier)


@dataclass(frozen=True, slots=True)
class GradingHabits:
    """By what grading is weighed: how much the population counts against 1/2 a grade (C-26), the chance that a card
    breaks as it is cracked out (share) and what that costs, and what a card costs beside the fee, its part of parcels
    and supplies (money at home)."""

    strength: Decimal = Decimal(10)
    breakage: Decimal = Decimal("0.02")
    crack_cost: Decimal = Decimal(1)
    per_card: Decimal = Decimal(4)
    version: int = 0

    @property
    def crack(self) -> Cracking:
        return Cracking(self.breakage, self.crack_cost)


_SAID = ("strength", "breakage", "crack_cost", "per_card")


def load_habits(session: Session) -> GradingHabits:
    """The owner's, or the usual ones."""
    content, version = load_table(session, _TABLE)
    if content is None:
        return GradingHabits(version=version)
    return GradingHabits(**{name: Decimal(content[name]) for name in _SAID}, version=version)


def read_habits(database: Database) -> GradingHabits:
    """The owner's, or the usual ones."""
    with database.transaction() as session:
        return load_habits(session)


def save_habits(database: Database, habits: GradingHabits) -> GradingHabits:
    """Weigh by other habits. Raises InputError, Conflict."""
    faults = [Fault(name, "must not be negative") for name in _SAID if getattr(habits, name) < 0]
    if habits.breakage > 1:
        faults.append(Fault("breakage", "must be from 0 to 1 (0.02 is 2 %)"))
    if faults:
        raise InputError(faults)
    with database.transaction() as session:
        save_table(session, _TABLE, {name: f"{getattr(habits, name):f}" for name in _SAID}, habits.version)
        return load_habits(session)
