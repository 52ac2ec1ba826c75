"""pages of results: prices that came in together can be taken back together; words of titles that were explained; the
words that a version is looked up with"""

from alembic import op

revision = "b64d0e8f2a17"
down_revision = "0b6d4f9a2c73"
branch_labels = None
depends_on = None

STATEMENTS = """
create table comp_batch (
    id bigserial constraint pk_comp_batch primary key,
    what varchar(200) not null,
    day date not null,
    withdrawn_at timestamptz,
    made_at timestamptz not null default now()
);
alter table comp add column batch_id bigint constraint fk_comp_batch_id_comp_batch references comp_batch (id);
create index ix_comp_batch_id on comp (batch_id) where batch_id is not null;
create table taught_words (
    id bigserial constraint pk_taught_words primary key,
    release_id bigint constraint fk_taught_words_release_id_release references release (id),
    words varchar(100) not null,
    means varchar(10) not null,
    value varchar(200) not null,
    made_at timestamptz not null default now(),
    constraint ck_taught_words_means check (means in ('line', 'variant', 'state', 'no_card'))
);
create unique index uq_taught_words on taught_words (words, coalesce(release_id, 0));
create table search_words (
    version_id bigint not null constraint fk_search_words_version_id_version references version (id)
        constraint pk_search_words primary key,
    words varchar(300) not null,
    without varchar(300) not null
);
"""


def upgrade() -> None:
    for statement in STATEMENTS.split(";\n"):
        if statement.strip():
            op.execute(statement)


def downgrade() -> None:
    op.execute("drop table search_words")
    op.execute("drop table taught_words")
    op.execute("alter table comp drop column batch_id")
    op.execute("drop table comp_batch")
