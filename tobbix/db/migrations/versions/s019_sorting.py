"""plans of sorting with their clocks, goals, flaws on things, and the owner's tables for judging"""

from alembic import op

revision = "b8e51d4f7a20"
down_revision = "a4d07e3b9c58"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table sorting_plan (
    id bigserial constraint pk_sorting_plan primary key,
    version integer not null,
    name varchar(120) not null,
    cards integer not null,
    hourly numeric(14, 4) not null,
    "table" integer not null,
    box_holds integer not null,
    passes jsonb not null,
    expected numeric(16, 3),
    item_id bigint,
    document_id bigint not null,
    shared_entry_id bigint,
    removed_at timestamptz,
    made_at timestamptz default now() not null,
    constraint fk_sorting_plan_item_id foreign key (item_id) references item (id),
    constraint fk_sorting_plan_document_id foreign key (document_id) references document (id),
    constraint fk_sorting_plan_shared_entry_id foreign key (shared_entry_id) references entry (id),
    constraint ck_sorting_plan_counts check (cards > 0 and "table" > 1 and box_holds > 0 and hourly >= 0)
);
create index ix_sorting_plan_item_id on sorting_plan (item_id);
create index ix_sorting_plan_document_id on sorting_plan (document_id);
create table sorting_run (
    id bigserial constraint pk_sorting_run primary key,
    plan_id bigint not null,
    place integer not null,
    kind varchar(10) not null,
    cards integer,
    minutes numeric(10, 2),
    started_at timestamptz not null,
    constraint fk_sorting_run_plan_id foreign key (plan_id) references sorting_plan (id),
    constraint ck_sorting_run_ended check (num_nulls(cards, minutes) in (0, 2) and cards >= 0 and minutes >= 0)
);
create index ix_sorting_run_plan_id on sorting_run (plan_id);
create unique index uq_sorting_run_running on sorting_run (plan_id) where minutes is null;
create table goal (
    id bigserial constraint pk_goal primary key,
    version integer not null,
    name varchar(120) not null,
    kind varchar(10) not null,
    release_id bigint,
    line_id bigint,
    number varchar(200),
    least varchar(60),
    slots jsonb not null,
    whole_price numeric(16, 3),
    whole_currency varchar(3),
    whole_day date,
    removed_at timestamptz,
    made_at timestamptz default now() not null,
    constraint fk_goal_release_id foreign key (release_id) references release (id),
    constraint fk_goal_line_id foreign key (line_id) references line (id),
    constraint ck_goal_kind check (kind in ('set', 'rainbow', 'slots')),
    constraint ck_goal_of check ((kind = 'slots') = (line_id is null) and (kind = 'rainbow') = (number is not null)
        and (line_id is null) = (release_id is null)),
    constraint ck_goal_whole check (num_nulls(whole_price, whole_currency, whole_day) in (0, 3) and whole_price >= 0)
);
create index ix_goal_release_id on goal (release_id);
create index ix_goal_line_id on goal (line_id);
create table flaw (
    id bigserial constraint pk_flaw primary key,
    item_id bigint not null,
    kind varchar(10) not null,
    side varchar(5) not null,
    size varchar(6) not null,
    x double precision not null,
    y double precision not null,
    constraint fk_flaw_item_id foreign key (item_id) references item (id) on delete cascade,
    constraint ck_flaw_place check (x >= 0 and x <= 1 and y >= 0 and y <= 1),
    constraint ck_flaw_side check (side in ('front', 'back')),
    constraint ck_flaw_size check (size in ('small', 'medium', 'large'))
);
create index ix_flaw_item_id on flaw (item_id);
create table judging_table (
    name varchar(20) constraint pk_judging_table primary key,
    content jsonb not null,
    version integer not null
)""")


def downgrade() -> None:
    op.execute("drop table judging_table, flaw, goal, sorting_run, sorting_plan")
