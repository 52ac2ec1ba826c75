"""Product sheets into the store. What a sheet no longer has is marked as gone, and comes back as it was; a version
keeps its identity, and all that hangs on it, for good."""

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, delete, select, text, update
from sqlalchemy.orm import Session

from tobbix.core.products.price_book import SEALED, Says, Source, Value
from tobbix.core.products.prices import line_versions
from tobbix.core.products.sheet import Line, LineKind, ProductSheet
from tobbix.db.base import bring_rows
from tobbix.db.products.tables import (
    CardRow,
    FormatRow,
    GuaranteeRow,
    GuaranteeShareRow,
    LineFormatRow,
    LineRow,
    OddsRow,
    PackKindRow,
    ReleaseChangeRow,
    ReleaseRow,
    VersionRow,
)
from tobbix.db.products.values import latest_of_sheets, record_values


def save_structure(session: Session, sheet: ProductSheet) -> ReleaseRow:
    """Store a sheet as its release, new or in place of what is stored, but for its prices.

    Lines, cards and formats are matched by their ids and numbers; what the sheet no longer has is marked as gone, what
    was seen beside it stays beside it.
    """
    release = session.scalar(select(ReleaseRow).where(ReleaseRow.key == sheet.id))
    if release is None:
        release = ReleaseRow(key=sheet.id, price_revision=1)
        session.add(release)
    about = sheet.release
    release.name, release.series, release.year, release.publisher = (
        about.name,
        about.series,
        about.year,
        about.publisher,
    )
    release.currency, release.priced_on, release.revision = sheet.currency, sheet.priced_on, sheet.revision
    release.removed_at, release.is_stub = None, False
    session.flush()
    format_ids, pack_ids = _save_formats(session, release, sheet)
    line_ids = _save_lines(session, release, sheet)
    _save_cards(session, sheet, line_ids)
    for line in sheet.lines:
        save_line_odds(session, line, line_ids[line.id], format_ids, pack_ids)
    save_guarantees(session, sheet, format_ids, line_ids, pack_ids)
    keep_findable(session, release.id)
    return release


def save_sheet(session: Session, sheet: ProductSheet, state: str) -> tuple[ReleaseRow, list[int]]:
    """The same with its prices, as values of the sheet for cards in a ``state``; returns their numbers too."""
    release = save_structure(session, sheet)
    return release, record_sheet(session, release, sheet, state)


def _save_formats(
    session: Session, release: ReleaseRow, sheet: ProductSheet
) -> tuple[dict[str, int], dict[tuple[str, str], int]]:
    stored = {row.key: row for row in session.scalars(select(FormatRow).filter_by(release_id=release.id))}
    now = datetime.now(UTC)
    for key in stored.keys() - sheet.format_by_id.keys():
        stored[key].position, stored[key].gone_at = None, stored[key].gone_at or now
    for position, fmt in enumerate(sheet.formats):
        row = stored.setdefault(fmt.id, FormatRow(release_id=release.id, key=fmt.id))
        row.gone_at = None
        row.position, row.name, row.channel = position, fmt.name, fmt.channel
        row.boxes_per_case, row.usable = fmt.boxes_per_case, fmt.usable
        session.add(row)
    session.flush()
    ids = {fmt.id: stored[fmt.id].id for fmt in sheet.formats}
    session.execute(delete(PackKindRow).where(PackKindRow.format_id.in_(ids.values())))
    kinds = [
        PackKindRow(format_id=ids[fmt.id], key=pack.id, position=i, count=pack.count, cards=pack.cards)
        for fmt in sheet.formats
        for i, pack in enumerate(fmt.packs)
    ]
    session.add_all(kinds)
    session.flush()
    key_of = {identity: key for key, identity in ids.items()}
    return ids, {(key_of[kind.format_id], kind.key): kind.id for kind in kinds}


