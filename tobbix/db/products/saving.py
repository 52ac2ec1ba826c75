"""Product sheets into the store. Versions keep their identity, and their observations, as long as they exist."""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from psycopg import Connection, sql
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from tobbix.core.products.prices import line_versions
from tobbix.core.products.revising import PriceWord
from tobbix.core.products.sheet import Line, LineKind, ProductSheet
from tobbix.db.base import Table
from tobbix.db.products.loading import Word, latest_words, version_words
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
    ValueObservationRow,
    VersionRow,
)


def save_sheet(session: Session, sheet: ProductSheet, source: str) -> ReleaseRow:
    """Store a sheet as its release, new or in place of what is stored; prices become observations from ``source``.

    Lines, cards and formats are matched by their ids and numbers; what the sheet no longer has goes.
    """
    release = session.scalar(select(ReleaseRow).where(ReleaseRow.key == sheet.id))
    if release is None:
        release = ReleaseRow(key=sheet.id)
        session.add(release)
    about = sheet.release
    release.name, release.series, release.year, release.publisher = (
        about.name,
        about.series,
        about.year,
        about.publisher,
    )
    release.currency, release.priced_on, release.revision = sheet.currency, sheet.priced_on, sheet.revision
    release.removed_at = None
    session.flush()
    format_ids, pack_ids = _save_formats(session, release, sheet)
    line_ids = _save_lines(session, release, sheet)
    _save_cards(session, sheet, line_ids)
    for line in sheet.lines:
        save_line_odds(session, line, line_ids[line.id], format_ids, pack_ids)
    save_guarantees(session, sheet, format_ids, line_ids, pack_ids)
    _observe_sheet(session, release, sheet, format_ids, line_ids, source)
    return release


def _save_formats(
    session: Session, release: ReleaseRow, sheet: ProductSheet
) -> tuple[dict[str, int], dict[tuple[str, str], int]]:
    stored = {row.key: row for row in session.scalars(select(FormatRow).filter_by(release_id=release.id))}
    for key in stored.keys() - sheet.format_by_id.keys():
        session.delete(stored[key])
    for position, fmt in enumerate(sheet.formats):
        row = stored.setdefault(fmt.id, FormatRow(release_id=release.id, key=fmt.id))
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
    gone = [stored[key].id for key in stored.keys() - sheet.line_by_id.keys()]
    session.execute(delete(LineRow).where(LineRow.id.in_(gone)))
    for position, line in enumerate(sheet.lines):
        row = stored.setdefault(line.id, LineRow(release_id=release.id, key=line.id))
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
    _delete_ids(session, CardRow, [row.id for key, row in stored.items() if key not in wanted])
    fresh: list[dict[str, Any]] = []
    for line in sheet.lines:
        for position, card in enumerate(line.cards):
            key = (line_ids[line.id], card.number)
            if (row := stored.get(key)) is not None:
                row.position, row.subject, row.weight = position, card.subject, card.weight
            else:
                names = ("line_id", "number", "position", "subject", "weight")
                fresh.append(dict(zip(names, (*key, position, card.subject, card.weight), strict=True)))
    _insert(session, CardRow, fresh)
    card_query = select(CardRow.line_id, CardRow.number, CardRow.id).where(CardRow.line_id.in_(line_ids.values()))
    cards = {(line, number): card for line, number, card in session.execute(card_query)}
    version_rows = session.execute(select(VersionRow).where(VersionRow.line_id.in_(line_ids.values()))).scalars()
    versions = {(row.line_id, row.card_id): row for row in version_rows}
    fresh = []
    for line in sheet.lines:
        parent = line_ids[line.cards_of or line.id]
        for position, version in enumerate(line_versions(sheet, line)):
            pair = (line_ids[line.id], cards[parent, version.number])
            known = versions.pop(pair, None)
            if known is not None:
                known.position = position
            else:
                fresh.append({"line_id": pair[0], "card_id": pair[1], "position": position})
    _delete_ids(session, VersionRow, [row.id for row in versions.values()])
    _insert(session, VersionRow, fresh)
    session.flush()


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


