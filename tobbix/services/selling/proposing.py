"""How things would be offered: what is written of them, what to ask for them, and why one cannot be offered (C-17,
C-21)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.holdings.states import State
from tobbix.core.pricing.asking import Asking
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.selling.listings import (
    COLUMNS,
    MOST_TITLE,
    USUAL_TITLE,
    check_columns,
    check_pattern,
    disclosures,
    write_title,
    write_words,
)
from tobbix.db.base import Session
from tobbix.db.holdings.listing import ItemFilter, numbers_to_offer, worths
from tobbix.db.pricing.ways import find_way, to_way
from tobbix.db.products.values import price_versions
from tobbix.db.selling import listings
from tobbix.db.selling.listings import ThingOffered
from tobbix.db.sorting.judging import load_table, save_table
from tobbix.services.grading.scanning import CLEANED
from tobbix.services.pricing.seeing import Asked, ask_for_all
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

_TABLE = "listings"
MOST_AT_ONCE = 200


@dataclass(frozen=True, slots=True)
class ListingHabits:
    """How listings are written for a way of selling: the pattern of titles, how many letters they may have, and the
    columns of a file in the order that it wants."""

    pattern: str = USUAL_TITLE
    most: int = MOST_TITLE
    columns: tuple[str, ...] = COLUMNS


def habits_of(session: Session) -> tuple[dict[str, ListingHabits], int]:
    """How listings are written, by the keys of ways of selling, and the version of that."""
    content, version = load_table(session, _TABLE)
    said = {} if content is None else content
    return {
        way: ListingHabits(it["pattern"], it["most"], tuple(it["columns"])) for way, it in said.items()
    }, version  # fmt: skip


def read_habits(catalogue: Catalogue, way: str) -> tuple[ListingHabits, int]:
    """How listings are written for a way of selling, and the version of all such habits. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_way(session, way)
        found, version = habits_of(session)
        return found.get(way, ListingHabits()), version


def save_habits(catalogue: Catalogue, way: str, said: ListingHabits, version: int) -> int:
    """Write listings otherwise for a way of selling. Raises NotFound, Conflict, InputError."""
    if not 20 <= said.most <= 200:
        raise InputError.at("most", "must be from 20 to 200 letters")
    kept = replace(said, pattern=check_pattern(said.pattern), columns=check_columns(said.columns))
    with catalogue.database.transaction() as session:
        find_way(session, way)
        found, _ = habits_of(session)
        content = {
            name: {"pattern": it.pattern, "most": it.most, "columns": list(it.columns)}
            for name, it in (found | {way: kept}).items()
        }
        return save_table(session, _TABLE, content, version)


@dataclass(frozen=True, eq=False)
class Proposal:
    """How a thing would be offered by a way of selling: title, words with what must be disclosed, what to ask with what
    that nets (money at home), the lowest offer worth taking, and why it cannot be offered (None: it can). ``value``:
    what it is said to be worth where no sale speaks."""

    item: int
    name: str
    count: int
    title: str
    words: str
    must: tuple[str, ...]
    asking: tuple[Asking, ...]
    value: Decimal | None
    lowest: Decimal | None
    photos: tuple[int, ...]
    place: str | None
    refused: str | None


def propose(
    catalogue: Catalogue, items: Sequence[int], way: str, wanted: ItemFilter | None = None
) -> tuple[list[Proposal], int]:
    """How some things would be offered, or those that a filter finds and that are not offered there yet, the dearest
    first; and how many there are in all. Rules C-17 and C-21. Raises NotFound, InputError."""
    if wanted is None and not 1 <= len(items) <= MOST_AT_ONCE:
        raise InputError.at("items", f"choose from 1 to {MOST_AT_ONCE} things")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        found, total = list(items), len(items)
        if wanted is not None:
            found, total = numbers_to_offer(session, wanted, way, MOST_AT_ONCE)
        things = listings.things_offered(session, found, CLEANED)
        selling, habits = to_way(find_way(session, way)), habits_of(session)[0].get(way, ListingHabits())
        taken = listings.offered_already(session, found, way)
        return [
            Proposal(
                thing.item, thing.shown.name, thing.shown.count, write_title(thing.shown, habits.pattern, habits.most),
                write_words([thing.shown]), disclosures([thing.shown]), priced.asking, priced.worth_of_all,
                priced.lowest, thing.photos, thing.place, why_not(thing, taken),
            )
            for thing, priced in zip(things, price_all(session, things, selling, today), strict=True)
        ], total  # fmt: skip


