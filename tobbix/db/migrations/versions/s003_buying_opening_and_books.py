"""buying opening and books"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "aaceaf534cb8"
down_revision = "e82157976d5b"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "exchange_rate",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("currency", sa.String(length=3), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("rate", sa.Numeric(precision=18, scale=8), nullable=False),
        sa.Column("source", sa.String(length=100), nullable=False),
        sa.Column("by_hand", sa.Boolean(), nullable=False),
        sa.CheckConstraint("rate > 0", name=op.f("ck_exchange_rate_rate")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_exchange_rate")),
        sa.UniqueConstraint("currency", "day", "by_hand", name=op.f("uq_exchange_rate_currency_day_by_hand")),
    )
    op.create_table(
        "opening_session",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("once", sa.String(length=64), nullable=False),
        sa.Column("item_id", sa.BigInteger(), nullable=False),
        sa.Column("release", sa.String(length=64), nullable=False),
        sa.Column("format", sa.String(length=64), nullable=False),
        sa.Column("boxes", sa.Integer(), nullable=False),
        sa.Column("packs", sa.Integer(), nullable=False),
        sa.Column("gone", sa.Integer(), nullable=False),
        sa.Column("gone_seen", sa.Integer(), nullable=False),
        sa.Column("trust", sa.Double(), nullable=False),
        sa.Column("stopped_hot", sa.Boolean(), nullable=False),
        sa.Column("current_pack", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("entertainment", sa.Numeric(precision=5, scale=4), nullable=False),
        sa.Column("started_on", sa.Date(), nullable=False),
        sa.Column("done_on", sa.Date(), nullable=True),
        sa.Column("note", sa.String(length=500), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.CheckConstraint("state in ('running', 'paused', 'done', 'undone')", name=op.f("ck_opening_session_state")),
        sa.CheckConstraint(
            "entertainment >= 0 and entertainment <= 1 and trust >= 0 and trust <= 1",
            name=op.f("ck_opening_session_shares"),
        ),
        sa.CheckConstraint("gone >= 0 and gone < packs", name=op.f("ck_opening_session_gone")),
        sa.CheckConstraint(
            "packs > 0 and boxes > 0 and current_pack between 1 and packs", name=op.f("ck_opening_session_packs")
        ),
        sa.ForeignKeyConstraint(["item_id"], ["item.id"], name=op.f("fk_opening_session_item_id"), use_alter=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_opening_session")),
        sa.UniqueConstraint("once", name=op.f("uq_opening_session_once")),
    )
    op.create_index(op.f("ix_opening_session_item_id"), "opening_session", ["item_id"], unique=False)
    op.create_table(
        "purchase",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("once", sa.String(length=64), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("seller", sa.String(length=200), nullable=True),
        sa.Column("bought_on", sa.Date(), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("method", sa.String(length=10), nullable=False),
        sa.Column("entertainment", sa.Numeric(precision=5, scale=4), nullable=False),
        sa.Column("landed", sa.Numeric(precision=16, scale=3), nullable=False),
        sa.Column("note", sa.String(length=500), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.CheckConstraint(
            "method in ('value', 'equal', 'count', 'hand', 'residual')", name=op.f("ck_purchase_method")
        ),
        sa.CheckConstraint("state in ('ordered', 'received', 'disputed', 'undone')", name=op.f("ck_purchase_state")),
        sa.CheckConstraint("entertainment >= 0 and entertainment <= 1", name=op.f("ck_purchase_entertainment")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_purchase")),
        sa.UniqueConstraint("once", name=op.f("uq_purchase_once")),
    )
    op.create_table(
        "saved_filter",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("query", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_saved_filter")),
        sa.UniqueConstraint("name", name=op.f("uq_saved_filter_name")),
    )
    op.create_table(
        "weight",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("release", sa.String(length=64), nullable=False),
        sa.Column("format", sa.String(length=64), nullable=False),
        sa.Column("unit", sa.String(length=10), nullable=False),
        sa.Column("grams", sa.Numeric(precision=10, scale=3), nullable=False),
        sa.Column("held_hit", sa.Boolean(), nullable=True),
        sa.Column("day", sa.Date(), nullable=False),
        sa.CheckConstraint("unit in ('box', 'pack')", name=op.f("ck_weight_unit")),
        sa.CheckConstraint("grams > 0", name=op.f("ck_weight_grams")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_weight")),
    )
    op.create_table(
        "charge",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("purchase_id", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("amount", sa.Numeric(precision=16, scale=3), nullable=False),
        sa.Column("currency", sa.String(length=3), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("rate", sa.Numeric(precision=18, scale=8), nullable=False),
        sa.Column("home", sa.Numeric(precision=16, scale=3), nullable=False),
        sa.Column("purse", sa.String(length=60), nullable=False),
        sa.CheckConstraint(
            "kind in ('price', 'premium', 'shipping', 'tax', 'duty', 'other', 'refund')", name=op.f("ck_charge_kind")
        ),
        sa.CheckConstraint("rate > 0", name=op.f("ck_charge_rate")),
        sa.ForeignKeyConstraint(
            ["purchase_id"], ["purchase.id"], name=op.f("fk_charge_purchase_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_charge")),
    )
    op.create_index(op.f("ix_charge_purchase_id"), "charge", ["purchase_id"], unique=False)
    op.create_table(
        "entry",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("event", sa.String(length=20), nullable=False),
        sa.Column("text", sa.String(length=500), nullable=False),
        sa.Column("purchase_id", sa.BigInteger(), nullable=True),
        sa.Column("session_id", sa.BigInteger(), nullable=True),
        sa.Column("reverses_id", sa.BigInteger(), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["purchase_id"], ["purchase.id"], name=op.f("fk_entry_purchase_id")),
        sa.ForeignKeyConstraint(["reverses_id"], ["entry.id"], name=op.f("fk_entry_reverses_id")),
        sa.ForeignKeyConstraint(["session_id"], ["opening_session.id"], name=op.f("fk_entry_session_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_entry")),
        sa.UniqueConstraint("reverses_id", name=op.f("uq_entry_reverses_id")),
    )
    op.create_index(op.f("ix_entry_day"), "entry", ["day"], unique=False)
    op.create_index(op.f("ix_entry_purchase_id"), "entry", ["purchase_id"], unique=False)
    op.create_index(op.f("ix_entry_session_id"), "entry", ["session_id"], unique=False)
    op.create_table(
        "item",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("name", sa.String(length=300), nullable=False),
        sa.Column("release", sa.String(length=64), nullable=True),
        sa.Column("format", sa.String(length=64), nullable=True),
        sa.Column("line", sa.String(length=64), nullable=True),
        sa.Column("number", sa.String(length=200), nullable=True),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(length=20), nullable=False),
        sa.Column("basis", sa.Numeric(precision=16, scale=3), nullable=True),
        sa.Column("value", sa.Numeric(precision=16, scale=3), nullable=True),
        sa.Column("fixed", sa.Numeric(precision=16, scale=3), nullable=True),
        sa.Column("gift", sa.Boolean(), nullable=False),
        sa.Column("condition", sa.String(length=20), nullable=True),
        sa.Column("serial", sa.String(length=40), nullable=True),
        sa.Column("place", sa.String(length=100), nullable=True),
        sa.Column("never_for_sale", sa.Boolean(), nullable=False),
        sa.Column("acquired_on", sa.Date(), nullable=True),
        sa.Column("note", sa.String(length=500), nullable=True),
        sa.Column("purchase_id", sa.BigInteger(), nullable=True),
        sa.Column("session_id", sa.BigInteger(), nullable=True),
        sa.Column("parent_id", sa.BigInteger(), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.CheckConstraint("kind in ('sealed', 'card', 'stack', 'other')", name=op.f("ck_item_kind")),
        sa.CheckConstraint(
            "state in ('in_transit', 'held', 'at_grading', 'opened', 'sold', 'given_away', 'lost', 'returned', 'undone')",
            name=op.f("ck_item_state"),
        ),
        sa.CheckConstraint("count > 0", name=op.f("ck_item_count")),
        sa.ForeignKeyConstraint(["parent_id"], ["item.id"], name=op.f("fk_item_parent_id")),
        sa.ForeignKeyConstraint(["purchase_id"], ["purchase.id"], name=op.f("fk_item_purchase_id")),
        sa.ForeignKeyConstraint(["session_id"], ["opening_session.id"], name=op.f("fk_item_session_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_item")),
    )
    op.create_index(op.f("ix_item_parent_id"), "item", ["parent_id"], unique=False)
    op.create_index(op.f("ix_item_purchase_id"), "item", ["purchase_id"], unique=False)
    op.create_index(op.f("ix_item_session_id"), "item", ["session_id"], unique=False)
    op.create_index("ix_item_state_name", "item", ["state", "name"], unique=False)
    op.create_index("ix_item_what", "item", ["release", "line", "number"], unique=False)
    op.create_table(
        "parcel",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("purchase_id", sa.BigInteger(), nullable=False),
        sa.Column("carrier", sa.String(length=100), nullable=True),
        sa.Column("tracking", sa.String(length=100), nullable=True),
        sa.Column("due_on", sa.Date(), nullable=True),
        sa.Column("received_on", sa.Date(), nullable=True),
        sa.Column("inspection", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("dispute", sa.String(length=500), nullable=True),
        sa.ForeignKeyConstraint(
            ["purchase_id"], ["purchase.id"], name=op.f("fk_parcel_purchase_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_parcel")),
    )
    op.create_index(op.f("ix_parcel_purchase_id"), "parcel", ["purchase_id"], unique=False)
    op.create_table(
        "pull",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("session_id", sa.BigInteger(), nullable=False),
        sa.Column("once", sa.String(length=64), nullable=False),
        sa.Column("pack", sa.Integer(), nullable=False),
        sa.Column("line", sa.String(length=64), nullable=False),
        sa.Column("number", sa.String(length=200), nullable=True),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("serial", sa.String(length=40), nullable=True),
        sa.Column("flaw", sa.String(length=200), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("taken_back_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("count > 0", name=op.f("ck_pull_count")),
        sa.ForeignKeyConstraint(
            ["session_id"], ["opening_session.id"], name=op.f("fk_pull_session_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pull")),
    )
    op.create_index(
        "ix_pull_alive", "pull", ["session_id", "pack"], unique=False, postgresql_where=sa.text("taken_back_at is null")
    )
    op.create_index("uq_pull_once", "pull", ["session_id", "once"], unique=True)
    op.create_table(
        "item_event",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("item_id", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("event", sa.String(length=20), nullable=False),
        sa.Column("text", sa.String(length=500), nullable=False),
        sa.Column("state", sa.String(length=20), nullable=False),
        sa.Column("basis", sa.Numeric(precision=16, scale=3), nullable=True),
        sa.Column("entry_id", sa.BigInteger(), nullable=True),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_item_event_entry_id")),
        sa.ForeignKeyConstraint(["item_id"], ["item.id"], name=op.f("fk_item_event_item_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_item_event")),
    )
    op.create_index(op.f("ix_item_event_entry_id"), "item_event", ["entry_id"], unique=False)
    op.create_index(op.f("ix_item_event_item_id"), "item_event", ["item_id"], unique=False)
    op.create_table(
        "posting",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("entry_id", sa.BigInteger(), nullable=False),
        sa.Column("account", sa.String(length=20), nullable=False),
        sa.Column("purse", sa.String(length=60), nullable=True),
        sa.Column("amount", sa.Numeric(precision=16, scale=3), nullable=False),
        sa.Column("original", sa.Numeric(precision=16, scale=3), nullable=True),
        sa.Column("currency", sa.String(length=3), nullable=True),
        sa.Column("rate", sa.Numeric(precision=18, scale=8), nullable=True),
        sa.CheckConstraint("(account = 'cash') = (purse is not null)", name=op.f("ck_posting_purse")),
        sa.CheckConstraint("rate > 0", name=op.f("ck_posting_rate")),
        sa.ForeignKeyConstraint(["entry_id"], ["entry.id"], name=op.f("fk_posting_entry_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_posting")),
    )
    op.create_index(op.f("ix_posting_account"), "posting", ["account"], unique=False)
    op.create_index(op.f("ix_posting_entry_id"), "posting", ["entry_id"], unique=False)
    op.create_table(
        "redemption",
        sa.Column("id", sa.BigInteger(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("code", sa.String(length=100), nullable=False),
        sa.Column("choices", sa.String(length=300), nullable=True),
        sa.Column("item_id", sa.BigInteger(), nullable=True),
        sa.Column("posted_on", sa.Date(), nullable=True),
        sa.Column("due_on", sa.Date(), nullable=True),
        sa.Column("arrived_on", sa.Date(), nullable=True),
        sa.ForeignKeyConstraint(["item_id"], ["item.id"], name=op.f("fk_redemption_item_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_redemption")),
    )
    op.create_index(op.f("ix_redemption_item_id"), "redemption", ["item_id"], unique=False)
    op.create_foreign_key(op.f("fk_opening_session_item_id"), "opening_session", "item", ["item_id"], ["id"])


def downgrade() -> None:
    op.drop_constraint(op.f("fk_opening_session_item_id"), "opening_session", type_="foreignkey")
    op.drop_index(op.f("ix_redemption_item_id"), table_name="redemption")
    op.drop_table("redemption")
    op.drop_index(op.f("ix_posting_entry_id"), table_name="posting")
    op.drop_index(op.f("ix_posting_account"), table_name="posting")
    op.drop_table("posting")
    op.drop_index(op.f("ix_item_event_item_id"), table_name="item_event")
    op.drop_index(op.f("ix_item_event_entry_id"), table_name="item_event")
    op.drop_table("item_event")
    op.drop_index("uq_pull_once", table_name="pull")
    op.drop_index("ix_pull_alive", table_name="pull", postgresql_where=sa.text("taken_back_at is null"))
    op.drop_table("pull")
    op.drop_index(op.f("ix_parcel_purchase_id"), table_name="parcel")
    op.drop_table("parcel")
    op.drop_index("ix_item_what", table_name="item")
    op.drop_index("ix_item_state_name", table_name="item")
    op.drop_index(op.f("ix_item_session_id"), table_name="item")
    op.drop_index(op.f("ix_item_purchase_id"), table_name="item")
    op.drop_index(op.f("ix_item_parent_id"), table_name="item")
    op.drop_table("item")
    op.drop_index(op.f("ix_entry_session_id"), table_name="entry")
    op.drop_index(op.f("ix_entry_purchase_id"), table_name="entry")
    op.drop_index(op.f("ix_entry_day"), table_name="entry")
    op.drop_table("entry")
    op.drop_index(op.f("ix_charge_purchase_id"), table_name="charge")
    op.drop_table("charge")
    op.drop_table("weight")
    op.drop_table("saved_filter")
    op.drop_table("purchase")
    op.drop_index(op.f("ix_opening_session_item_id"), table_name="opening_session")
    op.drop_table("opening_session")
    op.drop_table("exchange_rate")
