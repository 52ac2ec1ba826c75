"""when the owner looked last at how prices changed"""

from alembic import op

revision = "f3c96d2a8b47"
down_revision = "e2b85c1f7a36"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table price_look (
    id integer not null constraint pk_price_look primary key constraint ck_price_look_only_one check (id = 1),
    seen_at timestamptz not null
)""")


def downgrade() -> None:
    op.execute("drop table price_look")
