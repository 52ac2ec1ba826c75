"""A way of selling as a JSON object: the fields of ``SellingWay``, decimals as strings, brackets as
``{"up_to": "1000", "share": "0.12"}``; alone in a file it may say its kind, ``"tobbix": "selling-way"``."""

from decimal import Decimal, InvalidOperation

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.pricing.fees import Bracket, FeeBase, SellingWay
from tobbix.formats.json_files import read_json

_AMOUNTS = ("fixed_fee", "payment_share", "payment_fixed", "least", "most", "shipping_charged", "postage", "packing",
            "lost", "tax")  # fmt: skip


def parse_way(content: bytes) -> SellingWay:
    """Read a way of selling. Raises InputError with every fault."""
    return read_way(read_json(content))


def read_way(document: object) -> SellingWay:
    """A way of selling from its object; what is left out is 0, the cap none. Raises InputError with every fault."""
    if not isinstance(document, dict):
        raise InputError.at("file", "must be an object with named fields")
    faults = [
        Fault(str(name)[:60], "is not a field of a way of selling")
        for name in document.keys() - {"tobbix", "schema_version", "id", "name", "commission", "on", *_AMOUNTS}
    ]
    name = document.get("name", "this way")
    if not isinstance(name, str) or not name.strip():
        faults.append(Fault("name", "must be words"))
    brackets = document.get("commission", [{"up_to": None, "share": "0"}])
    commission = []
    for item in brackets if isinstance(brackets, list) else [None]:
        if not isinstance(item, dict) or "share" not in item:
            faults.append(Fault("commission", 'must be a list of brackets like {"up_to": "1000", "share": "0.12"}'))
            continue
        end = item.get("up_to")
        share = _decimal(item["share"], "commission", faults)
        commission.append(Bracket(None if end is None else _decimal(end, "commission", faults), share))
    try:
        on = FeeBase(document.get("on", "price_and_shipping"))
    except ValueError:
        faults.append(Fault("on", f"must be one of {', '.join(FeeBase)}"))
        on = FeeBase.PRICE
    amounts = {field: _decimal(document[field], field, faults) for field in _AMOUNTS if document.get(field) is not None}
    if faults:
        raise InputError(faults)
    return SellingWay("file", str(name).strip(), tuple(commission), on, **amounts)


def _decimal(value: object, field: str, faults: list[Fault]) -> Decimal:
    try:
        if isinstance(value, bool) or not isinstance(value, (str, int, Decimal)):
            raise InvalidOperation
        number = Decimal(value)
        if not number.is_finite():
            raise InvalidOperation
        return number
    except InvalidOperation:
        faults.append(Fault(field, f"“{str(value)[:40]}” is not a decimal; write it like 0.12"))
        return Decimal(0)
