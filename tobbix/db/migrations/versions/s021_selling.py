"""orders, what was paid for each thing, packing supplies by their sizes"""

from alembic import op

revision = "d7a1c05e3b48"
down_revision = "c3f7a92d61e5"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
create table sale_order (
    document_id bigint constraint pk_sale_order primary key,
    version integer not null,
    reference varchar(60) not null constraint uq_sale_order_reference unique,
    way varchar(64),
    address varchar(1000) not null,
    shipping numeric(16, 3) not null,
    currency varchar(3) not null,
    post jsonb,
    ticked jsonb not null,
    confirmed jsonb not null,
    packed_on date,
    complaint varchar(500),
    constraint fk_sale_order_document_id foreign key (document_id) references document (id)
);
create table sale_line (
    document_id bigint not null,
    item_id bigint not null,
    position integer not null,
    price numeric(16, 3) not null,
    home numeric(16, 3) not null,
    constraint pk_sale_line primary key (document_id, item_id),
    constraint fk_sale_line_document_id foreign key (document_id) references sale_order (document_id),
    constraint fk_sale_line_item_id foreign key (item_id) references item (id)
);
create index ix_sale_line_item_id on sale_line (item_id);
create table packing_supply (
    id bigserial constraint pk_packing_supply primary key,
    name varchar(120) not null constraint uq_packing_supply_name unique,
    role varchar(10) not null constraint ck_packing_supply_role check (role in ('sleeve', 'holder', 'wrap', 'outer')),
    position integer not null,
    inside jsonb,
    outside jsonb,
    adds jsonb,
    wall numeric(8, 3) not null,
    weight numeric(8, 3) not null,
    cost numeric(16, 3) not null,
    rigid boolean not null,
    version integer not null,
    removed_at timestamptz
);
""")


def downgrade() -> None:
    op.execute("drop table packing_supply; drop table sale_line; drop table sale_order;")