def _observe_sheet(
    session: Session,
    release: ReleaseRow,
    sheet: ProductSheet,
    format_ids: Mapping[str, int],
    line_ids: Mapping[str, int],
    source: str,
) -> None:
    """Record what the sheet says of prices wherever it differs from the current word."""
    known = version_words(session, release.id)
    fresh: list[dict[str, Any]] = []
    for line in sheet.lines:
        overridden = {number for number, _ in line.price_overrides}
        for version in line_versions(sheet, line):
            identity, word = known[line_ids[line.id], version.number]
            follows = line.cards_of is not None and version.number not in overridden
            said = PriceWord(None, True) if follows else PriceWord(version.price)
            if _is_news(said, word, silent=PriceWord(None, line.cards_of is not None)):
                fresh.append(_observation(release, sheet.priced_on, source, said, version_id=identity))
    words = latest_words(session, ValueObservationRow.format_id, list(format_ids.values()))
    for fmt in sheet.formats:
        said = PriceWord(fmt.price)
        if _is_news(said, words.get(format_ids[fmt.id]), silent=PriceWord(None)):
            fresh.append(_observation(release, sheet.priced_on, source, said, format_id=format_ids[fmt.id]))
    _insert(session, ValueObservationRow, fresh)


def _is_news(said: PriceWord, word: Word | None, silent: PriceWord) -> bool:
    current = silent if word is None else PriceWord(word.amount, word.follows)
    return said != current


def _observation(
    release: ReleaseRow,
    on: date,
    source: str,
    word: PriceWord,
    version_id: int | None = None,
    format_id: int | None = None,
) -> dict[str, Any]:
    says = "follows" if word.follows else "unknown" if word.amount is None else "price"
    amount: Decimal | None = None if word.follows else word.amount
    return {
        "version_id": version_id,
        "format_id": format_id,
        "says": says,
        "amount": amount,
        "currency": release.currency,
        "observed_on": on,
        "source": source,
    }


def find_version(session: Session, release: ReleaseRow, line: str, number: str) -> int | None:
    """The row id of a card of a line, None if there is none."""
    query = (
        select(VersionRow.id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(LineRow.release_id == release.id, LineRow.key == line, CardRow.number == number)
    )
    return session.scalar(query)


def observe_version(
    session: Session, release: ReleaseRow, line: str, number: str, word: PriceWord, on: date, source: str
) -> None:
    """Record one price of one version."""
    version = find_version(session, release, line, number)
    _insert(session, ValueObservationRow, [_observation(release, on, source, word, version_id=version)])


def observe_format(session: Session, release: ReleaseRow, key: str, word: PriceWord, on: date, source: str) -> None:
    """Record one price of a sealed format."""
    fmt = session.scalars(select(FormatRow.id).filter_by(release_id=release.id, key=key)).one()
    _insert(session, ValueObservationRow, [_observation(release, on, source, word, format_id=fmt)])


def note_change(session: Session, release: ReleaseRow, what: str, back: Mapping[str, Any]) -> None:
    """Keep what a change did and what puts it back."""
    row = ReleaseChangeRow(release_id=release.id, revision=release.revision, what=what, back=dict(back), undone=False)
    session.add(row)


def _insert(session: Session, table: type[Table], rows: list[dict[str, Any]]) -> None:
    """Add many rows by COPY, which a checklist of twenty thousand cards needs; all rows name the same columns."""
    if not rows:
        return
    session.flush()
    names = [sql.Identifier(name) for name in rows[0]]
    statement = sql.SQL("copy {} ({}) from stdin").format(
        sql.Identifier(table.__tablename__), sql.SQL(", ").join(names)
    )
    driver = session.connection().connection.driver_connection
    assert isinstance(driver, Connection)
    with driver.cursor() as cursor, cursor.copy(statement) as copy:
        for row in rows:
            copy.write_row(tuple(row.values()))


def _delete_ids(session: Session, table: type[CardRow] | type[VersionRow], ids: Iterable[int]) -> None:
    wanted = list(ids)
    if wanted:
        session.execute(delete(table).where(table.id.in_(wanted)))
        session.expire_all()
