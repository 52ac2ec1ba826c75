"""Lists of cards that somebody has and looks for: read from a table or from plain lines, and where two lists meet."""

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.pricing.results import read_amount
from tobbix.core.pricing.tables import Column, head_means, split_table
from tobbix.core.pricing.titles import Possible, fold_words

COLUMNS = ("list", "release", "line", "number", "variant", "subject", "state", "count", "price", "currency")
MOST_LINES = 5_000
_FIELDS = {
    Column.TITLE: "subject", Column.RELEASE: "release", Column.LINE: "line", Column.NUMBER: "number",
    Column.VARIANT: "variant", Column.STATE: "state", Column.GRADE: "state", Column.LOT: "count",
    Column.COPIES: "count", Column.PRICE: "price", Column.ASK: "price", Column.CURRENCY: "currency",
}  # fmt: skip
_COUNT = re.compile(r"^\s*(?:[0-9]{1,4}\s?[x×]\s+|[x×]\s?[0-9]{1,4}\s+)", re.IGNORECASE)


class ListKind(StrEnum):
    """Whether somebody has a card, or looks for it."""

    HAVE = "have"
    WANT = "want"


@dataclass(frozen=True, slots=True)
class Listed:
    """A line of such a list (the first is ``row`` 1): the ``words`` by which its card is known, its keys where a table
    says them, the state and how many (None: not said), and the price for one (money; None: not said)."""

    row: int
    kind: ListKind
    words: str
    release: str = ""
    line: str = ""
    number: str = ""
    variant: str = ""
    state: str | None = None
    count: int | None = None
    price: Decimal | None = None
    currency: str | None = None


def read_card_list(text: str, kind: ListKind, currencies: Collection[str]) -> list[Listed]:
    """The lines of a list, by the heads of a table with tabs, or as plain words like ``2x Quern Bank FS3 NM 4.50``;
    what says not whether it is had or wanted is of one ``kind``.

    >>> [found] = read_card_list("2x Quern Bank FS3 NM 4.50", ListKind.HAVE, {"EUR"})
    >>> found.words, found.count, str(found.price)
    ('Quern Bank FS3 NM', 2, '4.50')
    """
    table = split_table(text)
    fields = [] if table is None or not table.has_head else [_field(head) for head in table.head]
    if table is not None and len(set(filter(None, fields))) > 1:
        rows = table.rows[: MOST_LINES + 1]
        return [_from_cells(at, fields, row, kind, currencies) for at, row in enumerate(rows, table.first)]
    lines = [(row, line) for row, line in enumerate(text.splitlines(), 1) if line.strip()][: MOST_LINES + 1]
    return [_from_words(row, line, kind, currencies) for row, line in lines]


def _field(head: str) -> str | None:
    return "list" if head.casefold() == "list" else _FIELDS.get(head_means(head) or Column.NOTHING)


def _from_cells(
    row: int, fields: Sequence[str | None], cells: Sequence[str], kind: ListKind, currencies: Collection[str]
) -> Listed:
    said: dict[str, str] = {}
    for name, cell in zip(fields, cells, strict=True):
        if name is not None and cell:
            said.setdefault(name, cell)
    amount = read_amount(said["price"], currencies) if "price" in said else None
    state = said.get("state", "")
    is_plain = state.upper() in CONDITIONS or ":" in state  # any other is read like the words of a title
    words = [said.get(name, "") for name in ("subject", "release", "line", "number", "variant")]
    words += [] if is_plain else [state]
    count = said.get("count", "")
    listed = said.get("list", "").casefold()
    return Listed(
        row, ListKind.WANT if listed.startswith("want") else ListKind.HAVE if listed.startswith("have") else kind,
        " ".join(filter(None, words)), said.get("release", ""), said.get("line", ""), said.get("number", ""),
        said.get("variant", ""), state if is_plain else None,
        int(count) if count.isascii() and count.isdigit() and len(count) < 6 else None,
        None if amount is None else amount[0], said.get("currency") or (None if amount is None else amount[1]),
    )  # fmt: skip


