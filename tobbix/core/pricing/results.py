"""A page of results, as it is copied from a browser: titles, prices, shipping, days, bids, sold or not.

No two places lay a result out alike: a line for each, or title, price and day below one another, the day first or last,
with or without blank lines, or a table. So every line is taken apart into the pieces that it holds, whatever their
order; then the pieces are put together under each belief about which of them begins a result, and the belief is kept
under which most results are whole and alike.

Example: "Sold 3 Nov 2026", "Harbour light 12 NM", "12.50 EUR", "+ 2.00 shipping" is one result, sold.
"""

import re
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from decimal import Decimal
from enum import StrEnum

from tobbix.core.buying.reading import take_day
from tobbix.core.pricing.comps import CompKind

_SIGNS = {"€": "EUR", "£": "GBP", "¥": "JPY", "$": "USD"}
_NUMBER = (
    r"[0-9]{1,3}(?:[ \u00a0\u202f'’.,][0-9]{3})+(?:[.,][0-9]{1,2})?(?![0-9])|"
    r"[0-9]{1,9}(?:[.,][0-9]{1,2})?(?![0-9.,]*[0-9])"
)
_MONEY = re.compile(
    rf"(?<![\w#/.,])(?:(?P<before>[A-Z]{{3}}|[€£¥$])\s?)?(?P<amount>{_NUMBER})(?:\s?(?P<after>[A-Z]{{3}}\b|[€£¥$]))?"
)
_POST = r"(?:shipping|postage|post|delivery|p\s?&\s?p)"
_FREE = re.compile(rf"(?:free\s+{_POST}|{_POST}\s*(?:is\s+)?(?:free|included)|incl\w*\.?\s+{_POST})", re.IGNORECASE)
_POST_BEFORE = re.compile(rf"{_POST}(?:\s+(?:cost|costs|fee))?\s*:?\s*\+?\s*$", re.IGNORECASE)
_POST_AFTER = re.compile(rf"^\s*(?:for\s+|estimated\s+)?{_POST}\b", re.IGNORECASE)
_POST_UNKNOWN = re.compile(rf"{_POST}\s*:?\s*(?:not said|unknown|on request)", re.IGNORECASE)
_BIDS = re.compile(r"\b(?P<count>[0-9]{1,4}|no) bids?\b", re.IGNORECASE)
_LEFT = re.compile(
    r"\b(?:(?:still )?(?:ends?|closes?) in\b.*|time left\b.*|[0-9]+\s?d(?:ays?)?\s[0-9]+\s?h(?:ours?)?(?: left)?|"
    r"[0-9]+\s?(?:days?|hours?|minutes?|h|min) left)",
    re.IGNORECASE,
)
_AGO = re.compile(r"\b(?P<count>[0-9]{1,3}|an?|one) (?P<unit>minute|hour|day|week|month)s? ago\b", re.IGNORECASE)
_DAYS = {"minute": 0, "hour": 0, "day": 1, "week": 7, "month": 30}
_SLASHED = re.compile(r"\b(?P<one>[0-9]{1,2})(?P<by>[./])(?P<two>[0-9]{1,2})(?P=by)(?P<year>(?:20)?[0-9]{2})\b")
_SMALL = frozenset(
    "a an at by cost day each ended final for from hammer in of on or price result the to total was winning".split()
)
_NOISE = re.compile(
    r"(?:watch(?:ing)?|save|share|compare|details|more|buy|bid|add|new|photo|picture|sponsored|next|previous|back|"
    r"(?:sort|filter)\b.*|page\s[0-9]+.*|[0-9]+\s(?:results?|watchers?|views?|items?|pages?)\b.*|results? for\b.*|"
    r"(?:sold|seller|shop)(?:\s+by|\s*:).*|(?:sold|ended)\s(?:items|results|cards)|title|where|state|condition|postage|shipping|bids?|date|day|price|market|currency)\s*",
    re.IGNORECASE,
)  # fmt: skip
_CELLS = re.compile(r"\t|\s[|·•]\s|\s{3,}")
MOST_RESULTS = 2_000


