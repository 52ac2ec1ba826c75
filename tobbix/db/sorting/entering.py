"""What entry asks of the store: lines of a release, its cards by number, and what matters of a card."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from tobbix.core.products.naming import SeenRelease
from tobbix.core.sorting.pulling import Candidate
from tobbix.db.products.loading import find_release
from tobbix.db.products.naming import find_named
from tobbix.db.products.tables import CardRow, LineRow, ReleaseRow, VersionRow


@dataclass(frozen=True, slots=True)
class KnownLine:
    """A line of a release, with its number in the store."""

    number: int
    key: str
    name: str


def lines_of(session: Session, release: int) -> list[KnownLine]:
    """The lines of a release that are not gone, in its order."""
    query = select(LineRow.id, LineRow.key, LineRow.name).where(
        LineRow.release_id == release, LineRow.gone_at.is_(None)
    )
    return [KnownLine(*row) for row in session.execute(query.order_by(LineRow.position.nulls_last(), LineRow.id))]


def version_numbered(session: Session, line: int, number: str) -> int | None:
    """The plain version of a line that has this number, by large or small letters; with leading noughts or without."""
    query = (
        select(VersionRow.id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(VersionRow.line_id == line, VersionRow.variant == "", VersionRow.gone_at.is_(None))
    )
    wanted = number.lower()
    for said in dict.fromkeys((wanted, wanted.lstrip("0") or wanted)):
        found = session.scalar(query.where(func.lower(CardRow.number) == said).order_by(VersionRow.id).limit(1))
        if found is not None:
            return found
    return None


@dataclass(frozen=True, slots=True)
class KnownRelease:
    """A release, with its number in the store; ``is_stub``: it is known as far as seen."""

    number: int
    key: str
    is_stub: bool


def release_coded(session: Session, code: str) -> KnownRelease | None:
    """The release that is printed with a code on its cards; None if none is, or more than one."""
    query = select(ReleaseRow).where(func.lower(ReleaseRow.code) == code.lower(), ReleaseRow.removed_at.is_(None))
    found = session.scalars(query.limit(2)).all()
    return KnownRelease(found[0].id, found[0].key, found[0].is_stub) if len(found) == 1 else None


def release_known(session: Session, said: str | SeenRelease) -> KnownRelease | None:
    """A release by its key, or by what is said of it; None where nobody has named that yet. Raises NotFound."""
    if isinstance(said, str):
        row = find_release(session, said, stub=True)
    else:
        known = find_named(session, said)
        if not known:
            return None
        row = known[0]
    return KnownRelease(row.id, row.key, row.is_stub)


_CARDS = """
    select v.id, l.id, l.name, c.number, c.subject, c.weight, coalesce(c.debut, false),
        exists (select from card_subject cs join subject s on s.id = cs.subject_id
            where cs.card_id = c.id and s.watched), l.print_run, r.key
    from version v join card c on c.id = v.card_id join line l on l.id = v.line_id join release r on r.id = l.release_id
    where v.gone_at is null and l.gone_at is null and v.variant = '' and {which}
    order by r.id, l.position nulls last, l.id, c.position nulls last, length(c.number), c.number, v.id
"""


@dataclass(frozen=True, slots=True)
class CardOfSet:
    """A card with the key of its release and its line (number in the store, and name); without what it goes for."""

    release: str
    line: int
    line_name: str
    card: Candidate


def cards_of_sets(session: Session, release: str | None = None) -> list[CardOfSet]:
    """The cards of a release, or of all, line by line; in a numbered line each comes as often as its mates."""
    which = "r.removed_at is null and (cast(:release as varchar) is null or r.key = :release)"
    return [
        CardOfSet(key, line, name, Candidate(version, number, subject, 1.0 if run else float(weight), None, None,
                                             watched, debut))
        for version, line, name, number, subject, weight, debut, watched, run, key in session.execute(
            text(_CARDS.format(which=which)), {"release": release}
        )
    ]  # fmt: skip


def marks_of(session: Session, version: int) -> tuple[bool, bool]:
    """Whether a card's subject is watched, and whether it is a debut."""
    row = session.execute(text(_CARDS.format(which="v.id = :version")), {"version": version}).first()
    return (False, False) if row is None else (row[7], row[6])


_GOALS = """
    select distinct g.id, g.name from goal g, version v join card c on c.id = v.card_id
    where g.removed_at is null and v.id = any(:versions) and (
        (g.kind = 'set' and g.line_id = v.line_id)
        or (g.kind = 'rainbow' and c.line_id = g.line_id and c.number = g.number)
        or (g.kind = 'slots' and g.slots @> jsonb_build_array(jsonb_build_object('options', jsonb_build_array(v.id)))))
    order by g.name, g.id
"""


def goals_with(session: Session, versions: Sequence[int]) -> list[int]:
    """The goals that any of some versions could fill a slot of, by name."""
    return [number for number, _ in session.execute(text(_GOALS), {"versions": list(versions)})]


def lines_named(session: Session) -> dict[str, tuple[str, ...]]:
    """The names of the lines of every release, by its key."""
    query = (
        select(ReleaseRow.key, LineRow.name)
        .join(LineRow, LineRow.release_id == ReleaseRow.id)
        .where(ReleaseRow.removed_at.is_(None), LineRow.gone_at.is_(None))
        .order_by(ReleaseRow.id, LineRow.position.nulls_last(), LineRow.id)
    )
    found: dict[str, list[str]] = {}
    for key, name in session.execute(query):
        found.setdefault(key, []).append(name)
    return {key: tuple(names) for key, names in found.items()}


def coded_cards(session: Session, most: int = 500) -> list[str]:
    """The codes that are printed on cards of releases with a code: the code, a hyphen, the number."""
    query = (
        select(ReleaseRow.code, CardRow.number)
        .join(LineRow, LineRow.release_id == ReleaseRow.id)
        .join(CardRow, CardRow.line_id == LineRow.id)
        .where(ReleaseRow.code.is_not(None), ReleaseRow.removed_at.is_(None), CardRow.gone_at.is_(None))
    )
    return [f"{code}-{number}" for code, number in session.execute(query.order_by(CardRow.id).limit(most))]
