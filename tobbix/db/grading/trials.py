"""Trials of the eye, and own cards whose grade came back, in the store."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tobbix.db.grading.tables import EyeTrialRow


@dataclass(frozen=True, slots=True)
class StoredTrial:
    """A trial: of a simulated scan (``seed``) or a thing, what was said, what is known, and when."""

    seed: int | None
    item: int | None
    said: Mapping[str, Any]
    known: Mapping[str, Any]
    made_at: datetime


def list_trials(session: Session) -> list[StoredTrial]:
    """All trials, the oldest first."""
    query = select(EyeTrialRow).order_by(EyeTrialRow.id)
    return [StoredTrial(it.seed, it.item_id, it.said, it.known, it.made_at) for it in session.scalars(query)]


def was_tried(session: Session, seed: int) -> bool:
    """Whether a simulated scan was tried before."""
    return session.scalar(select(EyeTrialRow.id).where(EyeTrialRow.seed == seed).limit(1)) is not None


def add_trial(
    session: Session, seed: int | None, item: int | None, said: Mapping[str, Any], known: Mapping[str, Any]
) -> None:
    """Keep a trial."""
    session.add(EyeTrialRow(seed=seed, item_id=item, said=dict(said), known=dict(known)))
    session.flush()


_REPLAY = """
    select p.item_id, p.chances, b.grade, pa.name, f.id, k.id
    from prediction p join document d on d.id = p.document_id join party pa on pa.id = d.party_id
        join label b on b.item_id = p.item_id join entry e on e.id = b.entry_id and e.document_id = d.id
        left join lateral (select id from photo where item_id = p.item_id and side = 'front' order by id desc limit 1) f
            on true
        left join lateral (select id from photo where item_id = p.item_id and side = 'back' order by id desc limit 1) k
            on true
    where p.what = 'grade' and not exists (select from entry x where x.reverses_id = e.id)
        and not exists (select from eye_trial t where t.item_id = p.item_id) and f.id is not null
    order by md5(p.item_id::text) limit 1
"""


@dataclass(frozen=True, slots=True)
class Replay:
    """An own card whose grade came back and that was not judged in training yet: its grader, grade and photos."""

    item: int
    grades: tuple[str, ...]
    grade: str
    grader: str
    front: int | None
    back: int | None


def next_replay(session: Session) -> Replay | None:
    """The next own card to train on; None: there is none."""
    row = session.execute(text(_REPLAY)).first()
    if row is None:
        return None
    item, chances, grade, grader, front, back = row
    return Replay(item, tuple(sorted(chances, key=lambda it: -float(it))), grade, grader, front, back)
