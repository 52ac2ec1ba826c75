"""The two processes that ``serve`` keeps: the web server and the worker."""

import os
import signal
import socket
from pathlib import Path
from types import FrameType

import click

from tobbix.app import create_app, find_markets, find_sources
from tobbix.cli.keeping import end_with
from tobbix.cli.logs import start_log
from tobbix.cli.web_server import make_web_server
from tobbix.cli.words import plain_errors
from tobbix.config import Config
from tobbix.formats.limits import MOST_UPLOADED
from tobbix.jobs.worker import Outside, run_worker

LOG = click.option("--log", "log_file", type=click.Path(dir_okay=False, path_type=Path), help="Write a log here.")
PARENT = click.option("--parent", type=int, help="End with this process.")


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
    run_worker(
        config.database_url.get_secret_value(), backups=config.backups,
        find_outside=lambda catalogue: Outside(find_sources(config, catalogue), find_markets(config)),
    )  # fmt: skip
