"""The command line: ``tobbix …``."""

import json
import logging
import sys
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any, ParamSpec, TypeVar

import click
from gunicorn.app.base import BaseApplication

from tobbix.api.documenting import finish_document
from tobbix.app import create_app
from tobbix.config import Config
from tobbix.core.base.errors import InputError, NeedsConfirmation, TobbixError
from tobbix.core.products.box_value import BoxValue, find_box_value
from tobbix.core.products.valuation import Holding, Unit, ValueBasis
from tobbix.demo.scenario import load_demo
from tobbix.formats.product_sheets import MOST_BYTES, SheetFile, parse_sheet
from tobbix.services.installation import backups, owners, store
from tobbix.services.products import importing

P = ParamSpec("P")
R = TypeVar("R")


def plain_errors(command: Callable[P, R]) -> Callable[P, R]:
    """Say what was refused in plain words, a line for each fault, and leave with 1."""

    @wraps(command)
    def wrapped(*args: P.args, **kwargs: P.kwargs) -> R:
        try:
            return command(*args, **kwargs)
        except InputError as error:
            for fault in error.faults:
                click.echo(str(fault), err=True)
        except NeedsConfirmation as error:
            for question in error.questions:
                click.echo(str(question), err=True)
            click.echo(f"Nothing was changed. To confirm, add --{error.flag.replace('_', '-')}.", err=True)
        except TobbixError as error:
            click.echo(str(error), err=True)
        sys.exit(1)

    return wrapped


@click.group()
@click.version_option(package_name="tobbix")
def main() -> None:
    """Tobbix: what sealed cards are worth, and what becomes of them."""


def _read(path: Path) -> bytes:
    if path.stat().st_size > MOST_BYTES:
        raise InputError.at("file", f"{path} is larger than {MOST_BYTES // 1024 // 1024} MB")
    return path.read_bytes()


SHEET = click.Path(exists=True, dir_okay=False, path_type=Path)
PRICE = click.FloatRange(0, 99_999_999)


@main.command()
@click.argument("sheet", type=SHEET)
@click.option("--format", "format_id", required=True, help="The id of the format.")
@click.option("--boxes", default=1, show_default=True, type=click.IntRange(1, 1_000), help="How many boxes.")
@click.option("--price", type=PRICE, help="Price per box; the sheet's if left out.")
@click.option("--basis", type=click.Choice([b.value for b in ValueBasis]), default="gross", show_default=True)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object.")
@plain_errors
def box_value(sheet: Path, format_id: str, boxes: int, price: float | None, basis: str, as_json: bool) -> None:
    """What a box of a product sheet is worth: needs no database. Figures of several boxes are totals."""
    read = parse_sheet(_read(sheet)).sheet
    value = find_box_value(read, format_id, Holding(Unit.BOXES, boxes))
    if price is None and value.valuation.format.price is not None:
        price = float(value.valuation.format.price)
    figures = describe_value(value, price)
    if as_json:
        click.echo(json.dumps(figures, ensure_ascii=False, indent=1))
        return
    what = f"{boxes} x {value.valuation.format.name}" if boxes > 1 else value.valuation.format.name
    click.echo(f"{what}, before selling costs ({read.currency}, prices of {read.priced_on})")
    bound = "at least " if value.lower_bound else ""
    click.echo(f"  average {bound}{value.mean:.2f}, middle {value.outcomes.quantile(0.5):.2f}")
    if figures["chance_of_break_even"] is not None and price is not None:
        click.echo(f"  chance of {price * boxes:.2f} or more: {figures['chance_of_break_even']:.1%}")
    for left in value.left_out:
        click.echo(f"  left out: {left.name} ({left.why})")


def describe_value(value: BoxValue, price: float | None) -> dict[str, Any]:
    """The figures of ``box-value`` as the open format names them. ``price`` is per box; without one, no chance."""
    outcomes, boxes = value.outcomes, value.holding.boxes
    return {
        "format": value.valuation.format.id,
        "boxes": boxes,
        "basis": value.basis.value,
        "price": None if price is None else f"{price:.2f}",
        "mean": value.mean,
        "sd": outcomes.deviation,
        "quantiles": {f"{share:g}": amount for share, amount in value.quantiles.items()},
        "chance_of_break_even": None if price is None else outcomes.chance_at_least(price * boxes),
        "worst_tenth": value.worst_tenth,
        "grid_step": outcomes.step,
        "wrap_around": outcomes.wrap_around,
        "lower_bound": value.lower_bound,
        "by_line": [{"line": s.line, "hits": s.hits, "value": s.value} for s in value.by_line],
        "assumed": [
            {"matter": a.matter.value, "line": a.line, "cards": list(a.cards), "high": a.high, "low": a.low}
            for a in value.assumed
        ],
        "unknown": [{"matter": u.matter.value, "line": u.line, "hits": u.hits, "why": u.why} for u in value.left_out],
    }


