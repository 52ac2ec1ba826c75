"""Entry by the thousand: set and pile are chosen once, then a card is a line that is typed, scanned or pasted. C-34."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run
from tobbix.core.holdings import register
from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import CONDITIONS, DocumentKind, DocumentState, Kind, State
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.naming import Seen, SeenRelease
from tobbix.core.sorting.entering import Matters, Typed, read_typed, say_entered, say_matters
from tobbix.core.sorting.goals import Copy
from tobbix.db.base import Session
from tobbix.db.buying.targets import still_wanted
from tobbix.db.holdings.listing import places
from tobbix.db.holdings.loading import load_document, load_things
from tobbix.db.holdings.saving import (
    add_document,
    bring_things,
    change_items,
    document_once,
    fresh_numbers,
    keep_change,
    touch_document,
)
from tobbix.db.pricing.side_by_side import releases_named
from tobbix.db.products.finding import read_card
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.db.products.values import price_versions
from tobbix.db.sorting.entering import (
    KnownRelease,
    coded_cards,
    lines_named,
    lines_of,
    marks_of,
    release_coded,
    release_known,
    version_numbered,
)
from tobbix.db.sorting.plans import find_plan, like_thing, list_plans
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.naming import name_card
from tobbix.services.products.valuing import home_on, revalue_items
from tobbix.services.sorting.filling import missing_in
from tobbix.services.sorting.work import Usual, usual_work

MOST_TEXT = 300


@dataclass(frozen=True, slots=True)
class Pile:
    """What was chosen once: the ``release`` by its key, or one to be ``named``; a line of it by name, the ``place``,
    the condition of what says none, and the plan that it belongs to."""

    release: str | None
    named: SeenRelease | None
    line: str
    place: str | None = None
    condition: str | None = None
    plan: int | None = None


@dataclass(frozen=True, slots=True)
class Entered:
    """What was entered: of which card how many, what is ``said`` of it, what ``matters`` of it in words, and the entry
    by which it can be taken back; ``new_card``: it was named by this."""

    entry: int
    item: int
    card: FoundCard
    count: int
    condition: str | None
    total: int
    said: str
    matters: tuple[Run, ...]
    new_card: bool


def enter_card(catalogue: Catalogue, pile: Pile, text: str) -> Entered:
    """Enter one card of a pile as it was typed: ``44``, ``44 x3 LP``, ``131 Drizzle``, ``7 Gull Rock``, or a code as
    printed with its release's, ``HP2-44``. More of a like thing is put to it.

    A card that nobody has seen is named on the way, if its release is known as far as seen, or who it shows is typed.
    Raises InputError at ``text``, NotFound.
    """
    if pile.condition is not None and pile.condition not in CONDITIONS:
        raise InputError.at("condition", f"must be one of {', '.join(CONDITIONS)}")
    today = catalogue.today()
    place = (pile.place or "").strip() or None
    with catalogue.database.transaction() as session:
        release, words = _release(session, pile, text)
        known = [] if release is None else lines_of(session, release.number)
        typed = read_typed(words, [line.name for line in known])
        version, is_new = _version(catalogue, session, pile, release, typed)
        card = read_card(session, version)
        condition = typed.condition or pile.condition
        document = _document(session, pile, place, today)
        usual = usual_work(session)
        before = _matters(session, version, condition, usual, today)
        item, entry, total = _put(session, card, typed.count, condition, place, document, today)
        revalue_items(session, home_on(session, today), [item])
        said = say_entered(card.number, card.subject, card.line_name, typed.count, condition, total)
        return Entered(
            entry, item, card, typed.count, condition, total, said, say_matters(before, usual.currency), is_new
        )


def _release(session: Session, pile: Pile, text: str) -> tuple[KnownRelease | None, str]:
    """The release of what was typed, and what is left to be read: a code names a release of its own."""
    if len(text) > MOST_TEXT:
        raise InputError.at("text", f"is longer than {MOST_TEXT} letters")
    first, _, rest = text.strip().partition(" ")
    code, dash, number = first.partition("-")
    if dash and code and number:
        coded = release_coded(session, code)
        if coded is not None:
            return coded, f"{number} {rest}".strip()
    said = pile.release or pile.named
    if said is None:
        raise InputError.at("release", "choose a set first, or name one with its year")
    return release_known(session, said), text


def _version(
    catalogue: Catalogue, session: Session, pile: Pile, release: KnownRelease | None, typed: Typed
) -> tuple[int, bool]:
    """The version that was typed, and whether it was named by that."""
    line = typed.line or pile.line.strip()
    if release is not None and release.key != pile.release and typed.line is None:  # by its code: any line that has it
        having = (it for it in lines_of(session, release.number) if version_numbered(session, it.number, typed.number))
        found = next(having, None)
        line = line if found is None else found.key
    if not line:
        raise InputError.at("line", "say which line, Base for plain cards")
    if release is not None:
        known = identify_one(session, Naming(release.key, None, line, typed.number)).line_id
        if known is not None:
            version = version_numbered(session, known, typed.number)
            if version is not None:
                return version, False
        if not release.is_stub and not typed.subject:
            if known is None:
                raise InputError.at("text", f"this release has no line “{line[:60]}”")
            add = "type who it shows behind the number to add it beside the sheet"
            raise InputError.at("text", f"{line} has no card {typed.number[:60]}; {add}")
    owner = pile.named if release is None else release.key
    assert owner is not None  # else there would be no release to name
    return name_card(catalogue, owner, Seen(line, typed.number, typed.subject)).version, True


def _document(session: Session, pile: Pile, place: str | None, today: date) -> int:
    """What the entries of a pile hang on: its plan's document, or one for the day and the place."""
    where = place or "no place"
    once = f"sorted {today.isoformat()} {where.lower()}"[:100]
    number = document_once(session, once) if pile.plan is None else find_plan(session, pile.plan).document
    if number is None:
        return add_document(session, DocumentKind.IMPORT, today, f"sorted into {where}", once=once)
    if load_document(session, number).state is DocumentState.UNDONE:
        touch_document(session, number, DocumentState.DONE)
    return number


