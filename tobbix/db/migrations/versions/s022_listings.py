"""listings, offers for them, ways out that were chosen, claims, sales of before the books"""

from alembic import op

revision = "e91b4c7d2f60"
down_revision = "d7a1c05e3b48"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table way_out (
    item_id bigint constraint pk_way_out primary key,
    road varchar(12) not null constraint ck_way_out_road
        check (road in ('sell', 'grade', 'in_person', 'lot', 'set', 'keep', 'give')),
    way varchar(64),
    day date not null,
    constraint fk_way_out_item_id foreign key (item_id) references item (id)
);
create table listing (
    id bigserial constraint pk_listing primary key,
    version integer not null,
    way varchar(64) not null,
    kind varchar(8) not null constraint ck_listing_kind check (kind in ('fixed', 'auction')),
    state varchar(8) not null constraint ck_listing_state check (state in ('drafted', 'listed', 'sold', 'ended')),
    title varchar(200) not null,
    words varchar(4000) not null,
    price numeric(16, 3) not null,
    currency varchar(3) not null,
    lowest numeric(16, 3),
    expected jsonb,
    made_on date not null,
    listed_on date,
    ends_on date,
    priced_on date not null,
    ended_on date,
    reference varchar(60),
    document_id bigint,
    heard jsonb not null,
    constraint fk_listing_document_id foreign key (document_id) references document (id)
);
create index ix_listing_state on listing (state, id);
create table listing_thing (
    listing_id bigint not null,
    item_id bigint not null,
    way varchar(64) not null,
    position integer not null,
    is_open boolean not null,
    constraint pk_listing_thing primary key (listing_id, item_id),
    constraint fk_listing_thing_listing_id foreign key (listing_id) references listing (id),
    constraint fk_listing_thing_item_id foreign key (item_id) references item (id)
);
create unique index uq_listing_thing_open on listing_thing (item_id, way) where is_open;
create index ix_listing_thing_item_id on listing_thing (item_id);
create table listing_offer (
    id bigserial constraint pk_listing_offer primary key,
    listing_id bigint not null,
    day date not null,
    buyer varchar(120),
    amount numeric(16, 3) not null,
    answer varchar(10) not null
        constraint ck_listing_offer_answer check (answer in ('open', 'taken', 'declined', 'countered')),
    countered numeric(16, 3),
    constraint fk_listing_offer_listing_id foreign key (listing_id) references listing (id)
);
create index ix_listing_offer_listing_id on listing_offer (listing_id);
create table claim (
    document_id bigint constraint pk_claim primary key,
    version integer not null,
    filed_on date not null,
    amount numeric(16, 3) not null,
    words varchar(1000) not null,
    state varchar(8) not null constraint ck_claim_state check (state in ('filed', 'paid', 'refused')),
    constraint fk_claim_document_id foreign key (document_id) references document (id)
);
create table past_sale (
    id bigserial constraint pk_past_sale primary key,
    sold_on date not null,
    name varchar(300) not null,
    way varchar(120) not null,
    brought numeric(16, 3) not null,
    costs numeric(16, 3) not null,
    basis numeric(16, 3),
    digest varchar(64) not null constraint uq_past_sale_digest unique
);
""")


def downgrade() -> None:
    op.execute(
        "drop table past_sale; drop table claim; drop table listing_offer; drop table listing_thing; drop table listing;"
        "drop table way_out;"
    )
