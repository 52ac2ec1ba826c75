"""Fields that many requests and answers share."""

import re
import shutil
from decimal import Decimal
from pathlib import Path
from typing import IO, Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer, StringConstraints, WithJsonSchema

from tobbix.core.base.errors import InputError
from tobbix.core.products.odds import plain


def read_upload(file: object) -> bytes:
    """The bytes of an uploaded file, from its beginning. Raises InputError if it was sent as something else."""
    return bytes(_stream(file).read())


def save_upload(file: object, target: Path) -> None:
    """An uploaded file to the disk, without holding it. Raises InputError if it was sent as something else."""
    with target.open("wb") as sink:
        shutil.copyfileobj(_stream(file), sink)


def _stream(file: object) -> IO[bytes]:
    stream: IO[bytes] | None = getattr(file, "stream", None)
    if stream is None:
        raise InputError.at("file", "must be sent as a file")
    stream.seek(0)
    return stream


MOST_DEPTH = 40
_UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")


def check_document(document: object) -> None:
    """Refuse a body that nests deeper than any can need, or holds characters that nobody can print or store.

    Raises InputError at the field.
    """
    level = [("", document)]
    for _ in range(MOST_DEPTH):
        below: list[tuple[str, object]] = []
        for place, part in level:
            if isinstance(part, str) and _UNPRINTABLE.search(part):
                raise InputError.at(place.removeprefix(".") or "body", "holds a character that cannot be printed")
            if isinstance(part, dict):
                below += [(f"{place}.{name}", value) for name, value in part.items()]
                below += [(place, name) for name in part]
            elif isinstance(part, list):
                below += [(f"{place}[{index}]", value) for index, value in enumerate(part)]
        level = below
    if level:
        raise InputError.at("body", "is nested too deeply")


AMOUNT = r"^[0-9]{1,8}(\.[0-9]{1,4})?$"
SHARE = r"^0?(\.[0-9]{1,6})?$|^0$|^1(\.0{1,6})?$"
CURRENCY = r"^[A-Z]{3}$"
RATE = r"^[0-9]{1,6}(\.[0-9]{1,8})?$"

RowNumber = Annotated[int, Field(ge=1, le=9_000_000_000_000)]  # of what is stored: as large as the store takes
Exact = Annotated[Decimal, PlainSerializer(plain), WithJsonSchema({"type": "string"})]
Amount = Annotated[str, StringConstraints(pattern=AMOUNT)]
Share = Annotated[str, StringConstraints(pattern=SHARE)]
Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$")]
Currency = Annotated[str, StringConstraints(pattern=CURRENCY)]
Rate = Annotated[str, StringConstraints(pattern=RATE)]
Condition = Literal["mint", "NM", "LP", "MP", "HP", "damaged"]
Millimetres = Annotated[str, StringConstraints(pattern=r"^[0-9]{1,5}(\.[0-9]{1,2})?$")]  # grams, too
Words = Annotated[str, StringConstraints(max_length=500)]


class Strict(BaseModel):
    """What is sent in: a field that is not known is refused."""

    model_config = ConfigDict(extra="forbid")


class VersionIn(Strict):
    """The version of a thing as it was seen: what was changed since is not overwritten."""

    version: int = Field(ge=0, le=2_000_000_000)
