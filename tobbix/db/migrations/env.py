"""Alembic's entry: run on the connection that ``tobbix.db.migrating`` hands over."""

from alembic import context

from tobbix.db.migrating import METADATA, is_ours

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=METADATA, compare_type=True, include_object=is_ours)
with context.begin_transaction():
    context.run_migrations()
