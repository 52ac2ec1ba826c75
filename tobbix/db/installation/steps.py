"""Which steps of a list were ticked, into the store and out of it."""

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from tobbix.db.installation.tables import KeptStepRow


def steps_done(session: Session, of: str) -> frozenset[str]:
    """The ids of the steps of a list that are ticked; ``of`` names the list, "opening 12"."""
    return frozenset(session.scalars(select(KeptStepRow.step).where(KeptStepRow.of == of)))


def tick_step(session: Session, of: str, step: str, done: bool) -> None:
    """Tick a step of a list, or open it again; a second time changes nothing."""
    if done:
        session.execute(insert(KeptStepRow).values(of=of, step=step).on_conflict_do_nothing())
    else:
        session.execute(delete(KeptStepRow).where(KeptStepRow.of == of, KeptStepRow.step == step))