@dataclass(frozen=True, eq=False)
class Priced:
    """What one of a thing is said to be worth (money at home; None: not known) and the state that this is of, and by
    the sales of its version what to ask for one (None: it is of none); ``count`` how many of it there are, which are
    offered together by a ``way``."""

    worth: Decimal | None
    state: str
    asked: Asked | None
    count: int
    way: SellingWay | None

    @property
    def asking(self) -> tuple[Asking, ...]:
        """What to ask for all of them; how long so many together take nobody knows. Rule C-21."""
        found = () if self.asked is None else self.asked.asking
        if self.count == 1:
            return found
        whole = [(it, it.price * self.count) for it in found]
        return tuple(
            replace(it, price=price, net=None if self.way is None else float(self.way.net(price)), days=None)
            for it, price in whole
        )

    @property
    def lowest(self) -> Decimal | None:
        """The lowest offer worth taking for all of them. Rule C-21."""
        least = None if self.asked is None else self.asked.meeting.lowest
        return None if least is None else least * self.count

    @property
    def worth_of_all(self) -> Decimal | None:
        return None if self.worth is None else self.worth * self.count


def price_all(session: Session, things: Sequence[ThingOffered], way: SellingWay | None, today: date) -> list[Priced]:
    """What each of some things is worth and what to ask for it, in a fixed number of queries."""
    worths_ = _worths_of(session, things, home_on(session, today))
    wanted = [
        (thing.version, state) for thing, (_, state) in zip(things, worths_, strict=True) if thing.version is not None
    ]
    asked = dict(zip(wanted, ask_for_all(session, wanted, today, way), strict=True))
    return [
        Priced(worth, state, None if thing.version is None else asked[thing.version, state], thing.shown.count, way)
        for thing, (worth, state) in zip(things, worths_, strict=True)
    ]


def _worths_of(
    session: Session, things: Sequence[ThingOffered], home: Home
) -> list[tuple[Decimal | None, str]]:  # fmt: skip
    """What one of each thing is said to be worth and the state that this is of: its own, or for a raw card of which
    that is not known the usual one."""
    whole = worths(session, [thing.item for thing in things if thing.version is None])
    prices: dict[tuple[str, int], Decimal | None] = {}
    raw = {thing.version for thing in things if not thing.shown.grade and thing.version is not None}
    own = {(thing.values_as or home.state, thing.version) for thing in things if thing.version is not None}
    wanted = own | {(home.state, version) for version in raw}
    for state in {state for state, _ in wanted}:
        versions = [version for of, version in wanted if of == state]
        prices |= {
            (state, version): price.amount
            for version, price in price_versions(session, versions, state, home.convert).items()
        }
    found: list[tuple[Decimal | None, str]] = []
    for thing in things:
        states = dict.fromkeys((thing.values_as or home.state, *(() if thing.shown.grade else (home.state,))))
        if thing.version is None:
            of_all = whole.get(thing.item)
            found.append((None if of_all is None else of_all / thing.shown.count, next(iter(states))))
        else:
            said = [(prices.get((state, thing.version)), state) for state in states]
            found.append(next((it for it in said if it[0] is not None), said[0]))
    return found


def why_not(thing: ThingOffered, taken: set[int]) -> str | None:
    """Why a thing cannot be offered; ``taken`` is what is offered there already."""
    if thing.state is not State.HELD:
        return f"it is {thing.state.value.replace('_', ' ')}"
    if thing.owner is not None:
        return "it is somebody else’s"
    if thing.keeps:
        return "it is never for sale"
    if thing.item in taken:
        return "it is offered there already"
    return None
