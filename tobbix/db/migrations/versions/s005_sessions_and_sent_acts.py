"""sessions that end on the server, acts that are answered once, an epoch of the store, the search's tools apart"""

from alembic import op

revision = "7c1e94d2b6a8"
down_revision = "5d1f0b7c2a94"
branch_labels = None
depends_on = None

# What the search needs of the database stands in a schema of its own: a restore swaps the owner's.
APART = """
do $$ begin
    if exists (select 1 from pg_extension e join pg_namespace n on n.oid = e.extnamespace
               where e.extname = 'pg_trgm' and n.nspname <> 'extensions') then
        drop extension pg_trgm cascade; -- with the index; only a superuser may move it
        create schema if not exists extensions;
        create extension pg_trgm schema extensions;
        create index ix_item_words on item using gin (words extensions.gin_trgm_ops);
    end if;
end $$
"""
UP = """
create table installation (
    id integer not null,
    epoch uuid default gen_random_uuid() not null,
    constraint pk_installation primary key (id),
    constraint ck_installation_only_one check (id = 1)
);
insert into installation (id) values (1);

create table sign_in (
    id bigserial not null,
    digest varchar(64) not null,
    began_at timestamp with time zone not null,
    seen_at timestamp with time zone not null,
    browser varchar(200) not null,
    constraint pk_sign_in primary key (id),
    constraint uq_sign_in_digest unique (digest)
);

create table sign_in_wait (
    who varchar(64) not null,
    failures integer not null,
    until timestamp with time zone not null,
    constraint pk_sign_in_wait primary key (who)
);

alter table sent add column act varchar(64) default '' not null;
alter table sent add column status integer default 0 not null;
alter table sent add column answer text default '' not null;
create index ix_sent_made_at on sent (made_at);

alter table owner drop column session_number;
"""
DOWN = """
alter table owner add column session_number integer default 1 not null;
alter table owner alter column session_number drop default;
drop index ix_sent_made_at;
alter table sent drop column answer;
alter table sent drop column status;
alter table sent drop column act;
drop table sign_in_wait;
drop table sign_in;
drop table installation;
"""


def upgrade() -> None:
    op.execute(APART)
    for statement in filter(str.strip, UP.split(";")):
        op.execute(statement)


def downgrade() -> None:
    for statement in filter(str.strip, DOWN.split(";")):
        op.execute(statement)
