"""Commands that serve: the keeper (``serve``) and the two processes that it keeps (``web`` and ``work``)."""

import os
import signal
import socket
from pathlib import Path
from types import FrameType

import click

from tobbix.app import create_app
from tobbix.cli.keeping import Keeper, Place, bind, end_with
from tobbix.cli.logs import start_log
from tobbix.cli.web_server import make_web_server
from tobbix.cli.words import plain_errors
from tobbix.config import Config
from tobbix.formats.limits import MOST_UPLOADED
from tobbix.jobs.worker import run_worker
from tobbix.services.installation import owners, store

FOLDER = click.Path(file_okay=False, exists=True, path_type=Path)
LOG = click.option("--log", "log_file", type=click.Path(dir_okay=False, path_type=Path), help="Write a log here.")
PARENT = click.option("--parent", type=int, help="End with this process.")
_TRIED = 50


@click.command()
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8350, show_default=True, type=click.IntRange(1, 65535))
@click.option("--next-free", is_flag=True, help="Take the next free port if this one is taken.")
@click.option("--folder", type=FOLDER, help="Say here where it is, and keep the logs here; one at a time.")
@click.option("--cluster", type=FOLDER, help="Keep the database's cluster of this folder alive, too.")
@plain_errors
def serve(host: str, port: int, next_free: bool, folder: Path | None, cluster: Path | None) -> None:
    """Serve the application: a web server and a worker, started again whatever ends them."""
    config = Config()
    start_log(None if folder is None else folder / "keeper.log", config.secrets)
    place = None if folder is None else Place(folder)
    last = None if place is None else place.last_port()
    listener = bind(host, last or port, 1 if last or not next_free else _TRIED, 5 if last else 0)
    database = store.open_store(config.database_url.get_secret_value())
    owners.check_listening(database, host)
    database.engine.dispose()
    keeper = Keeper(listener, config.database_url.get_secret_value(), cluster, folder)
    if place is not None:
        place.announce(keeper.address, keeper.port, keeper.token)
    click.echo(keeper.address)
    keeper.run()
    if place is not None:
        place.leave()


@click.command()
@click.option("--socket", "descriptor", type=int, required=True, help="A socket that listens, handed over.")
@PARENT
@LOG
@plain_errors
def web(descriptor: int, parent: int | None, log_file: Path | None) -> None:
    """Answer requests on a socket that listens already (``serve`` starts this by itself)."""
    if parent is not None:
        end_with(parent)
    config = Config()
    start_log(log_file, config.secrets)
    listener = socket.socket(fileno=descriptor)
    host = listener.getsockname()[0]
    server = make_web_server(create_app(config.reached_at(str(host))), listener, MOST_UPLOADED)

    def stop(number: int, frame: FrameType | None) -> None:
        del number, frame
        raise SystemExit

    signal.signal(signal.SIGTERM, stop)
    server.run()
    os._exit(0)  # a thread that is still at work has its transaction rolled back


@click.command()
@PARENT
@LOG
@plain_errors
def work(parent: int | None, log_file: Path | None) -> None:
    """Carry out long computations from the queue (``serve`` starts this by itself)."""
    if parent is not None:
        end_with(parent)
    config = Config()
    start_log(log_file, config.secrets)
    run_worker(config.database_url.get_secret_value())
