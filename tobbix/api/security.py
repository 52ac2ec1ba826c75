"""Sign-in, sessions, request forgery and response headers."""

import secrets

from flask import Flask, Response, g, request
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user
from flask_wtf.csrf import CSRFProtect

from tobbix.api.problems import problem
from tobbix.services.installation.owners import Owner, current_owner
from tobbix.services.products.workshop import Workshop

limiter = Limiter(get_remote_address, storage_uri="memory://", headers_enabled=True)


class HeaderProtect(CSRFProtect):  # type: ignore[misc]
    """The token comes in a header only; a form that means harm is not read for it."""

    def _get_csrf_token(self) -> str | None:
        return request.headers.get("X-CSRFToken")


csrf = HeaderProtect()

OPEN = frozenset(
    {"installation.read_session", "installation.start_session", "installation.read_health", "read_document"}
)


class SignedIn(UserMixin):  # type: ignore[misc]
    """The owner in a session; a change of passphrase ends it."""

    def __init__(self, owner: Owner) -> None:
        self.owner = owner

    def get_id(self) -> str:
        return str(self.owner.session_number)


def nonce() -> str:
    """This response's nonce for styles."""
    if "nonce" not in g:
        g.nonce = secrets.token_urlsafe(16)
    return str(g.nonce)


def secure(app: Flask, workshop: Workshop, secure_cookie: bool) -> None:
    """Wire sign-in, forgery protection, limits and headers into the application."""
    app.config.update(
        SESSION_COOKIE_NAME="tobbix",
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SECURE=secure_cookie,
        WTF_CSRF_TIME_LIMIT=None,
        WTF_CSRF_SSL_STRICT=secure_cookie,
    )
    login = LoginManager(app)
    csrf.init_app(app)
    limiter.init_app(app)

    @login.user_loader  # type: ignore[untyped-decorator]
    def load(session_number: str) -> SignedIn | None:
        owner = current_owner(workshop.database)
        return SignedIn(owner) if owner is not None and str(owner.session_number) == session_number else None

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
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["X-Frame-Options"] = "DENY"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        if secure_cookie:
            response.headers["Strict-Transport-Security"] = "max-age=31536000"
        return response
