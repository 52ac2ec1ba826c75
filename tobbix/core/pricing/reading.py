"""A sale in one typed line: "12.50 + 1.20 bellbuoy nm 3 nov", with "ask", "auction 7 bids", "lot of 3" where it is so.

First what it went for, then after a "+" the shipping (or "tax"); the state, the day, the kind; what is left of the
words is the market. Nothing is guessed that is not said: shipping that is not there is not known.
"""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.buying.reading import read_amount, take_day
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.comps import Comp, CompKind

_CONDITION = {word.lower(): word for word in CONDITIONS}
_KINDS = {
    "sold": CompKind.SOLD, "auction": CompKind.AUCTION, "bid": CompKind.AUCTION, "own": CompKind.OWN,
    "ask": CompKind.ASK, "asks": CompKind.ASK, "asking": CompKind.ASK, "offered": CompKind.ASK,
}  # fmt: skip
_BOOK = {"low": CompKind.BOOK_LOW, "high": CompKind.BOOK_HIGH}
_SMALL = ("on", "at", "in", "for", "of", "the", "from")


@dataclass
class _Words:
    """What is left of a line while it is read."""

    words: list[str]

    def take(self, pattern: str) -> re.Match[str] | None:
        """The first run of words that a pattern fits, which is taken out."""
        text = " ".join(self.words)
        found = re.search(rf"(?<!\S)(?:{pattern})(?!\S)", text, re.IGNORECASE)
        if found is not None:
            self.words = (text[: found.start()] + " " + text[found.end() :]).split()
        return found


def read_sale(
    text: str,
    today: date,
    home: str,
    currencies: Iterable[str] = (),
    graders: Sequence[str] = (),
    condition: str | None = None,
) -> Comp:
    """A sale as it was typed; in the ``home`` currency, in the ``condition`` and today where the line does not say.

    Raises InputError at ``text``.

    >>> found = read_sale("12.50 + 1.20 bellbuoy nm 3 nov", date(2026, 11, 26), "EUR")
    >>> str(found.price), str(found.shipping), found.market, found.condition, found.day.isoformat()
    ('12.50', '1.20', 'bellbuoy', 'NM', '2026-11-03')
    """
    known = {code.upper() for code in (home, *currencies)}
    said, day = take_day(text.replace("+", " + ").split(), today)
    left = _Words(said)
    lot = left.take(r"lot(?: of)? (?P<count>[0-9]{1,5})|x ?(?P<times>[0-9]{1,5})")
    bids = left.take(r"(?P<count>[0-9]{1,4}) bids?")
    graded = _take_grade(left, graders)
    kind = CompKind.AUCTION if bids else CompKind.SOLD
    if (book := left.take(r"book (?P<end>low|high)")) is not None:
        kind = _BOOK[book["end"].lower()]
    elif (named := left.take("|".join(_KINDS))) is not None:
        kind = _KINDS[named[0].lower()]
    state = left.take("|".join(_CONDITION))
    parts: list[list[str]] = [[]]
    for word in left.words:
        if word == "+":
            parts.append([])
        else:
            parts[-1].append(word)
    amounts: list[tuple[str, Decimal]] = []
    currency, market = None, []
    for part in parts:
        found = next((at for at, word in enumerate(part) if read_amount(word, known) is not None), None)
        if found is None:
            market += part
            continue
        amount, code = read_amount(part[found], known) or (Decimal(0), None)
        rest = part[:found] + part[found + 1 :]
        is_tax = any(word.lower() in ("tax", "vat") for word in rest)
        codes = [word.upper() for word in rest if word.upper() in known]
        currency = currency or code or (codes[0] if codes else None)
        amounts.append(("tax" if is_tax else "shipping", amount))
        market += [w for w in rest if w.lower() not in ("tax", "vat", "shipping", "post") and w.upper() not in known]
    if not amounts or amounts[0][1] <= 0:
        raise InputError.at("text", "say what it went for, like 12.50 + 1.20 nm 3 nov")
    costs = dict(amounts[1:])
    count = None if lot is None else int(lot["count"] or lot["times"])
    if count is not None and count < 1:
        raise InputError.at("text", "a lot is of one or more")
    where = " ".join(word for word in market if word.lower() not in _SMALL)
    return Comp(
        kind, day or today, amounts[0][1], currency or home, costs.get("shipping"), costs.get("tax"),
        None if graded else (_CONDITION[state[0].lower()] if state else condition),
        graded[0] if graded else None, graded[1] if graded else None, None, where[:60] or None,
        None if bids is None else int(bids["count"]), None, count or 1,
    )  # fmt: skip


def _take_grade(left: _Words, graders: Sequence[str]) -> tuple[str, str] | None:
    """A grader and a grade: "Plumb 9.5" of a known grader, or "Plumb:9.5" of any."""
    if (found := left.take(r"(?P<grader>[^\s:]{1,40}):(?P<grade>[0-9A-Za-z.+]{1,20})")) is not None:
        known = {name.casefold(): name for name in graders}
        return known.get(found["grader"].casefold(), found["grader"]), found["grade"]
    for name in sorted(graders, key=len, reverse=True):
        found = left.take(rf"{re.escape(name)} (?P<grade>[0-9]{{1,2}}(?:\.5)?)")
        if found is not None:
            return name, found["grade"]
    return None
