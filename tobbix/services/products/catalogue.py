"""What the use cases of products work with: the store, today's date, and what has been worked out already.

What a release says is remembered under the epoch of the store, its revision, the revision of its prices and the state
that sheets speak for; the sheet priced from it under the home currency and the rates that it needed; what was worked
out, under the very sheet that it was worked out from. Every change raises a revision and every restore changes the
epoch, so nothing remembered can be out of date; it is merely forgotten, the oldest first. What is not stored yet is
remembered by nobody but the act that is about to store it.
"""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from threading import Lock
from typing import Generic, TypeVar

from tobbix.core.planning.habits import AS_USUAL, Preferences, ViewChoice, choose_worth
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.products.answer import Worked, work_out
from tobbix.core.products.assuming import Assumptions
from tobbix.core.products.box_value import BoxValue, value_holding
from tobbix.core.products.completing import SetAim, SetAnswer, complete_set
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.price_book import PriceBook, with_prices
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.valuation import Bound, Holding, Valuation, value_format
from tobbix.core.products.worth import Worth
from tobbix.db.base import Database, Session, epoch_of
from tobbix.db.holdings.rates import rates_on
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.products.loading import StoredRelease, find_release, load_structure
from tobbix.db.products.planning import load_all_assumptions
from tobbix.db.products.tables import ReleaseRow
from tobbix.db.products.values import load_book

V = TypeVar("V")


