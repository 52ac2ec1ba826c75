"""The application, wired together."""

import logging
import secrets
from datetime import timedelta
from functools import partial
from mimetypes import guess_type
from pathlib import Path
from typing import Any

from flask import Flask, Response, abort, make_response, request, send_from_directory
from flask.json.provider import DefaultJSONProvider
from flask_compress import Compress
from flask_openapi3 import Info, OpenAPI
from sqlalchemy.exc import DataError, DBAPIError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from werkzeug.security import safe_join

from tobbix.api.base.acts import Application, is_act
from tobbix.api.base.context import Context
from tobbix.api.base.documenting import finish_document, operation_id
from tobbix.api.base.fields import check_document
from tobbix.api.base.problems import Problem, handle_problems, invalid_request, problem
from tobbix.api.base.security import Guard, nonce, secure
from tobbix.api.books import routes as books
from tobbix.api.buying import routes as buying
from tobbix.api.buying import target_routes
from tobbix.api.grading import looking_routes, profile_routes, record_routes, submission_routes
from tobbix.api.installation import desk_routes
from tobbix.api.installation import routes as installation
from tobbix.api.opening import routes as opening
from tobbix.api.pricing import borrowing_routes, fetching_routes, list_routes, pasting_routes, tabling_routes
from tobbix.api.pricing import routes as pricing
from tobbix.api.products import naming_routes, planning_routes
from tobbix.api.products import routes as products
from tobbix.api.selling import leaving_routes, listing_routes, parcel_routes
from tobbix.api.selling import routes as selling
from tobbix.api.sorting import entering_routes, goal_routes, judging_routes
from tobbix.api.sorting import planning_routes as sorting_routes
from tobbix.api.stock import photo_routes
from tobbix.api.stock import routes as stock
from tobbix.api.tasks import routes as tasks
from tobbix.config import FOLDER, Config
from tobbix.db.base import Unsure
from tobbix.demo.scenario import add_demo_releases
from tobbix.formats.limits import MOST_BYTES, MOST_UPLOADED
from tobbix.gateways.folder import FolderScanner
from tobbix.gateways.ports import PriceSource, Scanner, SellingService
from tobbix.gateways.shipped import GRADERS, MARKETPLACES
from tobbix.gateways.standins.graders import SimulatedGrader
from tobbix.gateways.standins.markets import SimulatedAuctions, SimulatedMarket
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.reader import SimulatedReader
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.gateways.standins.scanner import SimulatedScanner
from tobbix.gateways.standins.selling import SimulatedMarketplace
from tobbix.services.installation.progress import ProgressBoard
from tobbix.services.installation.signing_in import Limits
from tobbix.services.installation.store import open_catalogue, open_store
from tobbix.services.pricing.fetching import list_goods
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.sorting.entering import list_codes

_NONCE = "__CSP_NONCE__"
_LONGEST_NAME = 200  # of a file of the interface; the file system takes no part over 255 bytes
_PACKED = {"br": ".br", "gzip": ".gz"}  # made when the interface is built
_MOST_FORM = 512 * 1024  # of the fields of a form, without its files
_DOWN = "The database does not answer just now. {done} Try again in a moment."
_NOTHING = "Nothing was changed."
_UNSURE = "The database went away in the moment of storing: it may be stored or not. Look before you send it again."

log = logging.getLogger("tobbix.web")


class _Json(DefaultJSONProvider):
    """Bodies of requests: what nothing here can need is refused before anybody works with it."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        try:
            document = super().loads(s, **kwargs)
        except RecursionError:
            raise ValueError("it is nested too deeply") from None
        check_document(document)
        return document


def find_sources(config: Config, catalogue: Catalogue) -> tuple[PriceSource, ...]:
    """What prices are fetched from: simulated stand-ins, which have no place among an owner's own prices."""
    if config.own:
        return ()
    goods = partial(list_goods, catalogue)
    return SimulatedMarket("Bellbuoy", goods), SimulatedAuctions("Gavelrock", goods)


def find_markets(config: Config) -> tuple[SellingService, ...]:
    """The markets that can be asked to sell: simulated ones, which have no place beside an owner's own sales."""
    return () if config.own else tuple(SimulatedMarketplace(name, keeps) for name, keeps in MARKETPLACES)


def find_scanner(config: Config) -> Scanner | None:
    """The folder that a scanner puts its files into; beside no owner's own, a simulated one fills it."""
    if config.own:
        return None if config.scans is None else FolderScanner(config.scans)
    return SimulatedScanner(config.scans or FOLDER / "scans")