def _save_lines(session: Session, release: ReleaseRow, sheet: ProductSheet) -> dict[str, int]:
    stored = {row.key: row for row in session.scalars(select(LineRow).filter_by(release_id=release.id))}
    now = datetime.now(UTC)
    gone = [stored[key] for key in stored.keys() - sheet.line_by_id.keys() if stored[key].position is not None]
    for row in gone:
        row.position, row.gone_at = None, now
    _take_from_sheet(session, CardRow, CardRow.line_id.in_([row.id for row in gone]), now)
    _take_from_sheet(session, VersionRow, VersionRow.line_id.in_([row.id for row in gone]), now)
    for position, line in enumerate(sheet.lines):
        row = stored.setdefault(line.id, LineRow(release_id=release.id, key=line.id))
        row.gone_at = None
        row.position, row.name, row.kind = position, line.name, line.kind.value
        row.print_run, row.redemption = line.print_run, line.redemption
        row.cards_of_id, row.whole_checklist = None, line.only is None
        row.price_multiple, row.price_floor = line.price_multiple, line.price_floor
        row.every_format = line.formats is None
        session.add(row)
    session.flush()
    ids = {line.id: stored[line.id].id for line in sheet.lines}
    for line in sheet.lines:
        if line.cards_of is not None:
            stored[line.id].cards_of_id = ids[line.cards_of]
    session.flush()
    return ids


def _save_cards(session: Session, sheet: ProductSheet, line_ids: Mapping[str, int]) -> None:
    """Cards by line and number, then a version of every card in every line that prints it."""
    rows = session.execute(select(CardRow).where(CardRow.line_id.in_(line_ids.values()))).scalars()
    stored = {(row.line_id, row.number): row for row in rows}
    wanted = {(line_ids[line.id], card.number) for line in sheet.lines for card in line.cards}
    now = datetime.now(UTC)
    gone = [row.id for key, row in stored.items() if key not in wanted]
    _take_from_sheet(session, CardRow, CardRow.id.in_(gone), now)
    fresh: list[dict[str, Any]] = []
    for line in sheet.lines:
        for position, card in enumerate(line.cards):
            key = (line_ids[line.id], card.number)
            if (row := stored.get(key)) is not None:
                row.position, row.subject, row.weight, row.gone_at = position, card.subject, card.weight, None
            else:
                names = ("line_id", "number", "position", "subject", "weight")
                fresh.append(dict(zip(names, (*key, position, card.subject, card.weight), strict=True)))
    session.flush()
    bring_rows(session, CardRow, fresh)
    card_query = select(CardRow.line_id, CardRow.number, CardRow.id).where(CardRow.line_id.in_(line_ids.values()))
    cards = {(line, number): card for line, number, card in session.execute(card_query)}
    versions = _rehome_versions(session, sheet, line_ids, cards)
    fresh = []
    for line in sheet.lines:
        parent = line_ids[line.cards_of or line.id]
        for position, version in enumerate(line_versions(sheet, line)):
            pair = (line_ids[line.id], cards[parent, version.number])
            known = versions.pop(pair, None)
            if known is not None:
                known.position, known.gone_at = position, None
            else:
                fresh.append(
                    {"line_id": pair[0], "card_id": pair[1], "position": position, "variant": "", "search_text": ""}
                )
    session.flush()
    _take_from_sheet(session, VersionRow, VersionRow.id.in_([row.id for row in versions.values()]), now)
    bring_rows(session, VersionRow, fresh)


def _rehome_versions(
    session: Session, sheet: ProductSheet, line_ids: Mapping[str, int], cards: Mapping[tuple[int, str], int]
) -> dict[tuple[int, int], VersionRow]:
    """The plain versions of the sheet's lines by line and card. A version is its line's, number's and variant's: where
    a line takes another checklist than before, it goes on with the card of that number there."""
    parent = {line_ids[line.id]: line_ids[line.cards_of or line.id] for line in sheet.lines}
    query = (
        select(VersionRow, CardRow.number)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(VersionRow.line_id.in_(parent))
        .order_by(VersionRow.gone_at.is_not(None), VersionRow.id)
    )
    rows = [(row, cards.get((parent[row.line_id], number))) for row, number in session.execute(query)]
    taken = {(row.line_id, row.card_id, row.variant) for row, _ in rows}
    for row, card in rows:
        if card is not None and (row.line_id, card, row.variant) not in taken:
            taken.add((row.line_id, card, row.variant))
            row.card_id = card
    return {(row.line_id, row.card_id): row for row, _ in rows if not row.variant}