class Remembered(Generic[V]):
    """The last ``most`` results by their key. Who asks for what another thread is working out waits for it: a page
    asks for several things at once that rest on the same, and the cores are few. What is worked out this way must not
    wait for the store, where whoever waits may hold a lock."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._values: OrderedDict[Hashable, V] = OrderedDict()
        self._making = tuple(Lock() for _ in range(64))  # by the key's hash

    def get(self, key: Hashable, make: Callable[[], V]) -> V:
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
        with self._making[hash(key) % len(self._making)]:
            with self._lock:
                if key in self._values:
                    return self._values[key]
            value = make()  # where it fails, the next one tries for himself
            self.put(key, value)
        return value

    def find(self, key: Hashable) -> V | None:
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
            return self._values.get(key)

    def keep(self, key: Hashable, value: V) -> V:
        """What is remembered under a key: this, unless another thread was quicker. Nobody waits."""
        with self._lock:
            kept = self._values.setdefault(key, value)
            self._forget()
            return kept

    def put(self, key: Hashable, value: V) -> None:
        with self._lock:
            self._values[key] = value
            self._forget()

    def _forget(self) -> None:
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

    stored: StoredRelease
    sheet: ProductSheet
    preferences: Preferences
    ways: tuple[SellingWay, ...]
    standpoint: Standpoint


Written = tuple[ProductSheet, PriceBook, frozenset[str]]
_RELEASES = 256


class Catalogue:
    """The store and the memory of the use cases. ``today`` tells the date."""

    def __init__(self, database: Database, today: Callable[[], date]) -> None:
        self.database = database
        self.today = today
        self._writings: Remembered[Written] = Remembered(_RELEASES)
        # With each its book, with all others their sheet: so they stay the only ones that have their identity.
        self._sheets: Remembered[tuple[PriceBook, ProductSheet]] = Remembered(_RELEASES)
        self._valuations: Remembered[tuple[ProductSheet, Valuation]] = Remembered(256)
        self._values: Remembered[tuple[ProductSheet, BoxValue]] = Remembered(512)
        self._answers: Remembered[tuple[ProductSheet, tuple[FormatAnswer, ...]]] = Remembered(_RELEASES)
        self._sets: Remembered[tuple[ProductSheet, SetAnswer]] = Remembered(16)

    def sheet(self, session: Session, key: str) -> ProductSheet:
        """The current sheet of a release, priced in the home currency. Raises NotFound."""
        release = find_release(session, key)
        stored = StoredRelease(release.id, release.key, release.revision, release.price_revision)
        return self.sheets(session, [stored], load_preferences(session))[0]

    def sheets(
        self, session: Session, releases: Sequence[StoredRelease], preferences: Preferences
    ) -> list[ProductSheet]:
        """The current sheets of releases; what is remembered of them takes no statement."""
        epoch, state, home = epoch_of(session), preferences.sheet_condition, preferences.currency
        written = [self._written(session, (epoch, release, state)) for release in releases]
        needed = frozenset(c for _, book, currencies in written for c in currencies if c != home)
        rates = rates_on(session, self.today()) if needed else {}
        return [
            self._priced(entry, home, {c: rates[c] for c in sorted(entry[2]) if c != home and c in rates})
            for entry in written
        ]

    def as_written(self, session: Session, key: str) -> ProductSheet:
        """A release as its sheet is written: in the sheet's own currency, on the sheet's day. Raises NotFound."""
        release = find_release(session, key, removed=True)
        preferences = load_preferences(session)
        book = load_book(session, release, preferences.sheet_condition)
        sheet = load_structure(session, release)
        rates = rates_on(session, self.today()) if book.currencies(sheet) - {sheet.currency} else {}
        home = preferences.currency
        through = {c: (rates.get(c) if c != home else Decimal(1)) for c in (*rates, home)}
        own = through.get(sheet.currency)
        into = {c: rate / own for c, rate in through.items() if rate and own and c != sheet.currency}
        return replace(with_prices(sheet, book, sheet.currency, into), priced_on=sheet.priced_on, book=None)

    def _written(self, session: Session, key: tuple[str | None, StoredRelease, str]) -> Written:
        unit = self.database.current_unit()
        found: Written | None = self._writings.find(key) or (None if unit is None else unit.notes.get(key))
        if found is not None:
            return found
        release = session.get_one(ReleaseRow, key[1].id)
        sheet, book = load_structure(session, release), load_book(session, release, key[2])
        fresh = sheet, book, book.currencies(sheet)
        if unit is None:
            return self._writings.keep(key, fresh)
        # An act sees what it has not stored yet, which nobody else may be given before it is.
        unit.note(key, fresh, lambda: self._writings.put(key, fresh))
        return fresh

    def _priced(self, written: Written, home: str, rates: dict[str, Decimal]) -> ProductSheet:
        sheet, book, _ = written
        key = (id(book), home, tuple(rates.items()))
        return self._sheets.get(key, lambda: (book, with_prices(sheet, book, home, rates)))[1]

    def read_sheet(self, key: str) -> ProductSheet:
        """The current sheet of a release, in a transaction of its own."""
        with self.database.transaction() as session:
            return self.sheet(session, key)

    def look(self, session: Session, key: str, choice: ViewChoice = AS_USUAL) -> Looked:
        """A release with the owner's preferences, ways and assumptions. Raises NotFound, InputError."""
        release = find_release(session, key)
        stored = StoredRelease(release.id, release.key, release.revision, release.price_revision)
        return self.look_at(session, [stored], choice)[0]

    def look_at(
        self, session: Session, releases: Sequence[StoredRelease], choice: ViewChoice = AS_USUAL
    ) -> list[Looked]:
        """The same of several, in as many statements as of one. Raises InputError."""
        preferences = load_preferences(session)
        ways = tuple(to_way(row) for row in list_way_rows(session))
        assumed = load_all_assumptions(session, [release.id for release in releases])
        return [
            Looked(
                stored, sheet, preferences, ways,
                Standpoint(choose_worth(preferences, ways, choice, assumed[stored.id][1]), assumed[stored.id][0]),
            )
            for stored, sheet in zip(releases, self.sheets(session, releases, preferences), strict=True)
        ]  # fmt: skip

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

    def answers(self, looked: Looked, make: Callable[[], tuple[FormatAnswer, ...]]) -> tuple[FormatAnswer, ...]:
        """The answers of a release's formats, worked out once."""
        rule, costs = looked.preferences.rule, looked.preferences.costs_with_time
        key = (id(looked.sheet), looked.standpoint, rule, costs)
        return self._answers.get(key, lambda: (looked.sheet, make()))[1]

    def set_answer(
        self, looked: Looked, format_id: str, aim: SetAim, box_price: float | None, repeats: bool
    ) -> SetAnswer:
        """What it takes to complete a set, worked out once."""
        sheet = looked.sheet
        singly = looked.preferences.costs
        key = (id(sheet), format_id, looked.standpoint, aim, box_price, repeats, singly)
        valuation = self.valuation(sheet, format_id, looked.standpoint)
        return self._sets.get(key, lambda: (sheet, complete_set(valuation, aim, box_price, repeats, singly)))[1]
