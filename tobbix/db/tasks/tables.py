"""The table of long work."""

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, DateTime, Index, String, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from tobbix.db.base import Table


class TaskRow(Table):
    """A piece of long work: what was asked, how far it is, and what came out. Equal questions share one row;
    ``belongs_to`` says what it is about, like ``release:skerrylight-2025/harbour``."""

    __tablename__ = "task"
    __table_args__ = (
        CheckConstraint("state in ('waiting', 'running', 'done', 'cancelled', 'failed')", name="state"),
        CheckConstraint("done >= 0 and done <= total and total > 0", name="progress"),
        Index(
            "uq_task_alive", "fingerprint", unique=True,
            postgresql_where=text("state in ('waiting', 'running', 'done')"),
        ),
        Index("ix_task_belongs_to", "belongs_to"),
    )  # fmt: skip

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    belongs_to: Mapped[str] = mapped_column(String(200))
    asked: Mapped[dict[str, Any]] = mapped_column(JSONB)
    fingerprint: Mapped[str] = mapped_column(String(64))
    state: Mapped[str] = mapped_column(String(10))
    stop_asked: Mapped[bool]
    done: Mapped[int] = mapped_column(BigInteger)
    total: Mapped[int] = mapped_column(BigInteger)
    result: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    fault: Mapped[str | None] = mapped_column(String(500))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    finished_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