def save_line_odds(
    session: Session,
    line: Line,
    line_id: int,
    format_ids: Mapping[str, int],
    pack_ids: Mapping[tuple[str, str], int],
) -> None:
    """What a line says of the formats, in place of what it said before."""
    session.execute(delete(OddsRow).where(OddsRow.line_id == line_id))
    session.execute(delete(LineFormatRow).where(LineFormatRow.line_id == line_id))
    for position, odds in enumerate(line.odds):
        said = odds.statement
        session.add(
            OddsRow(
                line_id=line_id,
                format_id=format_ids[odds.format],
                pack_kind_id=None if odds.pack is None else pack_ids[odds.format, odds.pack],
                position=position,
                one_in=None if said is None else said.one_in,
                number=None if said is None else said.number,
                per=None if said is None else said.per.value,
                basis=odds.basis.value,
            )
        )
    present = line.kind is LineKind.BASE
    for position, key in enumerate((line.formats or ()) if present else line.not_in):
        session.add(LineFormatRow(line_id=line_id, format_id=format_ids[key], position=position, present=present))
    session.flush()


def stored_ids(
    session: Session, release: ReleaseRow
) -> tuple[dict[str, int], dict[str, int], dict[tuple[str, str], int]]:
    """Row ids of a release's formats and lines by their ids, and of its kinds of packs by format and id."""
    owned = {"release_id": release.id}
    formats = {key: row for row, key in session.execute(select(FormatRow.id, FormatRow.key).filter_by(**owned))}
    lines = {key: row for row, key in session.execute(select(LineRow.id, LineRow.key).filter_by(**owned))}
    query = select(FormatRow.key, PackKindRow.key, PackKindRow.id).join(
        FormatRow, PackKindRow.format_id == FormatRow.id
    )
    packs = {(fmt, key): kind for fmt, key, kind in session.execute(query.filter(FormatRow.release_id == release.id))}
    return formats, lines, packs


def save_guarantees(
    session: Session,
    sheet: ProductSheet,
    format_ids: Mapping[str, int],
    line_ids: Mapping[str, int],
    pack_ids: Mapping[tuple[str, str], int],
) -> None:
    """A sheet's guarantees, in place of those that are stored."""
    session.execute(delete(GuaranteeRow).where(GuaranteeRow.format_id.in_(format_ids.values())))
    for position, guarantee in enumerate(sheet.guarantees):
        row = GuaranteeRow(
            format_id=format_ids[guarantee.format],
            pack_kind_id=None if guarantee.pack is None else pack_ids[guarantee.format, guarantee.pack],
            position=position,
            count=guarantee.count,
            per=guarantee.per.value,
        )
        session.add(row)
        session.flush()
        for number, (line, share) in enumerate(guarantee.lines):
            identity = line_ids[line]
            session.add(GuaranteeShareRow(guarantee_id=row.id, line_id=identity, position=number, share=share))
    session.flush()


