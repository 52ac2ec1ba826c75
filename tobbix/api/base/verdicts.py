"""The sentence that a screen opens with, as it is sent."""

from collections.abc import Sequence

from pydantic import BaseModel

from tobbix.api.base.mirroring import Mirror
from tobbix.core.base.results import Run, Verdict


class PartOut(Mirror, of=Run):
    """A run of a sentence. ``name`` says which figure it is, None for plain words; ``marked`` if it matters most."""


class VerdictOut(BaseModel):
    """The sentence that a screen opens with, in named parts, and what it rests on."""

    sentence: list[PartOut]
    rests_on: list[PartOut]


def show_verdict(verdict: Verdict) -> VerdictOut:
    def show(parts: Sequence[object]) -> list[PartOut]:
        return [PartOut.model_validate(part, from_attributes=True) for part in parts]

    return VerdictOut(sentence=show(verdict.sentence), rests_on=show(verdict.rests_on))
