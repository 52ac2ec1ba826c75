"""a target list: cards with a planned state and cost, and what the copies that were bought cost; its price bands"""

from alembic import op

revision = "c1e83f5a9d24"
down_revision = "b64d0e8f2a17"
branch_labels = None
depends_on = None

STATEMENTS = """
create table target (
    id bigserial constraint pk_target primary key,
    version_id bigint constraint fk_target_version_id_version references version (id),
    name varchar(300) not null,
    state varchar(60) not null,
    planned numeric(16, 3) not null,
    note varchar(500),
    version integer not null default 1,
    bought_state varchar(60),
    bought_on date,
    all_in numeric(16, 3),
    comp_low numeric(16, 3),
    comp_middle numeric(16, 3),
    comp_high numeric(16, 3),
    removed_at timestamptz,
    made_at timestamptz not null default now(),
    constraint ck_target_planned check (planned > 0),
    constraint ck_target_bought check (num_nulls(bought_state, bought_on, all_in) in (0, 3) and all_in >= 0),
    constraint ck_target_comps check (all_in is not null or num_nonnulls(comp_low, comp_middle, comp_high) = 0)
);
create index ix_target_version_id on target (version_id) where version_id is not null;
create table target_band (
    position integer not null constraint pk_target_band primary key,
    name varchar(40) not null,
    under numeric(16, 3)
);
"""


def upgrade() -> None:
    for statement in STATEMENTS.split(";\n"):
        if statement.strip():
            op.execute(statement)


def downgrade() -> None:
    op.execute("drop table target_band")
    op.execute("drop table target")
