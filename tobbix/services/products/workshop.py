"""What the use cases of products work with: the store, today's date, and what has been worked out already.

A sheet is remembered under the epoch of the store, its release and revision; what was worked out, under the very sheet
that it was worked out from. Every change of a release raises its revision and every restore changes the epoch, so
nothing remembered can be out of date; it is merely forgotten, the oldest first. What is not stored yet is remembered
by nobody but the act that is about to store it.
"""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from datetime import date
from threading import Lock
from typing import Generic, TypeVar

from sqlalchemy import event
from sqlalchemy.orm import Session

from tobbix.core.planning.habits import AS_USUAL, Preferences, ViewChoice, choose_worth
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.products.answer import Worked, work_out
from tobbix.core.products.assuming import Assumptions
from tobbix.core.products.box_value import BoxValue, value_holding
from tobbix.core.products.completing import SetAim, SetAnswer, complete_set
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import Bound, Holding, Valuation, value_format
from tobbix.core.products.worth import Worth
from tobbix.db.base import Database, epoch_of
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.products.loading import find_release, load_sheet
from tobbix.db.products.planning import load_assumptions

V = TypeVar("V")


class Remembered(Generic[V]):
    """The last ``most`` results by their key. Two threads may work the same one out; they get equal results."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._values: OrderedDict[Hashable, V] = OrderedDict()

    def get(self, key: Hashable, make: Callable[[], V]) -> V:
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
        value = make()
        self.put(key, value)
        return value

    def find(self, key: Hashable) -> V | None:
        with self._lock:
            return self._values.get(key)

    def put(self, key: Hashable, value: V) -> None:
        with self._lock:
            self._values[key] = value
            while len(self._values) > self._most:
                self._values.popitem(last=False)


@dataclass(frozen=True, slots=True)
class Standpoint:
    """How values are looked at: what a pull is worth, and what is assumed where the sheet says nothing."""

    worth: Worth
    assumptions: Assumptions


@dataclass(frozen=True, slots=True)
class Looked:
    """A release as the owner looks at it now."""

    sheet: ProductSheet
    preferences: Preferences
    ways: tuple[SellingWay, ...]
    standpoint: Standpoint


class Workshop:
    """The store and the memory of the use cases. ``today`` tells the date."""

    def __init__(self, database: Database, today: Callable[[], date]) -> None:
        self.database = database
        self.today = today
        self._sheets: Remembered[ProductSheet] = Remembered(32)
        # With each its sheet, which so stays the only one that has its identity.
        self._valuations: Remembered[tuple[ProductSheet, Valuation]] = Remembered(48)
        self._values: Remembered[tuple[ProductSheet, BoxValue]] = Remembered(96)
        self._sets: Remembered[tuple[ProductSheet, SetAnswer]] = Remembered(16)

    def sheet(self, session: Session, key: str) -> ProductSheet:
        """The current sheet of a release. Raises NotFound."""
        release = find_release(session, key)
        stored = (epoch_of(session), release.key, release.revision)
        unit = self.database.current_unit()
        if unit is None:
            return self._sheets.get(stored, lambda: load_sheet(session, release))
        found = self._sheets.find(stored) or unit.notes.get(stored)
        if found is None:
            found = load_sheet(session, release)
            self.remember(session, found)
        assert isinstance(found, ProductSheet)
        return found

    def read_sheet(self, key: str) -> ProductSheet:
        """The current sheet of a release, in a transaction of its own."""
        with self.database.transaction() as session:
            return self.sheet(session, key)

    def remember(self, session: Session, sheet: ProductSheet) -> None:
        """Keep a sheet, once the transaction that stores it is through."""
        stored = (epoch_of(session), sheet.id, sheet.revision)
        unit = self.database.current_unit()
        if unit is not None:
            unit.note(stored, sheet, lambda: self._sheets.put(stored, sheet))
        else:
            event.listen(session, "after_commit", lambda _: self._sheets.put(stored, sheet), once=True)

    def look(self, session: Session, key: str, choice: ViewChoice = AS_USUAL) -> Looked:
        """A release with the owner's preferences, ways and assumptions. Raises NotFound, InputError."""
        sheet = self.sheet(session, key)
        preferences = load_preferences(session)
        ways = tuple(to_way(row) for row in list_way_rows(session))
        assumptions, sells = load_assumptions(session, find_release(session, key))
        return Looked(sheet, preferences, ways, Standpoint(choose_worth(preferences, ways, choice, sells), assumptions))

    def read(self, key: str, choice: ViewChoice = AS_USUAL) -> Looked:
        """The same in a transaction of its own."""
        with self.database.transaction() as session:
            return self.look(session, key, choice)

    def valuation(
        self, sheet: ProductSheet, format_id: str, standpoint: Standpoint, bound: Bound = Bound.MAIN
    ) -> Valuation:
        """A format with its lines valued, worked out once per sheet and standpoint."""
        key = (id(sheet), format_id, standpoint, bound)
        return self._valuations.get(
            key, lambda: (sheet, value_format(sheet, format_id, bound, standpoint.worth, standpoint.assumptions))
        )[1]

    def value(
        self,
        sheet: ProductSheet,
        format_id: str,
        holding: Holding,
        standpoint: Standpoint,
        bound: Bound = Bound.MAIN,
    ) -> BoxValue:
        """A holding's value, worked out once per sheet and standpoint."""
        key = (id(sheet), format_id, standpoint, bound, holding)
        return self._values.get(
            key, lambda: (sheet, value_holding(self.valuation(sheet, format_id, standpoint, bound), holding))
        )[1]

    def worked(self, sheet: ProductSheet, format_id: str, holding: Holding, standpoint: Standpoint) -> Worked:
        """A holding's figures, also at both bounds and for a case where those matter."""
        return work_out(lambda other, bound: self.value(sheet, format_id, other, standpoint, bound), holding)

    def set_answer(
        self, looked: Looked, format_id: str, aim: SetAim, box_price: float | None, repeats: bool
    ) -> SetAnswer:
        """What it takes to complete a set, worked out once."""
        sheet = looked.sheet
        key = (id(sheet), format_id, looked.standpoint, aim, box_price, repeats)
        valuation = self.valuation(sheet, format_id, looked.standpoint)
        return self._sets.get(key, lambda: (sheet, complete_set(valuation, aim, box_price, repeats)))[1]
