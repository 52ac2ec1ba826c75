"""Cards that were found by what was typed."""

from collections.abc import Iterable

from pydantic import BaseModel, Field

from tobbix.api.base.mirroring import Mirror
from tobbix.core.products.finding import FoundCard


class FindQuery(BaseModel):
    """Cards that the format can hold, by number or a part of the subject."""

    find: str = Field(min_length=1, max_length=60)


class FoundOut(Mirror, of=FoundCard):
    """A card that was found; ``version`` is its number in the store."""


class FoundListOut(BaseModel):
    cards: list[FoundOut]

    @classmethod
    def of(cls, cards: Iterable[FoundCard]) -> "FoundListOut":
        return cls(cards=[FoundOut.model_validate(card, from_attributes=True) for card in cards])
