"""Which release, format, line and version words mean: keys as the program gives them, or what somebody wrote in a list.

A release goes by its key or its title, a line by its key or its name, a card by its number. As much as matches is
known; the rest stays as words.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from tobbix.core.holdings.ledger import Event
from tobbix.db.base import bring_rows
from tobbix.db.holdings.tables import ItemEventRow, ItemRow
from tobbix.db.products.tables import CardRow, FormatRow, LineRow, ReleaseRow, VersionRow


@dataclass(frozen=True, slots=True)
class Naming:
    """A thing by words: a sealed one by its format, a card by line and number (and variant)."""

    release: str | None = None
    format: str | None = None
    line: str | None = None
    number: str | None = None
    variant: str = ""


@dataclass(frozen=True, slots=True)
class Identity:
    """What words mean, as far as that is known; the names are those of an item's columns."""

    release_id: int | None = None
    format_id: int | None = None
    line_id: int | None = None
    version_id: int | None = None
    release_text: str | None = None
    format_text: str | None = None
    line_text: str | None = None
    number_text: str | None = None
    variant_text: str | None = None

    def columns(self) -> dict[str, int | str | None]:
        return {name: getattr(self, name) for name in self.__slots__}


def identify(session: Session, namings: Iterable[Naming]) -> dict[Naming, Identity]:
    """What each of some namings means, in four queries however many they are."""
    asked = set(namings)
    releases = _releases(session, {n.release for n in asked if n.release})
    owners = set(releases.values())
    formats = _parts(session, FormatRow, owners) if any(n.format for n in asked) else {}
    lines = _parts(session, LineRow, owners) if any(n.line for n in asked) else {}
    place = {n: _line(n, releases, lines) for n in asked}
    numbers = {n.number for n in asked if n.number}
    versions = _versions(session, {line for line in place.values() if line is not None}, numbers) if numbers else {}
    return {n: _identity(n, releases, formats, place[n], versions) for n in asked}


def identify_one(session: Session, naming: Naming) -> Identity:
    """What one naming means."""
    return identify(session, [naming])[naming]


def print_runs(session: Session, lines: Iterable[int]) -> dict[int, tuple[str, int | None]]:
    """The name of each of some lines and how many copies there are of each of its cards, None if it is not numbered."""
    query = select(LineRow.id, LineRow.name, LineRow.print_run).where(LineRow.id.in_(list(lines)))
    return {line: (name, run) for line, name, run in session.execute(query)}


def match_items(session: Session, release_id: int, day: date) -> int:
    """Look again at the items whose words meant nothing so far: those that name a line or card of a release now know
    it. Says how many know their version now; each has it in its history.
    """
    release = session.get_one(ReleaseRow, release_id)
    title = " ".join(filter(None, (release.name, release.series, str(release.year))))
    text = func.lower(ItemRow.release_text)
    named = (ItemRow.release_text == release.key) | (text == title.lower())
    session.execute(
        update(ItemRow).where(ItemRow.release_id.is_(None), named).values(release_id=release_id, release_text=None)
    )
    for same in (LineRow.key == ItemRow.line_text, func.lower(LineRow.name) == func.lower(ItemRow.line_text)):
        line = select(func.min(LineRow.id)).where(LineRow.release_id == release_id, same).scalar_subquery()
        unknown = update(ItemRow).where(ItemRow.release_id == release_id, ItemRow.line_id.is_(None))
        is_there = select(LineRow.id).where(LineRow.release_id == release_id, same).exists()
        session.execute(
            unknown.where(ItemRow.line_text.is_not(None), is_there).values(line_id=line, line_text=None),
            execution_options={"synchronize_session": False},
        )
    version = (
        select(VersionRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(
            VersionRow.line_id == ItemRow.line_id, CardRow.number == ItemRow.number_text,
            VersionRow.variant == func.coalesce(ItemRow.variant_text, ""),
        )
    )  # fmt: skip
    known = session.execute(
        update(ItemRow)
        .where(ItemRow.release_id == release_id, ItemRow.version_id.is_(None), version.exists())
        .values(version_id=version.scalar_subquery(), variant_text=None, version=ItemRow.version + 1)
        .returning(ItemRow.id, ItemRow.state, ItemRow.count, ItemRow.basis),
        execution_options={"synchronize_session": False},
    ).all()
    session.expire_all()
    bring_rows(
        session,
        ItemEventRow,
        [
            {
                "item_id": item, "day": day, "event": Event.CORRECTION.value, "text": f"known now: of {title}",
                "state": state, "count": count, "basis": basis,
            }
            for item, state, count, basis in known
        ],
    )  # fmt: skip
    return len(known)


def _fold(text: str) -> str:
    return " ".join(text.casefold().split())


def _releases(session: Session, wanted: set[str]) -> dict[str, int]:
    if not wanted:
        return {}
    title = func.concat_ws(" ", ReleaseRow.name, ReleaseRow.series, ReleaseRow.year)
    folded = {_fold(text) for text in wanted}
    query = select(ReleaseRow.id, ReleaseRow.key, title).where(
        ReleaseRow.key.in_(wanted) | func.lower(title).in_(folded)
    )
    by_title: dict[str, int] = {}
    by_key: dict[str, int] = {}
    for identity, key, name in session.execute(query.order_by(ReleaseRow.id)):
        by_key[key] = identity
        by_title.setdefault(_fold(name), identity)
    found = {text: by_key.get(text, by_title.get(_fold(text))) for text in wanted}
    return {text: identity for text, identity in found.items() if identity is not None}


def _parts(
    session: Session, table: type[FormatRow] | type[LineRow], releases: Sequence[int] | set[int]
) -> dict[tuple[int, str], int]:
    """Formats or lines by release and key, or by folded name where no key is so."""
    query = select(table.release_id, table.key, table.name, table.id).where(table.release_id.in_(releases))
    rows = session.execute(query.order_by(table.gone_at.is_not(None), table.id)).all()
    found: dict[tuple[int, str], int] = {}
    for release, _, name, identity in rows:
        found.setdefault((release, _fold(name)), identity)
    found.update({(release, key): identity for release, key, _, identity in rows})
    return found


def _part(parts: dict[tuple[int, str], int], release: int | None, text: str | None) -> int | None:
    if release is None or text is None:
        return None
    return parts.get((release, text), parts.get((release, _fold(text))))


def _line(naming: Naming, releases: dict[str, int], lines: dict[tuple[int, str], int]) -> int | None:
    return _part(lines, releases.get(naming.release or ""), naming.line)


def _versions(session: Session, lines: set[int], numbers: set[str]) -> dict[tuple[int, str, str], int]:
    query = (
        select(VersionRow.line_id, CardRow.number, VersionRow.variant, VersionRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(VersionRow.line_id.in_(lines))
    )
    if len(numbers) <= 1_000:
        query = query.where(CardRow.number.in_(numbers))
    return {(line, number, variant): identity for line, number, variant, identity in session.execute(query)}


def _identity(
    naming: Naming,
    releases: dict[str, int],
    formats: dict[tuple[int, str], int],
    line: int | None,
    versions: dict[tuple[int, str, str], int],
) -> Identity:
    release = releases.get(naming.release or "")
    fmt = _part(formats, release, naming.format)
    version = None
    if line is not None and naming.number is not None:
        version = versions.get((line, naming.number, naming.variant))
    return Identity(
        release, fmt, line, version,
        naming.release if release is None else None,
        naming.format if fmt is None else None,
        naming.line if line is None else None,
        naming.number,
        naming.variant or None if version is None else None,
    )  # fmt: skip
