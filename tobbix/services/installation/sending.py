"""An act of the owner as it is sent: carried out whole in one transaction with its answer, once however often it comes.

Two acts that get into each other's way are tried again; an act that was carried out before is answered as it was then.
"""

import random
import time
from collections.abc import Callable
from dataclasses import dataclass

from tobbix.core.base.errors import Conflict
from tobbix.db.base import Database, DBAPIError, is_clash
from tobbix.db.installation.sending import find_first, keep_answer

_TRIES = 5


@dataclass(frozen=True, slots=True)
class Answer:
    """A status of HTTP and a body of JSON, which may be empty. From 400 on nothing is stored."""

    status: int
    body: str


class _Refused(Exception):
    def __init__(self, answer: Answer) -> None:
        self.answer = answer


def carry_out(database: Database, once: str | None, act: str, work: Callable[[], Answer]) -> Answer:
    """Do ``work`` in one transaction. With a key ``once``, an act that was done is not done again but answered as
    before; ``act`` is a digest of what is asked. Raises Conflict for a key that was given to another act, Unsure, and
    whatever ``work`` raises.
    """
    for attempt in range(1, _TRIES + 1):
        try:
            return _try(database, once, act, work)
        except _Refused as refused:
            return refused.answer
        except DBAPIError as error:
            if not is_clash(error):
                raise
            if attempt == _TRIES:
                raise Conflict("something else was stored in the same moment; look again, then retry") from error
        time.sleep(random.uniform(0.005, 0.02) * 2**attempt)
    raise AssertionError


def _try(database: Database, once: str | None, act: str, work: Callable[[], Answer]) -> Answer:
    with database.unit():
        if once is not None:
            with database.transaction() as session:
                first = find_first(session, once, act)
            if first is not None:
                if first.act != act:
                    raise Conflict(
                        "what was sent first is stored already, in other words than these; look there, and load the "
                        "page again to send these as well"
                    )
                return Answer(first.status, first.answer)
        answer = work()
        if answer.status >= 400:
            raise _Refused(answer)
        if once is not None:
            with database.transaction() as session:
                keep_answer(session, once, answer.status, answer.body)
        return answer
