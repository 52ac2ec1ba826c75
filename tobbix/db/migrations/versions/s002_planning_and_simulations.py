"""planning and simulations"""

import sqlalchemy as sa
from alembic import op
from procrastinate.schema import SchemaManager
from sqlalchemy.dialects import postgresql

revision = "e82157976d5b"
down_revision = "c0b670a21a0a"
branch_labels = None
depends_on = None


QUEUE = (
    ("table", "procrastinate_events"),
    ("table", "procrastinate_periodic_defers"),
    ("table", "procrastinate_jobs"),
    ("table", "procrastinate_workers"),
    ("type", "procrastinate_job_to_defer_v1"),
    ("type", "procrastinate_job_event_type"),
    ("type", "procrastinate_job_status"),
)
DROP_FUNCTIONS = """
do $$ declare made regprocedure; begin
    for made in select oid::regprocedure from pg_proc where proname like 'procrastinate_%' loop
        execute format('drop function %s', made);
    end loop;
end $$
"""
CHECKS = {
    "basis": "basis in ('gross', 'net', 'floor')",
    "amounts": "floor >= 0 and bulk >= 0 and hourly_rate >= 0",
    "sells": "sells >= 0 and sells <= 1",
    "monthly_limit": "monthly_limit >= 0",
}


def upgrade() -> None:
    op.create_table(
        "selling_way",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("commission", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("fee_base", sa.String(length=30), nullable=False),
        sa.Column("fixed_fee", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("payment_share", sa.Numeric(precision=7, scale=6), nullable=False),
        sa.Column("payment_fixed", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("least", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("most", sa.Numeric(precision=14, scale=4), nullable=True),
        sa.Column("shipping_charged", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("postage", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("packing", sa.Numeric(precision=14, scale=4), nullable=False),
        sa.Column("lost", sa.Numeric(precision=7, scale=6), nullable=False),
        sa.Column("tax", sa.Numeric(precision=7, scale=6), nullable=False),
        sa.CheckConstraint(
            "fee_base in ('price', 'price_and_shipping', 'price_shipping_and_tax')",
            name=op.f("ck_selling_way_fee_base"),
        ),
        sa.CheckConstraint(
            "least(fixed_fee, payment_fixed, least, shipping_charged, postage, packing) >= 0",
            name=op.f("ck_selling_way_not_negative"),
        ),
        sa.CheckConstraint("lost >= 0 and lost < 1", name=op.f("ck_selling_way_lost")),
        sa.CheckConstraint("most is null or most >= least", name=op.f("ck_selling_way_cap")),
        sa.CheckConstraint("payment_share >= 0 and payment_share < 1", name=op.f("ck_selling_way_payment_share")),
        sa.CheckConstraint("tax >= 0 and tax < 1", name=op.f("ck_selling_way_tax")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_selling_way")),
        sa.UniqueConstraint("key", name=op.f("uq_selling_way_key")),
    )
    op.create_table(
        "spending",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("amount", sa.Numeric(precision=14, scale=2), nullable=False),
        sa.Column("what", sa.String(length=200), nullable=False),
        sa.Column("once", sa.String(length=64), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("taken_back_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("amount > 0", name=op.f("ck_spending_amount")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_spending")),
        sa.UniqueConstraint("once", name=op.f("uq_spending_once")),
    )
    op.create_index(op.f("ix_spending_day"), "spending", ["day"], unique=False)
    op.create_table(
        "scratch",
        sa.Column("release_id", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("edits", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(["release_id"], ["release.id"], name=op.f("fk_scratch_release_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("release_id", name=op.f("pk_scratch")),
    )
    op.create_table(
        "simulation",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("release_id", sa.BigInteger(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("asked", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("fingerprint", sa.String(length=64), nullable=False),
        sa.Column("seed", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("stop_asked", sa.Boolean(), nullable=False),
        sa.Column("done", sa.BigInteger(), nullable=False),
        sa.Column("total", sa.BigInteger(), nullable=False),
        sa.Column("result", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("fault", sa.String(length=500), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("finished_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint(
            "state in ('waiting', 'running', 'done', 'cancelled', 'failed')", name=op.f("ck_simulation_state")
        ),
        sa.CheckConstraint("done >= 0 and done <= total and total > 0", name=op.f("ck_simulation_progress")),
        sa.ForeignKeyConstraint(
            ["release_id"], ["release.id"], name=op.f("fk_simulation_release_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_simulation")),
    )
    op.create_index(op.f("ix_simulation_release_id"), "simulation", ["release_id"], unique=False)
    op.create_index(
        "uq_simulation_alive",
        "simulation",
        ["fingerprint"],
        unique=True,
        postgresql_where=sa.text("state in ('waiting', 'running', 'done')"),
    )
    op.create_table(
        "assumption",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("release_id", sa.BigInteger(), nullable=False),
        sa.Column("line_id", sa.BigInteger(), nullable=False),
        sa.Column("format_id", sa.BigInteger(), nullable=True),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("text", sa.String(length=60), nullable=False),
        sa.CheckConstraint("(kind in ('odds', 'split')) = (format_id is not null)", name=op.f("ck_assumption_format")),
        sa.CheckConstraint("kind in ('odds', 'price', 'split', 'sells')", name=op.f("ck_assumption_kind")),
        sa.ForeignKeyConstraint(["format_id"], ["format.id"], name=op.f("fk_assumption_format_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["line_id"], ["line.id"], name=op.f("fk_assumption_line_id"), ondelete="CASCADE"),
        sa.ForeignKeyConstraint(
            ["release_id"], ["release.id"], name=op.f("fk_assumption_release_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_assumption")),
        sa.UniqueConstraint(
            "line_id",
            "kind",
            "format_id",
            name=op.f("uq_assumption_line_id_kind_format_id"),
            postgresql_nulls_not_distinct=True,
        ),
    )
    op.create_index(op.f("ix_assumption_format_id"), "assumption", ["format_id"], unique=False)
    op.create_index(op.f("ix_assumption_line_id"), "assumption", ["line_id"], unique=False)
    op.create_index(op.f("ix_assumption_release_id"), "assumption", ["release_id"], unique=False)
    op.create_table(
        "wanted",
        sa.Column("version_id", sa.BigInteger(), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["version_id"], ["version.id"], name=op.f("fk_wanted_version_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("version_id", name=op.f("pk_wanted")),
    )
    op.add_column("preference", sa.Column("basis", sa.String(length=10), server_default="floor", nullable=False))
    op.add_column("preference", sa.Column("way_id", sa.BigInteger(), nullable=True))
    op.add_column(
        "preference", sa.Column("floor", sa.Numeric(precision=14, scale=4), server_default="1", nullable=False)
    )
    op.add_column(
        "preference", sa.Column("bulk", sa.Numeric(precision=14, scale=4), server_default="0.01", nullable=False)
    )
    op.add_column("preference", sa.Column("sells", sa.Double(), server_default="1", nullable=False))
    op.add_column(
        "preference", sa.Column("hourly_rate", sa.Numeric(precision=14, scale=4), server_default="0", nullable=False)
    )
    op.add_column("preference", sa.Column("minutes_per_box", sa.Double(), server_default="30", nullable=False))
    op.add_column("preference", sa.Column("minutes_per_sale", sa.Double(), server_default="6", nullable=False))
    op.add_column("preference", sa.Column("months", sa.Double(), server_default="0", nullable=False))
    op.add_column("preference", sa.Column("decay", sa.Double(), server_default="0", nullable=False))
    op.add_column("preference", sa.Column("depth", sa.Double(), server_default="0", nullable=False))
    op.add_column("preference", sa.Column("own_spread", sa.Double(), server_default="0.25", nullable=False))
    op.add_column("preference", sa.Column("market_spread", sa.Double(), server_default="0.2", nullable=False))
    op.add_column("preference", sa.Column("growth", sa.Double(), server_default="0.08", nullable=False))
    op.add_column("preference", sa.Column("years", sa.Double(), server_default="2", nullable=False))
    op.add_column(
        "preference", sa.Column("keeping", sa.Numeric(precision=14, scale=4), server_default="0", nullable=False)
    )
    op.add_column("preference", sa.Column("monthly_limit", sa.Numeric(precision=14, scale=2), nullable=True))
    op.add_column("preference", sa.Column("currency", sa.String(length=3), server_default="EUR", nullable=False))
    op.create_foreign_key(
        op.f("fk_preference_way_id"), "preference", "selling_way", ["way_id"], ["id"], ondelete="SET NULL"
    )
    for name, condition in CHECKS.items():
        op.create_check_constraint(op.f(f"ck_preference_{name}"), "preference", condition)
    driver = op.get_bind().connection.driver_connection
    assert driver is not None
    driver.execute(SchemaManager.get_schema())  # the queue of jobs keeps its own tables


def downgrade() -> None:
    for kind, name in QUEUE:
        op.execute(f"drop {kind} if exists {name} cascade")
    op.execute(DROP_FUNCTIONS)
    for name in CHECKS:
        op.drop_constraint(op.f(f"ck_preference_{name}"), "preference")
    op.drop_constraint(op.f("fk_preference_way_id"), "preference", type_="foreignkey")
    op.drop_column("preference", "currency")
    op.drop_column("preference", "monthly_limit")
    op.drop_column("preference", "keeping")
    op.drop_column("preference", "years")
    op.drop_column("preference", "growth")
    op.drop_column("preference", "market_spread")
    op.drop_column("preference", "own_spread")
    op.drop_column("preference", "depth")
    op.drop_column("preference", "decay")
    op.drop_column("preference", "months")
    op.drop_column("preference", "minutes_per_sale")
    op.drop_column("preference", "minutes_per_box")
    op.drop_column("preference", "hourly_rate")
    op.drop_column("preference", "sells")
    op.drop_column("preference", "bulk")
    op.drop_column("preference", "floor")
    op.drop_column("preference", "way_id")
    op.drop_column("preference", "basis")
    op.drop_table("wanted")
    op.drop_index(op.f("ix_assumption_release_id"), table_name="assumption")
    op.drop_index(op.f("ix_assumption_line_id"), table_name="assumption")
    op.drop_index(op.f("ix_assumption_format_id"), table_name="assumption")
    op.drop_table("assumption")
    op.drop_index(
        "uq_simulation_alive",
        table_name="simulation",
        postgresql_where=sa.text("state in ('waiting', 'running', 'done')"),
    )
    op.drop_index(op.f("ix_simulation_release_id"), table_name="simulation")
    op.drop_table("simulation")
    op.drop_table("scratch")
    op.drop_index(op.f("ix_spending_day"), table_name="spending")
    op.drop_table("spending")
    op.drop_table("selling_way")
