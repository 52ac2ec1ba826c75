"""Correct prices and odds in place, and take corrections back.

Every change names the revision it was made on; if the release has moved on meanwhile, it is refused.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, Fault, InputError, NotFound
from tobbix.core.products.price_book import CASE, SEALED, Says, Source, Value
from tobbix.core.products.prices import line_versions
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.revising import (
    FOLLOWS,
    PriceWord,
    check_card_price,
    check_format_price,
    find_format,
    find_line,
    parse_price,
    with_guarantee,
    with_odds,
    with_usable,
    write_guarantee,
    write_odds,
)
from tobbix.core.products.sheet import Line, ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.db.base import Session
from tobbix.db.products.loading import find_release, format_identity, last_change
from tobbix.db.products.naming import give_back
from tobbix.db.products.saving import (
    find_version,
    find_versions,
    keep_usable,
    note_change,
    save_guarantees,
    save_line_odds,
    save_structure,
    stored_ids,
)
from tobbix.db.products.tables import ReleaseRow
from tobbix.db.products.values import record_values, take_back_values
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on, revalue_cards, revalue_release


def change_card_price(
    catalogue: Catalogue, key: str, price_revision: int, line: str, number: str, text: str
) -> ProductSheet:
    """Say the price of one version as the owner typed it, in the home currency; it is pinned until it is released.

    Raises InputError, NotFound, Conflict.
    """
    word = parse_price(text)

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet, home: Home) -> tuple[list[int], str]:
        check_card_price(sheet, line, number, word)
        version = find_version(session, release, line, number)
        if version is None:
            raise NotFound(f"there is no card {number[:60]} in that line")
        ids = record_values(session, release, "version_id", home.state, [(version, _typed(word, home, catalogue))])
        revalue_cards(session, home, [version])
        return ids, f"price of {find_line(sheet, line).name} {number} {_price_words(word)}"

    return _price(catalogue, key, price_revision, act)


def change_card_prices(
    catalogue: Catalogue, key: str, price_revision: int, line: str, said: Sequence[tuple[str, str]]
) -> ProductSheet:
    """Say the prices of many cards of a line (number, price as typed) as one change, all of them or none.

    Raises InputError with every fault, at ``prices[N]``; NotFound, Conflict.
    """
    faults, words = [], []
    for at, (number, text) in enumerate(said):
        try:
            words.append((at, number, parse_price(text)))
        except InputError as error:
            faults += [Fault(f"prices[{at}].price", fault.message) for fault in error.faults]

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet, home: Home) -> tuple[list[int], str]:
        typed = []
        versions = find_versions(session, release, line, [number for _, number, _ in words])
        for at, number, word in words:
            try:
                check_card_price(sheet, line, number, word)
            except InputError as error:
                faults.extend(Fault(f"prices[{at}].price", fault.message) for fault in error.faults)
                continue
            except NotFound as error:
                faults.append(Fault(f"prices[{at}].number", str(error)))
                continue
            version = versions.get(number)
            if version is None:
                faults.append(Fault(f"prices[{at}].number", f"there is no card {number[:60]} in that line"))
            else:
                typed.append((version, _typed(word, home, catalogue)))
        if faults:
            raise InputError(sorted(faults, key=lambda fault: int(fault.field[7 : fault.field.index("]")])))
        ids = record_values(session, release, "version_id", home.state, typed)
        revalue_cards(session, home, [version for version, _ in typed])
        return ids, f"{len(typed)} prices of {find_line(sheet, line).name}"

    return _price(catalogue, key, price_revision, act)


def change_case_price(catalogue: Catalogue, key: str, price_revision: int, format_id: str, text: str) -> ProductSheet:
    """Say today's price of a whole case as the owner typed it, in the home currency. Raises as below, and InputError
    for a format that comes in no cases."""
    word = parse_price(text)

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet, home: Home) -> tuple[list[int], str]:
        found = check_format_price(sheet, format_id, word)
        if not found.boxes_per_case or found.boxes_per_case < 2:
            raise InputError.at("price", f"nobody said how many boxes are in a case of the {found.name}")
        fmt = format_identity(session, key, format_id)
        ids = record_values(session, release, "format_id", CASE, [(fmt, _typed(word, home, catalogue))])
        return ids, f"price of a case of the {found.name} {_price_words(word)}"

    return _price(catalogue, key, price_revision, act)


def change_format_price(catalogue: Catalogue, key: str, price_revision: int, format_id: str, text: str) -> ProductSheet:
    """Say today's price of a sealed box as the owner typed it, in the home currency. Raises as above."""
    word = parse_price(text)

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet, home: Home) -> tuple[list[int], str]:
        check_format_price(sheet, format_id, word)
        fmt = format_identity(session, key, format_id)
        ids = record_values(session, release, "format_id", SEALED, [(fmt, _typed(word, home, catalogue))])
        revalue_release(session, home, release.id)
        return ids, f"price of the {find_format(sheet, format_id).name} {_price_words(word)}"

    return _price(catalogue, key, price_revision, act)


