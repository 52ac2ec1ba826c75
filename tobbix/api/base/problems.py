"""Errors as RFC 9457 problem details, made in this one place."""

from http import HTTPStatus

from flask import Flask, Response, make_response
from pydantic import BaseModel, ValidationError
from pydantic_core import ErrorDetails
from werkzeug.exceptions import HTTPException

from tobbix.api.base.fields import AMOUNT, CURRENCY, RATE, SHARE
from tobbix.core.base.errors import Conflict, Fault, InputError, NeedsConfirmation, NotFound, TobbixError
from tobbix.services.installation.signing_in import MustWait


class FaultOut(BaseModel):
    """One thing that is wrong, and where."""

    field: str
    message: str
    sheet: str | None = None
    row: int | None = None


class Problem(BaseModel):
    """What was refused, in plain words. ``flag`` names the confirmation that would let it pass."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    faults: list[FaultOut] = []
    flag: str | None = None


def describe(fault: Fault) -> FaultOut:
    """A fault as the interface gets it."""
    return FaultOut(field=fault.field, message=fault.message, sheet=fault.sheet, row=fault.row)


def problem(status: int, detail: str, faults: list[FaultOut] | None = None, flag: str | None = None) -> Response:
    """A problem as a response."""
    body = Problem(title=HTTPStatus(status).phrase, status=status, detail=detail, faults=faults or [], flag=flag)
    response = make_response(body.model_dump_json(), status)
    response.content_type = "application/problem+json"
    return response


def invalid_request(error: ValidationError) -> Response:
    """What a request's path, query or body holds that its schema does not allow."""
    faults = [
        FaultOut(field=_field(item["loc"]), message=_in_words(item))
        for item in error.errors(include_url=False, include_input=False)
    ]
    return problem(422, "; ".join(f"{fault.field}: {fault.message}" for fault in faults), faults)


def _field(place: tuple[int | str, ...]) -> str:
    """``charges[0].amount``, as the core names it too."""
    text = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in place)
    return text.removeprefix(".") or "body"


_PATTERNS = {
    AMOUNT: "is no amount; write it like 12.50",
    SHARE: "is no share from 0 to 1",
    CURRENCY: "is no code of three capital letters",
    RATE: "is no exchange rate; write it like 1.1650",
}
_KINDS = {
    "int_parsing": "is no whole number",
    "int_type": "is no whole number",
    "float_parsing": "is no number",
    "date_from_datetime_parsing": "is no day; write it like 2026-11-25",
    "date_parsing": "is no day; write it like 2026-11-25",
    "missing": "is missing",
    "model_type": "is no object in JSON that can be read",
    "string_too_short": "is empty",
    "string_too_long": "is longer than {max_length} characters",
    "string_pattern_mismatch": "is not written as it should be",
    "string_type": "is no text",
    "bool_parsing": "is neither yes nor no",
    "bool_type": "is neither yes nor no",
    "float_type": "is no number",
    "decimal_parsing": "is no number",
    "decimal_max_places": "has more than {decimal_places} decimals",
    "finite_number": "is no number",
    "greater_than": "must be more than {gt}",
    "greater_than_equal": "must be {ge} or more",
    "less_than": "must be less than {lt}",
    "less_than_equal": "must be {le} or less",
    "literal_error": "must be one of {expected}",
    "enum": "must be one of {expected}",
    "too_short": "needs at least {min_length}",
    "too_long": "takes at most {max_length}",
    "extra_forbidden": "is not known here",
}


def _in_words(item: ErrorDetails) -> str:
    """A fault of the shape in the words of the person; never those of the validator."""
    about = item.get("ctx", {})
    known = _PATTERNS.get(str(about.get("pattern"))) or _KINDS.get(item["type"], "is not what is asked for here")
    return known.format_map(about)


def handle_problems(app: Flask) -> None:
    """Turn the core's errors, and the server's own, into problems."""

    @app.errorhandler(TobbixError)
    def refused(error: TobbixError) -> Response:
        match error:
            case InputError():
                return problem(422, str(error), [describe(fault) for fault in error.faults])
            case NeedsConfirmation():
                return problem(409, str(error), [describe(q) for q in error.questions], error.flag)
            case Conflict():
                return problem(409, str(error))
            case NotFound():
                return problem(404, str(error))
        return problem(400, str(error))

    @app.errorhandler(MustWait)
    def wait(error: MustWait) -> Response:
        response = problem(429, str(error))
        response.headers["Retry-After"] = str(error.seconds)
        return response

    @app.errorhandler(HTTPException)
    def failed(error: HTTPException) -> Response:
        original = error.get_response()  # keeps what a status brings along, as Allow with 405
        response = problem(error.code or 500, error.description or "")
        for name, value in original.headers.items():
            if name not in ("Content-Type", "Content-Length"):
                response.headers[name] = value
        return response
