"""Releases as far as seen: named by hand, with the lines and cards that turned up, until a product sheet comes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from tobbix.core.products.naming import Seen, SeenRelease, make_key
from tobbix.db.products.saving import keep_findable
from tobbix.db.products.tables import CardRow, LineRow, ReleaseChangeRow, ReleaseRow, VersionRow


def all_keys(session: Session) -> set[str]:
    """What releases go by, also those without a sheet or out of sight."""
    return set(session.scalars(select(ReleaseRow.key)))


def add_stub(session: Session, said: SeenRelease) -> ReleaseRow:
    """A release of which no more is known than what is said."""
    key = make_key(f"{said.name} {said.series or ''} {said.year}", all_keys(session))
    row = ReleaseRow(
        key=key, name=said.name, series=said.series, year=said.year, publisher=said.publisher, code=said.code,
        is_stub=True, revision=1,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row


def find_named(session: Session, said: SeenRelease) -> list[ReleaseRow]:
    """Releases of the same name and year, and of the same series where both say one; those with a sheet first."""
    query = select(ReleaseRow).where(
        ReleaseRow.removed_at.is_(None), func.lower(ReleaseRow.name) == said.name.lower(), ReleaseRow.year == said.year
    )
    rows = session.scalars(query.order_by(ReleaseRow.is_stub, ReleaseRow.id))
    return [row for row in rows if not (row.series and said.series) or row.series.lower() == said.series.lower()]


def rename(session: Session, row: ReleaseRow, said: SeenRelease) -> None:
    """Say something else of a release without a sheet."""
    row.name, row.year, row.series, row.publisher, row.code = (
        said.name, said.year, said.series, said.publisher, said.code,
    )  # fmt: skip
    row.revision += 1
    keep_findable(session, row.id)


def add_seen(session: Session, release: ReleaseRow, said: Sequence[Seen]) -> list[int]:
    """The versions of cards that somebody saw, made as far as they are not there yet: line, card, variant."""
    lines = _add_lines(session, release, said)
    homes = [line.cards_of_id or line.id for line in lines]
    numbered = select(CardRow).where(CardRow.line_id.in_(homes), CardRow.number.in_([card.number for card in said]))
    cards = {(row.line_id, row.number): row for row in session.scalars(numbered)}
    for home, it in zip(homes, said, strict=True):
        if (home, it.number) not in cards:
            cards[home, it.number] = CardRow(
                line_id=home, number=it.number, subject=it.subject or it.number, weight=1
            )  # fmt: skip
            session.add(cards[home, it.number])
        cards[home, it.number].gone_at = None
    session.flush()
    of = [cards[home, it.number].id for home, it in zip(homes, said, strict=True)]
    made = select(VersionRow).where(VersionRow.line_id.in_({line.id for line in lines}), VersionRow.card_id.in_(of))
    versions = {(row.line_id, row.card_id, row.variant): row for row in session.scalars(made)}
    named = [(line.id, card, it.variant) for line, card, it in zip(lines, of, said, strict=True)]
    for line, card, variant in named:
        if (line, card, variant) not in versions:
            versions[line, card, variant] = VersionRow(line_id=line, card_id=card, variant=variant)
            session.add(versions[line, card, variant])
        versions[line, card, variant].gone_at = None
    session.flush()
    keep_findable(session, release.id)
    return [versions[key].id for key in named]


def _add_lines(session: Session, release: ReleaseRow, said: Sequence[Seen]) -> list[LineRow]:
    """The line of each card, made if no line of the release is called so."""
    lines = {row.key: row for row in session.scalars(select(LineRow).where(LineRow.release_id == release.id))}
    named = {row.name.lower(): row for row in reversed(lines.values())}
    found = []
    for card in said:
        line = named.get(card.line.lower()) or lines.get(card.line)
        if line is None:
            line = LineRow(
                release_id=release.id, key=make_key(card.line, set(lines)), name=card.line, kind=None, print_run=None,
                redemption=False, whole_checklist=True, every_format=True,
            )  # fmt: skip
            session.add(line)
            lines[line.key] = named[line.name.lower()] = line
        line.gone_at = None
        found.append(line)
    session.flush()
    return found


@dataclass(frozen=True, slots=True)
class StoredStub:
    """A release as far as seen, with how many cards that is, in how many lines."""

    key: str
    about: SeenRelease
    lines: int
    cards: int


def list_stubs(session: Session) -> list[StoredStub]:
    """All releases as far as seen, in the order of their names."""
    query = (
        select(ReleaseRow, func.count(func.distinct(VersionRow.line_id)), func.count(VersionRow.id))
        .outerjoin(LineRow, LineRow.release_id == ReleaseRow.id)
        .outerjoin(VersionRow, (VersionRow.line_id == LineRow.id) & VersionRow.gone_at.is_(None))
        .where(ReleaseRow.is_stub, ReleaseRow.removed_at.is_(None))
        .group_by(ReleaseRow.id)
        .order_by(ReleaseRow.name, ReleaseRow.year)
    )
    return [StoredStub(row.key, to_seen(row), lines, cards) for row, lines, cards in session.execute(query)]


def to_seen(row: ReleaseRow) -> SeenRelease:
    """What is known of a release beside its sheet."""
    return SeenRelease(row.name, row.year, row.series, row.publisher, row.code)


def has_sheet(session: Session, key: str) -> bool:
    """Whether a release of this key has, or had, a product sheet."""
    return session.scalar(select(ReleaseRow.id).where(ReleaseRow.key == key, ~ReleaseRow.is_stub)) is not None


def make_way(session: Session, key: str) -> None:
    """Give a stub that happens to go by a sheet's key another one."""
    row = session.scalar(select(ReleaseRow).where(ReleaseRow.key == key, ReleaseRow.is_stub))
    if row is not None:
        row.key = make_key(key, all_keys(session))
        session.flush()


