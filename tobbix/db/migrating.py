"""Bring the store to the current shape."""

from pathlib import Path

from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine

from tobbix.db.base import Table
from tobbix.db.buying import tables as buying
from tobbix.db.grading import tables as grading
from tobbix.db.holdings import documents
from tobbix.db.holdings import tables as holdings
from tobbix.db.installation import tables as installation
from tobbix.db.opening import tables as opening
from tobbix.db.pricing import comps, ways
from tobbix.db.products import tables
from tobbix.db.selling import tables as selling
from tobbix.db.sorting import tables as sorting
from tobbix.db.tasks import tables as tasks

METADATA = Table.metadata
# so that the metadata knows every table
TABLES = (
    installation.OwnerRow, ways.SellingWayRow, tables.ReleaseRow, holdings.ItemRow, buying.PurchaseRow,
    opening.SessionRow, comps.CompRow, tasks.TaskRow,
    documents.DocumentRow, sorting.SortingPlanRow, grading.GraderRow, selling.OrderRow,
)  # fmt: skip

MIGRATION_LOCK = 7_190_417  # any number: one migration at a time


def is_ours(item: object, name: str | None, kind: str, reflected: bool, other: object) -> bool:
    """Whether a thing of the database is kept by our steps; the queue of jobs keeps its own tables."""
    table = name if kind == "table" else getattr(getattr(item, "table", None), "name", None)
    return not str(table or "").startswith("procrastinate_")


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


def migrate(engine: Engine) -> None:
    """Apply all steps that are missing, in one transaction, one process at a time."""
    with engine.begin() as connection:
        connection.exec_driver_sql(f"select pg_advisory_xact_lock({MIGRATION_LOCK})")
        upgrade_to(connection, "head")


def upgrade_to(connection: Connection, revision: str) -> None:
    """Apply the steps up to a revision in the transaction of a connection, in the first schema that it sees."""
    config = _config()
    config.attributes["connection"] = connection
    command.upgrade(config, revision)


def is_known(revision: str) -> bool:
    """Whether there is such a step."""
    return revision in {step.revision for step in ScriptDirectory.from_config(_config()).walk_revisions()}


def newest() -> str:
    """The revision that this version needs."""
    return str(ScriptDirectory.from_config(_config()).get_current_head())


def stored(engine: Engine) -> str | None:
    """The revision of what is stored; None if nothing is."""
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision()


def new_step(engine: Engine, message: str) -> None:
    """Write the step that leads from the stored shape to the tables as they are in the code (for developers)."""
    with engine.begin() as connection:
        config = _config()
        config.attributes["connection"] = connection
        command.revision(config, message, autogenerate=True)


def differences(engine: Engine) -> list[object]:
    """What the stored shape lacks or has too much, against the code; empty if they agree."""
    with engine.connect() as connection:
        options = {"compare_type": True, "include_object": is_ours}
        return list(compare_metadata(MigrationContext.configure(connection, opts=options), METADATA))