def record_sheet(session: Session, release: ReleaseRow, sheet: ProductSheet, state: str) -> list[int]:
    """Record what a sheet says of prices, on its day, wherever it said something else before or said it of another day.

    A price that a parallel takes from its parent is none of its own: it ends what a sheet said of it before.
    """
    cards, sealed = latest_of_sheets(session, release, state)
    query = (
        select(LineRow.key, CardRow.number, VersionRow.id)
        .join(VersionRow, VersionRow.line_id == LineRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(LineRow.release_id == release.id, VersionRow.position.is_not(None))
    )
    ids = {(line, number): version for line, number, version in session.execute(query)}
    fresh: list[tuple[int, Value]] = []
    for line in sheet.lines:
        for version in line_versions(sheet, line):
            known = ids[line.id, version.number]
            said = Says.FOLLOWS if not version.own else Says.UNKNOWN if version.price is None else Says.PRICE
            silent = Says.FOLLOWS if line.cards_of is not None else Says.UNKNOWN
            value = Value(said, version.price if version.own else None, sheet.currency, sheet.priced_on, Source.SHEET)
            if _is_news(value, cards.get(known), silent):
                fresh.append((known, value))
    recorded = record_values(session, release, "version_id", state, fresh)
    formats = {key: number for number, key in session.execute(
        select(FormatRow.id, FormatRow.key).where(FormatRow.release_id == release.id))}  # fmt: skip
    boxes: list[tuple[int, Value]] = []
    for fmt in sheet.formats:
        said = Says.UNKNOWN if fmt.price is None else Says.PRICE
        value = Value(said, fmt.price, sheet.currency, sheet.priced_on, Source.SHEET)
        if _is_news(value, sealed.get(formats[fmt.id]), Says.UNKNOWN):
            boxes.append((formats[fmt.id], value))
    return recorded + record_values(session, release, "format_id", SEALED, boxes)


def _is_news(value: Value, known: Value | None, silent: Says) -> bool:
    if known is None:
        return value.says is not silent
    if value.says is not Says.PRICE:
        return known.says is not value.says
    same = ("says", "amount", "currency", "day")
    return any(getattr(known, name) != getattr(value, name) for name in same)


def find_versions(session: Session, release: ReleaseRow, line: str, numbers: Sequence[str]) -> dict[str, int]:
    """The row ids of cards of a line by their number; a number that the line has not is left out."""
    query = (
        select(CardRow.number, VersionRow.id)
        .join(VersionRow, VersionRow.card_id == CardRow.id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .where(LineRow.release_id == release.id, LineRow.key == line, CardRow.number.in_(numbers))
    )
    return {number: version for number, version in session.execute(query)}  # noqa: C416 - rows are no pairs to a checker


def find_version(session: Session, release: ReleaseRow, line: str, number: str) -> int | None:
    """The row id of a card of a line, None if there is none."""
    return find_versions(session, release, line, [number]).get(number)


def note_change(session: Session, release: ReleaseRow, what: str, back: Mapping[str, Any]) -> None:
    """Keep what a change did and what puts it back."""
    row = ReleaseChangeRow(release_id=release.id, revision=release.revision, what=what, back=dict(back), undone=False)
    session.add(row)


def _take_from_sheet(
    session: Session, table: type[CardRow] | type[VersionRow], which: ColumnElement[bool], now: datetime
) -> None:
    """Mark as gone what stood in the sheet; what was only seen beside it stays as it is."""
    session.execute(
        update(table).where(which, table.position.is_not(None)).values(position=None, gone_at=now),
        execution_options={"synchronize_session": "fetch"},
    )


_SUBJECTS = """
    with parts as (
        select c.id as card, trim(part) as name, place
        from card c join line l on l.id = c.line_id,
            regexp_split_to_table(c.subject, '\\s+/\\s+') with ordinality as said (part, place)
        where l.release_id = :release and trim(part) <> ''
            and c.subject <> c.number -- else nobody said who it shows
    ), fresh as (
        insert into subject (name, watched)
        select distinct on (lower(name)) name, false from parts order by lower(name), name
        on conflict (lower(name)) do nothing returning id, name
    ), known as (
        select id, name from fresh
        union select s.id, s.name from subject s where lower(s.name) in (select lower(name) from parts)
    ), shown as (
        select p.card, k.id as subject, min(p.place) as place
        from parts p join known k on lower(k.name) = lower(p.name) group by p.card, k.id
    ), gone as (
        delete from card_subject old using card c join line l on l.id = c.line_id
        where c.id = old.card_id and l.release_id = :release
            and not exists (select from shown s where s.card = old.card_id and s.subject = old.subject_id)
    )
    insert into card_subject (card_id, subject_id, position)
    select card, subject, place from shown on conflict (card_id, subject_id) do nothing
"""
_FINDABLE = """
    with said as (
        select v.id, lower(' ' || concat_ws(' ', c.number, nullif(v.variant, ''), translate(c.subject, '‘’', ''''''),
            translate(l.name, '‘’', ''''''), translate(r.name, '‘’', ''''''), r.series, r.year, r.code)) as words
        from version v join card c on c.id = v.card_id join line l on l.id = v.line_id
            join release r on r.id = l.release_id
        where r.id = :release
    )
    update version v set search_text = said.words from said
    where said.id = v.id and v.search_text is distinct from said.words
"""


def keep_findable(session: Session, release_id: int) -> None:
    """Bring the register of subjects, and what versions are found by, up to what a release says now."""
    session.flush()
    session.execute(text(_SUBJECTS), {"release": release_id})
    session.execute(text(_FINDABLE), {"release": release_id})


def keep_usable(session: Session, release: ReleaseRow, format_id: str, usable: Decimal) -> None:
    """The share of a format's packs that can be used."""
    which = (FormatRow.release_id == release.id) & (FormatRow.key == format_id)
    session.execute(update(FormatRow).where(which).values(usable=usable))
