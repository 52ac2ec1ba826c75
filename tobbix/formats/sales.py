"""A list of sales and other prices that were seen: kind ``sales`` as JSON, or the same columns as CSV or XLSX."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import minor_units
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.products.fields import FaultList, Path, Place
from tobbix.formats.item_lists import read_rows
from tobbix.formats.json_files import read_json
from tobbix.formats.questions import Question, decimal_of, gather, read_question
from tobbix.formats.unpacking import ZIP

COLUMNS = ("id", "kind", "on", "price", "shipping", "tax", "currency", "release", "line", "number", "variant",
           "subject", "condition", "grader", "grade", "subgrades", "market", "bids", "photo", "lot",
           "note")  # fmt: skip
_KNOWN = frozenset(COLUMNS)
_TOP = frozenset(("home", "rates", "observations"))
_RATE = frozenset(("currency", "on", "rate"))
MOST_SALES = 1_000_000


@dataclass(frozen=True, slots=True)
class Sales:
    """What was seen, in its order, and the rates into the home currency."""

    observations: tuple[Observation, ...]
    rates: Rates


def parse_sales(content: bytes, home: str | None = None, rates: bytes | None = None) -> Sales:
    """Read a list of sales, told apart by its contents. What is no JSON needs the ``home`` currency, and a file of
    ``rates`` where it holds others. Raises InputError with every fault, by field and row."""
    if not content.startswith(ZIP) and content.lstrip()[:1] == b"{":
        return read_question(content, "sales", _TOP, _from_document)
    if home is None:
        raise InputError.at("home", "say the home currency of a table: --home EUR")
    rows = read_rows(content, most=MOST_SALES)
    if not rows:
        raise InputError.at("file", "is empty")
    head = [str(cell or "").strip().lower() for cell in rows[0]]
    unknown = [name for name in head if name and name not in _KNOWN]
    if unknown:
        raise InputError.at("file", f"“{unknown[0][:40]}” is not a column; those are {', '.join(COLUMNS)}")
    numbered = [
        (number, {name: _plain(cell) for name, cell in zip(head, cells, strict=False) if name and _plain(cell) != ""})
        for number, cells in enumerate(rows[1:], 2)
    ]
    numbered = [(number, row) for number, row in numbered if row]

    def locate(path: Path) -> Place:
        at = next((step for step in path if isinstance(step, int)), None)
        return Place(None, None if at is None else numbered[at][0])

    faults = FaultList(locate)
    said = () if rates is None else read_rates(rates)

    def read() -> Sales:
        parts = [Question(row, ("observations", at), faults, _KNOWN) for at, (_, row) in enumerate(numbered)]
        return Sales(tuple(_observation(part, at) for at, part in enumerate(parts)), Rates(home, said))

    return gather(faults, read)


def _plain(cell: object) -> object:
    if isinstance(cell, date):
        return cell.isoformat()[:10]
    return "" if cell is None else cell if isinstance(cell, int | float | Decimal) else str(cell).strip()


def _from_document(top: Question) -> Sales:
    home = top.text("home") or "EUR"
    try:
        minor_units(home)
    except ValueError:
        top.fault("home", "must be a currency code of three capital letters, like EUR")
    rates = [(part.text("currency") or "", part.day("on"), part.must("rate", above=True))
             for part in top.parts("rates", _RATE, required=False)]  # fmt: skip
    found = [_observation(part, at) for at, part in enumerate(top.parts("observations", _KNOWN))]
    seen: set[str] = set()
    for at, item in enumerate(found):
        if item.id in seen:
            top.fault(f"observations[{at}].id", f"“{item.id[:60]}” is there twice")
        seen.add(item.id)
    return Sales(tuple(found), Rates(home, rates))


def _observation(part: Question, at: int) -> Observation:
    kind = part.choice("kind", CompKind)
    condition, grader, grade = (part.text(name, required=False) for name in ("condition", "grader", "grade"))
    if condition is not None and (grader is not None or grade is not None):
        part.fault("condition", "a card is raw or graded: leave out its condition or its grade")
    if (grader is None) != (grade is None):
        part.fault("grade" if grade is None else "grader", "is missing beside the other")
    photo = part.text("photo", required=False)
    if photo not in (None, "copy", "stock"):
        part.fault("photo", "must be copy or stock, or left out")
    card = CardKey(
        part.text("release") or "", part.text("line") or "", part.text("number") or "",
        part.text("variant", required=False) or "",
    )  # fmt: skip
    subgrades = part.raw("subgrades")
    bids = part.figure("bids")
    comp = Comp(
        kind or CompKind.SOLD, part.day("on"), part.must("price", above=True), part.text("currency") or "",
        part.figure("shipping"), part.figure("tax"), condition, grader, grade,
        None if subgrades is None else str(subgrades), part.text("market", required=False),
        None if bids is None else int(bids), photo, part.count("lot"), part.text("note", required=False),
    )  # fmt: skip
    number = part.text("id", required=False) or str(at + 1)
    return Observation(number, card, comp, part.text("subject", required=False))


def read_rates(content: bytes) -> Sequence[tuple[str, date, Decimal]]:
    """Rates of the day: a JSON list, or a table with the columns currency, on, rate. Raises InputError."""
    if content.lstrip()[:1] in (b"[", b"{"):
        document = read_json(content)
        rows = document.get("rates") if isinstance(document, dict) else document
        given = [row if isinstance(row, dict) else {} for row in rows] if isinstance(rows, list) else []
    else:
        table = read_rows(content)
        head = [str(cell or "").strip().lower() for cell in (table[0] if table else [])]
        given = [{name: _plain(cell) for name, cell in zip(head, cells, strict=False)} for cells in table[1:]]
    faults = FaultList(lambda path: Place(None, next((s + 2 for s in path if isinstance(s, int)), None), "rates."))

    def read() -> list[tuple[str, date, Decimal]]:
        parts = [Question(row, (at,), faults, frozenset(map(str, row))) for at, row in enumerate(given)]
        return [(part.text("currency") or "", part.day("on"), part.must("rate", above=True)) for part in parts]

    return gather(faults, read)


def parse_version(text: str) -> CardKey:
    """A version as ``release/line/number`` or with ``/variant``. Raises InputError."""
    parts = text.split("/")
    if len(parts) not in (3, 4) or not all(parts[:3]):
        raise InputError.at("version", "write it as release/line/number or release/line/number/variant")
    return CardKey(*parts)


def as_figure(text: str, field: str) -> Decimal:
    """A number as typed after an option. Raises InputError."""
    number = decimal_of(text)
    if number is None:
        raise InputError.at(field, f"“{text[:40]}” is not a number like 12.50")
    return number