def create_app(config: Config, catalogue: Catalogue | None = None) -> OpenAPI:
    """The application with its store; ``catalogue`` stands in for the one that the configuration leads to."""
    app = Application(
        "tobbix",
        info=Info(title="Tobbix", version="0.1.0", description="What sealed cards are worth."),
        validation_error_model=Problem,
        validation_error_callback=invalid_request,
        operation_id_callback=operation_id,
        doc_ui=False,
        static_folder=None,
    )
    app.json = _Json(app)
    app.secret_key = config.secret_key.get_secret_value() if config.secret_key else secrets.token_hex(32)
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES + _MOST_FORM
    # Also how much of a file the parser holds at once: with less than two of its blocks, it refuses long texts.
    app.config["MAX_FORM_MEMORY_SIZE"] = _MOST_FORM
    catalogue = catalogue or open_catalogue(open_store(config.database_url.get_secret_value()))
    app.extensions["tobbix"] = Context(
        catalogue, SimulatedRates(), SimulatedScale(), None if config.own else add_demo_releases, config.instance,
        ProgressBoard(), config.backups, find_sources(config, catalogue),
        None if config.own else SimulatedReader(partial(list_codes, catalogue)), find_scanner(config),
        () if config.own else tuple(map(SimulatedGrader, GRADERS)),
        find_markets(config),
    )  # fmt: skip
    limits = Limits(timedelta(hours=config.idle_hours), timedelta(days=config.longest_days))

    @app.before_request
    def allow_backups() -> None:
        if request.endpoint == "installation.restore_backup":
            request.max_content_length = MOST_UPLOADED

    secure(app, catalogue, Guard(config.secure_cookie, config.own_names, limits))
    handle_problems(app)
    _handle_failures(app)
    _compress(app)
    rooms = (
        installation, desk_routes, tasks, products, naming_routes, planning_routes, pricing, pasting_routes,
        tabling_routes, fetching_routes, list_routes, buying, target_routes, opening, stock, books, sorting_routes,
        entering_routes, judging_routes, goal_routes, borrowing_routes, photo_routes, looking_routes, profile_routes,
        submission_routes, record_routes, selling, parcel_routes, listing_routes, leaving_routes,
    )  # fmt: skip
    for room in rooms:
        app.register_api(room.blueprint)
    document = finish_document(app)
    app.add_url_rule("/api/openapi.json", "read_document", lambda: document)
    _serve_interface(app, config)
    return app


def _handle_failures(app: Flask) -> None:
    """What is nobody's mistake: said plainly, and only what is true of what was stored."""

    @app.errorhandler(Exception)
    def unforeseen(error: Exception) -> Response:
        log.error("a request failed: %s %s", request.method, request.path, exc_info=error)
        done = f" {_NOTHING}" if is_act() else ""
        return problem(500, f"Something went wrong here.{done}")

    @app.errorhandler(DataError)
    def unstorable(error: DataError) -> Response:
        log.warning("something cannot be stored: %s: %s", request.path, type(error.orig).__name__)
        return problem(422, "It holds a character or a number that cannot be stored.")

    @app.errorhandler(PoolTimeout)
    @app.errorhandler(DBAPIError)
    def down(error: Exception) -> Response:
        if isinstance(error, DBAPIError) and not is_down(error):
            return unforeseen(error)
        log.warning("the database does not answer: %s %s", request.method, request.path)
        return _later(_DOWN.format(done=_NOTHING))

    @app.errorhandler(Unsure)
    def unsure(error: Unsure) -> Response:
        log.error("the end of a transaction is not known: %s %s", request.method, request.path)
        return _later(_UNSURE)


def is_down(error: DBAPIError) -> bool:
    """Whether the database cannot be reached or has just gone (class 57P: it is shut down, or ended the connection)."""
    state = getattr(error.orig, "sqlstate", None)
    return error.connection_invalidated or state is None or str(state).startswith(("57P", "08"))


def _later(detail: str) -> Response:
    response = problem(503, detail)
    response.headers["Retry-After"] = "2"
    return response


def _compress(app: Flask) -> None:
    """Answers that are worth it; never the session's, whose token could be guessed from lengths."""
    app.config.update(
        COMPRESS_MIMETYPES=["application/json", "text/csv", "text/plain"], COMPRESS_MIN_SIZE=1_000,
        COMPRESS_ALGORITHM=["br", "gzip"], COMPRESS_BR_LEVEL=4, COMPRESS_REGISTER=False,
    )  # fmt: skip
    compress = Compress(app)

    @app.after_request
    def pack(response: Response) -> Response:
        if request.endpoint in ("installation.read_session", "installation.start_session"):
            return response
        packed: Response = compress.after_request(response)
        return packed


def _serve_interface(app: Flask, config: Config) -> None:
    """The built front end: files of the folder as they are, everything else is its page."""
    folder = config.frontend.absolute()

    def show_interface(path: str) -> Response:
        if path.startswith("api/"):
            abort(404, "There is no such address.")
        inside = safe_join(str(folder), path)
        if inside is None:  # out of the folder: the same answer whatever is there
            abort(404, "There is no such address.")
        if path and path != "index.html" and len(path) < _LONGEST_NAME and Path(inside).is_file():
            return _give_file(folder, path)
        if path.startswith("assets/") or not (folder / "index.html").is_file():
            abort(404, "There is no such file.")
        page = make_response((folder / "index.html").read_text(encoding="utf-8").replace(_NONCE, nonce()))
        page.headers["Cache-Control"] = "no-store"
        return page

    app.add_url_rule("/", view_func=show_interface, defaults={"path": ""})
    app.add_url_rule("/<path:path>", view_func=show_interface)


def _give_file(folder: Path, path: str) -> Response:
    """A file of the interface, packed if it is there so and the browser takes it."""
    takes = request.accept_encodings
    packing = next((p for p in _PACKED if takes[p] and (folder / (path + _PACKED[p])).is_file()), "")
    response = send_from_directory(folder, path + _PACKED.get(packing, ""), mimetype=guess_type(path)[0])
    if packing:
        response.headers["Content-Encoding"] = packing
    response.headers["Vary"] = "Accept-Encoding"
    if path.startswith("assets/"):
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
    return response
