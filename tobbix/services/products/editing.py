"""Correct prices and odds in place, and take corrections back.

Every change names the revision it was made on; if the release has moved on meanwhile, it is refused.
"""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from sqlalchemy import update
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict
from tobbix.core.products.prices import line_versions
from tobbix.core.products.reading import read_sheet
from tobbix.core.products.revising import (
    FOLLOWS,
    PriceWord,
    find_format,
    find_line,
    parse_price,
    with_card_price,
    with_format_price,
    with_guarantee,
    with_odds,
    with_usable,
    write_guarantee,
    write_odds,
)
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.writing import write_document
from tobbix.db.products.loading import find_release, last_change
from tobbix.db.products.saving import (
    note_change,
    observe_format,
    observe_version,
    save_guarantees,
    save_line_odds,
    save_sheet,
    stored_ids,
)
from tobbix.db.products.tables import FormatRow, ReleaseRow
from tobbix.services.products.workshop import Workshop

OWNER = "owner"


def change_card_price(workshop: Workshop, key: str, revision: int, line: str, number: str, text: str) -> ProductSheet:
    """Set the price of one version as the owner typed it. Raises InputError, NotFound, Conflict."""
    word = parse_price(text)

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_card_price(sheet, line, number, word, workshop.today())
        _keep_card_price(session, release, line, number, word, workshop)
        name = find_line(sheet, line).name
        back = {"price": {"line": line, "number": number, "text": _typed(_card_word(sheet, line, number))}}
        return revised, f"price of {name} {number} to {_typed(word) or 'unknown'}", back

    return _change(workshop, key, revision, act)


def change_format_price(workshop: Workshop, key: str, revision: int, format_id: str, text: str) -> ProductSheet:
    """Set today's price of a sealed box as the owner typed it. Raises InputError, NotFound, Conflict."""
    word = parse_price(text)

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_format_price(sheet, format_id, word, workshop.today())
        observe_format(session, release, format_id, word, workshop.today(), OWNER)
        fmt = find_format(sheet, format_id)
        back = {"format_price": {"format": format_id, "text": _typed(PriceWord(fmt.price))}}
        return revised, f"price of the {fmt.name} to {_typed(word) or 'unknown'}", back

    return _change(workshop, key, revision, act)


def change_odds(
    workshop: Workshop, key: str, revision: int, line: str, format_id: str, pack: str | None, text: str
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

    return _change(workshop, key, revision, act)


def change_usable(workshop: Workshop, key: str, revision: int, format_id: str, text: str) -> ProductSheet:
    """Set the share of a format's packs that are usable, as typed. Raises InputError, NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_usable(sheet, format_id, text)
        _keep_usable(session, release, revised, format_id)
        fmt = find_format(sheet, format_id)
        back = {"usable": {"format": format_id, "text": format(fmt.usable, "f")}}
        return revised, f"usable packs of the {fmt.name} to {text.strip()}", back

    return _change(workshop, key, revision, act)


def replace_by(workshop: Workshop, key: str, revision: int, revised: ProductSheet, what: str) -> ProductSheet:
    """Put a corrected sheet in place of the stored one, as one change. Raises NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        kept = replace(revised, id=sheet.id, revision=sheet.revision + 1)
        save_sheet(session, kept, OWNER)
        return kept, what, {"sheet": write_document(sheet)}

    return _change(workshop, key, revision, act)


def change_guarantee(workshop: Workshop, key: str, revision: int, number: int, text: str) -> ProductSheet:
    """Set a guarantee as the owner typed it. Raises InputError, NotFound, Conflict."""

    def act(session: Session, release: ReleaseRow, sheet: ProductSheet) -> tuple[ProductSheet, str, dict[str, Any]]:
        revised = with_guarantee(sheet, number, text)
        save_guarantees(session, revised, *stored_ids(session, release))
        back = {"guarantee": {"number": number, "text": write_guarantee(sheet, sheet.guarantees[number])}}
        return revised, f"guarantee to {write_guarantee(revised, revised.guarantees[number])}", back

    return _change(workshop, key, revision, act)


def undo_change(workshop: Workshop, key: str) -> tuple[ProductSheet, str]:
    """Take the last change back, as a change of its own; returns the sheet and what was undone.

    Raises NotFound, or Conflict if there is nothing to undo.
    """
    with workshop.database.transaction() as session:
        release = find_release(session, key, lock=True)
        change = last_change(session, release)
        if change is None:
            raise Conflict("there is nothing to undo")
        sheet = workshop.sheet(session, key)
        back = change.back
        if "price" in back:
            line, number, word = back["price"]["line"], back["price"]["number"], parse_price(back["price"]["text"])
            revised = with_card_price(sheet, line, number, word, workshop.today())
            _keep_card_price(session, release, line, number, word, workshop)
        elif "format_price" in back:
            format_id, word = back["format_price"]["format"], parse_price(back["format_price"]["text"])
            revised = with_format_price(sheet, format_id, word, workshop.today())
            observe_format(session, release, format_id, word, workshop.today(), OWNER)
        elif "odds" in back:
            said = back["odds"]
            revised = with_odds(sheet, said["line"], said["format"], said["pack"], said["text"])
            formats, lines, packs = stored_ids(session, release)
            save_line_odds(session, revised.line_by_id[said["line"]], lines[said["line"]], formats, packs)
        elif "usable" in back:
            revised = with_usable(sheet, back["usable"]["format"], back["usable"]["text"])
            _keep_usable(session, release, revised, back["usable"]["format"])
        elif "guarantee" in back:
            revised = with_guarantee(sheet, back["guarantee"]["number"], back["guarantee"]["text"])
            save_guarantees(session, revised, *stored_ids(session, release))
        else:
            revised = replace(read_sheet(back["sheet"]).sheet, revision=sheet.revision + 1)
            save_sheet(session, revised, "undone")
        release.revision, release.priced_on = revised.revision, revised.priced_on
        change.undone = True
        what = change.what
        workshop.remember(session, revised)
    return revised, what


Action = Callable[[Session, ReleaseRow, ProductSheet], tuple[ProductSheet, str, dict[str, Any]]]


def _change(workshop: Workshop, key: str, revision: int, act: Action) -> ProductSheet:
    with workshop.database.transaction() as session:
        release = find_release(session, key, lock=True)
        if release.revision != revision:
            raise Conflict(
                f"this was changed meanwhile (revision {release.revision}, you had {revision}); look again, then retry"
            )
        revised, what, back = act(session, release, workshop.sheet(session, key))
        release.revision, release.priced_on = revised.revision, revised.priced_on
        note_change(session, release, what, back)
        workshop.remember(session, revised)
    return revised


def _keep_card_price(
    session: Session, release: ReleaseRow, line: str, number: str, word: PriceWord, workshop: Workshop
) -> None:
    observe_version(session, release, line, number, word, workshop.today(), OWNER)


def _keep_usable(session: Session, release: ReleaseRow, revised: ProductSheet, format_id: str) -> None:
    usable = revised.format_by_id[format_id].usable
    session.execute(
        update(FormatRow).where(FormatRow.release_id == release.id, FormatRow.key == format_id).values(usable=usable)
    )


def _card_word(sheet: ProductSheet, line_id: str, number: str) -> PriceWord:
    line = find_line(sheet, line_id)
    version = next(v for v in line_versions(sheet, line) if v.number == number)
    return PriceWord(version.price) if version.own else PriceWord(None, follows=True)


def _typed(word: PriceWord) -> str:
    return FOLLOWS if word.follows else "" if word.amount is None else format(word.amount, "f")
