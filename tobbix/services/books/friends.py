"""Friends whose cards one keeps, sends away or sells: what stands open with each, and their statements (C-16)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.money import in_figures
from tobbix.core.base.results import Verdict
from tobbix.core.books.friends import FriendLine, running, state_friend
from tobbix.core.holdings.sentences import amount
from tobbix.db.books import friends
from tobbix.db.books.friends import FriendBrief as FriendBrief
from tobbix.db.books.friends import FriendsThing as FriendsThing
from tobbix.db.installation.keeping import load_preferences
from tobbix.formats.item_lists import write_csv, write_xlsx
from tobbix.formats.papers import Column, PaperPart, write_paper
from tobbix.services.products.catalogue import Catalogue


def list_friends(catalogue: Catalogue) -> tuple[list[FriendBrief], str]:
    """Every friend with what stands open, and the home currency."""
    with catalogue.database.transaction() as session:
        return friends.list_friends(session), load_preferences(session).currency


@dataclass(frozen=True, eq=False)
class FriendStatement:
    """A friend's account of some days (money at home): what stood open before them, each booking, what stands open
    after them, and the friend's things as they are now."""

    name: str
    first: date | None
    last: date
    before: Decimal
    lines: tuple[FriendLine, ...]
    open: Decimal
    things: tuple[FriendsThing, ...]
    currency: str
    verdict: Verdict


def read_statement(catalogue: Catalogue, name: str, first: date | None, last: date | None) -> FriendStatement:
    """A friend's account. Rule C-16. Raises NotFound, InputError."""
    end = last or catalogue.today()
    if first is not None and end < first:
        raise InputError.at("last", "must not be before the first day")
    with catalogue.database.transaction() as session:
        brief = next((it for it in friends.list_friends(session) if it.name == name), None)
        if brief is None:
            raise NotFound("there is no friend of that name")
        booked, things = friends.booked_for(session, name, end), friends.things_of(session, name)
        home = load_preferences(session).currency
    before = sum((change for day, _, change in booked if first is not None and day < first), Decimal(0))
    lines = running(before, [it for it in booked if first is None or it[0] >= first])
    stands = lines[-1].open if lines else before
    return FriendStatement(
        name, first, end, before, lines, stands, tuple(things), home, state_friend(name, stands, brief.here, home)
    )  # fmt: skip


_HEAD = ("day", "what", "owes more", "owes less", "open")


def _rows(view: FriendStatement) -> list[Sequence[object]]:
    def said(value: Decimal) -> Decimal | None:
        return in_figures(value, view.currency) if value > 0 else None

    before = [(None, "open before", None, None, in_figures(view.before, view.currency))] if view.before else []
    return [*before, *(
        (it.day.isoformat(), it.text, said(it.change), said(-it.change), in_figures(it.open, view.currency))
        for it in view.lines
    )]  # fmt: skip


def write_table(view: FriendStatement, as_xlsx: bool) -> bytes:
    """A friend's account as CSV or a workbook, a line for each booking."""
    return write_xlsx("statement", _HEAD, _rows(view)) if as_xlsx else write_csv(_HEAD, _rows(view))


def _day(iso: object) -> str:
    return f"{date.fromisoformat(iso):%-d %b %Y}" if isinstance(iso, str) else ""


def write_statement(view: FriendStatement) -> bytes:
    """A friend's account as PDF, to be handed over."""
    span = f"up to {view.last:%-d %B %Y}" if view.first is None else f"{view.first:%-d %B} to {view.last:%-d %B %Y}"
    account = PaperPart(
        f"For {view.name}", (f"What was booked {span}, in {view.currency}.",),
        (Column("day", 14), Column("what", 46), Column("you owe more", 14, True), Column("you owe less", 14, True),
         Column("open", 12, True)),
        tuple((_day(row[0]), *("" if cell is None else str(cell) for cell in row[1:])) for row in _rows(view)),
    )  # fmt: skip
    if view.open > 0:
        words = f"You owe {amount(view.open, view.currency)} {view.currency}."
    elif view.open < 0:
        words = f"You are owed {amount(-view.open, view.currency)} {view.currency}."
    else:
        words = "Nothing stands open."
    rows = tuple(
        (
            f"{it.count} x {it.name}" if it.count > 1 else it.name,
            it.grade,
            "here" if it.state == "held" else it.state.replace("_", " "),
            "" if it.brought is None else amount(it.brought, view.currency),
        )
        for it in view.things
    )
    things = PaperPart(
        "Your things", (), (Column("thing", 50), Column("grade", 16), Column("where", 18), Column("brought", 14, True)),
        rows,
    )  # fmt: skip
    parts = [account, PaperPart("", (words,)), *([things] if rows else [])]
    return write_paper("Statement", parts, f"{view.last:%-d %B %Y}")
