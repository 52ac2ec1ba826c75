"""the school by which prices are read off sales"""

from alembic import op

revision = "a4d07e3b9c58"
down_revision = "f3c96d2a8b47"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
alter table preference add column school varchar(12) default 'weighted' not null;
alter table preference alter column school drop default;
alter table preference add constraint ck_preference_school
    check (school in ('weighted', 'median', 'average', 'last', 'lowest_ask', 'book'))""")


def downgrade() -> None:
    op.execute("alter table preference drop column school")
