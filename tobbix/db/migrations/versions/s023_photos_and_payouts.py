"""the photos that go with a listing, and which orders a payout is for"""

from alembic import op

revision = "4fd0a86c1b93"
down_revision = "e91b4c7d2f60"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("""
alter table listing add column photos jsonb;
create table payout_order (
    order_id bigint constraint pk_payout_order primary key,
    payout_id bigint not null,
    constraint fk_payout_order_order_id foreign key (order_id) references sale_order (document_id),
    constraint fk_payout_order_payout_id foreign key (payout_id) references document (id)
);
create index ix_payout_order_payout_id on payout_order (payout_id);
""")


def downgrade() -> None:
    op.execute("drop table payout_order; alter table listing drop column photos")
