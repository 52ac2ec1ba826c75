"""What the owner adds to a release beside its sheet: assumptions, wanted cards, the scratch copy."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from sqlalchemy import Select, delete, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from tobbix.core.products.assuming import Assumptions, parse_share
from tobbix.core.products.revising import parse_price
from tobbix.db.products.tables import (
    AssumptionRow,
    CardRow,
    FormatRow,
    LineRow,
    ReleaseRow,
    ScratchRow,
    VersionRow,
    WantedRow,
)


def list_assumptions(session: Session, release: ReleaseRow) -> list[tuple[str, str, str | None, str]]:
    """What is assumed of a release: kind, line, format and the words."""
    query = _assumptions().where(AssumptionRow.release_id == release.id)
    return [(kind, line, fmt, text) for _, kind, line, fmt, text in session.execute(query)]


def _assumptions() -> Select[int, str, str, str | None, str]:
    fmt: InstrumentedAttribute[str | None] = FormatRow.key  # outer joined
    return (
        select(AssumptionRow.release_id, AssumptionRow.kind, LineRow.key, fmt, AssumptionRow.text)
        .join(LineRow, LineRow.id == AssumptionRow.line_id)
        .outerjoin(FormatRow, FormatRow.id == AssumptionRow.format_id)
        .where(LineRow.gone_at.is_(None), FormatRow.gone_at.is_(None))
        .order_by(LineRow.position, AssumptionRow.id)
    )


Assumed = tuple[Assumptions, tuple[tuple[str, float], ...]]


def load_all_assumptions(session: Session, releases: Sequence[int]) -> dict[int, Assumed]:
    """Assumptions of the sheets' unknowns, and how much of each line sells, by release, in one statement."""
    found: dict[int, list[tuple[str, str, str | None, str]]] = {release: [] for release in releases}
    for release, kind, line, fmt, text in session.execute(_assumptions().where(AssumptionRow.release_id.in_(releases))):
        found[release].append((kind, line, fmt, text))
    return {release: _assumed(said) for release, said in found.items()}


def _assumed(said: Sequence[tuple[str, str, str | None, str]]) -> Assumed:
    odds, values, splits, sells = [], [], [], []
    for kind, line, fmt, text in said:
        if kind == "odds" and fmt is not None:
            odds.append((fmt, line, text))
        elif kind == "price":
            values.append((line, parse_price(text).amount or Decimal(0)))
        elif kind == "split" and fmt is not None:
            splits.append((fmt, line, parse_share(text, "text")))
        elif kind == "sells":
            sells.append((line, float(parse_share(text, "text"))))
    return Assumptions(tuple(odds), tuple(values), tuple(splits)), tuple(sells)


def put_assumption(
    session: Session, release: ReleaseRow, kind: str, line_id: int, format_id: int | None, text: str | None
) -> None:
    """Keep an assumption in place of what was assumed before; None takes it back."""
    session.execute(
        delete(AssumptionRow).where(
            AssumptionRow.line_id == line_id,
            AssumptionRow.kind == kind,
            AssumptionRow.format_id.is_not_distinct_from(format_id),
        )
    )
    if text is not None:
        session.add(AssumptionRow(release_id=release.id, kind=kind, line_id=line_id, format_id=format_id, text=text))
    session.flush()


def list_wanted(session: Session, release: ReleaseRow) -> list[tuple[str, str]]:
    """Line and number of the cards of a release that the owner wants, in the order of the sheet."""
    query = (
        select(LineRow.key, CardRow.number)
        .select_from(WantedRow)
        .join(VersionRow, VersionRow.id == WantedRow.version_id)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(CardRow, CardRow.id == VersionRow.card_id)
        .where(LineRow.release_id == release.id, VersionRow.gone_at.is_(None))
        .order_by(LineRow.position, VersionRow.position)
    )
    return [(line, number) for line, number in session.execute(query)]


def put_wanted(session: Session, version_id: int, wanted: bool) -> None:
    """Mark a version as wanted, or no longer."""
    row = session.get(WantedRow, version_id)
    if wanted and row is None:
        session.add(WantedRow(version_id=version_id))
    elif not wanted and row is not None:
        session.delete(row)
    session.flush()


def load_scratch(session: Session, release: ReleaseRow, lock: bool = False) -> tuple[list[dict[str, Any]], int]:
    """The edits of a release's scratch copy, and its version (0: there is none)."""
    query = select(ScratchRow).where(ScratchRow.release_id == release.id)
    row = session.scalar(query.with_for_update() if lock else query)
    return ([], 0) if row is None else (list(row.edits), row.version)


def save_scratch(session: Session, release: ReleaseRow, edits: Sequence[dict[str, Any]], version: int) -> None:
    """Keep the edits of a scratch copy."""
    row = session.get(ScratchRow, release.id) or ScratchRow(release_id=release.id)
    row.edits, row.version = list(edits), version
    session.add(row)
    session.flush()


def drop_scratch(session: Session, release: ReleaseRow) -> None:
    """Throw a scratch copy away."""
    session.execute(delete(ScratchRow).where(ScratchRow.release_id == release.id))
