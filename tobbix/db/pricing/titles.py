"""The versions that titles may be of, the words that were explained, and the words that a version is looked up with."""

from collections.abc import Iterable
from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, ForeignKey, Index, String, delete, func, select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.base.errors import NotFound
from tobbix.core.pricing.titles import Means, Possible, Taught
from tobbix.db.base import Table
from tobbix.db.products.tables import LineRow, ReleaseRow


class TaughtWordsRow(Table):
    """Words of titles that the owner explained, of one release or of any."""

    __tablename__ = "taught_words"
    __table_args__ = (
        CheckConstraint("means in ('line', 'variant', 'state', 'no_card')", name="means"),
        Index("uq_taught_words", "words", text("coalesce(release_id, 0)"), unique=True),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    release_id: Mapped[int | None] = mapped_column(ForeignKey("release.id"))
    words: Mapped[str] = mapped_column(String(100))
    means: Mapped[str] = mapped_column(String(10))
    value: Mapped[str] = mapped_column(String(200))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class SearchWordsRow(Table):
    """The words that the owner looks a version up with, and those that must not be in a result."""

    __tablename__ = "search_words"

    version_id: Mapped[int] = mapped_column(ForeignKey("version.id"), primary_key=True)
    words: Mapped[str] = mapped_column(String(300))
    without: Mapped[str] = mapped_column(String(300))


_POSSIBLE = """
    select v.id, r.key, concat_ws(' ', r.name, r.series), r.year, l.name, l.kind = 'base', c.number, v.variant,
        s.name, l.print_run
    from subject s join card_subject cs on cs.subject_id = s.id join card c on c.id = cs.card_id
        join version v on v.card_id = c.id join line l on l.id = v.line_id join release r on r.id = l.release_id
    where {where} and v.gone_at is null and r.removed_at is null
    order by r.year desc, l.position nulls last, c.position nulls last, v.id limit :most
"""
# the same as core/pricing/titles.fold_words does
_NAMED = r"""trim(regexp_replace(regexp_replace(regexp_replace(lower(s.name), '[''’‘.]', '', 'g'),
        '\m([a-z]{1,5})-([0-9]+[a-z]?)\M', '\1\2', 'g'), '[^[:alnum:]]+', ' ', 'g'))
    = any(cast(:runs as text[]))"""
_BESIDE = """s.id = (select cs.subject_id from card_subject cs join version own on own.card_id = cs.card_id
        where own.id = :version order by cs.position limit 1)
    and r.id = (select l.release_id from line l join version own on own.line_id = l.id where own.id = :version)"""
_MOST_POSSIBLE = 20_000


def find_possible(session: Session, runs: Iterable[str]) -> list[Possible]:
    """The versions that show a subject whose name is one of some runs of words."""
    return _read(session, _NAMED, runs=sorted(runs))


def beside(session: Session, version: int) -> list[Possible]:
    """A version, and those that show its subject in the same release."""
    return _read(session, _BESIDE, version=version)


def all_named(session: Session) -> list[Possible]:
    """Every version that shows a subject, as far as so many are read at once."""
    return _read(session, "true")


def _read(session: Session, where: str, **asked: Any) -> list[Possible]:
    rows = session.execute(text(_POSSIBLE.format(where=where)), {**asked, "most": _MOST_POSSIBLE})
    return [
        Possible(version, release, name, year, line, bool(is_plain), number, variant, subject, run)
        for version, release, name, year, line, is_plain, number, variant, subject, run in rows
    ]


def lines_of(session: Session, releases: Iterable[str]) -> list[tuple[str, str]]:
    """The lines of some releases that titles name: (release, name)."""
    query = (
        select(ReleaseRow.key, LineRow.name)
        .join(LineRow, LineRow.release_id == ReleaseRow.id)
        .where(ReleaseRow.key.in_(sorted(set(releases))), LineRow.kind != "base")
    )
    return [(release, name) for release, name in session.execute(query)]


def list_taught(session: Session) -> list[tuple[int, Taught]]:
    """All that was explained, each with its number, the longest words first."""
    query = (
        select(TaughtWordsRow, ReleaseRow.key)
        .join(ReleaseRow, ReleaseRow.id == TaughtWordsRow.release_id, isouter=True)
        .order_by(func.length(TaughtWordsRow.words).desc(), TaughtWordsRow.words)
    )
    return [(row.id, Taught(row.words, Means(row.means), row.value, key)) for row, key in session.execute(query)]


def teach(session: Session, taught: Taught, release_id: int | None) -> int:
    """Keep what words mean, in place of what they meant before; returns its number."""
    same = {"means": taught.means.value, "value": taught.value}
    statement = insert(TaughtWordsRow).values(words=taught.words, release_id=release_id, **same)
    number: int | None = session.scalar(
        statement.on_conflict_do_update(
            index_elements=[TaughtWordsRow.words, text("coalesce(release_id, 0)")], set_=same
        ).returning(TaughtWordsRow.id)
    )
    assert number is not None
    return number


def forget_taught(session: Session, number: int) -> None:
    """Forget what words mean. Raises NotFound."""
    if session.scalar(delete(TaughtWordsRow).where(TaughtWordsRow.id == number).returning(TaughtWordsRow.id)) is None:
        raise NotFound("these words are not explained any more")


def load_search_words(session: Session, version: int) -> tuple[str, str] | None:
    """The owner's own words for a version, and those to leave out; None: those that the program proposes."""
    row = session.get(SearchWordsRow, version)
    return None if row is None else (row.words, row.without)


def keep_search_words(session: Session, version: int, said: tuple[str, str] | None) -> None:
    """Keep the owner's own words for a version; None: go back to the proposed ones."""
    session.execute(delete(SearchWordsRow).where(SearchWordsRow.version_id == version))
    if said is not None:
        session.add(SearchWordsRow(version_id=version, words=said[0], without=said[1]))
