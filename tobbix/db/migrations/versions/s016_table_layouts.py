"""what the columns of tables of prices mean"""

from alembic import op

revision = "e2b85c1f7a36"
down_revision = "d7a94b2c6e13"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table table_layout (
    heads varchar(64) not null constraint pk_table_layout primary key,
    columns jsonb not null,
    kept_at timestamptz not null default now()
)""")


def downgrade() -> None:
    op.execute("drop table table_layout")
