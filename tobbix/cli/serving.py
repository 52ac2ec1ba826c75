"""The command that serves: it binds, and keeps the web server and the worker (see ``tobbix.cli.keeping``)."""

from pathlib import Path

import click

from tobbix.cli.keeping import Keeper, Place, bind
from tobbix.cli.logs import start_log
from tobbix.cli.words import plain_errors
from tobbix.config import Config
from tobbix.services.installation import owners

FOLDER = click.Path(file_okay=False, exists=True, path_type=Path)
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
    owners.check_may_listen(config.database_url.get_secret_value(), host)
    keeper = Keeper(listener, config.database_url.get_secret_value(), cluster, folder)
    if place is not None:
        place.announce(keeper.address, keeper.port, keeper.token)
    click.echo(keeper.address)
    keeper.run()
    if place is not None:
        place.leave()
