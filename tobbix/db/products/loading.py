"""Releases out of the store, as core values."""

from collections import defaultdict
from dataclasses import dataclass
from decimal import Decimal
from typing import TypeVar

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.core.products.odds import Basis, Odds, Per, Statement
from tobbix.core.products.sheet import (
    Card,
    Format,
    Guarantee,
    Line,
    LineKind,
    PackKind,
    ProductSheet,
    Release,
)
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


@dataclass(frozen=True, slots=True)
class StoredRelease:
    """Which release it is and at which revisions: what a computed result is remembered by."""

    id: int
    key: str
    revision: int
    price_revision: int


def list_releases(session: Session) -> list[StoredRelease]:
    """Releases that have a product sheet, in the order of their names."""
    query = select(ReleaseRow.id, ReleaseRow.key, ReleaseRow.revision, ReleaseRow.price_revision)
    query = query.where(~ReleaseRow.is_stub, ReleaseRow.removed_at.is_(None))
    query = query.order_by(ReleaseRow.name, ReleaseRow.year.desc(), ReleaseRow.id)
    return [StoredRelease(*row) for row in session.execute(query)]


def removed_releases(session: Session) -> list[tuple[str, str]]:
    """The releases that were removed and have a sheet: key and title."""
    query = select(ReleaseRow.key, func.concat_ws(" ", ReleaseRow.name, ReleaseRow.series, ReleaseRow.year))
    query = query.where(~ReleaseRow.is_stub, ReleaseRow.removed_at.is_not(None))
    return [(key, title) for key, title in session.execute(query.order_by(ReleaseRow.name, ReleaseRow.id))]


def find_release(
    session: Session, key: str, lock: bool = False, removed: bool = False, stub: bool = False
) -> ReleaseRow:
    """The row of a release, locked against other changes if asked; of a stub too if asked. Raises NotFound."""
    query = select(ReleaseRow).where(ReleaseRow.key == key)
    row = session.scalar(query.with_for_update() if lock else query)
    if row is None or (row.removed_at is not None and not removed):
        raise NotFound(f"there is no release “{key[:64]}”")
    if row.is_stub and not stub:
        raise NotFound(f"{row.name} {row.year} has no product sheet yet")
    return row


def release_exists(session: Session, key: str) -> bool:
    """Whether a release of this id was ever taken in, removed or not."""
    return session.scalar(select(ReleaseRow.id).where(ReleaseRow.key == key)) is not None


def format_identity(session: Session, release: str, fmt: str) -> int:
    """The identity of a format by the keys of its release and its own. Raises NotFound."""
    query = select(FormatRow.id).join(ReleaseRow, ReleaseRow.id == FormatRow.release_id)
    found = session.scalar(query.where(ReleaseRow.key == release, FormatRow.key == fmt))
    if found is None:
        raise NotFound(f"there is no format “{fmt[:64]}” of “{release[:64]}”")
    return found


def locate_card(session: Session, format_id: int, line: str, number: str | None) -> tuple[int, int | None]:
    """The identity of a line of a format's release, and of the version of a number. Raises NotFound: no such line."""
    query = (
        select(LineRow.id, VersionRow.id)
        .join(FormatRow, FormatRow.release_id == LineRow.release_id)
        .outerjoin(
            CardRow,
            (CardRow.line_id == func.coalesce(LineRow.cards_of_id, LineRow.id)) & (CardRow.number == number),
        )
        .outerjoin(
            VersionRow,
            (VersionRow.card_id == CardRow.id) & (VersionRow.line_id == LineRow.id) & (VersionRow.variant == ""),
        )
        .where(FormatRow.id == format_id, LineRow.key == line)
    )
    found = session.execute(query).one_or_none()
    if found is None:
        raise NotFound(f"there is no line “{line[:64]}”")
    return found[0], found[1]


def other_series(session: Session, release: StoredRelease) -> tuple[str, ...]:
    """Titles of the other series of the same release and year: opening the wrong one is a classic mistake (common
    practice, no source)."""
    other, this = ReleaseRow.__table__.alias("other"), ReleaseRow.__table__.alias("this")
    query = (
        select(other.c.name, other.c.series, other.c.year)
        .join(this, (this.c.name == other.c.name) & (this.c.year == other.c.year))
        .where(this.c.id == release.id, other.c.series.is_distinct_from(this.c.series), ~other.c.is_stub,
               other.c.removed_at.is_(None))
        .order_by(other.c.series.nulls_first())
    )  # fmt: skip
    return tuple(" ".join(filter(None, (name, series, str(year)))) for name, series, year in session.execute(query))


def last_change(session: Session, release: ReleaseRow) -> ReleaseChangeRow | None:
    """The latest change that has not been undone."""
    query = select(ReleaseChangeRow).where(ReleaseChangeRow.release_id == release.id, ~ReleaseChangeRow.undone)
    return session.scalar(query.order_by(ReleaseChangeRow.id.desc()).limit(1))


