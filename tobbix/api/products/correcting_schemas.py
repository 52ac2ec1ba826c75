"""What the Products step takes to begin a release and to correct one, as it was typed."""

from pydantic import Field

from tobbix.api.base.fields import Key, Strict


class FirstLineIn(Strict):
    """An insert line as it is first known; ``odds`` as typed in one cell."""

    name: str = Field(max_length=200)
    cards: int = Field(ge=0, le=2_000_000_000)
    odds: str = Field(max_length=60)
    price: str = Field(max_length=60)


class FirstSheetIn(Strict):
    """A release that is begun by hand."""

    name: str = Field(max_length=200)
    year: int = Field(ge=0, le=9_999)
    publisher: str = Field(max_length=200)
    series: str | None = Field(max_length=200)
    format: str = Field(max_length=200)
    packs_per_box: int = Field(ge=0, le=2_000_000_000)
    cards_per_pack: int = Field(ge=0, le=2_000_000_000)
    boxes_per_case: int | None = Field(ge=0, le=2_000_000_000)
    price: str = Field(max_length=60)
    base_cards: int = Field(ge=0, le=2_000_000_000)
    lines: list[FirstLineIn] = Field(max_length=60)


class CardPriceIn(Strict):
    """``price`` as typed: an amount, empty for unknown, ``follows`` for the parent line's,
    ``release`` for what is known otherwise."""

    number: str = Field(min_length=1, max_length=200)
    price: str = Field(max_length=60)
    price_revision: int = Field(ge=1, le=2_000_000_000)


class NumberedPriceIn(Strict):
    """A card's number and its price as typed."""

    number: str = Field(min_length=1, max_length=200)
    price: str = Field(max_length=60)


class ManyPricesIn(Strict):
    """Prices of many cards of a line as typed, as one change."""

    prices: list[NumberedPriceIn] = Field(min_length=1, max_length=2_000)
    price_revision: int = Field(ge=1, le=2_000_000_000)


class FormatPriceIn(Strict):
    price: str = Field(max_length=60)
    price_revision: int = Field(ge=1, le=2_000_000_000)


class UsableIn(Strict):
    """``usable`` as typed: the share of packs that are not bricked, 0.7 or 70 %."""

    usable: str = Field(max_length=60)
    revision: int = Field(ge=1, le=2_000_000_000)


class GuaranteeIn(Strict):
    """``guarantee`` as typed: 1 per box: first line 0.6, second line 0.4."""

    guarantee: str = Field(max_length=2_000)
    revision: int = Field(ge=1, le=2_000_000_000)


class OddsIn(Strict):
    """``odds`` as typed: 1:36 packs; 2 per box, guaranteed; unstated; not in it."""

    format: Key
    pack: Key | None = None
    odds: str = Field(max_length=100)
    revision: int = Field(ge=1, le=2_000_000_000)
