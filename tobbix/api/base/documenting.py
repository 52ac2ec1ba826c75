"""The OpenAPI document, and views that return models."""

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec

from flask import Response, make_response
from flask_openapi3 import OpenAPI
from pydantic import BaseModel

P = ParamSpec("P")

_PROBLEM = {
    "description": "Refused, with the reason in plain words",
    "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
}


def answer(model: BaseModel | None, status: int = 200) -> Response:
    """A model as a response in JSON."""
    response = make_response("" if model is None else model.model_dump_json(), status)
    response.content_type = "application/json"
    return response


def returns(status: int = 200) -> Callable[[Callable[P, BaseModel | None]], Callable[P, Response]]:
    """Let a view return an instance of its model (or nothing); it becomes the JSON response."""

    def decorate(view: Callable[P, BaseModel | None]) -> Callable[P, Response]:
        @wraps(view)
        def wrapped(*args: P.args, **kwargs: P.kwargs) -> Response:
            return answer(view(*args, **kwargs), status)

        return wrapped

    return decorate


def operation_id(*, name: str = "", **_: object) -> str:
    """The view's name, which is unique."""
    return name


def finish_document(app: OpenAPI) -> dict[str, Any]:
    """The document as it is served: every refusal is a problem, no empty schemes."""
    document: dict[str, Any] = app.api_doc
    if document.get("components", {}).get("securitySchemes", 0) is None:
        del document["components"]["securitySchemes"]
    for path in document["paths"].values():
        for operation in path.values():
            kept = {status: r for status, r in operation["responses"].items() if not str(status).startswith("4")}
            operation["responses"] = {**kept, "4XX": _PROBLEM}
    return document