def _typed(word: PriceWord, home: Home, catalogue: Catalogue) -> Value:
    says = Says.RELEASED if word.released else Says.FOLLOWS if word.follows else Says.PRICE
    if says is Says.PRICE and word.amount is None:
        says = Says.UNKNOWN
    return Value(says, word.amount, home.currency, catalogue.today(), Source.OWNER)


def _price_words(word: PriceWord) -> str:
    if word.released:
        return "released"
    return f"to {FOLLOWS if word.follows else 'unknown' if word.amount is None else format(word.amount, 'f')}"


PriceAction = Callable[[Session, ReleaseRow, ProductSheet, Home], tuple[list[int], str]]


def _price(catalogue: Catalogue, key: str, price_revision: int, act: PriceAction) -> ProductSheet:
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True)
        if release.price_revision != price_revision:
            raise Conflict("its prices were changed meanwhile; look again, then retry")
        home = home_on(session, catalogue.today())
        ids, what = act(session, release, catalogue.sheet(session, key), home)
        note_change(session, release, what, {"values": ids})
        session.flush()
        return catalogue.sheet(session, key)


def change_odds(
    catalogue: Catalogue, key: str, revision: int, line: str, format_id: str, pack: str | None, text: str
) -> ProductSheet:
    """Set a line's odds in a format as the owner typed them. Raises InputError, NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_odds(sheet, line, format_id, pack, text)
        formats, lines, packs = stored_ids(session, release)
        save_line_odds(session, revised.line_by_id[line], lines[line], formats, packs)
        was = write_odds(find_line(sheet, line), format_id, pack) or "not in it"
        back = {"odds": {"line": line, "format": format_id, "pack": pack, "text": was}}
        name = sheet.line_by_id[line].name
        return revised, f"odds of {name} in the {sheet.format_by_id[format_id].name} to {text.strip()}", back

    return _change(catalogue, key, revision, act)


def change_usable(catalogue: Catalogue, key: str, revision: int, format_id: str, text: str) -> ProductSheet:
    """Set the share of a format's packs that are usable, as typed. Raises InputError, NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_usable(sheet, format_id, text)
        _keep_usable(session, release, revised, format_id)
        fmt = find_format(sheet, format_id)
        back = {"usable": {"format": format_id, "text": format(fmt.usable, "f")}}
        return revised, f"usable packs of the {fmt.name} to {text.strip()}", back

    return _change(catalogue, key, revision, act)


def replace_by(catalogue: Catalogue, key: str, revision: int, tried: ProductSheet, what: str) -> ProductSheet:
    """Put what was tried on a sheet in its place, as one change: its odds and shares, and the prices that differ, which
    the owner so says. Raises NotFound, Conflict.
    """
    with catalogue.database.transaction() as session:
        release = _release_at(session, key, revision)
        home = home_on(session, catalogue.today())
        sheet, written = catalogue.sheet(session, key), catalogue.as_written(session, key)
        save_structure(session, replace(_written_as(tried, sheet, written), revision=release.revision + 1))
        cards, boxes = [], []
        for line in tried.lines:
            was = {v.number: v for v in line_versions(sheet, sheet.line_by_id[line.id])}
            for version in line_versions(tried, line):
                before = was[version.number]
                if version.own != before.own or (version.own and version.price != before.price):
                    found = find_version(session, release, line.id, version.number)
                    word = PriceWord(version.price) if version.own else PriceWord(None, follows=True)
                    if found is not None:
                        cards.append((found, _typed(word, home, catalogue)))
        for fmt in tried.formats:
            if fmt.price != sheet.format_by_id[fmt.id].price:
                identity = format_identity(session, key, fmt.id)
                boxes.append((identity, _typed(PriceWord(fmt.price), home, catalogue)))
        ids = record_values(session, release, "version_id", home.state, cards)
        ids += record_values(session, release, "format_id", SEALED, boxes)
        release.price_revision += 1  # floors and multiples are prices too
        note_change(session, release, what, {"sheet": write_document(written), "values": ids})
        session.flush()
        revalue_release(session, home, release.id)
        return catalogue.sheet(session, key)


