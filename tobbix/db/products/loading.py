"""Releases out of the store, as core values."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import InstrumentedAttribute, Session

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
    ValueObservationRow,
    VersionRow,
)


@dataclass(frozen=True, slots=True)
class StoredRelease:
    """Which release it is and at which revision: what a computed result is remembered by."""

    key: str
    revision: int


def list_releases(session: Session, removed: bool = False) -> list[StoredRelease]:
    """Releases in the order of their names; the removed ones if asked."""
    query = select(ReleaseRow.key, ReleaseRow.revision).order_by(ReleaseRow.name, ReleaseRow.year.desc(), ReleaseRow.id)
    query = query.where(ReleaseRow.removed_at.is_not(None) if removed else ReleaseRow.removed_at.is_(None))
    return [StoredRelease(key, revision) for key, revision in session.execute(query)]


def find_release(session: Session, key: str, lock: bool = False, removed: bool = False) -> ReleaseRow:
    """The row of a release, locked against other changes if asked. Raises NotFound."""
    query = select(ReleaseRow).where(ReleaseRow.key == key)
    row = session.scalar(query.with_for_update() if lock else query)
    if row is None or (row.removed_at is not None and not removed):
        raise NotFound(f"there is no release “{key[:64]}”")
    return row


def release_exists(session: Session, key: str) -> bool:
    """Whether a release of this id was ever taken in, removed or not."""
    return session.scalar(select(ReleaseRow.id).where(ReleaseRow.key == key)) is not None


def last_change(session: Session, release: ReleaseRow) -> ReleaseChangeRow | None:
    """The latest change that has not been undone."""
    query = select(ReleaseChangeRow).where(ReleaseChangeRow.release_id == release.id, ~ReleaseChangeRow.undone)
    return session.scalar(query.order_by(ReleaseChangeRow.id.desc()).limit(1))


@dataclass(frozen=True, slots=True)
class Word:
    """The current word on a value: an amount, or None with ``follows`` or without (unknown)."""

    amount: Decimal | None
    follows: bool


def latest_words(session: Session, column: InstrumentedAttribute[int | None], things: Sequence[int]) -> dict[int, Word]:
    """The last recorded observation of each version or format, by its id."""
    query = (
        select(column, ValueObservationRow.says, ValueObservationRow.amount)
        .ext(distinct_on(column))
        .where(column.in_(things))
        .order_by(column, ValueObservationRow.id.desc())
    )
    return {thing: Word(amount, says == "follows") for thing, says, amount in session.execute(query) if thing}


def version_words(session: Session, release_id: int) -> dict[tuple[int, str], tuple[int, Word | None]]:
    """Every version of a release by line id and card number: its id and the current word on it."""
    latest = (
        select(ValueObservationRow.version_id, ValueObservationRow.says, ValueObservationRow.amount)
        .ext(distinct_on(ValueObservationRow.version_id))
        .join(VersionRow, VersionRow.id == ValueObservationRow.version_id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .where(LineRow.release_id == release_id)
        .order_by(ValueObservationRow.version_id, ValueObservationRow.id.desc())
        .subquery()
    )
    query = (
        select(VersionRow.line_id, CardRow.number, VersionRow.id, latest.c.says, latest.c.amount)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .outerjoin(latest, latest.c.version_id == VersionRow.id)
        .where(LineRow.release_id == release_id)
        .order_by(VersionRow.line_id, VersionRow.position)
    )
    return {
        (line, number): (version, None if says is None else Word(amount, says == "follows"))
        for line, number, version, says, amount in session.execute(query)
    }


def load_sheet(session: Session, release: ReleaseRow) -> ProductSheet:
    """The release as a product sheet, with the current word on every price."""
    formats = list(session.scalars(select(FormatRow).filter_by(release_id=release.id).order_by(FormatRow.position)))
    lines = list(session.scalars(select(LineRow).filter_by(release_id=release.id).order_by(LineRow.position)))
    format_ids, line_ids = [row.id for row in formats], [row.id for row in lines]
    format_key = {row.id: row.key for row in formats}
    line_key = {row.id: row.key for row in lines}
    kinds: dict[int, list[PackKindRow]] = defaultdict(list)
    pack_key: dict[int | None, str | None] = {None: None}
    query = select(PackKindRow).where(PackKindRow.format_id.in_(format_ids)).order_by(PackKindRow.position)
    for kind in session.scalars(query):
        kinds[kind.format_id].append(kind)
        pack_key[kind.id] = kind.key
    prices = latest_words(session, ValueObservationRow.format_id, format_ids)
    return ProductSheet(
        release.key,
        release.revision,
        Release(release.name, release.series, release.year, release.publisher),
        release.currency,
        release.priced_on,
        tuple(_format(row, kinds[row.id], prices.get(row.id)) for row in formats),
        _load_lines(session, release.id, lines, line_ids, line_key, format_key, pack_key),
        _load_guarantees(session, format_ids, format_key, line_key, pack_key),
    )


def _format(row: FormatRow, kinds: list[PackKindRow], price: Word | None) -> Format:
    packs = tuple(PackKind(kind.key, kind.count, kind.cards) for kind in kinds)
    amount = None if price is None else price.amount
    return Format(row.key, row.name, row.channel, packs, row.boxes_per_case, amount, row.usable)


def _load_lines(
    session: Session,
    release_id: int,
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
    words: dict[int, dict[str, Word | None]] = defaultdict(dict)
    for (line_id, number), (_, word) in version_words(session, release_id).items():
        words[line_id][number] = word
    cards: dict[int, list[Card]] = defaultdict(list)
    query_cards = (
        select(CardRow.line_id, CardRow.number, CardRow.subject, CardRow.weight)
        .where(CardRow.line_id.in_(line_ids))
        .order_by(CardRow.line_id, CardRow.position)
    )
    for line_id, number, subject, weight in session.execute(query_cards):
        known = words[line_id].get(number)
        cards[line_id].append(Card(number, subject, weight, None if known is None else known.amount))
    lines = []
    for line in rows:
        is_base, derived = line.kind == LineKind.BASE.value, line.cards_of_id is not None
        lines.append(
            Line(
                line.key,
                line.name,
                LineKind(line.kind),
                line.print_run,
                line.redemption,
                tuple(cards[line.id]),
                line_key[line.cards_of_id] if line.cards_of_id is not None else None,
                tuple(words[line.id]) if derived and not line.whole_checklist else None,
                line.price_multiple,
                line.price_floor,
                tuple((n, w.amount) for n, w in words[line.id].items() if w and not w.follows) if derived else (),
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
