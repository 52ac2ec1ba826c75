"""The application, wired together."""

import secrets

import structlog
from flask import Flask, Response, abort, jsonify, make_response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from sqlalchemy.exc import DataError

from tobbix.api import books, buying, installation, opening, pricing, stock
from tobbix.api.context import Context
from tobbix.api.documenting import finish_document, operation_id
from tobbix.api.problems import Problem, handle_problems, invalid_request, problem
from tobbix.api.products import planning_routes, routes
from tobbix.api.security import nonce, secure
from tobbix.config import Config
from tobbix.demo.scenario import add_demo_releases
from tobbix.formats.product_sheets import MOST_BYTES
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation.store import open_store, open_workshop
from tobbix.services.products.workshop import Workshop

_NONCE = "__CSP_NONCE__"

log = structlog.get_logger()


def create_app(config: Config, workshop: Workshop | None = None) -> OpenAPI:
    """The application with its store; ``workshop`` stands in for the one that the configuration leads to."""
    app = OpenAPI(
        "tobbix",
        info=Info(title="Tobbix", version="0.1.0", description="What sealed cards are worth."),
        validation_error_model=Problem,
        validation_error_callback=invalid_request,
        operation_id_callback=operation_id,
        doc_ui=False,
        static_folder=None,
    )
    app.secret_key = config.secret_key.get_secret_value() if config.secret_key else secrets.token_hex(32)
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES + 64 * 1024
    app.config["MAX_FORM_MEMORY_SIZE"] = 64 * 1024
    app.config["SIGN_IN_LIMIT"] = config.sign_in_limit
    workshop = workshop or open_workshop(open_store(config.database_url.get_secret_value()))
    app.extensions["tobbix"] = Context(workshop, SimulatedRates(), SimulatedScale(), add_demo_releases)
    secure(app, workshop, config.secure_cookie)
    handle_problems(app)
    app.register_api(installation.blueprint)
    app.register_api(routes.blueprint)
    app.register_api(planning_routes.blueprint)
    for blueprint in (pricing, buying, opening, stock, books):
        app.register_api(blueprint.blueprint)
    document = finish_document(app)

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> Response:
        log.error("a request failed", path=request.path, method=request.method, exc_info=error)
        response = jsonify(Problem(title="Internal Server Error", status=500,
                                   detail="Something went wrong here; nothing was changed.").model_dump())  # fmt: skip
        response.status_code = 500
        response.content_type = "application/problem+json"
        return response

    @app.errorhandler(DataError)
    def unstorable(error: DataError) -> Response:
        log.warning("something cannot be stored", path=request.path, reason=str(error.orig))
        return problem(422, "It holds a character or a number that cannot be stored.")

    app.add_url_rule("/api/openapi.json", "read_document", lambda: document)

    _serve_interface(app, config)
    return app


def _serve_interface(app: Flask, config: Config) -> None:
    """The built front end: files of the folder as they are, everything else is its page."""
    folder = config.frontend.absolute()

    def show_interface(path: str) -> Response:
        if path.startswith("api/"):
            abort(404, "There is no such address.")
        if path and path != "index.html" and (folder / path).is_file():
            response = send_from_directory(folder, path)
            if path.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        if path.startswith("assets/") or not (folder / "index.html").is_file():
            abort(404, "There is no such file.")
        page = make_response((folder / "index.html").read_text(encoding="utf-8").replace(_NONCE, nonce()))
        page.headers["Cache-Control"] = "no-store"
        return page

    app.add_url_rule("/", view_func=show_interface, defaults={"path": ""})
    app.add_url_rule("/<path:path>", view_func=show_interface)
