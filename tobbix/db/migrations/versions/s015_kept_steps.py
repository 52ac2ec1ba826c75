"""steps of a list that were ticked"""

from alembic import op

revision = "d7a94b2c6e13"
down_revision = "c1e83f5a9d24"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table kept_step (
    "of" varchar(60) not null,
    step varchar(40) not null,
    done_at timestamptz not null default now(),
    constraint pk_kept_step primary key ("of", step)
)""")


def downgrade() -> None:
    op.execute("drop table kept_step")
