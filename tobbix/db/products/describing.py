"""What is known of releases beside their sheets, in the store: sizes, notes, extras, debuts, subjects."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import delete, func, select, true, update
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.core.products.describing import CardSize, NoteKind
from tobbix.db.products.tables import (
    CardRow,
    CardSubjectRow,
    FormatRow,
    LineRow,
    LineSizeRow,
    ReleaseNoteRow,
    ReleaseRow,
    SubjectRow,
    VersionRow,
)

_MEASURES = ("width", "height", "thickness", "weight", "first", "last")


@dataclass(frozen=True, slots=True)
class Note:
    """A note on a release, or on one of its lines or cards."""

    number: int
    kind: NoteKind
    text: str
    line: str | None
    card: str | None


@dataclass(frozen=True, slots=True)
class Subject:
    """Who or what cards show; ``cards`` how many do, over all releases; ``first`` the earliest of their versions, and
    whether that is said to be the first of all."""

    number: int
    name: str
    watched: bool
    cards: int
    first: int | None
    is_debut: bool


@dataclass(frozen=True, slots=True)
class Description:
    """All that is known of a release beside its sheet, by line, format and card."""

    code: str | None
    notes: tuple[Note, ...]
    sizes: tuple[tuple[str, tuple[CardSize, ...]], ...]
    extras: tuple[tuple[str, tuple[str, ...]], ...]
    debuts: tuple[tuple[str, str], ...]


def load_description(session: Session, release: ReleaseRow) -> Description:
    """What is known of a release beside its sheet."""
    notes = (
        select(ReleaseNoteRow, LineRow.key, CardRow.number)
        .outerjoin(LineRow, LineRow.id == ReleaseNoteRow.line_id)
        .outerjoin(VersionRow, VersionRow.id == ReleaseNoteRow.version_id)
        .outerjoin(CardRow, CardRow.id == VersionRow.card_id)
        .where(ReleaseNoteRow.release_id == release.id)
        .order_by(ReleaseNoteRow.id)
    )
    sizes: dict[str, list[CardSize]] = {}
    query = select(LineSizeRow, LineRow.key).join(LineRow, LineRow.id == LineSizeRow.line_id)
    for row, line in session.execute(query.where(LineRow.release_id == release.id).order_by(LineSizeRow.id)):
        sizes.setdefault(line, []).append(CardSize(*(getattr(row, name) for name in _MEASURES)))
    formats = select(FormatRow.key, FormatRow.extras).where(FormatRow.release_id == release.id)
    extras = session.execute(formats.where(FormatRow.position.is_not(None)).order_by(FormatRow.position))
    debuts = select(LineRow.key, CardRow.number).join(CardRow, CardRow.line_id == LineRow.id)
    return Description(
        release.code,
        tuple(Note(n.id, NoteKind(n.kind), n.text, line, card) for n, line, card in session.execute(notes)),
        tuple((line, tuple(found)) for line, found in sizes.items()),
        tuple((key, tuple(things)) for key, things in extras),
        tuple((line, number) for line, number in session.execute(
            debuts.where(LineRow.release_id == release.id, CardRow.debut.is_(True)).order_by(LineRow.id, CardRow.id))),
    )  # fmt: skip


def find_line_row(session: Session, release: ReleaseRow, line: str) -> LineRow:
    """A line of a release by its key. Raises NotFound."""
    row = session.scalar(select(LineRow).where(LineRow.release_id == release.id, LineRow.key == line))
    if row is None:
        raise NotFound(f"there is no line “{line[:64]}”")
    return row


def _find_version(session: Session, line: LineRow, number: str) -> VersionRow:
    query = select(VersionRow).join(CardRow, CardRow.id == VersionRow.card_id)
    row = session.scalar(query.where(VersionRow.line_id == line.id, CardRow.number == number, VersionRow.variant == ""))
    if row is None:
        raise NotFound(f"there is no card {number[:60]} in that line")
    return row


def add_note(
    session: Session, release: ReleaseRow, kind: NoteKind, text: str, line: str | None, number: str | None
) -> int:
    """Keep a note. Raises NotFound."""
    row = None if line is None else find_line_row(session, release, line)
    version = None if row is None or number is None else _find_version(session, row, number)
    note = ReleaseNoteRow(
        release_id=release.id, line_id=row and row.id, version_id=version and version.id, kind=kind.value, text=text
    )
    session.add(note)
    session.flush()
    return note.id


def remove_note(session: Session, release: ReleaseRow, number: int) -> None:
    """Forget a note. Raises NotFound."""
    row = session.get(ReleaseNoteRow, number)
    if row is None or row.release_id != release.id:
        raise NotFound("there is no such note")
    session.delete(row)


def put_sizes(session: Session, line: LineRow, sizes: Sequence[CardSize]) -> None:
    """Say how large a line's cards are, in place of what was said."""
    session.execute(delete(LineSizeRow).where(LineSizeRow.line_id == line.id))
    session.add_all(LineSizeRow(line_id=line.id, **{n: getattr(size, n) for n in _MEASURES}) for size in sizes)
    session.flush()