def _written_as(tried: ProductSheet, sheet: ProductSheet, written: ProductSheet) -> ProductSheet:
    """What was tried on a priced sheet, as the sheet itself is written: in its own currency."""

    def line_as(line: Line) -> Line:
        was, stands = sheet.line_by_id[line.id], written.line_by_id[line.id]
        floor = stands.price_floor
        if floor and line.price_floor is not None and was.price_floor and line.price_floor != was.price_floor:
            floor = (floor * line.price_floor / was.price_floor).quantize(Decimal("0.000001"))
        return replace(line, price_floor=floor)

    lines = tuple(line_as(line) for line in tried.lines)
    return replace(tried, currency=written.currency, priced_on=written.priced_on, lines=lines)


def change_guarantee(catalogue: Catalogue, key: str, revision: int, number: int, text: str) -> ProductSheet:
    """Set a guarantee as the owner typed it. Raises InputError, NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_guarantee(sheet, number, text)
        save_guarantees(session, revised, *stored_ids(session, release))
        back = {"guarantee": {"number": number, "text": write_guarantee(sheet, sheet.guarantees[number])}}
        return revised, f"guarantee to {write_guarantee(revised, revised.guarantees[number])}", back

    return _change(catalogue, key, revision, act)


@dataclass(frozen=True, slots=True)
class Undone:
    """The sheet after a change was taken back, and what that was; ``gone``: there is no sheet any more."""

    sheet: ProductSheet
    what: str
    gone: bool = False


def undo_change(catalogue: Catalogue, key: str, number: int | None = None) -> Undone:
    """Take the last change back, as a change of its own; where its ``number`` is said, that one and no other.

    Raises NotFound, or Conflict if there is nothing to undo, or another change came after it.
    """
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True)
        change = last_change(session, release)
        if change is None:
            raise Conflict("there is nothing to undo")
        if number is not None and change.id != number:
            raise Conflict(f"this stays, since something came after it: {change.what}")
        back, home = change.back, home_on(session, catalogue.today())
        change.undone = True
        if "stub" in back:
            sheet = catalogue.sheet(session, key)
            give_back(session, release, back["stub"])
            take_back_values(session, release, back["values"])
            release.revision += 1
            session.flush()
            revalue_release(session, home, release.id)
            return Undone(replace(sheet, revision=release.revision), change.what, gone=True)
        if "sheet" in back:
            revised = replace(read_sheet(back["sheet"]).sheet, revision=release.revision + 1)
            save_structure(session, revised)
        elif "values" not in back:
            _undo_correction(session, release, catalogue.sheet(session, key), back)
        if "values" in back:
            take_back_values(session, release, back["values"])
            revalue_release(session, home, release.id)
        session.flush()
        return Undone(catalogue.sheet(session, key), change.what)


def _undo_correction(session: Session, release: ReleaseRow, sheet: ProductSheet, back: dict[str, Any]) -> None:
    if "odds" in back:
        said = back["odds"]
        revised = with_odds(sheet, said["line"], said["format"], said["pack"], said["text"])
        formats, lines, packs = stored_ids(session, release)
        save_line_odds(session, revised.line_by_id[said["line"]], lines[said["line"]], formats, packs)
    elif "usable" in back:
        revised = with_usable(sheet, back["usable"]["format"], back["usable"]["text"])
        _keep_usable(session, release, revised, back["usable"]["format"])
    else:
        revised = with_guarantee(sheet, back["guarantee"]["number"], back["guarantee"]["text"])
        save_guarantees(session, revised, *stored_ids(session, release))
    release.revision = revised.revision


Action = Callable[[Session, ReleaseRow, ProductSheet], tuple[ProductSheet, str, dict[str, Any]]]


def _release_at(session: Session, key: str, revision: int) -> ReleaseRow:
    release = find_release(session, key, lock=True)
    if release.revision != revision:
        raise Conflict(
            f"this was changed meanwhile (revision {release.revision}, you had {revision}); look again, then retry"
        )
    return release


def _change(catalogue: Catalogue, key: str, revision: int, act: Action) -> ProductSheet:
    with catalogue.database.transaction() as session:
        release = _release_at(session, key, revision)
        revised, what, back = act(session, release, catalogue.sheet(session, key))
        release.revision = revised.revision
        note_change(session, release, what, back)
        session.flush()
        return catalogue.sheet(session, key)


def _keep_usable(session: Session, release: ReleaseRow, revised: ProductSheet, format_id: str) -> None:
    keep_usable(session, release, format_id, revised.format_by_id[format_id].usable)
