"""What is sent and answered: the Pricing step: ways of selling, and what a price nets."""

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Exact, Key, Strict
from tobbix.core.pricing.fees import FeeBase

Share = Annotated[str, StringConstraints(pattern=r"^0?(\.[0-9]{1,6})?$|^0$")]


class BracketOut(BaseModel):
    """A marginal share of the amount up to ``up_to``, the last without end."""

    up_to: str | None
    share: str


class BracketIn(Strict):
    up_to: Amount | None
    share: Share


class WayOut(BaseModel):
    """A way of selling; amounts and shares are decimal strings, 0.12 is 12 %."""

    id: str
    version: int
    name: str
    commission: list[BracketOut]
    on: FeeBase
    fixed_fee: str
    payment_share: str
    payment_fixed: str
    least: str
    most: str | None
    shipping_charged: str
    postage: str
    packing: str
    lost: str
    tax: str
    example_net: str


class WaysOut(BaseModel):
    """All ways of selling; ``example_net`` of each is what a sale at 10.00 leaves."""

    ways: list[WayOut]


class WayIn(Strict):
    """``version`` 0 adds a way, another changes the one of that version."""

    version: int = Field(ge=0, le=2_000_000_000)
    name: Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]
    commission: list[BracketIn] = Field(min_length=1, max_length=20)
    on: FeeBase
    fixed_fee: Amount
    payment_share: Share
    payment_fixed: Amount
    least: Amount
    most: Amount | None
    shipping_charged: Amount
    postage: Amount
    packing: Amount
    lost: Share
    tax: Share


class WayPath(BaseModel):
    way: Key


class NetQuery(BaseModel):
    """Either a ``price``, or a ``net`` that is wanted."""

    price: Amount | None = None
    net: Amount | None = None


class NetOut(BaseModel):
    """What a price nets, unrounded."""

    price: Exact
    net: Exact