def _from_words(row: int, line: str, kind: ListKind, currencies: Collection[str]) -> Listed:
    words = " ".join(line.split())
    many = _COUNT.match(words)
    count = None if many is None else int(re.sub(r"[^0-9]", "", many[0]))
    rest = words[many.end() :] if many else words
    amount = None
    for tail, told in ((1, r"[.,][0-9]{2}|[A-Z]{3}|[€£¥$]"), (2, r"[A-Z]{3}|[€£¥$]")):
        parts = rest.rsplit(" ", tail)  # "Plumbline 9 200.00" costs 200: only a currency may stand apart
        last = " ".join(parts[1:])
        if len(parts) == tail + 1 and re.search(told, last):
            amount = read_amount(last, currencies)
            if amount is not None:
                rest = parts[0]
                break
    return Listed(
        row, kind, rest, count=count, price=None if amount is None else amount[0],
        currency=None if amount is None else amount[1],
    )  # fmt: skip


def is_more_than_a_name(words: str, card: Possible) -> bool:
    """Whether a line says anything of a card beside whom it shows: its number, line, release or year.

    >>> fog = Possible(1, "sky-2025", "Skerrylight", 2025, "Fog Signals", False, "FS3", "", "Quern Bank", None)
    >>> is_more_than_a_name("Quern Bank NM", fog), is_more_than_a_name("Quern Bank fs-3", fog)
    (False, True)
    """
    said = set(fold_words(words)) - set(fold_words(card.subject))
    shown = (card.number, card.release_name, str(card.year), "" if card.is_plain else card.line_name)
    return not said.isdisjoint(fold_words(" ".join(shown)))


@dataclass(frozen=True, slots=True)
class Mine:
    """A version in a state that the owner has, or wants: how many, what one is worth (money at home; None: not known),
    and up to how much is planned for one that is wanted."""

    version: int
    state: str
    count: int
    worth: Decimal | None = None
    planned: Decimal | None = None


@dataclass(frozen=True, slots=True)
class Match:
    """Where two lists meet: the owner's and the other's line of the same version, and how many change hands at most.
    ``same_state``: both name the same one, or the other names none. ``asked`` by the other (money at home)."""

    mine: Mine
    theirs: Listed
    count: int
    same_state: bool
    asked: Decimal | None


def meet_lists(
    mine: Sequence[Mine], theirs: Mapping[int, Sequence[tuple[Listed, str | None, Decimal | None]]]
) -> list[Match]:
    """Where the owner's list meets the other's, by version, the dearest first: ``theirs`` are the lines of each
    version, each with its state and price at home as far as these are known."""
    found = [
        Match(own, listed, min(own.count, _copies(listed)), state is None or state == own.state, asked)
        for own in mine
        for listed, state, asked in theirs.get(own.version, ())
        if _copies(listed)
    ]
    return sorted(found, key=lambda it: (not it.same_state, -(it.mine.worth or Decimal(0)), it.theirs.row))


def _copies(listed: Listed) -> int:
    """How many a line speaks of: one where it does not say."""
    return 1 if listed.count is None else listed.count


def state_meeting(gets: int, gives: int, unread: int, lines: int) -> Verdict:
    """How much two lists have in common.

    >>> state_meeting(2, 1, 1, 9).text()
    'They have 2 that you want, and want 1 that you have. Of 1 of 9 lines it is not clear which card it is.'
    """
    if not lines:
        return Verdict((Run("Paste what somebody else has or wants", "none", True), Run(".")), ())
    if not gets and not gives:
        sentence = [Run("The lists do not meet", "none", True), Run(".")]
    else:
        sentence = [
            Run("They have "), Run(str(gets), "gets", True), Run(" that you want, and want "),
            Run(str(gives), "gives", True), Run(" that you have."),
        ]  # fmt: skip
    if not unread:
        return Verdict(tuple(sentence), ())
    ground = f"Of {unread:,} of {lines:,} {'line' if lines == 1 else 'lines'} it is not clear which card it is."
    return Verdict(tuple(sentence), (Run(ground),))
