"""Words for results: a verdict in named parts, and what a number left out or assumed."""

from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True, slots=True)
class Run:
    """A run of a sentence. ``name`` says which figure it is, None for plain words; ``marked`` if it matters most."""

    text: str
    name: str | None = None
    marked: bool = False


@dataclass(frozen=True, slots=True)
class Verdict:
    """One sentence that says where things stand, and one that says what it rests on."""

    sentence: tuple[Run, ...]
    rests_on: tuple[Run, ...]

    def text(self) -> str:
        """Both sentences as plain text."""
        return "".join(p.text for p in self.sentence) + " " + "".join(p.text for p in self.rests_on)


class Matter(StrEnum):
    """What kind of input was unknown."""

    ODDS = "odds"
    RESULTS = "results"
    PRICE = "price"
    SPLIT = "split"


@dataclass(frozen=True, slots=True)
class Assumed:
    """Something unknown of a line, and what it counts as: by Rule C-01, or ``by_owner`` in the owner's ``words``."""

    line: str
    name: str
    cards: tuple[str, ...]
    high: float
    low: float
    matter: Matter = Matter.PRICE
    by_owner: bool = False
    words: str = ""


@dataclass(frozen=True, slots=True)
class LeftOut:
    """An unknown part that is not in the number, which is then a lower bound.

    ``hits`` is the expected number in the box or boxes, None where the odds themselves are unknown.
    """

    matter: Matter
    line: str
    name: str
    hits: float | None
    why: str