def _put(
    session: Session, card: FoundCard, count: int, condition: str | None, place: str | None, document: int, today: date
) -> tuple[int, int, int]:
    """So many of a card into a pile: the thing, the entry, and how many of it there are then."""
    text = f"sorted: {count} x {card.number} {card.subject}"
    like = like_thing(session, card.version, condition, place)
    if like is not None:
        thing = load_things(session, [like])[0]
        change = register.add_more(thing, count, today, text)
        if thing.kind is Kind.CARD:
            change_items(session, {like: {"kind": Kind.STACK.value}})
        return like, keep_change(session, change, document), thing.count + count
    number = fresh_numbers(session, 1)[0]
    kind = Kind.CARD if count == 1 else Kind.STACK
    thing = Thing(number, card.name[:300], count, State.HELD, None, kind=kind)
    identity = identify_one(session, Naming(card.release, None, card.line, card.number, card.variant))
    words = {
        "kind": kind.value, "name": thing.name, **identity.columns(), "condition": condition, "place": place,
        "acquired_on": today,
    }  # fmt: skip
    return number, bring_things(session, {number: words}, register.bring_in([thing], today, text), document), count


def _matters(session: Session, version: int, condition: str | None, usual: Usual, today: date) -> Matters:
    """What is worth saying of a card before one more of it is put away."""
    watched, debut = marks_of(session, version)
    home = home_on(session, today)
    price = price_versions(session, [version], condition or home.state, home.convert).get(version)
    if (price is None or price.amount is None) and condition not in (None, home.state):
        price = price_versions(session, [version], home.state, home.convert).get(version)
    worth = None if price is None else price.amount
    targets = still_wanted(session, [version]).get(version, ())
    new = Copy(0, version, 1, condition)
    (goals,) = missing_in(session, [new])
    return Matters(watched, debut, targets, goals, worth, worth is not None and usual.gain(worth) > 0)


@dataclass(frozen=True, slots=True)
class SetKnown:
    """A set by its key and title, with the names of its lines."""

    key: str
    title: str
    lines: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Choosable:
    """What a pile is chosen from: sets, places in use, plans by their number."""

    sets: tuple[SetKnown, ...]
    places: tuple[str, ...]
    plans: tuple[tuple[int, str], ...]


def list_sets(catalogue: Catalogue) -> Choosable:
    """What a pile is chosen from."""
    with catalogue.database.transaction() as session:
        named = lines_named(session)
        sets = tuple(SetKnown(key, title, named.get(key, ())) for key, title in releases_named(session))
        return Choosable(sets, tuple(places(session)), tuple((it.number, it.name) for it in list_plans(session)))


def list_codes(catalogue: Catalogue) -> list[str]:
    """The codes on the cards of sets that have one, for a reader that is simulated."""
    with catalogue.database.transaction() as session:
        return coded_cards(session)


def salvage(catalogue: Catalogue, name: str, count: int) -> int:
    """Sleeves, holders and boxes that came with cards go into the supplies at no cost; the entry. Raises InputError."""
    if not name.strip():
        raise InputError.at("name", "say what it is")
    if not 1 <= count <= 100_000:
        raise InputError.at("count", "must be from 1 to 100,000")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        text = f"salvaged: {count} x {name.strip()}"[:500]
        number = fresh_numbers(session, 1)[0]
        thing = Thing(number, name.strip()[:300], count, State.HELD, Decimal(0), kind=Kind.SUPPLY)
        document = add_document(session, DocumentKind.IMPORT, today, text)
        words = {"kind": Kind.SUPPLY.value, "name": thing.name, "acquired_on": today}
        entry = bring_things(session, {number: words}, register.bring_in([thing], today, text), document)
        revalue_items(session, home_on(session, today), [number])
        return entry
