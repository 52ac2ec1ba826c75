"""What the owner assumes of a release beside its sheet, and which of its cards the owner wants."""

from dataclasses import dataclass
from enum import StrEnum

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.results import Matter
from tobbix.core.products.assuming import check_assumption, parse_share
from tobbix.core.products.revising import find_line, parse_price
from tobbix.db.base import Session
from tobbix.db.products.loading import find_release
from tobbix.db.products.planning import list_assumptions, list_wanted, put_assumption, put_wanted
from tobbix.db.products.saving import find_version, stored_ids
from tobbix.services.products.catalogue import Catalogue


class AssumptionKind(StrEnum):
    """What can be assumed: odds, the price of a line's unknown cards, a split; or how much of a line sells."""

    ODDS = "odds"
    PRICE = "price"
    SPLIT = "split"
    SELLS = "sells"


@dataclass(frozen=True, slots=True)
class Assumption:
    """One assumption as typed."""

    kind: AssumptionKind
    line: str
    format: str | None
    text: str


def read_assumptions(catalogue: Catalogue, key: str) -> list[Assumption]:
    """All that is assumed of a release. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return _read(session, key)


def _read(session: Session, key: str) -> list[Assumption]:
    rows = list_assumptions(session, find_release(session, key))
    return [Assumption(AssumptionKind(kind), line, fmt, text) for kind, line, fmt, text in rows]


def change_assumption(catalogue: Catalogue, key: str, wanted: Assumption) -> list[Assumption]:
    """Assume something of a line, or with empty words take it back. Raises NotFound, InputError at ``text``."""
    text = wanted.text.strip()
    needs_format = wanted.kind in (AssumptionKind.ODDS, AssumptionKind.SPLIT)
    if needs_format != (wanted.format is not None):
        raise InputError.at("format", "odds and splits are of a format, the others of all formats")
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True)
        sheet = catalogue.sheet(session, key)
        find_line(sheet, wanted.line)
        if text:
            if wanted.kind is AssumptionKind.SELLS:
                parse_share(text, "text")
            elif wanted.kind is AssumptionKind.PRICE:
                word = parse_price(text, "text")
                if word.amount is None:
                    raise InputError.at("text", "give an amount like 12.50, or leave it empty to assume nothing")
            else:
                check_assumption(sheet, Matter(wanted.kind.value), wanted.line, wanted.format, text)
        formats, lines, _ = stored_ids(session, release)
        if wanted.format is not None and wanted.format not in formats:
            raise NotFound(f"{sheet.release.title} has no format “{wanted.format}”")
        fmt = None if wanted.format is None else formats[wanted.format]
        put_assumption(session, release, wanted.kind.value, lines[wanted.line], fmt, text or None)
        return _read(session, key)


def read_wanted(catalogue: Catalogue, key: str) -> list[tuple[str, str]]:
    """Line and number of the cards of a release that the owner wants. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return list_wanted(session, find_release(session, key))


def change_wanted(catalogue: Catalogue, key: str, line: str, number: str, wanted: bool) -> list[tuple[str, str]]:
    """Want a card, or no longer. Raises NotFound."""
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True)
        find_line(catalogue.sheet(session, key), line)
        version = find_version(session, release, line, number)
        if version is None:
            raise NotFound(f"there is no card {number[:60]} in that line")
        put_wanted(session, version, wanted)
        return list_wanted(session, release)
