"""Comps and populations: what was seen of prices and of graded copies, appended and never overwritten."""

from collections.abc import Iterable, Sequence
from dataclasses import fields
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Numeric,
    SmallInteger,
    String,
    UniqueConstraint,
    func,
    select,
    text,
    union,
    update,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.base.errors import NotFound
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.ladder import Population
from tobbix.db.base import Table, bring_rows
from tobbix.db.holdings.documents import PartyRow
from tobbix.db.holdings.loading import among

_MONEY = Numeric(16, 3)
_AT_ONCE = 1_000  # rows of a statement: it holds at most 65,535 values


class CompRow(Table):
    """What was seen of a price of a version or a format (C-18); ``outside`` and its own id, so that fetching it twice
    doubles nothing; ``choice``: the owner keeps it, or leaves it out, whatever a flag says."""

    __tablename__ = "comp"
    __table_args__ = (
        UniqueConstraint("outside", "outside_id"),
        CheckConstraint("num_nonnulls(version_id, format_id) = 1", name="one_thing"),
        CheckConstraint("kind in ('sold', 'auction', 'own', 'ask', 'book_low', 'book_high')", name="kind"),
        CheckConstraint("price >= 0 and shipping >= 0 and tax >= 0 and lot > 0 and bids >= 0", name="amounts"),
        CheckConstraint("(grader is null) = (grade is null) and num_nonnulls(condition, grader) <= 1", name="state"),
        CheckConstraint("photo in ('copy', 'stock')", name="photo"),
        CheckConstraint("choice in ('keep', 'leave_out')", name="choice"),
        CheckConstraint("eye_appeal between -1 and 1", name="eye_appeal"),
        CheckConstraint("(outside is null) = (outside_id is null)", name="outside"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency"),
        Index("ix_comp_version_id", "version_id", "day", postgresql_where=text("version_id is not null")),
        Index("ix_comp_format_id", "format_id", "day", postgresql_where=text("format_id is not null")),
        Index("ix_comp_batch_id", "batch_id", postgresql_where=text("batch_id is not null")),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int | None] = mapped_column(ForeignKey("version.id"))
    format_id: Mapped[int | None] = mapped_column(ForeignKey("format.id"))
    kind: Mapped[str] = mapped_column(String(10))
    day: Mapped[date]
    price: Mapped[Decimal] = mapped_column(_MONEY)
    shipping: Mapped[Decimal | None] = mapped_column(_MONEY)
    tax: Mapped[Decimal | None] = mapped_column(_MONEY)
    currency: Mapped[str] = mapped_column(String(3))
    condition: Mapped[str | None] = mapped_column(String(20))
    grader: Mapped[str | None] = mapped_column(String(40))
    grade: Mapped[str | None] = mapped_column(String(20))
    subgrades: Mapped[str | None] = mapped_column(String(60))
    market: Mapped[str | None] = mapped_column(String(60))
    bids: Mapped[int | None]
    photo: Mapped[str | None] = mapped_column(String(5))
    lot: Mapped[int]
    note: Mapped[str | None] = mapped_column(String(500))
    eye_appeal: Mapped[int | None] = mapped_column(SmallInteger)
    choice: Mapped[str | None] = mapped_column(String(10))
    outside: Mapped[str | None] = mapped_column(String(60))
    outside_id: Mapped[str | None] = mapped_column(String(100))
    batch_id: Mapped[int | None] = mapped_column(ForeignKey("comp_batch.id"))
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class CompBatchRow(Table):
    """Prices that came in together: what they were, and whether they were taken back, all at once."""

    __tablename__ = "comp_batch"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    what: Mapped[str] = mapped_column(String(200))
    day: Mapped[date]
    withdrawn_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PopulationRow(Table):
    """How many copies of a version a grader had given a grade to, on a day; growth shows in the rows."""

    __tablename__ = "population"
    __table_args__ = (
        UniqueConstraint("version_id", "grader", "grade", "day"),
        CheckConstraint("count >= 0", name="count"),
    )

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    version_id: Mapped[int] = mapped_column(ForeignKey("version.id"))
    grader: Mapped[str] = mapped_column(String(40))
    grade: Mapped[str] = mapped_column(String(20))
    count: Mapped[int]
    day: Mapped[date]
    recorded_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


_SAME = tuple(field.name for field in fields(Comp) if field.name != "kind")


def begin_batch(session: Session, what: str, day: date) -> int:
    """Prices are about to come in together; returns the number by which they can be taken back."""
    row = CompBatchRow(what=what, day=day)
    session.add(row)
    session.flush()
    return row.id


def count_of_batch(session: Session, batch: int) -> int:
    """How many prices came in together and were not taken back."""
    stands = select(CompBatchRow.id).where(CompBatchRow.id == batch, CompBatchRow.withdrawn_at.is_(None))
    return session.scalar(select(func.count()).where(CompRow.batch_id.in_(stands))) or 0


def batch_of(session: Session, outside: str, begins: str) -> int | None:
    """The batch of what came from outside under ids that begin so; None: nothing did, or it was taken back."""
    stands = select(CompBatchRow.id).where(CompBatchRow.withdrawn_at.is_(None))
    of = select(CompRow.batch_id).where(CompRow.outside == outside, CompRow.outside_id.startswith(begins))
    return session.scalar(of.where(CompRow.batch_id.in_(stands)).limit(1))


def withdraw_batch(session: Session, batch: int, now: datetime | None) -> set[tuple[int, str]]:
    """Take back what came in together, or with None have it there again; returns the versions and states that it is
    of. Raises NotFound."""
    row = session.get(CompBatchRow, batch, with_for_update=True)
    if row is None:
        raise NotFound("no such prices came in")
    row.withdrawn_at = now
    session.flush()
    query = select(CompRow.version_id, CompRow.condition, CompRow.grader, CompRow.grade).where(
        CompRow.batch_id == batch
    )
    return {
        (version, f"{grader}:{grade}" if grader else str(condition))
        for version, condition, grader, grade in session.execute(query.distinct())
        if version is not None and (grader or condition)
    }


def add_comps(
    session: Session, comps: Iterable[tuple[int, Comp]], column: str = "version_id", batch: int | None = None
) -> int:
    """Append what was seen of versions (or formats); what came from outside before is left as it is. Says how many
    are new."""
    rows = [
        {column: thing, "kind": comp.kind.value, "batch_id": batch, **{n: getattr(comp, n) for n in _SAME}}
        for thing, comp in comps
    ]
    own = [row for row in rows if row["outside"] is None]
    bring_rows(session, CompRow, own)
    added, others = len(own), [row for row in rows if row["outside"] is not None]
    for begin in range(0, len(others), _AT_ONCE):
        statement = insert(CompRow).values(others[begin : begin + _AT_ONCE])
        statement = statement.on_conflict_do_nothing(index_elements=["outside", "outside_id"])
        added += len(session.scalars(statement.returning(CompRow.id)).all())
    return added


KeptComp = tuple[int, Comp, str | None]
_STANDS = CompRow.batch_id.is_(None) | CompRow.batch_id.in_(
    select(CompBatchRow.id).where(CompBatchRow.withdrawn_at.is_(None))
)


def comps_of_all(session: Session, versions: Sequence[int]) -> dict[int, list[KeptComp]]:
    """What was seen of each of some versions, in the order of the days: number, comp, and whether the owner keeps it
    or leaves it out."""
    own = (CompRow.version_id, CompRow.id, CompRow.choice, CompRow.kind)  # by columns: thousands are read for a page
    query = select(*own, *(getattr(CompRow, name) for name in _SAME)).order_by(CompRow.day, CompRow.id)
    found: dict[int, list[KeptComp]] = {version: [] for version in versions}
    kinds = {kind.value: kind for kind in CompKind}
    query = query.where(among(CompRow.version_id, versions), _STANDS)
    for version, number, choice, kind, *said in session.execute(query):
        found[version].append((number, Comp(kinds[kind], *said), choice))
    return found


def comps_of(session: Session, version: int) -> list[KeptComp]:
    """What was seen of one version."""
    return comps_of_all(session, [version])[version]


def seen_lately(session: Session, most: int) -> list[tuple[int, int, date]]:
    """The versions of which prices were recorded last: version, how many there are of it, and the newest day."""
    query = (
        select(CompRow.version_id, func.count(), func.max(CompRow.day))
        .where(CompRow.version_id.is_not(None), _STANDS)
        .group_by(CompRow.version_id)
        .order_by(func.max(CompRow.id).desc())
        .limit(most)
    )
    return [(version or 0, int(count), day) for version, count, day in session.execute(query)]


def version_of_comp(session: Session, number: int) -> int:
    """The version that a comp is of. Raises NotFound."""
    version = session.scalar(select(CompRow.version_id).where(CompRow.id == number))
    if version is None:
        raise NotFound("there is no such price of a card")
    return version


def choose_comp(session: Session, number: int, choice: str | None) -> None:
    """The owner keeps what is flagged, or leaves a comp out; None: neither."""
    session.execute(update(CompRow).where(CompRow.id == number).values(choice=choice))


def known_graders(session: Session) -> list[str]:
    """The graders that are known by name, and those of which prices or populations were seen."""
    seen = select(CompRow.grader).where(CompRow.grader.is_not(None))
    named = select(PartyRow.name).where(PartyRow.roles.contains(["grader"]))
    return sorted(filter(None, session.scalars(union(seen, select(PopulationRow.grader), named))))


def add_populations(session: Session, counted: Iterable[tuple[int, Population]]) -> int:
    """Append what graders had given to versions; the same grade of the same day is counted anew. Says how many."""
    rows = [
        {"version_id": version, "grader": it.grader, "grade": it.grade, "count": it.count, "day": it.day}
        for version, it in counted
    ]
    keys = ["version_id", "grader", "grade", "day"]
    for begin in range(0, len(rows), _AT_ONCE):
        new = insert(PopulationRow).values(rows[begin : begin + _AT_ONCE])
        session.execute(new.on_conflict_do_update(index_elements=keys, set_={"count": new.excluded["count"]}))
    return len(rows)


def populations_of(session: Session, version: int) -> list[Population]:
    """All that was counted of a version, in the order of the days."""
    query = select(PopulationRow).where(PopulationRow.version_id == version).order_by(PopulationRow.day)
    return [Population(row.grader, row.grade, row.count, row.day) for row in session.scalars(query)]