class Ended(StrEnum):
    """What became of an offer, as far as the page says."""

    SOLD = "sold"
    OPEN = "open"
    RUNNING = "running"
    UNSOLD = "unsold"
    BARGAINED = "bargained"
    UNSAID = "unsaid"


_ENDS = (
    (Ended.UNSOLD, re.compile(r"\b(?:not sold|unsold|no sale|passed|withdrawn)\b", re.IGNORECASE)),
    (Ended.BARGAINED, re.compile(r"\b(?:offer|bargain) (?:was )?(?:accepted|taken)\b", re.IGNORECASE)),
    (Ended.SOLD, re.compile(r"\b(?:sold(?: for| on)?|(?:has )?ended|closed|won)\b:?", re.IGNORECASE)),
    (Ended.OPEN, re.compile(r"\b(?:asking|asks?|for sale|on offer|available|fixed price|buy now)\b:?", re.IGNORECASE)),
)


@dataclass(frozen=True, slots=True)
class Result:
    """One result of a page, from the line ``row`` on (the first is 1): its words, price, shipping (money; None: not
    said), currency (None: not said), day, bids, and what became of it. A row of a table may say more: its ``state``,
    ``kind``, ``lot``, ``tax``, ``market``, ``subgrades`` and ``photo`` (of the "copy", or "stock"), and the ``fault``
    of a cell that cannot be read; one that was fetched has the source's ``own_id``, and one that is still running the
    day on which it ends."""

    row: int
    title: str
    price: Decimal | None
    currency: str | None
    shipping: Decimal | None
    day: date | None
    bids: int | None
    ended: Ended
    state: str | None = None
    kind: CompKind | None = None
    lot: int | None = None
    tax: Decimal | None = None
    market: str | None = None
    fault: str | None = None
    own_id: str | None = None
    subgrades: str | None = None
    photo: str | None = None


@dataclass
class _Unit:
    """The pieces of a line, in their order."""

    row: int
    after_blank: bool
    pieces: list[tuple[str, object]] = field(default_factory=list)

    def kinds(self) -> list[str]:
        return [kind for kind, _ in self.pieces]


def read_results(text: str, today: date, currencies: Iterable[str], month_first: bool = False) -> list[Result]:
    """The results of a pasted page, in its order; what is no result is left out.

    ``currencies`` are the codes that are taken for one; ``month_first``: 3/11 is the 11th of March.

    >>> page = "Harbour light 12 NM\\n12.50 EUR + 2.00 post\\nsold 3 Nov 2026"
    >>> [(r.title, str(r.price), str(r.shipping), str(r.day), r.ended.value) for r in
    ...  read_results(page, date(2026, 11, 27), ["EUR"])]
    [('Harbour light 12 NM', '12.50', '2.00', '2026-11-03', 'sold')]
    """
    known = frozenset(code.upper() for code in currencies)
    units: list[_Unit] = []
    blank = True
    for row, line in enumerate(text.splitlines(), 1):
        cells = [cell.strip() for cell in _CELLS.split(line) if cell.strip()]
        unit = _Unit(row, blank)
        for cell in cells:
            unit.pieces += _take_apart(cell, today, known, month_first)
        blank = not cells
        if unit.pieces:
            units.append(unit)
    best = max(
        (_put_together(units, begins) for begins in ("blank", "title", "price", "day", "ended", "bids")),
        key=_wholeness,
        default=[],
    )
    return [found for found in map(_result, best) if found is not None][:MOST_RESULTS]


