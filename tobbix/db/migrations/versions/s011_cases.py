"""a session may say of which case its boxes are, so that what the case promises is remembered over its evenings"""

from alembic import op

revision = "e7c2b91f5a40"
down_revision = "d1f0a7c4b925"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("alter table opening_session add column case_name varchar(60)")
    op.execute(
        "create index ix_opening_session_case on opening_session (format_id, case_name) where case_name is not null"
    )


def downgrade() -> None:
    op.execute("alter table opening_session drop column case_name")
