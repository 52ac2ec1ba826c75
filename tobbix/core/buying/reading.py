"""A purchase said in one line, as people write it down: "2 harbour box 176 + 6.90 bellbuoy".

First how many and what, then what it cost, then after each "+" a further cost, and whom it was from. Nothing is guessed
that is not said: a line without an amount has none.
"""

import re
from collections.abc import Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

_AMOUNT = re.compile(r"(?P<before>[A-Za-z]{3})?(?P<amount>[0-9]{1,7}(?:[.,][0-9]{1,4})?)(?P<after>[A-Za-z]{3})?")
_YEAR = re.compile(r"(?:19|20)[0-9][0-9]")
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_KINDS = {
    "shipping": "shipping", "post": "shipping", "postage": "shipping", "premium": "premium", "tax": "tax",
    "vat": "tax", "duty": "duty", "customs": "duty", "other": "other", "fee": "other",
}  # fmt: skip
_EACH = ("each", "apiece")


@dataclass(frozen=True, slots=True)
class SpokenCost:
    """A part of the cost: its kind, the amount of all, and its currency if one was said."""

    kind: str
    amount: Decimal
    currency: str | None


@dataclass(frozen=True, slots=True)
class SpokenPurchase:
    """What a line says: ``what`` and ``seller`` in its own words, empty if not said; ``bought_on`` None: not said;
    ``is_here``: it was taken home at once."""

    count: int
    what: str
    costs: tuple[SpokenCost, ...]
    seller: str
    bought_on: date | None
    is_here: bool


def read_line(text: str, today: date, currencies: Sequence[str]) -> SpokenPurchase:
    """A purchase said in one line. ``currencies`` are the codes that are taken for one.

    >>> found = read_line("2 harbour box 176 + 6.90 bellbuoy", date(2026, 11, 26), ["EUR"])
    >>> found.count, found.what, [(cost.kind, str(cost.amount)) for cost in found.costs], found.seller
    (2, 'harbour box', [('price', '176'), ('shipping', '6.90')], 'bellbuoy')
    """
    known = {code.upper() for code in currencies}
    words, bought_on = take_day(text.split(), today)
    is_here = any(word.lower() == "here" for word in words)
    words = [word for word in words if word.lower() != "here"]
    parts = _split(words)
    count, first = _take_count(parts[0])
    what, price, rest = _take_price(first, known)
    costs: list[SpokenCost] = []
    if price is not None:
        each = any(word.lower() in _EACH for word in rest)
        rest = [word for word in rest if word.lower() not in _EACH]
        currency, rest = _take_currency(price[1], rest, known)
        costs.append(SpokenCost("price", price[0] * count if each else price[0], currency))
    seller = list(rest)
    for part in parts[1:]:
        amount = read_amount(part[0], known) if part else None
        if amount is None:
            seller += part
            continue
        currency, left = _take_currency(amount[1], part[1:], known)
        kind = _KINDS.get(left[0].lower()) if left else None
        if kind is not None:
            left = left[1:]
        elif all(cost.kind != "shipping" for cost in costs):
            kind = "shipping"
        costs.append(SpokenCost(kind or "other", amount[0], currency))
        seller += left
    return SpokenPurchase(count, " ".join(what), tuple(costs), " ".join(seller), bought_on, is_here)


def _split(words: Sequence[str]) -> list[list[str]]:
    """The words between pluses; a plus may stick to its amount."""
    parts: list[list[str]] = [[]]
    for word in words:
        pieces = word.split("+")
        for place, piece in enumerate(pieces):
            if place:
                parts.append([])
            if piece:
                parts[-1].append(piece)
    return parts


def _take_count(words: list[str]) -> tuple[int, list[str]]:
    if len(words) > 1 and (found := re.fullmatch(r"([0-9]{1,5})[x×]?", words[0])) and int(found[1]) > 0:
        if _YEAR.fullmatch(words[0]):  # a release often begins with its year
            return 1, words
        return int(found[1]), words[1:]
    return 1, words


def read_amount(word: str, known: Set[str]) -> tuple[Decimal, str | None] | None:
    """The amount that a word is, with its currency if one of the ``known`` codes is written at it; None if it is none.

    >>> read_amount("12,50", set()), read_amount("12.50eur", {"EUR"}), read_amount("no7", set())
    ((Decimal('12.50'), None), (Decimal('12.50'), 'EUR'), None)
    """
    found = _AMOUNT.fullmatch(word)
    if found is None:
        return None
    code = (found["before"] or found["after"] or "").upper() or None
    if code is not None and code not in known:
        return None
    return Decimal(found["amount"].replace(",", ".")), code


def _take_price(words: list[str], known: set[str]) -> tuple[list[str], tuple[Decimal, str | None] | None, list[str]]:
    """What stands before the price, the price, and what stands after it: the last number, unless it is a year inside a
    name."""
    for place in range(len(words) - 1, 0, -1):
        amount = read_amount(words[place], known)
        if amount is None or (_YEAR.fullmatch(words[place]) and place < len(words) - 1):
            continue
        return words[:place], amount, words[place + 1 :]
    return words, None, []


def _take_currency(said: str | None, words: list[str], known: set[str]) -> tuple[str | None, list[str]]:
    if said is None and words and words[0] in known:  # in capitals: "top" and "try" are words as well
        return words[0], words[1:]
    return said, words


def take_day(words: list[str], today: date) -> tuple[list[str], date | None]:
    """The words without the day they name, and that day; a day without a year is the last one that was."""
    for place, word in enumerate(words):
        low = word.lower().rstrip(",")
        if low in ("today", "yesterday"):
            return words[:place] + words[place + 1 :], today - timedelta(low == "yesterday")
        if re.fullmatch(r"[0-9]{4}-[0-9]{1,2}-[0-9]{1,2}", low):
            day = _day(*(int(piece) for piece in low.split("-")))
            if day is not None:
                return words[:place] + words[place + 1 :], day
        if (
            place
            and low[:3] in _MONTHS
            and low.isalpha()
            and (found := re.fullmatch(r"([0-9]{1,2})\.?", words[place - 1]))
        ):
            after = words[place + 1] if place + 1 < len(words) else ""
            has_year = _YEAR.fullmatch(after) is not None
            month = _MONTHS.index(low[:3]) + 1
            day = _day(int(after) if has_year else today.year, month, int(found[1]))
            if day is None:
                continue
            if not has_year and day > today:
                day = _day(today.year - 1, month, day.day)
                if day is None:  # the 29th of February was not in that year
                    continue
            return words[: place - 1] + words[place + 1 + has_year :], day
    return words, None


def _day(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:  # no such day: the words are a name's
        return None
