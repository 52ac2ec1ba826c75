"""Sign-in, sessions, request forgery and response headers."""

import secrets
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from urllib.parse import urlsplit

from flask import Flask, Response, current_app, g, request
from flask_login import LoginManager, UserMixin, current_user
from flask_wtf.csrf import CSRFProtect
from itsdangerous import BadSignature, URLSafeSerializer

from tobbix.api.base.problems import problem
from tobbix.services.installation.owners import Owner
from tobbix.services.installation.signing_in import STRANGERS, Limits, find_owner_of
from tobbix.services.products.catalogue import Catalogue

LONGEST_ADDRESS = 32_000  # characters of path and query
_LOOPBACK = ("localhost", "127.0.0.1", "[::1]")
_SAFE = ("GET", "HEAD", "OPTIONS")
_YEAR = 31_536_000


class HeaderProtect(CSRFProtect):  # type: ignore[misc]
    """The token comes in a header only; a form that means harm is not read for it."""

    def _get_csrf_token(self) -> str | None:
        return request.headers.get("X-CSRFToken")


csrf = HeaderProtect()

OPEN = frozenset(
    {
        "installation.read_session", "installation.start_session", "installation.show_health", "read_document",
        "installation.begin_here", "installation.list_currencies",
    }
)  # fmt: skip


class SignedIn(UserMixin):  # type: ignore[misc]
    """The owner in a session, which lives as long as its row on the server."""

    def __init__(self, owner: Owner, token: str) -> None:
        self.owner = owner
        self.token = token

    def get_id(self) -> str:
        return self.token


@dataclass(frozen=True)
class Guard:
    """How this installation is reached, and how long its sessions live. ``names``: of the machine, as a browser asks
    for it, beside the loopback ones."""

    secure_cookie: bool
    names: tuple[str, ...]
    limits: Limits


def nonce() -> str:
    """This response's nonce for styles."""
    if "nonce" not in g:
        g.nonce = secrets.token_urlsafe(16)
    return str(g.nonce)


def now() -> datetime:
    return datetime.now(UTC)


def guard() -> Guard:
    found = current_app.extensions["guard"]
    assert isinstance(found, Guard)
    return found


def who_asks() -> str:
    """A browser in which the owner has signed in before, or a stranger."""
    try:
        return str(_known().loads(request.cookies.get(_known_name(), "")))
    except BadSignature:
        return STRANGERS


def note_browser(response: Response) -> None:
    """Let this browser be known from now on; the owner has just signed in."""
    who = who_asks()
    if who == STRANGERS:
        who = secrets.token_hex(16)
    response.set_cookie(
        _known_name(), _known().dumps(who), max_age=_YEAR, secure=guard().secure_cookie, httponly=True,
        samesite="Strict",
    )  # fmt: skip


def _known_name() -> str:
    return f"{current_app.config['SESSION_COOKIE_NAME']}-known"


def _known() -> URLSafeSerializer:
    return URLSafeSerializer(str(current_app.secret_key), salt="known browser")


def _cookie_name(secret: str, secure: bool) -> str:
    """A name of this instance's own, since browsers keep one jar for all ports of a machine."""
    return f"{'__Host-' if secure else ''}tobbix-{sha256(f'cookie {secret}'.encode()).hexdigest()[:8]}"


def secure(app: Flask, catalogue: Catalogue, wanted: Guard) -> None:
    """Wire sign-in, forgery protection and headers into the application."""
    app.extensions["guard"] = wanted
    app.config.update(
        TRUSTED_HOSTS=[*_LOOPBACK, *wanted.names],
        SESSION_COOKIE_NAME=_cookie_name(str(app.secret_key), wanted.secure_cookie),
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SECURE=wanted.secure_cookie,
        WTF_CSRF_TIME_LIMIT=None,
        WTF_CSRF_SSL_STRICT=False,  # where a request comes from is told by its Origin, which is checked here
    )
    login = LoginManager(app)

    @app.before_request
    def refuse_strange_requests() -> Response | None:
        if len(request.full_path) > LONGEST_ADDRESS:
            return problem(414, f"An address holds at most {LONGEST_ADDRESS:,} characters.")
        if request.method not in _SAFE and not _comes_from_here(wanted.secure_cookie):
            return problem(403, "That comes from another site and is not carried out.")
        return None

    csrf.init_app(app)

    @login.user_loader  # type: ignore[untyped-decorator]
    def load(token: str) -> SignedIn | None:
        owner = find_owner_of(catalogue.database, token, wanted.limits, now())
        return None if owner is None else SignedIn(owner, token)

    @app.before_request
    def require_owner() -> Response | None:
        if not request.path.startswith("/api/") or request.endpoint in OPEN or request.endpoint is None:
            return None
        return None if current_user.is_authenticated else problem(401, "Sign in first.")

    @app.after_request
    def harden(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = (
            f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce()}'; img-src 'self' data: blob:; "
            "font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'; "
            "object-src 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["X-Frame-Options"] = "DENY"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        if wanted.secure_cookie:
            response.headers["Strict-Transport-Security"] = f"max-age={_YEAR}"
        return response


def _comes_from_here(secure: bool) -> bool:
    """Whether a changing request was made by this installation's own page, or by no page at all."""
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        return False
    origin = request.headers.get("Origin")
    if origin is None:
        return True
    parts = urlsplit(origin)
    schemes = ("https",) if secure else ("http", "https")
    return parts.netloc.lower() == request.host.lower() and parts.scheme in schemes