@main.command()
@click.argument("sheet", type=SHEET)
@click.option("--confirm-silent", is_flag=True, help="Lines that are silent about a format are not in it.")
@click.option("--replace", "replace_existing", is_flag=True, help="Replace the release if it is there.")
@plain_errors
def import_sheet(sheet: Path, confirm_silent: bool, replace_existing: bool) -> None:
    """Take a product sheet (JSON or XLSX) in."""
    workshop = store.open_workshop(_database())
    done = importing.import_sheet(workshop, _read(sheet), confirm_silent, replace_existing)
    click.echo(f"{done.sheet.release.title}: {done.outcome.value}, revision {done.sheet.revision}")


@main.command()
@click.argument("release")
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@plain_errors
def export_sheet(release: str, target: Path) -> None:
    """Write a release's product sheet to TARGET, as .json or .xlsx."""
    form = target.suffix.removeprefix(".").lower()
    if form not in [f.value for f in SheetFile]:
        raise InputError.at("target", "must end in .json or .xlsx")
    content = importing.export_sheet(store.open_workshop(_database()), release, SheetFile(form))
    target.write_bytes(content)
    click.echo(f"{target}: {len(content):,} bytes")


@main.command()
@plain_errors
def migrate() -> None:
    """Bring the database to the shape that this version needs."""
    store.migrate_store(_database())


@main.command()
@click.option("--reset", is_flag=True, help="Throw away everything that is stored first.")
@plain_errors
def demo(reset: bool) -> None:
    """Load the invented demo scenario, once."""
    database = _database()
    if reset:
        owners.check_is_demo(database)
        store.empty_store(database)
    click.echo(load_demo(database))


@main.command()
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
def document(target: Path) -> None:
    """Write the API's OpenAPI document to TARGET (for developers)."""
    content = json.dumps(finish_document(create_app(Config())), ensure_ascii=False, indent=1, sort_keys=True)
    target.write_text(content + "\n", encoding="utf-8")


@main.command()
@click.option("--name", prompt=True)
@click.option("--replace", is_flag=True, help="Replace the present owner's name and passphrase.")
@click.password_option("--passphrase", help="Asked for if left out, which is safer.")
@plain_errors
def create_owner(name: str, replace: bool, passphrase: str) -> None:
    """Make the one owner, or change the passphrase."""
    owners.create_owner(_database(), name, passphrase, replace)
    click.echo("Done. Sessions that were open are ended.")


@main.command()
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@plain_errors
def backup(target: Path) -> None:
    """Write everything that is stored to TARGET (plain SQL, gzipped)."""
    config = Config()
    size = backups.back_up(config.database_url.get_secret_value(), config.postgres_bin, target)
    click.echo(f"{target}: {size:,} bytes")


@main.command()
@click.argument("source", type=SHEET)
@click.confirmation_option(prompt="This replaces everything that is stored now. Go on?")
@plain_errors
def restore(source: Path) -> None:
    """Replace everything that is stored by a backup."""
    config = Config()
    backups.restore(_database(), config.database_url.get_secret_value(), config.postgres_bin, source)
    click.echo("Restored.")


@main.command()
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=8350, show_default=True, type=click.IntRange(1, 65535))
@click.option("--pid", type=click.Path(dir_okay=False, path_type=Path), help="Write the process's number here.")
@plain_errors
def serve(host: str, port: int, pid: Path | None) -> None:
    """Serve the application."""
    database = _database()
    owners.check_listening(database, host)
    database.engine.dispose()
    logging.getLogger("gunicorn.error").setLevel(logging.WARNING)
    Server({"bind": f"{host}:{port}", "pidfile": str(pid) if pid else None}).run()


class Server(BaseApplication):  # type: ignore[misc]
    """One process with threads: one owner, one memory of what was worked out."""

    def __init__(self, options: dict[str, Any]) -> None:
        self._options = options
        super().__init__()

    def load_config(self) -> None:
        settings = {"workers": 1, "threads": 4, "worker_class": "gthread", "timeout": 120, "graceful_timeout": 5,
                    "control_socket_disable": True, **self._options}  # fmt: skip
        for name, value in settings.items():
            if name in self.cfg.settings and value is not None:
                self.cfg.set(name, value)

    def load(self) -> Any:
        return create_app(Config())


def _database() -> Any:
    return store.open_store(Config().database_url.get_secret_value())
