"""What is sent and answered about conditions: flaws, readings, the tables they are judged by."""

from pydantic import BaseModel, Field

from tobbix.api.base.fields import Amount, Condition, Exact, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.products.describing import CardSize
from tobbix.core.sorting.flaws import ConditionWorth, FlawKind, Place, Reading, Side, Size


class FlawIn(Strict):
    """A flaw at ``x`` from the left and ``y`` from the top of its side (shares)."""

    kind: FlawKind
    side: Side
    size: Size
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class FlawOut(FlawIn):
    place: Place
    words: str


class TryFlawsIn(Strict):
    flaws: list[FlawIn] = Field(max_length=200)


class MarkFlawsIn(TryFlawsIn):
    """Flaws to keep, and the condition that the owner goes by."""

    version: int = Field(ge=0)
    condition: Condition | None = None


class ReadingOut(Mirror, of=Reading):
    """A condition and what it rests on."""


class ConditionWorthOut(Mirror, of=ConditionWorth):
    """What a condition is worth, by its sales or by a factor."""


class MarkedOut(BaseModel):
    """On how many things of the release a kind of flaw was marked."""

    kind: FlawKind
    things: int


class SizeOfOut(Mirror, of=CardSize):
    """How large a card is, in mm."""


class JudgedOut(BaseModel):
    item: int
    version: int
    name: str
    condition: str | None
    flaws: list[FlawOut]
    lenient: ReadingOut
    strict: ReadingOut
    worths: list[ConditionWorthOut]
    faults: list[str]
    marked: list[MarkedOut]
    size: SizeOfOut | None
    currency: str
    verdict: VerdictOut


class FlawRuleIn(Strict):
    """A row of the table; empty lists and no side: any. An allowance is typed like "NM 2, LP 4, MP"."""

    kinds: list[FlawKind] = Field(max_length=20)
    places: list[Place] = Field(max_length=3)
    side: Side | None = None
    sizes: list[Size] = Field(max_length=3)
    lenient: str = Field(max_length=100)
    strict: str = Field(max_length=100)


class FlawRuleOut(FlawRuleIn):
    words: str


class FlawTableOut(BaseModel):
    rules: list[FlawRuleOut]
    factors: dict[str, Exact]
    version: int
    factors_version: int


class FlawTableIn(Strict):
    """None: what ships."""

    version: int = Field(ge=0)
    rules: list[FlawRuleIn] | None = Field(None, max_length=100)


class FactorsIn(Strict):
    """None: what ships."""

    version: int = Field(ge=0)
    factors: dict[str, Amount] | None = None