def _take_apart(cell: str, today: date, known: frozenset[str], month_first: bool) -> list[tuple[str, object]]:
    """What a cell holds, with the place where each piece stood; what is left of its words is a title."""
    found: list[tuple[int, str, object]] = []
    left = cell

    def take(kind: str, match: re.Match[str] | None, value: object) -> None:
        nonlocal left
        if match is not None:
            found.append((match.start(), kind, value))
            left = left[: match.start()] + " " * (match.end() - match.start()) + left[match.end() :]

    if _NOISE.fullmatch(cell):
        return []
    if (match := _LEFT.search(left)) is not None:
        take("ended", match, Ended.RUNNING)
    if (match := _BIDS.search(left)) is not None:
        take("bids", match, 0 if match["count"].lower() == "no" else int(match["count"]))
    if (match := _FREE.search(left)) is not None:
        take("shipping", match, Decimal(0))
    take("said", _POST_UNKNOWN.search(left), None)
    for ended, pattern in _ENDS:
        if (match := pattern.search(left)) is not None and not any(kind == "ended" for _, kind, _ in found):
            take("ended", match, ended)
    if (match := _AGO.search(left)) is not None:
        many = int(match["count"]) if match["count"].isdigit() else 1
        take("day", match, today - timedelta(many * _DAYS[match["unit"].lower()]))
    if (match := _SLASHED.search(left)) is not None and (day := _slashed(match, month_first)) is not None:
        take("day", match, day)
    _take_money(lambda: left, take, known)
    words = left.split()
    if not any(kind == "day" for _, kind, _ in found):
        rest, day = take_day(_day_first(words), today)
        if day is not None:
            at = left.find(next((word for word in words if word not in rest), words[0]))
            found.append((at, "day", day))
            words = rest
    told = [word for word in words if word.strip(",.;:()+-–—").casefold() not in _SMALL and re.search(r"\w", word)]
    if told and (not found or sum(map(str.isalpha, "".join(told))) >= 3):
        at = left.find(told[0])
        text = " ".join(words).strip(" ,;:+-–—")
        found.append((at, "title", text))
    return [(kind, value) for _, kind, value in sorted(found, key=lambda piece: piece[0]) if kind != "said"]


def _day_first(words: list[str]) -> list[str]:
    """Nov 3, 2026 as 3 Nov 2026."""
    for at in range(len(words) - 1):
        month, day = words[at].rstrip("."), words[at + 1].rstrip(",")
        if re.fullmatch(r"(?i)(jan|feb|mar|apr|may|june?|july?|aug|sept?|oct|nov|dec)[a-z]*", month) and re.fullmatch(
            r"[0-9]{1,2}", day
        ):
            is_dated = at and re.fullmatch(r"[0-9]{1,2}\.?", words[at - 1])
            return words if is_dated else [*words[:at], day, month, *words[at + 2 :]]
    return words


def _slashed(match: re.Match[str], month_first: bool) -> date | None:
    """3.11.2026 or 3/11/26; the day first unless it is said otherwise or cannot be."""
    one, two = int(match["one"]), int(match["two"])
    year = int(match["year"]) + (2000 if len(match["year"]) == 2 else 0)
    first, second = (two, one) if month_first and match["by"] == "/" else (one, two)
    for day, month in ((first, second), (second, first)):
        try:
            return date(year, month, day)
        except ValueError:
            continue
    return None


def _take_money(
    left: Callable[[], str], take: Callable[[str, re.Match[str] | None, object], None], known: frozenset[str]
) -> None:
    """Take the price and the shipping out of what is left of a cell."""
    is_alone = re.sub(r"[^\w]", "", _MONEY.sub("", left(), count=1)) == ""
    for match in list(_MONEY.finditer(left())):
        sign = match["before"] or match["after"]
        currency = _SIGNS.get(sign or "", sign)
        if currency is not None and currency not in known:
            continue
        amount = _amount(match["amount"])
        before, after = left()[: match.start()], left()[match.end() :]
        if _POST_BEFORE.search(before) or _POST_AFTER.search(after) or before.rstrip().endswith("+"):
            if currency is not None or "+" in before[-3:] or "." in match["amount"] or "," in match["amount"]:
                take("shipping", match, amount)
                rest = _POST_AFTER.search(left()[match.end() :]) and re.compile(_POST, re.IGNORECASE).search(
                    left(), match.end()
                )
                named = rest or re.compile(_POST + r"(?:\s+(?:cost|costs|fee))?\s*:?", re.IGNORECASE).search(left())
                take("said", named, None)
        elif currency is not None or re.search(r"[.,][0-9]{2}$", match["amount"]) or (is_alone and "+" not in before):
            take("price", match, (amount, currency))