def load_structure(session: Session, release: ReleaseRow) -> ProductSheet:
    """The release as a product sheet without a price; its floors are in the sheet's own currency."""
    formats, lines = _in_sheet(session, FormatRow, release), _in_sheet(session, LineRow, release)
    format_ids, line_ids = [row.id for row in formats], [row.id for row in lines]
    format_key = {row.id: row.key for row in formats}
    line_key = {row.id: row.key for row in lines}
    kinds: dict[int, list[PackKindRow]] = defaultdict(list)
    pack_key: dict[int | None, str | None] = {None: None}
    query = select(PackKindRow).where(PackKindRow.format_id.in_(format_ids)).order_by(PackKindRow.position)
    for kind in session.scalars(query):
        kinds[kind.format_id].append(kind)
        pack_key[kind.id] = kind.key
    if release.publisher is None or release.currency is None or release.priced_on is None:
        raise NotFound(f"{release.name} {release.year} has no product sheet yet")
    return ProductSheet(
        release.key,
        release.revision,
        Release(release.name, release.series, release.year, release.publisher),
        release.currency,
        release.priced_on,
        tuple(_format(row, kinds[row.id]) for row in formats),
        _load_lines(session, lines, line_ids, line_key, format_key, pack_key),
        _load_guarantees(session, format_ids, format_key, line_key, pack_key),
    )


_Placed = TypeVar("_Placed", FormatRow, LineRow)


def _in_sheet(session: Session, table: type[_Placed], release: ReleaseRow) -> list[_Placed]:
    query = select(table).where(table.release_id == release.id, table.position.is_not(None))
    return list(session.scalars(query.order_by(table.position)))


def _format(row: FormatRow, kinds: list[PackKindRow]) -> Format:
    packs = tuple(PackKind(kind.key, kind.count, kind.cards) for kind in kinds)
    return Format(row.key, row.name, row.channel, packs, row.boxes_per_case, None, row.usable)


def _load_lines(
    session: Session,
    rows: list[LineRow],
    line_ids: list[int],
    line_key: dict[int, str],
    format_key: dict[int, str],
    pack_key: dict[int | None, str | None],
) -> tuple[Line, ...]:
    odds: dict[int, list[Odds]] = defaultdict(list)
    query = select(OddsRow).where(OddsRow.line_id.in_(line_ids)).order_by(OddsRow.position)
    for row in session.scalars(query):
        statement = None
        if row.number is not None and row.per is not None:
            statement = Statement(bool(row.one_in), row.number, Per(row.per))
        said = Odds(format_key[row.format_id], statement, Basis(row.basis), pack_key[row.pack_kind_id])
        odds[row.line_id].append(said)
    places: dict[int, list[str]] = defaultdict(list)
    query_places = select(LineFormatRow).where(LineFormatRow.line_id.in_(line_ids)).order_by(LineFormatRow.position)
    for place in session.scalars(query_places):
        places[place.line_id].append(format_key[place.format_id])
    only: dict[int, list[str]] = defaultdict(list)
    some = [row.id for row in rows if row.cards_of_id is not None and not row.whole_checklist]
    chosen = (
        select(VersionRow.line_id, CardRow.number)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(VersionRow.line_id.in_(some), VersionRow.position.is_not(None))
        .order_by(VersionRow.line_id, VersionRow.position)
    )
    for line_id, number in session.execute(chosen) if some else ():
        only[line_id].append(number)
    cards: dict[int, list[Card]] = defaultdict(list)
    query_cards = (
        select(CardRow.line_id, CardRow.number, CardRow.subject, CardRow.weight)
        .where(CardRow.line_id.in_(line_ids), CardRow.position.is_not(None))
        .order_by(CardRow.line_id, CardRow.position)
    )
    for line_id, number, subject, weight in session.execute(query_cards):
        cards[line_id].append(Card(number, subject, weight))
    lines = []
    for line in rows:
        is_base = line.kind == LineKind.BASE.value
        lines.append(
            Line(
                line.key,
                line.name,
                LineKind(line.kind or ""),
                line.print_run,
                line.redemption,
                tuple(cards[line.id]),
                line_key[line.cards_of_id] if line.cards_of_id is not None else None,
                tuple(only[line.id]) if line.cards_of_id is not None and not line.whole_checklist else None,
                line.price_multiple,
                line.price_floor,
                (),
                tuple(odds[line.id]),
                () if is_base else tuple(places[line.id]),
                None if not is_base or line.every_format else tuple(places[line.id]),
            )
        )
    return tuple(lines)


def _load_guarantees(
    session: Session,
    format_ids: list[int],
    format_key: dict[int, str],
    line_key: dict[int, str],
    pack_key: dict[int | None, str | None],
) -> tuple[Guarantee, ...]:
    query = select(GuaranteeRow).where(GuaranteeRow.format_id.in_(format_ids)).order_by(GuaranteeRow.position)
    rows = list(session.scalars(query))
    shares: dict[int, list[tuple[str, Decimal | None]]] = defaultdict(list)
    query_shares = (
        select(GuaranteeShareRow)
        .where(GuaranteeShareRow.guarantee_id.in_([row.id for row in rows]))
        .order_by(GuaranteeShareRow.position)
    )
    for share in session.scalars(query_shares):
        shares[share.guarantee_id].append((line_key[share.line_id], share.share))
    return tuple(
        Guarantee(format_key[row.format_id], row.count, Per(row.per), tuple(shares[row.id]), pack_key[row.pack_kind_id])
        for row in rows
    )
