"""Listings: what is written of a thing that is offered, what must be disclosed of it, at which price, and what an offer
for it is worth (Rules C-17 and C-21)."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount


class ListingKind(StrEnum):
    """How it is offered."""

    FIXED = "fixed"
    AUCTION = "auction"


class ListingState(StrEnum):
    """How far a listing is."""

    DRAFTED = "drafted"
    LISTED = "listed"
    SOLD = "sold"
    ENDED = "ended"


class Errand(StrEnum):
    """What markets are asked for."""

    PUT_UP = "put_up"
    NEWS = "news"
    TAKE_OFF = "take_off"


OPEN = (ListingState.DRAFTED, ListingState.LISTED)
_NEXT: Mapping[ListingState, frozenset[ListingState]] = {
    ListingState.DRAFTED: frozenset({ListingState.LISTED, ListingState.ENDED, ListingState.SOLD}),
    ListingState.LISTED: frozenset({ListingState.SOLD, ListingState.ENDED}),
    ListingState.SOLD: frozenset({ListingState.ENDED}),
    ListingState.ENDED: frozenset({ListingState.DRAFTED}),
}


def move(now: ListingState, to: ListingState) -> ListingState:
    """The state after a step. Raises Conflict."""
    if to not in _NEXT[now]:
        raise Conflict(f"this listing is {now.value}: it cannot be {to.value} now")
    return to


@dataclass(frozen=True, slots=True)
class ThingShown:
    """What is known of a thing that is offered. ``grade`` with its grader; ``cleaned`` and ``cracked`` what its history
    says; ``opened`` how many packs are gone of a box; ``flaws`` in words."""

    name: str
    count: int = 1
    year: int | None = None
    release: str = ""
    line: str = ""
    number: str = ""
    subject: str = ""
    variant: str = ""
    serial: str = ""
    condition: str = ""
    grade: str = ""
    cleaned: tuple[str, ...] = ()
    cracked: tuple[str, ...] = ()
    opened: int = 0
    flaws: tuple[str, ...] = ()


WORDS = ("year", "release", "line", "number", "subject", "variant", "serial", "condition", "grade", "count", "name")
USUAL_TITLE = "{year} {release} {line} #{number} {subject} {variant} {serial} {grade} {condition}"
MOST_TITLE = 80  # letters of a title that markets take: common practice, no source
MOST_PHOTOS = 12  # of a listing: common practice, no source


def check_pattern(pattern: str) -> str:
    """A pattern of titles, without what surrounds it. Raises InputError for a word in braces that is none."""
    found = " ".join(pattern.split())
    strange = [it for it in re.findall(r"\{([^{}]*)\}", found) if it not in WORDS]
    if strange:
        raise InputError.at("pattern", f"there is no {{{strange[0][:40]}}}; there are {', '.join(WORDS)}")
    if not re.search(r"\{[a-z]+\}", found) or re.search(r"[{}]", re.sub(r"\{[a-z]+\}", "", found)):
        raise InputError.at("pattern", "name what is filled in between braces, like {subject}")
    return found


def write_title(thing: ThingShown, pattern: str = USUAL_TITLE, most: int = MOST_TITLE) -> str:
    """The title of a listing: what is not known is left out, with the mark before it; no word is cut in two.

    >>> write_title(ThingShown("a card", 1, 2025, "Skerrylight", "Base", "12", "Gull Rock", condition="NM"))
    '2025 Skerrylight Base #12 Gull Rock NM'
    >>> write_title(ThingShown("a card nobody knows"))
    'a card nobody knows'
    """
    if not thing.subject and not thing.number:
        return _cut(thing.name, most)
    if thing.grade:  # its grade says what its condition was
        thing = replace(thing, condition="")
    found = []
    for piece in pattern.split():
        words = re.findall(r"\{([a-z]+)\}", piece)
        if words and all(not getattr(thing, word) for word in words):
            continue
        found.append(re.sub(r"\{([a-z]+)\}", lambda match: str(getattr(thing, match[1]) or ""), piece))
    return _cut(" ".join(found), most)


def _cut(text: str, most: int) -> str:
    return text if len(text) <= most else text[: most + 1].rsplit(" ", 1)[0][:most]


def disclosures(things: Sequence[ThingShown]) -> tuple[str, ...]:
    """What a buyer must be told, a sentence each: cleaned, cracked out, an opened box, flaws that are marked."""
    found = []
    for thing in things:
        of = "" if len(things) == 1 else f"{thing.name}: "
        found += [f"{of}It was cleaned ({words})." for words in thing.cleaned]
        found += [f"{of}It was graded {grade} before and taken out of its holder." for grade in thing.cracked]
        if thing.opened:
            packs = "1 pack is" if thing.opened == 1 else f"{thing.opened} packs are"
            found.append(f"{of}The box is opened: {packs} gone.")
        if thing.flaws:
            found.append(f"{of}Seen on it: {'; '.join(thing.flaws)}.")
    return tuple(found)


def write_words(things: Sequence[ThingShown], said: str = "") -> str:
    """The text of a listing: what the owner ``said``, or what it is, with all that must be disclosed at its end."""
    if said.strip():
        lines = [said.strip()]
    else:
        lines = [
            f"{thing.name}{f', {thing.count} of it' if thing.count > 1 else ''}"
            f"{f', {thing.grade}' if thing.grade else f', {thing.condition}' if thing.condition else ''}."
            for thing in things
        ]
    must = [it for it in disclosures(things) if it not in said]
    return "\n".join([*lines, *must])


@dataclass(frozen=True, slots=True)
class Repriced:
    """A listing whose price changes: from and to (money), and what that nets (money, None: not known)."""

    listing: int
    title: str
    before: Decimal
    after: Decimal | None
    net: Decimal | None
    why: str


def between(price: Decimal, offered: Decimal, step: Decimal) -> Decimal:
    """What may be asked for an offer that is too low: the middle, in whole steps. Rule C-21.

    >>> between(Decimal("10.00"), Decimal("7.25"), Decimal("0.01"))
    Decimal('8.62')
    """
    return ((price + offered) / 2).quantize(step)


def by_share(price: Decimal, share: Decimal, step: Decimal) -> Decimal:
    """A price moved by a share of itself, to whole steps, never under one.

    >>> by_share(Decimal("10.00"), Decimal("-0.055"), Decimal("0.01"))
    Decimal('9.45')
    """
    return max((price * (1 + share)).quantize(step), step)


def state_offer(
    offered: Decimal, net: Decimal, lowest: Decimal | None, net_lowest: Decimal | None, cost: Decimal | None, home: str
) -> Verdict:
    """Whether an offer is worth taking: it ``net``s something in this way, and so does the ``lowest`` worth taking
    (what the quick price would be, or what the owner said). Rule C-21."""
    worth = amount(net, home)
    if lowest is None or net_lowest is None:
        return Verdict((Run(f"{amount(offered, home)} would net {worth}", "offer", True),
                        Run("; what it should bring is not known."),), ())  # fmt: skip
    ahead = net - net_lowest
    against = f"{amount(abs(ahead), home)} {'more' if ahead > 0 else 'less'} than" if ahead else "as much as"
    head = (
        Run("Take it" if offered >= lowest else "Do not take it", "offer", True),
        Run(f": {amount(offered, home)} nets {worth}, {against} the lowest worth taking."),
    )
    if cost is None:
        return Verdict(head, ())
    made = net - cost
    words = f"Less what it cost, that {'makes' if made >= 0 else 'loses'} {amount(abs(made), home)}."
    return Verdict(head, (Run(words),))


@dataclass(frozen=True, slots=True)
class ListedSum:
    """What is out: how many listings, what they ask (money), how many prices are old, which auctions close soon, how
    many offers wait, and how many ended here that are out at a market still."""

    listed: int
    asked: Decimal
    old: int
    closing: tuple[str, ...]
    offers: int
    still_out: int = 0


def state_listings(found: ListedSum, drafted: int, home: str) -> Verdict:
    """How much is offered, and what wants an answer."""
    if found.offers:
        who = "1 offer waits" if found.offers == 1 else f"{found.offers} offers wait"
        head: tuple[Run, ...] = (Run(who, "offers", True), Run(" for an answer."))
    elif found.listed:
        things = "1 listing asks" if found.listed == 1 else f"{found.listed:,} listings ask"
        head = (Run(things, "listed", True), Run(f" {amount(found.asked, home)} together."))
    else:
        head = (Run("Nothing is listed", "listed", True), Run(": choose things in the stock, or list them here."))
    ground = []
    if found.still_out:
        many = "1 that ended here is" if found.still_out == 1 else f"{found.still_out} that ended here are"
        ground.append(f"{many} out at a market still: take it off there, before it sells twice.")
    if found.offers and found.listed:
        ground.append(f"{found.listed:,} listed for {amount(found.asked, home)} together.")
    if drafted:
        ground.append(f"{drafted:,} drafted, not listed yet.")
    if found.old:
        ground.append(f"{found.old:,} without a new price for 60 days.")
    if found.closing:
        ground.append(f"Auctions that close within a week: {', '.join(found.closing[:3])}.")
    return Verdict(head, (Run(" ".join(ground)),) if ground else ())


@dataclass(frozen=True, slots=True)
class ListingLine:
    """A listing as it leaves the house: its number, way, texts, price, how many things, state and where it lies, and
    what the files of its photos are called."""

    number: int
    title: str
    words: str
    price: Decimal
    currency: str
    kind: str
    count: int
    condition: str
    place: str
    photos: str
    ends_on: date | None


COLUMNS = ("number", "title", "words", "price", "currency", "kind", "count", "condition", "place", "photos", "ends_on")


def check_columns(columns: Sequence[str]) -> tuple[str, ...]:
    """Columns of a file in the order that a market wants. Raises InputError."""
    found = tuple(it.strip() for it in columns if it.strip())
    strange = [it for it in found if it not in COLUMNS]
    if strange:
        raise InputError.at("columns", f"there is no column {strange[0][:40]}; there are {', '.join(COLUMNS)}")
    if not found or len(set(found)) < len(found):
        raise InputError.at("columns", "name each column once")
    return found