def read_day(text: str, today: date, month_first: bool = False) -> date | None:
    """A day by itself, however it is written; None if it is none.

    >>> read_day("3/11/2026", date(2026, 11, 27)), read_day("3/11/2026", date(2026, 11, 27), month_first=True)
    (datetime.date(2026, 11, 3), datetime.date(2026, 3, 11))
    """
    if (match := _SLASHED.fullmatch(text.strip())) is not None:
        return _slashed(match, month_first)
    rest, day = take_day(_day_first(text.replace("T00:00:00", "").replace(" 00:00:00", "").split()), today)
    return None if rest else day


def read_amount(text: str, currencies: Collection[str]) -> tuple[Decimal, str | None] | None:
    """An amount by itself with its currency, if it says one; None if it is none, or of no currency that is known.

    >>> read_amount("€ 1.234,50", {"EUR"})
    (Decimal('1234.50'), 'EUR')
    """
    match = _MONEY.fullmatch(text.strip())
    if match is None:
        return None
    sign = match["before"] or match["after"]
    currency = _SIGNS.get(sign or "", sign)
    return None if currency is not None and currency not in currencies else (_amount(match["amount"]), currency)


def _amount(text: str) -> Decimal:
    """1,234.50 and 1.234,50 and 1 234,5 as numbers."""
    text = re.sub(r"[ \u00a0\u202f'’]", "", text)
    if "." in text and "," in text:
        decimal = max(text.rfind("."), text.rfind(","))
        text = re.sub(r"[.,]", "", text[:decimal]) + "." + text[decimal + 1 :]
    elif re.fullmatch(r"[0-9]{1,3}([.,][0-9]{3})+", text):
        text = re.sub(r"[.,]", "", text)
    return Decimal(text.replace(",", "."))


_Record = list[tuple[int, str, object]]


def _put_together(units: Sequence[_Unit], begins: str) -> list[_Record]:
    """Records under the belief that one begins with a certain piece, or after a blank line."""
    records: list[_Record] = []
    there: set[str] = set()
    for unit in units:
        kinds = unit.kinds()
        is_whole = {"title", "price"} <= set(kinds)
        clash = any(kind in there for kind in kinds if kind != "title") or ("title" in kinds and "price" in there and (
            "title" in there or begins == "title"))  # fmt: skip
        starts = begins in kinds and begins != "title"
        told = clash or starts or (is_whole and "price" in there)
        if not records or (unit.after_blank if begins == "blank" else told):
            records.append([])
            there = set()
        for kind, value in unit.pieces:
            records[-1].append((unit.row, kind, value))
            there.add(kind)
    return records


def _wholeness(records: Sequence[_Record]) -> tuple[int, int, int]:
    """How well a belief puts the pieces together: whole results first, with one price each, then alike ones."""
    shapes: dict[tuple[str, ...], int] = {}
    whole = spoilt = words = 0
    for record in records:
        kinds = [kind for _, kind, _ in record]
        prices, titles = kinds.count("price"), kinds.count("title")
        if prices == 1 and titles >= 1:
            whole, words = whole + 1, words + titles
            short = tuple(dict.fromkeys(kinds))
            shapes[short] = shapes.get(short, 0) + 1
        elif prices:
            spoilt += 1
    return whole - spoilt, max(shapes.values(), default=0), -words


def _result(record: _Record) -> Result | None:
    """What a record says; None if it has no words or no price."""
    first: dict[str, object] = {}
    titles = [str(value) for _, kind, value in record if kind == "title"]
    for _, kind, value in record:
        first.setdefault(kind, value)
    price = first.get("price")
    if not titles or not isinstance(price, tuple):
        return None
    day, bids, shipping, ended = (first.get(kind) for kind in ("day", "bids", "shipping", "ended"))
    result = Result(
        record[0][0], " · ".join(titles)[:300], price[0], price[1],
        shipping if isinstance(shipping, Decimal) else None, day if isinstance(day, date) else None,
        bids if isinstance(bids, int) else None, ended if isinstance(ended, Ended) else Ended.UNSAID,
    )  # fmt: skip
    if result.ended is Ended.UNSAID and result.day is not None and result.bids:
        return replace(result, ended=Ended.SOLD)
    return result
