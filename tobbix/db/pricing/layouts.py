"""What the columns of tables mean that came in before, by their heads."""

from collections.abc import Sequence
from datetime import datetime
from hashlib import sha256
from typing import Any

from sqlalchemy import DateTime, String, func, select
from sqlalchemy.dialects.postgresql import JSONB, insert
from sqlalchemy.orm import Mapped, Session, mapped_column

from tobbix.core.pricing.tables import Column, ColumnSaid
from tobbix.db.base import Table


class TableLayoutRow(Table):
    """The columns of a table whose heads have this digest, as the owner said them last."""

    __tablename__ = "table_layout"

    heads: Mapped[str] = mapped_column(String(64), primary_key=True)
    columns: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    kept_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


def _digest(head: Sequence[str]) -> str:
    return sha256("\t".join(cell.casefold() for cell in head).encode()).hexdigest()


def find_layout(session: Session, head: Sequence[str]) -> tuple[ColumnSaid, ...] | None:
    """What was said of a table with these heads; None if none came in."""
    kept = session.scalar(select(TableLayoutRow.columns).where(TableLayoutRow.heads == _digest(head)))
    if kept is None:
        return None
    return tuple(ColumnSaid(Column(item["means"]), item.get("of"), item.get("currency")) for item in kept)


def keep_layout(session: Session, head: Sequence[str], columns: Sequence[ColumnSaid]) -> None:
    """Remember what the columns of a table mean."""
    said = [{"means": item.means.value, "of": item.of, "currency": item.currency} for item in columns]
    new = insert(TableLayoutRow).values(heads=_digest(head), columns=said)
    again = {"columns": new.excluded.columns, "kept_at": func.now()}
    session.execute(new.on_conflict_do_update(index_elements=["heads"], set_=again))
