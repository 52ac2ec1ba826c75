"""the photos that go with a listing"""

from alembic import op

revision = "4fd0a86c1b93"
down_revision = "e91b4c7d2f60"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("alter table listing add column photos jsonb")


def downgrade() -> None:
    op.execute("alter table listing drop column photos")
