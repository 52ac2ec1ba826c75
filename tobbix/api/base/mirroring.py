"""Schemas that are made from a value of the core: its fields with their types, amounts as exact text.

Example: ``class ChargeOut(Mirror, of=Charge)`` has what a charge has. ``without`` names what is not sent; what a value
works out (a property) or nests is named in the class.
"""

from collections.abc import Collection
from dataclasses import fields
from decimal import Decimal
from types import UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from pydantic import BaseModel, ConfigDict
from pydantic._internal._model_construction import ModelMetaclass  # it has no public name; the lock pins it

from tobbix.api.base.fields import Exact


def _sent(kind: Any) -> Any:
    """A field's type as it is sent."""
    if kind is Decimal:
        return Exact
    if get_origin(kind) in (Union, UnionType):
        return Union[tuple(_sent(part) for part in get_args(kind))]  # noqa: UP007 - from a list of types
    return kind


class _Mirroring(ModelMetaclass):
    def __new__(
        mcs, name: str, bases: tuple[type, ...], namespace: dict[str, Any], of: type | None = None,
        without: Collection[str] = (), **more: Any,
    ) -> type:  # fmt: skip
        if of is not None:
            own, hints = namespace.get("__annotations__", {}), get_type_hints(of)
            mirrored = {f.name: _sent(hints[f.name]) for f in fields(of) if f.name not in without}
            namespace["__annotations__"] = {**mirrored, **own}
        made: type = super().__new__(mcs, name, bases, namespace, **more)
        return made


class Mirror(BaseModel, metaclass=_Mirroring):
    """A schema made from a value; read from one by ``model_validate``."""

    model_config = ConfigDict(from_attributes=True)

    def __init_subclass__(cls, of: type | None = None, without: Collection[str] = (), **more: Any) -> None:
        super().__init_subclass__(**more)
