"""The steps before the first pack: which there are, which are done."""

from tobbix.core.base.errors import NotFound
from tobbix.core.base.steps import Step
from tobbix.core.opening.preparing import prepare
from tobbix.core.products.revising import find_format
from tobbix.db.base import Session
from tobbix.db.holdings.loading import find_item
from tobbix.db.installation.steps import steps_done, tick_step
from tobbix.db.opening.loading import find_session
from tobbix.services.products.catalogue import Catalogue


def _steps(catalogue: Catalogue, session: Session, number: int) -> tuple[Step, ...]:
    row = find_session(session, number, lock=False)
    fmt = find_format(catalogue.sheet(session, row.release), row.format)
    item = find_item(session, row.item, lock=False)
    return prepare(fmt, row.boxes, row.packs == row.boxes * fmt.packs_per_box and row.gone == 0, item.basis is not None)


def list_steps(catalogue: Catalogue, number: int) -> list[tuple[Step, bool]]:
    """The steps of a session before its first pack, and which are ticked. Raises NotFound."""
    with catalogue.database.transaction() as session:
        done = steps_done(session, f"opening {number}")
        return [(step, step.id in done) for step in _steps(catalogue, session, number)]


def tick(catalogue: Catalogue, number: int, step: str, done: bool) -> None:
    """Tick a step, or open it again. Raises NotFound."""
    with catalogue.database.transaction() as session:
        if all(known.id != step for known in _steps(catalogue, session, number)):
            raise NotFound("there is no such step")
        tick_step(session, f"opening {number}", step, done)