def list_seen(session: Session, release: ReleaseRow) -> list[tuple[str, Seen]]:
    """Line keys and cards of a release that were seen beside its sheet, in the order of lines and numbers."""
    query = (
        select(LineRow.key, LineRow.name, CardRow.number, CardRow.subject, VersionRow.variant)
        .join(VersionRow, VersionRow.line_id == LineRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(LineRow.release_id == release.id, VersionRow.position.is_(None), VersionRow.gone_at.is_(None))
        .order_by(LineRow.name, func.length(CardRow.number), CardRow.number, VersionRow.variant)
    )
    return [
        (key, Seen(line, number, subject, variant)) for key, line, number, subject, variant in session.execute(query)
    ]


def take_over(session: Session, stub: ReleaseRow, key: str, lines: dict[str, str]) -> dict[str, Any]:
    """Give a stub the key of its sheet, and its lines (by their keys) those of the sheet's; returns what puts it back.

    The sheet is stored afterwards, onto the same rows.
    """
    rows = list(session.scalars(select(LineRow).where(LineRow.release_id == stub.id)))
    cards = session.execute(
        select(CardRow.id, CardRow.subject).where(CardRow.line_id.in_([row.id for row in rows]))
    ).all()
    versions = session.execute(
        select(VersionRow.id, VersionRow.card_id).where(VersionRow.line_id.in_([row.id for row in rows]))
    ).all()
    back = {
        "key": stub.key, "about": [stub.name, stub.year, stub.series, stub.publisher, stub.code],
        "lines": [[row.id, row.key, row.name, row.kind, row.cards_of_id] for row in rows],
        "cards": [[identity, subject] for identity, subject in cards],
        "versions": [[identity, card] for identity, card in versions],
    }  # fmt: skip
    stub.key = key
    taken = set(lines.values())
    for row in rows:
        if row.key in lines:
            row.key = lines[row.key]
        elif row.key in taken:  # another of the sheet's lines goes by this key
            row.key = make_key(f"{row.key} seen", taken | {other.key for other in rows})
        session.flush()
    return back


def give_back(session: Session, release: ReleaseRow, back: dict[str, Any]) -> None:
    """Make a release that took a stub over the stub that it was; what the sheet brought is marked as gone."""
    now = datetime.now(UTC)
    rows = {row.id: row for row in session.scalars(select(LineRow).where(LineRow.release_id == release.id))}
    cards = {row.id: row for row in session.scalars(select(CardRow).where(CardRow.line_id.in_(rows)))}
    versions = list(session.scalars(select(VersionRow).where(VersionRow.line_id.in_(rows))))
    parts: list[LineRow | CardRow | VersionRow] = [*rows.values(), *cards.values(), *versions]
    for part in parts:
        if part.position is not None:
            part.position, part.gone_at = None, now
    release.key, release.is_stub, release.currency, release.priced_on = back["key"], True, None, None
    release.name, release.year, release.series, release.publisher, release.code = back["about"]
    for number, (identity, *_) in enumerate(back["lines"]):  # keys may have changed places
        rows[identity].key = f"#{number}"
    session.flush()
    for identity, key, name, kind, cards_of in back["lines"]:
        row = rows[identity]
        row.key, row.name, row.kind, row.cards_of_id, row.gone_at = key, name, kind, cards_of, None
    for identity, subject in back["cards"]:
        cards[identity].subject, cards[identity].gone_at = subject, None
    kept = dict(back["versions"])
    for version in versions:
        if version.id in kept:
            version.gone_at, version.card_id = None, kept[version.id]
    session.flush()
    session.execute(update(ReleaseChangeRow).where(ReleaseChangeRow.release_id == release.id).values(undone=True))
    keep_findable(session, release.id)


def line_names(session: Session, release: ReleaseRow) -> Sequence[tuple[str, str]]:
    """Key and name of the lines of a release that were seen."""
    query = select(LineRow.key, LineRow.name).where(LineRow.release_id == release.id, LineRow.gone_at.is_(None))
    return [(key, name) for key, name in session.execute(query.order_by(LineRow.id))]