def put_extras(session: Session, release: ReleaseRow, fmt: str, extras: Sequence[str]) -> None:
    """Say what a format holds beside its cards. Raises NotFound."""
    changed = (
        update(FormatRow).where(FormatRow.release_id == release.id, FormatRow.key == fmt).values(extras=list(extras))
    )
    if session.scalar(changed.returning(FormatRow.id)) is None:
        raise NotFound(f"there is no format “{fmt[:64]}”")


def put_debut(session: Session, release: ReleaseRow, line: str, number: str, debut: bool | None) -> None:
    """Say whether a card is the first of its subject; None: not known. Raises NotFound."""
    version = _find_version(session, find_line_row(session, release, line), number)
    session.execute(update(CardRow).where(CardRow.id == version.card_id).values(debut=debut))


def list_subjects(session: Session, find: str, watched: bool, most: int) -> list[Subject]:
    """At most ``most`` subjects whose name holds what is typed, or only those that are watched, with how many cards
    show each, the earliest of these, and whether that is said to be the first of all."""
    wanted = select(SubjectRow.id)
    if watched:
        wanted = wanted.where(SubjectRow.watched)
    if find.strip():
        wanted = wanted.where(SubjectRow.name.icontains(find.strip(), autoescape=True))
    wanted = wanted.order_by(SubjectRow.watched.desc(), SubjectRow.name).limit(most)
    shown = (
        select(func.count())
        .select_from(CardSubjectRow)
        .join(CardRow, CardRow.id == CardSubjectRow.card_id)
        .where(CardSubjectRow.subject_id == SubjectRow.id, CardRow.gone_at.is_(None))
        .scalar_subquery()
    )
    first = (
        select(VersionRow.id, CardRow.debut)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .join(CardSubjectRow, CardSubjectRow.card_id == CardRow.id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(ReleaseRow, ReleaseRow.id == LineRow.release_id)
        .where(CardSubjectRow.subject_id == SubjectRow.id, VersionRow.gone_at.is_(None), VersionRow.variant == "")
        .where(ReleaseRow.removed_at.is_(None))
        .order_by(CardRow.debut.is_(True).desc(), ReleaseRow.year, LineRow.position.nulls_last(), CardRow.id)
        .limit(1)
        .lateral("first")
    )
    query = (
        select(
            SubjectRow.id, SubjectRow.name, SubjectRow.watched, shown, first.c.id, func.coalesce(first.c.debut, False)
        )
        .outerjoin(first, true())
        .where(SubjectRow.id.in_(wanted))
        .order_by(SubjectRow.watched.desc(), SubjectRow.name)
    )
    return [Subject(*row) for row in session.execute(query)]


def watch_subject(session: Session, number: int, watched: bool) -> None:
    """Watch a subject, or no longer. Raises NotFound."""
    row = session.get(SubjectRow, number)
    if row is None:
        raise NotFound("there is no such subject")
    row.watched = watched
