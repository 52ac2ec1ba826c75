"""boxes that were begun, weights for a division by count, redemptions that were chosen, items found by their words"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "5d1f0b7c2a94"
down_revision = "aaceaf534cb8"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("item", sa.Column("weight", sa.Numeric(precision=10, scale=3), server_default="1", nullable=False))
    op.add_column("item", sa.Column("packs_gone", sa.Integer(), server_default="0", nullable=False))
    op.add_column("item", sa.Column("hits_gone", postgresql.JSONB(), server_default="{}", nullable=False))
    op.add_column("item", sa.Column("trust", sa.Double(), server_default="1", nullable=False))
    op.create_check_constraint(op.f("ck_item_weight"), "item", "weight > 0")
    begun = "packs_gone >= 0 and trust >= 0 and trust <= 1"
    op.create_check_constraint(op.f("ck_item_begun"), "item", begun)
    op.create_table(
        "sent",
        sa.Column("once", sa.String(length=64), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("once", name=op.f("pk_sent")),
    )
    op.execute("create extension if not exists pg_trgm")
    words = "name || ' ' || coalesce(number, '') || ' ' || coalesce(serial, '') || ' ' || coalesce(place, '')"
    op.add_column("item", sa.Column("words", sa.Text(), sa.Computed(words, persisted=True), nullable=False))
    op.create_index(
        "ix_item_words", "item", ["words"], postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}
    )
    # What was said to be gone is kept by line from now on; of which line it was, was not asked before.
    op.add_column("opening_session", sa.Column("gone_hits", postgresql.JSONB(), server_default="{}", nullable=False))
    op.drop_column("opening_session", "gone_seen")
    op.add_column("redemption", sa.Column("chosen", sa.String(length=300), nullable=True))


def downgrade() -> None:
    op.drop_table("sent")
    op.drop_column("redemption", "chosen")
    op.add_column("opening_session", sa.Column("gone_seen", sa.Integer(), server_default="0", nullable=False))
    op.drop_column("opening_session", "gone_hits")
    op.drop_index("ix_item_words", "item")
    op.drop_column("item", "words")
    op.drop_constraint(op.f("ck_item_begun"), "item")
    op.drop_constraint(op.f("ck_item_weight"), "item")
    for name in ("trust", "hits_gone", "packs_gone", "weight"):
        op.drop_column("item", name)
