"""Changing requests as acts: each in one transaction with its answer, once however often it is sent.

The key of an act is the header ``Idempotency-Key``.
"""

from hashlib import sha256
from secrets import token_hex

from flask import Response, make_response, request
from flask.typing import ResponseReturnValue
from flask_openapi3 import OpenAPI

from tobbix.api.base.context import catalogue
from tobbix.api.base.fields import read_upload
from tobbix.core.base.errors import InputError
from tobbix.services.installation.sending import Answer, carry_out

_READING = ("GET", "HEAD", "OPTIONS")
_LONGEST_KEY = 64
# They keep what a refusal must not take back (a failed sign-in), or end the very sessions they would be stored with.
APART = frozenset({"installation.start_session", "installation.end_session", "installation.restore_backup"})


class Application(OpenAPI):
    """The application; a request that changes something is stored with its answer, or not at all."""

    def dispatch_request(self) -> ResponseReturnValue:
        if request.routing_exception or request.method in _READING or request.endpoint in APART:
            return super().dispatch_request()
        made: list[Response] = []

        def work() -> Answer:
            response = make_response(super(Application, self).dispatch_request())
            made.append(response)
            return Answer(response.status_code, response.get_data(as_text=True))

        key = act_key()
        answer = carry_out(catalogue().database, key, "" if key is None else _digest(), work)
        if made:
            return made[-1]
        response = make_response(answer.body, answer.status)
        response.content_type = "application/json"
        response.headers["Idempotent-Replayed"] = "true"
        return response


def act_key() -> str | None:
    """The key of this request's act; None without one. Raises InputError for one that is none."""
    key = request.headers.get("Idempotency-Key")
    if not key:
        return None
    if len(key) > _LONGEST_KEY or not key.isprintable():
        raise InputError.at("Idempotency-Key", f"must be 1 to {_LONGEST_KEY} printable characters")
    return key


def key_or_fresh() -> str:
    """The key of this request's act, for what is made once by it; without one it is a fresh one."""
    return act_key() or token_hex(16)


def _digest() -> str:
    """What is asked, whatever the sender's boundaries between its parts are."""
    digest = sha256(f"{request.method} {request.full_path}\n".encode())
    if request.mimetype != "multipart/form-data":
        digest.update(request.get_data())
        return digest.hexdigest()
    for name, value in sorted(request.form.items(multi=True)):
        digest.update(f"{name}={len(value)}:{value}\n".encode())
    for name, file in sorted(request.files.items(multi=True), key=lambda item: item[0]):
        content = read_upload(file)
        digest.update(f"{name}={len(content)}:".encode())
        digest.update(content)
    return digest.hexdigest()


def is_act() -> bool:
    """Whether this request was carried out as an act, so that its failure left nothing behind."""
    return request.method not in _READING and request.endpoint not in APART
