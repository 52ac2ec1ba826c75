"""Commands that work on the installation: its store, owner, demo, backups and server."""

import json
from datetime import UTC, datetime
from pathlib import Path

import click

from tobbix.api.base.documenting import finish_document
from tobbix.app import create_app
from tobbix.cli.words import SHEET, plain_errors, read_file
from tobbix.config import Config
from tobbix.core.base.errors import Conflict, InputError, NeedsConfirmation
from tobbix.demo.scenario import load_demo
from tobbix.formats.product_sheets import SheetFile
from tobbix.gateways.shipped import GRADERS
from tobbix.gateways.standins.graders import SimulatedGrader
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale
from tobbix.services.installation import backups, keeping, owners, preferences, store
from tobbix.services.installation.store import Store
from tobbix.services.products import importing


@click.command()
@click.argument("sheet", type=SHEET)
@click.option("--confirm-silent", is_flag=True, help="Lines that are silent about a format are not in it.")
@click.option("--replace", "replace_existing", is_flag=True, help="Replace the release if it is there.")
@click.option(
    "--same-release/--other-release",
    "take_over",
    default=None,
    help="It is, or is not, the release that is known as far as seen.",
)
@plain_errors
def import_sheet(sheet: Path, confirm_silent: bool, replace_existing: bool, take_over: bool | None) -> None:
    """Take a product sheet (JSON, XLSX, or a zip of CSV files) in."""
    catalogue = store.open_catalogue(_database())
    done = importing.import_sheet(catalogue, read_file(sheet), confirm_silent, replace_existing, take_over)
    click.echo(f"{done.sheet.release.title}: {done.outcome.value}, revision {done.sheet.revision}")


@click.command()
@click.argument("release")
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@plain_errors
def export_sheet(release: str, target: Path) -> None:
    """Write a release's product sheet to TARGET, as .json, .xlsx or .zip (of CSV files)."""
    form = target.suffix.removeprefix(".").lower()
    if form not in [f.value for f in SheetFile]:
        raise InputError.at("target", "must end in .json, .xlsx or .zip")
    content = importing.export_sheet(store.open_catalogue(_database()), release, SheetFile(form))
    target.write_bytes(content)
    click.echo(f"{target}: {len(content):,} bytes")


@click.command()
@plain_errors
def migrate() -> None:
    """Bring the database to the shape that this version needs; what is stored is backed up before."""
    database = _database()
    saved = keeping.back_up_before_migrating(database, Config().backups, datetime.now(UTC).date())
    if saved is not None:
        click.echo(f"Backed up before the change: {saved}")
    store.migrate_store(database)


@click.command()
@click.option("--reset", is_flag=True, help="Throw away everything that is stored first.")
@plain_errors
def demo(reset: bool) -> None:
    """Load the invented demo scenario, once."""
    if Config().own:
        raise Conflict("this installation is its owner’s; the demo has a folder of its own (make demo)")
    database = _database()
    if reset:
        owners.check_is_demo(database)
        store.empty_store(database)
    click.echo(load_demo(database, SimulatedRates(), SimulatedScale(), graders=tuple(map(SimulatedGrader, GRADERS))))


@click.command()
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
def document(target: Path) -> None:
    """Write the API's OpenAPI document to TARGET (for developers)."""
    content = json.dumps(finish_document(create_app(Config())), ensure_ascii=False, indent=1, sort_keys=True)
    target.write_text(content + "\n", encoding="utf-8")


@click.command()
@click.argument("message")
@plain_errors
def new_step(message: str) -> None:
    """Write the migration from the stored shape to the tables of the code (for developers); read it, then keep it."""
    if not message.strip():
        raise InputError.at("message", "say what the step does")
    store.write_step(_database(), message)


@click.command()
@click.option("--name", prompt=True)
@click.option("--replace", is_flag=True, help="Replace the present owner's name and passphrase.")
@click.option("--currency", help="The home currency by its code, like EUR; for good once something is booked.")
@click.password_option("--passphrase", help="Asked for if left out, which is safer.")
@plain_errors
def create_owner(name: str, replace: bool, currency: str | None, passphrase: str) -> None:
    """Make the one owner, or change the passphrase."""
    database = _database()
    owners.create_owner(database, name, passphrase, replace)
    if currency is not None:
        now = preferences.read_preferences(database)
        today = datetime.now(UTC).date()
        preferences.choose_home(database, currency.upper(), now.sheet_condition, now.version, today)
    click.echo("Done. Sessions that were open are ended.")


@click.command()
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@plain_errors
def backup(target: Path) -> None:
    """Write everything that is stored to TARGET: a zip of plain data, which no program can be hidden in."""
    size = backups.back_up(_database(), target)
    click.echo(f"{target}: {size:,} bytes")


@click.command()
@click.argument("source", type=SHEET)
@click.option("--yes", is_flag=True, help="Do not ask.")
@plain_errors
def restore(source: Path, yes: bool) -> None:
    """Replace everything that is stored by a backup. What it holds and what it replaces is said first."""
    database = _database()
    if not yes:
        try:
            backups.restore(database, source, confirmed=False)
        except NeedsConfirmation as found:
            for question in found.questions:
                click.echo(question.message)
            click.confirm("Go on?", abort=True)
    done = backups.restore(database, source, confirmed=True)
    for column in done.unknown:
        click.echo(f"left out, since it is not kept any more: {column}", err=True)
    click.echo(f"Restored: {done.words}.")


@click.command()
@click.argument("source", type=SHEET, required=False)
@click.option("--scratch", required=True, help="The URL of a database that holds nothing.")
@plain_errors
def drill(source: Path | None, scratch: str) -> None:
    """Restore a backup, the newest daily one if none is named, where nothing can be hurt, and compare."""
    folder = Config().backups
    daily = [] if folder is None else keeping.list_daily(folder)
    if source is None and not daily:
        raise InputError.at("source", "name a backup: there is no daily one yet")
    file = source or daily[0].file
    database = store.open_store(scratch)
    click.get_current_context().call_on_close(database.engine.dispose)
    found = keeping.drill(file, database)
    click.echo(f"{file}: {found.words}.")
    if found.tables is None:
        click.echo("It is of an older version; it was brought to the present shape.")
    elif found.differing:
        raise Conflict(f"it did not come out as it went in: {', '.join(found.differing)}")
    else:
        click.echo(f"{found.tables} tables with {found.rows:,} rows came out as they went in.")


def _database() -> Store:
    """The store; its connections are closed when the command is done."""
    database = store.open_store(Config().database_url.get_secret_value())
    click.get_current_context().call_on_close(database.engine.dispose)
    return database
