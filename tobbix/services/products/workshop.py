"""What the use cases of products work with: the store, today's date, and what has been worked out already.

A worked-out value is remembered under its release, revision, format and holding. Every change of a release raises its
revision, so nothing remembered can be out of date; it is merely forgotten, the oldest first.
"""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from datetime import date
from threading import Lock
from typing import Generic, TypeVar

from sqlalchemy.orm import Session

from tobbix.core.products.answer import Worked, work_out
from tobbix.core.products.box_value import BoxValue, value_holding
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import Holding, Valuation, value_format
from tobbix.db.base import Database
from tobbix.db.products.loading import StoredRelease, find_release, load_sheet

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

    def put(self, key: Hashable, value: V) -> None:
        with self._lock:
            self._values[key] = value
            while len(self._values) > self._most:
                self._values.popitem(last=False)


class Workshop:
    """The store and the memory of the use cases. ``today`` tells the date."""

    def __init__(self, database: Database, today: Callable[[], date]) -> None:
        self.database = database
        self.today = today
        self._sheets: Remembered[ProductSheet] = Remembered(12)
        self._valuations: Remembered[Valuation] = Remembered(32)
        self._values: Remembered[BoxValue] = Remembered(64)

    def sheet(self, session: Session, key: str) -> ProductSheet:
        """The current sheet of a release. Raises NotFound."""
        release = find_release(session, key)
        stored = StoredRelease(release.key, release.revision)
        return self._sheets.get(stored, lambda: load_sheet(session, release))

    def read_sheet(self, key: str) -> ProductSheet:
        """The current sheet of a release, in a transaction of its own."""
        with self.database.transaction() as session:
            return self.sheet(session, key)

    def remember(self, sheet: ProductSheet) -> None:
        """Keep a sheet that has just been stored."""
        self._sheets.put(StoredRelease(sheet.id, sheet.revision), sheet)

    def value(self, sheet: ProductSheet, format_id: str, holding: Holding, low: bool = False) -> BoxValue:
        """A holding's value, worked out once per revision."""
        lines = (sheet.id, sheet.revision, format_id, low)
        valuation = self._valuations.get(lines, lambda: value_format(sheet, format_id, low))
        return self._values.get((*lines, holding), lambda: value_holding(valuation, holding))

    def worked(self, sheet: ProductSheet, format_id: str, holding: Holding) -> Worked:
        """A holding's figures, also at low prices and for a case where those matter."""
        return work_out(lambda other, low: self.value(sheet, format_id, other, low), holding)
