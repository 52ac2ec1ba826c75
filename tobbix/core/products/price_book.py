"""Prices as the owner goes by them: which of what was said of a price is current, and a book of them for a release.

Each version, in each state, has at most one current value: what the owner typed, which is pinned until it is released;
else, by source: comps of three or more, the product sheet, borrowed, thinner comps, a book; else, for a parallel, what
follows from its parent line. Within a source the newest counts. Every value keeps the day it speaks for: correcting one
makes no other fresh. A book brings them into one currency, once and here; without a rate a price is unknown.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum

from tobbix.core.products.prices import derived_price
from tobbix.core.products.sheet import Line, ProductSheet

ENOUGH_COMPS = 3
SEALED = "sealed"
CASE = "case"  # of a whole case of a format, which may cost other than its boxes
_STEP = Decimal("0.000001")


class Source(StrEnum):
    """Where a value comes from."""

    OWNER = "owner"
    COMPS = "comps"
    SHEET = "sheet"
    BORROWED = "borrowed"
    BOOK = "book"
    LINE = "line"


class Says(StrEnum):
    """What a value says: a price, that it is unknown, that it follows the parent line, that a pin is released."""

    PRICE = "price"
    UNKNOWN = "unknown"
    FOLLOWS = "follows"
    RELEASED = "released"


@dataclass(frozen=True, slots=True)
class Value:
    """A value as it was said: ``amount`` (money in ``currency``), ``low`` and ``high`` (80 %; None: not known),
    ``comps`` how many sales it rests on, the ``day`` it speaks for."""

    says: Says
    amount: Decimal | None
    currency: str
    day: date
    source: Source
    low: Decimal | None = None
    high: Decimal | None = None
    comps: int | None = None


@dataclass(frozen=True, slots=True)
class Price:
    """A current value in the currency of its book. ``amount`` None: unknown. ``own``: said of this very version."""

    amount: Decimal | None
    day: date | None
    source: Source | None
    own: bool = True

    @property
    def pinned(self) -> bool:
        return self.source is Source.OWNER


UNSAID = Price(None, None, None)
Convert = Callable[[Decimal, str], Decimal | None]


def converter(currency: str, rates: Mapping[str, Decimal]) -> Convert:
    """Into a currency at ``rates`` (so many of it for one of each other), to the millionth; None without a rate."""

    def convert(amount: Decimal, other: str) -> Decimal | None:
        if other == currency:
            return amount
        rate = rates.get(other)
        return None if rate is None else (amount * rate).quantize(_STEP, ROUND_HALF_UP)

    return convert


def settle(
    own: Value | None,
    parent: Value | None,
    multiple: Decimal | None,
    floor: tuple[Decimal, str] | None,
    is_parallel: bool,
    convert: Convert,
) -> Price:
    """The price of a version: its own current value, or what follows from its ``parent``'s. Rule C-01."""
    if own is not None and own.says is not Says.FOLLOWS:
        amount = None if own.amount is None else convert(own.amount, own.currency)
        return Price(amount, own.day, own.source)
    if not is_parallel or parent is None:
        return replace(UNSAID, own=not is_parallel)
    above = None if parent.amount is None else convert(parent.amount, parent.currency)
    least = None if floor is None else convert(*floor)
    amount = derived_price(above, multiple, least)
    return Price(amount, parent.day, Source.LINE, own=False)


@dataclass(frozen=True, eq=False)
class PriceBook:
    """The current values of a release, as they were said: by line and number, by format, and of a format's cases.

    ``revision`` counts the changes of prices. Values speak for one state of the cards.
    """

    revision: int
    cards: Mapping[tuple[str, str], Value]
    formats: Mapping[str, Value]
    cases: Mapping[str, Value]

    def currencies(self, sheet: ProductSheet) -> frozenset[str]:
        """All that its values are in, and the sheet's floors."""
        every = (*self.cards.values(), *self.formats.values(), *self.cases.values())
        said = {value.currency for value in every if value.amount is not None}
        return frozenset(said | {sheet.currency for line in sheet.lines if line.price_floor is not None})


def with_prices(
    sheet: ProductSheet, book: PriceBook, currency: str, rates: Mapping[str, Decimal] | None = None
) -> ProductSheet:
    """The sheet priced from a book, in a currency.

    A value that is in another one counts at its rate. The day of the prices is the middle one of all that are known;
    without any, that of the sheet.
    """
    convert = converter(currency, rates or {})

    def amount(value: Value | None) -> Decimal | None:
        return None if value is None or value.amount is None else convert(value.amount, value.currency)

    def priced(line: Line) -> Line:
        if line.cards_of is None:
            cards = tuple(replace(card, price=amount(book.cards.get((line.id, card.number)))) for card in line.cards)
            return replace(line, cards=cards)
        numbers = line.only
        if numbers is None:
            numbers = tuple(card.number for card in sheet.line_by_id[line.cards_of].cards)
        own = [(number, book.cards.get((line.id, number))) for number in numbers]
        floor = None if line.price_floor is None else convert(line.price_floor, sheet.currency)
        overrides = tuple((number, amount(v)) for number, v in own if v is not None and v.says is not Says.FOLLOWS)
        return replace(line, price_floor=floor, price_overrides=overrides)

    every = (*book.cards.values(), *book.formats.values(), *book.cases.values())
    known = [value for value in every if value.amount is not None]
    days = sorted(value.day for value in known)
    return replace(
        sheet,
        currency=currency,
        priced_on=days[(len(days) - 1) // 2] if days else sheet.priced_on,
        lines=tuple(priced(line) for line in sheet.lines),
        formats=tuple(
            replace(fmt, price=amount(book.formats.get(fmt.id)), case_price=amount(book.cases.get(fmt.id)))
            for fmt in sheet.formats
        ),
        book=book,
        without_rate=tuple(sorted({v.currency for v in known if convert(Decimal(1), v.currency) is None})),
    )
