"""graders, carriers, measured photos, expected grades, submissions, trials of the eye"""

from alembic import op

revision = "c3f7a92d61e5"
down_revision = "b8e51d4f7a20"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table grader (
    id bigserial constraint pk_grader primary key,
    party_id bigint not null constraint uq_grader_party_id unique,
    version integer not null,
    profile jsonb not null,
    removed_at timestamptz,
    constraint fk_grader_party_id foreign key (party_id) references party (id)
);
create table carrier (
    party_id bigint constraint pk_carrier primary key,
    version integer not null,
    profile jsonb not null,
    constraint fk_carrier_party_id foreign key (party_id) references party (id)
);
create table measurement (
    photo_id bigint constraint pk_measurement primary key,
    version integer not null,
    lines jsonb,
    by_hand boolean not null,
    found jsonb,
    refused varchar(300),
    made_at timestamptz default now() not null,
    constraint fk_measurement_photo_id foreign key (photo_id) references photo (id) on delete cascade,
    constraint ck_measurement_lines check ((lines is null) = (refused is not null))
);
create table pre_grade (
    id bigserial constraint pk_pre_grade primary key,
    item_id bigint not null,
    grader_id bigint not null,
    version integer not null,
    chances jsonb not null,
    day date not null,
    constraint fk_pre_grade_item_id foreign key (item_id) references item (id) on delete cascade,
    constraint fk_pre_grade_grader_id foreign key (grader_id) references grader (id),
    constraint uq_pre_grade_item_id_grader_id unique (item_id, grader_id)
);
create index ix_pre_grade_grader_id on pre_grade (grader_id);
create table submission (
    document_id bigint constraint pk_submission primary key,
    grader_id bigint not null,
    version integer not null,
    carrier varchar(200),
    post_class varchar(80),
    tracking varchar(100),
    back numeric(16, 3) not null,
    membership boolean not null,
    plan jsonb,
    reference varchar(60),
    sent_on date,
    question varchar(500),
    stages jsonb not null,
    removed_at timestamptz,
    constraint fk_submission_document_id foreign key (document_id) references document (id),
    constraint fk_submission_grader_id foreign key (grader_id) references grader (id)
);
create index ix_submission_grader_id on submission (grader_id);
create table submission_card (
    document_id bigint not null,
    item_id bigint not null,
    position integer not null,
    tier varchar(80) not null,
    declared numeric(16, 3),
    constraint pk_submission_card primary key (document_id, item_id),
    constraint fk_submission_card_document_id foreign key (document_id) references document (id),
    constraint fk_submission_card_item_id foreign key (item_id) references item (id)
);
create index ix_submission_card_item_id on submission_card (item_id);
create table eye_trial (
    id bigserial constraint pk_eye_trial primary key,
    seed bigint,
    item_id bigint,
    said jsonb not null,
    known jsonb not null,
    made_at timestamptz default now() not null,
    constraint fk_eye_trial_item_id foreign key (item_id) references item (id),
    constraint ck_eye_trial_of check (num_nonnulls(seed, item_id) = 1)
);
create index ix_eye_trial_item_id on eye_trial (item_id)""")


def downgrade() -> None:
    op.execute("drop table eye_trial, submission_card, submission, pre_grade, measurement, carrier, grader")
